"""The catalogue of forms, steps, layers, signals, looks and scene as pydantic models."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from zygomorph.core.values.value import Kind


class Catalogue(BaseModel):
    model_config = ConfigDict(extra="allow")
    groups: list[OptionEntry]
    form_groups: list[OptionEntry]
    layer_groups: list[OptionEntry]
    forms: list[CatalogueEntry]
    steps: list[CatalogueEntry]
    layers: list[CatalogueEntry]
    signals: list[CatalogueEntry]
    looks: list[CatalogueEntry]
    lights: list[CatalogueEntry]
    cameras: list[CatalogueEntry]
    backdrops: list[CatalogueEntry]
    moved: list[OptionEntry]
    blended: list[OptionEntry]
    layer_values: dict[str, ValueEntry]
    look_layer_values: dict[str, ValueEntry]
    light_setups: list[SetUpEntry]
    ground_values: dict[str, ValueEntry]
    finish_values: dict[str, ValueEntry]
    place_values: dict[str, ValueEntry]
    marker_values: dict[str, ValueEntry]
    stagger_values: dict[str, ValueEntry]
    spread_values: dict[str, ValueEntry]
    gradients: list[GradientEntry]
    formula_names: list[OptionEntry]
    functions: list[OptionEntry]
    constants: list[str]


class OptionEntry(BaseModel):
    key: str
    label: str


class SetUpEntry(BaseModel):
    key: str
    title: str
    help: str


class StopEntry(BaseModel):
    at: float
    colour: str


class GradientEntry(BaseModel):
    key: str
    stops: list[StopEntry]
    colours: list[str]


class ValueEntry(BaseModel):
    """by_values : of a value that may go by value, what it has then besides its layers"""

    kind: Kind
    default: Any
    label: str
    help: str
    unit: str
    soft: tuple[float, float]
    hard: tuple[float | None, float | None]
    scale: Literal["linear", "log"]
    options: list[OptionEntry]
    shown_when: tuple[str, list[str]] | None
    mentioned_in: list[str]
    known: list[str]
    draft: bool
    begins: tuple[float, float] | None
    main: bool
    moves: bool
    each: bool
    by_values: dict[str, ValueEntry] | None


class FootEntry(BaseModel):
    value: str
    times: tuple[float, float, float] | None


class GripEntry(BaseModel):
    """A length, a place or an angle that is dragged on the stage."""

    kind: Literal["reach", "spot", "turn", "gimbal", "plane"]
    value: str
    along: tuple[float, float, float] | str
    per: float
    round: str | None
    foot: list[FootEntry]
    beside: bool
    turned: str | None


class CatalogueEntry(BaseModel):
    sort: str
    key: str
    title: str
    group: str
    help: str
    sentence: str
    handle: str
    grips: list[GripEntry]
    changes_topology: bool
    makes_copies: bool
    rigid: bool
    keeps_volume: str
    in_looks: bool = False
    coloured: bool = False
    also: list[str]
    carriable: bool
    values: dict[str, ValueEntry]


Catalogue.model_rebuild()
