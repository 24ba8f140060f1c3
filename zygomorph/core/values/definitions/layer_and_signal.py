"""What mask layers and signals declare."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from zygomorph.core.values.definitions.base import Definition, Discrete, Reach


@dataclass(frozen=True, kw_only=True)
class MaskDefinition(Definition):
    """``apply(mesh, values, context) -> (P,)`` from 0 to 1, before its profile.

    reach : how far around a point its weight is decided. What looks at the surface around each
        point gives faces, shards and curves the mean of what their points have
    opens : from the discrete values to the name of the one that keeps the loop from closing, or
        None
    acts_on : from a mesh to whether anything on it tells some points from others for it
    begins_empty : whether it lets nothing through before somebody picks, draws or chooses
        something
    """

    sort = "layer"
    reach: Reach = "whole"
    acts_on: Callable[[Any], bool] = lambda mesh: True
    begins_empty: bool = False
    opens: Callable[[Discrete], str | None] | None = None


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
