"""Values that every camera has: where it is, what it looks at, what is sharp, how it shakes."""

from __future__ import annotations

from collections.abc import Mapping

from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.lens import lens_radius
from zygomorph.core.values.value import (
    Value,
    anchor,
    choice,
    number,
    piece,
    switch,
    vector,
    whole,
)

FORMATS: Mapping[str, tuple[float, float]] = {
    "16:9": (16, 9),
    "1:1": (1, 1),
    "9:16": (9, 16),
    "4:3": (4, 3),
    "4:5": (4, 5),
    "2.39:1": (2.39, 1),
}
_ON_PATH, _OWN, _SHARP = ("stands", ("path",)), ("format", ("own",)), ("blur", (True,))

PLACE_VALUES: Mapping[str, Value] = {
    "stands": choice(
        "place",
        "Stands",
        "At a place, or on a path: a curve, or the points of a piece in their order.",
        {"place": "at a place", "path": "on a path"},
    ),
    "position": vector(
        (1.6, 1.0, 2.4), "Position", "Where it is on the stage.", shown_when=("stands", ("place",))
    ),
    "path": piece("Path", "The piece whose curve it follows.", shown_when=_ON_PATH),
    "rounds": number(
        1.0,
        "Speed",
        "How often it goes along the whole path in one loop; a whole number closes on a closed "
        "path.",
        "/ loop",
        (-2.0, 2.0),
        hard=(-1000.0, 1000.0),
        shown_when=_ON_PATH,
    ),
    "along": number(
        0.0,
        "Along",
        "Where on the path it is at frame 0, from 0 at its beginning to 1 at its end.",
        "share",
        (0.0, 1.0),
        shown_when=_ON_PATH,
    ),
    "aims": choice(
        "place",
        "Looks at",
        "What it is turned to.",
        {"place": "a place", "anchor": "a piece or marker", "ahead": "the way it goes"},
    ),
    "target": vector(
        (0.0, 0.0, 0.0), "Target", "What it looks at.", shown_when=("aims", ("place",))
    ),
    "aim": anchor(
        "Aim",
        "The piece or marker that it looks at, wherever it is.",
        shown_when=("aims", ("anchor",)),
    ),
    "roll": number(
        0.0,
        "Roll",
        "Turned about the way it looks; the picture leans the other way.",
        "°",
        (-45.0, 45.0),
        period=360.0,
        idle=0.0,
        main=False,
    ),
}
FORMAT_VALUES: Mapping[str, Value] = {
    "format": choice(
        "16:9",
        "Format",
        "Width to height of the picture.",
        {**{key: key for key in FORMATS}, "own": "own"},
    ),
    "format_width": number(
        16.0,
        "Width",
        "To the height beside it.",
        "",
        (1.0, 32.0),
        hard=(0.05, 100.0),
        shown_when=_OWN,
    ),
    "format_height": number(
        9.0,
        "Height",
        "To the width beside it.",
        "",
        (1.0, 32.0),
        hard=(0.05, 100.0),
        shown_when=_OWN,
    ),
}
FOCUS_VALUES: Mapping[str, Value] = {
    "focus_by": choice(
        "target",
        "Focus",
        "What is sharp.",
        {
            "target": "on what it looks at",
            "distance": "at a distance",
            "anchor": "on a piece or marker",
            "surface": "on a piece’s surface",
        },
        shown_when=_SHARP,
    ),
    "focus": number(
        2.0,
        "Distance",
        "From the camera to what is sharp.",
        "m",
        (0.1, 10.0),
        hard=(1e-3, 1e5),
        scale="log",
        shown_when=("focus_by", ("distance",)),
    ),
    "focus_anchor": anchor(
        "Focus on", "The piece or marker that is sharp.", shown_when=("focus_by", ("anchor",))
    ),
    "focus_piece": piece(
        "Focus on",
        "The piece whose surface is sharp where the middle of the picture meets it; it follows as "
        "the surface moves.",
        shown_when=("focus_by", ("surface",)),
    ),
}
MOTION_VALUES: Mapping[str, Value] = {
    "shake": number(
        0.0,
        "Shake",
        "Held by hand: about how far it turns this way and that.",
        "°",
        (0.0, 5.0),
        hard=(0.0, 90.0),
        idle=0.0,
    ),
    "shake_pace": whole(
        4,
        "Shake pace",
        "About how often it swings in one loop.",
        (1, 24),
        "/ loop",
        hard=(1, 200),
        main=False,
    ),
    "shake_seed": whole(
        1,
        "Shake seed",
        "Another number shakes otherwise.",
        (0, 99),
        hard=(0, 2**31 - 1),
        main=False,
    ),
    "shift": vector(
        (0.0, 0.0, 0.0),
        "Shift",
        "Moved to the right, upwards and forwards, besides all else; a good place for kicks.",
        own=True,
        idle=[0.0, 0.0, 0.0],
        main=False,
    ),
    "turn": vector(
        (0.0, 0.0, 0.0),
        "Tilt and pan",
        "Turned upwards, to the left and about the way it looks, besides all else; a good place "
        "for kicks.",
        "°",
        (-20.0, 20.0),
        idle=[0.0, 0.0, 0.0],
        main=False,
    ),
    "shutter": number(
        180.0,
        "Shutter",
        "For how much of a frame it is open in pictures with motion blur; 360° is all of it.",
        "°",
        (0.0, 360.0),
        hard=(0.0, 360.0),
        main=False,
    ),
}
CLIP_VALUES: Mapping[str, Value] = {
    "clips": choice(
        "found",
        "Near and far",
        "Between which distances things are drawn.",
        {"found": "found", "set": "set"},
        main=False,
    ),
    "near": number(
        0.05,
        "Near",
        "What is nearer is not drawn.",
        "m",
        (0.001, 10.0),
        hard=(1e-4, 1e5),
        scale="log",
        shown_when=("clips", ("set",)),
    ),
    "far": number(
        20.0,
        "Far",
        "What is farther is not drawn.",
        "m",
        (0.1, 500.0),
        hard=(1e-3, 1e6),
        scale="log",
        shown_when=("clips", ("set",)),
    ),
}
LENS_OPENING: Mapping[str, Value] = {
    "blur": switch(False, "Depth of field", "What is not in focus is blurred, as by a real lens."),
    "f_number": number(
        2.8,
        "Aperture",
        "The f-number: the smaller, the more is blurred.",
        "",
        (1.0, 22.0),
        hard=(0.1, 256.0),
        scale="log",
        shown_when=_SHARP,
    ),
    "blades": whole(
        0,
        "Blades",
        "Of the aperture, which blurred lights have the shape of; below 3 it is round.",
        (0, 9),
        hard=(0, 20),
        shown_when=_SHARP,
        main=False,
    ),
}


def aspect_of(values: Resolved) -> float:
    """Width of the picture over its height."""
    named = values.discrete("format")
    if named != "own":
        width, height = FORMATS[named]
        return width / height
    return values.scalar("format_width") / values.scalar("format_height")


def view_of(values: Resolved, lens_mm: float) -> View:
    """A view without its angle or height: what all cameras have.

    lens_mm : focal length that the opening is reckoned from
    """
    is_set = values.discrete("clips") == "set"
    near = values.scalar("near") if is_set else None
    by = values.discrete("focus_by")
    blades = values.count("blades")
    return View(
        values.vector("position"),
        values.vector("target"),
        aspect=aspect_of(values),
        near=near,
        far=max(values.scalar("far"), near * 1.001) if near is not None else None,
        lens_radius=(
            lens_radius(lens_mm, values.scalar("f_number")) if values.discrete("blur") else 0.0
        ),
        blades=blades if blades > 2 else 0,
        focus=values.scalar("focus"),
        focus_on=values.discrete("focus_piece") if by == "surface" else "",
        shutter=values.scalar("shutter") / 360,
    )
