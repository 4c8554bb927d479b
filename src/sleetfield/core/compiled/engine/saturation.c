#include "saturation.h"

#include "linear.h"
#include "progress.h"
#include "stability.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define SUBSTITUTIONS 12
#define NEAR 0.02
#define NEWTON_STEPS 40
#define PATIENCE 8
#define ALIKE 1e-3
#define OF_A_DIFFERENCE 1e-3
#define CONVERGED 1e-10
#define ENOUGH 1e-13
#define PARTS 64
#define CHORDS 2
#define SOLVENT_HALVINGS 30
#define LEAST_T 2.0
#define MOST_T 5000.0

static const double COLDER[] = {0.97, 0.85, 0.7};

/* A search under way: ln W and ln q, the residual there, and the equation bound to it. */
typedef struct {
    const Saturation *s;
    double ln_z[MOST_COMPONENTS], ln_w[MOST_COMPONENTS], ln_q, residual;
    Fluid bound;
} Search;

enum { LOST, FOUND, OPEN };

static int trial_kind(const Search *h)
{
    return h->s->kind == LIQUID ? VAPOR : LIQUID;
}

static void bind(Search *h)
{
    const double q = exp(h->ln_q);
    if (h->s->of_T)
        fluid_at(h->s->equation, q, h->s->given, &h->bound);
    else
        fluid_to_pressure(h->s->equation, q, &h->bound);
}

static double by_ln_q(const Search *h, const Evaluation *e, int i)
{
    return exp(h->ln_q) * (h->s->of_T ? e->dT[i] : e->dP[i]);
}

/* W/sum W; the sum. */
static double fractions(int c, const double *ln_w, double *w)
{
    double total = 0.0;
    for (int i = 0; i < c; i++) total += w[i] = exp(ln_w[i]);
    for (int i = 0; i < c; i++) w[i] /= total;
    return total;
}

/* ln K by rough saturation pressures, turned as what forms is a vapor or a liquid. */
static void rough_ln_w(const Search *h, double T, double ln_P, double *ln_w)
{
    const double sign = h->s->kind == LIQUID ? 1.0 : -1.0;
    rough_ln_saturation(h->s->equation, T, ln_w);
    for (int i = 0; i < h->s->equation->c; i++) ln_w[i] = h->ln_z[i] + sign * (ln_w[i] - ln_P);
}

static double ln_sum(int c, const double *ln_w)
{
    double top = ln_w[0], total = 0.0;
    for (int i = 1; i < c; i++)
        if (ln_w[i] > top) top = ln_w[i];
    for (int i = 0; i < c; i++) total += exp(ln_w[i] - top);
    return log(total) + top;
}

/* ln sum W by rough K-values at the pressure that is given. */
static double rough_sum(const Search *h, double ln_T)
{
    double ln_w[MOST_COMPONENTS];
    rough_ln_w(h, exp(ln_T), log(h->s->given), ln_w);
    return ln_sum(h->s->equation->c, ln_w);
}

static double ideal_start(const Search *h)
{
    const int c = h->s->equation->c;
    const double rising = h->s->kind == LIQUID ? 1.0 : -1.0;
    double ln_w[MOST_COMPONENTS];
    if (!h->s->of_T) {
        rough_ln_w(h, h->s->given, 0.0, ln_w);
        return rising * ln_sum(c, ln_w);
    }
    const double begin = log(LEAST_T), width = (log(MOST_T) - begin) / PARTS;
    int part = 0;
    /* sums rise with temperature: the last part at whose beginning it is below */
    for (int step = PARTS / 2; step > 0; step /= 2)
        if (rising * rough_sum(h, begin + width * (part + step)) <= 0.0) part += step;
    double low = begin + width * part, high = low + width, at_low = rising * rough_sum(h, low), at_high = rising * rough_sum(h, high), u = low;
    for (int k = 0; k < CHORDS; k++) {
        u = low - at_low * (high - low) / (at_high - at_low);
        u = u < low ? low : u > high ? high : u;
        const double at = rising * rough_sum(h, u);
        if (at > 0.0) {
            high = u;
            at_high = at;
        } else {
            low = u;
            at_low = at;
        }
    }
    return u;
}

/* ln T at which the most abundant component would boil. */
static double solvent_start(const Search *h)
{
    const int c = h->s->equation->c;
    int most = 0;
    double ln_P[MOST_COMPONENTS], low = log(LEAST_T), high = log(MOST_T);
    for (int i = 1; i < c; i++)
        if (h->s->z[i] > h->s->z[most]) most = i;
    for (int k = 0; k < SOLVENT_HALVINGS; k++) {
        const double middle = 0.5 * (low + high);
        rough_ln_saturation(h->s->equation, exp(middle), ln_P);
        if (ln_P[most] > log(h->s->given))
            high = middle;
        else
            low = middle;
    }
    return 0.5 * (low + high);
}

