/* The Python module `_engine`: loops over states on plain buffers, without the interpreter's lock. */
#define PY_SSIZE_T_CLEAN
#include <Python.h>

#include "cubic.h"
#include "flash.h"
#include "pair.h"
#include "split.h"
#include "stability.h"
#include "vapor_side.h"

#include <math.h>
#include <string.h>

#define MOST_BUFFERS 24

/* Buffers of one call. */
typedef struct {
    Py_buffer views[MOST_BUFFERS];
    int count;
} Buffers;

static void release(Buffers *buffers)
{
    while (buffers->count > 0) PyBuffer_Release(&buffers->views[--buffers->count]);
}

/* The numbers of an array that holds at least `count` of `size` bytes; NULL for None. Sets an error and *failed where it does not. */
static void *numbers(Buffers *buffers, PyObject *array, Py_ssize_t count, Py_ssize_t size, int writable, int *failed)
{
    if (*failed || array == Py_None) return NULL;
    Py_buffer *view = &buffers->views[buffers->count];
    if (PyObject_GetBuffer(array, view, PyBUF_C_CONTIGUOUS | (writable ? PyBUF_WRITABLE : 0)) < 0) {
        *failed = 1;
        return NULL;
    }
    buffers->count++;
    if (view->itemsize != size || view->len < count * size) {
        PyErr_Format(PyExc_ValueError, "an array has %zd bytes in items of %zd; %zd of %zd are needed", view->len, view->itemsize,
                     count * size, size);
        *failed = 1;
        return NULL;
    }
    return view->buf;
}

/* Cubic equations of state at many states. */
typedef struct {
    Py_ssize_t n, pairs_step;
    int c;
    double d1, d2, critical_volume_ratio, branch_ratio, R;
    int water;
    const double *T, *P, *root, *pairs, *b, *covolumes, *l, *translation;
} Cubics;

/* From (numbers, whether there are pairs of each state, water, T, P, root, pairs, b, covolumes, l, translation), see cubic_loops.py. */
static void cubics_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Cubics *all, Buffers *buffers, int *failed)
{
    PyObject *T, *P, *root, *pairs, *b, *covolumes, *l, *translation;
    int of_each;
    if (!PyArg_ParseTuple(model, "(ddddd)piOOOOOOOO", &all->d1, &all->d2, &all->critical_volume_ratio, &all->branch_ratio, &all->R, &of_each,
                          &all->water, &T, &P, &root, &pairs, &b, &covolumes, &l, &translation)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    all->n = n;
    all->c = (int)c;
    all->pairs_step = of_each ? c * c : 0;
    all->T = numbers(buffers, T, n, d, 0, failed);
    all->P = numbers(buffers, P, n, d, 0, failed);
    all->root = numbers(buffers, root, c * n, d, 0, failed);
    all->pairs = numbers(buffers, pairs, of_each ? n * c * c : c * c, d, 0, failed);
    all->b = numbers(buffers, b, c, d, 0, failed);
    all->covolumes = numbers(buffers, covolumes, c * c, d, 0, failed);
    all->l = numbers(buffers, l, c * n, d, 0, failed);
    all->translation = numbers(buffers, translation, c, d, 0, failed);
    if (!*failed && all->water >= 0 && (all->l == NULL || all->water >= c)) {
        PyErr_SetString(PyExc_ValueError, "water is none of the components, or there is nothing that it changes");
        *failed = 1;
    }
}

static void cubic_at(const Cubics *all, Py_ssize_t state, Cubic *one)
{
    cubic_init(one, all->c);
    one->d1 = all->d1;
    one->d2 = all->d2;
    one->critical_volume_ratio = all->critical_volume_ratio;
    one->branch_ratio = all->branch_ratio;
    one->T = all->T[state];
    one->P = all->P[state];
    one->RT = all->R * one->T;
    one->to_B = one->P / one->RT;
    one->to_A = one->to_B / one->RT;
    one->water = all->water;
    for (int i = 0; i < all->c; i++) one->root[i] = all->root[i * all->n + state];
    for (int i = 0; all->water >= 0 && i < all->c; i++) one->l[i] = all->l[i * all->n + state];
    one->pairs = all->pairs + state * all->pairs_step;
    one->b = all->b;
    one->covolumes = all->covolumes;
    one->translation = all->translation;
}

/* Liquids by activity coefficients beside vapors, at many states. */
typedef struct {
    Py_ssize_t n;
    int c, terms, kinds[MOST_TERMS];
    double least_Z;
    const double *pure, *volumes, *per_RT, *B;
    const double *first[MOST_TERMS], *second[MOST_TERMS];
} Pairs;

/* From (least Z, ln phi of pure liquids (N, C), their volumes (N, C), P/RT (N,), B (N, C, C) or None, terms), each term (kind, first, second): of NRTL
   and the weighted logarithm (C, C, N) first, of the latter its weights (C,) second; else sizes and surfaces (C,). See pair_loops.py. */
static void pairs_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Pairs *all, Buffers *buffers, int *failed)
{
    PyObject *pure, *volumes, *per_RT, *B, *terms;
    if (!PyArg_ParseTuple(model, "dOOOOO!", &all->least_Z, &pure, &volumes, &per_RT, &B, &PyTuple_Type, &terms)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double), count = PyTuple_GET_SIZE(terms);
    if (count > MOST_TERMS) {
        PyErr_SetString(PyExc_ValueError, "there are too many terms");
        *failed = 1;
        return;
    }
    all->n = n;
    all->c = (int)c;
    all->terms = (int)count;
    all->pure = numbers(buffers, pure, n * c, d, 0, failed);
    all->volumes = numbers(buffers, volumes, n * c, d, 0, failed);
    all->per_RT = numbers(buffers, per_RT, n, d, 0, failed);
    all->B = numbers(buffers, B, n * c * c, d, 0, failed);
    for (Py_ssize_t k = 0; k < count && !*failed; k++) {
        PyObject *first, *second;
        if (!PyArg_ParseTuple(PyTuple_GET_ITEM(terms, k), "iOO", &all->kinds[k], &first, &second)) {
            *failed = 1;
            return;
        }
        const int matrices = all->kinds[k] == NRTL || all->kinds[k] == WEIGHTED_LOGARITHM;
        all->first[k] = numbers(buffers, first, matrices ? c * c * n : c, d, 0, failed);
        all->second[k] = numbers(buffers, second, all->kinds[k] == NRTL ? c * c * n : c, d, 0, failed);
        if (!*failed && (all->first[k] == NULL || (all->second[k] == NULL && all->kinds[k] != FLORY_HUGGINS))) {
            PyErr_SetString(PyExc_ValueError, "a term lacks its numbers");
            *failed = 1;
        }
    }
}

