"""Shards told apart for a look at them, without changing the study: each in a colour of its own, or
pulled away from the others."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from typing import Any, Literal

import numpy as np

from zygomorph.core.evaluation.results import Result
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.shared.appearance import Appearance, Channel, Colouring, ShownLook
from zygomorph.core.values.gradients import from_oklab

ShardsShown = Literal["as they are", "coloured", "apart"]
# How much farther from the middle shards are shown where they are pulled apart.
FARTHER = 0.45
# Turns of the hue from one number to the next: neighbouring numbers are never alike.
GOLDEN = 0.6180339887498949
LIGHTNESS, CHROMA = 0.76, 0.11
HUES = 49


def has_shards(geometry: Geometry) -> bool:
    return geometry.copies is None and geometry.mesh.get("face", SHARD) is not None


@cache
def hues() -> dict[str, Any]:
    """A gradient of all hues of one lightness, in OKLab."""
    at = np.linspace(0.0, 1.0, HUES)
    lab = [
        np.full(HUES, LIGHTNESS),
        CHROMA * np.cos(2 * np.pi * at),
        CHROMA * np.sin(2 * np.pi * at),
    ]
    colours = np.round(from_oklab(np.stack(lab, axis=1)) * 255).astype(np.uint8)
    stops = [
        {"at": float(share), "colour": "#" + bytes(colour).hex()}
        for share, colour in zip(at, colours, strict=True)
    ]
    return {"stops": stops}


def in_colours(appearance: Appearance, mesh: Mesh) -> Appearance:
    """The looks with a hue for each shard instead of their own colours."""
    values = np.mod(elements_of(mesh, "shards").ids() * GOLDEN, 1.0).astype(np.float32)
    at_points = elements_of(mesh, "shards").at_points(values)
    look = ShownLook("shards", appearance.material, None, {"colour": Colouring(0, hues())})
    return Appearance((look,), (Channel("points", (at_points,)),))


def pulled_apart(result: Result) -> Result:
    """The shards farther from the middle of the piece, each as a whole."""
    mesh = result.geometry.mesh
    elements = elements_of(mesh, "shards")
    middle = (np.asarray(result.low) + np.asarray(result.high)) / 2
    moves = ((elements.centres - middle) * FARTHER).astype(np.float32)
    moved = mesh.moved(elements.moved(moves=moves))
    low, high, _ = box_of(moved.points)
    return replace(result, geometry=Geometry((moved,)), low=low, high=high)
