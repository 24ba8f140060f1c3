"""Version 4 of the document: pieces have lists of looks, and the study lists of lights and cameras.

What was at one address is at another since. So variants, links, and edits that can still be
undone are rewritten together with the document. All of it may be wrong in any place; what is not
understood stays as it is, for the schema to refuse.
"""

from __future__ import annotations

import re
from typing import Any

LOOK = re.compile(r"^/pieces/([^/]+)/look$")
SURFACE = re.compile(r"^/pieces/([^/]+)/look/surface(?=/|$)")
CAMERA = re.compile(r"^/camera(?=/|$)")
BACKDROP = re.compile(r"^/backdrop(?=/)")
KEPT = re.compile(r"^/variants/[^/]+/options/[^/]+/kept$")


def new_address(address: str) -> str:
    """Where a value of version 3 is in version 4."""
    address = LOOK.sub(r"/pieces/\1/looks", address)
    address = SURFACE.sub(r"/pieces/\1/looks/surface/values", address)
    address = CAMERA.sub("/cameras/camera/values", address)
    return BACKDROP.sub("/backdrop/values", address)


def _looks(look: Any) -> Any:
    if not isinstance(look, dict) or look.keys() - {"surface"}:
        return look
    return [{"id": "surface", "look": "surface", "values": look.get("surface") or {}}]


def _cameras(camera: Any) -> Any:
    if not isinstance(camera, dict):
        return camera
    return [{"id": "camera", "name": "Camera", "camera": "perspective", "values": camera}]


def _backdrop(backdrop: Any) -> Any:
    if not isinstance(backdrop, dict):
        return backdrop
    return {"backdrop": "two_colours", "values": backdrop}


def _within(value: Any) -> Any:
    """A part of a document: the pieces in it, the addresses that it names."""
    if isinstance(value, list):
        return [_within(each) for each in value]
    if not isinstance(value, dict):
        return value
    found = {name: _within(each) for name, each in value.items() if name != "kept"}
    if "kept" in value:
        found["kept"] = _kept(value["kept"])
    if found.get("signal") == "link" and isinstance(found.get("to"), str):
        found["to"] = new_address(found["to"])
    if "recipe" in found and "look" in found:
        looks = _looks(found["look"])
        if isinstance(looks, list):
            del found["look"]
            found["looks"] = looks
    return found


def _at(address: str, value: Any) -> Any:
    """A value that was at an address of version 3."""
    if LOOK.match(address):
        return _looks(_within(value))
    if address == "/backdrop":
        return _backdrop(value)
    if KEPT.match(address):
        return _kept(value)
    if SURFACE.fullmatch(address) and value is None:
        return {}
    return _within(value)


def _kept(kept: Any) -> Any:
    """What an option of a variant keeps, by its addresses."""
    if not isinstance(kept, dict):
        return kept
    return {new_address(address): _at(address, value) for address, value in kept.items()}


def looks_and_scene_are_lists(document: dict[str, Any]) -> dict[str, Any]:
    """A document of version 3 in version 4."""
    found = _within({k: v for k, v in document.items() if k not in ("camera", "backdrop")})
    if "camera" in document:
        found["cameras"] = _cameras(document["camera"])
    if "backdrop" in document:
        found["backdrop"] = _backdrop(document["backdrop"])
    return {**found, "version": 4}


def newer_operation(operation: dict[str, Any]) -> dict[str, Any]:
    """An operation of an edit that was made on a document of version 3."""
    path = operation.get("path", "")
    found = {**operation, "path": new_address(path)}
    for name in ("value", "old"):
        if name in operation:
            found[name] = _at(path, operation[name])
    if "item" in operation:
        found["item"] = _within(operation["item"])
    if operation.get("do") == "remove" and (SURFACE.fullmatch(path) or CAMERA.fullmatch(path)):
        # A look or camera that said nothing is one of which all values have their defaults.
        return {"do": "set", "path": found["path"], "value": {}}
    return found
