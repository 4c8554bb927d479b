"""The same equations again, written from the papers as plain loops over components, to check the library against."""

import math

import numpy as np
from scipy.optimize import brentq, root

R = 8.31446261815324


class PlainCubic:
    """PR or SRK for one state at a time; the cubic is solved by numpy.roots, the mixing sums are loops."""

    def __init__(self, name, Tc, Pc, omega, kij=None):
        self.name, self.Tc, self.Pc, self.omega = name, list(Tc), list(Pc), list(omega)
        self.C = len(self.Tc)
        self.kij = np.zeros((self.C, self.C)) if kij is None else kij

    def pure(self, i, T):
        Tc, Pc, w = self.Tc[i], self.Pc[i], self.omega[i]
        if self.name == "PR":
            ac, b, m = (
                0.457235528921382 * (R * Tc) ** 2 / Pc,
                0.0777960739038885 * R * Tc / Pc,
                0.37464 + 1.54226 * w - 0.26992 * w * w,
            )
        else:
            ac, b, m = 0.427480233540341 * (R * Tc) ** 2 / Pc, 0.0866403499649577 * R * Tc / Pc, 0.480 + 1.574 * w - 0.176 * w * w
        return ac * (1 + m * (1 - math.sqrt(T / Tc))) ** 2, b

    def mixture(self, T, x):
        ab = [self.pure(i, T) for i in range(self.C)]
        cross = [[math.sqrt(ab[i][0] * ab[j][0]) * (1 - self.kij[i][j]) for j in range(self.C)] for i in range(self.C)]
        a = sum(x[i] * x[j] * cross[i][j] for i in range(self.C) for j in range(self.C))
        sums = [sum(x[j] * cross[i][j] for j in range(self.C)) for i in range(self.C)]
        return a, sum(x[i] * ab[i][1] for i in range(self.C)), sums, [p[1] for p in ab]

    def volumes(self, T, P, x):
        a, b, _, _ = self.mixture(T, x)
        if self.name == "PR":  # P (V-b)(V²+2bV-b²) = RT(V²+2bV-b²) - a(V-b)
            poly = [P, P * b - R * T, -3 * P * b * b - 2 * b * R * T + a, P * b**3 + R * T * b * b - a * b]
        else:  # P (V-b)V(V+b) = RT V(V+b) - a(V-b)
            poly = [P, -R * T, a - P * b * b - R * T * b, -a * b]
        found = np.roots(poly)
        real = sorted(v.real for v in found if abs(v.imag) < 1e-7 * abs(v) and v.real > b)
        return [self._refine(T, P, x, v) for v in real]

    def pressure(self, T, V, x):
        a, b, _, _ = self.mixture(T, x)
        return R * T / (V - b) - (a / (V * V + 2 * b * V - b * b) if self.name == "PR" else a / (V * (V + b)))

    def _refine(self, T, P, x, V):
        for _ in range(3):
            h = 1e-6 * V
            V -= (self.pressure(T, V, x) - P) * 2 * h / (self.pressure(T, V + h, x) - self.pressure(T, V - h, x))
        return V

    def ln_phi(self, T, P, x, which):
        V = self.volumes(T, P, x)[0 if which == "liquid" else -1]
        a, b, sums, bi = self.mixture(T, x)
        Z, B = P * V / (R * T), P * b / (R * T)
        if self.name == "PR":
            q = math.log((V + (1 + math.sqrt(2)) * b) / (V + (1 - math.sqrt(2)) * b)) / (2 * math.sqrt(2) * b * R * T)
        else:
            q = math.log((V + b) / V) / (b * R * T)
        return np.array([bi[i] / b * (Z - 1) - math.log(Z - B) - q * (2 * sums[i] - a * bi[i] / b) for i in range(self.C)])

    def flash(self, T, P, z, start_K, start_beta):
        """Solve equal fugacities and the material balance by a general root finder, all at once."""
        z = np.asarray(z)

        def equations(u):
            K = np.exp(u)
            beta = brentq(lambda b: float((z * (K - 1) / (1 + b * (K - 1))).sum()), 1e-12, 1 - 1e-12, xtol=1e-15, rtol=1e-15)
            x = z / (1 + beta * (K - 1))
            y = K * x
            return u + self.ln_phi(T, P, y / y.sum(), "vapor") - self.ln_phi(T, P, x / x.sum(), "liquid")

        solution = root(equations, np.log(start_K), tol=1e-13)
        K = np.exp(solution.x)
        beta = brentq(lambda b: float((z * (K - 1) / (1 + b * (K - 1))).sum()), 1e-12, 1 - 1e-12, xtol=1e-15, rtol=1e-15)
        return beta, K

    def saturation(self, kind, T, z, start_P, start_w):
        """Bubble or dew pressure at ``T`` by a general root finder in (ln w, ln P)."""
        z = np.asarray(z)
        feed, other = ("liquid", "vapor") if kind == "bubble" else ("vapor", "liquid")

        def equations(u):
            w, P = np.exp(u[:-1]), math.exp(u[-1])
            equal = u[:-1] + self.ln_phi(T, P, w / w.sum(), other) - np.log(z) - self.ln_phi(T, P, z, feed)
            return np.append(equal, w.sum() - 1.0)

        solution = root(equations, np.append(np.log(start_w), math.log(start_P)), tol=1e-13)
        return math.exp(solution.x[-1]), np.exp(solution.x[:-1])
