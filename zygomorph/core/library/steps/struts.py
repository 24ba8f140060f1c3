"""Struts and knobs: edges become rods, and points balls."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.struts import Frame, positions, struts_and_knobs
from zygomorph.core.shared.strut_values import STRUT_VALUES, suggest_struts
from zygomorph.core.values.definitions import TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine


def structure(mesh: Mesh, values: Resolved, mask: None) -> Frame:
    topology, parts = mesh.topology, values.discrete("parts")
    if len(topology.edges) + topology.curve_count == 0:
        raise ZygomorphError("There are no edges here.", "Loose points have none.")
    sides, halvings = values.count("sides"), values.count("halvings")
    rods = (len(topology.edges) + len(topology.curve_points)) * 2 * sides
    knobs = topology.point_count * (10 * 4**halvings + 2)
    within_budget(
        (rods if parts != "knobs" else 0) + (knobs if parts != "rods" else 0),
        hint="Reduce the mesh first, or choose fewer sides",
    )
    return struts_and_knobs(
        topology, sides, parts != "knobs", halvings if parts != "rods" else None
    )


def apply(
    mesh: Mesh, structure: Frame, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    return positions(mesh, structure, values.array("rod") * weights, values.array("knob") * weights)


DEFINITION = TopologyDefinition(
    key="struts",
    title="Struts and knobs",
    group=MAKE,
    help="A rod along every edge and a ball at every point; a mask makes them thinner. They are "
    "stored as masks “rods” and “knobs”.",
    also=("wireframe", "lattice", "scaffold", "balls", "rods", "truss", "cage", "edges"),
    values=STRUT_VALUES,
    sentence="Struts of {rod}[, knobs of {knob}]",
    structure=structure,
    forgets_smoothing=True,
    changes_with=frozenset({"parts", "sides", "halvings"}),
    apply=apply,
    per_element=frozenset({"rod", "knob"}),
    suggest=suggest_struts,
    acts_on=lambda mesh: mesh.topology.face_count + mesh.topology.curve_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 1}),
        {"rod": 0.022, "knob": sine(0.03, 0.1), "sides": 8, "halvings": 2},
    ),
    order=74,
)
