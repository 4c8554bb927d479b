#include "downhill.h"

#include "descent.h"
#include "stability.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define CONVERGED 1e-10
#define DESCENT_STEPS 80
#define LEAST 1e-250
#define TRACE 1e-30
#define AS_FAR 0.9 /* of the way to where something would be used up */
#define MOST_UNKNOWNS (MOST_PHASES * MOST_COMPONENTS)

static double energy(const Phase *m, int f, const double *n)
{
    Phases p = {.count = f};
    from_moles(m->c, n, &p);
    return gibbs_of(m, &p);
}

/* Mole numbers with as much of the trial phase as lowers the Gibbs energy, taken from the others in proportion. */
static void introduced(const Phase *m, const double *z, const Phases *known, const double *trial, double *n)
{
    const int c = m->c, f = known->count;
    const double g = gibbs_of(m, known);
    double size = 1.0;
    for (int i = 0; i < c; i++) size = fmin(size, z[i] / trial[i]);
    size *= 0.5;
    for (int round = 0; round < 12; round++, size *= 0.2) {
        for (int i = 0; i < c; i++) {
            const double new = size * trial[i];
            for (int k = 0; k < f; k++) n[k * c + i] = fmax(known->amount[k] * known->x[k][i] * (1.0 - new / z[i]), LEAST);
            n[f * c + i] = fmax(new, LEAST);
        }
        if (energy(m, f + 1, n) < g) return;
    }
}

/* Give phases as much as is in equilibrium of what they have only traces of: it counts for nothing in the Gibbs energy, so that no descent finds it. Marks these. */
static void level_traces(int c, const Phases *p, Fractions ln_phi, double *n, int *traces)
{
    for (int i = 0; i < c; i++) {
        int richest = 0;
        double change = 0.0;
        for (int k = 1; k < p->count; k++)
            if (n[k * c + i] > n[richest * c + i]) richest = k;
        const double ln_f = log(p->x[richest][i]) + ln_phi[richest][i], most = fmax(TRACE * n[richest * c + i], LEAST);
        for (int k = 0; k < p->count; k++) {
            const int trace = traces[k * c + i] = k != richest && p->x[k][i] < TRACE;
            const double level = p->amount[k] * exp(ln_f - ln_phi[k][i]);
            if (!trace || isnan(level)) continue;
            const double held = fmin(fmax(level, LEAST), most);
            change += held - n[k * c + i];
            n[k * c + i] = held;
        }
        n[richest * c + i] = fmax(n[richest * c + i] - change, LEAST);
    }
}

/* A direction of falling Gibbs energy that keeps the balances. In s = dn/sqrt(n) the Hessian of an ideal mixture is the unit matrix less projections; for each component the
   balance is orthogonality to sqrt(n/z), and a reflection gives the other directions. */
static int direction(const Phase *m, const double *n, Phases *p, double *step)
{
    const int c = m->c, f = p->count, size = (f - 1) * c;
    double dn[MOST_COMPONENTS * MOST_COMPONENTS], H[MOST_VARIABLES * MOST_VARIABLES], g[MOST_VARIABLES], q[MOST_VARIABLES];
    double basis[MOST_PHASES][MOST_PHASES][MOST_COMPONENTS], ln_phi[MOST_COMPONENTS];
    from_moles(c, n, p);
    for (int i = 0; i < c; i++) {
        double total = 0.0, w[MOST_PHASES], length = 0.0;
        for (int k = 0; k < f; k++) total += n[k * c + i];
        for (int k = 0; k < f; k++) w[k] = sqrt(n[k * c + i] / total);
        w[0] += w[0] >= 0.0 ? 1.0 : -1.0;
        for (int k = 0; k < f; k++) length += w[k] * w[k];
        for (int k = 0; k < f; k++)
            for (int l = 1; l < f; l++) basis[k][l - 1][i] = (k == l) - 2.0 * w[k] * w[l] / length;
    }
    memset(H, 0, sizeof(double) * (size_t)size * size);
    memset(g, 0, sizeof(double) * (size_t)size);
    for (int k = 0; k < f; k++) {
        m->derivatives(m, p->x[k], STABLE, ln_phi, dn);
        for (int i = 0; i < c; i++) {
            const double slope = sqrt(n[k * c + i]) * (log(p->x[k][i]) + ln_phi[i]);
            for (int a = 0; a < f - 1; a++) g[a * c + i] += basis[k][a][i] * slope;
            for (int j = 0; j < c; j++) {
                const double own = (i == j) + sqrt(p->x[k][i] * p->x[k][j]) * (dn[(size_t)i * c + j] - 1.0);
                for (int a = 0; a < f - 1; a++)
                    for (int b = 0; b < f - 1; b++) H[(size_t)(a * c + i) * size + b * c + j] += basis[k][a][i] * own * basis[k][b][j];
            }
        }
    }
    if (!descent_step(size, H, g, q)) return 0;
    for (int k = 0; k < f; k++)
        for (int i = 0; i < c; i++) {
            double sum = 0.0;
            for (int a = 0; a < f - 1; a++) sum += basis[k][a][i] * q[a * c + i];
            step[k * c + i] = sqrt(n[k * c + i]) * sum;
        }
    return 1;
}

