"""Dual: faces and points change places."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.dual import dual
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import switch


def structure(mesh: Mesh, values: Resolved, mask: None) -> Structure:
    within_budget(len(mesh.topology.corners))
    made = dual(mesh.topology, values.discrete("rim"))
    if made.topology.face_count == 0:
        raise ZygomorphError(
            "No point has faces all round, so that the dual would have no faces.",
            "Keep the rim, or subdivide first.",
        )
    return made


DEFINITION = TopologyDefinition(
    key="dual",
    title="Dual",
    group=MAKE,
    help="A point for each face, and a face for each point: triangles become honeycombs.",
    also=("honeycomb", "hexagons", "pentagons", "cells", "invert"),
    values={
        "rim": switch(
            True, "Keep the rim", "An open surface ends where it did, and loses no strip of faces."
        ),
    },
    sentence="Faces and points change places",
    structure=structure,
    forgets_smoothing=True,
    changes_with=frozenset({"rim"}),
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 2}),
        after=[
            {"step": "extrude", "values": {"depth": sine(0.0, 0.2), "inset": 0.03}},
        ],
        values={"rim": True},
    ),
    order=66,
)
