"""Shards told apart for a look at them, without changing the study: each in a colour of its own, or
pulled away from the others."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from typing import Literal

import numpy as np

from zygomorph.core.evaluation.results import Result
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import SHARD, Mesh
from zygomorph.core.shared.appearance import Appearance, Colouring
from zygomorph.core.values.gradients import TABLE_LENGTH, from_oklab

ShardsShown = Literal["as they are", "coloured", "apart"]
# How much farther from the middle shards are shown where they are pulled apart.
FARTHER = 0.45
# Turns of the hue from one number to the next: neighbouring numbers are never alike.
GOLDEN = 0.6180339887498949
LIGHTNESS, CHROMA = 0.76, 0.11


def has_shards(geometry: Geometry) -> bool:
    return geometry.copies is None and geometry.mesh.get("face", SHARD) is not None


@cache
def hues() -> np.ndarray:
    """(TABLE_LENGTH, 4) uint8 sRGB: all hues of one lightness, in OKLab."""
    angle = np.linspace(0.0, 2 * np.pi, TABLE_LENGTH)
    lab = np.stack(
        [np.full(TABLE_LENGTH, LIGHTNESS), CHROMA * np.cos(angle), CHROMA * np.sin(angle)], axis=1
    )
    table = np.full((TABLE_LENGTH, 4), 255, np.uint8)
    table[:, :3] = np.round(from_oklab(lab) * 255)
    return table


def in_colours(appearance: Appearance, mesh: Mesh) -> Appearance:
    """The look with a hue for each shard instead of its own colours; the gradient is to be
    :func:`hues`."""
    values = np.mod(elements_of(mesh, "shards").ids() * GOLDEN, 1.0).astype(np.float32)
    at_points = elements_of(mesh, "shards").at_points(values)
    return replace(appearance, colouring=Colouring(at_points, 0.0, 1.0), gradient="hues")


def pulled_apart(result: Result) -> Result:
    """The shards farther from the middle of the piece, each as a whole."""
    mesh = result.geometry.mesh
    elements = elements_of(mesh, "shards")
    middle = (np.asarray(result.low) + np.asarray(result.high)) / 2
    moves = ((elements.centres - middle) * FARTHER).astype(np.float32)
    moved = mesh.moved(elements.moved(moves=moves))
    low, high, _ = box_of(moved.points)
    return replace(result, geometry=Geometry((moved,)), low=low, high=high)
