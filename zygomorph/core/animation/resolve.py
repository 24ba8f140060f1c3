"""Values of a document at given times: plain numbers, signals, draft or final."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.colours import AT, COLOUR_AT, is_moving_colour
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.gradients import Gradient, colour_in
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.value import Value


def is_moving(value: Any) -> bool:
    """Whether a document value, or any component of it, is moved by a signal."""
    if isinstance(value, dict):
        if "signal" in value:
            return definitions("signal")[value["signal"]].moves
        return any(is_moving(v) for v in value.values())
    if isinstance(value, list):
        return any(is_moving(v) for v in value)
    return False


def in_jumps(value: Any) -> bool:
    """Whether a signal of a document value goes from value to value at once."""
    if isinstance(value, dict):
        if "signal" in value:
            return definitions("signal")[value["signal"]].jumps(value)
        return any(in_jumps(v) for v in value.values())
    return isinstance(value, list) and any(in_jumps(v) for v in value)


def is_per_element(value: Any) -> bool:
    """Whether a document value, or any component of it, differs from element to element."""
    if isinstance(value, dict):
        if "signal" in value:
            return bool(value.get("spread") or value.get("stagger"))
        return any(is_per_element(v) for v in value.values())
    if isinstance(value, list):
        return any(is_per_element(v) for v in value)
    return False


Sampler = Callable[[np.ndarray], np.ndarray]


def at_quality(value: Any, final: bool) -> Any:
    """A signal of the document, or its number, at a quality."""
    if type(value) is dict and "signal" not in value:
        value = value["final" if final else "draft"]
    return value


def given_values(signal: Mapping[str, Any]) -> dict[str, Any]:
    """All values of a signal, those that the document leaves out as well."""
    definition = definitions("signal")[signal["signal"]]
    return {name: spec.default for name, spec in definition.values.items()} | dict(signal)


def sampler(value: Any, loop: Loop, final: bool, signals: SignalContext = NO_CONTEXT) -> Sampler:
    """One number of the document as a function from times, (T,) float64 frames, to (T,) float64;
    of what differs from element to element, the first one's."""
    value = at_quality(value, final)
    if isinstance(value, dict):
        definition = definitions("signal")[value["signal"]]
        given = given_values(value)
        return lambda times: definition.apply(given, times, loop, signals)
    number = float(value)
    return lambda times: np.full(times.shape, number)


