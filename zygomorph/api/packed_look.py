"""The looks of a piece as a viewer has them: a few numbers for each point, tables that these are
looked up in, and what each look makes of them. See docs/wire.md."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.api.image_addresses import shown_address
from zygomorph.core.formats.encode import Coloured
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.uvs import uv_of_points
from zygomorph.core.shared.appearance import Appearance, Channel, ShownLook
from zygomorph.core.shared.material import AMOUNTS, COLOURS
from zygomorph.core.values.definitions import Print
from zygomorph.core.values.gradients import TABLE_LENGTH, Gradient, gradient_table

# Of numbers besides the finest, so many share what a graphics card takes at a time.
ABREAST = 4


class PackedLook:
    """The looks of one frame."""

    def __init__(self, appearance: Appearance) -> None:
        self._appearance = appearance
        self._gradients: list[Gradient] = []
        self._views = [c for c in appearance.channels if c.view is not None]
        self._on_points = [c for c in appearance.channels if self._sent(c) == "points"]
        self._on_copies = [c for c in appearance.channels if self._sent(c) == "copies"]
        self._looks = [self._look(look) for look in appearance.looks]

    @staticmethod
    def _sent(channel: Channel) -> str:
        """Where its numbers are sent, or "" of what the viewer works out."""
        return "" if channel.view is not None or channel.slope is not None else channel.on

    def finest(self, number: int) -> Coloured:
        """What goes beside the points of a base, in 16 bits."""
        if not self._on_points:
            return Coloured()
        first = self._on_points[0]
        return Coloured(first.values[number], first.low, first.high)

    def others(self, number: int) -> np.ndarray | None:
        """(P, 4 or 8) uint8 of the other channels at the points of a base."""
        return _bytes([each.shares(number) for each in self._on_points[1:]])

    def on_copies(self) -> tuple[np.ndarray | None, np.ndarray | None]:
        """(K,) float from 0 to 1 of the first channel of copies, and (K, 4 or 8) uint8 of the
        others."""
        first = self._on_copies[0].shares() if self._on_copies else None
        return first, _bytes([each.shares() for each in self._on_copies[1:]])

    def laid_by(self, mesh: Mesh) -> dict[str, np.ndarray]:
        """What patterns and pictures lie by at the points of a base: their UVs and places at rest,
        as far as they are needed."""
        on = {shown.on for shown in self._appearance.prints}
        found = {}
        if "uv" in on:
            found["uvs"] = np.ascontiguousarray(uv_of_points(mesh), np.float32)
        if "rest" in on:
            found["at_rest"] = np.ascontiguousarray(mesh.rest, np.float32)
        return found

    def tables(self) -> dict[str, np.ndarray]:
        """Gradients, and what becomes of what is seen from somewhere."""
        found = {}
        if self._gradients:
            found["gradients"] = np.stack([gradient_table(each) for each in self._gradients])
        if self._views:
            tables = [each.view.table for each in self._views if each.view is not None]
            found["tables"] = np.rint(np.stack(tables) * 255).astype(np.uint8)
        return found

    def _row(self, gradient: Gradient) -> int:
        if gradient not in self._gradients:
            self._gradients.append(gradient)
        return self._gradients.index(gradient)

    def _look(self, look: ShownLook) -> dict[str, Any]:
        colours = []
        for name in COLOURS:
            by = look.colours.get(name)
            own = getattr(look.material, name)
            told = {"colour": own, "channel": -1, "row": -1, "print": -1}
            if by is not None and by.pictured is not None and by.pictured.print is not None:
                told["print"] = by.pictured.print
            elif by is not None:
                told |= {"channel": by.channel, "row": self._row(by.gradient)}
            colours.append(told)
        amounts = []
        for name in AMOUNTS:
            ranging = look.amounts.get(name)
            own = float(getattr(look.material, name))
            if ranging is None:
                amounts.append({"low": own, "high": own, "channel": -1})
            else:
                low, high = ranging.low, ranging.high
                amounts.append({"low": low, "high": high, "channel": ranging.channel})
        return {
            "id": look.id,
            "weight": -1 if look.weight is None else look.weight,
            "colours": colours,
            "amounts": amounts,
            "glows_in_own": look.material.glows_in_own,
        }

    def _channel(self, channel: Channel) -> dict[str, Any]:
        if channel.view is not None:
            view = channel.view
            if isinstance(view.seen, int):
                seen: dict[str, Any] = {"on": "print", "print": view.seen}
            else:
                kind, low, high, both = view.seen
                seen = {"on": kind, "low": low, "high": high, "both": both}
            return seen | {
                "table": self._views.index(channel),
                "below": -1 if view.below is None else view.below,
                "mode": view.mode,
                "strength": view.strength,
            }
        if channel.slope is not None:
            axis, low, high = channel.slope
            return {"on": "slope", "axis": axis.tolist(), "low": low, "high": high}
        among = self._on_points if channel.on == "points" else self._on_copies
        return {"on": channel.on, "slot": next(k for k, c in enumerate(among) if c is channel)}

    @staticmethod
    def _print(shown: Print) -> dict[str, Any]:
        address = None
        if shown.figure == "picture":
            # As short as it can be, so that the same picture has one address.
            soft = f"{shown.soft:.6g}"
            query = f"?number={shown.moment}&soft={soft}&beyond={shown.beyond}"
            address = shown_address(shown.picture) + query
        return {
            "figure": shown.figure,
            "on": shown.on,
            "round": shown.round,
            "frame": shown.frame.tolist(),
            "across": shown.across.tolist(),
            "fill": shown.fill,
            "edge": shown.edge,
            "seed": shown.seed,
            "evolve": shown.evolve,
            "picture": address,
            "beyond": shown.beyond,
        }

    def header(self, flat: bool) -> dict[str, Any]:
        """flat : whether facets are drawn"""
        material = self._appearance.material
        return {
            "drawn": material.drawn,
            "flat": flat,
            "edge_colour": material.edge_colour,
            "dots": material.dots,
            "on_screen": material.on_screen,
            "thin": material.thin,
            "refraction": material.refraction,
            "tint": material.tint,
            "tint_depth": material.tint_depth,
            "coat_roughness": material.coat_roughness,
            "sheen_colour": material.sheen_colour,
            "looks": self._looks,
            "channels": [self._channel(each) for each in self._appearance.channels],
            "sphere": None if material.sphere is None else shown_address(material.sphere),
            "prints": [self._print(each) for each in self._appearance.prints],
            "gradient_length": TABLE_LENGTH,
        }


def _bytes(columns: list[np.ndarray]) -> np.ndarray | None:
    """(n, 4 or 8) uint8 of columns from 0 to 1, padded with zeros; None where there are none."""
    if not columns:
        return None
    width = -(-len(columns) // ABREAST) * ABREAST
    found = np.zeros((len(columns[0]), width), np.uint8)
    for number, column in enumerate(columns):
        found[:, number] = np.rint(column * 255)
    return found
