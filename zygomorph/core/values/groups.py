"""Groups in which entries are offered. An entry says its own; one that fits in none declares a new
one beside itself."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Group:
    """order : of groups of the same sort of entry, the lowest is offered first"""

    key: str
    label: str
    order: int = 100

    def describe(self) -> dict[str, str]:
        return {"key": self.key, "label": self.label}


# Steps
PUSH = Group("push", "Push", 10)
BEND = Group("bend", "Bend", 20)
BREAK = Group("break", "Break", 25)
JOIN = Group("join", "With another piece", 30)
MAKE = Group("make", "Make", 40)
REPEAT = Group("repeat", "Repeat", 28)
SYSTEMS = Group("systems", "Systems", 45)
FORCES = Group("forces", "Forces of systems", 46)
PLACE = Group("place", "Place", 50)

# Mask layers
FRONTS = Group("fronts", "Fronts", 10)
SOLIDS = Group("solids", "Solids", 20)
REPEATING = Group("repeating", "Patterns", 30)
ELEMENTS = Group("elements", "One by one", 40)
SURFACE = Group("surface", "By the surface", 50)
DRAWN = Group("drawn", "By hand", 60)

# Forms
SURFACES = Group("surfaces", "Surfaces", 10)
CURVES = Group("curves", "Curves and points", 20)
