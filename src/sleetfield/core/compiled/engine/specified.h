/* Flash where temperature or pressure is given and beside it another quantity: specified_flash.py and simultaneous.py for one state of one or two phases. */
#ifndef SLEETFIELD_SPECIFIED_H
#define SLEETFIELD_SPECIFIED_H

#include "fluid.h"
#include "flash.h"
#include "ideal_gas.h"

enum { OF_V, OF_H, OF_S, OF_U, OF_VAPOR, OF_VAPOR_MASS, QUANTITIES };

typedef struct {
    const Equation *equation;
    const IdealGases *ideal;  /* for H, S and U */
    const double *molar_mass; /* for shares by mass */
    const double *z;          /* all amounts positive */
    int of_T, name;           /* whether temperature is what is sought; the other quantity */
    double given, target;     /* K or Pa; J/mol, J/(mol K), m3/mol, or a share */
} Specified;

/* Temperature, pressure and phases; returns whether the state is settled. What has no such state, or more than two phases, is not. */
int specified_state(const Specified *sought, double *T, double *P, Flashed *out);

#endif
