"""Values of a study by their addresses, which are those of edits."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zygomorph.core.document.edits import EditError, value_at
from zygomorph.core.document.parts import part_at
from zygomorph.core.values.colours import AT, COLOUR_AT
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.value import Value

COMPONENTS = ("0", "1", "2")


def spec_at(document: Mapping[str, Any], address: str) -> Value | None:
    """What is declared of the value at an address, of a component too; None where no value is.

    ``/pieces/P/recipe/S/values/NAME``, ``…/where/layers/L/values/NAME``, ``…/where/layers/L/NAME``,
    ``/pieces/P/place/NAME``, ``/markers/M/place/NAME``, ``/pieces/P/looks/L/values/NAME``,
    ``/lights/L/values/NAME``, ``/cameras/C/values/NAME``, ``/backdrop/values/NAME``, each with
    ``/0`` to ``/2`` for a component.
    """
    found = part_at(document, address)
    if found is None:
        return None
    part, below = found
    holder, _, name = below.rpartition("/")
    if name in COMPONENTS:
        holder, _, name = holder.rpartition("/")
    if name == AT:
        whole, _, colour = holder.rpartition("/")
        if any(
            s.path == whole and s.specs[colour].kind == "colour"
            for s in part.sections
            if colour in s.specs
        ):
            return COLOUR_AT
    return next((s.specs.get(name) for s in part.sections if s.path == holder), None)


def number_at(document: Mapping[str, Any], address: str) -> Any:
    """The number or signal at an address, its default where the document leaves it out; None where
    there is none."""
    spec = spec_at(document, address)
    if spec is None or not kind_of(spec).moves:
        return None
    whole, _, last = address.rpartition("/")
    component = int(last) if last in COMPONENTS else None
    if (component is None) == (kind_of(spec).components > 1):
        return None
    try:
        value = value_at(document, address if component is None else whole)
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
