"""Headers of binary frames and topologies, which docs/wire.md describes, as pydantic models."""

from __future__ import annotations

from typing import Literal

from zygomorph.api.scene_shapes import Triple
from zygomorph.api.shapes import Strict

Digest = str


class Block(Strict):
    """offset : from the end of the header, bytes"""

    name: str
    type: Literal["uint8", "int16", "uint16", "uint32", "float32"]
    shape: list[int]
    offset: int


class TopologyHeader(Strict):
    """closed : whether the surface has no border"""

    topology: Digest
    closed: bool
    blocks: list[Block]


class BaseHeader(Strict):
    """A mesh that is copied.

    first, count : of its copies, in the order of the placements
    """

    topology: Digest
    points: int
    faces: int
    curves: int
    low: Triple
    high: Triple
    first: int
    count: int


class CopiesHeader(Strict):
    """linear, middle, half : how placements are scaled; colour_by : what colours copies, with the
    ends of the range of heights in metres"""

    count: int
    linear: float
    middle: Triple
    half: Triple
    colour_by: Literal["height", "copy", "base"]
    colour_low: float
    colour_high: float
    bases: list[BaseHeader]


class LookHeader(Strict):
    """glow : in shares of the colour; thickness : metres"""

    by_value: bool
    colour: str
    glow: float
    roughness: float
    flat: bool
    thickness: float


class StepCost(Strict):
    """What a step made, and how long it took; reused : whether it was kept from before"""

    id: str
    ms: float
    points: int
    faces: int
    copies: int
    reused: bool
    volume_change: float | None = None


class FrameHeader(Strict):
    """points : of all copies; drawn : points that were sent, fewer where loose ones are decimated
    place : from the piece to the stage, 16 numbers column by column
    """

    piece: str
    frame: float
    key: str
    topology: Digest
    points: int
    drawn: int
    faces: int
    curves: int
    shards: int
    low: Triple
    high: Triple
    place: list[float]
    copies: CopiesHeader | None
    look: LookHeader
    steps: list[StepCost]
    blocks: list[Block]


HEADERS = (FrameHeader, TopologyHeader)
