"""What results ask for only now and then (`results.later.Later`)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..errors import SleetfieldError
from ..mixture import Mixture

if TYPE_CHECKING:
    from ..data_sets import DataSet
    from ..results.heating_value import HeatingValue
    from ..results.phase import Phase
    from ..results.regression import Regression
    from ..results.saturation import Saturation
    from ..results.state import State, StateBatch
    from ..results.transport import Transport
    from .fitting.curves import Curve

Array = NDArray[np.float64]

_BURNS = 0.01
"""Of the gross heating value, that there is at least of a net one where something burns."""
_ASIDE = 1e-6
"""How far above a bubble point its liquids are looked at, as a share of the pressure."""


@dataclass(frozen=True)
class Answers:
    """Each answer is one call; the calculations are imported then, since they make the results that hold this."""

    def flash(self, system: Mixture, z: Any, **given: Any) -> Any:
        """States of a mixture at two given quantities."""
        from .flashing import flash

        return flash(system, z, **given)

    def where_single_phase(self, state: State) -> str:
        """In words: on which side of the envelope a single-phase state lies."""
        from .saturation import where_single_phase

        return where_single_phase(state.system, state)

    def other_states(self, state: State) -> tuple[str, ...]:
        """In words: which other states have the quantities that a state was found by, where more than one can."""
        from .specifications import others

        return others(state.system, state.given, state.batch.z, state.batch.T, state.batch.P)

    def transport(self, batch: StateBatch) -> Transport:
        """Viscosity, thermal conductivity and surface tension of every phase of every state."""
        from .transport import transport

        return transport(batch)

    def diffusion(self, batch: StateBatch) -> Array:
        """Diffusion coefficients of every component in every phase of every state."""
        from .diffusion import diffusion

        return diffusion(batch)

    def boundaries(self, batch: StateBatch) -> dict[str, Array]:
        """Temperatures of bubble and dew points at the states' pressures."""
        from .saturation import saturate

        return {kind: np.asarray(saturate(batch.system, kind, "P", batch.P, batch.z).T) for kind in ("bubble", "dew")}

    def fuel(self, state: State) -> HeatingValue | None:
        """Heating values of a state's mixture; None where it can't be burnt, or they are not known."""
        from .heating_value import heating_value

        try:
            found = heating_value(state.system, state.z, "15 degC", "1 atm", "mole")
        except SleetfieldError:
            return None
        return found if found.molar[1] > _BURNS * found.molar[0] else None

    def solutions(self, system: Mixture, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
        """Every stable bubble or dew point."""
        from .saturation import solutions

        return solutions(system, kind, given, value, z)

    def usual_solutions(self, system: Mixture, kind: str, given: str, value: float, z: Array) -> tuple[Saturation, ...]:
        """Those of them that are on the lines from low pressure."""
        from .saturation import usual_solutions

        return usual_solutions(system, kind, given, value, z)

    def boiling_liquids(self, point: Saturation) -> tuple[Phase, ...]:
        """The liquid phases of a feed at its bubble point."""
        state = self.flash(point.system, point.z, T=point.T, P=point.P * (1.0 + _ASIDE))
        return tuple(phase for phase in state.phases if phase.kind == "liquid")

    def interval_of(self, regression: Regression, function: Callable[[Any], Any]) -> tuple[Array, Array]:
        """Value and half width of the 95 % interval of what is calculated from a fitted system."""
        from .fitting.curves import interval_of

        return interval_of(regression, function)

    def curves(self, regressions: Sequence[Regression | Mixture], data: DataSet) -> tuple[Curve, ...]:
        """What models say of a set's quantities between its points."""
        from .fitting.curves import curves

        return curves(regressions, data)

    def fugacities(self, system: Mixture, P: float) -> tuple[Array, Array, Array, tuple[float, float]]:
        """Fugacities of both phases of a pure component around its boiling point."""
        from .pure import fugacities_around_boiling

        return fugacities_around_boiling(system, P)


ANSWERS = Answers()
