"""Values of a document at given times: plain numbers, signals, draft or final."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.catalogue import definitions, recipe_definitions
from zygomorph.core.loop import Loop
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import MOVING_KINDS, Value


def is_moving(value: Any) -> bool:
    """Whether a document value, or any component of it, is moved by a signal."""
    if isinstance(value, dict):
        if "signal" in value:
            return value["signal"] != "hold"
        return any(is_moving(v) for v in value.values())
    if isinstance(value, list):
        return any(is_moving(v) for v in value)
    return False


def in_jumps(value: Any) -> bool:
    """Whether a signal of a document value goes from value to value at once."""
    if isinstance(value, dict):
        if value.get("signal") == "cycle":
            return value.get("shape") in ("square", "pulse")
        if value.get("signal") == "keys":
            return any(key.get("ease") == "held" for key in value["keys"])
        return "signal" not in value and any(in_jumps(v) for v in value.values())
    return isinstance(value, list) and any(in_jumps(v) for v in value)


def is_across(value: Any) -> bool:
    """Whether a document value, or any component of it, differs from element to element."""
    if isinstance(value, dict):
        if "signal" in value:
            return bool(value.get("spread") or value.get("stagger"))
        return any(is_across(v) for v in value.values())
    if isinstance(value, list):
        return any(is_across(v) for v in value)
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


def sampler(value: Any, loop: Loop, final: bool, ties: Ties = NO_TIES) -> Sampler:
    """One number of the document as a function from times, (T,) float64 frames, to (T,) float64;
    of what differs from element to element, the first one's."""
    value = at_quality(value, final)
    if isinstance(value, dict):
        definition = definitions("signal")[value["signal"]]
        given = given_values(value)
        return lambda times: definition.apply(given, times, loop, ties)
    number = float(value)
    return lambda times: np.full(times.shape, number)


def sample_number(
    value: Any, times: np.ndarray, loop: Loop, final: bool, ties: Ties = NO_TIES
) -> np.ndarray:
    """One number of the document at many times.

    times : (T,) float64, frames
    returns (T,) float64
    """
    return sampler(value, loop, final, ties)(np.asarray(times))


@dataclass(frozen=True)
class AcrossValue:
    """A number of the document that differs from element to element; see
    :mod:`zygomorph.core.spread`."""

    name: str
    spec: Value
    value: Any
    loop: Loop
    ties: Ties


@dataclass(frozen=True)
class Resolved:
    """The values of one step at one moment.

    numbers : name -> (1,) or (n,) float64; vectors and directions -> (3, 1) or (3, n)
    words : name -> choice, switch, colour or asset
    fingerprint : the same bytes for the same values, and only then
    across : what differs from element to element, of which numbers hold the first one's
    times : (1,) frames, the moment
    """

    numbers: Mapping[str, np.ndarray]
    words: Mapping[str, Any]
    fingerprint: bytes = b""
    across: Sequence[AcrossValue] = ()
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

    def word(self, name: str) -> Any:
        return self.words[name]


@dataclass(frozen=True)
class Prepared:
    """Values of which all that stands still is known already; asking for a moment is cheap.

    moving : name and function of time of what is left to sample
    across : what differs from element to element
    """

    still: Resolved
    moving: Sequence[tuple[str, Sampler]]
    across: Sequence[AcrossValue] = ()

    def at(self, times: np.ndarray) -> Resolved:
        """Values at the given times: length 1 for one moment, n for a moment of each element.

        times : (1,) or (n,) float64, frames
        """
        if not self.moving and not self.across:
            return self.still
        numbers = dict(self.still.numbers)
        stamp = [self.still.fingerprint]
        for name, sample in self.moving:
            numbers[name] = sample(times)
            stamp.append(name.encode() + numbers[name].tobytes())
        if self.across and self.moving:
            # The numbers are the first element's; the others may move though it does not.
            stamp.append(times.tobytes())
        return Resolved(numbers, self.still.words, b"|".join(stamp), self.across, times)


def bounded(spec: Value, sampled: np.ndarray) -> np.ndarray:
    low, high = spec.hard
    if spec.kind == "whole":
        sampled = np.rint(sampled)
    if low is not None:
        sampled = np.maximum(sampled, low)
    return sampled if high is None else np.minimum(sampled, high)


def _within_bounds(spec: Value, value: Any, loop: Loop, final: bool, ties: Ties) -> Sampler:
    """Gives (1,) or (n,) of a number; (3, 1) or (3, n) of a vector."""
    triple = spec.kind in ("vector", "direction")
    parts = [sampler(part, loop, final, ties) for part in (value if triple else [value])]

    def sample(times: np.ndarray) -> np.ndarray:
        sampled = np.stack([part(times) for part in parts]) if triple else parts[0](times)
        return bounded(spec, sampled)

    return sample


def prepare(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    loop: Loop,
    final: bool = False,
    ties: Ties = NO_TIES,
) -> Prepared:
    """Split declared values into those that stand still and those that move.

    specs : the declared values; what the document leaves out has its default
    ties : what signals may know of the study
    """
    ties = replace(ties, final=final)
    numbers: dict[str, np.ndarray] = {}
    words: dict[str, Any] = {}
    moving: list[tuple[str, Sampler]] = []
    across: list[AcrossValue] = []
    told: list[str] = []
    once = np.zeros(1)
    for name, spec in specs.items():
        value = given.get(name, spec.default)
        if spec.kind not in MOVING_KINDS:
            words[name] = value
            continue
        if spec.each and is_across(value):
            across.append(AcrossValue(name, spec, value, loop, ties))
            told.append(f"{name}={json.dumps(value, sort_keys=True)}")
        sample = _within_bounds(spec, value, loop, final, ties)
        if is_moving(value):
            moving.append((name, sample))
        else:
            numbers[name] = sample(once)
    parts = [n.encode() + a.tobytes() for n, a in sorted(numbers.items())]
    parts += [f"{n}={w}".encode() for n, w in sorted(words.items())]
    parts += [each.encode() for each in told]
    return Prepared(Resolved(numbers, words, b"|".join(parts)), moving, across)


def resolve(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    times: np.ndarray,
    loop: Loop,
    final: bool = False,
    ties: Ties = NO_TIES,
) -> Resolved:
    """Declared values at the given times; where many moments are wanted, prepare them instead."""
    return prepare(specs, given, loop, final, ties).at(times)


def words_of(step: Mapping[str, Any]) -> dict[str, Any]:
    """The values of a step that are no numbers."""
    given = step.get("values", {})
    return {
        name: given.get(name, spec.default)
        for name, spec in recipe_definitions()[step["step"]].values.items()
        if spec.kind not in MOVING_KINDS
    }
