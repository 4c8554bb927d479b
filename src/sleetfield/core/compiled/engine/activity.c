#include "activity.h"

#include "jet.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define LEAST_AMOUNT 1e-100

/* How many matrices of pairs a kind of term has. */
static int matrices(int kind)
{
    return kind == NRTL ? 2 : kind == WEIGHTED_LOGARITHM || kind == OF_GROUPS ? 1 : 0;
}

static void by_nrtl(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const double *G = t->first, *D = t->second;
    double S[MOST_COMPONENTS], m[MOST_COMPONENTS], w[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        double sum = 0.0, mean = 0.0;
        for (int j = 0; j < c; j++) {
            sum += G[j * c + i] * x[j];
            mean += D[j * c + i] * x[j];
        }
        S[i] = sum;
        m[i] = mean / sum;
        w[i] = x[i] / sum;
    }
    for (int i = 0; i < c; i++) {
        double sum = m[i];
        for (int j = 0; j < c; j++) sum += (D[i * c + j] - G[i * c + j] * m[j]) * w[j];
        ln_gamma[i] += sum;
    }
    if (dn == NULL) return;
    double own[MOST_COMPONENTS * MOST_COMPONENTS], weighted[MOST_COMPONENTS * MOST_COMPONENTS];
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) own[i * c + j] = (D[i * c + j] - G[i * c + j] * m[j]) / S[j];
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            double sum = 0.0;
            for (int k = 0; k < c; k++) sum += own[i * c + k] * G[j * c + k] * w[k];
            weighted[i * c + j] = sum;
        }
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) dn[i * c + j] += own[i * c + j] + own[j * c + i] - weighted[i * c + j] - weighted[j * c + i];
}

static void by_weighted_logarithm(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const double *L = t->first, *w = t->own;
    double xw[MOST_COMPONENTS], S[MOST_COMPONENTS], Q = 0.0;
    for (int i = 0; i < c; i++) Q += xw[i] = x[i] * w[i];
    for (int i = 0; i < c; i++) {
        S[i] = 0.0;
        for (int j = 0; j < c; j++) S[i] += L[j * c + i] * xw[j];
    }
    for (int i = 0; i < c; i++) {
        double sum = 0.0;
        for (int k = 0; k < c; k++) sum += L[i * c + k] * xw[k] / S[k];
        ln_gamma[i] += w[i] * (1.0 + log(Q / S[i]) - sum);
    }
    for (int i = 0; dn != NULL && i < c; i++)
        for (int j = 0; j < c; j++) {
            double both = 0.0;
            for (int k = 0; k < c; k++) both += L[i * c + k] * L[j * c + k] / (S[k] * S[k]) * xw[k];
            dn[i * c + j] += (1.0 / Q - L[i * c + j] / S[j] - L[j * c + i] / S[i] + both) * w[i] * w[j];
        }
}

/* The weighted logarithm of the groups that components are made of, less what it is in each alone. */
static void by_groups(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const int groups = t->groups;
    double amounts[MOST_COMPONENTS], total = 0.0, own[MOST_COMPONENTS] = {0.0}, bend[MOST_COMPONENTS * MOST_COMPONENTS];
    for (int k = 0; k < groups; k++) {
        double sum = 0.0;
        for (int i = 0; i < c; i++) sum += t->counts[k * c + i] * x[i];
        total += amounts[k] = sum > LEAST_AMOUNT ? sum : LEAST_AMOUNT;
    }
    for (int k = 0; k < groups; k++) amounts[k] /= total;
    if (dn != NULL) memset(bend, 0, sizeof(double) * (size_t)groups * groups);
    by_weighted_logarithm(t, groups, amounts, own, dn == NULL ? NULL : bend);
    for (int i = 0; i < c; i++) {
        ln_gamma[i] -= t->other[i];
        for (int k = 0; k < groups; k++) ln_gamma[i] += t->counts[k * c + i] * own[k];
    }
    for (int i = 0; dn != NULL && i < c; i++) {
        double row[MOST_COMPONENTS] = {0.0};
        for (int k = 0; k < groups; k++)
            for (int l = 0; t->counts[k * c + i] != 0.0 && l < groups; l++) row[l] += t->counts[k * c + i] * bend[k * groups + l];
        for (int j = 0; j < c; j++)
            for (int l = 0; l < groups; l++) dn[i * c + j] += row[l] * t->counts[l * c + j] / total;
    }
}

static double total_of(int c, const double *own, const double *x)
{
    double total = 0.0;
    for (int i = 0; i < c; i++) total += own[i] * x[i];
    return total;
}

