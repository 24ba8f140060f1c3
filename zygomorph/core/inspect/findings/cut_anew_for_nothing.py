"""A mesh that is cut anew at every frame although what it is cut from hardly moves: its points jump
from frame to frame, and it costs time, for nothing that is seen."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.evaluate import Request
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.values.definitions import TopologyDefinition

# A pixel, where a piece fills a picture of full width.
PIXEL = 1 / 1920
# Frames that are looked at.
LOOKED_AT = 9


def _motion(look: Look, piece: str, until: str) -> float | None:
    """How far points go over the loop, as a share of the size; None where they are not the same
    points."""
    frames = np.linspace(0, look.study.loop.frames, LOOKED_AT)
    first = look.result(piece, until).mesh
    size = float(np.ptp(first.points, axis=0).max(initial=0.0))
    farthest = 0.0
    for frame in frames[1:]:
        request = Request(piece, float(frame), until=until, shared=True)
        mesh = look.evaluator.evaluate(look.study, request).mesh
        if mesh.topology.digest != first.topology.digest:
            return None
        farthest = max(farthest, float(np.abs(mesh.points - first.points).max(initial=0.0)))
    return farthest / size if size > 0 else None


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        steps = [each.id for each in look.plan(piece["id"]).steps]
        for step in look.planned(piece["id"]):
            definition = step.definition
            if not isinstance(definition, TopologyDefinition) or "cut" not in definition.values:
                continue
            values = step.values.at(np.zeros(1))
            others = any(v.kind == "piece" for v in definition.values.values())
            named = others and any(
                values.discrete_values.get(name)
                for name, spec in definition.values.items()
                if spec.kind == "piece"
            )
            if definition.stands(values) != "now" or named or step.values.moving:
                continue
            motion = _motion(look, piece["id"], steps[steps.index(step.id) - 1])
            if motion is None or not 0 < motion < PIXEL:
                continue
            address = f"{step.part.address}/values/cut"
            yield Finding(
                "cut_anew_for_nothing",
                piece["id"],
                f"{definition.title} is made anew for less than a pixel",
                f"What it is made from moves by {100 * motion:.2g} % of its size: too little to be "
                "seen, but enough for another mesh at every frame.",
                step.id,
                address=address,
                fix=Fix("Make it once, at rest", [set_value(address, "rest")]),
            )
