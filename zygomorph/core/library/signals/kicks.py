"""Jolts of a single frame: the value is elsewhere for one frame, and back at the next."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.values.definitions import SignalDefinition
from zygomorph.core.values.kinds.written import frames_in
from zygomorph.core.values.value import SEED, choice, frames, number, whole


@lru_cache(maxsize=256)
def kicks_of(
    loop_frames: int, by: str, written: str, count: int, ways: str, varies: float, seed: int
) -> np.ndarray:
    """(F,) how far each frame of the loop is kicked, in shares of the size."""
    random = np.random.default_rng([seed, loop_frames])
    if by == "hand":
        at = np.unique(np.array(frames_in(written), np.int64) % loop_frames)
    else:
        at = random.choice(loop_frames, min(count, loop_frames), replace=False)
    sizes = 1.0 - varies * random.uniform(0.0, 1.0, len(at))
    if ways == "both":
        sizes *= random.choice([-1.0, 1.0], len(at))
    found = np.zeros(loop_frames)
    found[at] = sizes
    return found


def sample(
    values: dict[str, Any], times: np.ndarray, loop: Loop, signals: SignalContext = NO_CONTEXT
) -> np.ndarray:
    times = np.asarray(times, np.float64)
    # All that is within a frame, as the shutter stays open, is that frame.
    frame = np.floor(times + 1e-9).astype(np.int64) % loop.frames
    # Of many elements each may have numbers of its own.
    count, varies = (np.broadcast_to(values[name], times.shape) for name in ("count", "varies"))
    kicked = np.zeros(times.shape)
    for each, less in set(zip(count.tolist(), varies.tolist(), strict=True)):
        table = kicks_of(
            loop.frames,
            values["by"],
            values["frames"],
            round(each),
            values["ways"],
            less / 100,
            int(values["seed"]),
        )
        own = (count == each) & (varies == less)
        kicked[own] = table[frame[own]]
    return values["value"] + values["size"] * kicked


DEFINITION = SignalDefinition(
    key="kicks",
    title="Kicks",
    help="Stays at one value, but for jolts of a single frame: at frames that you write, or by "
    "chance.",
    also=("jolt", "jerk", "flicker", "glitch", "hit", "one frame"),
    values={
        "value": number(0.0, "Value", "Where it is between the kicks."),
        "size": number(1.0, "Size", "How far a kick goes from there."),
        "by": choice(
            "chance",
            "When",
            "At frames that you write, or at frames by chance.",
            {"chance": "by chance", "hand": "at these frames"},
        ),
        "count": whole(
            4,
            "Kicks",
            "In one loop.",
            (0, 24),
            "/ loop",
            hard=(0, 1000),
            shown_when=("by", ("chance",)),
        ),
        "frames": frames(
            "Frames",
            "Whole frames, such as 3, 17, 40. Beyond the loop they begin again.",
            shown_when=("by", ("hand",)),
        ),
        "ways": choice(
            "one",
            "Ways",
            "All one way, or some the other.",
            {"one": "one way", "both": "both ways"},
        ),
        "varies": number(
            0.0, "Varies", "Up to so much smaller by chance.", "%", (0.0, 100.0), hard=(0.0, 100.0)
        ),
        "seed": SEED,
    },
    sentence="kicks by {size} from {value}",
    apply=sample,
    jumps=lambda signal: True,
    order=6,
)
