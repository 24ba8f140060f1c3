"""Which elements are meant by a click, a box or a direction on the stage, by their size, or by
what is picked already."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request, Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.geometry.elements import Elements, elements_of
from zygomorph.core.geometry.mesh import SHARD
from zygomorph.core.geometry.runs import flags, runs_of
from zygomorph.core.inspect.pick_more import by_size, grown
from zygomorph.core.inspect.rays import Ray, hit_of

# How far beside a curve or a loose point a click may be, as a share of its distance.
NEAR = 0.02


@dataclass(frozen=True)
class Box:
    """A rectangle in the view.

    view : (4, 4) from the stage to the view's square, -1 to 1 both ways
    low, high : (2,) its corners there
    eye : (3,) where it is seen from, metres
    through : whether what faces away is meant as well
    """

    view: np.ndarray
    low: np.ndarray
    high: np.ndarray
    eye: np.ndarray
    through: bool


@dataclass(frozen=True)
class Facing:
    """All that looks along a direction on the stage, within an angle in degrees."""

    direction: np.ndarray
    angle: float


@dataclass(frozen=True)
class Grow:
    """The picked ones with their neighbours, so many times; below 0 without their rim."""

    times: int


@dataclass(frozen=True)
class Sized:
    """The largest share of all elements, or the smallest."""

    share: float
    largest: bool


@dataclass(frozen=True)
class Others:
    """All that is not picked."""


Selection = Ray | Box | Facing | Grow | Sized | Others
How = Literal["only", "add", "remove"]


def _meant_mesh(
    evaluator: Evaluator, study: Study, piece_id: str, step_id: str, frame: float, final: bool
) -> Result:
    """The piece as it is seen, where its elements are still those that the step acts on; else as
    the step finds it. Without a step, for a look, as it is seen."""
    seen = evaluator.evaluate(study, Request(piece_id, frame, final, keep_tail=True))
    if not step_id:
        return seen
    steps = plan_piece(study, piece_id, final).steps
    index = next((k for k, step in enumerate(steps) if step.id == step_id), 0)
    if index == 0:
        raise ZygomorphError(f"The piece has no step {step_id!r} with a mask.")
    before = evaluator.evaluate(
        study, Request(piece_id, frame, final, until=steps[index - 1].id, keep_tail=True)
    )
    same = before.geometry.shape == seen.geometry.shape
    return seen if same else before


def _elements(result: Result, of: str) -> Elements:
    """What is picked from. Copies are picked by their surfaces: written out, with each of them as a
    shard."""
    copies = result.geometry.copies
    if of != "copies" or copies is None:
        return elements_of(result.mesh, of)
    faces = np.array([mesh.topology.face_count for mesh in result.geometry.bases])
    if not faces[copies.base].all():
        return elements_of(copies.as_points(), of)
    number = np.repeat(np.arange(len(copies), dtype=np.int32), faces[copies.base])
    return elements_of(result.mesh.with_attribute("face", SHARD, number), "shards")


def _hit(elements: Elements, result: Result, ray: Ray) -> np.ndarray:
    """(K,) bool: the one element under a click, or none."""
    mesh = elements.mesh
    chosen = np.zeros(len(elements), bool)
    if mesh.topology.face_count:
        hit = hit_of(mesh, result.place, ray)
        if hit is None:
            return chosen
        face = int(mesh.topology.corner_face[hit.corners[0]])
        if elements.domain == "face":
            chosen[face] = True
        elif elements.domain == "shard":
            shard = mesh.get("face", SHARD)
            assert shard is not None
            chosen[shard[face]] = True
        else:
            met, _ = hit.on(mesh.points)
            away = np.linalg.norm(mesh.points[hit.points] - met, axis=1)
            chosen[hit.points[away.argmin()]] = True
        return chosen
    origin, way = ray.seen_from(result.place)
    own = mesh.points.astype(np.float64) - origin
    along = own @ way
    beside = np.linalg.norm(own - along[:, None] * way, axis=1)
    beside = np.where(along > 0, beside / np.maximum(along, 1e-9), np.inf)
    if len(beside) and beside.min() < NEAR:
        nearest = np.zeros(len(mesh.points), np.float32)
        nearest[beside.argmin()] = 1
        chosen[elements.read(nearest).argmax()] = True
    return chosen


def _inside(elements: Elements, result: Result, box: Box) -> np.ndarray:
    centres = elements.centres.astype(np.float64) @ result.place[:3, :3].T + result.place[:3, 3]
    seen = np.concatenate([centres, np.ones((len(centres), 1))], axis=1) @ box.view.T
    depth = seen[:, 3:]
    flat = seen[:, :2] / np.where(np.abs(depth) < 1e-12, 1e-12, depth)
    chosen = ((flat >= box.low) & (flat <= box.high)).all(axis=1) & (depth[:, 0] > 0)
    if box.through or elements.mesh.topology.face_count == 0:
        return chosen
    normals = _on_stage(elements.normals(), result.place)
    facing: np.ndarray = np.einsum("ij,ij->i", normals, box.eye - centres) > 0
    return chosen & facing


def _on_stage(normals: np.ndarray, place: np.ndarray) -> np.ndarray:
    turned = normals.astype(np.float64) @ np.linalg.pinv(place[:3, :3])
    return turned / np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-12)


def _towards(elements: Elements, result: Result, facing: Facing) -> np.ndarray:
    way = facing.direction / max(float(np.linalg.norm(facing.direction)), 1e-12)
    cosine = _on_stage(elements.normals(), result.place) @ way
    chosen: np.ndarray = cosine >= np.cos(np.radians(facing.angle)) - 1e-9
    return chosen


def pick(
    evaluator: Evaluator,
    study: Study,
    piece_id: str,
    step_id: str,
    of: str,
    selection: Selection,
    *,
    how: How = "add",
    picked: list[list[int]] | None = None,
    frame: float = 0.0,
    final: bool = False,
) -> tuple[list[list[int]], int]:
    """The picked elements after a selection, as runs of (first, how many), and how many they are.

    of : "points", "faces", "shards", "copies" or "curves"
    picked : those before

    Raises what evaluating raises, and ZygomorphError where the piece has no such elements.
    """
    result = _meant_mesh(evaluator, study, piece_id, step_id, frame, final)
    elements = _elements(result, of)
    if isinstance(selection, Ray):
        found = _hit(elements, result, selection)
    elif isinstance(selection, Box):
        found = _inside(elements, result, selection)
    elif isinstance(selection, Facing):
        found = _towards(elements, result, selection)
    elif isinstance(selection, Sized):
        found = by_size(elements, selection.share, selection.largest)
    before = flags(picked or [], len(elements))
    # What is picked by what is picked takes its place.
    if isinstance(selection, Grow):
        found, how = grown(elements, before, selection.times), "only"
    elif isinstance(selection, Others):
        found, how = ~before, "only"
    chosen = {"only": found, "add": before | found, "remove": before & ~found}[how]
    return runs_of(chosen), int(chosen.sum())
