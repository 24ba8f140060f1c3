"""A camera that is elsewhere at the end of the loop, so that the picture jumps."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.animation.tiles import side_of
from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import unit
from zygomorph.core.inspect.findings.finding import Finding, Look

# Of its distance from what it looks at, and of a turn: less is not seen.
SAME_PLACE, SAME_WAY = 1e-3, 0.05


def find(look: Look) -> Iterator[Finding]:
    loop = look.study.loop
    camera = plan_camera(look.study)
    if loop.one_way or not camera.moves:
        return
    first, last = (camera.at(np.array([at])) for at in (0.0, float(loop.frames)))
    gone = last.position - first.position
    side = side_of(look.study)
    if side is not None:
        # Over a sea, whole tiles farther it sees the same.
        gone[[0, 2]] -= side * np.rint(gone[[0, 2]] / side)
    away = float(np.linalg.norm(gone))
    far = max(float(np.linalg.norm(first.target - first.position)), 1e-9)
    ways = [unit(view.target - view.position) for view in (first, last)]
    turned = float(np.degrees(np.arccos(np.clip(ways[0] @ ways[1], -1, 1))))
    zoomed = abs(last.angle - first.angle) > SAME_WAY
    if away < SAME_PLACE * far and turned < SAME_WAY and not zoomed:
        return
    said = (
        f"{away:.3g} m from where it was"
        if away >= SAME_PLACE * far
        else f"turned by {turned:.3g}°"
    )
    yield Finding(
        "camera_does_not_return",
        "",
        f"“{camera.part.given['name']}” does not return",
        f"At the end of the loop it is {said} at its beginning, so that the picture jumps. Let its "
        "values come back, or take whole rounds of a closed path.",
        address=f"{camera.part.address}/values/position",
        frame=float(loop.frames),
    )
