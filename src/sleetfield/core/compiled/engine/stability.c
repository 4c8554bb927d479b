#include "stability.h"

#include "abreast.h"
#include "descent.h"
#include "exponentials.h"
#include "logarithms.h"
#include "wide.h"

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
#define NOWHERE (-600.0) /* ln f of what is in no phase: with any ln phi next to nothing, and still a number */
#define TRACE 1e-3
#define REST 0.999
#define LN_TRACE (-6.907755278982137)
#define LN_REST (-1.0005003335835335e-3)
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

/* What two substitutions tell of most starts that lead back. */
static int leads_back(const Search *s, const double *near_first, const double *near_second)
{
    return arrived(s, near_second) || heading(s, near_second, near_first);
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

/* Starts that wait to be tried together: ln W and W. */
typedef struct {
    double ln_w[ABREAST][MOST_COMPONENTS], w[ABREAST][MOST_COMPONENTS];
    int count;
} Starts;

WIDE static void to_fractions(int c, double *restrict w)
{
    double total[ABREAST] = {0.0};
    for (int i = 0; i < c; i++)
        for (int k = 0; k < ABREAST; k++) total[k] += w[i * ABREAST + k];
    for (int i = 0; i < c; i++)
        for (int k = 0; k < ABREAST; k++) w[i * ABREAST + k] /= total[k];
}

/* ln W that substitution makes of several W at once, those of a component side by side. */
static void substituted_abreast(const Search *s, double *w, double *out)
{
    static const int kinds[ABREAST] = {STABLE, STABLE, STABLE, STABLE};
    const int c = s->model->c;
    to_fractions(c, w);
    s->model->abreast(s->model, w, kinds, out);
    for (int i = 0; i < c; i++)
        for (int k = 0; k < ABREAST; k++) out[i * ABREAST + k] = s->d[i] - out[i * ABREAST + k];
}

/* How far several ln W are from a phase, as `away` has it. */
WIDE static void away_abreast(int c, const double *restrict w, const double *restrict phase, double *restrict most)
{
    double total[ABREAST] = {0.0};
    for (int k = 0; k < ABREAST; k++) most[k] = 0.0;
    for (int i = 0; i < c; i++) {
        const double other = phase[i] > NOTHING ? phase[i] : NOTHING;
        for (int k = 0; k < ABREAST; k++) {
            const double own = w[i * ABREAST + k], one = own > NOTHING ? own : NOTHING, d = fabs(one - other);
            most[k] = d > most[k] ? d : most[k];
            total[k] += own;
        }
    }
    for (int k = 0; k < ABREAST; k++) most[k] = isnan(total[k]) ? NAN : most[k];
}

static void try_start(const Search *s, const double *start, Best *best)
{
    double first[MOST_COMPONENTS], reached[MOST_COMPONENTS], near_first[MOST_KNOWN], near_second[MOST_KNOWN];
    substituted(s, start, STABLE, first);
    substituted(s, first, STABLE, reached);
    measure(s, first, near_first);
    measure(s, reached, near_second);
    const double tm = leads_back(s, near_first, near_second) ? 0.0 : minimize(s, reached, start);
    keep(s->model->c, best, tm, reached);
}

static void try_abreast(const Search *s, const Starts *starts, Best *best)
{
    const int c = s->model->c;
    double w[MOST_COMPONENTS * ABREAST], first[MOST_COMPONENTS * ABREAST], second[MOST_COMPONENTS * ABREAST];
    double near_first[MOST_KNOWN][ABREAST], near_second[MOST_KNOWN][ABREAST];
    const double *lists[ABREAST];
    for (int k = 0; k < ABREAST; k++) lists[k] = starts->w[k < starts->count ? k : 0];
    side_by_side(c, lists, w);
    substituted_abreast(s, w, first);
    exponentials(c * ABREAST, first, w);
    substituted_abreast(s, w, second);
    for (int n = 0; n < s->count; n++) {
        away_abreast(c, first, s->known[n].ln_w, near_first[n]);
        away_abreast(c, second, s->known[n].ln_w, near_second[n]);
    }
    for (int k = 0; k < starts->count; k++) {
        double once[MOST_KNOWN], twice[MOST_KNOWN], reached[MOST_COMPONENTS];
        for (int n = 0; n < s->count; n++) {
            once[n] = near_first[n][k];
            twice[n] = near_second[n][k];
        }
        const int back = leads_back(s, once, twice);
        if (back && !(0.0 < best->tm)) continue;
        for (int i = 0; i < c; i++) reached[i] = second[i * ABREAST + k];
        const double tm = back ? 0.0 : minimize(s, reached, starts->ln_w[k]);
        keep(c, best, tm, reached);
    }
}

static void try_starts(const Search *s, Starts *starts, Best *best)
{
    if (s->model->abreast != NULL)
        try_abreast(s, starts, best);
    else
        for (int k = 0; k < starts->count; k++) try_start(s, starts->ln_w[k], best);
    starts->count = 0;
}

/* One more start; those that fill the room are tried first. */
static void add_start(const Search *s, const double *ln_w, const double *w, Starts *starts, Best *best)
{
    const size_t size = sizeof(double) * (size_t)s->model->c;
    if (starts->count == ABREAST) try_starts(s, starts, best);
    memcpy(starts->ln_w[starts->count], ln_w, size);
    if (w != NULL)
        memcpy(starts->w[starts->count], w, size);
    else
        exponentials(s->model->c, ln_w, starts->w[starts->count]);
    starts->count++;
}

/* Trial phases that are each almost one component, and of few components mixtures of two. */
static void add_pure(const Search *s, const double *z, Starts *starts, Best *best)
{
    const int c = s->model->c;
    double ln_w[MOST_COMPONENTS], w[MOST_COMPONENTS], ln_trace[MOST_COMPONENTS];
    int present[MOST_COMPONENTS], count = 0;
    logarithms(c, z, ln_trace);
    for (int i = 0; i < c; i++) {
        ln_w[i] = ln_trace[i] += LN_TRACE;
        w[i] = TRACE * z[i];
        if (z[i] > 1e-30) present[count++] = i;
    }
    for (int n = 0; n < count; n++) {
        const int k = present[n];
        ln_w[k] = LN_REST;
        w[k] = REST;
        add_start(s, ln_w, w, starts, best);
        ln_w[k] = ln_trace[k];
        w[k] = TRACE * z[k];
    }
    for (int n = 0; count <= FEW && n < count; n++)
        for (int o = n + 1; o < count; o++)
            for (int share = 0; share < 3; share++) {
                const int k = present[n], l = present[o];
                ln_w[k] = log(REST * SHARES[share]);
                ln_w[l] = log(REST * (1.0 - SHARES[share]));
                add_start(s, ln_w, NULL, starts, best);
                ln_w[k] = ln_trace[k];
                ln_w[l] = ln_trace[l];
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
    Starts starts;
    starts.count = 0;
    logarithms(c, z, s.known[0].ln_w);
    s.known[0].near = TRIVIAL;
    Best best = {HUGE_VAL, trial};
    memcpy(trial, z, sizeof(double) * (size_t)c);
    for (int k = 0; k < 4; k++) {
        for (int i = 0; i < c; i++) start[i] = s.known[0].ln_w[i] + shares[k] * ln_k[i];
        add_start(&s, start, NULL, &starts, &best);
    }
    add_start(&s, d, NULL, &starts, &best);
    add_pure(&s, z, &starts, &best);
    try_starts(&s, &starts, &best);
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

/* What no phase has any of is taken from the plane: with 1e-100 of it a heavy component would fall out in the cold. */
static void without_absent(int c, const double *phases, int count, double *d)
{
    for (int i = 0; i < c; i++) {
        int there = 0;
        for (int k = 0; k < count; k++) there |= phases[(size_t)k * c + i] > FLOOR;
        if (!there && d[i] > NOWHERE) d[i] = NOWHERE;
    }
}

double further_phase(const Phase *model, const double *z, const double *phases, int count, int kind, double *trial)
{
    const int c = model->c;
    double d[MOST_COMPONENTS], start[MOST_COMPONENTS];
    Search s = {.model = model, .d = d, .count = count};
    Starts starts;
    starts.count = 0;
    for (int k = 0; k < count; k++) {
        logarithms(c, phases + (size_t)k * c, s.known[k].ln_w);
        s.known[k].near = count > 1 ? NEAR : TRIVIAL;
    }
    model->ln_phi(model, phases, kind, d);
    for (int i = 0; i < c; i++) d[i] += s.known[0].ln_w[i];
    by_richer_phases(model, phases, count, d);
    without_absent(c, phases, count, d);
    Best best = {HUGE_VAL, trial};
    memcpy(trial, z, sizeof(double) * (size_t)c);
    add_start(&s, d, NULL, &starts, &best);
    add_pure(&s, z, &starts, &best);
    for (int k = 0; k < count; k++)
        for (int l = k + 1; l < count; l++) {
            for (int i = 0; i < c; i++) start[i] = 0.5 * (s.known[k].ln_w[i] + s.known[l].ln_w[i]);
            add_start(&s, start, NULL, &starts, &best);
        }
    try_starts(&s, &starts, &best);
    try_liquid(&s, phases, &best);
    return best.tm;
}
