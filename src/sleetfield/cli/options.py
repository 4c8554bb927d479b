"""Options that commands share, and commands made from them."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, get_type_hints

import typer
from typer.core import TyperCommand

from .answers import deliver

if TYPE_CHECKING:
    from ..system import System


class Units(StrEnum):
    """Sets of units."""

    SI = "SI"
    METRIC = "metric"
    US = "US"


class Basis(StrEnum):
    """What fractions are."""

    MOLE = "mole"
    MASS = "mass"


CompositionText = Annotated[
    str, typer.Argument(metavar="COMPOSITION", help="Such as '0.70 methane + 0.20 propane + rest n-heptane'.")
]
ComponentsText = Annotated[
    str, typer.Argument(metavar="COMPONENTS", help="Such as 'acetone + 1-butanol + water'; amounts before them are let pass.")
]
Overwrite = Annotated[bool, typer.Option("--overwrite", help="Replace files that exist.")]
Temperatures = Annotated[
    str | None, typer.Option("--T", help="Temperature: '-20degC', a list '250K, 260K', or '-40degC to 0degC in 5'.")
]
Pressures = Annotated[str | None, typer.Option("--P", help="Absolute pressure: '20bar', a list, or '5bar to 60bar in 12'.")]

Marks = Annotated[list[str] | None, typer.Option("--mark", help="A point to mark: 'name: -25degC, 45bar'. Repeatable.")]


def marked(entry: str) -> tuple[str, tuple[float, float]]:
    """Name, temperature and pressure of a point to mark.

    Raises
    ------
    InputError
        If it is none.
    """
    from ..errors import InputError
    from ..specified import value_of

    name, _, condition = entry.rpartition(":")
    T, comma, P = condition.partition(",")
    if not comma:
        raise InputError(f"--mark {entry!r} is not understood. Write it like 'line: -25degC, 45bar'.")
    return name.strip() or "point", (value_of(T.strip(), "T"), value_of(P.strip(), "P"))


Phases = Annotated[
    str | None, typer.Option("--phases", help="Restrict the phases: V, L, LL (liquids alone) or VL (one of each at most).")
]
OutFiles = Annotated[list[Path] | None, typer.Option("--out", help="Write the result to a file, format by suffix. Repeatable.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print one JSON object with full-precision SI numbers, for programs.")]


class Layer(StrEnum):
    """Layers of the databank that can be written to."""

    USER = "user"
    CASE = "case"


StoreIn = Annotated[
    Layer | None, typer.Option("--store", help="Keep the result in the databank: in the user's or this case's folder.")
]
Insist = Annotated[bool, typer.Option("--insist", help="Store it although the audit finds fault with it.")]


def _print_version(wanted: bool) -> None:
    if wanted:
        from ..core.compiled import WHICH
        from ..version import __version__

        typer.echo(f"sleetfield {__version__} (engine: {WHICH})")
        raise typer.Exit


def version(
    show: Annotated[
        bool, typer.Option("--version", help="Show the version and leave.", is_eager=True, callback=_print_version)
    ] = False,
) -> None:
    """Phase equilibria of mixtures: flash, bubble and dew points, envelopes, property tables."""


_NOT_OF_A_MODEL = ("kept", "units", "digits", "out", "overwrite", "as_json")


@dataclass(frozen=True)
class Given:
    """The options that every command on a mixture takes."""

    eos: Annotated[str | None, typer.Option("--eos", help="Equation of state: <eos>.")] = None
    alpha: Annotated[str | None, typer.Option("--alpha", help="Temperature function of the equation of state: <alpha>.")] = None
    mixing: Annotated[
        str | None, typer.Option("--mixing", help="Mixing rule of a cubic equation by an excess Gibbs energy: <mixing>.")
    ] = None
    excess: Annotated[str | None, typer.Option("--excess", help="The liquid model whose excess Gibbs energy --mixing takes.")] = (
        None
    )
    liquid: Annotated[
        str | None,
        typer.Option(
            "--liquid",
            help="Liquid model instead of an equation of state: <liquid>.",
        ),
    ] = None
    vapor: Annotated[str | None, typer.Option("--vapor", help="Vapor model beside --liquid: <vapor>.")] = None
    pair: Annotated[
        list[str] | None,
        typer.Option(
            "--parameters",
            help="Parameters of the liquid model, such as 'ethanol / water = 325.1, 953.3 cal/mol' (a12, a21, for NRTL alpha, then their form: <form>). Repeatable.",
        ),
    ] = None
    missing: Annotated[
        str | None,
        typer.Option("--missing", help="What parameters of the liquid model that are not known are estimated by: <missing>."),
    ] = None
    groups: Annotated[
        list[str] | None, typer.Option("--groups", help="Groups of a component: 'my solvent = CH3COO + 4 CH2 + CH3'. Repeatable.")
    ] = None
    henry: Annotated[
        list[str] | None,
        typer.Option("--henry", help="Henry's constant of a dissolved gas: 'hydrogen / water = 70000 bar'. Repeatable."),
    ] = None
    virial: Annotated[
        list[str] | None,
        typer.Option("--virial", help="A second virial coefficient: 'ethanol / ethanol = -1500 cm3/mol'. Repeatable."),
    ] = None
    poynting: Annotated[bool, typer.Option("--poynting", help="Count the pressure's effect on the liquid's fugacities.")] = False
    kij: Annotated[
        list[str] | None,
        typer.Option(
            "--kij",
            help="Interaction parameter, such as 'nitrogen / methane = 0.031', or with slopes in 298.15 K/T - 1: '= 0.031, -0.01'; repeatable; or for all: published, predicted, estimated, zero.",
        ),
    ] = None
    lij: Annotated[
        list[str] | None, typer.Option("--lij", help="Parameter of the covolume, such as 'nitrogen / methane = 0.01'. Repeatable.")
    ] = None
    translation: Annotated[
        str | None, typer.Option("--translation", help="Volume translation of an equation of state: <translation>.")
    ] = None
    solid: Annotated[
        list[str] | None, typer.Option("--solid", help="A component that may be there as a pure solid too, or all. Repeatable.")
    ] = None
    transport: Annotated[
        list[str] | None,
        typer.Option(
            "--transport", help="Another method of a transport property: 'gas viscosity = Lucas'. Repeatable. <transport>"
        ),
    ] = None
    kept: Annotated[
        Path | None, typer.Option("--system", help="A file that `sleetfield system` wrote, in place of the model's options.")
    ] = None
    units: Annotated[Units, typer.Option("--units", help="Units that results are shown in.", case_sensitive=False)] = Units.METRIC
    digits: Annotated[int | None, typer.Option("--digits", min=1, max=15, help="Significant digits that are printed.")] = None
    out: OutFiles = None
    overwrite: Overwrite = False
    as_json: AsJson = False

    def system(self, names: list[str]) -> System:
        """The components with the model that the command line describes; PR where none is named."""
        from ..system import System

        if self.kept is not None:
            return self._from_file(names)
        rule = len(self.kij or []) == 1 and "=" not in (self.kij or [""])[0]
        kij: Any = (self.kij or [""])[0] if rule else dict(pair_entry("--kij", entry) for entry in self.kij or []) or None
        return System(
            names,
            eos="PR" if self.eos is None and self.liquid is None else self.eos,
            liquid=self.liquid,
            vapor=self.vapor,
            kij=kij,
            lij=dict(pair_entry("--lij", entry) for entry in self.lij or []),
            alpha=self.alpha,
            mixing=self.mixing,
            excess=self.excess,
            translation=self.translation,
            parameters=dict(parameters_entry(entry) for entry in self.pair or []) or None,
            missing=self.missing,
            groups=dict(_name_and_groups(entry) for entry in self.groups or []) or None,
            henry=dict(_pair_and_text("--henry", entry, "hydrogen / water = 70000 bar") for entry in self.henry or []) or None,
            virial=dict(_pair_and_text("--virial", entry, "ethanol / ethanol = -1500 cm3/mol") for entry in self.virial or [])
            or None,
            poynting=self.poynting,
            solids="all" if self.solid == ["all"] else self.solid,
            transport=dict(_method(entry) for entry in self.transport or []),
            units=self.units.value,
        )

    def _from_file(self, names: list[str]) -> System:
        """The kept system's part for the components named."""
        from ..errors import InputError
        from ..export import load

        beside = [f.name for f in fields(Given) if f.name not in _NOT_OF_A_MODEL and getattr(self, f.name) not in (None, False)]
        if beside:
            raise InputError(f"--system has a model already: leave out {', '.join('--' + name for name in beside)}.")
        return load(self.kept or "").with_units(self.units.value).part(names)


