#include "stability.h"

#include "descent.h"
#include "exponentials.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define TRIVIAL 1e-5
#define NEAR 1e-2
#define CLOSE 0.3
#define FAST 0.4
#define FEW 4
#define SUBSTITUTIONS 20
#define NEWTON_STEPS 40
#define TOLERANCE 1e-10
#define FLAT 1e-12
#define SWING (-0.5)
#define FLOOR 1e-95
#define NEXT_TO 0.05
#define PROVEN 1e-4

static const double NOTHING = -69.077552789821371; /* ln 1e-30 */
static const double SHARES[] = {0.5, 0.9, 0.1};

/* A phase that is known already, and how close to it a search has found nothing new. */
typedef struct {
    double ln_w[MOST_COMPONENTS];
    double near;
} Known;

typedef struct {
    const Phase *model;
    const double *d;
    Known known[MOST_KNOWN];
    int count; /* of known phases */
} Search;

static void normalized(int c, const double *ln_w, double *x)
{
    double total = 0.0;
    exponentials(c, ln_w, x);
    for (int i = 0; i < c; i++) total += x[i];
    for (int i = 0; i < c; i++) x[i] /= total;
}

static double sum_of(int c, const double *ln_w)
{
    double total = 0.0, w[MOST_COMPONENTS];
    exponentials(c, ln_w, w);
    for (int i = 0; i < c; i++) total += w[i];
    return total;
}

/* What substitution makes of ln W: d - ln phi. */
static void substituted(const Search *s, const double *ln_w, int kind, double *out)
{
    double x[MOST_COMPONENTS];
    normalized(s->model->c, ln_w, x);
    s->model->ln_phi(s->model, x, kind, out);
    for (int i = 0; i < s->model->c; i++) out[i] = s->d[i] - out[i];
}

static double distance(int c, const double *ln_w, const double *ln_phi, const double *d)
{
    double sum = 1.0, w[MOST_COMPONENTS];
    exponentials(c, ln_w, w);
    for (int i = 0; i < c; i++) sum += w[i] * (ln_w[i] + ln_phi[i] - d[i] - 1.0);
    return sum;
}

/* How far ln W is from a phase, whatever it has of components of which there is next to nothing in both. */
static double away(int c, const double *w, const double *phase)
{
    double most = 0.0, total = 0.0;
    for (int i = 0; i < c; i++) {
        const double one = w[i] > NOTHING ? w[i] : NOTHING, other = phase[i] > NOTHING ? phase[i] : NOTHING, d = fabs(one - other);
        most = d > most ? d : most;
        total += w[i];
    }
    return isnan(total) ? NAN : most;
}

static int arrived(const Search *s, const double *distances)
{
    for (int k = 0; k < s->count; k++)
        if (distances[k] < s->known[k].near) return 1;
    return 0;
}

/* So close to a known phase and so fast that it can only end there. */
static int heading(const Search *s, const double *distances, const double *last)
{
    for (int k = 0; k < s->count; k++)
        if (distances[k] < CLOSE && distances[k] < FAST * last[k] && last[k] < CLOSE) return 1;
    return 0;
}

static void measure(const Search *s, const double *w, double *distances)
{
    for (int k = 0; k < s->count; k++) distances[k] = away(s->model->c, w, s->known[k].ln_w);
}

