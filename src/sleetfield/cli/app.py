"""All commands, in the order of the work."""

from __future__ import annotations

from typing import Any

import typer
from typer.core import TyperGroup

from . import (
    azeotropes,
    check,
    components,
    critical,
    demo,
    diagram,
    envelope,
    fit,
    flash,
    heavy_ends,
    interactions,
    pairs,
    saturation,
    saturation_curve,
    system,
    table,
)
from .options import version


class InOrder(TyperGroup):
    """Commands are listed in the order of the work: components first."""

    def list_commands(self, ctx: Any) -> list[str]:
        return sorted(super().list_commands(ctx), key=lambda name: name not in ("components", "pairs"))


app = typer.Typer(
    name="sleetfield",
    cls=InOrder,
    help="Phase equilibria of mixtures: flash, bubble and dew points, envelopes, property tables.",
    epilog="A composition is written '0.70 methane + 0.20 propane + rest n-heptane'. "
    "Every command has its own --help, with an example.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    callback=version,
    invoke_without_command=False,
)
app.add_typer(components.app, name="components")
app.add_typer(pairs.app, name="pairs")
app.command("system", epilog=system.EXAMPLE)(system.system)
app.command("fit", epilog=fit.EXAMPLE)(fit.fit)
app.command("cut", epilog=heavy_ends.CUT_EXAMPLE)(heavy_ends.cut)
app.command("plus", epilog=heavy_ends.PLUS_EXAMPLE)(heavy_ends.plus)
app.command("saturation", epilog=saturation_curve.EXAMPLE)(saturation_curve.saturation)
app.command("interactions", epilog=interactions.EXAMPLE)(interactions.interactions)
app.command("parameters", epilog=interactions.PARAMETERS_EXAMPLE)(interactions.parameters)
app.command("check", epilog=check.EXAMPLE)(check.check)
app.command("flash", epilog=flash.EXAMPLE)(flash.flash)
app.command("bubble", epilog=saturation.BUBBLE_EXAMPLE)(saturation.bubble)
app.command("dew", epilog=saturation.DEW_EXAMPLE)(saturation.dew)
app.command("diagram", epilog=diagram.EXAMPLE)(diagram.diagram)
app.command("triangle", epilog=diagram.TRIANGLE_EXAMPLE)(diagram.triangle)
app.command("azeotropes", epilog=azeotropes.EXAMPLE)(azeotropes.azeotropes)
app.command("critical", epilog=critical.EXAMPLE)(critical.critical)
app.command("envelope", epilog=envelope.EXAMPLE)(envelope.envelope)
app.command("table", epilog=table.EXAMPLE)(table.table)
app.command("demo", epilog=demo.EXAMPLE)(demo.demo)
