#include "cpa.h"

#include <math.h>
#include <stddef.h>

/* One composition: covolume and attraction for a unit of density. */
typedef struct {
    const Cpa *of;
    const double *x;
    double b, e;
    Free free;
} Mixture;

typedef char fits[sizeof(Mixture) <= sizeof(Composition) ? 1 : -1];

/* Densities, and derivatives of attraction over RT by them, along a direction. */
typedef struct {
    int warm;
    Jet rho[MOST_COMPONENTS], e_i[MOST_COMPONENTS];
} Along;

static void contact_of(const CpaEquation *e, int order, Jet B, Contact *g)
{
    const Jet one = jet_line(1.0, 0.0), value = jet_ratio(order, one, jet_sum(order, 1.0, one, -e->contact, B));
    const Jet slope = jet_multiple(order, e->contact, jet_product(order, value, value));
    g->moments = 1;
    for (int p = 0; p < e->association.sites * e->association.sites; p++) {
        g->value[p] = value;
        g->by[0][p] = slope;
    }
}

/* A^R/VRT, and its derivatives by densities unless f_i is NULL. */
static inline void energy(int order, const Cpa *m, const Along *s, Jet *f, Jet *f_i)
{
    const CpaEquation *eq = m->of;
    const int c = eq->common.c;
    const Jet none = jet_line(0.0, 0.0), one = jet_line(1.0, 0.0);
    Jet total = none, B = none, e = none;
    for (int i = 0; i < c; i++) {
        total = jet_sum(order, 1.0, total, 1.0, s->rho[i]);
        B = jet_sum(order, 1.0, B, eq->b[i], s->rho[i]);
        e = jet_sum(order, 1.0, e, 0.5, jet_product(order, s->rho[i], s->e_i[i]));
    }
    const Jet room = jet_sum(order, 1.0, one, -1.0, B), wide = jet_sum(order, 1.0, one, 1.0, B);
    const Jet ln_room = jet_log(order, room), h = jet_ratio(order, jet_log(order, wide), B);
    *f = jet_sum(order, -1.0, jet_product(order, total, ln_room), -1.0, jet_product(order, e, h));
    Jet by_B = none;
    if (f_i != NULL) {
        const Jet h_B = jet_ratio(order, jet_sum(order, 1.0, jet_ratio(order, one, wide), -1.0, h), B);
        by_B = jet_sum(order, 1.0, jet_ratio(order, total, room), -1.0, jet_product(order, e, h_B));
    }
    Jet ln_free[MOST_SITES];
    if (eq->association.sites > 0) {
        Contact g;
        Jet more, by_moment[MOST_MOMENTS];
        contact_of(eq, order, B, &g);
        bonds(&eq->association, order, &m->strength, s->warm, s->rho, &g, &more, by_moment, f_i == NULL ? NULL : ln_free);
        *f = jet_sum(order, 1.0, *f, 1.0, more);
        if (f_i != NULL) by_B = jet_sum(order, 1.0, by_B, 1.0, by_moment[0]);
    }
    if (f_i == NULL) return;
    for (int i = 0; i < c; i++)
        f_i[i] = jet_sum(order, 1.0, jet_sum(order, -1.0, ln_room, eq->b[i], by_B), -1.0, jet_product(order, h, s->e_i[i]));
    for (int k = 0; k < eq->association.sites; k++) {
        const int i = (int)eq->association.owner[k];
        f_i[i] = jet_sum(order, 1.0, f_i[i], eq->association.count[k], ln_free[k]);
    }
}

static void attractions(const Cpa *m, int derivative, const double *rho, double *e_i)
{
    const int c = m->of->common.c;
    for (int i = 0; i < c; i++) {
        const double *row = m->e[derivative] + (size_t)i * c;
        e_i[i] = 0.0;
        for (int j = 0; j < c; j++) e_i[i] += row[j] * rho[j];
    }
}

static void along_densities(const Cpa *m, const double *rho, const double *direction, Along *out)
{
    double e[2][MOST_COMPONENTS] = {{0.0}};
    attractions(m, 0, rho, e[0]);
    if (direction != NULL) attractions(m, 0, direction, e[1]);
    out->warm = 0;
    for (int i = 0; i < m->of->common.c; i++) {
        out->rho[i] = jet_line(rho[i], direction == NULL ? 0.0 : direction[i]);
        out->e_i[i] = jet_line(e[0][i], direction == NULL ? 0.0 : e[1][i]);
    }
}

static void in_direction(const Helmholtz *h, int order, const double *rho, const double *direction, Jet *f, Jet *f_i)
{
    const Cpa *m = (const Cpa *)h;
    Along s;
    along_densities(m, rho, direction, &s);
    AT_ORDER(order, energy, m, &s, f, f_i)
}

static void warmer(const Helmholtz *h, const double *rho, Jet *f, Jet *f_i)
{
    const Cpa *m = (const Cpa *)h;
    double e[3][MOST_COMPONENTS];
    Along s = {.warm = 1};
    for (int k = 0; k < 3; k++) attractions(m, k, rho, e[k]);
    for (int i = 0; i < m->of->common.c; i++) {
        const Jet own = {{e[0][i], e[1][i], e[2][i], 0.0}};
        s.rho[i] = jet_line(rho[i], 0.0);
        s.e_i[i] = own;
    }
    energy(2, m, &s, f, f_i);
}

