/* Logarithms of several numbers at once. */
#ifndef SLEETFIELD_LOGARITHMS_H
#define SLEETFIELD_LOGARITHMS_H

void logarithms(int n, const double *x, double *out);

#endif
