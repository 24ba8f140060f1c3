"""Simulation caches: states of systems and memory masks on disk, by their content keys.

Each version of the program has a folder of its own; those of other versions are removed.
"""

from __future__ import annotations

import hashlib
import pickle
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from zygomorph.core.evaluation.handed_states import HandedStates
from zygomorph.core.program import program_digest


class StateShelf:
    """A folder of states, shared by all evaluators that are given it."""

    def __init__(self, folder: Path) -> None:
        self._root = folder
        self._folder = folder / program_digest()

    def clear_former(self) -> None:
        """Remove the states of other versions of the program."""
        for path in self._root.iterdir() if self._root.is_dir() else ():
            if path != self._folder:
                shutil.rmtree(path, ignore_errors=True)

    def put(self, handed: HandedStates) -> int:
        """Save states. Returns the number of bytes written. Raises OSError."""
        size = 0
        for name, value in _each(handed):
            path = self._folder / name
            if path.exists() and not name.startswith("chain"):
                # A state never changes under its key; a chain may have grown.
                continue
            data = pickle.dumps(value, protocol=5)
            path.parent.mkdir(parents=True, exist_ok=True)
            partial = path.with_name(path.name + ".part")
            partial.write_bytes(data)
            partial.replace(path)
            size += len(data)
        return size

    def states(self, key: str) -> Any | None:
        return self._read("state", key)

    def chain(self, key: str) -> tuple[int, tuple[str, ...]] | None:
        found: tuple[int, tuple[str, ...]] | None = self._read("chain", key)
        return found

    def settled(self, key: str) -> Any | None:
        return self._read("settled", key)

    def _read(self, sort: str, key: str) -> Any | None:
        try:
            return pickle.loads((self._folder / _name(sort, key)).read_bytes())
        except (OSError, EOFError, pickle.UnpicklingError):
            # It is missing or damaged; the evaluator steps instead.
            return None


def _each(handed: HandedStates) -> Iterator[tuple[str, Any]]:
    for key, (_, states) in handed.states.items():
        yield _name("state", key), dict(states)
    for key, settled in handed.settled.items():
        yield _name("settled", key), settled
    for key, chain in handed.chains.items():
        yield _name("chain", key), chain


def _name(sort: str, key: str) -> str:
    digest = hashlib.blake2b(key.encode(), digest_size=16).hexdigest()
    return f"{sort}/{digest[:2]}/{digest[2:]}"
