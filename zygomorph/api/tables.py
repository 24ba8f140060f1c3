"""Tables of elements for the routes: made once for a frame, and paged through."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from zygomorph.api.table_shapes import TableQuery
from zygomorph.core.document.study import Study
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.keys import piece_key
from zygomorph.core.formats.csv import as_csv
from zygomorph.core.geometry.domains import between_domains
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.geometry.smoothing import drawn_weights
from zygomorph.core.inspect.table import Filter, Table, select, statistics, table_of
from zygomorph.core.memo.memo import Memo

KEPT_BYTES = 400_000_000
NORMALS = ("nx", "ny", "nz")
# The number of each element, which every table has and which is no column of it.
NUMBER = "#"


@dataclass(frozen=True)
class _Shown:
    """A table with what it is of."""

    geometry: Geometry
    table: Table


@dataclass(frozen=True)
class _Chosen:
    """Numbers of the elements that pass the filters, in order, and the figures of each column."""

    rows: np.ndarray
    figures: dict[str, dict[str, Any]]


class Tables:
    def __init__(self, evaluator: Evaluator) -> None:
        self._evaluator = evaluator
        self._kept: Memo[_Shown] = Memo(KEPT_BYTES)
        self._orders: Memo[_Chosen] = Memo(KEPT_BYTES)

    def _shown(self, study: Study, piece: str, query: TableQuery) -> tuple[str, _Shown]:
        final = query.quality == "final"
        key = f"{piece_key(study, piece, final)}/{query.frame}/{query.domain}/{query.mask_of}"
        kept = self._kept.get(key)
        if kept is None:
            request = Request(piece, query.frame, final, query.mask_of)
            found = self._evaluator.evaluate(study, request)
            fits = found.weighed == ("copies" if query.domain == "copy" else "points")
            table = table_of(found.geometry, query.domain, found.weights if fits else None)
            kept = _Shown(found.geometry, table)
            self._kept.put(key, kept, table.size_in_bytes + found.geometry.size_in_bytes)
        return key, kept

    def _chosen(self, key: str, table: Table, query: TableQuery) -> _Chosen:
        key += f"/{query.sort}/{query.descending}/{query.filter}"
        chosen = self._orders.get(key)
        if chosen is None:
            filters = [_filter(text) for text in query.filter]
            rows = select(table, filters, query.sort, query.descending)
            figures = {name: statistics(c.values[rows]) for name, c in table.columns.items()}
            chosen = _Chosen(rows, figures)
            self._orders.put(key, chosen, rows.nbytes)
        return chosen

    def page(self, study: Study, piece: str, query: TableQuery) -> dict[str, Any]:
        """Some rows of the table, and the figures of all that pass the filters.

        Raises ZygomorphError where a column is not there, and what evaluating raises.
        """
        key, shown = self._shown(study, piece, query)
        table = shown.table
        chosen = self._chosen(key, table, query)
        rows = chosen.rows
        here = rows[query.first : query.first + query.count]
        values = [c.values[here].astype(np.float64) for c in table.columns.values()]
        return {
            "domain": table.domain,
            "total": len(table),
            "matching": len(rows),
            "columns": [
                {"key": name, "label": c.label, "unit": c.unit, **chosen.figures[name]}
                for name, c in table.columns.items()
            ],
            "rows": [
                {"number": int(number), "values": [float(v[k]) for v in values]}
                for k, number in enumerate(here)
            ],
            "places": table.places[here].astype(np.float64).tolist(),
        }

    def csv(self, study: Study, piece: str, query: TableQuery) -> Iterator[str]:
        """All rows that pass the filters, as text."""
        key, shown = self._shown(study, piece, query)
        return as_csv(shown.table, self._chosen(key, shown.table, query).rows)

    def numbers(self, study: Study, piece: str, query: TableQuery, column: str, most: int) -> bytes:
        """A column at the elements that pass the filters, to be written beside them.

        Of more than ``most``, a fair choice that is always the same. Two uint32, how many there
        are and whether they have normals; then of each one float32 value and three of its place,
        and three of its normal; first all values, then all places, then all normals.
        """
        key, shown = self._shown(study, piece, query)
        table = shown.table
        values = np.arange(len(table)) if column == NUMBER else _values_of(table, column)
        rows = self._chosen(key, table, query).rows
        if len(rows) > most:
            rows = np.random.default_rng(0).choice(rows, most, replace=False, shuffle=False)
        parts = [values[rows], table.places[rows]]
        normals = [table.columns[name].values for name in NORMALS if name in table.columns]
        if normals:
            parts.append(np.stack([n[rows] for n in normals], axis=1))
        head = np.array([len(rows), bool(normals)], "<u4").tobytes()
        return head + b"".join(np.ascontiguousarray(p, "<f4").tobytes() for p in parts)

    def heat(self, study: Study, piece: str, query: TableQuery, column: str) -> bytes:
        """A column at the points that are drawn, or at the copies, as shares of its range: two
        float32, its least and most, then one byte for each."""
        _, shown = self._shown(study, piece, query)
        values = _values_of(shown.table, column)
        at_points = values
        if query.domain != "copy":
            at_points = between_domains(shown.geometry.real, values, query.domain, "point")
            if shown.geometry.copies is None:
                at_points = drawn_weights(shown.geometry, at_points)
        low, high = (float(values.min()), float(values.max())) if len(values) else (0.0, 0.0)
        share = (at_points - low) / (high - low if high > low else 1.0)
        drawn = np.round(np.clip(share, 0, 1) * 255).astype(np.uint8)
        return np.array([low, high], "<f4").tobytes() + drawn.tobytes()


def _values_of(table: Table, column: str) -> np.ndarray:
    if column not in table.columns:
        raise ZygomorphError(
            f"There is no column {column!r}.", f"Columns: {', '.join(table.columns)}."
        )
    return table.columns[column].values.astype(np.float32)


def _filter(text: str) -> Filter:
    """A filter as an address holds it: column, least and most with ~ between; empty is no limit."""
    column, _, bounds = text.partition("~")
    low, _, high = bounds.partition("~")
    try:
        limits = [float(b) if b else None for b in (low, high)]
    except ValueError as error:
        raise ZygomorphError(
            f"The filter {text!r} has a limit that is not a number.", "Write column~least~most."
        ) from error
    return Filter(column, *limits)
