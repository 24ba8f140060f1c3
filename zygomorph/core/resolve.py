"""Values of a document at given times: plain numbers, signals, draft or final."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.catalogue import definitions
from zygomorph.core.loop import Loop
from zygomorph.core.values import Value


def is_moving(value: Any) -> bool:
    """Whether a document value, or any component of it, is moved by a signal."""
    if isinstance(value, dict):
        if "signal" in value:
            return value["signal"] != "hold"
        return any(is_moving(v) for v in value.values())
    if isinstance(value, list):
        return any(is_moving(v) for v in value)
    return False


def sample_number(value: Any, times: np.ndarray, loop: Loop, final: bool) -> np.ndarray:
    """One number of the document at many times.

    times : (T,) float64, frames
    returns (T,) float64
    """
    if type(value) is not dict:
        return np.full(times.shape, float(value))
    if "signal" not in value:
        value = value["final" if final else "draft"]
    if isinstance(value, dict):
        definition = definitions("signal")[value["signal"]]
        given = {name: spec.default for name, spec in definition.values.items()} | value
        return definition.apply(given, times, loop)
    return np.full(np.shape(times), float(value))


def _still(value: Any) -> float:
    """A number that no signal moves."""
    return float(value["value"]) if isinstance(value, dict) else float(value)


@dataclass(frozen=True)
class Resolved:
    """The values of one step at one moment.

    numbers : name -> (1,) or (n,) float64; vectors and directions -> (3, 1) or (3, n)
    words : name -> choice, switch, colour or asset
    """

    numbers: Mapping[str, np.ndarray]
    words: Mapping[str, Any]

    def array(self, name: str) -> np.ndarray:
        """(1,) or (n,) float32, contiguous, as kernels take it."""
        return np.ascontiguousarray(self.numbers[name], np.float32)

    def scalar(self, name: str) -> float:
        return float(self.numbers[name].flat[0])

    def count(self, name: str) -> int:
        return round(self.scalar(name))

    def vector(self, name: str) -> np.ndarray:
        """(3,) float64."""
        return self.numbers[name][:, 0]

    def word(self, name: str) -> Any:
        return self.words[name]

    def fingerprint(self) -> bytes:
        parts = [n.encode() + a.tobytes() for n, a in sorted(self.numbers.items())]
        parts += [f"{n}={w}".encode() for n, w in sorted(self.words.items())]
        return b"|".join(parts)


def resolve(
    specs: Mapping[str, Value],
    given: Mapping[str, Any],
    times: np.ndarray,
    loop: Loop,
    final: bool = False,
) -> Resolved:
    """Values at the given times: length 1 for one moment, n for a moment of each element.

    specs : the declared values; what the document leaves out has its default
    times : (1,) or (n,) float64, frames
    """
    numbers: dict[str, np.ndarray] = {}
    words: dict[str, Any] = {}
    for name, spec in specs.items():
        value = given.get(name, spec.default)
        if spec.kind in ("vector", "direction"):
            if is_moving(value):
                rows = [sample_number(part, times, loop, final) for part in value]
                numbers[name] = np.stack(rows)
            else:
                numbers[name] = np.array([[_still(part)] for part in value], np.float64)
        elif spec.kind in ("number", "whole"):
            if type(value) in (int, float):
                # Checked when the document was.
                numbers[name] = np.array([value], np.float64)
                continue
            sampled = sample_number(value, times, loop, final)
            if spec.kind == "whole":
                sampled = np.round(sampled)
            low, high = spec.hard
            numbers[name] = np.clip(sampled, low, high) if spec.hard != (None, None) else sampled
        else:
            words[name] = value
    return Resolved(numbers, words)
