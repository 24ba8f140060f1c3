"""Values of a document at given times: plain numbers, signals, draft or final."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.catalogue import definitions, recipe_definitions
from zygomorph.core.loop import Loop
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


Sampler = Callable[[np.ndarray], np.ndarray]


def sampler(value: Any, loop: Loop, final: bool) -> Sampler:
    """One number of the document as a function from times, (T,) float64 frames, to (T,) float64."""
    if type(value) is dict and "signal" not in value:
        value = value["final" if final else "draft"]
    if isinstance(value, dict):
        definition = definitions("signal")[value["signal"]]
        given = {name: spec.default for name, spec in definition.values.items()} | value
        return lambda times: definition.apply(given, times, loop)
    number = float(value)
    return lambda times: np.full(times.shape, number)


def sample_number(value: Any, times: np.ndarray, loop: Loop, final: bool) -> np.ndarray:
    """One number of the document at many times.

    times : (T,) float64, frames
    returns (T,) float64
    """
    return sampler(value, loop, final)(np.asarray(times))


@dataclass(frozen=True)
class Resolved:
    """The values of one step at one moment.

    numbers : name -> (1,) or (n,) float64; vectors and directions -> (3, 1) or (3, n)
    words : name -> choice, switch, colour or asset
    fingerprint : the same bytes for the same values, and only then
    """

    numbers: Mapping[str, np.ndarray]
    words: Mapping[str, Any]
    fingerprint: bytes = b""

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
    """

    still: Resolved
    moving: Sequence[tuple[str, Sampler]]

    def at(self, times: np.ndarray) -> Resolved:
        """Values at the given times: length 1 for one moment, n for a moment of each element.

        times : (1,) or (n,) float64, frames
        """
        if not self.moving:
            return self.still
        numbers = dict(self.still.numbers)
        stamp = [self.still.fingerprint]
        for name, sample in self.moving:
            numbers[name] = sample(times)
            stamp.append(name.encode() + numbers[name].tobytes())
        return Resolved(numbers, self.still.words, b"|".join(stamp))


def _within_bounds(spec: Value, value: Any, loop: Loop, final: bool) -> Sampler:
    """Gives (1,) or (n,) of a number; (3, 1) or (3, n) of a vector."""
    triple = spec.kind in ("vector", "direction")
    parts = [sampler(part, loop, final) for part in (value if triple else [value])]
    low, high = spec.hard

    def sample(times: np.ndarray) -> np.ndarray:
        sampled = np.stack([part(times) for part in parts]) if triple else parts[0](times)
        if spec.kind == "whole":
            sampled = np.rint(sampled)
        if low is not None:
            sampled = np.maximum(sampled, low)
        return sampled if high is None else np.minimum(sampled, high)

    return sample


def prepare(
    specs: Mapping[str, Value], given: Mapping[str, Any], loop: Loop, final: bool = False
) -> Prepared:
    """Split declared values into those that stand still and those that move.

    specs : the declared values; what the document leaves out has its default
    """
    numbers: dict[str, np.ndarray] = {}
    words: dict[str, Any] = {}
    moving: list[tuple[str, Sampler]] = []
    once = np.zeros(1)
    for name, spec in specs.items():
        value = given.get(name, spec.default)
        if spec.kind not in MOVING_KINDS:
            words[name] = value
        elif is_moving(value):
            moving.append((name, _within_bounds(spec, value, loop, final)))
        else:
            numbers[name] = _within_bounds(spec, value, loop, final)(once)
    parts = [n.encode() + a.tobytes() for n, a in sorted(numbers.items())]
    parts += [f"{n}={w}".encode() for n, w in sorted(words.items())]
    return Prepared(Resolved(numbers, words, b"|".join(parts)), moving)


def resolve(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    times: np.ndarray,
    loop: Loop,
    final: bool = False,
) -> Resolved:
    """Declared values at the given times; where many moments are wanted, prepare them instead."""
    return prepare(specs, given, loop, final).at(times)


def words_of(step: Mapping[str, Any]) -> dict[str, Any]:
    """The values of a step that are no numbers."""
    given = step.get("values", {})
    return {
        name: given.get(name, spec.default)
        for name, spec in recipe_definitions()[step["step"]].values.items()
        if spec.kind not in MOVING_KINDS
    }
