"""Keys whose last one, with the value of the first, stands a frame before the loop's end.

Common practice: frame F is frame 0; a last key on frame F - 1 shows one frame twice.
"""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value


def find(look: Look) -> Iterator[Finding]:
    if look.study.loop.one_way:
        return
    last_shown = look.study.loop.frames - 1
    for moving in look.moving:
        keys = sorted(moving.signal.get("keys") or [], key=lambda key: key["frame"])
        if len(keys) < 3 or keys[0]["frame"] != 0 or keys[-1]["frame"] != last_shown:
            continue
        away = keys[-1]["value"] - keys[0]["value"]
        period = moving.spec.period
        if abs(away - (round(away / period) * period if period else 0)) > 1e-9:
            continue
        moved = [*keys[:-1], {**keys[-1], "frame": last_shown + 1}]
        yield Finding(
            "frame_shown_twice",
            moving.piece,
            f"{moving.label} shows one frame twice",
            f"Its last key, on frame {last_shown}, is as the first one; frame {last_shown + 1} is "
            "frame 0 again, so that the loop stands still for a frame.",
            moving.step,
            moving.layer,
            moving.address,
            frame=float(last_shown),
            fix=Fix(
                f"Move the last key to frame {last_shown + 1}",
                [set_value(moving.address, {**moving.signal, "keys": moved})],
            ),
        )