static void pair_at(const Pairs *all, Py_ssize_t state, Pair *one)
{
    const int c = all->c;
    pair_init(one, c);
    one->terms = all->terms;
    one->per_RT = all->per_RT[state];
    one->least_Z = all->least_Z;
    one->B = all->B == NULL ? NULL : all->B + state * c * c;
    memcpy(one->pure, all->pure + state * c, sizeof(double) * (size_t)c);
    memcpy(one->volumes, all->volumes + state * c, sizeof(double) * (size_t)c);
    for (int k = 0; k < all->terms; k++) {
        Term *t = &one->term[k];
        t->kind = all->kinds[k];
        if (t->kind == NRTL || t->kind == WEIGHTED_LOGARITHM)
            for (int i = 0; i < c * c; i++) t->first[i] = all->first[k][i * all->n + state];
        else
            memcpy(t->own, all->first[k], sizeof(double) * (size_t)c);
        if (t->kind == NRTL)
            for (int i = 0; i < c * c; i++) t->second[i] = all->second[k][i * all->n + state];
        else if (t->kind == WEIGHTED_LOGARITHM)
            memcpy(t->own, all->second[k], sizeof(double) * (size_t)c);
        else if (t->kind == STAVERMAN_GUGGENHEIM)
            memcpy(t->other, all->second[k], sizeof(double) * (size_t)c);
    }
}

/* Any of the models: (which, what it is made of). */
enum { CUBIC, PAIR };

typedef struct {
    int which;
    Py_ssize_t n;
    int c;
    Cubics cubics;
    Pairs pairs;
} Source;

typedef union {
    Phase phase;
    Cubic cubic;
    Pair pair;
} Bound;

static void source_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Source *all, Buffers *buffers, int *failed)
{
    PyObject *made_of;
    if (*failed) return;
    if (!PyArg_ParseTuple(model, "iO!", &all->which, &PyTuple_Type, &made_of)) {
        *failed = 1;
        return;
    }
    if (c < 1 || c > MOST_COMPONENTS || n < 0) {
        PyErr_Format(PyExc_ValueError, "there can be 1 to %d components, and not %zd", MOST_COMPONENTS, c);
        *failed = 1;
        return;
    }
    all->n = n;
    all->c = (int)c;
    if (all->which == CUBIC)
        cubics_of(made_of, n, c, &all->cubics, buffers, failed);
    else
        pairs_of(made_of, n, c, &all->pairs, buffers, failed);
}

