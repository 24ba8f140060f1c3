"""What mask layers and signals declare."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple

import numpy as np

from zygomorph.core.values.definitions.base import Definition, Discrete, Reach
from zygomorph.core.values.definitions.printed import Print


class Slope(NamedTuple):
    """A weight that rises with the position alone: from 0 at ``low`` to 1 at ``high`` along an
    axis, metres in the piece; axis : (3,) unit"""

    axis: np.ndarray
    low: float
    high: float


class Seen(NamedTuple):
    """A weight that depends on where it is looked at from: it rises from 0 to 1 between two ends.

    kind : "facing", by the cosine between the normal and the way to the eye, or "depth", by the
        distance from the eye, metres
    both : of "facing", whether what faces away counts as well
    """

    kind: Literal["facing", "depth"]
    low: float
    high: float
    both: bool = False


def _not_so(values: Any) -> None:
    return None


@dataclass(frozen=True, kw_only=True)
class MaskDefinition(Definition):
    """``apply(mesh, values, context) -> (P,)`` from 0 to 1, before its profile.

    reach : how far around a point its weight is decided. What looks at the surface around each
        point gives faces, shards and curves the mean of what their points have
    acts_on : from a mesh to whether anything on it tells some points from others for it
    begins_empty : whether it lets nothing through before somebody picks, draws or chooses
        something
    on_copies : of copies, whether looks read it once for each, or on the mesh that is copied,
        because it needs the surface around a point
    in_looks : whether it is a layer of looks only, because it needs what comes out of all steps
    rises_along, seen : from the values, as :class:`Resolved`, to what viewers may work out
        themselves, or None
    printed : from the values and the context to what viewers find at every pixel, of what is a
        pattern or picture
    coloured : of a picture, ``coloured(mesh, values, context)``, (P, 4) sRGB and opacity
    by_uv : from the discrete values to whether it lies by the UVs
    """

    sort = "layer"
    reach: Reach = "whole"
    acts_on: Callable[[Any], bool] = lambda mesh: True
    begins_empty: bool = False
    on_copies: Literal["copy", "base"] = "copy"
    in_looks: bool = False
    rises_along: Callable[[Any], Slope | None] = _not_so
    seen: Callable[[Any], Seen | None] = _not_so
    printed: Callable[[Any, Any], Print] | None = None
    coloured: Callable[..., Any] | None = None
    by_uv: Callable[[Discrete], bool] = lambda values: False

    def describe(self) -> dict[str, Any]:
        coloured = self.coloured is not None
        return super().describe() | {"in_looks": self.in_looks, "coloured": coloured}


def _nothing_near(*_: Any) -> str:
    return "nothing near by closes"


@dataclass(frozen=True, kw_only=True)
class SignalDefinition(Definition):
    """``apply(values, times, loop, context) -> numbers``, (T,) frames to (T,) float64.

    The functions below take the signal as the document has it.

    series : its lists of values at frames, as fields of a pydantic model (see
        :mod:`zygomorph.core.values.keys`)
    moves : whether it may differ from frame to frame
    jumps : whether it goes from value to value at once
    restarts : whether at the end of its period it falls back to where it began
    fit : makes one that does not close do so with the least change: the changed signal with what
        is changed, in words before and after; or the reason why it cannot
    """

    sort = "signal"
    series: Mapping[str, tuple[Any, Any]] = field(default_factory=dict)
    moves: bool = True
    jumps: Callable[[Discrete], bool] = lambda signal: False
    restarts: Callable[[Discrete], bool] = lambda signal: False
    fit: Callable[..., tuple[dict[str, Any], str, str] | str] = _nothing_near
