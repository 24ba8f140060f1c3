"""A ring: a circle or polygon carried round a larger circle, its section turned on the way."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.grid import grid_topology
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.memo.memo import called
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import X, Y, Z, reach, turn
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import fineness, number, whole


def _section(sides: int, cells: int) -> tuple[np.ndarray, np.ndarray]:
    """A polygon of radius 1 whose sides have several cells: (N,) outwards and (N,) upwards."""
    corner = np.arange(sides)[:, None]
    share = np.arange(cells)[None, :] / cells
    angles = 2 * np.pi / sides * np.stack([corner, corner + 1])
    across = (1 - share) * np.cos(angles[0]) + share * np.cos(angles[1])
    up = (1 - share) * np.sin(angles[0]) + share * np.sin(angles[1])
    return across.ravel(), up.ravel()


def apply(values: Resolved, context: Context) -> Mesh:
    around, sides, cells = values.count("around"), values.count("section"), values.count("cells")
    section = sides * cells
    within_budget(around * section)
    topology, uv = called(
        context.memo, grid_topology, section, around, wrap_columns=True, wrap_rows=True
    )
    u = 2 * np.pi * np.arange(around)[:, None] / around
    # Whole sides, the section's own symmetry, so that the last ring meets the first.
    turn = np.radians(values.scalar("turn")) + u * values.count("winding") / sides
    across, up = _section(sides, cells)
    tube = values.scalar("tube_radius")
    from_axis = values.scalar("ring_radius") + tube * (across * np.cos(turn) - up * np.sin(turn))
    points = np.empty((around, section, 3), np.float32)
    points[..., 0] = from_axis * np.cos(u)
    points[..., 1] = tube * (across * np.sin(turn) + up * np.cos(turn))
    points[..., 2] = -from_axis * np.sin(u)
    flat = points.reshape(-1, 3)
    shift = values.count("winding") * cells % section
    if shift:
        topology = _joined_with_offset(topology, around, section, shift)
    return Mesh(flat, topology, {"point": {"rest": flat}, "corner": {"uv": uv}})


def _joined_with_offset(topology: Topology, around: int, section: int, shift: int) -> Topology:
    """Faces of a torus whose last ring meets the first ``shift`` points further on."""
    corners = topology.corners.reshape(-1, 4).copy()
    last = corners[(around - 1) * section :]
    last[:, 1:3] = (last[:, 1:3] + shift) % section
    return Topology(topology.point_count, corners.reshape(-1), topology.face_starts)


DEFINITION = FormDefinition(
    key="torus",
    title="Torus",
    group=SURFACES,
    help="A ring; with few sides its section shows, and can be turned or wound.",
    also=("ring", "donut", "doughnut", "hoop"),
    values={
        "ring_radius": number(
            0.7,
            "Ring radius",
            "From the middle of the ring to the middle of its section.",
            "m",
            (0.05, 3.0),
            hard=(0.0, 1e6),
        ),
        "tube_radius": number(
            0.25, "Tube radius", "Radius of the section.", "m", (0.01, 1.0), hard=(0.0, 1e6)
        ),
        "turn": number(
            0.0,
            "Turn of section",
            "Turns the section about the ring's own line.",
            "°",
            (-180.0, 180.0),
            period=360.0,
        ),
        "around": fineness(
            160, "Around", "Sections along the ring.", (160, 320), (3, 400), (3, 4000)
        ),
        "section": fineness(48, "Section", "Sides of the section.", (48, 96), (3, 96), (3, 2000)),
        "cells": whole(
            1,
            "Cells a side",
            "More let a section of few sides twist and bend without creases.",
            (1, 16),
            hard=(1, 200),
            scale="log",
            draft=True,
            main=False,
        ),
        "winding": whole(
            0,
            "Winding",
            "Sides by which the section has turned after one round.",
            (-12, 12),
            "sides",
            hard=(-2000, 2000),
            main=False,
        ),
    },
    sentence="Ring of {ring_radius}, tube of {tube_radius}, {around} by {section}",
    apply=apply,
    grips=(
        reach("ring_radius", X),
        reach("tube_radius", Y, ("ring_radius", X)),
        turn("turn", Z, ("ring_radius", X), round="tube_radius"),
    ),
    specimen=Specimen(
        values={"ring_radius": 0.65, "tube_radius": 0.27, "around": 28, "section": 12, "cells": 1}
    ),
    order=30,
)
