"""The values of a ripple tank: its water, what drives it, its rim and walls, and its grid."""

from __future__ import annotations

from typing import Any

from zygomorph.core.values.value import (
    SEED,
    Value,
    choice,
    fineness,
    number,
    piece,
    text,
    vector,
    whole,
)


def _length(default: float, label: str, help: str, **more: Any) -> Value:
    return number(default, label, help, "m", (0.005, 0.5), scale="log", hard=(1e-5, 1e5), **more)


RIPPLE_VALUES: dict[str, Value] = {
    "speed": number(
        1.0,
        "Speed",
        "Of waves.",
        "m/s",
        (0.05, 10.0),
        scale="log",
        hard=(1e-4, 1e4),
    ),
    "damping": number(1.0, "Damping", "How fast waves fade.", "per s", (0.0, 5.0), hard=(0.0, 1e4)),
    "rate": number(
        4.0,
        "Drops",
        "That fall in a second, by chance; whole ones in a loop.",
        "per s",
        (0.0, 20.0),
        hard=(0.0, 2000.0),
        moves=False,
    ),
    "strongest": number(
        0.12, "Strongest", "About how deep the strongest drop dips.", "m", (0.0, 0.3)
    ),
    "largest": _length(0.1, "Largest", "The radius of the largest drop."),
    "rim": choice(
        "reflects",
        "Rim",
        "Throws waves back, or lets them leave.",
        {"reflects": "throws back", "open": "open"},
    ),
    "height": number(
        100.0, "Height", "Of the waves that are shown.", "%", (0.0, 300.0), hard=(-1e4, 1e4)
    ),
    "weakest": number(
        0.04, "Weakest", "About how deep the weakest drop dips.", "m", (0.0, 0.3), main=False
    ),
    "smallest": _length(0.05, "Smallest", "The radius of the smallest drop.", main=False),
    "places": choice(
        "chance",
        "Places of drops",
        "Anywhere by chance, evenly spread, or as a stored mask weighs the points.",
        {"chance": "by chance", "even": "evenly", "mask": "by a stored mask"},
        main=False,
    ),
    "stored": text(
        "",
        "Stored mask",
        "The name it was stored under.",
        moves=False,
        shown_when=("places", ("mask",)),
        main=False,
    ),
    "keeps": whole(
        0,
        "New places after",
        "For so long drops fall on the same spots; 0 gives each a place of its own.",
        (0, 120),
        "frames",
        hard=(0, 100_000),
        moves=False,
        main=False,
        idle=0,
    ),
    "spots": whole(
        1,
        "Spots",
        "On which drops fall in turn, until there are new places.",
        (1, 12),
        hard=(1, 1000),
        moves=False,
        main=False,
    ),
    "push": number(
        0.0,
        "Push",
        "Swings the water at the source, such as a sound or a cycle does it.",
        "m/s²",
        (-20.0, 20.0),
        hard=(-1e5, 1e5),
        main=False,
        idle=0.0,
    ),
    "sinks": number(
        0.0,
        "Weighs down",
        "How deep the water dips at the source: when it moves, or a marker carries it, it "
        "leaves a wake.",
        "m",
        (0.0, 0.3),
        hard=(-1e3, 1e3),
        main=False,
        idle=0.0,
    ),
    "centre": vector((0.0, 0.0, 0.0), "Source", "Of push and weight.", main=False),
    "radius": _length(0.08, "Radius of source", "How wide it is.", main=False),
    "mover": piece(
        "Moves through it",
        "A piece that stands in the water and leaves a wake where it moves.",
        idle="",
        main=False,
    ),
    "draught": number(
        0.05,
        "Draught",
        "How deep the water dips under that piece.",
        "m",
        (0.0, 0.5),
        hard=(-1e3, 1e3),
        main=False,
    ),
    "walls": piece(
        "Walls",
        "A piece that stands in the water and throws waves back.",
        idle="",
        main=False,
    ),
    "outline": choice(
        "sheet",
        "Outline",
        "Of the basin: the sheet’s own, where its mask is at least half, or the shadow of "
        "another piece.",
        {"sheet": "the sheet’s", "mask": "the mask’s", "piece": "another piece’s"},
        main=False,
    ),
    "basin": piece("Piece", "Whose shadow it is.", shown_when=("outline", ("piece",)), main=False),
    "stiffness": number(
        0.0,
        "Stiffness",
        "How strongly the water is drawn back to its level.",
        "per s²",
        (0.0, 100.0),
        hard=(0.0, 1e6),
        main=False,
        idle=0.0,
    ),
    "smoothing": number(
        0.0,
        "Smoothing",
        "Takes away short waves first.",
        "m²/s",
        (0.0, 0.05),
        hard=(0.0, 1e3),
        main=False,
        idle=0.0,
    ),
    "grid": fineness(
        160,
        "Grid",
        "Cells along the longer side.",
        (128, 320),
        (32, 512),
        (8, 2048),
        unit="cells",
        moves=False,
        tested_to=40,
    ),
    "shown": number(
        0.03,
        "Stored in full",
        "The height at which the stored masks “height”, “speed” and “crests” are 1.",
        "m",
        (0.001, 0.5),
        scale="log",
        hard=(1e-6, 1e4),
        main=False,
    ),
    "seed": SEED,
}
