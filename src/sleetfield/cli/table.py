"""``sleetfield table``."""

from __future__ import annotations

import sys
from typing import Annotated, Any

import typer

from .options import GivenMixture, Phases, Specified, on_mixture

EXAMPLE = (
    'Example: sleetfield table "0.90 methane + 0.08 propane + 0.02 n-heptane" --T "-40degC to 0degC in 5" --P "20bar, 40bar" '
    "--property vapor_fraction --property H --property density --x T --y density --by P --out table.png"
)


@on_mixture
def table(
    system: Any,
    z: Any,
    given: GivenMixture,
    specified: Specified,
    properties: Annotated[list[str] | None, typer.Option("--property", help="A property to tabulate. Repeatable.")] = None,
    phases: Phases = None,
    path: Annotated[bool, typer.Option("--path", help="Let both quantities run together, instead of making a grid.")] = False,
    dead_state: Annotated[str, typer.Option("--dead-state", help="What exergy counts from.")] = "25degC, 1atm",
    x: Annotated[str | None, typer.Option("--x", help="Column to draw against, where --out is a figure.")] = None,
    y: Annotated[str | None, typer.Option("--y", help="Column to draw.")] = None,
    by: Annotated[str | None, typer.Option("--by", help="Column whose values each get a line.")] = None,
    log: Annotated[bool, typer.Option("--log", help="Logarithmic axis for --y.")] = False,
) -> Any:
    """Property table over two quantities: a grid of values, or a path; of several feeds where they are written 'lean: 0.9 methane + rest propane; rich: ...'.

    Properties of the whole: n_phases, vapor_fraction, vapor_mass_fraction, vapor_volume_fraction, H, S, G, A, U, Cp, molar_volume, density,
    heat_of_vaporization, exergy. Of each phase, the former where they have a meaning, and: fraction, mass_fraction, volume_fraction, Z,
    molar_mass, H_residual, S_residual, G_residual, Cv, speed_of_sound, throttling_coefficient, thermal_expansion, isothermal_compressibility, viscosity, kinematic_viscosity,
    thermal_conductivity, thermal_diffusivity, prandtl_number, heat_capacity_ratio, surface_tension. Of each component in each phase: composition, mass_composition,
    ln_phi, fugacity, K.
    """
    from ..errors import InputError

    T0, _, P0 = dead_state.partition(",")
    if not P0.strip():
        raise InputError(f"--dead-state {dead_state!r} is not understood. Write it like '25degC, 1atm'.")
    wanted = {"properties": properties} if properties else {}
    units = "SI" if given.as_json else None
    frame = system.table(
        z,
        **specified.values(),
        **wanted,
        phases=phases,
        path=path,
        dead_state=(T0.strip(), P0.strip()),
        basis=given.basis.value,
        units=units,
        progress=_progress if sys.stderr.isatty() else None,
    )
    return frame, {"x": x, "y": y, "by": by, "log": log}


def _progress(done: int, total: int) -> None:
    end = "\n" if done == total else ""
    typer.echo(f"\r{done} of {total} states", err=True, nl=False)
    typer.echo(end, err=True, nl=False)
