"""Mirror: what there is, and its image on the other side of a plane."""

from __future__ import annotations

from typing import Any

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.mirroring import mirrored, reflection
from zygomorph.core.values.definitions import CopiesDefinition
from zygomorph.core.values.grips import plane
from zygomorph.core.values.groups import REPEAT
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import direction, switch, vector


def apply(geometry: Geometry, values: Resolved, context: Context) -> Geometry:
    matrix = reflection(unit(values.vector("normal")), values.vector("place"))
    return mirrored(geometry, matrix, values.discrete("original"))


def suggest(mesh: Mesh) -> dict[str, Any]:
    """Beside the piece, so that both are seen."""
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    x = float(high[0] + max(0.06 * (high[0] - low[0]), 0.01))
    return {"place": [round(x, 3), 0.0, 0.0]}


DEFINITION = CopiesDefinition(
    key="mirror",
    title="Mirror",
    group=REPEAT,
    help="What there is and its image beyond a plane, as two copies.",
    also=("reflect", "symmetry", "flip", "image", "twin"),
    values={
        "normal": direction((1.0, 0.0, 0.0), "Across", "The direction across the mirror."),
        "place": vector((0.0, 0.0, 0.0), "Place", "A place in the plane of the mirror."),
        "original": switch(True, "Keep the original", "Otherwise the image alone is left."),
    },
    sentence="Mirror across {normal}",
    apply=apply,
    suggest=suggest,
    acts_on=lambda mesh: len(mesh.points) > 0,
    grips=(plane("place", "normal"),),
    specimen=Specimen(
        ("cone", {"bottom": 0.25, "top": 0.0, "height": 0.9, "around": 24, "rows": 12}),
        {"normal": [1.0, 0.0, 0.0], "place": [sine(-0.12, 0.1), 0.0, 0.0]},
        before=[
            {"step": "bend", "values": {"angle": 50.0}},
            {"step": "place", "values": {"move": [-0.42, 0.0, 0.0], "turn": [0.0, 0.0, 0.0]}},
        ],
    ),
    order=60,
)
