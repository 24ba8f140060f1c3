"""A camera that is held by hand: it turns this way and that, and is back after a loop."""

from __future__ import annotations

import numpy as np

from zygomorph.core.animation.resolve import Resolved, sampler
from zygomorph.core.document.loop import Loop
from zygomorph.core.geometry.view import View

# A hand turns a camera about the way it looks less than up, down and sideways.
ROLLS = 0.4
AXES = (1.0, 1.0, ROLLS)


def shaken(view: View, values: Resolved, frame: float, loop: Loop) -> View:
    """The view at a frame as the hand has turned it."""
    size = values.scalar("shake")
    seed, pace = values.count("shake_seed"), values.count("shake_pace")
    turn = [
        float(
            sampler(
                {
                    "signal": "drift",
                    "low": -size * share,
                    "high": size * share,
                    "pace": pace,
                    # Of the seed each axis has one of its own.
                    "seed": (seed * 3 + axis) % 2**31,
                },
                loop,
                False,
            )(np.array([frame]))[0]
        )
        for axis, share in enumerate(AXES)
    ]
    return view.turned(*turn)
