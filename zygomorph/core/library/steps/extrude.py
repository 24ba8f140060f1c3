"""Extrude: faces rise from the surface, one by one or joined, and sides lead up to them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.formula_names import ADDED, NAMES, TIME, named_values
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.budget import within_budget
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.extrusion import Extrusion, extruded, positions
from zygomorph.core.geometry.mesh import SMOOTHING, Mesh
from zygomorph.core.values.definitions import MASK_INPUT, FormulaUse, TopologyDefinition
from zygomorph.core.values.formula.parse import read_formula
from zygomorph.core.values.formula.run import run_formulas
from zygomorph.core.values.groups import BREAK
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.unit_values import UNEVEN, uneven_shares
from zygomorph.core.values.value import SEED, choice, formula, number, switch, text, whole

ONCE = "1"
# Values of the artist's own belong to the step Formula.
KNOWN = NAMES - set(ADDED)


def _formulas_of(discrete: Mapping[str, Any]) -> FormulaUse:
    """The formula that is run. Raises FormulaError where it is wrong."""
    return FormulaUse((read_formula(discrete["times"], KNOWN),), KNOWN, "faces")


def _by_time(discrete: Mapping[str, Any]) -> bool:
    return bool(_formulas_of(discrete).formulas[0].names & TIME)


def _times(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> np.ndarray:
    """(F,) or (1,) float32 what the formula gives at each face."""
    (written,) = _formulas_of(values.discrete_values).formulas
    elements = elements_of(mesh, "faces")
    named = named_values(elements, values, context, written.names) | {"w": elements.own(weights)}
    found, _ = run_formulas([written], named, len(elements))
    return found[0]


def structure(mesh: Mesh, values: Resolved, chosen: np.ndarray | None) -> Extrusion:
    topology, rows = mesh.topology, values.count("rows")
    meant = np.ones(topology.face_count, bool) if chosen is None else chosen
    within_budget(topology.point_count + rows * int(meant[topology.corner_face].sum()))
    return extruded(
        topology,
        meant,
        values.discrete("way") == "region",
        rows,
        values.discrete("back"),
        values.discrete("mark").strip(),
        mesh.get("face", SMOOTHING),
    )


def apply(
    mesh: Mesh, structure: Extrusion, values: Resolved, weights: np.ndarray, context: Context
) -> np.ndarray:
    count = mesh.topology.face_count

    def each(array: np.ndarray) -> np.ndarray:
        return np.broadcast_to(array, count).astype(np.float32)

    depth = values.array("depth") * weights
    if values.discrete("times").strip() != ONCE:
        depth = depth * _times(mesh, values, weights, context)
    uneven = values.scalar("uneven") / 100
    if uneven:
        depth = depth * uneven_shares(mesh.ids("face"), uneven, values.count("seed"))
    inset = each(values.array("inset") * weights)
    taper = each(values.array("taper") / np.float32(100) * weights)
    return positions(mesh, structure.tops, each(depth), inset, taper)


def suggest(mesh: Mesh) -> dict[str, Any]:
    found = extent_of(mesh)
    return {"depth": found.share(0.08)} if found else {}


DEFINITION = TopologyDefinition(
    key="extrude",
    title="Extrude",
    group=BREAK,
    help="Raises faces from the surface, with sides that lead up to them; a mask says which, and "
    "how far.",
    also=("raise", "pull", "thicken", "spikes", "relief", "towers", "inset", "shell", "solidify"),
    values={
        "depth": number(0.1, "Depth", "Along the normals; below 0, inwards.", "m", (-0.5, 0.5)),
        "times": formula(
            ONCE,
            "Times",
            "By which the depth of each face is multiplied; below 0 it goes inwards.",
            known=KNOWN,
            idle=ONCE,
            main=False,
        ),
        "way": choice(
            "each",
            "Way",
            "Each face by itself, or neighbours stay joined.",
            {"each": "one by one", "region": "joined"},
        ),
        "inset": number(
            0.0,
            "Inset",
            "How far the raised sides go into their face.",
            "m",
            (0.0, 0.1),
            hard=(-1e6, 1e6),
            idle=0.0,
        ),
        "taper": number(
            0.0,
            "Taper",
            "How much smaller the raised faces are; at 100 they end in a tip.",
            "%",
            (0.0, 100.0),
            hard=(-1000.0, 100.0),
            idle=0.0,
        ),
        "rows": whole(1, "Rows", "Faces along the sides.", (1, 12), hard=(1, 200), main=False),
        "back": switch(
            False,
            "Back",
            "Keep the faces where they were, turned over, so that a sheet becomes a solid.",
        ),
        "uneven": UNEVEN,
        "mark": text(
            "sides", "Mark sides as", "Later masks find the sides under this name.", main=False
        ),
        "seed": SEED,
    },
    sentence="Extrude faces by {depth}[ times {times}], {way}[, inset {inset}]"
    "[, {taper} smaller at the top][, {uneven} unevenly]",
    structure=structure,
    changes_with=frozenset({"way", "rows", "back", "mark", MASK_INPUT}),
    reads=(("face", SMOOTHING),),
    by_time=_by_time,
    formulas=_formulas_of,
    means="any",
    apply=apply,
    per_element=frozenset({"depth", "inset", "taper"}),
    suggest=suggest,
    amounts=(),
    acts_on=lambda mesh: mesh.topology.face_count > 0,
    specimen=Specimen(
        ("icosphere", {"radius": 0.5, "halvings": 2}),
        {"depth": sine(0.0, 0.3), "taper": 60.0, "uneven": 70.0},
    ),
    order=40,
)
