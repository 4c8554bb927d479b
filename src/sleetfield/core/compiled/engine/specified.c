#include "specified.h"

#include "linear.h"
#include "progress.h"
#include "stability.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define T_REFERENCE 298.15
#define P_REFERENCE 1e5
#define LEAST_T 5.0
#define FROZEN_T 60.0
#define FROZEN (-25.0)
#define COLDS 50
#define MOST_T 20000.0
#define LEAST_P 1e-3
#define MOST_P 1e11
#define START_T 300.0
#define START_P 1e5
#define EXPANSIONS 40
#define SHORTEST 0.02
#define LOCATED 1e-3
#define NEARLY 1e-4 /* an error from which Newton's method comes to the answer */
#define ROUNDS 100
#define TRIES 4 /* flashes from which everything is solved at once, each where the last one led, as long as that leaves less than so much of the error */
#define NEARER 0.95
#define NO_ERROR 1e-14
#define NO_STEP 1e-15
#define LEAST_SHARE 1e-6 /* that a phase starts with */
#define MISSED 1e-7
#define SAME 1e-3
#define A_LITTLE 0.02
#define NOISE 1e-12
#define HARDLY 1e-6 /* more than what a phase that is about to leave would make of it */
#define ASIDE 1e-6 /* from a jump: nearer, the phases of either side could pass for both */
#define JUMP 1e-3
#define FAR_AWAY 5.0
#define CONVERGED 1e-10
#define STEPS 40
#define PATIENCE 12
#define TRACE 1e-30
#define LEAST 1e-250
#define MOST_UNKNOWNS (MOST_PHASES * MOST_COMPONENTS + 2)

/* A search under way: the last flash, and K-values to start the next one from. */
typedef struct {
    const Specified *s;
    int of_T;              /* whether temperature is what is sought */
    double scale[2], mass; /* what errors are measured by; of the feed */
    Fluid bound;
    Flashed at;
    int settled, asked; /* whether there is such a last flash, and how much is asked of each on the way */
} Search;

static void bind(Search *h, double ln_u)
{
    if (h->of_T)
        fluid_at(h->s->equation, exp(ln_u), h->s->given[0].value, &h->bound);
    else
        fluid_to_pressure(h->s->equation, exp(ln_u), &h->bound);
}

/* What phases are asked for as once they are known: a vapor and liquids where the first one is a vapor. */
static void kinds_of(const Flashed *f, int *kinds)
{
    const int apart = f->n_phases > 1 && f->is_vapor == YES;
    for (int k = 0; k < f->n_phases; k++) kinds[k] = !apart ? STABLE : k == 0 ? VAPOR : LIQUID;
}

/* One of V, H, S and U of a phase, and its derivatives by temperature, pressure and mole numbers. */
typedef struct {
    double value, by_T, by_P;
    double partial[MOST_COMPONENTS];
} Property;

static void property(const Search *h, int name, const double *x, const Evaluation *e, Property *out)
{
    const int c = h->s->equation->c;
    const double R = h->s->equation->R, T = h->bound.at.T, P = h->bound.at.P, RT = h->bound.at.RT;
    const double V = e->Z * RT / P, V_T = R / P * (e->Z + T * e->Z_T), V_P = RT / P * (e->Z_P - e->Z / P);
    double g_T = 0.0, H = 0.0, S = 0.0, cp = 0.0;
    for (int i = 0; i < c; i++) {
        const IdealGas g = name == OF_V ? (IdealGas){0.0, 0.0, 0.0} : ideal_gas(h->s->ideal, i, T);
        const double volume = RT * (1.0 / P + e->dP[i]), enthalpy = g.h - R * T * T * e->dT[i];
        const double entropy = g.s - R * (log(P / P_REFERENCE) + log(x[i]) + e->ln_phi[i] + T * e->dT[i]);
        g_T += x[i] * e->dT[i];
        H += x[i] * enthalpy;
        S += x[i] * entropy;
        cp += x[i] * g.cp;
        out->partial[i] = name == OF_V ? volume : name == OF_H ? enthalpy : name == OF_S ? entropy : enthalpy - P * volume;
    }
    const double Cp = cp - R * (2.0 * T * g_T + T * T * e->g_TT), H_P = V - T * V_T;
    switch (name) {
    case OF_V:
        out->value = V;
        out->by_T = V_T;
        out->by_P = V_P;
        break;
    case OF_H:
        out->value = H;
        out->by_T = Cp;
        out->by_P = H_P;
        break;
    case OF_S:
        out->value = S;
        out->by_T = Cp / T;
        out->by_P = -V_T;
        break;
    default:
        out->value = H - P * V;
        out->by_T = Cp - P * V_T;
        out->by_P = H_P - V - P * V_P;
    }
}

