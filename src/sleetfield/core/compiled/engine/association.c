#include "association.h"

#include "linear.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define STEPS 60
#define THERE 1e-9 /* of a step, whose error is the square */
#define LEAST 0.2

void strength_at(const Association *a, double T, Strength *out)
{
    const int K = a->sites;
    for (int p = 0; p < K * K; p++) {
        double first = 0.0, second = 0.0, product = 1.0;
        out->of[0][p] = out->of[1][p] = out->of[2][p] = 0.0;
        if (!(a->volume[p] > 0.0)) continue;
        for (int n = 0; n < 2; n++) {
            /* of ln(exp(e/T) - 1)/2 */
            const double r = a->energy[n * K * K + p] / T, grown = exp(r), own = expm1(r), share = grown / own;
            product *= own;
            first -= 0.5 * r * share / T;
            second += 0.5 * (2.0 * r * share + r * r * share * (1.0 - share)) / (T * T);
        }
        const double F = a->volume[p] * sqrt(product);
        out->of[0][p] = F;
        out->of[1][p] = F * first;
        out->of[2][p] = 0.5 * F * (first * first + second);
    }
}

/* Small systems, which most mixtures have, without elimination. */
static int solve(int K, double *A, double *b)
{
    if (K > 2) return solve_linear(K, A, b);
    const double determinant = K == 1 ? A[0] : A[0] * A[3] - A[1] * A[2], first = b[0];
    b[0] = (K == 1 ? first : A[3] * first - A[1] * b[1]) / determinant;
    if (K == 2) b[1] = (A[0] * b[1] - A[2] * first) / determinant;
    return isfinite(b[0]) && isfinite(b[K - 1]);
}

/* Where the fractions of sites that are not bound are sought from, at densities of sites and with what they are bound by, row by row; of one kind of sites they are these. */
static void begun(int K, const double *d, const double *delta, double *X)
{
    for (int k = 0; k < K; k++) {
        double all = 0.0;
        for (int l = 0; l < K; l++) all += delta[k * K + l] * d[l];
        X[k] = 2.0 / (1.0 + sqrt(1.0 + 4.0 * all));
    }
}

/* These fractions, from those in X; NaN where they are not found, as where bonds are so strong that numbers do not reach. */
static void solved(int K, const double *d, const double *delta, double *X)
{
    if (K < 2) return;
    for (int step = 0; step < STEPS; step++) {
        double matrix[SITE_PAIRS], change[MOST_SITES];
        int going = 0;
        for (int k = 0; k < K; k++) {
            double met = 1.0;
            for (int l = 0; l < K; l++) met += (matrix[k * K + l] = delta[k * K + l] * d[l]) * X[l];
            matrix[k * K + k] += met / X[k];
            change[k] = 1.0 / X[k] - met;
        }
        if (!solve(K, matrix, change)) break;
        for (int k = 0; k < K; k++) {
            const double new = X[k] + change[k] > LEAST * X[k] ? X[k] + change[k] : LEAST * X[k];
            going |= fabs(new - X[k]) > THERE * X[k];
            X[k] = new;
        }
        if (!going) return;
    }
    for (int k = 0; k < K; k++) X[k] = NAN;
}

/* The matrix of changes in X. */
static void response(int K, const double *d, const double *delta, const double *X, double *matrix)
{
    for (int k = 0; k < K; k++) {
        for (int l = 0; l < K; l++) matrix[k * K + l] = delta[k * K + l] * d[l];
        matrix[k * K + k] += 1.0 / (X[k] * X[k]);
    }
}

/* Further Taylor coefficients of X, one after the other: those of X (1 + sum delta d X) beyond the first are zero. */
static void continued(int K, int order, const Jet *d, const Jet *delta, Jet *X)
{
    double plain_d[MOST_SITES], plain[SITE_PAIRS], own[MOST_SITES], matrix[SITE_PAIRS], copy[SITE_PAIRS], right[MOST_SITES];
    for (int k = 0; k < K; k++) plain_d[k] = d[k].k[0];
    for (int p = 0; p < K * K; p++) plain[p] = delta[p].k[0];
    begun(K, plain_d, plain, own);
    solved(K, plain_d, plain, own);
    for (int k = 0; k < K; k++) X[k] = jet_line(own[k], 0.0);
    if (order == 0) return;
    response(K, plain_d, plain, own, matrix);
    for (int n = 1; n <= order; n++) {
        for (int k = 0; k < K; k++) {
            Jet met = jet_line(1.0, 0.0);
            for (int l = 0; l < K; l++) met = jet_sum(n, 1.0, met, 1.0, jet_product(n, delta[k * K + l], jet_product(n, d[l], X[l])));
            right[k] = -jet_product(n, X[k], met).k[n] / own[k];
        }
        memcpy(copy, matrix, sizeof(double) * (size_t)(K * K));
        if (!solve(K, copy, right)) return;
        for (int k = 0; k < K; k++) X[k].k[n] = right[k];
    }
}

