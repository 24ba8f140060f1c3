"""What evaluations have read of the past, to be handed to another process that then need not walk.

States stand under keys of all that they come from, so that they are taken where the same is
evaluated, and nowhere else.
"""

from __future__ import annotations

import pickle
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from zygomorph.core.evaluation.closing import Settled


class Shelf(Protocol):
    """Where states are found that were kept for later, by their keys; None of others."""

    def states(self, key: str) -> Mapping[str, Any] | None: ...
    def chain(self, key: str) -> tuple[int, tuple[str, ...]] | None: ...
    def settled(self, key: str) -> Settled | None: ...


@dataclass
class ReadStates:
    """states : by their keys, with their frames; chains and settled : keys of those that were
    asked for"""

    states: dict[str, tuple[int, Mapping[str, Any]]] = field(default_factory=dict)
    chains: set[str] = field(default_factory=set)
    settled: set[str] = field(default_factory=set)


@dataclass(frozen=True)
class HandedStates:
    """chains : first frame and keys, by the keys of the chains"""

    states: Mapping[str, tuple[int, Mapping[str, Any]]]
    chains: Mapping[str, tuple[int, tuple[str, ...]]]
    settled: Mapping[str, Settled]

    def packed(self) -> bytes:
        """Bytes for another process of this program, and for nobody else."""
        return pickle.dumps(self, protocol=5)

    @classmethod
    def unpacked(cls, data: bytes) -> HandedStates:
        """data : of :meth:`packed`, from a process that is trusted as this one"""
        found = pickle.loads(data)
        assert isinstance(found, cls)
        return found
