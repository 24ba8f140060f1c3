"""Queries and answers of the routes of tables."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from zygomorph.api.shapes import Frame, Quality


class TableQuery(BaseModel):
    """sort : a column; filter : column~least~most, where empty is no limit; first, count : rows
    mask_of : a step whose mask is a column of the points"""

    frame: Frame = 0.0
    quality: Quality = "draft"
    domain: Literal["point", "face", "shard", "copy"] = "point"
    mask_of: Annotated[str, Field(max_length=40)] | None = None
    sort: Annotated[str, Field(max_length=80)] = ""
    descending: bool = False
    filter: Annotated[list[Annotated[str, Field(max_length=160)]], Field(max_length=32)] = []
    first: Annotated[int, Field(ge=0)] = 0
    count: Annotated[int, Field(ge=0, le=500)] = 50


class HeatQuery(TableQuery):
    column: Annotated[str, Field(max_length=80)]


class NumbersQuery(HeatQuery):
    """most : of more elements, only so many"""

    most: Annotated[int, Field(ge=1, le=100_000)] = 20_000


class TableColumn(BaseModel):
    """Figures are those of the rows that pass the filters; none where there are no rows."""

    key: str
    label: str
    unit: str
    count: int
    least: float | None
    most: float | None
    mean: float | None
    median: float | None
    deviation: float | None


class TableRow(BaseModel):
    number: int
    values: list[float]


class TablePage(BaseModel):
    """places : where the rows' elements are, in the piece"""

    domain: str
    total: int
    matching: int
    columns: list[TableColumn]
    rows: list[TableRow]
    places: list[list[float]]
