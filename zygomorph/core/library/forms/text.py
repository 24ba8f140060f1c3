"""Letters, with a depth, filled, or as curves."""

from __future__ import annotations

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.grips import Y, Z, both_ways
from zygomorph.core.mesh import Mesh
from zygomorph.core.outlines.letters import letters
from zygomorph.core.outlines.region import area_of
from zygomorph.core.outlines.values import MADE, made_of, scaled
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import choice, number, text, whole


def apply(values: Resolved, context: Context) -> Mesh:
    found = letters(
        str(values.word("text")),
        str(values.word("font")),
        values.count("pieces"),
        values.scalar("spacing") / 100,
        values.scalar("leading") / 100,
        str(values.word("align")),
    )
    size = values.scalar("size")
    drawn = [scaled(letter.contours, size) for letter in found]
    groups = [(number, area_of(contours)) for number, contours in enumerate(drawn)]
    return made_of(groups, [c for contours in drawn for c in contours], values)


DEFINITION = Definition(
    sort="form",
    key="text",
    title="Text",
    group="surfaces",
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
    changes_topology=True,
    grips=(both_ways("size", Y), both_ways("depth", Z)),
    order=35,
)
