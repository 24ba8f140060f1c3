"""Run formulas over the points of a mesh, a block at a time."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from zygomorph.core.values.formula.parse import Formula

# Long enough that the walk over the formula costs little, short enough for the second-level cache.
BLOCK = 16_384


def run_formulas(
    formulas: Sequence[Formula], named: Mapping[str, np.ndarray], count: int
) -> tuple[np.ndarray, int]:
    """Results of formulas at each element.

    named : (1,) or (count,) float32 by name, at least the names that the formulas use
    returns (len(formulas), count) float32, in which undefined results became 0, and how many did
    """
    out = np.empty((len(formulas), count), np.float32)
    undefined = 0
    with np.errstate(all="ignore"):
        for lo in range(0, count, BLOCK):
            hi = min(lo + BLOCK, count)
            block = {k: v if len(v) == 1 else v[lo:hi] for k, v in named.items()}
            for formula, row in zip(formulas, out, strict=True):
                part = row[lo:hi]
                part[:] = formula.run(block)
                bad = ~np.isfinite(part)
                found = int(bad.sum())
                if found:
                    part[bad] = 0
                    undefined += found
    return out, undefined
