"""What a `System` does with the engine: from its own components and results to arrays, and back. Each is imported when it is first used."""

from __future__ import annotations

import importlib
import importlib.util
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from . import (
        azeotropes as azeotropes,
        binary_diagram as binary_diagram,
        chart as chart,
        checking as checking,
        critical as critical,
        dilution as dilution,
        envelope as envelope,
        excess as excess,
        flashing as flashing,
        freezing_map as freezing_map,
        heating_value as heating_value,
        hydrate_amount as hydrate_amount,
        inhibitor_dose as inhibitor_dose,
        liquid_split as liquid_split,
        melting_diagram as melting_diagram,
        parameters as parameters,
        pure as pure,
        saturation as saturation,
        solid_points as solid_points,
        solubility as solubility,
        stability as stability,
        tables as tables,
        ternary_diagram as ternary_diagram,
    )
else:

    def __getattr__(name: str) -> Any:
        if not name.startswith("_") and importlib.util.find_spec(f"{__name__}.{name}"):
            return importlib.import_module(f"{__name__}.{name}")
        raise AttributeError(f"module {__name__} has no {name}")
