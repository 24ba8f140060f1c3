"""Older versions of the study document, brought up to date one version at a time.

They are walked by hand: what walks the present version does not know how older ones were built.
"""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from typing import Any

from zygomorph.core.document.version_4 import looks_and_scene_are_lists
from zygomorph.core.document.version_5 import looks_go_by_layers


def _with_values(document: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """The values of every step and layer; the document may be wrong in any place."""
    for piece in _dicts(document.get("pieces")):
        for step in _dicts(piece.get("recipe")):
            yield from _dicts([step.get("values")])
            where = step.get("where")
            for layer in _dicts(where.get("layers") if isinstance(where, dict) else None):
                yield from _dicts([layer.get("values")])


def _dicts(items: Any) -> Iterator[dict[str, Any]]:
    for item in items if isinstance(items, list) else []:
        if isinstance(item, dict):
            yield item


def _ridged_is_a_fold(document: dict[str, Any]) -> dict[str, Any]:
    """Since version 2, any noise may be ridged: ``noise`` and ``fold`` are two values."""
    changed = copy.deepcopy(document)
    for values in _with_values(changed):
        if values.get("noise") == "ridged":
            values["noise"] = "gradient"
            values["fold"] = "ridged"
    return {**changed, "version": 2}


# Numbers of a signal that change their sign with its value.
_SIGNED = ("value", "low", "high", "start", "rate", "factor", "offset", "in", "out")


def _negated(value: Any) -> Any:
    """A value, or the signal that moves it, with the other sign."""
    if isinstance(value, bool):
        return value
    if isinstance(value, (int, float)):
        return -value
    if not isinstance(value, dict):
        return value
    changed = dict(value)
    for name in (*_SIGNED, "draft", "final"):
        if name in changed:
            changed[name] = _negated(changed[name])
    for name in ("keys", "rates"):
        if isinstance(changed.get(name), list):
            changed[name] = [_negated(each) for each in changed[name]]
    if isinstance(changed.get("text"), str):
        changed["text"] = f"-({changed['text']})"
    return changed


def _bends_turn_right_handed(document: dict[str, Any]) -> dict[str, Any]:
    """Since version 3, a bend's ``towards`` turns about the axis as all turns do."""
    changed = copy.deepcopy(document)
    bends: set[str] = set()
    for piece in _dicts(changed.get("pieces")):
        for step in _dicts(piece.get("recipe")):
            values = step.get("values")
            if step.get("step") != "bend":
                continue
            bends.add(f"/pieces/{piece.get('id')}/recipe/{step.get('id')}/values/towards")
            if isinstance(values, dict) and "towards" in values:
                values["towards"] = _negated(values["towards"])
    for variant in _dicts(changed.get("variants")):
        for option in _dicts(variant.get("options")):
            for kept in _dicts([option.get("kept")]):
                for address in bends & set(kept):
                    kept[address] = _negated(kept[address])
    return {**changed, "version": 3}


Migration = Callable[[dict[str, Any]], dict[str, Any]]
# From a version to the next: takes the old document, returns the new one.
MIGRATIONS: dict[int, Migration] = {
    1: _ridged_is_a_fold,
    2: _bends_turn_right_handed,
    3: looks_and_scene_are_lists,
    4: looks_go_by_layers,
}


def newest(document: dict[str, Any], version: int) -> dict[str, Any]:
    """A document, or as much of it as there is, brought up to a version that is known here."""
    while document.get("version") in MIGRATIONS and document["version"] < version:
        document = MIGRATIONS[document["version"]](document)
    return document


def newest_preset(preset: dict[str, Any], version: int) -> dict[str, Any]:
    """The same for a preset, whose steps change as those of a study do, and so does what it was
    made on."""
    alone: dict[str, Any] = {"version": preset.get("version")}
    alone["pieces"] = [{"recipe": preset.get("steps")}]
    made_on = preset.get("made_on")
    if isinstance(made_on, dict):
        others = {k: v for k, v in made_on.items() if k != "form"}
        alone["pieces"].append({**others, "recipe": [made_on.get("form")]})
    brought = newest(alone, version)
    if brought is alone:
        return preset
    steps, *on = brought["pieces"]
    found = {**preset, "version": brought["version"], "steps": steps["recipe"]}
    for piece in on:
        found["made_on"] = {"form": piece.pop("recipe")[0], **piece}
    return found
