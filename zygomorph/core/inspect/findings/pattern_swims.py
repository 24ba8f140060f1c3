"""A pattern that stays while the surface moves under it.

Common practice: a pattern that is to stick is sampled on the rest shape; otherwise it swims.
"""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value


def find(look: Look) -> Iterator[Finding]:
    for piece in look.study.pieces:
        moved = False
        base = f"/pieces/{piece['id']}/recipe"
        carried = look.plan(piece["id"]).place_moves
        for step in look.planned(piece["id"]):
            own = step.part.given.get("values", {}).get("sampled", "piece")
            if "sampled" in step.definition.values:
                yield from _of(piece, step.id, "", f"{base}/{step.id}/values", own, moved, carried)
            for layer in step.layers:
                if "sampled" not in layer.definition.values:
                    continue
                at = f"{base}/{step.id}/where/layers/{layer.id}/values"
                sampled = layer.own.still.discrete("sampled")
                yield from _of(piece, step.id, layer.id, at, sampled, moved, carried)
            moved = moved or step.moves


def _of(
    piece: dict[str, object],
    step: str,
    layer: str,
    base: str,
    sampled: str,
    moved: bool,
    carried: bool,
) -> Iterator[Finding]:
    swims = (sampled == "piece" and moved) or (sampled == "space" and (moved or carried))
    if not swims:
        return
    why = "The points move before this step" if moved else "The piece moves on the stage"
    where = "in the piece" if sampled == "piece" else "in space"
    yield Finding(
        "pattern_swims",
        str(piece["id"]),
        "The pattern swims over the surface",
        f"{why}, and the pattern is sampled {where}: it slides over the surface. Sampled on the "
        "rest shape it sticks.",
        step,
        layer,
        f"{base}/sampled",
        fix=Fix("Sample on the rest shape", [set_value(f"{base}/sampled", "rest")]),
    )
