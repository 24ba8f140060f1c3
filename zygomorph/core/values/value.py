"""How a step, layer, signal or look declares its values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

Kind = Literal[
    "number",
    "whole",
    "vector",
    "direction",
    "choice",
    "switch",
    "colour",
    "gradient",
    "asset",
    "image",
    "film",
    "paths",
    "curve",
    "picked",
    "places",
    "strokes",
    "sound",
    "address",
    "text",
    "formula",
    "piece",
    "anchor",
    "frames",
]


@dataclass(frozen=True)
class Value:
    """One value: what it is, where its ruler begins and ends, and what it means.

    soft : range of the ruler; values beyond it may be typed
    hard : range that physics or code demands; None where there is no limit
    scale : "linear" or "log", the spacing of the ruler
    shown_when : (name of a choice, options) for values that only some choices read
    mentioned_in : names of formulas; the value is shown when one of them uses its name
    known : names of values that a formula may use
    reads : of a choice, (option, "place" or "camera") where the result then depends on where the
        piece stands, or on where the camera is seen from it
    draft : whether draft and final quality may differ
    begins : what a new piece has in draft and in final quality, where they differ
    main : shown at once; the others wait behind "more"
    each : whether every element may have a number of its own
    period : after which it is the same again, such as 360 for a turn; of cycles it is 1
    idle : the value at which it does nothing, and need not be spoken of
    own : of a vector of lengths, whether it is measured along the axes of what it belongs to, so
        that it is no place on the stage
    by : whether a look may have it by value: through layers that differ from place to place
    tested_to : of a count whose cost grows fast, the most that tests at random try
    """

    HOLDS_NO_ARRAYS: ClassVar = True

    kind: Kind
    default: Any
    label: str
    help: str
    unit: str = ""
    soft: tuple[float, float] = (0.0, 1.0)
    hard: tuple[float | None, float | None] = (None, None)
    scale: Literal["linear", "log"] = "linear"
    options: tuple[tuple[str, str], ...] = ()
    shown_when: tuple[str, tuple[str, ...]] | None = None
    mentioned_in: tuple[str, ...] = ()
    known: tuple[str, ...] = ()
    reads: tuple[tuple[str, Literal["place", "camera"]], ...] = ()
    draft: bool = False
    begins: tuple[float, float] | None = None
    main: bool = True
    moves: bool = True
    each: bool = False
    period: float | None = None
    idle: Any = None
    tested_to: int | None = None
    own: bool = False
    by: bool = False

    def __post_init__(self) -> None:
        if self.unit == "cycle" and self.period is None:
            object.__setattr__(self, "period", 1.0)


def number(
    default: float,
    label: str,
    help: str,
    unit: str = "",
    soft: tuple[float, float] = (0.0, 1.0),
    **more: Any,
) -> Value:
    return Value("number", default, label, help, unit, soft, **more)


def whole(
    default: int, label: str, help: str, soft: tuple[int, int], unit: str = "", **more: Any
) -> Value:
    return Value("whole", default, label, help, unit, soft, **more)


def fineness(
    default: int,
    label: str,
    help: str,
    begins: tuple[int, int],
    soft: tuple[int, int],
    hard: tuple[int, int],
    **more: Any,
) -> Value:
    """A count of points or cells along one way, of which a new piece has few in draft and more in
    final quality."""
    return whole(
        default, label, help, soft, hard=hard, scale="log", draft=True, begins=begins, **more
    )


def vector(
    default: tuple[float, float, float],
    label: str,
    help: str,
    unit: str = "m",
    soft: tuple[float, float] = (-2.0, 2.0),
    **more: Any,
) -> Value:
    return Value("vector", list(default), label, help, unit, soft, **more)


def direction(default: tuple[float, float, float], label: str, help: str, **more: Any) -> Value:
    return Value("direction", list(default), label, help, "", (-1.0, 1.0), **more)


def choice(default: str, label: str, help: str, options: dict[str, str], **more: Any) -> Value:
    return Value("choice", default, label, help, options=tuple(options.items()), **more)


def switch(default: bool, label: str, help: str, **more: Any) -> Value:
    return Value("switch", default, label, help, **more)


def colour(default: str, label: str, help: str, **more: Any) -> Value:
    return Value("colour", default, label, help, **more)


def gradient(default: str, label: str, help: str, **more: Any) -> Value:
    """A bundled gradient by its name, or one with stops of its own."""
    return Value("gradient", default, label, help, **more)


def text(default: str, label: str, help: str, **more: Any) -> Value:
    return Value("text", default, label, help, **more)


def piece(label: str, help: str, **more: Any) -> Value:
    """Another piece of the study, by its id; "" where none is chosen."""
    return Value("piece", "", label, help, **more)


def anchor(label: str, help: str, **more: Any) -> Value:
    """A piece or marker of the study by its address, such as "/markers/m"; "" where none is
    chosen."""
    return Value("anchor", "", label, help, **more)


def frames(label: str, help: str, **more: Any) -> Value:
    """Whole frames of the loop, written one after the other: "3, 17 40"."""
    return Value("frames", "", label, help, **more)


def formula(default: str, label: str, help: str, known: frozenset[str], **more: Any) -> Value:
    return Value("formula", default, label, help, known=tuple(sorted(known)), **more)


def image(label: str, help: str, **more: Any) -> Value:
    """A stored image, by the SHA-256 of its file; "" where none is chosen."""
    return Value("image", "", label, help, **more)


def film(label: str, help: str, **more: Any) -> Value:
    """A stored film or sequence of pictures, by the SHA-256 of what is kept of it; "" where none
    is chosen."""
    return Value("film", "", label, help, **more)


def paths(default: list[dict[str, Any]], label: str, help: str, **more: Any) -> Value:
    """Paths in a plane: of each, its knots as (x, y) in metres, and whether it is closed."""
    return Value("paths", default, label, help, "m", **more)


def curve(default: list[list[float]], label: str, help: str, **more: Any) -> Value:
    """A drawn profile: knots (x, y), each from 0 to 1."""
    return Value("curve", default, label, help, **more)


def picked(label: str, help: str, **more: Any) -> Value:
    """Elements by number, as runs of (first, how many)."""
    return Value("picked", [], label, help, **more)


def places(label: str, help: str, **more: Any) -> Value:
    """Places clicked on a surface: of each, where it is in the piece, and the normal there."""
    return Value("places", [], label, help, "m", **more)


def strokes(label: str, help: str, **more: Any) -> Value:
    """Strokes of a brush: of each, its path as (x, y, z, normal), size, strength, and what it
    does."""
    return Value("strokes", [], label, help, "m", **more)


def sound(label: str, help: str, **more: Any) -> Value:
    """A stored sound, by the SHA-256 of its file; "" where none is chosen."""
    return Value("sound", "", label, help, **more)


def address(label: str, help: str, **more: Any) -> Value:
    """Another value of the study, as edits address it; "" where none is chosen."""
    return Value("address", "", label, help, **more)


def asset(label: str, help: str, **more: Any) -> Value:
    return Value("asset", "", label, help, **more)


SEED = whole(
    1,
    "Seed",
    "Another whole number gives another pattern of the same kind.",
    (0, 99),
    hard=(0, 2**31 - 1),
    main=False,
)


def beginning(values: Mapping[str, Value]) -> dict[str, dict[str, float]]:
    """What is set in a new piece: light enough to be played in draft, fine in final quality."""
    return {
        name: {"draft": value.begins[0], "final": value.begins[1]}
        for name, value in values.items()
        if value.begins is not None
    }
