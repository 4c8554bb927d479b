"""Which methods there are for each transport property, by name; the first is taken where none is asked for."""

CHOICES: dict[str, tuple[str, ...]] = {
    "gas viscosity": ("Chung", "Lucas", "Wilke", "Lohrenz"),
    "gas conductivity": ("Chung", "Mason-Saxena"),
    "liquid viscosity": ("Grunberg-Nissan", "Lohrenz"),
    "liquid conductivity": ("Li", "Filippov"),
    "surface tension": ("parachors", "Winterfeld"),
}
