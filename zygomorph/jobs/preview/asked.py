"""Messages to and from the process that draws previews."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from zygomorph.jobs.pictures.order import Eye

# Paths of light of each pixel, after which a preview is as fine as it becomes.
SAMPLES = 256


@dataclass(frozen=True)
class Asked:
    """A request for a preview of a study at a frame.

    size : (columns, rows); eye : None for the study's camera
    """

    document: Mapping[str, Any]
    frame: float
    size: tuple[int, int]
    eye: Eye | None = None
    final: bool = False


@dataclass(frozen=True)
class Begin:
    """Asks for the first picture of a new preview. serial : number of the preview"""

    serial: int
    asked: Asked


@dataclass(frozen=True)
class GoOn:
    """Asks for the next, finer picture of a preview."""

    serial: int


@dataclass(frozen=True)
class Forget:
    serial: int


@dataclass(frozen=True)
class Drawn:
    """A picture. samples : for each pixel, 0 for a coarse first look; kind : media type of data"""

    serial: int
    samples: int
    data: bytes
    kind: str
    done: bool


@dataclass(frozen=True)
class CannotDraw:
    serial: int
    message: str
    hint: str


@dataclass(frozen=True)
class CalledOff:
    serial: int
