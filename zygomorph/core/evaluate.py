"""Recipe and frame to mesh: what is static is computed once, what moves once a frame.

Every step is a pure function, so its result is known by a key: the step, its version, its values
at this time, the key of its input, its mask, and the part of the context that it reads. The head
of a recipe in which nothing moves has the same key at every frame and is found again; the first
step that moves, and all after it, have new keys. A change of one value changes the keys of that
step and of those after it, and of nothing else.
"""

from __future__ import annotations

import hashlib
import time as clock
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from zygomorph.core.box import box_of
from zygomorph.core.cache import BoundedCache
from zygomorph.core.catalogue import Definition, definitions, recipe_definitions
from zygomorph.core.compiled import GATE
from zygomorph.core.context import Context, no_assets
from zygomorph.core.errors import Cancelled, StepError, ZygomorphError
from zygomorph.core.loop import Loop
from zygomorph.core.masks.layers import COMMON_VALUES, ONE, ResolvedLayer, weights
from zygomorph.core.masks.stored import PREFIX
from zygomorph.core.mesh import Mesh
from zygomorph.core.place import place_matrix, place_moves
from zygomorph.core.resolve import Resolved, is_moving, resolve
from zygomorph.core.study import Study


@dataclass(frozen=True)
class Kept:
    """A mesh in the cache with the weights its last step had."""

    mesh: Mesh
    weights: np.ndarray
    low: np.ndarray
    high: np.ndarray


@dataclass
class StepReport:
    """What a step cost and did: milliseconds, counts after it, whether it was in the cache."""

    step_id: str
    milliseconds: float
    points: int
    faces: int
    reused: bool


@dataclass
class Result:
    """A piece at a frame.

    weights : the mask of the step that was asked for, (P,) or (1,) float32, or None
    low, high : the box of the points, (3,) metres
    """

    mesh: Mesh
    place: np.ndarray
    key: str
    low: np.ndarray
    high: np.ndarray
    steps: list[StepReport] = field(default_factory=list)
    weights: np.ndarray | None = None


@dataclass
class Request:
    """What to evaluate, and how.

    mask_of : id of a step whose mask is wanted
    until : id of the last step to apply, or None for all
    keep_tail : keep what moving steps made, for when the same frame will be asked for again
    cancelled : asked between steps; where it says yes, Cancelled is raised
    shared : take one core, because many frames are wanted; otherwise all cores work on this one
    """

    piece: str
    frame: float = 0.0
    final: bool = False
    mask_of: str | None = None
    until: str | None = None
    keep_tail: bool = False
    shared: bool = False
    cancelled: Callable[[], bool] = lambda: False


def _place_moves_step(definition: Definition, step: Mapping[str, Any], place_moves_: bool) -> bool:
    if not place_moves_:
        return False
    if "place" in definition.reads and step.get("values", {}).get("sampled") == "space":
        return True
    return any(
        layer.get("values", {}).get(name) == "space"
        for layer in step.get("where", {}).get("layers", [])
        for name in ("sampled", "measured")
    )


def step_moves(step: Mapping[str, Any], place: Mapping[str, Any]) -> bool:
    """Whether a step's result differs from frame to frame for the same input."""
    if not step.get("on", True):
        return False
    if is_moving(step.get("values", {})) or is_moving(step.get("where", {}).get("layers", [])):
        return True
    definition = recipe_definitions()[step["step"]]
    return _place_moves_step(definition, step, place_moves(place))


def mesh_moves(piece: Mapping[str, Any]) -> bool:
    """Whether the piece's mesh differs from frame to frame (its place may move all the same)."""
    return any(step_moves(step, piece.get("place", {})) for step in piece["recipe"])


class Evaluator:
    """Evaluates studies with one cache; may be used from several threads."""

    def __init__(
        self,
        asset: Callable[[str], Mesh] = no_assets,
        cache_bytes: int = 512_000_000,
    ) -> None:
        self.cache: BoundedCache[Kept] = BoundedCache(cache_bytes)
        self._asset = asset

    def evaluate(self, study: Study, request: Request) -> Result:
        """The mesh of a piece at a frame.

        Raises StepError where a step cannot do its work, ZygomorphError where the piece is not
        there, Cancelled where nobody waits any more.
        """
        piece = study.piece(request.piece)
        loop = study.loop
        place = place_matrix(piece.get("place", {}), request.frame, loop)
        context = Context(loop=loop, place=place, asset=self._asset)
        run = _Run(self.cache, piece, loop, context, request)
        with GATE.narrow() if request.shared else GATE.wide():
            for index, step in enumerate(piece["recipe"]):
                if request.cancelled():
                    raise Cancelled
                run.take(index, step)
                if step["id"] == request.until:
                    break
        return run.result()