/* Second-order minimisation of tm in alpha = 2 sqrt W; tm there, and ln W in place. */
static double newton(const Search *s, double *w, int kind)
{
    const int c = s->model->c;
    double x[MOST_COMPONENTS], phi[MOST_COMPONENTS], dn[MOST_COMPONENTS * MOST_COMPONENTS], H[MOST_COMPONENTS * MOST_COMPONENTS];
    double amounts[MOST_COMPONENTS], rooted[MOST_COMPONENTS], gradient[MOST_COMPONENTS], step[MOST_COMPONENTS], trial[MOST_COMPONENTS];
    normalized(c, w, x);
    s->model->ln_phi(s->model, x, kind, phi);
    double value = distance(c, w, phi, s->d);
    for (int n = 0; n < NEWTON_STEPS; n++) {
        double total = 0.0, steepest = 0.0;
        exponentials(c, w, amounts);
        for (int i = 0; i < c; i++) total += amounts[i];
        for (int i = 0; i < c; i++) x[i] = amounts[i] / total;
        s->model->derivatives(s->model, x, kind, phi, dn);
        for (int i = 0; i < c; i++) {
            const double residual = w[i] + phi[i] - s->d[i];
            rooted[i] = sqrt(amounts[i]);
            gradient[i] = rooted[i] * residual;
            if (fabs(gradient[i]) > steepest || isnan(gradient[i])) steepest = fabs(gradient[i]);
        }
        for (int i = 0; i < c; i++) {
            for (int j = 0; j < c; j++) H[i * c + j] = rooted[i] * rooted[j] * dn[i * c + j] / total;
            H[i * c + i] += 1.0 + 0.5 * (w[i] + phi[i] - s->d[i]);
        }
        if (!descent_step(c, H, gradient, step)) return NAN;
        double scale = 1.0, at_trial = value;
        int good = 0;
        for (int k = 0; k < 12 && !good; k++) {
            for (int i = 0; i < c; i++) {
                const double some = rooted[i] + 0.5 * scale * step[i], least = 0.05 * rooted[i];
                trial[i] = 2.0 * log(some > least ? some : least);
            }
            normalized(c, trial, x);
            s->model->ln_phi(s->model, x, kind, phi);
            at_trial = distance(c, trial, phi, s->d);
            good = at_trial <= value + 1e-14;
            if (!good) scale *= 0.3;
        }
        if (good) {
            memcpy(w, trial, sizeof(double) * (size_t)c);
            value = at_trial;
        }
        double distances[MOST_KNOWN];
        measure(s, w, distances);
        if (arrived(s, distances)) return 0.0;
        if (!good || steepest < TOLERANCE || value < -1e-2) return value;
    }
    return value;
}

/* Tm at the minimum reached from ln W, which is left there; 0 where it falls back to a known phase. The start before two substitutions is the origin. */
static double minimize(const Search *s, double *w, const double *origin)
{
    const int c = s->model->c;
    double amounts[MOST_COMPONENTS], new[MOST_COMPONENTS], before[MOST_COMPONENTS], step[MOST_COMPONENTS], lowest[MOST_COMPONENTS];
    double last[MOST_KNOWN] = {0.0}, distances[MOST_KNOWN] = {0.0}, deepest = 0.0;
    int swinging = 0;
    for (int i = 0; i < c; i++) before[i] = 1.0;
    memcpy(lowest, origin, sizeof(double) * (size_t)c);
    measure(s, w, last);
    for (int n = 0; n < SUBSTITUTIONS; n++) {
        double total = 0.0, error = 0.0, below = 0.0;
        exponentials(c, w, amounts);
        for (int i = 0; i < c; i++) total += amounts[i];
        double x[MOST_COMPONENTS];
        for (int i = 0; i < c; i++) x[i] = amounts[i] / total;
        s->model->ln_phi(s->model, x, STABLE, new);
        for (int i = 0; i < c; i++) {
            new[i] = s->d[i] - new[i];
            step[i] = new[i] - w[i];
            if (amounts[i] > 1e-12 * total && !(fabs(step[i]) <= error)) error = fabs(step[i]);
            below += amounts[i] * step[i];
        }
        below = below / total + log(total);
        if (below > deepest) {
            deepest = below;
            memcpy(lowest, w, sizeof(double) * (size_t)c);
        }
        measure(s, new, distances);
        const int known_one = arrived(s, distances) || (n > 0 && heading(s, distances, last));
        const int found = below > PROVEN && error < 0.3;
        if (error < TOLERANCE || found || known_one) {
            memcpy(w, new, sizeof(double) * (size_t)c);
            return known_one ? 0.0 : found ? -below : 1.0 - sum_of(c, new);
        }
        if (n % 5 == 4) {
            const double inner = along(c, before, step);
            double gain = fabs(inner) < 0.95 ? 1.0 / (1.0 - inner) : 1.0;
            if (inner < SWING) swinging = 1;
            gain = gain < 1.0 ? 1.0 : gain > 20.0 ? 20.0 : gain;
            for (int i = 0; i < c; i++) w[i] += gain * step[i];
        } else {
            memcpy(w, new, sizeof(double) * (size_t)c);
        }
        memcpy(before, step, sizeof(double) * (size_t)c);
        memcpy(last, distances, sizeof last);
    }
    if (swinging || deepest > PROVEN) memcpy(w, lowest, sizeof(double) * (size_t)c);
    return newton(s, w, STABLE);
}

