"""The study document: read, checked, brought up to date.

The document itself stays the JSON that was written; the models of
:mod:`zygomorph.core.document.schema`
check it, and :class:`Study` reads it.
"""

from __future__ import annotations

import difflib
import json
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import islice
from typing import Any, NamedTuple, TypeVar

import numpy as np
from pydantic import ValidationError

from zygomorph.core.document.addresses import links_in, number_at
from zygomorph.core.document.beginnings import completed
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parents import MOVED, carries_itself, carrying_order
from zygomorph.core.document.parts import (
    COLLECTIONS,
    Part,
    by_of,
    given_values,
    layers_of,
    looks_of,
    roots,
    steps_of,
)
from zygomorph.core.document.schema import FORMAT, VERSION, study_model
from zygomorph.core.document.signal_context import SignalContext, Sounds, made_sounds
from zygomorph.core.document.variants import wrong_variants
from zygomorph.core.document.versions import newest
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.geometry.images import Images
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.definitions import FormDefinition
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.value import Value

T = TypeVar("T")
MAX_DOCUMENT_BYTES = 8_000_000
# Nobody reads more of them, and each takes time to be put into words.
MOST_PROBLEMS = 100
# Each link of a row is followed through all before it.
LONGEST_LINKS = 40
# What was found out about a document and is kept with it.
KNOWN_BYTES = 64_000_000


def pointer(location: tuple[Any, ...], document: Any) -> str:
    """JSON pointer of a pydantic error location, without the names of union members."""
    parts: list[str] = []
    here = document
    for part in location:
        if (isinstance(here, Mapping) and part in here) or (
            isinstance(here, list) and isinstance(part, int) and part < len(here)
        ):
            here = here[part]
        elif part is location[-1] and isinstance(part, str) and isinstance(here, Mapping):
            here = None
        else:
            continue
        parts.append(str(part).replace("~", "~0").replace("/", "~1"))
    return "".join(f"/{part}" for part in parts)


def _message(error: Any) -> str:
    kind, context = error["type"], error.get("ctx", {})
    if kind == "extra_forbidden":
        return "this key is not known"
    if kind in ("union_tag_invalid", "literal_error"):
        expected = context.get("expected_tags") or context.get("expected", "")
        wrong = context.get("tag", error.get("input"))
        close = difflib.get_close_matches(
            str(wrong), [e.strip("' ") for e in str(expected).replace(" or ", ", ").split(",")], 1
        )
        hint = f"; did you mean {close[0]!r}?" if close else f"; expected one of {expected}"
        return f"{wrong!r} is not known{hint}"
    if kind == "missing":
        return "this key is required"
    if kind == "union_tag_not_found":
        return "the key that says which kind it is, is missing"
    return str(error["msg"][0]).lower() + str(error["msg"][1:])


def problems_of(error: ValidationError, document: Any) -> list[tuple[str, str]]:
    """(JSON pointer, message) of each error."""
    found = []
    for each in islice(error.errors(include_url=False), MOST_PROBLEMS):
        path = pointer(each["loc"], document)
        if each["type"] in ("union_tag_invalid", "union_tag_not_found"):
            name = each["ctx"].get("discriminator", "").strip("'")
            # A number's kind is told by a function, which pydantic names with its brackets.
            path += f"/{name}" if name.isidentifier() else "/signal"
        found.append((path, _message(each)))
    return found


