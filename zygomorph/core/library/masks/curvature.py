"""Curvature: ridges, hollows, or both."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.cancelling import go_on
from zygomorph.core.geometry.curvature import mean_curvature
from zygomorph.core.geometry.levelness import is_level
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.at_rest import once_at_rest
from zygomorph.core.masking.measured import now_or_at_rest
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.groups import SURFACE
from zygomorph.core.values.value import choice, number, whole


def _softened(values: np.ndarray, mesh: Mesh, times: int) -> np.ndarray:
    """Each value the mean of its own and its neighbours', some times over."""
    starts, neighbours = mesh.topology.neighbours
    of = np.repeat(np.arange(len(values)), np.diff(starts))
    members = np.diff(starts) + 1
    for _ in range(times):
        go_on()
        values = (values + np.bincount(of, values[neighbours], len(values))) / members
    return values


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    soften = values.count("soften")

    def found() -> np.ndarray:
        at = mesh
        if values.discrete("measured") == "rest":
            at = replace(mesh, points=mesh.rest)
        return _softened(mean_curvature(at), mesh, soften).astype(np.float32)

    bend = (
        once_at_rest(mesh, ("curvature", soften), found)
        if values.discrete("measured") == "rest"
        else found()
    )
    what = values.discrete("what")
    if what == "hollows":
        bend = -bend
    elif what == "both":
        bend = np.abs(bend)
    return bend * values.array("radius")


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    bend = np.abs(mean_curvature(mesh))
    most = float(np.quantile(bend, 0.95)) if len(bend) else 0.0
    return {"radius": float(f"{1 / most:.2g}")} if most > 1e-6 else {}


DEFINITION = MaskDefinition(
    key="curvature",
    title="Curvature",
    group=SURFACE,
    help="1 on ridges, in hollows, or both: where the surface bends most.",
    also=("ridges", "hollows", "edges", "cavity"),
    values={
        "what": choice(
            "ridges",
            "Where",
            "Which bends count.",
            {"ridges": "on ridges", "hollows": "in hollows", "both": "on both"},
        ),
        "radius": number(
            0.2,
            "Radius",
            "Bent like a ball of this radius, or more, the weight is 1.",
            "m",
            (0.01, 3.0),
            hard=(1e-6, 1e6),
            scale="log",
        ),
        "soften": whole(
            2,
            "Soften",
            "How many rings of neighbours it is evened out over.",
            (0, 12),
            hard=(0, 200),
        ),
        "measured": now_or_at_rest("piece"),
    },
    sentence="curvature {what}",
    apply=apply,
    acts_on=lambda mesh: not is_level(mesh),
    per_element=frozenset({"radius"}),
    reach="neighbourhood",
    suggest=suggest,
    on_copies="base",
    order=54,
)
