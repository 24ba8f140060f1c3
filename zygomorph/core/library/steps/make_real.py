"""Make copies real: all of them written out as one mesh, each a shard of its own."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.structure import Structure, unchanged
from zygomorph.core.values.definitions import TopologyDefinition
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine


def structure(mesh: Mesh, values: Resolved, mask: None) -> Structure:
    return unchanged(mesh.topology)


DEFINITION = TopologyDefinition(
    key="real",
    title="Make copies real",
    group=REPEAT,
    help="Writes all copies out as one mesh, so that later steps bend, cut and reduce them "
    "together; each copy becomes a shard.",
    also=("realise", "merge", "join", "apply", "collapse", "combine"),
    values={},
    sentence="Make copies real",
    structure=structure,
    needs_real=True,
    prepares=True,
    acts_on=lambda mesh: len(mesh.points) > 0,
    specimen=Specimen(
        ("box", {"size": [0.14, 0.9, 0.14], "across": 1, "up": 12, "deep": 1}),
        values={},
        before=[{"step": "row", "values": {"count": 6, "move": [0.24, 0.0, 0.0]}}],
        after=[{"step": "twist", "values": {"angle": sine(-90.0, 90.0)}}],
    ),
    order=90,
)
