#include "virial.h"

#include "phase.h"

#include <math.h>
#include <stddef.h>

static const double powers[VIRIAL_POWERS] = {0.0, 1.0, 2.0, 3.0, 6.0, 8.0};

void virial_at(const Virial *v, double T, double *B, double *B_T, double *B_TT)
{
    const int size = v->attraction.c * v->attraction.c;
    double ratio[MOST_COMPONENTS * MOST_COMPONENTS], first[MOST_COMPONENTS * MOST_COMPONENTS], second[MOST_COMPONENTS * MOST_COMPONENTS];
    attraction_at(&v->attraction, 0, T, ratio);
    attraction_at(&v->attraction, 1, T, first);
    attraction_at(&v->attraction, 2, T, second);
    for (int p = 0; p < size; p++) {
        const double u = v->means[p] * ratio[p] / T, u2 = u * u, u3 = u2 * u, u6 = u3 * u3, of[VIRIAL_POWERS] = {1.0, u, u2, u3, u6, u6 * u2};
        /* of ln u by temperature */
        const double slope = first[p] / ratio[p] - 1.0 / T, bend = second[p] / ratio[p] - first[p] * first[p] / (ratio[p] * ratio[p]) + 1.0 / (T * T);
        B[p] = B_T[p] = B_TT[p] = 0.0;
        for (int k = 0; k < VIRIAL_POWERS; k++) {
            const double term = v->series[k * size + p] * of[k];
            B[p] += term;
            B_T[p] += powers[k] * slope * term;
            B_TT[p] += powers[k] * (powers[k] * slope * slope + bend) * term;
        }
    }
    if (v->given == NULL) return;
    attraction_at(&v->own, 0, T, ratio);
    attraction_at(&v->own, 1, T, first);
    attraction_at(&v->own, 2, T, second);
    for (int p = 0; p < size; p++)
        if (v->given[p]) {
            B[p] = ratio[p];
            B_T[p] = first[p];
            B_TT[p] = second[p];
        }
}
