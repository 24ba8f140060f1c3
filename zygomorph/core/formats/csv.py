"""Tables of elements as comma-separated values (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator

import numpy as np

from zygomorph.core.inspect.table import Table

CSV_ROWS = 20_000


def as_csv(table: Table, rows: np.ndarray) -> Iterator[str]:
    """The rows as comma-separated text (RFC 4180), a piece at a time; the first line names them."""
    head = io.StringIO()
    titles = [f"{c.label} ({c.unit})" if c.unit else c.label for c in table.columns.values()]
    csv.writer(head).writerow(["number", *titles])
    yield head.getvalue()
    columns = [c.values for c in table.columns.values()]
    for begin in range(0, len(rows), CSV_ROWS):
        here = rows[begin : begin + CSV_ROWS]
        out = io.StringIO()
        writer = csv.writer(out)
        writer.writerows(zip(here.tolist(), *(_texts(c[here]) for c in columns), strict=True))
        yield out.getvalue()


def _texts(values: np.ndarray) -> list[str]:
    """Shortest figures that give the same number again."""
    return [str(v) for v in values]
