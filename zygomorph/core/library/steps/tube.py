"""Tube: a skin round every curve, on frames that do not twist by themselves."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.curve_frames import curve_frames
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.structure import Structure, unchanged
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.values.definitions import TopologyDefinition
from zygomorph.core.values.grips import Y, reach
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number, switch, whole

# Of a point of a ring, which is found in float64 with its corners and UVs (measured).
RING_BYTES = 450


def _skin(topology: Topology, points: np.ndarray, radius: np.ndarray, sides: int) -> np.ndarray:
    """(C · sides, 3) float32: a ring of points round every point of the curves."""
    along, side = curve_frames(topology, points)
    angle = np.arange(sides) * (2 * np.pi / sides)
    across = np.cross(along, side)
    ring = np.cos(angle)[:, None] * side[:, None] + np.sin(angle)[:, None] * across[:, None]
    centre = points[topology.curve_points][:, None]
    return (centre + radius[:, None, None] * ring).reshape(-1, 3).astype(np.float32)


def skin_topology(topology: Topology, sides: int, caps: bool) -> tuple[Topology, np.ndarray]:
    """Faces between the rings, and (corners, 2) float32 UVs: u around, v along."""
    corners: list[np.ndarray] = []
    uv: list[np.ndarray] = []
    sizes: list[np.ndarray] = []
    turn = np.arange(sides)
    after = (turn + 1) % sides
    u = np.stack([turn, turn + 1, turn + 1, turn], axis=1) / sides
    for curve in range(topology.curve_count):
        lo, hi = topology.curve_starts[curve], topology.curve_starts[curve + 1]
        n = int(hi - lo)
        closed = bool(topology.curve_closed[curve])
        spans = n if closed and n > 2 else n - 1
        if spans < 1:
            continue
        k = np.arange(spans)
        here, there = (lo + k) * sides, (lo + (k + 1) % n) * sides
        quads = np.stack(
            [
                here[:, None] + turn,
                here[:, None] + after,
                there[:, None] + after,
                there[:, None] + turn,
            ],
            axis=2,
        )
        corners.append(quads.reshape(-1))
        v = np.stack([k, k, k + 1, k + 1], axis=1) / spans
        quad_uv = np.empty((spans, sides, 4, 2), np.float32)
        quad_uv[..., 0] = u
        quad_uv[..., 1] = v[:, None]
        uv.append(quad_uv.reshape(-1, 2))
        sizes.append(np.full(spans * sides, 4))
        if caps and not (closed and n > 2):
            round_ = np.stack([np.cos(turn * 2 * np.pi / sides), np.sin(turn * 2 * np.pi / sides)])
            for ring, order in ((lo, turn[::-1]), (hi - 1, turn)):
                corners.append(ring * sides + order)
                uv.append((0.5 + 0.5 * round_.T[order]).astype(np.float32))
                sizes.append(np.array([sides]))
    starts = np.concatenate([[0], np.cumsum(np.concatenate(sizes))]) if sizes else np.zeros(1)
    made = Topology(
        len(topology.curve_points) * sides,
        np.concatenate(corners).astype(np.int32) if corners else np.zeros(0, np.int32),
        starts.astype(np.int32),
    )
    return made, np.concatenate(uv) if uv else np.zeros((0, 2), np.float32)


def structure(mesh: Mesh, values: Resolved, mask: None) -> Structure:
    topology = mesh.topology
    if topology.point_count == 0:
        # What has not begun to grow yet has nothing to put a skin on.
        return unchanged(topology)
    if topology.curve_count == 0:
        raise ZygomorphError(
            "There are no curves here.", "Tube works on lines, circles, helices and strands."
        )
    sides = values.count("sides")
    within_budget(len(topology.curve_points) * sides, RING_BYTES)
    made, uv = skin_topology(topology, sides, values.discrete("caps"))
    origin = Origin.taken(np.repeat(topology.curve_points, sides))
    return Structure(made, {"point": origin}, {"corner": {UV: uv}})


def apply(
    mesh: Mesh, structure: Structure, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    topology = mesh.topology
    if topology.point_count == 0:
        return mesh.points
    lengths = np.diff(topology.curve_starts)
    order = np.arange(len(topology.curve_points)) - np.repeat(topology.curve_starts[:-1], lengths)
    share = order / np.maximum(np.repeat(lengths, lengths) - 1, 1)
    taper = values.scalar("taper") / 100
    radius = values.scalar("radius") * (1 - taper * share)
    radius = radius * (weights[topology.curve_points] if len(weights) > 1 else weights)
    return _skin(topology, mesh.points, radius, values.count("sides"))


DEFINITION = TopologyDefinition(
    key="tube",
    title="Tube",
    group=MAKE,
    help="Puts a round skin on every curve; a mask makes it thinner.",
    also=("sweep", "pipe", "rod", "rope", "cable", "thicken"),
    values={
        "radius": number(
            0.02,
            "Radius",
            "From the curve to the skin.",
            "m",
            (0.001, 0.5),
            scale="log",
            hard=(0.0, 1e6),
        ),
        "sides": whole(
            8,
            "Sides",
            "Points round the curve; 3 make an edged one.",
            (3, 32),
            hard=(3, 400),
            draft=True,
        ),
        "taper": number(
            0.0,
            "Taper",
            "How much thinner the end is than the beginning.",
            "%",
            (0.0, 100.0),
            hard=(-1000.0, 100.0),
            idle=0.0,
        ),
        "caps": switch(True, "Caps", "Close the ends of open curves."),
    },
    sentence="Tube of {radius}, {sides} sides[, {taper} thinner at the end]",
    structure=structure,
    changes_with=frozenset({"sides", "caps"}),
    apply=apply,
    grips=(reach("radius", Y),),
    acts_on=lambda mesh: mesh.topology.curve_count > 0,
    specimen=Specimen(
        (
            "helix",
            {"radius": 0.55, "end_radius": 0.55, "height": 1.2, "turns": 3.0, "count": 160},
        ),
        {"radius": sine(0.02, 0.14), "sides": 12},
    ),
    order=60,
)
