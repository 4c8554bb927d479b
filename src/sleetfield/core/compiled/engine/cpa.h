/* Cubic plus association: models/cpa.py at one temperature and pressure. */
#ifndef SLEETFIELD_CPA_H
#define SLEETFIELD_CPA_H

#include "association.h"
#include "attraction.h"
#include "helmholtz.h"

#define MOST_CPA_PACKINGS 20

typedef struct {
    Equation common;
    HelmholtzEquation gives;
    double contact;               /* of g = 1/(1 - contact B) */
    const double *root, *b, *c1;  /* sqrt(a0), covolumes, slopes of sqrt(a), c */
    Attraction attraction;
    Association association;
    const double *packings;       /* where isotherms are looked at first */
    int packing_count;
} CpaEquation;

typedef struct {
    Helmholtz h;
    const CpaEquation *of;
    double e[3][MOST_COMPONENTS * MOST_COMPONENTS]; /* 2 a_ij/RT with its first two derivatives by temperature, as Taylor coefficients, c x c */
    Strength strength;
} Cpa;

/* The equation as one that can be bound. */
void cpa_ready(CpaEquation *equation);

#endif
