"""Facets and smooth shading: where the surface is drawn with edges, and where round."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.mesh import SMOOTHING, Mesh
from zygomorph.core.geometry.splitting import cut_apart, sharp_edges
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.welding import welded
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number


def _round(mesh: Mesh, meant: np.ndarray) -> Structure:
    """Points at one place joined, and no edge between these faces, (F,) bool, drawn sharp."""
    made = welded(mesh, meant)
    groups = mesh.get("face", SMOOTHING)
    if groups is None:
        return made
    own = np.where(meant, 0, groups).astype(np.int32)
    own = made.origins["face"].carry(own)
    return replace(made, attributes={**made.attributes, "face": {SMOOTHING: own}})


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    topology, way = mesh.topology, values.discrete("way")
    meant = np.ones(topology.face_count, bool) if chosen is None else chosen
    if way == "smooth":
        return _round(mesh, meant)
    within_budget(len(topology.corners))
    cut = np.zeros(len(topology.edges), bool)
    cut[topology.side_edges[meant[topology.corner_face]]] = True
    if way == "angle":
        cut &= sharp_edges(mesh, values.scalar("angle"))
    return cut_apart(topology, cut)


DEFINITION = TopologyDefinition(
    key="shade",
    title="Facets",
    group=MAKE,
    help="Draws edges between faces, or rounds them again. Points at an edge become one for each "
    "side: what moves points along their normals opens it, so put this step last.",
    also=("flat", "smooth", "shading", "hard", "edges", "weld", "join", "normals"),
    values={
        "way": choice(
            "facets",
            "Shading",
            "In the rest shape.",
            {
                "facets": "every face flat",
                "angle": "edges where it is sharp",
                "smooth": "round, points at one place joined",
            },
        ),
        "angle": number(
            30.0,
            "Sharper than",
            "Between the directions in which two faces look.",
            "°",
            (0.0, 120.0),
            hard=(0.0, 180.0),
            shown_when=("way", ("angle",)),
        ),
    },
    sentence="Facets: {way}[, of more than {angle}]",
    structure=structure,
    changes_with=frozenset({"way", "angle", MASK_INPUT}),
    reads=(("face", SMOOTHING),),
    stands=lambda values: "anywhere" if values.discrete("way") == "facets" else "at rest",
    prepares=True,
    edges=lambda discrete: "" if discrete["way"] == "smooth" else "opens",
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.68, "halvings": 2}),
        {"way": "facets"},
        before=[{"step": "displace", "values": {"amount": sine(0.05, 0.25), "size": 0.5}}],
    ),
    order=70,
)
