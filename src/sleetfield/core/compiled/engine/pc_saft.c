#include "pc_saft.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define PI 3.14159265358979323846

static double polynomial(const double *coefficients, int count, double x)
{
    double value = coefficients[count - 1];
    for (int i = count - 2; i >= 0; i--) value = value * x + coefficients[i];
    return value;
}

/* ---- pressure along an isotherm ---- */

/* One composition: moments for a unit of density, and everything else along its isotherm that does not depend on density. */
typedef struct {
    const Chains *of;
    const double *x;
    double z[4], length, e1, e2, all_chains, part[3];
    double e1_i[MOST_COMPONENTS], e2_i[MOST_COMPONENTS];
    double weight[MOST_COMPONENTS], linear[MOST_COMPONENTS], square[MOST_COMPONENTS], top[MOST_COMPONENTS], rise[MOST_COMPONENTS];
    double share[3], series[SERIES][SERIES_TERMS];
    Free free;
} Mixture;

static double size_of_segments(const Chains *m)
{
    return PI / 6.0 * m->of->avogadro;
}

/* Derivatives of both sums of attractions by densities. */
static void attractions(const Chains *m, const double *rho, double *e1_i, double *e2_i)
{
    const int c = m->of->common.c;
    const double scale1 = 2.0 / m->h.at.T, scale2 = scale1 / m->h.at.T;
    for (int i = 0; i < c; i++) e1_i[i] = e2_i[i] = 0.0;
    for (int j = 0; j < c; j++) {
        const double *restrict one = m->first + (size_t)j * c, *restrict two = m->second + (size_t)j * c, own = rho[j];
        for (int i = 0; i < c; i++) {
            e1_i[i] += one[i] * own;
            e2_i[i] += two[i] * own;
        }
    }
    for (int i = 0; i < c; i++) {
        e1_i[i] *= scale1;
        e2_i[i] *= scale2;
    }
}

static void mix(const Chains *m, const double *x, Mixture *out)
{
    const ChainEquation *e = m->of;
    const int c = e->common.c;
    const double K = size_of_segments(m);
    double z[4] = {0.0, 0.0, 0.0, 0.0}, total = 0.0;
    out->of = m;
    out->x = x;
    out->free.rho = 0.0;
    out->all_chains = out->e1 = out->e2 = 0.0;
    for (int i = 0; i < c; i++) {
        const double own = e->m[i] * x[i], d = m->d[i];
        total += x[i];
        z[0] += own;
        z[1] += own * d;
        z[2] += own * d * d;
        z[3] += own * d * d * d;
        out->all_chains += out->weight[i] = x[i] * (e->m[i] - 1.0);
    }
    attractions(m, x, out->e1_i, out->e2_i);
    for (int i = 0; i < c; i++) {
        const double u = m->d[i] * z[2] / z[3];
        out->e1 += 0.5 * x[i] * out->e1_i[i];
        out->e2 += 0.5 * x[i] * out->e2_i[i];
        out->linear[i] = 1.5 * u;
        out->square[i] = 0.5 * u * u;
        out->top[i] = 1.5 * u - 2.0;
        out->rise[i] = u * (u - 1.5);
    }
    out->length = z[0] / total;
    const double r0 = z[0] / z[3], r1 = z[1] / z[3], r2 = z[2] / z[3], inverse = 1.0 / out->length;
    for (int k = 0; k < 4; k++) out->z[k] = z[k] * K;
    out->part[0] = r0 / K;
    out->part[1] = 3.0 * r1 * r2 / K;
    out->part[2] = r2 * r2 * r2 / K;
    out->share[0] = 1.0;
    out->share[1] = 1.0 - inverse;
    out->share[2] = (1.0 - inverse) * (1.0 - 2.0 * inverse);
    for (int s = 0; s < SERIES; s++)
        for (int k = 0; k < SERIES_TERMS; k++) {
            const double *own = e->series + ((size_t)s * SERIES_TERMS + k) * 3;
            out->series[s][k] = own[0] + own[1] * out->share[1] + own[2] * out->share[2];
        }
}

/* Both fractions of 1/C1 and their first two derivatives, from their numerators, in place. */
static void over_denominators(double eta, double *f)
{
    const double w = 1.0 / (1.0 - eta), v = w / (2.0 - eta), w4 = w * w * w * w, v2 = v * v;
    f[0] *= w4;
    f[1] *= w4 * w;
    f[2] *= w4 * w * w;
    f[3] *= v2;
    f[4] *= v2 * v;
    f[5] *= v2 * v2;
}

