"""Light, camera and backdrop over the loop as pydantic models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

Pair = Annotated[list[float], Field(min_length=2, max_length=2)]
Triple = Annotated[list[float], Field(min_length=3, max_length=3)]


class SunTold(BaseModel):
    """Parallel light. light : id of the light that it is of; towards : unit direction to it;
    strength : W/m²"""

    light: str
    kind: Literal["sun"]
    towards: Triple
    colour: str
    strength: float
    shadow: bool


class SkyTold(BaseModel):
    """Light from all sides. towards : up; below : colour from below"""

    light: str
    kind: Literal["sky"]
    towards: Triple
    colour: str
    below: str
    strength: float


class DomeTold(BaseModel):
    """Light from a picture all round.

    picture : where its light is, of 1 W/m², which is times the strength
    axes : rows of the matrix from the directions of the picture to the stage
    harmonics : coefficients of the first nine spherical harmonics of its radiance, red, green, blue
    """

    light: str
    kind: Literal["dome"]
    picture: str
    strength: float
    axes: Annotated[list[Triple], Field(min_length=3, max_length=3)]
    harmonics: Annotated[list[Triple], Field(min_length=9, max_length=9)]


class PointTold(BaseModel):
    """strength : W; radius : metres"""

    light: str
    kind: Literal["point"]
    position: Triple
    colour: str
    strength: float
    radius: float
    shadow: bool


class SpotTold(BaseModel):
    """angle : across the cone, degrees; edge : share of its half over which it falls off"""

    light: str
    kind: Literal["spot"]
    position: Triple
    target: Triple
    colour: str
    strength: float
    radius: float
    angle: float
    edge: float
    shadow: bool


class AreaTold(BaseModel):
    """A rectangle or disc. strength : W; radiance : W/m²/sr"""

    light: str
    kind: Literal["area"]
    position: Triple
    target: Triple
    width: float
    height: float
    round: bool
    colour: str
    strength: float
    radiance: float
    shadow: bool


# Light as renderers have it; see :mod:`zygomorph.core.shared.drawn_scene`.
LampTold = Annotated[
    SunTold | SkyTold | DomeTold | PointTold | SpotTold | AreaTold, Field(discriminator="kind")
]


class ViewTold(BaseModel):
    """What the study's camera sees; see :class:`zygomorph.core.geometry.view.View`."""

    position: Triple
    target: Triple
    up: Triple
    aspect: float
    angle: float
    height: float | None
    near: float | None
    far: float | None
    lens_radius: float
    blades: int
    focus: float
    focus_on: str
    shutter: float


class CameraWay(BaseModel):
    """Where a camera is over the loop, for drawing it in other views.

    aspect : width of its picture over its height
    places, targets : metres on the stage, spread evenly over the frames 0 to F; one where it stands
    """

    id: str
    moves: bool
    aspect: float
    places: list[Triple]
    targets: list[Triple]


class Stop(BaseModel):
    at: float
    colour: str


class BackdropTold(BaseModel):
    """Colours in circles round a place, along a direction, or none.

    middle : from left and top, in shares of the picture
    angle : degrees, counter-clockwise from a gradient that goes from left to right
    stops : at shares of the way, to the farthest corner or side; mixed in sRGB between
    picture : its address, or null; fit : how it fills the picture that is taken, the rest of which
        has the colour of the first stop
    """

    kind: Literal["round", "linear", "clear", "picture"]
    middle: Pair
    angle: float
    stops: list[Stop]
    picture: str | None
    fit: Literal["cover", "whole", "stretch"]


class GroundTold(BaseModel):
    """level : metres on the stage, or null under what is shown; the others : shares"""

    kind: Literal["none", "shadow", "plane", "mirror"]
    level: float | None
    shadow: float
    colour: str
    roughness: float
    mirror: float


class FinishTold(BaseModel):
    """exposure : factor; contrast : -1 to 1; occlusion_radius : metres; the others : shares

    trails : of each picture that is left one frame later
    """

    exposure: float
    contrast: float
    bloom: float
    bloom_from: float
    bloom_size: float
    occlusion: float
    occlusion_radius: float
    vignette: float
    trails: float
    trails_as: Literal["lighter", "mixed"]


class SceneMoment(BaseModel):
    lamps: list[LampTold]
    view: ViewTold
    backdrop: BackdropTold
    ground: GroundTold
    finish: FinishTold


class SceneMotion(BaseModel):
    """Light, the study's camera and what is behind the stage.

    cameras : all of the study, and where they are
    moments : one for each frame 0 to F, or fewer spread over them, or a single one
    """

    moments: Annotated[list[SceneMoment], Field(min_length=1)]
    cameras: list[CameraWay]
