/* Pure ideal gases: correlations/heat_capacity.py at one temperature. */
#ifndef SLEETFIELD_IDEAL_GAS_H
#define SLEETFIELD_IDEAL_GAS_H

enum { POLYNOMIAL, HYPERBOLIC, OSCILLATORS, HEAT_CAPACITIES };

/* The coefficients that a heat capacity has at least. */
static const int heat_capacity_coefficients[HEAT_CAPACITIES] = {1, 5, 6};

/* Heat capacities of components: the kind of each, -1 where it is not known; coefficients in J/(mol K), ranges, and the antiderivatives of Cp and Cp/T at the reference temperature. */
typedef struct {
    int c, coefficients;
    const signed char *kind;  /* c */
    const double *values;     /* c x coefficients */
    const double *ranges;     /* c x 2 */
    const double *references; /* c x 2 */
} IdealGases;

/* Enthalpy, J/mol, entropy at the reference pressure and heat capacity, J/(mol K), of one of them. */
typedef struct {
    double h, s, cp;
} IdealGas;

IdealGas ideal_gas(const IdealGases *all, int component, double T);

#endif
