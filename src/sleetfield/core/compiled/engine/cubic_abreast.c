#include "cubic_abreast.h"

#include "exponentials.h"
#include "logarithms.h"
#include "quadratic.h"
#include "wide.h"

#include <math.h>
#include <stddef.h>

#define FOUR ABREAST
#define LEAST_A 1e-6 /* next to zero the closed form loses the small roots */
#define SMALL_STEP 1e-8
#define TINY 1e-300

/* What the compositions make of the mixture; half the derivatives of n^2 a, c x 4. */
typedef struct {
    double A[FOUR], B[FOUR], b[FOUR];
    double half[MOST_COMPONENTS * FOUR];
} Mixtures;

WIDE static void mix(const Cubic *m, const double *restrict x, Mixtures *restrict out)
{
    const int c = m->of->common.c;
    const Four *of = (const Four *)x;
    Four u[MOST_COMPONENTS], *half = (Four *)out->half, a = {0.0}, b = {0.0};
    for (int i = 0; i < c; i++) {
        u[i] = FOUR_TIMES(m->root[i], of[i]);
        b = FOUR_PLUS(b, FOUR_TIMES(m->of->b[i], of[i]));
    }
    /* three components together, so that one sum need not wait for the other */
    for (int i = 0; i < c; i += 3) {
        const int two = i + 1 < c ? i + 1 : i, three = i + 2 < c ? i + 2 : i;
        const double *row1 = m->pairs + (size_t)i * c, *row2 = m->pairs + (size_t)two * c, *row3 = m->pairs + (size_t)three * c;
        Four sum1 = {0.0}, sum2 = {0.0}, sum3 = {0.0};
        for (int j = 0; j < c; j++) {
            sum1 = FOUR_PLUS(sum1, FOUR_TIMES(row1[j], u[j]));
            sum2 = FOUR_PLUS(sum2, FOUR_TIMES(row2[j], u[j]));
            sum3 = FOUR_PLUS(sum3, FOUR_TIMES(row3[j], u[j]));
        }
        half[i] = FOUR_TIMES(m->root[i], sum1);
        half[two] = FOUR_TIMES(m->root[two], sum2);
        half[three] = FOUR_TIMES(m->root[three], sum3);
    }
    for (int i = 0; i < c; i++) a = FOUR_PLUS(a, FOUR_PRODUCTS(half[i], of[i]));
    *(Four *)out->A = FOUR_TIMES(m->to_A, a);
    *(Four *)out->B = FOUR_TIMES(m->to_B, b);
    *(Four *)out->b = b;
}

/* Z^3 + c2 Z^2 + c1 Z + c0 = 0, and t^3 + 3 q t - 2 r = 0 of t = Z + c2/3. */
typedef struct {
    double c2[FOUR], c1[FOUR], c0[FOUR], q[FOUR], r[FOUR], disc[FOUR];
} Cubics;

WIDE static void cubics(double d1, double d2, const double *restrict A, const double *restrict B, Cubics *restrict e, double *restrict size)
{
    const double s = d1 + d2, p = d1 * d2;
    for (int k = 0; k < FOUR; k++) {
        const double c2 = (s - 1.0) * B[k] - 1.0, c1 = A[k] + (p - s) * B[k] * B[k] - s * B[k], c0 = -B[k] * (A[k] + p * (B[k] + B[k] * B[k]));
        const double shift = c2 / 3.0, square = shift * shift;
        const double q = c1 / 3.0 - square, r = 0.5 * (shift * c1 - c0) - square * shift, disc = q * q * q + r * r;
        const double inside = disc > 0.0 ? disc : 0.0;
        e->c2[k] = c2;
        e->c1[k] = c1;
        e->c0[k] = c0;
        e->q[k] = q;
        e->r[k] = r;
        e->disc[k] = disc;
        size[k] = fabs(r) + sqrt(inside) + TINY;
    }
}

