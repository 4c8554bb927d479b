/* Linear systems. */
#ifndef SLEETFIELD_LINEAR_H
#define SLEETFIELD_LINEAR_H

int all_finite(int n, const double *values);
/* The solution of A x = b, n x n row by row, by elimination with pivots; it takes the place of b, and A is used up. Returns whether there is one that is finite. */
int solve_linear(int n, double *A, double *b);

#endif
