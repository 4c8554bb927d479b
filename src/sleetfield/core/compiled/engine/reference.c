#include "reference.h"

#include "phase.h"

#include <math.h>
#include <stddef.h>

#define NEWTON 60
#define CLOSE 1e-14
#define SURELY_BEFORE 0.3 /* of an ideal gas's density */
#define SURELY_RISING 0.05 /* of the critical density */
#define UNFELT 50.0 /* of the exponent in a critical term: beyond, it is less than rounding */

/* ---- terms along a direction: their values, and delta times their derivatives by delta ---- */

static inline void add(int order, Jet term, Jet factor, Jet *phi, Jet *by_delta)
{
    *phi = jet_sum(order, 1.0, *phi, 1.0, term);
    *by_delta = jet_sum(order, 1.0, *by_delta, 1.0, jet_product(order, term, factor));
}

static inline void add_critical(int order, const double *row, Jet delta, Jet tau, Jet *phi, Jet *by_delta)
{
    const double n = row[0], a = row[1], b = row[2], B = row[3], C = row[4], D = row[5], A = row[6], beta = row[7];
    const Jet one = jet_line(1.0, 0.0), y = jet_sum(order, 1.0, tau, -1.0, one);
    Jet x = jet_sum(order, 1.0, delta, -1.0, one);
    if (C * x.k[0] * x.k[0] + D * y.k[0] * y.k[0] > UNFELT) return;
    if (x.k[0] == 0.0) x.k[0] = 1e-30;
    const Jet square = jet_product(order, x, x), ln = jet_log(order, square);
    const Jet wide = jet_multiple(order, A, jet_exp(order, jet_multiple(order, 0.5 / beta, ln)));
    const Jet narrow = jet_multiple(order, B, jet_exp(order, jet_multiple(order, a, ln)));
    const Jet theta = jet_sum(order, 1.0, wide, -1.0, y);
    Jet distance = jet_sum(order, 1.0, jet_product(order, theta, theta), 1.0, narrow);
    if (distance.k[0] == 0.0) distance.k[0] = 1e-300;
    const Jet power = jet_exp(order, jet_multiple(order, b, jet_log(order, distance)));
    const Jet psi = jet_exp(order, jet_sum(order, -C, square, -D, jet_product(order, y, y)));
    const Jet term = jet_multiple(order, n, jet_product(order, jet_product(order, power, psi), delta));
    /* delta/term times the derivative of the term by delta: 1 + delta (b Delta'/Delta + psi'/psi) */
    const Jet slope = jet_ratio(order, jet_sum(order, 2.0 / beta, jet_product(order, theta, wide), 2.0 * a, narrow), x);
    const Jet both = jet_sum(order, b, jet_ratio(order, slope, distance), -2.0 * C, x);
    add(order, term, jet_sum(order, 1.0, one, 1.0, jet_product(order, delta, both)), phi, by_delta);
}

/* A^R/VRT, and its derivative by density unless that is NULL. */
static inline void energy(int order, const ReferenceEquation *e, Jet rho, Jet T, Jet *f, Jet *f_rho)
{
    const Jet one = jet_line(1.0, 0.0), delta = jet_multiple(order, e->scale / e->density, rho);
    const Jet tau = jet_ratio(order, jet_line(e->temperature, 0.0), T), ln_delta = jet_log(order, delta), ln_tau = jet_log(order, tau);
    Jet phi = jet_line(0.0, 0.0), by_delta = phi, power = phi;
    double exponent = 0.0;
    for (int k = 0; k < e->smooth; k++) {
        const double *own = e->smooth_terms + (size_t)k * SMOOTH_NUMBERS;
        if (own[3] != exponent) {
            exponent = own[3];
            power = exponent > 0.0 ? jet_exp(order, jet_multiple(order, exponent, ln_delta)) : jet_line(0.0, 0.0);
        }
        const Jet inner = jet_sum(order, 1.0, jet_sum(order, own[1], ln_delta, own[2], ln_tau), -1.0, power);
        add(order, jet_multiple(order, own[0], jet_exp(order, inner)), jet_sum(order, own[1], one, -exponent, power), &phi, &by_delta);
    }
    for (int k = 0; k < e->bells; k++) {
        const double *own = e->bell_terms + (size_t)k * BELL_NUMBERS;
        const Jet u = jet_sum(order, 1.0, delta, -own[6], one), v = jet_sum(order, 1.0, tau, -own[5], one);
        const Jet bell = jet_sum(order, -own[3], jet_product(order, u, u), -own[4], jet_product(order, v, v));
        const Jet inner = jet_sum(order, 1.0, jet_sum(order, own[1], ln_delta, own[2], ln_tau), 1.0, bell);
        const Jet factor = jet_sum(order, own[1], one, -2.0 * own[3], jet_product(order, delta, u));
        add(order, jet_multiple(order, own[0], jet_exp(order, inner)), factor, &phi, &by_delta);
    }
    for (int k = 0; k < e->critical; k++) add_critical(order, e->critical_terms + (size_t)k * CRITICAL_NUMBERS, delta, tau, &phi, &by_delta);
    /* the equation's own gas constant in the ideal part too */
    const double more = e->own - 1.0;
    *f = jet_product(order, rho, jet_sum(order, e->own, phi, more, ln_delta));
    if (f_rho != NULL)
        *f_rho = jet_sum(order, e->own, jet_sum(order, 1.0, phi, 1.0, by_delta), more, jet_sum(order, 1.0, ln_delta, 1.0, one));
}

