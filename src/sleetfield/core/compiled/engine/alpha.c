#include "alpha.h"

#include <math.h>
#include <stddef.h>

typedef struct {
    double value, first, second;
} Root;

/* With the sign taken off. */
static Root positive(double value, double first, double second)
{
    const double sign = value > 0.0 ? 1.0 : value < 0.0 ? -1.0 : 0.0;
    const Root r = {sign * value, sign * first, sign * second};
    return r;
}

static Root soave(double T, double Tc, double m)
{
    const double slope = -m / sqrt(Tc) / (2.0 * sqrt(T));
    return positive(1.0 + m + 2.0 * T * slope, slope, -slope / (2.0 * T));
}

static Root redlich_kwong(double T, double Tc)
{
    const double value = pow(Tc / T, 0.25);
    const Root r = {value, -0.25 * value / T, 0.3125 * value / (T * T)};
    return r;
}

static Root twu(double T, double Tc, double L, double M, double N)
{
    const double Tr = T / Tc, power = pow(Tr, N * M), value = exp(0.5 * (N * (M - 1.0) * log(Tr) + L * (1.0 - power)));
    const double slope = 0.5 * (N * (M - 1.0) - L * N * M * power) / T;
    const double bend = -0.5 * (N * (M - 1.0) + L * N * M * (N * M - 1.0) * power) / (T * T);
    const Root r = {value, value * slope, value * (slope * slope + bend)};
    return r;
}

static Root mathias_copeman(double T, double Tc, double c1, double c2, double c3)
{
    const double root_T = sqrt(T / Tc), t = 1.0 - root_T, t1 = -root_T / (2.0 * T);
    if (!(t > 0.0)) c2 = c3 = 0.0;
    const double by_t = c1 + (2.0 * c2 + 3.0 * c3 * t) * t, by_tt = 2.0 * c2 + 6.0 * c3 * t;
    return positive(1.0 + (c1 + (c2 + c3 * t) * t) * t, by_t * t1, by_tt * t1 * t1 - by_t * t1 / (2.0 * T));
}

static Root with_water(double T, double Tc, double m, double p, double r)
{
    const double t = T / Tc, root_t = sqrt(t), cube = 1.0 / (t * t * t);
    return positive(1.0 + m * (1.0 - root_t) + p * (1.0 - t) + r * (cube - 1.0), (-0.5 * m / root_t - p - 3.0 * r * cube / t) / Tc,
                    (0.25 * m / (root_t * t) + 12.0 * r * cube / (t * t)) / (Tc * Tc));
}

int alpha_constants(int kind)
{
    return kind == REDLICH_KWONG ? 0 : kind == SOAVE ? 1 : 3;
}

static Root root(const Alpha *a, int i, double T)
{
    const double *k = a->constants, Tc = a->Tc[i];
    const int c = a->c;
    switch (a->kind) {
    case SOAVE: return soave(T, Tc, k[i]);
    case REDLICH_KWONG: return redlich_kwong(T, Tc);
    case TWU: return twu(T, Tc, k[i], k[c + i], k[2 * c + i]);
    case MATHIAS_COPEMAN: return mathias_copeman(T, Tc, k[i], k[c + i], k[2 * c + i]);
    default: return with_water(T, Tc, k[i], k[c + i], k[2 * c + i]);
    }
}

void alpha_values(const Alpha *a, double T, double *values)
{
    for (int i = 0; i < a->c; i++) values[i] = root(a, i, T).value;
}

void alpha_slopes(const Alpha *a, double T, double *first, double *second)
{
    for (int i = 0; i < a->c; i++) {
        const Root r = root(a, i, T);
        first[i] = r.first;
        second[i] = r.second;
    }
}
