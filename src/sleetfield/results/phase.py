"""One phase of a state, and where it goes on alone."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np

from ..core.arrays import ABSENT
from ..core.models.contract import LIQUID, VAPOR
from ..text import html

if TYPE_CHECKING:
    from .state import State


class Asked:
    """A property that is worked out when it is asked for."""

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name

    def __get__(self, phase: Phase, owner: type | None = None) -> float:
        return float(phase.state.batch.of_phases(self.name)[0][phase.place])


class AskedOfEach(Asked):
    """The same of each component, by name."""

    def __get__(self, phase: Phase, owner: type | None = None) -> dict[str, float]:  # type: ignore[override]
        values = phase.state.batch.of_phases(self.name)[0][phase.place]
        return dict(zip(phase.state.system.names, values.tolist(), strict=True))


@dataclass(frozen=True, eq=False, repr=False)
class Phase:
    """One phase of a state.

    Attributes
    ----------
    kind : str
        "vapor", "liquid" or "solid"; a solid is of one component alone.
    fraction, mass_fraction, volume_fraction : float
        Share of the whole in this phase by mole, by mass and by volume.
    Z, molar_volume, density, molar_mass : float
        Compressibility factor; m3/mol; kg/m3; kg/mol.
    H, S, G, A, U : float
        Enthalpy, entropy, Gibbs, Helmholtz and internal energy, J/mol and J/(mol K), from the zero at 298.15 K and 1 bar, ideal gas.
    H_residual, S_residual, G_residual : float
        The same less what the ideal gas has at the phase's temperature, pressure and composition; they need no heat capacities.
    Cp, Cv : float
        Heat capacities, J/(mol K).
    speed_of_sound, throttling_coefficient, thermal_expansion, isothermal_compressibility : float
        m/s; K/Pa; 1/K; 1/Pa.
    composition, mass_composition, ln_phi, fugacity, K : dict
        By component: mole and mass fractions, logarithm of the fugacity coefficient, fugacity in Pa, and the vapor's mole fraction over this
        phase's (NaN for the vapor itself).
    flow : float or None
        mol/s, where the feed's flow was given.
    place : int
        Which of the state's phases it is.
    viscosity, kinematic_viscosity, thermal_conductivity, thermal_diffusivity, prandtl_number, heat_capacity_ratio, surface_tension : float
        Pa s; m2/s; W/(m K); m2/s; a liquid's against the vapor, N/m. Worked out when they are asked for; `State.transport` says how.
    partial_molar_volume, partial_molar_enthalpy, partial_molar_entropy, activity_coefficient, activity, diffusion_coefficient : dict
        By component: m3/mol, J/mol and J/(mol K); of liquids, against the pure liquids at T and P (NaN where there is none); m2/s, in the others of the phase. Worked
        out when they are asked for.
    state : State
        The state that it is a phase of.

    """

    kind: str
    fraction: float
    mass_fraction: float
    volume_fraction: float
    Z: float
    molar_mass: float
    molar_volume: float
    density: float
    H: float
    S: float
    G: float
    A: float
    U: float
    H_residual: float
    S_residual: float
    G_residual: float
    Cp: float
    Cv: float
    speed_of_sound: float
    throttling_coefficient: float
    thermal_expansion: float
    isothermal_compressibility: float
    composition: dict[str, float]
    mass_composition: dict[str, float]
    ln_phi: dict[str, float]
    fugacity: dict[str, float]
    K: dict[str, float]
    flow: float | None
    place: int
    state: State = field(repr=False)

    def __repr__(self) -> str:
        largest = sorted(self.composition.items(), key=lambda item: -item[1])[:3]
        more = ", ..." if len(self.composition) > len(largest) else ""
        return f"<Phase: {self.fraction:.4g} {self.kind}, {', '.join(f'{x:.4g} {name}' for name, x in largest if x)}{more}>"

    def _repr_html_(self) -> str:
        number = next(k for k, phase in enumerate(self.state.phases) if phase.composition == self.composition)
        frame = self.state.summary_frame()
        return html(f"{self.kind} of {self.state.title()}", frame[[frame.columns[1 + number]]], [])

    viscosity, kinematic_viscosity, thermal_conductivity, thermal_diffusivity = Asked(), Asked(), Asked(), Asked()
    prandtl_number, heat_capacity_ratio, surface_tension = Asked(), Asked(), Asked()
    partial_molar_volume, partial_molar_enthalpy, partial_molar_entropy = AskedOfEach(), AskedOfEach(), AskedOfEach()
    activity_coefficient, activity, diffusion_coefficient = AskedOfEach(), AskedOfEach(), AskedOfEach()

    @property
    def flows(self) -> dict[str, float] | None:
        """Flow of each component, mol/s, where the feed's flow was given."""
        return None if self.flow is None else {name: self.flow * x for name, x in self.composition.items()}

    @property
    def free_sites(self) -> dict[str, float]:
        """Of models with bonds between molecules: the fraction of each component's sites that is not bound; empty elsewhere."""
        model, names = self.state.system.phase_model, self.state.system.names
        if self.kind == "solid":
            return {}
        rho = np.array([[x / self.molar_volume for x in self.composition.values()]])
        found = model.free_sites(np.array([self.state.T]), np.maximum(rho, ABSENT), VAPOR if self.kind == "vapor" else LIQUID)[0]
        return {name: float(free) for name, free in zip(names, found, strict=True) if np.isfinite(free)}

    @property
    def feed(self) -> dict[str, Any]:
        """Composition and flow as a flash takes them: ``system.flash(**phase.feed, T=..., P=...)``."""
        return {"z": dict(self.composition), **({} if self.flow is None else {"flow": self.flow})}

    def to(self, *, duty: Any = None, **given: Any) -> State:
        """The phase alone, brought to another state, as `State.to` brings the whole: one drum's liquid to the next.

        Examples
        --------
        >>> import sleetfield as sl
        >>> drum = sl.System(["methane", "propane"], eos="PR").flash([0.5, 0.5], T=250.0, P="20 bar", flow="100 kmol/h")
        >>> flashed = drum.phases[1].to(P="2 bar", duty=0)
        >>> flashed.n_phases, round(flashed.T, 1)
        (2, 224.4)

        """
        state = self.state
        alone: State = state.batch.later.flash(state.system, **self.feed, T=state.T, P=state.P)
        return alone.to(duty=duty, **given)
