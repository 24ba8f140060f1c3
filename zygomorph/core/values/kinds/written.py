"""Text and formulas."""

from __future__ import annotations

from functools import partial
from random import Random
from typing import Annotated, Any

from pydantic import AfterValidator, Field
from pydantic_core import PydanticCustomError

from zygomorph.core.values.formula.errors import FormulaError
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.kinds.kind import Kind, Names
from zygomorph.core.values.value import Value

# As much of a formula as a sentence shows.
SHOWN = 48
# For tests: what divides by nothing, asks for noise, grows without bounds, and uses own values.
FORMULAS = ("0", "x / (y - z)", "noise(x, y, z) + chance(i, 3) * a", "9e30 ** x", "q * f + b")
LETTERS = "aZ09 é-ß\n"
# What no font has.
RARE = "→語"


def _readable(known: frozenset[str], text: str) -> str:
    try:
        read_formula(text, known)
    except FormulaError as error:
        raise PydanticCustomError(
            "formula",
            "{message} (character {place})",
            {"message": str(error), "place": error.column + 1},
        ) from error
    return text


def _formula_type(value: Value) -> Any:
    return Annotated[str, AfterValidator(partial(_readable, frozenset(value.known)))]


def _first_line(given: Any, value: Value, names: Names) -> str:
    """A row has one line; the field below it has all."""
    whole = str(given).strip()
    begin = whole.partition("\n")[0]
    if len(begin) > SHOWN:
        begin = begin[: SHOWN - 2]
    return begin if begin == whole else begin.rstrip() + " …"


def _usable(value: Value) -> list[str]:
    """Formulas of which all names are known."""
    found = []
    for text in FORMULAS:
        try:
            read_formula(text, frozenset(value.known))
        except FormulaError:
            continue
        found.append(text)
    return found


def _any_text(value: Value, chance: Random) -> str:
    # Whoever plays at chance for tests prefers the ends of a range.
    rare = chance.randrange(20) == 7
    return "".join(chance.choice(LETTERS + RARE * rare) for _ in range(chance.randrange(21)))


# Times that are written by hand: more of them are better made by chance.
MOST_FRAMES = 200


def frames_in(text: str) -> list[int]:
    """The whole frames that a text names, parted by commas, spaces or both.

    Raises ValueError where something else stands there.
    """
    found = []
    for word in text.replace(",", " ").split():
        if not word.isdecimal() or len(word) > 6:
            raise ValueError(f"{word!r} is not a frame; write whole frames such as 3, 17, 40")
        found.append(int(word))
    if len(found) > MOST_FRAMES:
        raise ValueError(f"more than {MOST_FRAMES} frames")
    return found


def _frames_text(text: str) -> str:
    try:
        frames_in(text)
    except ValueError as error:
        raise PydanticCustomError("frames", "{message}", {"message": str(error)}) from error
    return text


FRAMES = Kind(
    type=lambda value: Annotated[str, Field(max_length=1000), AfterValidator(_frames_text)],
    random=lambda value, chance: ", ".join(
        str(chance.randrange(60)) for _ in range(chance.randrange(5))
    ),
    ends=lambda value: ("", "0, 3, 17"),
)
TEXT = Kind(
    type=lambda value: Annotated[str, Field(max_length=120)],
    random=_any_text,
    ends=lambda value: ("", "a name of some length"),
)
FORMULA = Kind(
    type=_formula_type,
    random=lambda value, chance: chance.choice(_usable(value)),
    ends=lambda value: (_usable(value)[0], _usable(value)[-1]),
    words=_first_line,
)