_PANELS = {
    "Condition": ("flow", "phases", "then", "basis", "normalize"),
    "Output": ("x", "y", "by", "log", "figure", "both"),
}
"""Headings of the help for options that commands have of their own; those of the groups below follow from these."""


def _panel(name: str, on_a_model: bool) -> str | None:
    """The heading of the help that an option stands under, of a command that takes a model or does not."""
    if name in (f.name for f in fields(Given)) and (on_a_model or name in _NOT_OF_A_MODEL):
        return "Output" if name in _NOT_OF_A_MODEL and name != "kept" else "Model"
    if name in (f.name for f in fields(Specified)):
        return "Condition"
    return next((title for title, names in _PANELS.items() if name in names), None)


class Told(TyperCommand):
    """A command whose help names the families that there are; they are looked up when help is asked for, so that the program starts fast."""

    def format_help(self, ctx: Any, formatter: Any) -> None:
        """Help with names in place of ``<eos>`` and the like."""
        from rich.markup import escape

        from ..core.transport.choices import CHOICES
        from ..pairs.pair_parameters import FORMS
        from ..recipes import names_of
        from ..recipes.cubic import ALPHAS, TRANSLATIONS, mixing_rules
        from ..recipes.estimated_pairs import predictions

        words = {role: names_of(role) for role in ("eos", "liquid", "vapor")}
        words |= {
            "missing": predictions(),
            "mixing": mixing_rules(),
            "alpha": ["Soave", *ALPHAS],
            "translation": list(TRANSLATIONS),
            "form": list(FORMS),
            "transport": [f"{what}: {' or '.join(names)}" for what, names in CHOICES.items()],
        }
        on_a_model = any(parameter.name == "eos" for parameter in self.params)
        for parameter in self.params:
            text = getattr(parameter, "help", None) or ""
            for key, names in words.items():
                text = text.replace(f"<{key}>", ", ".join(names))
            # a unit in brackets is no markup
            parameter.help = escape(text)  # type: ignore[attr-defined]
            panel = _panel(parameter.name or "", on_a_model)
            if panel is not None:
                parameter.rich_help_panel = panel  # type: ignore[attr-defined]
        super().format_help(ctx, formatter)


