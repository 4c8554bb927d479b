/* Activity coefficients: models/activity/ at one temperature. */
#ifndef SLEETFIELD_ACTIVITY_H
#define SLEETFIELD_ACTIVITY_H

#include "attraction.h"
#include "jet.h"
#include "phase.h"
#include "pure_liquid.h"

#define MOST_TERMS 3

enum { NRTL, WEIGHTED_LOGARITHM, FLORY_HUGGINS, GUGGENHEIM, OF_GROUPS };

typedef struct {
    int kind;
    int groups;           /* of groups: how many there are, and (groups x c) how many of each a component has */
    const double *counts;
    /* NRTL: G and tau G; the weighted logarithm: L, and its weights; sizes and surfaces of the others; of groups L and weights of these, and what they come to in pure components */
    double first[MOST_COMPONENTS * MOST_COMPONENTS], second[MOST_COMPONENTS * MOST_COMPONENTS];
    double own[MOST_COMPONENTS], other[MOST_COMPONENTS];
} Term;

/* The sum of terms is added to ln gamma, c, and its derivatives by mole numbers to dn, c x c, unless that is NULL. */
void activity(const Term *term, int terms, int c, const double *x, double *ln_gamma, double *dn);
/* n G^E/RT along a direction of mole numbers, to the third order. */
Jet excess_along(const Term *term, int terms, int c, const double *n, const double *along);

/* A term at any temperature. */
typedef struct {
    int kind, groups;
    Attraction pairs, alpha;    /* NRTL: tau and alpha; the weighted logarithm, of groups too: ln L */
    const double *own, *other;  /* as in Term */
    const double *counts;
    Equations densities;        /* of liquids whose ratios of volumes are in L; NULL where there are none */
} FreeTerm;

typedef struct {
    int terms;
    FreeTerm term[MOST_TERMS];
} Activity;

void activity_at(const Activity *activity, int c, double T, Term *out);
/* The derivatives of ln gamma by temperature, c; and, returned, the second one of G^E/RT. */
double activity_by_temperature(const Activity *activity, const Term *term, int c, double T, const double *x, double *dT);

#endif
