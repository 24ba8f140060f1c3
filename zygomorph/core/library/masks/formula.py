"""A weight by arithmetic that the artist writes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition
from zygomorph.core.context import Context
from zygomorph.core.elements import elements_of
from zygomorph.core.formula.names import ADDED, NAMES, TIME, added, named_values
from zygomorph.core.formula.parse import read_formula
from zygomorph.core.formula.run import run_formulas
from zygomorph.core.mesh import Mesh
from zygomorph.core.resolve import Resolved
from zygomorph.core.values import formula

# The weight is what the formula gives, so it cannot read one.
KNOWN = NAMES - {"w"}


def _by_time(words: Mapping[str, Any]) -> bool:
    return bool(read_formula(words["weight"], KNOWN).names & TIME)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    written = read_formula(values.word("weight"), KNOWN)
    elements = elements_of(mesh, "points")
    named = named_values(elements, values, context, written.names)
    found, _ = run_formulas([written], named, len(elements))
    return found[0]


DEFINITION = Definition(
    sort="layer",
    key="formula",
    title="Formula",
    group="elements",
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
    each=frozenset(ADDED),
    by_time=_by_time,
    order=70,
)
