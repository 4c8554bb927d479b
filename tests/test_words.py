"""One word for one thing: the command line, studies and Python say the same."""

import inspect
import re

import pytest
import typer

import sleetfield as sl
from sleetfield.cli.app import app
from sleetfield.results.envelope import Envelope
from sleetfield.results.solution_steps import Titration, Warming
from sleetfield.results.state import State
from sleetfield.studies.tasks import KINDS

PYTHON = {
    "advise": [sl.advise],
    "fit-correlation": [sl.fit_correlation, sl.store_component],
    "fit-pure": [sl.fit_pure, sl.store_component],
    "pseudo-component": [sl.pseudo_component, sl.store_component],
    "split-plus-fraction": [sl.split_plus_fraction, sl.store_components],
    "saturation-curve": [sl.System.saturation_curve],
    "interactions": [],
    "provenance": [],
    "parameters": [],
    "regress": [sl.regress, sl.Regression.plot, sl.DataSet],
    "rank-models": [sl.rank_models, sl.regress, sl.DataSet],
    "check": [sl.System.check],
    "flash": [sl.System.flash],
    "bubble": [sl.System.bubble],
    "dew": [sl.System.dew],
    "speciation": [sl.Electrolyte, sl.Electrolyte.speciation],
    "titration": [sl.Electrolyte, sl.Electrolyte.titration, Titration.plot],
    "warming": [sl.Electrolyte, sl.Electrolyte.warming, Warming.plot],
    "k-values": [sl.KValues, sl.KValues.flash],
    "diagram": [sl.System.diagram],
    "liquid-map": [sl.System.liquid_map],
    "boiling-map": [sl.System.boiling_map],
    "liquid-split": [sl.System.liquid_split],
    "dilution": [sl.System.dilution],
    "azeotropes": [sl.System.azeotropes],
    "critical": [sl.System.critical],
    "envelope": [sl.System.envelope, Envelope.plot],
    "table": [sl.System.table, sl.draw_table],
    "flash-file": [sl.flash_file],
    "compare": [sl.compare, sl.System.flash],
    "new-study": [sl.new_study],
    "run": [sl.Study.run],
    "compare-runs": [sl.compare_runs],
    "components alike": [sl.alike],
    "components audit": [],
    "components change": [sl.Component.changed, sl.store_component],
    "components store": [sl.store_components],
    "components remove": [sl.remove_component],
    "components write": [sl.write_components],
    "components estimate": [sl.estimate_from_groups, sl.estimate_from_structure, sl.store_component],
    "pairs store": [sl.store_pair, sl.PairParameters],
    "pairs store-file": [sl.store_pairs],
    "pairs remove": [sl.remove_pair],
    "pairs write": [sl.write_pairs],
    "pairs readings": [sl.pair_readings, sl.PairParameters],
    "data list": [sl.data_records],
    "data store": [sl.store_data],
    "data remove": [sl.remove_data],
    "data consistency": [sl.consistency, sl.DataSet],
}
"""The calls that a command stands for."""

ONLY_THERE = {
    # what every command has: files, units, the program itself
    "out", "json", "overwrite", "units", "digits", "help", "system", "store", "file", "workers", "figure",
    # feeds are read from text there
    "basis", "normalize",
    # what takes a second call, or a function, in Python
    "to", "both", "also", "name", "with", "calculation", "lump", "style", "explain", "set", "source", "anchor", "groups", "form", "model", "components",
}  # fmt: skip
"""Options that have no counterpart among the arguments of the calls."""

COMMANDS = {
    " ".join(filter(None, (group, name))): command
    for group, found in (
        ("", typer.main.get_command(app).commands),
        *((g, c.commands) for g, c in typer.main.get_command(app).commands.items() if hasattr(c, "commands")),
    )
    for name, command in found.items()
    if not hasattr(command, "commands")
}


def words_of(calls):
    """The arguments of calls, and what a repeatable option calls one of several."""
    names = set().union(*(set(inspect.signature(call).parameters) for call in calls), {name for c in calls for name in dir(c)})
    names |= set(inspect.signature(sl.System).parameters) | set(inspect.signature(State.to).parameters)
    singular = {name.removesuffix("ies") + "y" if name.endswith("ies") else name.removesuffix("s") for name in names}
    return names | singular


@pytest.mark.parametrize("command", PYTHON)
def test_options_are_the_arguments(command):
    options = {
        option.removeprefix("--").replace("-", "_")
        for p in COMMANDS[command].params
        if p.param_type_name == "option"
        for option in p.opts
    }
    assert options - words_of(PYTHON[command]) - ONLY_THERE == set()


def test_every_command_is_a_call():
    calls = {name for name in [*sl.__all__, *dir(sl.System), *dir(sl.Study), *dir(sl.Electrolyte)] if not name.startswith("_")} | {
        "k_values"
    }
    of_their_own = {"demo", "system", "lock", "schema"}
    assert {n for n in (c.replace("-", "_") for c in COMMANDS if " " not in c) if n not in calls} == of_their_own


def test_every_task_is_a_command():
    assert {kind.replace(" ", "-") for kind in KINDS} <= set(COMMANDS) | {"consistency"}


@pytest.mark.parametrize("command", COMMANDS)
def test_help_names_options_that_there_are(command):
    own = {option for p in COMMANDS[command].params for option in p.opts}
    if command.startswith("pairs "):
        own |= {"--parameters", "--kij"}  # "as for --parameters of other commands"
    told = " ".join([COMMANDS[command].help or "", *(getattr(p, "help", None) or "" for p in COMMANDS[command].params)])
    # what stands in backticks is another command
    assert set(re.findall(r"--[A-Za-z][\w-]*", re.sub("`[^`]*`", "", told))) <= own
