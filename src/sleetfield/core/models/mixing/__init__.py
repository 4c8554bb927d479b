"""Mixing rules of cubic equations of state, one to a file behind one contract."""

from .contract import BoundMixing, MixingRule
from .in_water import AqueousInteractions, InWater
from .van_der_waals import VanDerWaals

__all__ = ["AqueousInteractions", "BoundMixing", "InWater", "MixingRule", "VanDerWaals"]
