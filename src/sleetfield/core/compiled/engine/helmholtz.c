#include "helmholtz.h"

#include <math.h>
#include <stddef.h>

#define THIN_PACKING 0.125
#define BRANCHES 70 /* packings between which pressure is looked at for a falling branch, and their ends */
#define FIRST_BRANCH 0.01
#define LAST_BRANCH 0.7
#define FINER 9
#define ROUNDS 4

/* The density of the phase that a kind asks for. */
static double density(const Helmholtz *m, const Isotherm *isotherm, const Composition *room, const double *x, int kind)
{
    const double p = m->at.P / m->at.RT;
    double rho[2], g[2];
    m->gives->roots(m, isotherm, p, kind, &rho[0], &rho[1]);
    if (kind != STABLE || !(rho[1] > rho[0])) return rho[kind == LIQUID];
    for (int k = 0; k < 2; k++) g[k] = (m->gives->plain(m, room, x, rho[k], NULL) + p) / rho[k] - log(p / rho[k]);
    return g[1] < g[0] ? rho[1] : rho[0];
}

static void ln_phi(const Phase *phase, const double *x, int kind, double *out)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    Composition room;
    const Isotherm isotherm = m->gives->isotherm(m, x, &room);
    const double rho = density(m, &isotherm, &room, x, kind), ln_Z = log(m->at.P / (rho * m->at.RT));
    m->gives->plain(m, &room, x, rho, out);
    for (int i = 0; i < phase->c; i++) out[i] -= ln_Z;
}

static void derivatives(const Phase *phase, const double *x, int kind, double *out, double *dn)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    const int c = phase->c;
    Composition room;
    const Isotherm isotherm = m->gives->isotherm(m, x, &room);
    const double rho = density(m, &isotherm, &room, x, kind), ln_Z = log(m->at.P / (rho * m->at.RT));
    double parts[MOST_COMPONENTS], p_i[MOST_COMPONENTS], p_rho = 0.0;
    m->gives->plain(m, &room, x, rho, out);
    for (int i = 0; i < c; i++) {
        out[i] -= ln_Z;
        parts[i] = rho * x[i];
    }
    m->gives->bend(m, parts, dn);
    for (int i = 0; i < c; i++) {
        p_i[i] = 1.0;
        for (int j = 0; j < c; j++) p_i[i] += parts[j] * dn[(size_t)i * c + j];
        p_rho += x[i] * p_i[i];
    }
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) dn[(size_t)i * c + j] = 1.0 + rho * dn[(size_t)i * c + j] - p_i[i] * p_i[j] / p_rho;
}

void helmholtz_roots(const Helmholtz *m, const Isotherm *isotherm, double target, int kind, double *lowest, double *highest)
{
    (void)m;
    rising_roots(isotherm, target, kind, lowest, highest);
}

/* Looked for on a grid, and closely around the lowest slope. */
int helmholtz_has_branches(const Helmholtz *m, const Isotherm *isotherm, double densest)
{
    (void)m;
    double lowest = HUGE_VAL, best = 0.0, width = (LAST_BRANCH - FIRST_BRANCH) / (BRANCHES - 1.0) * densest, p, slope;
    for (int k = 0; k < BRANCHES; k++) {
        /* most loops are around the critical density: there first */
        const double rho = (FIRST_BRANCH + (LAST_BRANCH - FIRST_BRANCH) / (BRANCHES - 1.0) * ((k + BRANCHES / 4) % BRANCHES)) * densest;
        isotherm->at(isotherm->of, rho, &p, &slope);
        if (slope < 0.0) return 1;
        if (slope < lowest) {
            lowest = slope;
            best = rho;
        }
    }
    for (int round = 1; round < ROUNDS; round++) {
        double least = HUGE_VAL, place = best;
        for (int k = 0; k < FINER; k++) {
            const double rho = best + (2.0 * k / (FINER - 1.0) - 1.0) * width;
            isotherm->at(isotherm->of, rho, &p, &slope);
            if (slope < 0.0) return 1;
            if (slope < least) {
                least = slope;
                place = rho;
            }
        }
        best = place;
        width *= 0.25;
    }
    return 0;
}

static double covolume(const Phase *phase, const double *n)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    double sum = 0.0;
    for (int i = 0; i < phase->c; i++) sum += n[i] * m->closest[i];
    return sum;
}

