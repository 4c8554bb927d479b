/* Exponentials of several numbers at once. */
#ifndef SLEETFIELD_EXPONENTIALS_H
#define SLEETFIELD_EXPONENTIALS_H

void exponentials(int n, const double *x, double *out);

#endif
