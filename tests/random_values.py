"""Values of any kind at the ends of their rulers and at random, and what has to come of them."""

import re
from collections.abc import Callable
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.budget import budget
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.values.entries import definitions
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


def small(form: str) -> dict[str, Any]:
    """A form of few points; where it shows another piece, that of ``made_of``."""
    values = definitions("form")[form].values
    wholes = {k: v for k, v in values.items() if v.kind == "whole"}
    named = {k: "o" for k, v in values.items() if v.kind == "piece"}
    return named | {k: min(v.default, 3 if v.tested_to else 12) for k, v in wholes.items()}


# Of as many points as a small torus, so that both can be joined point by point.
OTHER = {
    "id": "o",
    "name": "Other",
    "place": {"move": [0.4, -0.3, 0.0]},
    "recipe": [{"id": "f", "step": "torus", "values": small("torus")}],
}


def made_of(*steps: dict[str, Any], other: dict[str, Any] = OTHER) -> Study:
    """A study of one piece with these steps, and another piece to be used."""
    one = dict(study(*steps).document)
    return check_document({**one, "pieces": [*one["pieces"], other]})


# Bytes: what random values make beyond it is refused before it is begun.
SMALL_BUDGET = 60_000_000


def refusal(*steps: dict[str, Any]) -> str:
    """Why the steps cannot be made, or "": then all that they make is finite."""
    try:
        with budget(SMALL_BUDGET):
            found = Evaluator().evaluate(made_of(*steps), Request("p", 3.0))
    except StepError as error:
        assert len(error.message) > 10
        assert error.hint
        return error.message
    for mesh in found.geometry.bases:
        assert np.isfinite(mesh.points).all()
        assert mesh.topology.point_count == len(mesh.points)
    if found.geometry.copies is not None:
        assert np.isfinite(found.geometry.copies.placements).all()
    return ""


def finite_or_explained(*steps: dict[str, Any]) -> bool:
    """Whether the steps can be made; else it is said why."""
    return refusal(*steps) == ""


# What random values ask for in vain: elements that a form has not, files and masks that nobody
# stored, pieces that are not there, or the piece itself; paths of single knots; more than a test
# has time for.
IN_VAIN = re.compile(
    r"^There are no (faces|curves|shards|copies)|is not stored here|^No mask is stored"
    r"|^There is no piece|^No other piece|wait for each other|has no UVs|^Nothing is drawn yet"
    r"|^No sound is chosen|has no curves|has no faces| GB; the limit is "
)
# An entry that refuses more often than this for other reasons refuses what it should do.
MOST_REFUSED = 0.4


def mostly_made(steps: Callable[[st.DataObject], list[dict[str, Any]]], few: bool = False) -> None:
    """Steps at random values are made, but for a share of them that is explained.

    few : whether there are only a few choices
    """
    refused: list[str] = []

    @given(data=st.data())
    def run(data: st.DataObject) -> None:
        refused.append(refusal(*steps(data)))

    run()
    asked = [reason for reason in refused if not IN_VAIN.search(reason)]
    # Of few choices there are no more.
    assert len(refused) >= (1 if few else 6)
    assert sum(reason != "" for reason in asked) <= 1 + MOST_REFUSED * len(asked), refused
