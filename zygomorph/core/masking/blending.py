"""Layers of a mask: profiles, and how layers blend in order.

A layer first gives a course from 0 to 1, the profile shapes it, invert turns it over, and it is
then blended into what the layers above it made. The first layer has nothing below it and
replaces. A layer may be read on larger units than points, and may remember where it was.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition, definitions
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, at, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.elements import elements_of
from zygomorph.core.masks.memory import MEMORY_VALUES, Memory
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.lattice import fade
from zygomorph.core.profile_curve import profile_table
from zygomorph.core.resolve import Resolved
from zygomorph.core.spread import over
from zygomorph.core.values import choice, curve, number, switch

ONE = np.ones(1, np.float32)
TWO = np.full(1, 2, np.float32)
LINE = profile_table([[0, 0], [1, 1]])

COMMON_VALUES = {
    "profile": choice(
        "smooth",
        "Profile",
        "How the weight falls off.",
        {
            "hard": "hard",
            "linear": "linear",
            "smooth": "smooth",
            "smoother": "smoother",
            "power": "power",
            "curve": "drawn curve",
        },
    ),
    "power": number(
        2.0,
        "Power",
        "Above 1 hugs the far side, below 1 the near side.",
        "",
        (0.2, 5.0),
        hard=(0.01, 100.0),
        scale="log",
        shown_when=("profile", ("power",)),
    ),
    "curve": curve(
        [[0.0, 0.0], [0.3, 0.75], [0.6, 0.35], [1.0, 1.0]],
        "Curve",
        "Drawn from outside, on the left, to inside.",
        shown_when=("profile", ("curve",)),
    ),
    "blend": choice(
        "multiply",
        "Blend",
        "How it joins the layers above it.",
        {
            "multiply": "multiply",
            "add": "add",
            "subtract": "subtract",
            "lighten": "lighten",
            "darken": "darken",
            "replace": "replace",
        },
    ),
    "strength": number(
        100.0,
        "Strength",
        "How much of this layer takes part.",
        "%",
        (0.0, 100.0),
        hard=(0.0, 100.0),
        each=True,
    ),
    "invert": switch(False, "Invert", "Where it was 1 it is 0, and the other way round."),
    "read": choice(
        "points",
        "Read on",
        "Each point has a weight of its own, or all of a face, a shard or a curve have one.",
        {
            "points": "each point",
            "faces": "each face",
            "shards": "each shard",
            "curves": "each curve",
        },
        main=False,
        idle="points",
    ),
    **MEMORY_VALUES,
}


@dataclass(frozen=True)
class ResolvedLayer:
    """A layer at a moment.

    carried : (4, 4) from the piece to what carries it, or None
    memory : how it remembers, or None
    """

    definition: Definition
    own: Resolved
    common: Resolved
    id: str = ""
    carried: np.ndarray | None = None
    memory: Memory | None = None

    @property
    def fingerprint(self) -> bytes:
        """The same bytes for the same layer at the same values, and only then."""
        carried = b"" if self.carried is None else self.carried.tobytes()
        name = f"{self.definition.key}.{self.definition.version}/{self.memory}".encode()
        return b"~".join([name, self.own.fingerprint, self.common.fingerprint, carried])


PROFILES = ("hard", "linear", "smooth", "smoother", "power", "curve")
BLENDS = ("replace", "multiply", "add", "subtract", "lighten", "darken")


@kernel(types.void(F1, F1, types.int32, F1, F1, types.boolean, types.int32, F1, F1W))
def _lay(below, course, profile, power, table, invert, mode, strength, out):  # type: ignore[no-untyped-def]
    """Shape a course and blend it over what is below, in one pass over the points.

    profile, mode : numbers of PROFILES and BLENDS; 0 for the first layer's blend
    table : a drawn profile at even places from 0 to 1
    """
    n = out.shape[0]
    zero = float32(0.0)
    one = float32(1.0)
    blocks = (n + BLOCK - 1) // BLOCK
    for chunk in prange(CHUNKS):
        work = np.empty((3, BLOCK), np.float32)
        t, base, share = work[0], work[1], work[2]
        for block in range(first_of(chunk, blocks), first_of(chunk + 1, blocks)):
            lo = block * BLOCK
            m = min(BLOCK, n - lo)
            result = out[lo : lo + m]
            load(course, lo, m, t)
            load(below, lo, m, base)
            load(strength, lo, m, share)
            for i in range(m):
                t[i] = min(max(t[i], zero), one)
            if profile == 0:
                for i in range(m):
                    t[i] = one if t[i] >= float32(0.5) else zero
            elif profile == 2:
                for i in range(m):
                    t[i] = t[i] * t[i] * (float32(3.0) - float32(2.0) * t[i])
            elif profile == 3:
                for i in range(m):
                    t[i] = fade(t[i])
            elif profile == 4:
                for i in range(m):
                    t[i] = t[i] ** at(power, lo + i)
            elif profile == 5:
                last = table.shape[0] - 1
                for i in range(m):
                    place = t[i] * float32(last)
                    k = min(int(place), last - 1)
                    t[i] = table[k] + (place - float32(k)) * (table[k + 1] - table[k])
            if invert:
                for i in range(m):
                    t[i] = one - t[i]
            if mode == 1:
                for i in range(m):
                    t[i] = base[i] * t[i]
            elif mode == 2:
                for i in range(m):
                    t[i] = base[i] + t[i]
            elif mode == 3:
                for i in range(m):
                    t[i] = base[i] - t[i]
            elif mode == 4:
                for i in range(m):
                    t[i] = max(base[i], t[i])
            elif mode == 5:
                for i in range(m):
                    t[i] = min(base[i], t[i])
            for i in range(m):
                mixed = min(max(t[i], zero), one)
                result[i] = base[i] + share[i] * (mixed - base[i])


def lay(
    below: np.ndarray,
    course: np.ndarray,
    *,
    profile: str = "linear",
    power: np.ndarray = TWO,
    table: np.ndarray = LINE,
    invert: bool = False,
    mode: str = "replace",
    strength: np.ndarray = ONE,
) -> np.ndarray:
    """Shape a layer's course and blend it over the layers below.

    smooth is 3t² - 2t³; smoother is 6t⁵ - 15t⁴ + 10t³ (Perlin 2002).

    below, course, power, strength : (1,) or (P,) float32; strength from 0 to 1
    returns (P,) float32 from 0 to 1
    """
    out = np.empty(max(len(below), len(course), len(power), len(strength)), np.float32)
    _lay(
        below,
        course,
        PROFILES.index(profile),
        power,
        table,
        invert,
        BLENDS.index(mode),
        strength,
        out,
    )
    return out


def _course(mesh: Mesh, layer: ResolvedLayer, own: Resolved, context: Context) -> np.ndarray:
    if layer.carried is not None:
        context = replace(context, carried=layer.carried)
    return layer.definition.apply(mesh, own, context)


def _shape(common: Resolved) -> dict[str, Any]:
    profile = common.word("profile")
    return {
        "profile": profile,
        "power": common.array("power"),
        "table": profile_table(common.word("curve")) if profile == "curve" else LINE,
        "invert": common.word("invert"),
    }


def shaped(mesh: Mesh, layer: ResolvedLayer, context: Context) -> np.ndarray:
    """A layer alone: its course after profile and inversion, (P,) float32 from 0 to 1."""
    shape = _shape(layer.common)
    read = layer.common.word("read")
    own = over(layer.own, mesh, context)
    if read == "points":
        return lay(ONE, _course(mesh, layer, own, context), **shape)
    elements = elements_of(mesh, read)
    if layer.definition.surface:
        # What looks around itself needs the surface; a unit then has the mean of its points.
        course = _course(mesh, layer, own, context)
        return elements.at_points(elements.read(lay(ONE, course, **shape)))
    count = len(mesh.points)
    numbers = {
        name: elements.read(array.astype(np.float32)) if array.shape == (count,) else array
        for name, array in own.numbers.items()
    }
    course = _course(elements.as_points(), layer, replace(own, numbers=numbers), context)
    return elements.at_points(lay(ONE, course, **shape))


def weights(
    mesh: Mesh,
    layers: Sequence[ResolvedLayer],
    context: Context,
    states: Mapping[str, np.ndarray | None] | None = None,
) -> np.ndarray:
    """Weight of each point, (P,) float32, or (1,) where there is no layer.

    states : what layers that remember know, by their ids
    """
    total = ONE
    for index, layer in enumerate(layers):
        mode = layer.common.word("blend") if index else "replace"
        strength = over(layer.common, mesh, context).array("strength") / np.float32(100.0)
        if layer.memory is None and layer.common.word("read") == "points":
            # Shaped and blended in one pass.
            course = _course(mesh, layer, over(layer.own, mesh, context), context)
            total = lay(total, course, mode=mode, strength=strength, **_shape(layer.common))
            continue
        own = shaped(mesh, layer, context)
        if layer.memory is not None and states is not None:
            own = layer.memory.emit(states.get(layer.id), context.frame, own)
        total = lay(total, own, mode=mode, strength=strength)
    return total


def describe_layer(layer: Mapping[str, Any]) -> str:
    """A layer in a word or two, for the summary of a closed ribbon."""
    words = definitions("layer")[layer["layer"]].title.lower()
    return f"not {words}" if layer.get("invert") else words
