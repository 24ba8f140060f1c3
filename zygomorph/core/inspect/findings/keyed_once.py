"""A value with one key only, which moves nothing."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value


def find(look: Look) -> Iterator[Finding]:
    for moving in look.moving:
        keys = moving.signal.get("keys")
        if moving.signal["signal"] != "keys" or keys is None or len(keys) != 1:
            continue
        yield Finding(
            "keyed_once",
            moving.piece,
            f"{moving.label} has one key only",
            f"With a single key it stays at {keys[0]['value']:g}. Add another key, or let it be a "
            "plain value.",
            moving.step,
            moving.layer,
            moving.address,
            frame=float(keys[0]["frame"]),
            fix=Fix("Make it a plain value", [set_value(moving.address, keys[0]["value"])]),
        )
