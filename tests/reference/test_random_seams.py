"""Random studies, of which it is known by their making whether their loops close."""

import numpy as np
import pytest

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.inspect.seam import seam

EVALUATOR = Evaluator()


def _closing(random):
    """A signal of a phase that comes back in value and speed, and one of an amount."""
    cycles = int(random.integers(1, 4))
    phases = [
        {"signal": "run", "rate": cycles * int(random.choice([-1, 1]))},
        {"signal": "cycle", "shape": "saw", "low": 0, "high": cycles},
        {
            "signal": "drift",
            "low": 0,
            "high": 0.4,
            "pace": cycles,
            "seed": int(random.integers(99)),
        },
    ]
    middle = float(random.uniform(0.2, 0.8))
    amounts = [
        {"signal": "cycle", "low": 0.05, "high": 0.3, "cycles": cycles},
        {
            "signal": "drift",
            "low": 0.05,
            "high": 0.3,
            "pace": cycles,
            "seed": int(random.integers(99)),
        },
        _keys((0, 0.1), (round(96 * middle), 0.3), (96, 0.1), ease="smooth"),
    ]
    return random.choice(phases), random.choice(amounts)


def _open(random):
    """The same of signals that do not: in value, or in speed alone."""
    part = float(random.uniform(0.2, 0.8))
    phases = [
        {"signal": "run", "rate": int(random.integers(0, 3)) + part},
        {"signal": "cycle", "shape": "saw", "low": 0, "high": 1 + part},
        _keys((0, 0.0), (96, part), ease="linear"),
    ]
    amounts = [
        _keys((0, 0.1), (48, 0.3), (96, 0.1), ease="linear"),
        {"signal": "cycle", "shape": "triangle", "low": 0.05, "high": 0.3},
        _keys((0, 0.1), (96, 0.3), ease="smooth"),
        {"signal": "run", "rate": part * 0.3, "start": 0.1},
    ]
    return random.choice(phases), random.choice(amounts)


def _keys(*pairs, ease):
    keys = [{"frame": f, "value": v, "ease": ease} for f, v in pairs]
    return {"signal": "keys", "keys": keys, "before": "repeat", "after": "repeat"}


def _random_study(random, closes):
    """One to three steps; what opens the loop is one value of one of them."""
    count = int(random.integers(1, 4))
    opens = -1 if closes else int(random.integers(count))
    steps = []
    for k in range(count):
        phase, amount = _closing(random)
        if k == opens:
            other_phase, other_amount = _open(random)
            if random.random() < 0.5:
                phase = other_phase
            else:
                amount = other_amount
        if random.random() < 0.6:
            moved = str(random.choice(["travel", "evolve"]))
            noise = str(random.choice(["gradient", "simplex", "value", "cellular"]))
            fold = str(random.choice(["sum", "ridged", "billowed", "turbulence"]))
            more = {
                "noise": noise,
                "fold": fold,
                "octaves": float(random.integers(1, 5)),
                moved: phase,
            }
            steps.append({"step": "displace", "values": {"amount": amount, **more}})
        else:
            step = str(random.choice(["wave", "rings"]))
            values = {"amplitude": amount, "phase": phase, "wavelength": 0.4}
            steps.append({"step": step, "values": values})
    form = {"step": "icosphere", "values": {"halvings": int(random.integers(2, 5))}}
    return study(form, *steps, frames=96)


@pytest.mark.parametrize("number", range(60))
def test_a_random_loop_is_told_closed_if_and_only_if_it_closes(number):
    random = np.random.default_rng(number)
    closes = bool(number % 2)
    found = seam(_random_study(random, closes), "p", EVALUATOR)
    assert (found.state == "closed") == closes, found
