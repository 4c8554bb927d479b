/* Flash at given temperature and pressure, with stability tests: equilibrium/flash.py for one state of one or two phases. */
#ifndef SLEETFIELD_FLASH_H
#define SLEETFIELD_FLASH_H

#include "phase.h"

typedef struct {
    int n_phases, is_vapor; /* of the first phase */
    double amount[2], Z[2], residual, tm;
    double x[2][MOST_COMPONENTS];
} Flashed;

/* How much is asked: whether rough K-values split the feed; whether it splits at all; and whether there is a third phase beside two. */
enum { BY_K_VALUES, SPLITTING, TESTED };

/* The phases of a feed z (all amounts positive), the least packed one first; ln_k are rough K-values. Returns whether it is settled: a state of more
   phases, or one whose phases did not come to equal fugacities, is not. */
int flash_state(const Phase *model, const double *z, const double *ln_k, int asked, Flashed *out);

/* Two phases at equilibrium, of kinds that may be STABLE, as a flash gives them; their amounts. Returns whether they are settled. */
int as_flashed(const Phase *model, const double *z, const double *x, const double *y, const int kinds[2], const double amounts[2], int asked, Flashed *out);

#endif
