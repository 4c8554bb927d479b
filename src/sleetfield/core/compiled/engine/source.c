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

/* The functions of temperature that 1 - k_ij is a sum of; none where that is said elsewhere. */
static void attraction_of(PyObject *terms, PyObject *pairs, Py_ssize_t c, int least, Attraction *a, Buffers *buffers, int *failed)
{
    const Py_ssize_t count = PyTuple_GET_SIZE(terms);
    int known = count >= least && count <= MOST_TEMPERATURE_TERMS;
    for (Py_ssize_t k = 0; k < count && known; k++) {
        a->term[k] = (int)PyLong_AsLong(PyTuple_GET_ITEM(terms, k));
        known = a->term[k] >= 0 && a->term[k] < MOST_TEMPERATURE_TERMS && (k > 0 || a->term[k] == 0);
    }
    a->c = (int)c;
    a->terms = (int)count;
    if (!known) {
        if (!PyErr_Occurred()) PyErr_SetString(PyExc_ValueError, "interaction parameters are no sum of known functions of temperature that begins with 1");
        *failed = 1;
    }
    if (!*failed && count > 0) a->pairs = numbers(buffers, pairs, count * c * c, sizeof(double), 0, failed);
}

/* What all equations have: R, critical temperatures, logarithms of critical pressures, acentric factors. */
static void equation_of(double R, PyObject *Tc, PyObject *ln_Pc, PyObject *omega, Py_ssize_t c, Equation *e, Buffers *buffers, int *failed)
{
    const Py_ssize_t d = sizeof(double);
    e->c = (int)c;
    e->R = R;
    e->saturation = NULL;
    e->Tc = numbers(buffers, Tc, c, d, 0, failed);
    e->ln_Pc = numbers(buffers, ln_Pc, c, d, 0, failed);
    e->omega = numbers(buffers, omega, c, d, 0, failed);
}

