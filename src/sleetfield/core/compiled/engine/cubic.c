#include "cubic.h"

#include "cubic_abreast.h"
#include "excess.h"
#include "quadratic.h"

#include <math.h>
#include <stddef.h>

#define CBRT_EPS 1e-300
#define SMALL_STEP 1e-9
#define LEAST_SLOPE 1e-10 /* of the cubic at a root, over its terms: less is rounding, at a critical point */
#define THIN 1e-6 /* A next to zero, where rounding of the closed form loses the small roots */
#define THIN_PACKING 0.125

typedef struct {
    double A, B, b;
    double half[MOST_COMPONENTS]; /* half the derivatives of n^2 a by mole numbers */
    double b_i[MOST_COMPONENTS];  /* those of nb */
} Mixture;

static void mix(const Cubic *m, const double *x, Mixture *out)
{
    const int c = m->of->common.c;
    double b = 0.0;
    const double a = m->of->mixing->attraction(m, x, out->half);
    if (m->of->covolumes == NULL) {
        for (int i = 0; i < c; i++) {
            b += m->of->b[i] * x[i];
            out->b_i[i] = m->of->b[i];
        }
    } else {
        double total = 0.0;
        for (int i = 0; i < c; i++) {
            const double *row = m->of->covolumes + (size_t)i * c;
            double sum = 0.0;
            for (int j = 0; j < c; j++) sum += row[j] * x[j];
            out->b_i[i] = sum;
            b += sum * x[i];
            total += x[i];
        }
        b /= total;
        for (int i = 0; i < c; i++) out->b_i[i] = (2.0 * out->b_i[i] - b) / total;
    }
    out->A = a * m->to_A;
    out->B = b * m->to_B;
    out->b = b;
}

static double integral(const Cubic *m, double Z, double B)
{
    return log((Z + m->of->d1 * B) / (Z + m->of->d2 * B)) / ((m->of->d1 - m->of->d2) * B);
}

/* One step of Newton's method; where it is not small, as beside a double root, further ones as long as they help. */
static double polished(double Z, double c2, double c1, double c0)
{
    const double step = (((Z + c2) * Z + c1) * Z + c0) / ((3.0 * Z + 2.0 * c2) * Z + c1);
    if (fabs(step) <= SMALL_STEP * Z) return Z - step;
    for (int k = 0; k < 3; k++) {
        const double f = ((Z + c2) * Z + c1) * Z + c0;
        const double better = Z - f / ((3.0 * Z + 2.0 * c2) * Z + c1);
        if (fabs(((better + c2) * better + c1) * better + c0) < fabs(f)) Z = better;
    }
    return Z;
}

/* The smallest and the largest root above B; returns whether they are two. */
static int roots(const Cubic *m, double A, double B, double *smallest, double *largest)
{
    const double s = m->of->d1 + m->of->d2, p = m->of->d1 * m->of->d2;
    const double c2 = (s - 1.0) * B - 1.0, c1 = A + (p - s) * B * B - s * B, c0 = -B * (A + p * (B + B * B));
    if (fabs(A) < THIN) {
        /* the largest root is next to 1, the others as small as B: they are of the quadratic that is left */
        const double high = polished(polished(1.0, c2, c1, c0), c2, c1, c0);
        const double product = -c0 / high, total = (c1 - product) / high, inside = total * total - 4.0 * product;
        const double low = 2.0 * product / (total + sqrt(inside > 0.0 ? inside : 0.0));
        const int three = inside > 0.0 && total > 0.0 && low > B;
        *largest = high;
        *smallest = three ? low : high;
        return three;
    }
    const double shift = c2 / 3.0, square = shift * shift;
    const double q = c1 / 3.0 - square, r = 0.5 * (shift * c1 - c0) - square * shift, disc = q * q * q + r * r;
    if (!(disc < 0.0)) {
        /* the larger of the two cube roots without cancellation; the other from their product, -q */
        const double big = cbrt(r + copysign(sqrt(disc), r));
        *smallest = *largest = polished(big - q / (big + CBRT_EPS) - shift, c2, c1, c0);
        return 0;
    }
    /* Z = m cos(t/3) - c2/3 and m cos(t/3 + 2 pi/3) - c2/3, both from the tangent of t/6 */
    double half = sqrt(-q), cosine = r / (-q * half);
    cosine = cosine > 1.0 ? 1.0 : cosine < -1.0 ? -1.0 : cosine;
    const double tangent = tan(acos(cosine) / 6.0), t2 = tangent * tangent;
    half /= 1.0 + t2;
    const double cos_part = half * (1.0 - t2), sin_part = 2.0 * sqrt(3.0) * half * tangent;
    *largest = polished(2.0 * cos_part - shift, c2, c1, c0);
    const double low = polished(-cos_part - sin_part - shift, c2, c1, c0);
    /* a "root" at or below B is no volume: only the other one counts */
    *smallest = low > B ? low : *largest;
    return low > B;
}

