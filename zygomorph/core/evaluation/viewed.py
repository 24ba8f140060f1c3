"""Layers of looks that viewers work out: those that go by where the piece is looked at from, and
patterns and pictures, which are found at every pixel.

They can where these layers come last. Ones that come before are moved there if all blend by
multiplying, which may be done in any order.
"""

from __future__ import annotations

from collections.abc import Sequence

from zygomorph.core.evaluation.planned import PlannedLayer


def split_viewed(
    layers: Sequence[PlannedLayer],
) -> tuple[Sequence[PlannedLayer], Sequence[PlannedLayer]]:
    """The layers below those that viewers work out, and these."""
    by_view = [_is_viewed(layer) for layer in layers]
    first = len(layers)
    while first and by_view[first - 1]:
        first -= 1
    if not any(by_view[:first]):
        return layers[:first], layers[first:]
    modes = {layer.common.still.discrete_values["blend"] for layer in layers[1:]}
    if modes == {"multiply"}:
        pairs = list(zip(layers, by_view, strict=True))
        return [each for each, seen in pairs if not seen], [each for each, seen in pairs if seen]
    return layers, ()


def depends_on_eye(layer: PlannedLayer) -> bool:
    """Whether it goes by where the piece is looked at from, and nothing else."""
    return not layer.own.moving and layer.definition.seen(layer.own.still) is not None


def _is_viewed(layer: PlannedLayer) -> bool:
    if layer.own.per_element or layer.common.per_element or layer.memory is not None:
        return False
    if layer.common.still.discrete_values["read"] != "points":
        return False
    return layer.definition.printed is not None or depends_on_eye(layer)
