/* Points of saturation and quality lines: equilibrium/line_equations.py for one of them. */
#ifndef SLEETFIELD_LINE_H
#define SLEETFIELD_LINE_H

#include "fluid.h"

typedef struct {
    const Equation *equation;
    const double *z;       /* all amounts positive */
    const double *weights; /* moles per unit of the amount that fractions are of, or NULL where they are by mole */
    double beta;           /* of the first phase */
    int roots[2];          /* what both phases are asked for as */
} LineOf;

typedef struct {
    double X[MOST_COMPONENTS + 2], tangent[MOST_COMPONENTS + 2]; /* ln K, ln T, ln P; how they change with the one that was given */
    double Z[2], packing[2];
    int iterations;
} LinePoint;

/* NONE where Newton's method comes to nothing, BESIDE_CRITICAL where the equations hardly tell temperature and pressure apart. */
enum { NONE, POINT, BESIDE_CRITICAL };

/* The point at which unknown S has a value, from out->X. */
int line_point(const LineOf *line, int S, double value, LinePoint *out);

#endif
