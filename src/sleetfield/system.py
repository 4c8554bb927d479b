"""A mixture and its thermodynamic model: where every calculation starts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import TYPE_CHECKING, Any, Self

import numpy as np
from numpy.typing import NDArray

from . import calculations, system_files
from .arguments import guarded
from .components import Component
from .components.component_list import ComponentList
from .composition import Composition, names_unmixed
from .errors import InputError
from .mixture import Mixture
from .recipes import recipe_of, settled
from .results.interactions import Interactions
from .results.provenance import Provenance
from .results.state import DEFAULT_PROPERTIES, State, StateBatch
from .solid_calls import SolidCalls
from .specified import value_of, values_of

if TYPE_CHECKING:
    from concurrent.futures import Executor

    import pandas as pd

    from .results.azeotropes import AzeotropeList
    from .results.binary_diagram import BinaryDiagram
    from .results.chart import Chart
    from .results.check import ModelCheck
    from .results.critical import CriticalPoint, StabilityTest
    from .results.dilution import Dilution
    from .results.envelope import Envelope
    from .results.excess import Excess
    from .results.heating_value import HeatingValue
    from .results.liquid_split import LiquidSplit
    from .results.parameters import ParameterTable
    from .results.saturation import Saturation, SaturationBatch
    from .results.saturation_curve import SaturationCurve
    from .results.ternary_diagram import BoilingMap, LiquidMap
    from .results.transport import TransportTable

Array = NDArray[np.float64]

TABLE_PROPERTIES = (*DEFAULT_PROPERTIES, "Cp", "Z", "composition")


class System(SolidCalls):
    """Components with a model: an equation of state, or a liquid model beside a vapor model.

    Parameters
    ----------
    components : sequence
        Names, CAS numbers, formulas where unambiguous, or `Component` objects.
    eos : str or EquationOfState, optional
        Equation of state by name, such as "PR", or a recipe (docs/own_models.md); a name that there is none of is answered with those that there are.
    liquid : str or LiquidModel, optional
        Instead of ``eos``: the liquid's activity coefficients, on the databank's vapor pressures.
    vapor : str or VaporModel or EquationOfState, optional
        The vapor beside ``liquid``: an ideal gas, the virial equation, or an equation of state, with which the liquid has its saturation
        fugacities.
    kij : mapping of pairs to float, or {"published", "predicted", "estimated", "zero"}, optional
        Binary interaction parameters of an equation of state; several numbers are value, slope and bend in 298.15 K/T - 1 (`OfTemperature`). A pair not given is
        taken from the bank of published ones; where that has none it is zero, and a note says so, or with "predicted" from groups where these are known, or with "estimated" from critical volumes.
        ``interactions`` shows them.
    lij : mapping of pairs to float, optional
        Parameters of the covolume's mixing rule; zero by default.
    alpha : str, optional
        Temperature function of an equation of state; its own by default.
    mixing, excess : str, optional
        Of a cubic equation of state: a mixing rule by an excess Gibbs energy in place of kij ("HV", "MHV1", "MHV2", with SRK "PSRK"), and the liquid model whose it is,
        such as "UNIFAC", or with PSRK "UNIFAC with gases", or "NRTL" with its ``parameters``.
    alpha_constants : mapping of names to three numbers, optional
        c1, c2, c3 or L, M, N; where they are not given, they are fitted to the databank's vapor pressure.
    translation : {"density", "Peneloux"} or mapping of names to m3/mol, optional
        Volume translation of an equation of state: to the databank's liquid density at 298 K (0.7 Tc for gases), or from the Rackett factor; equilibria
        stay the same.
    parameters : mapping of pairs to PairParameters, optional
        Binary parameters of the activity model, in the order of the pair's names; a pair not given is taken from the bank, and where that has
        none it is ideal, with a note, unless ``missing`` is named. ``parameters`` of the system shows them. UNIFAC takes those of two main groups, in K:
        ``{("OH", "H2O"): {"a12": 353.5, "a21": -229.1}}``.
    missing : {"UNIFAC", "modified UNIFAC", "liquid-liquid UNIFAC"}, optional
        What parameters of pairs that nothing is known of are estimated by; every result says so.
    groups : mapping of names to text, optional
        Groups of components that the databank does not know them of, for UNIFAC: ``{"my solvent": "CH3COO + 4 CH2 + CH3"}``.
    henry : mapping of (gas, solvent) to pressure, numbers or terms, optional
        Henry's constants of dissolved gases: a pressure; or a pressure at 298.15 K and slopes of its logarithm; or terms of ln(H/Pa), such as
        ``{"1": 20.0, "1/T": -2400.0}``. In a solvent without one, a gas is taken to dissolve as in the others, and a note says so.
    virial : mapping of pairs to volume, numbers or terms, optional
        Second virial coefficients that are known, beside ``vapor="virial"``, of pairs and of components with themselves: m3/mol, or text such as
        ``"-1200 cm3/mol"``; several numbers are value and slopes at 298.15 K. The others are correlated.
    q_residual : mapping of names to float, optional
        UNIQUAC's q' where it is not q (water, alcohols).
    poynting : bool
        Whether the pressure's effect on the liquid's fugacities is taken into account.
    solids : sequence of names, or "all", optional
        Components that may be there as pure solids too; none by default. Their melting points and heats of fusion are among the ``parameters``.
    transport : mapping of str to str, optional
        Methods of transport properties in place of the usual ones: ``{"gas viscosity": "Lucas"}`` (Chung, Lucas, Wilke, Lohrenz, Pedersen), "gas conductivity" (Chung, Mason-Saxena),
        "liquid viscosity" (Grunberg-Nissan, Lohrenz, Pedersen), "liquid conductivity" (Li, Filippov), "surface tension" (parachors, Winterfeld).
    units : {"SI", "metric", "US"}
        The set of units that results are shown in. Numbers passed in are SI all the same.

    Raises
    ------
    UnknownComponentError
        If a component is not in the databank, or lacks a constant that the model needs.
    InputError
        If a component stands twice, or no model or two are named, or a pair of ``kij`` is not of the system.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["nitrogen", "methane", "propane", "n-heptane"], eos="PR", kij={("nitrogen", "methane"): 0.031})
    >>> state = gas.flash({"methane": 0.70, "propane": 0.20, "n-heptane": "rest"}, T="-20 degC", P="20 bar")
    >>> round(state.vapor_fraction, 4)
    0.7282

    """

    @guarded
    def __init__(
        self,
        components: Sequence[str | Component],
        *,
        eos: Any = None,
        liquid: Any = None,
        vapor: Any = None,
        kij: Mapping[tuple[str, str], Any] | str | None = None,
        lij: Mapping[tuple[str, str], float] | None = None,
        alpha: str | None = None,
        mixing: str | None = None,
        excess: str | None = None,
        alpha_constants: Mapping[str, Sequence[float]] | None = None,
        translation: Mapping[str, Any] | str | None = None,
        parameters: Mapping[tuple[str, str], Any] | None = None,
        missing: str | None = None,
        groups: Mapping[str, Any] | None = None,
        henry: Mapping[tuple[str, str], Any] | None = None,
        virial: Mapping[tuple[str, str], Any] | None = None,
        q_residual: Mapping[str, float] | None = None,
        poynting: bool = False,
        solids: Sequence[str] | str | None = None,
        transport: Mapping[str, str] | None = None,
        units: str = "SI",
    ) -> None:
        who = ComponentList(names_unmixed(components))
        recipe = recipe_of(eos=eos, liquid=liquid, vapor=vapor, poynting=poynting, alpha=alpha, mixing=mixing, excess=excess)
        given: dict[str, Any] = {"kij": kij, "lij": lij, "alpha_constants": alpha_constants, "translation": translation}
        given |= {
            "missing": missing,
            "groups": groups,
            "parameters": parameters,
            "henry": henry,
            "virial": virial,
            "q_residual": q_residual,
            "solids": solids,
        }
        super().__init__(who, settled(recipe, who, given), units, transport or {})

    # ---- what it is ----

    @cached_property
    def interactions(self) -> Interactions:
        """The binary interaction parameters in use, and where each came from: print it, plot it.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["nitrogen", "methane", "n-octane"], eos="PR", kij={("methane", "n-octane"): 0.05})
        >>> gas.interactions.kij.round(4).tolist()
        [[0.0, 0.0311, 0.2168], [0.0311, 0.0, 0.05], [0.2168, 0.05, 0.0]]

        """
        return Interactions.of(self)

    @cached_property
    def parameters(self) -> ParameterTable:
        """Every adjustable number of the model by name, where each came from, and what they come to.

        Examples
        --------
        >>> import sleetfield as sl
        >>> still = sl.System(["ethanol", "water"], liquid="van Laar")
        >>> still.parameters.names, still.parameters["A ethanol / water"]
        (('A ethanol / water', 'A water / ethanol'), 1.6798)
        >>> [round(float(g), 2) for g in still.parameters.gamma_infinity("ethanol", "water")]
        [5.36, 2.52]

        """
        return calculations.parameters.parameters(self)

    def provenance(self) -> Provenance:
        """Every constant and parameter that it is calculated with: value, unit, source, layer, range; print it, save it, hold it against another's.

        Examples
        --------
        >>> import sleetfield as sl
        >>> behind = sl.System(["methane", "propane"], eos="PR").provenance()
        >>> behind.entries[0].words, behind.entries[0].told("metric")
        ('critical temperature', ('-82.59', 'degC'))

        """
        return Provenance.of(self)

    @guarded
    def with_parameters(self, values: Mapping[str, float]) -> Self:
        """The same with other numbers, by the names that ``parameters`` has; a name alone is the value at 298.15 K, with " slope" or " bend" behind it one of these.

        Raises
        ------
        UnknownComponentError
            If there is no parameter of that name.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["carbon dioxide", "n-decane"], eos="PR")
        >>> other = gas.with_parameters({"kij carbon dioxide / n-decane": 0.11})
        >>> other.parameters["kij carbon dioxide / n-decane"]
        0.11

        """
        return self.like(self.model.with_parameters(values))

    @guarded
    def taking(self, other: Mixture) -> Self:
        """The same with the parameters that another system has given by hand, or fitted, of the pairs that both have: of a fit of two of its components, say.

        Raises
        ------
        InputError
            If there is none, or the other's model has other parameters.

        Examples
        --------
        >>> import sleetfield as sl
        >>> pair = sl.System(["acetone", "water"], liquid="NRTL").with_parameters({"tau acetone / water": 0.4})
        >>> sl.System(["water", "acetone", "ethanol"], liquid="NRTL").taking(pair).parameters["tau acetone / water"]
        0.4

        """
        return self.like(self.model.taking(other.model))

    @guarded
    def with_model(self, **options: Any) -> Self:
        """The same components and units with another model; the options are those of `System`.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["ethanol", "water"], liquid="NRTL").with_model(liquid="UNIQUAC", vapor="virial").model_title
        'UNIQUAC liquid, virial vapor'

        """
        return type(self)(self.components, **{"transport": self.transport_methods, **options}, units=self.units)

    @guarded
    def with_units(self, units: str) -> Self:
        """The same, with results shown in another set of units: "SI", "metric" or "US"."""
        return type(self).of(self.who, self.model, units, self.transport_methods)

    @guarded
    def part(self, components: Sequence[str]) -> Self:
        """The system of some of the components, in the order named, with the same model and parameters.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["acetone", "ethanol", "water"], liquid="NRTL").part(["water", "acetone"]).names
        ('water', 'acetone')

        """
        return super().part(components)

    def to_dict(self) -> dict[str, Any]:
        """Everything that makes it, as plain values: components, model, every parameter; `from_dict` makes the same system of it, to the last digit."""
        return system_files.plain(self)

    @classmethod
    @guarded
    def from_dict(cls, plain: Mapping[str, Any]) -> Self:
        """The system that `to_dict` gave.

        Raises
        ------
        InputError
            If something is missing, strange or impossible.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="SRK")
        >>> sl.System.from_dict(gas.to_dict()).flash([0.5, 0.5], T=250.0, P=2e6).H == gas.flash([0.5, 0.5], T=250.0, P=2e6).H
        True

        """
        return cls.of(*system_files.parts(plain))

    # ---- calculations ----

    @guarded
    def flash(
        self,
        z: Composition,
        *,
        T: Any = None,
        P: Any = None,
        H: Any = None,
        S: Any = None,
        U: Any = None,
        V: Any = None,
        density: Any = None,
        vapor_fraction: Any = None,
        vapor_mass_fraction: Any = None,
        flow: Any = None,
        phases: str | None = None,
        basis: str = "mole",
        executor: Executor | None = None,
        **unknown: Any,
    ) -> State | StateBatch:
        """Phases at equilibrium, one to four, at any two given quantities, with stability analysis.

        Parameters
        ----------
        z
            Feed: a mapping of names to fractions (one may be ``"rest"``) or to flows with their units (``"70 kmol/h"``), or fractions in the system's
            order, ``(..., C)``.
        T, P
            Temperature and pressure: SI numbers, arrays of them, or text with units.
        H, S, U, V
            Molar enthalpy, J/mol; entropy, J/(mol K); internal energy, J/mol; volume, m3/mol, of all phases together.
        density
            kg/m3, of all phases together.
        vapor_fraction
            By mole, 0 to 1; 0 is the bubble point, 1 the dew point.
        vapor_mass_fraction
            The same by mass.
        flow
            Feed flow (mol/s, or text such as "120 kmol/h" or "5 t/h"), if phase flows are wanted.
        phases : {"V", "L", "LL", "VL"}, optional
            Restrict the answer to one vapor, one liquid, liquids alone, or at most one vapor and one liquid. A note says where that is not the stable
            answer.
        basis : {"mole", "mass"}
            What the fractions are.
        executor : concurrent.futures.Executor, optional
            Where a large batch is worked on, in blocks: a ``ProcessPoolExecutor``, say, or a cluster's, such as dask's
            ``Client(...).get_executor()``; one block after another by default.
        **unknown
            None: a quantity by another name is answered with the one that it has here.

        Returns
        -------
        State or StateBatch
            A batch where any of T, P, z is an array.

        Raises
        ------
        InputError
            If a specification is missing or not positive, or the fractions don't sum to 1.
        CalculationError
            If a single state does not converge.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="SRK")
        >>> batch = gas.flash([0.6, 0.4], T=[230.0, 250.0], P="20 bar")
        >>> batch.n_phases.tolist()
        [2, 2]

        """
        specified = {"T": T, "P": P, "H": H, "S": S, "U": U, "V": V, "density": density}
        specified |= {"vapor_fraction": vapor_fraction, "vapor_mass_fraction": vapor_mass_fraction, **unknown}
        found: State | StateBatch = calculations.flashing.flash(
            self, z, flow=flow, phases=phases, basis=basis, executor=executor, **specified
        )
        return found

    @guarded
    def bubble(self, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Saturation | SaturationBatch:
        """Bubble point of a liquid at given temperature or pressure; arrays give a batch.

        Returns
        -------
        Saturation or SaturationBatch
            With ``.T``, ``.P``, ``.y`` (the vapor that forms), and ``.all``: every solution.

        Raises
        ------
        CalculationError
            If there is no bubble point; the message says what range it has.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["propane", "n-butane"], eos="PR")
        >>> round(gas.bubble([0.5, 0.5], T=300.0).P / 1e5, 2)
        6.11

        """
        found: Saturation | SaturationBatch = calculations.saturation.bubble(self, z, T=T, P=P, basis=basis)
        return found

    @guarded
    def dew(self, z: Composition, *, T: Any = None, P: Any = None, basis: str = "mole") -> Saturation | SaturationBatch:
        """Dew point of a vapor at given temperature (the lower pressure, where there are two) or pressure (the higher temperature).

        Returns and raises as `bubble` does.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["propane", "n-butane"], eos="PR")
        >>> round(gas.dew([0.5, 0.5], T=300.0).P / 1e5, 2)
        4.17

        """
        found: Saturation | SaturationBatch = calculations.saturation.dew(self, z, T=T, P=P, basis=basis)
        return found

    @guarded
    def transport(self, z: Composition, *, T: Any, P: Any, basis: str = "mole") -> TransportTable:
        """Viscosity, thermal conductivity, surface tension and what goes with them, of each phase of a flash at T and P; any state has them as ``state.transport``.

        Examples
        --------
        >>> import sleetfield as sl
        >>> line = sl.System(["methane", "propane"], eos="PR", units="metric")
        >>> float(line.transport([0.9, 0.1], T="20 degC", P="40 bar").values["viscosity"][0].round(7))
        1.12e-05

        """
        state = calculations.flashing.flash(self, z, T=T, P=P, basis=basis)
        if not isinstance(state, State):
            raise InputError("transport is of one state; over lists, table(..., properties=['viscosity', ...]) has it.")
        return state.transport

    @guarded
    def heating_value(self, z: Composition, *, T: Any = "15 degC", P: Any = "1 atm", basis: str = "mole") -> HeatingValue:
        """Gross and net heating value of a fuel, burnt at 25 °C, by mole, mass and volume at T and P, and its Wobbe index.

        Raises
        ------
        UnknownComponentError
            If there is no enthalpy of formation of something in it.
        InputError
            If something in it has other elements than carbon, hydrogen, sulfur, oxygen and nitrogen.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "nitrogen"], eos="PR", units="metric")
        >>> print(gas.heating_value([0.95, 0.05]).in_short())
        50.844 MJ/kg gross, 45.82 MJ/kg net; Wobbe index 47.274 MJ/m³; 0.5757 times as dense as air.

        """
        return calculations.heating_value.heating_value(self, z, T, P, basis)

    @guarded
    def excess(self, x: Composition, *, T: Any, basis: str = "mole") -> Excess:
        """Activity coefficients and excess properties of liquids; arrays give many rows.

        Examples
        --------
        >>> import sleetfield as sl
        >>> still = sl.System(["ethanol", "water"], liquid="Wilson")
        >>> still.excess([0.3, 0.7], T=350.0).gamma.round(3).tolist()
        [[1.707, 1.2]]

        """
        values, batch, _ = self.conditions(x, basis, T=T)
        return calculations.excess.excess(self, values["T"], batch)

    @guarded
    def diagram(
        self,
        kind: str,
        first: str | None = None,
        second: str | None = None,
        *,
        T: Any = None,
        P: Any = None,
        points: int = 101,
        data: Any = None,
    ) -> BinaryDiagram:
        """A diagram of two components, with liquid splits, three-phase lines and azeotropes in it; print it, plot it.

        Parameters
        ----------
        kind : {"Txy", "Pxy", "xy", "pressures", "gamma", "Gmix", "excess"}
            Boiling and dew temperatures or pressures; vapor against liquid; total and partial pressures; activity coefficients; Gibbs energy of mixing
            with its common tangent; excess properties.
        first, second : str, optional
            Which components; compositions are those of the first. A system of two needs none named.
        T, P
            One of the two: P for "Txy"; T for "Pxy", "pressures", "Gmix" and "excess"; either for the others.
        points : int
            How many there are, closer together where the curves bend.
        data : path or mapping, optional
            Measured points to draw over: x (first component, by mole) beside y, T or P.

        Examples
        --------
        >>> import sleetfield as sl
        >>> still = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
        >>> txy = still.diagram("Txy", "1-butanol", "water", P="1 atm")
        >>> [round(x, 3) for x in txy.three_phase[0].x], round(txy.azeotropes[0].T, 1)
        ([0.056, 0.44], 367.1)

        """
        return calculations.binary_diagram.diagram(self, kind, [n for n in (first, second) if n is not None], T, P, points, data)

    @guarded
    def liquid_split(self, z: Composition, *, T: Any, P: Any = "1 atm", basis: str = "mole") -> LiquidSplit:
        """The liquids that a feed forms, whatever vapor there might be: their compositions, ratio, distribution coefficients, and the way to them.

        Examples
        --------
        >>> import sleetfield as sl
        >>> decanter = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
        >>> split = decanter.liquid_split([0.02, 0.24, 0.74], T="30 degC")
        >>> round(split.distribution["acetone"], 1), bool(split.history["residual"].iloc[-1] < 1e-10)
        (8.8, True)

        """
        return calculations.liquid_split.liquid_split(self, z, T, P, basis)

    @guarded
    def dilution(self, solvent: Any, *, T: Any = "25 degC", against: Any = None, mutual: bool = False) -> Dilution:
        """Activity coefficients of solutes at infinite dilution in a solvent, and how they share out between two: every component that is in none of these is a solute.

        Parameters
        ----------
        solvent, against : str or mapping of names to fractions
            A component, or a mixture of some.
        T
            One temperature or several.
        mutual : bool
            Whether both solvents are saturated with each other.

        Examples
        --------
        >>> import sleetfield as sl
        >>> extraction = sl.System(["acetone", "ethanol", "water", "n-hexane"], liquid="UNIFAC")
        >>> found = extraction.dilution("water", against="n-hexane")
        >>> found.solutes, found.gamma.round(1).tolist(), found.log_partition_molar.round(2).tolist()
        (('acetone', 'ethanol'), [[11.5, 7.6]], [[-0.6, -1.42]])

        """
        return calculations.dilution.dilution(self, solvent, np.atleast_1d(values_of(T, "T")).ravel(), against, mutual)

    @guarded
    def liquid_map(self, *, T: Any, P: Any = "1 atm") -> LiquidMap:
        """The liquids that three components form: binodal curve, tie lines, plait points, three-liquid triangles; print it, plot it.

        Examples
        --------
        >>> import sleetfield as sl
        >>> decanter = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
        >>> len(decanter.liquid_map(T="25 degC").plait_points)
        1

        """
        return calculations.ternary_diagram.liquids(self, value_of(T, "T"), value_of(P, "P"))

    @guarded
    def boiling_map(self, *, P: Any = "1 atm") -> BoilingMap:
        """How three components boil: residue curves with their nodes and saddles, boundaries, lines of equal bubble temperature.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["acetone", "chloroform", "methanol"], liquid="Wilson").boiling_map().pure
        ('saddle', 'saddle', 'stable node')

        """
        return calculations.ternary_diagram.boiling(self, value_of(P, "P"))

    @guarded
    def check(self, *, T: Any = "25 degC", P: Any = "1 atm") -> ModelCheck:
        """What to look at before trusting the model: liquid splits, γ at infinite dilution, ranges and gaps of the parameters, azeotropes.

        Pairs are looked at at ``T``, azeotropes at ``P``; measured splits and azeotropes that are known stand beside.

        Examples
        --------
        >>> import sleetfield as sl
        >>> [f.about for f in sl.System(["1-butanol", "water"], liquid="Wilson").check().doubts]
        ['range', 'liquid split', 'azeotrope']

        """
        return calculations.checking.check(self, value_of(T, "T"), value_of(P, "P"))

    @guarded
    def azeotropes(self, *, T: Any = None, P: Any = None) -> AzeotropeList:
        """All azeotropes at a temperature or pressure, of any number of components, with one liquid or two; arrays follow them along.

        Examples
        --------
        >>> import sleetfield as sl
        >>> still = sl.System(["acetone", "chloroform", "methanol"], liquid="Wilson")
        >>> found = still.azeotropes(P="1 atm")
        >>> [(len(a.components), round(a.T, 1), a.boils) for a in found]
        [(2, 327.0, 'minimum boiling'), (2, 328.6, 'minimum boiling'), (3, 330.5, 'saddle'), (2, 337.6, 'maximum boiling')]

        """
        return calculations.azeotropes.along(self, T, P)

    @guarded
    def saturation_curve(self, *, T: Any = None, data: Any = None) -> SaturationCurve:
        """Vapor pressure, densities, heat of vaporization and more of the system's only component along saturation.

        Parameters
        ----------
        T : optional
            Temperatures, K or text with units; by default from half the critical temperature up to it.
        data : optional
            Measured values to stand beside: a .csv or .xlsx file with the columns ``T`` and ``P`` or ``density`` (of the liquid), each with its unit;
            or a mapping such as ``{"P": (T, P)}`` of SI numbers.

        Raises
        ------
        InputError
            If the system has more than one component, or the data can't be read.

        Examples
        --------
        >>> import sleetfield as sl
        >>> curve = sl.System(["propane"], eos="PR").saturation_curve(T=[231.1, 300.0])
        >>> (curve.P / 1e5).round(2).tolist()
        [1.02, 9.98]
        """
        return calculations.pure.saturation_curve(self, T, data)

    @guarded
    def stability(self, z: Composition, *, T: Any, P: Any, basis: str = "mole") -> StabilityTest:
        """Whether a mixture stays one phase, by the tangent-plane distance.

        Examples
        --------
        >>> import sleetfield as sl
        >>> sl.System(["methane", "propane"], eos="PR").stability([0.5, 0.5], T=250.0, P="20 bar").stable
        False

        """
        return calculations.stability.stability_test(self, z, T, P, basis)

    @guarded
    def critical(self, z: Composition, *, basis: str = "mole") -> CriticalPoint:
        """The critical point, directly; all of them in ``.all``.

        Raises
        ------
        CalculationError
            If the model has none, or none is found.

        Examples
        --------
        >>> import sleetfield as sl
        >>> round(sl.System(["methane"], eos="PR").critical([1.0]).T, 2)
        190.56

        """
        return calculations.critical.critical(self, z, basis)

    @guarded
    def envelope(
        self,
        z: Composition,
        *,
        quality: Sequence[float] = (),
        quality_basis: str = "mole",
        P_min: Any = "1 bar",
        P_max: Any = None,
        T_min: Any = None,
        T_max: Any = None,
        basis: str = "mole",
    ) -> Envelope:
        """The phase envelope: bubble and dew line, critical point, cricondentherm, cricondenbar, and lines of constant quality.

        Parameters
        ----------
        z
            Mixture, as for `flash`.
        quality : sequence of float
            Fractions of vapor, between 0 and 1, to draw lines for.
        quality_basis : {"mole", "mass"}
            What those fractions are.
        P_min, P_max
            Pressures to start from and to stop an open envelope at.
        T_min, T_max
            Temperatures that the lines stop at.
        basis : {"mole", "mass"}
            What the composition's fractions are.

        Raises
        ------
        CalculationError
            If no dew or bubble point was found to start from.

        Examples
        --------
        >>> import sleetfield as sl
        >>> env = sl.System(["methane", "propane"], eos="PR").envelope([0.7, 0.3])
        >>> env.closed, round(env.cricondentherm.T, 1)
        (True, 302.0)

        """
        return calculations.envelope.asked(self, z, quality, quality_basis, (P_min, P_max), (T_min, T_max), basis)

    @guarded
    def chart(
        self,
        kind: str,
        z: Composition | None = None,
        *,
        T: Any = None,
        P: Any = None,
        lines: Mapping[str, Any] | None = None,
        per: str = "mass",
        zero: Any = None,
        basis: str = "mole",
    ) -> Chart:
        """A chart of a fluid for the wall: P over H, T over S or H over S, with lines of constant temperature, pressure, entropy, enthalpy, density and share of vapor.

        Parameters
        ----------
        kind : {"PH", "TS", "HS"}
            Pressure over enthalpy, temperature over entropy, or enthalpy over entropy.
        z : optional
            Mixture, as for `flash`; a system of one component needs none.
        T, P : sequence of two or str, optional
            The range of temperature, K, and pressure, Pa, or text with units, ``"1 bar, 50 bar"``; by default from the cold (one component: from its melting point or 0.42 Tc) to 1.5 Tc, or
            1.35 times the cricondentherm, and from low pressure to 5 Pc, or 2.5 times the cricondenbar.
        lines : mapping, optional
            Values of lines in place of round ones, by "T", "P", "S", "H", "density", "vapor_fraction": ``{"T": "0, 20, 40 degC", "density": []}``.
        per : {"mass", "mole"}
            What enthalpies and entropies are drawn per.
        zero : State or mapping, optional
            Where they are zero: a state, or two quantities of one, such as ``{"T": "0.01 degC", "vapor_fraction": 0}`` for steam tables; an ideal gas at 25 °C and
            1 bar by default.
        basis : {"mole", "mass"}
            What the composition's fractions are.

        Raises
        ------
        InputError
            If there is no such chart, or no heat capacities, or a value that cannot be.

        Examples
        --------
        >>> import sleetfield as sl
        >>> chart = sl.System(["propane"], eos="PR", units="metric").chart("PH", lines={"T": ["0 degC", "40 degC"], "S": []})
        >>> len([line for line in chart.lines if line.of == "T"]), chart.marks[0].name
        (2, 'critical point')

        """
        return calculations.chart.chart(self, kind, z, T, P, lines, per, zero, basis)

    @guarded
    def table(
        self,
        z: Composition,
        *,
        T: Any = None,
        P: Any = None,
        H: Any = None,
        S: Any = None,
        U: Any = None,
        V: Any = None,
        density: Any = None,
        vapor_fraction: Any = None,
        vapor_mass_fraction: Any = None,
        properties: Sequence[str] = TABLE_PROPERTIES,
        path: bool = False,
        phases: str | None = None,
        dead_state: tuple[Any, Any] = ("25 degC", "1 atm"),
        basis: str = "mole",
        units: str | None = None,
        executor: Executor | None = None,
        progress: calculations.tables.Progress | None = None,
    ) -> pd.DataFrame:
        """A property table over every combination of two quantities, or along a path, with units in the headings.

        Parameters
        ----------
        z
            Mixture, as for `flash`; or several by name, ``{"lean": {...}, "rich": {...}}``, which get a column ``feed``.
        T, P, H, S, U, V, density, vapor_fraction, vapor_mass_fraction
            Two of them: values to tabulate at, single ones or sequences of SI numbers or of text with units. One enthalpy and many pressures make
            an isenthalp.
        properties : sequence of str
            Any of those that `sleetfield.results.state_properties` lists.
        path : bool
            Whether both sequences run together, instead of making a grid.
        phases : {"V", "L", "LL", "VL"}, optional
            Restrict the phases, as for `flash`.
        dead_state : tuple
            Temperature and pressure that ``"exergy"`` counts from.
        basis : {"mole", "mass"}
            What the fractions are.
        units : {"SI", "metric", "US"}, optional
            The system's own by default.
        executor : concurrent.futures.Executor, optional
            As for `flash`.
        progress : callable, optional
            Called with the number of states done and of all, now and then.

        Returns
        -------
        pandas.DataFrame
            One row for each state; of both quantities the one named later in the list above runs fastest. ``frame.attrs["notes"]`` holds the notes.

        Examples
        --------
        >>> import sleetfield as sl
        >>> gas = sl.System(["methane", "propane"], eos="PR")
        >>> gas.table([0.7, 0.3], T=[250.0, 300.0], P=[1e5, 20e5], properties=["vapor_fraction", "H"]).shape
        (4, 6)

        """
        specified = {"T": T, "P": P, "H": H, "S": S, "U": U, "V": V, "density": density}
        specified |= {"vapor_fraction": vapor_fraction, "vapor_mass_fraction": vapor_mass_fraction}
        options: dict[str, Any] = {
            "path": path,
            "dead_state": dead_state,
            "basis": basis,
            "units": self.units if units is None else units,
        }
        options |= {"phases": phases, "executor": executor, "progress": progress}
        if isinstance(z, Mapping) and calculations.tables.is_several(z):
            return calculations.tables.of_several(
                self, lambda one: calculations.tables.table(self, one, specified, properties, **options), z
            )
        return calculations.tables.table(self, z, specified, properties, **options)
