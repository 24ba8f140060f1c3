"""The study document as pydantic models, built from the catalogue.

Every step, layer, look and light gets a model of its own, so that an unknown or wrong key is
found at its place, and so that the JSON Schema tells all there is to know.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Literal, Union

from pydantic import (
    BaseModel,
    Field,
)

from zygomorph.core.document.beginnings import beginnings
from zygomorph.core.document.value_models import model, value_type, values_model, values_of
from zygomorph.core.values.by_values import by_values
from zygomorph.core.values.definitions import Definition, Sort
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.kinds.kind import Finite, Strict
from zygomorph.core.values.layer_values import LAYER_VALUES, LOOK_LAYER_VALUES
from zygomorph.core.values.place_values import MARKER_VALUES, PLACE_VALUES
from zygomorph.core.values.scene_values import FINISH_VALUES, GROUND_VALUES

FORMAT = "zygomorph-study"
PRESET_FORMAT = "zygomorph-preset"
VERSION = 5

# Looks of one piece, which viewers blend for every pixel.
MOST_LOOKS = 6

Identifier = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$")]
Name = Annotated[str, Field(min_length=1, max_length=120)]
# A value of a step, or of one of its mask layers, as a path inside the step.
ValuePath = Annotated[
    str, Field(pattern=r"^(where/layers/[A-Za-z0-9][A-Za-z0-9_-]{0,39}/)?values/\w{1,60}$")
]


# What a deformer moves.
MOVED = {
    "natural": "points, or whole copies",
    "points": "each point",
    "shards": "whole shards or copies",
    "tilted": "whole, tilted to the slope",
    "bases": "what is copied",
}


FindingId = Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")]


class CarriedBy(Strict):
    """What carries a piece, a marker or a step: it keeps the place that it had when it was
    attached.

    start : (4, 4) row by row, where the carrier was then: on the stage, or, where a step is not
        measured there, as it was seen from the step's own piece
    """

    by: Literal["piece", "marker", "camera"]
    id: Identifier
    start: Annotated[list[Finite], Field(min_length=16, max_length=16)] = [
        float(a == b) for a in range(4) for b in range(4)
    ]


class SurfaceCarriedBy(CarriedBy):
    """What carries something that may stick to a surface.

    at_rest : of a piece, the place on its rest shape to which it sticks, metres; None where it
        moves with the piece as a whole
    smooth : metres around that place over which the motion of the surface is smoothed; 0 sticks to
        the one face there
    """

    at_rest: Annotated[list[Finite], Field(min_length=3, max_length=3)] | None = None
    smooth: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False, strict=True)] = 0.0


class LayerCarriedBy(CarriedBy):
    """What carries a mask layer.

    start : as it was seen from the layer's own piece, or from the stage where it is measured there
    """

    by: Literal["piece", "marker", "camera", "layer"]  # type: ignore[assignment]


@cache
def layer_models(in_looks: bool = False) -> dict[str, type[BaseModel]]:
    """A model for each mask layer, by key; those of looks do not remember."""
    common = LOOK_LAYER_VALUES if in_looks else LAYER_VALUES
    made = {}
    for key, definition in definitions("layer").items():
        if definition.in_looks and not in_looks:
            continue
        own = values_model(f"{key.title()}LayerValues", dict(definition.values))
        fields: dict[str, Any] = {
            "id": (Identifier, ...),
            "layer": (Literal[key], ...),
            "on": (Annotated[bool, Field(strict=True)], True),
            "carried": (LayerCarriedBy | None, None),
            "values": (own, Field(default_factory=own)),
        }
        fields |= {n: (value_type(v), v.default) for n, v in common.items()}
        made[key] = model(f"{key.title()}{'LookLayer' if in_looks else 'Layer'}", fields)
    return made


@cache
def _layers_type(in_looks: bool = False) -> Any:
    models = tuple(layer_models(in_looks).values())
    layer = Annotated[Union[models], Field(discriminator="layer")]
    return Annotated[list[layer], Field(max_length=64)]


class Front(Strict):
    """A value that a group shows at its front.

    name : what it is called there; empty is its own title
    """

    id: Identifier
    step: Identifier
    value: ValuePath
    name: Annotated[str, Field(max_length=60)] = ""


class Group(Strict):
    """Steps that stand together under a name; each of them says which group it is in."""

    id: Identifier
    name: Name
    front: Annotated[list[Front], Field(max_length=60)] = []


def _step_model(definition: Definition) -> type[BaseModel]:
    title = definition.key.title()
    own = values_model(f"{title}Values", dict(definition.values))
    fields: dict[str, Any] = {
        "id": (Identifier, ...),
        "step": (Literal[definition.key], ...),
        "on": (Annotated[bool, Field(strict=True)], True),
        "note": (Annotated[str, Field(max_length=2000)], ""),
        "values": (own, Field(default_factory=own)),
    }
    if definition.sort == "step":
        fields["group"] = (Identifier | None, None)
        if definition.carriable:
            fields["carried"] = (CarriedBy | None, None)
        where = model(
            "Where",
            {
                "layers": (_layers_type(), []),
                "store": (Annotated[str, Field(max_length=60)], ""),
                "moves": (Literal[tuple(MOVED)], "natural"),
            },
        )
        fields["where"] = (where, Field(default_factory=where))
    return model(f"{title}Step", fields)


def _steps_type(*sorts: Sort) -> Any:
    models = [_step_model(d) for sort in sorts for d in definitions(sort).values()]
    return Annotated[Union[tuple(models)], Field(discriminator="step")]


class LoopModel(Strict):
    frames: Annotated[int, Field(ge=1, le=100_000, strict=True)] = 240
    rate: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False, strict=True)] = 24.0
    one_way: Annotated[bool, Field(strict=True)] = False


class DeliverSettings(Strict):
    """tolerance: largest error of a thinned animation, as a share of the piece's size."""

    tolerance: Annotated[float, Field(gt=0, le=0.1, allow_inf_nan=False)] = 0.001


