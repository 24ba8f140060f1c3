"""Stored pictures and films, read and kept while they are in use."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.formats import read_image as plain
from zygomorph.core.formats.read_hdr import is_hdr
from zygomorph.core.formats.read_in_process import read_image, read_radiance
from zygomorph.core.geometry.image import ColourImage, HeightImage
from zygomorph.core.geometry.images import Film, Images
from zygomorph.core.memo.memo import Memo
from zygomorph.store.models import AssetRow


class StoredImages(Images):
    """Pictures by the digests of their files. A film's pictures were written by this program when
    it was brought in, and are read as they are."""

    def __init__(self, row: Callable[[str], AssetRow | None], cache_bytes: int) -> None:
        self._row_of = row
        self._kept: Memo[tuple[HeightImage, ColourImage]] = Memo(cache_bytes)
        self._light: dict[str, np.ndarray] = {}
        self._films: dict[str, tuple[Film, tuple[int, int]]] = {}

    def know(self, digest: str, heights: HeightImage, colours: ColourImage) -> None:
        """Keep what has just been read."""
        size = heights.pixels.nbytes + colours.pixels.nbytes
        self._kept.put(f"{digest}/0", (heights, colours), size)

    def size(self, name: str, number: int = 0) -> tuple[int, int]:
        if name in self._films:
            return self._films[name][1]
        return super().size(name, number)

    def encoded(self, name: str, number: int) -> tuple[bytes, str] | None:
        """A picture of a film as it is kept, and its media type; None of what is no film."""
        if not name or self.comes_with_program(name):
            return None
        row = self._row(name)
        if "frames" not in row.report:
            return None
        data = self._of_film(row, number)
        return data, "image/jpeg" if data[:2] == b"\xff\xd8" else "image/png"

    def _of_film(self, row: AssetRow, number: int) -> bytes:
        with zipfile.ZipFile(io.BytesIO(row.data)) as archive:
            return archive.read(str(number % row.report["frames"]))

    def _row(self, name: str) -> AssetRow:
        row = self._row_of(name)
        if row is None:
            raise ZygomorphError(
                f"The picture {name[:12]} is not stored here.",
                "Bring the picture in again and choose it.",
            )
        return row

    def _both(self, name: str, number: int) -> tuple[HeightImage, ColourImage]:
        key = f"{name}/{number}"
        kept = self._kept.get(key)
        if kept is None:
            row = self._row(name)
            if "frames" in row.report:
                data = self._of_film(row, number)
                kept = plain.read_image(data), plain.read_colours(data)
            else:
                kept = read_image(row.data)
            self._kept.put(key, kept, sum(each.pixels.nbytes for each in kept))
        return kept

    def _radiance(self, name: str) -> np.ndarray:
        if name not in self._light:
            data = self._row(name).data
            found = read_radiance(data) if is_hdr(data) else None
            # One is kept: studies have one dome.
            self._light = {name: self._by_colours(name) if found is None else found}
        return self._light[name]

    def _heights(self, name: str, number: int) -> HeightImage:
        return self._both(name, number)[0]

    def _colours(self, name: str, number: int) -> ColourImage:
        return self._both(name, number)[1]

    def _film(self, name: str) -> Film:
        if name not in self._films:
            told = self._row(name).report
            found = Film(int(told.get("frames", 1)), told.get("rate"))
            self._films[name] = found, (int(told["width"]), int(told["height"]))
        return self._films[name][0]
