/* The Python module `_engine`: loops over states on plain buffers, without the interpreter's lock. */
#define PY_SSIZE_T_CLEAN
#include <Python.h>

#include "cubic.h"
#include "flash.h"
#include "stability.h"

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
    Py_ssize_t n, c, pairs_step;
    double d1, d2, critical_volume_ratio, branch_ratio;
    const double *RT, *P, *root, *pairs, *b, *covolumes, *translation;
} Cubics;

static void cubic_at(const Cubics *all, Py_ssize_t state, Cubic *one, double *attraction)
{
    const int c = (int)all->c;
    const double *pairs = all->pairs + state * all->pairs_step, RT = all->RT[state], P = all->P[state];
    cubic_init(one, c);
    one->d1 = all->d1;
    one->d2 = all->d2;
    one->critical_volume_ratio = all->critical_volume_ratio;
    one->branch_ratio = all->branch_ratio;
    one->RT = RT;
    one->to_B = P / RT;
    one->to_A = one->to_B / RT;
    for (int i = 0; i < c; i++) {
        const double own = all->root[i * all->n + state];
        for (int j = 0; j < c; j++) attraction[i * c + j] = pairs[i * c + j] * own * all->root[j * all->n + state];
    }
    one->attraction = attraction;
    one->b = all->b;
    one->covolumes = all->covolumes;
    one->translation = all->translation;
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

static void flash_all(const Cubics *all, const double *feed, const double *ln_k, const double *molar_mass, const Results *r)
{
    const int c = (int)all->c;
    double attraction[MOST_COMPONENTS * MOST_COMPONENTS], z[MOST_COMPONENTS];
    for (Py_ssize_t state = 0; state < all->n; state++) {
        Cubic model;
        Flashed found;
        cubic_at(all, state, &model, attraction);
        for (int i = 0; i < c; i++) z[i] = feed[state * c + i] > ABSENT ? feed[state * c + i] : ABSENT;
        r->status[state] = UNSETTLED;
        if (flash_state(&model.phase, z, ln_k + state * c, &found)) put(r, state, c, feed + state * c, molar_mass, &found);
    }
}

static PyObject *flash_cubic(PyObject *self, PyObject *args)
{
    PyObject *RT, *P, *root, *pairs, *b, *covolumes, *translation, *molar_mass, *feed, *ln_k;
    PyObject *n_phases, *amount, *x, *Z, *kinds, *residual, *tm, *status;
    Cubics all;
    Results r;
    Buffers buffers = {.count = 0};
    int failed = 0, of_each;
    (void)self;
    if (!PyArg_ParseTuple(args, "nnn(dddd)pOOOOOOOOOOOOOOOOOO", &all.n, &all.c, &r.most, &all.d1, &all.d2, &all.critical_volume_ratio,
                          &all.branch_ratio, &of_each, &RT, &P, &root, &pairs, &b, &covolumes, &translation, &molar_mass, &feed, &ln_k,
                          &n_phases, &amount, &x, &Z, &kinds, &residual, &tm, &status))
        return NULL;
    if (all.c < 1 || all.c > MOST_COMPONENTS || all.n < 0 || r.most < 2) {
        PyErr_SetString(PyExc_ValueError, "too many components, or too few places for phases");
        return NULL;
    }
    const Py_ssize_t d = sizeof(double), n = all.n, c = all.c;
    all.pairs_step = of_each ? c * c : 0;
    all.RT = numbers(&buffers, RT, n, d, 0, &failed);
    all.P = numbers(&buffers, P, n, d, 0, &failed);
    all.root = numbers(&buffers, root, c * n, d, 0, &failed);
    all.pairs = numbers(&buffers, pairs, of_each ? n * c * c : c * c, d, 0, &failed);
    all.b = numbers(&buffers, b, c, d, 0, &failed);
    all.covolumes = numbers(&buffers, covolumes, c * c, d, 0, &failed);
    all.translation = numbers(&buffers, translation, c, d, 0, &failed);
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
        flash_all(&all, feeds, guess, masses, &r);
        Py_END_ALLOW_THREADS
    }
    release(&buffers);
    if (failed) return NULL;
    Py_RETURN_NONE;
}

static PyMethodDef methods[] = {
    {"flash_cubic", flash_cubic, METH_VARARGS, "T-P flashes of one or two phases by a cubic equation of state."},
    {NULL, NULL, 0, NULL},
};

static struct PyModuleDef definition = {PyModuleDef_HEAD_INIT, "_engine", "Loops over single states.", -1, methods, NULL, NULL, NULL, NULL};

PyMODINIT_FUNC PyInit__engine(void)
{
    PyObject *module = PyModule_Create(&definition);
    if (module == NULL || PyModule_AddIntConstant(module, "MOST_COMPONENTS", MOST_COMPONENTS) < 0) return NULL;
    return module;
}