static Property of_phase(const Search *h, const double *x, int kind)
{
    Evaluation e;
    Property p;
    h->bound.phase.evaluate(&h->bound.phase, x, kind, &e);
    property(h, h->s->given[1].name, x, &e, &p);
    return p;
}

static int is_share(int name)
{
    return name == OF_VAPOR || name == OF_VAPOR_MASS;
}

static double mass_of(const Specified *s, const double *x)
{
    double mass = 0.0;
    for (int i = 0; i < s->equation->c; i++) mass += x[i] * s->molar_mass[i];
    return mass;
}

/* How far a quantity is above its target, by its scale; of volumes, which go over many decades, the logarithm of what they are over their target. */
static double error_of(const Search *h, double value)
{
    const Quantity wanted = h->s->given[1];
    return wanted.name == OF_V ? log(value / wanted.value) : (value - wanted.value) / h->scale[1];
}

/* The same of the phases at hand. */
static double error_of_phases(const Search *h)
{
    const Specified *s = h->s;
    const Flashed *f = &h->at;
    const int name = s->given[1].name;
    double total = 0.0;
    if (is_share(name)) {
        const double share = f->is_vapor != YES ? 0.0 : f->n_phases == 1 ? 1.0 : f->amount[0];
        total = name == OF_VAPOR || f->n_phases == 1 ? share : share * mass_of(s, f->x[0]) / h->mass;
    } else {
        int kinds[MOST_PHASES];
        kinds_of(f, kinds);
        for (int k = 0; k < f->n_phases; k++) total += f->amount[k] * of_phase(h, f->x[k], kinds[k]).value;
    }
    return error_of(h, total);
}

/* The phases at the temperature and pressure that are bound, from rough K-values or those given; whether they are settled. */
static int flash_here(Search *h, const double *known)
{
    double ln_k[MOST_COMPONENTS];
    if (known != NULL)
        memcpy(ln_k, known, sizeof(double) * (size_t)h->s->equation->c);
    else {
        rough_ln_saturation(h->s->equation, h->bound.at.T, ln_k);
        for (int i = 0; i < h->s->equation->c; i++) ln_k[i] -= log(h->bound.at.P);
    }
    return flash_state(&h->bound.phase, h->s->z, ln_k, h->asked, &h->at) && h->at.is_vapor != UNSURE;
}

/* How far the quantity of the phases is off where the logarithm of the unknown is ln_u; NaN where the phases are not settled. */
static double error_at(Search *h, double ln_u)
{
    double ln_k[MOST_COMPONENTS];
    const int near = h->settled && h->at.n_phases == 2;
    bind(h, ln_u);
    for (int i = 0; near && i < h->s->equation->c; i++) ln_k[i] = log(h->at.x[0][i]) - log(h->at.x[1][i]);
    h->settled = flash_here(h, near ? ln_k : NULL);
    return h->settled ? error_of_phases(h) : NAN;
}

