"""Small studies that show what a form or step does, for its moving picture.

An entry says what its specimen shows. Of a step that does not, it is what it suggests for a ball,
its first value that can move going through its range.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from zygomorph.core.document.groups import without_unknown_pieces
from zygomorph.core.document.schema import FORMAT, VERSION
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.values.definitions import FormDefinition, StepDefinition
from zygomorph.core.values.entries import recipe_definitions
from zygomorph.core.values.specimen import BALL, Specimen, saw, sine

FRAMES = 48
SIZE = (192, 120)
# Of the loop, in a moving thumbnail.
MOMENTS = 16
# A change of how specimens are drawn; older pictures are drawn anew.
EDITION = 1
# From where a whole thing of size 1 is seen.
VIEW = (0.78, 0.66, 1.2)


def _default(definition: StepDefinition) -> dict[str, Any]:
    """What a step suggests for its form, its first number going from nothing to there."""
    form, values = definition.specimen.on
    before = _document([{"step": form, "values": values}])
    mesh = Evaluator().evaluate(check_document(before), Request("p")).mesh
    values = dict(definition.suggest(mesh)) if definition.suggest else {}
    for name, value in definition.values.items():
        if value.kind == "number" and value.moves:
            low = 0.0 if value.hard[0] is None else max(value.hard[0], 0.0)
            most = values.get(name, value.default)
            return values | {name: sine(low, most) if value.unit != "cycle" else saw(0, 1)}
        if value.kind == "whole" and value.moves:
            return values | {name: saw(value.soft[0], min(value.soft[1], 40))}
    return values


def _look(**values: Any) -> dict[str, Any]:
    return {"id": "look", "look": "surface", "values": values}


def _by_height(**values: Any) -> dict[str, Any]:
    layer = {
        "id": "height",
        "layer": "height",
        "profile": "linear",
        "values": {"range": "set", "bottom": -0.8, "top": 0.8, "axis": [0.0, 1.0, 0.0]},
    }
    colour = {"id": "colour", "values": {"gradient": "dusk"}, "where": {"layers": [layer]}}
    return {**_look(**values), "by": [colour]}


def _cameras(position: list[float], target: list[float]) -> list[dict[str, Any]]:
    values = {"position": position, "target": target, "angle": 34}
    return [{"id": "camera", "name": "Camera", "camera": "perspective", "values": values}]


# Light from the left of the camera, and less from all sides than a study begins with: small
# pictures live by their shading.
SIDE = [-0.75, 0.8, 0.5]
LIGHTS = [
    {"id": "sun", "name": "Sun", "light": "sun", "values": {"towards": SIDE, "strength": 4.4}},
    {
        "id": "cool",
        "name": "Cool light",
        "light": "sun",
        "values": {"towards": [4.0, 1.2, 0.8], "colour": "#9fb4ff", "strength": 1.6},
    },
    {"id": "sky", "name": "Sky", "light": "sky", "values": {"strength": 1.1}},
]


def _document(steps: Sequence[Mapping[str, Any]], **look: Any) -> dict[str, Any]:
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": "Specimen",
        "loop": {"frames": FRAMES, "rate": 24},
        "pieces": [
            {
                "id": "p",
                "name": "Specimen",
                "recipe": [{"id": f"s{k}", **step} for k, step in enumerate(steps)],
                "looks": [_by_height(**look)],
            }
        ],
        "lights": LIGHTS,
        "cameras": _cameras([1.5, 1.3, 2.3], [0.0, -0.02, 0.0]),
        "backdrop": {
            "backdrop": "two_colours",
            "values": {"centre": "#3b3350", "edge": "#1d1929"},
        },
    }


def _with_other(shown: Specimen, document: dict[str, Any]) -> dict[str, Any]:
    if shown.other is not None:
        form, values = shown.other
        other = {
            "id": "o",
            "name": "Other",
            "visible": shown.shows_other,
            "recipe": [
                {"id": "form", "step": form, "values": values},
                *({"id": f"o{k}", **step} for k, step in enumerate(shown.other_after)),
            ],
            "looks": [_look(colour="#4a4668")],
        }
        document["pieces"].append(other)
    return document


def specimen(sort: str, key: str) -> Study:
    """The study that shows an entry. Raises ZygomorphError where there is no such form or step."""
    definition = recipe_definitions().get(key)
    if definition is not None and definition.sort != sort:
        definition = None
    if definition is None or definition.needs_file:
        raise ZygomorphError(f"There is no picture of the {sort} {key!r}.")
    shown = definition.specimen
    if isinstance(definition, FormDefinition):
        # Facets show how it is built, and that it turns.
        move = [0, -shown.lowered if shown.lowered else 0, 0]
        turn = {"step": "place", "values": {"turn": [sine(-14, 14), saw(0, 360), 0], "move": move}}
        steps: list[Mapping[str, Any]] = [{"step": key, "values": shown.values}, turn]
        look = {"size": shown.thickness, "shading": "flat"}
        return check_document(_with_other(shown, _document(steps, **look)))
    form, given = shown.on
    values = shown.values or _default(definition)
    before = [{"step": form, "values": given}, *shown.before]
    steps = [*before, {"step": key, "values": values}, *shown.after]
    return check_document(_with_other(shown, _document(steps)))


def preset_specimen(preset: dict[str, Any], evaluator: Evaluator) -> Study:
    """The study that shows a preset: on what it was made on, or on a ball; wholly in view.

    Raises what evaluating raises.
    """
    on = preset.get("made_on") or {"form": {"step": BALL[0], "values": BALL[1]}}
    steps = [on["form"], *(without_unknown_pieces(step, set()) for step in preset["steps"])]
    document = _document([{k: v for k, v in step.items() if k != "id"} for step in steps])
    document["loop"] = on.get("loop") or document["loop"]
    piece = document["pieces"][0]
    piece["looks"] = on.get("looks") or piece["looks"]
    study = check_document(document)
    if not plan_piece(study, "p").moves:
        # What stands still is turned round, so that it is seen from all sides.
        piece["place"] = {"turn": [0, saw(0, 360), 0]}
    mesh = evaluator.evaluate(study, Request("p")).mesh
    low, high = mesh.points.min(0).astype(float), mesh.points.max(0).astype(float)
    middle, size = (low + high) / 2, float(np.linalg.norm(high - low)) or 1.0
    position = middle + np.array(VIEW) * size
    cameras = _cameras(position.tolist(), middle.tolist())
    return check_document(document | {"cameras": cameras})


def edition_of(sort: str, key: str) -> str:
    """Changes when the picture has to be drawn anew."""
    definition = recipe_definitions()[key]
    parts = [EDITION, definition.version, specimen(sort, key).document]
    return hashlib.blake2b(json.dumps(parts, sort_keys=True).encode(), digest_size=6).hexdigest()