def sample_number(
    value: Any, times: np.ndarray, loop: Loop, final: bool, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    """One number of the document at many times.

    times : (T,) float64, frames
    returns (T,) float64
    """
    return sampler(value, loop, final, signals)(np.asarray(times))


@dataclass(frozen=True)
class PerElementValue:
    """A number of the document that differs from element to element; see
    :mod:`zygomorph.core.animation.per_element`."""

    name: str
    spec: Value
    value: Any
    loop: Loop
    signals: SignalContext


@dataclass(frozen=True)
class Resolved:
    """The values of one step at one moment.

    numbers : name -> (1,) or (n,) float64; vectors and directions -> (3, 1) or (3, n)
    discrete_values : name -> choice, switch, colour or asset
    fingerprint : the same bytes for the same values, and only then
    per_element : what differs from element to element, of which numbers hold the first one's
    times : (1,) frames, the moment
    """

    numbers: Mapping[str, np.ndarray]
    discrete_values: Mapping[str, Any]
    fingerprint: bytes = b""
    per_element: Sequence[PerElementValue] = ()
    times: np.ndarray | None = None

    def array(self, name: str) -> np.ndarray:
        """(1,) or (n,) float32, contiguous, as kernels take it."""
        return np.ascontiguousarray(self.numbers[name], np.float32)

    def cycles(self, name: str) -> np.ndarray:
        """A phase without its whole cycles, so that one cycle is exactly none; float32."""
        phase = self.numbers[name]
        return np.ascontiguousarray(phase - np.floor(phase), np.float32)

    def scalar(self, name: str) -> float:
        return float(self.numbers[name].flat[0])

    def count(self, name: str) -> int:
        return round(self.scalar(name))

    def vector(self, name: str) -> np.ndarray:
        """(3,) float64."""
        return self.numbers[name][:, 0]

    def discrete(self, name: str) -> Any:
        return self.discrete_values[name]


@dataclass(frozen=True)
class Prepared:
    """Values of which all that stands still is known already; asking for a moment is cheap.

    specs : the declarations of the values
    moving : name and function of time of what is left to sample
    colours : name, gradient and function of time of colours that move
    per_element : what differs from element to element
    """

    specs: Mapping[str, Value]
    still: Resolved
    moving: Sequence[tuple[str, Sampler]]
    per_element: Sequence[PerElementValue] = ()
    colours: Sequence[tuple[str, Gradient, Sampler]] = ()

    @property
    def moves(self) -> bool:
        """Whether any value differs from frame to frame."""
        return bool(self.moving or self.colours)

    def at(self, times: np.ndarray) -> Resolved:
        """Values at the given times: length 1 for one moment, n for a moment of each element.

        times : (1,) or (n,) float64, frames
        """
        if not self.moves and not self.per_element:
            return self.still
        numbers = dict(self.still.numbers)
        stamp = [self.still.fingerprint]
        for name, sample in self.moving:
            numbers[name] = sample(times)
            stamp.append(name.encode() + numbers[name].tobytes())
        if self.per_element and self.moving:
            # The numbers are the first element's; the others may move though it does not.
            stamp.append(times.tobytes())
        discrete = self.still.discrete_values
        if self.colours:
            # A colour is one for all elements: that of the first moment.
            own = {n: colour_in(g, float(sample(times).flat[0])) for n, g, sample in self.colours}
            discrete = {**discrete, **own}
            stamp += [f"{n}={c}".encode() for n, c in own.items()]
        return Resolved(numbers, discrete, b"|".join(stamp), self.per_element, times)


def bounded(spec: Value, sampled: np.ndarray) -> np.ndarray:
    low, high = spec.hard
    if spec.kind == "whole":
        sampled = np.rint(sampled)
    if low is not None:
        sampled = np.maximum(sampled, low)
    return sampled if high is None else np.minimum(sampled, high)


def _within_bounds(
    spec: Value, value: Any, loop: Loop, final: bool, signals: SignalContext
) -> Sampler:
    """Gives (1,) or (n,) of a number; (3, 1) or (3, n) of a vector."""
    triple = kind_of(spec).components > 1
    parts = [sampler(part, loop, final, signals) for part in (value if triple else [value])]

    def sample(times: np.ndarray) -> np.ndarray:
        sampled = np.stack([part(times) for part in parts]) if triple else parts[0](times)
        return bounded(spec, sampled)

    return sample


def prepare(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    loop: Loop,
    final: bool = False,
    signals: SignalContext = NO_CONTEXT,
) -> Prepared:
    """Split declared values into those that stand still and those that move.

    specs : the declared values; what the document leaves out has its default
    signals : what signals may know of the study
    """
    signals = replace(signals, final=final)
    numbers: dict[str, np.ndarray] = {}
    discrete: dict[str, Any] = {}
    moving: list[tuple[str, Sampler]] = []
    colours: list[tuple[str, Gradient, Sampler]] = []
    per_element: list[PerElementValue] = []
    told: list[str] = []
    once = np.zeros(1)
    for name, spec in specs.items():
        value = given.get(name, spec.default)
        if is_moving_colour(value):
            sample = _within_bounds(COLOUR_AT, value[AT], loop, final, signals)
            discrete[name] = colour_in(value["gradient"], float(sample(once)[0]))
            if is_moving(value[AT]):
                colours.append((name, value["gradient"], sample))
            continue
        if not kind_of(spec).moves:
            discrete[name] = value
            continue
        if spec.each and is_per_element(value):
            per_element.append(PerElementValue(name, spec, value, loop, signals))
            told.append(f"{name}={json.dumps(value, sort_keys=True)}")
        sample = _within_bounds(spec, value, loop, final, signals)
        if is_moving(value):
            moving.append((name, sample))
        else:
            numbers[name] = sample(once)
    parts = [n.encode() + a.tobytes() for n, a in sorted(numbers.items())]
    parts += [f"{n}={w}".encode() for n, w in sorted(discrete.items())]
    parts += [each.encode() for each in told]
    still = Resolved(numbers, discrete, b"|".join(parts))
    return Prepared(specs, still, moving, per_element, colours)


def resolve(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    times: np.ndarray,
    loop: Loop,
    final: bool = False,
    signals: SignalContext = NO_CONTEXT,
) -> Resolved:
    """Declared values at the given times; where many moments are wanted, prepare them instead."""
    return prepare(specs, given, loop, final, signals).at(times)