/* From association_loops.py's (kinds of sites, owners, counts, volumes, energies). */
static void association_of(PyObject *sites, Py_ssize_t c, Association *a, Buffers *buffers, int *failed)
{
    PyObject *owner, *count, *volume, *energy;
    Py_ssize_t K;
    if (*failed || !PyArg_ParseTuple(sites, "nOOOO", &K, &owner, &count, &volume, &energy)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    if (K < 0 || K > MOST_SITES) {
        PyErr_Format(PyExc_ValueError, "there can be at most %d kinds of sites, and not %zd", MOST_SITES, K);
        *failed = 1;
        return;
    }
    a->c = (int)c;
    a->sites = (int)K;
    a->owner = numbers(buffers, owner, K, d, 0, failed);
    a->count = numbers(buffers, count, K, d, 0, failed);
    a->volume = numbers(buffers, volume, K * K, d, 0, failed);
    a->energy = numbers(buffers, energy, 2 * K * K, d, 0, failed);
    for (Py_ssize_t k = 0; k < K && !*failed; k++)
        if (!(a->owner[k] >= 0.0 && a->owner[k] < (double)c)) {
            PyErr_SetString(PyExc_ValueError, "a site is on none of the components");
            *failed = 1;
        }
}

/* From what cpa_loops.py has. */
static void cpa_of(PyObject *model, Py_ssize_t c, CpaEquation *e, Buffers *buffers, int *failed)
{
    PyObject *Tc, *ln_Pc, *omega, *root, *b, *c1, *terms, *pairs, *sites, *packings;
    double R;
    if (!PyArg_ParseTuple(model, "dOOOddOOOO!OO!O", &R, &Tc, &ln_Pc, &omega, &e->gives.critical_packing, &e->contact, &root, &b, &c1, &PyTuple_Type,
                          &terms, &pairs, &PyTuple_Type, &sites, &packings)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double), count = PyObject_Length(packings);
    if (count < 1 || count > MOST_CPA_PACKINGS) {
        if (!PyErr_Occurred()) PyErr_SetString(PyExc_ValueError, "isotherms can't be looked at at so many packings");
        *failed = 1;
        return;
    }
    attraction_of(terms, pairs, c, 1, &e->attraction, buffers, failed);
    equation_of(R, Tc, ln_Pc, omega, c, &e->common, buffers, failed);
    e->packing_count = (int)count;
    e->root = numbers(buffers, root, c, d, 0, failed);
    e->b = numbers(buffers, b, c, d, 0, failed);
    e->c1 = numbers(buffers, c1, c, d, 0, failed);
    e->packings = numbers(buffers, packings, count, d, 0, failed);
    association_of(sites, c, &e->association, buffers, failed);
    if (!*failed) cpa_ready(e);
}

/* Which equation each component has, of `count`, and its coefficients; none where these are None. */
static void equations_of(PyObject *which, PyObject *coefficients, Py_ssize_t c, int count, Equations *all, Buffers *buffers, int *failed)
{
    all->number = numbers(buffers, which, c, 1, 0, failed);
    all->coefficients = numbers(buffers, coefficients, LIQUID_NUMBERS * c, sizeof(double), 0, failed);
    for (Py_ssize_t i = 0; i < c && !*failed && all->number != NULL; i++)
        if (all->coefficients == NULL || all->number[i] < 0 || all->number[i] >= count) {
            PyErr_SetString(PyExc_ValueError, "there is no such equation of a vapor pressure or density");
            *failed = 1;
        }
}

/* From pair_loops.py's (kind, (tau or ln L, its terms), (alpha, its terms), weights or sizes, surfaces, groups, counts, densities). */
static void free_term_of(PyObject *made_of, Py_ssize_t c, FreeTerm *t, Buffers *buffers, int *failed)
{
    PyObject *terms, *pairs, *alpha_terms, *alpha, *own, *other, *counts, *densities, *by_density;
    if (*failed || !PyArg_ParseTuple(made_of, "i(O!O)(O!O)OOiOOO", &t->kind, &PyTuple_Type, &terms, &pairs, &PyTuple_Type, &alpha_terms, &alpha, &own,
                                     &other, &t->groups, &counts, &densities, &by_density)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double), g = t->groups, size = t->kind == OF_GROUPS ? g : c;
    if (t->kind < 0 || t->kind > OF_GROUPS || g < 0 || g > MOST_COMPONENTS) {
        PyErr_SetString(PyExc_ValueError, "there is no such term, or it has too many groups");
        *failed = 1;
        return;
    }
    const int matrices = t->kind == NRTL || t->kind == WEIGHTED_LOGARITHM || t->kind == OF_GROUPS;
    attraction_of(terms, pairs, size, matrices, &t->pairs, buffers, failed);
    attraction_of(alpha_terms, alpha, size, t->kind == NRTL, &t->alpha, buffers, failed);
    t->own = numbers(buffers, own, size, d, 0, failed);
    t->other = numbers(buffers, other, c, d, 0, failed);
    t->counts = numbers(buffers, counts, g * c, d, 0, failed);
    equations_of(densities, by_density, c, LIQUID_DENSITIES, &t->densities, buffers, failed);
    const int lacks = (t->own == NULL && t->kind != NRTL) || (t->other == NULL && t->kind == GUGGENHEIM) || (t->counts == NULL && t->kind == OF_GROUPS);
    if (!*failed && lacks) {
        PyErr_SetString(PyExc_ValueError, "a term lacks its numbers");
        *failed = 1;
    }
}

/* The terms of an excess Gibbs energy. */
static void activity_of(PyObject *terms, Py_ssize_t c, Activity *a, Buffers *buffers, int *failed)
{
    const Py_ssize_t count = PyTuple_GET_SIZE(terms);
    if (count > MOST_TERMS) {
        PyErr_SetString(PyExc_ValueError, "there are too many terms");
        *failed = 1;
        return;
    }
    a->terms = (int)count;
    for (Py_ssize_t k = 0; k < count; k++) free_term_of(PyTuple_GET_ITEM(terms, k), c, &a->term[k], buffers, failed);
}

/* From cubic_loops.py's (functions of temperature, 1 - k_ij, covolumes, water, polynomials in water), or (q1, q2, s, terms of the excess Gibbs energy). */
static void mixing_of(PyObject *mixing, Py_ssize_t c, CubicEquation *e, Buffers *buffers, int *failed)
{
    const Py_ssize_t d = sizeof(double);
    PyObject *terms, *pairs, *covolumes, *aqueous;
    e->water = e->excess.activity.terms = -1;
    e->covolumes = e->aqueous = NULL;
    if (PyTuple_GET_SIZE(mixing) == 5) {
        if (!PyArg_ParseTuple(mixing, "O!OOiO", &PyTuple_Type, &terms, &pairs, &covolumes, &e->water, &aqueous)) {
            *failed = 1;
            return;
        }
        attraction_of(terms, pairs, c, 1, &e->attraction, buffers, failed);
        e->covolumes = numbers(buffers, covolumes, c * c, d, 0, failed);
        e->aqueous = numbers(buffers, aqueous, 4 * c, d, 0, failed);
        if (!*failed && e->water >= 0 && (e->aqueous == NULL || e->water >= c)) {
            PyErr_SetString(PyExc_ValueError, "water is none of the components, or there is nothing that it changes");
            *failed = 1;
        }
        return;
    }
    if (!PyArg_ParseTuple(mixing, "dddO!", &e->excess.q1, &e->excess.q2, &e->excess.s, &PyTuple_Type, &terms)) {
        *failed = 1;
        return;
    }
    activity_of(terms, c, &e->excess.activity, buffers, failed);
}

/* From what cubic_loops.py has. */
static void cubic_of(PyObject *model, Py_ssize_t c, CubicEquation *e, Buffers *buffers, int *failed)
{
    PyObject *Tc, *ln_Pc, *omega, *constants, *alpha_Tc, *root_ac, *b, *mixing, *translation;
    double R;
    if (!PyArg_ParseTuple(model, "dOOO(dddd)iOOOOO!O", &R, &Tc, &ln_Pc, &omega, &e->d1, &e->d2, &e->critical_volume_ratio, &e->branch_ratio,
                          &e->alpha.kind, &constants, &alpha_Tc, &root_ac, &b, &PyTuple_Type, &mixing, &translation)) {
        *failed = 1;
        return;
    }
    mixing_of(mixing, c, e, buffers, failed);
    if (!*failed && (e->alpha.kind < 0 || e->alpha.kind >= ALPHAS)) {
        PyErr_SetString(PyExc_ValueError, "there is no such temperature function");
        *failed = 1;
    }
    if (*failed) return;
    const Py_ssize_t d = sizeof(double);
    equation_of(R, Tc, ln_Pc, omega, c, &e->common, buffers, failed);
    e->alpha.c = (int)c;
    e->alpha.constants = numbers(buffers, constants, alpha_constants(e->alpha.kind) * c, d, 0, failed);
    e->alpha.Tc = numbers(buffers, alpha_Tc, c, d, 0, failed);
    e->root_ac = numbers(buffers, root_ac, c, d, 0, failed);
    e->b = numbers(buffers, b, c, d, 0, failed);
    e->translation = numbers(buffers, translation, c, d, 0, failed);
    if (!*failed) cubic_ready(e);
}

/* From what pc_saft_loops.py has. */
static void chains_of(PyObject *model, Py_ssize_t c, ChainEquation *e, Buffers *buffers, int *failed)
{
    PyObject *Tc, *ln_Pc, *omega, *m, *sigma, *epsilon, *closest, *w1, *w2, *terms, *pairs, *a, *b, *series, *fractions, *packings, *sites;
    double R;
    if (!PyArg_ParseTuple(model, "dOOOddOOOOOOO!OOOOOOO!", &R, &Tc, &ln_Pc, &omega, &e->avogadro, &e->gives.critical_packing, &m, &sigma, &epsilon, &closest,
                          &w1, &w2, &PyTuple_Type, &terms, &pairs, &a, &b, &series, &fractions, &packings, &PyTuple_Type, &sites)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double), count = PyObject_Length(packings);
    if (count < 1 || count > MOST_PACKINGS) {
        if (!PyErr_Occurred()) PyErr_SetString(PyExc_ValueError, "isotherms can't be looked at at so many packings");
        *failed = 1;
        return;
    }
    attraction_of(terms, pairs, c, 0, &e->attraction, buffers, failed);
    equation_of(R, Tc, ln_Pc, omega, c, &e->common, buffers, failed);
    e->packing_count = (int)count;
    e->m = numbers(buffers, m, c, d, 0, failed);
    e->sigma = numbers(buffers, sigma, c, d, 0, failed);
    e->epsilon = numbers(buffers, epsilon, c, d, 0, failed);
    e->closest = numbers(buffers, closest, c, d, 0, failed);
    e->w1 = numbers(buffers, w1, c * c, d, 0, failed);
    e->w2 = numbers(buffers, w2, c * c, d, 0, failed);
    e->a = numbers(buffers, a, 3 * INTEGRAL_TERMS, d, 0, failed);
    e->b = numbers(buffers, b, 3 * INTEGRAL_TERMS, d, 0, failed);
    e->series = numbers(buffers, series, SERIES * SERIES_TERMS * 3, d, 0, failed);
    e->fractions = numbers(buffers, fractions, FRACTIONS * FRACTION_TERMS, d, 0, failed);
    e->packings = numbers(buffers, packings, count, d, 0, failed);
    association_of(sites, c, &e->association, buffers, failed);
    if (!*failed) chains_ready(e);
}

/* From reference_loops.py's (densities over the critical one, what terms give there). */
static void branch_of(PyObject *made_of, int terms, Branch *branch, Buffers *buffers, int *failed)
{
    PyObject *delta, *first, *second;
    if (*failed || !PyArg_ParseTuple(made_of, "OOO", &delta, &first, &second)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double), count = PyObject_Length(delta);
    if (count < 0) *failed = 1;
    branch->count = (int)count;
    branch->delta = numbers(buffers, delta, count, d, 0, failed);
    branch->first = numbers(buffers, first, count * terms, d, 0, failed);
    branch->second = numbers(buffers, second, count * terms, d, 0, failed);
}

/* From what reference_loops.py has. */
static void reference_of(PyObject *model, Py_ssize_t c, ReferenceEquation *e, Buffers *buffers, int *failed)
{
    PyObject *Tc, *ln_Pc, *omega, *closest, *smooth, *bells, *critical, *up, *down;
    double R;
    if (!PyArg_ParseTuple(model, "dOOOddddd(iii)OOOOO!O!", &R, &Tc, &ln_Pc, &omega, &e->gives.critical_packing, &e->density, &e->temperature, &e->own,
                          &e->scale, &e->smooth, &e->bells, &e->critical, &closest, &smooth, &bells, &critical, &PyTuple_Type, &up, &PyTuple_Type,
                          &down)) {
        *failed = 1;
        return;
    }
    if (c != 1 || e->smooth < 0 || e->bells < 0 || e->critical < 0 || e->smooth + e->bells > MOST_REFERENCE_TERMS) {
        PyErr_SetString(PyExc_ValueError, "a reference equation is of one component, and of not so many terms");
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    equation_of(R, Tc, ln_Pc, omega, c, &e->common, buffers, failed);
    e->closest = numbers(buffers, closest, c, d, 0, failed);
    e->smooth_terms = numbers(buffers, smooth, (Py_ssize_t)SMOOTH_NUMBERS * e->smooth, d, 0, failed);
    e->bell_terms = numbers(buffers, bells, (Py_ssize_t)BELL_NUMBERS * e->bells, d, 0, failed);
    e->critical_terms = numbers(buffers, critical, (Py_ssize_t)CRITICAL_NUMBERS * e->critical, d, 0, failed);
    branch_of(up, e->smooth + e->bells, &e->up, buffers, failed);
    branch_of(down, e->smooth + e->bells, &e->down, buffers, failed);
    if (!*failed) reference_ready(e);
}

/* From pair_loops.py's (vapor pressures, their ranges, densities). */
static void pure_liquids_of(PyObject *made_of, Py_ssize_t c, PureLiquids *all, Buffers *buffers, int *failed)
{
    PyObject *pressures, *by_pressure, *ranges, *densities, *by_density;
    if (*failed || !PyArg_ParseTuple(made_of, "OOOOO", &pressures, &by_pressure, &ranges, &densities, &by_density)) {
        *failed = 1;
        return;
    }
    equations_of(pressures, by_pressure, c, VAPOR_PRESSURES, &all->pressure, buffers, failed);
    equations_of(densities, by_density, c, LIQUID_DENSITIES, &all->density, buffers, failed);
    all->ranges = numbers(buffers, ranges, 2 * c, sizeof(double), 0, failed);
    if (!*failed && (all->pressure.number == NULL || all->density.number == NULL || all->ranges == NULL)) {
        PyErr_SetString(PyExc_ValueError, "a liquid lacks its vapor pressure or density");
        *failed = 1;
    }
}

/* From pair_loops.py's (means, functions of temperature, what they are multiplied by, series, which are given, their functions of temperature and coefficients). */
static void virial_of(PyObject *made_of, Py_ssize_t c, Virial *v, Buffers *buffers, int *failed)
{
    PyObject *means, *terms, *pairs, *series, *given, *own_terms, *own;
    if (*failed || !PyArg_ParseTuple(made_of, "OO!OOOO!O", &means, &PyTuple_Type, &terms, &pairs, &series, &given, &PyTuple_Type, &own_terms, &own)) {
        *failed = 1;
        return;
    }
    const Py_ssize_t d = sizeof(double);
    v->means = numbers(buffers, means, c * c, d, 0, failed);
    attraction_of(terms, pairs, c, 1, &v->attraction, buffers, failed);
    v->series = numbers(buffers, series, VIRIAL_POWERS * c * c, d, 0, failed);
    v->given = numbers(buffers, given, c * c, 1, 0, failed);
    attraction_of(own_terms, own, c, v->given != NULL, &v->own, buffers, failed);
}

/* From pair_loops.py's (R, whether pressure acts on liquids, whether their vapors are real, pure liquids, terms, (least Z, ln phi, virial coefficients)). */
static void pair_of(PyObject *model, Py_ssize_t c, PairEquation *e, Buffers *buffers, int *failed)
{
    PyObject *pure, *terms, *virial;
    if (!PyArg_ParseTuple(model, "dppO!O!(ddO!)", &e->common.R, &e->poynting, &e->saturated, &PyTuple_Type, &pure, &PyTuple_Type, &terms, &e->least_Z,
                          &e->ln_phi, &PyTuple_Type, &virial)) {
        *failed = 1;
        return;
    }
    e->common.c = (int)c;
    e->is_virial = PyTuple_GET_SIZE(virial) > 0;
    pure_liquids_of(pure, c, &e->pure, buffers, failed);
    activity_of(terms, c, &e->activity, buffers, failed);
    if (e->is_virial) virial_of(virial, c, &e->vapor, buffers, failed);
    if (e->saturated && !e->is_virial) {
        PyErr_SetString(PyExc_ValueError, "an ideal gas has no fugacity coefficients");
        *failed = 1;
    }
    if (!*failed) pairs_ready(e);
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
    PyObject *equation, *T, *P;
    if (!PyArg_ParseTuple(made_of, "O!OO", &PyTuple_Type, &equation, &T, &P)) {
        *failed = 1;
        return;
    }
    if (all->which == CUBIC)
        cubic_of(equation, c, &all->of.cubic, buffers, failed);
    else if (all->which == CPA)
        cpa_of(equation, c, &all->of.cpa, buffers, failed);
    else if (all->which == REFERENCE)
        reference_of(equation, c, &all->of.reference, buffers, failed);
    else if (all->which == PAIR)
        pair_of(equation, c, &all->of.pair, buffers, failed);
    else
        chains_of(equation, c, &all->of.chains, buffers, failed);
    all->T = numbers(buffers, T, n, sizeof(double), 0, failed);
    all->P = numbers(buffers, P, n, sizeof(double), 0, failed);
}

void bound_at(const Source *all, Py_ssize_t state, Fluid *one)
{
    fluid_at(&all->of.equation, all->T[state], all->P[state], one);
}

void need_equation(const Source *all, int *failed)
{
    if (*failed || all->which != PAIR) return;
    PyErr_SetString(PyExc_ValueError, "only an equation of state has this");
    *failed = 1;
}
