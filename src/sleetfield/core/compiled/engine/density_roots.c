#include "density_roots.h"

#include "phase.h"

#include <math.h>

#define FLAT 0.35
#define SAFE 0.1
#define FLATTER_STEPS 3
#define EXTREMUM_STEPS 40
#define FURTHER 1.25
#define ROOT_STEPS 80
#define LAST_NEWTON 1e-9
#define LAST 3e-7

/* Densities between which pressure rises past the target, and where about. */
typedef struct {
    double low, high, start;
} Bracket;

/* A density, P/RT above the target there, and its slope. */
typedef struct {
    double rho, above, slope;
} Side;

/* Where a function is zero by the cubic through two places of its inverse, with slopes there. */
static double along_cubic(Side a, Side b)
{
    const double span = b.above - a.above, apart = b.rho - a.rho, t = -a.above / span;
    const double bent = t * (1.0 - t) * ((1.0 - t) * (span / a.slope - apart) - t * (span / b.slope - apart));
    return a.rho + t * apart + bent;
}

static Side side_at(const Isotherm *isotherm, double target, double rho)
{
    Side s = {.rho = rho};
    isotherm->at(isotherm->of, rho, &s.above, &s.slope);
    s.above -= target;
    return s;
}

/* Where the parabola through the slopes of three places is least, within a margin of the outer ones. */
static double vertex(Side a, Side b, Side c)
{
    const double left = (b.slope - a.slope) / (b.rho - a.rho), right = (c.slope - b.slope) / (c.rho - b.rho);
    const double place = 0.5 * (a.rho + b.rho) - 0.5 * left * (c.rho - a.rho) / (right - left), margin = 0.05 * (c.rho - a.rho);
    if (!isfinite(place)) return b.rho;
    return place < a.rho + margin ? a.rho + margin : place > c.rho - margin ? c.rho - margin : place;
}

/* The places that an isotherm is looked at, the first at no density; each when it is asked for. */
typedef struct {
    const Isotherm *isotherm;
    double target;
    int count, refined;
    char known[MOST_PLACES + 1];
    Side sides[MOST_PLACES + 1];
} Scan;

static Side on_place(Scan *s, int k)
{
    if (!s->known[k]) {
        Side *own = &s->sides[k];
        s->isotherm->on_place(s->isotherm->of, k - 1, &own->rho, &own->above, &own->slope);
        own->above -= s->target;
        s->known[k] = 1;
    }
    return s->sides[k];
}

/* Move a place beside an interval in which the target is passed to where pressure rises least, if it rises there but may fall between two places; whether one was. */
static int with_flattest(Scan *s, int k)
{
    if (s->refined) return 0;
    int j = 0;
    for (int n = k; n <= k + 1; n++) {
        if (n < 2 || n > s->count - 2) continue;
        const double slope = on_place(s, n).slope;
        if (slope > 0.0 && slope < FLAT && (j == 0 || slope < s->sides[j].slope) && on_place(s, n - 1).above < 0.0 && on_place(s, n + 1).above > 0.0) j = n;
    }
    if (j == 0) return 0;
    s->refined = 1;
    Side a = s->sides[j - 1], b = s->sides[j], c = s->sides[j + 1];
    for (int n = 0; n < FLATTER_STEPS; n++) {
        const Side new = side_at(s->isotherm, s->target, vertex(a, b, c));
        /* the flattest place stays in the middle, and the one that it was better than, or that is better, comes in from its side */
        const int better = new.slope < b.slope, left = new.rho < b.rho;
        if (better != left) a = better ? b : new;
        if (better == left) c = better ? b : new;
        if (better) s->sides[j] = b = new;
        if (b.slope > SAFE) break;
    }
    return 1;
}

/* Where about pressure passes the target between two places. */
static double between(Side a, Side b)
{
    const double place = a.slope > 0.0 && b.slope > 0.0 ? along_cubic(a, b) : a.rho - a.above / (b.above - a.above) * (b.rho - a.rho);
    return place > a.rho && place < b.rho ? place : 0.5 * (a.rho + b.rho);
}

/* Whether an extremum between two places may pass the target, as far as tangents allow. */
static int may_pass(Side a, Side b, int peak)
{
    const double one = a.above + a.slope * (b.rho - a.rho), other = b.above - b.slope * (b.rho - a.rho);
    return peak ? one >= 0.0 && other >= 0.0 : one < 0.0 || other < 0.0;
}

