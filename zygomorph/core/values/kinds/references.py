"""What names something else: another piece, another value, or a file that was brought in."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from zygomorph.core.values.kinds.kind import Kind, Names
from zygomorph.core.values.value import Value


def _quoted(given: Any, value: Value, names: Names) -> str:
    return f"“{names.get(given, given)}”" if given else "no piece"


PIECE = Kind(
    type=lambda value: Annotated[str, Field(pattern=r"^([A-Za-z0-9][A-Za-z0-9_-]{0,39})?$")],
    # Tests call another piece "o", and the piece itself, which would wait for itself, "p".
    random=lambda value, chance: chance.choice(["o", "o", "o", "o", "", "gone", "p"]),
    ends=lambda value: ("", "gone"),
    words=_quoted,
)


def _anchor_words(given: Any, value: Value, names: Names) -> str:
    name = str(given).rpartition("/")[2]
    return f"“{names.get(name, name)}”" if given else "nothing"


ANCHOR = Kind(
    type=lambda value: Annotated[
        str, Field(pattern=r"^(/(pieces|markers)/[A-Za-z0-9][A-Za-z0-9_-]{0,39})?$")
    ],
    random=lambda value, chance: chance.choice(["", "/pieces/o", "/pieces/p", "/markers/gone"]),
    ends=lambda value: ("", "/pieces/gone"),
    words=_anchor_words,
)
ADDRESS = Kind(
    type=lambda value: Annotated[str, Field(pattern=r"^(/[^/]+)*$", max_length=400)],
    random=lambda value, chance: chance.choice(["", "/pieces/p/place/move/0", "/pieces/gone"]),
    ends=lambda value: ("", "/pieces/gone"),
)
# By the SHA-256 of the file's content.
FILE = Kind(
    type=lambda value: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")],
    random=lambda value, chance: chance.choice(["", "0" * 64]),
    ends=lambda value: ("", "0" * 64),
)