/* What chains take off the pressure over density, and its derivative by packing. */
static double of_chains(const Mixture *mix, double eta, double w, double *by_packing)
{
    const int c = mix->of->of->common.c;
    const double y = eta * w;
    double values[MOST_COMPONENTS], slopes[MOST_COMPONENTS], value = 3.0 * mix->all_chains, slope = 0.0;
    for (int i = 0; i < c; i++) {
        const double curved = mix->square[i] * y, inverse = 1.0 / (1.0 + y * (mix->linear[i] + curved));
        const double r = (mix->top[i] + mix->rise[i] * y) * inverse;
        values[i] = mix->weight[i] * r;
        slopes[i] = mix->weight[i] * (mix->rise[i] - r * (mix->linear[i] + 2.0 * curved)) * inverse;
    }
    for (int i = 0; i < c; i++) {
        value += values[i];
        slope += slopes[i];
    }
    *by_packing = (value + y * slope) * (w * w);
    return y * value;
}

/* Contact values of pairs of sites, from diameters, z2 and 1/(1 - z3) along a direction. */
static void contact_of(const ChainEquation *e, int order, const Jet *d, Jet z2, Jet w, Contact *g)
{
    const int K = e->association.sites;
    const Jet one = jet_line(1.0, 0.0);
    g->moments = 2;
    for (int p = 0; p < K * K; p++) {
        const Jet a = d[(int)e->association.owner[p / K]], b = d[(int)e->association.owner[p % K]];
        const Jet D = jet_ratio(order, jet_product(order, a, b), jet_sum(order, 1.0, a, 1.0, b)), Dw = jet_product(order, D, w);
        const Jet reach = jet_product(order, Dw, z2), by_reach = jet_product(order, w, jet_sum(order, 3.0, one, 4.0, reach));
        g->value[p] = jet_product(order, w, jet_sum(order, 1.0, one, 1.0, jet_product(order, reach, jet_sum(order, 3.0, one, 2.0, reach))));
        g->by[0][p] = jet_product(order, by_reach, Dw);
        g->by[1][p] = jet_product(order, w, jet_sum(order, 1.0, g->value[p], 1.0, jet_product(order, by_reach, reach)));
    }
}

/* What bonds add to P/RT and its slope. */
static void add_bonds(Mixture *mix, double rho, double *p, double *slope)
{
    const Association *a = &mix->of->of->association;
    const double w = 1.0 / (1.0 - rho * mix->z[3]), w1 = mix->z[3] * w; /* and its derivative over itself */
    ContactOfDensity g;
    g.step = 1;
    for (int q = 0; q < a->sites * a->sites; q++) {
        const double one = mix->of->d[(int)a->owner[q / a->sites]], other = mix->of->d[(int)a->owner[q % a->sites]];
        /* reach is u rho w, with a derivative of u w w */
        const double u = one * other / (one + other) * mix->z[2], r = u * rho * w, r1 = u * w * w, r2 = 2.0 * r1 * w1;
        const double h = 1.0 + r * (3.0 + 2.0 * r), h_r = 3.0 + 4.0 * r, h1 = h_r * r1, h2 = 4.0 * r1 * r1 + h_r * r2;
        g.value[0][q] = w * h;
        g.value[1][q] = w * (w1 * h + h1);
        g.value[2][q] = w * (2.0 * w1 * w1 * h + 2.0 * w1 * h1 + h2);
    }
    add_pressure_of_bonds(a, &mix->of->strength, mix->x, rho, &g, &mix->free, p, slope);
}

/* P/RT and its slope, with series and fractions at hand. */
static void pressure_with(Mixture *mix, double rho, double eta, const double *series, const double *f, double *p, double *slope)
{
    const double c1 = -2.0 * PI * mix->of->of->avogadro * mix->e1, c2 = -PI * mix->of->of->avogadro * mix->e2 * mix->length, m = mix->length;
    const double w = 1.0 / (1.0 - eta), y = eta * w, square = y * y, far = 3.0 - eta;
    const double inverse = 1.0 / (1.0 + f[3] + m * (f[0] - f[3])), q1 = f[4] + m * (f[1] - f[4]), q2 = f[5] + m * (f[2] - f[5]);
    const double g = series[2] * inverse, g1 = (series[3] - g * q1) * inverse, g2 = (series[4] - 2.0 * g1 * q1 - g * q2) * inverse;
    const double both = c1 * series[0] + c2 * g1;
    const double spheres = mix->part[0] * square * (1.0 - eta) + mix->part[1] * square + mix->part[2] * square * y * far;
    const double spheres_eta = mix->part[0] * y * (1.0 + w) + mix->part[1] * 2.0 * y * w * w + mix->part[2] * square * w * (9.0 - 4.0 * eta + 3.0 * far * y);
    double chains_eta;
    const double rest = 1.0 - of_chains(mix, eta, w, &chains_eta) + rho * both;
    *p = rho * rest + spheres;
    *slope = rest + rho * both + mix->z[3] * (rho * (rho * (c1 * series[1] + c2 * g2) - chains_eta) + spheres_eta);
    if (mix->of->of->association.sites > 0) add_bonds(mix, rho, p, slope);
}

