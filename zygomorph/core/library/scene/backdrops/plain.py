"""Plain: a backdrop of one colour."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.definitions import BackdropDefinition
from zygomorph.core.values.value import colour


def apply(values: Resolved) -> Backdrop:
    return Backdrop("linear", ((0.0, values.discrete("colour")),))


DEFINITION = BackdropDefinition(
    key="plain",
    title="One colour",
    help="One colour behind everything.",
    also=("solid", "flat", "background"),
    values={"colour": colour("#2a2536", "Colour", "The colour behind everything.")},
    sentence="One colour",
    apply=apply,
    order=20,
)
