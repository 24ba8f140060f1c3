"""Near a border or a sharp edge, by the distance along the surface."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import Elements
from zygomorph.core.geometry.geodesic import distance_from
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.at_rest import once_at_rest
from zygomorph.core.masking.measured import now_or_at_rest
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, number


def sharp_points(mesh: Mesh, angle: float) -> np.ndarray:
    """(P,) bool: points of edges where the faces' normals differ by more than an angle, °."""
    found = np.zeros(len(mesh.points), bool)
    topology = mesh.topology
    if topology.face_count == 0:
        return found
    normals = Elements(mesh, "face").normals().astype(np.float64)
    sides = np.sort(topology.sides_of_faces, axis=1)
    order = np.lexsort((sides[:, 1], sides[:, 0]))
    same = np.all(sides[order[1:]] == sides[order[:-1]], axis=1)
    one, two = topology.corner_face[order[1:][same]], topology.corner_face[order[:-1][same]]
    cosine = np.einsum("ij,ij->i", normals[one], normals[two])
    found[sides[order[1:][same][cosine < np.cos(np.radians(angle))]]] = True
    return found


def _away(mesh: Mesh, what: str, angle: float) -> np.ndarray:
    """(P,) float32 metres along the surface from the nearest border or sharp edge."""
    seeds = np.zeros(len(mesh.points), bool)
    if what in ("border", "both"):
        seeds |= mesh.topology.border
    if what in ("sharp", "both"):
        seeds |= sharp_points(mesh, angle)
    found = distance_from(mesh.topology, mesh.points, np.flatnonzero(seeds), lines=True)
    return np.minimum(found, 1e9).astype(np.float32)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    what, angle = values.discrete("what"), round(values.scalar("angle"), 3)
    if values.discrete("measured") == "rest":
        at = replace(mesh, points=mesh.rest)
        away = once_at_rest(mesh, ("border", what, angle), lambda: _away(at, what, angle))
    else:
        away = _away(mesh, what, angle)
    return np.float32(1) - away / np.maximum(values.array("width"), np.float32(1e-6))


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    size = float((mesh.points.max(axis=0) - mesh.points.min(axis=0)).max())
    what = "border" if mesh.topology.border.any() else "sharp"
    return {"what": what, "width": float(f"{size * 0.15:.2g}") or 0.2}


def has_some(mesh: Mesh) -> bool:
    """Whether some points are at a border or sharp edge, and others are not."""
    values = suggest(mesh)
    found = mesh.topology.border if values.get("what") == "border" else sharp_points(mesh, 30.0)
    return bool(found.any() and not found.all())


DEFINITION = MaskDefinition(
    key="border",
    title="Border or edge",
    group=SURFACE,
    help="1 at the rim of an open surface or at sharp edges, falling off along the surface.",
    also=("edge", "rim", "outline", "open edge"),
    values={
        "what": choice(
            "border",
            "Near",
            "What it falls off from.",
            {"border": "the border", "sharp": "sharp edges", "both": "both"},
        ),
        "width": number(
            0.2, "Width", "From weight 1 to weight 0.", "m", (0.01, 3.0), hard=(0.0, 1e6)
        ),
        "angle": number(
            30.0,
            "Sharper than",
            "How far the faces on both sides of an edge are turned from each other.",
            "°",
            (1.0, 179.0),
            hard=(0.0, 180.0),
            shown_when=("what", ("sharp", "both")),
        ),
        "measured": now_or_at_rest("rest"),
    },
    sentence="near {what}",
    apply=apply,
    acts_on=has_some,
    per_element=frozenset({"width"}),
    reach="neighbourhood",
    suggest=suggest,
    on_copies="base",
    order=56,
)