def _beyond_the_schema(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Rules that hold between parts of a document."""
    for value in given_values(document):
        yield from _wrong_signals(value.pointer, value.given, value.spec)
    yield from _wrong_links(document)
    yield from _wrong_parents(document)
    yield from wrong_variants(document)
    yield from _wrong_camera(document)
    for piece in roots(document, "piece"):
        yield from _wrong_recipe(piece)
        yield from _wrong_looks(piece)


def _twice(ids: Sequence[str]) -> Iterator[tuple[int, str]]:
    """Number and id of each that stood before."""
    for number, each in enumerate(ids):
        if each in ids[:number]:
            yield number, each


def _wrong_recipe(piece: Part) -> Iterator[tuple[str, str]]:
    steps = list(steps_of(piece))
    for number, each in _twice([step.id for step in steps]):
        yield f"{piece.pointer}/recipe/{number}/id", f"the id {each!r} is used twice"
    groups = [group["id"] for group in piece.given.get("groups", [])]
    if len(set(groups)) < len(groups):
        yield f"{piece.pointer}/groups", "an id is used twice"
    for number, step in enumerate(steps):
        is_form = isinstance(step.definition, FormDefinition)
        if number == 0 and not is_form:
            yield f"{step.pointer}/step", "a recipe begins with a form"
        if number > 0 and is_form:
            yield f"{step.pointer}/step", "a form can only stand first in a recipe"
        group = step.given.get("group")
        if group is not None and group not in groups:
            yield f"{step.pointer}/group", f"there is no group {group!r}"
        yield from _wrong_mask(step)


def _wrong_looks(piece: Part) -> Iterator[tuple[str, str]]:
    looks = list(looks_of(piece))
    for number, each in _twice([look.id for look in looks]):
        yield f"{piece.pointer}/looks/{number}/id", f"the id {each!r} is used twice"
    for look in looks:
        yield from _wrong_mask(look)
        every = list(by_of(look))
        for number, each in _twice([by.id for by in every]):
            yield f"{look.pointer}/by/{number}/id", f"{each!r} goes by value twice"
        for by in every:
            yield from _wrong_mask(by)


def _wrong_mask(step: Part) -> Iterator[tuple[str, str]]:
    layers = list(layers_of(step))
    ids = [layer.id for layer in layers]
    if len(set(ids)) < len(ids):
        yield f"{step.pointer}/where/layers", "an id is used twice"
    try:
        carrying_order([layer.given for layer in layers])
    except ValueError as error:
        yield f"{step.pointer}/where/layers", str(error)
    for layer in layers:
        carried = layer.given.get("carried") or {}
        if carried.get("by") == "layer" and carried["id"] not in ids:
            yield f"{layer.pointer}/carried/id", f"this mask has no layer {carried['id']!r}"


def _wrong_links(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Links that come back to themselves, and rows of links that are too long to follow."""

    def depth(address: str, trail: tuple[str, ...]) -> int:
        """Length of the chain of links that begins at an address."""
        if address in trail or len(trail) > LONGEST_LINKS:
            raise ValueError("links follow one another in a circle" if address in trail else "")
        if address not in known:
            after = links_in(number_at(document, address))
            known[address] = max((1 + depth(each, (*trail, address)) for each in after), default=0)
        return known[address]

    known: dict[str, int] = {}
    for value in given_values(document):
        for address in links_in(value.given):
            try:
                too_long = depth(address, ()) >= LONGEST_LINKS
                reason = ""
            except ValueError as error:
                too_long, reason = True, str(error)
            if too_long:
                yield value.pointer, reason or f"more than {LONGEST_LINKS} links follow one another"


def _wrong_camera(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    chosen = document.get("camera")
    if chosen is not None and chosen not in [camera["id"] for camera in document["cameras"]]:
        yield "/camera", f"there is no camera {chosen!r}"


def _wrong_parents(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Ids that are used twice, and what is attached to itself."""
    for collection in (each for each in COLLECTIONS if not each.single):
        ids = [each["id"] for each in document.get(collection.key, [])]
        for number, each in _twice(ids):
            yield f"/{collection.key}/{number}/id", f"the id {each!r} is used twice"
    for root in roots(document):
        if root.kind in MOVED and carries_itself(document, root.kind, root.id):
            if root.given.get("carried"):
                yield f"{root.pointer}/carried", f"this {root.kind} would carry itself"
            else:
                yield root.pointer, f"this {root.kind} looks at what it carries itself"


def _wrong_signals(path: str, given: Any, spec: Value) -> Iterator[tuple[str, str]]:
    """What a value's signals may not do there."""
    if isinstance(given, list):
        for k, part in enumerate(given):
            yield from _wrong_signals(f"{path}/{k}", part, replace(spec, each=False))
    elif isinstance(given, dict) and "signal" not in given:
        for quality in ("draft", "final"):
            yield from _wrong_signals(f"{path}/{quality}", given.get(quality), spec)
    elif isinstance(given, dict):
        across = [name for name in ("stagger", "spread") if given.get(name)]
        if across and not spec.each:
            yield f"{path}/{across[0]}", "this value is one for all elements"
        known = {"factor_of_all", "offset_of_all"} | {
            name
            for name, value in definitions("signal")[given["signal"]].values.items()
            if kind_of(value).components == 1
        }
        for name in (given.get("spread") or {}).get("to", {}):
            if name not in known:
                yield f"{path}/spread/to/{name}", "this signal has no such number"


def migrated(document: Any) -> dict[str, Any]:
    """The document in the present version, with what it leaves out of looks, lights, cameras and
    the backdrop.

    Raises DocumentError where it is not a study or of a version that is not known.
    """
    if not isinstance(document, dict):
        raise DocumentError([("", "a study is a JSON object")])
    if document.get("format") != FORMAT:
        raise DocumentError([("/format", f"a study has the format {FORMAT!r}")])
    if isinstance(document.get("version"), int):
        document = newest(document, VERSION)
    version = document.get("version")
    if version != VERSION or isinstance(version, bool):
        raise DocumentError(
            [("/version", f"version {version!r} is not known here; the newest is {VERSION}")]
        )
    return completed(document)


def _depth_within(value: Any, limit: int) -> bool:
    if limit == 0:
        return False
    if isinstance(value, dict):
        return all(_depth_within(v, limit - 1) for v in value.values())
    if isinstance(value, list):
        return all(_depth_within(v, limit - 1) for v in value)
    return True


# From a study, the id of one of its pieces, a frame and whether at final quality, to its points in
# their order, (n, 3) metres on the stage, and whether they close; None where it has none.
Curves = Callable[["Study", str, float, bool], "tuple[np.ndarray, bool] | None"]


def no_curves(study: Study, piece_id: str, frame: float, final: bool) -> None:
    """Of a study that nobody evaluates."""
    return


# From a study, the id of one of its pieces, a frame and whether at final quality, to its mesh with
# its world transform, (4, 4); None where it has none.
Meshes = Callable[["Study", str, float, bool], "tuple[Mesh, np.ndarray] | None"]


def no_meshes(study: Study, piece_id: str, frame: float, final: bool) -> None:
    """Of a study that nobody evaluates."""
    return


class SurfacePlace(NamedTuple):
    """A place of the surface of a piece.

    at_rest : (3,) on the rest shape, metres
    smooth : metres over which the motion of the surface there is smoothed
    """

    piece: str
    at_rest: tuple[float, ...]
    smooth: float = 0.0


# From a study, a place of a surface in it, a frame and whether at final quality, to the frame of
# reference there, (4, 4) on the stage; None where there is no surface. See
# :func:`zygomorph.core.geometry.surface_frame.surface_frame`.
SurfaceFrames = Callable[["Study", SurfacePlace, float, bool], "np.ndarray | None"]


def no_surfaces(study: Study, place: SurfacePlace, frame: float, final: bool) -> None:
    """Of a study that nobody evaluates."""
    return


@dataclass(frozen=True)
class Study:
    """A checked document and ways to read it. The document is never changed in place.

    sounds : where the sounds are that its signals follow
    curves : where the points of pieces are that its cameras follow
    images : where the pictures are that lie behind and around it
    meshes : where the surfaces are that something may be put on
    surfaces : where the places of surfaces are that something sticks to
    """

    document: Mapping[str, Any]
    sounds: Sounds = made_sounds
    curves: Curves = field(default=no_curves, compare=False)
    images: Images = field(default_factory=Images, compare=False)
    meshes: Meshes = field(default=no_meshes, compare=False)
    surfaces: SurfaceFrames = field(default=no_surfaces, compare=False)
    _known: Memo[Any] = field(default_factory=lambda: Memo(KNOWN_BYTES), repr=False, compare=False)

    def with_document(self, document: Mapping[str, Any]) -> Study:
        """The same with another document, of which nothing is known yet."""
        return replace(self, document=document, _known=Memo(KNOWN_BYTES))

    def once(self, key: Any, make: Callable[[], T]) -> T:
        """What ``make`` finds out about this document, found out once."""
        found: T = self._known.once(key, make)
        return found

    @property
    def name(self) -> str:
        return self.document["name"]

    @cached_property
    def loop(self) -> Loop:
        return Loop(**self.document.get("loop", {}))

    @cached_property
    def signals(self) -> SignalContext:
        return SignalContext(self.document, self.sounds)

    @property
    def markers(self) -> list[dict[str, Any]]:
        return self.document.get("markers", [])

    @property
    def cameras(self) -> list[dict[str, Any]]:
        return self.document.get("cameras", [])

    @property
    def pieces(self) -> list[dict[str, Any]]:
        return self.document["pieces"]

    def piece(self, piece_id: str) -> dict[str, Any]:
        for piece in self.pieces:
            if piece["id"] == piece_id:
                return piece
        known = ", ".join(p["id"] for p in self.pieces)
        raise ZygomorphError(f"The study has no piece {piece_id!r}.", f"It has: {known or 'none'}.")


def check_document(document: Any, sounds: Sounds = made_sounds) -> Study:
    """Check a document and bring it up to date.

    Raises DocumentError with the JSON pointer of each problem.
    """
    document = migrated(document)
    if not _depth_within(document, 40):
        raise DocumentError([("", "the document is nested too deeply")])
    try:
        study_model().model_validate(document)
    except ValidationError as error:
        raise DocumentError(problems_of(error, document)) from None
    found = list(_beyond_the_schema(document))
    if found:
        raise DocumentError(found)
    return Study(document, sounds)


def parse_study(text: str | bytes) -> Study:
    """Read a study from JSON text. Raises DocumentError."""
    if len(text) > MAX_DOCUMENT_BYTES:
        raise DocumentError([("", f"the document is larger than {MAX_DOCUMENT_BYTES:,} bytes")])
    try:
        document = json.loads(text, parse_constant=_no_constant)
    except RecursionError:
        raise DocumentError([("", "the document is nested too deeply")]) from None
    except UnicodeDecodeError:
        raise DocumentError([("", "this is not text in UTF-8")]) from None
    except json.JSONDecodeError as error:
        raise DocumentError(
            [("", f"not JSON: {error.msg} in line {error.lineno}, column {error.colno}")]
        ) from None
    except ValueError as error:
        raise DocumentError([("", str(error))]) from None
    return check_document(document)


def _no_constant(name: str) -> float:
    raise ValueError(f"not JSON: {name} is not a number")