/* The same of the feed as one phase, and its slope. */
static double single_error_at(Search *h, double ln_u, double *slope)
{
    bind(h, ln_u);
    const Property p = of_phase(h, h->s->z, STABLE);
    *slope = (h->of_T ? h->bound.at.T * p.by_T : h->bound.at.P * p.by_P) / (h->s->given[1].name == OF_V ? p.value : h->scale[1]);
    return error_of(h, p.value);
}

/* Two ends with the errors there, on both sides of zero. */
typedef struct {
    double low, high, at_low, at_high;
} Bracket;

/* How cold states are sought: coldest.py for one mixture. */
static double coldest(const Specified *s)
{
    double ln_P[MOST_COMPONENTS];
    for (int k = 0; k < COLDS; k++) {
        const double T = FROZEN_T * pow(LEAST_T / FROZEN_T, k / (COLDS - 1.0));
        double mean = 0.0;
        rough_ln_saturation(s->equation, T, ln_P);
        for (int i = 0; i < s->equation->c; i++) mean += s->z[i] * ln_P[i];
        if (mean < FROZEN) return T;
    }
    return LEAST_T;
}

/* Where a bracket is looked for from: the pressure that the feed as one phase has in a given volume, else usual conditions. */
static double usual(const Search *h)
{
    const Phase *m = &h->bound.phase;
    if (h->of_T) return START_T;
    if (h->s->given[1].name != OF_V || m->pressure == NULL) return START_P;
    const double P = m->pressure(m, h->s->given[1].value, h->s->z);
    return P > LEAST_P && P < MOST_P ? P : START_P;
}

/* MET with one, AWAY where there is none up to where states are sought at most, or there are no more of them; and how far away the target still is there. */
static int bracket(Search *h, Bracket *b, double *away)
{
    const double least = log(h->of_T ? coldest(h->s) : LEAST_P), most = log(h->of_T ? MOST_T : MOST_P), rises = h->of_T ? 1.0 : -1.0;
    double here = log(usual(h)), step = h->of_T ? 0.15 : 1.0, error = error_at(h, here);
    const double direction = error > 0.0 ? -rises : rises;
    if (!isfinite(error)) return OPEN;
    for (int n = 0; n < EXPANSIONS; n++) {
        double there = here + step * direction;
        there = there < least ? least : there > most ? most : there;
        const double found = error_at(h, there);
        if (!isfinite(found)) {
            /* there may be no such state, as beyond the densest of an equation: not so far */
            step *= 0.5;
            if (step < SHORTEST) {
                *away = fabs(error);
                return AWAY;
            }
            continue;
        }
        if ((found > 0.0) != (error > 0.0)) {
            const int up = there > here;
            *b = (Bracket){up ? here : there, up ? there : here, up ? error : found, up ? found : error};
            return MET;
        }
        if (there <= least || there >= most) {
            *away = fabs(found);
            return AWAY;
        }
        here = there;
        error = found;
        step *= 1.25;
    }
    return OPEN;
}

/* Where about flashes have the quantity: inside a bracket by the chord, weighted where it keeps to one side (Illinois), and by halves where that is slow. NaN
   where a flash is not settled. */
static double located(Search *h, Bracket *b)
{
    double weight_low = 1.0, weight_high = 1.0;
    for (int n = 0; n < ROUNDS; n++) {
        const double width = b->high - b->low, one = weight_low * b->at_low, other = weight_high * b->at_high;
        double u = b->low + width * one / (one - other);
        if (n % 4 == 3 || !(u > b->low && u < b->high)) u = b->low + 0.5 * width;
        const double e = error_at(h, u);
        if (!isfinite(e) || fabs(e) <= NEARLY || u <= b->low || u >= b->high) return isfinite(e) ? u : NAN;
        if ((e > 0.0) == (b->at_low > 0.0)) {
            b->low = u;
            b->at_low = e;
            weight_low = 1.0;
            weight_high *= 0.5;
        } else {
            b->high = u;
            b->at_high = e;
            weight_high = 1.0;
            weight_low *= 0.5;
        }
        if (b->high - b->low <= LOCATED) return u;
    }
    return NAN;
}

