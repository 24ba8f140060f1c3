"""Files that were brought in, kept by the SHA-256 of their bytes."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from zygomorph.core.animation.context import no_assets
from zygomorph.core.animation.sound.errors import SoundFileError
from zygomorph.core.document.signal_context import made_sounds
from zygomorph.core.formats.bundle import BundledFile
from zygomorph.core.formats.read_in_process import (
    read_film,
    read_image,
    read_kept_film,
    read_mesh,
    read_sound,
)
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.sound.track import Track
from zygomorph.store.database import writing
from zygomorph.store.images import StoredImages
from zygomorph.store.models import AssetRow


class AssetFiles:
    """Files by the digests of their bytes, read when they are wanted and kept while there is room.

    row : gives a file by its digest, or None
    """

    def __init__(
        self, row: Callable[[str], AssetRow | None], cache_bytes: int = 256_000_000
    ) -> None:
        self._row = row
        self._meshes: Memo[Mesh] = Memo(cache_bytes)
        self.images = StoredImages(row, cache_bytes)
        self._sounds: Memo[Track] = Memo(cache_bytes)

    def sound(self, name: str) -> Track | None:
        """A stored sound by its digest, or one that comes with the program; None where there is
        none of that name."""
        made = made_sounds(name)
        if made is not None:
            return made
        kept = self._sounds.get(name)
        if kept is not None:
            return kept
        row = self._row(name)
        if row is None:
            return None
        try:
            track = read_sound(row.data)
        except SoundFileError:
            # A file of another kind has this digest.
            return None
        self._sounds.put(name, track, track.samples.nbytes)
        return track

    def form(self, digest: str) -> tuple[str, dict[str, Any]]:
        """The form that shows a stored file, and its values."""
        topology = self.mesh(digest).topology
        # A mesh stays a mesh, whatever curves stand beside it.
        if topology.curve_count and not topology.face_count:
            return "outline", {"drawing": digest}
        return "imported", {"mesh": digest, "scale": 1.2}

    def told(self, digest: str) -> dict[str, Any]:
        """The name of a stored file and the report of what was read."""
        row = self._row(digest)
        return {"filename": row.filename, "read": row.report} if row else {}

    def mesh(self, digest: str) -> Mesh:
        """The mesh of a stored file. Raises ZygomorphError where it is not stored."""
        kept = self._meshes.get(digest)
        if kept is not None:
            return kept
        row = self._row(digest)
        if row is None:
            return no_assets(digest)
        mesh, _ = read_mesh(row.data, row.filename)
        # Its polygons are cut as they lie in the file, whatever becomes of it.
        mesh = replace(mesh, topology=mesh.topology.triangulated(mesh.rest))
        self._meshes.put(digest, mesh, mesh.size_in_bytes)
        return mesh


class Assets(AssetFiles):
    """The files of the store."""

    def __init__(self, engine: Engine, cache_bytes: int = 256_000_000) -> None:
        self._engine = engine
        super().__init__(self._stored, cache_bytes)

    def _stored(self, digest: str) -> AssetRow | None:
        with Session(self._engine) as session:
            return session.get(AssetRow, digest)

    def bundled(self, digests: Sequence[str]) -> list[BundledFile]:
        """Those of some files that are stored, as a bundle has them."""
        rows = (self._stored(digest) for digest in digests)
        return [BundledFile(r.digest, r.filename, r.data, r.report) for r in rows if r]

    def add_bundled(self, file: BundledFile) -> None:
        """Store a file of a bundle, whose digest was checked, where it is not stored yet. It is
        read as if it were brought in alone: what the bundle tells of it is not believed.

        Raises MeshFileError, SoundFileError, and then stores nothing.
        """
        if self._stored(file.digest) is not None:
            return
        if "frames" in file.report:
            told = read_kept_film(file.data, file.report.get("rate"))
            self._keep(file.data, file.filename, told)
        elif "seconds" in file.report:
            self.add_sound(file.data, file.filename)
        elif "width" in file.report:
            self.add_image(file.data, file.filename)
        else:
            self.add_mesh(file.data, file.filename)

    def add_mesh(self, data: bytes, filename: str) -> tuple[str, dict[str, Any]]:
        """Read and store a mesh file; returns its digest and the report of what was read.

        Raises MeshFileError, and then stores nothing.
        """
        mesh, report = read_mesh(data, filename)
        described = report.describe()
        digest = self._keep(data, filename, described)
        self._meshes.put(digest, mesh, mesh.size_in_bytes)
        return digest, described

    def _keep(self, data: bytes, filename: str, report: dict[str, Any]) -> str:
        digest = hashlib.sha256(data).hexdigest()
        with writing(self._engine) as session:
            if session.get(AssetRow, digest) is None:
                session.add(
                    AssetRow(digest=digest, filename=filename[-255:], data=data, report=report)
                )
        return digest

    def add_image(self, data: bytes, filename: str) -> tuple[str, dict[str, Any]]:
        """Read and store an image; returns its digest and its size in pixels.

        Raises MeshFileError, and then stores nothing.
        """
        heights, colours = read_image(data)
        rows, columns = heights.pixels.shape
        report = {"width": columns, "height": rows}
        digest = self._keep(data, filename, report)
        self.images.know(digest, heights, colours)
        return digest, report

    def add_film(self, data: bytes, filename: str) -> tuple[str, dict[str, Any]]:
        """Read a film or a sequence of pictures and store its pictures.

        Returns the digest of these, and how many there are, their size and their rate.

        Raises MeshFileError, and then stores nothing.
        """
        archive, told = read_film(data)
        return self._keep(archive, filename, told), told

    def add_sound(self, data: bytes, filename: str) -> tuple[str, dict[str, Any]]:
        """Read and store a sound; returns its digest, and how long it is in seconds.

        Raises SoundFileError, and then stores nothing.
        """
        track = read_sound(data)
        report = {"seconds": round(track.seconds, 3)}
        digest = self._keep(data, filename, report)
        self._sounds.put(digest, track, track.samples.nbytes)
        return digest, report
