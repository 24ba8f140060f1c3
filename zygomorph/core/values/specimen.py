"""Small studies that show what an entry does, for its moving picture: what an entry says of its
own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

Made = tuple[str, Mapping[str, Any]]


def saw(low: float, high: float, cycles: int = 1) -> dict[str, Any]:
    """A signal that goes from low to high, once a loop or more often."""
    return {"signal": "cycle", "shape": "saw", "low": low, "high": high, "cycles": cycles}


def sine(low: float, high: float) -> dict[str, Any]:
    """A signal that swings from low to high and back."""
    return {"signal": "cycle", "shape": "sine", "low": low, "high": high}


# Forms that show most steps well: something long, something flat, something round.
BAR: Made = ("box", {"size": [0.5, 1.7, 0.5], "across": 8, "up": 40, "deep": 8})
SHEET: Made = ("sheet", {"width": 1.9, "depth": 1.9, "columns": 90, "rows": 90})
BALL: Made = ("icosphere", {"radius": 0.68, "halvings": 5})


@dataclass(frozen=True)
class Specimen:
    """What the picture of an entry shows.

    on : the form that a step acts on, with its values
    values : of the entry; where a step says none, it has what it suggests for the form, and its
        first value that can move goes through its range
    before : steps that give it something to do
    after : steps in which its work is seen
    other : another piece, "o", that it uses; other_after : steps after its form
    shows_other : whether that is seen as well
    lowered : metres by which it stands lower than the middle of the picture
    thickness : of lines and points, metres
    """

    on: Made = BALL
    values: Mapping[str, Any] = field(default_factory=dict)
    before: Sequence[Mapping[str, Any]] = ()
    after: Sequence[Mapping[str, Any]] = ()
    other: Made | None = None
    other_after: Sequence[Mapping[str, Any]] = ()
    shows_other: bool = False
    lowered: float = 0.0
    thickness: float = 0.008


DEFAULT_SPECIMEN = Specimen()


# Points as what is seen in a small picture.
AS_BALLS = {"step": "melt_balls", "values": {"radius": 0.045, "voxel": 0.04}}


def moving_swarm(values: Mapping[str, Any], other: Made | None = None, **swarm: Any) -> Specimen:
    """What a force does to a swarm, which is seen moving; swarm : values of that."""
    own = {
        "count": 120,
        "radius": 0.045,
        "born": "inside",
        "closing": "blended",
        "blend": 16,
        "prerun": 12,
    }
    return Specimen(
        values=values,
        after=[{"step": "swarm", "values": own | swarm}, AS_BALLS],
        other=other,
        shows_other=other is not None,
    )