/* Where the feed as one phase has the quantity, or jumps over it, by Newton's method inside a bracket; NaN where it does neither. */
static double single(Search *h, double low, double high)
{
    double slope, at_high, u, e = single_error_at(h, low, &slope);
    const int rises = e < 0.0;
    at_high = single_error_at(h, high, &slope);
    if (!isfinite(e) || !isfinite(at_high) || rises != (at_high > 0.0)) return NAN;
    u = low + (high - low) * e / (e - at_high);
    for (int n = 0; n < ROUNDS; n++) {
        e = single_error_at(h, u, &slope);
        if (!isfinite(e)) return NAN;
        if (fabs(e) <= NO_ERROR) return u;
        if ((e < 0.0) == rises)
            low = u;
        else
            high = u;
        double next = u - e / slope;
        if (!(next > low && next < high)) next = 0.5 * (low + high);
        if (fabs(next - u) <= NO_STEP) return next;
        u = next;
    }
    return NAN;
}

/* Phases at the unknowns of `equations`. */
typedef struct {
    int count;
    const int *kinds; /* what they are asked for as */
    double x[MOST_PHASES][MOST_COMPONENTS], amount[MOST_PHASES];
    Evaluation e[MOST_PHASES];
} Several;

/* How far a quantity of them is off, and its row of derivatives. */
static double off_by(const Search *h, const Several *p, Quantity wanted, double scale, double *row)
{
    const Specified *s = h->s;
    const int c = s->equation->c, to_T = p->count * c, to_P = to_T + 1, name = wanted.name;
    double total = 0.0;
    if (name == OF_T || name == OF_P) {
        row[name == OF_T ? to_T : to_P] = 1.0;
        return log(name == OF_T ? h->bound.at.T : h->bound.at.P) - log(wanted.value);
    }
    if (is_share(name)) {
        for (int i = 0; p->kinds[0] == VAPOR && i < c; i++) total += row[i] = p->amount[0] * p->x[0][i] * (name == OF_VAPOR ? 1.0 : s->molar_mass[i] / h->mass);
        return (total - wanted.value) / scale;
    }
    for (int k = 0; k < p->count; k++) {
        Property own;
        property(h, name, p->x[k], &p->e[k], &own);
        total += p->amount[k] * own.value;
        for (int i = 0; i < c; i++) row[k * c + i] = p->amount[k] * p->x[k][i] * own.partial[i] / scale;
        row[to_T] += p->amount[k] * own.by_T * h->bound.at.T / scale;
        row[to_P] += p->amount[k] * own.by_P * h->bound.at.P / scale;
    }
    return (total - wanted.value) / scale;
}

/* Equal fugacities, balances and what is specified, in ln n, ln T and ln P; the first phase is the one that the others are compared with. Returns the largest
   error that counts. */
