"""Remember: keep what the points are at this place of the recipe, for later steps and looks."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import matching_points
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import MASK, REST, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, piece, text

AXES = {"x": 0, "y": 1, "z": 2}


def _source(mesh: Mesh, values: Resolved, context: Context) -> tuple[Mesh, np.ndarray]:
    """The mesh that is remembered, and its points as this piece sees them."""
    if values.discrete("source") == "here":
        return mesh, mesh.points
    other = context.other(values.discrete("piece"))
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
    what = values.discrete("what")
    if what == "rest":
        rest = points
        if len(weights) > 1 or weights[0] != 1:
            rest = (mesh.rest + weights[:, None] * (points - mesh.rest)).astype(np.float32)
        return mesh.with_attribute("point", REST, rest)
    name = values.discrete("name").strip()
    if not name:
        raise ZygomorphError("The value has no name.", "Give it the name under which it is kept.")
    return mesh.with_attribute("point", MASK + name, _value(source, points, what, weights))


DEFINITION = DeformDefinition(
    key="remember",
    title="Remember",
    group=JOIN,
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
    moves_shards=False,
    prepares=True,
    writes_rest=lambda discrete: discrete["what"] == "rest" and discrete["source"] == "here",
    specimen=Specimen(
        values={"what": "x", "name": "mine"},
        after=[
            {
                "step": "inflate",
                "values": {"amount": sine(0.0, 0.34)},
                "where": {"layers": [{"id": "l", "layer": "stored", "values": {"name": "mine"}}]},
            }
        ],
    ),
    order=30,
)
