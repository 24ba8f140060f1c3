"""Small studies that show what a form, step or layer does, for its moving picture.

An entry that is not named here gets one made from its defaults: what it suggests for a ball, and
its first value that can move going through its range.
"""

from __future__ import annotations

import hashlib
import json
from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition, definitions
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluate import Evaluator, Request
from zygomorph.core.groups import without_unknown_pieces
from zygomorph.core.plan import plan_piece
from zygomorph.core.schema import FORMAT, VERSION
from zygomorph.core.study import Study, check_document

FRAMES = 48
SIZE = (192, 120)
PICTURES = 16
# A change of how specimens are drawn; older pictures are drawn anew.
EDITION = 1
# From where a whole thing of size 1 is seen.
VIEW = (0.78, 0.66, 1.2)


def _saw(low: float, high: float, cycles: int = 1) -> dict[str, Any]:
    return {"signal": "cycle", "shape": "saw", "low": low, "high": high, "cycles": cycles}


def _sine(low: float, high: float) -> dict[str, Any]:
    return {"signal": "cycle", "shape": "sine", "low": low, "high": high}


_BAR = ("box", {"size": [0.5, 1.7, 0.5], "across": 8, "up": 40, "deep": 8})
_SHEET = ("sheet", {"width": 1.9, "depth": 1.9, "columns": 90, "rows": 90})
_BALL = ("icosphere", {"radius": 0.68, "halvings": 5})

# For each step: the form it acts on, and its values.
STEPS: dict[str, tuple[tuple[str, dict[str, Any]], dict[str, Any]]] = {
    "displace": (_BALL, {"amount": 0.3, "size": 0.5, "octaves": 3.0, "evolve": _saw(0, 1)}),
    "wave": (_SHEET, {"amplitude": 0.14, "wavelength": 0.95, "phase": _saw(0, 1)}),
    "rings": (
        _SHEET,
        {"amplitude": 0.1, "wavelength": 0.42, "phase": _saw(0, 1), "softness": 0.12},
    ),
    "relief": (_SHEET, {"amount": 0.14, "laid": "uv", "times": 1.0, "across": _saw(0, 1)}),
    "inflate": (("torus", {}), {"amount": _sine(-0.1, 0.16)}),
    "flow": (_BALL, {"distance": _sine(0.0, 0.6), "size": 0.6, "octaves": 1.0, "steps": 6}),
    "jitter": (_BALL, {"amount": 0.06, "hold": 12}),
    "formula": (
        _SHEET,
        {"offset": "0.22 * sin(5 * x - tau * p) * cos(5 * z)"},
    ),
    "bend": (_BAR, {"angle": _sine(-110, 110), "low": -0.8, "high": 0.8}),
    "twist": (_BAR, {"angle": _sine(-200, 200), "low": -0.85, "high": 0.85}),
    "taper": (_BAR, {"ratio": _sine(10, 170), "low": -0.8, "high": 0.8}),
    "stretch": (_BAR, {"ratio": _sine(55, 125), "low": -0.85, "high": 0.85}),
    "vortex": (
        ("disc", {"radius": 1.05}),
        {"core": 0.3, "depth": _sine(0.1, 0.9), "circulation": 1.2, "wound": _sine(0.0, 2.0)},
    ),
    "drape": (
        ("sheet", {"width": 1.5, "depth": 1.5, "columns": 60, "rows": 60}),
        {"piece": "o", "amount": _sine(0, 100), "offset": 0.02},
    ),
    "blend": (_BALL, {"piece": "o", "amount": _sine(0, 100)}),
    "remember": (_BALL, {"what": "x", "name": "mine"}),
    "smooth": (_BALL, {"way": "plain", "times": _sine(0, 24)}),
    "place": (("box", {"size": [0.9, 0.9, 0.9]}), {"turn": [20, _saw(0, 90), 0]}),
    "tube": (
        ("helix", {"radius": 0.55, "end_radius": 0.55, "height": 1.2, "turns": 3.0, "count": 160}),
        {"radius": _sine(0.02, 0.14), "sides": 12},
    ),
}
# Where a form's defaults are too large or too small for its picture.
FORMS: dict[str, dict[str, Any]] = {
    "icosphere": {"radius": 0.75, "halvings": 2},
    "sphere": {"radius": 0.75, "around": 20, "rings": 12},
    "torus": {"ring_radius": 0.65, "tube_radius": 0.27, "around": 28, "section": 12, "cells": 1},
    "cylinder": {"around": 20, "rows": 4, "cap_rings": 2},
    "cone": {"around": 20, "rows": 4, "cap_rings": 2},
    "disc": {"radius": 0.95, "hole": 0.25, "around": 36, "rings": 5},
    "box": {"across": 4, "up": 4, "deep": 4},
    "sheet": {"columns": 16, "rows": 16},
    "cloth": {"columns": 150, "rows": 150, "width": 1.8, "depth": 1.8},
    "strands": {"strands": 90, "radius": 0.7, "height": 1.2},
    "line": {"begin": [-1.0, -0.3, 0.0], "end": [1.0, 0.4, 0.0]},
    "tiling": {"columns": 9, "rows": 9},
    "text": {"size": 0.62, "text": "Zygo", "pieces": 3, "cell": 0.0},
    "piece": {"piece": "o"},
}
THICKNESS = {"line": 0.05, "circle": 0.05, "helix": 0.05, "strands": 0.02, "cloth": 0.01}
# Steps that are seen at work only on what others have done before.
BEFORE: dict[str, list[dict[str, Any]]] = {
    "drape": [{"step": "place", "values": {"move": [0, 0.5, 0]}}],
    "smooth": [{"step": "displace", "values": {"amount": 0.22, "size": 0.16, "octaves": 3.0}}],
    "vortex": [
        {"step": "formula", "values": {"offset": "0.12 * hypot(x, z) * cos(6 * atan2(z, x))"}}
    ],
}


