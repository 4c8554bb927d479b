/* Molecules that bind to each other at sites: models/association.py at one temperature. */
#ifndef SLEETFIELD_ASSOCIATION_H
#define SLEETFIELD_ASSOCIATION_H

#include "jet.h"
#include "phase.h"

#define MOST_SITES 16
#define SITE_PAIRS (MOST_SITES * MOST_SITES)
#define MOST_MOMENTS 2 /* what contact values depend on */

/* What does not depend on the state; without sites nothing binds. */
typedef struct {
    int c, sites;
    const double *owner, *count;   /* which component each kind of sites is on, and how many a molecule has */
    const double *volume, *energy; /* sites x sites, and twice that */
} Association;

/* F of each pair of sites with its first two derivatives by temperature, as Taylor coefficients. */
typedef struct {
    double of[3][SITE_PAIRS];
} Strength;

void strength_at(const Association *a, double T, Strength *out);

/* Contact values of pairs of sites along a direction, and their derivatives by moments. */
typedef struct {
    int moments;
    Jet value[SITE_PAIRS], by[MOST_MOMENTS][SITE_PAIRS];
} Contact;

/* What bonds add along a direction, of densities or, where `warm`, of temperature: A^R/VRT; unless ln_free is NULL its derivatives by contact moments, and ln X. */
void bonds(const Association *a, int order, const Strength *F, int warm, const Jet *rho, const Contact *g, Jet *f, Jet *by_moment, Jet *ln_free);

/* Contact values along an isotherm with their first two derivatives by density; all pairs have the first ones where `step` is 0, each its own where it is 1. */
typedef struct {
    int step;
    double value[3][SITE_PAIRS];
} ContactOfDensity;

/* The fractions of sites that are not bound at the last density of an isotherm, which begins with none, and the powers of density that they follow there. */
typedef struct {
    double rho, X[MOST_SITES], power[MOST_SITES];
} Free;

/* What bonds add to P/RT and its slope at a density of mole fractions x. */
void add_pressure_of_bonds(const Association *a, const Strength *F, const double *x, double rho, const ContactOfDensity *g, Free *last, double *p, double *slope);

/* The second derivatives by moments too, at one state; moments are linear in densities, with slopes by these. */
typedef struct {
    int moments;
    double value[SITE_PAIRS], by[MOST_MOMENTS][SITE_PAIRS], bent[MOST_MOMENTS][MOST_MOMENTS][SITE_PAIRS];
    const double *slope[MOST_MOMENTS];
} BentContact;

/* What they add to second derivatives of A^R/VRT by densities, c x c. */
void add_bent_bonds(const Association *a, const Strength *F, const double *rho, const BentContact *g, double *out);

#endif
