"""A value that follows another one which is not there."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.document.addresses import number_at
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value


def find(look: Look) -> Iterator[Finding]:
    for moving in look.moving:
        to = moving.signal.get("to")
        if (
            moving.signal["signal"] != "link"
            or number_at(look.study.document, to or "") is not None
        ):
            continue
        where = f"what stood at {to}" if to else "no value yet"
        # A component of a vector has its default by its number.
        default = moving.spec.default
        last = moving.address.rsplit("/", 1)[-1]
        still = default[int(last)] if isinstance(default, (list, tuple)) else default
        yield Finding(
            "link_to_nothing",
            moving.piece,
            f"{moving.label} follows a value that is not there",
            f"It follows {where}, and so is nothing but its offset. Choose what it follows, or let "
            "it be a plain value.",
            moving.step,
            moving.layer,
            moving.address,
            fix=Fix("Make it a plain value", [set_value(moving.address, still)]),
        )
