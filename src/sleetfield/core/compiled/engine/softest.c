#include "softest.h"

#include "descent.h"

#include <math.h>

void softness(const Phase *model, double V, const double *n, double *B)
{
    const int c = model->c;
    double root[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) root[i] = sqrt(n[i]);
    model->hessian(model, V, n, B);
    for (int i = 0; i < c; i++) {
        for (int j = 0; j < c; j++) B[i * c + j] *= root[i] * root[j];
        B[i * c + i] += 1.0;
    }
}

int softest(const Phase *model, double V, const double *n, Softest *out)
{
    const int c = model->c;
    double B[MOST_COMPONENTS * MOST_COMPONENTS], along[MOST_COMPONENTS];
    softness(model, V, n, B);
    out->eigenvalue = smallest_eigenvalue(c, B, out->direction);
    if (isnan(out->eigenvalue)) return 0;
    for (int i = 0; i < c; i++) along[i] = sqrt(n[i]) * out->direction[i];
    out->form = model->third(model, V, n, along);
    out->size = fabs(out->form);
    for (int i = 0; i < c; i++) {
        const double own = along[i] * along[i] * along[i] / (n[i] * n[i]);
        out->form -= own;
        out->size += fabs(own);
    }
    return isfinite(out->form) != 0;
}

int locally_stable(const Phase *model, double V, const double *n)
{
    const int c = model->c;
    double B[MOST_COMPONENTS * MOST_COMPONENTS];
    softness(model, V, n, B);
    for (int i = 0; i < c * c; i++)
        if (!isfinite(B[i])) return UNSURE;
    return positive_definite(c, B, 0.0) ? YES : NO;
}
