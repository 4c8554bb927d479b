/* The Python module `_engine`: loops over states on plain buffers, without the interpreter's lock. */
#include "source.h"

#include "critical.h"
#include "flash.h"
#include "line.h"
#include "saturation.h"
#include "specified.h"
#include "split.h"
#include "softest.h"
#include "stability.h"
#include "vapor_side.h"

#include <math.h>
#include <string.h>

/* Rows of an array (N, C) that is kept row by row or component by component. */
typedef struct {
    const double *values;
    Py_ssize_t of_state, of_component;
} Rows;

static Rows rows(const double *values, Py_ssize_t n, Py_ssize_t c, int by_component)
{
    Rows r = {values, by_component ? 1 : c, by_component ? n : 1};
    return r;
}

static void row(const Rows *r, Py_ssize_t state, int c, double *out)
{
    for (int i = 0; i < c; i++) out[i] = r->values[state * r->of_state + i * r->of_component];
}

/* Phases x (N, C) of a model at many states, all of one kind or each of its own: what most calls are about. */
typedef struct {
    Source all;
    Rows x;
    int kind;
    const signed char *of_each;
    Buffers buffers;
    int failed;
} Given;

static void phases_of(Given *p, PyObject *model, Py_ssize_t n, Py_ssize_t c, PyObject *x, int by_component, int kind, PyObject *kinds)
{
    p->buffers.count = p->failed = 0;
    p->kind = kind;
    source_of(model, n, c, &p->all, &p->buffers, &p->failed);
    p->x = rows(numbers(&p->buffers, x, n * c, sizeof(double), 0, &p->failed), n, c, by_component);
    p->of_each = numbers(&p->buffers, kinds, n, 1, 0, &p->failed);
}

static double *results(Given *p, PyObject *array, Py_ssize_t count)
{
    return numbers(&p->buffers, array, count, sizeof(double), 1, &p->failed);
}

static signed char *marks(Given *p, PyObject *array, Py_ssize_t count)
{
    return numbers(&p->buffers, array, count, 1, 1, &p->failed);
}

/* The model and the mole fractions of one state, and which kind of phase it is. */
static int phase_at(const Given *p, Py_ssize_t state, Fluid *one, double *x)
{
    bound_at(&p->all, state, one);
    row(&p->x, state, p->all.c, x);
    return p->of_each == NULL ? p->kind : p->of_each[state];
}

