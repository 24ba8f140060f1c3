"""The one walker over everything in a study that has values.

A part is a piece, a marker, a light, a camera, the backdrop, the ground or the finish, or else a
step or a look of a piece, what of a look goes by value, or a mask layer of any of these. Each says
at which address the document has it, which entry of the library it is, and which values it has,
declared and given.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Literal

from zygomorph.core.values.by_values import by_values
from zygomorph.core.values.colours import AT, COLOUR_AT, is_moving_colour
from zygomorph.core.values.definitions import Definition, Sort
from zygomorph.core.values.entries import definitions, recipe_definitions
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.layer_values import LAYER_VALUES, LOOK_LAYER_VALUES
from zygomorph.core.values.place_values import MARKER_VALUES, PLACE_VALUES
from zygomorph.core.values.scene_values import FINISH_VALUES, GROUND_VALUES
from zygomorph.core.values.value import Value

Specs = Mapping[str, Value]
PartKind = Literal[
    "marker",
    "piece",
    "light",
    "camera",
    "backdrop",
    "ground",
    "finish",
    "step",
    "layer",
    "look",
    "by",
]


@dataclass(frozen=True)
class Collection:
    """Things of one kind in a study.

    key : of the list in the document
    place : the declared values of where each is on the stage, which it has under ``place``
    values : the declared values that one has under ``values``, where it is no entry
    entries : the sort of entries that they are, with values under ``values``, or None. A part's
        own key of that name says which entry it is
    single : whether there is one without an id instead of a list
    """

    key: str
    kind: PartKind
    place: Specs | None = None
    values: Specs | None = None
    entries: Sort | None = None
    single: bool = False


COLLECTIONS = (
    Collection("markers", "marker", MARKER_VALUES),
    Collection("pieces", "piece", PLACE_VALUES),
    Collection("lights", "light", entries="light"),
    Collection("cameras", "camera", entries="camera"),
    Collection("backdrop", "backdrop", entries="backdrop", single=True),
    Collection("ground", "ground", values=GROUND_VALUES, single=True),
    Collection("finish", "finish", values=FINISH_VALUES, single=True),
)


@dataclass(frozen=True)
class Section:
    """Values that stand together in a part.

    path : below the part, such as ``values``; "" where they are keys of the part itself
    """

    path: str
    specs: Specs
    given: Mapping[str, Any]


@dataclass(frozen=True)
class Part:
    """address : as edits have it, by ids; pointer : as errors have it, by numbers
    given : what the document has of it
    sections : its values
    definition : its entry of the library; None for a marker, a piece, or what goes by value
    owner : the part that it belongs to; None for what belongs to the study itself
    """

    HOLDS_NO_ARRAYS: ClassVar = True

    kind: PartKind
    address: str
    pointer: str
    given: Mapping[str, Any]
    sections: tuple[Section, ...]
    definition: Definition | None = None
    owner: Part | None = None

    @property
    def id(self) -> str:
        return self.given.get("id", "")

    @property
    def on(self) -> bool:
        """Whether it and all that it belongs to are switched on."""
        return self.given.get("on", True) and (self.owner is None or self.owner.on)

    @property
    def visible(self) -> bool:
        """Whether it is switched on, and its piece is shown."""
        shown = self.given.get("visible", True) and self.given.get("on", True)
        return shown and (self.owner is None or self.owner.visible)

    def within(self, kind: PartKind) -> str:
        """Id of the part of a kind that it is, or belongs to; "" where there is none."""
        if self.kind == kind:
            return self.id
        return "" if self.owner is None else self.owner.within(kind)

    def discrete(self) -> dict[str, Any]:
        """Its own values that are no numbers, with their defaults."""
        return {
            name: self.sections[0].given.get(name, spec.default)
            for name, spec in self.sections[0].specs.items()
            if not kind_of(spec).moves
        }

    def values(self) -> Iterator[GivenValue]:
        """Every value that the document gives."""
        for section in self.sections:
            below = f"/{section.path}" if section.path else ""
            for name, spec in section.specs.items():
                if name in section.given:
                    yield GivenValue(self, f"{below}/{name}".lstrip("/"), spec, section.given[name])


@dataclass(frozen=True)
class GivenValue:
    """path : below its part; component : 0 to 2 of one component of a vector, or None"""

    part: Part
    path: str
    spec: Value
    given: Any
    component: int | None = None

    @property
    def address(self) -> str:
        return f"{self.part.address}/{self.path}"

    @property
    def pointer(self) -> str:
        return f"{self.part.pointer}/{self.path}"

    @property
    def label(self) -> str:
        """Of the value, with its component."""
        spec = self.spec
        return spec.label if self.component is None else f"{spec.label} {'xyz'[self.component]}"

    def numbers(self) -> Iterator[GivenValue]:
        """The value itself, or each component of a vector; nothing of what is no number."""
        if is_moving_colour(self.given):
            label = f"{self.spec.label}: {COLOUR_AT.label.lower()}"
            spec = replace(COLOUR_AT, label=label)
            yield GivenValue(self.part, f"{self.path}/{AT}", spec, self.given[AT])
        if not kind_of(self.spec).moves:
            return
        if not isinstance(self.given, list):
            yield self
            return
        for k, given in enumerate(self.given):
            yield GivenValue(self.part, f"{self.path}/{k}", self.spec, given, k)


def _root(collection: Collection, index: int, given: Mapping[str, Any]) -> Part:
    at = f"/{collection.key}"
    address, pointer = (at, at) if collection.single else (f"{at}/{given['id']}", f"{at}/{index}")
    if collection.entries is not None:
        definition = definitions(collection.entries)[given[collection.entries]]
        section = Section("values", definition.values, given.get("values", {}))
        return Part(collection.kind, address, pointer, given, (section,), definition)
    if collection.values is not None:
        section = Section("values", collection.values, given.get("values", {}))
        return Part(collection.kind, address, pointer, given, (section,))
    assert collection.place is not None  # it has a place, values or an entry
    section = Section("place", collection.place, given.get("place", {}))
    return Part(collection.kind, address, pointer, given, (section,))


def _items(document: Mapping[str, Any], collection: Collection) -> Sequence[Mapping[str, Any]]:
    found: Any = document.get(collection.key, [])
    if collection.values is not None:
        # There is one always, with its defaults where nothing is said of it.
        return [found or {}]
    return [found] if collection.single and found else found


def step_part(given: Mapping[str, Any], piece: Part | None = None, index: int = 0) -> Part:
    """A step, by itself or of a piece."""
    definition = recipe_definitions()[given["step"]]
    section = Section("values", definition.values, given.get("values", {}))
    address, pointer = f"/recipe/{given['id']}", f"/recipe/{index}"
    if piece is not None:
        address, pointer = piece.address + address, piece.pointer + pointer
    return Part("step", address, pointer, given, (section,), definition, piece)


def steps_of(piece: Part) -> Iterator[Part]:
    """The steps of a piece's recipe, those that are switched off as well."""
    for index, step in enumerate(piece.given.get("recipe", [])):
        yield step_part(step, piece, index)


