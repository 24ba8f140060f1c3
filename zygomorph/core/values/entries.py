"""The entries of the library, for layers below it.

A document is checked against them and signals are looked up among them, though neither knows any
by name. The registry, which finds them, is a layer above and is imported when the first entry is
asked for.
"""

from __future__ import annotations

from functools import cache
from importlib import import_module
from typing import Literal, overload

from zygomorph.core.values.definitions import (
    BackdropDefinition,
    CameraDefinition,
    Definition,
    FormDefinition,
    LightDefinition,
    LookDefinition,
    MaskDefinition,
    SignalDefinition,
    Sort,
    StepDefinition,
)

REGISTRY = "zygomorph.core.registry"


@overload
def definitions(sort: Literal["form"]) -> dict[str, FormDefinition]: ...
@overload
def definitions(sort: Literal["step"]) -> dict[str, StepDefinition]: ...
@overload
def definitions(sort: Literal["layer"]) -> dict[str, MaskDefinition]: ...
@overload
def definitions(sort: Literal["signal"]) -> dict[str, SignalDefinition]: ...
@overload
def definitions(sort: Literal["look"]) -> dict[str, LookDefinition]: ...
@overload
def definitions(sort: Literal["light"]) -> dict[str, LightDefinition]: ...
@overload
def definitions(sort: Literal["camera"]) -> dict[str, CameraDefinition]: ...
@overload
def definitions(sort: Literal["backdrop"]) -> dict[str, BackdropDefinition]: ...
@overload
def definitions(sort: Sort) -> dict[str, Definition]: ...
def definitions(sort: Sort) -> dict[str, Definition]:  # type: ignore[misc]
    """All entries of a sort by key, in their order."""
    found: dict[str, Definition] = import_module(REGISTRY).found_entries(sort)
    return found


@cache
def recipe_definitions() -> dict[str, FormDefinition | StepDefinition]:
    """Forms and steps: everything that a recipe may contain."""
    return {**definitions("form"), **definitions("step")}
