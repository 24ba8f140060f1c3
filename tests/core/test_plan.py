"""What is known before the frame, the gate that shares the cores, and the cache."""

import threading
import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.animation.resolve import prepare, resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.kernels.gate import Gate
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.value import number, vector, whole

BALL = {"step": "icosphere", "values": {"halvings": 1}}
SAW = {"signal": "cycle", "shape": "saw", "low": 0, "high": 10}
SPECS = {
    "a": number(1.0, "A", "A number."),
    "b": whole(2, "B", "A whole number.", (0, 9), hard=(0, 5)),
    "v": vector((0.0, 1.0, 2.0), "V", "A vector."),
}
LOOP = Loop(100, 25)


def test_what_stands_still_is_sampled_once():
    prepared = prepare(SPECS, {"a": 3.0}, LOOP)
    assert prepared.at(np.zeros(1)) is prepared.at(np.full(1, 50.0))


def test_only_what_moves_is_sampled_again():
    prepared = prepare(SPECS, {"a": SAW}, LOOP)
    early, late = prepared.at(np.zeros(1)), prepared.at(np.full(1, 50.0))
    assert (early.scalar("a"), late.scalar("a")) == (0.0, 5.0)
    assert early.numbers["v"] is late.numbers["v"]
    assert early.fingerprint != late.fingerprint


def test_the_same_values_have_the_same_fingerprint_however_they_are_written():
    plain = prepare(SPECS, {}, LOOP).at(np.zeros(1))
    held = prepare(SPECS, {"a": {"signal": "hold", "value": 1.0}}, LOOP).at(np.zeros(1))
    spelt = prepare(SPECS, {"v": [0.0, 1.0, 2.0], "b": 2}, LOOP).at(np.zeros(1))
    assert plain.fingerprint == held.fingerprint == spelt.fingerprint


def test_a_hold_without_a_value_has_its_default():
    values = resolve(SPECS, {"v": [{"signal": "hold"}, 1.0, 2.0]}, np.zeros(1), LOOP)
    assert values.vector("v").tolist() == [0.0, 1.0, 2.0]


def test_each_component_of_a_vector_may_move():
    values = resolve(SPECS, {"v": [1.0, SAW, 2.0]}, np.array([0.0, 30.0]), LOOP)
    assert values.numbers["v"].tolist() == [[1.0, 1.0], [0.0, 3.0], [2.0, 2.0]]


@given(st.floats(-100, 100))
def test_a_whole_number_that_moves_is_rounded_and_kept_within_its_limits(high):
    signal = {"signal": "cycle", "shape": "saw", "low": 0, "high": high}
    found = resolve(SPECS, {"b": signal}, np.linspace(0, 99, 40), LOOP).numbers["b"]
    assert (found == np.round(found)).all()
    assert found.min() >= 0
    assert found.max() <= 5


def test_values_are_sampled_at_the_time_of_each_element():
    times = np.array([0.0, 25.0, 50.0, 75.0])
    assert resolve(SPECS, {"a": SAW}, times, LOOP).numbers["a"].tolist() == [0.0, 2.5, 5.0, 7.5]


def test_draft_and_final_are_prepared_apart():
    pair = {"a": {"draft": 1.0, "final": SAW}}
    assert not prepare(SPECS, {"a": {"draft": 1.0, "final": 4.0}}, LOOP).moving
    assert resolve(SPECS, pair, np.full(1, 50.0), LOOP, final=True).scalar("a") == 5.0
    assert resolve(SPECS, pair, np.full(1, 50.0), LOOP, final=False).scalar("a") == 1.0


def test_a_plan_is_made_once_for_a_study():
    made = study(BALL, {"step": "twist"})
    assert plan_piece(made, "p") is plan_piece(made, "p")
    assert plan_piece(made, "p", final=True) is not plan_piece(made, "p")


def test_a_plan_of_a_piece_that_is_not_there_names_those_that_are():
    with pytest.raises(ZygomorphError, match=r"'q'.*It has: p"):
        plan_piece(study(BALL), "q")


def test_a_layer_that_is_off_moves_nothing():
    front = {"id": "f", "layer": "linear", "on": False, "values": {"width": SAW}}
    made = study(BALL, {"step": "twist", "where": {"layers": [front]}})
    assert not plan_piece(made, "p").moves
    front["on"] = True
    assert plan_piece(study(BALL, {"step": "twist", "where": {"layers": [front]}}), "p").moves


def test_a_turning_place_moves_only_what_is_measured_in_space():
    turning = {"turn": [0.0, {**SAW, "high": 360}, 0.0]}
    front = {"id": "f", "layer": "linear", "values": {"measured": "space"}}
    masked = study(BALL, {"step": "twist", "where": {"layers": [front]}}, place=turning)
    assert [s.moves for s in plan_piece(masked, "p").steps] == [False, True]
    plain = plan_piece(study(BALL, {"step": "twist"}, place=turning), "p")
    assert not plain.moves
    assert plain.place_moves
    quarter = plain.place_at(np.array([6.0]))
    assert np.allclose(quarter[:3, :3] @ [1, 0, 0], [0, 0, -1], atol=1e-9)


def test_one_wide_worker_has_all_cores():
    gate = Gate(2)
    inside, most = [0], [0]

    def work():
        with gate.wide():
            inside[0] += 1
            most[0] = max(most[0], inside[0])
            time.sleep(0.005)
            inside[0] -= 1

    _run_all([work] * 6)
    assert most[0] == 1


def test_narrow_workers_share_the_cores_and_let_a_wide_one_in():
    gate = Gate(2)
    lock, inside, most, order = threading.Lock(), [0], [0], []

    def narrow():
        with gate.narrow():
            with lock:
                inside[0] += 1
                most[0] = max(most[0], inside[0])
            time.sleep(0.02)
            with lock:
                inside[0] -= 1
                order.append("narrow")

    def wide():
        time.sleep(0.01)
        with gate.wide():
            assert inside[0] == 0
            order.append("wide")

    _run_all([narrow, narrow, wide, narrow, narrow, narrow, narrow])
    assert most[0] == 2
    # It waits for those inside, but not for those that come after it.
    assert order.index("wide") <= 4


def test_the_gate_opens_again_after_an_error():
    gate = Gate(2)
    for entrance in (gate.wide, gate.narrow):
        with pytest.raises(ValueError, match="inside"), entrance():
            raise ValueError("inside")
    with gate.wide():
        pass


def _run_all(works):
    threads = [threading.Thread(target=work) for work in works]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(timeout=20)
    assert not any(thread.is_alive() for thread in threads)


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 60)), max_size=60))
def test_a_cache_never_holds_more_than_its_limit(entries):
    cache = Memo[int](100)
    for key, size in entries:
        cache.put(str(key), size, size)
        assert cache.used_bytes <= 100
        assert cache.get(str(key)) == size
    assert cache.used_bytes == sum(cache.get(str(k)) or 0 for k in range(10))


def test_the_least_recently_used_goes_first():
    cache = Memo[str](3)
    for key in "abc":
        cache.put(key, key, 1)
    assert cache.get("a") == "a"
    cache.put("d", "d", 1)
    assert [cache.get(k) for k in "abcd"] == ["a", None, "c", "d"]


def test_what_is_larger_than_the_cache_is_not_kept_and_drops_nothing():
    cache = Memo[str](10)
    cache.put("small", "small", 5)
    cache.put("huge", "huge", 11)
    assert cache.get("huge") is None
    assert cache.get("small") == "small"
