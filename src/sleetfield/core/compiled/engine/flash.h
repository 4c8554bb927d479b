/* Flash at given temperature and pressure, with stability tests: equilibrium/flash.py for one state of one or two phases. */
#ifndef SLEETFIELD_FLASH_H
#define SLEETFIELD_FLASH_H

#include "multiphase.h"

typedef struct {
    int n_phases, is_vapor; /* of the first phase */
    double amount[MOST_PHASES], Z[MOST_PHASES], residual, tm;
    double x[MOST_PHASES][MOST_COMPONENTS];
} Flashed;

/* How much is asked: phases as rough K-values split the feed, or all of them. */
enum { BY_K_VALUES, EVERY_PHASE };

/* The phases of a feed z (all amounts positive), the least packed one first; ln_k are rough K-values. Returns whether it is settled: a state whose phases did
   not come to equal fugacities is not. */
int flash_state(const Phase *model, const double *z, const double *ln_k, int asked, Flashed *out);

/* ln K of a vapor and a liquid by substitution from ln_k, in place; the vapor's amount, which may be any number, and the largest change of the last step, infinite
   where the last K-values allow no split. */
void vapor_and_liquid(const Phase *model, const double *z, double *ln_k, double *amount, double *change);

/* Phases at equilibrium, of kinds that may be STABLE, in order; a distance from a further one is tm. */
void in_order(const Phase *model, const Phases *phases, const int *kinds, double tm, Flashed *out);

#endif
