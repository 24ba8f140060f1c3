"""Sweep: a backdrop that goes through a gradient along a direction, or round a place."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.definitions import BackdropDefinition
from zygomorph.core.values.gradients import stops_along
from zygomorph.core.values.value import choice, gradient, number


def apply(values: Resolved) -> Backdrop:
    stops = stops_along(values.discrete("gradient"))
    middle = (values.scalar("across") / 100, values.scalar("down") / 100)
    if values.discrete("shape") == "round":
        reach = max(values.scalar("reach") / 100, 1e-3)
        return Backdrop("round", tuple((at * reach, c) for at, c in stops), middle=middle)
    return Backdrop("linear", stops, angle=values.scalar("angle"))


DEFINITION = BackdropDefinition(
    key="sweep",
    title="Gradient",
    help="A gradient from side to side, or round a place.",
    also=("linear", "radial", "sky", "background"),
    values={
        "gradient": gradient("dusk", "Gradient", "The colours, from its beginning to its end."),
        "shape": choice(
            "linear",
            "Goes",
            "How it lies.",
            {"linear": "from side to side", "round": "round a place"},
        ),
        "angle": number(
            90.0,
            "Angle",
            "0 from left to right, 90 from below upwards.",
            "°",
            (0.0, 360.0),
            shown_when=("shape", ("linear",)),
        ),
        "across": number(
            50.0,
            "Across",
            "Its middle, from the left.",
            "%",
            (0.0, 100.0),
            shown_when=("shape", ("round",)),
        ),
        "down": number(
            50.0,
            "Down",
            "Its middle, from the top.",
            "%",
            (0.0, 100.0),
            shown_when=("shape", ("round",)),
        ),
        "reach": number(
            100.0,
            "Reach",
            "At 100 it ends in the farthest corner.",
            "%",
            (10.0, 200.0),
            hard=(0.1, 1e4),
            shown_when=("shape", ("round",)),
        ),
    },
    sentence="Gradient {gradient}",
    apply=apply,
    order=30,
)
