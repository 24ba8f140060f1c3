"""Values of a study by their addresses, which are those of edits."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zygomorph.core.catalogue import definitions, recipe_definitions
from zygomorph.core.edits import EditError, value_at
from zygomorph.core.looks.surface import DEFINITION as SURFACE
from zygomorph.core.values import Value


def spec_at(document: Mapping[str, Any], address: str) -> Value | None:
    """What is declared of the value at an address, of a component too; None where no value is.

    ``/pieces/P/recipe/S/values/NAME``, ``…/where/layers/L/values/NAME``, ``…/where/layers/L/NAME``,
    ``/pieces/P/place/NAME``, ``/markers/M/place/NAME``, ``/pieces/P/look/surface/NAME``, each
    with ``/0`` to ``/2`` for a component.
    """
    from zygomorph.core.markers import MARKER_VALUES
    from zygomorph.core.masks.layers import COMMON_VALUES
    from zygomorph.core.place import PLACE_VALUES

    parts = address.strip("/").split("/")
    if len(parts) > 1 and parts[-1] in ("0", "1", "2"):
        parts = parts[:-1]
    holder, name = parts[:-1], parts[-1]
    if len(holder) == 3 and holder[0] == "pieces" and holder[2] == "place":
        return PLACE_VALUES.get(name)
    if len(holder) == 3 and holder[0] == "markers" and holder[2] == "place":
        return MARKER_VALUES.get(name)
    if len(holder) == 4 and holder[2:] == ["look", "surface"]:
        return SURFACE.values.get(name)
    if len(holder) < 5 or holder[0] != "pieces" or holder[2] != "recipe":
        return None
    try:
        step = value_at(document, "/" + "/".join(holder[:4]))
        if holder[4:] == ["values"]:
            return recipe_definitions()[step["step"]].values.get(name)
        if holder[4:6] != ["where", "layers"] or len(holder) < 7:
            return None
        layer = value_at(document, "/" + "/".join(holder[:7]))
    except EditError:
        return None
    if holder[7:] == ["values"]:
        return definitions("layer")[layer["layer"]].values.get(name)
    return COMMON_VALUES.get(name) if len(holder) == 7 else None


def number_at(document: Mapping[str, Any], address: str) -> Any:
    """The number or signal at an address, its default where the document leaves it out; None where
    there is none."""
    spec = spec_at(document, address)
    if spec is None or spec.kind not in ("number", "whole", "vector", "direction"):
        return None
    last = address.rsplit("/", 1)[-1]
    component = int(last) if last in ("0", "1", "2") else None
    if (component is None) == (spec.kind in ("vector", "direction")):
        return None
    whole = address if component is None else address.rsplit("/", 1)[0]
    try:
        value = value_at(document, whole)
    except EditError:
        value = spec.default
    return value if component is None else value[component]


def links_in(value: Any) -> list[str]:
    """Addresses that links inside a part of a document name."""
    if isinstance(value, dict):
        own = [value["to"]] if value.get("signal") == "link" and value.get("to") else []
        return own + [a for part in value.values() for a in links_in(part)]
    if isinstance(value, list):
        return [a for part in value for a in links_in(part)]
    return []


def linked_values(document: Mapping[str, Any], value: Any) -> dict[str, Any]:
    """What a part of a document follows by links, directly or through others, by address."""
    found: dict[str, Any] = {}
    waiting = links_in(value)
    while waiting:
        address = waiting.pop()
        if address not in found:
            found[address] = number_at(document, address)
            waiting += links_in(found[address])
    return found