/* A root, and what of ln phi rests on it: ln(Z - B), and the integral ln((Z + d1 B)/(Z + d2 B))/((d1 - d2) B). */
typedef struct {
    double Z, ln_free, I;
} Volume;

static Volume volume(const Cubic *m, double Z, double B)
{
    const Volume v = {Z, log(Z - B), integral(m, Z, B)};
    return v;
}

static Volume root(const Cubic *m, double A, double B, int kind)
{
    double smallest, largest;
    const int three = roots(m, A, B, &smallest, &largest);
    if (kind == LIQUID) return volume(m, smallest, B);
    if (kind == VAPOR || !three) return volume(m, largest, B);
    const Volume low = volume(m, smallest, B), high = volume(m, largest, B);
    return low.Z - low.ln_free - A * low.I < high.Z - high.ln_free - A * high.I ? low : high;
}

/* The same with the derivatives of Z and I by A and B; free = 1/(Z - B), Q = (Z + d1 B)(Z + d2 B). */
typedef struct {
    double Z, Z_A, Z_B, ln_free, free, Q, I, I_Z, I_B;
} Root;

static Root root_with_slopes(const Cubic *m, double A, double B, int kind)
{
    const double s = m->of->d1 + m->of->d2, p = m->of->d1 * m->of->d2;
    const Volume v = root(m, A, B, kind);
    const double Z = v.Z, I = v.I;
    const double rising = 3.0 * Z * Z, rest = 2.0 * ((s - 1.0) * B - 1.0) * Z + A + (p - s) * B * B - s * B;
    const double slope = fmax(rising + rest, LEAST_SLOPE * (rising + fabs(rest)));
    const double Q = Z * Z + s * Z * B + p * B * B;
    const Root r = {
        .Z = Z,
        .Z_A = (B - Z) / slope,
        .Z_B = -((s - 1.0) * Z * Z + (2.0 * (p - s) * B - s) * Z - A - p * (2.0 * B + 3.0 * B * B)) / slope,
        .ln_free = v.ln_free,
        .free = 1.0 / (Z - B),
        .Q = Q,
        .I = I,
        .I_Z = -1.0 / Q,
        .I_B = (Z / Q - I) / B,
    };
    return r;
}

static void ln_phi(const Phase *phase, const double *x, int kind, double *out)
{
    const Cubic *m = (const Cubic *)phase;
    Mixture mixture;
    mix(m, x, &mixture);
    const Volume v = root(m, mixture.A, mixture.B, kind);
    const double by_a = -2.0 * v.I * m->to_A, by_b = (v.Z - 1.0 + mixture.A * v.I) / mixture.b;
    for (int i = 0; i < phase->c; i++) out[i] = by_a * mixture.half[i] + by_b * mixture.b_i[i] - v.ln_free;
    if (m->of->translation != NULL)
        for (int i = 0; i < phase->c; i++) out[i] -= m->of->translation[i] * m->to_B;
}

