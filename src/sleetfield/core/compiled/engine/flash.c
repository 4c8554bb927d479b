#include "flash.h"

#include "abreast.h"
#include "descent.h"
#include "logarithms.h"
#include "split.h"
#include "stability.h"
#include "vapor_side.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define CONVERGED 1e-10
#define ON_THE_WAY 1e-4 /* as well as that where only K-values are asked */
#define SUBSTITUTIONS 40
#define BY_KIND 80
#define NEWTON_STEPS 60
#define TRACE 1e-12
#define SAME 1e-7
#define GONE 1e-60
#define ROUGH 1e-2

/* A two-phase solution in progress. */
typedef struct {
    double ln_k[MOST_COMPONENTS];
    double vapor, residual;
} Pair;

/* How far above the tangent plane of the feed a phase lies. */
static double from_plane(int c, const double *x, const double *phi, const double *d)
{
    double ln_x[MOST_COMPONENTS], sum = 0.0;
    logarithms(c, x, ln_x);
    for (int i = 0; i < c; i++) sum += x[i] * (ln_x[i] + phi[i] - d[i]);
    return sum;
}

/* A few substitutions; ln K reached, and the lowest tangent-plane distance that the phases have from the feed. */
static double try_split(const Phase *m, const double *z, const double *d, double *ln_k)
{
    const int c = m->c;
    double K[MOST_COMPONENTS], phi_x[MOST_COMPONENTS], phi_y[MOST_COMPONENTS], guess = NAN;
    int possible, inside;
    Split s;
    for (int n = 0; n < 3; n++) {
        k_values(c, z, ln_k, K);
        brackets(c, z, K, &possible, &inside);
        if (!possible) {
            double mean = 0.0;
            for (int i = 0; i < c; i++) mean += ln_k[i] / c;
            for (int i = 0; i < c; i++) {
                const double l = ln_k[i] - mean;
                K[i] = exp(l > 1.0 ? 1.0 : l < -1.0 ? -1.0 : l);
            }
        }
        split(c, z, K, guess, ROUGH, &s);
        guess = s.vapor;
        ln_phi_of_both(m, s.x, STABLE, phi_x, s.y, STABLE, phi_y);
        for (int i = 0; i < c; i++) ln_k[i] = phi_x[i] - phi_y[i];
    }
    const double by_liquid = from_plane(c, s.x, phi_x, d), by_vapor = from_plane(c, s.y, phi_y, d);
    const double gain = by_liquid < by_vapor ? by_liquid : by_vapor;
    k_values(c, z, ln_k, K);
    brackets(c, z, K, &possible, &inside);
    return possible ? gain : 0.0;
}

enum { LOST, SLOW, DONE };

/* Accelerated successive substitution from pair->ln_k. */
static int substitute(const Phase *m, const double *z, double enough, Pair *pair)
{
    const int c = m->c;
    double K[MOST_COMPONENTS], phi[MOST_COMPONENTS], step[MOST_COMPONENTS], before[MOST_COMPONENTS];
    double *ln_k = pair->ln_k, guess = NAN, error = NAN;
    Split s;
    for (int i = 0; i < c; i++) before[i] = 1.0;
    for (int n = 0; n < SUBSTITUTIONS; n++) {
        int possible, inside;
        k_values(c, z, ln_k, K);
        brackets(c, z, K, &possible, &inside);
        if (!possible) return LOST;
        split(c, z, K, guess, ROUGH, &s);
        guess = s.vapor;
        ln_phi_of_both(m, s.x, STABLE, step, s.y, STABLE, phi);
        error = 0.0;
        for (int i = 0; i < c; i++) {
            step[i] -= phi[i] + ln_k[i];
            if (z[i] > 1e-30 && !(fabs(step[i]) <= error)) error = fabs(step[i]);
        }
        if (error < enough) {
            pair->vapor = s.vapor;
            pair->residual = error;
            return DONE;
        }
        double gain = 1.0;
        if (n % 5 == 4) {
            const double inner = along(c, before, step);
            if (fabs(inner) < 0.98) gain = 1.0 / (1.0 - inner);
        }
        for (int i = 0; i < c; i++) {
            ln_k[i] += gain * step[i];
            before[i] = step[i];
        }
    }
    pair->vapor = guess;
    pair->residual = error;
    return guess > 0.0 && guess < 1.0 ? SLOW : LOST;
}

