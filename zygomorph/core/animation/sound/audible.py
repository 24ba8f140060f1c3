"""What of a sound is heard while a loop plays."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from zygomorph.core.animation.sound.hearing import SOURCE_VALUES
from zygomorph.core.document.parts import parts
from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.entries import definitions


@dataclass(frozen=True)
class Audible:
    """A part of a sound that the study listens to.

    name : a digest, or the name of a sound that comes with the program
    begin : which second of it is frame 0
    """

    name: str
    begin: float


def audible(document: Mapping[str, Any]) -> list[Audible]:
    """The sounds that something in a study listens to that is shown and switched on, each part
    once, in the order in which they stand."""
    found: dict[Audible, None] = {}
    for part in parts(document):
        if not part.visible:
            continue
        if part.definition is not None and listens(part.definition):
            found |= dict.fromkeys(_heard(part.given.get("values", {})))
        for value in part.values():
            for signal in _signals(value.given):
                if listens(definitions("signal")[signal["signal"]]):
                    found |= dict.fromkeys(_heard(signal))
    return list(found)


def listens(definition: Definition) -> bool:
    """Whether an entry listens to a sound."""
    return any(value.kind == "sound" for value in definition.values.values())


def _signals(given: Any) -> Iterator[Mapping[str, Any]]:
    """The signals in a value: of its components, and of both qualities."""
    if isinstance(given, Mapping):
        if "signal" in given:
            yield given
        else:
            for inner in given.values():
                yield from _signals(inner)
    elif isinstance(given, list):
        for inner in given:
            yield from _signals(inner)


def _heard(values: Mapping[str, Any]) -> Iterator[Audible]:
    track = values.get("track", SOURCE_VALUES["track"].default)
    name = values.get("file", "") if track == "file" else track
    begin = values.get("begin", 0.0)
    if name:
        yield Audible(str(name), float(begin) if isinstance(begin, int | float) else 0.0)
