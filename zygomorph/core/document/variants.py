"""Variants: one choice that switches several values, steps, pieces and looks together.

The values of the chosen option are those in the study itself; the other options keep theirs. So a
study is evaluated without knowing of variants, and what is changed while an option is chosen is
changed for that option.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from zygomorph.core.document.addresses import spec_at
from zygomorph.core.document.edits import EditError, value_at
from zygomorph.core.errors import ZygomorphError

Operations = list[dict[str, Any]]
ID = r"[A-Za-z0-9][A-Za-z0-9_-]{0,39}"
# Parts of a study that are there or not, and those that are switched as a whole.
SWITCHES = re.compile(
    rf"^/pieces/{ID}/(visible|(recipe/{ID}/|looks/{ID}/(by/{ID}/)?)(where/layers/{ID}/)?on)$"
    rf"|^/lights/{ID}/visible$"
)
WHOLES = re.compile(
    rf"^(/pieces/{ID}/(looks|place)|/markers/{ID}/place|/(lights|cameras)/{ID}/values|/backdrop)$"
)
# The part that something belongs to.
OWNER = re.compile(
    rf"^(/pieces/{ID}((/recipe/{ID}|/looks/{ID}(/by/{ID})?)(/where/layers/{ID})?)?"
    rf"|/(markers|lights|cameras)/{ID})?"
)


def _default(document: Mapping[str, Any], address: str) -> Any:
    """The default of an address that the document leaves out. Raises ZygomorphError."""
    if SWITCHES.match(address):
        return True
    if WHOLES.match(address):
        return {}
    spec = spec_at(document, address)
    if spec is None or address.rsplit("/", 1)[-1] in ("0", "1", "2"):
        raise ZygomorphError(
            f"What stands at {address} cannot differ between variants.",
            "Choose a value, a step, a piece or a look.",
        )
    return spec.default


def _now(document: Mapping[str, Any], address: str) -> Any:
    """The value at an address. Raises ZygomorphError where its owner is gone, or nothing there
    can be switched."""
    default = _default(document, address)
    owner = OWNER.match(address)
    if owner and owner[0]:
        value_at(document, owner[0])
    try:
        return value_at(document, address)
    except EditError:
        return default


def _variant(document: Mapping[str, Any], name: str) -> dict[str, Any]:
    for variant in document.get("variants", []):
        if variant["id"] == name:
            found: dict[str, Any] = variant
            return found
    raise ZygomorphError(f"The study has no variant {name!r}.", "It may have been removed.")


def _option(variant: Mapping[str, Any], name: str) -> dict[str, Any]:
    for option in variant["options"]:
        if option["id"] == name:
            found: dict[str, Any] = option
            return found
    raise ZygomorphError(f"The variant has no option {name!r}.", "It may have been removed.")


def addresses_of(variant: Mapping[str, Any]) -> list[str]:
    """Addresses of what a variant switches, in the order in which they joined."""
    found: dict[str, None] = {}
    for option in variant["options"]:
        found |= dict.fromkeys(option.get("kept", {}))
    return list(found)


def _put(variant: str, option: str, kept: Mapping[str, Any]) -> dict[str, Any]:
    path = f"/variants/{variant}/options/{option}/kept"
    return {"do": "set", "path": path, "value": dict(kept)}


def choose(document: Mapping[str, Any], name: str, option: str) -> Operations:
    """Edits that bring what an option keeps into the study, and keep what was there."""
    variant = _variant(document, name)
    before, after = _option(variant, variant["chosen"]), _option(variant, option)
    if before["id"] == after["id"]:
        return []
    operations: Operations = []
    kept = {}
    for address, value in after.get("kept", {}).items():
        try:
            kept[address] = _now(document, address)
        except ZygomorphError:
            # Its owner is gone for now, and may come back by an undo.
            kept[address] = value
            continue
        operations.append({"do": "set", "path": address, "value": value})
    return [
        *operations,
        _put(name, before["id"], kept),
        _put(name, after["id"], {}),
        {"do": "set", "path": f"/variants/{name}/chosen", "value": option},
    ]


def differ(document: Mapping[str, Any], name: str, address: str) -> Operations:
    """Edits after which the value at an address may differ between a variant's options; at first
    all have the present one."""
    variant = _variant(document, name)
    now = _now(document, address)
    for other in document.get("variants", []):
        taken = [a for a in addresses_of(other) if _overlaps(a, address)]
        if taken:
            raise ZygomorphError(
                f"“{other['name']}” switches that already.", "Take it out there first."
            )
    return [
        _put(name, option["id"], {**option.get("kept", {}), address: now})
        for option in variant["options"]
        if option["id"] != variant["chosen"]
    ]


def _overlaps(one: str, other: str) -> bool:
    return one == other or one.startswith(f"{other}/") or other.startswith(f"{one}/")


def same(document: Mapping[str, Any], name: str, address: str) -> Operations:
    """Edits after which all options of a variant have the present value at an address."""
    return [
        _put(name, option["id"], {a: v for a, v in option["kept"].items() if a != address})
        for option in _variant(document, name)["options"]
        if address in option.get("kept", {})
    ]


def add_option(document: Mapping[str, Any], name: str, option: str, title: str) -> Operations:
    """Edits that add an option like the chosen one, and choose it."""
    variant = _variant(document, name)
    kept: dict[str, Any] = {}
    for address in addresses_of(variant):
        try:
            kept[address] = _now(document, address)
        except ZygomorphError:
            kept[address] = next(
                o["kept"][address] for o in variant["options"] if address in o.get("kept", {})
            )
    last = variant["options"][-1]["id"]
    item = {"id": option, "name": title, "kept": {}}
    return [
        {"do": "insert", "path": f"/variants/{name}/options", "item": item, "after": last},
        _put(name, variant["chosen"], kept),
        {"do": "set", "path": f"/variants/{name}/chosen", "value": option},
    ]


def remove_option(document: Mapping[str, Any], name: str, option: str) -> Operations:
    """Edits that remove an option; where it is chosen, the first other one is chosen instead. With
    its last option but one a variant decides nothing any more, and goes as a whole."""
    variant = _variant(document, name)
    _option(variant, option)
    if len(variant["options"]) <= 2:
        rest = next((o["id"] for o in variant["options"] if o["id"] != option), option)
        operations = choose(document, name, rest)
        return [*operations, {"do": "remove", "path": f"/variants/{name}"}]
    operations = []
    if option == variant["chosen"]:
        rest = next(o["id"] for o in variant["options"] if o["id"] != option)
        operations = choose(document, name, rest)
    return [*operations, {"do": "remove", "path": f"/variants/{name}/options/{option}"}]


def wrong_variants(document: Mapping[str, Any]) -> list[tuple[str, str]]:
    """(JSON pointer, message) of each rule that a document's variants break."""
    found = []
    variants = document.get("variants", [])
    if len({v["id"] for v in variants}) < len(variants):
        found.append(("/variants", "an id is used twice"))
    for k, variant in enumerate(variants):
        ids = [option["id"] for option in variant["options"]]
        if len(set(ids)) < len(ids):
            found.append((f"/variants/{k}/options", "an id is used twice"))
        if variant["chosen"] not in ids:
            found.append((f"/variants/{k}/chosen", f"there is no option {variant['chosen']!r}"))
            continue
        chosen = ids.index(variant["chosen"])
        if variant["options"][chosen].get("kept"):
            place = f"/variants/{k}/options/{chosen}/kept"
            found.append((place, "what the chosen option has stands in the study itself"))
    return found