/* Reduced Gibbs energy of a split, infinite where it is none. */
static double gibbs(const Phase *m, const Split *s)
{
    double phi[MOST_COMPONENTS], vapor = 0.0, liquid = 0.0;
    if (!(s->vapor > 0.0 && s->liquid > 0.0)) return HUGE_VAL;
    m->ln_phi(m, s->y, STABLE, phi);
    for (int i = 0; i < m->c; i++) vapor += s->y[i] * (log(s->y[i]) + phi[i]);
    m->ln_phi(m, s->x, STABLE, phi);
    for (int i = 0; i < m->c; i++) liquid += s->x[i] * (log(s->x[i]) + phi[i]);
    const double g = s->vapor * vapor + s->liquid * liquid;
    return isfinite(g) ? g : HUGE_VAL;
}

/* Descent of the Gibbs energy in ln K from a split with 0 < vapor < 1; the phase amounts follow from Rachford and Rice. */
static void newton(const Phase *m, const double *z, Pair *pair)
{
    const int c = m->c;
    double K[MOST_COMPONENTS], phi_x[MOST_COMPONENTS], phi_y[MOST_COMPONENTS], difference[MOST_COMPONENTS], gradient[MOST_COMPONENTS];
    double scale[MOST_COMPONENTS], q[MOST_COMPONENTS], step[MOST_COMPONENTS], trial[MOST_COMPONENTS];
    double dn_x[MOST_COMPONENTS * MOST_COMPONENTS], dn_y[MOST_COMPONENTS * MOST_COMPONENTS], H[MOST_COMPONENTS * MOST_COMPONENTS];
    double *ln_k = pair->ln_k;
    Split s, at_trial;
    k_values(c, z, ln_k, K);
    split(c, z, K, NAN, SMALL_AMOUNT_STEP, &s);
    double g = gibbs(m, &s);
    for (int n = 0; n < NEWTON_STEPS; n++) {
        double error = 0.0, shared = 0.0, longest = 0.0;
        m->derivatives(m, s.x, STABLE, phi_x, dn_x);
        m->derivatives(m, s.y, STABLE, phi_y, dn_y);
        for (int i = 0; i < c; i++) {
            difference[i] = ln_k[i] + phi_y[i] - phi_x[i];
            if (z[i] > 1e-30 && !(fabs(difference[i]) <= error)) error = fabs(difference[i]);
            scale[i] = sqrt(s.x[i] * s.y[i] / z[i]);
            gradient[i] = scale[i] * difference[i];
        }
        pair->vapor = s.vapor;
        pair->residual = error;
        for (int i = 0; i < c; i++) {
            for (int j = 0; j < c; j++)
                H[i * c + j] = scale[i] * scale[j] * (s.liquid * dn_y[i * c + j] + s.vapor * dn_x[i * c + j] - 1.0);
            H[i * c + i] += 1.0;
        }
        if (!descent_step(c, H, gradient, q)) {
            pair->residual = NAN;
            return;
        }
        for (int i = 0; i < c; i++) shared += scale[i] * q[i];
        for (int i = 0; i < c; i++) {
            step[i] = q[i] / scale[i] - shared;
            if (!(z[i] <= 1e-30 || scale[i] < TRACE) && !(fabs(step[i]) <= longest)) longest = fabs(step[i]);
        }
        const double shorter = longest > 4.0 ? 4.0 / longest : 1.0;
        /* what is only a trace in one of both phases has the other's part in no equation but its own */
        for (int i = 0; i < c; i++) step[i] = z[i] <= 1e-30 || scale[i] < TRACE ? -difference[i] : step[i] * shorter;
        double length = 1.0, new_g = g;
        int moved = 0;
        for (int k = 0; k < 14 && !moved; k++) {
            int possible, inside;
            for (int i = 0; i < c; i++) trial[i] = ln_k[i] + length * step[i];
            k_values(c, z, trial, K);
            brackets(c, z, K, &possible, &inside);
            new_g = HUGE_VAL;
            if (inside) {
                split(c, z, K, NAN, SMALL_AMOUNT_STEP, &at_trial);
                new_g = gibbs(m, &at_trial);
            }
            moved = new_g <= g + 1e-13 * (fabs(g) > 1.0 ? fabs(g) : 1.0);
            if (!moved) length *= 0.35;
        }
        if (error < 0.1 * CONVERGED || !moved) return;
        memcpy(ln_k, trial, sizeof(double) * (size_t)c);
        g = new_g;
        k_values(c, z, ln_k, K);
        split(c, z, K, s.vapor, SMALL_AMOUNT_STEP, &s);
    }
}

