"""Models of ions: published coefficients of single salts, one Gibbs energy behind all of them, and the limits."""

import numpy as np
import pytest

from sleetfield.components.databank import read_table
from sleetfield.components.species import all_species, species_of
from sleetfield.core.electrolyte.contract import M_WATER
from sleetfield.core.electrolyte.enrtl import ElectrolyteNRTL, LocalTerms
from sleetfield.core.electrolyte.water import debye_hueckel, density, dielectric_constant, vapor_pressure
from sleetfield.ions import _AVERAGE_SALT, ION_MODELS

T_25 = 298.15

# molality, osmotic coefficient, mean activity coefficient at 25 °C: Robinson and Stokes, Electrolyte Solutions, 2nd ed. (1959), App. 8.3 and 8.10; Hamer and Wu, J. Phys. Chem. Ref. Data 1 (1972) 1047
PUBLISHED = {
    ("Na+", "Cl-"): [(0.1, 0.932, 0.778), (1.0, 0.936, 0.657), (3.0, 1.045, 0.714), (6.0, 1.271, 0.986)],
    ("K+", "Cl-"): [(0.1, 0.927, 0.770), (1.0, 0.897, 0.604), (4.0, 0.965, 0.577)],
    ("H+", "Cl-"): [(0.1, 0.943, 0.796), (1.0, 1.039, 0.809)],
    ("Ca+2", "Cl-"): [(0.1, 0.854, 0.518), (1.0, 1.046, 0.500), (2.0, 1.376, 0.792)],
    ("Mg+2", "Cl-"): [(0.1, 0.861, 0.528), (1.0, 1.108, 0.569)],
    ("Na+", "SO4-2"): [(0.1, 0.793, 0.452), (1.0, 0.640, 0.204)],
    ("NH4+", "Cl-"): [(0.1, 0.927, 0.770), (1.0, 0.897, 0.603)],
    ("Na+", "NO3-"): [(0.1, 0.921, 0.762), (1.0, 0.851, 0.548)],
    ("K+", "NO3-"): [(0.1, 0.906, 0.739), (1.0, 0.756, 0.443)],
    ("Sr+2", "Cl-"): [(0.1, 0.850, 0.511), (1.0, 1.009, 0.461)],
}
SALTS = [(*ions, *row) for ions, rows in PUBLISHED.items() for row in rows]


def alone(model, cation, anion, m, T=T_25):
    """Activities beside ``m`` mol/kg of one salt."""
    ions = [s for name in (cation, anion) for s in all_species() if s.name == name]
    z = [abs(s.charge) for s in ions]
    common = np.gcd(*z)
    counts = z[1] // common, z[0] // common
    found = ION_MODELS[model].make(ions, T, {}).activities(np.array([[counts[0] * m, counts[1] * m]]))
    return float(found.osmotic[0]), float(
        np.exp((counts[0] * found.ln_gamma[0, 0] + counts[1] * found.ln_gamma[0, 1]) / sum(counts))
    )


@pytest.mark.parametrize(("cation", "anion", "m", "osmotic", "gamma"), SALTS)
def test_single_salts_have_the_published_coefficients(cation, anion, m, osmotic, gamma):
    found = alone("Pitzer", cation, anion, m)
    assert found[0] == pytest.approx(osmotic, rel=0.01)
    assert found[1] == pytest.approx(gamma, rel=0.015)


@pytest.mark.parametrize(("cation", "anion", "m", "osmotic", "gamma"), SALTS)
def test_local_composition_has_them_as_well_as_it_can(cation, anion, m, osmotic, gamma):
    """To the 6 % that its table says of salts of two charges, where two parameters do not reach 2.5 mol/kg (Chen and Evans (1986) have as much)."""
    found = alone("electrolyte-NRTL", cation, anion, m)
    double = max(abs(s.charge) for s in all_species() if s.name in (cation, anion)) > 1
    assert found[0] == pytest.approx(osmotic, rel=0.06 if double else 0.035)
    assert found[1] == pytest.approx(gamma, rel=0.1 if double else 0.045)


def test_local_composition_of_sodium_chloride_has_the_published_parameters():
    """8.885 and -4.549: Chen and Evans, AIChE J. 32 (1986) 444-454, fitted to Robinson and Stokes's coefficients."""
    row = next(row for row in read_table("local_composition.csv") if (row["first"], row["second"]) == ("Na+", "Cl-"))
    assert [float(row["of_water"]), float(row["of_salt"])] == pytest.approx([8.885, -4.549], rel=0.006)


def test_the_average_salt_is_one():
    """8 and -4, what stands in where nothing is known (Chen and Evans, 1986), against the salts of single charges that are known."""
    rows = [
        [float(row["of_water"]), float(row["of_salt"])]
        for row in read_table("local_composition.csv")
        if not any(d in row["first"] + row["second"] for d in "23")
    ]
    assert np.median(rows, axis=0) == pytest.approx(_AVERAGE_SALT, abs=0.7)


