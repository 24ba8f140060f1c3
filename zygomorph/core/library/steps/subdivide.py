"""Subdivide: every face becomes several, in its plane or rounded."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.subdivision import points_after, subdivided
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import choice, whole


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    topology = mesh.topology
    if topology.face_count == 0:
        raise ZygomorphError("There are no faces here.", "Curves and loose points have none.")
    levels, smooth = values.count("levels"), values.discrete("way") == "smooth"
    faces = np.ones(topology.face_count, bool) if chosen is None else chosen
    if levels:
        # Each level after the first has about four times as many points.
        within_budget(points_after(topology, faces, smooth) * 4 ** (levels - 1))
    return subdivided(topology, levels, smooth, faces)


DEFINITION = TopologyDefinition(
    key="subdivide",
    title="Subdivide",
    group=MAKE,
    help="Makes several faces of each; a mask says of which.",
    also=("refine", "divide", "tessellate", "catmull", "clark", "smooth", "resolution"),
    values={
        "way": choice(
            "smooth",
            "Way",
            "Round the surface (Catmull–Clark), or keep its shape.",
            {"smooth": "rounded", "plain": "in the same shape"},
        ),
        "levels": whole(
            1,
            "Levels",
            "Each makes four faces of every quad.",
            (0, 4),
            hard=(0, 8),
            draft=True,
            begins=(1, 2),
            tested_to=3,
        ),
    },
    sentence="Subdivide {levels} times, {way}",
    structure=structure,
    changes_with=frozenset({"way", "levels", MASK_INPUT}),
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("box", {"size": [0.9, 0.9, 0.9], "across": 1, "up": 1, "deep": 1}),
        {"levels": {"signal": "cycle", "shape": "triangle", "low": 0, "high": 3}},
        before=[{"step": "twist", "values": {"angle": 40.0}}],
    ),
    order=62,
)
