/* Is a dense fluid phase a vapor or a liquid? The third rule of models/vapor_side.py, for one phase. */
#ifndef SLEETFIELD_VAPOR_SIDE_H
#define SLEETFIELD_VAPOR_SIDE_H

#include "phase.h"

/* YES, NO, or UNSURE where next to a critical point the sign of the cubic form is not sure. */
int dense_vapor(const Phase *model, const double *x, double packing);

#endif