static void substitute(Search *h)
{
    const int c = h->s->equation->c;
    const double limit = h->s->of_T ? 0.05 : 0.5;
    double w[MOST_COMPONENTS], new[MOST_COMPONENTS];
    Evaluation feed, trial;
    for (int n = 0; n < SUBSTITUTIONS; n++) {
        double total = 0.0, slope = 0.0, moved = 0.0;
        int good = 1;
        bind(h);
        fractions(c, h->ln_w, w);
        h->bound.phase.evaluate(&h->bound.phase, h->s->z, h->s->kind, &feed);
        h->bound.phase.evaluate(&h->bound.phase, w, trial_kind(h), &trial);
        for (int i = 0; i < c; i++) {
            new[i] = h->ln_z[i] + feed.ln_phi[i] - trial.ln_phi[i];
            good &= isfinite(new[i]) != 0;
            const double amount = exp(new[i]), difference = fabs(new[i] - h->ln_w[i]);
            total += amount;
            slope += amount * (by_ln_q(h, &feed, i) - by_ln_q(h, &trial, i));
            if (difference > moved) moved = difference;
        }
        double step = -log(total) / (slope / total);
        step = !isfinite(step) ? 0.0 : step > limit ? limit : step < -limit ? -limit : step;
        h->ln_q += step;
        if (!good) return;
        memcpy(h->ln_w, new, sizeof(double) * (size_t)c);
        if (moved < NEAR && fabs(step) < NEAR) return;
    }
}

/* Newton's method in ln W and ln q, to the best point on the way; 0 where a matrix is singular. */
static int newton(Search *h)
{
    const int c = h->s->equation->c, size = c + 1;
    double u[MOST_COMPONENTS + 1], f[MOST_COMPONENTS + 1], w[MOST_COMPONENTS], best[MOST_COMPONENTS + 1], phi[MOST_COMPONENTS];
    double dn[MOST_COMPONENTS * MOST_COMPONENTS], J[(MOST_COMPONENTS + 1) * (MOST_COMPONENTS + 1)];
    const double longest = h->s->of_T ? 0.1 : 0.5;
    Progress progress = at_the_start();
    Evaluation feed, trial;
    memcpy(u, h->ln_w, sizeof(double) * (size_t)c);
    u[c] = h->ln_q;
    memcpy(best, u, sizeof(double) * (size_t)size);
    for (int n = 0; n < NEWTON_STEPS; n++) {
        double error = 0.0;
        h->ln_q = u[c];
        bind(h);
        const double total = fractions(c, u, w);
        h->bound.phase.evaluate(&h->bound.phase, h->s->z, h->s->kind, &feed);
        h->bound.phase.evaluate(&h->bound.phase, w, trial_kind(h), &trial);
        h->bound.phase.derivatives(&h->bound.phase, w, trial_kind(h), phi, dn);
        f[c] = total - 1.0;
        error = fabs(f[c]);
        for (int i = 0; i < c; i++) {
            f[i] = u[i] + trial.ln_phi[i] - h->ln_z[i] - feed.ln_phi[i];
            if (h->ln_z[i] > -60.0 && !(fabs(f[i]) <= error)) error = fabs(f[i]);
        }
        if (noted(&progress, error)) memcpy(best, u, sizeof(double) * (size_t)size);
        if (!goes_on(&progress, ENOUGH, PATIENCE)) break;
        for (int i = 0; i < c; i++) {
            for (int j = 0; j < c; j++) J[i * size + j] = dn[i * c + j] * w[j];
            J[i * size + i] += 1.0;
            J[i * size + c] = by_ln_q(h, &trial, i) - by_ln_q(h, &feed, i);
            J[c * size + i] = w[i] * total;
        }
        J[c * size + c] = 0.0;
        if (!all_finite(size, f) || !all_finite(size * size, J)) break;
        if (!solve_linear(size, J, f)) return 0;
        double most = fabs(f[c]) / longest;
        for (int i = 0; i < c; i++)
            if (fabs(f[i]) / 2.0 > most) most = fabs(f[i]) / 2.0;
        /* a step that was shortened is on its way */
        if (most > 1.0) progress.since--;
        for (int i = 0; i < size; i++) u[i] -= f[i] / (most > 1.0 ? most : 1.0);
    }
    memcpy(h->ln_w, best, sizeof(double) * (size_t)c);
    h->ln_q = best[c];
    h->residual = progress.least;
    return 1;
}