/* Flory-Huggins: of sizes. */
static void by_sizes(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const double size = total_of(c, t->own, x);
    double V[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        V[i] = t->own[i] / size;
        ln_gamma[i] += 1.0 - V[i] + log(V[i]);
    }
    for (int i = 0; dn != NULL && i < c; i++)
        for (int j = 0; j < c; j++) dn[i * c + j] += (1.0 - V[i]) * (1.0 - V[j]);
}

/* What surfaces beside sizes change. */
static void by_surfaces(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const double *r = t->own, *q = t->other, size = total_of(c, r, x), surface = total_of(c, q, x);
    double apart[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        const double V = r[i] / size, F = q[i] / surface;
        ln_gamma[i] -= 5.0 * q[i] * (1.0 - V / F + log(V / F));
        apart[i] = F - V;
    }
    for (int i = 0; dn != NULL && i < c; i++)
        for (int j = 0; j < c; j++) dn[i * c + j] -= 5.0 * surface * apart[i] * apart[j];
}

void activity(const Term *term, int terms, int c, const double *x, double *ln_gamma, double *dn)
{
    for (int k = 0; k < terms; k++) {
        const Term *t = &term[k];
        if (t->kind == NRTL)
            by_nrtl(t, c, x, ln_gamma, dn);
        else if (t->kind == WEIGHTED_LOGARITHM)
            by_weighted_logarithm(t, c, x, ln_gamma, dn);
        else if (t->kind == OF_GROUPS)
            by_groups(t, c, x, ln_gamma, dn);
        else if (t->kind == FLORY_HUGGINS)
            by_sizes(t, c, x, ln_gamma, dn);
        else
            by_surfaces(t, c, x, ln_gamma, dn);
    }
}

/* The same terms in Taylor arithmetic, of temperature or of a direction of mole numbers. */
typedef struct {
    const Term *term; /* kinds, sizes, counts and weights */
    Jet first[MOST_COMPONENTS * MOST_COMPONENTS], second[MOST_COMPONENTS * MOST_COMPONENTS]; /* as in Term */
    Jet other[MOST_COMPONENTS]; /* of groups what they come to in pure components */
} Along;

static inline void nrtl_along(int order, int c, const Along *a, const Jet *n, Jet *ln_gamma)
{
    Jet m[MOST_COMPONENTS], w[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        Jet S = jet_line(0.0, 0.0), C = S;
        for (int j = 0; j < c; j++) {
            S = jet_sum(order, 1.0, S, 1.0, jet_product(order, a->first[j * c + i], n[j]));
            C = jet_sum(order, 1.0, C, 1.0, jet_product(order, a->second[j * c + i], n[j]));
        }
        m[i] = jet_ratio(order, C, S);
        w[i] = jet_ratio(order, n[i], S);
    }
    for (int i = 0; i < c; i++) {
        Jet sum = m[i];
        for (int j = 0; j < c; j++) {
            const Jet off = jet_sum(order, 1.0, a->second[i * c + j], -1.0, jet_product(order, a->first[i * c + j], m[j]));
            sum = jet_sum(order, 1.0, sum, 1.0, jet_product(order, off, w[j]));
        }
        ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], 1.0, sum);
    }
}

static inline void weighted_logarithm_along(int order, int c, const Jet *L, const double *w, const Jet *n, Jet *ln_gamma)
{
    Jet S[MOST_COMPONENTS], share[MOST_COMPONENTS], Q = jet_line(0.0, 0.0);
    for (int i = 0; i < c; i++) Q = jet_sum(order, 1.0, Q, w[i], n[i]);
    for (int i = 0; i < c; i++) {
        S[i] = jet_line(0.0, 0.0);
        for (int j = 0; j < c; j++) S[i] = jet_sum(order, 1.0, S[i], w[j], jet_product(order, L[j * c + i], n[j]));
        share[i] = jet_ratio(order, jet_multiple(order, w[i], n[i]), S[i]);
    }
    for (int i = 0; i < c; i++) {
        Jet sum = jet_log(order, jet_ratio(order, Q, S[i]));
        sum.k[0] += 1.0;
        for (int k = 0; k < c; k++) sum = jet_sum(order, 1.0, sum, -1.0, jet_product(order, L[i * c + k], share[k]));
        ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], w[i], sum);
    }
}

