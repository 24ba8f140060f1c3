"""How far the end of the loop is from its beginning, in position and in velocity.

Position compares frame F, computed like any other frame, with frame 0. Velocity compares
second-order one-sided differences at both ends, relative to the piece's highest speed over the
loop. What curves fast has another speed a quarter of a frame on, though it does not jump: the
difference is taken over shorter and shorter steps, for as long as float32 tells more than its own
rounding, and a jump is what is left of it at all of them. What jumps elsewhere in the loop as well,
as folded noise does at its creases, has a seam like any other moment: it is open only where the
seam stands out against other moments of the loop. Where nothing but signals moves a piece, and all
of them run through the seam at one speed, it has no reason to; where one of them does not, what
jumps is put down to it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
import scipy

from zygomorph.core.animation.loop_closure import ends_of, moving_numbers
from zygomorph.core.document.parts import roots
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece, used_pieces
from zygomorph.core.geometry.affine import inverse, transformed
from zygomorph.core.geometry.elements import face_centres
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.surface_search import search_of
from zygomorph.core.transforms.motion import WorldTransform
from zygomorph.core.transforms.world_transform import world_transform

# Below this share of the size a frame nothing is seen to move, and rounding would be compared
# with rounding.
SLOWEST = 1e-4
CLOSED_POSITION = 1e-6
CLOSED_VELOCITY = 2e-2
NEARLY_POSITION = 1e-3
NEARLY_VELOCITY = 1e-1
# Points of copies that are written out to be compared by the nearest surface.
MOST_COMPARED = 300_000
# Frames between the moments of a difference, from the longest on; each is a quarter of the last.
STEPS = (0.25, 0.0625, 0.015625, 0.00390625)
# Coordinates of float32 differ by this share of the size, and more than this many of it are told.
ROUNDING = 2.0**-23
SPEED_SAMPLES = 24
# Where in the loop else it is looked whether speeds jump: shares that no whole beat falls on.
ELSEWHERE = tuple((0.0831 + 0.6180339887 * k) % 1.0 for k in range(8))
# How much more the speed must jump at the seam than it does at those moments, of all points and of
# these shares of them.
STANDS_OUT = 1.3
SHARES = (0.5, 0.9, 0.99, 1.0)
# A jump that is told apart from none at all.
HARDLY = CLOSED_VELOCITY / 5


@dataclass(frozen=True)
class Seam:
    """The seam of one piece.

    position_m : largest distance between a point at frame F and at frame 0, metres; where the faces
        differ, between the surfaces; None where there is nothing at one end
    position_relative : the same as a share of the piece's size
    velocity_relative : largest difference of velocity, as a share of the highest speed; None
        where counts change across the seam, so that it is undefined
    velocity_elsewhere : the same at other moments of the loop, the largest of them; None where
        nobody needed to look
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
    velocity_elsewhere: float | None = None

    def describe(self) -> dict[str, Any]:
        return asdict(self)


def one_sided(first: np.ndarray, second: np.ndarray, third: np.ndarray, step: float) -> np.ndarray:
    """Derivative at ``first`` from values at 0, step and 2·step, with an error of order step²."""
    return (-3.0 * first + 4.0 * second - third) / (2.0 * step)


def state_of(position: float | None, jump: float | None) -> str:
    """jump : how much the speed jumps, as far as that stands out against the rest of the loop"""
    if position is None:
        return "open"
    jump = jump or 0.0
    if position <= CLOSED_POSITION and jump <= CLOSED_VELOCITY:
        return "closed"
    if position <= NEARLY_POSITION and jump <= NEARLY_VELOCITY:
        return "nearly"
    return "open"


