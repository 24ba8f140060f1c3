"""Values of any kind at the ends of their rulers and at random, and what has to come of them."""

from typing import Any

import numpy as np
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.value import Value


def at_end(value: Value, end: int) -> Any:
    """What lies at the lower (0) or upper (1) end of a value's ruler."""
    return kind_of(value).ends(value)[end]


def anything(value: Value) -> st.SearchStrategy[Any]:
    """Any value of a kind, as the kind itself makes it."""
    return st.randoms(use_true_random=False).map(
        lambda chance: kind_of(value).random(value, chance)
    )


def finite_or_explained(*steps: dict[str, Any]) -> None:
    try:
        found = Evaluator().evaluate(study(*steps), Request("p", 3.0))
    except StepError as error:
        assert len(error.message) > 10
        assert error.hint
        return
    assert np.isfinite(found.mesh.points).all()
    assert found.mesh.topology.point_count == len(found.mesh.points)