static void derivatives(const Phase *phase, const double *x, int kind, double *out, double *dn)
{
    const Cubic *m = (const Cubic *)phase;
    const int c = phase->c;
    Mixture mixture;
    mix(m, x, &mixture);
    const Root r = root_with_slopes(m, mixture.A, mixture.B, kind);
    const double A = mixture.A, B = mixture.B, Z = r.Z, I = r.I;
    double A_i[MOST_COMPONENTS], share[MOST_COMPONENTS];
    m->of->mixing->second(m, x, dn);
    for (int i = 0; i < c; i++) {
        A_i[i] = 2.0 * mixture.half[i] * m->to_A;
        share[i] = mixture.b_i[i] / mixture.b;
        out[i] = share[i] * (Z - 1.0) - r.ln_free - I * (A_i[i] - A * share[i]);
        if (m->of->translation != NULL) out[i] -= m->of->translation[i] * m->to_B;
    }
    for (int j = 0; j < c; j++) {
        /* dA_j = A_j - 2A, dB_j = B_j - B, d share_i = -share_i (share_j - 1), dA_i = 2A_ij - A_i */
        const double dA = A_i[j] - 2.0 * A, rj = share[j] - 1.0, dB = B * rj, dZ = r.Z_A * dA + r.Z_B * dB;
        const double dI = r.I_Z * dZ + r.I_B * dB, column = dZ - rj * (Z - 1.0) + I * (dA - A * rj), lost = (dZ - dB) * r.free;
        for (int i = 0; i < c; i++)
            dn[i * c + j] = -I * m->to_A * dn[i * c + j] + share[i] * column - (A_i[i] - A * share[i]) * dI - lost + I * A_i[i];
    }
    if (m->of->covolumes != NULL) {
        double total = 0.0;
        for (int i = 0; i < c; i++) total += x[i];
        const double by_b = (Z - 1.0 + A * I) / mixture.b / total;
        for (int i = 0; i < c; i++)
            for (int j = 0; j < c; j++)
                dn[(size_t)i * c + j] += by_b * (2.0 * m->of->covolumes[(size_t)i * c + j] - mixture.b_i[i] - mixture.b_i[j]);
    }
}

static void describe(const Phase *phase, const double *x, int kind, Description *out)
{
    const Cubic *m = (const Cubic *)phase;
    Mixture mixture;
    mix(m, x, &mixture);
    const double Z = root(m, mixture.A, mixture.B, kind).Z;
    double shift = 0.0;
    if (m->of->translation != NULL)
        for (int i = 0; i < phase->c; i++) shift += m->of->translation[i] * x[i];
    out->Z = Z - shift * m->to_B;
    out->packing = mixture.B / Z;
    out->kind = m->of->critical_volume_ratio * mixture.B < Z ? VAPOR : LIQUID;
    /* models/vapor_side.py, but for its third rule */
    const int thin = out->kind == VAPOR;
    if (thin && out->packing < THIN_PACKING)
        out->is_vapor = YES;
    else if (mixture.A / m->to_A > m->of->branch_ratio * m->at.RT * mixture.b)
        out->is_vapor = thin ? YES : NO;
    else
        out->is_vapor = out->packing < THIN_PACKING ? YES : UNSURE;
}

static double covolume(const Phase *phase, const double *n)
{
    const Cubic *m = (const Cubic *)phase;
    const int c = phase->c;
    double b = 0.0, total = 0.0;
    for (int i = 0; i < c; i++) {
        double own = m->of->b[i];
        if (m->of->covolumes != NULL) {
            own = 0.0;
            for (int j = 0; j < c; j++) own += m->of->covolumes[(size_t)i * c + j] * n[j];
        }
        b += own * n[i];
        total += n[i];
    }
    return m->of->covolumes == NULL ? b : b / total;
}

