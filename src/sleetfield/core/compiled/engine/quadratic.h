/* Van der Waals' mixing rule, and what water changes in it: models/mixing/van_der_waals.py and in_water.py at one temperature. */
#ifndef SLEETFIELD_QUADRATIC_H
#define SLEETFIELD_QUADRATIC_H

#include "cubic.h"

extern const MixingRule quadratic_mixing;

/* Sum n_i m_ij n_j along a direction of mole numbers, m symmetric, and scaled if it is to be; and sum of_i n_i, or the total. */
Jet quadratic_along(int c, const double *matrix, const double *scale, const double *n, const double *along);
Jet linear_along(int c, const double *of_each, const double *n, const double *along);

#endif