static void pressure_at(void *of, double rho, double *p, double *slope)
{
    Mixture *mix = of;
    const double eta = rho * mix->z[3];
    double series[SERIES], f[FRACTIONS];
    for (int s = 0; s < SERIES; s++) series[s] = polynomial(mix->series[s], SERIES_TERMS, eta);
    for (int k = 0; k < FRACTIONS; k++) f[k] = polynomial(mix->of->of->fractions + (size_t)k * FRACTION_TERMS, FRACTION_TERMS, eta);
    over_denominators(eta, f);
    pressure_with(mix, rho, eta, series, f, p, slope);
}

static void pressure_on_packing(void *of, int place, double *rho, double *p, double *slope)
{
    Mixture *mix = of;
    const ChainEquation *e = mix->of->of;
    double series[SERIES];
    for (int s = 0; s < SERIES; s++) {
        const double *own = e->on_packings[place][s];
        series[s] = own[0] + own[1] * mix->share[1] + own[2] * mix->share[2];
    }
    *rho = e->packings[place] / mix->z[3];
    pressure_with(mix, *rho, e->packings[place], series, e->fractions_on[place], p, slope);
}

/* ---- the Helmholtz energy ---- */

/* What it depends on, along a direction: densities, diameters, derivatives of both sums of attractions by densities. */
typedef struct {
    int warm; /* whether that is temperature's */
    Jet rho[MOST_COMPONENTS], d[MOST_COMPONENTS], e1_i[MOST_COMPONENTS], e2_i[MOST_COMPONENTS];
} Along;

/* An integral, and its derivatives by packing and by mean length of chains. */
typedef struct {
    Jet value, by_packing, by_length;
} Integral;

/* A polynomial in packing and its derivative. */
static inline void polynomials(int order, const double *coefficients, int count, Jet eta, Jet *value, Jet *slope)
{
    double taylor[5] = {0.0, 0.0, 0.0, 0.0, 0.0}, derived[4];
    for (int i = count - 1; i >= 0; i--) {
        for (int n = order + 1; n > 0; n--) taylor[n] = taylor[n] * eta.k[0] + taylor[n - 1];
        taylor[0] = taylor[0] * eta.k[0] + coefficients[i];
    }
    for (int n = 0; n <= order; n++) derived[n] = (n + 1.0) * taylor[n + 1];
    *value = jet_of(order, taylor, eta);
    *slope = jet_of(order, derived, eta);
}

/* sum a_i(m) eta^i. */
static inline Integral series_of(int order, const double *table, Jet eta, Jet length)
{
    const Jet one = jet_line(1.0, 0.0), inverse = jet_ratio(order, one, length), square = jet_product(order, inverse, inverse);
    const Jet first = jet_sum(order, 1.0, one, -1.0, inverse), second = jet_product(order, first, jet_sum(order, 1.0, one, -2.0, inverse));
    const Jet second_m = jet_product(order, square, jet_sum(order, 3.0, one, -4.0, inverse));
    Jet p[3], slope[3];
    for (int k = 0; k < 3; k++) polynomials(order, table + k * INTEGRAL_TERMS, INTEGRAL_TERMS, eta, &p[k], &slope[k]);
    const Integral r = {
        .value = jet_sum(order, 1.0, p[0], 1.0, jet_sum(order, 1.0, jet_product(order, first, p[1]), 1.0, jet_product(order, second, p[2]))),
        .by_packing = jet_sum(order, 1.0, slope[0], 1.0, jet_sum(order, 1.0, jet_product(order, first, slope[1]), 1.0, jet_product(order, second, slope[2]))),
        .by_length = jet_sum(order, 1.0, jet_product(order, square, p[1]), 1.0, jet_product(order, second_m, p[2])),
    };
    return r;
}

/* m C1 I2. */
static inline Integral second_integral(int order, const ChainEquation *e, Jet eta, Jet m)
{
    const Jet one = jet_line(1.0, 0.0), w = jet_ratio(order, one, jet_sum(order, 1.0, one, -1.0, eta));
    const Jet v = jet_ratio(order, w, jet_sum(order, 2.0, one, -1.0, eta)), w2 = jet_product(order, w, w), v2 = jet_product(order, v, v);
    const Jet w4 = jet_product(order, w2, w2), w5 = jet_product(order, w4, w), v3 = jet_product(order, v2, v);
    const Integral i2 = series_of(order, e->b, eta, m);
    Jet f[4], unused; /* both fractions, and their derivatives by packing */
    static const int row[4] = {0, 3, 1, 4};
    for (int k = 0; k < 4; k++) polynomials(order, e->fractions + row[k] * FRACTION_TERMS, FRACTION_TERMS, eta, &f[k], &unused);
    const Jet chain = jet_product(order, f[0], w4), other = jet_product(order, f[1], v2), difference = jet_sum(order, 1.0, chain, -1.0, other);
    const Jet chain_eta = jet_product(order, f[2], w5), other_eta = jet_product(order, f[3], v3);
    const Jet inverse = jet_sum(order, 1.0, jet_sum(order, 1.0, one, 1.0, other), 1.0, jet_product(order, m, difference));
    const Jet c = jet_ratio(order, one, inverse), square = jet_product(order, c, c), mc = jet_product(order, m, c);
    const Jet q = jet_sum(order, 1.0, other_eta, 1.0, jet_product(order, m, jet_sum(order, 1.0, chain_eta, -1.0, other_eta)));
    const Jet by_eta = jet_sum(order, 1.0, jet_product(order, c, i2.by_packing), -1.0, jet_product(order, jet_product(order, square, q), i2.value));
    const Jet by_m = jet_product(order, jet_product(order, m, jet_product(order, square, difference)), i2.value);
    const Integral r = {
        .value = jet_product(order, mc, i2.value),
        .by_packing = jet_product(order, m, by_eta),
        .by_length = jet_sum(order, 1.0, jet_sum(order, 1.0, jet_product(order, c, i2.value), -1.0, by_m), 1.0, jet_product(order, mc, i2.by_length)),
    };
    return r;
}

