"""A step that cuts solids, on a mesh that has no clear inside: open, turned over, or going through
itself."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.planned import PlannedStep
from zygomorph.core.geometry.extent import extent_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.repair.crossings import crossing_edges
from zygomorph.core.geometry.solids.solid import fault_of
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look
from zygomorph.core.values.definitions import StepDefinition

# Beyond so many edges, looking for crossings takes longer than anybody waits.
MOST_EDGES = 400_000


def _what_is_wrong(mesh: Mesh, open_too: bool) -> tuple[str, str]:
    """What is wrong with a mesh, as words for a repair and for an artist; "" where nothing is."""
    fault = fault_of(mesh)
    if fault is not None:
        if fault.kind == "open" and open_too:
            return "", ""
        return fault.kind, fault.words()
    if len(mesh.topology.edges) <= MOST_EDGES:
        crossed = len(crossing_edges(mesh))
        if crossed:
            edges = "edge" if crossed == 1 else "edges"
            return "crossing", f"goes through itself at {crossed:,} {edges}"
    return "", ""


def _new_id(look: Look) -> str:
    taken = {step["id"] for piece in look.study.pieces for step in piece["recipe"]}
    return next(f"repair{n}" for n in range(1, len(taken) + 2) if f"repair{n}" not in taken)


def _inserted(look: Look, piece: str, after: str, step: str, values: dict[str, Any]) -> list:
    item = {"id": _new_id(look), "step": step, "values": values}
    path = f"/pieces/{piece}/recipe"
    return [{"do": "insert", "path": path, "item": item, "after": after}]


def _fix(look: Look, piece: str, after: str, kind: str, mesh: Mesh) -> Fix | None:
    """A step after another that gives the piece an inside."""
    found = extent_of(mesh)
    if found is None:
        return None
    if kind in ("disagreeing", "inside out"):
        return Fix("Turn the faces outward", _inserted(look, piece, after, "orient", {}))
    cell = found.share(0.02)
    values = {"size": cell, "wall": max(found.share(0.03), 2 * cell)}
    if kind == "crossing":
        return Fix("Rebuild it through voxels", _inserted(look, piece, after, "voxels", values))
    return Fix("Rebuild it as a wall", _inserted(look, piece, after, "voxels", values))


def _at(look: Look, piece: str, step: PlannedStep) -> Iterator[Finding]:
    assert isinstance(step.definition, StepDefinition)
    values = step.values.at(np.zeros(1))
    for name, open_too in step.definition.needs_inside(values).items():
        other = piece if name == "" else values.discrete(name)
        if not other or other not in look.pieces:
            continue
        steps = [each.id for each in look.plan(other).steps]
        after = steps[steps.index(step.id) - 1] if name == "" else steps[-1]
        try:
            mesh = look.result(other, after).geometry.real
        except ZygomorphError:
            continue
        kind, words = _what_is_wrong(mesh, open_too)
        if not kind or len(mesh.points) == 0:
            continue
        called = "The surface" if name == "" else f"“{look.pieces[other]}”"
        used = f"{step.definition.title} in “{look.pieces[piece]}”"
        yield Finding(
            "no_inside",
            piece,
            f"{called} {words}",
            f"{used} needs a clear inside. Mend it, or rebuild it first.",
            step.id,
            address=f"{step.part.address}/values/{name}" if name else "",
            fix=_fix(look, other, after, kind, mesh),
        )


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        for step in look.planned(piece["id"]):
            if isinstance(step.definition, StepDefinition):
                yield from _at(look, piece["id"], step)