def _layers(owner: Part) -> Sequence[Mapping[str, Any]]:
    found: Sequence[Mapping[str, Any]] = owner.given.get("where", {}).get("layers", [])
    return found


def _layer(owner: Part, index: int, given: Mapping[str, Any]) -> Part:
    definition = definitions("layer")[given["layer"]]
    common = LAYER_VALUES if owner.kind == "step" else LOOK_LAYER_VALUES
    sections = (
        Section("values", definition.values, given.get("values", {})),
        Section("", common, given),
    )
    at = "where/layers"
    address, pointer = f"{owner.address}/{at}/{given['id']}", f"{owner.pointer}/{at}/{index}"
    return Part("layer", address, pointer, given, sections, definition, owner)


def layers_of(owner: Part) -> Iterator[Part]:
    """The layers of the mask of a step or a look, or of what goes by value, those that are switched
    off as well."""
    for index, given in enumerate(_layers(owner)):
        yield _layer(owner, index, given)


def _look(piece: Part, index: int, given: Mapping[str, Any]) -> Part:
    definition = definitions("look")[given["look"]]
    section = Section("values", definition.values, given.get("values", {}))
    address, pointer = f"{piece.address}/looks/{given['id']}", f"{piece.pointer}/looks/{index}"
    return Part("look", address, pointer, given, (section,), definition, piece)


