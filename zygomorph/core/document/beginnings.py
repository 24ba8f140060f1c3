"""What a study and its pieces have where the document says nothing: looks, lights, a camera and a
backdrop. It is written into the document, so that each can be edited by its address."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from typing import Any, Literal, cast

from zygomorph.core.document.parts import COLLECTIONS
from zygomorph.core.values.definitions import ShownDefinition
from zygomorph.core.values.entries import definitions


def beginnings(sort: Literal["look", "light", "camera", "backdrop"]) -> list[dict[str, Any]]:
    """What entries of a sort declare that there is at first, as the document has it."""
    entries = cast(Mapping[str, ShownDefinition], definitions(sort))
    return [
        {sort: key, "values": {}, **copy.deepcopy(dict(begun))}
        for key, definition in entries.items()
        for begun in definition.begins
    ]


def completed(document: Mapping[str, Any]) -> dict[str, Any]:
    """The document with what it leaves out. It may be wrong in any place."""
    found = dict(document)
    for collection in COLLECTIONS:
        if collection.entries in ("light", "camera", "backdrop") and collection.key not in found:
            begun = beginnings(collection.entries)
            found[collection.key] = begun[0] if collection.single else begun
    for collection in COLLECTIONS:
        if collection.values is not None and collection.key not in found:
            found[collection.key] = {"values": {}}
    pieces = found.get("pieces")
    if isinstance(pieces, list):
        found["pieces"] = [_with_looks(piece) for piece in pieces]
    return found


def _with_looks(piece: Any) -> Any:
    if not isinstance(piece, Mapping) or "looks" in piece:
        return piece
    return {**piece, "looks": beginnings("look")}
