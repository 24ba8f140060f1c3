"""What a formula may name at each element of a mesh, and what the names stand for."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import Elements
from zygomorph.core.geometry.uvs import uv_of_corners, uv_of_points
from zygomorph.core.values.value import Value, number

TIME = frozenset({"t", "f", "p"})
# Every letter that means nothing else.
ADDED = tuple("abcdghjklmors")
# What a formula may name, as it is told while one is written.
TOLD = {
    "x y z": "position, m",
    "nx ny nz": "normal",
    "u v": "UV",
    "i": "index of the element, from 0",
    "n": "number of them",
    "q": "i / n",
    "w": "mask, 0 to 1",
    "t": "seconds",
    "f": "frame",
    "p": "share of the loop, 0 to 1",
    " ".join(ADDED): "values of your own",
}
NAMES = frozenset(name for names in TOLD for name in names.split())


def added(name: str, formulas: tuple[str, ...]) -> Value:
    """A value of the artist's own, shown where one of the formulas uses it."""
    return number(
        1.0,
        name,
        "A value of your own that the formula uses by this name.",
        "",
        (-2.0, 2.0),
        mentioned_in=formulas,
    )


def _uv(elements: Elements) -> np.ndarray:
    """(K, 2) float32: of each point, the UV of its first corner; of others, the mean of theirs."""
    if elements.domain == "point":
        return uv_of_points(elements.mesh)
    corners = uv_of_corners(elements.mesh)
    return np.stack([elements.read(column, "corner") for column in corners.T], axis=1)


def named_values(
    elements: Elements,
    values: Resolved,
    context: Context,
    used: frozenset[str],
) -> dict[str, np.ndarray]:
    """(1,) or (K,) float32 of every name that is used, but for the mask's weight."""
    numbers, count = elements.numbers()
    own = [name for name in ADDED if name in values.numbers]
    named = {name: elements.read(values.array(name)) for name in own}
    named |= {k: np.ascontiguousarray(elements.centres[:, axis]) for axis, k in enumerate("xyz")}
    if used & {"nx", "ny", "nz"}:
        normals = elements.normals()
        named |= {k: normals[:, axis] for axis, k in enumerate(("nx", "ny", "nz"))}
    if used & {"u", "v"}:
        uv = _uv(elements)
        named |= {"u": uv[:, 0], "v": uv[:, 1]}
    index = numbers.astype(np.float32)
    alone = {
        "n": count,
        "t": context.frame / context.loop.rate,
        "f": context.frame,
        "p": context.frame / context.loop.frames,
    }
    named |= {k: np.full(1, v, np.float32) for k, v in alone.items()}
    return named | {"i": index, "q": index / np.float32(max(count, 1))}
