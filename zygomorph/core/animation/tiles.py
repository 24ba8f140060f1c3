"""What repeats in space: a view that has gone on by whole tiles of it is the same again."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.animation.resolve import at_quality
from zygomorph.core.document.parts import Part, parts
from zygomorph.core.document.study import Study
from zygomorph.core.values.definitions import StepDefinition

# Components of places along which tiles lie side by side.
LEVEL = ("0", "2")


def tiles_of(study: Study) -> list[tuple[Part, float]]:
    """Steps that are on and repeat in space, with the sides of their tiles in metres."""
    return study.once("tiles", lambda: list(_tiles(study)))


def _tiles(study: Study) -> Iterator[tuple[Part, float]]:
    for part in parts(study.document):
        definition = part.definition
        if part.visible and isinstance(definition, StepDefinition) and definition.tile:
            spec = definition.values[definition.tile]
            given = part.given.get("values", {}).get(definition.tile, spec.default)
            yield part, float(at_quality(given, False))


def side_of(study: Study) -> float | None:
    """The tile after whole ones of which everything is the same again, metres; of several the
    largest, into which the others fit if somebody thought of it."""
    return max((side for _, side in tiles_of(study)), default=None)


def travel_period(study: Study, part: Part, address: str) -> float | None:
    """After how many metres a view is the same again that moves with one component of a place; None
    where nothing repeats, or the place carries no camera."""
    side = side_of(study)
    if side is None or address.rsplit("/", 1)[-1] not in LEVEL:
        return None
    carries = [c["carried"]["id"] for c in study.cameras if c.get("carried")]
    if part.kind == "camera":
        moves_it = "/position/" in address or "/target/" in address
    else:
        moves_it = part.kind == "marker" and part.id in carries and "/move/" in address
    return side if moves_it else None