/* A^R/VRT, and its derivatives by densities unless f_i is NULL. */
static inline void energy(int order, const Chains *m, const Along *s, Jet *f, Jet *f_i)
{
    const ChainEquation *e = m->of;
    const int c = e->common.c;
    const double K = size_of_segments(m), c1 = -2.0 * PI * e->avogadro, c2 = -PI * e->avogadro;
    const Jet none = jet_line(0.0, 0.0), one = jet_line(1.0, 0.0);
    Jet z[4] = {none, none, none, none}, total = none, segments = none, sum1 = none, sum2 = none;
    for (int i = 0; i < c; i++) {
        Jet own = jet_multiple(order, K * e->m[i], s->rho[i]);
        total = jet_sum(order, 1.0, total, 1.0, s->rho[i]);
        segments = jet_sum(order, 1.0, segments, e->m[i], s->rho[i]);
        z[0] = jet_sum(order, 1.0, z[0], 1.0, own);
        for (int k = 1; k < 4; k++) {
            own = jet_product(order, own, s->d[i]);
            z[k] = jet_sum(order, 1.0, z[k], 1.0, own);
        }
        sum1 = jet_sum(order, 1.0, sum1, 0.5, jet_product(order, s->rho[i], s->e1_i[i]));
        sum2 = jet_sum(order, 1.0, sum2, 0.5, jet_product(order, s->rho[i], s->e2_i[i]));
    }
    const Jet length = jet_ratio(order, segments, total), free = jet_sum(order, 1.0, one, -1.0, z[3]);
    const Jet w = jet_ratio(order, one, free), L = jet_log(order, free), r = jet_ratio(order, z[2], z[3]);
    const Jet rr = jet_product(order, r, r), cube = jet_product(order, z[2], rr), square = jet_product(order, z[2], w);
    const Jet r_square = jet_product(order, r, square), cross = jet_product(order, z[1], square), rest = jet_sum(order, 1.0, cube, -1.0, z[0]);
    const Integral i1 = series_of(order, e->a, z[3], length), i2 = second_integral(order, e, z[3], length);
    *f = jet_sum(order, 3.0 / K, cross, 1.0 / K, jet_sum(order, 1.0, jet_product(order, r_square, square), 1.0, jet_product(order, rest, L)));
    *f = jet_sum(order, 1.0, *f, 1.0, jet_sum(order, c1, jet_product(order, i1.value, sum1), c2, jet_product(order, i2.value, sum2)));
    /* chains: -sum rho_i (m_i - 1) ln g_i, g = w h, h = 1 + b (3 + b)/2, b = d z2 w */
    Jet weights = none, by_2 = none, by_3 = none, ln_g[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        const Jet dw = jet_product(order, s->d[i], w), b = jet_product(order, dw, z[2]);
        const Jet h = jet_sum(order, 1.0, one, 0.5, jet_product(order, b, jet_sum(order, 3.0, one, 1.0, b)));
        ln_g[i] = jet_sum(order, 1.0, jet_log(order, h), -1.0, L);
        const Jet weight = jet_multiple(order, e->m[i] - 1.0, s->rho[i]);
        *f = jet_sum(order, 1.0, *f, -1.0, jet_product(order, weight, ln_g[i]));
        if (f_i == NULL) continue;
        const Jet slope = jet_product(order, weight, jet_ratio(order, jet_sum(order, 1.5, one, 1.0, b), h));
        weights = jet_sum(order, 1.0, weights, 1.0, weight);
        by_2 = jet_sum(order, 1.0, by_2, 1.0, jet_product(order, slope, dw));
        by_3 = jet_sum(order, 1.0, by_3, 1.0, jet_product(order, slope, b));
    }
    Jet bond_2 = none, bond_3 = none, ln_free[MOST_SITES];
    if (e->association.sites > 0) {
        Contact g;
        Jet more, by_moment[MOST_MOMENTS];
        contact_of(e, order, s->d, z[2], w, &g);
        bonds(&e->association, order, &m->strength, s->warm, s->rho, &g, &more, by_moment, f_i == NULL ? NULL : ln_free);
        *f = jet_sum(order, 1.0, *f, 1.0, more);
        if (f_i != NULL) {
            bond_2 = by_moment[0];
            bond_3 = by_moment[1];
        }
    }
    if (f_i == NULL) return;
    by_2 = jet_sum(order, 1.0, by_2, -1.0, bond_2);
    const Jet by_length = jet_sum(order, c1, jet_product(order, i1.by_length, sum1), c2, jet_product(order, i2.by_length, sum2));
    const Jet by_packing = jet_sum(order, c1, jet_product(order, i1.by_packing, sum1), c2, jet_product(order, i2.by_packing, sum2));
    const Jet second = jet_sum(order, 3.0, jet_product(order, w, jet_sum(order, 1.0, z[1], 1.0, r_square)), 3.0, jet_product(order, rr, L));
    const Jet inside = jet_sum(order, 3.0, cross, 1.0, jet_sum(order, 1.0, jet_product(order, r_square, jet_sum(order, 2.0, square, -1.0, r)), -1.0, rest));
    const Jet third = jet_sum(order, 1.0, jet_product(order, w, inside), -2.0, jet_product(order, jet_product(order, rr, r), L));
    const Jet of_packing = jet_sum(order, 1.0, by_packing, 1.0, bond_3);
    const Jet slopes[4] = {
        jet_multiple(order, -1.0 / K, L),
        jet_multiple(order, 3.0 / K, square),
        jet_sum(order, 1.0 / K, second, -1.0, by_2),
        jet_sum(order, 1.0 / K, third, 1.0, jet_sum(order, 1.0, of_packing, -1.0, jet_product(order, w, jet_sum(order, 1.0, weights, 1.0, by_3)))),
    };
    const Jet longer = jet_ratio(order, by_length, total), shorter = jet_product(order, longer, length);
    const Jet first1 = jet_multiple(order, c1, i1.value), first2 = jet_multiple(order, c2, i2.value);
    for (int i = 0; i < c; i++) {
        /* ((slope3 d + slope2) d + slope1) d + slope0 */
        Jet spheres = slopes[3];
        for (int k = 2; k >= 0; k--) spheres = jet_sum(order, 1.0, slopes[k], 1.0, jet_product(order, spheres, s->d[i]));
        const Jet pairs = jet_sum(order, 1.0, jet_product(order, first1, s->e1_i[i]), 1.0, jet_product(order, first2, s->e2_i[i]));
        const Jet of_length = jet_sum(order, e->m[i], longer, -1.0, shorter);
        f_i[i] = jet_sum(order, K * e->m[i], spheres, 1.0, jet_sum(order, 1.0, pairs, 1.0, jet_sum(order, 1.0, of_length, 1.0 - e->m[i], ln_g[i])));
    }
    for (int k = 0; k < e->association.sites; k++) {
        const int i = (int)e->association.owner[k];
        f_i[i] = jet_sum(order, 1.0, f_i[i], e->association.count[k], ln_free[k]);
    }
}

