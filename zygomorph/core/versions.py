"""Older versions of the study document, brought up to date one version at a time."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from typing import Any


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


# From a version to the next: takes the old document, returns the new one.
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _ridged_is_a_fold}
