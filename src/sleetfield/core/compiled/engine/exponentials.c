#include "exponentials.h"

#include "wide.h"

#include <math.h>
#include <stdint.h>
#include <string.h>

#define PLAIN 700.0 /* beyond it results are next to the largest or the smallest numbers */
#define TO_POWERS 1.4426950408889634 /* 1/ln 2 */
#define LN2_HIGH 6.93147180369123816490e-01 /* with zeros at its end, so that its multiples are exact, and the rest */
#define LN2_LOW 1.90821492927058770002e-10
#define ROUNDS 6755399441055744.0 /* 1.5 x 2^52: what is added to it is rounded to a whole number, which stands in the last bits */

/* e^x = 2^k e^r, |r| < ln 2/2, by the power series; no branch, so that several are had at once. Returns whether any is out of range, or no number. */
WIDE static int in_range(int n, const double *restrict x, double *restrict out)
{
    const double most = PLAIN;
    int64_t limit, out_of_range = 0;
    memcpy(&limit, &most, sizeof limit);
    for (int i = 0; i < n; i++) {
        const double rounded = x[i] * TO_POWERS + ROUNDS, k = rounded - ROUNDS, r = (x[i] - k * LN2_HIGH) - k * LN2_LOW;
        /* in pairs of powers and pairs of these, so that little has to wait for what goes before */
        const double r2 = r * r, r4 = r2 * r2, r8 = r4 * r4;
        const double low = (0.5 + r * (1.0 / 6.0)) + r2 * (1.0 / 24.0 + r * (1.0 / 120.0));
        const double middle = (1.0 / 720.0 + r * (1.0 / 5040.0)) + r2 * (1.0 / 40320.0 + r * (1.0 / 362880.0));
        const double high = (1.0 / 3628800.0 + r * (1.0 / 39916800.0)) + r2 * (1.0 / 479001600.0 + r * (1.0 / 6227020800.0));
        const double e = 1.0 + (r + r2 * (low + r4 * middle + r8 * high)), size = fabs(x[i]);
        uint64_t bits, power;
        int64_t magnitude;
        memcpy(&power, &rounded, sizeof power);
        memcpy(&bits, &e, sizeof bits);
        memcpy(&magnitude, &size, sizeof magnitude);
        bits += power << 52;
        memcpy(&out[i], &bits, sizeof bits);
        out_of_range |= limit - magnitude; /* negative where that is larger, as it is of what is no number */
    }
    return out_of_range < 0;
}

void exponentials(int n, const double *x, double *out)
{
    if (!in_range(n, x, out)) return;
    for (int i = 0; i < n; i++)
        if (!(fabs(x[i]) <= PLAIN)) out[i] = exp(x[i]);
}
