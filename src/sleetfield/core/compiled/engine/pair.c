#include "pair.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

static void of_liquid(const Pair *m, const double *x, double *out, double *dn)
{
    const int c = m->phase.c;
    memcpy(out, m->pure, sizeof(double) * (size_t)c);
    if (dn != NULL) memset(dn, 0, sizeof(double) * (size_t)c * c);
    activity(m->term, m->terms, c, x, out, dn);
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
