"""Reduce: fewer triangles, down to the last one, with as little change as can be."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.reduction import reduced
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice, number, switch, whole


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    by_share = values.discrete("to") == "share"
    faces, share = values.count("faces"), values.scalar("share") / 100
    return reduced(
        mesh,
        chosen,
        lambda count: share * count if by_share else faces,
        values.discrete("rim"),
        values.discrete("seams"),
    )


DEFINITION = TopologyDefinition(
    key="reduce",
    title="Reduce",
    group=MAKE,
    help="Leaves fewer triangles, where the shape needs them least, down to the last one; a mask "
    "says where.",
    also=("decimate", "simplify", "low poly", "lowpoly", "collapse", "optimise", "fewer"),
    values={
        "to": choice(
            "share",
            "To",
            "What is left.",
            {"share": "a share of the triangles", "faces": "a number of triangles"},
        ),
        "share": number(
            25.0,
            "Share",
            "Of the triangles that there were; at 0 one is left.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=("to", ("share",)),
        ),
        "faces": whole(
            500,
            "Triangles",
            "How many are left.",
            (1, 20_000),
            hard=(1, 100_000_000),
            scale="log",
            shown_when=("to", ("faces",)),
        ),
        "rim": switch(True, "Keep the rim", "Borders keep their course as long as they can."),
        "seams": switch(True, "Keep the UVs", "Seams of the UVs keep their course.", main=False),
    },
    sentence="Reduce to [{share} of the triangles][{faces} triangles]",
    structure=structure,
    changes_with=frozenset({"to", "share", "faces", "rim", "seams", MASK_INPUT}),
    stands=lambda values: "at rest",
    reads=(("corner", UV),),
    acts_on=lambda mesh: mesh.topology.face_count > 1,
    specimen=Specimen(
        ("icosphere", {"radius": 0.66, "halvings": 4}),
        {"to": "share", "share": sine(1.0, 60.0)},
        before=[{"step": "displace", "values": {"amount": 0.18, "size": 0.5}}],
        after=[{"step": "shade", "values": {}}],
    ),
    order=64,
)
