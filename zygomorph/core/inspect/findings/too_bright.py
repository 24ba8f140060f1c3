"""Most of what is shown is so bright that it loses its colour."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.animation.resolve import is_moving
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Request
from zygomorph.core.evaluation.scene import Scene, plan_scene
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.inspect.findings.seen import Seen, seen
from zygomorph.core.shared.lighting import irradiance, neutral_tone

# Points of a piece that are looked at, evenly chosen.
MOST_POINTS = 2000
# A colour that could be told from grey, and how much of it is to be left on the screen.
COLOURED = 0.25
LEFT = 0.6
# Of what is seen, so much may lose its colour.
SHARE = 0.3
EXPOSURE = "/finish/values/exposure"


def find(look: Look) -> Iterator[Finding]:
    planned = plan_scene(look.study)
    scenes: dict[float, Scene] = {}
    shown: dict[float, list[np.ndarray]] = {}
    for each in seen(look):
        if each.frame not in scenes:
            scenes[each.frame] = planned.at(np.array([each.frame]))
        light = _light(look, each, scenes[each.frame])
        if light is not None:
            shown.setdefault(each.frame, []).append(light)
    for frame, parts in shown.items():
        light = np.concatenate(parts)
        exposure = scenes[frame].finish.exposure
        lost = _lost(light * exposure)
        if not len(light) or lost.mean() < SHARE:
            continue
        yield Finding(
            "too_bright",
            "",
            "Too bright to keep its colour",
            f"At frame {frame:g} {lost.mean():.0%} of what faces the camera is nearer to white "
            "than to its colour. Use less light, or a lower exposure.",
            address=EXPOSURE,
            frame=frame,
            fix=_darker(look, light, exposure),
        )
        return


def _light(look: Look, each: Seen, scene: Scene) -> np.ndarray | None:
    """(n, 3) linear: what points of a piece that face the camera send to it, before exposure; None
    of what has no plain surface."""
    mesh = each.result.geometry.mesh if each.result.geometry.copies is None else None
    if mesh is None or mesh.topology.face_count == 0:
        return None
    try:
        shown = look.evaluator.appearance(
            look.study, Request(each.piece, each.frame), each.result.geometry
        )
    except ZygomorphError:
        return None
    material = shown.material
    if material.glass > 0.5 or material.metal > 0.5 or material.sphere is not None:
        # What these send depends on what is around them.
        return None
    count = len(mesh.points)
    some = np.linspace(0, count - 1, min(count, MOST_POINTS)).astype(int)
    place = each.result.place
    points = transformed(mesh.points[some], place).astype(np.float64)
    normals = point_normals(mesh)[some] @ np.linalg.pinv(place[:3, :3])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-9)
    facing = ((each.view.position - points) * normals).sum(axis=1) > 0
    lamps = [lamp for lamps in scene.lamps.values() for lamp in lamps]
    colours = shown.colours(count)[some]
    arrives = irradiance(normals, points, lamps, look.study.images)
    # Light of its own is meant to be bright.
    found: np.ndarray = (colours * arrives / np.pi)[facing]
    return found


def _lost(light: np.ndarray) -> np.ndarray:
    """(n,) bool: what has a colour of which the screen shows little."""
    colour = _saturation(light)
    found: np.ndarray = (colour > COLOURED) & (_saturation(neutral_tone(light)) < LEFT * colour)
    return found


def _saturation(light: np.ndarray) -> np.ndarray:
    """(n,) how far the channels are apart, as a share of the greatest."""
    most = light.max(axis=1)
    found: np.ndarray = (most - light.min(axis=1)) / np.maximum(most, 1e-9)
    return found


def _darker(look: Look, light: np.ndarray, exposure: float) -> Fix | None:
    given = look.study.document.get("finish", {}).get("values", {}).get("exposure")
    if is_moving(given):
        return None
    bright = float(np.quantile(light.max(axis=1), 0.9))
    lower = round(float(np.log2(exposure)) + np.log2(0.75 / max(bright * exposure, 1e-9)), 2)
    return Fix("Expose it less", [set_value(EXPOSURE, float(lower))])
