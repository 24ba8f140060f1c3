"""Formula: arithmetic that the artist writes, at every point, face or shard."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.formula_names import ADDED, NAMES, TIME, added, named_values
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.elements import Elements, elements_of
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.kernels.along_directions import ONE, carry, push
from zygomorph.core.values.definitions import DeformDefinition, FormulaUse
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.formula.run import run_formulas
from zygomorph.core.values.groups import PUSH
from zygomorph.core.values.specimen import SHEET, Specimen
from zygomorph.core.values.value import Value, choice, formula, text

# Which formulas are run, by what the step writes.
WRITTEN = {
    "offset": ("offset",),
    "position": ("to_x", "to_y", "to_z"),
    "size": ("size",),
    "turn": ("turn",),
    "value": ("value",),
}
EVERY_FORMULA = tuple(name for written in WRITTEN.values() for name in written)
# What has a size and can be turned in place.
EXTENDED = ("size", "turn")
ELEMENTS = {"points": "point", "faces": "face", "shards": "shard", "copies": "copy"}


def formulas_of(discrete: Mapping[str, Any]) -> FormulaUse:
    """The formulas that are run. Raises FormulaError where one is wrong."""
    writes = discrete["writes"]
    written = tuple(read_formula(discrete[name], NAMES) for name in WRITTEN[writes])
    return FormulaUse(written, NAMES, discrete["of" if writes in EXTENDED else "elements"])


def _by_time(discrete: Mapping[str, Any]) -> bool:
    return any(formula.names & TIME for formula in formulas_of(discrete).formulas)


def results(
    elements: Elements, values: Resolved, weights: np.ndarray, context: Context
) -> tuple[np.ndarray, int]:
    """What the formulas give, (formulas, K) float32, and how many results were undefined."""
    formulas = formulas_of(values.discrete_values).formulas
    used = frozenset[str]().union(*(formula.names for formula in formulas))
    named = named_values(elements, values, context, used) | {"w": elements.read(weights)}
    return run_formulas(formulas, named, len(elements))


def apply(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Mesh:
    elements = elements_of(mesh, formulas_of(values.discrete_values).elements)
    found, _ = results(elements, values, weights, context)
    writes = values.discrete("writes")
    if writes == "offset" and elements.domain == "point":
        return mesh.moved(push(mesh.points, point_normals(mesh), found[0], ONE, weights))
    if writes == "offset":
        ways = elements.carried(elements.normals() * found[0][:, None])
    elif writes == "position":
        ways = elements.carried(np.ascontiguousarray(found.T) - elements.centres)
    elif writes in EXTENDED:
        still, one = np.zeros(len(elements)), np.ones(len(elements))
        spin = (found[0], still) if writes == "size" else (one, np.radians(found[0]))
        ways = elements.spun(*spin)
    if writes != "value":
        return mesh.moved(carry(mesh.points, np.ascontiguousarray(ways), ONE, weights))
    name = values.discrete("name").strip()
    if not name:
        raise ZygomorphError("The value has no name.", "Give it the name under which it is kept.")
    return mesh.with_attribute("point", MASK + name, elements.at_points(found[0]) * weights)


def _formula(default: str, label: str, help: str, writes: str) -> Value:
    return formula(default, label, help, known=NAMES, shown_when=("writes", (writes,)))


DEFINITION = DeformDefinition(
    key="formula",
    title="Formula",
    group=PUSH,
    help="Moves points by arithmetic that you write.",
    also=("expression", "code", "math", "equation", "custom"),
    values={
        "writes": choice(
            "offset",
            "Writes",
            "What the formula gives.",
            {
                "offset": "an offset along the normals",
                "position": "the position",
                "size": "the size of each element",
                "turn": "the turn of each element",
                "value": "a value under a name",
            },
        ),
        "elements": choice(
            "points",
            "At each",
            "What the formula is worked out for; i and n count these.",
            ELEMENTS,
            shown_when=("writes", ("offset", "position", "value")),
        ),
        "of": choice(
            "faces",
            "At each",
            "What the formula is worked out for; i and n count these.",
            {k: v for k, v in ELEMENTS.items() if k != "points"},
            shown_when=("writes", EXTENDED),
        ),
        "offset": _formula(
            "0.05 * sin(9 * (x + y + z) - tau * p)", "Offset", "In metres.", "offset"
        ),
        "to_x": _formula("x", "x", "In metres.", "position"),
        "to_y": _formula("y + 0.1 * sin(9 * x - tau * p)", "y", "In metres.", "position"),
        "to_z": _formula("z", "z", "In metres.", "position"),
        "size": _formula(
            "1 - 0.5 * chance(i, 1)",
            "Size",
            "Times as large about its centre; a point of several faces follows all of them.",
            "size",
        ),
        "turn": _formula(
            "20 * sin(9 * y - tau * p)", "Turn", "In degrees about its normal.", "turn"
        ),
        "value": _formula("clamp(y, 0, 1)", "Value", "From 0 to 1 where a mask uses it.", "value"),
        "name": text(
            "mine",
            "Name",
            "Later masks find the value under this name.",
            shown_when=("writes", ("value",)),
        ),
        **{name: added(name, EVERY_FORMULA) for name in ADDED},
    },
    sentence="Formula [{offset} along the normals][({to_x}, {to_y}, {to_z})]"
    "[sizes each by {size}][turns each by {turn}][for “{name}”]",
    apply=apply,
    per_element=frozenset(ADDED),
    by_time=_by_time,
    formulas=formulas_of,
    resizes=lambda discrete: discrete["writes"] in EXTENDED,
    specimen=Specimen(SHEET, {"offset": "0.22 * sin(5 * x - tau * p) * cos(5 * z)"}),
    order=90,
)
