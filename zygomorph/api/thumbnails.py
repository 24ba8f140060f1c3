"""Moving pictures of studies, and of what forms and steps do, drawn aside and kept on disk.

A picture takes a second or more, and a browser opens only a few connections at a time: were they
drawn while the browser waits, a gallery that is new would let nothing else through.
"""

from __future__ import annotations

import hashlib
import os
import sys
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Literal

from zygomorph.core.document.signal_context import Sounds, made_sounds
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.memo.memo import Memo
from zygomorph.core.program import program_digest
from zygomorph.jobs.delivery import write_whole
from zygomorph.render import specimens
from zygomorph.render.shipped import name_of_entry, name_of_study, shipped
from zygomorph.render.specimens import edition_of, preset_specimen, specimen
from zygomorph.render.thumbnail import FRAMES, SIZE, moving_thumbnail
from zygomorph.store.presets import StoredPreset
from zygomorph.store.studies import Stored

PictureState = Literal["ready", "drawing", "failed"]
KEPT_BYTES = 64_000_000
# What was begun so often and never ended is not begun again.
MOST_TRIES = 2


def _tried(path: Path) -> Path:
    """Where it is noted that a picture was begun, a byte for each time."""
    return path.with_suffix(".begun")


@dataclass(frozen=True)
class Wanted:
    """A picture: whose it is, of which edition of it, and what is drawn.

    shipped : the name under which the program would have it with it
    Older editions are removed when a new one is kept.
    """

    owner: str
    edition: str
    study: Callable[[], Study]
    shipped: Callable[[], str] | None = None
    size: tuple[int, int] = SIZE
    moments: int = FRAMES

    @property
    def name(self) -> str:
        """An older program's picture is not this one's."""
        return f"{self.owner}-{self.edition}-{program_digest()[:8]}.webp"


def of_study(stored: Stored, sounds: Sounds = made_sounds) -> Wanted:
    """The picture of a study as it is stored."""
    return Wanted(
        stored.id,
        str(stored.revision),
        lambda: check_document(stored.document, sounds),
        lambda: name_of_study(stored.document),
    )


@cache
def of_entry(sort: str, key: str) -> Wanted:
    """The picture of what a form or a step does. Raises ZygomorphError where there is none."""
    shown = specimen(sort, key)
    edition = edition_of(sort, key)
    return Wanted(
        f"{sort}-{key}",
        edition,
        lambda: shown,
        lambda: name_of_entry(sort, key, edition),
        specimens.SIZE,
        specimens.MOMENTS,
    )


def of_preset(stored: StoredPreset, evaluator: Evaluator) -> Wanted:
    """The picture of what a preset does to the form that it was made on."""
    edition = hashlib.blake2b(stored.changed.encode(), digest_size=6).hexdigest()
    return Wanted(
        f"preset-{stored.id}",
        edition,
        lambda: preset_specimen(stored.document, evaluator),
        size=specimens.SIZE,
        moments=specimens.MOMENTS,
    )


def _give_way() -> None:
    """Take what is left of the cores: a loop that plays in a browser asks for nothing more, and
    where there is no graphics card is drawn by the same cores. Linux keeps this by thread."""
    if sys.platform == "linux":
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 10)


