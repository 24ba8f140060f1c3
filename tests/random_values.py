"""Values of any kind at the ends of their rulers and at random, and what has to come of them."""

from typing import Any

import numpy as np
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.errors import StepError
from zygomorph.core.evaluate import Evaluator, Request
from zygomorph.core.values import Value

# Counts beyond this make a test slow without making it harder.
MOST = 40


def ends_of(value: Value) -> tuple[float, float]:
    """The ends of a value's ruler, or what code demands where that is narrower."""
    low, high = value.soft
    hard_low, hard_high = value.hard
    low = low if hard_low is None else max(low, hard_low)
    high = high if hard_high is None else min(high, hard_high)
    if value.kind == "whole":
        high = max(low, min(high, 5 if value.label == "Halvings" else MOST))
    return low, high


FORMULAS = ("0", "x / (y - z)", "noise(x, y, z) + chance(i, 3) * a", "9e30 ** x", "q * f + b")


def stroke(path: list[list[float]], does: str = "paint", size: float = 0.3) -> dict[str, Any]:
    return {"does": does, "size": size, "strength": 100.0, "softness": 50.0, "path": path}


def at_end(value: Value, end: int) -> Any:
    if value.kind == "formula":
        return FORMULAS[-end]
    if value.kind == "piece":
        return "" if end == 0 else "gone"
    if value.kind == "paths":
        return [] if end == 0 else [{"closed": True, "knots": [[1e9, 0], [0, 1e9], [0, 0]]}]
    if value.kind in ("picture", "sound"):
        return "" if end == 0 else "0" * 64
    if value.kind == "curve":
        return [[0.5, 1.0]] if end == 0 else [[x / 8, x % 2] for x in range(9)]
    if value.kind == "picked":
        return [] if end == 0 else [[0, 3], [7, 10**6]]
    if value.kind == "strokes":
        return [] if end == 0 else [stroke([[0.0] * 6, [1.0] * 6], "soften", 5.0)]
    if value.kind == "text":
        return "" if end == 0 else "a name of some length"
    bound = ends_of(value)[end] if value.kind not in ("choice", "switch") else None
    if value.kind in ("vector", "direction"):
        return [bound] * 3
    if value.kind == "choice":
        return value.options[0 if end == 0 else -1][0]
    if value.kind == "switch":
        return bool(end)
    return int(bound) if value.kind == "whole" else float(bound)


def anything(value: Value) -> st.SearchStrategy[Any]:
    if value.kind == "choice":
        return st.sampled_from([key for key, _ in value.options])
    if value.kind == "switch":
        return st.booleans()
    if value.kind == "formula":
        return st.sampled_from(FORMULAS)
    if value.kind == "piece":
        # "p" is the piece itself, which would wait for itself.
        return st.sampled_from(["", "gone", "p"])
    if value.kind == "paths":
        knot = st.lists(st.floats(-5, 5), min_size=2, max_size=2)
        knots = st.lists(knot, min_size=1, max_size=8)
        path = st.fixed_dictionaries({"closed": st.booleans(), "knots": knots})
        return st.lists(path, max_size=3)
    if value.kind in ("picture", "sound"):
        return st.sampled_from(["", "0" * 64])
    if value.kind == "curve":
        knot = st.lists(st.floats(0, 1), min_size=2, max_size=2)
        return st.lists(knot, min_size=1, max_size=6)
    if value.kind == "picked":
        run = st.tuples(st.integers(0, 200), st.integers(1, 50)).map(list)
        return st.lists(run, max_size=4)
    if value.kind == "strokes":
        place = st.lists(st.floats(-1, 1), min_size=6, max_size=6)
        return st.lists(
            st.builds(
                stroke,
                st.lists(place, min_size=1, max_size=4),
                st.sampled_from(["paint", "erase", "soften"]),
                st.floats(0.01, 2),
            ),
            max_size=3,
        )
    if value.kind == "text":
        return st.text(max_size=20)
    low, high = ends_of(value)
    if value.kind == "whole":
        return st.integers(int(low), int(high))
    number = st.floats(low, high, allow_nan=False)
    triple = value.kind in ("vector", "direction")
    return st.lists(number, min_size=3, max_size=3) if triple else number


def finite_or_explained(*steps: dict[str, Any]) -> None:
    try:
        found = Evaluator().evaluate(study(*steps), Request("p", 3.0))
    except StepError as error:
        assert len(error.message) > 10
        assert error.hint
        return
    assert np.isfinite(found.mesh.points).all()
    assert found.mesh.topology.point_count == len(found.mesh.points)
