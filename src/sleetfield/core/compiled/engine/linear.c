#include "linear.h"

#include <math.h>
#include <stddef.h>

int all_finite(int n, const double *values)
{
    for (int i = 0; i < n; i++)
        if (!isfinite(values[i])) return 0;
    return 1;
}

int solve_linear(int n, double *A, double *b)
{
    for (int k = 0; k < n; k++) {
        int pivot = k;
        for (int i = k + 1; i < n; i++)
            if (fabs(A[(size_t)i * n + k]) > fabs(A[(size_t)pivot * n + k])) pivot = i;
        if (pivot != k) {
            for (int j = k; j < n; j++) {
                const double kept = A[(size_t)k * n + j];
                A[(size_t)k * n + j] = A[(size_t)pivot * n + j];
                A[(size_t)pivot * n + j] = kept;
            }
            const double kept = b[k];
            b[k] = b[pivot];
            b[pivot] = kept;
        }
        const double *restrict row = A + (size_t)k * n;
        if (!(fabs(row[k]) > 0.0) || !isfinite(row[k])) return 0;
        for (int i = k + 1; i < n; i++) {
            double *restrict other = A + (size_t)i * n;
            const double factor = other[k] / row[k];
            if (factor == 0.0) continue;
            for (int j = k + 1; j < n; j++) other[j] -= factor * row[j];
            b[i] -= factor * b[k];
        }
    }
    for (int i = n - 1; i >= 0; i--) {
        double sum = b[i];
        for (int j = i + 1; j < n; j++) sum -= A[(size_t)i * n + j] * b[j];
        b[i] = sum / A[(size_t)i * n + i];
        if (!isfinite(b[i])) return 0;
    }
    return 1;
}
