/* Flash at given temperature and pressure, with stability tests: equilibrium/flash.py for one state of one or two phases. */
#ifndef SLEETFIELD_FLASH_H
#define SLEETFIELD_FLASH_H

#include "phase.h"

typedef struct {
    int n_phases, is_vapor; /* of the first phase */
    double amount[2], Z[2], residual, tm;
    double x[2][MOST_COMPONENTS];
} Flashed;

/* The phases of a feed z (all amounts positive), the least packed one first; ln_k are rough K-values. Returns whether it is settled: a state of more
   phases, or one whose phases did not come to equal fugacities, is not. */
int flash_state(const Phase *model, const double *z, const double *ln_k, Flashed *out);

#endif