/* Densities and all that follows, along a direction of densities. */
static void along_densities(const Chains *m, const double *rho, const double *direction, Along *out)
{
    const int c = m->of->common.c;
    double e1[2][MOST_COMPONENTS], e2[2][MOST_COMPONENTS];
    attractions(m, rho, e1[0], e2[0]);
    if (direction != NULL)
        attractions(m, direction, e1[1], e2[1]);
    out->warm = 0;
    for (int i = 0; i < c; i++) {
        const int still = direction == NULL;
        out->rho[i] = jet_line(rho[i], still ? 0.0 : direction[i]);
        out->d[i] = jet_line(m->d[i], 0.0);
        out->e1_i[i] = jet_line(e1[0][i], still ? 0.0 : e1[1][i]);
        out->e2_i[i] = jet_line(e2[0][i], still ? 0.0 : e2[1][i]);
    }
}

/* How 1 - k_ij and its square change with temperature: what is added to attractions by the first two derivatives, c x 2. */
static void varying_attractions(const Chains *m, const double *rho, double sums[4][MOST_COMPONENTS])
{
    const ChainEquation *e = m->of;
    const int c = e->common.c;
    double p[3][MOST_COMPONENTS * MOST_COMPONENTS];
    memset(sums, 0, sizeof(double) * 4 * MOST_COMPONENTS);
    if (e->attraction.terms == 0) return;
    for (int k = 0; k < 3; k++) attraction_at(&e->attraction, k, m->h.at.T, p[k]);
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            const size_t at = (size_t)i * c + j;
            const double v = p[0][at], v1 = p[1][at], v2 = p[2][at], one = e->w1[at] * rho[j], two = e->w2[at] * rho[j];
            sums[0][i] += one * v1;
            sums[1][i] += one * v2;
            sums[2][i] += two * 2.0 * v * v1;
            sums[3][i] += two * 2.0 * (v1 * v1 + v * v2);
        }
}