/* A place between two where pressure has passed the target on its way to the extremum, NaN where it doesn't, by the slopes on both sides. */
static double passing(const Isotherm *isotherm, double target, Side a, Side b, int peak)
{
    /* first a little further than where the tangent says that it passes */
    const double trial = peak ? a.rho - FURTHER * a.above / a.slope : b.rho - FURTHER * b.above / b.slope;
    for (int step = 0; step < EXTREMUM_STEPS; step++) {
        /* the extremum by false position of the slope, every third time by halves */
        double share = step % 3 ? a.slope / (a.slope - b.slope) : 0.5;
        share = share < 0.02 ? 0.02 : share > 0.98 ? 0.98 : share;
        double here = a.rho + share * (b.rho - a.rho);
        if (step == 0 && trial > a.rho && trial < b.rho) here = trial;
        const Side new = side_at(isotherm, target, here);
        if ((new.slope > 0.0) == peak)
            a = new;
        else
            b = new;
        if (peak ? new.above >= 0.0 : new.above < 0.0) return here;
        if (!may_pass(a, b, peak) || !(b.rho - a.rho > LAST * b.rho)) break;
    }
    return NAN;
}

/* Whether there is a bracket between a place and the next one. */
static int bracket_at(Scan *s, int k, Bracket *out)
{
    const Side a = on_place(s, k), b = on_place(s, k + 1);
    const int below = a.above < 0.0, then_below = b.above < 0.0;
    if (below && !then_below) {
        *out = (Bracket){a.rho, b.rho, between(a, b)};
        return 1;
    }
    if (below != then_below) return 0;
    /* a maximum between two places below the target, or a minimum between two above it */
    const int turns = below ? a.slope > 0.0 && b.slope < 0.0 : a.slope < 0.0 && b.slope > 0.0;
    const double place = turns && may_pass(a, b, below) ? passing(s->isotherm, s->target, a, b, below) : NAN;
    if (isnan(place)) return 0;
    const double low = below ? a.rho : place, high = below ? place : b.rho;
    *out = (Bracket){low, high, below ? high - 0.2 * (high - low) : low + 0.2 * (high - low)};
    return 1;
}

/* Whether pressure rises past the target between a place and the next one, both as they are. */
static int passes(Scan *s, int k)
{
    return on_place(s, k).above < 0.0 && !(on_place(s, k + 1).above < 0.0);
}

static int lowest_bracket(Scan *s, Bracket *out)
{
    for (int k = 0; k + 1 < s->count; k++) {
        if (passes(s, k) && with_flattest(s, k) && k > 0) k--;
        if (bracket_at(s, k, out)) return 1;
    }
    return 0;
}

static int highest_bracket(Scan *s, Bracket *out)
{
    for (int k = s->count - 2; k >= 0; k--) {
        if (passes(s, k) && with_flattest(s, k) && k < s->count - 2) k++;
        if (bracket_at(s, k, out)) return 1;
    }
    return 0;
}

/* The density in a bracket: a step of Newton's method, then along cubics through the last two places; by halves where that would leave the bracket. */
static double root(const Isotherm *isotherm, double target, Bracket b)
{
    double rho = b.start;
    Side last = {0.0, 0.0, 0.0};
    for (int step = 0; step < ROOT_STEPS; step++) {
        const Side here = side_at(isotherm, target, rho);
        if (here.above < 0.0)
            b.low = rho;
        else
            b.high = rho;
        double new = rho - here.above / here.slope, enough = LAST_NEWTON;
        if (step > 0) {
            const double cubic = along_cubic(last, here);
            if (isfinite(cubic)) new = cubic;
            enough = LAST;
        }
        if (!(new >= b.low && new <= b.high)) new = 0.5 * (b.low + b.high);
        last = here;
        rho = new;
        if (!(fabs(new - here.rho) > enough * here.rho)) break;
    }
    return rho;
}

void rising_roots(const Isotherm *isotherm, double target, int kind, double *lowest, double *highest)
{
    Scan s;
    Bracket low, high;
    s.isotherm = isotherm;
    s.target = target;
    s.count = isotherm->places + 1;
    s.refined = 0;
    for (int k = 1; k < s.count; k++) s.known[k] = 0;
    s.known[0] = 1;
    s.sides[0] = (Side){.above = -target, .slope = 1.0};
    *lowest = *highest = NAN;
    if (kind != LIQUID) {
        if (!lowest_bracket(&s, &low)) return;
        *lowest = *highest = root(isotherm, target, low);
    }
    if (kind == VAPOR || !highest_bracket(&s, &high)) return;
    if (kind == LIQUID || high.low > low.low) *highest = root(isotherm, target, high);
    if (kind == LIQUID) *lowest = *highest;
}
