"""How systems close their loops, and the values that say so."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from zygomorph.core.values.value import Value, choice, number, whole

Closing = Literal["settles", "blended", "once"]

_LABELS: dict[Closing, str] = {
    "settles": "by settling",
    "blended": "by cross-blending",
    "once": "not, it goes one way",
}


def closing_values(ways: Sequence[Closing]) -> Mapping[str, Value]:
    """The values of a system that can close in these ways, of which the first is usual."""
    made: dict[str, Value] = {
        "closing": choice(
            ways[0],
            "Loop closes",
            "By settling, it runs ahead whole loops until they repeat; by cross-blending, its end "
            "goes over into what it did before its beginning.",
            {way: _LABELS[way] for way in ways},
            main=False,
        ),
        "prerun": whole(
            0,
            "Runs before",
            "Frames that it has run when the loop begins.",
            (0, 240),
            "frames",
            hard=(0, 5000),
            moves=False,
            main=False,
            idle=0,
            shown_when=("closing", tuple(way for way in ways if way != "settles")),
            tested_to=10,
        ),
    }
    if "settles" in ways:
        made |= {
            "tolerance": number(
                0.002,
                "Settles within",
                "How much one loop may differ from the one before, of the largest motion.",
                "%",
                (1e-4, 1.0),
                scale="log",
                hard=(1e-5, 100.0),
                moves=False,
                main=False,
                shown_when=("closing", ("settles",)),
            ),
            "most_loops": whole(
                12,
                "Loops at most",
                "That it runs ahead to settle.",
                (1, 40),
                "loops",
                hard=(1, 400),
                moves=False,
                main=False,
                shown_when=("closing", ("settles",)),
                tested_to=4,
            ),
        }
    if "blended" in ways:
        made["blend"] = whole(
            24,
            "Blended over",
            "Frames before the loop’s end in which it goes over.",
            (1, 120),
            "frames",
            hard=(1, 5000),
            moves=False,
            main=False,
            shown_when=("closing", ("blended",)),
            tested_to=10,
        )
    return made
