"""Letters, with a depth, filled, or as curves."""

from __future__ import annotations

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.outlines.letters import letters
from zygomorph.core.geometry.outlines.region import area_of
from zygomorph.core.shared.outline_values import MADE, made_of, scaled
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.grips import Y, Z, both_ways
from zygomorph.core.values.groups import SURFACES
from zygomorph.core.values.specimen import Specimen
from zygomorph.core.values.value import choice, number, text, whole


def apply(values: Resolved, context: Context) -> Mesh:
    found = letters(
        str(values.discrete("text")),
        str(values.discrete("font")),
        values.count("pieces"),
        values.scalar("spacing") / 100,
        values.scalar("leading") / 100,
        str(values.discrete("align")),
    )
    size = values.scalar("size")
    drawn = [scaled(letter.contours, size) for letter in found]
    groups = [(number, area_of(contours)) for number, contours in enumerate(drawn)]
    return made_of(groups, [c for contours in drawn for c in contours], values)


DEFINITION = FormDefinition(
    key="text",
    title="Text",
    group=SURFACES,
    help="Letters that stand upright; each is a shard that steps can move as a whole.",
    also=("letters", "font", "type", "words", "logo"),
    values={
        "text": text("Bloom", "Text", "What it says."),
        "font": choice(
            "round",
            "Font",
            "The shape of its letters.",
            {"sans": "sans", "serif": "serif", "round": "round", "script": "script"},
        ),
        "size": number(
            0.9,
            "Size",
            "Height of a line, in which letters stand.",
            "m",
            (0.1, 4.0),
            hard=(1e-3, 1e4),
        ),
        **MADE,
        "spacing": number(
            0.0,
            "Spacing",
            "Added after each letter, of the size.",
            "%",
            (-20.0, 100.0),
            hard=(-100.0, 1e3),
            main=False,
            idle=0.0,
        ),
        "leading": number(
            110.0,
            "Leading",
            "From line to line, of the size.",
            "%",
            (70.0, 200.0),
            hard=(0.0, 1e3),
            main=False,
        ),
        "align": choice(
            "centre",
            "Align",
            "Where lines of different length meet.",
            {"left": "left", "centre": "centre", "right": "right"},
            main=False,
        ),
        "pieces": whole(
            5,
            "Curve pieces",
            "Pieces of each curve of a letter.",
            (1, 24),
            hard=(1, 200),
            main=False,
            draft=True,
        ),
    },
    sentence="Text “{text}” in {font} letters of {size}",
    apply=apply,
    grips=(both_ways("size", Y), both_ways("depth", Z)),
    specimen=Specimen(values={"size": 0.62, "text": "Zygo", "pieces": 3, "cell": 0.0}),
    order=35,
)
