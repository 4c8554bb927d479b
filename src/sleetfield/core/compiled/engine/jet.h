/* Functions of one variable by their Taylor coefficients up to the third power: what follows from them is exact, as no difference is. */
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

static inline Jet jet_sum(double p, Jet a, double q, Jet b)
{
    Jet r;
    for (int n = 0; n < 4; n++) r.k[n] = p * a.k[n] + q * b.k[n];
    return r;
}

static inline Jet jet_product(Jet a, Jet b)
{
    Jet r;
    for (int n = 0; n < 4; n++) {
        r.k[n] = 0.0;
        for (int m = 0; m <= n; m++) r.k[n] += a.k[m] * b.k[n - m];
    }
    return r;
}

static inline Jet jet_ratio(Jet a, Jet b)
{
    Jet r;
    for (int n = 0; n < 4; n++) {
        r.k[n] = a.k[n];
        for (int m = 0; m < n; m++) r.k[n] -= r.k[m] * b.k[n - m];
        r.k[n] /= b.k[0];
    }
    return r;
}

static inline Jet jet_log(Jet a)
{
    Jet r = {{log(a.k[0]), 0.0, 0.0, 0.0}};
    for (int n = 1; n < 4; n++) {
        double sum = n * a.k[n];
        for (int m = 1; m < n; m++) sum -= m * r.k[m] * a.k[n - m];
        r.k[n] = sum / (n * a.k[0]);
    }
    return r;
}

#endif
