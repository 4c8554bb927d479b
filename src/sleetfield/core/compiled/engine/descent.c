#include "descent.h"

#include <float.h>
#include <math.h>
#include <stddef.h>
#include <string.h>

#define FLAT 1e-12
#define SURE 1e-9 /* a pivot above which H is positive definite without question */
#define SWEEPS 60

/* By Cholesky's factors, where H is positive definite. */
static int by_cholesky(int c, const double *H, const double *g, double *step)
{
    double L[MOST_VARIABLES * MOST_VARIABLES];
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

/* The symmetric H made tridiagonal by Householder's reflections: its diagonal, what is beside it, and, unless V is NULL, the reflections in the rows of V. */
static void tridiagonal(int c, double *H, double *diagonal, double *beside, double *V)
{
    double v[MOST_VARIABLES], w[MOST_VARIABLES];
    for (int i = 0; i < c; i++)
        for (int j = i + 1; j < c; j++) H[i * c + j] = H[j * c + i] = 0.5 * (H[i * c + j] + H[j * c + i]);
    for (int k = 0; k + 2 < c; k++) {
        double square = 0.0, rest = 0.0, length = 0.0, inner = 0.0;
        for (int i = k + 1; i < c; i++) square += H[i * c + k] * H[i * c + k];
        rest = square - H[(k + 1) * c + k] * H[(k + 1) * c + k];
        if (!(rest > 0.0)) continue;
        const double reflected = -copysign(sqrt(square), H[(k + 1) * c + k]);
        for (int i = k + 1; i < c; i++) v[i] = H[i * c + k];
        v[k + 1] -= reflected;
        for (int i = k + 1; i < c; i++) length += v[i] * v[i];
        length = sqrt(length);
        for (int i = k + 1; i < c; i++) v[i] /= length;
        for (int i = k + 1; i < c; i++) {
            w[i] = 0.0;
            for (int j = k + 1; j < c; j++) w[i] += H[i * c + j] * v[j];
            inner += v[i] * w[i];
        }
        for (int i = k + 1; i < c; i++) w[i] = 2.0 * (w[i] - inner * v[i]);
        for (int i = k + 1; i < c; i++)
            for (int j = k + 1; j < c; j++) H[i * c + j] -= v[i] * w[j] + w[i] * v[j];
        H[(k + 1) * c + k] = reflected;
        for (int j = 0; V != NULL && j < c; j++) {
            double sum = 0.0;
            for (int i = k + 1; i < c; i++) sum += v[i] * V[i * c + j];
            for (int i = k + 1; i < c; i++) V[i * c + j] -= 2.0 * sum * v[i];
        }
    }
    for (int i = 0; i < c; i++) {
        diagonal[i] = H[i * c + i];
        beside[i] = i + 1 < c ? H[(i + 1) * c + i] : 0.0;
    }
}

/* Eigenvalues of the symmetric H (changed), and unless V is NULL its eigenvectors in the rows of V; by the QL method with implicit shifts
   (Wilkinson and Reinsch, Handbook for Automatic Computation II (1971) 241-248). */
static void eigen(int c, double *H, double *values, double *V)
{
    double e[MOST_VARIABLES];
    for (int i = 0; V != NULL && i < c * c; i++) V[i] = i % (c + 1) == 0 ? 1.0 : 0.0;
    tridiagonal(c, H, values, e, V);
    for (int l = 0; l < c; l++)
        for (int sweep = 0; sweep < SWEEPS; sweep++) {
            int m = l;
            while (m < c - 1 && fabs(e[m]) > DBL_EPSILON * (fabs(values[m]) + fabs(values[m + 1]))) m++;
            if (m == l) break;
            double g = (values[l + 1] - values[l]) / (2.0 * e[l]);
            g = values[m] - values[l] + e[l] / (g + copysign(hypot(g, 1.0), g));
            double sine = 1.0, cosine = 1.0, p = 0.0;
            int i = m - 1;
            for (; i >= l; i--) {
                const double f = sine * e[i], b = cosine * e[i], r = hypot(f, g);
                e[i + 1] = r;
                if (r == 0.0) {
                    values[i + 1] -= p;
                    break;
                }
                sine = f / r;
                cosine = g / r;
                g = values[i + 1] - p;
                const double turned = (values[i] - g) * sine + 2.0 * cosine * b;
                p = sine * turned;
                values[i + 1] = g + p;
                g = cosine * turned - b;
                for (int j = 0; V != NULL && j < c; j++) {
                    const double one = V[i * c + j], other = V[(i + 1) * c + j];
                    V[i * c + j] = cosine * one - sine * other;
                    V[(i + 1) * c + j] = sine * one + cosine * other;
                }
            }
            if (i < l) {
                values[l] -= p;
                e[l] = g;
            }
            e[m] = 0.0;
        }
}

static void by_eigenvalues(int c, double *H, const double *g, double *step)
{
    double values[MOST_VARIABLES], V[MOST_VARIABLES * MOST_VARIABLES];
    eigen(c, H, values, V);
    for (int i = 0; i < c; i++) step[i] = 0.0;
    for (int k = 0; k < c; k++) {
        const double size = fabs(values[k]);
        double along = 0.0;
        for (int i = 0; i < c; i++) along += V[k * c + i] * g[i];
        along /= size > FLAT ? size : FLAT;
        for (int i = 0; i < c; i++) step[i] -= V[k * c + i] * along;
    }
}

double smallest_eigenvalue(int c, double *H, double *vector)
{
    double values[MOST_VARIABLES], V[MOST_VARIABLES * MOST_VARIABLES];
    int least = 0;
    for (int i = 0; i < c * c; i++)
        if (!isfinite(H[i])) return NAN;
    eigen(c, H, values, vector == NULL ? NULL : V);
    for (int k = 1; k < c; k++)
        if (values[k] < values[least]) least = k;
    if (vector != NULL) memcpy(vector, V + least * c, sizeof(double) * (size_t)c);
    return values[least];
}

int positive_definite(int c, const double *H, double shift)
{
    double L[MOST_VARIABLES * MOST_VARIABLES];
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