/* How far both phases differ; not at all where the one asked for as vapor is not the less packed one. */
static double unlike(const Search *h)
{
    const int c = h->s->equation->c;
    double w[MOST_COMPONENTS], apart = 0.0;
    Description feed, trial;
    fractions(c, h->ln_w, w);
    h->bound.phase.describe(&h->bound.phase, h->s->z, h->s->kind, &feed);
    h->bound.phase.describe(&h->bound.phase, w, trial_kind(h), &trial);
    const Description *vapor = h->s->kind == LIQUID ? &trial : &feed;
    if ((trial.packing < feed.packing) != (h->s->kind == LIQUID)) return 0.0;
    /* by a model of its own a vapor can be as dense as a liquid, and is none then */
    if (h->bound.phase.hessian == NULL && vapor->is_vapor != YES) return 0.0;
    for (int i = 0; i < c; i++)
        if (h->ln_z[i] > -30.0 && fabs(h->ln_w[i] - h->ln_z[i]) > apart) apart = fabs(h->ln_w[i] - h->ln_z[i]);
    const double volumes = fabs(trial.Z / feed.Z - 1.0);
    return volumes > apart ? volumes : apart;
}

static int polish(Search *h)
{
    if (!newton(h)) return OPEN;
    if (!isfinite(h->ln_q)) return LOST;
    bind(h);
    /* what the equations leave of a difference goes with its third power beside a critical point, and a feed of its own composition leaves nothing */
    const double apart = unlike(h), bound = OF_A_DIFFERENCE * apart * apart * apart;
    return apart > ALIKE && h->residual < (bound < CONVERGED ? bound : CONVERGED) ? FOUND : LOST;
}

static int from(Search *h, double ln_q)
{
    h->ln_q = ln_q;
    rough_ln_w(h, h->s->of_T ? exp(ln_q) : h->s->given, h->s->of_T ? log(h->s->given) : ln_q, h->ln_w);
    substitute(h);
    return polish(h);
}

/* The point of a search that has found one, with the tangent-plane distance of a further phase. */
static void tell(const Search *h, SaturationPoint *out)
{
    const int c = h->s->equation->c;
    const Phase *m = &h->bound.phase;
    double both[2 * MOST_COMPONENTS], asked[MOST_COMPONENTS], stable[MOST_COMPONENTS], trial[MOST_COMPONENTS], own = 0.0;
    memcpy(both, h->s->z, sizeof(double) * (size_t)c);
    fractions(c, h->ln_w, both + c);
    for (int i = 0; i < c; i++)
        if (!(both[c + i] > ABSENT)) both[c + i] = ABSENT;
    memcpy(out->incipient, both + c, sizeof(double) * (size_t)c);
    out->q = exp(h->ln_q);
    out->residual = h->residual;
    out->tm = further_phase(m, h->s->z, both, 2, h->s->kind, trial);
    /* the feed may itself be the metastable root of its composition */
    m->ln_phi(m, h->s->z, h->s->kind, asked);
    m->ln_phi(m, h->s->z, STABLE, stable);
    for (int i = 0; i < c; i++) own += h->s->z[i] * (stable[i] - asked[i]);
    if (own < out->tm || isnan(own)) out->tm = own;
}

int saturation_point(const Saturation *s, const double *near_w, double near_q, SaturationPoint *out)
{
    Search h;
    const int c = s->equation->c;
    h.s = s;
    out->q = out->residual = out->tm = NAN;
    for (int i = 0; i < c; i++) h.ln_z[i] = log(s->z[i]);
    if (!s->of_T) fluid_at(s->equation, s->given, 1.0, &h.bound);
    if (near_w != NULL) {
        int near = isfinite(near_q);
        h.ln_q = log(near_q);
        for (int i = 0; i < c; i++) {
            near &= isfinite(near_w[i]) != 0;
            h.ln_w[i] = log(near_w[i] > ABSENT ? near_w[i] : ABSENT);
        }
        const int how = near ? polish(&h) : LOST;
        if (how == OPEN) return 0;
        if (how == FOUND) tell(&h, out);
        if (how == FOUND && out->tm >= UNSTABLE) return 1;
        out->q = out->residual = out->tm = NAN;
    }
    int how = from(&h, ideal_start(&h));
    /* a gas that hardly dissolves says nothing of where its solvent boils */
    for (int k = 0; how == LOST && s->of_T && k < (int)(sizeof COLDER / sizeof *COLDER); k++) how = from(&h, solvent_start(&h) + log(COLDER[k]));
    if (how == FOUND) tell(&h, out);
    return how != OPEN;
}
