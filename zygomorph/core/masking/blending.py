"""Layers of a mask: profiles, and how layers blend in order.

A layer first gives a raw weight from 0 to 1, the profile shapes it, invert turns it over, and it is
then blended into what the layers above it made. The first layer has nothing below it and
replaces. A layer may be read on larger units than points, and may remember where it was.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.kernels.masks.blend import BLENDS, PROFILES, blend_weights
from zygomorph.core.masking.memory import Memory
from zygomorph.core.masking.profiles import profile_table
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.entries import definitions

ONE = np.ones(1, np.float32)
TWO = np.full(1, 2, np.float32)
LINE = profile_table([[0, 0], [1, 1]])


@dataclass(frozen=True)
class ResolvedLayer:
    """A layer at a moment.

    undo_parent : (4, 4) that takes points to where they would be had its parent not moved, or None
    memory : how it remembers, or None
    """

    definition: MaskDefinition
    own: Resolved
    common: Resolved
    id: str = ""
    undo_parent: np.ndarray | None = None
    memory: Memory | None = None

    @property
    def fingerprint(self) -> bytes:
        """The same bytes for the same layer at the same values, and only then."""
        undone = b"" if self.undo_parent is None else self.undo_parent.tobytes()
        name = f"{self.definition.key}.{self.definition.version}/{self.memory}".encode()
        return b"~".join([name, self.own.fingerprint, self.common.fingerprint, undone])


def blend(
    below: np.ndarray,
    raw: np.ndarray,
    *,
    profile: str = "linear",
    power: np.ndarray = TWO,
    table: np.ndarray = LINE,
    invert: bool = False,
    mode: str = "replace",
    strength: np.ndarray = ONE,
) -> np.ndarray:
    """Shape the raw weight of a layer and blend it over the layers below.

    smooth is 3t² - 2t³; smoother is 6t⁵ - 15t⁴ + 10t³ (Perlin 2002).

    below, raw, power, strength : (1,) or (P,) float32; strength from 0 to 1
    returns (P,) float32 from 0 to 1
    """
    out = np.empty(max(len(below), len(raw), len(power), len(strength)), np.float32)
    blend_weights(
        below,
        raw,
        PROFILES.index(profile),
        power,
        table,
        invert,
        BLENDS.index(mode),
        strength,
        out,
    )
    return out


def _raw(mesh: Mesh, layer: ResolvedLayer, own: Resolved, context: Context) -> np.ndarray:
    if layer.undo_parent is not None:
        context = replace(context, undo_parent=layer.undo_parent)
    return layer.definition.apply(mesh, own, context)


def shape_of(common: Resolved) -> dict[str, Any]:
    """Profile and inversion of a layer, as :func:`blend` takes them."""
    profile = common.discrete("profile")
    return {
        "profile": profile,
        "power": common.array("power"),
        "table": profile_table(common.discrete("curve")) if profile == "curve" else LINE,
        "invert": common.discrete("invert"),
    }


def shaped(mesh: Mesh, layer: ResolvedLayer, context: Context) -> np.ndarray:
    """A layer alone: its weight after profile and inversion, (P,) float32 from 0 to 1."""
    shape = shape_of(layer.common)
    read = layer.common.discrete("read")
    own = at_elements(layer.own, mesh, context)
    if read == "points":
        return blend(ONE, _raw(mesh, layer, own, context), **shape)
    elements = elements_of(mesh, read)
    if layer.definition.reach == "neighbourhood":
        # What looks around itself needs the surface; a unit then has the mean of its points.
        raw = _raw(mesh, layer, own, context)
        return elements.at_points(elements.read(blend(ONE, raw, **shape)))
    count = len(mesh.points)
    numbers = {
        name: elements.read(array.astype(np.float32)) if array.shape == (count,) else array
        for name, array in own.numbers.items()
    }
    raw = _raw(elements.as_points(), layer, replace(own, numbers=numbers), context)
    return elements.at_points(blend(ONE, raw, **shape))


def _at_units(
    mesh: Mesh, kind: str, layer: ResolvedLayer, context: Context, states: Mapping[str, Any] | None
) -> np.ndarray:
    """A layer alone at each element of a kind, (n,) or (1,) float32.

    It is asked at each, so that one that is hard takes elements whole. What needs the surface
    around a point, is read on other units, or remembers, is the mean of an element's points.
    """
    remembers = layer.memory is not None and states is not None
    by_itself = layer.definition.reach != "neighbourhood" and layer.common.discrete("read") == (
        "points"
    )
    if kind != "points" and by_itself and not remembers:
        own = at_elements(layer.own, mesh, context, kind)
        raw = _raw(elements_of(mesh, kind).as_points(), layer, own, context)
        return blend(ONE, raw, **shape_of(layer.common))
    found = shaped(mesh, layer, context)
    if layer.memory is not None and states is not None:
        found = layer.memory.emit(states.get(layer.id), context.frame, found, mesh)
    return found if kind == "points" else elements_of(mesh, kind).own(found)


def weights(
    mesh: Mesh,
    layers: Sequence[ResolvedLayer],
    context: Context,
    states: Mapping[str, Any] | None = None,
    kind: str = "points",
) -> np.ndarray:
    """Weight of each element of a kind, (n,) float32, or (1,) where there is no layer.

    states : what layers that remember know, by their ids
    kind : "points", "faces", "shards", "copies" or "curves"
    """
    total = ONE
    for index, layer in enumerate(layers):
        mode = layer.common.discrete("blend") if index else "replace"
        common = at_elements(layer.common, mesh, context, kind)
        strength = common.array("strength") / np.float32(100.0)
        if kind == "points" and layer.memory is None and common.discrete("read") == "points":
            # Shaped and blended in one pass.
            raw = _raw(mesh, layer, at_elements(layer.own, mesh, context), context)
            total = blend(total, raw, mode=mode, strength=strength, **shape_of(layer.common))
            continue
        own = _at_units(mesh, kind, layer, context, states)
        total = blend(total, np.ascontiguousarray(own, np.float32), mode=mode, strength=strength)
    return total


def describe_layer(layer: Mapping[str, Any]) -> str:
    """A layer in a word or two, for the summary of a closed ribbon."""
    words = definitions("layer")[layer["layer"]].title.lower()
    return f"not {words}" if layer.get("invert") else words
