/* Steps of a second-order minimisation. */
#ifndef SLEETFIELD_DESCENT_H
#define SLEETFIELD_DESCENT_H

#define MOST_VARIABLES 80 /* of several phases; of one at most as many as there are components */

/* step = -H^-1 g with the symmetric H (c x c, changed) made positive definite by the absolute values of its eigenvalues;
   returns 0 where H is not finite. */
int descent_step(int c, double *H, const double *g, double *step);

/* The smallest eigenvalue of the symmetric H (c x c, changed), and its eigenvector unless that is NULL; NaN where H is not finite. */
double smallest_eigenvalue(int c, double *H, double *vector);

/* Whether H - shift is positive definite. */
int positive_definite(int c, const double *H, double shift);

#endif
