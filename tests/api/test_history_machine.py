"""Any order of edits, undos and redos by two windows, against a model of them."""

from __future__ import annotations

import copy
import tempfile
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule

from tests.conftest import document
from zygomorph.core.document.edits import Set
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.store.database import open_engine
from zygomorph.store.studies import Studies

# Each window has values of its own, so that no edit of one clashes with the other's.
PATHS = {
    "left": ["/pieces/p/recipe/s1/values/angle", "/pieces/p/recipe/s1/values/low"],
    "right": ["/pieces/p/recipe/s2/values/amount", "/name"],
}
windows = st.sampled_from(sorted(PATHS))


class History(RuleBasedStateMachine):
    """The model keeps, for each window, its edits done and taken back: (path, before, after)."""

    def __init__(self) -> None:
        super().__init__()
        self.folder = tempfile.TemporaryDirectory()
        self.path = Path(self.folder.name) / "studies.sqlite3"
        self.studies = Studies(open_engine(self.path))
        self.done: dict[str, list[tuple[str, Any, Any]]] = {w: [] for w in PATHS}
        self.undone: dict[str, list[tuple[str, Any, Any]]] = {w: [] for w in PATHS}

    @initialize()
    def begin(self) -> None:
        steps = [
            {"step": "icosphere", "values": {"halvings": 1}},
            {"step": "twist", "values": {"angle": 1.0, "low": -0.5}},
            {"step": "displace", "values": {"amount": 0.1}},
        ]
        stored = self.studies.create(document(*steps))
        self.id, self.revision = stored.id, 0
        self.first = copy.deepcopy(stored.document)
        self.values = {
            "/pieces/p/recipe/s1/values/angle": 1.0,
            "/pieces/p/recipe/s1/values/low": -0.5,
            "/pieces/p/recipe/s2/values/amount": 0.1,
            "/name": "Test",
        }

    @rule(window=windows, which=st.integers(0, 1), number=st.integers(-90, 90))
    def edit(self, window: str, which: int, number: int) -> None:
        path = PATHS[window][which]
        value: Any = f"Name {number}" if path == "/name" else number / 10
        operation = Set(do="set", path=path, value=value)
        self.studies.edit(self.id, [operation], self.revision, window, f"Set {path}")
        self.done[window].append((path, self.values[path], value))
        self.undone[window].clear()
        self.values[path] = value
        self.revision += 1

    @rule(window=windows)
    def undo(self, window: str) -> None:
        if not self.done[window]:
            with pytest.raises(ZygomorphError, match="nothing to undo"):
                self.studies.undo(self.id, window)
            return
        self.studies.undo(self.id, window)
        entry = self.done[window].pop()
        self.undone[window].append(entry)
        self.values[entry[0]] = entry[1]
        self.revision += 1

    @rule(window=windows)
    def redo(self, window: str) -> None:
        if not self.undone[window]:
            with pytest.raises(ZygomorphError, match="nothing to redo"):
                self.studies.redo(self.id, window)
            return
        self.studies.redo(self.id, window)
        entry = self.undone[window].pop()
        self.done[window].append(entry)
        self.values[entry[0]] = entry[2]
        self.revision += 1

    @rule()
    def restart(self) -> None:
        self.studies.engine.dispose()
        self.studies = Studies(open_engine(self.path))

    @rule(window=windows)
    def edit_with_a_wrong_value(self, window: str) -> None:
        operation = Set(do="set", path="/pieces/p/recipe/s1/values/angle", value="many")
        with pytest.raises(ZygomorphError, match="angle"):
            self.studies.edit(self.id, [operation], self.revision, window, "Wrong")

    @invariant()
    def the_store_agrees_with_the_model(self) -> None:
        if not hasattr(self, "id"):
            return
        stored = self.studies.get(self.id, "left")
        recipe = stored.document["pieces"][0]["recipe"]
        assert recipe[1]["values"]["angle"] == self.values[PATHS["left"][0]]
        assert recipe[1]["values"]["low"] == self.values[PATHS["left"][1]]
        assert recipe[2]["values"]["amount"] == self.values[PATHS["right"][0]]
        assert stored.document["name"] == self.values["/name"]
        assert stored.revision == self.revision == len(self.studies.history(self.id))
        assert (stored.undo_label is not None) == bool(self.done["left"])
        assert (stored.redo_label is not None) == bool(self.undone["left"])
        check_document(stored.document)

    def teardown(self) -> None:
        for window in PATHS:
            while self.done[window]:
                self.undo(window)
        if hasattr(self, "id"):
            assert self.studies.get(self.id).document == self.first
        self.studies.engine.dispose()
        self.folder.cleanup()


TestHistory = History.TestCase
TestHistory.settings = settings(max_examples=12, stateful_step_count=25, deadline=None)
