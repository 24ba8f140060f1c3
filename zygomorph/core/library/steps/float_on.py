"""Float: go along with the motion of another piece's surface, up and down, to the sides, tilted.

What floats was somewhere over the surface at rest, and goes where the surface there has gone,
smoothed over a radius: a wide boat does not feel small waves.
"""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import inverse, transformed
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import UNIT, Mesh
from zygomorph.core.geometry.surface_motion import Near, motions, near, tilts
from zygomorph.core.kernels.along_directions import carry
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import choice, number, piece

ONE = np.ones(1, np.float32)


def _near(other: Other, places: np.ndarray, radius: float, context: Context) -> Near:
    """Found once for places that stay on a surface that is at rest as it was."""
    rest = other.mesh.rest
    key = ("floats", id(rest), places.tobytes(), radius)
    kept: tuple[np.ndarray, Near] = context.memo.once(
        key, lambda: (rest, near(rest, places, radius))
    )
    return kept[1]


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    other = context.other(values.discrete("piece"))
    if len(mesh.points) == 0:
        return mesh
    if len(other.mesh.points) == 0:
        raise ZygomorphError(f"“{other.name}” has no points.", "Choose a piece with a surface.")
    # Copies and shards ride each for themselves.
    whole = values.discrete("rides") == "whole" and mesh.get("point", UNIT) is None
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    places = ((low + high) / 2)[None] if whole else mesh.points
    seen = transformed(places, inverse(other.matrix))
    found = _near(other, seen, values.scalar("radius"), context)
    motion, *slopes = motions(other.mesh.rest, other.mesh.points, found)
    back = other.matrix[:3, :3]
    drift = values.scalar("drift") / 100
    ways = (motion * np.array([drift, 1.0, drift])) @ back.T
    ways = ways + back[:, 1] * values.scalar("rise")
    if whole:
        along_x, along_z = slopes
        tilt = tilts(along_x, along_z, np.full(1, values.scalar("tilt") / 100))[0]
        turn = back @ tilt @ inverse(back)
        ways = (mesh.points - places) @ (turn - np.eye(3)).T + ways
    vectors = np.ascontiguousarray(ways, np.float32)
    amount = np.ascontiguousarray(values.numbers["amount"] / 100, np.float32)
    return mesh.moved(carry(mesh.points, vectors, amount, weights))


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"radius": found.share(0.5)} if found else {}


DEFINITION = DeformDefinition(
    key="float",
    title="Float",
    group=JOIN,
    help="Goes along with the surface of another piece: up and down, to the sides, and tilted.",
    also=("ride", "buoy", "boat", "bob", "cork", "carried by water", "drift"),
    values={
        "piece": piece("On", "The piece whose surface carries it."),
        "radius": number(
            0.3,
            "Smoothed over",
            "Waves that are shorter are not felt.",
            "m",
            (0.01, 5.0),
            scale="log",
            hard=(1e-4, 1e6),
        ),
        "amount": number(100.0, "Amount", "How much of the motion it takes.", "%", (0.0, 100.0)),
        "tilt": number(
            100.0,
            "Tilt",
            "How much of the slope it takes; copies and shards tilt where that is what moves.",
            "%",
            (0.0, 100.0),
            hard=(-1000.0, 1000.0),
        ),
        "drift": number(
            100.0, "Sideways", "How much of the motion to the sides it takes.", "%", (0.0, 100.0)
        ),
        "rise": number(
            0.0, "Higher", "Above the place where it stands at rest.", "m", (-0.5, 0.5), idle=0.0
        ),
        "rides": choice(
            "whole",
            "A mesh rides",
            "As one body, or each point for itself, which bends it.",
            {"whole": "as a whole", "each": "point by point"},
            main=False,
        ),
    },
    sentence="Float on {piece}, smoothed over {radius}",
    apply=apply,
    per_element=frozenset({"amount"}),
    suggest=suggest,
    amounts=("amount",),
    on_copies="tilted",
    specimen=Specimen(
        ("icosphere", {"radius": 0.25, "halvings": 3}),
        {"piece": "o", "radius": 0.3},
        other=("sheet", {"width": 1.9, "depth": 1.9, "columns": 60, "rows": 60}),
        other_after=[
            {"step": "wave", "values": {"amplitude": 0.16, "wavelength": 1.3, "phase": saw(0, 1)}}
        ],
        shows_other=True,
    ),
    order=40,
)