static void along_temperature(const Chains *m, const double *rho, Along *out)
{
    const ChainEquation *e = m->of;
    const int c = e->common.c;
    const double T = m->h.at.T;
    double e1[MOST_COMPONENTS], e2[MOST_COMPONENTS], more[4][MOST_COMPONENTS];
    /* 1/T over its value here */
    const Jet cooler = {{1.0, -1.0 / T, 1.0 / (T * T), 0.0}}, twice = jet_product(2, cooler, cooler);
    attractions(m, rho, e1, e2);
    varying_attractions(m, rho, more);
    out->warm = 1;
    for (int i = 0; i < c; i++) {
        const double a = 3.0 * e->epsilon[i] / T, shorter = -0.12 * e->sigma[i] * exp(-a);
        const Jet d = {{m->d[i], shorter * a / T, 0.5 * shorter * a * (a - 2.0) / (T * T), 0.0}};
        const Jet one = {{e1[i], 2.0 * more[0][i] / T, more[1][i] / T, 0.0}}, two = {{e2[i], 2.0 * more[2][i] / (T * T), more[3][i] / (T * T), 0.0}};
        out->rho[i] = jet_line(rho[i], 0.0);
        out->d[i] = d;
        out->e1_i[i] = jet_product(2, one, cooler);
        out->e2_i[i] = jet_product(2, two, twice);
    }
}

/* A value with its first and second derivatives by packing and mean length of chains. */
typedef struct {
    double v, x, y, xx, xy, yy;
} Bent;

static Bent bent_product(Bent a, Bent b)
{
    const Bent r = {a.v * b.v, a.x * b.v + a.v * b.x, a.y * b.v + a.v * b.y, a.xx * b.v + 2.0 * a.x * b.x + a.v * b.xx,
                    a.xy * b.v + a.x * b.y + a.y * b.x + a.v * b.xy, a.yy * b.v + 2.0 * a.y * b.y + a.v * b.yy};
    return r;
}

static Bent bent_inverse(Bent a)
{
    const double i = 1.0 / a.v, s = -i * i, t = 2.0 * i * i * i;
    const Bent r = {i, s * a.x, s * a.y, s * a.xx + t * a.x * a.x, s * a.xy + t * a.x * a.y, s * a.yy + t * a.y * a.y};
    return r;
}

static Bent bent_series(const double *table, double eta, double length)
{
    const double i = 1.0 / length;
    const double share[3][3] = {{1.0, 0.0, 0.0}, {1.0 - i, i * i, -2.0 * i * i * i}, {(1.0 - i) * (1.0 - 2.0 * i), i * i * (3.0 - 4.0 * i), i * i * i * (12.0 * i - 6.0)}};
    Bent r = {0.0, 0.0, 0.0, 0.0, 0.0, 0.0};
    for (int k = 0; k < 3; k++) {
        Jet value, slope;
        polynomials(2, table + k * INTEGRAL_TERMS, INTEGRAL_TERMS, jet_line(eta, 1.0), &value, &slope);
        r.v += share[k][0] * value.k[0];
        r.x += share[k][0] * value.k[1];
        r.xx += share[k][0] * 2.0 * value.k[2];
        r.y += share[k][1] * value.k[0];
        r.xy += share[k][1] * value.k[1];
        r.yy += share[k][2] * value.k[0];
    }
    return r;
}

static Bent bent_second_integral(const ChainEquation *e, double eta, double length)
{
    double f[FRACTIONS];
    for (int k = 0; k < FRACTIONS; k++) f[k] = polynomial(e->fractions + (size_t)k * FRACTION_TERMS, FRACTION_TERMS, eta);
    over_denominators(eta, f);
    const Bent inverse = {1.0 + f[3] + length * (f[0] - f[3]), f[4] + length * (f[1] - f[4]), f[0] - f[3], f[5] + length * (f[2] - f[5]), f[1] - f[4], 0.0};
    const Bent m = {length, 0.0, 1.0, 0.0, 0.0, 0.0};
    return bent_product(m, bent_product(bent_inverse(inverse), bent_series(e->b, eta, length)));
}

enum { Z0, Z1, Z2, Z3, LENGTH, E1, E2, MOMENTS };

