"""``sleetfield table``."""

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

EXAMPLE = (
    'Example: sleetfield table "0.90 methane + 0.08 propane + 0.02 n-heptane" --T "-40degC to 0degC in 5" --P "20bar, 40bar" '
    "--property vapor_fraction --property H --property density"
)


def table(
    composition: CompositionText,
    T: Temperatures = None,
    P: Pressures = None,
    properties: Annotated[list[str] | None, typer.Option("--property", help="A property to tabulate. Repeatable.")] = None,
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
    """Property table over temperatures and pressures.

    Properties: n_phases, vapor_fraction, H, S, Cp, molar_volume, density (of the whole); fraction, Z, molar_mass (of each phase, as
    are the former); composition, ln_phi (of each component in each phase).
    """

    def work() -> object:
        from ..errors import InputError

        if T is None or P is None:
            raise InputError("A table needs both --T and --P: single values, lists, or ranges such as '5bar to 60bar in 12'.")
        system, z = mixture(composition, eos, liquid, vapor, kij, units, normalize)
        wanted = properties or ["n_phases", "vapor_fraction", "H", "S", "density"]
        shown_in = "SI" if as_json else None
        temperatures, pressures = series(T, "temperature", "T"), series(P, "pressure", "P")
        return system.table(z, T=temperatures, P=pressures, properties=wanted, basis=basis.value, units=shown_in)

    deliver(work, out, overwrite, as_json)
