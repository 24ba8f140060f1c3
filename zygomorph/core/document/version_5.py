"""Version 5 of the document: what of a look goes by value has mask layers of its own.

A look's colour was by height, by displacement, by tilt or by a stored mask; each is one layer now,
in an entry for the colour. Of edits that can still be undone, those of looks become edits of all
looks of their piece, since what one value said is now said in several places. All of it may be
wrong in any place; what is not understood stays as it is, for the schema to refuse.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Mapping
from typing import Any

from zygomorph.core.document.edits import EditError, Operation, apply_edit

VALUE = re.compile(r"^(/pieces/([^/]+)/looks/([^/]+))/values/(\w+)(?=/|$)")
LOOKS = re.compile(r"^/pieces/([^/]+)/looks(?=/|$)")
# Of the only layer that a converted look has.
LAYER = "where/layers/by/values"
# Values of a look that are values of its colour's layer now, by what the colour goes by.
MOVED: dict[str, dict[str, str]] = {
    "height": {"low": "bottom", "high": "top"},
    "displacement": {"low": "low", "high": "high"},
    "tilt": {"tilt": "most", "upright": "upright"},
    "mask": {"mask": "name"},
    "fixed": {},
}
LAYERS: dict[str, tuple[str, dict[str, Any]]] = {
    "height": ("height", {"range": "set", "bottom": -0.5, "top": 0.5, "axis": [0.0, 1.0, 0.0]}),
    "displacement": ("displacement", {"range": "set", "low": -0.5, "high": 0.5}),
    "tilt": ("tilt", {"most": 45.0, "upright": [0.0, 1.0, 0.0]}),
    "mask": ("stored", {"name": ""}),
}
GONE = ("colour_by", "gradient", "low", "high", "mask", "tilt", "upright", "thickness")


def new_look(look: Any) -> Any:
    """A look of version 4 in version 5."""
    if not isinstance(look, dict) or look.get("look") != "surface":
        return look
    values = look.get("values", {})
    by = values.get("colour_by", "height") if isinstance(values, dict) else None
    if by not in MOVED or "by" in look:
        return look
    kept = {name: value for name, value in values.items() if name not in GONE}
    if "thickness" in values:
        kept["size"] = values["thickness"]
    found = {**look, "values": kept}
    if by in LAYERS:
        key, own = LAYERS[by]
        named = {new: values[old] for old, new in MOVED[by].items() if old in values}
        layer = {"id": "by", "layer": key, "profile": "linear", "values": {**own, **named}}
        gradient = {"gradient": values["gradient"]} if "gradient" in values else {}
        found["by"] = [{"id": "colour", "values": gradient, "where": {"layers": [layer]}}]
    return found


def new_addresses(document: Mapping[str, Any]) -> dict[tuple[str, str], str]:
    """By the ids of a piece and of its look, what the look's colour goes by."""
    found = {}
    for piece in _dicts(document.get("pieces")):
        for look in _dicts(piece.get("looks")):
            values = look.get("values")
            by = values.get("colour_by", "height") if isinstance(values, dict) else "height"
            found[str(piece.get("id")), str(look.get("id"))] = by if by in MOVED else "height"
    return found


def _dicts(items: Any) -> list[dict[str, Any]]:
    return [each for each in items if isinstance(each, dict)] if isinstance(items, list) else []


def new_address(address: str, ways: Mapping[tuple[str, str], str]) -> str:
    """Where a value of version 4 is in version 5, by what the colours of the looks go by."""
    match = VALUE.match(address)
    if match is None:
        return address
    look, piece, name, value = match[1], match[2], match[3], match[4]
    rest = address[match.end() :]
    if value == "gradient":
        return f"{look}/by/colour/values/gradient"
    if value == "thickness":
        return f"{look}/values/size{rest}"
    moved = MOVED[ways.get((piece, name), "height")].get(value)
    return address if moved is None else f"{look}/by/colour/{LAYER}/{moved}{rest}"


def _within(value: Any, ways: Mapping[tuple[str, str], str]) -> Any:
    """A part of a document: the looks in it, and the addresses that links and variants name."""
    if isinstance(value, list):
        return [_within(each, ways) for each in value]
    if not isinstance(value, dict):
        return value
    if "look" in value and "id" in value:
        return new_look({name: _within(each, ways) for name, each in value.items()})
    found = {name: _within(each, ways) for name, each in value.items() if name != "kept"}
    if found.get("signal") == "link" and isinstance(found.get("to"), str):
        found["to"] = new_address(found["to"], ways)
    if "kept" in value:
        kept = value["kept"]
        found["kept"] = _kept(kept, ways) if isinstance(kept, dict) else kept
    return found


def _kept(kept: dict[str, Any], ways: Mapping[tuple[str, str], str]) -> dict[str, Any]:
    """What an option of a variant keeps. A look whose way of colouring it switches is kept whole,
    with what else of it is kept."""
    found: dict[str, Any] = {}
    looks: dict[str, dict[str, Any]] = {}
    for address, value in kept.items():
        match = VALUE.match(address)
        if match is not None and f"{match[1]}/values/colour_by" in kept:
            looks.setdefault(match[1], {})[match[4]] = value
        else:
            found[new_address(address, ways)] = _within(value, ways)
    for address, values in looks.items():
        name = address.rsplit("/", 1)[1]
        whole = [new_look({"id": name, "look": "surface", "values": values})]
        found[address.rsplit("/", 1)[0]] = whole
    return found


def looks_go_by_layers(document: dict[str, Any]) -> dict[str, Any]:
    """A document of version 4 in version 5."""
    found: dict[str, Any] = _within(copy.deepcopy(document), new_addresses(document))
    return {**found, "version": 5}


def _operations(given: list[Any]) -> list[Any]:
    from pydantic import TypeAdapter

    return TypeAdapter(list[Operation]).validate_python(given)


def newer_edits(
    document: dict[str, Any], edits: list[tuple[list[Any], list[Any]]]
) -> list[tuple[list[Any], list[Any]]]:
    """Edits of a document of version 4, oldest first, as they do the same in version 5.

    document : as it is after the last of them
    edits : the operations of each, and those that take it back
    """
    found: list[tuple[list[Any], list[Any]]] = []
    after = document
    for number, (operations, inverse) in enumerate(reversed(edits)):
        try:
            before, _ = apply_edit(after, _operations(inverse))
        except (EditError, ValueError):
            # What cannot be taken back in version 4 cannot be in version 5 either.
            older = edits[: len(edits) - number]
            return [*older, *reversed(found)]
        found.append((_newer(operations, before, after), _newer(inverse, after, before)))
        after = before
    return found[::-1]


def _newer(operations: list[Any], before: Mapping[str, Any], after: Mapping[str, Any]) -> list[Any]:
    """Operations that lead from one document of version 4 to another, in version 5."""
    ways = new_addresses(after)
    found: list[Any] = []
    whole: set[str] = set()
    for operation in operations:
        match = LOOKS.match(operation.get("path", ""))
        if match is None:
            found.append({k: _within(v, ways) for k, v in operation.items()})
            continue
        if match[1] in whole:
            continue
        whole.add(match[1])
        looks = _looks_of(after, match[1])
        if looks is not None:
            path = f"/pieces/{match[1]}/looks"
            found.append({"do": "set", "path": path, "value": _within(looks, ways)})
    return found


def _looks_of(document: Mapping[str, Any], piece_id: str) -> Any:
    pieces = _dicts(document.get("pieces"))
    return next((piece.get("looks") for piece in pieces if piece.get("id") == piece_id), None)
