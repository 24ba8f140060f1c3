"""Keys whose distances in time are nearly, but not quite, the same."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value

# How far the gaps may differ from their mean for it to look like a slip.
SLIP = 0.2
LEAST_KEYS = 4


def find(look: Look) -> Iterator[Finding]:
    for moving in look.moving:
        keys = sorted(moving.signal.get("keys") or [], key=lambda key: key["frame"])
        if len(keys) < LEAST_KEYS:
            continue
        frames = np.array([key["frame"] for key in keys], np.float64)
        gaps = np.diff(frames)
        mean = gaps.mean()
        even = np.rint(np.linspace(frames[0], frames[-1], len(frames)))
        # What is even as far as whole frames go, is even.
        if np.array_equal(even, frames) or np.abs(gaps - mean).max() > SLIP * mean:
            continue
        moved = [{**key, "frame": float(f)} for key, f in zip(keys, even, strict=True)]
        worst = int(np.abs(frames - even).argmax())
        yield Finding(
            "keys_nearly_even",
            moving.piece,
            f"The keys of {moving.label.lower()} are nearly evenly spaced",
            f"They are {gaps.min():g} to {gaps.max():g} frames apart, so that the rhythm limps. "
            "Evenly spaced it keeps time.",
            moving.step,
            moving.layer,
            moving.address,
            frame=float(frames[worst]),
            fix=Fix(
                "Space them evenly", [set_value(moving.address, {**moving.signal, "keys": moved})]
            ),
        )
