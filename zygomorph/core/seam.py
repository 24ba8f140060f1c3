"""How far the end of the loop is from its beginning, in position and in velocity.

Position compares frame F, computed like any other frame, with frame 0. Velocity compares
second-order one-sided differences at both ends, ¼ frame apart, relative to the piece's highest
speed over the loop.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from zygomorph.core.evaluate import Evaluator, Request, Result
from zygomorph.core.place import transformed
from zygomorph.core.plan import plan_piece
from zygomorph.core.study import Study

STEP = 0.25
SPEED_SAMPLES = 24
# Below this share of the size a frame nothing is seen to move, and rounding would be compared
# with rounding.
SLOWEST = 1e-4
CLOSED_POSITION = 1e-6
CLOSED_VELOCITY = 2e-2
NEARLY_POSITION = 1e-3
NEARLY_VELOCITY = 1e-1


@dataclass(frozen=True)
class Seam:
    """The seam of one piece.

    position_m : largest distance between a point at frame F and at frame 0, metres; None where
        the counts differ
    position_relative : the same as a share of the piece's size
    velocity_relative : largest difference of velocity, as a share of the highest speed; None
        where counts change across the seam, so that it is undefined
    point : number of the point with the largest distance (of position, or of velocity where all
        positions agree)
    state : "closed", "nearly" or "open"
    place : where that point is on the stage at frame 0, metres
    """

    piece: str
    position_m: float | None
    position_relative: float | None
    velocity_relative: float | None
    point: int | None
    state: str
    note: str = ""
    place: tuple[float, float, float] | None = None

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def one_sided(first: np.ndarray, second: np.ndarray, third: np.ndarray, step: float) -> np.ndarray:
    """Derivative at ``first`` from values at 0, step and 2·step, with an error of order step²."""
    return (-3.0 * first + 4.0 * second - third) / (2.0 * step)


def state_of(position: float | None, velocity: float | None) -> str:
    if position is None:
        return "open"
    moving = 0.0 if velocity is None else velocity
    if position <= CLOSED_POSITION and moving <= CLOSED_VELOCITY:
        return "closed"
    if position <= NEARLY_POSITION and moving <= NEARLY_VELOCITY:
        return "nearly"
    return "open"


def _on_stage(result: Result) -> np.ndarray:
    return transformed(result.mesh.points, result.place).astype(np.float64)


def seam(study: Study, piece_id: str, evaluator: Evaluator, final: bool = False) -> Seam:
    """Measure the seam of a piece. Raises what evaluating raises."""
    plan = plan_piece(study, piece_id, final)
    if study.loop.one_way:
        return Seam(
            piece_id, None, None, None, None, "one way", "it plays once, from first to last"
        )
    if not plan.moves and not plan.place_moves:
        return Seam(piece_id, 0.0, 0.0, 0.0, None, "closed", "nothing moves")
    frames = study.loop.frames

    def at(frame: float) -> Result:
        return evaluator.evaluate(study, Request(piece_id, frame, final=final, shared=True))

    start, end = at(0), at(frames)
    if start.mesh.topology.digest != end.mesh.topology.digest:
        counts = (
            f"{len(start.mesh.points):,} points at frame 0, {len(end.mesh.points):,} at the end"
        )
        return Seam(piece_id, None, None, None, None, "open", f"the counts differ: {counts}")
    if len(start.mesh.points) == 0:
        return Seam(piece_id, 0.0, 0.0, 0.0, None, "closed", "there are no points")
    first, last = _on_stage(start), _on_stage(end)
    size = max(float(np.linalg.norm(np.ptp(first, axis=0))), 1e-9)
    apart = np.linalg.norm(last - first, axis=1)
    position = float(apart.max())
    worst = int(apart.argmax())

    def without_speed(note: str) -> Seam:
        share = position / size
        state, place = state_of(share, None), _place_of(first, worst)
        return Seam(piece_id, position, share, None, worst, state, note, place)

    if plan.jumps:
        return without_speed("it moves in jumps, so that speeds are not compared")
    near = [at(f) for f in (STEP, 2 * STEP, frames - STEP, frames - 2 * STEP)]
    if any(r.mesh.topology.digest != start.mesh.topology.digest for r in near):
        return without_speed("velocity is undefined: counts change at the seam")
    a, b, c, d = (_on_stage(r) for r in near)
    begins = one_sided(first, a, b, STEP)
    ends = -one_sided(last, c, d, STEP)
    peak = max(_peak_speed(at, frames), np.linalg.norm(begins, axis=1).max())
    jump = np.linalg.norm(ends - begins, axis=1)
    velocity = float(jump.max() / max(peak, SLOWEST * size))
    position_open = position / size > CLOSED_POSITION
    worst = apart if position_open else jump
    return Seam(
        piece_id,
        position,
        position / size,
        velocity,
        int(worst.argmax()),
        state_of(position / size, velocity),
        place=_place_of(first, int(worst.argmax())),
    )


def _place_of(points: np.ndarray, number: int) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in points[number])
    return x, y, z


def _peak_speed(at: Any, frames: int) -> float:
    """Highest speed of any point, metres a frame, from samples over the loop."""
    peak = 0.0
    for frame in np.linspace(0, frames, SPEED_SAMPLES, endpoint=False):
        here, after = at(float(frame)), at(float(frame) + STEP)
        if here.mesh.topology.digest == after.mesh.topology.digest:
            moved = np.linalg.norm(_on_stage(after) - _on_stage(here), axis=1)
            peak = max(peak, float(moved.max()) / STEP)
    return peak


def seam_of_study(study: Study, evaluator: Evaluator, final: bool = False) -> list[Seam]:
    """The seam of every visible piece."""
    return [
        seam(study, piece["id"], evaluator, final)
        for piece in study.pieces
        if piece.get("visible", True)
    ]