static void in_direction(const Helmholtz *h, int order, const double *rho, const double *direction, Jet *f, Jet *f_i)
{
    const Reference *m = (const Reference *)h;
    const Jet line = jet_line(rho[0], direction == NULL ? 0.0 : direction[0]), T = jet_line(h->at.T, 0.0);
    AT_ORDER(order, energy, m->of, line, T, f, f_i)
}

static void warmer(const Helmholtz *h, const double *rho, Jet *f, Jet *f_i)
{
    energy(2, ((const Reference *)h)->of, jet_line(rho[0], 0.0), jet_line(h->at.T, 1.0), f, f_i);
}

static double plain(const Helmholtz *h, const Composition *room, const double *x, double rho, double *f_i)
{
    const double parts[1] = {rho * x[0]};
    Jet f, slope;
    (void)room;
    in_direction(h, 0, parts, NULL, &f, f_i == NULL ? NULL : &slope);
    if (f_i != NULL) f_i[0] = slope.k[0];
    return f.k[0];
}

static void bend(const Helmholtz *h, const double *rho, double *out)
{
    static const double direction[1] = {1.0};
    Jet f, slope;
    in_direction(h, 1, rho, direction, &f, &slope);
    out[0] = slope.k[1];
}

/* ---- along an isotherm ---- */

/* What critical terms add to delta phi_delta, and its derivative by ln delta. */
static void of_critical(const Reference *m, double delta, double *first, double *slope)
{
    Jet phi = jet_line(0.0, 0.0), by_delta = phi;
    for (int k = 0; k < m->of->critical; k++)
        add_critical(1, m->of->critical_terms + (size_t)k * CRITICAL_NUMBERS, jet_line(delta, 1.0), jet_line(m->tau, 0.0), &phi, &by_delta);
    *first += by_delta.k[0];
    *slope += delta * by_delta.k[1];
}

static void pressure_of(const Reference *m, double delta, double first, double slope, double *p, double *rise)
{
    of_critical(m, delta, &first, &slope);
    *p = m->of->own * delta * m->of->density / m->of->scale * (1.0 + first);
    *rise = m->of->own * (1.0 + first + slope);
}

/* P/RT and its slope. */
static void pressure_at(void *of, double rho, double *p, double *rise)
{
    const Reference *m = of;
    const ReferenceEquation *e = m->of;
    const double delta = rho * e->scale / e->density, ln = log(delta);
    double first = 0.0, slope = 0.0, exponent = 0.0, power = 0.0;
    const double *weight = m->weight;
    for (int k = 0; k < e->smooth; k++) {
        const double *own = e->smooth_terms + (size_t)k * SMOOTH_NUMBERS;
        if (own[3] != exponent) {
            exponent = own[3];
            power = exponent > 0.0 ? exp(exponent * ln) : 0.0;
        }
        const double g = own[1] - exponent * power, term = *weight++ * exp(own[1] * ln - power);
        first += term * g;
        slope += term * (g * g - exponent * exponent * power);
    }
    for (int k = 0; k < e->bells; k++) {
        const double *own = e->bell_terms + (size_t)k * BELL_NUMBERS;
        const double u = delta - own[6], g = own[1] - 2.0 * own[3] * delta * u, term = *weight++ * exp(own[1] * ln - own[3] * u * u);
        first += term * g;
        slope += term * (g * g - 2.0 * own[3] * delta * (delta + u));
    }
    pressure_of(m, delta, first, slope, p, rise);
}

/* A sum of products, in four parts at once. */
static double weighted(const double *restrict weight, const double *restrict of, int count)
{
    double part[4] = {0.0, 0.0, 0.0, 0.0};
    int k = 0;
    for (; k + 4 <= count; k += 4)
        for (int j = 0; j < 4; j++) part[j] += weight[k + j] * of[k + j];
    for (; k < count; k++) part[0] += weight[k] * of[k];
    return (part[0] + part[1]) + (part[2] + part[3]);
}

static void on_place(const Reference *m, const Branch *branch, int k, double *p, double *rise)
{
    const int terms = m->of->smooth + m->of->bells;
    const size_t row = (size_t)k * terms;
    pressure_of(m, branch->delta[k], weighted(m->weight, branch->first + row, terms), weighted(m->weight, branch->second + row, terms), p, rise);
}