class Thumbnails:
    def __init__(
        self,
        folder: Path,
        evaluator: Evaluator,
        drawn: Callable[[], None],
        stand_back: Callable[[], None] = lambda: None,
        most: int | None = None,
    ) -> None:
        """``drawn`` is called when a picture has been drawn, or could not be; ``stand_back``
        before each part of what is drawn aside, and returns when there is time for it;
        ``most`` : of a loop no more pictures than so many are drawn"""
        self._most = most
        self._stand_back = stand_back
        self._folder = folder
        self._evaluator = evaluator
        self._drawn = drawn
        self._kept: Memo[bytes] = Memo(KEPT_BYTES)
        self._aside = ThreadPoolExecutor(1, "picture", _give_way)
        self._waiting: set[str] = set()
        self._failed: set[str] = set()
        self._awaited = 0
        self._lock = threading.Lock()
        # One picture at a time: two that write the same file would take it from each other.
        self._drawing = threading.Lock()

    def close(self) -> None:
        """Draw nothing more that has not begun."""
        self._aside.shutdown(wait=False, cancel_futures=True)

    def _path(self, wanted: Wanted) -> Path:
        return self._folder / wanted.name

    def state(self, wanted: Wanted) -> PictureState:
        """Whether there is a picture of this edition; where there is none, it will be drawn."""
        path = self._path(wanted)
        if path.is_file() or self._take_shipped(wanted):
            return "ready"
        with self._lock:
            if path.name in self._failed:
                return "failed"
            if path.name not in self._waiting and self._tries(path) >= MOST_TRIES:
                self._failed.add(path.name)
                return "failed"
            if path.name in self._waiting:
                return "drawing"
            self._waiting.add(path.name)
        self._aside.submit(self._draw_aside, wanted)
        return "drawing"

    def former(self, wanted: Wanted) -> Path | None:
        """The newest picture of an earlier edition, or of an earlier program; it stays until one of
        this edition is kept."""
        found = {}
        for path in self._folder.glob(f"{wanted.owner}-*.webp"):
            # One that is removed meanwhile is none.
            with suppress(FileNotFoundError):
                found[path] = path.stat().st_mtime
        return max((p for p in found if p.name != wanted.name), key=found.__getitem__, default=None)

    def read_former(self, wanted: Wanted) -> bytes:
        """The picture of an earlier edition, or this one's where there is none any more."""
        former = self.former(wanted)
        if former is not None:
            with suppress(FileNotFoundError):
                return former.read_bytes()
        return self.get(wanted)

    def _take_shipped(self, wanted: Wanted) -> bool:
        """Keep the picture that came with the program, where there is one."""
        made = shipped(wanted.shipped()) if wanted.shipped else None
        if made is None:
            return False
        try:
            self._keep(wanted, made)
        except OSError:
            return False
        return True

    def _keep(self, wanted: Wanted, made: bytes) -> None:
        path = self._path(wanted)
        self._folder.mkdir(parents=True, exist_ok=True)
        write_whole(path, made)
        for old in self._folder.glob(f"{wanted.owner}-*"):
            if old != path:
                old.unlink(missing_ok=True)

    @staticmethod
    def _tries(path: Path) -> int:
        """How often it was begun and never ended: by a program that was killed, or that took all
        memory for it. What cannot be drawn counts as if all tries were made."""
        try:
            return len(_tried(path).read_bytes())
        except OSError:
            return 0

    def _note(self, path: Path, tries: int) -> None:
        with suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
            if tries:
                _tried(path).write_bytes(b"." * tries)
            else:
                _tried(path).unlink(missing_ok=True)

    def _draw_aside(self, wanted: Wanted) -> None:
        name = wanted.name
        try:
            with self._drawing:
                self._read_or_draw(wanted, self._unless_awaited)
        except (ZygomorphError, OSError) as error:
            # The study itself says what is wrong with it when it is opened.
            with self._lock:
                self._failed.add(name)
            if isinstance(error, ZygomorphError):
                self._note(self._path(wanted), MOST_TRIES)
        finally:
            with self._lock:
                self._waiting.discard(name)
        self._drawn()

    def get(self, wanted: Wanted) -> bytes:
        """Animated WebP, drawn now where there is none yet. Raises what evaluating raises."""
        kept = self._kept.get(wanted.name)
        if kept is not None:
            return kept
        if self._tries(self._path(wanted)) >= MOST_TRIES:
            raise ZygomorphError(
                "This study has no picture: drawing it has failed before.",
                "It is tried again when the study changes.",
            )
        with self._lock:
            self._awaited += 1
        try:
            with self._drawing:
                return self._read_or_draw(wanted, lambda: None)
        finally:
            with self._lock:
                self._awaited -= 1

    def _unless_awaited(self) -> None:
        """Stand back, but not while somebody waits for the picture after this one."""
        if not self._awaited:
            self._stand_back()

    def _read_or_draw(self, wanted: Wanted, stand_back: Callable[[], None]) -> bytes:
        path = self._path(wanted)
        if path.is_file() or self._take_shipped(wanted):
            made = path.read_bytes()
        else:
            count = min(wanted.moments, self._most or wanted.moments)
            before = self._tries(path)
            self._note(path, min(before + 1, MOST_TRIES))
            try:
                made = moving_thumbnail(
                    wanted.study(), self._evaluator, wanted.size, count, stand_back
                )
            finally:
                # It came to an end, be it with an error: the program lives.
                self._note(path, before)
            # On a full disk it is shown all the same, and drawn again next time.
            with suppress(OSError):
                self._keep(wanted, made)
        self._kept.put(path.name, made, len(made))
        return made
