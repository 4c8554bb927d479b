#include "split.h"

#include "exponentials.h"

#include <math.h>

#define ITERATIONS 60
#define LARGEST 667.0
#define TRACE 1e-60 /* less of a component than this does not count, whatever its K-value */

void k_values(int c, const double *z, const double *ln_k, double *K)
{
    double within[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) within[i] = ln_k[i] > LARGEST ? LARGEST : ln_k[i] < -LARGEST ? -LARGEST : ln_k[i];
    exponentials(c, within, K);
    for (int i = 0; i < c; i++)
        if (z[i] < TRACE) K[i] = K[i] < 1e-40 ? 1e-40 : K[i] > 1e40 ? 1e40 : K[i];
}

void brackets(int c, const double *z, const double *K, int *possible, int *inside)
{
    double most = K[0], least = K[0], bubble = 0.0, dew = 0.0;
    for (int i = 0; i < c; i++) {
        if (K[i] > most) most = K[i];
        if (K[i] < least) least = K[i];
        bubble += z[i] * K[i];
        dew += z[i] / K[i];
    }
    *possible = most > 1.0 && least < 1.0 && !isnan(bubble);
    *inside = bubble > 1.0 && dew > 1.0;
}

void split(int c, const double *z, const double *K, double guess, double small_step, Split *out)
{
    double k[MOST_COMPONENTS], k1[MOST_COMPONENTS], middle = 0.0, most = -HUGE_VAL, least = HUGE_VAL;
    for (int i = 0; i < c; i++) middle += z[i] * (K[i] - 1.0) / (K[i] + 1.0);
    const int flip = middle > 0.0; /* the smaller of the two amounts is the unknown */
    for (int i = 0; i < c; i++) {
        k[i] = flip ? 1.0 / K[i] : K[i];
        k1[i] = k[i] - 1.0;
        if (k1[i] > most) most = k1[i];
        if (k1[i] < least) least = k1[i];
    }
    double low = -1.0 / most, high = -1.0 / least;
    if (!(high < 0.5)) high = 0.5;
    double b = isnan(guess) ? 0.5 * ((low > 0.0 ? low : 0.0) + high) : flip ? 1.0 - guess : guess;
    if (!(b > low && b <= high)) b = 0.5 * (low + high);
    for (int n = 0; n < ITERATIONS; n++) {
        double g = 0.0, slope = 0.0;
        for (int i = 0; i < c; i++) {
            const double t = k1[i] / (1.0 + b * k1[i]), zt = z[i] * t;
            g += zt;
            slope += zt * t;
        }
        if (g > 0.0) low = b;
        if (g < 0.0) high = b;
        double next = b + g / slope;
        if (!(next >= low && next <= high)) next = 0.5 * (low + high);
        const int moved = fabs(next - b) > small_step * fabs(next);
        b = next;
        if (!moved) break;
    }
    double sum_x = 0.0, sum_y = 0.0;
    double *x = flip ? out->y : out->x, *y = flip ? out->x : out->y;
    for (int i = 0; i < c; i++) {
        x[i] = z[i] / (1.0 + b * k1[i]);
        y[i] = k[i] * x[i];
        sum_x += x[i];
        sum_y += y[i];
    }
    for (int i = 0; i < c; i++) {
        x[i] /= sum_x;
        y[i] /= sum_y;
    }
    out->vapor = flip ? 1.0 - b : b;
    out->liquid = flip ? b : 1.0 - b;
}
