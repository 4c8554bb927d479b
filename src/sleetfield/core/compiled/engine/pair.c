#include "pair.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define LEAST_AMOUNT 1e-100

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

/* Of sizes, and of surfaces where there are any. */
static void by_sizes(const Term *t, int c, const double *x, double *ln_gamma, double *dn)
{
    const double *r = t->own, *q = t->kind == STAVERMAN_GUGGENHEIM ? t->other : NULL;
    double size = 0.0, surface = 0.0, V[MOST_COMPONENTS], F[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        size += r[i] * x[i];
        surface += q == NULL ? 0.0 : q[i] * x[i];
    }
    for (int i = 0; i < c; i++) {
        V[i] = r[i] / size;
        ln_gamma[i] += 1.0 - V[i] + log(V[i]);
        if (q == NULL) continue;
        F[i] = q[i] / surface;
        ln_gamma[i] -= 5.0 * q[i] * (1.0 - V[i] / F[i] + log(V[i] / F[i]));
    }
    for (int i = 0; dn != NULL && i < c; i++)
        for (int j = 0; j < c; j++) {
            dn[i * c + j] += (1.0 - V[i]) * (1.0 - V[j]);
            if (q != NULL) dn[i * c + j] -= 5.0 * surface * (F[i] - V[i]) * (F[j] - V[j]);
        }
}

static void of_liquid(const Pair *m, const double *x, double *out, double *dn)
{
    const int c = m->phase.c;
    memcpy(out, m->pure, sizeof(double) * (size_t)c);
    if (dn != NULL) memset(dn, 0, sizeof(double) * (size_t)c * c);
    for (int k = 0; k < m->terms; k++) {
        const Term *t = &m->term[k];
        if (t->kind == NRTL)
            by_nrtl(t, c, x, out, dn);
        else if (t->kind == WEIGHTED_LOGARITHM)
            by_weighted_logarithm(t, c, x, out, dn);
        else if (t->kind == OF_GROUPS)
            by_groups(t, c, x, out, dn);
        else
            by_sizes(t, c, x, out, dn);
    }
}

/* Returns the compressibility factor. */
static double of_vapor(const Pair *m, const double *x, double *out, double *dn)
{
    const int c = m->phase.c;
    double own[MOST_COMPONENTS], B = 0.0;
    if (m->B == NULL) {
        memset(out, 0, sizeof(double) * (size_t)c);
        if (dn != NULL) memset(dn, 0, sizeof(double) * (size_t)c * c);
        return 1.0;
    }
    for (int i = 0; i < c; i++) {
        own[i] = 0.0;
        for (int j = 0; j < c; j++) own[i] += m->B[i * c + j] * x[j];
        B += x[i] * own[i];
    }
    for (int i = 0; i < c; i++) out[i] = (2.0 * own[i] - B) * m->per_RT;
    for (int i = 0; dn != NULL && i < c; i++)
        for (int j = 0; j < c; j++) dn[i * c + j] = 2.0 * (m->B[i * c + j] - B - (own[i] - B) - (own[j] - B)) * m->per_RT;
    return 1.0 + B * m->per_RT;
}

/* Whether the phase of a composition is a liquid, where that was left open; ln phi of both. */
static int wet(const Pair *m, const double *x, double *liquid, double *vapor)
{
    double difference = 0.0;
    of_liquid(m, x, liquid, NULL);
    const double Z = of_vapor(m, x, vapor, NULL);
    for (int i = 0; i < m->phase.c; i++) difference += x[i] * (liquid[i] - vapor[i]);
    return difference < 0.0 || Z < m->least_Z;
}

static void ln_phi(const Phase *phase, const double *x, int kind, double *out)
{
    const Pair *m = (const Pair *)phase;
    double vapor[MOST_COMPONENTS];
    if (kind == LIQUID)
        of_liquid(m, x, out, NULL);
    else if (kind == VAPOR)
        of_vapor(m, x, out, NULL);
    else if (!wet(m, x, out, vapor))
        memcpy(out, vapor, sizeof(double) * (size_t)phase->c);
}

static void derivatives(const Phase *phase, const double *x, int kind, double *out, double *dn)
{
    const Pair *m = (const Pair *)phase;
    double vapor[MOST_COMPONENTS];
    const int liquid = kind == LIQUID || (kind == STABLE && wet(m, x, out, vapor));
    if (liquid)
        of_liquid(m, x, out, dn);
    else
        of_vapor(m, x, out, dn);
}

static void describe(const Phase *phase, const double *x, int kind, Description *out)
{
    const Pair *m = (const Pair *)phase;
    double one[MOST_COMPONENTS], other[MOST_COMPONENTS], volume = 0.0;
    const int liquid = kind == LIQUID || (kind == STABLE && wet(m, x, one, other));
    for (int i = 0; i < phase->c; i++) volume += x[i] * m->volumes[i];
    const double Z = of_vapor(m, x, one, NULL);
    out->kind = liquid ? LIQUID : VAPOR;
    /* a vapor comes first, whatever its own model says of its density */
    out->packing = liquid ? 1.0 : 0.0;
    out->Z = liquid ? volume * m->per_RT : Z;
    out->is_vapor = !liquid && !(Z < m->least_Z) ? YES : NO;
}

void pair_init(Pair *pair, int c)
{
    memset(&pair->phase, 0, sizeof pair->phase);
    pair->phase.c = c;
    pair->phase.ln_phi = ln_phi;
    pair->phase.derivatives = derivatives;
    pair->phase.describe = describe;
}
