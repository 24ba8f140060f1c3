"""The state of a study as the interface has it: its document, and what that is over the loop."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np

from zygomorph.core.animation.sound.audible import audible
from zygomorph.core.document.parts import roots
from zygomorph.core.document.study import Study
from zygomorph.core.document.variants import addresses_of
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.evaluation.plan import plan_piece, to_stage, used_pieces
from zygomorph.core.evaluation.scene import Scene, plan_scene
from zygomorph.core.inspect.address_words import address_words
from zygomorph.core.inspect.sentences import describe_motion, lanes_of
from zygomorph.core.shared.drawn_scene import Lamp, SunLamp
from zygomorph.core.transforms.world_transform import (
    WorldTransform,
    parents_of_piece,
    world_transform,
)
from zygomorph.store.studies import Stored

# Where pieces and markers stand is told at each frame, as long as that is no more than a second's
# work and some megabytes.
MOST_MATRICES = 40_000


def motion_of(study: Study) -> list[dict[str, Any]]:
    """Sentences, lanes, keys and places of each piece."""
    described = describe_motion(study)
    for piece, words in zip(study.pieces, described, strict=True):
        plan = plan_piece(study, piece["id"])
        carriers = parents_of_piece(study, piece["id"])
        words |= {
            "key": piece_key(study, piece["id"], False),
            "final_key": piece_key(study, piece["id"], True),
            "moves": plan.moves or plan.look.moves,
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
    """Light, view and backdrop at each frame 0 to F, or once where nothing of them moves."""
    scene = plan_scene(study)
    times = _frames(study) if scene.moves else np.zeros(1)
    return {"moments": [_told(scene.at(times[k : k + 1])) for k in range(len(times))]}


def _told(scene: Scene) -> dict[str, Any]:
    def lamp(light: str, each: Lamp) -> dict[str, Any]:
        own: dict[str, Any]
        if isinstance(each, SunLamp):
            own = {"kind": "sun", "towards": each.towards.tolist(), "colour": each.colour}
            own |= {"below": "", "shadow": each.shadow}
        else:
            own = {"kind": "sky", "towards": each.up.tolist(), "colour": each.above}
            own |= {"below": each.below, "shadow": False}
        return own | {"light": light, "strength": each.strength}

    view, backdrop = scene.view, scene.backdrop
    return {
        "lamps": [lamp(light, each) for light, lamps in scene.lamps.items() for each in lamps],
        "view": {
            "position": view.position.tolist(),
            "target": view.target.tolist(),
            "angle": view.angle,
        },
        "backdrop": {
            "middle": backdrop.middle,
            "stops": [{"at": at, "colour": colour} for at, colour in backdrop.stops],
        },
    }


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
