"""What is wrong with a formula, and where in its text."""

from __future__ import annotations

from zygomorph.core.errors import ZygomorphError


class FormulaError(ZygomorphError):
    """A formula cannot be read.

    column, length : the place of the mistake in the text, in characters from 0
    """

    def __init__(self, message: str, hint: str = "", column: int = 0, length: int = 1) -> None:
        super().__init__(message, hint)
        self.column = column
        self.length = max(length, 1)
