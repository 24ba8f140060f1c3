"""What a document says of parents: a piece, marker, step or mask layer may be attached to another
piece or marker, a layer also to another layer of its mask."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from zygomorph.core.document.parts import Part, parts, parts_of, roots, steps_of


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


def sticks_to_surfaces(document: Mapping[str, Any]) -> bool:
    """Whether something sticks to the surface of a piece."""
    return any(part.given["carried"].get("at_rest") for part in attached_parts(document))


# The kind and id of a part for where it is on the stage, or ("mesh", id) for the mesh of a piece,
# which depends on more.
Node = tuple[str, str]
MESH = "mesh"


def depends_on(document: Mapping[str, Any], by: str, name: str) -> set[Node]:
    """Pieces, markers and cameras that one of them is moved by, directly or through others: what
    carries it, what a camera looks at or has in focus, and where a surface carries it, all that
    this surface depends on."""
    known: dict[Node, Part] = {(r.kind, r.id): r for r in roots(document)}
    found: set[Node] = set()
    waiting = [(by, name)]
    while waiting:
        kind, each = waiting.pop()
        root = known.get(("piece" if kind == MESH else kind, each))
        if root is None:
            continue
        after = list(_of_mesh(document, root) if kind == MESH else _moved_by(root))
        waiting += [node for node in after if node not in found]
        found.update(after)
    return found


def _moved_by(part: Part) -> Iterator[Node]:
    """What a part is attached to, and what a camera looks at, has in focus or goes along."""
    carried = part.given.get("carried")
    if carried and carried["by"] != "layer":
        yield carried["by"], carried["id"]
        if carried.get("at_rest") is not None:
            yield MESH, carried["id"]
    for value in part.values():
        if value.spec.kind == "anchor" and value.given:
            yield named(value.given)


def _of_mesh(document: Mapping[str, Any], piece: Part) -> Iterator[Node]:
    """What the mesh of a piece depends on: its place, and what its steps and masks name."""
    yield "piece", piece.id
    walked = (part for step in steps_of(piece) for part in parts_of(step))
    for part in walked:
        yield from _moved_by(part)
        for section in part.sections:
            for name, spec in section.specs.items():
                given = section.given.get(name, spec.default)
                if spec.kind == "piece" and given:
                    yield MESH, given
                if any(read == "camera" for option, read in spec.reads if option == given):
                    yield "camera", chosen_camera(document)


def chosen_camera(document: Mapping[str, Any]) -> str:
    """Id of the study's camera: the one that is chosen, or else the first."""
    cameras = [camera["id"] for camera in document.get("cameras", [])]
    chosen: str | None = document.get("camera")
    return chosen if chosen and chosen in cameras else next(iter(cameras), "")


def named(anchor: str) -> tuple[str, str]:
    """What stands at an address such as "/markers/m": ("marker", "m")."""
    kind, _, name = anchor.strip("/").partition("/")
    return kind.removesuffix("s"), name


# Kinds of what something may carry on the stage.
MOVED = ("piece", "marker", "light", "camera")


def carries_itself(document: Mapping[str, Any], by: str, name: str) -> bool:
    """Whether something is moved by itself, directly or through others."""
    return (by, name) in depends_on(document, by, name)
