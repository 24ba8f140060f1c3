"""Another piece of the study as a form, as it is at the same frame."""

from __future__ import annotations

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.placements import placed
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import choice, piece


def apply(values: Resolved, context: Context) -> Geometry:
    other = context.other(values.discrete("piece"))
    if values.discrete("stands") == "made":
        return other.geometry
    return placed(other.geometry, other.matrix)


DEFINITION = FormDefinition(
    key="piece",
    title="Another piece",
    group=SURFACES,
    help="What another piece of this study has become, to go on from there.",
    also=("copy", "instance", "reference"),
    values={
        "piece": piece("Piece", "The piece to begin with."),
        "stands": choice(
            "made",
            "Stands",
            "Without the other's own place, or where it stands on the stage.",
            {"made": "as it was made", "stage": "where it stands"},
        ),
    },
    sentence="Takes {piece}",
    apply=apply,
    specimen=Specimen(values={"piece": "o"}, other=("torus", {})),
    order=90,
)
