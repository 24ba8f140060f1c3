"""Bodies and answers of the routes of presets."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from zygomorph.api.shapes import PiecePath, Strict


class PresetPath(BaseModel):
    preset_id: Annotated[str, Field(max_length=40)]


class PresetPiecePath(PiecePath, PresetPath):
    pass


class PresetSummary(BaseModel):
    """steps : the titles of its steps; picture : of what it does to a ball"""

    id: str
    name: str
    note: str
    steps: list[str]
    front: int
    changed: str
    thumbnail_state: Literal["ready", "drawing", "failed"]
    address: str


class PresetList(BaseModel):
    presets: list[PresetSummary]


class PresetBody(Strict):
    """A preset as a document; or a group of a piece of a study, under a name of its own."""

    document: dict[str, Any] | None = None
    study: Annotated[str, Field(max_length=40)] | None = None
    piece: Annotated[str, Field(max_length=40)] | None = None
    group: Annotated[str, Field(max_length=40)] | None = None
    name: Annotated[str, Field(max_length=120)] = ""


class UseBody(Strict):
    """Where a preset is wanted: after this step, or at the end."""

    after: Annotated[str, Field(max_length=40)] | None = None


class PresetUse(BaseModel):
    """operations : an edit that brings the preset's steps in; group : their group there"""

    operations: list[dict[str, Any]]
    group: str
    first: str