static double plain(const Helmholtz *h, const Composition *room, const double *x, double rho, double *f_i)
{
    const int c = h->at.phase.c;
    double parts[MOST_COMPONENTS];
    Jet f, slopes[MOST_COMPONENTS];
    (void)room;
    for (int i = 0; i < c; i++) parts[i] = rho * x[i];
    in_direction(h, 0, parts, NULL, &f, f_i == NULL ? NULL : slopes);
    for (int i = 0; f_i != NULL && i < c; i++) f_i[i] = slopes[i].k[0];
    return f.k[0];
}

/* P/RT and its slope. */
static void pressure_at(void *of, double rho, double *p, double *slope)
{
    Mixture *mix = of;
    const CpaEquation *eq = mix->of->of;
    const Association *a = &eq->association;
    const double B = rho * mix->b, free = 1.0 / (1.0 - B), wide = 1.0 / (1.0 + B);
    *p = rho * (free - rho * mix->e * wide);
    *slope = free * free - rho * mix->e * wide * (2.0 - B * wide);
    if (a->sites == 0) return;
    ContactOfDensity g;
    const double value = 1.0 / (1.0 - eq->contact * B), per = eq->contact * mix->b * value;
    g.step = 0;
    g.value[0][0] = value;
    g.value[1][0] = per * value;
    g.value[2][0] = 2.0 * per * per * value;
    add_pressure_of_bonds(a, &mix->of->strength, mix->x, rho, &g, &mix->free, p, slope);
}

static void pressure_on_packing(void *of, int place, double *rho, double *p, double *slope)
{
    Mixture *mix = of;
    *rho = mix->of->of->packings[place] / mix->b;
    pressure_at(mix, *rho, p, slope);
}

static Isotherm isotherm_of(const Helmholtz *h, const double *x, Composition *room)
{
    Mixture *mix = (Mixture *)room;
    const Cpa *m = (const Cpa *)h;
    const Isotherm isotherm = {room, m->of->packing_count, pressure_at, pressure_on_packing};
    double e_i[MOST_COMPONENTS];
    attractions(m, 0, x, e_i);
    mix->of = m;
    mix->x = x;
    mix->free.rho = 0.0;
    mix->b = mix->e = 0.0;
    for (int i = 0; i < m->of->common.c; i++) {
        mix->b += m->of->b[i] * x[i];
        mix->e += 0.5 * e_i[i] * x[i];
    }
    return isotherm;
}

/* The second derivatives of A^R/VRT by densities. */
static void bend(const Helmholtz *bound, const double *rho, double *out)
{
    const Cpa *m = (const Cpa *)bound;
    const CpaEquation *eq = m->of;
    const int c = eq->common.c;
    const double *b = eq->b;
    double e_i[MOST_COMPONENTS], total = 0.0, B = 0.0, e = 0.0;
    attractions(m, 0, rho, e_i);
    for (int i = 0; i < c; i++) {
        total += rho[i];
        B += rho[i] * b[i];
        e += 0.5 * rho[i] * e_i[i];
    }
    const double free = 1.0 / (1.0 - B), wide = 1.0 / (1.0 + B), h = log1p(B) / B, h1 = (wide - h) / B, h2 = -(wide * wide + 2.0 * h1) / B;
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            const size_t at = (size_t)i * c + j;
            out[at] = (b[i] + b[j]) * free + (total * free * free - e * h2) * b[i] * b[j] - h * m->e[0][at] - h1 * (e_i[i] * b[j] + e_i[j] * b[i]);
        }
    if (eq->association.sites == 0) return;
    const double value = 1.0 / (1.0 - eq->contact * B), slope = eq->contact * value * value;
    BentContact g = {.moments = 1, .slope = {b, NULL}};
    for (int p = 0; p < eq->association.sites * eq->association.sites; p++) {
        g.value[p] = value;
        g.by[0][p] = slope;
        g.bent[0][0][p] = 2.0 * eq->contact * value * slope;
    }
    add_bent_bonds(&eq->association, &m->strength, rho, &g, out);
}

static void at(const Equation *equation, double T, double P, AtState *state)
{
    const CpaEquation *e = (const CpaEquation *)equation;
    Cpa *m = (Cpa *)state;
    const int c = equation->c;
    double pairs[3][MOST_COMPONENTS * MOST_COMPONENTS];
    Jet root[MOST_COMPONENTS];
    helmholtz_at(equation, &e->gives, e->b, T, P, &m->h);
    m->of = e;
    const Jet scale = {{2.0 / (equation->R * T), -2.0 / (equation->R * T * T), 2.0 / (equation->R * T * T * T), 0.0}};
    for (int i = 0; i < c; i++) {
        const double t = sqrt(T / equation->Tc[i]), falls = -e->root[i] * e->c1[i] * t;
        const Jet own = {{e->root[i] * (1.0 + e->c1[i]) + falls, 0.5 * falls / T, -0.125 * falls / (T * T), 0.0}};
        root[i] = jet_multiple(2, own.k[0] < 0.0 ? -1.0 : 1.0, own);
    }
    const int varies = e->attraction.terms > 1;
    for (int k = 0; k < (varies ? 3 : 1); k++) attraction_at(&e->attraction, k, T, pairs[k]);
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            const size_t p = (size_t)i * c + j;
            const Jet pair = {{pairs[0][p], varies ? pairs[1][p] : 0.0, varies ? 0.5 * pairs[2][p] : 0.0, 0.0}};
            const Jet own = jet_product(2, scale, jet_product(2, pair, jet_product(2, root[i], root[j])));
            for (int k = 0; k < 3; k++) m->e[k][p] = own.k[k];
        }
    strength_at(&e->association, T, &m->strength);
}

void cpa_ready(CpaEquation *e)
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
}
