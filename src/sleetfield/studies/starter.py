"""A study to begin with: components, conditions and a question give a file with a model and its reasons, and the tasks that such a question usually takes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..arguments import guarded
from ..choosing import advise
from ..errors import InputError
from ..results.advice import Advice, Suggestion
from ..specified import series
from ..units import from_si, unit_of
from .report.writing import rendered
from .study import Study

_MODEL_KEYS = ("eos", "liquid", "vapor", "alpha")
_MOST_OF_A_MAP = 3


@guarded
def new_study(
    components: Sequence[str],
    *,
    T: str,
    P: str,
    purpose: str = "vapor-liquid",
    feed: str | None = None,
    flow: str | None = None,
    title: str | None = None,
    units: str = "metric",
    name: str = "study.toml",
) -> Study:
    """A commented study to begin with: the model that advice puts first, with its reasons, and the usual tasks.

    Parameters
    ----------
    components : sequence of str
        Names.
    T, P : str
        Where it is to be used, with units: ``"20 degC"``, or ``"20 to 100 degC in 2"``.
    purpose : {"vapor-liquid", "liquid-liquid", "distillation", "enthalpy", "density", "envelope", "solids"}
        What is to be calculated.
    feed : str, optional
        Of the feed: ``"0.4 acetone + rest water"``; equal shares by default.
    flow : str, optional
        Of the feed.
    title, units, name : str, optional
        Of the study, and of its file.

    Raises
    ------
    InputError
        If no model covers it, or something is not understood.

    Examples
    --------
    >>> import sleetfield as sl
    >>> study = sl.new_study(["1-butanol", "water"], T="25 to 95 degC in 2", P="1 atm", purpose="distillation")
    >>> study.form.system["main"].liquid, [task.do for task in study.form.task][:3]
    ('UNIQUAC', ['advise', 'check', 'flash'])

    """
    Ts, Ps = series(T, "temperature", "T"), series(P, "pressure", "P")
    ends = {"T": [float(Ts.min()), float(Ts.max())], "P": [float(Ps.min()), float(Ps.max())]}
    advice = advise(components, **ends, purpose=purpose, units=units)
    if not advice.suggestions:
        raise InputError(f"No model here covers {', '.join(components)} for this: {' '.join(advice.notes)}")
    best, *others = advice.suggestions
    names = list(advice.names)
    text = rendered(
        "starter.toml.jinja",
        file=name,
        folder=name.removesuffix(".toml"),
        title=title or f"{' + '.join(names)}: {purpose}",
        units=units,
        names=names,
        model=_model(best),
        why=_why(best),
        remarks=[f"Before relying on it: {step}." for step in best.next],
        other=_model(others[0]) if others else None,
        other_why=_why(others[0]) if others else "",
        composition=feed or _equal(names),
        flow=flow,
        tasks=_tasks(advice, T, P, ends, purpose, units),
    )
    return Study.of(text, name=name)


def _model(suggestion: Suggestion) -> dict[str, Any]:
    """The keys of a system's table."""
    options = suggestion.system.model.to_dict()["model"]
    given = {key: options[key] for key in _MODEL_KEYS if key in options}
    if suggestion.system.model.solids:
        given["solids"] = sorted(suggestion.system.model.solids)
    return given


def _why(suggestion: Suggestion) -> str:
    good = [reason.text for reason in suggestion.reasons if reason.points > 0.0]
    bad = [reason.text for reason in suggestion.reasons if reason.points < 0.0]
    return f"{'. '.join(good[:2])}." + (f" But: {'. '.join(bad[:2])}." if bad else "")


def _equal(names: Sequence[str]) -> str:
    share = f"{1.0 / len(names):.4g}"
    return " + ".join([*(f"{share} {n}" for n in names[:-1]), f"rest {names[-1]}"]) if len(names) > 1 else f"1 {names[0]}"


def _written(value: float, dimension: str, units: str) -> str:
    """A number with its unit, as it is read again."""
    return f"{float(from_si(value, dimension, units)):.8g} {unit_of(dimension, units)}"


def _tasks(advice: Advice, T: str, P: str, ends: dict[str, list[float]], purpose: str, units: str) -> list[dict[str, Any]]:
    """The tasks that a question takes."""
    middle = {"T": _written(sum(ends["T"]) / 2.0, "temperature", units), "P": _written(ends["P"][0], "pressure", units)}
    on = {"system": "main"}
    feed = {**on, "feed": "feed"}
    tasks: list[dict[str, Any]] = [{"do": "advise", "name": "choice of the model", **on, "T": T, "P": P, "purpose": purpose}]
    if advice.suggestions[0].system.activity is not None:
        tasks.append({"do": "check", "name": "check of the model", **on, "P": middle["P"]})
    tasks.append({"do": "flash", "name": "state", "asks": "Which phases are there, and how much of each?", **feed, **middle})
    count = len(advice.names)
    if purpose in ("vapor-liquid", "distillation"):
        tasks.append({"do": "bubble", "name": "bubble point", **feed, "P": middle["P"]})
    if purpose == "distillation":
        tasks.append({"do": "azeotropes", "name": "azeotropes", "asks": "What can't be distilled apart?", **on, "P": middle["P"]})
    if (
        purpose in ("distillation", "vapor-liquid", "liquid-liquid")
        and 1 < count
        and advice.suggestions[0].system.activity is not None
    ):
        first, second = advice.names[:2]
        tasks.append(
            {"do": "diagram", "name": "T-x-y diagram", **on, "kind": "Txy", "first": first, "second": second, "P": middle["P"]}
        )
    if purpose == "liquid-liquid" and count == _MOST_OF_A_MAP:
        tasks.append({"do": "liquid map", "name": "liquids", **on, "T": middle["T"]})
    if purpose == "envelope":
        tasks.append({"do": "envelope", "name": "envelope", **feed, "quality": [0.5, 0.9]})
    if ends["T"][0] < ends["T"][1]:
        low, high = (_written(v, "temperature", units) for v in ends["T"])
        columns = {"properties": ["n_phases", "vapor_fraction", "H", "density"], "figures": [{"x": "T", "y": "vapor_fraction"}]}
        tasks.append({"do": "table", "name": "table", **feed, "T": f"{low} to {high} in 9", "P": middle["P"], **columns})
    if len(advice.suggestions) > 1:
        inner = {"do": "flash", **feed, **middle}
        asks = "How much hangs on the choice of the model?"
        tasks.append({"do": "compare", "name": "comparison", "asks": asks, "systems": ["main", "other"], "calculation": inner})
    return tasks
