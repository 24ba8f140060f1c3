"""JSON of requests, as deep as anything that is asked for and no deeper.

What is nested many times would not only fail to be read, but everything that walks through it.
"""

from __future__ import annotations

from typing import Any

from flask.json.provider import DefaultJSONProvider

from zygomorph.core.errors import ZygomorphError

# A study has about fifteen levels.
MOST_LEVELS = 64


class TooDeep(ZygomorphError):
    def __init__(self) -> None:
        super().__init__(
            f"The JSON is nested in more than {MOST_LEVELS} levels.",
            "No study and no request has so many.",
        )


class BoundedJSON(DefaultJSONProvider):
    """Raises TooDeep where others would run out of their stack."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        try:
            read = super().loads(s, **kwargs)
        except RecursionError:
            raise TooDeep() from None
        level: list[Any] = [read]
        for _ in range(MOST_LEVELS):
            level = [
                inner
                for part in level
                if isinstance(part, dict | list)
                for inner in (part.values() if isinstance(part, dict) else part)
                if isinstance(inner, dict | list)
            ]
            if not level:
                return read
        raise TooDeep()
