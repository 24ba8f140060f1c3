"""Lights, camera and backdrop of a study at a frame."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np

from zygomorph.core.animation.resolve import Prepared, prepare
from zygomorph.core.document.parts import Part, PartKind, roots
from zygomorph.core.document.study import Study
from zygomorph.core.shared.drawn_scene import Lamp, RoundGradient, SkyLamp, SunLamp, View
from zygomorph.core.transforms.world_transform import MovingParent, moving_parent, parents_of

T = TypeVar("T", SunLamp, SkyLamp, View)


@dataclass(frozen=True)
class PlannedEntry:
    """A light, a camera or the backdrop.

    parent : what carries it, or None
    """

    part: Part
    values: Prepared
    parent: MovingParent | None

    @property
    def moves(self) -> bool:
        """Whether it differs from frame to frame."""
        return bool(self.values.moving) or (self.parent is not None and self.parent.moves)

    def at(self, times: np.ndarray) -> Any:
        """What its entry makes of its values at a moment, (1,) frames, without its parent."""
        assert self.part.definition is not None  # it is an entry of the library
        return self.part.definition.apply(self.values.at(times))

    def on_stage(self, drawn: T, times: np.ndarray) -> T:
        """What the entry made, as its parent has moved it."""
        return drawn if self.parent is None else drawn.moved(self.motion(times))

    def motion(self, times: np.ndarray) -> np.ndarray:
        """(4, 4) how its parent has moved on the stage since it was attached."""
        if self.parent is None:
            return np.eye(4)
        found: np.ndarray = self.parent.motion(times)[0]
        return found


@dataclass(frozen=True)
class Scene:
    """What stands around the pieces at one moment.

    lamps : by the id of the light that they belong to
    view : from the study's camera
    """

    lamps: Mapping[str, tuple[Lamp, ...]]
    view: View
    backdrop: RoundGradient


@dataclass(frozen=True)
class PlannedScene:
    """lights : those that are switched on; camera : the study's"""

    lights: tuple[PlannedEntry, ...]
    camera: PlannedEntry
    backdrop: PlannedEntry

    @property
    def moves(self) -> bool:
        return any(each.moves for each in (*self.lights, self.camera, self.backdrop))

    def at(self, times: np.ndarray) -> Scene:
        """The scene at a moment, (1,) frames."""
        lamps = {
            light.part.id: tuple(light.on_stage(lamp, times) for lamp in light.at(times))
            for light in self.lights
        }
        return Scene(lamps, _view_of(self.camera, times), self.backdrop.at(times))


def camera_of(document: Mapping[str, Any]) -> Part:
    """The study's camera: the one that is chosen, or else the first."""
    cameras = list(roots(document, "camera"))
    chosen = document.get("camera")
    return next((each for each in cameras if each.id == chosen), cameras[0])


def _planned(study: Study, part: Part, final: bool) -> PlannedEntry:
    section = part.sections[0]
    values = prepare(section.specs, section.given, study.loop, final, study.signals)
    return PlannedEntry(part, values, moving_parent(study, part.given, final))


def plan_camera(study: Study, final: bool = False) -> PlannedEntry:
    """The study's camera, planned once; all that meshes depend on of a scene."""

    def make() -> PlannedEntry:
        return _planned(study, camera_of(study.document), final)

    return study.once(("camera", final), make)


def _view_of(camera: PlannedEntry, times: np.ndarray) -> View:
    view: View = camera.at(times)
    return camera.on_stage(view, times)


def view_at(study: Study, times: np.ndarray, final: bool = False) -> View:
    """From the study's camera at a moment, (1,) frames."""
    return _view_of(plan_camera(study, final), times)


def plan_scene(study: Study, final: bool = False) -> PlannedScene:
    """The scene of a study, planned once."""

    def all_of(kind: PartKind) -> tuple[PlannedEntry, ...]:
        found = (part for part in roots(study.document, kind) if part.visible)
        return tuple(_planned(study, part, final) for part in found)

    def make() -> PlannedScene:
        camera = plan_camera(study, final)
        return PlannedScene(all_of("light"), camera, all_of("backdrop")[0])

    return study.once(("scene", final), make)


def camera_key(study: Study) -> list[Any]:
    """Parts of the document that the study's camera depends on."""
    camera = camera_of(study.document)
    parents = parents_of(study, [camera])
    words = ("name", "id")
    own = {k: v for k, v in camera.given.items() if k not in words}
    return [own, [parents[name] for name in sorted(parents)]]
