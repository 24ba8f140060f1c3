"""Solid glass on a surface that has no inside, which can bend no light."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value

# Less glass than this is hardly seen.
LEAST = 0.05


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        plan = look.plan(piece["id"])
        first = plan.looks[0]
        values = first.values.still
        if "glass" not in first.definition.values or values.discrete_values.get("walls") == "thin":
            continue
        if values.numbers.get("glass") is None or values.scalar("glass") / 100 < LEAST:
            continue
        try:
            mesh = look.result(piece["id"], plan.steps[-1].id).geometry.mesh
        except ZygomorphError:
            continue
        topology = mesh.topology
        if topology.face_count == 0 or topology.closed or topology.closed_as_welded:
            continue
        address = f"/pieces/{piece['id']}/looks/{first.id}/values/walls"
        yield Finding(
            "glass_without_depth",
            piece["id"],
            "Solid glass without an inside",
            "Its surface is open, so that there is nothing between a front and a back that light "
            "could be bent in or tinted by. Draw it as a thin sheet, or close the surface.",
            address=address,
            fix=Fix("Draw it as a thin sheet", [set_value(address, "thin")]),
        )
