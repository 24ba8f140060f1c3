"""A light whose light reaches nothing that is shown."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.geometry.affine import transformed, unit
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.shared.drawn_scene import AreaLamp, Lamp, SpotLamp


def find(look: Look) -> Iterator[Finding]:
    planned = plan_scene(look.study)
    near = [each for each in planned.lights if not each.moves]
    if not near:
        return
    points = _shown(look)
    if points is None:
        return
    scene = planned.at(np.zeros(1))
    for light in near:
        lamps = scene.lamps[light.part.id]
        why = [_why(lamp, points) for lamp in lamps]
        if not why or not all(why):
            continue
        address = f"{light.part.address}/visible"
        yield Finding(
            "light_lights_nothing",
            "",
            f"“{light.part.given['name']}” lights nothing",
            f"{why[0]} Turn it to what is shown, make it stronger, or leave it out.",
            address=address,
            fix=Fix("Leave it out", [set_value(address, False)]),
        )


def _shown(look: Look) -> np.ndarray | None:
    """(P, 3) some points of what is shown, on the stage; None where nothing is."""
    found = []
    for piece in look.study.pieces:
        if not piece.get("visible", True) or look.plan(piece["id"]).moves:
            # What moves may come into the light.
            return None
        try:
            result = look.result(piece["id"], look.plan(piece["id"]).steps[-1].id)
        except ZygomorphError:
            return None
        found.append(transformed(result.geometry.probes(), result.place))
    points = np.concatenate(found) if found else np.zeros((0, 3))
    return points if len(points) else None


def _why(lamp: Lamp, points: np.ndarray) -> str:
    """Why a lamp's light reaches none of the points; "" where it does."""
    if lamp.strength <= 0:
        return "It has no strength."
    if not isinstance(lamp, AreaLamp | SpotLamp):
        return ""
    way = points - lamp.position
    along = way @ unit(lamp.target - lamp.position)
    if isinstance(lamp, AreaLamp):
        return "" if (along > 0).any() else "All that is shown is behind it."
    far = np.maximum(np.linalg.norm(way, axis=1), 1e-9)
    return "" if (along / far > lamp.cosines[0]).any() else "Nothing is within its cone."
