"""Measurements of mixtures: what kinds there are, how they are read and written, and where they are kept."""

from .data_set import DataSet, fitted_to
from .kinds import KINDS, QUANTITIES
from .reading import data_from_frame, read_data
from .store import DataRecord, data_records, remove_data, store_data
from .thermoml import ThermoMLFile, read_thermoml, write_thermoml
from .writing import write_data

__all__ = [
    "KINDS",
    "QUANTITIES",
    "DataRecord",
    "DataSet",
    "ThermoMLFile",
    "data_from_frame",
    "data_records",
    "fitted_to",
    "read_data",
    "read_thermoml",
    "remove_data",
    "store_data",
    "write_data",
    "write_thermoml",
]
