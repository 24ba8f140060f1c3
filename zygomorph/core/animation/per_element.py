"""Values that run over the elements: numbers of a signal from first to last, and its delay."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.order_of_elements import order_of
from zygomorph.core.animation.resolve import (
    PerElementValue,
    Resolved,
    at_quality,
    bounded,
    given_values,
)
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.per_element import FACTOR, OFFSET
from zygomorph.core.values.value import Value


def _numbers(
    each: PerElementValue, times: np.ndarray, spread: np.ndarray, stagger: np.ndarray
) -> np.ndarray:
    """The signal at times, (n,) frames, of elements at these places in the orders, (1,) or (n,)."""
    signal, loop = at_quality(each.value, each.signals.final), each.loop
    definition = definitions("signal")[signal["signal"]]
    own, factor, offset = given_values(signal), np.ones(1), np.zeros(1)
    if signal.get("stagger"):
        times = times - stagger * delay_frames(signal["stagger"], loop)
        if signal["stagger"].get("closes", True):
            # What the loop ends with comes before its beginning.
            times = np.where(times < 0, np.mod(times, loop.frames), times)
    for name, last in (signal.get("spread") or {}).get("to", {}).items():
        if name == FACTOR:
            factor = 1 + spread * (last - 1)
        elif name == OFFSET:
            offset = spread * last
        elif name in definition.values:
            own[name] = _spread_number(definition.values[name], own, name, last, spread)
    found = definition.apply(own, times, loop, each.signals) * factor + offset
    return bounded(each.spec, np.broadcast_to(found, times.shape))


def numbers_at_elements(
    each: PerElementValue, times: np.ndarray, mesh: Mesh, context: Context, of: str = "points"
) -> np.ndarray:
    """A number for each element of a kind, (n,) float64.

    times : (1,) frames, the moment
    """
    signal = at_quality(each.value, each.signals.final)
    still = np.zeros(1)
    spread, stagger = (
        order_of(signal[name], mesh, context, of) if signal.get(name) else still
        for name in ("spread", "stagger")
    )
    count = len(mesh.points) if of == "points" else len(elements_of(mesh, of))
    return _numbers(each, np.full(count, float(times[0])), spread, stagger)


def last_element(each: PerElementValue, times: np.ndarray) -> np.ndarray:
    """The number of the last element at times, (n,) frames; (n,) float64."""
    return _numbers(each, times, np.ones(1), np.ones(1))


def at_elements(values: Resolved, mesh: Mesh, context: Context, of: str = "points") -> Resolved:
    """The same values with one for each element of a kind, (n,), where they differ from element to
    element.

    Raises ZygomorphError where the mesh has no such elements.
    """
    if not values.per_element or values.times is None:
        return values
    found = {
        each.name: numbers_at_elements(each, values.times, mesh, context, of)
        for each in values.per_element
    }
    return Resolved({**values.numbers, **found}, values.discrete_values, values.fingerprint)


def delay_frames(stagger: Mapping[str, Any], loop: Loop) -> float:
    """How much later the last element is than the first, in frames."""
    delay = float(stagger.get("delay", 0.5))
    return delay * (loop.rate if stagger.get("unit", "loop") == "seconds" else loop.frames)


def _spread_number(
    spec: Value, own: Mapping[str, Any], name: str, last: float, share: np.ndarray
) -> np.ndarray:
    found = own[name] + share * (last - own[name])
    # A rate becomes whole turns of the loop, so that each element closes at its own pace.
    if spec.kind == "whole" or (own["signal"] == "run" and name == "rate"):
        found = np.rint(found)
    low, high = spec.hard
    return np.clip(found, -np.inf if low is None else low, np.inf if high is None else high)
