"""What is left of earlier pictures in later ones, of frames that are all there.

As the stage does it: on light, before bloom and tone. A whole loop begins with what its end leaves;
a part of one begins without.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import Cancelled
from zygomorph.core.evaluation.scene import plan_scene
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.formats.stills import png_of_picture
from zygomorph.core.shared.drawn_scene import Finish
from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.queue.orders import FinalOrder
from zygomorph.render.final.picture import Picture
from zygomorph.render.final.traced import Traced

# Less than this of a picture is not seen any more: half a step of 255.
UNSEEN = 0.5 / 255

Report = Callable[[float, str], None]


def has_trails(study: Study, order: FinalOrder) -> bool:
    """Whether something of earlier pictures is left at any of its moments."""
    if order.kind in ("still", "sheet", "seam"):
        # Their pictures do not follow one another.
        return False
    scene = plan_scene(study, order.final)
    times = np.array(order.times(study.loop)) if scene.moves else np.zeros(1)
    return any(scene.at(times[k : k + 1]).finish.trails > 0 for k in range(len(times)))


def with_trails(order: FinalOrder, study: Study) -> FinalOrder:
    """The order, which keeps light where trails are drawn of it."""
    order.check()
    return replace(order, trailed=has_trails(study, order))


def length_of(share: float, most: int) -> int:
    """Of how many pictures something is left of which a share is left after each."""
    if share <= 0:
        return 0
    return min(most, int(np.ceil(np.log(UNSEEN) / np.log(min(share, 0.999)))))


def draw_trails(
    study: Study,
    order: FinalOrder,
    files: Sequence[Path],
    pictures: Sequence[Path],
    report: Report,
    stopped: Callable[[], bool],
) -> None:
    """Draw the pictures anew with what is left of those before them.

    files : their light, as EXR; pictures : PNGs, each of which is written as a whole. Made of the
        light alone, so that it may be done again.

    Raises Cancelled, OSError, ZygomorphError.
    """
    times = order.times(study.loop)
    scene = plan_scene(study, order.final)
    finishes = [scene.at(np.array([at])).finish for at in times]
    numbers = list(range(len(times)))
    whole = order.first == 0 and order.last == study.loop.frames - 1
    longest = max(length_of(each.trails ** _apart(times), len(numbers)) for each in finishes)
    begin = numbers[len(numbers) - longest :] if whole and longest else []
    kept: np.ndarray | None = None
    for done, number in enumerate([*begin, *numbers]):
        if stopped():
            raise Cancelled
        report(done / (len(begin) + len(numbers)), "drawing trails")
        finish = finishes[number]
        light = read_exr(files[number])[""].astype(np.float32)
        kept = light if kept is None else left_of(kept, light, finish, _apart(times))
        if done >= len(begin):
            shown = _shown(kept, study, order, times[number], finish)
            write_whole(pictures[number], shown)


def _apart(times: Sequence[float]) -> float:
    """Frames from one picture to the next."""
    return float(times[1] - times[0]) if len(times) > 1 else 1.0


def left_of(before: np.ndarray, now: np.ndarray, finish: Finish, frames: float) -> np.ndarray:
    """(rows, columns, 4) light and cover of a picture with what is left of the one before."""
    share = np.float32(finish.trails**frames)
    if finish.trails_as == "mixed":
        return now + (before - now) * share
    return np.maximum(now, before * share)


def _shown(
    light: np.ndarray, study: Study, order: FinalOrder, time: float, finish: Finish
) -> bytes:
    nothing = np.zeros((*light.shape[:2], 3), np.float32)
    none = np.zeros((*light.shape[:2], 0, 4), np.float32)
    traced = Traced(light[..., :3], light[..., 3], nothing, nothing, none)
    behind = plan_scene(study, order.final).at(np.array([time])).backdrop
    picture = Picture(traced, finish, behind, study.images)
    return png_of_picture(picture.shown(order.transparent))
