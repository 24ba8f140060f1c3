"""A weight by arithmetic that the artist writes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.formula_names import ADDED, NAMES, TIME, added, named_values
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.definitions import FormulaUse, MaskDefinition
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.formula.run import run_formulas
from zygomorph.core.values.groups import ELEMENTS
from zygomorph.core.values.value import formula

# The weight is what the formula gives, so it cannot read one.
KNOWN = NAMES - {"w"}


def formulas_of(discrete: Mapping[str, Any]) -> FormulaUse:
    """The formula that is run. Raises FormulaError where it is wrong."""
    return FormulaUse((read_formula(discrete["weight"], KNOWN),), KNOWN)


def _by_time(discrete: Mapping[str, Any]) -> bool:
    return bool(formulas_of(discrete).formulas[0].names & TIME)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    (written,) = formulas_of(values.discrete_values).formulas
    elements = elements_of(mesh, "points")
    named = named_values(elements, values, context, written.names)
    found, _ = run_formulas([written], named, len(elements))
    return found[0]


DEFINITION = MaskDefinition(
    key="formula",
    title="Formula",
    group=ELEMENTS,
    help="A weight from 0 to 1 by arithmetic that you write.",
    also=("expression", "code", "math"),
    values={
        "weight": formula(
            "0.5 + 0.5 * sin(6 * (x + y + z) - tau * p)",
            "Weight",
            "From 0 to 1; what is beyond counts as the nearest of both.",
            known=KNOWN,
        ),
        **{name: added(name, ("weight",)) for name in ADDED},
    },
    sentence="{weight}",
    apply=apply,
    per_element=frozenset(ADDED),
    by_time=_by_time,
    formulas=formulas_of,
    order=70,
)
