"""There and back, with a corner where it turns round."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zygomorph.core.animation.resolve import sampler
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value

# Of its usual speed, how fast it may still be where it turns round.
GENTLE = 0.3


def find(look: Look) -> Iterator[Finding]:
    for moving in look.moving:
        signal = moving.signal
        keys = sorted(signal.get("keys") or [], key=lambda key: key["frame"])
        if len(keys) < 2 or "mirror" not in (signal.get("before"), signal.get("after")):
            continue
        first, last = keys[0]["frame"], keys[-1]["frame"]
        at = sampler(signal, look.study.loop, False, look.study.signals)
        usual = abs(keys[-1]["value"] - keys[0]["value"]) / max(last - first, 1e-9)
        usual = max(
            usual, float(np.ptp(at(np.linspace(first, last, 50)))) / max(last - first, 1e-9)
        )
        near = at(np.array([first, first + 0.01, last - 0.01, last]))
        speeds = abs(near[1] - near[0]) / 0.01, abs(near[3] - near[2]) / 0.01
        if usual <= 0 or max(speeds) <= GENTLE * usual:
            continue
        eased = [dict(key) for key in keys]
        for end in (eased[0], eased[-1]):
            end |= {"ease": "smooth", "in": 0.0, "out": 0.0}
        eased[-2]["ease"] = "smooth"
        turn = first if speeds[0] > speeds[1] else last
        yield Finding(
            "reverses_abruptly",
            moving.piece,
            f"{moving.label} turns round abruptly",
            "It goes there and back at full speed, with a corner at each end. Eased at its first "
            "and last key it comes to rest before it turns.",
            moving.step,
            moving.layer,
            moving.address,
            frame=float(turn % look.study.loop.frames),
            fix=Fix("Ease both ends", [set_value(moving.address, {**signal, "keys": eased})]),
        )
