"""What a solution of salts and gases in water has become: species, pH, what is saturated, what precipitates."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..errors import InputError
from ..text import first_few, heading, shown
from ..units import from_si
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd

Array = NDArray[np.float64]

SHOWN = 1e-12
"""Mol/kg: of less nothing is printed."""
_PRINTED = 3
"""Columns: molality, coefficient, activity."""
_BEGINS = 1e-6
"""How close to one mole fractions add up where a vapor begins to form."""
SHOWN_PRESSURE = 1e-2
"""Pa: the same of gases."""


class Remark(NamedTuple):
    """A note on a solution: words, with the ``items`` that they are of, or the most of a number, in braces where there are such."""

    words: str
    items: tuple[str, ...] = ()
    most: float = 0.0

    def __str__(self) -> str:
        return self.words.format(items=first_few(self.items) if self.items else "", most=self.most)


def together(remarks: Iterable[Remark]) -> list[str]:
    """Remarks as notes, those of the same words as one: with the items of all, and the most."""
    found: dict[str, Remark] = {}
    for one in remarks:
        known = found.get(one.words, one)
        found[one.words] = Remark(one.words, tuple(dict.fromkeys((*known.items, *one.items))), max(known.most, one.most))
    return [str(one) for one in found.values()]


@dataclass(frozen=True, eq=False, repr=False)
class Speciation(Table):
    """A solution, for a kilogram of water that was fed.

    Attributes
    ----------
    feed : mapping of str to float
        What was added, mol.
    T : float
        K.
    ions : str
        The model of ions.
    names : tuple of str
        The solutes; ``charges (S,)``, ``molar_masses (S,)``, kg/mol, and ``volumes (S,)``, m3/mol, theirs.
    molality, ln_gamma : (S,)
        mol/kg of the water that is left, and logarithms of activity coefficients.
    water : float
        kg of water that is left.
    ln_water : float
        Logarithm of its activity.
    P_water : float
        Vapor pressure of water without anything in it, Pa.
    solids : mapping of str to float
        What has precipitated, mol.
    saturation : mapping of str to float
        log10 of the ionic product over that of the saturated solution, of every solid.
    pressures : mapping of str to float
        Fugacities of gases over the solution, Pa: partial pressures where these are low.
    taken_up : mapping of str to float
        What came from gases whose pressure was given, mol.
    P : float or None
        Pa, where one was given.
    vapor : mapping of str to float
        What is in the vapor over the solution, mol; nothing where there is none.
    y : mapping of str to float
        Mole fractions in the vapor; where there is none, what they would be, of a sum below one. Nothing where no pressure was given.
    liquid : mapping of str to float
        What is in a liquid of hydrocarbons beside the water, mol; nothing where there is none.
    H : float
        Enthalpy of everything, solution, solids, vapor and liquid beside it, J, by heats of formation; what differs between two states of the same feed is a duty.
    alkalinity : float
        Mol of hydrogen ions, for a kilogram of the water that is left, that it takes to come to CO2, H2S and NH4+.
    remarks : tuple of Remark
    """

    feed: Mapping[str, float]
    T: float
    ions: str
    names: tuple[str, ...]
    charges: Array
    molar_masses: Array
    volumes: Array
    molality: Array
    ln_gamma: Array
    water: float
    ln_water: float
    P_water: float
    solids: Mapping[str, float]
    saturation: Mapping[str, float]
    pressures: Mapping[str, float]
    taken_up: Mapping[str, float]
    P: float | None
    vapor: Mapping[str, float]
    y: Mapping[str, float]
    liquid: Mapping[str, float]
    H: float
    alkalinity: float
    remarks: tuple[Remark, ...]

    word = "speciation"
    rows = "species"
    named_by = "species"

    @property
    def activity(self) -> Array:
        """Of the solutes, on molality ``(S,)``."""
        return np.asarray(self.molality * np.exp(self.ln_gamma))

    @property
    def mole_fraction(self) -> Array:
        """Of the solutes in the solution ``(S,)``, water's the rest."""
        from ..core.electrolyte.contract import M_WATER

        return np.asarray(self.molality / (self.molality.sum() + 1.0 / M_WATER))

    @property
    def mass_fraction(self) -> Array:
        """The same by mass."""
        return np.asarray(self.molality * self.molar_masses / (1.0 + self.molality @ self.molar_masses))

    @property
    def volume(self) -> float:
        """M³ of the solution, without solids and vapor."""
        from ..core.electrolyte.volume import solution_volume

        return self.water * solution_volume(self.molality, self.charges, self.volumes, self.T)

    @property
    def density(self) -> float:
        """Of the solution, kg/m3."""
        return float(self.water * (1.0 + self.molality @ self.molar_masses) / self.volume)

    @property
    def molarity(self) -> Array:
        """Of the solutes, mol for a m3 of the solution ``(S,)``."""
        return np.asarray(self.water * self.molality / self.volume)

    @property
    def mass_concentration(self) -> Array:
        """The same by mass, kg/m3."""
        return np.asarray(self.molarity * self.molar_masses)

    @property
    def pH(self) -> float:
        """-log10 of the activity of hydrogen ions, on molality and the model's own single-ion convention."""
        return float(-np.log10(self.activity[self.names.index("H+")]))

    @property
    def ionic_strength(self) -> float:
        """mol/kg."""
        return float(0.5 * (self.molality * self.charges**2).sum())

    @property
    def water_activity(self) -> float:
        """Of water."""
        return float(np.exp(self.ln_water))

    @property
    def osmotic_coefficient(self) -> float:
        """Of all solutes as they are."""
        from ..core.electrolyte.contract import M_WATER

        return float(-self.ln_water / (M_WATER * self.molality.sum()))

    @property
    def pressures_word(self) -> str:
        """What `pressures` are called: beside a vapor under pressure they are not its partial pressures."""
        return "pressure" if self.P is None else "fugacity"

    @property
    def x(self) -> dict[str, float]:
        """Mole fractions in the liquid of hydrocarbons."""
        total = sum(self.liquid.values())
        return {name: amount / total for name, amount in self.liquid.items()}

    def dissolved(self, gas: str) -> float:
        """What of a gas that was fed is not in the vapor, nor in a liquid of hydrocarbons, in whatever form: mol for a kilogram of the water that is left.

        Raises
        ------
        InputError
            If it was not fed.
        """
        if gas not in self.feed:
            raise InputError(f"No {gas!r} was fed. Fed were {', '.join(self.feed) or 'none'}.")
        elsewhere = self.vapor.get(gas, 0.0) + self.liquid.get(gas, 0.0)
        return (self.feed[gas] + self.taken_up.get(gas, 0.0) - elsewhere) / self.water

    @property
    def bubble_pressure(self) -> float:
        """Of the gases and the water vapor over the solution together, Pa, as if these were ideal; `Electrolyte.bubble_pressure` has it as they are."""
        return float(sum(self.pressures.values()) + self.water_activity * self.P_water)

    def mean_activity_coefficient(self, cation: str, anion: str) -> float:
        """Of a salt, on molality, by its ions: ``mean_activity_coefficient("Na+", "SO4-2")``.

        Raises
        ------
        InputError
            If one is none of the solution's ions, or both have charges of one sign.
        """
        for name in (cation, anion):
            if name not in self.names:
                raise InputError(f"There is no {name!r} in the solution. It has {', '.join(self.names)}.")
        i, j = self.names.index(cation), self.names.index(anion)
        z = abs(self.charges[[i, j]])
        if not self.charges[i] > 0.0 > self.charges[j]:
            raise InputError(f"{cation} and {anion} make no salt: name a cation, then an anion.")
        return float(np.exp((z[1] * self.ln_gamma[i] + z[0] * self.ln_gamma[j]) / z.sum()))

    @guarded
    def beside(self, other: Speciation) -> pd.DataFrame:
        """Line by line what another solution has otherwise, another model's say: pH and the like, solutes, solids and gases that there is anything of; ``frame.attrs["notes"]`` has the notes of both.

        Examples
        --------
        >>> import sleetfield as sl
        >>> brine = sl.Electrolyte(["sodium chloride", "calcium sulfate"])
        >>> feed = {"sodium chloride": 0.1, "calcium sulfate": 0.03}
        >>> frame = brine.speciation(feed).beside(brine.with_ions("Davies").speciation(feed))
        >>> frame.loc["Ca+2 [mol/kg]"].round(4).tolist()
        [0.022, 0.0158, -28.201]

        """
        import pandas as pd

        rows: dict[str, tuple[float, float]] = {}
        for name in ("pH", "ionic_strength", "water_activity", "osmotic_coefficient", "bubble_pressure"):
            rows[name.replace("_", " ")] = getattr(self, name), getattr(other, name)
        own, theirs = (dict(zip(s.names, s.molality.tolist(), strict=True)) for s in (self, other))
        for names, ours, others, unit in (
            (dict.fromkeys((*own, *theirs)), own, theirs, "mol/kg"),
            (dict.fromkeys((*self.solids, *other.solids)), self.solids, other.solids, "mol"),
            (dict.fromkeys((*self.pressures, *other.pressures)), self.pressures, other.pressures, "Pa"),
        ):
            for name in names:
                pair = ours.get(name, 0.0), others.get(name, 0.0)
                if max(pair) > (SHOWN_PRESSURE if unit == "Pa" else SHOWN):
                    rows[f"{name} [{unit}]"] = pair
        values = np.array(list(rows.values()))
        with np.errstate(all="ignore"):
            off = 100.0 * (values[:, 1] / values[:, 0] - 1.0)
        first, second = (self.ions, other.ions) if self.ions != other.ions else ("this", "the other")
        frame = pd.DataFrame({first: values[:, 0], second: values[:, 1], "difference [%]": off}, index=list(rows))
        frame.attrs["title"] = f"{self.title()}, beside {other.ions}"
        frame.attrs["notes"] = list(
            dict.fromkeys([*(f"{first}: {n}" for n in self.notes), *(f"{second}: {n}" for n in other.notes)])
        )
        return frame

    def title(self, units: str | None = None) -> str:
        """What is in the water."""
        parts = " + ".join(f"{amount:.5g} {name}" for name, amount in self.feed.items())
        return f"{parts or 'nothing'}, mol in 1 kg of water at {self.conditions(units)} ({self.ions})"

    def conditions(self, units: str | None = None) -> str:
        """Temperature, and pressure where one was given."""
        own = self.unit_set(units)
        return shown(self.T, "temperature", own) + ("" if self.P is None else f" and {shown(self.P, 'pressure', own)}")

    def in_short(self, units: str | None = None) -> str:
        """pH, ionic strength, what precipitates and what is vapor."""
        made = ", ".join(f"{amount:.4g} mol {name}" for name, amount in self.solids.items())
        begins = self.P is not None and abs(sum(self.y.values()) - 1.0) < _BEGINS
        none = "" if self.P is None else "; a vapor begins to form" if begins else "; no vapor"
        over = f"; {sum(self.vapor.values()):.4g} mol of vapor" if self.vapor else none
        over += f"; {sum(self.liquid.values()):.4g} mol of a liquid of hydrocarbons" if self.liquid else ""
        return f"pH {self.pH:.2f}, ionic strength {self.ionic_strength:.4g} mol/kg; {f'precipitates: {made}' if made else 'nothing precipitates'}{over}."

    def columns(self) -> list[Column]:
        """A row for each solute."""
        return [
            Column("species", list(self.names)),
            Column("molality", self.molality, "molality"),
            Column("activity_coefficient", np.exp(self.ln_gamma)),
            Column("activity", self.activity),
            Column("mole_fraction", self.mole_fraction),
            Column("mass_fraction", self.mass_fraction),
            Column("molarity", self.molarity, "molarity"),
            Column("mass_concentration", self.mass_concentration, "mass_concentration"),
        ]

    def facts(self) -> dict[str, Any]:
        """The solution as a whole, solids and gases."""
        keys = ("feed", "solids", "saturation", "pressures", "taken_up", "vapor", "y", "liquid")
        whole = (
            "T",
            "P",
            "H",
            "alkalinity",
            "ions",
            "pH",
            "ionic_strength",
            "water",
            "water_activity",
            "osmotic_coefficient",
            "bubble_pressure",
            "volume",
            "density",
        )
        return {**{key: getattr(self, key) for key in whole}, **{key: dict(getattr(self, key)) for key in keys}}

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Solutes that there is anything of, the most first."""
        frame = self.to_frame(units).iloc[:, :_PRINTED]
        order = np.argsort(-self.molality, kind="stable")
        return frame.iloc[[i for i in order if self.molality[i] > SHOWN]]

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """The solution as a whole; solids; gases."""
        import pandas as pd

        whole = {
            "pH": self.pH,
            "ionic strength [mol/kg]": self.ionic_strength,
            "alkalinity [mol/kg]": self.alkalinity,
            "activity of water": self.water_activity,
            "osmotic coefficient": self.osmotic_coefficient,
            "water left [kg]": self.water,
        }
        own = self.unit_set(units)
        whole[heading("density", "density", own)] = float(from_si(self.density, "density", own))
        if self.P is None:
            whole[heading("bubble pressure", "pressure", own)] = float(from_si(self.bubble_pressure, "pressure", own))
        found = [("Solution", pd.DataFrame({"value": whole}))]
        if self.saturation:
            order = sorted(self.saturation, key=lambda name: -self.saturation[name])[:12]
            table = pd.DataFrame(
                {
                    "precipitated [mol]": [self.solids.get(n, 0.0) for n in order],
                    "saturation index": [self.saturation[n] for n in order],
                },
                index=order,
            )
            found.append(("Solids", table))
        over = {n: P for n, P in self.pressures.items() if P > SHOWN_PRESSURE or n in self.taken_up}
        if over:
            bars = from_si(list(over.values()), "pressure", self.unit_set(units))
            unit = "psi" if self.unit_set(units) == "US" else "Pa" if self.unit_set(units) == "SI" else "bar"
            table = pd.DataFrame({f"{self.pressures_word} [{unit}]": bars}, index=list(over))
            if self.taken_up:
                table["taken up [mol]"] = [self.taken_up.get(n, 0.0) for n in over]
            found.append(("Gases", table))
        if self.vapor or abs(sum(self.y.values()) - 1.0) < _BEGINS:
            there = [name for name, share in self.y.items() if share > SHOWN]
            table = pd.DataFrame(
                {"mol": [self.vapor.get(n, 0.0) for n in there], "mole fraction": [self.y[n] for n in there]}, index=there
            )
            found.append(("Vapor", table))
        if self.liquid:
            table = pd.DataFrame(
                {"mol": list(self.liquid.values()), "mole fraction": list(self.x.values())}, index=list(self.liquid)
            )
            found.append(("Liquid of hydrocarbons", table[table["mole fraction"] > SHOWN]))
        return found

    @property
    def notes(self) -> list[str]:
        """About the model and the solution."""
        return together(self.remarks)
