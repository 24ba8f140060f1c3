"""Addresses in words, and the numbers of a study that others may follow."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from zygomorph.core.document.parts import GivenValue, Part, part_at, parts
from zygomorph.core.values.kinds import kind_of

# What is no value but may be switched.
SWITCHED = {"on": "in use", "visible": "shown", "look": "look", "place": "place"}


@dataclass(frozen=True)
class Followable:
    """A number that another may follow. owner : name of the piece or marker that has it"""

    address: str
    owner: str
    label: str

    def describe(self) -> dict[str, str]:
        return asdict(self)


def _numbered(step: Part) -> str:
    """A step by its place in the recipe and its title."""
    assert step.definition is not None  # it is a step
    return f"{int(step.pointer.rpartition('/')[2]) + 1} {step.definition.title}"


def _root(part: Part) -> Part:
    return part if part.owner is None else _root(part.owner)


def _before(part: Part, section: str) -> str:
    """What stands before the label of a number of a part."""
    if part.kind == "layer":
        assert part.owner is not None and part.definition is not None  # it is a layer
        return f"{_numbered(part.owner)}: {part.definition.title}, "
    if part.kind == "step":
        return f"{_numbered(part)}: "
    return "Place: " if part.kind == "piece" and section == "place" else ""


def _numbers(part: Part) -> Iterator[Followable]:
    owner = _root(part).given["name"]
    for section in part.sections:
        below = f"/{section.path}" if section.path else ""
        for name, spec in section.specs.items():
            if not (spec.moves and kind_of(spec).moves):
                continue
            count = kind_of(spec).components
            for component in range(count) if count > 1 else [None]:
                value = GivenValue(part, name, spec, None, component)
                address = f"{part.address}{below}/{name}"
                address += "" if component is None else f"/{component}"
                yield Followable(address, owner, _before(part, section.path) + value.label)


def followable(document: Mapping[str, Any]) -> list[Followable]:
    """Every number of a study that another may follow, those of markers last."""
    found = [(part, each) for part in parts(document) for each in _numbers(part)]
    of_markers = [each for part, each in found if part.kind == "marker"]
    return [each for part, each in found if part.kind not in ("marker", "look")] + of_markers


def address_words(document: Mapping[str, Any], address: str) -> str:
    """What stands at an address, in words: its piece where there are several, its step, its
    name."""
    names = address.strip("/").split("/")
    if names[0] not in ("pieces", "markers") or len(names) < 2:
        return f"the {' '.join(names)}"
    found = part_at(document, address)
    if found is None:
        gone = f"a {names[0].removesuffix('s')} that is gone"
        last = names[-1] if len(names) > 2 else ""
        return ", ".join(filter(None, [gone, SWITCHED.get(last, last)]))
    part, below = found
    words = []
    root = _root(part)
    if root.kind == "marker" or len(document.get("pieces", [])) > 1:
        words.append(root.given["name"])
    if part.kind in ("piece", "marker") and below.startswith("recipe/"):
        return ", ".join([*words, "a step that is gone"])
    if part.kind == "look":
        label = _label(part, below)
        return ", ".join([*words, f"look: {label}" if label else "look"])
    if part.kind == "piece":
        label = _label(part, below)
        return ", ".join([*words, f"place: {label}" if label else SWITCHED.get(below, below)])
    if part.kind == "marker":
        return ", ".join([*words, _label(part, below) or "place"])
    step = part if part.kind == "step" else part.owner
    assert step is not None  # a layer belongs to a step
    words.append(_numbered(step))
    if part.kind == "layer":
        assert part.definition is not None  # it is a layer
        words.append(part.definition.title)
    elif below.startswith("where/layers/"):
        return ", ".join([*words, "a layer that is gone"])
    last = below.rpartition("/")[2]
    return ", ".join([*words, _label(part, below) or SWITCHED.get(last, last)])


def _label(part: Part, below: str) -> str:
    """Label of the value that stands at a path below a part; "" where there is none."""
    for section in part.sections:
        name = below.removeprefix(f"{section.path}/") if section.path else below
        if name in section.specs:
            return section.specs[name].label.lower()
    return ""
