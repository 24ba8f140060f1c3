"""Saves picture tasks, so that a window can continue them after the program was restarted.

Each has a folder with its order, its study, the pictures so far, and finally the product.
"""

from __future__ import annotations

import json
import shutil
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from zygomorph.jobs.delivery import PART, write_whole
from zygomorph.jobs.pictures.order import Eye, PictureOrder
from zygomorph.jobs.runner import Job

ORDER, DONE, FRAMES = "order.json", "done.json", "frames"
# Of those that are done, the oldest are removed.
MOST_DONE = 50


@dataclass(frozen=True)
class Kept:
    """study : id and revision of the stored study; document : as it was when it was ordered"""

    job: str
    label: str
    study: str
    revision: int
    document: Mapping[str, Any]
    order: PictureOrder


class KeptPictures:
    """The folders of all saved tasks."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def frames(self, job: str) -> Path:
        return self.folder / job / FRAMES

    def keep(self, kept: Kept) -> None:
        """Raises OSError."""
        self.frames(kept.job).mkdir(parents=True, exist_ok=True)
        told = {**asdict(kept), "document": dict(kept.document)}
        write_whole(self.folder / kept.job / ORDER, json.dumps(told).encode())

    def unfinished(self) -> Iterator[Kept]:
        """Tasks with missing pictures. Folders that cannot be read are removed."""
        for path in self._by_age():
            if (path / DONE).exists():
                continue
            try:
                told = json.loads((path / ORDER).read_text())
                yield Kept(**{**told, "order": _order(told["order"])})
            except (OSError, ValueError, TypeError, KeyError):
                shutil.rmtree(path, ignore_errors=True)

    def done(self) -> Iterator[Job]:
        """Finished tasks of earlier runs whose product is still there."""
        known = [path for path in self._by_age() if (path / DONE).exists()]
        for old in known[:-MOST_DONE]:
            shutil.rmtree(old, ignore_errors=True)
        for path in known[-MOST_DONE:]:
            try:
                told = json.loads((path / DONE).read_text())
                job = Job(path.name, told["label"], "done", 1.0, details=told["details"])
                job.filename, job.path = told["filename"], path / told["path"]
                job.size = job.path.stat().st_size
            except (OSError, ValueError, KeyError, TypeError):
                shutil.rmtree(path, ignore_errors=True)
                continue
            yield job

    def finished(self, job: Job) -> None:
        """Save the product of a task and remove its pictures. Raises OSError."""
        assert job.path is not None  # it is done
        told = {
            "label": job.label,
            "filename": job.filename,
            "path": job.path.name,
            "details": job.details,
        }
        write_whole(self.folder / job.id / DONE, json.dumps(told).encode())
        shutil.rmtree(self.frames(job.id), ignore_errors=True)

    def remove(self, job: str) -> None:
        shutil.rmtree(self.folder / job, ignore_errors=True)

    def _by_age(self) -> list[Path]:
        if not self.folder.is_dir():
            return []
        found = [path for path in self.folder.iterdir() if path.is_dir()]
        return sorted(found, key=lambda path: path.stat().st_mtime)


def pictures_there(frames: Path) -> set[int]:
    """Numbers of the pictures that are there. Temporary files of a crash are removed."""
    for path in frames.glob(f"*{PART}"):
        path.unlink(missing_ok=True)
    return {int(path.stem) for path in frames.glob("*.png") if path.stem.isdigit()}


def _order(told: dict[str, Any]) -> PictureOrder:
    eye = told.get("eye")
    told = {**told, "size": tuple(told["size"])}
    if eye:
        told["eye"] = Eye(tuple(eye["position"]), tuple(eye["target"]), eye["angle"])
    return PictureOrder(**told)
