"""Fit to loop: what does not close is moved to the nearest setting that does."""

import copy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.conftest import document, study
from zygomorph.core.animation.fit import after_fit, fit_to_loop
from zygomorph.core.animation.loop_closure import ends_of, moving_numbers
from zygomorph.core.document.edits import Operation, Set, apply_edit
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.inspect.seam import seam
from zygomorph.core.inspect.stays_open import what_stays_open

OPERATION = TypeAdapter(Operation)
BALL = {"step": "icosphere", "values": {"halvings": 2}}


def made(signal, name="phase", step="wave", frames=240):
    return study(BALL, {"step": step, "values": {name: signal}}, frames=frames)


def fitted(before):
    fit = fit_to_loop(before)
    after, inverse = apply_edit(
        copy.deepcopy(dict(before.document)), [Set(**operation) for operation in fit.operations]
    )
    restored, _ = apply_edit(after, [OPERATION.validate_python(each) for each in inverse])
    assert check_document(restored).document == before.document
    return fit, check_document(after)


def signal_of(after, name="phase"):
    return after.pieces[0]["recipe"][1]["values"][name]


def keys(*pairs, **more):
    return {"signal": "keys", "keys": [{"frame": f, "value": v, **more} for f, v in pairs]}


@pytest.mark.parametrize(("rate", "fit"), [(2.3, 2.0), (-0.7, -1.0), (0.2, 1.0), (-3.6, -4.0)])
def test_a_rate_becomes_whole_cycles(rate, fit):
    _, after = fitted(made({"signal": "run", "rate": rate}))
    assert signal_of(after)["rate"] == pytest.approx(fit)


def test_a_rate_that_changes_is_scaled_as_a_whole():
    rates = [{"frame": 0, "value": 1.0}, {"frame": 120, "value": 2.0}, {"frame": 240, "value": 1.0}]
    _, after = fitted(made({"signal": "run", "rates": rates}))
    ends = ends_of(signal_of(after), after.loop, after.signals)
    assert ends.last == pytest.approx(2.0, abs=1e-6)
    found = [r["value"] for r in signal_of(after)["rates"]]
    assert found[1] / found[0] == pytest.approx(2.0)


def test_a_saw_goes_whole_periods():
    _, after = fitted(made({"signal": "cycle", "shape": "saw", "low": 0.25, "high": 1.9}))
    # The saw begins anew at its low: whole cycles apart they look the same.
    assert signal_of(after)["high"] == pytest.approx(2.25)


def test_the_last_key_at_499_of_500_becomes_a_whole_turn():
    # Common practice: a last key at (N - 1)/N of a cycle closes a loop of N frames.
    last = keys((0, 0.0), (499, 0.998), ease="linear")
    _, after = fitted(made(last, frames=500))
    found = signal_of(after)["keys"]
    assert (found[-1]["frame"], found[-1]["value"]) == (500, pytest.approx(1.0))


def test_keys_that_nearly_come_back_come_back():
    _, after = fitted(made(keys((0, 1.0), (120, 3.0), (230, 1.1)), "amplitude"))
    found = signal_of(after, "amplitude")["keys"]
    assert [(k["frame"], k["value"]) for k in found] == [(0, 1.0), (120, 3.0), (240, 1.0)]


def test_keys_that_do_not_come_back_get_a_way_back():
    _, after = fitted(made(keys((0, 1.0), (120, 3.0)), "amplitude"))
    found = signal_of(after, "amplitude")["keys"]
    assert [(k["frame"], k["value"]) for k in found] == [(0, 1.0), (120, 3.0), (240, 1.0)]


