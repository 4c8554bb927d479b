#include "multiphase.h"

#include "downhill.h"
#include "linear.h"
#include "progress.h"
#include "stability.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define CONVERGED 1e-10
#define SAME 1e-4
#define LEAVING 1e-10
#define GONE 1e-60
#define AMOUNT_STEPS 50
#define LEFT 0.1
#define SORELY (-1e8)
#define MANY_TIMES (-2.0)
#define AMOUNT_ROUNDING 2e-15
#define NEWTON_STEPS 25
#define PATIENCE 8
#define TRACE 1e-30
#define LEAST 1e-250
#define MOST_UNKNOWNS (MOST_PHASES * MOST_COMPONENTS)

static const int SUBSTITUTIONS[] = {8, 20, 40};

/* The weights of components in phases, exp(least ln phi - ln phi), and amounts for which Q is to be least. */
typedef struct {
    int c, f;
    const double *z;
    Fractions w;
} Sharing;

static void sums(const Sharing *s, const double *beta, double *e)
{
    for (int i = 0; i < s->c; i++) {
        e[i] = 0.0;
        for (int k = 0; k < s->f; k++) e[i] += beta[k] * s->w[k][i];
    }
}

static double q_of(const Sharing *s, const double *beta)
{
    double e[MOST_COMPONENTS], q = 0.0;
    sums(s, beta, e);
    for (int k = 0; k < s->f; k++) q += beta[k];
    for (int i = 0; i < s->c; i++) q -= s->z[i] * log(e[i]);
    return q;
}

static void slopes(const Sharing *s, const double *beta, double *g)
{
    double e[MOST_COMPONENTS];
    sums(s, beta, e);
    for (int k = 0; k < s->f; k++) {
        g[k] = 1.0;
        for (int i = 0; i < s->c; i++) g[k] -= s->w[k][i] * s->z[i] / e[i];
    }
}

/* Newton's step in the amounts; of phases that are absent and not wanted it is zero. Returns 0 where there is none. */
static int amount_step(const Sharing *s, const double *beta, double *step)
{
    const int f = s->f;
    double e[MOST_COMPONENTS], g[MOST_PHASES], H[MOST_PHASES * MOST_PHASES], diagonal[MOST_PHASES];
    int free[MOST_PHASES], any = 0, refused = 0, scarce = 0;
    sums(s, beta, e);
    slopes(s, beta, g);
    for (int k = 0; k < f; k++) {
        free[k] = beta[k] > 0.0 || g[k] < -1e-14;
        if (!free[k] || !(fabs(g[k]) > AMOUNT_ROUNDING)) g[k] = 0.0;
        any |= g[k] != 0.0;
        step[k] = 0.0;
    }
    if (!any) return 0;
    for (int k = 0; k < f; k++)
        for (int l = 0; l < f; l++) {
            double sum = k == l ? (free[k] ? 1e-13 : 1.0) : 0.0;
            for (int i = 0; free[k] && free[l] && i < s->c; i++) sum += s->w[k][i] * s->w[l][i] * s->z[i] / (e[i] * e[i]);
            H[k * f + l] = sum;
            if (k == l) diagonal[k] = sum;
        }
    for (int k = 0; k < f; k++) step[k] = -g[k];
    if (!solve_linear(f, H, step)) return 0;
    for (int k = 0; k < f; k++) {
        refused |= beta[k] <= 0.0 && free[k] && step[k] < 0.0;
        scarce |= beta[k] > 0.0 && g[k] < MANY_TIMES;
    }
    for (int k = 0; k < f; k++) {
        if (refused) step[k] = -g[k] / diagonal[k];
        if (scarce) step[k] = beta[k] > 0.0 ? -g[k] * beta[k] : step[k] > 0.0 ? step[k] : 0.0;
    }
    return 1;
}

/* The amounts after a step that is shortened until Q does not rise; Q there. */
static double lowered(const Sharing *s, const double *beta, double q, const double *step, double *new)
{
    const int f = s->f;
    double room[MOST_PHASES], length = 1.0, g[MOST_PHASES];
    int left = 0;
    for (int k = 0; k < f; k++) {
        room[k] = step[k] < 0.0 ? beta[k] / -step[k] : HUGE_VAL;
        if (room[k] < length) length = room[k];
    }
    for (int k = 0; k < f; k++) {
        const double there = beta[k] + length * step[k];
        new[k] = room[k] <= length && length < 1.0 ? 0.0 : there > 0.0 ? there : 0.0;
        left |= new[k] == 0.0 && beta[k] > 0.0;
    }
    if (left) {
        /* the only phase that can hold a trace does not leave */
        slopes(s, new, g);
        for (int k = 0; k < f; k++)
            if (new[k] == 0.0 && beta[k] > 0.0 && g[k] < SORELY) new[k] = LEFT * beta[k];
    }
    double new_q = q_of(s, new);
    for (int n = 0; n < 30 && !(new_q <= q + 1e-14 * (fabs(q) > 1.0 ? fabs(q) : 1.0)); n++) {
        for (int k = 0; k < f; k++) new[k] = 0.5 * (new[k] + beta[k]);
        new_q = q_of(s, new);
    }
    return new_q;
}

