"""Trails in final pictures: what is left of earlier pictures in later ones.

Trails are added when all frames of a job have been traced, on linear light before bloom and tone,
as the stage adds them. Each picture needs those of which something is left in it: most are pictures
of the job itself; the others, such as those before a still, are traced as further units that only
trails are made of.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.formats.stills import png_of_picture
from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.queue.orders import FinalOrder, in_loop
from zygomorph.render.final.picture import Picture
from zygomorph.render.final.traced import Traced

# A share of a picture that is invisible: half a step of 255.
INVISIBLE = 0.5 / 255
# Times are saved with six digits.
ROUNDING = 1e-5

Report = Callable[[float, str], None]


@dataclass(frozen=True)
class Leading:
    """The pictures that must be shown before one so that its trails are there.

    times : in frames, ascending
    anew : whether the first of them has no trails of anything before it
    """

    times: tuple[float, ...]
    anew: bool


def trail_length(share: float, frames: int) -> int:
    """Number of frames after which a picture is invisible.

    share : of a picture that is left after each frame, 0 to 1
    frames : of the loop, beyond which no trail reaches
    """
    if share <= 0:
        return 0
    return min(frames, int(np.ceil(np.log(INVISIBLE) / np.log(min(share, 0.999)))))


def leading(
    time: float, last: float | None, length: int, loop: Loop, spacing: float = 1.0
) -> Leading:
    """What must be shown before the picture at a time.

    That is every picture since the last one that was shown or, where there is none or it is out of
    reach, all within the length of a trail. A loop that plays one way has nothing before frame 0.
    The stage does the same (``web/src/model/trailTimes.ts``).

    time, last : in frames; length : of trails, in frames
    spacing : frames from one picture of the sequence to the next; trails are made of every frame
        where that is more than one
    """
    goes_on = last is not None and 0 < time - last <= length
    span = time - last if goes_on and last is not None else length
    apart = min(spacing, 1.0)
    count = max(0, math.ceil(span / apart - ROUNDING) - (1 if goes_on else 0))
    times = (time - (count - k) * apart for k in range(count))
    return Leading(tuple(t for t in times if t > -ROUNDING or not loop.one_way), not goes_on)


def with_trails(order: FinalOrder, study: Study) -> FinalOrder:
    """The order with ``trailed`` and ``trail_times`` as the study needs them. Raises
    ZygomorphError where the order cannot be made."""
    order.check()
    times = order.times(study.loop)
    length = _longest(study, order, times)
    if length == 0:
        return replace(order, trailed=False, trail_times=())
    spacing = order.spacing(study.loop)
    own = {in_loop(time, study.loop.frames) for time in times}
    found: dict[float, None] = {}
    last = None
    for time in times:
        for each in leading(time, last, length, study.loop, spacing).times:
            found[in_loop(each, study.loop.frames)] = None
        last = time
    return replace(order, trailed=True, trail_times=tuple(t for t in found if t not in own))


def _longest(study: Study, order: FinalOrder, times: Sequence[float]) -> int:
    """Frames that the longest trail reaches."""
    scene = plan_scene(study, order.final)
    moving = np.array(times) if scene.moves else np.zeros(1)
    share = max(scene.at(moving[k : k + 1]).finish.trails for k in range(len(moving)))
    return trail_length(share, study.loop.frames)


def draw_trails(
    study: Study,
    order: FinalOrder,
    light: Sequence[Path],
    pictures: Sequence[Path],
    report: Report,
    stopped: Callable[[], bool],
) -> None:
    """Write the pictures anew, with trails.

    light : EXR of each unit, in the order of ``order.drawn_times``; it is not changed, so that this
        may be repeated
    pictures : PNG of each picture

    Raises Cancelled, OSError, ZygomorphError.
    """
    frames = study.loop.frames
    times = order.times(study.loop)
    scene = plan_scene(study, order.final)
    length = _longest(study, order, times)
    drawn_at = {in_loop(at, frames): k for k, at in enumerate(order.drawn_times(study.loop))}
    kept: np.ndarray | None = None
    last: float | None = None
    for number, time in enumerate(times):
        if stopped():
            raise Cancelled
        report(number / len(times), "drawing trails")
        finish = scene.at(np.array([time])).finish
        before = leading(time, last, length, study.loop, order.spacing(study.loop))
        if before.anew:
            kept, last = None, None
        for each in (*before.times, time):
            unit = number if each == time else drawn_at[in_loop(each, frames)]
            now = read_exr(light[unit])[""].astype(np.float32)
            kept = now if kept is None or last is None else left_of(kept, now, finish, each - last)
            last = each
        assert kept is not None  # the picture itself at least
        write_whole(pictures[number], _shown(kept, study, order, time, finish))


def left_of(before: np.ndarray, now: np.ndarray, finish: Finish, frames: float) -> np.ndarray:
    """A picture with what is left of an earlier one.

    before, now : (rows, columns, 4) linear light and opacity
    frames : from the one to the other
    """
    share = np.float32(finish.trails**frames)
    if finish.trails_as == "mixed":
        return now + (before - now) * share
    return np.maximum(now, before * share)


def _shown(
    light: np.ndarray, study: Study, order: FinalOrder, time: float, finish: Finish
) -> bytes:
    """As PNG, with bloom, exposure and tone, over the backdrop."""
    nothing = np.zeros((*light.shape[:2], 3), np.float32)
    none = np.zeros((*light.shape[:2], 0, 4), np.float32)
    traced = Traced(light[..., :3], light[..., 3], nothing, nothing, none)
    behind = plan_scene(study, order.final).at(np.array([time])).backdrop
    picture = Picture(traced, finish, behind, study.images)
    return png_of_picture(picture.shown(order.transparent))
