"""What a result depends on besides its input and its values.

Found in one place, from which keys of the cache, the state history and the addresses of frames are
all made. A choice says itself which of its options read the piece's place or the camera; a value
of the kind "piece" names another piece; a definition says whether the frame counts besides its
values.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.resolve import Prepared, at_quality
from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.per_element import ORDER_VALUES
from zygomorph.core.values.value import Value


@dataclass(frozen=True)
class Dependencies:
    """place : the piece's world transform
    camera : where the study's camera is, as seen from the piece
    time : the frame, and the loop
    pieces : ids of other pieces, in the order in which they are named
    """

    place: bool = False
    camera: bool = False
    time: bool = False
    pieces: tuple[str, ...] = ()

    def joined(self, others: Iterable[Dependencies]) -> Dependencies:
        """These and those of others."""
        every = [self, *others]
        named = dict.fromkeys(piece for each in every for piece in each.pieces)
        return Dependencies(
            any(each.place for each in every),
            any(each.camera for each in every),
            any(each.time for each in every),
            tuple(named),
        )

    def seen_to_move(self, place_moves: bool, viewer_moves: bool) -> bool:
        """Whether places differ from frame to frame because the piece's own place does, or the
        study's camera."""
        return (place_moves and (self.place or self.camera)) or (viewer_moves and self.camera)

    def fingerprint(self, context: Context) -> bytes:
        """The same bytes where all that is depended on is the same, and only then.

        Raises what making the other pieces raises.
        """
        parts = []
        if self.place or self.camera:
            parts.append(b"place" + context.place.tobytes())
        if self.camera:
            parts.append(b"camera" + context.view.fingerprint)
        if self.time:
            parts.append(f"time{context.frame!r}/{context.loop!r}".encode())
        for piece in self.pieces:
            other = context.other(piece)
            parts.append(b"piece" + other.key.encode() + other.matrix.tobytes())
        return b"|".join(parts)


def _of_discrete(specs: Mapping[str, Value], discrete: Mapping[str, Any]) -> Dependencies:
    """By the options that are chosen and the pieces that are named."""
    reads: set[str] = set()
    pieces = []
    for name, spec in specs.items():
        given = discrete.get(name, spec.default)
        if spec.kind == "choice":
            reads |= {read for option, read in spec.reads if option == given}
        if spec.kind == "piece" and given and _applies(spec, specs, discrete):
            pieces.append(given)
    return Dependencies("place" in reads, "camera" in reads, False, tuple(pieces))


def _applies(spec: Value, specs: Mapping[str, Value], discrete: Mapping[str, Any]) -> bool:
    if spec.shown_when is None:
        return True
    name, options = spec.shown_when
    return discrete.get(name, specs[name].default) in options


def dependencies_of(definition: Definition | None, *groups: Prepared) -> Dependencies:
    """What an entry's result depends on.

    definition : None for values that belong to no entry
    groups : its values, its own first, each with the declarations they were prepared from
    """
    by_time = definition.by_time if definition is not None else None
    time = by_time is not None and by_time(groups[0].still.discrete_values)
    found = Dependencies(time=time)
    for group in groups:
        found = found.joined([_of_discrete(group.specs, group.still.discrete_values)])
        for each in group.per_element:
            signal = at_quality(each.value, each.signals.final)
            orders = (signal.get(name) for name in ("spread", "stagger"))
            found = found.joined(_of_discrete(ORDER_VALUES, order) for order in orders if order)
    return found
