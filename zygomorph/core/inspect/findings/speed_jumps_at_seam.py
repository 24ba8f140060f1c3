"""Keys that close, and come to the loop's end at another speed than they leave its beginning."""

from __future__ import annotations

from collections.abc import Iterator

from zygomorph.core.animation.loop_closure import SAME_SLOPE
from zygomorph.core.inspect.findings.finding import Finding, Fix, Look, set_value


def find(look: Look) -> Iterator[Finding]:
    if look.study.loop.one_way:
        return
    for moving in look.moving:
        keys = sorted(moving.signal.get("keys") or [], key=lambda key: key["frame"])
        ends = look.ends(moving)
        if len(keys) < 2 or not ends.meets(moving.spec.period) or ends.flows():
            continue
        if any(key.get("ease") == "held" for key in keys):
            continue
        share = abs(ends.ends - ends.begins) / max(ends.fastest, 1e-12)
        if share <= 2 * SAME_SLOPE:
            continue
        smooth = [
            {k: v for k, v in key.items() if k not in ("in", "out")} | {"ease": "smooth"}
            for key in keys
        ]
        changed = {**moving.signal, "keys": smooth, "before": "repeat", "after": "repeat"}
        spans = keys[0]["frame"] == 0 and keys[-1]["frame"] == look.study.loop.frames
        yield Finding(
            "speed_jumps_at_seam",
            moving.piece,
            f"The speed of {moving.label.lower()} jumps at the seam",
            f"It ends at another speed than it begins, by {share * 100:.0f} % of its fastest; the "
            "loop is felt to catch. Keys that repeat and are smooth run on through the seam.",
            moving.step,
            moving.layer,
            moving.address,
            frame=0.0,
            fix=Fix("Run on through the seam", [set_value(moving.address, changed)])
            if spans
            else None,
        )
