"""Small valid documents do not cost minutes or gigabytes: what they cost is bounded, or told."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import document, study
from zygomorph.core.budget import budget
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.library.signals.drift import harmonics, sample


def test_the_finest_drift_is_made_of_few_moments_at_a_time(monkeypatch):
    largest = 0
    cosine = np.cos

    def watched(x):
        nonlocal largest
        largest = max(largest, np.size(x))
        return cosine(x)

    monkeypatch.setattr(np, "cos", watched)
    values = {"low": 0.0, "high": 1.0, "pace": 200, "octaves": 8, "roughness": 0.7, "seed": 3}
    found = sample(values, np.linspace(0, 100_000, 20_000), Loop(100_000, 24))
    assert len(found) == 20_000
    # All harmonics at all moments would be ten million numbers, eighty megabytes and more.
    assert largest <= 1_000_000


@given(st.integers(1, 40), st.integers(1, 5), st.floats(0, 1), st.integers(0, 99))
def test_drift_spans_all_between_low_and_high_and_no_more(pace, octaves, roughness, seed):
    # The definition, at moments of this test's own.
    frequency, amplitude, phase = harmonics(pace, octaves, roughness, seed)
    turn = np.linspace(0, 1, 4001)[:, None]
    total = (amplitude * np.cos(2 * np.pi * frequency * turn + phase)).sum(axis=1)
    assert 0.98 <= np.abs(total).max() <= 1.02


def test_a_mask_that_remembers_does_not_walk_a_million_frames():
    made = study(
        {"step": "sheet", "values": {"columns": 4, "rows": 4}},
        {
            "step": "displace",
            "where": {"layers": [{"id": "l", "layer": "ball", "memory": "stays"}]},
        },
    )
    with pytest.raises(StepError, match=r"frames before it would be walked; the limit is 20,000"):
        Evaluator().evaluate(made, Request("p", 1e6))


def test_pieces_that_are_used_count_together():
    sheet = {"step": "sheet", "values": {"columns": 100, "rows": 100}}
    made = document(
        sheet,
        {"id": "b1", "step": "blend", "values": {"piece": "q"}},
        {"id": "b2", "step": "blend", "values": {"piece": "r"}},
    )
    piece = made["pieces"][0]
    for name in "qr":
        made["pieces"].append(piece | {"id": name, "name": name, "recipe": [{"id": "f"} | sheet]})
    whole = check_document(made)
    # Each of the three has 10,201 points, 2.6 MB; together more than the limit.
    with budget(4_000_000), pytest.raises(StepError, match="uses have together 20,402 points"):
        Evaluator().evaluate(whole, Request("p"))


@pytest.mark.parametrize("deliver", [deliver_glb, deliver_usd])
def test_a_delivery_tells_what_it_needs_before_it_is_made(deliver):
    made = study(
        {"step": "sheet", "values": {"columns": 100, "rows": 100}},
        {"step": "wave", "values": {"phase": {"signal": "run"}}},
    )
    evaluator = Evaluator()
    taken = 0
    evaluate = evaluator.evaluate

    def counted(*given):
        nonlocal taken
        taken += 1
        return evaluate(*given)

    evaluator.evaluate = counted  # type: ignore[method-assign]
    words = r"has 10,201 points at each of \d+ frames.* points.*sequence of mesh files"
    with budget(10_000_000), pytest.raises(ZygomorphError, match=words):
        deliver(made, evaluator)
    assert taken <= 2
