"""Drape: lay points on another piece, along a direction or at its nearest place."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.surface_search import FAR, SurfaceSearch
from zygomorph.core.kernels.along_directions import carry
from zygomorph.core.values.definitions import DeformDefinition
from zygomorph.core.values.groups import JOIN
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, direction, number, piece

# Every hit is the other's front for a point, whichever way its faces turn.
AWAY = 1e-9


def _targets(
    points: np.ndarray, values: Resolved, search: SurfaceSearch, limit: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Where points land, (P, 3); how far that is, (P,); whether they hit, (P,) bool."""
    offset = np.broadcast_to(values.numbers["offset"], len(points))[:, None]
    if values.discrete("way") == "nearest":
        found, distance, face = search.nearest(points, limit)
        back = points - found
        back = back / np.maximum(np.linalg.norm(back, axis=1, keepdims=True), AWAY)
        return found + offset * back, distance, face >= 0
    way = unit(values.vector("direction"))[None]
    distance, face = search.cast(points, way, limit)
    hit = face >= 0
    far = np.where(hit, distance, 0.0)[:, None]
    return points + (far - offset) * way, distance, hit


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    search = search_other(context.other(values.discrete("piece")), context)
    limit = values.scalar("limit") or FAR
    targets, distance, hit = _targets(mesh.points, values, search, limit)
    # Points that miss stay where they are.
    ways = np.where(hit[:, None], targets - mesh.points, 0).astype(np.float32)
    share = np.ascontiguousarray(values.numbers["amount"] / 100, np.float32)
    made = mesh.moved(carry(mesh.points, np.ascontiguousarray(ways), share, weights))
    longest = max(float(distance[hit].max(initial=0.0)), AWAY)
    near = np.where(hit, 1 - distance / longest, 0)
    for name, value in (("hit", hit), ("near", near)):
        made = made.with_attribute("point", MASK + name, value.astype(np.float32))
    return made


def suggest(mesh: Mesh) -> dict[str, float]:
    found = extent_of(mesh)
    return {"offset": found.share(0.01)} if found else {}


DEFINITION = DeformDefinition(
    key="drape",
    title="Drape",
    group=JOIN,
    help="Lays the points on another piece; those that miss stay where they are.",
    also=("project", "shrink onto", "cover", "snap", "wrap"),
    values={
        "piece": piece("On", "The piece whose surface the points are laid on."),
        "way": choice(
            "along",
            "Way",
            "Straight along a direction, or each point to the nearest place.",
            {"along": "along a direction", "nearest": "to the nearest place"},
        ),
        "direction": direction(
            (0.0, -1.0, 0.0),
            "Direction",
            "The way the points fall.",
            shown_when=("way", ("along",)),
        ),
        "amount": number(
            100.0,
            "Amount",
            "How much of the way they go.",
            "%",
            (0.0, 100.0),
        ),
        "offset": number(0.01, "Offset", "How far over the surface they end.", "m", (-0.2, 0.2)),
        "limit": number(
            0.0,
            "Limit",
            "Farther than this nothing is hit; 0 is without a limit.",
            "m",
            (0.0, 5.0),
            hard=(0.0, 1e6),
            main=False,
            idle=0.0,
        ),
    },
    sentence="Drape on {piece} {way}",
    apply=apply,
    per_element=frozenset({"amount", "offset"}),
    suggest=suggest,
    handle="arrows",
    amounts=("amount",),
    specimen=Specimen(
        ("sheet", {"width": 1.5, "depth": 1.5, "columns": 60, "rows": 60}),
        {"piece": "o", "amount": sine(0, 100), "offset": 0.02},
        before=[{"step": "place", "values": {"move": [0, 0.5, 0]}}],
        other=("icosphere", {"radius": 0.5, "halvings": 4}),
        shows_other=True,
    ),
    order=10,
)
