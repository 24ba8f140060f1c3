"""Pictures of a loop as pydantic models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from zygomorph.api.shapes import Frame, Quality, Strict, StudyState
from zygomorph.core.formats.clips import Effort
from zygomorph.jobs.pictures.order import PictureKind

Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Place = tuple[Coordinate, Coordinate, Coordinate]
Side = Annotated[int, Field(ge=16, le=16_384)]
Whole = Annotated[int, Field(ge=0, le=1_000_000)]
PixelFormat = Literal["yuv420p", "yuv444p", "yuv420p10le", "yuva420p"]


class EyeBody(Strict):
    """position, target : metres on the stage; angle : from the lower to the upper edge, degrees"""

    position: Place
    target: Place
    angle: Annotated[float, Field(ge=0.5, le=150, allow_inf_nan=False)]


class PicturesBody(Strict):
    """What is asked for of pictures, whoever draws them; see
    :class:`zygomorph.jobs.pictures.order.PictureOrder`."""

    study: Annotated[str, Field(max_length=40)]
    kind: PictureKind
    width: Side
    height: Side
    first: Whole = 0
    last: Whole | None = None
    step: Annotated[int, Field(ge=1, le=1000)] = 1
    rate: Annotated[float, Field(ge=0.5, le=240, allow_inf_nan=False)] | None = None
    repeats: Annotated[int, Field(ge=1, le=200)] = 1
    blur: bool = False
    quality: Quality = "final"
    camera: Annotated[str, Field(max_length=40)] | None = None
    eye: EyeBody | None = None
    transparent: bool = False
    pixel_format: PixelFormat = "yuv420p"
    effort: Effort = "good"
    count: Annotated[int, Field(ge=2, le=64)] = 12


class PictureBody(PicturesBody):
    """Pictures that the stage draws, with the handles of a row by its address."""

    samples: Annotated[int, Field(ge=1, le=256)] = 4
    handles: Annotated[str, Field(max_length=200)] = ""


class PictureTaskTold(BaseModel):
    """What a window is to draw.

    state : the study as it was when it was asked for; times : the moments in frames
    spacing : frames from one picture to the next
    missing : numbers of those that are not there yet
    shutter : share of a frame over which samples are spread, 0 for a moment
    """

    state: StudyState
    width: int
    height: int
    times: list[float]
    spacing: float
    missing: list[int]
    samples: int
    blur: bool
    quality: Quality
    eye: EyeBody | None
    handles: str


class GoesOn(BaseModel):
    """Whether the window is to go on."""

    goes_on: bool


class FramePath(BaseModel):
    job_id: Annotated[str, Field(max_length=40)]
    number: Annotated[int, Field(ge=0, le=1_000_000)]


class MomentQuery(BaseModel):
    frame: Frame = 0.0


class CannotBody(Strict):
    """Why a window cannot draw what was asked for."""

    message: Annotated[str, Field(max_length=2000)]
    hint: Annotated[str, Field(max_length=500)] = ""


class ClipQuery(Strict):
    """name : of the file that is sent; rate : pictures a second, those of the clip by default"""

    name: Annotated[str, Field(max_length=300)] = "clip"
    kind: Literal["mp4", "webm", "av1", "gif", "webp"] = "mp4"
    rate: Annotated[float, Field(ge=0.5, le=240, allow_inf_nan=False)] | None = None
    pixel_format: PixelFormat = "yuv420p"
    effort: Effort = "good"
