"""Light, camera and backdrop over the loop as pydantic models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

Pair = Annotated[list[float], Field(min_length=2, max_length=2)]
Triple = Annotated[list[float], Field(min_length=3, max_length=3)]


class LampTold(BaseModel):
    """Light as renderers have it; see :mod:`zygomorph.core.shared.drawn_scene`.

    light : id of the light that it is of
    towards : unit direction to a sun, or up in a sky
    colour, below : of a sun, or of a sky from above, and of a sky from below
    strength : W/m²
    """

    light: str
    kind: Literal["sun", "sky"]
    towards: Triple
    colour: str
    below: str
    strength: float
    shadow: bool


class ViewTold(BaseModel):
    """position, target : metres on the stage; angle : from lower to upper edge, degrees"""

    position: Triple
    target: Triple
    angle: float


class Stop(BaseModel):
    at: float
    colour: str


class BackdropTold(BaseModel):
    """Colours in circles round a place.

    middle : from left and top, in shares of the picture
    stops : at shares of the way to the farthest corner; mixed in sRGB between
    """

    middle: Pair
    stops: list[Stop]


class SceneMoment(BaseModel):
    lamps: list[LampTold]
    view: ViewTold
    backdrop: BackdropTold


class SceneMotion(BaseModel):
    """Light, the study's camera and what is behind the stage.

    moments : one for each frame 0 to F, or fewer spread over them, or a single one
    """

    moments: Annotated[list[SceneMoment], Field(min_length=1)]