static double equations(Search *h, int count, const double *u, const int *kinds, double *f, double *J)
{
    const Specified *s = h->s;
    const int c = s->equation->c, to_T = count * c, to_P = to_T + 1, size = to_T + 2, balances = (count - 1) * c;
    double phi[MOST_COMPONENTS], dn[MOST_COMPONENTS * MOST_COMPONENTS], most = 0.0;
    Several p = {.count = count, .kinds = kinds};
    fluid_at(s->equation, exp(u[to_T]), exp(u[to_P]), &h->bound);
    memset(J, 0, sizeof(double) * (size_t)size * size);
    for (int k = 0; k < count; k++) {
        p.amount[k] = 0.0;
        for (int i = 0; i < c; i++) p.amount[k] += p.x[k][i] = exp(u[k * c + i]);
        for (int i = 0; i < c; i++) p.x[k][i] /= p.amount[k];
        h->bound.phase.evaluate(&h->bound.phase, p.x[k], kinds[k], &p.e[k]);
        h->bound.phase.derivatives(&h->bound.phase, p.x[k], kinds[k], phi, dn);
        const double sign = k == 0 ? -1.0 : 1.0;
        for (int other = k == 0 ? 1 : k; other < (k == 0 ? count : k + 1); other++)
            for (int i = 0; i < c; i++) {
                double *row = J + (size_t)((other - 1) * c + i) * size;
                for (int j = 0; j < c; j++) row[k * c + j] = sign * p.x[k][j] * (dn[(size_t)i * c + j] - 1.0);
                row[k * c + i] += sign;
                row[to_T] += sign * h->bound.at.T * p.e[k].dT[i];
                row[to_P] += sign * h->bound.at.P * p.e[k].dP[i];
            }
        for (int i = 0; i < c; i++) J[(size_t)(balances + i) * size + k * c + i] = p.amount[k] * p.x[k][i] / s->z[i];
    }
    for (int i = 0; i < c; i++) {
        double high = -HUGE_VAL, low = HUGE_VAL;
        int known = 1;
        f[balances + i] = -1.0;
        for (int k = 0; k < count; k++) {
            f[balances + i] += p.amount[k] * p.x[k][i] / s->z[i];
            const double ln_f = log(p.x[k][i]) + p.e[k].ln_phi[i];
            if (k > 0) f[(k - 1) * c + i] = ln_f - log(p.x[0][i]) - p.e[0].ln_phi[i];
            if (!(p.x[k][i] > ABSENT)) continue;
            high = fmax(high, ln_f);
            low = fmin(low, ln_f);
            known &= !isnan(ln_f);
        }
        /* of less than that numbers do not reach to where fugacities would be equal */
        if (s->z[i] > TRACE && !(high - low <= most)) most = known ? high - low : NAN;
        if (s->z[i] > TRACE && !(fabs(f[balances + i]) <= most)) most = fabs(f[balances + i]);
    }
    for (int k = 0; k < 2; k++) {
        const double off = f[to_T + k] = off_by(h, &p, s->given[k], h->scale[k], J + (size_t)(to_T + k) * size);
        if (!(fabs(off) <= most)) most = fabs(off);
    }
    return most;
}

/* Newton's method from the phases of a flash at hand to the best unknowns on the way; their error, NaN where there is none. */
static double solved(Search *h, const int *kinds, double *best)
{
    const Specified *s = h->s;
    const int c = s->equation->c, count = h->at.n_phases, moles = count * c, size = moles + 2;
    double u[MOST_UNKNOWNS], f[MOST_UNKNOWNS], J[MOST_UNKNOWNS * MOST_UNKNOWNS];
    const double start[2] = {log(h->bound.at.T), log(h->bound.at.P)}, room[2] = {0.4, 4.0}, longest[2] = {0.05, 0.5};
    Progress progress = at_the_start();
    for (int k = 0; k < count; k++)
        for (int i = 0; i < c; i++) {
            const double n = h->at.amount[k] * h->at.x[k][i], floor = s->z[i] > ABSENT ? LEAST : ABSENT;
            u[k * c + i] = log(n > floor ? n : floor);
        }
    memcpy(u + moles, start, sizeof start);
    memcpy(best, u, sizeof(double) * (size_t)size);
    for (int n = 0; n < STEPS; n++) {
        const double error = equations(h, count, u, kinds, f, J);
        if (noted(&progress, error)) memcpy(best, u, sizeof(double) * (size_t)size);
        if (!goes_on(&progress, 0.01 * CONVERGED, PATIENCE)) break;
        if (!all_finite(size, f) || !all_finite(size * size, J) || !solve_linear(size, J, f)) break;
        double most = 0.0;
        for (int i = 0; i < size; i++) {
            const double part = fabs(f[i]) / (i < moles ? 1.0 : longest[i - moles]);
            if ((i >= moles || (s->z[i % c] > TRACE && u[i] > log(ABSENT))) && part > most) most = part;
        }
        if (most > 1.0) progress.since--;
        for (int i = 0; i < size; i++) {
            double low = log(LEAST), high = 1.0;
            if (i >= moles) {
                low = start[i - moles] - room[i - moles];
                high = start[i - moles] + room[i - moles];
            }
            u[i] -= f[i] / (most > 1.0 ? most : 1.0);
            u[i] = u[i] < low ? low : u[i] > high ? high : u[i];
        }
    }
    return progress.least;
}

