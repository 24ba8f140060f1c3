"""How a system’s loop is made to close: where in its own run each frame of the loop is.

A system runs from a first frame on and need not come back. By settling, the loop is a later part
of the run, so late that what comes a loop after it is the same. By cross-blending, the end of the
loop goes over into what the run did before frame 0, which leads to frame 0.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import REST, Mesh


@dataclass(frozen=True)
class Moment:
    """A frame of a system's own run, and its share of what is seen."""

    frame: float
    share: float = 1.0


@dataclass(frozen=True)
class Settled:
    """How far a system has settled.

    loops : that it ran ahead
    left : how much the loop after them differs from the one before, of the largest motion
    within : whether that is within the tolerance
    """

    loops: int
    left: float
    within: bool

    def words(self) -> str:
        ran = "1 loop" if self.loops == 1 else f"{self.loops} loops"
        if self.within:
            return f"it settled in {ran}; {100 * self.left:.2g} % is left"
        return f"it has not settled in {ran}: {100 * self.left:.2g} % is left"


def blended_moments(frame: float, loop: Loop, over: int) -> list[Moment]:
    """Where a frame is that is cross-blended over the last frames of the loop.

    Beyond its ends the loop goes on as it does within, so that its seam can be measured.
    """
    frames = loop.frames
    over = min(over, frames)
    if 0 <= frame <= frames:
        within = frame
    else:
        within = frame % frames
    share = (within - (frames - over)) / over
    if share <= 0:
        return [Moment(within)]
    if share >= 1:
        return [Moment(within - frames)]
    # Smooth at both ends, so that speeds meet as well.
    share = share * share * (3 - 2 * share)
    return [Moment(within, 1 - share), Moment(within - frames, share)]


def arrays_of(state: Any) -> list[np.ndarray]:
    """The arrays of numbers of a state, in a fixed order."""
    if isinstance(state, np.ndarray):
        return [state] if state.dtype.kind == "f" else []
    if is_dataclass(state):
        return [a for f in fields(state) for a in arrays_of(getattr(state, f.name))]
    if isinstance(state, Mapping):
        return [a for name in sorted(state) for a in arrays_of(state[name])]
    if isinstance(state, Sequence) and not isinstance(state, str | bytes):
        return [a for each in state for a in arrays_of(each)]
    return []


def difference(one: Any, other: Any) -> float:
    """How far two states are apart, as a share of their largest numbers; infinite where they have
    other counts."""
    apart = 0.0
    for a, b in zip(arrays_of(one), arrays_of(other), strict=True):
        if a.shape != b.shape:
            return float("inf")
        if a.size:
            largest = max(float(np.abs(a).max()), float(np.abs(b).max()), 1e-30)
            apart = max(apart, float(np.abs(a - b).max()) / largest)
    return apart


def mixed(meshes: Sequence[Mesh], shares: Sequence[float]) -> Mesh:
    """Points and what is known of them, of meshes of one topology, mixed by shares that make 1
    together; rest shapes are those of the first.

    Raises ZygomorphError where their counts differ.
    """
    first = meshes[0]
    if len(meshes) == 1:
        return first
    if any(len(mesh.points) != len(first.points) for mesh in meshes):
        raise ZygomorphError(
            "It cannot be cross-blended: the number of its points changes.",
            "Let the loop close in another way.",
        )

    def mix(arrays: Sequence[np.ndarray]) -> np.ndarray:
        total = sum(np.float32(s) * a for s, a in zip(shares, arrays, strict=True))
        return np.ascontiguousarray(total, np.float32)

    made = first.moved(mix([mesh.points for mesh in meshes]))
    own = dict(made.attributes.get("point", {}))
    for name in own:
        found = [mesh.get("point", name) for mesh in meshes]
        real = name != REST and own[name].dtype.kind == "f"
        if real and all(each is not None for each in found):
            own[name] = mix([each for each in found if each is not None])
    return replace(made, attributes={**made.attributes, "point": own})