@pytest.mark.parametrize(("span", "fit"), [(70, 80), (100, 120), (230, 240), (50, 48)])
def test_repeating_keys_repeat_a_whole_number_of_times(span, fit):
    signal = keys((0, 0.0), (span // 2, 1.0), (span, 0.0)) | {"after": "repeat", "before": "repeat"}
    _, after = fitted(made(signal, "amplitude"))
    assert signal_of(after, "amplitude")["keys"][-1]["frame"] == pytest.approx(fit)


def test_there_and_back_takes_whole_loops():
    signal = keys((0, 0.0), (50, 1.0)) | {"after": "mirror", "before": "mirror"}
    _, after = fitted(made(signal, "amplitude"))
    assert signal_of(after, "amplitude")["keys"][-1]["frame"] == pytest.approx(60)


def test_what_closes_is_left_alone():
    wave = {
        "phase": {"signal": "run", "rate": 2.0},
        "amplitude": {"signal": "drift", "low": 0.0, "high": 0.2},
        "wavelength": keys((0, 1.0), (120, 2.0), (240, 1.0)),
    }
    fit = fit_to_loop(study(BALL, {"step": "wave", "values": wave}, frames=240))
    assert fit.describe() == {"changes": [], "remains": [], "operations": []}


@pytest.mark.parametrize(
    ("signal", "name", "reason"),
    [
        ({"signal": "run", "rate": 1.0}, "amplitude", "runs on"),
        ({"signal": "formula", "text": "f"}, "amplitude", "formula"),
        # Derived: sin(k·f) with a rational k has an irrational period and never closes.
        ({"signal": "formula", "text": "sin(0.1 * f)"}, "amplitude", "formula"),
        ({"signal": "sound", "track": "live"}, "amplitude", "live input"),
        (keys((0, 0.0), (40, 1.0)) | {"after": "add"}, "amplitude", "adds up"),
    ],
)
def test_what_cannot_be_closed_is_named(signal, name, reason):
    fit = fit_to_loop(made(signal, name))
    assert fit.operations == []
    assert [r.label for r in fit.remains] == ["Amplitude"]
    assert reason in fit.remains[0].reason


def test_a_sound_that_goes_on_comes_again():
    sound = {"signal": "sound", "looped": False}
    fit, after = fitted(made(sound, "amplitude", frames=100))
    assert signal_of(after, "amplitude")["looped"] is True
    assert fit.changes[0].after == "the sound comes again each loop"


def test_a_stagger_and_a_memory_are_closed_too():
    stagger = {"delay": 0.5, "closes": False}
    layer = {"id": "l", "layer": "ball", "memory": "fades", "fade": 12}
    cycle = {"signal": "cycle", "low": 0.0, "high": 0.2, "stagger": stagger}
    push = {"step": "inflate", "values": {"amount": cycle}, "where": {"layers": [layer]}}
    fit, after = fitted(study(BALL, push))
    assert len(fit.changes) == 2
    assert after.pieces[0]["recipe"][1]["where"]["layers"][0]["begins"] == "ahead"
    assert seam(after, "p", Evaluator()).position_relative < 1e-6


def test_steps_that_are_off_are_not_asked():
    off = {"step": "wave", "on": False, "values": {"phase": {"signal": "run", "rate": 0.3}}}
    assert list(moving_numbers(study(BALL, off))) == []


signals = st.one_of(
    st.builds(lambda r: {"signal": "run", "rate": r}, st.floats(-5, 5)),
    st.builds(
        lambda low, high: {"signal": "cycle", "shape": "saw", "low": low, "high": high},
        st.floats(-2, 2),
        st.floats(-2, 2),
    ),
    st.builds(
        lambda pairs, after: keys(*sorted(pairs)) | {"before": after, "after": after},
        st.lists(
            st.tuples(st.integers(0, 235), st.floats(-3, 3)),
            min_size=2,
            max_size=5,
            unique_by=lambda k: k[0],
        ),
        st.sampled_from(["hold", "repeat", "mirror", "add"]),
    ),
)


@settings(max_examples=60)
@given(signals)
def test_whatever_is_changed_closes(signal):
    before = made(signal)
    fit, after = fitted(before)
    left = {r.address for r in fit.remains}
    for moving in moving_numbers(after):
        if moving.address not in left:
            assert ends_of(moving.signal, after.loop, after.signals).meets(moving.spec.period)
    again = fit_to_loop(after)
    assert again.changes == []


def test_a_study_that_does_not_close_closes_after_fitting():
    steps = (
        {"step": "wave", "values": {"phase": {"signal": "run", "rate": 1.3}}},
        {"step": "twist", "values": {"angle": keys((0, 0.0), (100, 90.0), (225, 5.0))}},
    )
    before = study(BALL, *steps, frames=240)
    assert seam(before, "p", Evaluator()).state == "open"
    _, after = fitted(before)
    assert seam(after, "p", Evaluator()).position_relative < 1e-6


def test_the_draft_of_a_pair_is_fitted_where_it_stands():
    pair = {"draft": keys((0, 10), (30, 20)), "final": 40}
    made_ = document({"step": "cylinder", "values": {"around": pair}}, frames=240)
    fit, after = fitted(check_document(made_))
    assert fit.changes[0].address.endswith("/around/draft")
    assert after.pieces[0]["recipe"][0]["values"]["around"]["draft"]["keys"][-1]["frame"] == 240


def test_a_component_of_a_vector_is_fitted_where_it_stands():
    run = {"signal": "keys", "keys": [{"frame": 0, "value": 0.0}, {"frame": 23, "value": 1.0}]}
    made = study({"step": "box"}, place={"move": [0.0, run, 0.0]})
    fit = fit_to_loop(made)
    assert [each["path"] for each in fit.operations] == ["/pieces/p/place/move/1"]
    fitted = check_document(
        apply_edit(made.document, TypeAdapter(list[Operation]).validate_python(fit.operations))[0]
    )
    assert fit_to_loop(fitted).operations == []


def _remains(made):
    fit = fit_to_loop(made)
    return [each.reason for each in what_stays_open(after_fit(made, fit), Evaluator())]


def test_after_a_fit_what_stays_open_is_named_with_its_reason():
    formula = {"step": "formula", "values": {"offset": "0.1 * sin(t)"}}
    [reason] = _remains(study(BALL, formula))
    assert "t or f" in reason
    spreads = {"id": "m", "layer": "picked", "memory": "spreads", "speed": 0.2,
               "values": {"of": "points", "picked": [[0, 1]]}}  # fmt: skip
    [reason] = _remains(study(BALL, {"step": "inflate", "where": {"layers": [spreads]}}))
    assert "has reached stays" in reason


def test_speed_that_jumps_is_put_down_to_its_signal():
    linear = keys((0, 0.0), (120, 0.3), (240, 0.0), ease="linear")
    made_ = made(linear, "amplitude")
    [reason] = _remains(made_)
    assert "another speed" in reason


def test_what_closes_leaves_nothing_to_name():
    assert _remains(made({"signal": "run", "rate": 1})) == []


def test_chained_links_are_fitted_after_what_they_follow():
    at = "/pieces/p/recipe/s1/values/phase"
    link = {"signal": "link", "to": at, "factor": 0.5}
    chained = {"signal": "link", "to": "/pieces/p/recipe/s2/values/phase", "factor": 1.0}
    waves = [
        {"step": "wave", "values": {"phase": s}}
        for s in ({"signal": "run", "rate": 1.7}, link, chained)
    ]
    before = study(BALL, *waves, frames=240)
    fit, after = fitted(before)
    assert fit.remains == []
    assert seam(after, "p", Evaluator()).state == "closed"


def over_a_sea(way, tile=6.0):
    """A camera that travels over a sea, at one speed."""
    travel = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": 0.0, "ease": "linear"}, {"frame": 240, "value": way}],
    }
    sheet = {"step": "sheet", "values": {"width": 20.0, "depth": 20.0, "columns": 8, "rows": 8}}
    sea = {"step": "sea", "values": {"tile": tile, "grid": 32}}
    values = {"position": [0.3, 1.0, travel], "target": [0.3, 0.5, -4.0]}
    eye = {"id": "camera", "name": "Camera", "camera": "perspective", "values": values}
    return check_document(document(sheet, sea, frames=240) | {"cameras": [eye]})


def test_a_camera_that_has_travelled_whole_tiles_of_a_sea_has_closed():
    # It sees the same as at the beginning (derived: the sea repeats after its tile).
    assert fit_to_loop(over_a_sea(-12.0)).changes == []
    assert fit_to_loop(over_a_sea(-12.0, tile=5.0)).changes != []


def test_a_travel_over_a_sea_is_fitted_to_whole_tiles():
    fit, after = fitted(over_a_sea(-11.0))
    assert len(fit.changes) == 1
    last = after.cameras[0]["values"]["position"][2]["keys"][-1]
    assert last["value"] == pytest.approx(-12.0)
    # Without a sea it would have to come back.
    alone = dict(over_a_sea(-11.0).document)
    alone["pieces"][0]["recipe"][1]["on"] = False
    moved = check_document(alone)
    assert moved.cameras[0]["values"]["position"][2]["keys"][-1]["value"] == -11.0
    assert fit_to_loop(moved).operations != fit.operations