void bonds(const Association *a, int order, const Strength *F, int warm, const Jet *rho, const Contact *g, Jet *f, Jet *by_moment, Jet *ln_free)
{
    const int K = a->sites;
    const Jet none = jet_line(0.0, 0.0);
    Jet d[MOST_SITES], X[MOST_SITES], strength[SITE_PAIRS], delta[SITE_PAIRS];
    for (int p = 0; p < K * K; p++) {
        const Jet own = {{F->of[0][p], warm ? F->of[1][p] : 0.0, warm ? F->of[2][p] : 0.0, 0.0}};
        strength[p] = own;
        delta[p] = jet_product(order, own, g->value[p]);
    }
    for (int k = 0; k < K; k++) d[k] = jet_multiple(order, a->count[k], rho[(int)a->owner[k]]);
    continued(K, order, d, delta, X);
    *f = none;
    for (int k = 0; k < K; k++) {
        const Jet ln_X = jet_log(order, X[k]);
        Jet own = jet_sum(order, 1.0, ln_X, -0.5, X[k]);
        own.k[0] += 0.5;
        *f = jet_sum(order, 1.0, *f, 1.0, jet_product(order, d[k], own));
        if (ln_free != NULL) ln_free[k] = ln_X;
        d[k] = jet_product(order, d[k], X[k]);
    }
    if (ln_free == NULL) return;
    for (int q = 0; q < g->moments; q++) {
        by_moment[q] = none;
        for (int p = 0; p < K * K; p++) {
            if (!(F->of[0][p] > 0.0)) continue;
            const Jet both = jet_product(order, d[p / K], d[p % K]);
            by_moment[q] = jet_sum(order, 1.0, by_moment[q], -0.5, jet_product(order, both, jet_product(order, strength[p], g->by[q][p])));
        }
    }
}

void add_pressure_of_bonds(const Association *a, const Strength *F, const double *x, double rho, const ContactOfDensity *g, Free *last, double *p, double *slope)
{
    const int K = a->sites;
    double d[MOST_SITES], delta[SITE_PAIRS], matrix[SITE_PAIRS], t[MOST_SITES], X_rho[MOST_SITES], S = 0.0, bend = 0.0, *X = last->X;
    for (int q = 0; q < K * K; q++) delta[q] = F->of[0][q] * g->value[0][g->step * q];
    for (int k = 0; k < K; k++) d[k] = a->count[k] * rho * x[(int)a->owner[k]];
    if (last->rho > 0.0 && K > 1) {
        const double further = log(rho / last->rho);
        for (int k = 0; k < K; k++) X[k] *= exp(last->power[k] * further);
    } else
        begun(K, d, delta, X);
    solved(K, d, delta, X);
    last->rho = rho;
    response(K, d, delta, X, matrix);
    for (int k = 0; k < K; k++) {
        double met = 0.0;
        t[k] = X_rho[k] = 0.0;
        for (int l = 0; l < K; l++) {
            const int q = k * K + l;
            const double own = F->of[0][q] * d[l] * X[l];
            t[k] += own * g->value[1][g->step * q];
            met += own * g->value[2][g->step * q];
            X_rho[k] -= own * (g->value[1][g->step * q] + g->value[0][g->step * q] / rho);
        }
        S -= 0.5 * d[k] * X[k] * t[k];
        bend -= 0.5 * d[k] * X[k] * met;
    }
    if (!solve(K, matrix, X_rho)) {
        *p = NAN;
        last->rho = 0.0;
        return;
    }
    *slope += S;
    for (int k = 0; k < K; k++) {
        last->power[k] = rho * X_rho[k] / X[k];
        *p -= 0.5 * d[k] * (1.0 - X[k]);
        *slope -= 0.5 * d[k] * ((1.0 - X[k]) / rho - X_rho[k]);
        bend -= (X[k] / rho + X_rho[k]) * d[k] * t[k];
    }
    *p += rho * S;
    *slope += rho * bend;
}

void add_bent_bonds(const Association *a, const Strength *F, const double *rho, const BentContact *g, double *out)
{
    const int K = a->sites, Q = g->moments;
    double d[MOST_SITES], X[MOST_SITES], delta[SITE_PAIRS], matrix[SITE_PAIRS], t[MOST_MOMENTS][MOST_SITES], U[MOST_MOMENTS][MOST_MOMENTS] = {{0.0}};
    for (int p = 0; p < K * K; p++) delta[p] = F->of[0][p] * g->value[p];
    for (int k = 0; k < K; k++) d[k] = a->count[k] * rho[(int)a->owner[k]];
    begun(K, d, delta, X);
    solved(K, d, delta, X);
    response(K, d, delta, X, matrix);
    for (int q = 0; q < Q; q++)
        for (int k = 0; k < K; k++) {
            t[q][k] = 0.0;
            for (int l = 0; l < K; l++) {
                const int p = k * K + l;
                const double both = d[k] * X[k] * d[l] * X[l] * F->of[0][p];
                t[q][k] += F->of[0][p] * g->by[q][p] * d[l] * X[l];
                for (int r = 0; r < Q; r++) U[q][r] += both * g->bent[q][r][p];
            }
        }
    for (int j = 0; j < a->c; j++) {
        double copy[SITE_PAIRS], X_j[MOST_SITES], S_j[MOST_MOMENTS];
        memcpy(copy, matrix, sizeof(double) * (size_t)(K * K));
        for (int k = 0; k < K; k++) {
            X_j[k] = 0.0;
            for (int l = 0; l < K; l++)
                if ((int)a->owner[l] == j) X_j[k] -= delta[k * K + l] * a->count[l] * X[l];
            for (int q = 0; q < Q; q++) X_j[k] -= g->slope[q][j] * t[q][k];
        }
        if (!solve(K, copy, X_j)) {
            out[j] = NAN;
            return;
        }
        for (int q = 0; q < Q; q++) {
            S_j[q] = 0.0;
            for (int k = 0; k < K; k++) S_j[q] -= t[q][k] * (((int)a->owner[k] == j ? a->count[k] * X[k] : 0.0) + d[k] * X_j[k]);
            for (int r = 0; r < Q; r++) S_j[q] -= 0.5 * g->slope[r][j] * U[q][r];
        }
        for (int k = 0; k < K; k++) out[(size_t)(int)a->owner[k] * a->c + j] += a->count[k] * X_j[k] / X[k];
        for (int i = 0; i < a->c; i++)
            for (int q = 0; q < Q; q++) out[(size_t)i * a->c + j] += g->slope[q][i] * S_j[q];
    }
}