static void bend_bonds(const Chains *m, const double *rho, double z2, double w, const double *by_2, const double *by_3, double *out)
{
    const Association *a = &m->of->association;
    const int K = a->sites;
    BentContact g = {.moments = 2, .slope = {by_2, by_3}};
    for (int p = 0; p < K * K; p++) {
        const double one = m->d[(int)a->owner[p / K]], other = m->d[(int)a->owner[p % K]], D = one * other / (one + other), r = D * z2 * w, w2 = w * w;
        g.value[p] = w * (1.0 + r * (3.0 + 2.0 * r));
        g.by[0][p] = D * w2 * (3.0 + 4.0 * r);
        g.by[1][p] = w2 * (1.0 + 6.0 * r * (1.0 + r));
        g.bent[0][0][p] = 4.0 * D * D * w2 * w;
        g.bent[0][1][p] = g.bent[1][0][p] = D * w2 * w * (6.0 + 12.0 * r);
        g.bent[1][1][p] = w2 * w * (2.0 + r * (18.0 + 24.0 * r));
    }
    add_bent_bonds(a, &m->strength, rho, &g, out);
}

/* The second derivatives of A^R/VRT by densities. */
static void bend(const Helmholtz *h, const double *rho, double *out)
{
    const Chains *m = (const Chains *)h;
    const ChainEquation *e = m->of;
    const int c = e->common.c;
    const double K = size_of_segments(m), c1 = -2.0 * PI * e->avogadro, c2 = -PI * e->avogadro;
    double slope[MOMENTS][MOST_COMPONENTS], z[4] = {0.0, 0.0, 0.0, 0.0}, total = 0.0, segments = 0.0, e1 = 0.0, e2 = 0.0;
    attractions(m, rho, slope[E1], slope[E2]);
    for (int i = 0; i < c; i++) {
        double own = K * e->m[i];
        for (int k = 0; k < 4; k++) {
            slope[k][i] = own;
            z[k] += own * rho[i];
            own *= m->d[i];
        }
        total += rho[i];
        segments += e->m[i] * rho[i];
        e1 += 0.5 * rho[i] * slope[E1][i];
        e2 += 0.5 * rho[i] * slope[E2][i];
    }
    const double length = segments / total;
    for (int i = 0; i < c; i++) slope[LENGTH][i] = (e->m[i] - length) / total;
    const double z3 = z[3], w = 1.0 / (1.0 - z3), w2 = w * w, L = log(1.0 - z3), r = z[2] / z3, s = z[2] * w, rest = z[2] * r * r - z[0];
    const Bent i1 = bent_series(e->a, z3, length), i2 = bent_second_integral(e, z3, length);
    double H[MOMENTS][MOMENTS] = {{0.0}};
    H[Z0][Z3] = w / K;
    H[Z1][Z2] = 3.0 * w / K;
    H[Z1][Z3] = 3.0 * s * w / K;
    H[Z2][Z2] = (6.0 * r * w2 + 6.0 * r / z3 * L) / K;
    H[Z2][Z3] = (3.0 * z[1] * w2 + 6.0 * r * s * w2 - 3.0 * s * s / (z3 * z3) - 6.0 * r * r / z3 * L - 3.0 * r * r * w) / K;
    H[Z3][Z3] = (6.0 * z[1] * s * w2 + 6.0 * r * s * s * w2 - 4.0 * r * r * s * w2 + 2.0 * r * r * s * w / z3 + 6.0 * r * r * r / z3 * L + 4.0 * r * r * r * w - rest * w2) / K;
    H[Z3][Z3] += c1 * i1.xx * e1 + c2 * i2.xx * e2;
    H[Z3][LENGTH] = c1 * i1.xy * e1 + c2 * i2.xy * e2;
    H[LENGTH][LENGTH] = c1 * i1.yy * e1 + c2 * i2.yy * e2;
    H[Z3][E1] = c1 * i1.x;
    H[Z3][E2] = c2 * i2.x;
    H[LENGTH][E1] = c1 * i1.y;
    H[LENGTH][E2] = c2 * i2.y;
    double across[2][MOST_COMPONENTS]; /* (m_i - 1) by the derivatives of ln g_i by z2 and z3 */
    for (int i = 0; i < c; i++) {
        const double dw = m->d[i] * w, b = dw * z[2], h = 1.0 + b * (1.5 + 0.5 * b), q = (1.5 + b) / h, q_b = 1.0 / h - q * q, weight = rho[i] * (e->m[i] - 1.0);
        across[0][i] = (e->m[i] - 1.0) * q * dw;
        across[1][i] = (e->m[i] - 1.0) * w * (1.0 + q * b);
        H[Z2][Z2] -= weight * q_b * dw * dw;
        H[Z2][Z3] -= weight * dw * w * (q_b * b + q);
        H[Z3][Z3] -= weight * w2 * (1.0 + b * (q_b * b + 2.0 * q));
    }
    for (int p = 0; p < MOMENTS; p++)
        for (int q = 0; q < p; q++) H[p][q] = H[q][p];
    const double longer = (c1 * i1.y * e1 + c2 * i2.y * e2) / total, by1 = 2.0 * c1 * i1.v / m->h.at.T, by2 = 2.0 * c2 * i2.v / (m->h.at.T * m->h.at.T);
    for (int i = 0; i < c; i++) {
        double row[MOMENTS];
        for (int p = 0; p < MOMENTS; p++) {
            row[p] = 0.0;
            for (int q = 0; q < MOMENTS; q++) row[p] += slope[q][i] * H[q][p];
        }
        row[Z2] -= across[0][i];
        row[Z3] -= across[1][i];
        double *to = out + (size_t)i * c;
        const double *one = m->first + (size_t)i * c, *two = m->second + (size_t)i * c;
        for (int j = 0; j < c; j++)
            to[j] = by1 * one[j] + by2 * two[j] - longer * (slope[LENGTH][i] + slope[LENGTH][j]) - across[0][j] * slope[Z2][i] - across[1][j] * slope[Z3][i];
        for (int p = 0; p < MOMENTS; p++)
            for (int j = 0; j < c; j++) to[j] += row[p] * slope[p][j];
    }
    if (e->association.sites > 0) bend_bonds(m, rho, z[2], w, slope[Z2], slope[Z3], out);
}

