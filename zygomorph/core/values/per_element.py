"""Values that say in which order elements follow one another, for a spread and for a stagger."""

from __future__ import annotations

from typing import Any

from zygomorph.core.values.value import (
    SEED,
    Value,
    choice,
    direction,
    number,
    piece,
    switch,
    vector,
)

ORDER_VALUES: dict[str, Value] = {
    "by": choice(
        "order",
        "By",
        "What leads from the first element to the last.",
        {
            "order": "their order",
            "position": "their place along an axis",
            "place": "distance from a place",
            "piece": "distance from a piece",
            "camera": "distance from the camera",
            "chance": "chance",
        },
        reads=(("camera", "camera"),),
    ),
    "over": choice(
        "points",
        "Over",
        "What counts as one element.",
        {
            "points": "points",
            "faces": "faces",
            "shards": "shards",
            "copies": "copies",
            "curves": "curves",
        },
    ),
    "axis": direction(
        (0.0, 1.0, 0.0),
        "Axis",
        "From the first element to the last.",
        shown_when=("by", ("position",)),
    ),
    "origin": vector((0.0, 0.0, 0.0), "Place", "In the piece.", shown_when=("by", ("place",))),
    "piece": piece("Piece", "From whose surface.", shown_when=("by", ("piece",))),
    "seed": SEED,
    "reverse": switch(False, "Reversed", "From the last to the first."),
}
STAGGER_VALUES: dict[str, Value] = {
    "delay": number(
        0.5, "Delay", "How much later the last element is than the first.", "", (0.0, 2.0)
    ),
    "unit": choice(
        "loop", "In", "What the delay is counted in.", {"loop": "loops", "seconds": "seconds"}
    ),
    **ORDER_VALUES,
    "closes": switch(True, "Closes", "What a loop ends with comes before its beginning."),
}
# What may be spread of every signal: all of it times a factor, plus an offset.
FACTOR, OFFSET = "factor_of_all", "offset_of_all"
DEFAULTS: dict[str, Any] = {name: value.default for name, value in ORDER_VALUES.items()}
