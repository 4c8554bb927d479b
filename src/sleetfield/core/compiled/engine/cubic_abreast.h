/* Four compositions at once by a cubic equation with the quadratic mixing rule. */
#ifndef SLEETFIELD_CUBIC_ABREAST_H
#define SLEETFIELD_CUBIC_ABREAST_H

#include "cubic.h"

/* Whether the equation is one of those. */
int can_go_abreast(const CubicEquation *equation);
/* Phase's ln_phi of four compositions; the numbers of a component stand side by side. */
void cubic_abreast(const Phase *phase, const double *x, const int *kinds, double *ln_phi);

#endif
