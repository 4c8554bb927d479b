"""``sleetfield flash``."""

from __future__ import annotations

from typing import Annotated

import typer

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

EXAMPLE = 'Example: sleetfield flash "0.70 methane + 0.20 propane + 0.10 n-heptane" --eos PR --T -20degC --P 20bar'


def flash(
    composition: CompositionText,
    T: Temperatures = None,
    P: Pressures = None,
    eos: Eos = None,
    liquid: Liquid = None,
    vapor: Vapor = None,
    kij: Kij = None,
    flow: Annotated[str | None, typer.Option("--flow", help="Feed flow, such as '120 kmol/h', for phase flows.")] = None,
    basis: BasisOption = Basis.MOLE,
    normalize: Normalize = False,
    units: UnitsOption = Units.ENGINEERING,
    out: Out = None,
    overwrite: Overwrite = False,
    as_json: Json = False,
) -> None:
    """Phases at equilibrium at given temperature and pressure."""

    def work() -> object:
        system, z = mixture(composition, eos, liquid, vapor, kij, units, normalize)
        return system.flash(z, T=series(T, "temperature", "T"), P=series(P, "pressure", "P"), flow=flow, basis=basis.value)

    deliver(work, out, overwrite, as_json)
