#include "critical.h"

#include "softest.h"

#include <math.h>
#include <stddef.h>
#include <string.h>

#define VOLUMES 90
#define TEMPERATURES 60
#define HALVINGS 12
#define STEPS 40
#define SHIFT 1e-6
#define LONGEST 0.05
#define THERE 1e-11
#define NEARLY 1e-7

/* The softest direction at a temperature and volume; 0 where the matrix is not finite. */
static int softest_at(const Equation *e, double T, double V, const double *n, Softest *out)
{
    Fluid m;
    fluid_at(e, T, 1.0, &m);
    return softest(&m.phase, V, n, out);
}

int refined_critical(const Equation *e, const double *n, double T, double V, CriticalPoint *out)
{
    static const double shifts[5][2] = {{0.0, 0.0}, {SHIFT, 0.0}, {-SHIFT, 0.0}, {0.0, SHIFT}, {0.0, -SHIFT}};
    Fluid m;
    fluid_at(e, T, 1.0, &m);
    const double covolume = m.phase.covolume(&m.phase, n);
    double ln_T = log(T), ln_V = log(V), size = HUGE_VAL;
    for (int step = 0; step < STEPS && size >= THERE; step++) {
        double value[2][5];
        Softest first, s;
        for (int k = 0; k < 5; k++) {
            const double own_T = exp(ln_T + shifts[k][0]), own_V = exp(ln_V + shifts[k][1]);
            if (!(own_V > covolume) || !isfinite(own_T) || !isfinite(own_V) || !softest_at(e, own_T, own_V, n, &s)) return 0;
            if (k == 0) first = s;
            double same = 0.0;
            for (int i = 0; i < e->c; i++) same += s.direction[i] * first.direction[i];
            value[0][k] = s.eigenvalue;
            value[1][k] = same < 0.0 ? -s.form : s.form;
        }
        const double a = (value[0][1] - value[0][2]) / (2.0 * SHIFT), b = (value[0][3] - value[0][4]) / (2.0 * SHIFT);
        const double c = (value[1][1] - value[1][2]) / (2.0 * SHIFT), d = (value[1][3] - value[1][4]) / (2.0 * SHIFT);
        const double by_T = (d * value[0][0] - b * value[1][0]) / (a * d - b * c), by_V = (a * value[1][0] - c * value[0][0]) / (a * d - b * c);
        size = fabs(by_T) > fabs(by_V) ? fabs(by_T) : fabs(by_V);
        if (!isfinite(by_T) || !isfinite(by_V)) return 0;
        const double shorter = size > LONGEST ? LONGEST / size : 1.0;
        ln_T -= by_T * shorter;
        ln_V -= by_V * shorter;
    }
    if (!(size < NEARLY)) return 0;
    out->T = exp(ln_T);
    out->V = exp(ln_V);
    fluid_at(e, out->T, 1.0, &m);
    out->P = m.phase.pressure(&m.phase, out->V, n);
    return out->P > 0.0;
}

static int stable_at(const Equation *e, double T, double V, const double *n)
{
    Fluid m;
    fluid_at(e, T, 1.0, &m);
    return locally_stable(&m.phase, V, n);
}

/* The highest temperature of a falling grid at which a stable neighbor is followed by an unstable one, by halves between them; NaN where there is none. */
static double limit_of_stability(const Equation *e, const double *grid, double V, const double *n)
{
    int before = stable_at(e, grid[0], V, n), k = 1;
    for (; k < TEMPERATURES; k++) {
        const int here = stable_at(e, grid[k], V, n);
        if (before == YES && here == NO) break;
        before = here;
    }
    if (k == TEMPERATURES) return NAN;
    double hot = grid[k - 1], cold = grid[k];
    for (int half = 0; half < HALVINGS; half++) {
        const double middle = 0.5 * (hot + cold);
        if (stable_at(e, middle, V, n) == YES)
            hot = middle;
        else
            cold = middle;
    }
    return 0.5 * (hot + cold);
}

static void in_order(CriticalPoint *points, int count)
{
    for (int i = 1; i < count; i++)
        for (int j = i; j > 0 && points[j].T > points[j - 1].T; j--) {
            const CriticalPoint kept = points[j];
            points[j] = points[j - 1];
            points[j - 1] = kept;
        }
}

int critical_points(const Equation *e, const double *n, double T_low, double T_high, CriticalPoint *out)
{
    const int c = e->c;
    double grid[TEMPERATURES], turned = 1.0, T_before = NAN, V_before = NAN, form_before = NAN;
    int count = 0;
    Fluid m;
    Softest s, before;
    for (int k = 0; k < TEMPERATURES; k++) grid[k] = T_high * pow(T_low / T_high, k / (TEMPERATURES - 1.0));
    fluid_at(e, T_high, 1.0, &m);
    const double covolume = m.phase.covolume(&m.phase, n);
    memset(&before, 0, sizeof before);
    for (int k = 0; k < VOLUMES; k++) {
        const double V = covolume * (1.0 + 0.05 * pow(24.0 / 0.05, k / (VOLUMES - 1.0))), T = limit_of_stability(e, grid, V, n);
        if (isnan(T) || !softest_at(e, T, V, n, &s)) {
            T_before = NAN;
            continue;
        }
        /* an eigenvector has no sign of its own: it takes that of its neighbor */
        double same = 0.0;
        for (int i = 0; i < c; i++) same += s.direction[i] * before.direction[i];
        if (same < 0.0) turned = -turned;
        const double form = turned * s.form;
        if (!isnan(T_before) && form_before * form <= 0.0) {
            const double weight = form_before != form ? form_before / (form_before - form) : 0.5;
            CriticalPoint found;
            int known = !refined_critical(e, n, T_before + weight * (T - T_before), V_before + weight * (V - V_before), &found);
            for (int i = 0; i < count && !known; i++) known = fabs(found.T / out[i].T - 1.0) < 1e-7 && fabs(found.V / out[i].V - 1.0) < 1e-6;
            if (!known && count == MOST_CRITICAL) return -1;
            if (!known) out[count++] = found;
        }
        before = s;
        T_before = T;
        V_before = V;
        form_before = form;
    }
    in_order(out, count);
    return count;
}
