#include "quadratic.h"

#include "wide.h"

#include <math.h>
#include <stddef.h>

Jet quadratic_along(int c, const double *matrix, const double *scale, const double *n, const double *along)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int i = 0; i < c; i++) {
        double by_n = 0.0, by_along = 0.0;
        for (int j = 0; j < c; j++) {
            const double own = matrix[(size_t)i * c + j] * (scale == NULL ? 1.0 : scale[i] * scale[j]);
            by_n += own * n[j];
            by_along += own * along[j];
        }
        r.k[0] += n[i] * by_n;
        r.k[1] += 2.0 * along[i] * by_n;
        r.k[2] += along[i] * by_along;
    }
    return r;
}

Jet linear_along(int c, const double *of_each, const double *n, const double *along)
{
    Jet r = {{0.0, 0.0, 0.0, 0.0}};
    for (int i = 0; i < c; i++) {
        const double own = of_each == NULL ? 1.0 : of_each[i];
        r.k[0] += own * n[i];
        r.k[1] += own * along[i];
    }
    return r;
}

/* What water adds to n^2 a: 2 n_w^2 sqrt(a_w) sum n_i sqrt(a_i) l_i over n, with the derivatives of the numerator. */
typedef struct {
    double numerator, total, sum;
    double by_n[MOST_COMPONENTS];
} Aqueous;

static void in_water(const Cubic *m, const double *n, Aqueous *out)
{
    const int c = m->of->common.c, w = m->of->water;
    const double square = 2.0 * m->root[w] * n[w] * n[w];
    out->total = out->sum = 0.0;
    for (int i = 0; i < c; i++) {
        const double own = m->root[i] * m->l[i];
        out->total += n[i];
        out->sum += n[i] * own;
        out->by_n[i] = square * own;
    }
    out->numerator = square * out->sum;
    out->by_n[w] += 4.0 * m->root[w] * n[w] * out->sum;
}

WIDE static double attraction(const Cubic *m, const double *n, double *half)
{
    const int c = m->of->common.c;
    double a = 0.0, u[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        u[i] = m->root[i] * n[i];
        half[i] = 0.0;
    }
    /* by columns, four of them together, so that several components are added to at once; the matrix is symmetric */
    int j = 0;
    for (; j + 4 <= c; j += 4) {
        const double *restrict one = m->pairs + (size_t)j * c, *restrict two = one + c, *restrict three = two + c, *restrict four = three + c;
        double *restrict sum = half;
        for (int i = 0; i < c; i++) sum[i] += (one[i] * u[j] + two[i] * u[j + 1]) + (three[i] * u[j + 2] + four[i] * u[j + 3]);
    }
    for (; j < c; j++) {
        const double *restrict column = m->pairs + (size_t)j * c;
        double *restrict sum = half;
        for (int i = 0; i < c; i++) sum[i] += column[i] * u[j];
    }
    for (int i = 0; i < c; i++) a += half[i] * u[i];
    for (int i = 0; i < c; i++) half[i] *= m->root[i];
    if (m->of->water < 0) return a;
    Aqueous more;
    in_water(m, n, &more);
    const double added = more.numerator / more.total;
    for (int i = 0; i < c; i++) half[i] += 0.5 * (more.by_n[i] - added) / more.total;
    return a + added;
}

static void second(const Cubic *m, const double *n, double *a_ij)
{
    const int c = m->of->common.c, w = m->of->water;
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) a_ij[i * c + j] = 2.0 * m->root[i] * m->root[j] * m->pairs[i * c + j];
    if (w < 0) return;
    Aqueous more;
    in_water(m, n, &more);
    const double all = more.total;
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++)
            a_ij[i * c + j] += (-(more.by_n[i] + more.by_n[j]) / all + 2.0 * more.numerator / (all * all)) / all;
    for (int i = 0; i < c; i++) {
        const double added = 4.0 * m->root[w] * n[w] * m->root[i] * m->l[i] / all;
        a_ij[w * c + i] += added;
        a_ij[i * c + w] += added;
    }
    a_ij[w * c + w] += 4.0 * m->root[w] * more.sum / all;
}

static Jet along_direction(const Cubic *m, const double *n, const double *along)
{
    const int c = m->of->common.c, w = m->of->water;
    const Jet plain = quadratic_along(c, m->pairs, m->root, n, along);
    if (w < 0) return plain;
    double own[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) own[i] = 2.0 * m->root[w] * m->root[i] * m->l[i];
    const Jet water = jet_line(n[w], along[w]), numerator = jet_product(3, jet_product(3, water, water), linear_along(c, own, n, along));
    return jet_sum(3, 1.0, plain, 1.0, jet_ratio(3, numerator, linear_along(c, NULL, n, along)));
}

/* The first two derivatives by temperature of sqrt(a_i), of 1 - k_ij where it depends on it, and of l where there is water. */
typedef struct {
    double root1[MOST_COMPONENTS], root2[MOST_COMPONENTS], l1[MOST_COMPONENTS], l2[MOST_COMPONENTS];
    double pairs1[MOST_COMPONENTS * MOST_COMPONENTS], pairs2[MOST_COMPONENTS * MOST_COMPONENTS];
} Slopes;