/* ---- what helmholtz.c asks ---- */

typedef char fits[sizeof(Mixture) <= sizeof(Composition) ? 1 : -1];

static Isotherm isotherm_of(const Helmholtz *h, const double *x, Composition *room)
{
    const Chains *m = (const Chains *)h;
    const Isotherm isotherm = {room, m->of->packing_count, pressure_at, pressure_on_packing};
    mix(m, x, (Mixture *)room);
    return isotherm;
}

/* A^R/VRT and its derivatives by densities, the values alone. */
static double plain(const Helmholtz *h, const Composition *room, const double *x, double rho, double *f_i)
{
    const Chains *m = (const Chains *)h;
    const Mixture *mix = (const Mixture *)room;
    const int c = m->of->common.c;
    Along s = {.warm = 0};
    Jet f, slopes[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        s.rho[i].k[0] = rho * x[i];
        s.d[i].k[0] = m->d[i];
        s.e1_i[i].k[0] = rho * mix->e1_i[i];
        s.e2_i[i].k[0] = rho * mix->e2_i[i];
    }
    energy(0, m, &s, &f, f_i == NULL ? NULL : slopes);
    for (int i = 0; f_i != NULL && i < c; i++) f_i[i] = slopes[i].k[0];
    return f.k[0];
}

static void in_direction(const Helmholtz *h, int order, const double *rho, const double *direction, Jet *f, Jet *f_i)
{
    const Chains *m = (const Chains *)h;
    Along s;
    along_densities(m, rho, direction, &s);
    AT_ORDER(order, energy, m, &s, f, f_i)
}

static void warmer(const Helmholtz *h, const double *rho, Jet *f, Jet *f_i)
{
    Along s;
    along_temperature((const Chains *)h, rho, &s);
    energy(2, (const Chains *)h, &s, f, f_i);
}

static void at(const Equation *equation, double T, double P, AtState *state)
{
    const ChainEquation *e = (const ChainEquation *)equation;
    Chains *m = (Chains *)state;
    const size_t size = (size_t)equation->c * equation->c;
    helmholtz_at(equation, &e->gives, e->closest, T, P, &m->h);
    m->of = e;
    for (int i = 0; i < equation->c; i++) m->d[i] = e->sigma[i] * (1.0 - 0.12 * exp(-3.0 * e->epsilon[i] / T));
    m->first = e->w1;
    m->second = e->w2;
    strength_at(&e->association, T, &m->strength);
    if (e->attraction.terms == 0) return;
    attraction_at(&e->attraction, 0, T, m->own_first);
    for (size_t k = 0; k < size; k++) {
        m->own_second[k] = e->w2[k] * m->own_first[k] * m->own_first[k];
        m->own_first[k] *= e->w1[k];
    }
    m->first = m->own_first;
    m->second = m->own_second;
}

void chains_ready(ChainEquation *e)
{
    e->common.at = at;
    e->common.to_pressure = helmholtz_to_pressure;
    e->gives.isotherm = isotherm_of;
    e->gives.plain = plain;
    e->gives.along = in_direction;
    e->gives.warmer = warmer;
    e->gives.bend = bend;
    e->gives.roots = helmholtz_roots;
    e->gives.has_branches = helmholtz_has_branches;
    for (int k = 0; k < e->packing_count; k++) {
        const double eta = e->packings[k];
        for (int s = 0; s < SERIES; s++)
            for (int part = 0; part < 3; part++) {
                double value = 0.0;
                for (int i = SERIES_TERMS - 1; i >= 0; i--) value = value * eta + e->series[((size_t)s * SERIES_TERMS + i) * 3 + part];
                e->on_packings[k][s][part] = value;
            }
        for (int f = 0; f < FRACTIONS; f++) e->fractions_on[k][f] = polynomial(e->fractions + (size_t)f * FRACTION_TERMS, FRACTION_TERMS, eta);
        over_denominators(eta, e->fractions_on[k]);
    }
}
