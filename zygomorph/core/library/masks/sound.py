"""What is heard, laid over the elements: a spectrum, a level that fills them, or a sound that
passes over them."""

from __future__ import annotations

from typing import Any

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.order_of_elements import order_of
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.animation.sound.hearing import (
    GAIN,
    SOFTENING_VALUES,
    SOURCE_VALUES,
    frequency,
    levels_at,
    opens,
    track_of,
)
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.masking.measured import MEASURED, measured_points
from zygomorph.core.transforms.axis_frame import spine_of
from zygomorph.core.values.definitions import MaskDefinition
from zygomorph.core.values.grips import spot
from zygomorph.core.values.groups import ELEMENTS
from zygomorph.core.values.per_element import ORDER_VALUES
from zygomorph.core.values.value import choice, number, vector, whole

# Moments of a passing sound between which it is read straight.
MOMENTS = 1024


def _shares(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    """(P,) from 0 to 1: where each element stands between the first and the last."""
    by = values.discrete("by")
    asked: dict[str, Any] = {
        "by": by,
        "axis": values.vector("axis"),
        "origin": values.vector("centre"),
        "piece": values.discrete("piece"),
        "seed": values.count("seed"),
        "reverse": values.discrete("reverse"),
    }
    if by in ("position", "place"):
        mesh = mesh.moved(measured_points(mesh, values, context))
    return order_of(asked, mesh, context)


def apply(mesh: Mesh, values: Resolved, context: Context) -> np.ndarray:
    if len(mesh.points) == 0:
        return np.zeros(0, np.float32)
    heard = {name: values.discrete(name) for name in (*SOURCE_VALUES, "looped")}
    heard |= {name: values.scalar(name) for name in ("gain", "curve", "attack", "release", "begin")}
    track = track_of(heard, context.sound)
    if track is None:
        raise ZygomorphError(
            "The sound is not stored here." if heard["file"] else "No sound is chosen.",
            "Choose a WAV, FLAC or OGG file, or the bundled track.",
        )
    low, high = sorted((values.scalar("lowest"), values.scalar("highest")))
    now = np.array([context.frame / context.loop.rate])
    share = _shares(mesh, values, context)
    way = values.discrete("way")
    if way == "spectrum":
        count = values.count("bands")
        rims = np.geomspace(max(low, 1.0), max(high, low + 1.0, 2.0), count + 1)
        spectrum = [
            levels_at(heard, track, band, now, context.loop)[0]
            for band in zip(rims[:-1].tolist(), rims[1:].tolist(), strict=True)
        ]
        return np.interp(share * count - 0.5, np.arange(count), spectrum).astype(np.float32)
    if way == "fills":
        level = levels_at(heard, track, (low, high), now, context.loop)[0]
        edge = max(values.scalar("edge") / 100, 1e-6)
        return (0.5 + (level * (1 + edge) - edge / 2 - share) / edge).astype(np.float32)
    later = np.linspace(0, 1, MOMENTS)
    levels = levels_at(
        heard, track, (low, high), now - later * values.scalar("delay"), context.loop
    )
    return np.interp(share, later, levels).astype(np.float32)


def suggest(mesh: Mesh) -> dict[str, object]:
    if len(mesh.points) == 0:
        return {}
    low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
    middle = [round(float(c), 3) for c in (low + high) / 2]
    return {"axis": np.eye(3)[spine_of(high - low)].tolist(), "centre": middle}


def _across() -> dict[str, Any]:
    by = ORDER_VALUES["by"]
    # From the camera it would change with every turn of the view.
    options = {key: label for key, label in by.options if key != "camera"}
    return {
        "by": choice("position", by.label, by.help, options),
        "axis": ORDER_VALUES["axis"],
        "centre": vector(
            (0.0, 0.0, 0.0), "Place", "From which it is measured.", shown_when=("by", ("place",))
        ),
        "piece": ORDER_VALUES["piece"],
        "seed": ORDER_VALUES["seed"],
        "reverse": ORDER_VALUES["reverse"],
    }


DEFINITION = MaskDefinition(
    key="sound",
    title="Sound",
    group=ELEMENTS,
    help="What is heard, over the elements: a spectrum, a level that fills them, or a sound that "
    "passes over them.",
    also=("music", "audio", "beat", "volume", "spectrum"),
    values={
        "way": choice(
            "spectrum",
            "Way",
            "How what is heard lies over the elements.",
            {
                "spectrum": "low at the first, high at the last",
                "fills": "as far as it is loud",
                "travels": "passes from first to last",
            },
        ),
        **SOURCE_VALUES,
        **_across(),
        "lowest": frequency(40.0, "Lowest", "Below it nothing is heard."),
        "highest": frequency(8000.0, "Highest", "Above it nothing is heard."),
        "bands": whole(
            16,
            "Bands",
            "Into how many bands the frequencies are split.",
            (1, 48),
            hard=(1, 256),
            shown_when=("way", ("spectrum",)),
        ),
        "edge": number(
            15.0,
            "Edge",
            "How many are on their way at a time.",
            "%",
            (0.0, 100.0),
            hard=(0.0, 100.0),
            shown_when=("way", ("fills",)),
        ),
        "delay": number(
            0.5,
            "Delay",
            "How much later the last hears it than the first.",
            "s",
            (0.0, 4.0),
            hard=(0.0, 1e4),
            shown_when=("way", ("travels",)),
        ),
        "gain": GAIN,
        **SOFTENING_VALUES,
        "measured": MEASURED,
    },
    sentence="hears {track}",
    apply=apply,
    by_time=lambda words: True,
    opens=lambda values, loop: opens(values.discrete_values),
    suggest=suggest,
    grips=(spot("centre"),),
    order=44,
)
