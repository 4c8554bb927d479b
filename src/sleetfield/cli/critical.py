"""``sleetfield critical``."""

from __future__ import annotations

from .options import (
    Basis,
    BasisOption,
    CompositionText,
    Eos,
    Json,
    Kij,
    Normalize,
    Out,
    Overwrite,
    Units,
    UnitsOption,
    deliver,
    mixture,
)

EXAMPLE = 'Example: sleetfield critical "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR'


def critical(
    composition: CompositionText,
    eos: Eos = None,
    kij: Kij = None,
    basis: BasisOption = Basis.MOLE,
    normalize: Normalize = False,
    units: UnitsOption = Units.ENGINEERING,
    out: Out = None,
    overwrite: Overwrite = False,
    as_json: Json = False,
) -> None:
    """Critical points of a mixture, directly."""

    def work() -> object:
        system, z = mixture(composition, eos, None, None, kij, units, normalize)
        return system.critical(z, basis=basis.value)

    deliver(work, out, overwrite, as_json)
