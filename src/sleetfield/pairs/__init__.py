"""What is known of pairs of components: binary parameters of every model family in layers."""

from .bank import PairRecord, earlier_pairs, pair_records, read_pairs, remove_pair, store_pair, store_pairs, write_pairs
from .of_temperature import OfTemperature
from .pair_parameters import PairParameters

__all__ = [
    "OfTemperature",
    "PairParameters",
    "PairRecord",
    "earlier_pairs",
    "pair_records",
    "read_pairs",
    "remove_pair",
    "store_pair",
    "store_pairs",
    "write_pairs",
]
