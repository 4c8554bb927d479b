"""Pure components: their constants and correlations, where those came from, and how to find them."""

from .component import Component
from .databank import databank

__all__ = ["Component", "databank"]
