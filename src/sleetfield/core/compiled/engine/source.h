/* What a call is given: arrays of Python's as plain buffers, and a model at many states. */
#ifndef SLEETFIELD_SOURCE_H
#define SLEETFIELD_SOURCE_H

#define PY_SSIZE_T_CLEAN
#include <Python.h>

#include "fluid.h"

#define MOST_BUFFERS 60

/* Buffers of one call. */
typedef struct {
    Py_buffer views[MOST_BUFFERS];
    int count;
} Buffers;

void release(Buffers *buffers);
/* The numbers of an array that holds at least `count` of `size` bytes; NULL for None. Sets an error and *failed where it does not. */
void *numbers(Buffers *buffers, PyObject *array, Py_ssize_t count, Py_ssize_t size, int writable, int *failed);

/* Any of the models: (which, what it is made of). */
enum { CUBIC, PAIR, PC_SAFT, CPA, REFERENCE };

typedef struct {
    int which;
    Py_ssize_t n;
    int c;
    union {
        Equation equation;
        CubicEquation cubic;
        ChainEquation chains;
        CpaEquation cpa;
        ReferenceEquation reference;
        PairEquation pair;
    } of;
    const double *T, *P; /* where it is bound */
} Source;

void source_of(PyObject *model, Py_ssize_t n, Py_ssize_t c, Source *all, Buffers *buffers, int *failed);
/* The model at one state. */
void bound_at(const Source *all, Py_ssize_t state, Fluid *one);
/* For what only an equation of state has. */
void need_equation(const Source *all, int *failed);

#endif