/* A candidate takes the place of mole numbers where its Gibbs energy is lower. */
static void offered(const Phase *m, int f, double *candidate, double *n, double *g)
{
    for (int j = 0; j < f * m->c; j++) candidate[j] = fmax(candidate[j], LEAST);
    const double at = energy(m, f, candidate);
    if (!(at < *g)) return;
    *g = at;
    memcpy(n, candidate, sizeof(double) * (size_t)(f * m->c));
}

static void downhill(const Phase *m, const double *z, double *n, Phases *best)
{
    static const double lengths[] = {1.0, 0.3, 0.05};
    const int c = m->c, f = best->count, size = f * c;
    double g = energy(m, f, n), from[MOST_UNKNOWNS], candidate[MOST_UNKNOWNS], step[MOST_UNKNOWNS];
    int traces[MOST_UNKNOWNS];
    for (int round = 0; round < DESCENT_STEPS; round++) {
        Fractions ln_phi;
        from_moles(c, n, best);
        ln_phi_of(m, best, ln_phi);
        const double error = spread(c, z, best, ln_phi);
        best->residual = isfinite(error) ? error : HUGE_VAL;
        if (!(error > 0.1 * CONVERGED)) break;
        Phases substituted = *best, now = *best;
        share_out(c, z, ln_phi, &substituted);
        level_traces(c, best, ln_phi, n, traces);
        memcpy(from, n, sizeof(double) * (size_t)size);
        for (int j = 0; j < size; j++) candidate[j] = substituted.amount[j / c] * substituted.x[j / c][j % c];
        offered(m, f, candidate, n, &g);
        if (!direction(m, from, &now, step)) continue;
        double room = HUGE_VAL;
        for (int j = 0; j < size; j++) {
            if (traces[j] || !(z[j % c] > TRACE && best->x[j / c][j % c] > ABSENT)) step[j] = 0.0;
            if (step[j] < 0.0) room = fmin(room, AS_FAR * from[j] / -step[j]);
        }
        for (int l = 0; l < 3; l++) {
            for (int j = 0; j < size; j++) candidate[j] = from[j] + lengths[l] * fmin(1.0, room) * step[j];
            offered(m, f, candidate, n, &g);
        }
    }
    polished(m, z, best);
}

int descend(const Phase *m, const double *z, const Phases *known, const double *trial, Phases *out)
{
    double n[MOST_UNKNOWNS];
    out->count = known->count + 1;
    if (known->count * m->c > MOST_VARIABLES) return 0;
    introduced(m, z, known, trial, n);
    downhill(m, z, n, out);
    return 1;
}

void further_down(const Phase *m, const double *z, Phases *p)
{
    const int c = m->c;
    double n[MOST_UNKNOWNS];
    if ((p->count - 1) * c > MOST_VARIABLES) return;
    for (int k = 0; k < p->count; k++)
        for (int i = 0; i < c; i++) n[k * c + i] = fmax(p->amount[k] * p->x[k][i], LEAST);
    downhill(m, z, n, p);
}
