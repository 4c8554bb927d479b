#include "line.h"

#include "linear.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define ITERATIONS 12
#define TOLERANCE 1e-12
#define ACCEPT 1e-10
#define TRIVIAL 1e-8
#define LOST 50.0
#define LONGEST 1.5
#define MOST_UNKNOWNS (MOST_COMPONENTS + 2)

/* Both phases at given unknowns: mole fractions, totals and slopes, by the amount that fractions are of. */
typedef struct {
    double fraction[2][MOST_COMPONENTS], slope[MOST_COMPONENTS], total[2], gap;
    Fluid bound;
} Phases;

static void phases_at(const LineOf *l, const double *X, Phases *p)
{
    const int c = l->equation->c;
    p->gap = p->total[0] = p->total[1] = 0.0;
    for (int i = 0; i < c; i++) {
        const double k = exp(X[i]), x = l->z[i] / (1.0 - l->beta + l->beta * k), weight = l->weights == NULL ? 1.0 : l->weights[i];
        p->slope[i] = k * x * x / l->z[i];
        p->gap += k * x - x;
        p->total[0] += p->fraction[0][i] = k * x * weight;
        p->total[1] += p->fraction[1][i] = x * weight;
    }
    for (int i = 0; i < c; i++) {
        p->fraction[0][i] /= p->total[0];
        p->fraction[1][i] /= p->total[1];
    }
    fluid_at(l->equation, exp(X[c]), exp(X[c + 1]), &p->bound);
}

/* Residuals and their derivatives, without the last row. */
static void equations(const LineOf *l, const double *X, double *f, double *J, double *Z)
{
    const int c = l->equation->c, size = c + 2;
    double phi[MOST_COMPONENTS], dn[2][MOST_COMPONENTS * MOST_COMPONENTS];
    Evaluation e[2];
    Phases p;
    phases_at(l, X, &p);
    const Phase *m = &p.bound.phase;
    for (int k = 0; k < 2; k++) {
        m->evaluate(m, p.fraction[k], l->roots[k], &e[k]);
        m->derivatives(m, p.fraction[k], l->roots[k], phi, dn[k]);
        Z[k] = e[k].Z;
    }
    memset(J, 0, sizeof(double) * (size_t)size * size);
    for (int j = 0; j < c; j++) {
        const double moles = p.slope[j] * (l->weights == NULL ? 1.0 : l->weights[j]);
        const double by_y = (1.0 - l->beta) * moles / p.total[0], by_x = l->beta * moles / p.total[1];
        for (int i = 0; i < c; i++) {
            J[(size_t)i * size + j] = dn[0][(size_t)i * c + j] * by_y + dn[1][(size_t)i * c + j] * by_x;
            if (l->weights != NULL) J[(size_t)i * size + j] -= by_x + by_y;
        }
        J[(size_t)j * size + j] += 1.0;
        J[(size_t)c * size + j] = p.slope[j];
    }
    for (int i = 0; i < c; i++) {
        f[i] = X[i] + e[0].ln_phi[i] - e[1].ln_phi[i];
        if (l->weights != NULL) f[i] += log(p.total[1] / p.total[0]);
        J[(size_t)i * size + c] = p.bound.at.T * (e[0].dT[i] - e[1].dT[i]);
        J[(size_t)i * size + c + 1] = p.bound.at.P * (e[0].dP[i] - e[1].dP[i]);
    }
    f[c] = p.gap;
}

static double largest(int n, const double *values)
{
    double most = 0.0;
    for (int i = 0; i < n; i++)
        if (!(fabs(values[i]) <= most)) most = fabs(values[i]);
    return most;
}

/* How the unknowns change with the one that was given; what the phases are like. */
static int finish(const LineOf *l, double *J, LinePoint *out)
{
    const int c = l->equation->c;
    Phases p;
    memset(out->tangent, 0, sizeof out->tangent);
    out->tangent[c + 1] = 1.0;
    if (!solve_linear(c + 2, J, out->tangent)) return NONE;
    if (largest(c, out->X) < TRIVIAL && fabs(out->Z[0] / out->Z[1] - 1.0) < 1e-6) return NONE;
    phases_at(l, out->X, &p);
    for (int k = 0; k < 2; k++) {
        Description d;
        p.bound.phase.describe(&p.bound.phase, p.fraction[k], l->roots[k], &d);
        out->packing[k] = d.packing;
    }
    return POINT;
}

int line_point(const LineOf *l, int S, double value, LinePoint *out)
{
    const int c = l->equation->c, size = c + 2;
    double f[MOST_UNKNOWNS], J[MOST_UNKNOWNS * MOST_UNKNOWNS], last = HUGE_VAL, *X = out->X;
    X[S] = value;
    for (out->iterations = 1; out->iterations <= ITERATIONS; out->iterations++) {
        equations(l, X, f, J, out->Z);
        J[(size_t)(c + 1) * size + S] = 1.0;
        f[c + 1] = X[S] - value;
        const double error = largest(size, f);
        if (!isfinite(error) || error > LOST || !all_finite(size * size, J)) return NONE;
        if (largest(c, X) < 5e-3 && fabs(log(out->Z[0] / out->Z[1])) < 0.05) return BESIDE_CRITICAL;
        if (error < TOLERANCE || (error < ACCEPT && error >= last)) return finish(l, J, out);
        if (!solve_linear(size, J, f)) return NONE;
        last = error;
        const double step = largest(size, f), shorter = step > LONGEST ? LONGEST / step : 1.0;
        for (int i = 0; i < size; i++) X[i] -= f[i] * shorter;
    }
    return NONE;
}