static inline void groups_along(int order, int c, const Along *a, const Jet *n, Jet *ln_gamma)
{
    const Term *t = a->term;
    Jet amounts[MOST_COMPONENTS], own[MOST_COMPONENTS];
    for (int k = 0; k < t->groups; k++) {
        amounts[k] = own[k] = jet_line(0.0, 0.0);
        for (int i = 0; i < c; i++) amounts[k] = jet_sum(order, 1.0, amounts[k], t->counts[k * c + i], n[i]);
        if (!(amounts[k].k[0] > LEAST_AMOUNT)) amounts[k] = jet_line(LEAST_AMOUNT, 0.0);
    }
    weighted_logarithm_along(order, t->groups, a->first, t->own, amounts, own);
    for (int i = 0; i < c; i++) {
        ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], -1.0, a->other[i]);
        for (int k = 0; k < t->groups; k++) ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], t->counts[k * c + i], own[k]);
    }
}

static inline Jet total_along(int order, int c, const double *own, const Jet *n)
{
    Jet total = jet_line(0.0, 0.0);
    for (int i = 0; i < c; i++) total = jet_sum(order, 1.0, total, own == NULL ? 1.0 : own[i], n[i]);
    return total;
}

/* 1 - v + ln v */
static inline Jet away_along(int order, Jet v)
{
    Jet sum = jet_sum(order, 1.0, jet_log(order, v), -1.0, v);
    sum.k[0] += 1.0;
    return sum;
}

static inline void sizes_along(int order, int c, const Along *a, const Jet *n, Jet *ln_gamma)
{
    const double *r = a->term->own;
    const Jet V = jet_ratio(order, total_along(order, c, NULL, n), total_along(order, c, r, n));
    for (int i = 0; i < c; i++)
        ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], 1.0, away_along(order, jet_multiple(order, r[i], V)));
}

static inline void surfaces_along(int order, int c, const Along *a, const Jet *n, Jet *ln_gamma)
{
    const double *r = a->term->own, *q = a->term->other;
    const Jet to_F = jet_ratio(order, total_along(order, c, q, n), total_along(order, c, r, n));
    for (int i = 0; i < c; i++) {
        const Jet sum = away_along(order, jet_multiple(order, r[i] / q[i], to_F));
        ln_gamma[i] = jet_sum(order, 1.0, ln_gamma[i], -5.0 * q[i], sum);
    }
}

static inline void term_along(int order, int c, const Along *a, const Jet *n, Jet *ln_gamma)
{
    if (a->term->kind == NRTL)
        nrtl_along(order, c, a, n, ln_gamma);
    else if (a->term->kind == WEIGHTED_LOGARITHM)
        weighted_logarithm_along(order, c, a->first, a->term->own, n, ln_gamma);
    else if (a->term->kind == OF_GROUPS)
        groups_along(order, c, a, n, ln_gamma);
    else if (a->term->kind == FLORY_HUGGINS)
        sizes_along(order, c, a, n, ln_gamma);
    else
        surfaces_along(order, c, a, n, ln_gamma);
}

Jet excess_along(const Term *term, int terms, int c, const double *n, const double *along)
{
    Jet parts[MOST_COMPONENTS], ln_gamma[MOST_COMPONENTS], sum = jet_line(0.0, 0.0);
    Along a;
    for (int i = 0; i < c; i++) {
        parts[i] = jet_line(n[i], along[i]);
        ln_gamma[i] = sum;
    }
    for (int k = 0; k < terms; k++) {
        const Term *t = a.term = &term[k];
        const int size = t->kind == OF_GROUPS ? t->groups : c;
        for (int p = 0; p < (matrices(t->kind) > 0 ? size * size : 0); p++) a.first[p] = jet_line(t->first[p], 0.0);
        for (int p = 0; p < (matrices(t->kind) > 1 ? size * size : 0); p++) a.second[p] = jet_line(t->second[p], 0.0);
        for (int i = 0; i < c; i++) a.other[i] = jet_line(t->kind == OF_GROUPS ? t->other[i] : 0.0, 0.0);
        term_along(3, c, &a, parts, ln_gamma);
    }
    for (int i = 0; i < c; i++) sum = jet_sum(3, 1.0, sum, 1.0, jet_product(3, parts[i], ln_gamma[i]));
    return sum;
}

/* Sums of functions of temperature in Taylor arithmetic of it. */
static inline void warmer(int order, const Attraction *a, double T, Jet *out)
{
    double values[MOST_COMPONENTS * MOST_COMPONENTS];
    for (int k = 0; k <= order; k++) {
        attraction_at(a, k, T, values);
        for (int p = 0; p < a->c * a->c; p++) out[p].k[k] = k < 2 ? values[p] : 0.5 * values[p];
    }
}

