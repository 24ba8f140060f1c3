"""What looks, lights, cameras and backdrops declare."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from zygomorph.core.values.definitions.base import Definition, Discrete


@dataclass(frozen=True, kw_only=True)
class ShownDefinition(Definition):
    """What decides how the study is drawn: looks of pieces, lights, cameras and backdrops.

    begins : what there is where the document says nothing, as the document has it without the key
        of the entry
    """

    begins: tuple[Mapping[str, Any], ...] = ()


# What colours copies by a value: the height of each point where it is placed, a value of each copy,
# or what the points of the copied mesh have.
CopiesTake = Literal["height", "copy", "base"]


def _of_the_base(discrete: Discrete) -> CopiesTake:
    return "base"


@dataclass(frozen=True, kw_only=True)
class LookDefinition(ShownDefinition):
    """``apply(mesh, values) -> Appearance``; see :mod:`zygomorph.core.shared.appearance`.

    copies_take : from the discrete values to what colours copies; for "copy", ``apply`` is given a
        mesh of loose points, one for each copy
    """

    sort = "look"
    copies_take: Callable[[Discrete], CopiesTake] = _of_the_base


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
    """``apply(values) ->`` a picture that renderers know, such as a ``RoundGradient``."""

    sort = "backdrop"