def looks_of(piece: Part) -> Iterator[Part]:
    """The looks of a piece, those that are switched off as well."""
    for index, given in enumerate(piece.given.get("looks", [])):
        yield _look(piece, index, given)


def _by(look: Part, index: int, given: Mapping[str, Any]) -> Part:
    assert look.definition is not None  # it is an entry of the library
    specs = by_values(look.definition.values[given["id"]])
    section = Section("values", specs, given.get("values", {}))
    address, pointer = f"{look.address}/by/{given['id']}", f"{look.pointer}/by/{index}"
    return Part("by", address, pointer, given, (section,), None, look)


def by_of(look: Part) -> Iterator[Part]:
    """What of a look goes by value; the id of each is the name of the value."""
    for index, given in enumerate(look.given.get("by", [])):
        yield _by(look, index, given)


def parts_of(owner: Part) -> Iterator[Part]:
    """A part and all that belongs to it, in the order of the document."""
    yield owner
    if owner.kind == "piece":
        for step in steps_of(owner):
            yield from parts_of(step)
        for look in looks_of(owner):
            yield from parts_of(look)
    elif owner.kind in ("step", "look", "by"):
        yield from layers_of(owner)
        if owner.kind == "look":
            for by in by_of(owner):
                yield from parts_of(by)


def roots(document: Mapping[str, Any], kind: PartKind | None = None) -> Iterator[Part]:
    """What belongs to the study itself, of one kind or of all: markers, pieces, lights, cameras
    and the backdrop."""
    for collection in COLLECTIONS:
        if kind is None or collection.kind == kind:
            for index, given in enumerate(_items(document, collection)):
                yield _root(collection, index, given)


def parts(document: Mapping[str, Any]) -> Iterator[Part]:
    """Every part of a study that was checked against the schema."""
    for root in roots(document):
        yield from parts_of(root)


def given_values(document: Mapping[str, Any]) -> Iterator[GivenValue]:
    """Every value that a study gives."""
    for part in parts(document):
        yield from part.values()


def _by_id(items: Sequence[Mapping[str, Any]], name: str) -> tuple[int, Mapping[str, Any]] | None:
    return next(((k, each) for k, each in enumerate(items) if each.get("id") == name), None)


Found = tuple[Part, list[str]]


def _in_piece(piece: Part, names: list[str]) -> Found:
    """A step or look of a piece by the names below it; the piece itself where there is none."""
    match names:
        case ["looks", name, *below]:
            look = _by_id(piece.given.get("looks", []), name)
            if look is not None:
                return _in_look(_look(piece, *look), below)
        case ["recipe", name, *below]:
            step = _by_id(piece.given["recipe"], name)
            if step is not None:
                return _in_masked(step_part(step[1], piece, step[0]), below)
    return piece, names


def _in_look(look: Part, names: list[str]) -> Found:
    """What of a look goes by value, or a layer, by the names below it; the look itself where there
    is none."""
    match names:
        case ["by", name, *below]:
            by = _by_id(look.given.get("by", []), name)
            if by is not None:
                return _in_masked(_by(look, *by), below)
    return _in_masked(look, names)


def _in_masked(owner: Part, names: list[str]) -> Found:
    """A layer of a part's mask by the names below it; the part itself where there is none."""
    match names:
        case ["where", "layers", name, *below]:
            layer = _by_id(_layers(owner), name)
            if layer is not None:
                return _layer(owner, *layer), below
    return owner, names


def part_at(document: Mapping[str, Any], address: str) -> tuple[Part, str] | None:
    """The innermost part that an address lies in, and what of the address is left below it; None
    where it lies in none. Only parts on the way are made."""
    key, *below = address.strip("/").split("/")
    collection = next((each for each in COLLECTIONS if each.key == key), None)
    if collection is None:
        return None
    items = _items(document, collection)
    if collection.single:
        found = (0, items[0]) if items else None
    else:
        found = _by_id(items, below[0]) if below else None
        below = below[1:]
    if found is None:
        return None
    part = _root(collection, *found)
    if part.kind == "piece":
        part, below = _in_piece(part, below)
    return part, "/".join(below)