def _on_stage(result: Result) -> np.ndarray:
    return transformed(result.geometry.probes(), result.place).astype(np.float64)


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

    camera = _camera_of(study, piece_id)

    def at(frame: float) -> Result:
        found = evaluator.evaluate(study, Request(piece_id, frame, final=final, shared=True))
        if camera is None:
            return found
        # What a camera carries is where the camera sees it.
        back = inverse(camera.unscaled_at(np.array([frame])))
        return replace(found, place=back @ found.place)

    start, end = at(0), at(frames)
    if start.geometry.shape != end.geometry.shape:
        return _of_other_faces(piece_id, start, end)
    if start.geometry.point_count == 0:
        return Seam(piece_id, 0.0, 0.0, 0.0, None, "closed", "there are no points")
    first, last = _on_stage(start), _on_stage(end)
    size = max(float(np.linalg.norm(np.ptp(first, axis=0))), 1e-9)
    apart = np.linalg.norm(last - first, axis=1)
    position = float(apart.max())
    worst = int(apart.argmax())

    def without_speed(note: str) -> Seam:
        note = "; ".join(filter(None, [note, _settling(study, piece_id, evaluator, final)]))
        share = position / size
        state, place = state_of(share, None), _place_of(first, worst)
        return Seam(piece_id, position, share, None, worst, state, note, place)

    if plan.jumps:
        return without_speed("it moves in jumps, so that speeds are not compared")
    motion = _Motion(at, size, frames, start.geometry.shape)
    try:
        jump = motion.jump(0.0, float(frames), CLOSED_VELOCITY)
    except _CountsChange:
        return without_speed("velocity is undefined: counts change at the seam")
    velocity = float(jump.max())
    share = position / size
    elsewhere, standing_out, note = None, velocity, ""
    if velocity > CLOSED_VELOCITY and share <= NEARLY_POSITION and _signals_flow(study, piece_id):
        if not _moves_without_signals(study, piece_id, final):
            standing_out = 0.0
            note = "all its signals run on through the seam; its speed jumps at creases"
        else:
            there = motion.elsewhere()
            elsewhere = float(there[-1])
            if not _stands_out(np.quantile(jump, SHARES), there):
                standing_out = 0.0
                note = "its speed jumps there no more than elsewhere in the loop"
    note = "; ".join(filter(None, [note, _settling(study, piece_id, evaluator, final)]))
    state = state_of(share, standing_out)
    worst = int((apart if share > CLOSED_POSITION else jump).argmax())
    return Seam(
        piece_id,
        position,
        share,
        velocity,
        worst,
        state,
        note,
        _place_of(first, worst),
        elsewhere,
    )


def _settling(study: Study, piece_id: str, evaluator: Evaluator, final: bool) -> str:
    """How far the systems of a piece have settled, in words, or ""."""
    found = evaluator.settled(study, piece_id, final)
    return "; ".join(f"{step.definition.title}: {each.words()}" for step, each in found)


def _camera_of(study: Study, piece_id: str) -> WorldTransform | None:
    """The camera that carries a piece, directly or through others; None where none does."""
    known: dict[tuple[str, str], Mapping[str, Any]] = {
        (root.kind, root.id): root.given for root in roots(study.document)
    }
    by, name = "piece", piece_id
    for _ in known:
        carried = known.get((by, name), {}).get("carried")
        if not carried:
            return None
        by, name = carried["by"], carried["id"]
        if by == "camera":
            return world_transform(study, "camera", name)
    return None


def _of_other_faces(piece_id: str, start: Result, end: Result) -> Seam:
    """The seam where the faces at the end are not those of the beginning: how far the surfaces are
    apart, both ways."""
    counts = (
        f"{start.geometry.point_count:,} points at frame 0, {end.geometry.point_count:,} at the end"
    )
    if 0 in (start.geometry.point_count, end.geometry.point_count):
        note = f"it is empty at one end: {counts}"
        return Seam(piece_id, None, None, None, None, "open", note)
    first, last = (
        found.geometry.some(MOST_COMPARED).real.moved(
            transformed(found.geometry.some(MOST_COMPARED).real.points, found.place)
        )
        for found in (start, end)
    )
    size = max(float(np.linalg.norm(np.ptp(first.points, axis=0))), 1e-9)
    there, back = surface_distance(first, last), surface_distance(last, first)
    position = max(float(there.max()), float(back.max()))
    share = position / size
    if there.max() >= back.max():
        number, on = int(there[: len(first.points)].argmax()), first
    else:
        number, on = int(back[: len(last.points)].argmax()), last
    note = f"other faces at the end, compared by the nearest surface: {counts}"
    place = _place_of(on.points, number)
    state = state_of(share, None)
    return Seam(piece_id, position, share, None, None, state, note, place)


def surface_distance(mesh: Mesh, other: Mesh) -> np.ndarray:
    """(n,) metres from points of a mesh, and after these the middles of its faces, to the nearest
    place of another; of one without faces, to its nearest point."""
    places = np.concatenate([mesh.points, face_centres(mesh)]).astype(np.float64)
    triangles = other.topology.triangles(other.points)
    if len(triangles):
        return search_of(other.points, triangles).nearest(places)[1]
    found: np.ndarray = scipy.spatial.cKDTree(other.points).query(places)[0]
    return found


def _concerned(study: Study, piece_id: str) -> list[str]:
    return [piece_id, *used_pieces(study, piece_id)]


