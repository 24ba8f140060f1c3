"""Making the view that somebody has of the stage that of the study's camera."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import is_moving
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.scene import plan_camera
from zygomorph.core.geometry.affine import inverse

# A ten-thousandth of a millimetre is finer than any hand turns a view.
DIGITS = 7


def keep_view(
    study: Study, position: Sequence[float], target: Sequence[float], frame: float
) -> list[dict[str, Any]]:
    """Edits after which the study's camera looks from one place at another at a frame.

    position, target : (3,) metres on the stage
    Raises ZygomorphError where the camera moves by itself, or cannot be aimed so.
    """
    camera = plan_camera(study)
    specs, given = camera.part.sections[0].specs, camera.part.sections[0].given
    back = inverse(camera.motion(np.array([frame], np.float64)))
    operations = []
    for name, place in (("position", position), ("target", target)):
        if name not in specs:
            raise ZygomorphError(
                f"“{camera.part.given['name']}” has no {name}.", "Choose another camera."
            )
        if is_moving(given.get(name)):
            raise ZygomorphError(
                f"The {name} of “{camera.part.given['name']}” moves by itself.",
                "Hold it still first; a kept view would take away what moves it.",
            )
        own = back[:3, :3] @ np.array(place, np.float64) + back[:3, 3]
        value = [round(float(v), DIGITS) + 0.0 for v in own]
        operations.append(
            {"do": "set", "path": f"{camera.part.address}/values/{name}", "value": value}
        )
    return operations
