/* Functions of one variable by their Taylor coefficients up to a power, the third at most: what follows from them is exact, as no difference is.

   `order` is that power; where it is a constant, nothing is left of what lies above it. */
#ifndef SLEETFIELD_JET_H
#define SLEETFIELD_JET_H

#include <math.h>

typedef struct {
    double k[4];
} Jet;

static inline Jet jet_line(double value, double slope)
{
    const Jet r = {{value, slope, 0.0, 0.0}};
    return r;
}

/* p a + q b */
static inline Jet jet_sum(int order, double p, Jet a, double q, Jet b)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int n = 0; n <= order; n++) r.k[n] = p * a.k[n] + q * b.k[n];
    return r;
}

static inline Jet jet_multiple(int order, double p, Jet a)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int n = 0; n <= order; n++) r.k[n] = p * a.k[n];
    return r;
}

static inline Jet jet_product(int order, Jet a, Jet b)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int n = 0; n <= order; n++)
        for (int m = 0; m <= n; m++) r.k[n] += a.k[m] * b.k[n - m];
    return r;
}

static inline Jet jet_ratio(int order, Jet a, Jet b)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int n = 0; n <= order; n++) {
        r.k[n] = a.k[n];
        for (int m = 0; m < n; m++) r.k[n] -= r.k[m] * b.k[n - m];
        r.k[n] /= b.k[0];
    }
    return r;
}

static inline Jet jet_log(int order, Jet a)
{
    Jet r = {{log(a.k[0]), 0.0, 0.0, 0.0}};
    for (int n = 1; n <= order; n++) {
        double sum = n * a.k[n];
        for (int m = 1; m < n; m++) sum -= m * r.k[m] * a.k[n - m];
        r.k[n] = sum / (n * a.k[0]);
    }
    return r;
}

/* Of a function with Taylor coefficients `outer` at a.k[0]. */
static inline Jet jet_of(int order, const double *outer, Jet a)
{
    Jet step = a, r = jet_line(outer[order], 0.0);
    step.k[0] = 0.0;
    for (int n = order - 1; n >= 0; n--) {
        r = jet_product(order, r, step);
        r.k[0] += outer[n];
    }
    return r;
}

static inline Jet jet_exp(int order, Jet a)
{
    const double e = exp(a.k[0]), outer[4] = {e, e, e / 2.0, e / 6.0};
    return jet_of(order, outer, a);
}

/* A call of a function whose first argument is an order, with that as a constant. */
#define AT_ORDER(order, function, ...) \
    switch (order) { \
    case 0: function(0, __VA_ARGS__); break; \
    case 1: function(1, __VA_ARGS__); break; \
    case 2: function(2, __VA_ARGS__); break; \
    default: function(3, __VA_ARGS__); \
    }

#endif
