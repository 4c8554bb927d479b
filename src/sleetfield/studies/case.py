"""What the tasks of a study work with: systems, feeds and measurements by name, files beside the study, fits done before."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from functools import cached_property
from pathlib import Path
from typing import Any

from ..components import Component, databank
from ..components.toml_records import component_of
from ..data_sets import DataSet, read_data, read_thermoml
from ..errors import CalculationError, InputError, SleetfieldError, UnknownComponentError
from ..export import load
from ..heavy_ends import PlusFraction, split_plus_fraction
from ..pairs import PairParameters
from ..system import System
from .form import SystemForm

_GIVEN = (
    "eos",
    "liquid",
    "vapor",
    "alpha",
    "mixing",
    "excess",
    "translation",
    "missing",
    "groups",
    "poynting",
    "solids",
    "transport",
)


class Case:
    """A study while it is worked on.

    Parameters
    ----------
    form : the checked form of a study
    folder : Path
        Where the files that it names are.
    """

    def __init__(self, form: Any, folder: Path) -> None:
        self.form, self.folder = form, folder
        self.fitted: dict[str, System] = {}
        self._systems: dict[str, System] = {}

    # ---- what tasks ask for ----

    def path(self, file: str) -> Path:
        """A file that the study names, from the study's own folder."""
        return self.folder / file

    def component(self, name: str) -> Component:
        """One of the study's own, or of the databank."""
        return self._own.get(name.lower()) or databank().find(name)

    def system(self, name: str) -> System:
        """A system of the study, or one that an earlier fit made.

        Raises
        ------
        CalculationError
            If it rests on a fit that was not done.
        """
        if name in self.form.system:
            if name not in self._systems:
                self._systems[name] = self.locked(name) if name in self.form.lock else self.system_today(name)
            return self._with_fits(self._systems[name], self.form.system[name].fits)
        if name not in self.fitted:
            raise CalculationError(f"It rests on the fit {name!r}, which failed.")
        return self.fitted[name]

    def composition(self, name: str) -> dict[str, Any]:
        """The composition of a feed, as calls take it."""
        return {key: value for key, value in self.feed(name).items() if key != "flow"}

    def feed(self, name: str) -> dict[str, Any]:
        """Composition, basis and flow of a feed, as a flash takes them."""
        form = self.form.feed[name]
        if form.flows is not None:
            return {"z": form.flows}
        given = {"z": self._with_cuts(form.fractions), "basis": form.basis}
        return given if form.flow is None else {**given, "flow": form.flow}

    def data(self, names: Iterable[str], system: System) -> list[DataSet]:
        """Measurements by name, without the points that are left out."""
        sets: list[DataSet] = []
        for name in names:
            form = self.form.data[name]
            path = self.path(form.file)
            if path.suffix.lower() == ".xml":
                found = list(read_thermoml(path).sets)
            else:
                found = [read_data(path, form.components or (system.names if len(system) == 2 else None))]
            for left in form.without:
                found[0] = found[0].without(left.points, left.because)
            sets += found
        return sets

    def feeds_from(self, file: str, system: str, properties: list[str]) -> Any:
        """States of the feeds of a file."""
        from ..many_feeds import states_of

        return states_of(self.system(system), self.path(file), properties)

    # ---- heavy tails ----

    def plus(self, name: str) -> PlusFraction:
        """A heavy tail of the study, in cuts."""
        form = self.form.plus_fraction[name]
        split = split_plus_fraction(**form.model_dump(exclude={"lump", "remark"}))
        return split if form.lump is None else split.lump(form.lump)

    def _components(self, names: Iterable[str]) -> list[str | Component]:
        """Own components and cuts in the place of their names."""
        found: list[str | Component] = []
        for name in names:
            found += self.plus(name).components if name in self.form.plus_fraction else [self._own.get(name.lower(), name)]
        return found

    def _with_cuts(self, fractions: Any) -> dict[str, Any]:
        """A composition with the cuts of heavy tails."""
        found: dict[str, Any] = {}
        for name, amount in fractions.items():
            if name not in self.form.plus_fraction:
                found[name] = amount
                continue
            if isinstance(amount, str):
                raise InputError(f"The heavy tail {name!r} can't be the rest of a composition: say how much there is of it.")
            found |= {cut: amount * share for cut, share in self.plus(name).fractions.items()}
        return found

    # ---- systems ----

    def system_today(self, name: str) -> System:
        """A system with the numbers that the databank has today, whatever the lock says; without fits."""
        form = self.form.system[name]
        try:
            if form.file is not None:
                return load(self.path(form.file)).with_units(self.form.units)
            return System(self._components(form.components), **_options(form), units=self.form.units)
        except SleetfieldError as error:
            raise type(error)(f"The system {name!r}: {error}") from error

    def locked(self, name: str) -> System:
        """The system that the lock holds.

        Raises
        ------
        InputError
            If the study has another one by now.
        """
        locked = System.from_dict(self.form.lock[name]).with_units(self.form.units)
        try:
            today = self.system_today(name)
        except UnknownComponentError:
            # the databank lacks by now what the lock has
            return locked
        if locked.names != today.names or locked.model.recipe != today.model.recipe:
            raise InputError(
                f"The lock of {name!r} holds {locked.title}, but the study has {today.title} there by now. Lock it again (`sleetfield lock`)."
            )
        return locked

    def _with_fits(self, system: System, fits: Iterable[str]) -> System:
        for fit in fits:
            if fit not in self.fitted:
                raise CalculationError(f"It rests on the fit {fit!r}, which failed or comes later.")
            system = system.taking(self.fitted[fit])
        return system

    @cached_property
    def _own(self) -> dict[str, Component]:
        made = {}
        for i, table in enumerate(self.form.component, start=1):
            try:
                component = component_of({"layer": "study", **table})
            except KeyError as error:
                raise InputError(f"The study's component {i} has no {error.args[0]}.") from None
            except SleetfieldError as error:
                raise InputError(f"The study's component {table.get('name', i)}: {error}") from error
            made[component.name.lower()] = component
        return made

    # ---- what they rest on ----

    def inputs(self) -> dict[str, str]:
        """The SHA-256 checksum of every file that the study names, by its name there; "missing" where there is none."""
        named = [s.file for s in self.form.system.values() if s.file is not None]
        named += [d.file for d in self.form.data.values()]
        named += [file for task in self.form.task for file in task.files]
        return {name: self.checksum(name) for name in dict.fromkeys(named)}

    def checksum(self, file: str) -> str:
        """SHA-256 of a file that the study names."""
        try:
            return hashlib.sha256(self.path(file).read_bytes()).hexdigest()
        except OSError:
            return "missing"


def _options(form: SystemForm) -> dict[str, Any]:
    """The keywords of `System` that a system's table says."""
    given: dict[str, Any] = {key: getattr(form, key) for key in _GIVEN}
    given |= {key: _by_pair(getattr(form, key)) for key in ("kij", "lij", "henry", "virial", "parameters")}
    if given["eos"] is None and given["liquid"] is None:
        raise InputError("It has no model: give it eos or liquid.")
    return given


def _by_pair(table: Any) -> Any:
    """A table of pairs with tuples for keys; anything else as it is."""
    if not isinstance(table, dict):
        return table
    return {tuple(key.split(" / ", 1)): _number(value) for key, value in table.items()}


def _number(value: Any) -> Any:
    if hasattr(value, "model_dump"):
        return PairParameters(**value.model_dump(exclude_none=True))
    return tuple(value) if isinstance(value, list) else value
