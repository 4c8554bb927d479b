#include "attraction.h"

#include <math.h>
#include <stddef.h>

/* One of the functions of models/temperature_terms.py, or its first or second derivative. */
static double temperature_term(int which, int derivative, double T)
{
    switch (3 * which + derivative) {
    case 0: return 1.0;
    case 3: return 1.0 / T;
    case 4: return -1.0 / (T * T);
    case 5: return 2.0 / (T * T * T);
    case 6: return log(T);
    case 7: return 1.0 / T;
    case 8: return -1.0 / (T * T);
    case 9: return T;
    case 10: return 1.0;
    case 12: return 1.0 / (T * T);
    case 13: return -2.0 / (T * T * T);
    case 14: return 6.0 / (T * T * T * T);
    default: return 0.0;
    }
}

void attraction_at(const Attraction *a, int derivative, double T, double *out)
{
    const size_t size = (size_t)a->c * a->c;
    for (size_t at = 0; at < size; at++) out[at] = 0.0;
    for (int k = 0; k < a->terms; k++) {
        const double factor = temperature_term(a->term[k], derivative, T);
        for (size_t at = 0; at < size; at++) out[at] += factor * a->pairs[k * size + at];
    }
}
