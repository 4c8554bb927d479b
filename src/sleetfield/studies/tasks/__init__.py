"""Everything that a study can do: each kind of task is a class in one of these files, and one entry in `KINDS`."""

from __future__ import annotations

from typing import Any, get_args

from pydantic import create_model

from .comparing import Compare
from .contract import Shared, Work
from .diagrams import Advise, Azeotropes, BoilingMap, Check, Diagram, LiquidMap, SaturationCurve
from .fits import Consistency, FitCorrelation, RankModels, Regress
from .solids import FirstSolid, FreezingMap, HydrateAmount, InhibitorDose, MeltingDiagram, Solubility
from .states import (
    BubblePressure,
    Chart,
    Critical,
    Datasheet,
    Envelope,
    Flash,
    FlashFile,
    LiquidSplit,
    Saturation,
    Speciation,
    Table,
    Titration,
    Warming,
)

WORKS: tuple[type[Work], ...] = (
    Advise,
    FitCorrelation,
    SaturationCurve,
    Consistency,
    Regress,
    RankModels,
    Check,
    Flash,
    Saturation,
    Critical,
    Envelope,
    Chart,
    Table,
    Datasheet,
    FlashFile,
    LiquidSplit,
    Speciation,
    BubblePressure,
    Titration,
    Warming,
    FirstSolid,
    HydrateAmount,
    InhibitorDose,
    Solubility,
    Diagram,
    MeltingDiagram,
    FreezingMap,
    LiquidMap,
    BoilingMap,
    Azeotropes,
    Compare,
)
"""In the order of the work."""


def _task(work: type[Work]) -> Any:
    return create_model(work.__name__, __base__=(work, Shared), __doc__=work.__doc__, __module__=work.__module__)


TASKS: tuple[Any, ...] = tuple(map(_task, WORKS))

KINDS: dict[str, Any] = {name: task for task in TASKS for name in get_args(task.model_fields["do"].annotation)}
"""Tasks by what they do."""

__all__ = ["KINDS", "TASKS", "WORKS", "Shared", "Work"]
