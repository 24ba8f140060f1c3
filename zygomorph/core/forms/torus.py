"""A ring: a circle or polygon carried round a larger circle, its section turned on the way."""

from __future__ import annotations

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context, within_budget
from zygomorph.core.forms.grid import grid_topology
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import number, whole


def apply(values: Resolved, context: Context) -> Mesh:
    around, section = values.count("around"), values.count("section")
    within_budget(around * section)
    topology, uv = grid_topology(section, around, wrap_columns=True, wrap_rows=True)
    turn = np.radians(values.scalar("turn"))
    # Whole turns of the section's own symmetry, so that the last ring meets the first.
    advance = 2 * np.pi * values.count("winding") / section
    u = 2 * np.pi * np.arange(around)[:, None] / around
    v = 2 * np.pi * np.arange(section)[None, :] / section + turn + advance * u / (2 * np.pi)
    tube = values.scalar("tube_radius")
    from_axis = values.scalar("ring_radius") + tube * np.cos(v)
    shape = np.broadcast_shapes(u.shape, v.shape)
    points = np.empty((*shape, 3), np.float32)
    points[..., 0] = from_axis * np.cos(u)
    points[..., 1] = tube * np.sin(v)
    points[..., 2] = -from_axis * np.sin(u)
    points = points.reshape(-1, 3)
    if values.count("winding") % section:
        topology, uv = _joined_with_offset(around, section, values.count("winding"))
    return Mesh(points, topology, {"point": {"rest": points}, "corner": {"uv": uv}})


def _joined_with_offset(around: int, section: int, winding: int):  # type: ignore[no-untyped-def]
    """Faces of a torus whose last ring meets the first ``winding`` points further on."""
    topology, uv = grid_topology(section, around, wrap_columns=True, wrap_rows=True)
    corners = topology.corners.reshape(-1, 4).copy()
    last = corners[(around - 1) * section :]
    last[:, 1:3] = (last[:, 1:3] + winding) % section
    joined = type(topology)(topology.point_count, corners.reshape(-1), topology.face_starts)
    return joined, uv


DEFINITION = Definition(
    sort="form",
    key="torus",
    title="Torus",
    group="make",
    help="A ring; with few sides its section shows, and can be turned or wound.",
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
        ),
        "around": whole(
            160,
            "Around",
            "Sections along the ring.",
            (3, 400),
            hard=(3, 4000),
            scale="log",
            draft=True,
        ),
        "section": whole(
            48, "Section", "Sides of the section.", (3, 96), hard=(3, 2000), scale="log", draft=True
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
    changes_topology=True,
    order=30,
)
