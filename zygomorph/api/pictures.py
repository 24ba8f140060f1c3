"""Moving pictures of the studies for the gallery, drawn aside and kept on disk.

A picture takes a second or more, and a browser opens only a few connections at a time: were they
drawn while the browser waits, a gallery that is new would let nothing else through.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Literal

from zygomorph.core.cache import BoundedCache
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluate import Evaluator
from zygomorph.core.study import check_document
from zygomorph.jobs.delivery import write_whole
from zygomorph.render.thumbnail import moving_thumbnail
from zygomorph.store.studies import Stored

PictureState = Literal["ready", "drawing", "failed"]
KEPT_BYTES = 64_000_000


class Pictures:
    def __init__(self, folder: Path, evaluator: Evaluator, drawn: Callable[[], None]) -> None:
        """``drawn`` is called when a picture has been drawn, or could not be."""
        self._folder = folder
        self._evaluator = evaluator
        self._drawn = drawn
        self._kept: BoundedCache[bytes] = BoundedCache(KEPT_BYTES)
        self._aside = ThreadPoolExecutor(1, thread_name_prefix="picture")
        self._waiting: set[str] = set()
        self._failed: set[str] = set()
        self._lock = threading.Lock()
        # One picture at a time: two that write the same file would take it from each other.
        self._drawing = threading.Lock()

    def close(self) -> None:
        """Draw nothing more that has not begun."""
        self._aside.shutdown(wait=False, cancel_futures=True)

    def _path(self, stored: Stored) -> Path:
        return self._folder / f"{stored.id}-{stored.revision}.webp"

    def state(self, stored: Stored) -> PictureState:
        """Whether there is a picture of this revision; where there is none, it will be drawn."""
        path = self._path(stored)
        if path.is_file():
            return "ready"
        with self._lock:
            if path.name in self._failed:
                return "failed"
            if path.name in self._waiting:
                return "drawing"
            self._waiting.add(path.name)
        self._aside.submit(self._draw_aside, stored)
        return "drawing"

    def _draw_aside(self, stored: Stored) -> None:
        name = self._path(stored).name
        try:
            self.get(stored)
        except (ZygomorphError, OSError):
            # The study itself says what is wrong with it when it is opened.
            with self._lock:
                self._failed.add(name)
        finally:
            with self._lock:
                self._waiting.discard(name)
        self._drawn()

    def get(self, stored: Stored) -> bytes:
        """Animated WebP, drawn now where there is none yet. Raises what evaluating raises."""
        kept = self._kept.get(self._path(stored).name)
        if kept is not None:
            return kept
        with self._drawing:
            return self._read_or_draw(stored)

    def _read_or_draw(self, stored: Stored) -> bytes:
        path = self._path(stored)
        if path.is_file():
            made = path.read_bytes()
        else:
            made = moving_thumbnail(check_document(stored.document), self._evaluator)
            self._folder.mkdir(parents=True, exist_ok=True)
            write_whole(path, made)
            for old in self._folder.glob(f"{stored.id}-*.webp"):
                if old != path:
                    old.unlink(missing_ok=True)
        self._kept.put(path.name, made, len(made))
        return made
