"""Bodies and answers of picking on the stage."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from zygomorph.api.shapes import Frame, Quality, Strict
from zygomorph.core.document.schema import Finite
from zygomorph.core.values.kinds.drawn import Place, Run

Triple = Annotated[list[Finite], Field(min_length=3, max_length=3)]
Pair = Annotated[list[Finite], Field(min_length=2, max_length=2)]


class PickRay(Strict):
    """A click: from the eye along a direction, both on the stage."""

    by: Literal["ray"]
    origin: Triple
    direction: Triple


class PickBox(Strict):
    """A rectangle in the view. view : (4, 4) row by row, from the stage to -1 to 1 both ways;
    through : whether what faces away is meant as well"""

    by: Literal["box"]
    view: Annotated[list[Finite], Field(min_length=16, max_length=16)]
    low: Pair
    high: Pair
    eye: Triple
    through: bool = False


class PickFacing(Strict):
    """All that looks along a direction on the stage, within an angle in degrees."""

    by: Literal["facing"]
    direction: Triple
    angle: Annotated[float, Field(ge=0, le=180, allow_inf_nan=False)]


class PickGrow(Strict):
    """Neighbours of what is picked as well, so many times; below 0 without its rim."""

    by: Literal["grow"]
    times: Annotated[int, Field(ge=-50, le=50)]


class PickSize(Strict):
    """The largest share of all elements, or the smallest."""

    by: Literal["size"]
    share: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)]
    largest: bool


class PickOthers(Strict):
    """All that is not picked, instead of what is."""

    by: Literal["others"]


class PickBody(Strict):
    """Elements that are picked on the stage; picked : those before, as runs of (first, how many)"""

    step: Annotated[str, Field(max_length=40)]
    of: Literal["points", "faces", "shards", "copies", "curves"]
    selection: Annotated[
        PickRay | PickBox | PickFacing | PickGrow | PickSize | PickOthers,
        Field(discriminator="by"),
    ]
    how: Literal["only", "add", "remove"] = "add"
    picked: Annotated[list[Run], Field(max_length=200_000)] = []
    frame: Frame = 0.0
    quality: Quality = "draft"


class PlaceBody(Strict):
    """A click on a surface, for a step that takes places."""

    step: Annotated[str, Field(max_length=40)]
    ray: PickRay
    frame: Frame = 0.0
    quality: Quality = "draft"


class ClickedPlace(BaseModel):
    """place : where it is in the piece and the normal there, or null where nothing was met"""

    place: Place | None


class Picked(BaseModel):
    picked: list[tuple[int, int]]
    count: int
