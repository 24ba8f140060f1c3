"""What is drawn or picked by hand: paths, profiles, strokes of a brush, elements, places."""

from __future__ import annotations

from random import Random
from typing import Annotated, Any, Literal

from pydantic import Field

from zygomorph.core.values.kinds.kind import Finite, Kind, Strict
from zygomorph.core.values.value import Value

Share = Annotated[float, Field(allow_inf_nan=False, ge=0, le=1)]
Percent = Annotated[float, Field(allow_inf_nan=False, ge=0, le=100)]
Knot = Annotated[list[Share], Field(min_length=2, max_length=2)]
# Places that are clicked one by one.
MOST_PLACES = 2000
# First element and how many.
Run = tuple[
    Annotated[int, Field(ge=0, le=10**9, strict=True)],
    Annotated[int, Field(ge=1, le=10**9, strict=True)],
]


class DrawnPath(Strict):
    """knots : x and y of each, metres"""

    closed: Annotated[bool, Field(strict=True)] = False
    knots: Annotated[
        list[Annotated[list[Finite], Field(min_length=2, max_length=2)]],
        Field(min_length=1, max_length=2000),
    ]


class Stroke(Strict):
    """A stroke of a brush over the rest shape.

    path : x, y, z in metres and the normal's x, y, z of each place it passes
    size : radius, metres
    strength, softness : %, of all, and of the radius that falls off
    """

    does: Literal["paint", "erase", "soften"] = "paint"
    size: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e6)]
    strength: Percent = 100.0
    softness: Percent = 100.0
    path: Annotated[
        list[Annotated[list[Finite], Field(min_length=6, max_length=6)]],
        Field(min_length=1, max_length=2000),
    ]


class Place(Strict):
    """at : x, y, z, metres; normal : away from the surface there"""

    at: Annotated[list[Finite], Field(min_length=3, max_length=3)]
    normal: Annotated[list[Finite], Field(min_length=3, max_length=3)]


def _numbers(chance: Random, low: float, high: float, count: int) -> list[float]:
    return [chance.uniform(low, high) for _ in range(count)]


def _any_paths(value: Value, chance: Random) -> list[Any]:
    return [
        {
            "closed": chance.random() < 0.5,
            "knots": [_numbers(chance, -5, 5, 2) for _ in range(chance.choice([1, 2, 3, 5, 8]))],
        }
        for _ in range(chance.choice([0, 1, 2, 2, 3, 3]))
    ]


def stroke(path: list[list[float]], does: str = "paint", size: float = 0.3) -> dict[str, Any]:
    """A stroke at full strength, its outer half soft."""
    return {"does": does, "size": size, "strength": 100.0, "softness": 50.0, "path": path}


def _any_strokes(value: Value, chance: Random) -> list[Any]:
    return [
        stroke(
            [_numbers(chance, -1, 1, 6) for _ in range(chance.randint(1, 4))],
            chance.choice(["paint", "erase", "soften"]),
            chance.uniform(0.01, 2),
        )
        for _ in range(chance.randint(0, 3))
    ]


def _any_places(value: Value, chance: Random) -> list[Any]:
    return [
        {"at": _numbers(chance, -0.5, 0.5, 3), "normal": _numbers(chance, -1, 1, 3)}
        for _ in range(chance.randint(0, 12))
    ]


def _any_runs(value: Value, chance: Random) -> list[Any]:
    return [[chance.randint(0, 200), chance.randint(1, 50)] for _ in range(chance.randint(0, 4))]


def _any_knots(value: Value, chance: Random) -> list[Any]:
    return [_numbers(chance, 0, 1, 2) for _ in range(chance.randint(1, 6))]


PATHS = Kind(
    type=lambda value: Annotated[list[DrawnPath], Field(max_length=200)],
    random=_any_paths,
    ends=lambda value: ([], [{"closed": True, "knots": [[1e9, 0], [0, 1e9], [0, 0]]}]),
)
CURVE = Kind(
    type=lambda value: Annotated[list[Knot], Field(min_length=1, max_length=64)],
    random=_any_knots,
    ends=lambda value: ([[0.5, 1.0]], [[x / 8, x % 2] for x in range(9)]),
)
PICKED = Kind(
    type=lambda value: Annotated[list[Run], Field(max_length=200_000)],
    random=_any_runs,
    ends=lambda value: ([], [[0, 3], [7, 10**6]]),
)
PLACES = Kind(
    type=lambda value: Annotated[list[Place], Field(max_length=MOST_PLACES)],
    random=_any_places,
    ends=lambda value: (
        [],
        [{"at": [x / 8, 0.0, 0.0], "normal": [0.0, x % 2, 0.0]} for x in range(-4, 5)],
    ),
)
STROKES = Kind(
    type=lambda value: Annotated[list[Stroke], Field(max_length=2000)],
    random=_any_strokes,
    ends=lambda value: ([], [stroke([[0.0] * 6, [1.0] * 6], "soften", 5.0)]),
)