class _Run:
    """One evaluation, step after step."""

    def __init__(
        self,
        cache: BoundedCache[Kept],
        piece: Mapping[str, Any],
        loop: Loop,
        context: Context,
        request: Request,
    ) -> None:
        self.cache = cache
        self.piece = piece
        self.loop = loop
        self.context = context
        self.request = request
        self.times = np.array([request.frame], np.float64)
        self.key = ""
        self.kept: Kept | None = None
        self.reports: list[StepReport] = []
        self.weights: np.ndarray | None = None
        self.moving = False
        self.found = request.mask_of is None

    def take(self, index: int, step: Mapping[str, Any]) -> None:
        started = clock.perf_counter()
        if not step.get("on", True) and index > 0:
            self._report(step, started, reused=True)
            return
        definition = recipe_definitions()[step["step"]]
        specs = definition.values
        values = resolve(specs, step.get("values", {}), self.times, self.loop, self.request.final)
        layers = self._layers(step)
        self.key = self._next_key(definition, step, values, layers)
        moves = step_moves(step, self.piece.get("place", {}))
        self.moving = self.moving or moves
        kept = self.cache.get(self.key)
        reused = kept is not None
        if kept is None:
            kept = self._apply(definition, step, values, layers)
            if not self.moving or self.request.keep_tail:
                self.cache.put(self.key, kept, kept.mesh.size_in_bytes)
        self.kept = kept
        if step["id"] == self.request.mask_of:
            self.weights = kept.weights
            self.found = True
        self._report(step, started, reused)

    def _layers(self, step: Mapping[str, Any]) -> list[ResolvedLayer]:
        made = []
        for layer in step.get("where", {}).get("layers", []):
            if not layer.get("on", True):
                continue
            specs = definitions("layer")[layer["layer"]].values
            own = resolve(specs, layer.get("values", {}), self.times, self.loop, self.request.final)
            common = resolve(COMMON_VALUES, layer, self.times, self.loop, self.request.final)
            made.append(ResolvedLayer(layer["layer"], own, common))
        return made

    def _next_key(
        self,
        definition: Definition,
        step: Mapping[str, Any],
        values: Resolved,
        layers: list[ResolvedLayer],
    ) -> str:
        digest = hashlib.blake2b(self.key.encode(), digest_size=16)
        digest.update(f"{definition.key}.{definition.version}".encode())
        digest.update(values.fingerprint())
        in_space = values.words.get("sampled") == "space"
        for layer in layers:
            own = definitions("layer")[layer.key]
            digest.update(f"|{layer.key}.{own.version}".encode())
            digest.update(layer.own.fingerprint() + b"~" + layer.common.fingerprint())
            words = layer.own.words
            in_space = in_space or "space" in (words.get("sampled"), words.get("measured"))
        if in_space:
            digest.update(self.context.place.tobytes())
        digest.update(step.get("where", {}).get("store", "").encode())
        return digest.hexdigest()

    def _apply(
        self,
        definition: Definition,
        step: Mapping[str, Any],
        values: Resolved,
        layers: list[ResolvedLayer],
    ) -> Kept:
        before = self.kept.mesh if self.kept else None
        weight = ONE
        try:
            with np.errstate(all="ignore"):
                if before is None:
                    mesh = definition.apply(values, self.context)
                else:
                    weight = weights(before, layers, self.context)
                    mesh = definition.apply(before, values, weight, self.context)
        except StepError:
            raise
        except ZygomorphError as error:
            raise StepError(step["id"], error.message, error.hint) from error
        except MemoryError as error:
            raise StepError(
                step["id"],
                "There is not enough memory for this step.",
                "Choose a lower resolution.",
            ) from error
        low, high, finite = box_of(mesh.points)
        if not finite:
            raise StepError(
                step["id"],
                f"{definition.title} gave points that are not finite numbers.",
                "Bring its values nearer to their defaults.",
            )
        store = step.get("where", {}).get("store", "")
        if store and before is not None and len(mesh.points) == len(before.points):
            full = np.broadcast_to(weight, len(mesh.points)).astype(np.float32)
            mesh = mesh.with_attribute("point", PREFIX + store, full)
        return Kept(mesh, weight, low, high)

    def _report(self, step: Mapping[str, Any], started: float, reused: bool) -> None:
        mesh = self.kept.mesh if self.kept else None
        self.reports.append(
            StepReport(
                step["id"],
                (clock.perf_counter() - started) * 1000,
                len(mesh.points) if mesh else 0,
                mesh.topology.face_count if mesh else 0,
                reused,
            )
        )

    def result(self) -> Result:
        assert self.kept is not None  # a checked recipe begins with a form
        if not self.found:
            raise ZygomorphError(f"The piece has no step {self.request.mask_of!r}.")
        kept = self.kept
        return Result(
            kept.mesh, self.context.place, self.key, kept.low, kept.high, self.reports, self.weights
        )