void share_out(int c, const double *z, Fractions ln_phi, Phases *p)
{
    const int f = p->count;
    Sharing s = {.c = c, .f = f, .z = z};
    double beta[MOST_PHASES], new[MOST_PHASES], step[MOST_PHASES], e[MOST_COMPONENTS], total = 0.0;
    for (int i = 0; i < c; i++) {
        double least = ln_phi[0][i];
        for (int k = 1; k < f; k++)
            if (ln_phi[k][i] < least) least = ln_phi[k][i];
        for (int k = 0; k < f; k++) s.w[k][i] = exp(least - ln_phi[k][i]);
    }
    for (int k = 0; k < f; k++) total += p->amount[k];
    for (int k = 0; k < f; k++) beta[k] = p->amount[k] / total;
    double q = q_of(&s, beta);
    for (int n = 0; n < AMOUNT_STEPS && amount_step(&s, beta, step); n++) {
        int moved = 0;
        q = lowered(&s, beta, q, step, new);
        for (int k = 0; k < f; k++) {
            moved |= fabs(new[k] - beta[k]) > 1e-14 || (new[k] > 0.0) != (beta[k] > 0.0);
            beta[k] = new[k];
        }
        if (!moved) break;
    }
    sums(&s, beta, e);
    total = 0.0;
    for (int k = 0; k < f; k++) total += beta[k];
    for (int k = 0; k < f; k++) {
        double sum = 0.0;
        for (int i = 0; i < c; i++) sum += p->x[k][i] = z[i] / e[i] * s.w[k][i];
        for (int i = 0; i < c; i++) p->x[k][i] /= sum;
        p->amount[k] = beta[k] / total;
    }
}

void ln_phi_of(const Phase *m, const Phases *p, Fractions out)
{
    for (int k = 0; k < p->count; k++) m->ln_phi(m, p->x[k], STABLE, out[k]);
}

double spread(int c, const double *z, const Phases *p, Fractions ln_phi)
{
    double most = 0.0;
    for (int i = 0; i < c; i++) {
        double high = -HUGE_VAL, low = HUGE_VAL;
        if (z[i] <= TRACE) continue;
        for (int k = 0; k < p->count; k++) {
            if (!(p->amount[k] > 0.0 && p->x[k][i] > ABSENT)) continue;
            const double ln_f = log(p->x[k][i]) + ln_phi[k][i];
            if (isnan(ln_f)) return NAN;
            if (ln_f > high) high = ln_f;
            if (ln_f < low) low = ln_f;
        }
        if (high - low > most) most = high - low;
    }
    return most;
}

static void substitute(const Phase *m, const double *z, int most, Phases *p)
{
    const int c = m->c;
    Fractions ln_phi, new, before;
    ln_phi_of(m, p, ln_phi);
    for (int k = 0; k < p->count; k++)
        for (int i = 0; i < c; i++) before[k][i] = 1.0;
    p->residual = HUGE_VAL;
    for (int n = 0; n < most; n++) {
        double up = 0.0, down = 0.0;
        for (int k = 0; k < p->count; k++)
            if (!(p->amount[k] > 1e-3)) p->amount[k] = 1e-3;
        share_out(c, z, ln_phi, p);
        ln_phi_of(m, p, new);
        p->residual = spread(c, z, p, new);
        if (!(p->residual > 0.1 * CONVERGED)) break;
        for (int k = 0; k < p->count; k++)
            for (int i = 0; i < c; i++) {
                const double step = new[k][i] - ln_phi[k][i];
                up += before[k][i] * step;
                down += before[k][i] * before[k][i];
            }
        const double inner = up / down, gain = n % 5 == 4 && fabs(inner) < 0.98 ? 1.0 / (1.0 - inner) : 1.0;
        for (int k = 0; k < p->count; k++)
            for (int i = 0; i < c; i++) {
                before[k][i] = new[k][i] - ln_phi[k][i];
                ln_phi[k][i] += gain * before[k][i];
            }
    }
    if (!isfinite(p->residual)) p->residual = HUGE_VAL;
}

