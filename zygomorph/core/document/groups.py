"""Groups of steps, and presets: groups that are kept to be used again in any study.

A preset is a document of its own, with steps and what they show first. Using it puts copies of the
steps into a recipe, under new ids; changing one use leaves the preset and other uses alone.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import ValidationError

from zygomorph.core.document.parts import parts_of, step_part
from zygomorph.core.document.schema import PRESET_FORMAT, VERSION, preset_model
from zygomorph.core.document.study import Study, problems_of
from zygomorph.core.document.versions import newest_preset
from zygomorph.core.errors import DocumentError, ZygomorphError

Operation = dict[str, Any]


def members(piece: Mapping[str, Any], group: str) -> list[dict[str, Any]]:
    """The steps of a group, in the order of the recipe."""
    return [step for step in piece["recipe"] if step.get("group") == group]


def preset_of(study: Study, piece_id: str, group: str, name: str = "") -> dict[str, Any]:
    """A group as a preset, with what it was made on, which its picture shows it on.

    Raises ZygomorphError where piece or group are not there, or the group holds no step.
    """
    piece = study.piece(piece_id)
    known = {g["id"]: g for g in piece.get("groups", [])}
    if group not in known:
        raise ZygomorphError(
            f"The piece has no group {group!r}.", f"Groups: {', '.join(known) or 'none'}."
        )
    steps = [{k: v for k, v in s.items() if k != "group"} for s in members(piece, group)]
    if not steps:
        raise ZygomorphError("The group holds no step.", "Put a step into it first.")
    ids = {step["id"] for step in steps}
    front = [each for each in known[group].get("front", []) if each["step"] in ids]
    return copy.deepcopy(
        {
            "format": PRESET_FORMAT,
            "version": VERSION,
            "name": name or known[group]["name"],
            "steps": steps,
            "front": front,
            "made_on": {
                "form": {k: v for k, v in piece["recipe"][0].items() if k != "note"},
                "looks": piece["looks"],
                "loop": study.document.get("loop", {}),
            },
        }
    )


def check_preset(document: Any) -> dict[str, Any]:
    """The document as a preset. Raises DocumentError with the place of each problem."""
    if not isinstance(document, dict):
        raise DocumentError([("", "a preset is a JSON object")])
    if document.get("format") != PRESET_FORMAT:
        raise DocumentError([("/format", f"a preset has the format {PRESET_FORMAT!r}")])
    if isinstance(document.get("version"), int):
        document = newest_preset(document, VERSION)
    try:
        preset_model().model_validate(document)
    except ValidationError as error:
        raise DocumentError(problems_of(error, document)) from None
    found = list(_beyond_the_schema(document))
    if found:
        raise DocumentError(found)
    return document


def _beyond_the_schema(preset: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    ids = [step["id"] for step in preset["steps"]]
    if len(set(ids)) < len(ids):
        yield "/steps", "an id is used twice"
    for k, each in enumerate(preset.get("front", [])):
        if each["step"] not in ids:
            yield f"/front/{k}/step", f"there is no step {each['step']!r}"


def uses(
    study: Study, piece_id: str, preset: Mapping[str, Any], after: str | None
) -> tuple[list[Operation], str]:
    """Operations that put a copy of a preset into a recipe, and the id of its group there.

    A step that names a piece which this study has not names none; the artist chooses one.

    after : the step to stand after; None is the end of the recipe
    Raises ZygomorphError where piece or step are not there.
    """
    piece = study.piece(piece_id)
    ids = [step["id"] for step in piece["recipe"]]
    if after is None:
        after = ids[-1]
    if after not in ids:
        raise ZygomorphError(f"The piece has no step {after!r}.", f"Steps: {', '.join(ids)}.")
    groups = [g["id"] for g in piece.get("groups", [])]
    group = _fresh("group", groups)
    renamed: dict[str, str] = {}
    for step in preset["steps"]:
        renamed[step["id"]] = _fresh("step", [*ids, *renamed.values()])
    front = [
        {**each, "id": f"front{k + 1}", "step": renamed[each["step"]]}
        for k, each in enumerate(preset.get("front", []))
    ]
    operations: list[Operation] = [
        {
            "do": "insert",
            "path": f"/pieces/{piece_id}/groups",
            "after": groups[-1] if groups else None,
            "item": {"id": group, "name": preset["name"], "front": front},
        }
    ]
    pieces = {p["id"] for p in study.pieces}
    for step in preset["steps"]:
        item = without_unknown_pieces(step, pieces)
        item |= {"id": renamed[step["id"]], "group": group}
        path = f"/pieces/{piece_id}/recipe"
        operations.append({"do": "insert", "path": path, "after": after, "item": item})
        after = item["id"]
    return operations, group


def _fresh(prefix: str, taken: list[str]) -> str:
    number = len(taken) + 1
    while f"{prefix}{number}" in taken:
        number += 1
    return f"{prefix}{number}"


def without_unknown_pieces(step: Mapping[str, Any], pieces: set[str]) -> dict[str, Any]:
    """A copy of a step in which no value names a piece that is not there."""
    made = copy.deepcopy(dict(step))
    for part in parts_of(step_part(made)):
        for section in part.sections:
            for name, spec in section.specs.items():
                if spec.kind == "piece" and section.given.get(name) not in (None, "", *pieces):
                    part.given["values"][name] = ""
    return made
