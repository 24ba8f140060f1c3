"""The state of a study as the interface has it: its document, and what that is over the loop."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, fields
from typing import Any

import numpy as np

from zygomorph.api.image_addresses import radiance_address, shown_address
from zygomorph.core.animation.sound.audible import audible
from zygomorph.core.document.addresses import linked_values
from zygomorph.core.document.parents import sticks_to_surfaces
from zygomorph.core.document.parts import roots
from zygomorph.core.document.study import Study
from zygomorph.core.document.variants import addresses_of
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece, to_stage, used_pieces
from zygomorph.core.evaluation.scene import Scene, plan_scene
from zygomorph.core.geometry.images import Images
from zygomorph.core.inspect.address_words import address_words
from zygomorph.core.inspect.sentences import describe_motion, describe_scene, lanes_of
from zygomorph.core.memo.memo import Memo
from zygomorph.core.shared.dome_light import coefficients
from zygomorph.core.shared.drawn_scene import (
    AreaLamp,
    Backdrop,
    DomeLamp,
    Lamp,
    PointLamp,
    SkyLamp,
    SpotLamp,
    SunLamp,
)
from zygomorph.core.transforms.camera import path_of
from zygomorph.core.transforms.motion import WorldTransform
from zygomorph.core.transforms.world_transform import (
    parents_of_piece,
    planned_camera,
    world_transform,
)
from zygomorph.store.studies import Stored

# Where pieces and markers stand is told at each frame, as long as that is no more than a second's
# work and some megabytes.
MOST_MATRICES = 40_000
# Places of a camera over the loop, by which its path is drawn.
MOST_PLACES = 61
# What a scene depends on besides where pieces stand.
SCENE_PARTS = (
    "lights",
    "cameras",
    "camera",
    "backdrop",
    "ground",
    "finish",
    "markers",
    "loop",
)
# About what a moment takes, and what all that are kept may take.
MOMENT_BYTES = 6_000
_SCENES: Memo[dict[str, Any]] = Memo(48_000_000)


def motion_of(study: Study) -> list[dict[str, Any]]:
    """Sentences, lanes, keys and places of each piece."""
    described = describe_motion(study)
    for piece, words in zip(study.pieces, described, strict=True):
        plan = plan_piece(study, piece["id"])
        carriers = parents_of_piece(study, piece["id"])
        words |= {
            "key": piece_key(study, piece["id"], False),
            "final_key": piece_key(study, piece["id"], True),
            "moves": plan.moves or any(look.moves for look in plan.looks),
            "past": any(
                step.on and step.has_a_past
                for each in (piece["id"], *used_pieces(study, piece["id"]))
                for step in plan_piece(study, each).steps
            ),
            "uses": used_pieces(study, piece["id"]),
            "carriers": [f"/{by}s/{name}" for by, name in carriers],
            **_transforms(study, plan.world),
            "held": {
                address: _columns(matrices)
                for address, matrices in to_stage(study, piece["id"], _frames(study)).items()
            },
        }
    return described


def markers_of(study: Study) -> list[dict[str, Any]]:
    """Lanes and places of each marker."""
    described = []
    for marker in roots(study.document, "marker"):
        world = world_transform(study, "marker", marker.id)
        assert world is not None  # it is one of the study's own
        described.append(
            {
                "id": marker.id,
                "lanes": lanes_of([marker], marker, study.loop, study.signals),
                **_transforms(study, world),
            }
        )
    return described


def scene_of(study: Study) -> dict[str, Any]:
    """Light, view and backdrop at each frame 0 to F, or once where nothing of them moves.

    Most edits change no part of it, so that what it came to is kept.
    """
    if sticks_to_surfaces(study.document):
        # A surface may be made of anything, and is kept itself.
        return _scene(study)
    key = _scene_key(study)
    kept = _SCENES.get(key)
    if kept is None:
        kept = _scene(study)
        _SCENES.put(key, kept, len(kept["moments"]) * MOMENT_BYTES)
    return kept


def _scene(study: Study) -> dict[str, Any]:
    scene = plan_scene(study)
    times = _frames(study) if scene.moves else np.zeros(1)
    return {
        "moments": [_told(scene.at(times[k : k + 1]), study.images) for k in range(len(times))],
        "parts": describe_scene(study),
        "cameras": [_way(study, camera["id"]) for camera in study.cameras],
    }


def _scene_key(study: Study) -> str:
    """Hash of all in the document that the scene depends on."""
    document = study.document
    parts: list[Any] = [document.get(name) for name in SCENE_PARTS]
    parts += [[p.get(k) for k in ("id", "name", "place", "carried")] for p in study.pieces]
    follows = any(path_of(camera) for camera in roots(document, "camera"))
    if follows:
        # A path may be made of anything.
        parts.append(study.pieces)
    parts.append(linked_values(document, parts))
    return hashlib.blake2b(json.dumps(parts, sort_keys=True).encode(), digest_size=16).hexdigest()


def _way(study: Study, camera_id: str) -> dict[str, Any]:
    """Where a camera is over the loop."""
    camera = planned_camera(study, camera_id)
    assert camera is not None  # it is one of the document's
    last = study.loop.frames
    times = np.linspace(0, last, min(last + 1, MOST_PLACES)) if camera.moves else np.zeros(1)
    views = [camera.at(times[k : k + 1]) for k in range(len(times))]
    return {
        "id": camera_id,
        "moves": camera.moves,
        "aspect": views[0].aspect,
        "places": [view.position.tolist() for view in views],
        "targets": [view.target.tolist() for view in views],
    }


def scene_moment(study: Study, frame: float) -> dict[str, Any]:
    """The same at one frame."""
    return _told(plan_scene(study).at(np.array([frame])), study.images)


_KINDS: dict[type, str] = {
    SunLamp: "sun",
    PointLamp: "point",
    SpotLamp: "spot",
    AreaLamp: "area",
}


def _lamp(light: str, each: Lamp, images: Images) -> dict[str, Any]:
    """A lamp as JSON: its fields by their names."""
    if isinstance(each, DomeLamp):
        return {
            "light": light,
            "kind": "dome",
            "picture": radiance_address(each.picture),
            "strength": each.strength,
            "axes": each.axes.tolist(),
            "harmonics": np.round(coefficients(each, images), 6).tolist(),
        }
    if isinstance(each, SkyLamp):
        own = {"towards": each.up, "colour": each.above, "below": each.below}
        told: dict[str, Any] = {"kind": "sky", "strength": each.strength, **own}
    else:
        told = {"kind": _KINDS[type(each)], **{f.name: getattr(each, f.name) for f in fields(each)}}
    if isinstance(each, AreaLamp):
        told["radiance"] = each.radiance
    return {"light": light, **_plain(told)}


def _plain(told: dict[str, Any]) -> dict[str, Any]:
    """The same with lists for arrays, as JSON has them."""
    return {k: v.tolist() if isinstance(v, np.ndarray) else v for k, v in told.items()}


def _told(scene: Scene, images: Images) -> dict[str, Any]:
    view, backdrop = scene.view, scene.backdrop
    return {
        "lamps": [
            _lamp(light, each, images) for light, lamps in scene.lamps.items() for each in lamps
        ],
        "view": _plain({f.name: getattr(view, f.name) for f in fields(view)}),
        "ground": asdict(scene.ground),
        "finish": asdict(scene.finish),
        "backdrop": {
            "kind": backdrop.kind,
            "middle": backdrop.middle,
            "angle": backdrop.angle,
            "stops": [{"at": at, "colour": colour} for at, colour in backdrop.stops],
            "fit": backdrop.fit,
            "picture": _behind(backdrop) if backdrop.kind == "picture" else None,
        },
    }


def _behind(backdrop: Backdrop) -> str:
    return f"{shown_address(backdrop.picture)}?soft={backdrop.soft:.6g}&beyond=rim"


def _frames(study: Study) -> np.ndarray:
    """The frames at which transforms are told: all, or some of a very long loop."""
    parts = len(study.pieces) + len(study.markers)
    told = max(2, MOST_MATRICES // max(parts, 1))
    last = study.loop.frames
    return np.arange(last + 1.0) if last < told else np.linspace(0, last, told)


def _transforms(study: Study, world: WorldTransform) -> dict[str, list[list[float]]]:
    """World and parent transforms of a piece or marker at each frame 0 to F, or once."""
    times = _frames(study) if world.moves else np.zeros(1)
    return {
        "places": _columns(world.matrices(times)),
        "bases": _columns(world.parent(times)) if world.attached else [],
    }


def _columns(matrices: np.ndarray) -> list[list[float]]:
    """(T, 4, 4) column by column."""
    found: list[list[float]] = np.round(
        np.swapaxes(matrices, 1, 2).reshape(len(matrices), 16), 7
    ).tolist()
    return found


def state_of(stored: Stored, study: Study) -> dict[str, Any]:
    return {
        "id": stored.id,
        "revision": stored.revision,
        "changed": stored.changed,
        "document": stored.document,
        "motion": motion_of(study),
        "markers": markers_of(study),
        "scene": scene_of(study),
        "sounds": [asdict(each) for each in audible(stored.document)],
        "switched": {
            address: address_words(study.document, address)
            for variant in study.document.get("variants", [])
            for address in addresses_of(variant)
        },
        "undo_label": stored.undo_label,
        "redo_label": stored.redo_label,
    }