/* Two densities between which P/RT passes the target on a branch, looked for from one of its places on; whether there are any. */
static int bracket(const Reference *m, const Branch *branch, int from, double target, double *low, double *high)
{
    double last = 0.0, p, rise;
    for (int k = from; k < branch->count; k++) {
        on_place(m, branch, k, &p, &rise);
        if (k > from && (last - target) * (p - target) <= 0.0) {
            const double here = branch->delta[k] * m->of->density / m->of->scale, before = branch->delta[k - 1] * m->of->density / m->of->scale;
            *low = here < before ? here : before;
            *high = here < before ? before : here;
            return 1;
        }
        /* the end of the branch lies behind its last rising place */
        if (!(rise > 0.0)) return 0;
        last = p;
    }
    return 0;
}

/* The density between two; NaN where pressure does not rise there. */
static double root(const Reference *m, double target, double low, double high)
{
    double rho = 0.5 * (low + high), p, rise;
    for (int step = 0; step < NEWTON; step++) {
        pressure_at((void *)m, rho, &p, &rise);
        if (p < target)
            low = rho;
        else
            high = rho;
        const double new = rho - (p - target) / rise;
        const int done = fabs(new - rho) <= CLOSE * rho && rise > 0.0;
        rho = (new > low && new < high && rise > 0.0) || done ? new : 0.5 * (low + high);
        if (done) return rho;
    }
    pressure_at((void *)m, rho, &p, &rise);
    return rise > 0.0 ? rho : NAN;
}

/* Where the branch from no density on can be entered: before pressure has come to the target, and thin enough for it to rise all the way there. */
static int entrance(const Reference *m, double target)
{
    const Branch *up = &m->of->up;
    const double thin = fmin(SURELY_BEFORE * target / m->of->own * m->of->scale / m->of->density, SURELY_RISING);
    int low = 0, high = up->count - 1;
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        if (up->delta[middle] < thin)
            low = middle;
        else
            high = middle;
    }
    double p, rise;
    on_place(m, up, low, &p, &rise);
    return p < target ? low : 0;
}

/* The density on a branch, from one of its places on. */
static Known solved(const Reference *m, const Branch *branch, int from, double target)
{
    double low, high;
    const Known found = {target, bracket(m, branch, from, target, &low, &high) ? root(m, target, low, high) : NAN};
    return found;
}

static double of_vapor(Reference *m, double target)
{
    if (m->vapor.target != target) m->vapor = solved(m, &m->of->up, entrance(m, target), target);
    return m->vapor.rho;
}

static double of_liquid(Reference *m, double target)
{
    if (m->liquid.target != target) m->liquid = solved(m, &m->of->down, 0, target);
    return m->liquid.rho;
}

static void roots(const Helmholtz *h, const Isotherm *isotherm, double target, int kind, double *lowest, double *highest)
{
    Reference *m = (Reference *)h;
    const int one = h->at.T >= m->of->temperature;
    (void)isotherm;
    *lowest = kind == LIQUID && !one ? NAN : of_vapor(m, target);
    *highest = (kind == VAPOR || one) && !isnan(*lowest) ? *lowest : of_liquid(m, target);
    if (kind == LIQUID && isnan(*highest)) *highest = of_vapor(m, target);
    if (isnan(*lowest)) *lowest = *highest;
    if (isnan(*highest)) *highest = *lowest;
}

static int has_branches(const Helmholtz *h, const Isotherm *isotherm, double densest)
{
    (void)isotherm;
    (void)densest;
    return h->at.T < ((const Reference *)h)->of->temperature;
}

static Isotherm isotherm_of(const Helmholtz *h, const double *x, Composition *room)
{
    const Isotherm isotherm = {(void *)h, 0, pressure_at, NULL};
    (void)x;
    (void)room;
    return isotherm;
}

static void at(const Equation *equation, double T, double P, AtState *state)
{
    const ReferenceEquation *e = (const ReferenceEquation *)equation;
    Reference *m = (Reference *)state;
    helmholtz_at(equation, &e->gives, e->closest, T, P, &m->h);
    m->of = e;
    m->tau = e->temperature / T;
    m->vapor.target = m->liquid.target = NAN;
    const double ln_tau = log(m->tau);
    double *weight = m->weight;
    for (int k = 0; k < e->smooth; k++) {
        const double *own = e->smooth_terms + (size_t)k * SMOOTH_NUMBERS;
        *weight++ = own[0] * exp(own[2] * ln_tau);
    }
    for (int k = 0; k < e->bells; k++) {
        const double *own = e->bell_terms + (size_t)k * BELL_NUMBERS, v = m->tau - own[5];
        *weight++ = own[0] * exp(own[2] * ln_tau - own[4] * v * v);
    }
}

void reference_ready(ReferenceEquation *e)
{
    e->common.at = at;
    e->common.to_pressure = helmholtz_to_pressure;
    e->gives.isotherm = isotherm_of;
    e->gives.plain = plain;
    e->gives.along = in_direction;
    e->gives.warmer = warmer;
    e->gives.bend = bend;
    e->gives.roots = roots;
    e->gives.has_branches = has_branches;
}