@dataclass(frozen=True)
class GivenMixture(Given):
    """The options that every command on a composition takes."""

    basis: Annotated[Basis, typer.Option("--basis", help="Whether fractions are by mole or mass.", case_sensitive=False)] = (
        Basis.MOLE
    )
    normalize: Annotated[bool, typer.Option("--normalize", help="Scale the amounts so that they sum to 1.")] = False

    def mixture(self, text: str) -> tuple[System, dict[str, Any]]:
        """The system and the composition that the command line describes."""
        from .. import composition

        if ";" in text:
            feeds = {name: self.one(part) for name, part in composition.parse_several(text).items()}
            return self.system(list(dict.fromkeys(name for z in feeds.values() for name in z))), feeds
        z = self.one(text)
        return self.system(list(z)), z

    def one(self, text: str) -> dict[str, Any]:
        """One composition as it is written."""
        from .. import composition
        from ..errors import InputError

        z = composition.parse(text)
        if self.normalize:
            if any(isinstance(v, str) for v in z.values()):
                raise InputError("--normalize and 'rest' exclude each other: with a rest the fractions sum to 1 already.")
            z = dict(composition.normalize({k: float(v) for k, v in z.items()}))
        return dict(composition.unmixed(z))


@dataclass(frozen=True)
class Specified:
    """The options that name two quantities of a state."""

    T: Temperatures = None
    P: Pressures = None
    H: Annotated[str | None, typer.Option("--H", help="Molar enthalpy: '-5000 J/mol'.")] = None
    S: Annotated[str | None, typer.Option("--S", help="Molar entropy: '-20 J/(mol K)'.")] = None
    U: Annotated[str | None, typer.Option("--U", help="Molar internal energy.")] = None
    V: Annotated[str | None, typer.Option("--V", help="Molar volume: '0.5 m3/kmol'.")] = None
    density: Annotated[str | None, typer.Option("--density", help="Density of all phases together: '40 kg/m3'.")] = None
    vapor_fraction: Annotated[
        str | None, typer.Option("--vapor-fraction", help="By mole: 0 at the bubble point, 1 at the dew point.")
    ] = None
    vapor_mass_fraction: Annotated[str | None, typer.Option("--vapor-mass-fraction", help="The same by mass.")] = None

    def values(self) -> dict[str, Any]:
        """What was given, in SI: a number, a list or a range each."""
        from ..specified import series_of

        return series_of({f.name: getattr(self, f.name) for f in fields(self)})


def _options_of(group: Any) -> list[inspect.Parameter]:
    """The options that a dataclass of them stands for."""
    hints = get_type_hints(group, include_extras=True)
    return [
        inspect.Parameter(f.name, inspect.Parameter.KEYWORD_ONLY, default=f.default, annotation=hints[f.name])
        for f in fields(group)
    ]


def on_mixture(work: Callable[..., Any]) -> Callable[..., None]:
    """A command from ``work(system, z, given, **own options)``, with the composition and the options of `GivenMixture` added.

    An own option whose type is a dataclass of options stands for all of them. ``work`` returns a result, or a result and the options
    for drawing it.
    """

    def run(text: str, given: GivenMixture, options: dict[str, Any]) -> Any:
        system, z = given.mixture(text)
        return work(system, z, given, **options)

    return _command(work, 3, "composition", CompositionText, GivenMixture, run)


