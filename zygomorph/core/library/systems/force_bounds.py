"""Bounds: points of a system bounce off another piece, stay inside of it, or stick to it."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context, Other
from zygomorph.core.animation.other_pieces import search_other
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.values.definitions import ForceDefinition
from zygomorph.core.values.groups import FORCES
from zygomorph.core.values.specimen import moving_swarm
from zygomorph.core.values.value import choice, number, piece

# How far from a surface points are put that it keeps, metres.
CLEAR = 1e-4
SMALL = ("icosphere", {"radius": 0.66, "halvings": 3})


class _Surface:
    """The surface of another piece as this one sees it."""

    def __init__(self, other: Other, context: Context) -> None:
        self.search = search_other(other, context)
        points = transformed(other.mesh.points, other.matrix).astype(np.float64)
        self._corners = points[other.mesh.topology.triangles(other.mesh.points)]

    def outward(self, places: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Of the nearest place of it: where that is, (K, 3), its normal, (K, 3), and how far on
        the outer side of it each point is, (K,), below 0 inside."""
        found, _, face = self.search.nearest(places.astype(np.float64))
        corners = self._corners[np.maximum(face, 0)]
        out = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        out /= np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-30)
        return found, out, np.einsum("ij,ij->i", places - found, out)


def hold(
    before: np.ndarray,
    after: np.ndarray,
    speeds: np.ndarray,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
) -> tuple[np.ndarray, np.ndarray, np.ndarray | None]:
    surface = _Surface(context.other(values.discrete("piece")), context)
    way = values.discrete("way")
    found, out, away = surface.outward(after)
    side = -1.0 if way == "inside" else 1.0
    through = side * away < 0
    if way != "inside":
        # A fast point may have passed all of it in one step.
        gone = after - before
        far = np.linalg.norm(gone, axis=1)
        distance, face = surface.search.cast(before, gone / np.maximum(far, 1e-12)[:, None])
        passed = (face >= 0) & (distance < far) & ~through
        if passed.any():
            met = before[passed] + gone[passed] * (distance[passed] / far[passed])[:, None]
            found[passed], out[passed], _ = surface.outward(met)
            through = through | passed
    through &= np.broadcast_to(weights > 0.5, through.shape)
    if not through.any():
        return after, speeds, None
    places, moved = after.copy(), speeds.copy()
    normal = side * out[through]
    places[through] = found[through] + CLEAR * normal
    own = moved[through]
    into = np.einsum("ij,ij->i", own, normal)[:, None]
    bounce = np.broadcast_to(values.array("bounce"), through.shape)[through][:, None] / 100
    rubs = np.broadcast_to(values.array("friction"), through.shape)[through][:, None] / 100
    along = own - into * normal
    moved[through] = (1 - rubs) * along + np.where(into < 0, -bounce * into, into) * normal
    held = through if way == "sticks" else None
    if held is not None:
        moved[held] = 0
    return places, moved, held


DEFINITION = ForceDefinition(
    key="force_bounds",
    title="Force: bounds",
    group=FORCES,
    help="Points of a system below bounce off another piece, stay inside of it, or stick to it.",
    also=("collide", "bounce", "floor", "container", "obstacle", "stick", "wall", "inside"),
    values={
        "piece": piece("Piece", "Whose surface they meet."),
        "way": choice(
            "off",
            "They",
            "What happens where they meet it.",
            {"off": "bounce off", "inside": "stay inside", "sticks": "stick to it"},
        ),
        "bounce": number(
            30.0, "Bounce", "Speed that is left away from it.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
        "friction": number(
            10.0, "Friction", "Speed lost along it.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
    },
    sentence="Bounds: {way} {piece}",
    hold=hold,
    per_element=frozenset({"bounce", "friction"}),
    specimen=moving_swarm({"piece": "o", "way": "inside"}, SMALL, scatter=1.2),
    order=270,
)