/* Phases that solve the equations, at temperature and pressure as they are given or found; 0 where a further one would form. */
static int stable(Search *h, const int *kinds, const double *best, double residual, double *T, double *P)
{
    const Specified *s = h->s;
    const int c = s->equation->c, count = h->at.n_phases, moles = count * c;
    double all = 0.0, trial[MOST_COMPONENTS];
    Phases p = {.count = count, .residual = residual};
    for (int k = 0; k < count; k++) {
        p.amount[k] = 0.0;
        for (int i = 0; i < c; i++) p.amount[k] += p.x[k][i] = exp(best[k * c + i]);
        for (int i = 0; i < c; i++) {
            p.x[k][i] /= p.amount[k];
            if (!(p.x[k][i] > ABSENT)) p.x[k][i] = ABSENT;
        }
        all += p.amount[k];
    }
    for (int k = 0; k < count; k++) p.amount[k] /= all;
    *T = s->given[0].name == OF_T ? s->given[0].value : exp(best[moles]);
    *P = s->given[0].name == OF_P ? s->given[0].value : exp(best[moles + 1]);
    fluid_at(s->equation, *T, *P, &h->bound);
    const double tm = tested(&h->bound.phase, s->z, &p, kinds[0], trial);
    if (!(tm >= UNSTABLE)) return 0;
    in_order(&h->bound.phase, &p, kinds, tm, &h->at);
    return h->at.is_vapor != UNSURE;
}

/* Several phases at once, from the flash at hand; 0 where that leads nowhere. */
static int together(Search *h, double *T, double *P)
{
    double best[MOST_UNKNOWNS];
    int kinds[MOST_PHASES];
    kinds_of(&h->at, kinds);
    const double error = solved(h, kinds, best);
    return error <= CONVERGED && stable(h, kinds, best, error, T, P);
}

/* One phase, where the feed as one has the quantity; 0 where there are several phases after all. */
static int alone(Search *h, const Bracket *b, double *T, double *P)
{
    const double ln_u = single(h, b->low, b->high);
    if (isnan(ln_u)) return 0;
    bind(h, ln_u);
    h->asked = EVERY_PHASE;
    if (!flash_here(h, NULL) || h->at.n_phases != 1 || h->at.tm < UNSTABLE) return 0;
    *T = h->bound.at.T;
    *P = h->bound.at.P;
    return 1;
}

/* Several phases at once from either end of a bracket within which they are lost. */
static int beside(Search *h, const Bracket *b, double *T, double *P)
{
    const double ends[2] = {b->low, b->high};
    for (int k = 0; k < 2; k++) {
        bind(h, ends[k]);
        if (flash_here(h, NULL) && h->at.n_phases > 1 && together(h, T, P)) return 1;
    }
    return 0;
}

/* Whether two phases are the same. */
static int same(const Search *h, double Z, const double *x, double other_Z, const double *other)
{
    double apart = fabs(Z / other_Z - 1.0);
    for (int i = 0; i < h->s->equation->c; i++) apart = fmax(apart, fabs(x[i] - other[i]));
    return apart < SAME;
}

