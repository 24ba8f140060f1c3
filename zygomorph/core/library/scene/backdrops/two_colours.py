"""Two colours: a backdrop that goes from one in its middle to another at its corners."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.definitions import BackdropDefinition
from zygomorph.core.values.value import colour

# A little off the middle of the picture it looks lit rather than framed.
MIDDLE = (0.52, 0.44)
OUTER = 0.78


def apply(values: Resolved) -> Backdrop:
    stops = ((0.0, values.discrete("centre")), (OUTER, values.discrete("edge")))
    return Backdrop("round", stops, MIDDLE)


DEFINITION = BackdropDefinition(
    key="two_colours",
    title="Two colours",
    help="From one colour in the middle to another at the corners.",
    also=("background", "gradient", "vignette"),
    values={
        "centre": colour("#3b3350", "Middle", "The colour behind the middle of the picture."),
        "edge": colour("#141120", "Corners", "The colour towards its corners."),
    },
    sentence="Two colours",
    apply=apply,
    begins=({},),
)
