#include "pure_liquid.h"

#include <stddef.h>

static Jet of_derivatives(double value, double slope, double curvature)
{
    const Jet r = {{value, slope, 0.5 * curvature, 0.0}};
    return r;
}

static Jet by_riedel(const double *k, double T)
{
    const double power = k[3] * pow(T, k[4]);
    return of_derivatives(k[0] + k[1] / T + k[2] * log(T) + power, -k[1] / (T * T) + k[2] / T + k[4] * power / T,
                          2.0 * k[1] / (T * T * T) - k[2] / (T * T) + k[4] * (k[4] - 1.0) * power / (T * T));
}

static Jet by_antoine(const double *k, double T)
{
    const double shifted = T + k[2];
    return of_derivatives(k[0] - k[1] / shifted, k[1] / (shifted * shifted), -2.0 * k[1] / (shifted * shifted * shifted));
}

static Jet by_wagner(const double *k, double T)
{
    const double Tc = k[4], Tr = T / Tc, tau = Tr < 1.0 ? 1.0 - Tr : 0.0, root = sqrt(tau), third = tau * tau * tau;
    const double f = k[0] * tau + k[1] * tau * root + k[2] * third + k[3] * third * third;
    const double f1 = k[0] + 1.5 * k[1] * root + 3.0 * k[2] * tau * tau + 6.0 * k[3] * third * tau * tau;
    const double f2 = (tau > 0.0 ? 0.75 * k[1] / root : 0.0) + 6.0 * k[2] * tau + 30.0 * k[3] * third * tau;
    /* d/dTr = -d/dtau */
    return of_derivatives(log(k[5]) + f / Tr, (-f1 / Tr - f / (Tr * Tr)) / Tc, (f2 / Tr + 2.0 * f1 / (Tr * Tr) + 2.0 * f / (Tr * Tr * Tr)) / (Tc * Tc));
}

Jet ln_saturation(const PureLiquids *all, int i, double T)
{
    const double least = all->ranges[2 * i], most = all->ranges[2 * i + 1], edge = T < least ? least : T > most ? most : T;
    const double *k = all->pressure.coefficients + (ptrdiff_t)i * LIQUID_NUMBERS;
    const int number = all->pressure.number[i];
    const Jet inside = number == RIEDEL ? by_riedel(k, edge) : number == ANTOINE ? by_antoine(k, edge) : by_wagner(k, edge);
    if (edge == T) return inside;
    /* beyond its range a straight line in 1/T */
    const double rise = inside.k[1] * edge * edge;
    return of_derivatives(inside.k[0] + rise * (1.0 / edge - 1.0 / T), rise / (T * T), -2.0 * rise / (T * T * T));
}

/* tau^n of tau > 0 with its derivatives by temperature, tau = 1 - T/Tc */
static Jet power_of(double tau, double n, double Tc)
{
    const double value = pow(tau, n);
    return of_derivatives(value, -n * value / (tau * Tc), n * (n - 1.0) * value / (tau * tau * Tc * Tc));
}

static Jet by_rackett(const double *k, double T)
{
    const double tau = 1.0 - T / k[2];
    if (!(tau > 0.0)) return jet_line(k[1] / k[0], 0.0);
    Jet power = jet_multiple(2, log(k[1]), power_of(tau, k[3], k[2]));
    power.k[0] += log(k[1]);
    return jet_multiple(2, 1.0 / k[0], jet_exp(2, power));
}

static Jet by_power_series(const double *k, double T)
{
    static const double powers[] = {0.35, 2.0 / 3.0, 1.0, 4.0 / 3.0};
    const double tau = 1.0 - T / k[5];
    Jet density = jet_line(k[0], 0.0);
    for (int n = 0; n < 4 && tau > 0.0; n++) density = jet_sum(2, 1.0, density, k[n + 1], power_of(tau, powers[n], k[5]));
    return jet_ratio(2, jet_line(1.0, 0.0), density);
}

Jet liquid_volume(const Equations *densities, int i, double T)
{
    const double *k = densities->coefficients + (ptrdiff_t)i * LIQUID_NUMBERS;
    return densities->number[i] == RACKETT ? by_rackett(k, T) : by_power_series(k, T);
}
