"""Something that is made of tiles, of which the camera sees the same part twice."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.animation.tiles import tiles_of
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.inspect.findings.seen import Seen, seen, visible
from zygomorph.core.values.definitions import StepDefinition

# Parts of a tile along each side that are told apart.
PARTS = 12
# Of what is seen, the share that has to be seen twice before anybody notices.
NOTICED = 0.15
# Points that are looked at.
LOOKED_AT = 40_000


def find(look: Look) -> Iterator[Finding]:
    tiled = {part.within("piece"): (part, side) for part, side in tiles_of(look.study)}
    told = set()
    for each in seen(look) if tiled else ():
        if each.piece not in tiled or each.piece in told:
            continue
        part, side = tiled[each.piece]
        wide, twice = _seen_twice(look, each, side)
        if twice < NOTICED:
            continue
        told.add(each.piece)
        definition = part.definition
        assert isinstance(definition, StepDefinition)  # it has a tile
        address = f"{part.address}/values/{definition.tile}"
        larger = float(f"{1.05 * wide:.2g}")
        yield Finding(
            "tile_repeats_in_view",
            each.piece,
            f"{definition.title}: its tile repeats in view",
            f"At frame {each.frame:.0f} the camera sees {wide:.3g} m of it, and it repeats after "
            f"{side:.3g} m. Make the tile larger, come nearer, or mean it so.",
            part.id,
            address=address,
            frame=each.frame,
            fix=Fix(f"Make the tile {larger:g} m", [set_value(address, larger)]),
        )


def _seen_twice(look: Look, each: Seen, side: float) -> tuple[float, float]:
    """How far what is seen reaches along x or z, metres, and the share of it that is seen twice."""
    mesh = each.result.geometry.mesh
    points = mesh.points[:: max(1, len(mesh.points) // LOOKED_AT)]
    shown = points[visible(look, each, transformed(points, each.result.place))]
    if len(shown) == 0:
        return 0.0, 0.0
    cells = {(int(i), int(j)) for i, j in np.floor(shown[:, [0, 2]] * (PARTS / side))}
    again = sum((i + PARTS, j) in cells or (i, j + PARTS) in cells for i, j in cells)
    return float(np.ptp(shown[:, [0, 2]], axis=0).max()), again / len(cells)
