"""The demo studies come to what they came to before: documents outlive the program's insides."""

from __future__ import annotations

import json

import pytest

from tests.demo_results import EXAMPLES, KEPT, example, machine, results
from zygomorph.core.evaluation.evaluate import Evaluator

WRITTEN = json.loads(KEPT.read_text())


@pytest.mark.parametrize("name", sorted(path.stem for path in EXAMPLES.glob("*.json")))
def test_demo_study_is_unchanged(name: str, evaluator: Evaluator) -> None:
    """Bit by bit where the machine is of the type that wrote them; to 10 µm on others."""
    found = results(evaluator, example(EXAMPLES / f"{name}.json"))
    before = WRITTEN["studies"][name]
    assert found.keys() == before.keys()
    for moment, was in before.items():
        now = found[moment]
        assert (now["points"], now["faces"]) == (was["points"], was["faces"]), moment
        for here, there in zip(now["some"], was["some"], strict=True):
            assert here == pytest.approx(there, abs=1e-5), moment
        if machine() == WRITTEN["machine"]:
            assert now["digest"] == was["digest"], moment