static void hessian(const Phase *phase, double V, const double *n, double *out)
{
    const Cubic *m = (const Cubic *)phase;
    const int c = phase->c;
    const double d1 = m->of->d1, d2 = m->of->d2;
    Mixture mixture; /* a and its derivatives are homogeneous: of n mol as of fractions */
    mix(m, n, &mixture);
    const double q = mixture.A / m->to_A / m->at.RT, B = mixture.b;
    double total = 0.0, q_i[MOST_COMPONENTS];
    for (int i = 0; i < c; i++) {
        total += n[i];
        q_i[i] = 2.0 * mixture.half[i] / m->at.RT;
    }
    const double f = log((V + d1 * B) / (V + d2 * B)) / ((d1 - d2) * B), f_V = -1.0 / ((V + d1 * B) * (V + d2 * B));
    const double f_VV = (2.0 * V + (d1 + d2) * B) * f_V * f_V, f_B = -(f + V * f_V) / B, f_BV = -(2.0 * f_V + V * f_VV) / B;
    const double f_BB = -(2.0 * f_B + V * f_BV) / B, F_nB = 1.0 / (V - B);
    const double F_B = total * F_nB - q * f_B, F_BB = total * F_nB * F_nB - q * f_BB;
    m->of->mixing->second(m, n, out);
    for (int i = 0; i < c; i++)
        for (int j = 0; j < c; j++) {
            const size_t at = (size_t)i * c + j;
            const double one = mixture.b_i[i], other = mixture.b_i[j];
            out[at] = F_nB * (one + other) + F_BB * one * other - f_B * (one * q_i[j] + q_i[i] * other) - f * out[at] / m->at.RT;
            if (m->of->covolumes != NULL) out[at] += F_B * (2.0 * m->of->covolumes[at] - one - other) / total;
        }
}

static double third(const Phase *phase, double V, const double *n, const double *along)
{
    const Cubic *m = (const Cubic *)phase;
    const CubicEquation *e = m->of;
    const Jet total = linear_along(e->common.c, NULL, n, along), volume = jet_line(V, 0.0);
    const Jet b = e->covolumes == NULL ? linear_along(e->common.c, e->b, n, along) : jet_ratio(3, quadratic_along(e->common.c, e->covolumes, NULL, n, along), total);
    const Jet free = jet_log(3, jet_sum(3, 1.0, volume, -1.0, b));
    const Jet ratio = jet_ratio(3, jet_sum(3, 1.0, volume, e->d1, b), jet_sum(3, 1.0, volume, e->d2, b));
    const Jet f = jet_ratio(3, jet_log(3, ratio), jet_sum(3, e->d1 - e->d2, b, 0.0, b));
    const Jet A = jet_sum(3, -1.0, jet_product(3, total, free), -1.0 / m->at.RT, jet_product(3, m->of->mixing->along(m, n, along), f));
    return 6.0 * A.k[3]; /* n ln V, which belongs to it as well, is linear in n */
}

static double pressure(const Phase *phase, double V, const double *n)
{
    const Cubic *m = (const Cubic *)phase;
    double total = 0.0, half[MOST_COMPONENTS];
    for (int i = 0; i < phase->c; i++) total += n[i];
    const double b = covolume(phase, n), attraction = m->of->mixing->attraction(m, n, half);
    return total * m->at.RT / (V - b) - attraction / ((V + m->of->d1 * b) * (V + m->of->d2 * b));
}