/* From a start; two substitutions tell most of those that lead back. */
static double from_start(const Search *s, const double *start, double *reached)
{
    double first[MOST_COMPONENTS], near_first[MOST_KNOWN], near_second[MOST_KNOWN];
    substituted(s, start, STABLE, first);
    substituted(s, first, STABLE, reached);
    measure(s, reached, near_second);
    measure(s, first, near_first);
    if (arrived(s, near_second) || heading(s, near_second, near_first)) return 0.0;
    return minimize(s, reached, start);
}

/* Tm at the minimum among liquids alone; substitution that overshoots is shortened. */
static double minimize_liquid(const Search *s, double *w)
{
    const int c = s->model->c;
    double amounts[MOST_COMPONENTS], x[MOST_COMPONENTS], new[MOST_COMPONENTS], before[MOST_COMPONENTS], step[MOST_COMPONENTS], distances[MOST_KNOWN];
    for (int i = 0; i < c; i++) before[i] = 1.0;
    for (int n = 0; n < SUBSTITUTIONS; n++) {
        double total = 0.0, error = 0.0;
        exponentials(c, w, amounts);
        for (int i = 0; i < c; i++) total += amounts[i];
        for (int i = 0; i < c; i++) x[i] = amounts[i] / total;
        s->model->ln_phi(s->model, x, LIQUID, new);
        for (int i = 0; i < c; i++) {
            new[i] = s->d[i] - new[i];
            step[i] = new[i] - w[i];
            if (amounts[i] > 1e-12 * total && !(fabs(step[i]) <= error)) error = fabs(step[i]);
        }
        measure(s, new, distances);
        const int known_one = arrived(s, distances);
        if (error < TOLERANCE || known_one || !isfinite(error)) {
            if (!(error < TOLERANCE) || known_one) return 0.0;
            memcpy(w, new, sizeof(double) * (size_t)c);
            return 1.0 - sum_of(c, new);
        }
        const double inner = along(c, before, step);
        double gain = 1.0 / (1.0 - (inner < 0.0 ? inner : 0.0));
        gain = gain < 0.1 ? 0.1 : gain > 1.0 ? 1.0 : gain;
        for (int i = 0; i < c; i++) w[i] += gain * step[i];
        memcpy(before, step, sizeof(double) * (size_t)c);
    }
    return newton(s, w, LIQUID);
}

/* The best of what has been found, and the trial phase there. */
typedef struct {
    double tm;
    double *trial;
} Best;

static void keep(int c, Best *best, double tm, const double *ln_w)
{
    if (!(tm < best->tm)) return;
    best->tm = tm;
    normalized(c, ln_w, best->trial);
}

static void try_start(const Search *s, const double *start, Best *best)
{
    double reached[MOST_COMPONENTS];
    const double tm = from_start(s, start, reached);
    keep(s->model->c, best, tm, reached);
}

/* Trial phases that are each almost one component, and of few components mixtures of two. */
static void try_pure(const Search *s, const double *z, Best *best)
{
    const int c = s->model->c;
    double trace[MOST_COMPONENTS], start[MOST_COMPONENTS];
    int present[MOST_COMPONENTS], count = 0;
    for (int i = 0; i < c; i++) {
        trace[i] = log(z[i]) + log(1e-3);
        if (z[i] > 1e-30) present[count++] = i;
    }
    for (int k = 0; k < count; k++) {
        memcpy(start, trace, sizeof(double) * (size_t)c);
        start[present[k]] = log(0.999);
        try_start(s, start, best);
    }
    for (int k = 0; count <= FEW && k < count; k++)
        for (int l = k + 1; l < count; l++)
            for (int n = 0; n < 3; n++) {
                memcpy(start, trace, sizeof(double) * (size_t)c);
                start[present[k]] = log(0.999 * SHARES[n]);
                start[present[l]] = log(0.999 * (1.0 - SHARES[n]));
                try_start(s, start, best);
            }
}

/* What the phase would be in equilibrium with if it were a liquid. */
static void try_liquid(const Search *s, const double *z, Best *best)
{
    const int c = s->model->c;
    double start[MOST_COMPONENTS];
    s->model->ln_phi(s->model, z, LIQUID, start);
    for (int i = 0; i < c; i++) start[i] = s->d[i] - start[i];
    if (!(away(c, start, s->known[0].ln_w) > TRIVIAL)) return;
    const double tm = minimize_liquid(s, start);
    keep(c, best, tm, start);
}