def _one_of(models: dict[str, type[BaseModel]], key: str) -> Any:
    """One of several models, which a key of theirs tells apart."""
    if len(models) == 1:
        return next(iter(models.values()))
    return Annotated[Union[tuple(models.values())], Field(discriminator=key)]


def _entries_type(sort: Literal["light", "camera", "backdrop"], fields: Any) -> Any:
    """A model of each entry of a sort, with its values and what all of the sort have."""
    made = {}
    for key, definition in definitions(sort).items():
        name = f"{key.title().replace('_', '')}{sort.title()}"
        own = values_model(f"{name}Values", dict(definition.values))
        carried = {"carried": (SurfaceCarriedBy | None, None)} if definition.carriable else {}
        made[key] = model(
            name,
            {**fields, sort: (Literal[key], ...), "values": (own, Field(default_factory=own))}
            | carried,
        )
    return _one_of(made, sort)


_NAMED: dict[str, Any] = {"id": (Identifier, ...), "name": (Name, ...)}
_SWITCH = Annotated[bool, Field(strict=True)]


# What a look is blended in by.
BLENDED = {"points": "at each point", "faces": "whole faces"}


def _by_type(definition: Definition) -> Any:
    """What of a look goes by value: each by the name of the value, which is its id."""
    where = model("ByWhere", {"layers": (_layers_type(in_looks=True), [])})
    made = []
    for name, spec in definition.values.items():
        if spec.by:
            title = f"{definition.key}_{name}".title().replace("_", "")
            own = values_model(f"{title}ByValues", by_values(spec))
            fields = {"values": (own, Field(default_factory=own))}
            fields |= {"where": (where, Field(default_factory=where))}
            made.append(model(f"{title}By", {"id": (Literal[name], ...), **fields}))
    return Annotated[Union[tuple(made)], Field(discriminator="id")]


@cache
def looks_type() -> Any:
    """The looks of a piece. The first that is on is everywhere."""
    where = model(
        "LookWhere",
        {
            "layers": (_layers_type(in_looks=True), []),
            "blended": (Literal[tuple(BLENDED)], "points"),
        },
    )
    made = {}
    for key, definition in definitions("look").items():
        name = key.title().replace("_", "")
        own = values_model(f"{name}LookValues", dict(definition.values))
        each: Any = _by_type(definition)
        by = Annotated[list[each], Field(max_length=len(definition.values))]
        made[key] = model(
            f"{name}Look",
            {
                "id": (Identifier, ...),
                "name": (Annotated[str, Field(max_length=120)], ""),
                "look": (Literal[key], ...),
                "on": (_SWITCH, True),
                "values": (own, Field(default_factory=own)),
                "by": (by, []),
                "where": (where, Field(default_factory=where)),
            },
        )
    look: Any = _one_of(made, "look")
    return Annotated[list[look], Field(min_length=1, max_length=MOST_LOOKS)]


