"""The study document as the interface reads it: the same keys for entries of every kind.

The truth is :mod:`zygomorph.core.document.schema`, which has a model for each entry of the library.
Here its values have names of any kind, so that code which knows no entry can read them; a test
holds the keys of both against each other.
"""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field


class KeyShape(BaseModel):
    """in, out : slopes before and after it where they are set by hand, in value per frame"""

    frame: float
    value: float
    ease: Literal["linear", "smooth", "held"] = "linear"
    in_: float | None = Field(None, alias="in")
    out: float | None = None


class SignalShape(BaseModel):
    model_config = ConfigDict(extra="allow")
    signal: str
    keys: list[KeyShape] = []


class PairShape(BaseModel):
    """A value of each quality."""

    draft: float | SignalShape
    final: float | SignalShape


class GradientStopShape(BaseModel):
    at: float
    colour: str


class GradientShape(BaseModel):
    """A gradient with stops of its own."""

    stops: list[GradientStopShape]
    join: Literal["smooth", "held"] = "smooth"
    mix: Literal["perceptual", "linear"] = "perceptual"


Scalar = float | SignalShape | PairShape


class MovingColourShape(BaseModel):
    """A colour that is read out of a gradient, at a place that a signal moves."""

    gradient: str | GradientShape
    at: Scalar


# Paths and strokes are lists of objects of their own.
DocValue = (
    Scalar | list[Scalar] | list[dict[str, Any]] | str | bool | GradientShape | MovingColourShape
)
Values = dict[str, DocValue]


class CarriedShape(BaseModel):
    by: Literal["piece", "marker", "camera", "layer"]
    id: str
    start: list[float] = []


class SurfaceCarriedShape(CarriedShape):
    """at_rest : of a piece, the place on its rest shape to which it sticks
    smooth : metres over which the motion of the surface there is smoothed"""

    at_rest: list[float] | None = None
    smooth: float = 0.0


class LayerShape(BaseModel):
    """A mask layer; what all layers have, such as its profile, is in it by name."""

    model_config = ConfigDict(extra="allow")
    id: str
    layer: str
    on: bool = True
    carried: CarriedShape | None = None
    values: Values = {}


class WhereShape(BaseModel):
    layers: list[LayerShape] = []
    store: str = ""
    moves: str = "natural"


class StepShape(BaseModel):
    id: str
    step: str
    on: bool = True
    note: str = ""
    group: str | None = None
    carried: CarriedShape | None = None
    values: Values = {}
    where: WhereShape | None = None


class FrontShape(BaseModel):
    """A value that a group shows first: of one of its steps, as a path inside the step."""

    id: str
    step: str
    value: str
    name: str = ""


class GroupShape(BaseModel):
    id: str
    name: str
    front: list[FrontShape] = []


class LookWhereShape(BaseModel):
    layers: list[LayerShape] = []
    blended: Literal["points", "faces"] = "points"


class ByWhereShape(BaseModel):
    layers: list[LayerShape] = []


class ByShape(BaseModel):
    """What of a look goes by value. id : the name of the value"""

    id: str
    values: Values = {}
    where: ByWhereShape | None = None


class LookShape(BaseModel):
    id: str
    name: str = ""
    look: str
    on: bool = True
    values: Values = {}
    by: list[ByShape] = []
    where: LookWhereShape | None = None


class PieceShape(BaseModel):
    id: str
    name: str
    visible: bool = True
    holdout: bool = False
    recipe: list[StepShape]
    groups: list[GroupShape] = []
    place: Values = {}
    carried: SurfaceCarriedShape | None = None
    looks: list[LookShape] = []


class MarkerShape(BaseModel):
    id: str
    name: str
    place: Values = {}
    carried: SurfaceCarriedShape | None = None


class LightShape(BaseModel):
    id: str
    name: str
    visible: bool = True
    light: str
    values: Values = {}
    carried: SurfaceCarriedShape | None = None


class CameraShape(BaseModel):
    id: str
    name: str
    camera: str
    values: Values = {}
    carried: SurfaceCarriedShape | None = None


class BackdropShape(BaseModel):
    backdrop: str
    values: Values = {}


class SceneValuesShape(BaseModel):
    values: Values = {}


class OptionShape(BaseModel):
    """kept : what it has at each address, while another option is chosen"""

    id: str
    name: str
    kept: dict[str, Any] = {}


class VariantShape(BaseModel):
    id: str
    name: str
    chosen: str
    options: list[OptionShape]


class LoopShape(BaseModel):
    frames: int = 240
    rate: float = 24.0
    one_way: bool = False


class DeliverShape(BaseModel):
    tolerance: float = 0.001


class DocumentShape(BaseModel):
    """intended : ids of findings that are meant so"""

    format: str
    version: int
    name: str
    note: str = ""
    loop: LoopShape = LoopShape()
    pieces: list[PieceShape]
    markers: list[MarkerShape] = []
    variants: list[VariantShape] = []
    lights: list[LightShape] = []
    cameras: list[CameraShape] = []
    camera: str | None = None
    backdrop: BackdropShape | None = None
    ground: SceneValuesShape | None = None
    finish: SceneValuesShape | None = None
    deliver: DeliverShape = DeliverShape()
    intended: list[str] = []
