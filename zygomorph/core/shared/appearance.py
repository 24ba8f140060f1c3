"""What is drawn of a piece by its looks, the same for every renderer and every file.

A look blends into those before it by a weight, and any of its colours and amounts may go by value.
Both are channels: a number for each element, which a gradient or a range makes a colour or an
amount of.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from zygomorph.core.shared.material import AMOUNTS, Material
from zygomorph.core.values.definitions import Print, Seen, Slope
from zygomorph.core.values.gradients import Gradient, gradient_table, parse_hex, to_linear


@dataclass(frozen=True, eq=False)
class Channel:
    """A number for each element, from 0 at ``low`` to 1 at ``high``.

    on : the points of the mesh, or of each base where there are copies, or the copies
    values : (n,) float32 of each base, or of the copies one array
    slope : of copies, what gives each point of each copy its own number instead
    """

    on: Literal["points", "copies"]
    values: tuple[np.ndarray, ...]
    low: float = 0.0
    high: float = 1.0
    slope: Slope | None = None
    view: Viewed | None = None

    def shares(self, number: int = 0) -> np.ndarray:
        """(n,) from 0 to 1, of a base by its number, or of the copies."""
        values = self.values[number if self.on == "points" else 0]
        span = (self.high - self.low) or 1e-9
        found: np.ndarray = np.clip((values - self.low) / span, 0, 1)
        return found


@dataclass(frozen=True, eq=False)
class Viewed:
    """What depends on where it is looked at from, and is found by the viewer for its own eye; the
    values of the channel are those for the study's camera.

    seen : of a pattern or picture its number among the prints of the appearance
    table : (n,) float32 from 0 to 1, what becomes of even places between its two ends
    below : number of the channel of the layers below it, or None
    mode, strength : how it is blended into that, see :func:`zygomorph.core.masking.blending.blend`
    """

    seen: Seen | int
    table: np.ndarray
    below: int | None = None
    mode: str = "replace"
    strength: float = 1.0


@dataclass(frozen=True, eq=False)
class Pictured:
    """A picture's own colours.

    colours : (P, 4) sRGB and opacity at the points of each base; none for viewers, which have
    print : the number of the picture among the prints of the appearance
    """

    colours: tuple[np.ndarray, ...]
    print: int | None

    def of_first_points(self) -> Pictured:
        return Pictured(tuple(each[:1] for each in self.colours), self.print)


@dataclass(frozen=True)
class Colouring:
    """A colour by value, through a gradient or as in a picture; channel : its number"""

    channel: int
    gradient: Gradient
    pictured: Pictured | None = None


@dataclass(frozen=True)
class Ranging:
    """An amount by value, from ``low`` where the channel is 0 to ``high`` where it is 1."""

    channel: int
    low: float
    high: float


@dataclass(frozen=True)
class ShownLook:
    """One look. weight : number of the channel it is blended in by; None where it is everywhere"""

    id: str
    material: Material
    weight: int | None = None
    colours: Mapping[str, Colouring] = field(default_factory=dict)
    amounts: Mapping[str, Ranging] = field(default_factory=dict)


@dataclass(frozen=True)
class Appearance:
    """How a piece is drawn. Renderers know nothing else of its looks.

    looks : the first is everywhere; each further one is blended over those before it
    prints : patterns and pictures that viewers find at every pixel
    """

    looks: tuple[ShownLook, ...]
    channels: tuple[Channel, ...] = ()
    prints: tuple[Print, ...] = ()

    @property
    def material(self) -> Material:
        """What is drawn, and how it is where no other look is blended in."""
        return self.looks[0].material

    def of_copies(self) -> Appearance:
        """The same of a mesh that has a point for each copy: what differs inside of copies is that
        of the first point."""
        channels = tuple(
            replace(each, on="points", slope=None)
            if each.on == "copies"
            else replace(each, values=(each.values[0][:1],))
            for each in self.channels
        )
        return replace(self, channels=channels, looks=tuple(map(_of_first_points, self.looks)))

    def by_value(self, *names: str) -> bool:
        """Whether any of the named colours and amounts differs from element to element."""
        if len(self.looks) > 1:
            first = self.looks[0].material
            if any(getattr(k.material, n) != getattr(first, n) for k in self.looks for n in names):
                return True
        return any(n in look.colours or n in look.amounts for look in self.looks for n in names)

    def colours(self, count: int, name: str = "colour", number: int = 0) -> np.ndarray:
        """(count, 3) linear colours at the elements of a base."""
        found = np.zeros((count, 3))
        for look in self.looks:
            by = look.colours.get(name)
            if by is None:
                own = to_linear(parse_hex(getattr(look.material, name)))[None]
            elif by.pictured is not None:
                shown = by.pictured.colours[number]
                plain = to_linear(parse_hex(getattr(look.material, name)))[None]
                own = plain + (to_linear(shown[:, :3]) - plain) * shown[:, 3:]
            else:
                table = to_linear(gradient_table(by.gradient)[:, :3] / 255.0)
                share = self.channels[by.channel].shares(number)
                own = table[np.round(share * (len(table) - 1)).astype(int)]
            found = self._over(found, own, look, number)
        return np.broadcast_to(found, (count, 3))

    def amounts(self, count: int, name: str, number: int = 0) -> np.ndarray:
        """(count,) an amount at the elements of a base."""
        assert name in AMOUNTS
        found = np.zeros((1, 1))
        for look in self.looks:
            by = look.amounts.get(name)
            if by is None:
                own = np.full((1, 1), float(getattr(look.material, name)))
            else:
                share = self.channels[by.channel].shares(number)
                own = (by.low + (by.high - by.low) * share)[:, None]
            found = self._over(found, own, look, number)
        return np.broadcast_to(found[:, 0], (count,))

    def _over(self, below: np.ndarray, own: np.ndarray, look: ShownLook, number: int) -> np.ndarray:
        if look.weight is None:
            return own
        share = self.channels[look.weight].shares(number)[:, None]
        return below + (own - below) * share


def _of_first_points(look: ShownLook) -> ShownLook:
    """The look with the colours that pictures have at the first point of each base."""
    colours = {
        name: replace(by, pictured=by.pictured.of_first_points()) if by.pictured else by
        for name, by in look.colours.items()
    }
    return replace(look, colours=colours)


PLAIN = Appearance((ShownLook("", Material()),))
