"""Triangulate: every polygon is cut into triangles, as it is drawn."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.structure import Structure
from zygomorph.core.geometry.triangulation import triangulated
from zygomorph.core.values.definitions import MASK_INPUT, TopologyDefinition
from zygomorph.core.values.groups import MAKE
from zygomorph.core.values.specimen import Specimen


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Structure:
    return triangulated(mesh.topology, chosen)


DEFINITION = TopologyDefinition(
    key="triangulate",
    title="Triangulate",
    group=MAKE,
    help="Cuts polygons into triangles, in the rest shape; a mask says which.",
    also=("triangles", "tessellate", "cut"),
    values={},
    sentence="Cut polygons into triangles",
    structure=structure,
    changes_with=frozenset({MASK_INPUT}),
    prepares=True,
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("tiling", {"kind": "hexagon", "columns": 4, "rows": 4, "size": 0.4, "gap": 6}),
        values={},
        after=[
            {"step": "split"},
            {"step": "extrude", "values": {"depth": {"signal": "cycle", "low": 0, "high": 0.2}}},
        ],
    ),
    order=68,
)
