"""Springs against the damped oscillator in closed form and against another integrator."""

import numpy as np
import pytest
import scipy.integrate

from tests.conftest import study
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.inspect.seam import seam
from zygomorph.core.library.systems.springs import response

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 1}}
FALL = {
    "signal": "keys",
    "keys": [{"frame": 0, "value": 0, "ease": "held"}, {"frame": 4, "value": 1}],
}


def hung(move, frames=96, **values):
    place = {"step": "place", "values": {"move": [move, 0, 0], "turn": [0, 0, 0]}}
    springs = {"step": "springs", "values": {"closing": "once", **values}}
    return study(BALL, place, springs, frames=frames)


def middle(document, frame, evaluator):
    mesh = evaluator.evaluate(document, Request("p", frame)).mesh
    return float(mesh.points[:, 0].mean())


@pytest.mark.parametrize("damping", [0.0, 0.2, 0.999999, 1.0, 1.7])
def test_the_response_is_that_of_the_equation(damping):
    # y″ + 2 ζ ω y′ + ω² y = 0, by an integrator of Runge and Kutta's kind.
    w = 2 * np.pi * 1.3

    def rate(_, y):
        return [y[1], -2 * damping * w * y[1] - w**2 * y[0]]

    for begin in ([1.0, 0.0], [0.0, 1.0], [0.4, -2.0]):
        found = scipy.integrate.solve_ivp(rate, (0, 0.7), begin, rtol=1e-10, atol=1e-12).y[:, -1]
        a, b, c, d = (float(x) for x in response(np.array(1.3), np.array(damping), 0.7))
        expected = [a * begin[0] + b * begin[1], c * begin[0] + d * begin[1]]
        assert found == pytest.approx(expected, abs=1e-5)


def test_after_a_jump_it_swings_as_a_damped_oscillator():
    # Overshoot exp(-π ζ / √(1 - ζ²)) (K. Ogata, "Modern Control Engineering"; from memory).
    document, evaluator = hung(FALL, 400, frequency=1.0, damping=30.0), Evaluator()
    at = np.array([middle(document, f, evaluator) for f in range(60)])
    over = np.exp(-np.pi * 0.3 / np.sqrt(1 - 0.3**2))
    assert at.max() - 1 == pytest.approx(over, rel=0.06)
    assert at[:4] == pytest.approx(np.zeros(4), abs=1e-6)
    assert middle(document, 300.0, evaluator) == pytest.approx(1.0, abs=1e-4)


def test_critically_damped_it_never_goes_too_far():
    document, evaluator = hung(FALL, frequency=1.5, damping=100.0), Evaluator()
    at = np.array([middle(document, f, evaluator) for f in range(90)])
    assert at.max() <= 1.0001
    assert (np.diff(at) > -1e-6).all()


def test_any_stiffness_is_stable():
    document, evaluator = hung(FALL, frequency=900.0, damping=1.0), Evaluator()
    assert all(abs(middle(document, f, evaluator)) < 3 for f in range(0, 90, 7))


def test_what_is_swung_slowly_follows_and_the_loop_settles():
    swing = {"signal": "cycle", "shape": "sine", "low": -1.0, "high": 1.0}
    document, evaluator = hung(swing, frequency=4.0, damping=40.0, closing="settles"), Evaluator()
    found = seam(document, "p", evaluator)
    assert found.state == "closed"
    assert "settled" in found.note
    plain = [np.sin(2 * np.pi * f / 96 - np.pi / 2) for f in (20, 50)]
    for frame, target in zip((20, 50), plain, strict=True):
        assert abs(middle(document, frame, evaluator) - target) < 0.15


def test_a_mask_says_which_points_lag():
    where = {"layers": [{"id": "l", "layer": "height", "profile": "linear"}]}
    document = dict(hung(FALL, frequency=1.0, damping=20.0).document)
    document["pieces"][0]["recipe"][2]["where"] = where
    mesh = Evaluator().evaluate(check_document(document), Request("p", 6)).mesh
    rest = mesh.rest
    lag = 1 + rest[:, 0] - mesh.points[:, 0]
    assert lag[rest[:, 1].argmin()] == pytest.approx(0, abs=1e-6)
    assert lag[rest[:, 1].argmax()] > 0.2


HOP = {
    "signal": "keys",
    "keys": [
        {"frame": 0, "value": 0.0, "ease": "linear"},
        {"frame": 12, "value": 1.0, "ease": "linear"},
        {"frame": 36, "value": 0.0, "ease": "linear"},
    ],
}


def test_keys_drive_it_again_in_each_loop_that_it_runs_ahead():
    """What settles is the answer to the loop played again and again, held here against another
    integrator that was given thirty rounds of it."""
    w, z, frames = 2 * np.pi * 0.9, 0.15, 48

    def rate(t, y):
        target = np.interp(t * 24 % frames, [0, 12, 36, 48], [0, 1, 0, 0])
        return [y[1], -2 * z * w * y[1] - w**2 * (y[0] - target)]

    times = (30 * frames + np.arange(frames)) / 24
    found = scipy.integrate.solve_ivp(
        rate, (0, times[-1]), [0, 0], t_eval=times, max_step=1 / 48, rtol=1e-8, atol=1e-10
    )
    own = {"frequency": 0.9, "damping": 15.0, "closing": "settles"}
    document, evaluator = hung(HOP, frames, **own), Evaluator()
    at = [middle(document, f, evaluator) for f in range(frames)]
    assert at == pytest.approx(found.y[0], abs=2e-3)
    assert seam(document, "p", evaluator).state == "closed"


@pytest.mark.parametrize("closing", ["settles", "blended", "once"])
def test_what_plays_one_way_begins_with_nothing_behind_it(closing):
    own = {"frequency": 0.9, "damping": 15.0, "closing": closing}
    plain = hung(HOP, 48, **own).document
    once = check_document({**plain, "loop": {**plain["loop"], "one_way": True}})
    evaluator = Evaluator()
    at = [middle(once, f, evaluator) for f in range(48)]
    # At rest where it begins, and late from then on.
    assert at[0] == pytest.approx(0.0, abs=1e-6)
    targets = np.interp(np.arange(1, 6), [0, 12], [0, 1])
    assert (np.array(at[1:6]) < targets - 0.01).all()
