"""Queries and answers of the routes of files that are brought in."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field


class ImagePath(BaseModel):
    digest: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class ShownPath(BaseModel):
    """name : a digest, or the name of a picture that comes with the program"""

    name: Annotated[str, Field(pattern=r"^([0-9a-f]{64}|[a-z]{1,20})$")]


class ShownQuery(BaseModel):
    """number : of the picture of a film
    soft : share of its width over which it is smoothed; beyond : how it goes on beyond its rim"""

    number: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    soft: Annotated[float, Field(ge=0, le=0.5, allow_inf_nan=False)] = 0.0
    beyond: Literal["repeat", "mirror", "rim", "nothing"] = "repeat"


class ImageReport(BaseModel):
    """width, height : in pixels
    frames, rate : of a film, its pictures and how many a second; rate is null where none is known
    """

    digest: str
    filename: str
    width: int
    height: int
    frames: int = 1
    rate: float | None = None


class SoundReport(BaseModel):
    digest: str
    filename: str
    seconds: float


class SoundPath(BaseModel):
    """name : a digest, or the name of a sound that comes with the program"""

    name: Annotated[str, Field(pattern=r"^([0-9a-f]{64}|[a-z]{1,20})$")]


class WaveformQuery(BaseModel):
    peaks: Annotated[int, Field(ge=1, le=4000)] = 600


class AudioQuery(BaseModel):
    """begin, seconds : the part that is heard, which goes round at the end of the sound"""

    begin: Annotated[float, Field(ge=0, le=1e5, allow_inf_nan=False)] = 0.0
    seconds: Annotated[float, Field(gt=0, le=600, allow_inf_nan=False)]


class Waveform(BaseModel):
    """peaks : least and greatest sample of each stretch"""

    filename: str
    seconds: float
    peaks: list[list[float]]


class AssetQuery(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=255)]


class BroughtStudy(BaseModel):
    """What became of a file with a study.

    id, name : of the study; null where it could not be brought in, for which error says why
    missing : how many of the files that it uses are nowhere
    presets : how many presets came with it that were not here
    """

    filename: str
    id: str | None = None
    name: str | None = None
    error: str | None = None
    missing: int = 0
    presets: int = 0


class BroughtList(BaseModel):
    brought: list[BroughtStudy]


class FileReport(BaseModel):
    """What a file held; size in its own unit; notes on what was taken otherwise than meant."""

    points: int
    faces: int
    joined_points: int
    dropped_faces: int
    open_edges: int
    size: list[float]
    curves: int = 0
    notes: list[str] = []


class AssetReport(FileReport):
    """form, values : what shows the file"""

    digest: str
    filename: str
    form: str
    values: dict[str, Any]


class ExaminedMesh(BaseModel):
    """size, low : metres"""

    points: int
    faces: int
    parts: int
    holes: int
    rims: int
    open_edges: int
    loose_points: int
    doubled_faces: int
    close_points: int
    join_distance: float
    turned_faces: int
    crowded_edges: int
    flat_faces: int
    size: list[float]
    low: list[float]


class RepairOffer(BaseModel):
    """values : what the form's values become when it is taken
    minor : whether it is likely meant to be so"""

    key: str
    problem: str
    action: str
    values: dict[str, Any]
    minor: bool


class ImportReport(BaseModel):
    filename: str
    read: FileReport
    now: ExaminedMesh
    repairs: list[RepairOffer]
