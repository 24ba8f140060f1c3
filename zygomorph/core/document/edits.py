"""Edits of a study document: set, insert, move, remove, addressed by ids.

A path is written like a JSON pointer, but elements of a list are named by their ``id``:
``/pieces/pond/recipe/a2/values/amplitude``. Lists whose elements have no id (vectors, keys) are
addressed by number, or set as a whole.
"""

from __future__ import annotations

import copy
from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from zygomorph.core.errors import ZygomorphError

Path = Annotated[str, Field(pattern=r"^/[^/]+(/[^/]+)*$", max_length=400)]


class EditError(ZygomorphError):
    """An edit names a place that is not there."""


class _Operation(BaseModel):
    model_config = ConfigDict(extra="forbid")
    path: Path


class Set(_Operation):
    """Set the value at a path. ``old`` is what the sender saw there."""

    do: Literal["set"]
    value: Any
    old: Any = None


class Insert(_Operation):
    """Insert an element with an id into the list at ``path``, after the element named."""

    do: Literal["insert"]
    item: dict[str, Any]
    after: str | None = None


class Move(_Operation):
    """Move the element at ``path`` within its list, after the element named."""

    do: Literal["move"]
    after: str | None = None


class Remove(_Operation):
    """Remove the element or key at ``path``."""

    do: Literal["remove"]


Operation = Annotated[Set | Insert | Move | Remove, Field(discriminator="do")]


def _step_into(here: Any, part: str, path: str) -> Any:
    if isinstance(here, dict):
        if part not in here:
            raise EditError(f"There is nothing at {path}.", "It may have been removed meanwhile.")
        return here[part]
    if isinstance(here, list):
        return here[_index(here, part, path)]
    raise EditError(f"There is nothing at {path}.", "Its parent holds no parts.")


def _index(items: list[Any], part: str, path: str) -> int:
    for index, item in enumerate(items):
        if isinstance(item, dict) and item.get("id") == part:
            return index
    if part.isdigit() and int(part) < len(items):
        item = items[int(part)]
        # What has an id is found by it alone; a signal in a vector has none.
        if not (isinstance(item, dict) and "id" in item):
            return int(part)
    raise EditError(f"There is nothing at {path}.", "It may have been removed meanwhile.")


def value_at(document: Any, path: str) -> Any:
    """The value at a path. Raises EditError."""
    here = document
    for part in path.strip("/").split("/"):
        here = _step_into(here, part, path)
    return here


def _parent(document: Any, path: str, create: bool = False) -> tuple[Any, str]:
    parts = path.strip("/").split("/")
    here = document
    for part in parts[:-1]:
        if create and isinstance(here, dict) and part not in here:
            here[part] = {}
        here = _step_into(here, part, path)
    return here, parts[-1]


def _place_after(items: list[Any], after: str | None, path: str) -> int:
    return 0 if after is None else _index(items, after, f"{path} after {after}") + 1


def _before(items: list[Any], index: int) -> str | None:
    return items[index - 1]["id"] if index > 0 else None


def apply_one(document: dict[str, Any], operation: Any) -> dict[str, Any]:
    """Apply an operation in place and return its inverse as JSON. Raises EditError."""
    path = operation.path
    if isinstance(operation, Set):
        holder, name = _parent(document, path, create=True)
        inverse: dict[str, Any]
        if isinstance(holder, dict):
            missing = name not in holder
            inverse = (
                {"do": "remove", "path": path}
                if missing
                else {"do": "set", "path": path, "value": holder[name]}
            )
            holder[name] = copy.deepcopy(operation.value)
            return inverse
        if not isinstance(holder, list):
            raise EditError(f"There is nothing at {path}.", "Its parent holds no parts.")
        index = _index(holder, name, path)
        inverse = {"do": "set", "path": path, "value": holder[index]}
        holder[index] = copy.deepcopy(operation.value)
        return inverse
    if isinstance(operation, Insert):
        holder, name = _parent(document, path, create=True)
        if isinstance(holder, dict) and name not in holder:
            holder[name] = []
        items = _step_into(holder, name, path)
        if not isinstance(items, list) or "id" not in operation.item:
            raise EditError(f"Nothing can be inserted at {path}.", "Give a list, and an item id.")
        index = _place_after(items, operation.after, path)
        items.insert(index, copy.deepcopy(operation.item))
        return {"do": "remove", "path": f"{path}/{operation.item['id']}"}
    holder, name = _parent(document, path)
    if isinstance(operation, Move):
        if not isinstance(holder, list):
            raise EditError(f"{path} is not in a list.", "Only elements of lists can be moved.")
        index = _index(holder, name, path)
        was_after = _before(holder, index)
        if operation.after == name:
            return {"do": "move", "path": path, "after": was_after}
        item = holder.pop(index)
        try:
            holder.insert(_place_after(holder, operation.after, path), item)
        except EditError:
            holder.insert(index, item)
            raise
        return {"do": "move", "path": path, "after": was_after}
    if isinstance(holder, list):
        index = _index(holder, name, path)
        was_after = _before(holder, index) if isinstance(holder[index], dict) else None
        item = holder.pop(index)
        return {"do": "insert", "path": path.rsplit("/", 1)[0], "item": item, "after": was_after}
    old = _step_into(holder, name, path)
    del holder[name]
    return {"do": "set", "path": path, "value": old}


def apply_edit(
    document: dict[str, Any], operations: Iterable[Any]
) -> tuple[dict[str, Any], list[dict[str, Any]]]:
    """A new document with all operations applied, and the operations that undo them, in order.

    The given document stays as it was. Raises EditError.
    """
    changed = copy.deepcopy(document)
    inverse = [apply_one(changed, operation) for operation in operations]
    return changed, inverse[::-1]


def touched_paths(operations: Iterable[Any]) -> list[str]:
    """The paths an edit speaks of; an insertion speaks of the new element, and what takes an
    element without an id out of its list, or elsewhere in it, of the whole list, since it changes
    the numbers of the others."""
    touched = []
    for operation in operations:
        holder, _, name = operation.path.rpartition("/")
        if isinstance(operation, Insert):
            touched.append(f"{operation.path}/{operation.item.get('id', '')}")
        elif name.isdigit() and not isinstance(operation, Set):
            touched.append(holder)
        else:
            touched.append(operation.path)
    return touched


def where_it_can(document: Any, operation: Any) -> Any:
    """An operation that puts an element behind another, or at the end of the list where that one
    is no longer there."""
    if not isinstance(operation, (Insert, Move)) or operation.after is None:
        return operation
    path = operation.path if isinstance(operation, Insert) else operation.path.rpartition("/")[0]
    items = value_at(document, path)
    try:
        _place_after(items, operation.after, path)
    except EditError:
        return operation.model_copy(update={"after": items[-1]["id"] if items else None})
    return operation


def clash(one: Iterable[str], other: Iterable[str]) -> str | None:
    """The first path of ``one`` that is a prefix of a path of ``other``, or the other way round."""
    others = list(other)
    for path in one:
        for against in others:
            if path == against or path.startswith(against + "/") or against.startswith(path + "/"):
                return path if len(path) >= len(against) else against
    return None
