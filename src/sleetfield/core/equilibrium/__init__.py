"""Phase equilibrium for any model behind ``core.models.contract``: nothing here knows which one it has."""
