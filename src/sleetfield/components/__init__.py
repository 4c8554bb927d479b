"""Pure components: their constants and correlations, where those came from, and how to find them."""

from .component import Component
from .databank import databank
from .from_groups import estimate_from_groups

__all__ = ["Component", "databank", "estimate_from_groups"]
