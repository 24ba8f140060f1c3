"""A skin that smoothing made thinner: it can be grown back."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.geometry.solids.solid import fault_of, volume_of
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.values.definitions import TopologyDefinition

# So much is lost without being seen.
UNSEEN = 0.02


def _volume(look: Look, piece: str, step: str) -> float | None:
    mesh = look.result(piece, step).geometry.real
    if fault_of(mesh) is not None:
        return None
    return volume_of(mesh.points, mesh.topology.drawn_triangles)


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        steps = [each.id for each in look.plan(piece["id"]).steps]
        for step in look.planned(piece["id"]):
            definition, values = step.definition, step.values.still
            if not isinstance(definition, TopologyDefinition) or not definition.keeps_volume:
                continue
            switch, smooth = definition.keeps_volume, look.number(step, "smooth")
            alone = not values.discrete_values.get("piece") and not look.number(step, "grow").any()
            solid = values.discrete_values.get("inside", "solid") == "solid"
            if values.discrete_values.get(switch) or smooth.max() <= 0 or not (alone and solid):
                continue
            before = _volume(look, piece["id"], steps[steps.index(step.id) - 1])
            after = _volume(look, piece["id"], step.id)
            if before is None or after is None or before - after <= UNSEEN * before:
                continue
            address = f"{step.part.address}/values/{switch}"
            yield Finding(
                "skin_lost_volume",
                piece["id"],
                f"Smoothing took {100 * (before - after) / before:.0f} % of the volume",
                "What is rounded off is gone from the inside, too: thin parts become thinner.",
                step.id,
                address=address,
                fix=Fix("Grow it back", [set_value(address, True)]),
            )