/* Whether a two-phase solution is one. */
static int sound(int c, const Pair *pair)
{
    double most = 0.0;
    for (int i = 0; i < c; i++)
        if (!(fabs(pair->ln_k[i]) <= most)) most = fabs(pair->ln_k[i]);
    return pair->vapor > GONE && pair->vapor < 1.0 && most > SAME && pair->residual < 1e-3;
}

/* Two phases from pair->ln_k; 0 where it came to none. */
static int solve(const Phase *m, const double *z, double enough, Pair *pair)
{
    const int how = substitute(m, z, enough, pair);
    if (how == LOST) return 0;
    if (how == SLOW) newton(m, z, pair);
    return sound(m->c, pair);
}

/* Two phases where a trial phase has shown an instability: by substitution, else by descent from a small amount of it. */
static int solve_from_trial(const Phase *m, const double *z, const double *trial, Pair *pair)
{
    const int c = m->c;
    Description of_trial, of_feed;
    m->describe(m, trial, STABLE, &of_trial);
    m->describe(m, z, STABLE, &of_feed);
    const double sign = of_trial.packing < of_feed.packing ? 1.0 : -1.0;
    for (int i = 0; i < c; i++) pair->ln_k[i] = sign * (log(trial[i]) - log(z[i]));
    if (solve(m, z, CONVERGED, pair)) return 1;
    double epsilon = 1.0;
    for (int i = 0; i < c; i++)
        if (z[i] / trial[i] < epsilon) epsilon = z[i] / trial[i];
    epsilon *= 0.5;
    for (int i = 0; i < c; i++) pair->ln_k[i] = log(trial[i]) - log((z[i] - epsilon * trial[i]) / (1.0 - epsilon));
    newton(m, z, pair);
    return sound(c, pair);
}

/* Whether the first phase is a vapor. */
static int named(const Phase *m, const double *x, const Description *own)
{
    return own->is_vapor == UNSURE ? dense_vapor(m, x, own->packing) : own->is_vapor;
}

static int one_phase(const Phase *m, const double *z, double tm, Flashed *out)
{
    Description own;
    m->describe(m, z, STABLE, &own);
    out->n_phases = 1;
    out->amount[0] = 1.0;
    out->Z[0] = own.Z;
    out->is_vapor = named(m, z, &own);
    out->residual = 0.0;
    out->tm = tm;
    memcpy(out->x[0], z, sizeof(double) * (size_t)m->c);
    return 1;
}

void in_order(const Phase *m, const Phases *p, const int *kinds, double tm, Flashed *out)
{
    Description own[MOST_PHASES];
    int order[MOST_PHASES];
    for (int k = 0; k < p->count; k++) {
        int at = k;
        m->describe(m, p->x[k], kinds[k], &own[k]);
        for (; at > 0 && own[k].packing < own[order[at - 1]].packing; at--) order[at] = order[at - 1];
        order[at] = k;
    }
    for (int at = 0; at < p->count; at++) {
        out->amount[at] = p->amount[order[at]];
        out->Z[at] = own[order[at]].Z;
        memcpy(out->x[at], p->x[order[at]], sizeof(double) * (size_t)m->c);
    }
    out->n_phases = p->count;
    out->is_vapor = named(m, out->x[0], &own[order[0]]);
    out->residual = p->residual;
    out->tm = tm;
}

static const int STABLE_KINDS[MOST_PHASES] = {STABLE, STABLE, STABLE, STABLE, STABLE};

/* Phases that are there, completed and put in order. */
static int completed(const Phase *m, const double *z, Phases *p, Flashed *out)
{
    double tm = 0.0;
    if (!complete(m, z, p, &tm)) return 0;
    in_order(m, p, STABLE_KINDS, tm, out);
    return 1;
}

/* From the feed and a little of a trial phase; the feed alone where that can't be had. */
static int from_one(const Phase *m, const double *z, const double *trial, double tm, Flashed *out)
{
    Phases p = {.count = 1, .amount = {1.0}, .residual = HUGE_VAL};
    memcpy(p.x[0], z, sizeof(double) * (size_t)m->c);
    return join(m, z, trial, &p) ? completed(m, z, &p, out) : one_phase(m, z, tm, out);
}

