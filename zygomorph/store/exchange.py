"""Studies out of the store with all they use, and into it from elsewhere."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine

from zygomorph.core.document.files import digests_in
from zygomorph.core.document.study import parse_study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats.bundle import Bundle, read_bundle, write_bundle
from zygomorph.core.formats.collection import Packed, is_archive, studies_in
from zygomorph.core.formats.names import safe_name
from zygomorph.store.assets import Assets
from zygomorph.store.presets import Presets
from zygomorph.store.studies import Stored, Studies


@dataclass(frozen=True)
class Brought:
    """What became of one file with a study.

    name : of the file; study : None where it could not be brought in, for which error says why
    missing : digests that the study names and that are neither in the bundle nor in the store
    presets : how many presets came with it that were not here
    """

    name: str
    study: Stored | None = None
    error: ZygomorphError | None = None
    missing: tuple[str, ...] = ()
    presets: int = 0


class Exchange:
    def __init__(self, engine: Engine) -> None:
        self._studies, self._presets = Studies(engine), Presets(engine)
        self._assets = Assets(engine)

    def bundle(self, document: Mapping[str, Any]) -> bytes:
        """A study with all it uses, and the presets that its groups are named after."""
        files = self._assets.bundled(digests_in(document))
        names = {group["name"] for piece in document["pieces"] for group in piece.get("groups", [])}
        presets = [p.document for p in self._presets.all() if p.document["name"] in names]
        return write_bundle(document, files, presets)

    def all(self) -> Iterator[Packed]:
        """All studies of the gallery as bundles."""
        for stored in self._studies.all():
            name = f"{safe_name(stored.document['name'])}.zip"
            yield Packed(name, self.bundle(stored.document))

    def bring_in(self, data: bytes, name: str) -> list[Brought]:
        """Store the studies of a bundle, a document, or a ZIP of such; each is stored whole or not
        at all, and one that is wrong does not hold up the others.

        Raises ZygomorphError where there is none in it.
        """
        return [self._bring(packed) for packed in studies_in(data, name)]

    def _bring(self, packed: Packed) -> Brought:
        try:
            bundle = (
                read_bundle(packed.data)
                if is_archive(packed.data)
                else Bundle(parse_study(packed.data).document, ())
            )
            # The study comes last: it is there when all that it uses is.
            for file in bundle.files:
                self._assets.add_bundled(file)
            known = {_content(preset.document) for preset in self._presets.all()}
            new = [preset for preset in bundle.presets if _content(preset) not in known]
            for preset in new:
                self._presets.keep(dict(preset))
            stored = self._studies.create(dict(bundle.document))
        except ZygomorphError as error:
            return Brought(packed.name, error=error)
        named = digests_in(bundle.document)
        there = {file.digest for file in self._assets.bundled(named)}
        missing = tuple(digest for digest in named if digest not in there)
        return Brought(packed.name, stored, missing=missing, presets=len(new))


def _content(preset: Mapping[str, Any]) -> str:
    return json.dumps(preset, sort_keys=True)