def on_components(work: Callable[..., Any]) -> Callable[..., None]:
    """A command from ``work(system, **own options)``, with the components' names and the options of `Given` added."""

    def run(text: str, given: Given, options: dict[str, Any]) -> Any:
        from .. import composition

        return work(given.system(composition.parse_names(text)), **options)

    return _command(work, 1, "components", ComponentsText, Given, run)


def _command(
    work: Callable[..., Any], taken: int, argument: str, annotation: Any, shared: Any, run: Callable[..., Any]
) -> Callable[..., None]:
    """A command of one argument, the own options of ``work`` after the parameters ``taken``, and those of the dataclass ``shared``.

    A parameter of ``work`` that is a shared option's name gets what that one was given.
    """
    own = list(inspect.signature(work, eval_str=True).parameters.values())[taken:]
    also = [p.name for p in own if p.name in (f.name for f in fields(shared))]
    groups: dict[str, Any] = {p.name: p.annotation for p in own if is_dataclass(p.annotation)}
    parameters = [inspect.Parameter(argument, inspect.Parameter.POSITIONAL_OR_KEYWORD, annotation=annotation)]
    for p in (p for p in own if p.name not in also):
        parameters += _options_of(groups[p.name]) if p.name in groups else [p.replace(kind=inspect.Parameter.KEYWORD_ONLY)]
    parameters += _options_of(shared)

    def command(**options: Any) -> None:
        text = options.pop(argument)
        given = shared(**{f.name: options.pop(f.name) for f in fields(shared)})
        options |= {name: getattr(given, name) for name in also}
        for name, group in groups.items():
            options[name] = group(**{f.name: options.pop(f.name) for f in fields(group)})

        def calculate() -> tuple[Any, dict[str, Any]]:
            outcome = run(text, given, options)
            return outcome if isinstance(outcome, tuple) else (outcome, {})

        deliver(calculate, given.out, given.overwrite, given.as_json, given.digits)

    command.__doc__ = work.__doc__
    command.__signature__ = inspect.Signature(parameters)  # type: ignore[attr-defined]
    command.__annotations__ = {p.name: p.annotation for p in parameters}
    return command


def pair_entry(option: str, entry: str) -> tuple[tuple[str, str], Any]:
    """A pair and its interaction parameter, from ``first / second = value``."""
    from ..errors import InputError
    from ..pairs.of_temperature import written

    names, _, value = entry.partition("=")
    first, _, second = names.partition("/")
    try:
        return (first.strip(), second.strip()), written(value)
    except ValueError:
        raise InputError(f"{option} {entry!r} is not understood. Write it like 'nitrogen / methane = 0.031'.") from None


def _method(entry: str) -> tuple[str, str]:
    from ..errors import InputError

    what, found, name = entry.partition("=")
    if not found:
        raise InputError(f"--transport {entry!r} is not understood. Write it like 'gas viscosity = Lucas'.")
    return what.strip(), name.strip()


def _name_and_groups(entry: str) -> tuple[str, str]:
    from ..errors import InputError

    name, found, groups = entry.partition("=")
    if not found:
        raise InputError(f"--groups {entry!r} is not understood. Write it like 'my solvent = CH3COO + 4 CH2 + CH3'.")
    return name.strip(), groups.strip()


def parameters_entry(entry: str) -> tuple[tuple[str, str], Any]:
    """A pair and its `PairParameters`, from ``first / second = a12, a21, alpha form``."""
    import re

    from ..errors import InputError
    from ..pairs import PairParameters

    match = re.fullmatch(r"\s*(.+?)\s*/\s*(.+?)\s*=\s*([-+0-9.eE,\s]+?)\s*([A-Za-z][A-Za-z0-9/]*)?\s*", entry)
    numbers = [part.strip() for part in match[3].split(",")] if match else []
    try:
        values = [float(part) for part in numbers]
    except ValueError:
        values = []
    if match is None or len(values) not in (2, 3):
        raise InputError(f"--parameters {entry!r} is not understood. Write it like 'ethanol / water = 325.1, 953.3 cal/mol'.")
    alpha = values[2] if len(values) == 3 else None
    return (match[1], match[2]), PairParameters(a12=values[0], a21=values[1], alpha=alpha, form=match[4] or "plain", source="given")


def _pair_and_text(option: str, entry: str, example: str) -> tuple[tuple[str, str], str]:
    """A pair and what was written of it, from ``first / second = text``."""
    from ..errors import InputError

    names, _, value = entry.partition("=")
    gas, _, solvent = names.partition("/")
    if not (gas.strip() and solvent.strip() and value.strip()):
        raise InputError(f"{option} {entry!r} is not understood. Write it like {example!r}.")
    return (gas.strip(), solvent.strip()), value.strip()
