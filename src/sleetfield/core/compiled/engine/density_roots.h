/* The densities at which an equation of state has a given pressure: models/density_roots.py for one state. */
#ifndef SLEETFIELD_DENSITY_ROOTS_H
#define SLEETFIELD_DENSITY_ROOTS_H

#define MOST_PLACES 40

/* P/RT and its slope against density, of something; and the rising densities at which it is looked at first, with both there. */
typedef struct {
    void *of;
    int places; /* at most MOST_PLACES */
    void (*at)(void *of, double rho, double *p, double *slope);
    void (*on_place)(void *of, int place, double *rho, double *p, double *slope);
} Isotherm;

/* The lowest and the highest density at which P/RT is the target and rises, both or only the one for a kind, STABLE, VAPOR or LIQUID; NaN where there is none. */
void rising_roots(const Isotherm *isotherm, double target, int kind, double *lowest, double *highest);

#endif
