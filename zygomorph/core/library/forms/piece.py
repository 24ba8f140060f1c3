"""Another piece of the study as a form, as it is at the same frame."""

from __future__ import annotations

from dataclasses import replace

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.mesh import REST, Mesh
from zygomorph.core.place import transformed
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, piece


def apply(values: Resolved, context: Context) -> Mesh:
    other = context.other(values.word("piece"))
    if values.word("stands") == "made":
        return other.mesh
    points = transformed(other.mesh.points, other.matrix)
    kept = {domain: dict(named) for domain, named in other.mesh.attributes.items()}
    kept.setdefault("point", {})[REST] = transformed(other.mesh.rest, other.matrix)
    return replace(other.mesh, points=points, attributes=kept)


DEFINITION = Definition(
    sort="form",
    key="piece",
    title="Another piece",
    group="surfaces",
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
    reads=frozenset({"place"}),
    changes_topology=True,
    order=90,
)
