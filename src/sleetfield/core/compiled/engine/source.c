#include "source.h"

#include <string.h>

void release(Buffers *buffers)
{
    while (buffers->count > 0) PyBuffer_Release(&buffers->views[--buffers->count]);
}

void *numbers(Buffers *buffers, PyObject *array, Py_ssize_t count, Py_ssize_t size, int writable, int *failed)
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

/* The functions of temperature that k_ij are sums of. */
static void terms_of(PyObject *terms, Equation *e, int *failed)
{
    const Py_ssize_t count = PyTuple_GET_SIZE(terms);
    e->terms = (int)count;
    for (Py_ssize_t k = 0; k < count && count <= MOST_TEMPERATURE_TERMS; k++) {
        e->term[k] = (int)PyLong_AsLong(PyTuple_GET_ITEM(terms, k));
        if (e->term[k] < 0 || e->term[k] >= MOST_TEMPERATURE_TERMS) e->terms = 0;
    }
    if (e->terms >= 1 && e->terms <= MOST_TEMPERATURE_TERMS && e->term[0] == 0) return;
    if (!PyErr_Occurred()) PyErr_SetString(PyExc_ValueError, "interaction parameters are no sum of known functions of temperature that begins with 1");
    *failed = 1;
}

/* From (equation, T, P), the equation as cubic_loops.py has it. */
static void cubics_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Cubics *all, Buffers *buffers, int *failed)
{
    PyObject *T, *P, *constants, *Tc, *root_ac, *terms, *pairs, *b, *covolumes, *aqueous, *translation, *ln_Pc, *omega;
    Equation *e = &all->equation;
    if (!PyArg_ParseTuple(model, "((ddddd)iOOOO!OOOiOOOO)OO", &e->d1, &e->d2, &e->critical_volume_ratio, &e->branch_ratio, &e->R,
                          &e->alpha.kind, &constants, &Tc, &root_ac, &PyTuple_Type, &terms, &pairs, &b, &covolumes, &e->water, &aqueous,
                          &translation, &ln_Pc, &omega, &T, &P)) {
        *failed = 1;
        return;
    }
    terms_of(terms, e, failed);
    if (!*failed && (e->alpha.kind < 0 || e->alpha.kind >= ALPHAS)) {
        PyErr_SetString(PyExc_ValueError, "there is no such temperature function");
        *failed = 1;
    }
    if (*failed) return;
    const Py_ssize_t d = sizeof(double);
    e->c = e->alpha.c = (int)c;
    e->alpha.constants = numbers(buffers, constants, alpha_constants(e->alpha.kind) * c, d, 0, failed);
    e->alpha.Tc = numbers(buffers, Tc, c, d, 0, failed);
    e->root_ac = numbers(buffers, root_ac, c, d, 0, failed);
    e->pairs = numbers(buffers, pairs, e->terms * c * c, d, 0, failed);
    e->b = numbers(buffers, b, c, d, 0, failed);
    e->covolumes = numbers(buffers, covolumes, c * c, d, 0, failed);
    e->aqueous = numbers(buffers, aqueous, 4 * c, d, 0, failed);
    e->translation = numbers(buffers, translation, c, d, 0, failed);
    e->ln_Pc = numbers(buffers, ln_Pc, c, d, 0, failed);
    e->omega = numbers(buffers, omega, c, d, 0, failed);
    all->T = numbers(buffers, T, n, d, 0, failed);
    all->P = numbers(buffers, P, n, d, 0, failed);
    if (!*failed && e->water >= 0 && (e->aqueous == NULL || e->water >= c)) {
        PyErr_SetString(PyExc_ValueError, "water is none of the components, or there is nothing that it changes");
        *failed = 1;
    }
}

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

void source_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Source *all, Buffers *buffers, int *failed)
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

void bound_at(const Source *all, Py_ssize_t state, Bound *one)
{
    if (all->which == CUBIC)
        cubic_at(&all->cubics.equation, all->cubics.T[state], all->cubics.P[state], &one->cubic);
    else
        pair_at(&all->pairs, state, &one->pair);
}

void need_cubic(const Source *all, int *failed)
{
    if (*failed || all->which == CUBIC) return;
    PyErr_SetString(PyExc_ValueError, "only an equation of state has this");
    *failed = 1;
}
