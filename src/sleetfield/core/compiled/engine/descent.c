#include "descent.h"

#include "phase.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define FLAT 1e-12
#define SURE 1e-9 /* a pivot above which H is positive definite without question */
#define SWEEPS 60

/* By Cholesky's factors, where H is positive definite. */
static int by_cholesky(int c, const double *H, const double *g, double *step)
{
    double L[MOST_COMPONENTS * MOST_COMPONENTS];
    for (int j = 0; j < c; j++) {
        double pivot = H[j * c + j];
        for (int k = 0; k < j; k++) pivot -= L[j * c + k] * L[j * c + k];
        if (!(pivot > SURE)) return 0;
        const double root = sqrt(pivot);
        L[j * c + j] = root;
        for (int i = j + 1; i < c; i++) {
            double sum = 0.5 * (H[i * c + j] + H[j * c + i]);
            for (int k = 0; k < j; k++) sum -= L[i * c + k] * L[j * c + k];
            L[i * c + j] = sum / root;
        }
    }
    for (int i = 0; i < c; i++) {
        double sum = -g[i];
        for (int k = 0; k < i; k++) sum -= L[i * c + k] * step[k];
        step[i] = sum / L[i * c + i];
    }
    for (int i = c - 1; i >= 0; i--) {
        double sum = step[i];
        for (int k = i + 1; k < c; k++) sum -= L[k * c + i] * step[k];
        step[i] = sum / L[i * c + i];
    }
    return 1;
}

/* Jacobi's rotations: H becomes diagonal, the columns of V its eigenvectors. */
static void diagonalize(int c, double *H, double *V)
{
    memset(V, 0, sizeof(double) * (size_t)c * c);
    for (int i = 0; i < c; i++) {
        V[i * c + i] = 1.0;
        for (int j = i + 1; j < c; j++) H[i * c + j] = H[j * c + i] = 0.5 * (H[i * c + j] + H[j * c + i]);
    }
    for (int sweep = 0; sweep < SWEEPS; sweep++) {
        double off = 0.0, all = 0.0;
        for (int i = 0; i < c; i++)
            for (int j = 0; j < c; j++) {
                const double square = H[i * c + j] * H[i * c + j];
                all += square;
                if (i != j) off += square;
            }
        if (off <= 1e-30 * all) break;
        for (int p = 0; p < c - 1; p++)
            for (int q = p + 1; q < c; q++) {
                const double h = H[p * c + q];
                if (h == 0.0) continue;
                const double theta = (H[q * c + q] - H[p * c + p]) / (2.0 * h);
                const double t = copysign(1.0, theta) / (fabs(theta) + sqrt(theta * theta + 1.0));
                const double cosine = 1.0 / sqrt(t * t + 1.0), sine = t * cosine;
                for (int k = 0; k < c; k++) {
                    const double a = H[k * c + p], b = H[k * c + q];
                    H[k * c + p] = cosine * a - sine * b;
                    H[k * c + q] = sine * a + cosine * b;
                }
                for (int k = 0; k < c; k++) {
                    const double a = H[p * c + k], b = H[q * c + k];
                    H[p * c + k] = cosine * a - sine * b;
                    H[q * c + k] = sine * a + cosine * b;
                }
                for (int k = 0; k < c; k++) {
                    const double a = V[k * c + p], b = V[k * c + q];
                    V[k * c + p] = cosine * a - sine * b;
                    V[k * c + q] = sine * a + cosine * b;
                }
            }
    }
}

static void by_eigenvalues(int c, double *H, const double *g, double *step)
{
    double V[MOST_COMPONENTS * MOST_COMPONENTS];
    diagonalize(c, H, V);
    for (int i = 0; i < c; i++) step[i] = 0.0;
    for (int k = 0; k < c; k++) {
        double along = 0.0, size = fabs(H[k * c + k]);
        for (int i = 0; i < c; i++) along += V[i * c + k] * g[i];
        along /= size > FLAT ? size : FLAT;
        for (int i = 0; i < c; i++) step[i] -= V[i * c + k] * along;
    }
}

double smallest_eigenvalue(int c, double *H, double *vector)
{
    double V[MOST_COMPONENTS * MOST_COMPONENTS];
    int least = 0;
    for (int i = 0; i < c * c; i++)
        if (!isfinite(H[i])) return NAN;
    diagonalize(c, H, V);
    for (int k = 1; k < c; k++)
        if (H[k * c + k] < H[least * c + least]) least = k;
    if (vector != NULL)
        for (int i = 0; i < c; i++) vector[i] = V[i * c + least];
    return H[least * c + least];
}

int positive_definite(int c, const double *H, double shift)
{
    double L[MOST_COMPONENTS * MOST_COMPONENTS];
    for (int j = 0; j < c; j++) {
        double pivot = H[j * c + j] - shift;
        for (int k = 0; k < j; k++) pivot -= L[j * c + k] * L[j * c + k];
        if (!(pivot > 0.0)) return 0;
        const double root = sqrt(pivot);
        for (int i = j + 1; i < c; i++) {
            double sum = H[i * c + j];
            for (int k = 0; k < j; k++) sum -= L[i * c + k] * L[j * c + k];
            L[i * c + j] = sum / root;
        }
    }
    return 1;
}

int descent_step(int c, double *H, const double *g, double *step)
{
    for (int i = 0; i < c; i++) {
        if (!isfinite(g[i])) return 0;
        for (int j = 0; j < c; j++)
            if (!isfinite(H[i * c + j])) return 0;
    }
    if (!by_cholesky(c, H, g, step)) by_eigenvalues(c, H, g, step);
    return 1;
}
