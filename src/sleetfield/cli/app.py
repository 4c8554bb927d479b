"""All commands, in the order of the work."""

from __future__ import annotations

from typing import Any

import typer
from typer.core import TyperGroup

from . import (
    advise,
    azeotropes,
    chart,
    check,
    compare,
    components,
    critical,
    data,
    datasheet,
    demo,
    diagram,
    dilution,
    electrolytes,
    envelope,
    fit_correlation,
    fit_pure,
    flash,
    flash_file,
    heating_value,
    heavy_ends,
    interactions,
    k_values,
    liquid_split,
    pairs,
    regress,
    saturation,
    saturation_curve,
    solid_points,
    solubility,
    studies,
    system,
    table,
    transport,
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
app.command("fit-ions", cls=Told, epilog=electrolytes.FIT_EXAMPLE)(electrolytes.fit_ions)
app.command("fit-correlation", cls=Told, epilog=fit_correlation.EXAMPLE)(fit_correlation.fit_correlation)
app.command("fit-pure", cls=Told, epilog=fit_pure.EXAMPLE)(fit_pure.fit_pure)
app.command("pseudo-component", cls=Told, epilog=heavy_ends.CUT_EXAMPLE)(heavy_ends.pseudo_component)
app.command("split-plus-fraction", cls=Told, epilog=heavy_ends.PLUS_EXAMPLE)(heavy_ends.split_plus_fraction)
app.command("saturation-curve", cls=Told, epilog=saturation_curve.EXAMPLE)(saturation_curve.saturation_curve)
app.command("interactions", cls=Told, epilog=interactions.EXAMPLE)(interactions.interactions)
app.command("provenance", cls=Told, epilog=interactions.PROVENANCE_EXAMPLE)(interactions.provenance)
app.command("parameters", cls=Told, epilog=interactions.PARAMETERS_EXAMPLE)(interactions.parameters)
app.command("regress", cls=Told, epilog=regress.EXAMPLE)(regress.regress)
app.command("rank-models", cls=Told, epilog=regress.RANK_EXAMPLE)(regress.rank_models)
app.command("check", cls=Told, epilog=check.EXAMPLE)(check.check)
app.command("flash", cls=Told, epilog=flash.EXAMPLE)(flash.flash)
app.command("heating-value", cls=Told, epilog=heating_value.EXAMPLE)(heating_value.heating_value)
app.command("transport", cls=Told, epilog=transport.EXAMPLE)(transport.transport)
app.command("bubble", cls=Told, epilog=saturation.BUBBLE_EXAMPLE)(saturation.bubble)
app.command("dew", cls=Told, epilog=saturation.DEW_EXAMPLE)(saturation.dew)
app.command("speciation", cls=Told, epilog=electrolytes.SPECIATION_EXAMPLE)(electrolytes.speciation)
app.command("bubble-pressure", cls=Told, epilog=electrolytes.BUBBLE_EXAMPLE)(electrolytes.bubble_pressure)
app.command("titration", cls=Told, epilog=electrolytes.TITRATION_EXAMPLE)(electrolytes.titration)
app.command("warming", cls=Told, epilog=electrolytes.WARMING_EXAMPLE)(electrolytes.warming)
app.command("k-values", cls=Told, epilog=k_values.EXAMPLE)(k_values.k_values)
app.command("diagram", cls=Told, epilog=diagram.EXAMPLE)(diagram.diagram)
app.command("melting-diagram", cls=Told, epilog=diagram.MELTING_EXAMPLE)(diagram.melting_diagram)
app.command("freezing-map", cls=Told, epilog=diagram.FREEZING_MAP_EXAMPLE)(diagram.freezing_map)
app.command("liquid-map", cls=Told, epilog=diagram.LIQUID_MAP_EXAMPLE)(diagram.liquid_map)
app.command("boiling-map", cls=Told, epilog=diagram.BOILING_MAP_EXAMPLE)(diagram.boiling_map)
app.command("liquid-split", cls=Told, epilog=liquid_split.EXAMPLE)(liquid_split.liquid_split)
app.command("dilution", cls=Told, epilog=dilution.EXAMPLE)(dilution.dilution)
app.command("azeotropes", cls=Told, epilog=azeotropes.EXAMPLE)(azeotropes.azeotropes)
app.command("solubility", cls=Told, epilog=solubility.EXAMPLE)(solubility.solubility)
app.command("freezing", cls=Told, epilog=solid_points.FREEZING_EXAMPLE)(solid_points.freezing)
app.command("hydrate", cls=Told, epilog=solid_points.HYDRATE_EXAMPLE)(solid_points.hydrate)
app.command("hydrate-amount", cls=Told, epilog=solid_points.AMOUNT_EXAMPLE)(solid_points.hydrate_amount)
app.command("inhibitor-dose", cls=Told, epilog=solid_points.DOSE_EXAMPLE)(solid_points.inhibitor_dose)
app.command("critical", cls=Told, epilog=critical.EXAMPLE)(critical.critical)
app.command("envelope", cls=Told, epilog=envelope.EXAMPLE)(envelope.envelope)
app.command("chart", cls=Told, epilog=chart.EXAMPLE)(chart.chart)
app.command("datasheet", cls=Told, epilog=datasheet.EXAMPLE)(datasheet.datasheet)
app.command("table", cls=Told, epilog=table.EXAMPLE)(table.table)
app.command("flash-file", cls=Told, epilog=flash_file.EXAMPLE)(flash_file.flash_file)
app.command("compare", cls=Told, epilog=compare.EXAMPLE)(compare.compare)
app.command("new-study", cls=Told, epilog=studies.NEW_EXAMPLE)(studies.new_study)
app.command("run", cls=Told, epilog=studies.RUN_EXAMPLE)(studies.run)
app.command("lock", cls=Told, epilog=studies.LOCK_EXAMPLE)(studies.lock)
app.command("compare-runs", cls=Told, epilog=studies.COMPARE_EXAMPLE)(studies.compare_runs)
app.command("schema", cls=Told, epilog=studies.SCHEMA_EXAMPLE)(studies.schema)
app.command("demo", cls=Told, epilog=demo.EXAMPLE)(demo.demo)
