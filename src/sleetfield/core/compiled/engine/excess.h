/* Mixing rules with the excess Gibbs energy of an activity model: models/mixing/excess_gibbs.py at one temperature. */
#ifndef SLEETFIELD_EXCESS_H
#define SLEETFIELD_EXCESS_H

#include "cubic.h"

extern const MixingRule excess_mixing;

#endif