# Steps whose work is seen in what later steps make of it.
AFTER: dict[str, list[dict[str, Any]]] = {
    "remember": [
        {
            "step": "inflate",
            "values": {"amount": _sine(0.0, 0.34)},
            "where": {"layers": [{"id": "l", "layer": "stored", "values": {"name": "mine"}}]},
        }
    ],
}
# The other piece that is used, and whether it is seen.
OTHERS: dict[str, tuple[tuple[str, dict[str, Any]], bool]] = {
    "drape": (("icosphere", {"radius": 0.5, "halvings": 4}), True),
    "blend": (("box", {"size": [1.1, 1.1, 1.1]}), False),
    "piece": (("torus", {}), False),
}


def _default(definition: Definition, form: tuple[str, dict[str, Any]]) -> dict[str, Any]:
    """What the step suggests for a form, its first number going from nothing to there."""
    before = _document([{"step": form[0], "values": form[1]}])
    mesh = Evaluator().evaluate(check_document(before), Request("p")).mesh
    values = dict(definition.suggest(mesh)) if definition.suggest else {}
    for name, value in definition.values.items():
        if value.kind == "number" and value.moves:
            low = 0.0 if value.hard[0] is None else max(value.hard[0], 0.0)
            most = values.get(name, value.default)
            return values | {name: _sine(low, most) if value.unit != "cycle" else _saw(0, 1)}
        if value.kind == "whole" and value.moves:
            return values | {name: _saw(value.soft[0], min(value.soft[1], 40))}
    return values


def _document(steps: list[dict[str, Any]], **look: Any) -> dict[str, Any]:
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
                "look": {"surface": {"gradient": "dusk", "low": -0.8, "high": 0.8, **look}},
            }
        ],
        "camera": {"position": [1.5, 1.3, 2.3], "target": [0.0, -0.02, 0.0], "angle": 34},
        "backdrop": {"centre": "#3b3350", "edge": "#1d1929"},
    }


def _with_other(key: str, document: dict[str, Any]) -> dict[str, Any]:
    if key in OTHERS:
        (form, values), seen = OTHERS[key]
        other = {
            "id": "o",
            "name": "Other",
            "visible": seen,
            "recipe": [{"id": "form", "step": form, "values": values}],
            "look": {"surface": {"colour_by": "fixed", "colour": "#4a4668"}},
        }
        document["pieces"].append(other)
    return document


def specimen(sort: str, key: str) -> Study:
    """The study that shows an entry. Raises ZygomorphError where there is no such form or step."""
    known = {"form": definitions("form"), "step": definitions("step")}.get(sort, {})
    definition = known.get(key)
    if definition is None or definition.needs_file:
        raise ZygomorphError(f"There is no picture of the {sort} {key!r}.")
    if sort == "form":
        # Facets show how it is built, and that it turns.
        move = [0, -0.6 if key == "strands" else 0, 0]
        turn = {
            "step": "place",
            "values": {"turn": [_sine(-14, 14), _saw(0, 360), 0], "move": move},
        }
        steps = [{"step": key, "values": FORMS.get(key, {})}, turn]
        look = {"thickness": THICKNESS.get(key, 0.008), "shading": "flat"}
        return check_document(_with_other(key, _document(steps, **look)))
    form, given = STEPS.get(key, (_BALL, {}))
    values = given or _default(definition, form)
    before = [{"step": form[0], "values": form[1]}, *BEFORE.get(key, [])]
    steps = [*before, {"step": key, "values": values}, *AFTER.get(key, [])]
    return check_document(_with_other(key, _document(steps)))


def preset_specimen(preset: dict[str, Any], evaluator: Evaluator) -> Study:
    """The study that shows a preset: on what it was made on, or on a ball; wholly in view.

    Raises what evaluating raises.
    """
    on = preset.get("made_on") or {"form": {"step": _BALL[0], "values": _BALL[1]}}
    steps = [on["form"], *(without_unknown_pieces(step, set()) for step in preset["steps"])]
    document = _document([{k: v for k, v in step.items() if k != "id"} for step in steps])
    document["loop"] = on.get("loop") or document["loop"]
    piece = document["pieces"][0]
    piece["look"] = on.get("look") or piece["look"]
    study = check_document(document)
    if not plan_piece(study, "p").moves:
        # What stands still is turned round, so that it is seen from all sides.
        piece["place"] = {"turn": [0, _saw(0, 360), 0]}
    mesh = evaluator.evaluate(study, Request("p")).mesh
    low, high = mesh.points.min(0).astype(float), mesh.points.max(0).astype(float)
    middle, size = (low + high) / 2, float(np.linalg.norm(high - low)) or 1.0
    position = middle + np.array(VIEW) * size
    camera = {"position": position.tolist(), "target": middle.tolist(), "angle": 34}
    return check_document(document | {"camera": camera})


def edition_of(sort: str, key: str) -> str:
    """Changes when the picture has to be drawn anew."""
    definition = definitions("form" if sort == "form" else "step")[key]
    parts = [EDITION, definition.version, specimen(sort, key).document]
    return hashlib.blake2b(json.dumps(parts, sort_keys=True).encode(), digest_size=6).hexdigest()