/* Where a feed found stable would as a vapor have nearly the Gibbs energy that it has as a liquid. */
static void try_other_root(const Search *s, const double *z, Best *best)
{
    const int c = s->model->c;
    if (!(best->tm >= UNSTABLE)) return;
    double own[MOST_COMPONENTS], phi[MOST_COMPONENTS], w[MOST_COMPONENTS], before[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) own[i] = s->d[i] - log(z[i]);
    for (int kind = VAPOR; kind <= LIQUID; kind++) {
        double above = 0.0;
        s->model->ln_phi(s->model, z, kind, phi);
        for (int i = 0; i < c; i++) above += z[i] * (phi[i] - own[i]);
        if (!(above > FLAT && above < NEXT_TO)) continue;
        for (int i = 0; i < c; i++) w[i] = log(z[i]);
        for (int n = 0; n < SUBSTITUTIONS; n++) {
            double change = 0.0;
            memcpy(before, w, sizeof(double) * (size_t)c);
            substituted(s, before, kind, w);
            for (int i = 0; i < c; i++)
                if (!(fabs(w[i] - before[i]) <= change)) change = fabs(w[i] - before[i]);
            if (change < TOLERANCE) break;
        }
        double x[MOST_COMPONENTS];
        normalized(c, w, x);
        s->model->ln_phi(s->model, x, STABLE, phi);
        const double tm = distance(c, w, phi, s->d);
        if (tm < best->tm && tm < UNSTABLE) keep(c, best, tm, w);
    }
}

double feed_stability(const Phase *model, const double *z, const double *d, const double *ln_k, double *trial)
{
    static const double shares[] = {1.0, -1.0, 1.0 / 3.0, -1.0 / 3.0};
    const int c = model->c;
    Search s = {.model = model, .d = d, .count = 1};
    double start[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) s.known[0].ln_w[i] = log(z[i]);
    s.known[0].near = TRIVIAL;
    Best best = {HUGE_VAL, trial};
    memcpy(trial, z, sizeof(double) * (size_t)c);
    for (int k = 0; k < 4; k++) {
        for (int i = 0; i < c; i++) start[i] = s.known[0].ln_w[i] + shares[k] * ln_k[i];
        try_start(&s, start, &best);
    }
    try_start(&s, d, &best);
    try_pure(&s, z, &best);
    try_liquid(&s, z, &best);
    try_other_root(&s, z, &best);
    return best.tm;
}

/* Of what the first phase has less of than any number holds, ln f is that in one which has more. */
static void by_richer_phases(const Phase *model, const double *phases, int count, double *d)
{
    const int c = model->c;
    double phi[MOST_COMPONENTS];
    for (int k = 1; k < count; k++) {
        const double *other = phases + (size_t)k * c;
        int poor = 0;
        for (int i = 0; i < c; i++) poor |= phases[i] <= FLOOR && other[i] > FLOOR;
        if (!poor) continue;
        model->ln_phi(model, other, STABLE, phi);
        for (int i = 0; i < c; i++) {
            const double ln_f = log(other[i]) + phi[i];
            if (phases[i] <= FLOOR && other[i] > FLOOR && ln_f < d[i]) d[i] = ln_f;
        }
    }
}

double further_phase(const Phase *model, const double *z, const double *phases, int count, int kind, double *trial)
{
    const int c = model->c;
    double d[MOST_COMPONENTS], start[MOST_COMPONENTS];
    Search s = {.model = model, .d = d, .count = count};
    for (int k = 0; k < count; k++) {
        for (int i = 0; i < c; i++) s.known[k].ln_w[i] = log(phases[(size_t)k * c + i]);
        s.known[k].near = count > 1 ? NEAR : TRIVIAL;
    }
    model->ln_phi(model, phases, kind, d);
    for (int i = 0; i < c; i++) d[i] += s.known[0].ln_w[i];
    by_richer_phases(model, phases, count, d);
    Best best = {HUGE_VAL, trial};
    memcpy(trial, z, sizeof(double) * (size_t)c);
    try_start(&s, d, &best);
    try_pure(&s, z, &best);
    for (int k = 0; k < count; k++)
        for (int l = k + 1; l < count; l++) {
            for (int i = 0; i < c; i++) start[i] = 0.5 * (s.known[k].ln_w[i] + s.known[l].ln_w[i]);
            try_start(&s, start, &best);
        }
    try_liquid(&s, phases, &best);
    return best.tm;
}
