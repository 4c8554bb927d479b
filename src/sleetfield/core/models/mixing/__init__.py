"""Mixing rules of cubic equations of state, one to a file behind one contract."""

from .contract import BoundMixing, LinearCovolume, MixingRule
from .excess_gibbs import ExcessGibbs, Reference
from .in_water import AqueousInteractions, InWater
from .van_der_waals import VanDerWaals
from .wong_sandler import WongSandler

__all__ = [
    "AqueousInteractions",
    "BoundMixing",
    "ExcessGibbs",
    "InWater",
    "LinearCovolume",
    "MixingRule",
    "Reference",
    "VanDerWaals",
    "WongSandler",
]
