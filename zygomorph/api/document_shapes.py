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


Scalar = float | SignalShape | PairShape
# Paths and strokes are lists of objects of their own.
DocValue = Scalar | list[Scalar] | list[dict[str, Any]] | str | bool
Values = dict[str, DocValue]


class CarriedShape(BaseModel):
    by: Literal["piece", "marker", "layer"]
    id: str
    start: list[float] = []


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


class LookShape(BaseModel):
    id: str
    look: str
    values: Values = {}


class PieceShape(BaseModel):
    id: str
    name: str
    visible: bool = True
    recipe: list[StepShape]
    groups: list[GroupShape] = []
    place: Values = {}
    carried: CarriedShape | None = None
    looks: list[LookShape] = []


class MarkerShape(BaseModel):
    id: str
    name: str
    place: Values = {}
    carried: CarriedShape | None = None


class LightShape(BaseModel):
    id: str
    name: str
    visible: bool = True
    light: str
    values: Values = {}
    carried: CarriedShape | None = None


class CameraShape(BaseModel):
    id: str
    name: str
    camera: str
    values: Values = {}
    carried: CarriedShape | None = None


class BackdropShape(BaseModel):
    backdrop: str
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
    deliver: DeliverShape = DeliverShape()
    intended: list[str] = []
