"""Solutions of salts, acids, bases and gases in water: species, pH, saturation, precipitates, titrations."""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arguments import guarded, short
from .components.databank import source_text
from .components.species import BAR, GAS, SOLID, WATER, Hydrocarbon, Reagent, Species, chosen_species, hydrocarbon, reagent
from .core.constants import T_REFERENCE, R
from .core.electrolyte.contract import M_WATER
from .core.electrolyte.speciation import Chemistry, Solution, solve
from .core.electrolyte.water import vapor_pressure
from .errors import CalculationError, InputError, UnknownComponentError
from .ions import ION_MODELS, own_pairs, pairs_without, salting_unknown, sources_of
from .results.solution_steps import Titration, Warming
from .results.speciation import Remark, Speciation
from .specified import series, value_of, values_of
from .units import dimension_of, one_in_si
from .vapor_over import BeforeVapor, Steam, VaporOver

Array = NDArray[np.float64]

_COLDEST, _HOTTEST = 273.15, 373.15
_WARM = 333.15
"""K, from which on heat capacities that do not change make themselves felt."""
_FUGACITIES = "Pressures of gases are their fugacities: above some bar the gas is not ideal, and its pressure higher. With P= there is a vapor that is not ideal."
_HOT = "Above 60 °C constants and parameters are carried on from 25 °C: log10 of constants is off by up to 0.1, solubilities of salts by a tenth."
_IDEAL = 5e5
"""Pa, up to which a gas is taken as ideal without a word."""
_DIMENSIONS = ("molality", "fraction", "molarity", "mass_concentration")
_OF_VOLUMES, _OF_MASSES = {"molarity", "mass_concentration"}, {"fraction", "mass_concentration"}
"""What amounts can be given as, mol/kg, g/kg, mol/L and g/L; which are for a liter of solution, and which are masses."""
_SETTLED = 1e-12
_ROUNDS, _BOILING, _LOWEST, _HIGHEST = 60, 1e-9, 1e2, 1e8
"""How often a bubble pressure is bettered, until mole fractions add up to one as well as that, and Pa from and up to which it is sought."""
_APART = 0.05
"""K, to either side of a temperature, between which slopes are taken."""
_PRESSED = 2e6
"""Pa, from which on it is said what pressure does not act on."""
_LOOSE = 1e-8
_DRY, _GONE = 0.02, 1e-6
"""kg of water, of which there is less where solids take it up; and what counts as none."""
_NOISE = 1e-12
_SALTS = 0.05
"""mol/kg of an ion, from which it is said that it is not known how it drives a gas out."""
_MATTERS = 1e-3
_VOLUME, _TELLS = 2e-5, 0.01
"""m3/mol, of solutes of which it is not known; and how much of one tells on the density, mol/kg: 10 cm³/mol are 0.01 % of it."""
"""mol/kg of an ion, from which it is said that parameters of it are not known."""


class _Beside(NamedTuple):
    """What is vapor, its mole fractions, and what is a liquid beside the water."""

    vapor: Array
    y: Array
    liquid: Array


