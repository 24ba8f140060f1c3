"""A film, or a sequence of pictures, as a weight."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.images import WEAVE
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.shared.image_projection import (
    brightness,
    colours_at,
    film_values,
    printed_picture,
)
from zygomorph.core.shared.laying import LAID_LAYER, suited
from zygomorph.core.values.definitions import MaskDefinition, Print
from zygomorph.core.values.groups import DRAWN
from zygomorph.core.values.value import choice, film, number, whole


def _shown(values: Resolved, context: Context) -> tuple[str, int]:
    """The film, and the number of the picture that is shown of it."""
    name = values.discrete("film")
    told = context.image.film(name) if name else WEAVE
    loop, begun = context.loop, values.scalar("moment")
    if values.discrete("plays") == "loop":
        begun += values.count("rounds") * context.frame / loop.frames
    elif values.discrete("plays") == "rate":
        begun += context.frame / loop.rate * (told.rate or loop.rate) / told.frames
    # What is a hair's breadth before a picture is that picture.
    return name, int(np.floor(begun * told.frames + 1e-6)) % told.frames


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return brightness(mesh, values, context, *_shown(values, context))


def coloured(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    return colours_at(mesh, values, context, *_shown(values, context))


def printed(values: Resolved, context: Context) -> Print:
    return printed_picture(values, context, *_shown(values, context))


def _opens(values: Resolved, loop: Loop) -> tuple[str, str] | None:
    return ("plays", "loop") if values.discrete("plays") == "rate" else None


_VALUES = film_values(
    film("Film", "MP4, WebM, GIF or WebP, or a ZIP of pictures; a weave where none is chosen."),
    plays=choice(
        "loop",
        "Plays",
        "Over the whole loop it closes; at its own rate it closes where its length happens to fit.",
        {"loop": "over the loop", "rate": "at its own rate", "still": "one picture of it"},
    ),
    rounds=whole(
        1, "Rounds", "How often it plays in a loop.", (1, 8), shown_when=("plays", ("loop",))
    ),
    moment=number(
        0.0, "Begins at", "Where in the film the loop begins.", "cycle", (0.0, 1.0), main=False
    ),
)

DEFINITION = MaskDefinition(
    key="film",
    title="Film",
    group=DRAWN,
    help="A film or a sequence of pictures, laid as a picture is; white is 1, black is 0. A look "
    "can have its colours.",
    also=("video", "movie", "sequence", "clip", "MP4", "WebM", "GIF"),
    values={**_VALUES, "times": replace(_VALUES["times"], default=1.0)},
    sentence="a film",
    apply=apply,
    per_element=frozenset({"width", "times", "across", "upward", "turn"}),
    by_time=lambda discrete: discrete["plays"] != "still",
    suggest=lambda mesh: {"soft": 0.0, **suited(mesh)},
    printed=printed,
    coloured=coloured,
    **LAID_LAYER,
    opens=_opens,
    order=63,
)
