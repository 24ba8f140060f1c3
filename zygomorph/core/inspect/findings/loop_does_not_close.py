"""A value that is elsewhere at the end of the loop than at its beginning."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.animation.fit import fit_to_loop
from zygomorph.core.animation.resolve import Prepared
from zygomorph.core.evaluation.planned import PlannedLayer, PlannedStep
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value
from zygomorph.core.inspect.sentences import with_unit


def find(look: Look) -> Iterator[Finding]:
    if look.study.loop.one_way:
        return
    yield from _by_themselves(look)
    open_ = [m for m in look.moving if not look.ends(m).meets(m.spec.period)]
    if not open_:
        return
    fit = fit_to_loop(look.study)
    remains = {each.address: each.reason for each in fit.remains}
    operations = {each["path"]: each for each in fit.operations}
    for moving in open_:
        ends = look.ends(moving)
        unit = moving.spec.unit
        reason = (
            f"It begins at {with_unit(ends.first, unit)} and ends at {with_unit(ends.last, unit)}."
        )
        if moving.address in remains:
            reason += f" No setting near by closes: {remains[moving.address]}."
        fix = None
        if moving.address in operations:
            fix = Fix("Fit it to the loop", [operations[moving.address]])
        yield Finding(
            "loop_does_not_close",
            moving.piece,
            f"{moving.label} does not close the loop",
            reason,
            moving.step,
            moving.layer,
            moving.address,
            frame=float(look.study.loop.frames - 1),
            fix=fix,
        )


def _by_themselves(look: Look) -> Iterator[Finding]:
    """Steps and mask layers that move by themselves and do not come back."""
    for piece in look.study.pieces:
        for step in look.plan(piece["id"]).steps:
            if not step.on:
                continue
            address = f"/pieces/{piece['id']}/recipe/{step.id}"
            yield from _opened(look, piece["id"], step, step.values, address)
            for layer in step.layers:
                own = f"{address}/where/layers/{layer.id}"
                yield from _opened(look, piece["id"], step, layer.own, own, layer)


def _opened(
    look: Look,
    piece: str,
    step: PlannedStep,
    values: Prepared,
    address: str,
    layer: PlannedLayer | None = None,
) -> Iterator[Finding]:
    definition = layer.definition if layer else step.definition
    opening = definition.opens(values.still, look.study.loop)
    if opening is None:
        return
    name, closed = opening
    spec = definition.values[name]
    fix = None
    if closed is not None:
        fix = Fix("Let it close", [set_value(f"{address}/values/{name}", closed)])
    yield Finding(
        "loop_does_not_close",
        piece,
        f"{definition.title} does not close the loop",
        f"By its “{spec.label}” it is elsewhere at the end than at the beginning.",
        step.id,
        layer.id if layer else "",
        f"{address}/values/{name}",
        frame=float(look.study.loop.frames - 1),
        fix=fix,
    )
