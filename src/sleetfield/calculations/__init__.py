"""What a `System` does with the engine: from its own components and results to arrays, and back. Each is imported when it is first used."""

from __future__ import annotations

import importlib
import importlib.util
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from . import (
        azeotropes as azeotropes,
    )
    from . import (
        binary_diagram as binary_diagram,
    )
    from . import (
        chart as chart,
    )
    from . import (
        checking as checking,
    )
    from . import (
        critical as critical,
    )
    from . import (
        dilution as dilution,
    )
    from . import (
        envelope as envelope,
    )
    from . import (
        excess as excess,
    )
    from . import (
        flashing as flashing,
    )
    from . import (
        freezing_map as freezing_map,
    )
    from . import (
        heating_value as heating_value,
    )
    from . import (
        hydrate_amount as hydrate_amount,
    )
    from . import (
        inhibitor_dose as inhibitor_dose,
    )
    from . import (
        liquid_split as liquid_split,
    )
    from . import (
        melting_diagram as melting_diagram,
    )
    from . import (
        parameters as parameters,
    )
    from . import (
        pure as pure,
    )
    from . import (
        saturation as saturation,
    )
    from . import (
        solid_points as solid_points,
    )
    from . import (
        solubility as solubility,
    )
    from . import (
        stability as stability,
    )
    from . import (
        tables as tables,
    )
    from . import (
        ternary_diagram as ternary_diagram,
    )


def __getattr__(name: str) -> Any:
    if not name.startswith("_") and importlib.util.find_spec(f"{__name__}.{name}"):
        return importlib.import_module(f"{__name__}.{name}")
    raise AttributeError(f"module {__name__} has no {name}")
