"""Which methods there are for each transport property, by name; the first is taken where none is asked for."""

CHOICES: dict[str, tuple[str, ...]] = {
    "gas viscosity": ("Chung", "Lucas", "Wilke", "Lohrenz", "Pedersen"),
    "gas conductivity": ("Chung", "Mason-Saxena"),
    "liquid viscosity": ("Grunberg-Nissan", "Lohrenz", "Pedersen"),
    "liquid conductivity": ("Li", "Filippov"),
    "surface tension": ("parachors", "Winterfeld"),
}
