#include "ideal_gas.h"

#include <math.h>

/* Cp, and the antiderivatives of Cp and Cp/T, each to a constant. */
static IdealGas by_powers(int count, const double *k, double T)
{
    IdealGas g = {0.0, 0.0, 0.0};
    for (int n = count - 1; n >= 0; n--) {
        g.cp = g.cp * T + k[n];
        g.h = (g.h + k[n] / (n + 1)) * T;
        if (n > 0) g.s = (g.s + k[n] / n) * T;
    }
    g.s += k[0] * log(T);
    return g;
}

static IdealGas by_hyperbolas(const double *k, double T)
{
    const double u = k[2] / T, v = k[4] / T, su = u / sinh(u), cv = v / cosh(v);
    const IdealGas g = {
        .h = k[0] * T + k[1] * k[2] / tanh(u) - k[3] * k[4] * tanh(v),
        .s = k[0] * log(T) + k[1] * (u / tanh(u) - log(sinh(u))) - k[3] * (v * tanh(v) - log(cosh(v))),
        .cp = k[0] + k[1] * su * su + k[3] * cv * cv,
    };
    return g;
}

/* A polynomial of the third degree, and oscillators: amounts and temperatures in turn. */
static IdealGas by_oscillators(int count, const double *k, double T)
{
    IdealGas g = by_powers(4, k, T);
    for (int n = 4; n + 1 < count; n += 2) {
        const double x = k[n + 1] / T, less = expm1(x);
        if (!(x > 0.0) || x > 500.0) continue;
        g.cp += k[n] * x * x * exp(x) / (less * less);
        g.h += k[n] * k[n + 1] / less;
        g.s += k[n] * (x / less - log(-expm1(-x)));
    }
    return g;
}

IdealGas ideal_gas(const IdealGases *all, int i, double T)
{
    if (all->kind[i] < 0) {
        const IdealGas unknown = {NAN, NAN, NAN};
        return unknown;
    }
    /* beyond its range a heat capacity stays as it is there */
    const double least = all->ranges[2 * i], most = all->ranges[2 * i + 1], edge = T < least ? least : T > most ? most : T;
    const double *k = all->values + (long)i * all->coefficients;
    IdealGas g = all->kind[i] == POLYNOMIAL    ? by_powers(all->coefficients, k, edge)
                 : all->kind[i] == HYPERBOLIC ? by_hyperbolas(k, edge)
                                              : by_oscillators(all->coefficients, k, edge);
    g.h += g.cp * (T - edge) - all->references[2 * i];
    g.s += g.cp * log(T / edge) - all->references[2 * i + 1];
    return g;
}
