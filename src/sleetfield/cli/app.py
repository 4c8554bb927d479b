"""All commands, in the order of the work."""

from __future__ import annotations

from typing import Any

import typer
from typer.core import TyperGroup

from . import (
    advise,
    azeotropes,
    check,
    compare,
    components,
    critical,
    data,
    demo,
    diagram,
    envelope,
    feeds,
    fit,
    flash,
    heavy_ends,
    interactions,
    k_values,
    pairs,
    regress,
    saturation,
    saturation_curve,
    split,
    studies,
    system,
    table,
)
from .options import Told, version


class InOrder(TyperGroup):
    """Commands are listed in the order of the work: components first."""

    def list_commands(self, ctx: Any) -> list[str]:
        return sorted(super().list_commands(ctx), key=lambda name: name not in ("components", "pairs", "data"))


app = typer.Typer(
    name="sleetfield",
    cls=InOrder,
    help="Phase equilibria of mixtures: flash, bubble and dew points, envelopes, property tables.",
    epilog="A composition is written '0.70 methane + 0.20 propane + rest n-heptane'. "
    "Every command has its own --help, with an example.",
    no_args_is_help=True,
    add_completion=True,
    pretty_exceptions_enable=False,
    callback=version,
    invoke_without_command=False,
)
app.add_typer(components.app, name="components")
app.add_typer(pairs.app, name="pairs")
app.add_typer(data.app, name="data")
app.command("advise", cls=Told, epilog=advise.EXAMPLE)(advise.advise)
app.command("system", cls=Told, epilog=system.EXAMPLE)(system.system)
app.command("fit", cls=Told, epilog=fit.EXAMPLE)(fit.fit)
app.command("cut", cls=Told, epilog=heavy_ends.CUT_EXAMPLE)(heavy_ends.cut)
app.command("plus", cls=Told, epilog=heavy_ends.PLUS_EXAMPLE)(heavy_ends.plus)
app.command("saturation", cls=Told, epilog=saturation_curve.EXAMPLE)(saturation_curve.saturation)
app.command("interactions", cls=Told, epilog=interactions.EXAMPLE)(interactions.interactions)
app.command("provenance", cls=Told, epilog=interactions.PROVENANCE_EXAMPLE)(interactions.provenance)
app.command("parameters", cls=Told, epilog=interactions.PARAMETERS_EXAMPLE)(interactions.parameters)
app.command("regress", cls=Told, epilog=regress.EXAMPLE)(regress.regress)
app.command("rank", cls=Told, epilog=regress.RANK_EXAMPLE)(regress.rank)
app.command("check", cls=Told, epilog=check.EXAMPLE)(check.check)
app.command("flash", cls=Told, epilog=flash.EXAMPLE)(flash.flash)
app.command("bubble", cls=Told, epilog=saturation.BUBBLE_EXAMPLE)(saturation.bubble)
app.command("dew", cls=Told, epilog=saturation.DEW_EXAMPLE)(saturation.dew)
app.command("k-values", cls=Told, epilog=k_values.EXAMPLE)(k_values.k_values)
app.command("diagram", cls=Told, epilog=diagram.EXAMPLE)(diagram.diagram)
app.command("triangle", cls=Told, epilog=diagram.TRIANGLE_EXAMPLE)(diagram.triangle)
app.command("split", cls=Told, epilog=split.EXAMPLE)(split.split)
app.command("azeotropes", cls=Told, epilog=azeotropes.EXAMPLE)(azeotropes.azeotropes)
app.command("critical", cls=Told, epilog=critical.EXAMPLE)(critical.critical)
app.command("envelope", cls=Told, epilog=envelope.EXAMPLE)(envelope.envelope)
app.command("table", cls=Told, epilog=table.EXAMPLE)(table.table)
app.command("feeds", cls=Told, epilog=feeds.EXAMPLE)(feeds.feeds)
app.command("compare", cls=Told, epilog=compare.EXAMPLE)(compare.compare)
app.command("new", cls=Told, epilog=studies.NEW_EXAMPLE)(studies.new)
app.command("run", cls=Told, epilog=studies.RUN_EXAMPLE)(studies.run)
app.command("lock", cls=Told, epilog=studies.LOCK_EXAMPLE)(studies.lock)
app.command("differences", cls=Told, epilog=studies.DIFFERENCES_EXAMPLE)(studies.differences)
app.command("schema", cls=Told, epilog=studies.SCHEMA_EXAMPLE)(studies.schema)
app.command("demo", cls=Told, epilog=demo.EXAMPLE)(demo.demo)