class Option(Strict):
    """One state of a variant.

    kept : what it has at each address, while another option is chosen
    """

    id: Identifier
    name: Name
    kept: Annotated[
        dict[Annotated[str, Field(pattern=r"^(/[^/]+)+$", max_length=400)], Any],
        Field(max_length=500),
    ] = {}


class Variant(Strict):
    """One choice that switches several values, steps, pieces and looks together."""

    id: Identifier
    name: Name
    chosen: Identifier
    options: Annotated[list[Option], Field(min_length=1, max_length=40)]


@cache
def study_model() -> type[BaseModel]:
    """The model of a whole study document."""
    step = _steps_type("form", "step")
    looks = looks_type()
    light = _entries_type("light", _NAMED | {"visible": (_SWITCH, True)})
    lights = Annotated[list[light], Field(max_length=60)]
    camera = _entries_type("camera", _NAMED)
    cameras = Annotated[list[camera], Field(min_length=1, max_length=60)]
    backdrop = _entries_type("backdrop", {})
    ground = model("Ground", {"values": values_of("GroundValues", GROUND_VALUES)})
    finish = model("Finish", {"values": values_of("FinishValues", FINISH_VALUES)})
    place = values_model("Place", dict(PLACE_VALUES))
    piece = model(
        "Piece",
        {
            "id": (Identifier, ...),
            "name": (Name, ...),
            "visible": (_SWITCH, True),
            # It hides what is behind it, and is nothing itself.
            "holdout": (_SWITCH, False),
            "recipe": (Annotated[list[step], Field(min_length=1, max_length=500)], ...),
            "groups": (Annotated[list[Group], Field(max_length=100)], []),
            "place": (place, Field(default_factory=place)),
            "carried": (SurfaceCarriedBy | None, None),
            "looks": (looks, Field(default_factory=lambda: beginnings("look"))),
        },
    )
    marker_place = values_model("MarkerPlace", dict(MARKER_VALUES))
    marker = model(
        "Marker",
        {
            "id": (Identifier, ...),
            "name": (Name, ...),
            "place": (marker_place, Field(default_factory=marker_place)),
            "carried": (SurfaceCarriedBy | None, None),
        },
    )
    return model(
        "Study",
        {
            "format": (Literal[FORMAT], ...),
            "version": (Literal[VERSION], ...),
            "name": (Name, ...),
            "note": (Annotated[str, Field(max_length=4000)], ""),
            "loop": (LoopModel, Field(default_factory=LoopModel)),
            "pieces": (Annotated[list[piece], Field(max_length=200)], ...),
            "markers": (Annotated[list[marker], Field(max_length=200)], []),
            "variants": (Annotated[list[Variant], Field(max_length=40)], []),
            "lights": (lights, Field(default_factory=lambda: beginnings("light"))),
            "cameras": (cameras, Field(default_factory=lambda: beginnings("camera"))),
            # Id of the one that is the study's; without it the first.
            "camera": (Identifier | None, None),
            "backdrop": (backdrop, Field(default_factory=lambda: beginnings("backdrop")[0])),
            "ground": (ground, Field(default_factory=ground)),
            "finish": (finish, Field(default_factory=finish)),
            "deliver": (DeliverSettings, Field(default_factory=DeliverSettings)),
            # Ids of findings that are meant so.
            "intended": (Annotated[list[FindingId], Field(max_length=1000)], []),
        },
    )


@cache
def preset_model() -> type[BaseModel]:
    """The model of a preset: steps that are kept to be used again, and what they show first."""
    step = _steps_type("step")
    steps = Annotated[list[step], Field(min_length=1, max_length=100)]
    made_on = model(
        "MadeOn",
        {
            "form": (_steps_type("form"), ...),
            "looks": (looks_type(), Field(default_factory=lambda: beginnings("look"))),
            "loop": (LoopModel, Field(default_factory=LoopModel)),
        },
    )
    return model(
        "Preset",
        {
            "format": (Literal[PRESET_FORMAT], ...),
            "version": (Literal[VERSION], ...),
            "name": (Name, ...),
            "note": (Annotated[str, Field(max_length=2000)], ""),
            "steps": (steps, ...),
            "front": (Annotated[list[Front], Field(max_length=60)], []),
            "made_on": (made_on | None, None),
        },
    )
