"""Picture: a backdrop that is a picture."""

from __future__ import annotations

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.shared.drawn_scene import Backdrop
from zygomorph.core.values.definitions import BackdropDefinition
from zygomorph.core.values.value import choice, colour, image, number


def apply(values: Resolved) -> Backdrop:
    return Backdrop(
        "picture",
        ((0.0, values.discrete("colour")),),
        picture=values.discrete("picture"),
        fit=values.discrete("fit"),
        soft=values.scalar("soft") / 100,
    )


DEFINITION = BackdropDefinition(
    key="picture",
    title="Picture",
    help="A picture behind everything.",
    also=("image", "photo", "background", "plate"),
    values={
        "picture": image("Picture", "PNG, JPEG, WebP or TIFF; a weave where none is chosen."),
        "fit": choice(
            "cover",
            "Fits",
            "How it fills the picture that is taken.",
            {
                "cover": "fills it, cut at its sides",
                "whole": "is seen whole",
                "stretch": "is stretched to it",
            },
        ),
        "soft": number(
            0.0, "Softness", "Smooths it, as a share of its width.", "%", (0.0, 5.0), hard=(0, 50.0)
        ),
        "colour": colour("#141120", "Beside it", "Where it is see-through, or does not reach."),
    },
    sentence="A picture",
    apply=apply,
)
