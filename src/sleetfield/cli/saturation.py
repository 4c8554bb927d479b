"""``sleetfield bubble`` and ``sleetfield dew``."""

from __future__ import annotations

from collections.abc import Callable

from .options import (
    Basis,
    BasisOption,
    CompositionText,
    Eos,
    Json,
    Kij,
    Liquid,
    Normalize,
    Out,
    Overwrite,
    Pressures,
    Temperatures,
    Units,
    UnitsOption,
    Vapor,
    deliver,
    mixture,
    series,
)

BUBBLE_EXAMPLE = 'Example: sleetfield bubble "0.4 acetone + 0.3 1-butanol + rest water" --liquid ideal --P 1atm'
DEW_EXAMPLE = 'Example: sleetfield dew "0.90 methane + 0.08 propane + 0.02 n-heptane" --eos SRK --P "10bar to 60bar in 6"'


def command(kind: str, description: str) -> Callable[..., None]:
    """The command for one kind of point."""

    def run(
        composition: CompositionText,
        T: Temperatures = None,
        P: Pressures = None,
        eos: Eos = None,
        liquid: Liquid = None,
        vapor: Vapor = None,
        kij: Kij = None,
        basis: BasisOption = Basis.MOLE,
        normalize: Normalize = False,
        units: UnitsOption = Units.ENGINEERING,
        out: Out = None,
        overwrite: Overwrite = False,
        as_json: Json = False,
    ) -> None:
        def work() -> object:
            system, z = mixture(composition, eos, liquid, vapor, kij, units, normalize)
            point = getattr(system, kind)
            return point(z, T=series(T, "temperature", "T"), P=series(P, "pressure", "P"), basis=basis.value)

        deliver(work, out, overwrite, as_json)

    run.__doc__ = description
    return run
