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

/* The second derivatives by moments too, at one state; moments are linear in densities, with slopes by these. */
typedef struct {
    int moments;
    double value[SITE_PAIRS], by[MOST_MOMENTS][SITE_PAIRS], bent[MOST_MOMENTS][MOST_MOMENTS][SITE_PAIRS];
    const double *slope[MOST_MOMENTS];
} BentContact;

/* What they add to second derivatives of A^R/VRT by densities, c x c. */
void add_bent_bonds(const Association *a, const Strength *F, const double *rho, const BentContact *g, double *out);

#endif