/* Mole balances made exact: what was left over of each component is shared out in proportion. */
static void balance(int c, const double *z, Phases *p)
{
    for (int i = 0; i < c; i++) {
        double total = 0.0;
        for (int k = 0; k < p->count; k++) total += p->amount[k] * p->x[k][i];
        for (int k = 0; k < p->count; k++) p->x[k][i] *= p->amount[k] * z[i] / (total > ABSENT ? total : ABSENT);
    }
    for (int k = 0; k < p->count; k++) {
        p->amount[k] = 0.0;
        for (int i = 0; i < c; i++) p->amount[k] += p->x[k][i];
        for (int i = 0; i < c; i++) p->x[k][i] /= p->amount[k];
    }
}

/* Equal fugacities and balances in ln n, and their derivatives; the first phase is the one that the others are compared with. The largest error that counts. */
static double equations(const Phase *m, const double *z, const Phases *p, const double *n, double *F, double *J)
{
    const int c = m->c, f = p->count, size = f * c;
    double dn[MOST_COMPONENTS * MOST_COMPONENTS];
    Fractions ln_phi;
    memset(J, 0, sizeof(double) * (size_t)size * size);
    for (int k = 0; k < f; k++) {
        m->derivatives(m, p->x[k], STABLE, ln_phi[k], dn);
        const int from = k == 0 ? 1 : k, to = k == 0 ? f : k + 1;
        for (int other = from; other < to; other++)
            for (int i = 0; i < c; i++) {
                const double sign = k == 0 ? -1.0 : 1.0;
                double *row = J + (size_t)((other - 1) * c + i) * size + k * c;
                for (int j = 0; j < c; j++) row[j] = sign * p->x[k][j] * (dn[(size_t)i * c + j] - 1.0);
                row[i] += sign;
            }
        for (int i = 0; i < c; i++) J[(size_t)((f - 1) * c + i) * size + k * c + i] = n[k * c + i] / z[i];
    }
    double most = spread(c, z, p, ln_phi);
    for (int i = 0; i < c; i++) {
        double total = 0.0;
        for (int k = 0; k < f; k++) {
            total += n[k * c + i];
            if (k > 0) F[(k - 1) * c + i] = log(p->x[k][i]) + ln_phi[k][i] - log(p->x[0][i]) - ln_phi[0][i];
        }
        const double off = F[(f - 1) * c + i] = total / z[i] - 1.0;
        if (z[i] > TRACE && !(fabs(off) <= most)) most = fabs(off);
    }
    return most;
}

void from_moles(int c, const double *n, Phases *p)
{
    for (int k = 0; k < p->count; k++) {
        p->amount[k] = 0.0;
        for (int i = 0; i < c; i++) p->amount[k] += n[k * c + i];
        for (int i = 0; i < c; i++) p->x[k][i] = n[k * c + i] / p->amount[k];
    }
}

void polished(const Phase *m, const double *z, Phases *p)
{
    const int c = m->c, f = p->count, size = f * c;
    double u[MOST_UNKNOWNS], n[MOST_UNKNOWNS], F[MOST_UNKNOWNS], J[MOST_UNKNOWNS * MOST_UNKNOWNS];
    Progress progress = at_the_start();
    Phases now = *p, best = *p;
    for (int k = 0; k < f; k++)
        for (int i = 0; i < c; i++) {
            const double moles = p->amount[k] * p->x[k][i];
            u[k * c + i] = log(moles > LEAST ? moles : LEAST);
        }
    for (int step = 0; step < NEWTON_STEPS; step++) {
        for (int j = 0; j < size; j++) n[j] = exp(u[j]);
        from_moles(c, n, &now);
        const double error = equations(m, z, &now, n, F, J);
        if (noted(&progress, error)) {
            best = now;
            best.residual = error;
        }
        if (!goes_on(&progress, 0.01 * CONVERGED, PATIENCE)) break;
        if (!all_finite(size, F) || !all_finite(size * size, J) || !solve_linear(size, J, F)) break;
        double longest = 0.0;
        for (int j = 0; j < size; j++)
            if (z[j % c] > TRACE && now.x[j / c][j % c] > ABSENT && fabs(F[j]) > longest) longest = fabs(F[j]);
        if (longest > 1.0) progress.since--;
        for (int j = 0; j < size; j++) {
            u[j] -= F[j] / (longest > 1.0 ? longest : 1.0);
            u[j] = u[j] < log(LEAST) ? log(LEAST) : u[j] > 1.0 ? 1.0 : u[j];
        }
    }
    if (progress.least < p->residual) *p = best;
    balance(c, z, p);
}

static int alike(int c, const double *one, const double *other)
{
    for (int i = 0; i < c; i++) {
        const double a = one[i] > ABSENT ? one[i] : ABSENT, b = other[i] > ABSENT ? other[i] : ABSENT;
        if (!(fabs(log(a / b)) < SAME)) return 0;
    }
    return 1;
}