@pytest.mark.parametrize("row", list(read_table("local_composition.csv")), ids=lambda row: f"{row['first']} {row['second']}")
def test_its_table_says_how_far_it_is_off(row):
    ions = [s for name in (row["first"], row["second"]) for s in all_species() if s.name == name]
    counts = np.abs([float(s.charge) for s in reversed(ions)])
    m = np.linspace(0.02, float(row["most"]), 20)[:, None] * counts / np.gcd(*counts.astype(int))
    found, target = (ION_MODELS[model].make(ions, T_25, {}).activities(m).osmotic for model in ("electrolyte-NRTL", "Pitzer"))
    assert np.abs(found / target - 1.0).max() == pytest.approx(float(row["off"]), abs=0.012)


@pytest.mark.parametrize("model", list(ION_MODELS))
def test_all_coefficients_come_from_one_gibbs_energy(model):
    """Gibbs and Duhem: Σ mᵢ d ln γᵢ = d(m(φ - 1)), along random ways through random solutions of all species."""
    solutes, _ = species_of({"Na", "K", "Mg", "Ca", "Cl", "S", "C"})
    made, rng = ION_MODELS[model].make(solutes, T_25, {}), np.random.default_rng(3)
    for _ in range(40):
        m = 10.0 ** rng.uniform(-3.0, 0.3, len(solutes))
        way = m * rng.uniform(-1.0, 1.0, len(solutes))
        # differences of the fourth order
        h, steps, weights = 1e-3, np.array([-2.0, -1.0, 1.0, 2.0]), np.array([1.0, -8.0, 8.0, -1.0]) / 12.0
        there = m + steps[:, None] * h * way
        found = made.activities(there)
        left = m @ (weights @ found.ln_gamma)
        right = weights @ (there.sum(axis=1) * (found.osmotic - 1.0))
        size = np.abs(m * (weights @ found.ln_gamma)).sum()
        assert abs(left - right) < 1e-8 * size


