/* Room for any model that is bound to a temperature and pressure here. */
#ifndef SLEETFIELD_FLUID_H
#define SLEETFIELD_FLUID_H

#include "cpa.h"
#include "cubic.h"
#include "pair.h"
#include "pc_saft.h"
#include "reference.h"

typedef union {
    Phase phase;
    AtState at;
    Cubic cubic;
    Pair pair;
    Chains chains;
    Cpa cpa;
    Reference reference;
} Fluid;

static inline void fluid_at(const Equation *equation, double T, double P, Fluid *out)
{
    equation->at(equation, T, P, &out->at);
}

static inline void fluid_to_pressure(const Equation *equation, double P, Fluid *fluid)
{
    equation->to_pressure(&fluid->at, P);
}

#endif
