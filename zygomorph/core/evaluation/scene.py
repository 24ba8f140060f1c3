"""Lights, camera and backdrop of a study at a frame."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np

from zygomorph.core.animation.resolve import Prepared, Resolved, prepare
from zygomorph.core.document.parents import chosen_camera, named
from zygomorph.core.document.parts import Part, PartKind, roots
from zygomorph.core.document.study import Study
from zygomorph.core.geometry.view import View
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    Backdrop,
    DomeLamp,
    Finish,
    Ground,
    Lamp,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)
from zygomorph.core.transforms.camera import PlannedCamera, anchors_of, path_of
from zygomorph.core.transforms.motion import MovingParent
from zygomorph.core.transforms.world_transform import moving_parent, parents_of, planned_camera

T = TypeVar("T", SunLamp, SkyLamp, DomeLamp, PointLamp, SpotLamp, AreaLamp)


@dataclass(frozen=True)
class PlannedEntry:
    """A light, the backdrop, the ground or the finish.

    parent : what carries it, or None
    """

    part: Part
    values: Prepared
    parent: MovingParent | None

    @property
    def moves(self) -> bool:
        """Whether it differs from frame to frame."""
        return self.values.moves or (self.parent is not None and self.parent.moves)

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
    backdrop: Backdrop
    ground: Ground
    finish: Finish


@dataclass(frozen=True)
class PlannedScene:
    """lights : those that are switched on; camera : the study's"""

    lights: tuple[PlannedEntry, ...]
    camera: PlannedCamera
    backdrop: PlannedEntry
    ground: PlannedEntry
    finish: PlannedEntry

    @property
    def moves(self) -> bool:
        around = (*self.lights, self.backdrop, self.ground, self.finish)
        return self.camera.moves or any(each.moves for each in around)

    def at(self, times: np.ndarray) -> Scene:
        """The scene at a moment, (1,) frames."""
        lamps = {
            light.part.id: tuple(light.on_stage(lamp, times) for lamp in light.at(times))
            for light in self.lights
        }
        return Scene(
            lamps,
            self.camera.at(times),
            self.backdrop.at(times),
            _ground(self.ground.values.at(times)),
            _finish(self.finish.values.at(times)),
        )


def _ground(values: Resolved) -> Ground:
    found = values.discrete("height") == "found"
    return Ground(
        values.discrete("ground"),
        None if found else values.scalar("level"),
        values.scalar("shadow") / 100,
        values.discrete("colour"),
        values.scalar("roughness") / 100,
        values.scalar("mirror") / 100,
    )


def _finish(values: Resolved) -> Finish:
    def share(name: str) -> float:
        return values.scalar(name) / 100

    return Finish(
        2.0 ** values.scalar("exposure"),
        share("contrast"),
        share("bloom"),
        share("bloom_from"),
        share("bloom_size"),
        share("occlusion"),
        values.scalar("occlusion_radius"),
        share("vignette"),
        share("trails"),
        values.discrete("trails_as"),
    )


def camera_of(document: Mapping[str, Any]) -> Part:
    """The study's camera."""
    chosen = chosen_camera(document)
    return next(each for each in roots(document, "camera") if each.id == chosen)


def _planned(study: Study, part: Part, final: bool) -> PlannedEntry:
    section = part.sections[0]
    values = prepare(section.specs, section.given, study.loop, final, study.signals)
    return PlannedEntry(part, values, moving_parent(study, part.given, final))


def plan_camera(study: Study, final: bool = False) -> PlannedCamera:
    """The study's camera, planned once; all that meshes depend on of a scene."""
    found = planned_camera(study, camera_of(study.document).id, final)
    assert found is not None  # it is one of the document's
    return found


def view_at(study: Study, times: np.ndarray, final: bool = False) -> View:
    """From the study's camera at a moment, (1,) frames."""
    return plan_camera(study, final).at(times)


def plan_scene(study: Study, final: bool = False) -> PlannedScene:
    """The scene of a study, planned once."""

    def all_of(kind: PartKind) -> tuple[PlannedEntry, ...]:
        found = (part for part in roots(study.document, kind) if part.visible)
        return tuple(_planned(study, part, final) for part in found)

    def make() -> PlannedScene:
        camera = plan_camera(study, final)
        singles = (all_of(kind)[0] for kind in ("backdrop", "ground", "finish"))
        return PlannedScene(all_of("light"), camera, *singles)

    return study.once(("scene", final), make)


def camera_key(study: Study) -> list[Any]:
    """Parts of the document that the study's camera depends on, but for the piece that it follows;
    see :func:`camera_path`."""
    camera = camera_of(study.document)
    parents = parents_of(study, [camera])
    anchors = parents_of(study, [_carried(address) for address in anchors_of(camera)])
    words = ("name", "id")
    own = {k: v for k, v in camera.given.items() if k not in words}
    return [own, *([each[name] for name in sorted(each)] for each in (parents, anchors))]


def camera_path(study: Study) -> str:
    """Id of the piece that the study's camera follows, or ""."""
    return path_of(camera_of(study.document))


def _carried(address: str) -> Part:
    """A part that what stands at an address would carry."""
    by, name = named(address)
    given = {"carried": {"by": by, "id": name}}
    return Part("marker", "", "", given, ())