@pytest.mark.parametrize("model", list(ION_MODELS))
def test_dilute_solutions_follow_debye_and_hueckel(model):
    for cation, anion in PUBLISHED:
        z = [abs(s.charge) for name in (cation, anion) for s in all_species() if s.name == name]
        m = 1e-6
        osmotic, gamma = alone(model, cation, anion, m)
        common = np.gcd(*z)
        strength = 0.5 * m * (z[1] // common * z[0] ** 2 + z[0] // common * z[1] ** 2)
        assert np.log(gamma) == pytest.approx(-3.0 * float(debye_hueckel(T_25)) * z[0] * z[1] * np.sqrt(strength), rel=0.005)
        assert 1.0 - osmotic == pytest.approx(float(debye_hueckel(T_25)) * z[0] * z[1] * np.sqrt(strength), rel=0.005)
        assert alone(model, cation, anion, 1e-14) == pytest.approx((1.0, 1.0), abs=1e-6)


def test_the_electrostatics_of_unlike_charges():
    """Pitzer (1975): J of his integral at some arguments, by quadrature of its definition."""
    from scipy.integrate import quad

    from sleetfield.core.electrolyte.pitzer import _integral

    for x in (0.1, 1.0, 5.0, 20.0):
        inside = lambda y, x=x: (1.0 - np.exp(-x / y * np.exp(-y))) * y**2  # noqa: E731
        expected = 0.25 * x - 1.0 + quad(inside, 0.0, 60.0, limit=400)[0] / x
        value, slope = _integral(np.array([x]))
        assert value[0] == pytest.approx(expected, rel=0.02)
        h = 1e-5
        beside = [_integral(np.array([x * (1.0 + side * h)]))[0][0] for side in (-1.0, 1.0)]
        assert slope[0] == pytest.approx((beside[1] - beside[0]) / (2.0 * h), rel=1e-6)


def test_water_s_activity_over_salt():
    """Of saturated sodium chloride at 25 °C: relative humidity 75.29 % (Greenspan, J. Res. NBS 81A (1977) 89-96); potassium chloride 84.34 %."""
    for (cation, anion), m, humidity in ((("Na+", "Cl-"), 6.147, 0.7529), (("K+", "Cl-"), 4.81, 0.8434)):
        osmotic, _ = alone("Pitzer", cation, anion, m)
        assert np.exp(-M_WATER * 2.0 * m * osmotic) == pytest.approx(humidity, abs=0.003)


# mean activity coefficients at other temperatures, °C: Harned and Owen, The Physical Chemistry of Electrolytic Solutions, 3rd ed. (1958); Pitzer, Peiper and Busey, J. Phys. Chem. Ref. Data 13 (1984) 1-102
WARM_AND_COLD = [
    ("H+", "Cl-", 1.0, 0.0, 0.842),
    ("Na+", "Cl-", 1.0, 0.0, 0.638),
    ("Na+", "Cl-", 1.0, 50.0, 0.656),
]


@pytest.mark.parametrize(("cation", "anion", "m", "celsius", "gamma"), WARM_AND_COLD)
def test_coefficients_change_with_temperature_as_measured(cation, anion, m, celsius, gamma):
    """By first derivatives at 25 °C: what these leave out is within 2 %."""
    assert alone("Pitzer", cation, anion, m, 273.15 + celsius)[1] == pytest.approx(gamma, rel=0.02)


def test_water_as_a_solvent():
    """Vapor pressure by IAPWS; density of CRC's tables; dielectric constant of Malmberg and Maryott, J. Res. NBS 56 (1956) 1-8; A of Pitzer, Peiper and Busey (1984)."""
    T = 273.15 + np.array([0.0, 25.0, 50.0, 100.0])
    np.testing.assert_allclose(dielectric_constant(T), [87.74, 78.30, 69.91, 55.72], rtol=0.006)
    np.testing.assert_allclose(density(T), [999.84, 997.05, 988.04, 958.37], rtol=1e-5)
    np.testing.assert_allclose(debye_hueckel(T), [0.3767, 0.3915, 0.4103, 0.4603], rtol=0.001)
    np.testing.assert_allclose(vapor_pressure(T[1:]), [3169.9, 12352.0, 101418.0], rtol=1e-4)


def local_energy(terms, A, n):
    """Electrolyte-NRTL's energy over RT of amounts ``(S + 1,)``, water's last, for complex ones too (Chen and Evans, 1986), pair by pair."""
    z, total, w, alpha = terms.z, n.sum(), n[-1], 0.2
    strength = 0.5 * (n[:-1] @ z**2) / total
    energy = -total * np.sqrt(1.0 / M_WATER) * 4.0 * A / 14.9 * strength * np.log(1.0 + 14.9 * np.sqrt(strength))
    X = n[:-1] * np.abs(z)
    signs = {sign: [i for i in range(len(z)) if sign * z[i] > 0.0] for sign in (1, -1)}
    pair = {(c, a): (terms.of_water[c, a], terms.of_salt[c, a]) for c in signs[1] for a in signs[-1]}
    pair |= {(a, c): values for (c, a), values in pair.items()}
    G, tau = {}, {}
    for sign in (1, -1):
        others = sum(X[j] for j in signs[-sign])
        for i in signs[sign]:
            G[i] = sum(X[j] / others * np.exp(-alpha * pair[i, j][1]) for j in signs[-sign])
            tau[i] = -np.log(G[i]) / alpha
    ions = signs[1] + signs[-1]
    energy += w * sum(X[i] * G[i] * tau[i] for i in ions) / (w + sum(X[i] * G[i] for i in ions)) - sum(
        X[i] * G[i] * tau[i] for i in ions
    )
    for sign in (1, -1):
        others = sum(X[j] for j in signs[-sign])
        for i in signs[sign]:
            for j in signs[-sign]:
                around = tau[i] - pair[i, j][1] + pair[i, j][0]
                own = np.exp(-alpha * around)
                energy += X[i] * X[j] / others * (w * own * around / (others + w * own) - around)
    return energy


def test_local_composition_is_the_derivative_of_its_energy():
    """By complex steps, to the last digits; λ of the neutral one beside it."""
    rng, A, h = np.random.default_rng(2), 0.3914, 1e-30
    z = np.array([1.0, 2.0, 1.0, -1.0, -2.0, -1.0, 0.0])
    size = len(z)
    of_water, of_salt, lambda_ = rng.uniform(6.0, 10.0, (size, size)), rng.uniform(-5.0, -3.0, (size, size)), np.zeros((size, size))
    lambda_[6, :6] = lambda_[:6, 6] = 0.1
    terms = LocalTerms(z, of_water, of_salt, lambda_)
    for _ in range(10):
        m = 10.0 ** rng.uniform(-3.0, 0.5, size)
        n = np.append(m, 1.0 / M_WATER)
        steps = n + 1j * h * np.eye(size + 1)
        slopes = np.array([local_energy(terms, A, row).imag / h for row in steps])
        salting = 2.0 * m @ lambda_
        found = ElectrolyteNRTL(terms, A).activities(m[None])
        dilution = -np.log1p(M_WATER * m.sum())
        assert found.ln_gamma[0] == pytest.approx(slopes[:-1] + dilution + salting, abs=1e-11)
        ln_water = slopes[-1] + dilution - 0.5 * M_WATER * m @ salting
        assert float(found.ln_water(m[None])[0]) == pytest.approx(ln_water, rel=1e-11)
