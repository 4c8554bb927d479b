#include "vapor_side.h"

#include "descent.h"
#include "softest.h"

#include <math.h>
#include <stddef.h>

#define TRACE 1e-12
#define EXPANSIONS 17
#define CLOSE 0.05
#define FINER 9
#define FINER_ROUNDS 5
#define LIMIT_STEPS 20
#define AT_LIMIT 1e-9
#define SHIFT 1e-6
#define DOUBT 1e-5 /* a cubic form of which less is left than this share of its terms has no sure sign */

typedef struct {
    const Phase *model;
    const double *n;
} Mixed;

static double eigenvalue(const Mixed *m, double V)
{
    double B[MOST_COMPONENTS * MOST_COMPONENTS];
    softness(m->model, V, m->n, B);
    return smallest_eigenvalue(m->model->c, B, NULL);
}

/* Between a stable and an unstable volume, by false position with the side that stays put halved. */
static double limit(const Mixed *m, double low, double e_low, double high, double e_high)
{
    double middle = low;
    for (int n = 0; n < LIMIT_STEPS; n++) {
        const double drop = e_low - e_high;
        middle = low + (drop > 0.0 ? e_low / drop : 0.5) * (high - low);
        const double e = eigenvalue(m, middle);
        if (e < 0.0) {
            high = middle;
            e_high = e;
            e_low *= 0.5;
        } else {
            low = middle;
            e_low = e;
            e_high *= 0.5;
        }
        if (!(fabs(e) > AT_LIMIT)) break;
    }
    return middle;
}

/* Whether the phase that is closest to splitting off at a limit of stability is the less dense one. */
static int less_dense_beside(const Mixed *m, double V)
{
    const int c = m->model->c;
    double moved[MOST_COMPONENTS], towards = 0.0;
    Softest s;
    if (!softest(m->model, V, m->n, &s) || !(fabs(s.form) > DOUBT * s.size)) return UNSURE;
    for (int side = 0; side < 2; side++) {
        for (int i = 0; i < c; i++) moved[i] = m->n[i] + (side ? SHIFT : -SHIFT) * sqrt(m->n[i]) * s.direction[i];
        towards += (side ? 1.0 : -1.0) * m->model->covolume(m->model, moved);
    }
    return s.form * towards > 0.0 ? YES : NO;
}

/* The first unstable place among volumes in rising order, with the stable one before it; 0 where there is none. */
static int first_unstable(const Mixed *m, const double *V, int count, double *low, double *high, int *close, int *lowest)
{
    double B[MOST_COMPONENTS * MOST_COMPONENTS], least = HUGE_VAL;
    const int c = m->model->c;
    *close = 0;
    for (int k = 0; k < count; k++) {
        softness(m->model, V[k], m->n, B);
        if (positive_definite(c, B, CLOSE)) continue;
        const double e = smallest_eigenvalue(c, B, NULL);
        *close = 1;
        if (e < least) {
            least = e;
            *lowest = k;
        }
        if (e < 0.0) {
            *low = V[k > 0 ? k - 1 : 0];
            *high = V[k];
            return 1;
        }
    }
    return 0;
}

int dense_vapor(const Phase *model, const double *x, double packing)
{
    const int c = model->c;
    double n[MOST_COMPONENTS], places[EXPANSIONS], low = 0.0, high = 0.0;
    Mixed m = {.model = model, .n = n};
    int close, lowest = 0, count = EXPANSIONS;
    for (int i = 0; i < c; i++) n[i] = x[i] > TRACE ? x[i] : TRACE;
    const double V = model->covolume(model, n) / packing;
    for (int k = 0; k < EXPANSIONS; k++) places[k] = V * pow(8.0, k / (EXPANSIONS - 1.0));
    int found = first_unstable(&m, places, count, &low, &high, &close, &lowest);
    for (int round = 0; !found && close && round < FINER_ROUNDS; round++) {
        const double from = places[lowest > 0 ? lowest - 1 : 0], to = places[lowest < count - 1 ? lowest + 1 : count - 1];
        count = FINER;
        for (int k = 0; k < FINER; k++) places[k] = from + (to - from) * k / (FINER - 1.0);
        found = first_unstable(&m, places, count, &low, &high, &close, &lowest);
    }
    if (!found) return YES;
    const int beside = less_dense_beside(&m, limit(&m, low, eigenvalue(&m, low), high, eigenvalue(&m, high)));
    return beside == UNSURE ? UNSURE : beside == YES ? NO : YES;
}
