"""Sleetfield: phase equilibria of mixtures for process engineers.

    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    >>> gas.flash([0.70, 0.20, 0.10], T="-20 degC", P="20 bar").n_phases
    2

Everything named in ``__all__`` is imported when it is first used.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

from .version import __version__ as __version__

if TYPE_CHECKING:
    from .anchoring import anchored, anchored_pair, with_measured_ends
    from .calculations.comparing import compare
    from .calculations.consistency import consistency
    from .calculations.fitting import data_table, rank_models, regress
    from .calculations.likeness import alike
    from .calculations.pair_readings import pair_readings
    from .choosing import advise
    from .components import (
        Component,
        antoine,
        databank,
        estimate_from_groups,
        estimate_from_structure,
        heat_capacity,
        read_components,
        remove_component,
        store_component,
        store_components,
        write_components,
    )
    from .composition import normalize
    from .correlation_fit import fit_correlation
    from .data_sets import (
        DataRecord,
        DataSet,
        data_from_frame,
        data_records,
        read_data,
        read_thermoml,
        remove_data,
        store_data,
        write_data,
        write_thermoml,
    )
    from .diagrams.table import draw_table
    from .errors import CalculationError, InputError, SleetfieldError, SleetfieldWarning, UnknownComponentError
    from .export import load, save
    from .heavy_ends import compare_methods, pseudo_component, split_plus_fraction
    from .ion_fit import fit_ions
    from .k_values import KValues
    from .many_feeds import FeedsRun, flash_file
    from .pairs import (
        OfTemperature,
        PairParameters,
        PairRecord,
        earlier_pairs,
        pair_records,
        read_pairs,
        remove_pair,
        store_pair,
        store_pairs,
        write_pairs,
    )
    from .pure_fit import fit_pure
    from .recipes import CubicEquation, EquationOfState, LiquidModel, Model, PairedLiquid, Parameter, Symbol, VaporModel
    from .recipes.solid_compound import SolidCompound
    from .results.critical import CriticalPoint
    from .results.envelope import Envelope, compare_envelopes
    from .results.phase import Phase
    from .results.regression import Regression
    from .results.saturation import Saturation, SaturationBatch
    from .results.state import State, StateBatch
    from .studies import Study, StudyRun, compare_runs, new_study, read_study
    from .system import System
    from .units import UNIT_SETS, quantity

_HOME = {
    "System": "system",
    "Component": "components",
    **dict.fromkeys(
        (
            "OfTemperature",
            "PairParameters",
            "PairRecord",
            "remove_pair",
            "earlier_pairs",
            "pair_records",
            "read_pairs",
            "store_pair",
            "store_pairs",
            "write_pairs",
        ),
        "pairs",
    ),
    **dict.fromkeys(
        ("CubicEquation", "EquationOfState", "LiquidModel", "Model", "PairedLiquid", "Parameter", "Symbol", "VaporModel"), "recipes"
    ),
    "KValues": "k_values",
    "Electrolyte": "electrolyte",
    "SolidCompound": "recipes.solid_compound",
    "load": "export",
    "regress": "calculations.fitting",
    "rank_models": "calculations.fitting",
    "data_table": "calculations.fitting",
    "consistency": "calculations.consistency",
    "alike": "calculations.likeness",
    "pair_readings": "calculations.pair_readings",
    **dict.fromkeys(
        (
            "DataRecord",
            "DataSet",
            "data_from_frame",
            "data_records",
            "remove_data",
            "read_data",
            "read_thermoml",
            "store_data",
            "write_data",
            "write_thermoml",
        ),
        "data_sets",
    ),
    "Regression": "results.regression",
    "CriticalPoint": "results.critical",
    "Envelope": "results.envelope",
    "Saturation": "results.saturation",
    "SaturationBatch": "results.saturation",
    "Phase": "results.phase",
    "State": "results.state",
    "StateBatch": "results.state",
    "databank": "components",
    "estimate_from_groups": "components",
    "estimate_from_structure": "components",
    "antoine": "components",
    "heat_capacity": "components",
    "read_components": "components",
    "write_components": "components",
    "store_component": "components",
    "store_components": "components",
    "remove_component": "components",
    "normalize": "composition",
    "draw_table": "diagrams.table",
    "save": "export",
    "fit_correlation": "correlation_fit",
    "fit_ions": "ion_fit",
    "fit_pure": "pure_fit",
    "anchored": "anchoring",
    "anchored_pair": "anchoring",
    "advise": "choosing",
    "compare": "calculations.comparing",
    "with_measured_ends": "anchoring",
    "pseudo_component": "heavy_ends",
    "compare_envelopes": "results.envelope",
    "datasheet": "results.datasheet",
    "compare_methods": "heavy_ends",
    "split_plus_fraction": "heavy_ends",
    **dict.fromkeys(("Study", "StudyRun", "compare_runs", "new_study", "read_study"), "studies"),
    **dict.fromkeys(("FeedsRun", "flash_file"), "many_feeds"),
    "quantity": "units",
    "UNIT_SETS": "units",
    "SleetfieldError": "errors",
    "SleetfieldWarning": "errors",
    "InputError": "errors",
    "UnknownComponentError": "errors",
    "CalculationError": "errors",
}

__all__ = [
    "UNIT_SETS",
    "CalculationError",
    "Component",
    "CriticalPoint",
    "CubicEquation",
    "DataRecord",
    "DataSet",
    "Electrolyte",
    "Envelope",
    "EquationOfState",
    "FeedsRun",
    "InputError",
    "KValues",
    "LiquidModel",
    "Model",
    "OfTemperature",
    "PairParameters",
    "PairRecord",
    "PairedLiquid",
    "Parameter",
    "Phase",
    "Regression",
    "Saturation",
    "SaturationBatch",
    "SleetfieldError",
    "SleetfieldWarning",
    "SolidCompound",
    "State",
    "StateBatch",
    "Study",
    "StudyRun",
    "Symbol",
    "System",
    "UnknownComponentError",
    "VaporModel",
    "advise",
    "alike",
    "anchored",
    "anchored_pair",
    "antoine",
    "compare",
    "compare_envelopes",
    "compare_methods",
    "compare_runs",
    "consistency",
    "data_from_frame",
    "data_records",
    "data_table",
    "databank",
    "datasheet",
    "draw_table",
    "earlier_pairs",
    "estimate_from_groups",
    "estimate_from_structure",
    "fit_correlation",
    "fit_ions",
    "fit_pure",
    "flash_file",
    "heat_capacity",
    "load",
    "new_study",
    "normalize",
    "pair_readings",
    "pair_records",
    "pseudo_component",
    "quantity",
    "rank_models",
    "read_components",
    "read_data",
    "read_pairs",
    "read_study",
    "read_thermoml",
    "regress",
    "remove_component",
    "remove_data",
    "remove_pair",
    "save",
    "split_plus_fraction",
    "store_component",
    "store_components",
    "store_data",
    "store_pair",
    "store_pairs",
    "with_measured_ends",
    "write_components",
    "write_data",
    "write_pairs",
    "write_thermoml",
]


def __getattr__(name: str) -> Any:
    if name in _HOME:
        return getattr(importlib.import_module(f".{_HOME[name]}", __name__), name)
    raise AttributeError(f"module 'sleetfield' has no attribute {name!r}; it has {', '.join(__all__)}")


def __dir__() -> list[str]:
    return sorted([*__all__, "__version__"])
