"""A drawn mask whose strokes no longer lie on the shape, or picks beyond its last element."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.masking.brush import left_behind
from zygomorph.core.values.value import Value

# Share of the strokes that may hang in the air.
SOME = 0.2


def _lost(spec: Value, given: Any, of: str, mesh: Mesh) -> str:
    """Why strokes or picks do not belong to a mesh; "" where they do.

    of : what is picked, "points", "faces", …
    """
    if spec.kind == "strokes" and left_behind(given, mesh.rest.astype(np.float64)) > SOME:
        return (
            "Most of its strokes hang in the air: the shape that they were drawn on is another "
            "now. Draw it anew, or bring the form back."
        )
    if spec.kind == "picked":
        count = len(elements_of(mesh, of))
        if any(first + many > count for first, many in given):
            return (
                f"Elements are picked that the shape has not: it has {count:,} {of} now. Pick "
                "anew, or bring the form back."
            )
    return ""


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        for step in look.planned(piece["id"]):
            for layer in step.layers:
                discrete = layer.own.still.discrete_values
                for name, spec in layer.definition.values.items():
                    if spec.kind not in ("strokes", "picked"):
                        continue
                    mesh = look.before(piece["id"], step.id).mesh
                    reason = _lost(spec, discrete[name], discrete.get("of", "points"), mesh)
                    if not reason:
                        continue
                    at = f"/pieces/{piece['id']}/recipe/{step.id}/where/layers/{layer.id}"
                    address = f"{at}/values/{name}"
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