/* cos(2/3 arccos s), s from 0 to 1, to 2e-12: its interpolation in Chebyshev's points. */
static inline double of_third(double s)
{
    const double s2 = s * s, s4 = s2 * s2, s8 = s4 * s4;
    const double low = (5.00000000001608047e-01 + s * 5.77350268630147823e-01) + s2 * (-1.11111078678387126e-01 + s * 5.34576141170962707e-02);
    const double middle = (-3.29128517800491155e-02 + s * 2.28032216956973940e-02) + s2 * (-1.67611085603463356e-02 + s * 1.23544852021063058e-02);
    const double high = (-8.44953098375006428e-03 + s * 4.85649047812706808e-03) + s2 * (-2.08982677177547461e-03 + s * 5.77654477508536112e-04);
    return low + (s4 * middle + s8 * (high + s4 * -7.53378291643849122e-05));
}

/* t where there is one root, from the cube roots of `size`: the larger one without cancellation, the other from their product, -q. */
WIDE static void alone(const Cubics *restrict e, const double *restrict size_root, double *restrict t)
{
    for (int k = 0; k < FOUR; k++) {
        const double big = e->r[k] < 0.0 ? -size_root[k] : size_root[k];
        t[k] = big - e->q[k] / (big + TINY);
    }
}

/* The largest and the smallest t where there are three, in place of what is there: m cos(u/3) and m cos(u/3 + 2 pi/3). */
WIDE static void of_three(const Cubics *restrict e, double *restrict small, double *restrict large)
{
    for (int k = 0; k < FOUR; k++) {
        const double below = e->q[k] < 0.0 ? -e->q[k] : 0.0, half = sqrt(below), cosine = e->r[k] / (below * half + TINY);
        const double within = cosine > 1.0 ? 1.0 : cosine < -1.0 ? -1.0 : cosine;
        const double upper = 2.0 * half * of_third(sqrt(0.5 + 0.5 * within)), lower = -2.0 * half * of_third(sqrt(0.5 - 0.5 * within));
        large[k] = e->disc[k] < 0.0 ? upper : large[k];
        small[k] = e->disc[k] < 0.0 ? lower : small[k];
    }
}

/* Z from t by a step of Newton's method; which of two are above B, and which are roots to the last digits. */
WIDE static void polish(const Cubics *restrict e, const double *restrict B, double *restrict small, double *restrict large, double *restrict two, double *restrict sure)
{
    for (int k = 0; k < FOUR; k++) {
        const double c2 = e->c2[k], c1 = e->c1[k], c0 = e->c0[k], shift = c2 / 3.0, Z = large[k] - shift, z = small[k] - shift;
        const double step = (((Z + c2) * Z + c1) * Z + c0) / ((3.0 * Z + 2.0 * c2) * Z + c1);
        const double lower_step = (((z + c2) * z + c1) * z + c0) / ((3.0 * z + 2.0 * c2) * z + c1);
        const double high = Z - step, low = z - lower_step;
        const int apart = (e->disc[k] < 0.0) & (low > B[k]), lower_sure = !apart | (fabs(lower_step) <= SMALL_STEP * low);
        large[k] = high;
        small[k] = apart ? low : high;
        two[k] = apart ? 1.0 : 0.0;
        sure[k] = (fabs(step) <= SMALL_STEP * high) & (high > B[k]) & lower_sure ? 1.0 : 0.0;
    }
}

static void roots(const Cubics *e, const double *B, const double *size, double *small, double *large, double *two, double *sure)
{
    double ln_size[FOUR], size_root[FOUR];
    int some_three = 0, some_alone = 0;
    for (int k = 0; k < FOUR; k++) {
        some_three |= e->disc[k] < 0.0;
        some_alone |= !(e->disc[k] < 0.0);
        large[k] = 0.0;
    }
    if (some_alone) {
        logarithms(FOUR, size, ln_size);
        for (int k = 0; k < FOUR; k++) ln_size[k] /= 3.0;
        exponentials(FOUR, ln_size, size_root);
        alone(e, size_root, large);
    }
    for (int k = 0; k < FOUR; k++) small[k] = large[k];
    if (some_three) of_three(e, small, large);
    polish(e, B, small, large, two, sure);
}

/* Volumes: ln(Z - B), and the integral ln((Z + d1 B)/(Z + d2 B))/((d1 - d2) B). */
typedef struct {
    double Z[FOUR], ln_free[FOUR], I[FOUR];
} Volumes;

WIDE static void arguments(double d1, double d2, const double *restrict Z, const double *restrict B, double *restrict out)
{
    for (int k = 0; k < FOUR; k++) {
        out[k] = Z[k] - B[k];
        out[FOUR + k] = (Z[k] + d1 * B[k]) / (Z[k] + d2 * B[k]);
    }
}

