"""Struts and knobs as copies: one rod and one ball, each many times, and no merged mesh."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.geometry import Copies, Geometry
from zygomorph.core.geometry.icosphere import unit_icosphere
from zygomorph.core.geometry.mesh import ELEMENT_ID, MASK, REST, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.placements import COPY_BYTES
from zygomorph.core.geometry.struts import joined_edges, unit_rod
from zygomorph.core.kernels.struts import place_rods
from zygomorph.core.memo.memo import called
from zygomorph.core.shared.strut_values import STRUT_VALUES, suggest_struts
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine


def _ball(halvings: int) -> Mesh:
    unit = unit_icosphere(halvings)
    return Mesh(unit.points, unit.topology, {"point": {REST: unit.points}})


def _placed(mesh: Mesh, edges: np.ndarray, knots: int, rod: float, knob: float) -> np.ndarray:
    """(E + knots, 3, 4) float32: a rod of length 1 and radius 1 along each edge, and a ball of
    radius 1 at each of the first points.

    rod, knob : metres
    """
    placements = np.zeros((len(edges) + knots, 3, 4), np.float32)
    rods, balls = placements[: len(edges)], placements[len(edges) :]
    place_rods(mesh.points, point_normals(mesh), edges, np.float32(rod), rods)
    balls[:, [0, 1, 2], [0, 1, 2]] = knob
    balls[:, :, 3] = mesh.points[:knots]
    return placements


def apply(geometry: Geometry, values: Resolved, context: Context) -> Geometry:
    mesh, parts = geometry.real, values.discrete("parts")
    edges = joined_edges(mesh.topology)
    if len(edges) == 0:
        raise ZygomorphError("There are no edges here.", "Loose points have none.")
    if parts == "knobs":
        edges = edges[:0]
    knots = len(mesh.points) if parts != "rods" else 0
    within_budget(len(edges) + knots, COPY_BYTES, unit="copies", hint="Reduce the mesh first")
    rod, knob = values.scalar("rod"), values.scalar("knob")
    is_knob = np.repeat([False, True], [len(edges), knots])
    attributes: dict[str, np.ndarray] = {
        ELEMENT_ID: np.arange(len(is_knob)),
        MASK + "rods": (~is_knob).astype(np.float32),
        MASK + "knobs": is_knob.astype(np.float32),
    }
    placements = _placed(mesh, edges, knots, rod, knob)
    rest = mesh.rest
    if rest is not mesh.points:
        # The rest shape is kept beside what was found, so that its address is not another's.
        key = ("struts at rest", id(rest), len(edges), knots, rod, knob)
        _, attributes[REST] = mesh.topology.derived(
            key, lambda: (rest, _placed(mesh.moved(rest), edges, knots, rod, knob))
        )
    bases = (
        called(context.memo, unit_rod, values.count("sides")),
        called(context.memo, _ball, values.count("halvings")),
    )
    return Geometry(bases, Copies(is_knob.astype(np.int32), placements, attributes))


DEFINITION = CopiesDefinition(
    key="strut_copies",
    title="Struts as copies",
    group=MAKE,
    help="A rod along every edge and a ball at every point, as copies: as many as there are edges "
    "play, and each can move as a whole. They are stored as masks “rods” and “knobs”.",
    also=("wireframe", "lattice", "scaffold", "balls", "rods", "truss", "cage", "instances"),
    values=STRUT_VALUES,
    sentence="Struts of {rod} as copies[, knobs of {knob}]",
    apply=apply,
    suggest=suggest_struts,
    acts_on=lambda mesh: mesh.topology.face_count + mesh.topology.curve_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.6, "halvings": 2}),
        {"rod": 0.012, "knob": sine(0.02, 0.07), "sides": 8, "halvings": 2},
    ),
    order=75,
)
