"""What is kept, against a model that counts by hand."""

import threading

import numpy as np
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from tests.conftest import study
from zygomorph.core.document.parts import Part, parts
from zygomorph.core.memo.held import held_bytes
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.value import Value

LIMIT = 100
KEYS = st.sampled_from("abcdefg")


class CacheMachine(RuleBasedStateMachine):
    """Any order of putting and getting; the model is a list, oldest use first."""

    def __init__(self) -> None:
        super().__init__()
        self.cache: Memo[int] = Memo(LIMIT)
        self.model: list[tuple[str, int, int]] = []

    @rule(key=KEYS, value=st.integers(), size=st.integers(0, LIMIT + 20))
    def put(self, key: str, value: int, size: int) -> None:
        self.cache.put(key, value, size)
        self.model = [entry for entry in self.model if entry[0] != key]
        if size <= LIMIT:
            self.model.append((key, value, size))
        while sum(entry[2] for entry in self.model) > LIMIT:
            del self.model[0]

    @rule(key=KEYS)
    def get(self, key: str) -> None:
        known = [entry for entry in self.model if entry[0] == key]
        assert self.cache.get(key) == (known[0][1] if known else None)
        if known:
            self.model.remove(known[0])
            self.model.append(known[0])

    @invariant()
    def counts_agree(self) -> None:
        assert self.cache.used_bytes == sum(entry[2] for entry in self.model)
        assert self.cache.used_bytes <= LIMIT
        assert len(self.cache) == len(self.model)


TestCache = CacheMachine.TestCase


def test_many_threads_leave_the_count_right():
    cache: Memo[int] = Memo(1000)

    def work(seed: int) -> None:
        for k in range(2000):
            key = str((k * 7 + seed * 13) % 90)
            if cache.get(key) is None:
                cache.put(key, k, 1 + (k * seed) % 40)

    threads = [threading.Thread(target=work, args=(seed,)) for seed in range(1, 5)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    kept = sum(entry.own for entry in cache._kept.values())
    assert cache.used_bytes == kept <= 1000
    assert cache.hits + cache.misses == 4 * 2000


class Declared:
    HOLDS_NO_ARRAYS = True

    def __init__(self) -> None:
        self.never_looked_into = np.zeros(1000)


def test_what_declares_that_it_holds_no_arrays_is_not_looked_into():
    # Of a class of this package its attributes would be counted.
    Declared.__module__ = "zygomorph.made.up"
    assert held_bytes([Declared(), np.zeros(10)]) == 80


def test_parts_and_declarations_hold_no_arrays_as_they_declare(monkeypatch):
    made = study({"step": "icosphere"}, {"step": "displace"})
    found = [*parts(made.document), *definitions("step").values()]
    for one in (Part, Definition, Value):
        monkeypatch.setattr(one, "HOLDS_NO_ARRAYS", False)
    assert held_bytes(found) == 0
