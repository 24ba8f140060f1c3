"""Layers of a mask: profiles, and how layers blend in order.

A layer first gives a course from 0 to 1, the profile shapes it, invert turns it over, and it is
then blended into what the layers above it made. The first layer has nothing below it and
replaces.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import float32, prange, types

from zygomorph.core.catalogue import Definition, definitions
from zygomorph.core.compiled import BLOCK, CHUNKS, F1, F1W, at, first_of, kernel, load
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.noise.lattice import fade
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, number, switch

ONE = np.ones(1, np.float32)
TWO = np.full(1, 2, np.float32)

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
    ),
    "invert": switch(False, "Invert", "Where it was 1 it is 0, and the other way round."),
}


@dataclass(frozen=True)
class ResolvedLayer:
    definition: Definition
    own: Resolved
    common: Resolved


PROFILES = ("hard", "linear", "smooth", "smoother", "power")
BLENDS = ("replace", "multiply", "add", "subtract", "lighten", "darken")


@kernel(types.void(F1, F1, types.int32, F1, types.boolean, types.int32, F1, F1W))
def _lay(below, course, profile, power, invert, mode, strength, out):  # type: ignore[no-untyped-def]
    """Shape a course and blend it over what is below, in one pass over the points.

    profile, mode : numbers of PROFILES and BLENDS; 0 for the first layer's blend
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
        invert,
        BLENDS.index(mode),
        strength,
        out,
    )
    return out


def weights(mesh: Mesh, layers: Sequence[ResolvedLayer], context: Context) -> np.ndarray:
    """Weight of each point, (P,) float32, or (1,) where there is no layer."""
    total = ONE
    for index, layer in enumerate(layers):
        course = layer.definition.apply(mesh, layer.own, context)
        total = lay(
            total,
            course,
            profile=layer.common.word("profile"),
            power=layer.common.array("power"),
            invert=layer.common.word("invert"),
            mode=layer.common.word("blend") if index else "replace",
            strength=layer.common.array("strength") / np.float32(100.0),
        )
    return total


def describe_layer(layer: Mapping[str, Any]) -> str:
    """A layer in a word or two, for the summary of a closed ribbon."""
    words = definitions("layer")[layer["layer"]].title.lower()
    return f"not {words}" if layer.get("invert") else words
