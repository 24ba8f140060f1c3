"""Copies along the curves of another piece, evenly by length."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.curve_frames import curve_frames
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.placements import COPY_BYTES
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.copy_places import placed
from zygomorph.core.values.copy_values import UNEVEN_VALUES
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, saw
from zygomorph.core.values.value import number, piece, switch, whole


def _along(
    topology: Topology, points: np.ndarray, curve: int, shares: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Places, directions and sides at shares of a curve's length: numbers of entries before and
    after, and how far between them; (n,) each."""
    lo, hi = topology.curve_starts[curve], topology.curve_starts[curve + 1]
    order = np.arange(lo, hi)
    if topology.curve_closed[curve]:
        order = np.append(order, lo)
    steps = np.linalg.norm(np.diff(points[topology.curve_points[order]], axis=0), axis=1)
    length = np.concatenate([[0.0], np.cumsum(steps)])
    wanted = shares * length[-1]
    at = np.clip(np.searchsorted(length, wanted, side="right") - 1, 0, max(len(order) - 2, 0))
    span = np.maximum(length[np.minimum(at + 1, len(order) - 1)] - length[at], 1e-12)
    between = np.clip((wanted - length[at]) / span, 0, 1)
    return order[at], order[np.minimum(at + 1, len(order) - 1)], between


def _shares(values: Resolved, count: int, closed: bool) -> np.ndarray:
    """(count,) from 0 to 1: on a closed curve they go on round it, on an open one they end."""
    begin, end = values.scalar("begin") / 100, values.scalar("end") / 100
    whole_round = closed and abs(end - begin) >= 1
    steps = count if whole_round else max(count - 1, 1)
    shares = begin + (end - begin) * np.arange(count) / steps + values.scalar("offset") / 100
    if closed:
        return shares - np.floor(shares)
    if values.scalar("offset"):
        # What goes off the end comes in at the beginning.
        return np.where((shares < 0) | (shares > 1), shares - np.floor(shares), shares)
    return np.clip(shares, 0, 1)


def apply(geometry: Geometry, values: Resolved, context: Context) -> np.ndarray:
    other = context.other(values.discrete("piece"))
    topology = other.mesh.topology
    if topology.curve_count == 0:
        raise ZygomorphError(
            f"“{other.name}” has no curves.", "Choose a line, a circle, a helix, strands or a path."
        )
    count = values.count("count")
    total = count * topology.curve_count
    within_budget(total, COPY_BYTES, unit="copies", hint="Make fewer of them")
    points = transformed(other.mesh.points, other.matrix).astype(np.float64)
    along, side = curve_frames(topology, points)
    ordered = points[topology.curve_points]
    before, after, between = (
        np.concatenate(parts)
        for parts in zip(
            *(
                _along(topology, points, k, _shares(values, count, bool(closed)))
                for k, closed in enumerate(topology.curve_closed)
            ),
            strict=True,
        )
    )
    share = between[:, None]
    places = ordered[before] * (1 - share) + ordered[after] * share
    linear = None
    if values.discrete("aligned"):
        y = along[before] * (1 - share) + along[after] * share
        y /= np.maximum(np.linalg.norm(y, axis=1, keepdims=True), 1e-12)
        x = side[before] * (1 - share) + side[after] * share
        x -= y * np.einsum("ij,ij->i", x, y)[:, None]
        x /= np.maximum(np.linalg.norm(x, axis=1, keepdims=True), 1e-12)
        linear = np.stack([x, y, np.cross(x, y)], axis=2)
    return placed(places, linear, np.arange(total), values)


DEFINITION = CopiesDefinition(
    key="along",
    title="Copies along a curve",
    group=REPEAT,
    help="Copies evenly along the curves of another piece; a mask makes them smaller.",
    also=("path", "chain", "beads", "train", "follow", "instances", "spline", "fence"),
    values={
        "piece": piece("Along", "The piece whose curves they stand on."),
        "count": whole(20, "Copies", "On each curve.", (1, 200), hard=(1, 1_000_000), scale="log"),
        "aligned": switch(True, "Aligned", "Their y axis points along the curve."),
        "begin": number(0.0, "From", "Of the length.", "%", (0.0, 100.0), main=False),
        "end": number(100.0, "To", "Of the length.", "%", (0.0, 100.0), main=False),
        "offset": number(
            0.0,
            "Offset",
            "How far all have moved along; 100 is once round.",
            "%",
            (0.0, 100.0),
            period=100.0,
            idle=0.0,
        ),
        **UNEVEN_VALUES,
    },
    sentence="Along {piece} {count} copies[, moved on by {offset}][, sizes from {smallest}]",
    apply=apply,
    acts_on=lambda mesh: len(mesh.points) > 0,
    specimen=Specimen(
        ("box", {"size": [0.16, 0.07, 0.16]}),
        {"piece": "o", "count": 42, "offset": saw(0.0, 100.0)},
        other=("helix", {"radius": 0.5, "end_radius": 0.5, "height": 0.9, "turns": 2.0}),
    ),
    order=40,
)
