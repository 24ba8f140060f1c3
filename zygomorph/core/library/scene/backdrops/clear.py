"""Clear: nothing behind the pieces; pictures are see-through there."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.definitions import BackdropDefinition


def apply(values: Resolved) -> Backdrop:
    return Backdrop("clear", ())


DEFINITION = BackdropDefinition(
    key="clear",
    title="See-through",
    help="Nothing behind the pieces; pictures with alpha are see-through there.",
    also=("transparent", "alpha", "none"),
    values={},
    sentence="See-through",
    apply=apply,
    order=40,
)