/* What groups come to in pure components, each of which has few of them. */
static inline void alone(int order, const Term *t, int c, Along *a)
{
    Jet L[MOST_COMPONENTS * MOST_COMPONENTS], amounts[MOST_COMPONENTS], own[MOST_COMPONENTS];
    double weights[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        int count = 0, group[MOST_COMPONENTS];
        for (int k = 0; k < t->groups; k++)
            if (t->counts[k * c + i] > 0.0) group[count++] = k;
        for (int k = 0; k < count; k++) {
            own[k] = jet_line(0.0, 0.0);
            amounts[k] = jet_line(t->counts[group[k] * c + i], 0.0);
            weights[k] = t->own[group[k]];
            for (int l = 0; l < count; l++) L[k * count + l] = a->first[group[k] * t->groups + group[l]];
        }
        weighted_logarithm_along(order, count, L, weights, amounts, own);
        a->other[i] = jet_line(0.0, 0.0);
        for (int k = 0; k < count; k++) a->other[i] = jet_sum(order, 1.0, a->other[i], amounts[k].k[0], own[k]);
    }
}

/* ln L_ji has ln(v_j/v_i) in it. */
static inline void by_volumes(int order, const FreeTerm *f, double T, Jet *ln_L)
{
    const int c = f->pairs.c;
    Jet ln_v[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) ln_v[i] = jet_log(order, liquid_volume(&f->densities, i, T));
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) ln_L[i * c + j] = jet_sum(order, 1.0, ln_L[i * c + j], 1.0, jet_sum(order, 1.0, ln_v[i], -1.0, ln_v[j]));
}

static inline void term_by_temperature(int order, const FreeTerm *f, int c, double T, Along *a)
{
    if (matrices(f->kind) == 0) return;
    warmer(order, &f->pairs, T, a->first);
    const int size = f->pairs.c;
    if (f->kind == NRTL) {
        warmer(order, &f->alpha, T, a->second);
        for (int p = 0; p < size * size; p++) {
            const Jet tau = a->first[p];
            a->first[p] = jet_exp(order, jet_multiple(order, -1.0, jet_product(order, a->second[p], tau)));
            a->second[p] = jet_product(order, tau, a->first[p]);
        }
        return;
    }
    if (f->densities.number != NULL) by_volumes(order, f, T, a->first);
    for (int p = 0; p < size * size; p++) a->first[p] = jet_exp(order, a->first[p]);
    if (f->kind == OF_GROUPS) alone(order, a->term, c, a);
}

void activity_at(const Activity *activity, int c, double T, Term *out)
{
    for (int k = 0; k < activity->terms; k++) {
        const FreeTerm *f = &activity->term[k];
        Term *t = &out[k];
        Along a;
        t->kind = f->kind;
        t->groups = f->groups;
        t->counts = f->counts;
        a.term = t;
        if (f->own != NULL) memcpy(t->own, f->own, sizeof(double) * (size_t)(f->kind == OF_GROUPS ? f->groups : c));
        if (f->other != NULL) memcpy(t->other, f->other, sizeof(double) * (size_t)c);
        term_by_temperature(0, f, c, T, &a);
        for (int p = 0; p < (matrices(t->kind) > 0 ? f->pairs.c * f->pairs.c : 0); p++) t->first[p] = a.first[p].k[0];
        for (int p = 0; p < (matrices(t->kind) > 1 ? f->pairs.c * f->pairs.c : 0); p++) t->second[p] = a.second[p].k[0];
        for (int i = 0; i < (t->kind == OF_GROUPS ? c : 0); i++) t->other[i] = a.other[i].k[0];
    }
}

double activity_by_temperature(const Activity *activity, const Term *term, int c, double T, const double *x, double *dT)
{
    Jet parts[MOST_COMPONENTS], ln_gamma[MOST_COMPONENTS];
    double bend = 0.0;
    Along a;
    for (int i = 0; i < c; i++) {
        parts[i] = jet_line(x[i], 0.0);
        ln_gamma[i] = jet_line(0.0, 0.0);
    }
    for (int k = 0; k < activity->terms; k++) {
        if (matrices(term[k].kind) == 0) continue; /* the same at all temperatures */
        a.term = &term[k];
        term_by_temperature(2, &activity->term[k], c, T, &a);
        term_along(2, c, &a, parts, ln_gamma);
    }
    for (int i = 0; i < c; i++) {
        dT[i] = ln_gamma[i].k[1];
        bend += 2.0 * x[i] * ln_gamma[i].k[2];
    }
    return bend;
}
