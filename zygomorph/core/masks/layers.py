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

from zygomorph.core.catalogue import definitions
from zygomorph.core.context import Context
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, number, switch

ONE = np.ones(1, np.float32)

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
    key: str
    own: Resolved
    common: Resolved


def shape(course: np.ndarray, profile: str, power: float = 2.0) -> np.ndarray:
    """Apply a profile to a course from 0 to 1.

    smooth is 3t² - 2t³; smoother is 6t⁵ - 15t⁴ + 10t³ (Perlin 2002).
    """
    t = np.clip(course, 0.0, 1.0)
    if profile == "hard":
        return (t >= 0.5).astype(t.dtype)
    if profile == "smooth":
        return t * t * (3 - 2 * t)
    if profile == "smoother":
        return t * t * t * (t * (t * 6 - 15) + 10)
    if profile == "power":
        return t ** np.asarray(power, t.dtype)
    return t


def blend(below: np.ndarray, layer: np.ndarray, mode: str, strength: float) -> np.ndarray:
    """Blend a layer (0 to 1) into the layers below it, (P,) float32."""
    if mode == "multiply":
        mixed = below * layer
    elif mode == "add":
        mixed = below + layer
    elif mode == "subtract":
        mixed = below - layer
    elif mode == "lighten":
        mixed = np.maximum(below, layer)
    elif mode == "darken":
        mixed = np.minimum(below, layer)
    else:
        mixed = layer
    return np.clip(below + np.float32(strength) * (mixed - below), 0.0, 1.0)


def weights(mesh: Mesh, layers: Sequence[ResolvedLayer], context: Context) -> np.ndarray:
    """Weight of each point, (P,) float32, or (1,) where there is no layer."""
    total: np.ndarray | None = None
    for layer in layers:
        course = definitions("layer")[layer.key].apply(mesh, layer.own, context)
        power = layer.common.scalar("power")
        weight = shape(course, layer.common.word("profile"), power)
        if layer.common.word("invert"):
            weight = np.float32(1.0) - weight
        strength = layer.common.scalar("strength") / 100.0
        if total is None:
            total = weight if strength == 1.0 else blend(ONE, weight, "replace", strength)
        else:
            total = blend(total, weight, layer.common.word("blend"), strength)
    return ONE if total is None else np.ascontiguousarray(total, np.float32)


def describe_layer(layer: Mapping[str, Any]) -> str:
    """A layer in a word or two, for the summary of a closed ribbon."""
    words = definitions("layer")[layer["layer"]].title.lower()
    return f"not {words}" if layer.get("invert") else words