static void describe(const Phase *phase, const double *x, int kind, Description *out)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    Composition room;
    const Isotherm isotherm = m->gives->isotherm(m, x, &room);
    const double rho = density(m, &isotherm, &room, x, kind), closest = covolume(phase, x);
    out->Z = m->at.P / (rho * m->at.RT);
    out->packing = rho * closest;
    out->kind = out->packing < m->gives->critical_packing ? VAPOR : LIQUID;
    /* models/vapor_side.py, but for its third rule */
    const int thin = out->kind == VAPOR;
    if (thin && out->packing < THIN_PACKING)
        out->is_vapor = YES;
    else if (m->gives->has_branches(m, &isotherm, 1.0 / closest))
        out->is_vapor = thin ? YES : NO;
    else
        out->is_vapor = out->packing < THIN_PACKING ? YES : UNSURE;
}

static void evaluate(const Phase *phase, const double *x, int kind, Evaluation *out)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    const int c = phase->c;
    const double T = m->at.T, P = m->at.P, RT = m->at.RT, p = P / RT;
    Composition room;
    const Isotherm isotherm = m->gives->isotherm(m, x, &room);
    Jet warm, warm_i[MOST_COMPONENTS], denser, denser_i[MOST_COMPONENTS];
    double parts[MOST_COMPONENTS], p_i[MOST_COMPONENTS], p_rho = 0.0, p_T = 0.0, x_f_iT = 0.0;
    const double rho = density(m, &isotherm, &room, x, kind), Z = p / rho, ln_Z = log(Z);
    for (int i = 0; i < c; i++) parts[i] = rho * x[i];
    m->gives->warmer(m, parts, &warm, warm_i);
    m->gives->along(m, 1, parts, x, &denser, denser_i);
    for (int i = 0; i < c; i++) {
        p_i[i] = 1.0 + rho * denser_i[i].k[1];
        p_rho += x[i] * p_i[i];
        p_T += parts[i] * warm_i[i].k[1];
        x_f_iT += x[i] * warm_i[i].k[1];
    }
    const double f_T = warm.k[1], f_TT = 2.0 * warm.k[2];
    p_T -= f_T;
    const double rho_T = -(p / T + p_T) / p_rho, rho_P = 1.0 / (RT * p_rho);
    for (int i = 0; i < c; i++) {
        out->ln_phi[i] = warm_i[i].k[0] - ln_Z;
        out->dT[i] = warm_i[i].k[1] + 1.0 / T + p_i[i] * (rho_T / rho);
        out->dP[i] = p_i[i] * (rho_P / rho) - 1.0 / P;
    }
    out->Z = Z;
    out->Z_T = -Z / T - Z * rho_T / rho;
    out->Z_P = Z / P - Z * rho_P / rho;
    out->g_TT = f_TT / rho + (x_f_iT - f_T / rho) / rho * rho_T - out->Z_T / T + (Z - 1.0) / (T * T);
}

static void densities(int c, double V, const double *n, double *rho)
{
    for (int i = 0; i < c; i++) rho[i] = n[i] / V;
}

static void hessian(const Phase *phase, double V, const double *n, double *out)
{
    double rho[MOST_COMPONENTS];
    densities(phase->c, V, n, rho);
    const Helmholtz *m = (const Helmholtz *)phase;
    m->gives->bend(m, rho, out);
    for (int i = 0; i < phase->c * phase->c; i++) out[i] /= V;
}

static double third(const Phase *phase, double V, const double *n, const double *along)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    double rho[MOST_COMPONENTS], direction[MOST_COMPONENTS];
    Jet f;
    densities(phase->c, V, n, rho);
    densities(phase->c, V, along, direction);
    m->gives->along(m, 3, rho, direction, &f, NULL);
    return 6.0 * f.k[3] * V;
}

static double pressure(const Phase *phase, double V, const double *n)
{
    const Helmholtz *m = (const Helmholtz *)phase;
    double rho[MOST_COMPONENTS], sum = 0.0;
    Jet f, f_i[MOST_COMPONENTS];
    densities(phase->c, V, n, rho);
    m->gives->along(m, 0, rho, NULL, &f, f_i);
    for (int i = 0; i < phase->c; i++) sum += rho[i] * (1.0 + f_i[i].k[0]);
    return m->at.RT * (sum - f.k[0]);
}

void helmholtz_to_pressure(AtState *state, double P)
{
    state->P = P;
}

void helmholtz_at(const Equation *equation, const HelmholtzEquation *gives, const double *closest, double T, double P, Helmholtz *m)
{
    const Phase phase = {equation->c, ln_phi, derivatives, describe, evaluate, hessian, covolume, third, pressure};
    to_temperature(&m->at, &phase, equation, T);
    m->at.P = P;
    m->gives = gives;
    m->closest = closest;
}
