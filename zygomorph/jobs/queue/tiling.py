"""Divides large frames into tiles, so that several workers can draw one still.

A tile is a range of rows. The samples of each tile are saved until all are there; then noise is
removed from the whole frame.
"""

from __future__ import annotations

import itertools
from pathlib import Path

from zygomorph.jobs.delivery import write_whole
from zygomorph.jobs.queue.orders import FinalOrder, Order

# Jobs of more frames are not tiled: each worker has a frame of its own.
FEW_FRAMES = 8
# Approximate number of camera paths in a tile, which take a core some seconds.
PATHS = 8_000_000
MOST_TILES = 64
FOLDER, ENDING = "tiles", ".npz"


def tiles_of(order: Order, total: int) -> list[range]:
    """Rows of each tile of a frame; empty if frames are drawn whole. Depends on the order alone,
    so that all machines agree."""
    if not isinstance(order, FinalOrder) or total > FEW_FRAMES:
        return []
    columns, rows = order.size
    count = min(columns * rows * order.samples // PATHS, MOST_TILES, rows)
    if count < 2:
        return []
    ends = [rows * k // count for k in range(count + 1)]
    return [range(a, b) for a, b in itertools.pairwise(ends)]


class Tiling:
    """The tiles of a job that are done, as files in its folder.

    rows : of each tile; known : (frame, tile) of those that are there
    joining : frames that are being put together from their tiles
    """

    def __init__(self, job: Path, rows: list[range]) -> None:
        self._folder, self.rows = job / FOLDER, rows
        self.joining: set[int] = set()
        self.known: set[tuple[int, int]] = set()
        for path in self._folder.glob(f"*{ENDING}"):
            number, _, tile = path.stem.partition("-")
            if number.isdigit() and tile.isdigit():
                self.known.add((int(number), int(tile)))

    def _path(self, number: int, tile: int) -> Path:
        return self._folder / f"{number:06d}-{tile:02d}{ENDING}"

    def missing(self, number: int) -> list[int]:
        return [k for k in range(len(self.rows)) if (number, k) not in self.known]

    def put(self, number: int, tile: int, data: bytes) -> None:
        """Raises OSError."""
        self._folder.mkdir(exist_ok=True)
        write_whole(self._path(number, tile), data)
        self.known.add((number, tile))

    def parts(self, number: int) -> list[bytes]:
        """Samples of all tiles of a frame, from the top. Raises OSError."""
        return [self._path(number, tile).read_bytes() for tile in range(len(self.rows))]

    def drop(self, number: int) -> None:
        """Delete the tiles of a frame that is done, or that is to be drawn again."""
        for key in [key for key in self.known if key[0] == number]:
            self._path(*key).unlink(missing_ok=True)
            self.known.discard(key)

    def clear(self) -> None:
        for number in {number for number, _ in self.known}:
            self.drop(number)