class Electrolyte:
    """Salts, acids, bases and gases in water: their ions, complexes, solids and reactions follow from a table of species.

    Parameters
    ----------
    added : sequence of str
        What can be added to the water, by name ("sodium chloride", "carbon dioxide"), mineral ("gypsum") or formula ("Na2SO4"): of Na, K, Mg, Ca, Sr, Ba and ammonium, chlorides, sulfates,
        nitrates, carbonates, sulfites, sulfides, hydroxides and acids; carbon dioxide, ammonia, hydrogen sulfide, sulfur dioxide, hydrogen chloride, methane, nitrogen, oxygen and hydrogen as gases; and hydrocarbons of the databank, which at a pressure are vapor or a liquid beside the water.
    ions : {"Pitzer", "electrolyte-NRTL", "Davies"}
        The model of ions.
    parameters : mapping of pairs to mapping, optional
        One's own of pairs of ions, in place of the tables': ``{("Na+", "Cl-"): {"beta0": 0.0765, "beta1": 0.2664, "C_phi": 0.00127}}``; of electrolyte-NRTL ``"of_water"`` and ``"of_salt"``. `fit_ions` has them of measurements.
    species : sequence of str, optional
        Further ones, each by what it falls apart into and log10 of that constant at 25 °C, with the heat of that where there are other temperatures: ``"CaSO4(aq) = Ca+2 + SO4-2, -2.31, 6.9 kJ/mol"``. One without charge or ``(aq)`` is a solid.
    without : sequence of str, optional
        Species and solids of the table that are left out.

    Raises
    ------
    UnknownComponentError
        If something is not known, or has another element or state of oxidation.
    InputError
        If nothing is named, or there is no such model.

    Examples
    --------
    >>> import sleetfield as sl
    >>> brine = sl.Electrolyte(["sodium chloride", "calcium sulfate"])
    >>> found = brine.speciation({"sodium chloride": 1.0, "calcium sulfate": 0.1})
    >>> print(found.in_short())
    pH 6.99, ionic strength 1.181 mol/kg; precipitates: 0.05526 mol gypsum.

    """

    @guarded
    def __init__(
        self,
        added: Sequence[str],
        *,
        ions: str = "Pitzer",
        parameters: Mapping[tuple[str, str], Mapping[str, float]] | None = None,
        species: Sequence[str] = (),
        without: Sequence[str] = (),
    ) -> None:
        if isinstance(added, str) or not len(added):
            raise InputError("Name what can be added to the water, as a list: ['sodium chloride', 'carbon dioxide'].")
        if ions not in ION_MODELS:
            raise InputError(f"There is no model of ions {short(ions)}. Models are {', '.join(ION_MODELS)}.")
        self.added, self.ions = tuple(str(name).strip() for name in added), ions
        self._reagents: dict[str, Reagent] = {name: reagent(name) for name in self.added}
        symbols = {symbol for r in self._reagents.values() for symbol in r.atoms}
        self._own_species, self._without = tuple(species), tuple(without)
        self._hydrocarbons: dict[str, Hydrocarbon] = {
            r.name: found for r in self._reagents.values() if r.name in r.atoms and (found := hydrocarbon(r.name)) is not None
        }
        self.solutes, self.others = chosen_species(symbols - {*self._hydrocarbons}, self._own_species, self._without)
        self.elements = ("H", "O", *sorted(symbols - {"H", "O"}))
        self.parameters = {} if parameters is None else {pair: dict(values) for pair, values in parameters.items()}
        self._alkalinity = np.array([s.alkalinity for s in self.solutes])
        self._own = own_pairs(self.solutes, ions, self.parameters)

    def _atoms(self, several: Any) -> Array:
        return np.array([[float(atoms.get(e, 0)) for e in self.elements] for atoms in several]).reshape(-1, len(self.elements))

    def _chemistry(self, others: Sequence[Species | Hydrocarbon | Steam], T: float, over: VaporOver | None) -> Chemistry:
        of_solutes, of_water = (0.0, 0.0) if over is None else over.pressed(T, self.solutes)
        return Chemistry(
            self._atoms(s.atoms for s in self.solutes),
            self._atoms(s.atoms for s in others),
            np.array([float(s.charge) for s in self.solutes]),
            np.array([s.mu_at(T) for s in self.solutes]) + of_solutes,
            np.array([s.mu_at(T) for s in others]),
            WATER.mu_at(T) + of_water,
            ION_MODELS[self.ions].make(self.solutes, T, self._own),
        )

    @property
    def species(self) -> tuple[str, ...]:
        """The solutes that there can be."""
        return tuple(s.name for s in self.solutes)

    @property
    def solids(self) -> tuple[str, ...]:
        """The solids that can precipitate."""
        return tuple(s.name for s in self.others if s.kind == SOLID)

    @property
    def gases(self) -> tuple[str, ...]:
        """The gases that can be over the solution."""
        return tuple(s.name for s in self.others if s.kind == GAS)

    @property
    def hydrocarbons(self) -> tuple[str, ...]:
        """Those that can be vapor, or a liquid beside the water."""
        return tuple(self._hydrocarbons)

    @property
    def sources(self) -> tuple[str, ...]:
        """Where the standard potentials and the parameters of the ions are from."""
        keys = [*(key for s in (WATER, *self.solutes, *self.others) for key in s.sources), *sources_of(self.solutes, self.ions)]
        return tuple(source_text(key) for key in dict.fromkeys(keys))

    def with_ions(self, ions: str) -> Electrolyte:
        """The same with another model of ions, and its own parameters."""
        own = self.parameters if ions == self.ions else None
        return Electrolyte(self.added, ions=ions, parameters=own, species=self._own_species, without=self._without)

    @guarded
    def speciation(
        self,
        feed: Mapping[str, Any],
        *,
        T: Any = T_REFERENCE,
        P: Any = None,
        gases: Mapping[str, Any] | None = None,
        precipitation: bool | Sequence[str] = True,
    ) -> Speciation:
        """What the solution becomes.

        Parameters
        ----------
        feed
            Amounts for a kilogram of water: mol, or text such as "0.5 mol/kg" or "35 g/kg"; or for a liter of the solution as it is made up at ``T``, before anything precipitates or goes to a
            gas: "0.5 mol/L", "200 mg/L".
        T : temperature, optional
            0 to 100 °C, 25 °C if none is given. Constants of reactions follow it by heats of formation and heat capacities; what a result lacks of that is in its notes.
        P : pressure, optional
            Where it is given, what does not stay dissolved at that pressure is a vapor over the solution, of gases and water, and with hydrocarbons a liquid of these beside it, by Soave's equation.
        gases : mapping of str to pressure, optional
            In place of a pressure: gases that stand over the solution at a given partial pressure and are taken up, or given off, until they are at equilibrium: ``{"carbon dioxide": "1 atm"}``.
        precipitation : bool or sequence of str
            Whether solids form, or which.

        Raises
        ------
        InputError
            If an amount is none, or negative, the temperature none of water's, or a gas or solid none of the system's.
        CalculationError
            If it does not converge.

        Examples
        --------
        >>> import sleetfield as sl
        >>> water = sl.Electrolyte(["carbon dioxide"])
        >>> round(water.speciation({}, gases={"carbon dioxide": "1 atm"}).pH, 2)
        3.9
        >>> soda = water.speciation({"carbon dioxide": 2.0}, T="50 degC", P="100 bar")
        >>> round(soda.dissolved("carbon dioxide"), 2)
        1.12

        """
        (found,) = self._solved([self._amounts(feed, T)], T, P, gases, precipitation)
        return found

    @guarded
    def bubble_pressure(
        self, feed: Mapping[str, Any], *, T: Any = T_REFERENCE, precipitation: bool | Sequence[str] = True
    ) -> Speciation:
        """The solution at the pressure at which a vapor begins to form over it: ``found.P``, and what that is made of, ``found.y``.

        Raises
        ------
        CalculationError
            If there is no such pressure up to 1000 bar.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sour = sl.Electrolyte(["ammonia", "hydrogen sulfide"])
        >>> point = sour.bubble_pressure({"ammonia": 1.0, "hydrogen sulfide": 0.5}, T="80 degC")
        >>> round(point.P / 1e5, 2), round(point.y["water"], 2)
        (0.72, 0.65)

        """
        feed = self._amounts(feed, T)
        if any(feed.get(name) for symbol in self._hydrocarbons for name in self._called(symbol)):
            return self._bubble_beside(feed, T, precipitation)
        (found,) = self._solved([feed], T, None, None, precipitation)
        ln_P, before = np.log(found.bubble_pressure), None
        for _ in range(_ROUNDS):
            (found,) = self._solved([feed], T, float(np.exp(ln_P)), None, precipitation, BeforeVapor)
            off = float(np.log(sum(found.y.values())))
            if abs(off) < _BOILING:
                return found
            # by the secant of the last two, else as if the vapor were ideal
            rise = -1.0 if before is None or ln_P == before[0] else min((off - before[1]) / (ln_P - before[0]), -0.2)
            before = ln_P, off
            ln_P -= off / rise
            if not ln_P < np.log(_HIGHEST):
                break
        raise CalculationError(
            f"No pressure up to {_HIGHEST / 1e5:g} bar was found at which a vapor begins to form over {found.title()}."
        )

    def _bubble_beside(self, feed: Mapping[str, float], T: Any, precipitation: bool | Sequence[str]) -> Speciation:
        """The same with hydrocarbons: between a pressure with a vapor and one with none, by halves, or by how far a vapor's mole fractions are from one."""
        low, high = np.log([_LOWEST, _HIGHEST])
        (found,) = self._solved([feed], T, _HIGHEST, None, precipitation)
        ln_P = 0.5 * (low + high)
        while not found.vapor and high - low > _BOILING:
            (here,) = self._solved([feed], T, float(np.exp(ln_P)), None, precipitation)
            if here.vapor:
                low, ln_P = ln_P, 0.5 * (ln_P + high)
                continue
            high, found = ln_P, here
            off = math.log(sum(found.y.values()) or 1e-300)
            if abs(off) < _BOILING:
                break
            ln_P = ln_P + off if ln_P + off > low else 0.5 * (low + high)
        if found.vapor:
            raise CalculationError(f"There is a vapor over {found.title()} up to {_HIGHEST / 1e5:g} bar.")
        return found

    @guarded
    def titration(
        self,
        feed: Mapping[str, Any],
        added: str,
        amounts: Any,
        *,
        T: Any = T_REFERENCE,
        P: Any = None,
        gases: Mapping[str, Any] | None = None,
        precipitation: bool | Sequence[str] = True,
    ) -> Titration:
        """The same with more and more of something added: ``amounts`` of it, mol for a kilogram of water, or text such as "0 to 0.15 mol/kg in 61".

        Examples
        --------
        >>> import numpy as np
        >>> import sleetfield as sl
        >>> scrubber = sl.Electrolyte(["sodium hydroxide", "carbon dioxide"])
        >>> curve = scrubber.titration({"carbon dioxide": 0.05}, "sodium hydroxide", np.linspace(0.0, 0.15, 31))
        >>> print(curve.in_short())
        pH 3.82 to 12.54 with 0 to 0.15 mol of sodium hydroxide.

        """
        if added not in self.added:
            raise InputError(f"{short(added)} is none of what can be added: {', '.join(self.added)}.")
        listed = series(amounts, "molality", "amounts") if isinstance(amounts, str) else amounts
        several = np.ravel(np.asarray(listed, dtype=object))
        more = np.array([self._amount(added, value) for value in several])
        if not more.size:
            raise InputError("There are no amounts to add.")
        start = self._amounts(feed, T)
        feeds = [{**start, added: start.get(added, 0.0) + float(value)} for value in more]
        return Titration(tuple(self._solved(feeds, T, P, gases, precipitation)), added, more)

    @guarded
    def warming(
        self,
        feed: Mapping[str, Any],
        T: Any,
        *,
        P: Any = None,
        gases: Mapping[str, Any] | None = None,
        precipitation: bool | Sequence[str] = True,
    ) -> Warming:
        """The same at several temperatures ``T``, or text such as "0 to 60 degC in 13": does scale form where it is heated, do crystals where it cools?

        Examples
        --------
        >>> import sleetfield as sl
        >>> hard = sl.Electrolyte(["calcium hydrogen carbonate", "sodium chloride"])
        >>> print(hard.warming({"calcium hydrogen carbonate": 0.002}, "10 to 80 degC in 8").in_short())
        pH 7.53 to 6.81 from 10 °C to 80 °C; calcite precipitates.

        """
        listed = np.ravel(series(T, "temperature", "T") if isinstance(T, str) else values_of(T, "T"))
        feed = self._amounts(feed)
        return Warming(tuple(self._solved([feed], float(one), P, gases, precipitation)[0] for one in listed))

    def _amounts(self, feed: Mapping[str, Any], T: Any = T_REFERENCE) -> dict[str, float]:
        """mol for a kilogram of water; what is given for a liter is that of the solution as it is made up at ``T``, before anything precipitates or goes to a gas."""
        for name in feed:
            if name not in self.added:
                raise UnknownComponentError(f"{short(name)} is none of what can be added: {', '.join(self.added)}.")
        per_liter = any(dimension_of(value, *_DIMENSIONS) in _OF_VOLUMES for value in feed.values())
        volume = 1e-3
        for _ in range(_ROUNDS):
            amounts = {name: self._amount(name, value, volume) for name, value in feed.items()}
            if not per_liter:
                return amounts
            (made,) = self._solved([amounts], T, None, None, False)
            if not np.isfinite(made.volume):
                raise InputError(
                    "The volume of this solution is not known, so that amounts for a liter of it are not. Give them in mol/kg."
                )
            before, volume = volume, made.volume
            if abs(volume - before) <= _SETTLED * volume:
                return amounts
        raise CalculationError("No solution has so much of this in a liter. Give amounts for a kilogram of water, in mol/kg.")

    def _amount(self, name: str, value: Any, volume: float | None = None) -> float:
        """mol for a kilogram of water, in a solution of so many m3; where it has none, nothing is for a liter of it."""
        dimension, what = dimension_of(value, *_DIMENSIONS), f"the amount of {name}"
        number = one_in_si(value, dimension, what)
        if dimension in _OF_VOLUMES:
            if volume is None:
                raise InputError(f"{what} is {short(value)}; what is added is for a kilogram of water, in mol/kg or g/kg.")
            number *= volume
        amount = number / self._reagents[name].molar_mass if dimension in _OF_MASSES else number
        if not 0.0 <= amount < np.inf:
            raise InputError(f"The amount of {name} is {short(value)}; it is zero or positive, and finite.")
        return amount

    def _solved(
        self,
        feeds: Sequence[Mapping[str, float]],
        T: Any,
        P: Any,
        gases: Mapping[str, Any] | None,
        precipitation: bool | Sequence[str],
        over_it: type[VaporOver] = VaporOver,
    ) -> list[Speciation]:
        # to the last digit whatever unit it was given in: 77 °F is 25 °C
        T = round(value_of(T, "T"), 9)
        if not _COLDEST <= T <= _HOTTEST:
            raise InputError(f"T is {T:g} K; solutions in water are for 273.15 to 373.15 K, 0 to 100 °C.")
        if P is not None and gases:
            raise InputError("There is a pressure and there are gases at pressures of their own. Give P, or gases=, and not both.")
        if cold := [s.name for s in self.solutes if not np.isfinite(s.mu_at(T))]:
            raise InputError(
                f"{cold[0]} has no heat of formation, so that it is known at 25 °C alone. Give the heat of its reaction."
            )
        idle = [tuple(s for s in self._hydrocarbons if not any(feed.get(name) for name in self._called(s))) for feed in feeds]
        if len(set(idle)) > 1:
            return [found for feed in feeds for found in self._solved([feed], T, P, gases, precipitation, over_it)]
        if idle and idle[0]:
            return self._without_hydrocarbons(idle[0])._solved(feeds, T, P, gases, precipitation, over_it)
        if P is None and self._hydrocarbons:
            raise InputError(
                f"{self.hydrocarbons[0]} is no part of a solution: give P, at which it is vapor or a liquid beside it."
            )
        over = None if P is None else over_it(self.gases, self.hydrocarbons, T, value_of(P, "P"))
        others: list[Species | Hydrocarbon | Steam] = [s for s in self.others if np.isfinite(s.mu_at(T))]
        others += [] if over is None else [*self._hydrocarbons.values(), over.steam]
        names = [s.name for s in others]
        water = {"H": 2.0 / M_WATER, "O": 1.0 / M_WATER}
        totals = np.array([[water.get(e, 0.0) for e in self.elements]] * len(feeds))
        for i, feed in enumerate(feeds):
            for name, amount in feed.items():
                totals[i] += amount * self._atoms([self._reagents[name].atoms])[0]
        ln_f = np.full((len(feeds), len(others)), np.nan)
        for name, pressure in (gases or {}).items():
            if name not in self.gases:
                there = ", ".join(self.gases) or "none"
                raise InputError(f"There is no gas {short(name)} over this solution; there is {there}.")
            ln_f[:, names.index(name)] = np.log(value_of(pressure, "P") / BAR)
        wanted = (self.solids if precipitation else ()) if isinstance(precipitation, bool | np.bool_) else tuple(precipitation)
        if strange := [name for name in wanted if name not in self.solids]:
            raise InputError(f"There is no solid {short(strange[0])} here. There can be {', '.join(self.solids) or 'none'}.")
        may_form = np.array([name in wanted for name in names], dtype=bool)
        with np.errstate(all="ignore"):
            solution = solve(
                self._chemistry(others, T, over),
                totals,
                may_form,
                ln_f,
                None if over is None else over.vapor(names, self._named(feeds)),
            )
        left = solution.water * M_WATER
        bad = ~((solution.residual < _LOOSE) & (left > _GONE))
        if bad.any():
            first = int(np.flatnonzero(bad)[0])
            fed = ", ".join(f"{amount:g} {name}" for name, amount in feeds[first].items())
            raise CalculationError(f"The solution of {fed or 'nothing'} {self._no_answer(left[first], solution.m[first], over)}.")
        H = self._enthalpy(T, others, solution, over)
        vapor = liquid = y = np.zeros((len(feeds), 0))
        if over is not None:
            place = over.place(names)
            H += over.beyond_ideal(solution.amounts[:, place])
            vapor, liquid = over.amounts(solution.amounts[:, place])
            y = over.shares(vapor, liquid, np.exp(solution.ln_activity[:, place]))
        given = tuple(gases or {})
        return [
            self._told(feed, T, others, solution, i, given, over, _Beside(vapor[i], y[i], liquid[i]), float(H[i]))
            for i, feed in enumerate(feeds)
        ]

    def _called(self, hydrocarbon: str) -> Iterator[str]:
        """What a hydrocarbon is called in feeds."""
        return (name for name, r in self._reagents.items() if hydrocarbon in r.atoms)

    def _named(self, feeds: Sequence[Mapping[str, float]]) -> list[dict[str, float]]:
        """Feeds by the names that gases and hydrocarbons have here."""
        return [{self._reagents[name].name: amount for name, amount in feed.items()} for feed in feeds]

    def _without_hydrocarbons(self, names: Sequence[str]) -> Electrolyte:
        """The same without some, of which there is none."""
        other = copy.copy(self)
        other._hydrocarbons = {symbol: found for symbol, found in self._hydrocarbons.items() if symbol not in names}
        other.elements = tuple(e for e in self.elements if e not in names)
        return other

    def _enthalpy(self, T: float, others: Sequence[Species | Hydrocarbon | Steam], s: Solution, over: VaporOver | None) -> Array:
        """Of everything together ``(N,)``, J, gases as ideal ones: from how potentials change with temperature at these amounts."""

        def potential(at: float) -> Array:
            c = self._chemistry(others, at, over)
            found, kg = c.ions.activities(s.m), s.water * M_WATER
            dissolved = kg * ((s.m * (c.mu_solutes + found.ln_gamma)).sum(axis=1) - found.osmotic * s.m.sum(axis=1))
            return np.asarray(
                dissolved + s.water * c.mu_water + np.where(s.amounts != 0.0, s.amounts * c.mu_others, 0.0).sum(axis=1)
            )

        return -R * T**2 * (potential(T + _APART) - potential(T - _APART)) / (2.0 * _APART)

    def _told(
        self,
        feed: Mapping[str, float],
        T: float,
        others: Sequence[Species | Hydrocarbon | Steam],
        s: Solution,
        i: int,
        given: tuple[str, ...],
        vapor: VaporOver | None,
        beside: _Beside,
        H: float,
    ) -> Speciation:
        amounts = dict(zip((o.name for o in others), s.amounts[i].tolist(), strict=True))
        over = dict(zip((o.name for o in others), s.ln_activity[i].tolist(), strict=True))
        solids = [o.name for o in others if o.kind == SOLID]
        pressures = {name: BAR * float(np.exp(over[name])) for name in (*self.gases, *self.hydrocarbons)}
        alkalinity = float(s.m[i] @ self._alkalinity)
        names = () if vapor is None else vapor.names
        gone, liquid = (
            {name: amount for name, amount in zip(names, part.tolist(), strict=True) if amount > 0.0}
            for part in (beside.vapor, beside.liquid)
        )
        shares = dict(zip(names, beside.y.tolist(), strict=True))
        return Speciation(
            dict(feed),
            T,
            self.ions,
            self.species,
            np.array([float(solute.charge) for solute in self.solutes]),
            np.array([Reagent(solute.name, solute.atoms).molar_mass for solute in self.solutes]),
            np.array([_VOLUME if math.isnan(solute.volume) else solute.volume for solute in self.solutes]),
            s.m[i],
            s.ln_gamma[i],
            float(s.water[i]) * M_WATER,
            float(s.ln_water[i]),
            float(vapor_pressure(T)),
            {name: amounts[name] for name in solids if amounts[name] > 0.0},
            {name: 0.0 if amounts[name] > 0.0 else over[name] / np.log(10.0) for name in solids},
            pressures,
            {name: -amounts[name] for name in given},
            None if vapor is None else vapor.P,
            gone,
            shares,
            liquid,
            H,
            alkalinity if abs(alkalinity) > _NOISE else 0.0,
            tuple(self._remarks(T, s.m[i], pressures, solids, vapor, gone, shares, liquid)),
        )

    def _remarks(
        self,
        T: float,
        m: Array,
        pressures: Mapping[str, float],
        solids: Sequence[str],
        vapor: VaporOver | None,
        gone: Mapping[str, float],
        y: Mapping[str, float],
        liquid: Mapping[str, float],
    ) -> Iterator[Remark]:
        model = ION_MODELS[self.ions]
        yield Remark(f"{model.words}.")
        if self._hydrocarbons:
            yield Remark("What of {items} dissolves in the water is left out.", self.hydrocarbons)
        if vapor is None and max(pressures.values(), default=0.0) > _IDEAL:
            yield Remark(_FUGACITIES)
        if vapor is not None and gone and vapor.is_dense([*y.values()]):
            yield Remark("The phase over the solution is as dense as a liquid; Soave's equation is rough there.")
        if vapor is not None and vapor.holds_too_much_water(liquid):
            yield Remark("The liquid beside the water takes up more of it than Soave's equation can be trusted with, and is rough.")
        if vapor is not None and vapor.P > _PRESSED:
            yield Remark("Pressure acts on gases and water; what it does to ions and solids is left out.")
        strength = self._strength(m)
        if strength > model.highest:
            yield Remark(f"The ionic strength is {{most:.3g}} mol/kg; the model is for {model.highest:g} at most.", most=strength)
        spreading = [s.name for s, amount in zip(self.solutes, m.tolist(), strict=True) if math.isnan(s.volume) and amount > _TELLS]
        if spreading:
            yield Remark(f"The volume of {{items}} is not known; the density is with {1e6 * _VOLUME:g} cm³/mol.", tuple(spreading))
        lacking = self._that_matter(m)
        if lacking:
            yield Remark(f"No parameters are known of {{items}}: {model.instead}.", tuple(lacking))
        there = dict(zip(self.species, m.tolist(), strict=True))
        unknown = salting_unknown(self.solutes, self.ions)
        kept = dict.fromkeys(gas for gas, ion in unknown if there[gas] > _MATTERS and there[ion] > _SALTS)
        if kept:
            yield Remark("How salts drive out {items} is not known for all of these ions, and left out there.", tuple(kept))
        if T == T_REFERENCE:
            return
        constant = [pair for pair in self._that_matter(m, slope=True) if pair not in lacking]
        if constant:
            yield Remark(
                "Parameters of {items} are those of 25 °C; the more there is of these, the less is known of them here.",
                tuple(constant),
            )
        held = dict(zip(self.elements, (m @ self._atoms(s.atoms for s in self.solutes)).tolist(), strict=True))
        unheard = [
            s.name
            for s in self.others
            if s.kind == SOLID and s.name not in solids and all(held[e] > _MATTERS for e in s.atoms if e not in ("H", "O"))
        ]
        if unheard:
            yield Remark("Whether {items} would precipitate is not known here, for want of heats of formation.", tuple(unheard))
        if T > _WARM:
            yield Remark(_HOT)

    def _no_answer(self, left: float, m: Array, vapor: VaporOver | None) -> str:
        """Why there is none, from where the search of one ended."""
        if vapor is not None and vapor.boils_water:
            return "has no answer: at this pressure the water would boil away. Take a higher one"
        if not left > _DRY:
            return "has no answer: its solids would take up the water. Take less"
        highest = ION_MODELS[self.ions].highest
        if self._strength(m) > highest:
            return f"has no answer: its ionic strength comes out above the {highest:g} mol/kg that {self.ions}'s equation is for. Take less"
        return "did not converge"

    def _strength(self, m: Array) -> float:
        return 0.5 * float(sum(amount * solute.charge**2 for amount, solute in zip(m.tolist(), self.solutes, strict=True)))

    def _that_matter(self, m: Array, *, slope: bool = False) -> list[str]:
        """Pairs of ions that there is enough of, and of which parameters are not known, or not how they change."""
        there = dict(zip(self.species, m.tolist(), strict=True))
        pairs = pairs_without(self.solutes, self.ions, self._own, slope)
        return [f"{c} with {a}" for c, a in pairs if min(there[c], there[a]) > _MATTERS]
