"""A piece that goes beyond the near or the far end of the view, where it is cut off."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.inspect.findings.seen import seen


def find(look: Look) -> Iterator[Finding]:
    camera = plan_camera(look.study)
    if camera.at(np.zeros(1)).near is None:
        # Found by itself, it reaches around everything.
        return
    told = set()
    for each in seen(look):
        if each.piece in told:
            continue
        points = transformed(each.result.geometry.probes(), each.result.place)
        if len(points) == 0:
            continue
        ahead = (points - each.view.position) @ -each.view.axes[:, 2]
        ahead = ahead[ahead > 0]
        near, far = each.view.near or 0.0, each.view.far or np.inf
        end = "far" if (ahead > far).any() else "near" if (ahead < near).any() else None
        if end is None:
            continue
        told.add(each.piece)
        address = f"{camera.part.address}/values"
        yield Finding(
            "beyond_the_view",
            each.piece,
            f"It goes beyond the {end} end of the view",
            f"At frame {each.frame:.0f} a part of it is {'farther' if end == 'far' else 'nearer'} "
            f"than the {far if end == 'far' else near:g} m at which “{camera.part.given['name']}” "
            f"{'ends' if end == 'far' else 'begins'}, and is not drawn.",
            address=f"{address}/{end}",
            frame=each.frame,
            fix=Fix("Let near and far be found", [set_value(f"{address}/clips", "found")]),
        )