/* A part of the phases of one side of a jump, beside those that there are already; 0 where they become too many. */
static int added(const Search *h, const Flashed *side, double part, Flashed *all)
{
    for (int k = 0; k < side->n_phases; k++) {
        int at = 0;
        while (at < all->n_phases && !same(h, all->Z[at], all->x[at], side->Z[k], side->x[k])) at++;
        if (at == MOST_PHASES) return 0;
        if (at == all->n_phases) {
            all->amount[at] = 0.0;
            all->Z[at] = side->Z[k];
            memcpy(all->x[at], side->x[k], sizeof(double) * (size_t)h->s->equation->c);
            all->n_phases++;
        }
        all->amount[at] += part * side->amount[k];
    }
    return 1;
}

/* Where the quantity jumps, as that of a binary mixture of three phases does: the phases of both sides together, in shares that follow from how far each is off. */
static int across(Search *h, const Bracket *b, double *T, double *P)
{
    Flashed sides[2], all = {.n_phases = 0};
    double low = b->low, high = b->high, off[2];
    const int rises = b->at_low < 0.0;
    for (int n = 0; n < ROUNDS && high - low > ASIDE; n++) {
        const double middle = 0.5 * (low + high), e = error_at(h, middle);
        if (!isfinite(e)) return 0;
        if ((e < 0.0) == rises)
            low = middle;
        else
            high = middle;
    }
    for (int k = 0; k < 2; k++) {
        off[k] = error_at(h, k == 0 ? low : high);
        if (!isfinite(off[k])) return 0;
        sides[k] = h->at;
    }
    if (!(fabs(off[1] - off[0]) > JUMP)) return 0;
    const double share = off[0] / (off[0] - off[1]);
    /* the side with a vapor first, whose first phase that is */
    const int first = sides[1].is_vapor == YES;
    if (!added(h, &sides[first], first ? share : 1.0 - share, &all) || !added(h, &sides[!first], first ? 1.0 - share : share, &all)) return 0;
    for (int k = 0; k < all.n_phases; k++)
        if (!(all.amount[k] > LEAST_SHARE)) all.amount[k] = LEAST_SHARE;
    all.is_vapor = sides[first].is_vapor;
    h->at = all;
    bind(h, 0.5 * (low + high));
    return all.n_phases > 1 && together(h, T, P);
}

/* Whether the feed is of one component, so that all of it boils at once. */
static int is_pure(const Specified *s)
{
    int there = 0;
    for (int i = 0; i < s->equation->c; i++) there += s->z[i] > ABSENT;
    return there == 1;
}

/* A vapor and a liquid of one component, in shares that follow from what both have of the quantity near where it boils. */
static int boiling(Search *h, const Bracket *b, double *T, double *P)
{
    const Specified *s = h->s;
    double share = s->given[1].value;
    bind(h, 0.5 * (b->low + b->high));
    if (!is_share(s->given[1].name)) {
        const double vapor = of_phase(h, s->z, VAPOR).value, liquid = of_phase(h, s->z, LIQUID).value;
        share = (share - liquid) / (vapor - liquid);
    }
    if (!(share >= 0.0 && share <= 1.0)) return 0;
    share = share < LEAST_SHARE ? LEAST_SHARE : share > 1.0 - LEAST_SHARE ? 1.0 - LEAST_SHARE : share;
    h->at.n_phases = 2;
    h->at.is_vapor = YES;
    for (int k = 0; k < 2; k++) {
        h->at.amount[k] = k == 0 ? share : 1.0 - share;
        memcpy(h->at.x[k], s->z, sizeof(double) * (size_t)s->equation->c);
    }
    return together(h, T, P);
}

/* Whether the second quantity rises or falls steadily with what is sought: then it has its target nowhere where it does not pass it. */
static int is_steady(const Specified *s)
{
    const int name = s->given[1].name;
    return s->given[0].name == OF_P ? !is_share(name) : name == OF_S || name == OF_V;
}

