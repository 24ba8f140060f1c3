"""Depth of field whose focus is meant for something that is not there."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.inspect.autofocus import focus_at
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.inspect.findings.seen import moments
from zygomorph.core.transforms.camera import anchors_of


def find(look: Look) -> Iterator[Finding]:
    camera = plan_camera(look.study)
    values = camera.values.still
    if camera.at(np.zeros(1)).lens_radius == 0:
        return
    by = values.discrete_values.get("focus_by", "target")
    address = f"{camera.part.address}/values"
    wrong: tuple[str, float] | None = None
    if by == "anchor":
        given = values.discrete("focus_anchor")
        known = given in anchors_of(camera.part) and camera.stands(given) is not None
        wrong = None if known else ("No piece or marker is chosen, or it is gone.", 0.0)
    elif by == "surface":
        found = ((f, focus_at(look.evaluator, look.study, f)[1]) for f in moments(look))
        missed = next((frame for frame, there in found if not there), None)
        if missed is not None:
            reason = f"At frame {missed:.0f} the middle of the picture does not meet the surface."
            wrong = (reason, missed)
    if wrong is None:
        return
    reason, frame = wrong
    yield Finding(
        "focus_on_nothing",
        "",
        f"“{camera.part.given['name']}” has nothing in focus",
        f"{reason} It is sharp at its target there instead.",
        address=f"{address}/focus_by",
        frame=frame,
        fix=Fix("Focus on what it looks at", [set_value(f"{address}/focus_by", "target")]),
    )
