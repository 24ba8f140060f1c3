"""A drawn mask whose strokes no longer lie on the shape, or picks beyond its last element."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.brush import left_behind
from zygomorph.core.elements import elements_of
from zygomorph.core.findings.finding import Finding, Fix, Look, set_value

# Share of the strokes that may hang in the air.
SOME = 0.2


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        for step, _ in look.planned(piece["id"]):
            for layer in step.layers:
                key = layer.definition.key
                if key not in ("drawn", "picked"):
                    continue
                mesh = look.before(piece["id"], step.id).mesh
                words = layer.own.still.words
                name = "strokes" if key == "drawn" else "picked"
                address = (
                    f"/pieces/{piece['id']}/recipe/{step.id}/where/layers/{layer.id}/values/{name}"
                )
                if key == "drawn":
                    lost = left_behind(words["strokes"], mesh.rest.astype(np.float64)) > SOME
                    reason = (
                        "Most of its strokes hang in the air: the shape that they were drawn on is "
                        "another now. Draw it anew, or bring the form back."
                    )
                else:
                    count = len(elements_of(mesh, words["of"]))
                    lost = any(first + many > count for first, many in words["picked"])
                    reason = (
                        f"Elements are picked that the shape has not: it has {count:,} "
                        f"{words['of']} now. Pick anew, or bring the form back."
                    )
                if lost:
                    yield Finding(
                        "drawn_without_mesh",
                        piece["id"],
                        "The mask was made on another shape",
                        reason,
                        step.id,
                        layer.id,
                        address,
                        fix=Fix("Clear it", [set_value(address, [])]),
                    )
