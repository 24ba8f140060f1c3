"""Deliveries and the queue as pydantic models."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from zygomorph.api.picture_shapes import PicturesBody, PixelFormat, Side
from zygomorph.api.shapes import Quality, Strict
from zygomorph.core.formats.clips import Effort
from zygomorph.core.formats.gltf_numbers import Numbers
from zygomorph.core.formats.placed_copies import CopiesAs
from zygomorph.jobs.queue.orders import ClipKind, MeshKind, Ways
from zygomorph.render.final.settings import LAYERS, MOST_BOUNCES, MOST_SAMPLES, LayerName

Id = Annotated[str, Field(max_length=40)]
Rate = Annotated[float, Field(ge=0.5, le=240, allow_inf_nan=False)]
Repeats = Annotated[int, Field(ge=1, le=200)]


class DeliverBody(Strict):
    """frames : first and last frame, both included; all by default, and always for GLB and USD
    tolerance, numbers, copies_as : of a GLB; normals, colours : whether USD has them
    """

    study: Id
    kind: MeshKind
    frames: tuple[Annotated[int, Field(ge=0)], Annotated[int, Field(ge=0)]] | None = None
    quality: Quality = "draft"
    tolerance: Annotated[float, Field(gt=0, le=0.1, allow_inf_nan=False)] | None = None
    numbers: Numbers = "plain"
    copies_as: CopiesAs = "nodes"
    normals: bool = False
    colours: bool = True


class MaskOf(Strict):
    """The mask of a step of a piece."""

    piece: Id
    step: Id


class FinalBody(PicturesBody):
    """Pictures by path tracing; see :class:`zygomorph.jobs.queue.orders.FinalOrder`."""

    samples: Annotated[int, Field(ge=1, le=MOST_SAMPLES)] = 64
    bounces: Annotated[int, Field(ge=1, le=MOST_BOUNCES)] = 8
    clamp: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 10.0
    noise_removal: bool = True
    layers: Annotated[list[LayerName], Field(max_length=len(LAYERS))] = []
    masks: Annotated[list[MaskOf], Field(max_length=32)] = []


class MadeClipBody(Strict):
    """A clip of the pictures of a job; see :class:`zygomorph.jobs.queue.orders.ClipOrder`.

    width, height : of the clip; those of the pictures where they are left out
    """

    kind: ClipKind = "mp4"
    rate: Rate | None = None
    width: Side | None = None
    height: Side | None = None
    way: Ways = "forwards"
    repeats: Repeats = 1
    pixel_format: PixelFormat = "yuv420p"
    effort: Effort = "good"


class MoveBody(Strict):
    """before : id of the job that it is to come before; last where it is left out"""

    before: Id | None = None


class QueuedTold(BaseModel):
    """What is told of a job of the queue besides.

    sort : final pictures, meshes, or a clip of pictures that were there
    total, done : units; pictures : units that are shown, the first ones of them
    frames : numbers of the pictures that are there
    costs : seconds of each unit, null of those that are not there
    created : seconds since 1970; rank : the lower the earlier; spent : seconds at work
    width, height : of its pictures, 0 where it has none; rate : pictures a second
    """

    sort: Literal["final", "mesh", "clip"]
    kind: str
    total: int
    done: int
    pictures: int
    frames: list[int]
    costs: list[float | None]
    created: float
    rank: float
    spent: float
    width: int
    height: int
    rate: float


class JobState(BaseModel):
    """queued : of a job of the queue; null of pictures that a window draws"""

    id: str
    label: str
    state: str
    share: float
    what: str
    message: str
    hint: str
    filename: str
    size: int
    seconds_left: float | None
    details: list[dict[str, Any]]
    queued: QueuedTold | None = None


class RefusedWorker(BaseModel):
    """A worker of another version of the program."""

    address: str
    program: str


class JobList(BaseModel):
    """program : the version that makes the frames; refused : workers that have another
    scheduler : of the cluster that makes them, null of this machine; workers : how many are there
    """

    jobs: list[JobState]
    program: str
    scheduler: str | None
    workers: int
    refused: list[RefusedWorker]


class ClusterBody(Strict):
    """address : of a Dask scheduler; null for processes of this machine"""

    address: Annotated[str, Field(max_length=200, pattern=r"^(tcp|tls)://[^\s/]+:\d{1,5}$")] | None


class JobFramePath(BaseModel):
    job_id: Id
    number: Annotated[int, Field(ge=0, le=1_000_000)]


class JobFrameQuery(BaseModel):
    """small : at most so many pixels wide and high; 0 for all
    edition : another one for another picture; trails are drawn when all frames are there"""

    small: Annotated[int, Field(ge=0, le=2048)] = 0
    edition: Annotated[str, Field(max_length=20)] = ""