static void evaluate(const Phase *phase, const double *x, int kind, Evaluation *out)
{
    const Cubic *m = (const Cubic *)phase;
    const int c = m->of->common.c;
    const double s = m->of->d1 + m->of->d2, p = m->of->d1 * m->of->d2, T = m->at.T, P = m->at.P, scale = m->to_A;
    Mixture mixture;
    mix(m, x, &mixture);
    const Root r = root_with_slopes(m, mixture.A, mixture.B, kind);
    const double A = mixture.A, B = mixture.B, Z = r.Z, I = r.I;
    /* temperature: A = aP/(RT)^2 */
    double first, bend, by_T[MOST_COMPONENTS];
    m->of->mixing->by_temperature(m, x, &first, &bend, by_T);
    const double a1 = first * scale, a2 = bend * scale;
    const double A1 = a1 - 2.0 * A / T, A2 = a2 - 4.0 * a1 / T + 6.0 * A / (T * T);
    const double B_T = -B / T, Z_T = r.Z_A * A1 + r.Z_B * B_T, Z_P = (r.Z_A * A + r.Z_B * B) / P;
    const double I_T = r.I_Z * Z_T + r.I_B * B_T, I_P = r.I_Z * Z_P + r.I_B * B / P;
    for (int i = 0; i < c; i++) {
        const double A_i = 2.0 * mixture.half[i] * scale, share = mixture.b_i[i] / mixture.b;
        const double A_i1 = scale * by_T[i] - 2.0 * A_i / T;
        out->ln_phi[i] = share * (Z - 1.0) - r.ln_free - I * (A_i - A * share);
        out->dT[i] = share * Z_T - (Z_T - B_T) * r.free - I_T * (A_i - A * share) - I * (A_i1 - A1 * share);
        out->dP[i] = share * Z_P - (Z_P - B / P) * r.free - I_P * (A_i - A * share) - I * (A_i / P - A / P * share);
    }
    const double Q_B = s * Z + 2.0 * p * B, I_BB = (2.0 * I - 2.0 * Z / r.Q - B * Z * Q_B / (r.Q * r.Q)) / (B * B), I_ZB = Q_B / (r.Q * r.Q);
    const double g_B = r.free - A * r.I_B, B2 = 2.0 * B / (T * T);
    out->g_TT = -I * A2 + g_B * B2 - 2.0 * r.I_B * A1 * B_T + (r.free * r.free - A * I_BB) * B_T * B_T
                - (r.I_Z * A1 + (r.free * r.free + A * I_ZB) * B_T) * Z_T;
    out->Z = Z;
    out->Z_T = Z_T;
    out->Z_P = Z_P;
    if (m->of->translation == NULL) return;
    double mean = 0.0;
    for (int i = 0; i < c; i++) {
        const double shift = m->of->translation[i] * m->to_B;
        out->ln_phi[i] -= shift;
        out->dT[i] += shift / T;
        out->dP[i] -= shift / P;
        mean += x[i] * shift;
    }
    out->g_TT -= 2.0 * mean / (T * T);
    out->Z -= mean;
    out->Z_T += mean / T;
    out->Z_P -= mean / P;
}

void root_slopes(const CubicEquation *e, double T, double *root1, double *root2)
{
    alpha_slopes(&e->alpha, T, root1, root2);
    for (int i = 0; i < e->common.c; i++) {
        root1[i] *= e->root_ac[i];
        root2[i] *= e->root_ac[i];
    }
}

static void to_pressure(AtState *state, double P)
{
    Cubic *m = (Cubic *)state;
    state->P = P;
    m->to_B = P / state->RT;
    m->to_A = m->to_B / state->RT;
}

static void at(const Equation *equation, double T, double P, AtState *state)
{
    const CubicEquation *e = (const CubicEquation *)equation;
    const Phase phase = {equation->c, ln_phi, derivatives, describe, evaluate, hessian, covolume, third, pressure, can_go_abreast(e) ? cubic_abreast : NULL};
    Cubic *m = (Cubic *)state;
    to_temperature(state, &phase, equation, T);
    m->of = e;
    to_pressure(state, P);
    alpha_values(&e->alpha, T, m->root);
    for (int i = 0; i < equation->c; i++) m->root[i] *= e->root_ac[i];
    e->mixing->at(m);
}

void cubic_ready(CubicEquation *e)
{
    e->mixing = e->excess.activity.terms < 0 ? &quadratic_mixing : &excess_mixing;
    e->common.at = at;
    e->common.to_pressure = to_pressure;
}