static PyObject *finished(Buffers *buffers, int failed)
{
    release(buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* Where results go: (N,), (N, F), (N, F, C). */
typedef struct {
    Py_ssize_t most;
    long long *n_phases;
    double *amount, *x, *Z, *residual, *tm;
    signed char *kinds, *status;
} Results;

/* A feed without zeros. */
static void present(int c, const double *feed, double *z)
{
    for (int i = 0; i < c; i++) z[i] = feed[i] > ABSENT ? feed[i] : ABSENT;
}

enum { UNSETTLED = 0, SETTLED = 1, UNNAMED = 2, NOWHERE = 3, LOOSE = 4 };

static double mass_density(int c, const double *x, double Z, const double *molar_mass)
{
    double mass = 0.0;
    for (int i = 0; i < c; i++) mass += x[i] * (molar_mass == NULL ? 1.0 : molar_mass[i]);
    return mass / Z;
}

/* Liquids in the order of their mass densities; a vapor stays the first. */
static void in_order_of_density(const Flashed *f, int c, const double *molar_mass, int *order)
{
    double density[MOST_PHASES];
    const int first = f->is_vapor == NO ? 0 : 1;
    for (int k = 0; k < f->n_phases; k++) {
        int at = k;
        density[k] = mass_density(c, f->x[k], f->Z[k], molar_mass);
        for (; at > first && density[k] < density[order[at - 1]]; at--) order[at] = order[at - 1];
        order[at] = k;
    }
}

static void put(const Results *r, Py_ssize_t state, int c, const double *feed, const double *molar_mass, const Flashed *f)
{
    int order[MOST_PHASES];
    in_order_of_density(f, c, molar_mass, order);
    r->n_phases[state] = f->n_phases;
    r->residual[state] = f->residual;
    r->tm[state] = f->tm;
    for (int k = 0; k < f->n_phases; k++) {
        const int from = order[k];
        const Py_ssize_t at = state * r->most + k;
        r->amount[at] = f->amount[from];
        r->Z[at] = f->Z[from];
        r->kinds[at] = k == 0 && f->is_vapor == YES ? VAPOR : LIQUID;
        for (int i = 0; i < c; i++) r->x[at * c + i] = feed[i] > 0.0 ? (f->n_phases == 1 ? feed[i] : f->x[from][i]) : 0.0;
    }
    r->status[state] = f->is_vapor == UNSURE ? UNNAMED : f->tm < UNSTABLE ? LOOSE : SETTLED;
}

static void flash_each(const Source *all, int asked, const double *feed, const double *ln_k, const double *molar_mass, const Results *r)
{
    const int c = all->c;
    double z[MOST_COMPONENTS];
    for (Py_ssize_t state = 0; state < all->n; state++) {
        Fluid model;
        Flashed found;
        bound_at(all, state, &model);
        present(c, feed + state * c, z);
        r->status[state] = UNSETTLED;
        if (flash_state(&model.phase, z, ln_k + state * c, asked, &found)) put(r, state, c, feed + state * c, molar_mass, &found);
    }
}

/* From (n_phases, amount, x, Z, kinds, residual, tm) as FlashResult has them, and what became of each state. */
static void results_of(Results *r, PyObject *arrays, PyObject *status, Py_ssize_t n, Py_ssize_t c, Buffers *buffers, int *failed)
{
    PyObject *n_phases, *amount, *x, *Z, *kinds, *residual, *tm;
    if (*failed) return;
    if (!PyArg_ParseTuple(arrays, "OOOOOOO", &n_phases, &amount, &x, &Z, &kinds, &residual, &tm)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    r->n_phases = numbers(buffers, n_phases, n, sizeof(long long), 1, failed);
    r->amount = numbers(buffers, amount, n * r->most, d, 1, failed);
    r->x = numbers(buffers, x, n * r->most * c, d, 1, failed);
    r->Z = numbers(buffers, Z, n * r->most, d, 1, failed);
    r->kinds = numbers(buffers, kinds, n * r->most, 1, 1, failed);
    r->residual = numbers(buffers, residual, n, d, 1, failed);
    r->tm = numbers(buffers, tm, n, d, 1, failed);
    r->status = numbers(buffers, status, n, 1, 1, failed);
}

/* flash(model, n, c, most, whether every phase is asked for, molar_mass, feed, ln_k, results, status) */
static PyObject *flash_all(PyObject *self, PyObject *args)
{
    PyObject *model, *molar_mass, *feed, *ln_k, *found, *status;
    Py_ssize_t n, c;
    Source all;
    Results r;
    Buffers buffers = {.count = 0};
    int failed = 0, every;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnnpOOOO!O", &model, &n, &c, &r.most, &every, &molar_mass, &feed, &ln_k, &PyTuple_Type, &found, &status)) return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *masses = numbers(&buffers, molar_mass, c, d, 0, &failed);
    const double *feeds = numbers(&buffers, feed, n * c, d, 0, &failed);
    const double *guess = numbers(&buffers, ln_k, n * c, d, 0, &failed);
    results_of(&r, found, status, n, c, &buffers, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        flash_each(&all, every ? EVERY_PHASE : BY_K_VALUES, feeds, guess, masses, &r);
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

/* From (coefficients, kinds, values, ranges, references), see ideal_gases.py; None where nothing of them is asked for. */
static void ideal_gases_of(PyObject *gases, Py_ssize_t c, IdealGases *all, Buffers *buffers, int *failed)
{
    PyObject *kinds, *values, *ranges, *references;
    if (*failed || gases == Py_None) return;
    if (!PyArg_ParseTuple(gases, "iOOOO", &all->coefficients, &kinds, &values, &ranges, &references)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    all->c = (int)c;
    all->kind = numbers(buffers, kinds, c, 1, 0, failed);
    all->values = numbers(buffers, values, c * all->coefficients, d, 0, failed);
    all->ranges = numbers(buffers, ranges, 2 * c, d, 0, failed);
    all->references = numbers(buffers, references, 2 * c, d, 0, failed);
    for (Py_ssize_t i = 0; i < c && !*failed; i++) {
        const int kind = all->kind[i];
        if (kind < HEAT_CAPACITIES && all->coefficients >= (kind < 0 ? 1 : heat_capacity_coefficients[kind])) continue;
        PyErr_SetString(PyExc_ValueError, "there is no such heat capacity, or it lacks coefficients");
        *failed = 1;
    }
}

/* What all states of two quantities have in common, and each of its own. */
typedef struct {
    Source all;
    Results results;
    IdealGases ideal;
    const double *masses, *feeds, *values[2];
    double *T, *P;
    int names[2];
    Buffers buffers;
    int failed;
} Wanted;

/* Whether there are such quantities, and what they rest on. */
static int known_quantities(const Wanted *w, int least, PyObject *molar_mass, PyObject *gases)
{
    int known = 1;
    for (int k = 0; k < 2; k++) {
        const int name = w->names[k];
        known &= name >= (k == 0 ? least : 0) && name < (k == 0 && least == OF_T ? OF_P + 1 : QUANTITIES);
        known &= !(name == OF_VAPOR_MASS && molar_mass == Py_None) && !((name == OF_H || name == OF_S || name == OF_U) && gases == Py_None);
    }
    if (!known) PyErr_SetString(PyExc_ValueError, "there is no such quantity, or what it rests on is missing");
    return known;
}

/* From (model, n, c, most, molar_mass, ideal gases, feed, (name, name), values, values, T, P, results, status), see equation_loops.py; the first name is from `least` on. */
static int wanted_of(PyObject *args, int least, Wanted *w)
{
    PyObject *model, *molar_mass, *gases, *feed, *values[2], *T, *P, *found, *status;
    Py_ssize_t n, c;
    w->buffers.count = w->failed = 0;
    if (!PyArg_ParseTuple(args, "OnnnOOO(ii)OOOOO!O", &model, &n, &c, &w->results.most, &molar_mass, &gases, &feed, &w->names[0], &w->names[1], &values[0],
                          &values[1], &T, &P, &PyTuple_Type, &found, &status))
        return 0;
    if (!known_quantities(w, least, molar_mass, gases)) return 0;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &w->all, &w->buffers, &w->failed);
    ideal_gases_of(gases, c, &w->ideal, &w->buffers, &w->failed);
    w->masses = numbers(&w->buffers, molar_mass, c, d, 0, &w->failed);
    w->feeds = numbers(&w->buffers, feed, n * c, d, 0, &w->failed);
    for (int k = 0; k < 2; k++) w->values[k] = numbers(&w->buffers, values[k], n, d, 0, &w->failed);
    w->T = numbers(&w->buffers, T, n, d, 1, &w->failed);
    w->P = numbers(&w->buffers, P, n, d, 1, &w->failed);
    results_of(&w->results, found, status, n, c, &w->buffers, &w->failed);
    return 1;
}

static void solve_each(Wanted *w, int (*solve)(const Specified *, double *, double *, Flashed *))
{
    const int c = w->all.c;
    for (Py_ssize_t state = 0; state < w->all.n; state++) {
        double z[MOST_COMPONENTS];
        Flashed flashed;
        present(c, w->feeds + state * c, z);
        const Specified sought = {&w->all.of.equation, &w->ideal, w->masses, z, {{w->names[0], w->values[0][state]}, {w->names[1], w->values[1][state]}}};
        const int how = solve(&sought, w->T + state, w->P + state, &flashed);
        w->results.status[state] = how == AWAY ? NOWHERE : UNSETTLED;
        if (how == MET) put(&w->results, state, c, w->feeds + state * c, w->masses, &flashed);
    }
}

/* specified: temperature or pressure and another quantity; the model is bound to nothing */
static PyObject *specified_all(PyObject *self, PyObject *args)
{
    Wanted w;
    (void)self;
    if (!wanted_of(args, OF_T, &w)) return NULL;
    if (!w.failed) {
        Py_BEGIN_ALLOW_THREADS
        solve_each(&w, specified_state);
        Py_END_ALLOW_THREADS
    }
    return finished(&w.buffers, w.failed);
}

/* near: any two quantities, from temperatures and pressures that are nearby */
static PyObject *near_all(PyObject *self, PyObject *args)
{
    Wanted w;
    (void)self;
    if (!wanted_of(args, 0, &w)) return NULL;
    if (!w.failed) {
        Py_BEGIN_ALLOW_THREADS
        solve_each(&w, state_near);
        Py_END_ALLOW_THREADS
    }
    return finished(&w.buffers, w.failed);
}

/* ln_phi(model, n, c, x, by_component, kind, kinds, ln_phi): ln phi, component by component */
static PyObject *ln_phi_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *ln_phi;
    Py_ssize_t n, c;
    Given phases;
    int by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &ln_phi)) return NULL;
    phases_of(&phases, model, n, c, x, by_component, kind, kinds);
    double *out = results(&phases, ln_phi, n * c);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            double own[MOST_COMPONENTS], found[MOST_COMPONENTS];
            const int as = phase_at(&phases, state, &one, own);
            one.phase.ln_phi(&one.phase, own, as, found);
            for (int i = 0; i < c; i++) out[i * n + state] = found[i];
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* evaluate(model, n, c, x, by_component, kind, kinds, ln_phi, dT, dP, scalars): ln phi and its derivatives by T and P (N, C), and
   Z, Z_T, Z_P, g_TT (4, N) */
static PyObject *evaluate_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *ln_phi, *dT, *dP, *scalars;
    Py_ssize_t n, c;
    Given phases;
    int by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOOOOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &ln_phi, &dT, &dP, &scalars)) return NULL;
    phases_of(&phases, model, n, c, x, by_component, kind, kinds);
    double *to_phi = results(&phases, ln_phi, n * c), *to_T = results(&phases, dT, n * c);
    double *to_P = results(&phases, dP, n * c), *rest = results(&phases, scalars, 4 * n);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            Evaluation found;
            double own[MOST_COMPONENTS];
            const int as = phase_at(&phases, state, &one, own);
            one.phase.evaluate(&one.phase, own, as, &found);
            const size_t size = sizeof(double) * (size_t)c;
            memcpy(to_phi + state * c, found.ln_phi, size);
            memcpy(to_T + state * c, found.dT, size);
            memcpy(to_P + state * c, found.dP, size);
            rest[state] = found.Z;
            rest[n + state] = found.Z_T;
            rest[2 * n + state] = found.Z_P;
            rest[3 * n + state] = found.g_TT;
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* dn(model, n, c, x, by_component, kind, kinds, dn): n d ln phi_i/dn_j (N, C, C) */
static PyObject *dn_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *dn;
    Py_ssize_t n, c;
    Given phases;
    int by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &dn)) return NULL;
    phases_of(&phases, model, n, c, x, by_component, kind, kinds);
    double *out = results(&phases, dn, n * c * c);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            double own[MOST_COMPONENTS], found[MOST_COMPONENTS];
            const int as = phase_at(&phases, state, &one, own);
            one.phase.derivatives(&one.phase, own, as, found, out + state * c * c);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* describe(model, n, c, x, by_component, kind, kinds, Z, packing, found): and what kind of phase each is, by density and by name (2, N) */
