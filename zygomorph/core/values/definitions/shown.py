"""What looks, lights, cameras and backdrops declare."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from zygomorph.core.values.definitions.base import Definition


@dataclass(frozen=True, kw_only=True)
class ShownDefinition(Definition):
    """What decides how the study is drawn: looks of pieces, lights, cameras and backdrops.

    begins : what there is where the document says nothing, as the document has it without the key
        of the entry
    """

    begins: tuple[Mapping[str, Any], ...] = ()


@dataclass(frozen=True, kw_only=True)
class LookDefinition(ShownDefinition):
    """``apply(values) -> Material``; see :mod:`zygomorph.core.shared.material`.

    amount : from the name of a number that may go by value to that of the material's amount that it
        is, and how much of this one unit of it is
    """

    sort = "look"
    amount: Callable[[str], tuple[str, float]]


@dataclass(frozen=True, kw_only=True)
class LightDefinition(ShownDefinition):
    """``apply(values) -> lamps``, a tuple of those that renderers know; see
    :mod:`zygomorph.core.shared.drawn_scene`.

    Vectors in metres are places on the stage, and directions are directions on it: a parent
    carries both.
    """

    sort = "light"

    @property
    def carriable(self) -> bool:
        return True


@dataclass(frozen=True, kw_only=True)
class CameraDefinition(ShownDefinition):
    """``apply(values) -> View``. Places and directions are as those of lights."""

    sort = "camera"

    @property
    def carriable(self) -> bool:
        return True


@dataclass(frozen=True, kw_only=True)
class BackdropDefinition(ShownDefinition):
    """``apply(values) ->`` a picture that renderers know, such as a ``Backdrop``."""

    sort = "backdrop"
