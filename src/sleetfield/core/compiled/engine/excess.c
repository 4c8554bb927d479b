#include "excess.h"

#include "quadratic.h"

#include <math.h>
#include <stddef.h>

/* alpha of q1 alpha + q2 alpha^2 = r with its first three derivatives. */
static void solved(const ExcessRule *e, double r, double *of)
{
    if (e->q2 == 0.0) {
        of[0] = r / e->q1;
        of[1] = 1.0 / e->q1;
        of[2] = of[3] = 0.0;
        return;
    }
    /* the smaller one, which is r/q1 where r is small; q1 is negative */
    const double root = sqrt(e->q1 * e->q1 + 4.0 * e->q2 * r), per = 1.0 / root;
    of[0] = -2.0 * r / (root - e->q1);
    of[1] = -per;
    of[2] = 2.0 * e->q2 * per * per * per;
    of[3] = -12.0 * e->q2 * e->q2 * per * per * per * per * per;
}

/* What n mol are made of: the sums, the derivatives of n(q1 alpha + q2 alpha^2) by mole numbers less r, and alpha with its derivatives by r. */
typedef struct {
    double total, B, r, alpha[4], off[MOST_COMPONENTS], x[MOST_COMPONENTS];
} Mixed;

static void mixed(const Cubic *m, const double *n, double *dn, Mixed *out)
{
    const int c = m->of->common.c;
    const ExcessRule *e = &m->of->excess;
    const double *b = m->of->b;
    double rho[MOST_COMPONENTS] = {0.0};
    out->total = out->B = out->r = 0.0;
    for (int i = 0; i < c; i++) {
        out->total += n[i];
        out->B += b[i] * n[i];
    }
    for (int i = 0; i < c; i++) out->x[i] = n[i] / out->total;
    activity(m->term, e->activity.terms, c, out->x, rho, dn);
    for (int i = 0; i < c; i++) {
        const double ratio = out->B / (out->total * b[i]);
        rho[i] += (e->q1 + e->q2 * m->alpha[i]) * m->alpha[i] + e->s * (log(ratio) + 1.0 / ratio - 1.0);
        out->r += out->x[i] * rho[i];
    }
    for (int i = 0; i < c; i++) out->off[i] = rho[i] - out->r;
    solved(e, out->r, out->alpha);
}

static double attraction(const Cubic *m, const double *n, double *half)
{
    Mixed mix;
    mixed(m, n, NULL, &mix);
    const double RT = m->at.RT, D = mix.total * mix.alpha[0];
    for (int i = 0; i < m->of->common.c; i++) half[i] = 0.5 * RT * (m->of->b[i] * D + mix.B * (mix.alpha[0] + mix.alpha[1] * mix.off[i]));
    return RT * mix.B * D;
}

static void second(const Cubic *m, const double *n, double *a_ij)
{
    const int c = m->of->common.c;
    const double *b = m->of->b, RT = m->at.RT, s = m->of->excess.s;
    Mixed mix;
    for (int p = 0; p < c * c; p++) a_ij[p] = 0.0;
    mixed(m, n, a_ij, &mix);
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            const double one = b[i] / mix.B, other = b[j] / mix.B;
            const double rho_ij = a_ij[(size_t)i * c + j] / mix.total + s * (one + other - mix.total * one * other - 1.0 / mix.total);
            const double D_i = mix.alpha[0] + mix.alpha[1] * mix.off[i], D_j = mix.alpha[0] + mix.alpha[1] * mix.off[j];
            const double D_ij = mix.alpha[2] / mix.total * mix.off[i] * mix.off[j] + mix.alpha[1] * rho_ij;
            a_ij[(size_t)i * c + j] = RT * (b[i] * D_j + b[j] * D_i + mix.B * D_ij);
        }
}

static void by_temperature(const Cubic *m, const double *x, double *first, double *bend, double *by_T)
{
    const int c = m->of->common.c;
    const ExcessRule *e = &m->of->excess;
    const double T = m->at.T, R = m->of->common.R, *b = m->of->b;
    double rho_T[MOST_COMPONENTS], root1[MOST_COMPONENTS], root2[MOST_COMPONENTS], r_T = 0.0;
    Mixed mix;
    mixed(m, x, NULL, &mix);
    double r_TT = activity_by_temperature(&e->activity, m->term, c, T, mix.x, rho_T);
    root_slopes(m->of, T, root1, root2);
    for (int i = 0; i < c; i++) {
        const double root = m->root[i], a = root * root, a1 = 2.0 * root * root1[i], a2 = 2.0 * (root1[i] * root1[i] + root * root2[i]);
        const double per = 1.0 / (b[i] * R * T), alpha1 = (a1 - a / T) * per, alpha2 = (a2 - 2.0 * a1 / T + 2.0 * a / (T * T)) * per;
        const double slope = e->q1 + 2.0 * e->q2 * m->alpha[i];
        rho_T[i] += slope * alpha1;
        r_T += mix.x[i] * rho_T[i];
        r_TT += mix.x[i] * (slope * alpha2 + 2.0 * e->q2 * alpha1 * alpha1);
    }
    const double *alpha = mix.alpha, D_T = alpha[1] * r_T, D_TT = alpha[2] * r_T * r_T + alpha[1] * r_TT;
    *first = R * mix.B * (alpha[0] + T * D_T);
    *bend = R * mix.B * (2.0 * D_T + T * D_TT);
    for (int i = 0; i < c; i++) {
        const double D_i = alpha[0] + alpha[1] * mix.off[i], D_iT = alpha[1] * rho_T[i] + alpha[2] * r_T * mix.off[i];
        by_T[i] = R * (b[i] * (alpha[0] + T * D_T) + mix.B * (D_i + T * D_iT));
    }
}

static Jet along_direction(const Cubic *m, const double *n, const double *along)
{
    const int c = m->of->common.c;
    const ExcessRule *e = &m->of->excess;
    double pure[MOST_COMPONENTS], of[4];
    for (int i = 0; i < c; i++) pure[i] = (e->q1 + e->q2 * m->alpha[i]) * m->alpha[i] - e->s * log(m->of->b[i]);
    const Jet total = linear_along(c, NULL, n, along), B = linear_along(c, m->of->b, n, along), mean = jet_log(3, jet_ratio(3, B, total));
    Jet sum = jet_sum(3, 1.0, linear_along(c, pure, n, along), e->s, jet_product(3, total, mean));
    sum = jet_sum(3, 1.0, sum, 1.0, excess_along(m->term, e->activity.terms, c, n, along));
    const Jet r = jet_ratio(3, sum, total);
    solved(e, r.k[0], of);
    const double outer[4] = {of[0], of[1], of[2] / 2.0, of[3] / 6.0};
    return jet_multiple(3, m->at.RT, jet_product(3, B, jet_product(3, total, jet_of(3, outer, r))));
}

static void at(Cubic *m)
{
    for (int i = 0; i < m->of->common.c; i++) m->alpha[i] = m->root[i] * m->root[i] / (m->of->b[i] * m->at.RT);
    activity_at(&m->of->excess.activity, m->of->common.c, m->at.T, m->term);
}

const MixingRule excess_mixing = {at, attraction, second, by_temperature, along_direction};
