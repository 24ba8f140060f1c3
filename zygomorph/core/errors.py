"""What can go wrong, said in a way that names the place and what helps."""

from __future__ import annotations


class ZygomorphError(Exception):
    """Base of errors that are the input's fault, with a hint for whoever made it."""

    def __init__(self, message: str, hint: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.hint = hint

    def __str__(self) -> str:
        return f"{self.message} {self.hint}".strip()


class StepError(ZygomorphError):
    """A step cannot do its work."""

    def __init__(self, step_id: str, message: str, hint: str = "") -> None:
        super().__init__(message, hint)
        self.step_id = step_id


class DocumentError(ZygomorphError):
    """A study document is wrong; ``problems`` are (JSON pointer, message) pairs."""

    def __init__(self, problems: list[tuple[str, str]]) -> None:
        self.problems = problems
        first = "; ".join(f"{path or '/'}: {message}" for path, message in problems[:5])
        more = f" (and {len(problems) - 5} more)" if len(problems) > 5 else ""
        super().__init__(f"The study document is not valid. {first}{more}")


class MeshFileError(ZygomorphError):
    """A mesh file cannot be read."""


class Cancelled(Exception):
    """The work was called off because nobody waits for it any more."""
