/* Equations of state in the Helmholtz energy: what models/helmholtz.py makes of A^R/VRT as a function of temperature and densities, at one temperature and pressure. */
#ifndef SLEETFIELD_HELMHOLTZ_H
#define SLEETFIELD_HELMHOLTZ_H

#include "density_roots.h"
#include "equation.h"
#include "jet.h"

/* Room for what an equation knows of one composition along its isotherm. */
typedef struct {
    double room[640];
} Composition;

typedef struct Helmholtz Helmholtz;

/* What an equation has to give. */
typedef struct {
    double critical_packing;
    /* all that does not depend on density, and the isotherm on it */
    Isotherm (*isotherm)(const Helmholtz *, const double *x, Composition *room);
    /* A^R/VRT, returned, and its derivatives by densities, unless they are NULL */
    double (*plain)(const Helmholtz *, const Composition *, const double *x, double rho, double *f_i);
    /* both along a direction of densities, and along temperature to the second order */
    void (*along)(const Helmholtz *, int order, const double *rho, const double *direction, Jet *f, Jet *f_i);
    void (*warmer)(const Helmholtz *, const double *rho, Jet *f, Jet *f_i);
    /* the second derivatives by densities */
    void (*bend)(const Helmholtz *, const double *rho, double *out);
    /* the lowest and the highest density at a pressure, as rising_roots; and whether pressure falls with density somewhere */
    void (*roots)(const Helmholtz *, const Isotherm *, double target, int kind, double *lowest, double *highest);
    int (*has_branches)(const Helmholtz *, const Isotherm *, double densest);
} HelmholtzEquation;

/* Bound to a temperature and pressure; what an equation has beyond this follows it. */
struct Helmholtz {
    AtState at;
    const HelmholtzEquation *gives;
    const double *closest; /* covolumes, c */
};

void helmholtz_at(const Equation *equation, const HelmholtzEquation *gives, const double *closest, double T, double P, Helmholtz *out);
/* Both for equations that have no loops of their own. */
void helmholtz_roots(const Helmholtz *m, const Isotherm *isotherm, double target, int kind, double *lowest, double *highest);
int helmholtz_has_branches(const Helmholtz *m, const Isotherm *isotherm, double densest);
void helmholtz_to_pressure(AtState *state, double P);

#endif
