"""What a result is asked for only now and then, and is dear: calculations hand it over with the result, which never reaches up for it."""

from __future__ import annotations

from typing import Any, Protocol

from numpy.typing import NDArray

from ..mixture import Mixture


class Later(Protocol):
    """One set of answers for all results; it has no state of its own, so that results can be pickled and copied with it."""

    def flash(self, system: Mixture, z: Any, **given: Any) -> Any:
        """States of a mixture at two given quantities."""

    def where_single_phase(self, state: Any) -> str:
        """In words: on which side of the envelope a single-phase state lies."""

    def other_states(self, state: Any) -> tuple[str, ...]:
        """In words: which other states have the quantities that a state was found by, where more than one can."""

    def transport(self, batch: Any) -> Any:
        """Viscosity, thermal conductivity and surface tension of every phase of every state."""

    def diffusion(self, batch: Any) -> Any:
        """Diffusion coefficients of every component in every phase of every state."""

    def boundaries(self, batch: Any) -> Any:
        """Temperatures of bubble and dew points at the states' pressures."""

    def fuel(self, state: Any) -> Any:
        """Heating values of a state's mixture; None where it can't be burnt, or they are not known."""

    def solutions(self, system: Mixture, kind: str, given: str, value: float, z: Any) -> tuple[Any, ...]:
        """Every stable bubble or dew point at a temperature (``given="T"``) or pressure (``"P"``), in rising order."""

    def usual_solutions(self, system: Mixture, kind: str, given: str, value: float, z: Any) -> tuple[Any, ...]:
        """Those of them that are had quickly."""

    def boiling_liquids(self, point: Any) -> tuple[Any, ...]:
        """The liquid phases of a feed at its bubble point."""

    def interval_of(self, regression: Any, function: Any) -> tuple[NDArray[Any], NDArray[Any]]:
        """Value and half width of the 95 % interval of what is calculated from a fitted system."""

    def curves(self, regressions: Any, data: Any) -> Any:
        """What models say of a set's quantities between its points."""

    def fugacities(self, system: Mixture, P: float) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any], tuple[float, float]]:
        """Temperatures around boiling at ``P``, ln(f/Pa) of vapor and liquid there, and where these cross, of a pure component."""
