"""Addresses in words, and the numbers of a study that others may follow."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from zygomorph.core.document.parts import COLLECTIONS, GivenValue, Part, part_at, parts
from zygomorph.core.values.kinds import kind_of

# What is no value but may be switched.
SWITCHED = {"on": "in use", "visible": "shown", "looks": "look", "place": "place"}


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


def _look_words(look: Part) -> str:
    """A look by its name, or its place among those of its piece."""
    number = int(look.pointer.rpartition("/")[2]) + 1
    return f"look {look.given.get('name') or number}" if number > 1 else "look"


def _valued(by: Part) -> str:
    """The value of a look that goes by value."""
    assert by.owner is not None and by.owner.definition is not None  # it is of a look
    return f"{by.owner.definition.values[by.id].label.lower()} by value"


def _root(part: Part) -> Part:
    return part if part.owner is None else _root(part.owner)


def _before(part: Part, section: str) -> str:
    """Words before the label of a number of a part."""
    if part.kind in ("layer", "by"):
        assert part.owner is not None  # it belongs to something
        own = part.definition.title if part.definition else _valued(part)
        return f"{_before(part.owner, '').rstrip(' :,')}: {own}, "
    if part.kind == "step":
        return f"{_numbered(part)}: "
    if part.kind == "look":
        return f"{_look_words(part)}: "
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
    walked = list(parts(document))
    of_pieces = [part for part in walked if part.kind in ("piece", "step", "layer", "look", "by")]
    markers = [part for part in walked if part.kind == "marker"]
    return [each for part in (*of_pieces, *markers) for each in _numbers(part)]


def address_words(document: Mapping[str, Any], address: str) -> str:
    """The value at an address, in words: its piece where there are several, its step, its
    name."""
    names = address.strip("/").split("/")
    collection = next((each for each in COLLECTIONS if each.key == names[0]), None)
    if collection is None or (len(names) < 2 and not collection.single):
        return f"the {' '.join(names)}"
    found = part_at(document, address)
    last = names[-1]
    if found is None:
        gone = f"a {collection.kind} that is gone"
        return ", ".join(filter(None, [gone, SWITCHED.get(last, last) if len(names) > 2 else ""]))
    part, below = found
    label = _label(part, below)
    if collection.kind != "piece":
        own = _root(part).given.get("name", f"the {collection.kind}")
        said = label or SWITCHED.get(last, "")
        return ", ".join(filter(None, [own, said]))
    words = [_root(part).given["name"]] if len(document["pieces"]) > 1 else []
    if part.kind == "piece":
        if below.startswith("recipe/"):
            return ", ".join([*words, "a step that is gone"])
        return ", ".join([*words, f"place: {label}" if label else SWITCHED.get(below, below)])
    chain: list[Part] = []
    here: Part | None = part
    while here is not None and here.kind != "piece":
        chain.insert(0, here)
        here = here.owner
    words += [_link_words(each) for each in chain]
    if part.kind != "layer" and below.startswith("where/layers/"):
        return ", ".join([*words, "a layer that is gone"])
    return ", ".join(
        [*words, label or SWITCHED.get(last, "" if part.kind == "look" else last)]
    ).rstrip(", ")


def _link_words(part: Part) -> str:
    if part.kind == "step":
        return _numbered(part)
    if part.kind == "look":
        return _look_words(part)
    return _valued(part) if part.definition is None else part.definition.title


def _label(part: Part, below: str) -> str:
    """Label of the value at a path below a part; "" where there is none."""
    for section in part.sections:
        name = below.removeprefix(f"{section.path}/") if section.path else below
        if name in section.specs:
            return section.specs[name].label.lower()
    return ""