static PyObject *describe_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *Z, *packing, *found;
    Py_ssize_t n, c;
    Given phases;
    int by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOOOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &Z, &packing, &found)) return NULL;
    phases_of(&phases, model, n, c, x, by_component, kind, kinds);
    double *to_Z = results(&phases, Z, n), *to_packing = results(&phases, packing, n);
    signed char *to_kinds = marks(&phases, found, 2 * n);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            Description own;
            double fraction[MOST_COMPONENTS];
            const int as = phase_at(&phases, state, &one, fraction);
            one.phase.describe(&one.phase, fraction, as, &own);
            to_Z[state] = own.Z;
            to_packing[state] = own.packing;
            to_kinds[state] = (signed char)own.kind;
            to_kinds[n + state] = (signed char)own.is_vapor;
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* dense_vapors(model, n, c, x, by_component, packing, names): the third rule of models/vapor_side.py for dense phases */
static PyObject *dense_vapors_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *packing, *names;
    Py_ssize_t n, c;
    Given phases;
    int by_component;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpOO", &model, &n, &c, &x, &by_component, &packing, &names)) return NULL;
    phases_of(&phases, model, n, c, x, by_component, STABLE, Py_None);
    need_equation(&phases.all, &phases.failed);
    const double *densities = numbers(&phases.buffers, packing, n, sizeof(double), 0, &phases.failed);
    signed char *to = marks(&phases, names, n);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            if (to[state] != UNSURE) continue;
            Fluid one;
            double fraction[MOST_COMPONENTS];
            phase_at(&phases, state, &one, fraction);
            to[state] = (signed char)dense_vapor(&one.phase, fraction, densities[state]);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* stability(model, n, c, z, d, ln_k, tm, trial): feeds z with d = ln z + ln phi, all row by row */
