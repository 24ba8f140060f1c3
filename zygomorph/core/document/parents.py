"""What a document says of parents: a piece, marker, step or mask layer may be attached to another
piece or marker, a layer also to another layer of its mask."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from zygomorph.core.document.parts import Part, parts, roots


def carrying_order(layers: Sequence[Mapping[str, Any]]) -> list[str]:
    """Ids of layers, each after the one that carries it.

    Raises ValueError where layers carry each other in a circle.
    """
    carriers = {
        layer["id"]: layer["carried"]["id"]
        for layer in layers
        if (layer.get("carried") or {}).get("by") == "layer"
    }
    order: list[str] = []
    for layer in layers:
        way = [layer["id"]]
        while way[-1] in carriers:
            upper = carriers[way[-1]]
            if upper in way:
                raise ValueError("two mask layers carry each other")
            way.append(upper)
        order += [each for each in reversed(way) if each not in order]
    return order


def attached_parts(document: Mapping[str, Any]) -> Iterator[Part]:
    """Every marker, piece, step and mask layer that has a parent."""
    return (part for part in parts(document) if part.given.get("carried"))


def depends_on(document: Mapping[str, Any], by: str, name: str) -> set[tuple[str, str]]:
    """Pieces, markers and cameras that one of them is moved by, directly or through others: what
    carries it, and what a camera looks at or has in focus."""
    known: dict[tuple[str, str], Part] = {(r.kind, r.id): r for r in roots(document)}
    found: set[tuple[str, str]] = set()
    waiting = [(by, name)]
    while waiting:
        root = known.get(waiting.pop())
        if root is None:
            continue
        carried = root.given.get("carried")
        after = [(carried["by"], carried["id"])] if carried else []
        after += [
            named(value.given)
            for value in root.values()
            if value.spec.kind == "anchor" and value.given
        ]
        waiting += [each for each in after if each not in found]
        found.update(after)
    return found


def named(anchor: str) -> tuple[str, str]:
    """What stands at an address such as "/markers/m": ("marker", "m")."""
    kind, _, name = anchor.strip("/").partition("/")
    return kind.removesuffix("s"), name


def carries_itself(document: Mapping[str, Any], by: str, name: str) -> bool:
    """Whether something is moved by itself, directly or through others."""
    return (by, name) in depends_on(document, by, name)