static void bind(const Source *all, Py_ssize_t state, Bound *one)
{
    if (all->which == CUBIC)
        cubic_at(&all->cubics, state, &one->cubic);
    else
        pair_at(&all->pairs, state, &one->pair);
}

/* For what only an equation explicit in volume has. */
static void need_cubic(const Source *all, int *failed)
{
    if (*failed || all->which == CUBIC) return;
    PyErr_SetString(PyExc_ValueError, "only an equation of state has this");
    *failed = 1;
}

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

/* Where results go: (N,), (N, F), (N, F, C). */
typedef struct {
    Py_ssize_t most;
    long long *n_phases;
    double *amount, *x, *Z, *residual, *tm;
    signed char *kinds, *status;
} Results;

enum { UNSETTLED = 0, SETTLED = 1, UNNAMED = 2 };

static double mass_density(int c, const double *x, double Z, const double *molar_mass)
{
    double mass = 0.0;
    for (int i = 0; i < c; i++) mass += x[i] * (molar_mass == NULL ? 1.0 : molar_mass[i]);
    return mass / Z;
}

static void put(const Results *r, Py_ssize_t state, int c, const double *feed, const double *molar_mass, const Flashed *f)
{
    int first = 0;
    if (f->n_phases == 2 && f->is_vapor == NO)
        first = mass_density(c, f->x[1], f->Z[1], molar_mass) < mass_density(c, f->x[0], f->Z[0], molar_mass);
    r->n_phases[state] = f->n_phases;
    r->residual[state] = f->residual;
    r->tm[state] = f->tm;
    for (int k = 0; k < f->n_phases; k++) {
        const int from = f->n_phases == 2 ? k ^ first : k;
        const Py_ssize_t at = state * r->most + k;
        r->amount[at] = f->amount[from];
        r->Z[at] = f->Z[from];
        r->kinds[at] = k == 0 && f->is_vapor == YES ? VAPOR : LIQUID;
        for (int i = 0; i < c; i++) r->x[at * c + i] = feed[i] > 0.0 ? (f->n_phases == 1 ? feed[i] : f->x[from][i]) : 0.0;
    }
    r->status[state] = f->is_vapor == UNSURE ? UNNAMED : SETTLED;
}

static void flash_each(const Source *all, const double *feed, const double *ln_k, const double *molar_mass, const Results *r)
{
    const int c = all->c;
    double z[MOST_COMPONENTS];
    for (Py_ssize_t state = 0; state < all->n; state++) {
        Bound model;
        Flashed found;
        bind(all, state, &model);
        for (int i = 0; i < c; i++) z[i] = feed[state * c + i] > ABSENT ? feed[state * c + i] : ABSENT;
        r->status[state] = UNSETTLED;
        if (flash_state(&model.phase, z, ln_k + state * c, &found)) put(r, state, c, feed + state * c, molar_mass, &found);
    }
}

