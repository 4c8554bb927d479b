"""Activity-coefficient models of liquids: one file each, all behind `ActivityModel`."""

from .contract import ActivityEvaluation, ActivityModel, BoundActivity

__all__ = ["ActivityEvaluation", "ActivityModel", "BoundActivity"]
