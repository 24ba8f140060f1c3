"""Orient: faces that look the wrong way are turned over."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.origins import Origin
from zygomorph.core.geometry.repair.shells import turned_faces
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.topology import Topology, turned_over
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import choice


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    topology = mesh.topology
    meant = np.ones(topology.face_count, bool) if chosen is None else chosen
    turned = meant
    if values.discrete("way") != "over":
        inward = turned_faces(mesh)
        turned = meant & (inward if values.discrete("way") == "outward" else ~inward)
    own = np.arange(len(topology.corners))
    order = np.where(turned[topology.corner_face], turned_over(topology.face_starts), own)
    return Structure(
        Topology(
            topology.point_count,
            topology.corners[order],
            topology.face_starts,
            topology.curve_points,
            topology.curve_starts,
            topology.curve_closed,
        ),
        {
            "point": Origin.taken(np.arange(topology.point_count)),
            "corner": Origin.taken(order),
            "face": Origin.taken(np.arange(topology.face_count)),
        },
    )


DEFINITION = TopologyDefinition(
    key="orient",
    title="Orient faces",
    group=MAKE,
    help="Turns faces over so that they agree and look outward; steps along the normals then go "
    "the way that is meant.",
    also=("normals", "flip", "reverse", "outward", "inside", "winding"),
    values={
        "way": choice(
            "outward",
            "Way",
            "Judged in the rest shape.",
            {
                "outward": "all look outward",
                "inward": "all look inward",
                "over": "each is turned over",
            },
        ),
    },
    sentence="Orient faces: {way}",
    structure=structure,
    changes_with=frozenset({"way", MASK_INPUT}),
    stands=lambda values: "anywhere" if values.discrete("way") == "over" else "at rest",
    prepares=True,
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        values={"way": "over"},
        after=[{"step": "inflate", "values": {"amount": sine(0.0, 0.25)}}],
    ),
    order=72,
)
