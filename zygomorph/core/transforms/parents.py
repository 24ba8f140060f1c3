"""What carries a mask layer or a step: a piece, a marker, or another layer of the same mask.

What is carried keeps the place it had when it was attached, and from then on goes where its carrier
goes: points are measured where they would be had the carrier not moved since.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.core.place import rotation
from zygomorph.core.resolve import Prepared

# Where a layer is: of the values it may have, the first that is there.
PLACES = ("centre", "position", "middle", "offset")
PlaceAt = Callable[[np.ndarray], np.ndarray]
# From times, the piece's place, and whether it is to be seen from the stage, to (4, 4).
SeenAt = Callable[[np.ndarray, np.ndarray, bool], np.ndarray]


def inverse(matrix: np.ndarray) -> np.ndarray:
    """(4, 4); of what is scaled to nothing, the pseudo-inverse."""
    try:
        found: np.ndarray = np.linalg.inv(matrix)
    except np.linalg.LinAlgError:
        found = np.linalg.pinv(matrix)
    return found


# From times, (T,) frames, to (T, 4, 4).
Course = Callable[[np.ndarray], np.ndarray]


@dataclass(frozen=True)
class Carrier:
    """start : (4, 4) where the carrier was when the layer was attached
    seen : where it is at a moment, (4, 4)
    moves : whether that differs from frame to frame
    in_piece : whether it is in the piece by itself, or else on the stage
    course : of what stands on the stage, where it is there
    """

    start: np.ndarray
    seen: SeenAt
    moves: bool
    in_piece: bool
    course: Course | None = None

    def since(self, times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        """(4, 4) how it has moved since the layer was attached."""
        moved: np.ndarray = self.seen(times, place, in_space) @ inverse(self.start)
        return moved

    def holding(self, times: np.ndarray, places: np.ndarray, in_space: bool) -> np.ndarray:
        """(T, 4, 4) from where what it carries has its values to the stage, on which they are seen
        and dragged. places : (T, 4, 4) from the piece to the stage"""
        if self.course is not None:
            # Seen from the piece and brought back from it, it is where it is.
            moved: np.ndarray = self.course(times) @ inverse(self.start)
            return moved
        held = []
        for k, place in enumerate(places):
            since = self.since(times[k : k + 1], place, in_space)
            held.append(since if in_space else place @ since)
        return np.stack(held)

    def matrix(self, times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        """(4, 4) that takes points to where they would be had the carrier not moved.

        place : (4, 4) from the piece to the stage
        in_space : whether the layer's points are those on the stage
        """
        return inverse(self.since(times, place, in_space))


def on_the_stage(at: PlaceAt) -> SeenAt:
    """A place on the stage, such as that of a piece."""

    def seen(times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        return at(times) if in_space else inverse(place) @ at(times)

    return seen


def by_a_layer(at: PlaceAt, itself_in_space: bool, above: Carrier | None) -> SeenAt:
    """The place of a layer, which another carrier may carry in turn."""

    def seen(times: np.ndarray, place: np.ndarray, in_space: bool) -> np.ndarray:
        now = at(times)
        if above is not None:
            now = above.since(times, place, itself_in_space) @ now
        if in_space == itself_in_space:
            return now
        return place @ now if in_space else inverse(place) @ now

    return seen


def layer_place(own: Prepared) -> PlaceAt:
    """Where a layer is by its own values, as a function of time."""

    def at(times: np.ndarray) -> np.ndarray:
        values = own.at(times)
        matrix = np.eye(4)
        name = next((n for n in PLACES if n in values.numbers), None)
        if name is not None:
            matrix[:3, 3] = values.vector(name)
        if "turn" in values.numbers and values.numbers["turn"].ndim == 2:
            matrix[:3, :3] = rotation(values.vector("turn"))
        return matrix

    return at


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


def carried_things(document: Mapping[str, Any]) -> Iterator[tuple[str, Mapping[str, Any]]]:
    """Address and carrier of every marker, piece, step and mask layer that something carries."""
    for marker in document.get("markers", []):
        yield from _carried(f"/markers/{marker['id']}", marker)
    for piece in document["pieces"]:
        at = f"/pieces/{piece['id']}"
        yield from _carried(at, piece)
        for step in piece["recipe"]:
            here = f"{at}/recipe/{step['id']}"
            yield from _carried(here, step)
            for layer in step.get("where", {}).get("layers", []):
                yield from _carried(f"{here}/where/layers/{layer['id']}", layer)


def _carried(address: str, part: Mapping[str, Any]) -> Iterator[tuple[str, Mapping[str, Any]]]:
    if part.get("carried"):
        yield address, part["carried"]


def carries_itself(document: Mapping[str, Any], by: str, name: str) -> bool:
    """Whether a piece or marker is carried by itself, directly or through others."""
    held = {
        **{("piece", p["id"]): p for p in document["pieces"]},
        **{("marker", m["id"]): m for m in document.get("markers", [])},
    }
    seen: set[tuple[str, str]] = set()
    here: tuple[str, str] | None = (by, name)
    while here is not None and here not in seen:
        seen.add(here)
        carried = held.get(here, {}).get("carried")
        here = (carried["by"], carried["id"]) if carried else None
    return here == (by, name)
