"""The study document: read, checked, brought up to date.

The document itself stays the JSON that was written; the models of :mod:`zygomorph.core.schema`
check it, and :class:`Study` reads it.
"""

from __future__ import annotations

import difflib
import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import islice
from typing import Any, TypeVar

from pydantic import ValidationError

from zygomorph.core.addresses import links_in, number_at
from zygomorph.core.carriers import carries_itself, carrying_order
from zygomorph.core.catalogue import definitions, recipe_definitions
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.loop import Loop
from zygomorph.core.markers import MARKER_VALUES
from zygomorph.core.masks.layers import COMMON_VALUES
from zygomorph.core.place import PLACE_VALUES
from zygomorph.core.schema import FORMAT, VERSION, study_model
from zygomorph.core.ties import Sounds, Ties, made_sounds
from zygomorph.core.values import Value
from zygomorph.core.variants import wrong_variants
from zygomorph.core.versions import newest

T = TypeVar("T")
MAX_DOCUMENT_BYTES = 8_000_000
# Nobody reads more of them, and each takes time to be put into words.
MOST_PROBLEMS = 100
# Each link of a row is followed through all before it.
LONGEST_LINKS = 40


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
    for path, given, spec in _every_value(document):
        yield from _wrong_signals(path, given, spec)
    yield from _wrong_links(document)
    yield from _wrong_carriers(document)
    yield from wrong_variants(document)
    seen_pieces: set[str] = set()
    forms = definitions("form")
    for p, piece in enumerate(document["pieces"]):
        path = f"/pieces/{p}"
        if piece["id"] in seen_pieces:
            yield f"{path}/id", f"the id {piece['id']!r} is used twice"
        seen_pieces.add(piece["id"])
        seen: set[str] = set()
        groups = [group["id"] for group in piece.get("groups", [])]
        if len(set(groups)) < len(groups):
            yield f"{path}/groups", "an id is used twice"
        for s, step in enumerate(piece["recipe"]):
            if step["id"] in seen:
                yield f"{path}/recipe/{s}/id", f"the id {step['id']!r} is used twice"
            seen.add(step["id"])
            is_form = step["step"] in forms
            if s == 0 and not is_form:
                yield f"{path}/recipe/0/step", "a recipe begins with a form"
            if s > 0 and is_form:
                yield f"{path}/recipe/{s}/step", "a form can only stand first in a recipe"
            if step.get("group") is not None and step["group"] not in groups:
                yield f"{path}/recipe/{s}/group", f"there is no group {step['group']!r}"
            ids = [layer["id"] for layer in step.get("where", {}).get("layers", [])]
            if len(set(ids)) < len(ids):
                yield f"{path}/recipe/{s}/where/layers", "an id is used twice"
            try:
                carrying_order(step.get("where", {}).get("layers", []))
            except ValueError as error:
                yield f"{path}/recipe/{s}/where/layers", str(error)
            for n, layer in enumerate(step.get("where", {}).get("layers", [])):
                carried = layer.get("carried") or {}
                if carried.get("by") == "layer" and carried["id"] not in ids:
                    where = f"{path}/recipe/{s}/where/layers/{n}/carried/id"
                    yield where, f"this mask has no layer {carried['id']!r}"


def _wrong_links(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Links that come back to themselves, and rows of links that are too long to follow."""

    def depth(address: str, trail: tuple[str, ...]) -> int:
        """How many links stand in a row from an address on."""
        if address in trail or len(trail) > LONGEST_LINKS:
            raise ValueError("links follow one another in a circle" if address in trail else "")
        if address not in known:
            after = links_in(number_at(document, address))
            known[address] = max((1 + depth(each, (*trail, address)) for each in after), default=0)
        return known[address]

    known: dict[str, int] = {}
    for path, given, _ in _every_value(document):
        for address in links_in(given):
            try:
                too_long = depth(address, ()) >= LONGEST_LINKS
                reason = ""
            except ValueError as error:
                too_long, reason = True, str(error)
            if too_long:
                yield path, reason or f"more than {LONGEST_LINKS} links follow one another"


def _wrong_carriers(document: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Ids that are used twice, and what carries itself."""
    markers = document.get("markers", [])
    if len({marker["id"] for marker in markers}) < len(markers):
        yield "/markers", "an id is used twice"
    for by, held in (("piece", document["pieces"]), ("marker", markers)):
        for k, each in enumerate(held):
            if each.get("carried") and carries_itself(document, by, each["id"]):
                yield f"/{by}s/{k}/carried", f"this {by} would carry itself"


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
            if value.kind in ("number", "whole")
        }
        for name in (given.get("spread") or {}).get("to", {}):
            if name not in known:
                yield f"{path}/spread/to/{name}", "this signal has no such number"


def _every_value(document: Mapping[str, Any]) -> Iterator[tuple[str, Any, Value]]:
    """JSON pointer, value and declaration of each value that a document gives."""
    for m, marker in enumerate(document.get("markers", [])):
        for name, given in marker.get("place", {}).items():
            yield f"/markers/{m}/place/{name}", given, MARKER_VALUES[name]
    for p, piece in enumerate(document["pieces"]):
        for name, given in piece.get("place", {}).items():
            yield f"/pieces/{p}/place/{name}", given, PLACE_VALUES[name]
        for s, step in enumerate(piece["recipe"]):
            path = f"/pieces/{p}/recipe/{s}"
            for name, given in step.get("values", {}).items():
                yield (
                    f"{path}/values/{name}",
                    given,
                    recipe_definitions()[step["step"]].values[name],
                )
            for n, layer in enumerate(step.get("where", {}).get("layers", [])):
                own = definitions("layer")[layer["layer"]].values
                here = f"{path}/where/layers/{n}"
                for name, given in layer.get("values", {}).items():
                    yield f"{here}/values/{name}", given, own[name]
                for name, value in COMMON_VALUES.items():
                    if name in layer:
                        yield f"{here}/{name}", layer[name], value


def migrated(document: Any) -> dict[str, Any]:
    """The document in the present version.

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
    return document


def _depth_within(value: Any, limit: int) -> bool:
    if limit == 0:
        return False
    if isinstance(value, dict):
        return all(_depth_within(v, limit - 1) for v in value.values())
    if isinstance(value, list):
        return all(_depth_within(v, limit - 1) for v in value)
    return True


@dataclass(frozen=True)
class Study:
    """A checked document and ways to read it. The document is never changed in place.

    sounds : where the sounds are that its signals follow
    """

    document: Mapping[str, Any]
    sounds: Sounds = made_sounds
    _known: dict[Any, Any] = field(default_factory=dict, repr=False, compare=False)

    def once(self, key: Any, make: Callable[[], T]) -> T:
        """What ``make`` finds out about this document, found out once."""
        if key not in self._known:
            self._known[key] = make()
        return self._known[key]

    @property
    def name(self) -> str:
        return self.document["name"]

    @cached_property
    def loop(self) -> Loop:
        return Loop(**self.document.get("loop", {}))

    @cached_property
    def ties(self) -> Ties:
        return Ties(self.document, self.sounds)

    @property
    def markers(self) -> list[dict[str, Any]]:
        return self.document.get("markers", [])

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
