"""How far away the surface is that the study's camera has in focus."""

from __future__ import annotations

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.scene import view_at
from zygomorph.core.geometry.affine import unit
from zygomorph.core.inspect.rays import Ray, hit_of


def focus_at(
    evaluator: Evaluator, study: Study, frame: float, final: bool = False
) -> tuple[float, bool]:
    """Distance along the axis at which the study's camera is sharp at a frame, metres, and whether
    there is something.

    Where the axis misses the surface that it is to have in focus, or that piece is gone, it is
    sharp at its target.
    """
    view = view_at(study, np.array([frame]), final)
    if not view.focus_on:
        return view.focus, True
    if all(piece["id"] != view.focus_on for piece in study.pieces):
        return view.focus, False
    try:
        found = evaluator.evaluate(study, Request(view.focus_on, frame, final, keep_tail=True))
    except ZygomorphError:
        return view.focus, False
    way = unit(view.target - view.position)
    distances = []
    # Copies are met where they stand.
    mesh = found.geometry.some(MOST_CORNERS).real
    hit = hit_of(mesh, found.place, Ray(view.position, way))
    if hit is not None:
        at, _ = hit.on(mesh.points)
        on_stage = found.place[:3, :3] @ at + found.place[:3, 3]
        distances.append(float((on_stage - view.position) @ way))
    return (min(distances), True) if distances else (view.focus, False)


# Points of copies that are written out to be met.
MOST_CORNERS = 2_000_000
