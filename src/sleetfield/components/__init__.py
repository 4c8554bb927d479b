"""Pure components: their constants and correlations, where those came from, how to find them and how to add one."""

from .component import Component
from .databank import CASE, USER, databank
from .exchange import read_components, write_components
from .from_groups import estimate_from_groups, estimate_from_structure
from .quantities import antoine, heat_capacity
from .storing import remove_component, store_component, store_components

__all__ = [
    "CASE",
    "USER",
    "Component",
    "antoine",
    "databank",
    "estimate_from_groups",
    "estimate_from_structure",
    "heat_capacity",
    "read_components",
    "remove_component",
    "store_component",
    "store_components",
    "write_components",
]