/* How far interactions with water are others in it, or a derivative of that by temperature; `pairs` is that derivative of 1 - k_ij. */
static void differences(const CubicEquation *e, int derivative, double T, const double *pairs, double *l)
{
    const int c = e->common.c;
    const double Tc = e->alpha.Tc[e->water], reduced = T / Tc, high = pow(reduced, 8.0), power = 1.0 + high;
    const double t = reduced * pow(power, -0.125), t1 = pow(power, -1.125), t2 = -9.0 * high / reduced * pow(power, -2.125);
    for (int i = 0; i < c; i++) {
        const double *k = e->aqueous + i, c1 = k[0], c2 = k[c], c3 = k[2 * c], c4 = k[3 * c], here = pairs[(size_t)e->water * c + i];
        const double by_t = c2 + 2.0 * c3 * t + 3.0 * c4 * t * t, by_tt = 2.0 * c3 + 6.0 * c4 * t;
        if (!isfinite(c1))
            l[i] = 0.0;
        else if (derivative == 0)
            l[i] = 1.0 - here - (c1 + (c2 + (c3 + c4 * t) * t) * t);
        else if (derivative == 1)
            l[i] = -here - by_t * t1 / Tc;
        else
            l[i] = -here - (by_tt * t1 * t1 + by_t * t2) / (Tc * Tc);
    }
}

static void slopes_of(const Cubic *m, Slopes *out)
{
    const CubicEquation *e = m->of;
    root_slopes(e, m->at.T, out->root1, out->root2);
    if (e->attraction.terms > 1 || e->water >= 0) {
        attraction_at(&e->attraction, 1, m->at.T, out->pairs1);
        attraction_at(&e->attraction, 2, m->at.T, out->pairs2);
    }
    if (e->water < 0) return;
    differences(e, 1, m->at.T, out->pairs1, out->l1);
    differences(e, 2, m->at.T, out->pairs2, out->l2);
}

/* What water adds, for one mole, to the derivatives of n^2 a by temperature and to those of its derivatives by mole numbers. */
static void aqueous_by_temperature(const Cubic *m, const double *x, const Slopes *d, double *first, double *bend, double *by_T)
{
    const int c = m->of->common.c, w = m->of->water;
    const double s = m->root[w], s1 = d->root1[w], s2 = d->root2[w], square = 2.0 * x[w] * x[w];
    double p = 0.0, p1 = 0.0, p2 = 0.0, own[MOST_COMPONENTS], own1[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        own[i] = m->root[i] * m->l[i];
        own1[i] = d->root1[i] * m->l[i] + m->root[i] * d->l1[i];
        p += x[i] * own[i];
        p1 += x[i] * own1[i];
        p2 += x[i] * (d->root2[i] * m->l[i] + 2.0 * d->root1[i] * d->l1[i] + m->root[i] * d->l2[i]);
    }
    const double added = square * (s1 * p + s * p1);
    *first += added;
    *bend += square * (s2 * p + 2.0 * s1 * p1 + s * p2);
    for (int i = 0; i < c; i++) by_T[i] += square * (s1 * own[i] + s * own1[i]) - added;
    by_T[w] += 4.0 * x[w] * (s1 * p + s * p1);
}

static void by_temperature(const Cubic *m, const double *x, double *first, double *bend, double *by_T)
{
    const int c = m->of->common.c, varies = m->of->attraction.terms > 1;
    Slopes slopes;
    slopes_of(m, &slopes);
    /* n^2 a = sum u_i (1 - k_ij) u_j, u = x sqrt(a) */
    double u[MOST_COMPONENTS], u1[MOST_COMPONENTS], Ku[MOST_COMPONENTS], Ku1[MOST_COMPONENTS], K1u[MOST_COMPONENTS];
    *first = *bend = 0.0;
    for (int i = 0; i < c; i++) {
        u[i] = x[i] * m->root[i];
        u1[i] = x[i] * slopes.root1[i];
    }
    for (int i = 0; i < c; i++) {
        const double *row = m->pairs + (size_t)i * c;
        double K2u = 0.0;
        Ku[i] = Ku1[i] = K1u[i] = 0.0;
        for (int j = 0; j < c; j++) {
            Ku[i] += row[j] * u[j];
            Ku1[i] += row[j] * u1[j];
        }
        for (int j = 0; varies && j < c; j++) {
            K1u[i] += slopes.pairs1[(size_t)i * c + j] * u[j];
            K2u += slopes.pairs2[(size_t)i * c + j] * u[j];
        }
        *first += 2.0 * u1[i] * Ku[i] + u[i] * K1u[i];
        *bend += 2.0 * u1[i] * Ku1[i] + 2.0 * x[i] * slopes.root2[i] * Ku[i] + 4.0 * u1[i] * K1u[i] + u[i] * K2u;
    }
    for (int i = 0; i < c; i++) by_T[i] = 2.0 * (slopes.root1[i] * Ku[i] + m->root[i] * (Ku1[i] + K1u[i]));
    if (m->of->water >= 0) aqueous_by_temperature(m, x, &slopes, first, bend, by_T);
}

static void at(Cubic *m)
{
    const CubicEquation *e = m->of;
    const double T = m->at.T;
    m->pairs = e->attraction.terms > 1 ? m->own_pairs : e->attraction.pairs;
    if (e->attraction.terms > 1) attraction_at(&e->attraction, 0, T, m->own_pairs);
    if (e->water >= 0) differences(e, 0, T, m->pairs, m->l);
}

const MixingRule quadratic_mixing = {at, attraction, second, by_temperature, along_direction};