/* flash(model, n, c, most, molar_mass, feed, ln_k, n_phases, amount, x, Z, kinds, residual, tm, status) */
static PyObject *flash_all(PyObject *self, PyObject *args)
{
    PyObject *model, *molar_mass, *feed, *ln_k, *n_phases, *amount, *x, *Z, *kinds, *residual, *tm, *status;
    Py_ssize_t n, c;
    Source all;
    Results r;
    Buffers buffers = {.count = 0};
    int failed = 0;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnnOOOOOOOOOOO", &model, &n, &c, &r.most, &molar_mass, &feed, &ln_k, &n_phases, &amount, &x, &Z, &kinds,
                          &residual, &tm, &status))
        return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const double *masses = numbers(&buffers, molar_mass, c, d, 0, &failed);
    const double *feeds = numbers(&buffers, feed, n * c, d, 0, &failed);
    const double *guess = numbers(&buffers, ln_k, n * c, d, 0, &failed);
    r.n_phases = numbers(&buffers, n_phases, n, sizeof(long long), 1, &failed);
    r.amount = numbers(&buffers, amount, n * r.most, d, 1, &failed);
    r.x = numbers(&buffers, x, n * r.most * c, d, 1, &failed);
    r.Z = numbers(&buffers, Z, n * r.most, d, 1, &failed);
    r.kinds = numbers(&buffers, kinds, n * r.most, 1, 1, &failed);
    r.residual = numbers(&buffers, residual, n, d, 1, &failed);
    r.tm = numbers(&buffers, tm, n, d, 1, &failed);
    r.status = numbers(&buffers, status, n, 1, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        flash_each(&all, feeds, guess, masses, &r);
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* ln_phi(model, n, c, x, by_component, kind, kinds, ln_phi): ln phi, component by component */
static PyObject *ln_phi_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *ln_phi;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &ln_phi)) return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const Rows fractions = rows(numbers(&buffers, x, n * c, d, 0, &failed), n, c, by_component);
    const signed char *of_each = numbers(&buffers, kinds, n, 1, 0, &failed);
    double *out = numbers(&buffers, ln_phi, n * c, d, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Bound one;
            double own[MOST_COMPONENTS], found[MOST_COMPONENTS];
            bind(&all, state, &one);
            row(&fractions, state, all.c, own);
            one.phase.ln_phi(&one.phase, own, of_each == NULL ? kind : of_each[state], found);
            for (int i = 0; i < all.c; i++) out[i * n + state] = found[i];
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* evaluate(model, n, c, x, by_component, kind, kinds, slopes, ln_phi, dT, dP, scalars): ln phi and its derivatives by T and P (N, C), and
   Z, Z_T, Z_P, g_TT (4, N); slopes are the first two derivatives of sqrt(a_i), then those of l where there is water, (2 or 4, C, N) */
static PyObject *evaluate_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *slopes, *ln_phi, *dT, *dP, *scalars;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOOOOOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &slopes, &ln_phi, &dT, &dP, &scalars))
        return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    need_cubic(&all, &failed);
    const Rows fractions = rows(numbers(&buffers, x, n * c, d, 0, &failed), n, c, by_component);
    const signed char *of_each = numbers(&buffers, kinds, n, 1, 0, &failed);
    const int parts = !failed && all.cubics.water >= 0 ? 4 : 2;
    const double *derivatives = numbers(&buffers, slopes, parts * n * c, d, 0, &failed);
    double *to_phi = numbers(&buffers, ln_phi, n * c, d, 1, &failed), *to_T = numbers(&buffers, dT, n * c, d, 1, &failed);
    double *to_P = numbers(&buffers, dP, n * c, d, 1, &failed), *rest = numbers(&buffers, scalars, 4 * n, d, 1, &failed);
    if (!failed) {
        Rows part[4];
        for (int k = 0; k < parts; k++) part[k] = rows(derivatives + k * n * c, n, c, 1);
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Bound one;
            Evaluation found;
            Slopes by_T;
            double own[MOST_COMPONENTS], *to_slopes[4] = {by_T.root1, by_T.root2, by_T.l1, by_T.l2};
            bind(&all, state, &one);
            row(&fractions, state, all.c, own);
            for (int k = 0; k < parts; k++) row(&part[k], state, all.c, to_slopes[k]);
            cubic_evaluate(&one.cubic, own, of_each == NULL ? kind : of_each[state], &by_T, &found);
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
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* dn(model, n, c, x, by_component, kind, kinds, dn): n d ln phi_i/dn_j (N, C, C) */
static PyObject *dn_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *dn;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &dn)) return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const Rows fractions = rows(numbers(&buffers, x, n * c, d, 0, &failed), n, c, by_component);
    const signed char *of_each = numbers(&buffers, kinds, n, 1, 0, &failed);
    double *out = numbers(&buffers, dn, n * c * c, d, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Bound one;
            double own[MOST_COMPONENTS], found[MOST_COMPONENTS];
            bind(&all, state, &one);
            row(&fractions, state, all.c, own);
            one.phase.derivatives(&one.phase, own, of_each == NULL ? kind : of_each[state], found, out + state * c * c);
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* describe(model, n, c, x, by_component, kind, kinds, Z, packing, found): and what kind of phase each is, by density and by name (2, N) */
static PyObject *describe_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *kinds, *Z, *packing, *found;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component, kind;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpiOOOO", &model, &n, &c, &x, &by_component, &kind, &kinds, &Z, &packing, &found)) return NULL;
    const Py_ssize_t d = sizeof(double);
    source_of(model, n, c, &all, &buffers, &failed);
    const Rows fractions = rows(numbers(&buffers, x, n * c, d, 0, &failed), n, c, by_component);
    const signed char *of_each = numbers(&buffers, kinds, n, 1, 0, &failed);
    double *to_Z = numbers(&buffers, Z, n, d, 1, &failed), *to_packing = numbers(&buffers, packing, n, d, 1, &failed);
    signed char *to_kinds = numbers(&buffers, found, 2 * n, 1, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Bound one;
            Description own;
            double fraction[MOST_COMPONENTS];
            bind(&all, state, &one);
            row(&fractions, state, all.c, fraction);
            one.phase.describe(&one.phase, fraction, of_each == NULL ? kind : of_each[state], &own);
            to_Z[state] = own.Z;
            to_packing[state] = own.packing;
            to_kinds[state] = (signed char)own.kind;
            to_kinds[n + state] = (signed char)own.is_vapor;
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* dense_vapors(model, n, c, x, by_component, packing, names): the third rule of models/vapor_side.py for dense phases */
static PyObject *dense_vapors_all(PyObject *self, PyObject *args)
{
    PyObject *model, *x, *packing, *names;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOpOO", &model, &n, &c, &x, &by_component, &packing, &names)) return NULL;
    source_of(model, n, c, &all, &buffers, &failed);
    need_cubic(&all, &failed);
    const Rows fractions = rows(numbers(&buffers, x, n * c, sizeof(double), 0, &failed), n, c, by_component);
    const double *densities = numbers(&buffers, packing, n, sizeof(double), 0, &failed);
    signed char *to = numbers(&buffers, names, n, 1, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            if (to[state] != UNSURE) continue;
            Bound one;
            double fraction[MOST_COMPONENTS];
            bind(&all, state, &one);
            row(&fractions, state, all.c, fraction);
            to[state] = (signed char)dense_vapor(&one.phase, fraction, densities[state]);
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
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
            Bound one;
            bind(&all, state, &one);
            lowest[state] = feed_stability(&one.phase, feeds + state * c, planes + state * c, guess + state * c, there + state * c);
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
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
            Bound one;
            bind(&all, state, &one);
            const int first = of_each == NULL ? kind : of_each[state];
            lowest[state] = further_phase(&one.phase, feeds + state * c, known + state * count * c, (int)count, first, there + state * c);
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

/* stable(model, n, c, V, moles, by_component, found): local stability of moles (N, C) in volumes (N,) */
static PyObject *stable_all(PyObject *self, PyObject *args)
{
    PyObject *model, *V, *moles, *found;
    Py_ssize_t n, c;
    Source all;
    Buffers buffers = {.count = 0};
    int failed = 0, by_component;
    (void)self;
    if (!PyArg_ParseTuple(args, "OnnOOpO", &model, &n, &c, &V, &moles, &by_component, &found)) return NULL;
    source_of(model, n, c, &all, &buffers, &failed);
    need_cubic(&all, &failed);
    const double *volumes = numbers(&buffers, V, n, sizeof(double), 0, &failed);
    const Rows amounts = rows(numbers(&buffers, moles, n * c, sizeof(double), 0, &failed), n, c, by_component);
    signed char *to = numbers(&buffers, found, n, 1, 1, &failed);
    if (!failed) {
        Py_BEGIN_ALLOW_THREADS
        for (Py_ssize_t state = 0; state < n; state++) {
            Bound one;
            double own[MOST_COMPONENTS];
            bind(&all, state, &one);
            row(&amounts, state, all.c, own);
            to[state] = (signed char)locally_stable(&one.phase, volumes[state], own);
        }
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
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
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

static PyMethodDef methods[] = {
    {"flash", flash_all, METH_VARARGS, "T-P flashes of one or two phases by a cubic equation of state."},
    {"ln_phi", ln_phi_all, METH_VARARGS, "ln phi of many phases by a cubic equation of state."},
    {"evaluate", evaluate_all, METH_VARARGS, "The same with derivatives by temperature and pressure."},
    {"dn", dn_all, METH_VARARGS, "Derivatives of ln phi by mole numbers."},
    {"describe", describe_all, METH_VARARGS, "What phases are like."},
    {"dense_vapors", dense_vapors_all, METH_VARARGS, "Which dense phases are vapors."},
    {"stability", stability_all, METH_VARARGS, "Lowest tangent-plane distances of feeds."},
    {"further", further_all, METH_VARARGS, "Lowest tangent-plane distances beside phases at equilibrium."},
    {"stable", stable_all, METH_VARARGS, "Local stability of mixtures at given volumes."},
    {"split", split_all, METH_VARARGS, "Phase splits by K-values."},
    {NULL, NULL, 0, NULL},
};

static struct PyModuleDef definition = {PyModuleDef_HEAD_INIT, "_engine", "Loops over single states.", -1, methods, NULL, NULL, NULL, NULL};

PyMODINIT_FUNC PyInit__engine(void)
{
    PyObject *module = PyModule_Create(&definition);
    if (module == NULL || PyModule_AddIntConstant(module, "MOST_COMPONENTS", MOST_COMPONENTS) < 0
        || PyModule_AddIntConstant(module, "MOST_KNOWN", MOST_KNOWN) < 0) return NULL;
    return module;
}
