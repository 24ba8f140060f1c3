"""A sheet that stands for ground or sea, whose end is seen."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.inspect.findings.finding import Finding, Look
from zygomorph.core.inspect.findings.seen import Seen, seen, visible

# Points of the rim that are looked at.
LOOKED_AT = 2000
# Less high than this share of its width it is a ground.
FLAT = 0.3


def find(look: Look) -> Iterator[Finding]:
    camera = plan_camera(look.study)
    told = set()
    for each in seen(look):
        if each.piece in told or not _ends_in_view(look, each):
            continue
        told.add(each.piece)
        yield Finding(
            "sheet_ends_in_view",
            each.piece,
            "The end of the sheet is in view",
            f"At frame {each.frame:.0f} “{camera.part.given['name']}” stands over this sheet and "
            "sees where it ends. Make the sheet larger, look farther down, or mean it so.",
            address=f"/pieces/{each.piece}/recipe/{look.plan(each.piece).steps[0].id}",
            frame=each.frame,
        )


def _ends_in_view(look: Look, each: Seen) -> bool:
    """Whether the camera stands over a flat open surface and sees its rim."""
    mesh = each.result.geometry.mesh
    topology = mesh.topology
    if topology.face_count == 0 or topology.closed or topology.closed_as_welded:
        return False
    points = transformed(mesh.points, each.result.place)
    low, high = points.min(axis=0), points.max(axis=0)
    wide = min(high[0] - low[0], high[2] - low[2])
    over = (each.view.position > low)[[0, 2]].all() and (each.view.position < high)[[0, 2]].all()
    if not over or high[1] - low[1] > FLAT * wide or each.view.position[1] < low[1]:
        return False
    rim = np.flatnonzero(topology.border)
    rim = rim[:: max(1, len(rim) // LOOKED_AT)]
    return bool(visible(look, each, points[rim]).any())