def _signals_flow(study: Study, piece_id: str) -> bool:
    """Whether all signals that may move a piece run through the seam, at one speed."""
    pieces = {"", *_concerned(study, piece_id)}
    # What carries a piece may be any other.
    if any(study.piece(p).get("carried") for p in pieces - {""}):
        pieces |= {piece["id"] for piece in study.pieces}
    moving = [m for m in moving_numbers(study) if m.piece in pieces]
    ends = [(ends_of(m.signal, study.loop, study.signals), m.spec.period) for m in moving]
    return all(each.meets(period) and each.flows() for each, period in ends)


def _moves_without_signals(study: Study, piece_id: str, final: bool) -> bool:
    """Whether something moves a piece besides its signals: time itself, chance, what remembers."""
    plans = (plan_piece(study, each, final) for each in _concerned(study, piece_id))
    return any(
        step.on and (step.dependencies.time or step.has_a_past)
        for plan in plans
        for step in plan.steps
    )


def _stands_out(here: np.ndarray, there: np.ndarray) -> bool:
    """Whether jumps at the seam are larger than those at other moments, by SHARES of the points."""
    return bool(np.any(here > STANDS_OUT * there + HARDLY))


class _CountsChange(Exception):
    """Points are not the same ones before and after a moment."""


class _Motion:
    """The speeds of a piece's points at moments of its loop.

    at : gives the piece at a frame; size : of the piece, metres
    """

    def __init__(self, at: Callable[[float], Result], size: float, frames: int, shape: str) -> None:
        self._at = at
        self._size = size
        self._frames = frames
        self._shape = shape
        self._peak: float | None = None

    def _points(self, frame: float) -> np.ndarray:
        result = self._at(frame)
        if result.geometry.shape != self._shape:
            raise _CountsChange
        return _on_stage(result)

    def _scale(self, *speeds: np.ndarray) -> float:
        """The highest speed over the loop, metres a frame."""
        if self._peak is None:
            self._peak = _peak_speed(self._at, self._frames)
        own = max(float(np.linalg.norm(speed, axis=1).max()) for speed in speeds)
        return max(self._peak, own, SLOWEST * self._size)

    def _difference(self, begin: float, end: float, step: float) -> tuple[np.ndarray, float]:
        """How much faster points leave one moment than they come to another, (P,) metres a frame,
        and the highest speed."""
        first, last = self._points(begin), self._points(end)
        begins = one_sided(first, self._points(begin + step), self._points(begin + 2 * step), step)
        ends = -one_sided(last, self._points(end - step), self._points(end - 2 * step), step)
        return np.linalg.norm(ends - begins, axis=1), self._scale(begins, ends)

    def jump(self, begin: float, end: float, enough: float) -> np.ndarray:
        """The jump of speed from coming to ``end`` to leaving ``begin``, (P,), as a share of the
        highest speed; the steps need not become shorter once it is at most ``enough``."""
        least: np.ndarray | None = None
        for step in STEPS:
            found, peak = self._difference(begin, end, step)
            # Four of three numbers, each rounded, over two steps.
            told = 8 * ROUNDING * self._size / step
            if least is not None and told > enough / 2 * peak:
                break
            share = found / peak
            least = share if least is None else np.minimum(least, share)
            if least.max() <= enough:
                break
        assert least is not None
        return least

    def elsewhere(self) -> np.ndarray:
        """The largest jumps at other moments of the loop, by SHARES of the points."""
        found = np.zeros(len(SHARES))
        for share in ELSEWHERE:
            moment = share * self._frames
            try:
                jump = self.jump(moment, moment, CLOSED_VELOCITY)
            except _CountsChange:
                continue
            found = np.maximum(found, np.quantile(jump, SHARES))
        return found


def _place_of(points: np.ndarray, number: int) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in points[number])
    return x, y, z


def _peak_speed(at: Any, frames: int) -> float:
    """Highest speed of any point, metres a frame, from samples over the loop."""
    peak = 0.0
    for frame in np.linspace(0, frames, SPEED_SAMPLES, endpoint=False):
        here, after = at(float(frame)), at(float(frame) + STEPS[0])
        if here.geometry.shape == after.geometry.shape:
            moved = np.linalg.norm(_on_stage(after) - _on_stage(here), axis=1)
            peak = max(peak, float(moved.max()) / STEPS[0])
    return peak


def seam_of_study(study: Study, evaluator: Evaluator, final: bool = False) -> list[Seam]:
    """The seam of every visible piece."""
    return [
        seam(study, piece["id"], evaluator, final)
        for piece in study.pieces
        if piece.get("visible", True)
    ]
