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


def carries_itself(document: Mapping[str, Any], by: str, name: str) -> bool:
    """Whether a piece or marker is its own parent, directly or through others."""
    known: dict[tuple[str, str], Part] = {(r.kind, r.id): r for r in roots(document)}
    seen: set[tuple[str, str]] = set()
    here: tuple[str, str] | None = (by, name)
    while here is not None and here not in seen:
        seen.add(here)
        root = known.get(here)
        carried = root and root.given.get("carried")
        here = (carried["by"], carried["id"]) if carried else None
    return here == (by, name)
