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
    """linear, middle, half : how placements are scaled"""

    count: int
    linear: float
    middle: Triple
    half: Triple
    bases: list[BaseHeader]


class SentChannel(Strict):
    """A number for each point or copy; slot : 0 of the finest, which is beside the points or the
    placements, or from 1 on the column among the other channels"""

    on: Literal["points", "copies"]
    slot: int


class SlopeChannel(Strict):
    """The place of a point along an axis of the piece, metres"""

    on: Literal["slope"]
    axis: Triple
    low: float
    high: float


class ViewChannel(Strict):
    """What the viewer finds for its own eye, looked up in a table, and blended by its strength into
    what another channel has; below : its number, or -1"""

    on: Literal["facing", "depth"]
    low: float
    high: float
    both: bool
    table: int
    below: int
    mode: Literal["replace", "multiply", "add", "subtract", "lighten", "darken"]
    strength: float


class PrintChannel(Strict):
    """A pattern, or how bright a picture is, found at every pixel; print : its number"""

    on: Literal["print"]
    print: int
    table: int
    below: int
    mode: Literal["replace", "multiply", "add", "subtract", "lighten", "darken"]
    strength: float


class PrintHeader(Strict):
    """See :class:`zygomorph.core.values.definitions.printed.Print`; picture : its address"""

    figure: Literal["checks", "stripes", "dots", "grid", "noise", "picture"]
    on: Literal["piece", "rest", "uv", "eye"]
    round: Literal["flat", "cylinder", "sphere"]
    frame: list[list[float]]
    across: list[list[float]]
    fill: float
    edge: float
    seed: int
    evolve: float
    picture: str | None
    beyond: Literal["repeat", "mirror", "rim", "nothing"]


class ColourHeader(Strict):
    """channel, row : of what is looked up in which gradient, or -1 where it is one colour
    print : the picture whose own colours lie over it, or -1"""

    colour: str
    channel: int
    row: int
    print: int


class AmountHeader(Strict):
    """channel : -1 where it is low everywhere"""

    low: float
    high: float
    channel: int


class BlendedLook(Strict):
    """weight : the channel it is blended in by, -1 where it is everywhere
    colours, amounts : in the order of docs/wire.md
    """

    id: str
    weight: int
    colours: list[ColourHeader]
    amounts: list[AmountHeader]
    glows_in_own: bool


class LookHeader(Strict):
    """tint_depth : metres; gradient_length : colours in each row of the gradients
    sphere : address of the picture of a ball by which it is shaded, or null"""

    drawn: Literal["surface", "edges", "lines", "points"]
    flat: bool
    edge_colour: str
    dots: Literal["balls", "discs", "squares"]
    on_screen: bool
    thin: bool
    refraction: float
    tint: str
    tint_depth: float
    coat_roughness: float
    sheen_colour: str
    looks: list[BlendedLook]
    sphere: str | None
    channels: list[SentChannel | SlopeChannel | ViewChannel | PrintChannel]
    prints: list[PrintHeader]
    gradient_length: int


class StepCost(Strict):
    """What a step made, and how long it took; reused : whether it was kept from before
    told : what it has chosen by itself, in a sentence, or ""
    """

    id: str
    ms: float
    points: int
    faces: int
    copies: int
    reused: bool
    volume_change: float | None = None
    told: str = ""


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
