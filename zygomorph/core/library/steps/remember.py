"""Remember: keep what the points are at this place of the recipe, for later steps and looks."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.mesh import MASK, REST, Mesh
from zygomorph.core.normals import point_normals
from zygomorph.core.resolve import Resolved
from zygomorph.core.steps.others import matching_points
from zygomorph.core.values import choice, piece, text

AXES = {"x": 0, "y": 1, "z": 2}


def _source(mesh: Mesh, values: Resolved, context: Context) -> tuple[Mesh, np.ndarray]:
    """The mesh that is remembered, and its points as this piece sees them."""
    if values.word("source") == "here":
        return mesh, mesh.points
    other = context.other(values.word("piece"))
    return other.mesh, matching_points(mesh, other)


def _value(mesh: Mesh, points: np.ndarray, what: str, weights: np.ndarray) -> np.ndarray:
    """(P,) float32 of what is kept under a name."""
    count = len(points)
    if what == "mask":
        return np.broadcast_to(weights, count).astype(np.float32)
    if what == "order":
        return (np.arange(count) / max(count - 1, 1)).astype(np.float32)
    if what == "upright":
        return np.ascontiguousarray(point_normals(mesh)[:, 1])
    along = points[:, AXES[what]]
    low, high = float(along.min(initial=0.0)), float(along.max(initial=0.0))
    return ((along - low) / max(high - low, 1e-9)).astype(np.float32)


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    source, points = _source(mesh, values, context)
    what = values.word("what")
    if what == "rest":
        rest = points
        if len(weights) > 1 or weights[0] != 1:
            rest = (mesh.rest + weights[:, None] * (points - mesh.rest)).astype(np.float32)
        return mesh.with_attribute("point", REST, rest)
    name = values.word("name").strip()
    if not name:
        raise ZygomorphError("The value has no name.", "Give it the name under which it is kept.")
    return mesh.with_attribute("point", MASK + name, _value(source, points, what, weights))


DEFINITION = Definition(
    sort="step",
    key="remember",
    title="Remember",
    group="join",
    help="Keeps the shape as the rest shape, or a value of the points under a name.",
    also=("rest", "freeze", "reference", "rest shape"),
    values={
        "what": choice(
            "rest",
            "What",
            "The shape that noise and displacement are measured on, or a value for masks.",
            {
                "rest": "the rest shape",
                "mask": "this step's mask",
                "order": "the order of points",
                "x": "the place along x",
                "y": "the place along y",
                "z": "the place along z",
                "upright": "how upright it faces",
            },
        ),
        "name": text(
            "mine",
            "Name",
            "Later masks find the value under this name.",
            shown_when=("what", ("mask", "order", "x", "y", "z", "upright")),
        ),
        "source": choice(
            "here",
            "From",
            "This place of the recipe, or another piece with as many points.",
            {"here": "this place", "piece": "another piece"},
        ),
        "piece": piece("Piece", "The other piece.", shown_when=("source", ("piece",))),
    },
    sentence="Remember {what}[ as “{name}”][ from {piece}]",
    apply=apply,
    rigid=False,
    reads=frozenset({"place"}),
    order=30,
)