/* Whether all phases are there, and no two of them are the same. */
static int apart(int c, const Phases *p)
{
    for (int k = 0; k < p->count; k++) {
        if (!(p->amount[k] > 0.0)) return 0;
        for (int j = 0; j < k; j++)
            if (alike(c, p->x[j], p->x[k])) return 0;
    }
    return 1;
}

/* Equilibrium among phases that begin with the compositions of p. */
static void solve(const Phase *m, const double *z, Phases *p)
{
    const int last = (int)(sizeof SUBSTITUTIONS / sizeof *SUBSTITUTIONS) - 1;
    for (int k = 0; k < p->count; k++) p->amount[k] = 1.0 / p->count;
    p->residual = HUGE_VAL;
    for (int round = 0; round <= last && p->residual > CONVERGED; round++) {
        if (round == last && !apart(m->c, p)) return;
        substitute(m, z, SUBSTITUTIONS[round], p);
        if (p->residual > 0.01 * CONVERGED && apart(m->c, p)) polished(m, z, p);
    }
}

/* Phases that are the same as one, and without those that left. */
static void merge(int c, Phases *p)
{
    int kept = 0;
    for (int k = 1; k < p->count; k++)
        for (int j = 0; j < k; j++)
            if (p->amount[j] > 0.0 && p->amount[k] > 0.0 && alike(c, p->x[j], p->x[k])) {
                p->amount[j] += p->amount[k];
                p->amount[k] = 0.0;
            }
    for (int k = 0; k < p->count; k++) {
        if (!(p->amount[k] > GONE)) continue;
        p->amount[kept] = p->amount[k];
        memmove(p->x[kept], p->x[k], sizeof(double) * (size_t)c);
        kept++;
    }
    p->count = kept;
}

double gibbs_of(const Phase *m, const Phases *p)
{
    Fractions ln_phi;
    double g = 0.0;
    ln_phi_of(m, p, ln_phi);
    for (int k = 0; k < p->count; k++)
        for (int i = 0; i < m->c; i++) {
            const double n = p->amount[k] * p->x[k][i];
            if (n > ABSENT) g += n * (log(p->x[k][i]) + ln_phi[k][i]);
        }
    return isfinite(g) ? g : HUGE_VAL;
}

/* Whether phases that were solved are an answer of lower Gibbs energy than those before, which they then replace. */
static int taken(const Phase *m, const double *z, double before, Phases *more, Phases *p)
{
    if (!(more->residual <= CONVERGED)) return 0;
    merge(m->c, more);
    if (more->count < 2) return 0;
    balance(m->c, z, more);
    const double after = gibbs_of(m, more);
    for (int k = 0; k < more->count; k++) {
        if (!(more->amount[k] > GONE)) return 0;
        for (int i = 0; i < m->c; i++)
            if (!(more->x[k][i] > ABSENT)) more->x[k][i] = ABSENT;
    }
    /* of a phase that has hardly begun to form the gain is lost in rounding */
    if (!(after < before - 1e-13 || (more->count > p->count && after < before + 1e-12))) return 0;
    *p = *more;
    return 1;
}

int join(const Phase *m, const double *z, const double *trial, Phases *p)
{
    const double before = gibbs_of(m, p);
    Phases more = *p;
    memcpy(more.x[more.count++], trial, sizeof(double) * (size_t)m->c);
    solve(m, z, &more);
    if (taken(m, z, before, &more, p)) return 1;
    /* where substitution leads astray, from a little of the further phase downwards, and once more without what left on the way */
    if (!descend(m, z, p, trial, &more)) return 0;
    if (more.residual > CONVERGED) {
        /* one that is about to leave where the others have not come to rest is not there */
        for (int k = 0; k < more.count; k++)
            if (more.amount[k] < LEAVING) more.amount[k] = 0.0;
        merge(m->c, &more);
        if (more.count < 2 || !apart(m->c, &more)) return 0;
        Phases rest = more;
        solve(m, z, &more);
        if (more.residual > CONVERGED) {
            further_down(m, z, &rest);
            more = rest;
        }
    }
    return taken(m, z, before, &more, p);
}

double tested(const Phase *m, const double *z, const Phases *p, int kind, double *trial)
{
    double all[MOST_PHASES * MOST_COMPONENTS];
    for (int k = 0; k < p->count; k++) memcpy(all + k * m->c, p->x[k], sizeof(double) * (size_t)m->c);
    return further_phase(m, z, all, p->count, kind, trial);
}

int complete(const Phase *m, const double *z, Phases *p, double *tm)
{
    double trial[MOST_COMPONENTS];
    for (int n = 0; n <= MOST_PHASES; n++) {
        *tm = tested(m, z, p, STABLE, trial);
        if (*tm >= UNSTABLE) return 1;
        if (isnan(*tm)) return 0;
        if (p->count == MOST_PHASES || !join(m, z, trial, p)) return 1;
    }
    return 0;
}
