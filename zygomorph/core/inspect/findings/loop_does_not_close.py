"""A value that is elsewhere at the end of the loop than at its beginning."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.animation.fit import fit_to_loop
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
    """Mask layers that move by themselves and do not come back."""
    for piece in look.study.pieces:
        for step in look.plan(piece["id"]).steps:
            for layer in step.layers if step.on else ():
                opens = layer.definition.opens
                name = opens(layer.own.still.discrete_values) if opens else None
                if name is None:
                    continue
                spec = layer.definition.values[name]
                address = f"/pieces/{piece['id']}/recipe/{step.id}/where/layers/{layer.id}"
                fix = None
                if spec.kind == "switch":
                    fix = Fix("Let it close", [set_value(f"{address}/values/{name}", spec.default)])
                yield Finding(
                    "loop_does_not_close",
                    piece["id"],
                    f"{layer.definition.title} does not close the loop",
                    f"By its “{spec.label}” it is elsewhere at the end than at the beginning.",
                    step.id,
                    layer.id,
                    f"{address}/values/{name}",
                    frame=float(look.study.loop.frames - 1),
                    fix=fix,
                )
