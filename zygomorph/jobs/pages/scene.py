"""Lights, view and backdrop of a study in the form that a page's viewer reads."""

from __future__ import annotations

import base64
import io
from dataclasses import fields
from typing import Any

import numpy as np
from PIL import Image

from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.geometry.images import Images
from zygomorph.core.shared.backdrop_pixels import backdrop
from zygomorph.core.shared.dome_light import coefficients
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    Backdrop,
    DomeLamp,
    Lamp,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)

KINDS: dict[type, str] = {SunLamp: "sun", PointLamp: "point", SpotLamp: "spot", AreaLamp: "area"}
# Columns and rows of the picture behind everything, and the colour of the page.
BEHIND = (1280, 720)
PAGE = "#17131f"


def told_scene(study: Study) -> dict[str, Any]:
    """The scene at the first frame; its fields are described in web/src/viewer/told.ts."""
    scene = plan_scene(study).at(np.zeros(1))
    view, ground = scene.view, scene.ground
    lamps = [lamp for lamps in scene.lamps.values() for lamp in lamps]
    angle = view.angle
    if view.height is not None:
        # The viewer has perspective: as much is seen of what is looked at.
        away = float(np.linalg.norm(view.position - view.target))
        angle = float(np.degrees(2 * np.arctan(view.height / 2 / max(away, 1e-6))))
    return {
        "name": study.name,
        "seconds": study.loop.frames / study.loop.rate,
        "view": {
            "position": _numbers(view.position),
            "target": _numbers(view.target),
            "angle": angle,
            "aspect": view.aspect,
        },
        "backdrop": _as_url(scene.backdrop, study.images),
        "exposure": scene.finish.exposure,
        "lamps": [_lamp(lamp, study.images) for lamp in lamps],
        "ground": {f.name: getattr(ground, f.name) for f in fields(ground)},
    }


def _lamp(lamp: Lamp, images: Images) -> dict[str, Any]:
    if isinstance(lamp, DomeLamp):
        return {"kind": "dome", "harmonics": np.round(coefficients(lamp, images), 6).tolist()}
    if isinstance(lamp, SkyLamp):
        own = {"towards": _numbers(lamp.up), "colour": lamp.above, "below": lamp.below}
        return {"kind": "sky", "strength": lamp.strength, **own}
    told: dict[str, Any] = {"kind": KINDS[type(lamp)]}
    for field in fields(lamp):
        value = getattr(lamp, field.name)
        told[field.name] = _numbers(value) if isinstance(value, np.ndarray) else value
    if isinstance(lamp, AreaLamp):
        told["radiance"] = lamp.radiance
    return told


def _numbers(array: np.ndarray) -> list[float]:
    found: list[float] = np.round(array, 6).tolist()
    return found


def _as_url(behind: Backdrop, images: Images) -> str:
    """A picture of it, in the address itself; of nothing, the colour of the page."""
    if behind.kind == "clear":
        behind = Backdrop("linear", ((0.0, PAGE),))
    drawn = backdrop(behind, BEHIND, images)
    out = io.BytesIO()
    Image.fromarray(np.round(drawn * 255).astype(np.uint8)).save(out, "WEBP", quality=92)
    return f"data:image/webp;base64,{base64.b64encode(out.getvalue()).decode()}"
