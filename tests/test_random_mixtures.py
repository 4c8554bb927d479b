"""Random databank mixtures: envelopes, saturation points and flashes must tell one story."""

import numpy as np
import pytest

import sleetfield as sl

NAMES = [c.name for c in sl.databank() if c.heat_capacity is not None]


def random_system(seed, most=8):
    rng = np.random.default_rng(seed)
    count = int(rng.integers(2, most))
    system = sl.System([str(n) for n in rng.choice(NAMES, count, replace=False)], eos=str(rng.choice(["PR", "SRK"])))
    return system, rng.dirichlet(np.ones(count)), rng


@pytest.mark.parametrize("seed", range(100, 116))
def test_envelopes(seed):
    """No gap, critical points as the direct calculation has them, and extremes that no point exceeds."""
    system, z, _ = random_system(seed)
    envelope = system.envelope(z)
    for line in envelope.lines:
        assert np.abs(np.diff(np.log(line.T))).max() < 0.12
        assert np.abs(np.diff(np.log(line.P))).max() < 1.0
        assert (line.T > 0).all()
    for point in envelope.critical_points:
        direct = min(system.critical(z).all, key=lambda p: abs(p.T - point.T))
        assert point.T == pytest.approx(direct.T, rel=1e-6)
        assert point.P == pytest.approx(direct.P, rel=1e-6)
    if envelope.cricondentherm:
        assert envelope.cricondentherm.T >= max(line.T.max() for line in envelope.lines) * (1 - 1e-9)
    if not envelope.closed:
        assert any("open" in n or "ends where" in n for n in envelope.notes)


@pytest.mark.parametrize("seed", range(200, 216))
def test_both_sides_of_every_saturation_point(seed):
    """At a stable dew or bubble point, a little more or less pressure makes a phase more, or one less: of one two, of two liquids three."""
    system, z, rng = random_system(seed)
    T = rng.uniform(250.0, 500.0, 6)
    both = {kind: getattr(system, kind)(z, T=T) for kind in ("dew", "bubble")}
    # next to an azeotrope both can be nearer to each other than a thousandth
    gap = np.log(both["bubble"].P / both["dew"].P)
    aside = np.where(gap > 0.0, np.minimum(1e-3, 0.3 * np.nan_to_num(gap)), 1e-3)
    for kind, points in both.items():
        good = points.stable & np.isfinite(points.P) & (points.P > 10.0)
        if not good.any():
            continue
        inside = (1.0 + aside if kind == "dew" else 1.0 - aside)[good]
        in_, out = (system.flash(z, T=T[good], P=points.P[good] * f) for f in (inside, 2.0 - inside))
        lower = points.P[good] < 0.5 * np.array(
            [max(s.P for s in p.all) if len(p.all) > 1 else np.inf for p in points if np.isfinite(p.P) and p.stable and p.P > 10.0]
        )
        feed_phases = np.array([max(len(p.liquids), 1) for p, fine in zip(points, good, strict=True) if fine])[lower]
        assert (in_.n_phases[lower] == feed_phases + 1).all()
        assert (out.n_phases[lower] == feed_phases).all()


@pytest.mark.parametrize("seed", range(300, 310))
def test_the_vapor_fraction_falls_steadily_between_dew_and_bubble_point(seed):
    system, z, _ = random_system(seed, most=5)
    P = 2e5
    dew, bubble = system.dew(z, P=P), system.bubble(z, P=P)
    assert dew.T >= bubble.T
    if not (dew.stable and bubble.stable):
        return
    states = system.flash(z, T=np.linspace(bubble.T, dew.T, 40)[1:-1], P=P)
    assert (states.n_phases == 2).all()
    if states.result.stable.all():
        assert (np.diff(states.vapor_fraction) > -1e-9).all()
        assert (np.diff(states.H) > 0.0).all()
        assert (np.diff(states.S) > 0.0).all()


@pytest.mark.parametrize("seed", range(400, 408))
def test_the_order_of_components_does_not_matter(seed):
    system, z, rng = random_system(seed)
    order = rng.permutation(len(system))
    other = sl.System([system.names[i] for i in order], eos=system.eos)
    T, P = rng.uniform(200.0, 500.0, 30), 10.0 ** rng.uniform(4.5, 7.2, 30)
    one, two = system.flash(z, T=T, P=P), other.flash(z[order], T=T, P=P)
    both = one.result.stable & two.result.stable
    assert (one.n_phases[both] == two.n_phases[both]).all()
    np.testing.assert_allclose(one.vapor_fraction[both], two.vapor_fraction[both], atol=1e-7)
    np.testing.assert_allclose(one.H[both], two.H[both], rtol=1e-6, atol=1e-3)


@pytest.mark.parametrize("seed", range(500, 506))
def test_two_halves_make_the_whole(seed):
    """Flashing a phase of an answer again, at the same conditions, changes nothing: it is stable and stays one phase."""
    system, z, rng = random_system(seed)
    states = system.flash(z, T=rng.uniform(220.0, 450.0, 40), P=10.0 ** rng.uniform(4.5, 6.8, 40))
    two = np.flatnonzero((states.n_phases == 2) & states.result.stable & (np.nanmin(states.fractions, axis=1) > 1e-6))
    for k in (0, 1):
        if two.size:
            x = states.of_phases("composition")[two, k]
            x = x / x.sum(axis=1, keepdims=True)
            again = system.flash(x, T=states.T[two], P=states.P[two])
            marginal = np.nanmin(np.where(again.n_phases[:, None] == 2, again.fractions, 0.0), axis=1)
            assert (marginal < 1e-5).all()