static PyObject *stability_all(PyObject *self, PyObject *args)
{
    PyObject *model, *z, *d, *ln_k, *tm, *trial;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOOOOO", &model, &n, &c, &z, &d, &ln_k, &tm, &trial)) return NULL;
    const Py_ssize_t size = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *feeds = numbers(&buffers, z, n * c, size, 0, &failed), *planes = numbers(&buffers, d, n * c, size, 0, &failed);
    const double *guess = numbers(&buffers, ln_k, n * c, size, 0, &failed);
    double *lowest = numbers(&buffers, tm, n, size, 1, &failed), *there = numbers(&buffers, trial, n * c, size, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            bound_at(&all, state, &one);
            lowest[state] = feed_stability(&one.phase, feeds + state * c, planes + state * c, guess + state * c, there + state * c);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

/* vapor_and_liquid(model, n, c, z, ln_k, amount, change): ln K in place, row by row */
static PyObject *vapor_and_liquid_all(PyObject *self, PyObject *args)
{
    PyObject *model, *z, *ln_k, *amount, *change;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOOOO", &model, &n, &c, &z, &ln_k, &amount, &change)) return NULL;
    const Py_ssize_t size = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *feeds = numbers(&buffers, z, n * c, size, 0, &failed);
    double *to_k = numbers(&buffers, ln_k, n * c, size, 1, &failed);
    double *to_amount = numbers(&buffers, amount, n, size, 1, &failed), *to_change = numbers(&buffers, change, n, size, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            bound_at(&all, state, &one);
            vapor_and_liquid(&one.phase, feeds + state * c, to_k + state * c, to_amount + state, to_change + state);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

/* further(model, n, c, z, count, phases, kind, kinds, tm, trial): phases (N, count, C), the first of a kind */
static PyObject *further_all(PyObject *self, PyObject *args)
{
    PyObject *model, *z, *phases, *kinds, *tm, *trial;
    Py_ssize_t n, c, count;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOnOiOOO", &model, &n, &c, &z, &count, &phases, &kind, &kinds, &tm, &trial)) return NULL;
    if (count < 1 || count > MOST_KNOWN) {
        PyErr_Format(PyExc_ValueError, "there can be 1 to %d phases, and not %zd", MOST_KNOWN, count);
        return NULL;
    }
    const Py_ssize_t size = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *feeds = numbers(&buffers, z, n * c, size, 0, &failed), *known = numbers(&buffers, phases, n * count * c, size, 0, &failed);
    const signed char *of_each = numbers(&buffers, kinds, n, 1, 0, &failed);
    double *lowest = numbers(&buffers, tm, n, size, 1, &failed), *there = numbers(&buffers, trial, n * c, size, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            bound_at(&all, state, &one);
            const int first = of_each == NULL ? kind : of_each[state];
            lowest[state] = further_phase(&one.phase, feeds + state * c, known + state * count * c, (int)count, first, there + state * c);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

/* saturation(model, n, c, given, z, of_T, kind, near_q, near_w, q, incipient, residual, tm, settled): all compositions row by row; the model is bound to nothing */
static PyObject *saturation_all(PyObject *self, PyObject *args)
{
    PyObject *model, *given, *z, *near_q, *near_w, *q, *incipient, *residual, *tm, *settled;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, of_T, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOOpiOOOOOOO", &model, &n, &c, &given, &z, &of_T, &kind, &near_q, &near_w, &q, &incipient, &residual, &tm, &settled))
        return NULL;
    const Py_ssize_t size = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *known = numbers(&buffers, given, n, size, 0, &failed), *feeds = numbers(&buffers, z, n * c, size, 0, &failed);
    const double *start = numbers(&buffers, near_q, n, size, 0, &failed), *starts = numbers(&buffers, near_w, n * c, size, 0, &failed);
    double *to_q = numbers(&buffers, q, n, size, 1, &failed), *to_incipient = numbers(&buffers, incipient, n * c, size, 1, &failed);
    double *to_residual = numbers(&buffers, residual, n, size, 1, &failed), *to_tm = numbers(&buffers, tm, n, size, 1, &failed);
    signed char *to = numbers(&buffers, settled, n, 1, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            const Saturation sought = {&all.of.equation, feeds + state * c, known[state], of_T, kind};
            const int near = start != NULL && starts != NULL;
            SaturationPoint found;
            to[state] = (signed char)saturation_point(&sought, near ? starts + state * c : NULL, near ? start[state] : NAN, &found);
            to_q[state] = found.q;
            to_residual[state] = found.residual;
            to_tm[state] = found.tm;
            for (Py_ssize_t i = 0; i < c; i++) to_incipient[state * c + i] = isnan(found.q) ? NAN : found.incipient[i];
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

/* line_point(model, c, z, weights, beta, roots, S, value, X, tangent, rest): Z and packing of both phases (2, 2) as the rest; what came of it and how many steps it took */
static PyObject *line_point_of(PyObject *self, PyObject *args)
{
    PyObject *model, *z, *weights, *X, *tangent, *rest;
    Py_ssize_t c;
    Source all;
    LineOf line;
    LinePoint found;
    Buffers buffers = {.count = 0};
    int failed = 0, S, how;
    double value;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnOOd(ii)idOOO", &model, &c, &z, &weights, &line.beta, &line.roots[0], &line.roots[1], &S, &value, &X, &tangent, &rest))
        return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, 0, c, &all, &buffers, &failed);
    line.equation = &all.of.equation;
    line.z = numbers(&buffers, z, c, d, 0, &failed);
    line.weights = numbers(&buffers, weights, c, d, 0, &failed);
    double *to_X = numbers(&buffers, X, c + 2, d, 1, &failed), *to_tangent = numbers(&buffers, tangent, c + 2, d, 1, &failed);
    double *to_rest = numbers(&buffers, rest, 4, d, 1, &failed);
    if (!failed && (S < 0 || S >= c + 2)) {
        PyErr_SetString(PyExc_ValueError, "there is no such unknown");
        failed = 1;
    }
    if (failed) {
        release(&buffers);
        return NULL;
    }
    memcpy(found.X, to_X, sizeof(double) * (size_t)(c + 2));
    Py_BEGIN_ALLOW_THREADS
    how = line_point(&line, S, value, &found);
    Py_END_ALLOW_THREADS
    if (how == POINT) {
        memcpy(to_X, found.X, sizeof(double) * (size_t)(c + 2));
        memcpy(to_tangent, found.tangent, sizeof(double) * (size_t)(c + 2));
        memcpy(to_rest, found.Z, sizeof found.Z);
        memcpy(to_rest + 2, found.packing, sizeof found.packing);
    }
    release(&buffers);
    return Py_BuildValue("ii", how, found.iterations);
}

/* What critical points are sought with: a composition without zeros, and where they go. */
static int critical_arguments(PyObject *model, Py_ssize_t c, PyObject *n, PyObject *out, Py_ssize_t count, Source *all, Buffers *buffers, const double **moles, double **to)
{
    int failed = 0;
    source_of(model, 0, c, all, buffers, &failed);
    need_equation(all, &failed);
    *moles = numbers(buffers, n, c, sizeof(double), 0, &failed);
    *to = numbers(buffers, out, 3 * count, sizeof(double), 1, &failed);
    if (failed) release(buffers);
    return !failed;
}

static void put_critical(const CriticalPoint *p, double *to)
{
    to[0] = p->T;
    to[1] = p->P;
    to[2] = p->V;
}

/* critical(model, c, n, T_low, T_high, points): T, P and V of all critical points (MOST_CRITICAL, 3); how many, or -1 where there are more */
static PyObject *critical_of(PyObject *self, PyObject *args)
{
    PyObject *model, *n, *points;
    Py_ssize_t c;
    double T_low, T_high, *to;
    const double *moles;
    CriticalPoint found[MOST_CRITICAL];
    Source all;
    Buffers buffers = {.count = 0};
    int count;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnOddO", &model, &c, &n, &T_low, &T_high, &points)) return NULL;
    if (!critical_arguments(model, c, n, points, MOST_CRITICAL, &all, &buffers, &moles, &to)) return NULL;
    Py_BEGIN_ALLOW_THREADS
    count = critical_points(&all.of.equation, moles, T_low, T_high, found);
    Py_END_ALLOW_THREADS
    for (int i = 0; i < count; i++) put_critical(&found[i], to + 3 * i);
    release(&buffers);
    return PyLong_FromLong(count);
}

/* refined_critical(model, c, n, T, V, point): T, P and V of the critical point nearby; whether there is one */
static PyObject *refined_critical_of(PyObject *self, PyObject *args)
{
    PyObject *model, *n, *point;
    Py_ssize_t c;
    double T, V, *to;
    const double *moles;
    CriticalPoint found;
    Source all;
    Buffers buffers = {.count = 0};
    int there;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnOddO", &model, &c, &n, &T, &V, &point)) return NULL;
    if (!critical_arguments(model, c, n, point, 1, &all, &buffers, &moles, &to)) return NULL;
    Py_BEGIN_ALLOW_THREADS
    there = refined_critical(&all.of.equation, moles, T, V, &found);
    Py_END_ALLOW_THREADS
    if (there) put_critical(&found, to);
    release(&buffers);
    return PyBool_FromLong(there);
}

/* stable(model, n, c, V, moles, by_component, found): local stability of moles (N, C) in volumes (N,) */
static PyObject *stable_all(PyObject *self, PyObject *args)
{
    PyObject *model, *V, *moles, *found;
    Py_ssize_t n, c;
    Given phases;
    int by_component;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOOpO", &model, &n, &c, &V, &moles, &by_component, &found)) return NULL;
    phases_of(&phases, model, n, c, moles, by_component, STABLE, Py_None);
    need_equation(&phases.all, &phases.failed);
    const double *volumes = numbers(&phases.buffers, V, n, sizeof(double), 0, &phases.failed);
    signed char *to = marks(&phases, found, n);
    if (!phases.failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Fluid one;
            double own[MOST_COMPONENTS];
            phase_at(&phases, state, &one, own);
            to[state] = (signed char)locally_stable(&one.phase, volumes[state], own);
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&phases.buffers, phases.failed);
}

/* split(n, c, z, z_by_component, K, K_by_component, guess, small_step, amounts, x, y): amounts (2, N); x and y component by component */
static PyObject *split_all(PyObject *self, PyObject *args)
{
    PyObject *z, *K, *guess, *amounts, *x, *y;
    Py_ssize_t n, c;
    Buffers buffers = {.count = 0};
    int failed = 0, z_by_component, K_by_component;
    double small_step;
    (void)self;
    if (!PyArg_ParseTuple(args, "nnOpOpOdOOO", &n, &c, &z, &z_by_component, &K, &K_by_component, &guess, &small_step, &amounts, &x, &y)) return NULL;
    if (c < 1 || c > MOST_COMPONENTS || n < 0) {
        PyErr_Format(PyExc_ValueError, "there can be 1 to %d components, and not %zd", MOST_COMPONENTS, c);
        return NULL;
    }
    const Py_ssize_t d = sizeof(double);
    const Rows feeds = rows(numbers(&buffers, z, n * c, d, 0, &failed), n, c, z_by_component);
    const Rows ratios = rows(numbers(&buffers, K, n * c, d, 0, &failed), n, c, K_by_component);
    const double *start = numbers(&buffers, guess, n, d, 0, &failed);
    double *to_amounts = numbers(&buffers, amounts, 2 * n, d, 1, &failed);
    double *to_x = numbers(&buffers, x, n * c, d, 1, &failed), *to_y = numbers(&buffers, y, n * c, d, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Split s;
            double feed[MOST_COMPONENTS], ratio[MOST_COMPONENTS];
            row(&feeds, state, (int)c, feed);
            row(&ratios, state, (int)c, ratio);
            split((int)c, feed, ratio, start == NULL ? NAN : start[state], small_step, &s);
            to_amounts[state] = s.vapor;
            to_amounts[n + state] = s.liquid;
            for (int i = 0; i < c; i++) {
                to_x[i * n + state] = s.x[i];
                to_y[i * n + state] = s.y[i];
            }
        }
        Py_END_ALLOW_THREADS
    }
    return finished(&buffers, failed);
}

static PyMethodDef methods[] = {
    {"flash", flash_all, METH_VARARGS, "T-P flashes of one or two phases."},
    {"ln_phi", ln_phi_all, METH_VARARGS, "ln phi of many phases."},
    {"evaluate", evaluate_all, METH_VARARGS, "The same by an equation of state, with derivatives by temperature and pressure."},
    {"dn", dn_all, METH_VARARGS, "Derivatives of ln phi by mole numbers."},
    {"describe", describe_all, METH_VARARGS, "What phases are like."},
    {"dense_vapors", dense_vapors_all, METH_VARARGS, "Which dense phases are vapors."},
    {"stability", stability_all, METH_VARARGS, "Lowest tangent-plane distances of feeds."},
    {"vapor_and_liquid", vapor_and_liquid_all, METH_VARARGS, "A vapor and a liquid by substitution."},
    {"further", further_all, METH_VARARGS, "Lowest tangent-plane distances beside phases at equilibrium."},
    {"specified", specified_all, METH_VARARGS, "Flashes at given temperature or pressure and another quantity."},
    {"near", near_all, METH_VARARGS, "Flashes at any two quantities, from nearby."},
    {"saturation", saturation_all, METH_VARARGS, "Bubble and dew points."},
    {"line_point", line_point_of, METH_VARARGS, "A point of a saturation or quality line."},
    {"critical", critical_of, METH_VARARGS, "Critical points."},
    {"refined_critical", refined_critical_of, METH_VARARGS, "A critical point from one nearby."},
    {"stable", stable_all, METH_VARARGS, "Local stability of mixtures at given volumes."},
    {"split", split_all, METH_VARARGS, "Phase splits by K-values."},
    {NULL, NULL, 0, NULL},
};

static struct PyModuleDef definition = {PyModuleDef_HEAD_INIT, "_engine", "Loops over single states.", -1, methods, NULL, NULL, NULL, NULL};

PyMODINIT_FUNC PyInit__engine(void)
{
    PyObject *module = PyModule_Create(&definition);
    if (module == NULL || PyModule_AddIntConstant(module, "MOST_CRITICAL", MOST_CRITICAL) < 0 || PyModule_AddIntConstant(module, "MOST_COMPONENTS", MOST_COMPONENTS) < 0
        || PyModule_AddIntConstant(module, "MOST_KNOWN", MOST_KNOWN) < 0) return NULL;
    return module;
}
