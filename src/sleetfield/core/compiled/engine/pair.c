#include "pair.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

static void of_liquid(const Pair *m, const double *x, double *out, double *dn)
{
    const int c = m->at.phase.c;
    memcpy(out, m->pure, sizeof(double) * (size_t)c);
    if (dn != NULL) memset(dn, 0, sizeof(double) * (size_t)c * c);
    activity(m->term, m->of->activity.terms, c, x, out, dn);
}

/* Returns the compressibility factor. */
static double of_vapor(const Pair *m, const double *x, double *out, double *dn)
{
    const int c = m->at.phase.c;
    double own[MOST_COMPONENTS], B = 0.0;
    if (!m->of->is_virial) {
        for (int i = 0; i < c; i++) out[i] = m->of->ln_phi;
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
    for (int i = 0; i < m->at.phase.c; i++) difference += x[i] * (liquid[i] - vapor[i]);
    return difference < 0.0 || Z < m->of->least_Z;
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
    for (int i = 0; i < phase->c; i++) volume += x[i] * m->volume[i].k[0];
    const double Z = of_vapor(m, x, one, NULL);
    out->kind = liquid ? LIQUID : VAPOR;
    /* a vapor comes first, whatever its own model says of its density */
    out->packing = liquid ? 1.0 : 0.0;
    out->Z = liquid ? volume * m->per_RT : Z;
    out->is_vapor = !liquid && !(Z < m->of->least_Z) ? YES : NO;
}

/* Pure liquids and activity coefficients with their derivatives by temperature and pressure. */
static void evaluate_liquid(const Pair *m, const double *x, Evaluation *out)
{
    const int c = m->at.phase.c;
    const double T = m->at.T, P = m->at.P;
    double volume = 0.0, expansion = 0.0;
    of_liquid(m, x, out->ln_phi, NULL);
    out->g_TT = activity_by_temperature(&m->of->activity, m->term, c, T, x, out->dT);
    for (int i = 0; i < c; i++) {
        out->dT[i] += m->ln_f[i].k[1] + P * m->lift[i].k[1];
        out->g_TT += 2.0 * x[i] * (m->ln_f[i].k[2] + P * m->lift[i].k[2]);
        out->dP[i] = m->lift[i].k[0] - 1.0 / P;
        volume += x[i] * m->volume[i].k[0];
        expansion += x[i] * m->volume[i].k[1];
    }
    out->Z = m->per_RT * volume;
    out->Z_T = m->per_RT * (expansion - volume / T);
    out->Z_P = volume / m->at.RT;
}

static void evaluate_vapor(const Pair *m, const double *x, Evaluation *out)
{
    const int c = m->at.phase.c;
    const double T = m->at.T, p = m->per_RT;
    double B = 0.0, B_T = 0.0, B_TT = 0.0;
    out->Z = of_vapor(m, x, out->ln_phi, NULL);
    if (!m->of->is_virial) {
        out->Z_T = out->Z_P = out->g_TT = 0.0;
        for (int i = 0; i < c; i++) out->dT[i] = out->dP[i] = 0.0;
        return;
    }
    for (int i = 0; i < c; i++) {
        double own = 0.0;
        for (int j = 0; j < c; j++) {
            own += m->B_T[i * c + j] * x[j];
            B += x[i] * m->B[i * c + j] * x[j];
            B_TT += x[i] * m->B_TT[i * c + j] * x[j];
        }
        B_T += x[i] * own;
        out->dT[i] = 2.0 * own;
    }
    for (int i = 0; i < c; i++) {
        out->dT[i] = (out->dT[i] - B_T) * p - out->ln_phi[i] / T;
        out->dP[i] = out->ln_phi[i] / m->at.P;
    }
    out->g_TT = p * (B_TT - 2.0 * B_T / T + 2.0 * B / (T * T));
    out->Z_T = p * (B_T - B / T);
    out->Z_P = B / m->at.RT;
}

static void evaluate(const Phase *phase, const double *x, int kind, Evaluation *out)
{
    const Pair *m = (const Pair *)phase;
    double vapor[MOST_COMPONENTS];
    if (kind == LIQUID || (kind == STABLE && wet(m, x, out->ln_phi, vapor)))
        evaluate_liquid(m, x, out);
    else
        evaluate_vapor(m, x, out);
}

/* What pure liquids have of fugacity at any pressure: of the saturated vapor, and Poynting's, (P - P_sat) v/RT. A component that has no pure liquid stands at 1 Pa. */
static void pure_liquid(const PairEquation *e, Pair *m, int i)
{
    const int c = e->common.c, own = i * c + i;
    const double T = m->at.T, R = e->common.R;
    const Jet RT = jet_line(R * T, R), none = jet_line(0.0, 0.0);
    m->volume[i] = liquid_volume(&e->pure.density, i, T);
    m->ln_f[i] = ln_saturation(&e->pure, i, T);
    m->lift[i] = e->poynting ? jet_ratio(2, m->volume[i], RT) : none;
    if (!e->saturated && !e->poynting) return;
    const Jet P = jet_exp(2, m->ln_f[i]);
    if (e->saturated) {
        const Jet B = {{m->B[own], m->B_T[own], 0.5 * m->B_TT[own], 0.0}};
        m->ln_f[i] = jet_sum(2, 1.0, m->ln_f[i], 1.0, jet_ratio(2, jet_product(2, B, P), RT));
    }
    if (e->poynting) m->ln_f[i] = jet_sum(2, 1.0, m->ln_f[i], -1.0, jet_product(2, m->lift[i], P));
}

static void to_pressure(AtState *state, double P)
{
    Pair *m = (Pair *)state;
    state->P = P;
    m->per_RT = P / state->RT;
    for (int i = 0; i < state->phase.c; i++) m->pure[i] = m->ln_f[i].k[0] + P * m->lift[i].k[0] - log(P);
}

static void at(const Equation *equation, double T, double P, AtState *state)
{
    const PairEquation *e = (const PairEquation *)equation;
    const Phase phase = {equation->c, ln_phi, derivatives, describe, evaluate, NULL, NULL, NULL, NULL};
    Pair *m = (Pair *)state;
    to_temperature(state, &phase, equation, T);
    m->of = e;
    activity_at(&e->activity, equation->c, T, m->term);
    if (e->is_virial) virial_at(&e->vapor, T, m->B, m->B_T, m->B_TT);
    for (int i = 0; i < equation->c; i++) pure_liquid(e, m, i);
    to_pressure(state, P);
}

static void saturation(const Equation *equation, double T, double *ln_P)
{
    for (int i = 0; i < equation->c; i++) ln_P[i] = ln_saturation(&((const PairEquation *)equation)->pure, i, T).k[0];
}

void pairs_ready(PairEquation *e)
{
    e->common.at = at;
    e->common.to_pressure = to_pressure;
    e->common.saturation = saturation;
}
