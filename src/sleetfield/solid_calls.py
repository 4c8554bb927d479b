"""Calls of a system that are about solids: solubilities, freezing, melting diagrams, hydrates."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from . import calculations
from .arguments import guarded
from .composition import Composition
from .mixture import Mixture
from .recipes.solid_compound import SolidCompound

if TYPE_CHECKING:
    from .results.freezing_map import FreezingMap
    from .results.hydrate_amount import HydrateAmounts
    from .results.inhibitor_dose import InhibitorDose
    from .results.melting_diagram import MeltingDiagram
    from .results.solid_point import SolidLine, SolidPoint
    from .results.solubility import Solubility


class SolidCalls(Mixture):
    """What `System` can do about solids."""

    @guarded
    def solubility(self, solid: str, solvent: Any, *, T: Any = "25 degC", P: Any = "1 atm", basis: str = "mole") -> Solubility:
        """How much of a solid a solvent holds: the liquids that are saturated with it.

        Below the eutectic, where the solvent freezes too, and where the saturated liquid would part or boil, a note says so; `freezing` is the temperature at which a liquid is
        saturated, whatever freezes first.

        Parameters
        ----------
        solid : str
            What dissolves. Its melting point and heat of fusion have to be known.
        solvent : str or mapping
            A component, or a mixture of several; arrays in it are mixtures side by side.
        T, P : optional
            K, Pa or text with units; arrays are points side by side.
        basis : {"mole", "mass"}
            What the solvent's fractions are.

        Examples
        --------
        >>> import sleetfield as sl
        >>> crystallizer = sl.System(["naphthalene", "benzene"], liquid="ideal")
        >>> found = crystallizer.solubility("naphthalene", "benzene", T=["10 degC", "25 degC"])
        >>> found.dissolved.round(3).tolist()
        [0.2, 0.301]

        """
        return calculations.solubility.solubility(self, solid, solvent, T, P, basis)

    @guarded
    def implied_by_solubility(
        self, parameter: str, *, solid: str, solvent: Any, x: Any, T: Any = "25 degC", P: Any = "1 atm", basis: str = "mole"
    ) -> float:
        """The value of a parameter, such as the heat of fusion, with which the model gives one measured solubility.

        Parameters
        ----------
        parameter : str
            By its name among ``parameters``: "fusion_H benzoic acid", "a12 benzoic acid / ethanol".
        solid, solvent, T, P, basis
            As of `solubility`.
        x
            What was measured: the mole fraction of the solid's component in the saturated liquid.

        Raises
        ------
        CalculationError
            If no value of it gives that.

        Examples
        --------
        >>> import sleetfield as sl
        >>> crystallizer = sl.System(["naphthalene", "benzene"], liquid="ideal")
        >>> round(crystallizer.implied_by_solubility("fusion_H naphthalene", solid="naphthalene", solvent="benzene", x=0.297))
        19221

        """
        return calculations.solubility.implied(self, parameter, solid, solvent, T, x, P, basis)

    @guarded
    def freezing(
        self, z: Composition, *, P: Any = None, T: Any = None, basis: str = "mole", brine: Any = None
    ) -> SolidPoint | SolidLine:
        """Where the first pure solid forms: the highest temperature at given pressure, or the lowest pressure at given temperature.

        The solids are those of the system (``solids=``), or of every component whose melting point and heat of fusion are known. Whether the feed is a gas, a liquid or both
        there makes no difference: ice and dry ice out of gas, wax and crystals out of liquids.

        Parameters
        ----------
        z : mapping or sequence
            Composition of the feed without any solid.
        P, T
            One of both, K, Pa, or text with units; arrays make a line.
        basis : {"mole", "mass"}
            What ``z`` is.
        brine : mapping, optional
            Salt water beside it, as much as there is water: one of sodium, potassium, calcium or magnesium chloride, or sodium sulfate, by mass or in mol/kg of water,
            such as ``{"sodium chloride": "3.5 %"}``.

        Returns
        -------
        SolidPoint, or SolidLine for arrays

        Raises
        ------
        CalculationError
            If none forms.

        Examples
        --------
        >>> import sleetfield as sl
        >>> off_gas = sl.System(["hydrogen", "carbon dioxide"], eos="PR", units="metric")
        >>> print(off_gas.freezing([0.5, 0.5], P="20 bar").in_short())
        Solid carbon dioxide forms below -56.449 °C at 20 bar, beside vapor and liquid.

        """
        return calculations.solid_points.freezing(self, z, T, P, basis, brine)

    @guarded
    def melting_diagram(
        self,
        first: str | None = None,
        second: str | None = None,
        *,
        P: Any = "1 atm",
        points: int = 101,
        compounds: Sequence[SolidCompound] = (),
    ) -> MeltingDiagram:
        """Where liquids of two components begin to freeze, with eutectics, and liquids that part while one of them freezes; print it, plot it.

        Parameters
        ----------
        first, second : str, optional
            Which components; compositions are those of the first. A system of two needs none named.
        P : optional
            Pa, or text with units.
        points : int
            How many there are, closer together at the ends.
        compounds : sequence of SolidCompound
            Solids of fixed composition of both, beside the pure ones: peritectics are theirs.

        Raises
        ------
        CalculationError
            If nothing freezes.

        Examples
        --------
        >>> import sleetfield as sl
        >>> diagram = sl.System(["naphthalene", "benzene"], liquid="ideal", units="metric").melting_diagram()
        >>> print(diagram.in_short())
        Eutectic at -3.5337 °C, 13.4 mol % naphthalene: solid benzene and solid naphthalene freeze together.

        """
        return calculations.melting_diagram.melting_diagram(
            self, [n for n in (first, second) if n is not None], P, points, compounds
        )

    @guarded
    def freezing_map(self, *, P: Any = "1 atm") -> FreezingMap:
        """How three components freeze: the temperature of the first solid over the triangle, valleys on which two freeze together, and the ternary eutectic.

        Raises
        ------
        InputError
            If there are not three components.
        CalculationError
            If nothing freezes.

        Examples
        --------
        >>> import sleetfield as sl
        >>> xylenes = sl.System(["o-xylene", "m-xylene", "p-xylene"], liquid="ideal", units="metric")
        >>> print(xylenes.freezing_map().in_short())
        All three freeze together at -63.552 °C, from 0.2987 o-xylene + 0.6296 m-xylene + 0.0718 p-xylene.

        """
        return calculations.freezing_map.freezing_map(self, P)

    @guarded
    def hydrate(
        self, z: Composition, *, P: Any = None, T: Any = None, basis: str = "mole", brine: Any = None
    ) -> SolidPoint | SolidLine:
        """Where the first gas hydrate forms: the highest temperature at given pressure, or the lowest pressure at given temperature.

        The water is what the feed has: as much of it as there is gas stands for free water, a trace for the stated water content of a gas. Inhibitors are components like all
        others, and act by what the model makes of water's activity.

        Parameters
        ----------
        z : mapping or sequence
            Composition of the feed, water in it.
        P, T, basis, brine
            As of `freezing`.

        Returns
        -------
        SolidPoint, or SolidLine for arrays

        Raises
        ------
        InputError
            If there is no water among the components, or no guest.
        CalculationError
            If none forms.

        Examples
        --------
        >>> import sleetfield as sl
        >>> wet_gas = sl.System(["methane", "propane", "water"], eos="CPA", units="metric")
        >>> print(wet_gas.hydrate([0.85, 0.05, 0.10], P="40 bar").in_short())
        Hydrate II forms below 15.038 °C at 40 bar, beside vapor and liquid; 6.51 molecules of water for each guest.

        """
        return calculations.solid_points.hydrate(self, z, T, P, basis, brine)

    @guarded
    def hydrate_amount(self, z: Composition, *, T: Any, P: Any, basis: str = "mole") -> HydrateAmounts:
        """How much of a feed becomes gas hydrate at a state, what it takes along, and what is left beside it.

        Parameters
        ----------
        z : mapping or sequence
            Composition of the feed, water in it.
        T, P
            K, Pa or text with units; arrays are states side by side.
        basis : {"mole", "mass"}
            What ``z`` is.

        Examples
        --------
        >>> import sleetfield as sl
        >>> wet_gas = sl.System(["methane", "propane", "water"], eos="CPA", units="metric")
        >>> print(wet_gas.hydrate_amount([0.85, 0.05, 0.10], T="5 degC", P="40 bar").in_short())
        Hydrate II at 5 °C and 40 bar takes 12.6 % of the feed's mass and 99.8 % of its water, beside vapor.

        """
        return calculations.hydrate_amount.hydrate_amount(self, z, T, P, basis)

    @guarded
    def inhibitor_dose(self, inhibitor: str, z: Composition, *, T: Any, P: Any, basis: str = "mole") -> InhibitorDose:
        """How much of an inhibitor has to be added to a feed so that no gas hydrate forms at a state, and how much of it is lost to the gas.

        Parameters
        ----------
        inhibitor : str
            A component, such as methanol, that is no guest of hydrates; the feed may have some of it already.
        z, T, P, basis
            As of `hydrate_amount`.

        Examples
        --------
        >>> import sleetfield as sl
        >>> wet_gas = sl.System(["methane", "propane", "methanol", "water"], eos="CPA", units="metric")
        >>> dose = wet_gas.inhibitor_dose("methanol", {"methane": 0.9, "propane": 0.05, "water": 0.05}, T="2 degC", P="45 bar")
        >>> print(dose.in_short())
        0.435 kg of methanol for each kg of water keep hydrates away at 2 °C and 45 bar; the water then has 29.8 mass % of it.

        """
        return calculations.inhibitor_dose.inhibitor_dose(self, inhibitor, z, T, P, basis)
