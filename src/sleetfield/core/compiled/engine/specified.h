/* Flash at two quantities other than temperature and pressure together: specified_flash.py, simultaneous.py and part of neither_given.py for one state. */
#ifndef SLEETFIELD_SPECIFIED_H
#define SLEETFIELD_SPECIFIED_H

#include "fluid.h"
#include "flash.h"
#include "ideal_gas.h"

enum { OF_V, OF_H, OF_S, OF_U, OF_VAPOR, OF_VAPOR_MASS, QUANTITIES, OF_T = QUANTITIES, OF_P };

/* One of these and its value: K, Pa, J/mol, J/(mol K), m3/mol, or a share. */
typedef struct {
    int name;
    double value;
} Quantity;

typedef struct {
    const Equation *equation;
    const IdealGases *ideal;  /* for H, S and U */
    const double *molar_mass; /* for shares by mass */
    const double *z;          /* all amounts positive */
    Quantity given[2];
} Specified;

enum { OPEN, MET, AWAY };

/* Temperature, pressure and phases where the first quantity is one of temperature and pressure and the second is not; AWAY where there are none. */
int specified_state(const Specified *sought, double *T, double *P, Flashed *out);

/* The same for any two, from a temperature and a pressure nearby; AWAY where that leads to none. */
int state_near(const Specified *sought, double *T, double *P, Flashed *out);

#endif