static int two_phases(const Phase *m, const double *z, const Pair *pair, int asked, Flashed *out)
{
    const int c = m->c;
    double K[MOST_COMPONENTS];
    Split s;
    Phases p = {.count = 2, .residual = pair->residual};
    if (!(pair->residual <= (asked == BY_K_VALUES ? ON_THE_WAY : CONVERGED))) return 0;
    k_values(c, z, pair->ln_k, K);
    split(c, z, K, pair->vapor, SMALL_AMOUNT_STEP, &s);
    p.amount[0] = s.vapor;
    p.amount[1] = s.liquid;
    for (int i = 0; i < c; i++) {
        p.x[0][i] = s.y[i] > ABSENT ? s.y[i] : ABSENT;
        p.x[1][i] = s.x[i] > ABSENT ? s.x[i] : ABSENT;
    }
    if (asked == EVERY_PHASE) return completed(m, z, &p, out);
    in_order(m, &p, STABLE_KINDS, 0.0, out);
    return 1;
}

void vapor_and_liquid(const Phase *m, const double *z, double *ln_k, double *amount, double *change)
{
    const int c = m->c;
    double K[MOST_COMPONENTS], step[MOST_COMPONENTS], before[MOST_COMPONENTS], vapor[MOST_COMPONENTS], guess = NAN;
    for (int i = 0; i < c; i++) before[i] = 1.0;
    *change = HUGE_VAL;
    for (int n = 0; n < BY_KIND && *change > 0.1 * CONVERGED; n++) {
        int possible, inside;
        Split s;
        k_values(c, z, ln_k, K);
        brackets(c, z, K, &possible, &inside);
        if (!possible) {
            double mean = 0.0;
            for (int i = 0; i < c; i++) mean += z[i] * ln_k[i];
            for (int i = 0; i < c; i++) K[i] = exp(ln_k[i] - mean);
        }
        split(c, z, K, guess, SMALL_AMOUNT_STEP, &s);
        guess = s.vapor;
        ln_phi_of_both(m, s.x, LIQUID, step, s.y, VAPOR, vapor);
        *change = possible ? 0.0 : HUGE_VAL;
        for (int i = 0; i < c; i++) {
            step[i] -= vapor[i] + ln_k[i];
            if (z[i] > 1e-30 && !(fabs(step[i]) <= *change)) *change = fabs(step[i]);
        }
        const double inner = n % 5 == 4 && possible ? along(c, before, step) : 0.0, gain = fabs(inner) < 0.98 ? 1.0 / (1.0 - inner) : 1.0;
        for (int i = 0; i < c; i++) {
            ln_k[i] += gain * step[i];
            before[i] = step[i];
        }
    }
    *amount = guess;
}

int flash_state(const Phase *m, const double *z, const double *ln_k, int asked, Flashed *out)
{
    const int c = m->c;
    double d[MOST_COMPONENTS], ln_z[MOST_COMPONENTS], K[MOST_COMPONENTS], trial[MOST_COMPONENTS];
    Pair pair;
    int possible, inside;
    m->ln_phi(m, z, STABLE, d);
    logarithms(c, z, ln_z);
    for (int i = 0; i < c; i++) {
        /* what has no fugacities is no phase */
        if (isnan(d[i])) return 0;
        d[i] += ln_z[i];
    }
    k_values(c, z, ln_k, K);
    brackets(c, z, K, &possible, &inside);
    int proven = 0;
    if (inside) {
        memcpy(pair.ln_k, ln_k, sizeof(double) * (size_t)c);
        const double enough = asked == BY_K_VALUES ? ON_THE_WAY : CONVERGED;
        proven = try_split(m, z, d, pair.ln_k) < UNSTABLE && solve(m, z, enough, &pair);
        if (proven && two_phases(m, z, &pair, asked, out)) return 1;
    }
    if (asked == BY_K_VALUES) return !proven && one_phase(m, z, 0.0, out);
    const double tm = feed_stability(m, z, d, ln_k, trial);
    if (!(tm < UNSTABLE)) return !proven && !isnan(tm) && one_phase(m, z, tm, out);
    return (!proven && solve_from_trial(m, z, trial, &pair) && two_phases(m, z, &pair, asked, out)) || from_one(m, z, trial, tm, out);
}
