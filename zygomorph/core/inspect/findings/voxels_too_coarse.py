"""Voxels larger than half the thinnest part: what is finer is lost.

A voxel of half the smallest radius is the coarsest that still shows a ball (derived: see
tests/reference/test_voxels.py).
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.geometry.thickness import thicknesses
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.values.definitions import TopologyDefinition

# So much of the surface may be thinner: a corner is thin at its very end.
THIN_SHARE = 0.04


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        for step in look.planned(piece["id"]):
            definition = step.definition
            if not isinstance(definition, TopologyDefinition) or not definition.voxel:
                continue
            mesh = look.before(piece["id"], step.id).geometry.real
            found = thicknesses(mesh)
            if len(found) == 0:
                continue
            thin = float(np.quantile(found, THIN_SHARE))
            cell = float(look.number(step, definition.voxel).max())
            if cell <= thin / 2 or thin <= 0:
                continue
            address = f"{step.part.address}/values/{definition.voxel}"
            finer = float(f"{thin / 3:.2g}")
            yield Finding(
                "voxels_too_coarse",
                piece["id"],
                f"Voxels of {cell:.3g} m are too coarse",
                f"The thinnest parts are {thin:.2g} m thick, and what is thinner than two voxels "
                "breaks up or is lost.",
                step.id,
                address=address,
                fix=Fix(f"Take {finer:g} m", [set_value(address, finer)]),
            )
