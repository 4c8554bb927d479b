#include "logarithms.h"

#include "wide.h"

#include <float.h>
#include <math.h>
#include <stdint.h>
#include <string.h>

#define LN2_HIGH 6.93147180369123816490e-01 /* with zeros at its end, so that its multiples are exact, and the rest */
#define LN2_LOW 1.90821492927058770002e-10
#define HALF_WAY 1.4142135623730951
#define FRACTION UINT64_C(0x000fffffffffffff)
#define ONE UINT64_C(0x3ff0000000000000)
#define WHOLE UINT64_C(0x4330000000000000) /* 2^52: what stands in its last bits is added to it */
#define BIASED 4503599627371519.0 /* 2^52 + 1023 */

/* ln x = k ln 2 + 2 artanh((m - 1)/(m + 1)), m from 0.7 to 1.4; no branch, so that several are had at once. Returns whether any is no plain positive number. */
WIDE static int out_of_range(int n, const double *restrict x, double *restrict out)
{
    const double least = DBL_MIN, most = DBL_MAX;
    int64_t low, high, outside = 0;
    memcpy(&low, &least, sizeof low);
    memcpy(&high, &most, sizeof high);
    for (int i = 0; i < n; i++) {
        uint64_t bits, exponent;
        int64_t own;
        double m, k;
        memcpy(&bits, &x[i], sizeof bits);
        memcpy(&own, &x[i], sizeof own);
        outside |= (own - low) | (high - own); /* negative where that is smaller or larger, negative, or no number */
        exponent = (bits >> 52) | WHOLE;
        bits = (bits & FRACTION) | ONE;
        memcpy(&m, &bits, sizeof m);
        memcpy(&k, &exponent, sizeof k);
        k -= BIASED;
        const double half = 0.5 * m, next = k + 1.0;
        k = m > HALF_WAY ? next : k;
        m = m > HALF_WAY ? half : m;
        /* 2 artanh s = 2s + s R(s^2), and 2s = f - f^2/2 + s f^2/2 without cancellation */
        const double f = m - 1.0, s = f / (2.0 + f), z = s * s, z2 = z * z, z4 = z2 * z2;
        const double low_powers = (2.0 / 3.0 + z * (2.0 / 5.0)) + z2 * (2.0 / 7.0 + z * (2.0 / 9.0));
        const double high_powers = (2.0 / 11.0 + z * (2.0 / 13.0)) + z2 * (2.0 / 15.0 + z * (2.0 / 17.0));
        const double series = z * (low_powers + z4 * (high_powers + z4 * (2.0 / 19.0)));
        const double square = 0.5 * f * f;
        out[i] = k * LN2_HIGH - ((square - (s * (square + series) + k * LN2_LOW)) - f);
    }
    return outside < 0;
}

void logarithms(int n, const double *x, double *out)
{
    if (!out_of_range(n, x, out)) return;
    for (int i = 0; i < n; i++)
        if (!(x[i] >= DBL_MIN && x[i] <= DBL_MAX)) out[i] = log(x[i]);
}
