"""Whether a value is at the end of the loop where it was at its beginning.

Some values are the same after a period: a phase after a cycle, a turn after 360°.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.catalogue import definitions, recipe_definitions
from zygomorph.core.looks.surface import DEFINITION as SURFACE
from zygomorph.core.loop import Loop
from zygomorph.core.markers import MARKER_VALUES
from zygomorph.core.masks.layers import COMMON_VALUES
from zygomorph.core.place import PLACE_VALUES
from zygomorph.core.resolve import at_quality, is_moving, sampler
from zygomorph.core.study import Study
from zygomorph.core.ties import Ties
from zygomorph.core.values import Value

# Shares of the range of a value, and of its fastest change, below which nothing is seen.
SAME_VALUE = 1e-4
SAME_SLOPE = 0.05
STEP = 1e-3


@dataclass(frozen=True)
class Moving:
    """A number of a study that a signal moves.

    address : as edits have it
    label : of the value, with its component
    piece, step : ids of what it belongs to; "" for a marker, and for the piece's own place
    """

    piece: str
    step: str
    address: str
    label: str
    spec: Value
    signal: Mapping[str, Any]
    layer: str = ""


def moving_numbers(study: Study) -> Iterator[Moving]:
    """Every number of a study that moves: of its markers, then in the order of its pieces and
    steps."""
    for marker in study.markers:
        at = f"/markers/{marker['id']}/place"
        yield from _of("", "", at, MARKER_VALUES, marker.get("place", {}))
    for piece in study.pieces:
        base = f"/pieces/{piece['id']}"
        yield from _of(piece["id"], "", f"{base}/place", PLACE_VALUES, piece.get("place", {}))
        for step in piece["recipe"]:
            if not step.get("on", True):
                continue
            at = f"{base}/recipe/{step['id']}"
            own = recipe_definitions()[step["step"]].values
            yield from _of(piece["id"], step["id"], f"{at}/values", own, step.get("values", {}))
            for layer in step.get("where", {}).get("layers", []):
                if not layer.get("on", True):
                    continue
                here = f"{at}/where/layers/{layer['id']}"
                specs = definitions("layer")[layer["layer"]].values
                given = layer.get("values", {})
                ids = (piece["id"], step["id"])
                yield from _of(*ids, f"{here}/values", specs, given, layer["id"])
                yield from _of(*ids, here, COMMON_VALUES, layer, layer["id"])
        surface = (piece.get("look") or {}).get("surface") or {}
        yield from _of(piece["id"], "", f"{base}/look/surface", SURFACE.values, surface)


def _of(
    piece: str,
    step: str,
    base: str,
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    layer: str = "",
) -> Iterator[Moving]:
    for name, spec in specs.items():
        value = given.get(name)
        if not is_moving(value):
            continue
        parts = enumerate(value) if isinstance(value, list) else [(None, value)]
        for k, part in parts:
            signal = at_quality(part, False)
            if not (isinstance(signal, Mapping) and is_moving(signal)):
                continue
            at = f"{base}/{name}" + ("" if k is None else f"/{k}")
            if isinstance(part, Mapping) and "signal" not in part:
                at += "/draft"
            label = spec.label if k is None else f"{spec.label} {'xyz'[k]}"
            yield Moving(piece, step, at, label, spec, signal, layer)


@dataclass(frozen=True)
class Ends:
    """A signal at both ends of the loop.

    first, last : its value at frame 0 and at frame F
    begins, ends : its slope there, per frame, seen from inside the loop
    span : between its least and its greatest value
    fastest : its greatest slope
    """

    first: float
    last: float
    begins: float
    ends: float
    span: float
    fastest: float

    def apart(self, period: float | None) -> float:
        """How far the end is from the beginning; whole periods are nothing."""
        away = self.last - self.first
        return away if not period else away - round(away / period) * period

    def meets(self, period: float | None) -> bool:
        return abs(self.apart(period)) <= SAME_VALUE * max(self.span, 1e-9)

    def flows(self) -> bool:
        """Whether the speed at the end is that at the beginning."""
        return abs(self.ends - self.begins) <= SAME_SLOPE * max(self.fastest, 1e-12)


def ends_of(signal: Mapping[str, Any], loop: Loop, ties: Ties) -> Ends:
    """A signal at both ends of the loop, and between."""
    at = sampler(signal, loop, False, ties)
    frames = float(loop.frames)
    course = at(np.linspace(0, frames, 4 * loop.frames + 1))
    near = at(np.array([0.0, STEP, 2 * STEP, frames, frames - STEP, frames - 2 * STEP]))
    begins = (-3 * near[0] + 4 * near[1] - near[2]) / (2 * STEP)
    last = near[3]
    if signal.get("signal") == "cycle" and signal.get("shape") == "saw":
        # At the very end it has begun anew; what is seen before is where it was going.
        last = at(np.array([frames - 1e-6]))[0]
        near[3] = last
    ends = -(-3 * near[3] + 4 * near[4] - near[5]) / (2 * STEP)
    return Ends(
        float(near[0]),
        float(last),
        float(begins),
        float(ends),
        float(np.ptp(course)),
        float(np.abs(np.diff(course)).max() * 4),
    )