static void volumes(double d1, double d2, const double *Z, const double *B, Volumes *out)
{
    double inside[2 * FOUR], ln[2 * FOUR];
    arguments(d1, d2, Z, B, inside);
    logarithms(2 * FOUR, inside, ln);
    for (int k = 0; k < FOUR; k++) {
        out->Z[k] = Z[k];
        out->ln_free[k] = ln[k];
        out->I[k] = ln[FOUR + k] / ((d1 - d2) * B[k]);
    }
}

WIDE static void results(const Cubic *m, const Mixtures *restrict mixture, const Volumes *restrict v, double *restrict out)
{
    const int c = m->of->common.c;
    double by_a[FOUR], by_b[FOUR];
    for (int k = 0; k < FOUR; k++) {
        by_a[k] = -2.0 * v->I[k] * m->to_A;
        by_b[k] = (v->Z[k] - 1.0 + mixture->A[k] * v->I[k]) / mixture->b[k];
    }
    for (int i = 0; i < c; i++)
        for (int k = 0; k < FOUR; k++)
            out[i * FOUR + k] = by_a[k] * mixture->half[i * FOUR + k] + by_b[k] * m->of->b[i] - v->ln_free[k];
    if (m->of->translation == NULL) return;
    for (int i = 0; i < c; i++)
        for (int k = 0; k < FOUR; k++) out[i * FOUR + k] -= m->of->translation[i] * m->to_B;
}

/* The smaller volumes where they are the ones: of liquids, and of stable phases where they have less Gibbs energy. */
static void choose(const Mixtures *mixture, const int *kinds, const double *two, const Volumes *low, Volumes *high)
{
    for (int k = 0; k < FOUR; k++) {
        const double A = mixture->A[k];
        if (two[k] == 0.0 || kinds[k] == VAPOR) continue;
        if (kinds[k] == LIQUID || low->Z[k] - low->ln_free[k] - A * low->I[k] < high->Z[k] - high->ln_free[k] - A * high->I[k]) {
            high->Z[k] = low->Z[k];
            high->ln_free[k] = low->ln_free[k];
            high->I[k] = low->I[k];
        }
    }
}

/* Those whose roots are not to be had this way, one by one. */
static void one_by_one(const Phase *phase, const double *x, const int *kinds, const double *sure, double *out)
{
    for (int k = 0; k < FOUR; k++) {
        double own[MOST_COMPONENTS], ln_phi[MOST_COMPONENTS];
        if (sure[k] != 0.0) continue;
        for (int i = 0; i < phase->c; i++) own[i] = x[i * FOUR + k];
        phase->ln_phi(phase, own, kinds[k], ln_phi);
        for (int i = 0; i < phase->c; i++) out[i * FOUR + k] = ln_phi[i];
    }
}

int can_go_abreast(const CubicEquation *equation)
{
    return equation->mixing == &quadratic_mixing && equation->water < 0 && equation->covolumes == NULL;
}

void cubic_abreast(const Phase *phase, const double *x, const int *kinds, double *ln_phi)
{
    const Cubic *m = (const Cubic *)phase;
    const double d1 = m->of->d1, d2 = m->of->d2;
    double size[FOUR], low[FOUR], high[FOUR], two[FOUR], sure[FOUR];
    Mixtures mixture;
    Cubics e;
    Volumes small, large;
    mix(m, x, &mixture);
    cubics(d1, d2, mixture.A, mixture.B, &e, size);
    roots(&e, mixture.B, size, low, high, two, sure);
    int all = 1, any = 0;
    for (int k = 0; k < FOUR; k++) {
        if (fabs(mixture.A[k]) < LEAST_A) sure[k] = 0.0;
        all &= sure[k] != 0.0;
        any |= two[k] != 0.0;
    }
    volumes(d1, d2, high, mixture.B, &large);
    if (any) {
        volumes(d1, d2, low, mixture.B, &small);
        choose(&mixture, kinds, two, &small, &large);
    }
    results(m, &mixture, &large, ln_phi);
    if (!all) one_by_one(phase, x, kinds, sure, ln_phi);
}
