"""Where a camera is at a moment, with all that moves it: what carries it, its path, its aim, its
shake and its kicks."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextvars import ContextVar
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from zygomorph.core.animation.resolve import Prepared, Resolved
from zygomorph.core.document.parts import Part
from zygomorph.core.document.study import Study
from zygomorph.core.geometry.affine import unit
from zygomorph.core.geometry.view import View, upright
from zygomorph.core.transforms.motion import MovingParent, WorldTransform
from zygomorph.core.transforms.shaking import shaken

# A part of a path by which "ahead" is told.
AHEAD = 1e-3
# Cameras whose path is being asked for: a path that looks for its camera does not find it.
_asked: ContextVar[frozenset[str]] = ContextVar(
    "cameras that ask for their path", default=frozenset()
)


@dataclass(frozen=True)
class PlannedCamera:
    """A camera of a study, planned once.

    parent : what carries it, or None
    stands : from the address of a piece or marker to where that is, None where it is gone
    """

    study: Study
    part: Part
    values: Prepared
    parent: MovingParent | None
    stands: Callable[[str], WorldTransform | None]
    final: bool

    @property
    def moves(self) -> bool:
        """Whether it differs from frame to frame."""
        if self.values.moves or (self.parent is not None and self.parent.moves):
            return True
        still = self.values.still
        if _number(still, "shake") > 0 or _choice(still, "stands") == "path":
            return True
        return any(self._anchor_moves(name) for name in self.anchors())

    def _anchor_moves(self, address: str) -> bool:
        world = self.stands(address)
        return world is not None and world.moves

    def _place_of(self, address: str, times: np.ndarray) -> np.ndarray | None:
        """(3,) where a piece or marker stands; None where it is gone."""
        world = self.stands(address) if address else None
        return None if world is None else world.at(times)[:3, 3]

    def anchors(self) -> Iterator[str]:
        """Addresses of the pieces and markers that it looks at or has in focus."""
        yield from anchors_of(self.part)

    def at(self, times: np.ndarray) -> View:
        """What it sees at a moment, (1,) frames."""
        values = self.values.at(times)
        assert self.part.definition is not None  # it is an entry of the library
        view: View = self.part.definition.apply(values)
        if self.parent is not None:
            view = view.moved(self.parent.motion(times)[0])
        view = self._placed(view, values, times)
        view = replace(view, up=self._upright(view, times))
        focus = self._focus(view, values, times)
        view = replace(view, focus=max(focus, 1e-4))
        if _number(values, "shake") > 0:
            view = shaken(view, values, float(times[0]), self.study.loop)
        if "shift" in values.numbers:
            view = view.shifted(*values.vector("shift"))
        pitch, yaw, roll = values.vector("turn") if "turn" in values.numbers else np.zeros(3)
        return view.turned(pitch, yaw, roll + _number(values, "roll"))

    def _upright(self, view: View, times: np.ndarray) -> np.ndarray:
        found = upright(view.position, view.target)
        if self.parent is None or _choice(self.values.still, "stands") == "path":
            return found
        # What carries it turns it too, so that it leans with it.
        motion = self.parent.motion(times)[0]
        up = motion[:3, :3] @ np.array([0.0, 1.0, 0.0])
        way = view.target - view.position
        across = np.cross(way, up)
        if np.linalg.norm(across) < 1e-9:
            return found
        leaning: np.ndarray = np.cross(across, way)
        return leaning / np.linalg.norm(leaning)

    def _placed(self, view: View, values: Resolved, times: np.ndarray) -> View:
        """The view from its path, and to what it is aimed at."""
        path = self._path(values, times)
        if path is not None:
            position, way = path
            view = replace(view, position=position)
        aims = _choice(values, "aims")
        if aims == "ahead":
            ahead = self._way(times) if path is None else way
            if ahead is not None:
                view = replace(view, target=view.position + ahead)
        elif aims == "anchor":
            at = self._place_of(values.discrete("aim"), times)
            view = view if at is None else replace(view, target=at)
        return view

    def _way(self, times: np.ndarray) -> np.ndarray | None:
        """(3,) which way it goes where it is not on a path, 1 m long; None where it stands."""
        step = 0.25

        def place(at: np.ndarray) -> np.ndarray:
            values = self.values.at(at)
            assert self.part.definition is not None  # it is an entry of the library
            view: View = self.part.definition.apply(values)
            moved = view if self.parent is None else view.moved(self.parent.motion(at)[0])
            return moved.position

        way = place(times + step) - place(times - step)
        size = float(np.linalg.norm(way))
        return way / size if size > 1e-9 else None

    def _path(self, values: Resolved, times: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
        """(3,) where it is on its path, and the (3,) way ahead, 1 m long; None without a path."""
        piece = _choice(values, "path")
        if _choice(values, "stands") != "path" or not piece or self.part.id in _asked.get():
            return None
        token = _asked.set(_asked.get() | {self.part.id})
        try:
            found = self.study.curves(self.study, piece, float(times[0]), self.final)
        finally:
            _asked.reset(token)
        if found is None:
            return None
        points, closed = found
        turn = float(times[0]) / self.study.loop.frames
        share = values.scalar("along") + values.scalar("rounds") * turn
        here = along_path(points, closed, share)
        ahead = along_path(points, closed, share + AHEAD) - along_path(
            points, closed, share - AHEAD
        )
        if values.scalar("rounds") < 0:
            ahead = -ahead
        size = float(np.linalg.norm(ahead))
        return here, ahead / size if size > 0 else np.array([0.0, 0.0, -1.0])

    def _focus(self, view: View, values: Resolved, times: np.ndarray) -> float:
        """Distance along the axis at which it is sharp, metres."""
        by = _choice(values, "focus_by")
        to_target = float(np.linalg.norm(view.target - view.position))
        if by == "distance":
            return view.focus
        if by == "anchor":
            at = self._place_of(values.discrete("focus_anchor"), times)
            if at is not None:
                return float((at - view.position) @ unit(view.target - view.position))
        return to_target


def _choice(values: Resolved, name: str) -> str:
    """What is chosen, "" where the camera has no such choice."""
    return str(values.discrete_values.get(name, ""))


def _number(values: Resolved, name: str) -> float:
    """A number, 0 where the camera has none of that name."""
    return values.scalar(name) if name in values.numbers else 0.0


def along_path(points: np.ndarray, closed: bool, share: float) -> np.ndarray:
    """(3,) the point of a polygon at a share of its length; of an open one the ends go on straight.

    points : (n, 3)
    """
    if closed:
        points = np.concatenate([points, points[:1]])
        share -= np.floor(share)
    if len(points) == 1:
        return points[0]
    lengths = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    at = share * lengths[-1]
    k = int(np.clip(np.searchsorted(lengths, at, side="right") - 1, 0, len(points) - 2))
    span = lengths[k + 1] - lengths[k]
    within = (at - lengths[k]) / span if span > 0 else 0.0
    found: np.ndarray = points[k] + within * (points[k + 1] - points[k])
    return found


def anchors_of(camera: Part) -> Iterator[str]:
    """Addresses of the pieces and markers that a camera looks at or has in focus."""
    for section in camera.sections:
        for name, spec in section.specs.items():
            given = section.given.get(name, spec.default)
            if spec.kind == "anchor" and given and _is_read(section.given, section.specs, name):
                yield given


def _is_read(given: Mapping[str, Any], specs: Mapping[str, Any], name: str) -> bool:
    shown = specs[name].shown_when
    return shown is None or given.get(shown[0], specs[shown[0]].default) in shown[1]


def path_of(camera: Part) -> str:
    """Id of the piece that a camera follows, or ""."""
    given = camera.sections[0].given
    return str(given.get("path", "")) if given.get("stands") == "path" else ""