/* Whether the phases at hand have the quantity, and leave the unknown open to neither side, as an incompressible liquid and an ideal vapor do the pressure. */
static int met(const Search *h)
{
    if (!(fabs(error_of_phases(h)) <= MISSED)) return 0;
    /* enthalpies and entropies always tell the temperature */
    const int name = h->s->given[1].name;
    if (is_share(name) || (h->of_T && name != OF_V) || (h->at.n_phases > 1 && is_steady(h->s))) return 1;
    const double ln_u = log(h->of_T ? h->bound.at.T : h->bound.at.P);
    for (int k = -1; k <= 1; k += 2) {
        Search aside = *h;
        const double off = error_at(&aside, ln_u + k * A_LITTLE);
        if (!(fabs(off - error_of_phases(h)) >= (h->at.n_phases > 1 ? HARDLY : NOISE))) return 0;
    }
    return 1;
}

static int sought(Search *h, double *T, double *P, double *away)
{
    Bracket b;
    h->settled = 0;
    const int how = bracket(h, &b, away);
    if (how != MET) return how;
    if (isnan(located(h, &b))) return OPEN;
    int found = h->at.n_phases > 1 && together(h, T, P);
    if (h->at.n_phases == 1 && !is_share(h->s->given[1].name)) found = alone(h, &b, T, P);
    found = (found || beside(h, &b, T, P) || across(h, &b, T, P)) && met(h);
    return found || (is_pure(h->s) && boiling(h, &b, T, P) && met(h)) ? MET : OPEN;
}

static double scale_of(const Specified *s, Quantity wanted)
{
    const double R = s->equation->R, T = s->given[0].name == OF_T ? s->given[0].value : T_REFERENCE;
    switch (wanted.name) {
    case OF_V: return fabs(wanted.value);
    case OF_S: return R;
    case OF_H:
    case OF_U: return R * T;
    default: return 1.0;
    }
}

static void begin(const Specified *s, Search *h)
{
    const int by_mass = s->given[0].name == OF_VAPOR_MASS || s->given[1].name == OF_VAPOR_MASS;
    h->s = s;
    h->of_T = s->given[0].name != OF_T;
    h->asked = EVERY_PHASE;
    h->settled = 0;
    h->mass = by_mass ? mass_of(s, s->z) : 1.0;
    for (int k = 0; k < 2; k++) h->scale[k] = scale_of(s, s->given[k]);
}

int specified_state(const Specified *s, double *T, double *P, Flashed *out)
{
    Search h;
    int how = OPEN;
    begin(s, &h);
    if (!h.of_T) fluid_at(s->equation, s->given[0].value, 1.0, &h.bound);
    if (!isfinite(s->given[1].value)) return OPEN;
    /* what comes out is tested anyway */
    for (int asked = BY_K_VALUES; asked <= EVERY_PHASE; asked++) {
        double away = 0.0;
        h.asked = asked;
        const int found = sought(&h, T, P, &away);
        if (found == MET) {
            *out = h.at;
            return MET;
        }
        /* further phases than those by K-values change no more than that */
        if (found == AWAY && is_steady(s) && (asked == EVERY_PHASE || away > FAR_AWAY)) how = AWAY;
    }
    return how;
}

int state_near(const Specified *s, double *T, double *P, Flashed *out)
{
    Search h;
    double best[MOST_UNKNOWNS], at_T = *T, at_P = *P;
    int kinds[MOST_PHASES];
    begin(s, &h);
    double before = HUGE_VAL;
    for (int round = 0; round < TRIES; round++) {
        fluid_at(s->equation, at_T, at_P, &h.bound);
        if (!flash_here(&h, NULL)) return OPEN;
        const int moles = h.at.n_phases * s->equation->c;
        kinds_of(&h.at, kinds);
        const double error = solved(&h, kinds, best);
        if (error <= CONVERGED && stable(&h, kinds, best, error, T, P)) {
            *out = h.at;
            return MET;
        }
        if (!(error < NEARER * before)) break;
        before = error;
        at_T = exp(best[moles]);
        at_P = exp(best[moles + 1]);
    }
    return AWAY;
}
