/* PC-SAFT: models/pc_saft.py, and models/pc_saft_with_bonds.py where there are sites, at one temperature and pressure. */
#ifndef SLEETFIELD_PC_SAFT_H
#define SLEETFIELD_PC_SAFT_H

#include "association.h"
#include "attraction.h"
#include "helmholtz.h"

#define INTEGRAL_TERMS 7 /* powers of packing in an integral */
#define SERIES 5
#define SERIES_TERMS 8
#define FRACTIONS 6 /* both fractions of 1/C1 and their first two derivatives */
#define FRACTION_TERMS 5
#define MOST_PACKINGS 8

typedef struct {
    Equation common;
    double avogadro;                             /* 1/mol */
    HelmholtzEquation gives;
    const double *m, *sigma, *epsilon;           /* c */
    const double *closest;                       /* covolumes, c */
    const double *w1, *w2;                       /* what both sums of attractions are made of, c x c, with 1 - k_ij in them where that is constant */
    Attraction attraction;                       /* where it depends on temperature, else without terms */
    const double *a, *b;                         /* the integrals' constants, 3 x INTEGRAL_TERMS */
    const double *series;                        /* SERIES x SERIES_TERMS x 3, as pc_saft.py's _SERIES */
    const double *fractions;                     /* FRACTIONS x FRACTION_TERMS, as its _COMPRESSIBILITY */
    Association association;
    const double *packings;                      /* where isotherms are looked at first */
    int packing_count;
    double on_packings[MOST_PACKINGS][SERIES][3], fractions_on[MOST_PACKINGS][FRACTIONS]; /* series and fractions there */
} ChainEquation;

typedef struct {
    Helmholtz h;
    const ChainEquation *of;
    double d[MOST_COMPONENTS]; /* diameters of segments */
    Strength strength;
    const double *first, *second; /* w1 and w2 with 1 - k_ij and its square in them, c x c */
    double own_first[MOST_COMPONENTS * MOST_COMPONENTS], own_second[MOST_COMPONENTS * MOST_COMPONENTS];
} Chains;

/* The equation as one that can be bound. */
void chains_ready(ChainEquation *equation);

#endif
