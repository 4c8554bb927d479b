/* Second virial coefficients: models/virial.py at one temperature. */
#ifndef SLEETFIELD_VIRIAL_H
#define SLEETFIELD_VIRIAL_H

#include "attraction.h"

#define VIRIAL_POWERS 6

typedef struct {
    const double *means;      /* of critical temperatures, c x c */
    Attraction attraction;    /* what they are multiplied by */
    const double *series;     /* coefficients of the powers of reduced 1/T, VIRIAL_POWERS x c x c, m3/mol */
    const signed char *given; /* which are not by these, c x c; NULL where all are */
    Attraction own;           /* but by temperature, m3/mol */
} Virial;

/* B_ij, m3/mol, and its first and second derivatives by temperature, c x c each. */
void virial_at(const Virial *virial, double T, double *B, double *B_T, double *B_TT);

#endif
