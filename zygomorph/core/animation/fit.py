"""Fit to loop: every period, rate and key moved to the nearest setting that closes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from zygomorph.core.closing import Moving, ends_of, moving_numbers
from zygomorph.core.edits import Set, apply_edit
from zygomorph.core.loop import Loop
from zygomorph.core.sentences import with_unit
from zygomorph.core.study import Study
from zygomorph.core.ties import Ties

Signal = dict[str, Any]
# A last key this near to the loop's end is meant for it, as a share of the loop.
NEAR_END = 0.12


@dataclass(frozen=True)
class Change:
    """A value whose signal is made to close. before, after : what is changed, in words"""

    piece: str
    step: str
    address: str
    label: str
    before: str
    after: str


@dataclass(frozen=True)
class Remains:
    """A value that no setting near by closes, and why."""

    piece: str
    step: str
    address: str
    label: str
    reason: str


@dataclass
class Fit:
    """operations : edits of the document that make all changes at once"""

    changes: list[Change] = field(default_factory=list)
    remains: list[Remains] = field(default_factory=list)
    operations: list[dict[str, Any]] = field(default_factory=list)

    def describe(self) -> dict[str, Any]:
        return {
            "changes": [asdict(change) for change in self.changes],
            "remains": [asdict(each) for each in self.remains],
            "operations": self.operations,
        }


Fitted = tuple[Signal, str, str]


def _figure(value: float) -> float:
    return float(f"{value:.6g}")


def _whole_periods(way: float, period: float) -> float:
    """The nearest whole number of periods that goes somewhere."""
    turns = round(way / period)
    return period * (turns or (1 if way > 0 else -1))


def fit_run(signal: Signal, moving: Moving, loop: Loop, ties: Ties) -> Fitted | str:
    period = moving.spec.period
    if not period:
        return "it runs on and on; let it cycle or swing instead"
    ends = ends_of(signal, loop, ties)
    way = ends.last - ends.first
    if abs(way) < 1e-12:
        return "its rate adds up to nothing"
    factor = _whole_periods(way, period) / way
    changed = {**signal, "rate": _figure(float(signal.get("rate", 1.0)) * factor)}
    if signal.get("rates"):
        changed["rates"] = [{**r, "value": r["value"] * factor} for r in signal["rates"]]
    unit = f"{moving.spec.unit} a loop".strip()
    return changed, f"{_figure(way)} {unit}", f"{_figure(way * factor)} {unit}"


def fit_cycle(signal: Signal, moving: Moving, loop: Loop, ties: Ties) -> Fitted | str:
    low, high = float(signal.get("low", 0.0)), float(signal.get("high", 1.0))
    period = moving.spec.period
    if signal.get("shape") != "saw" or not period:
        return "it jumps where it begins anew; let it swing instead"
    way = _whole_periods(high - low, period)
    after = {**signal, "high": _figure(low + way)}
    unit = moving.spec.unit
    return after, f"high {with_unit(high, unit)}", f"high {with_unit(after['high'], unit)}"


def fit_sound(signal: Signal, moving: Moving, loop: Loop, ties: Ties) -> Fitted | str:
    if signal.get("track") == "live":
        return "a live input never comes back"
    return {**signal, "looped": True}, "the sound goes on", "the sound comes again each loop"


def _spelt(keys: list[Signal]) -> str:
    return f"keys to frame {_figure(keys[-1]['frame']):g}"


def _with_span(keys: list[Signal], span: float) -> list[Signal]:
    """Keys whose first and last are so many frames apart; inner ones on whole frames."""
    first, factor = keys[0]["frame"], span / (keys[-1]["frame"] - keys[0]["frame"])
    moved = [{**k, "frame": round(first + (k["frame"] - first) * factor)} for k in keys[:-1]]
    for key in moved:
        for side in ("in", "out"):
            if key.get(side) is not None:
                key[side] = key[side] / factor
    return [*moved, {**keys[-1], "frame": _figure(first + span)}]


def fit_keys(signal: Signal, moving: Moving, loop: Loop, ties: Ties) -> Fitted | str:
    keys = sorted((dict(k) for k in signal["keys"]), key=lambda k: k["frame"])
    frames, period = loop.frames, moving.spec.period
    if len(keys) < 2 or keys[-1]["frame"] <= keys[0]["frame"]:
        return "it has one key only"
    span = keys[-1]["frame"] - keys[0]["frame"]
    after = signal.get("after", "hold")
    if after in ("repeat", "add", "mirror"):
        round_ = 2 * span if after == "mirror" else span
        times = max(1, round(frames / round_))
        fitted = _with_span(keys, frames / times / (2 if after == "mirror" else 1))
        rise = keys[-1]["value"] - keys[0]["value"]
        if after == "add" and abs(rise) > 1e-12:
            if not period:
                return "it adds up on and on; let it repeat instead"
            # The rounds of one loop together make whole periods.
            fitted[-1]["value"] = _figure(
                keys[0]["value"] + _whole_periods(rise * times, period) / times
            )
        elif after == "repeat" and abs(rise) > 1e-12:
            if not period and abs(rise) > 0.35 * _reach(keys):
                return "it jumps back at its last key; let it go there and back instead"
            turns = abs(rise) > 0.25 * period if period else False
            way = _whole_periods(rise, period) if period and turns else 0.0
            fitted[-1]["value"] = _figure(keys[0]["value"] + way)
        changed = {**signal, "keys": fitted, "before": after}
        return changed, _spelt(keys), f"{_spelt(fitted)}, {times} × a loop"
    return _fit_held_keys(signal, keys, moving, frames)


def _fit_held_keys(signal: Signal, keys: list[Signal], moving: Moving, frames: int) -> Fitted | str:
    """Keys with nothing but themselves: the last one comes to the loop's end, with the value of
    the first."""
    period, first, last = moving.spec.period, keys[0], keys[-1]
    rise = last["value"] - first["value"]
    near = abs(last["frame"] - frames) <= NEAR_END * frames
    if period and abs(rise) > period * 0.25:
        # Towards whole periods: 499/500 of a turn on the last frame is a whole turn at the end.
        if near and len(keys) > 1:
            before = keys[-2]
            slope = (last["value"] - before["value"]) / (last["frame"] - before["frame"])
            rise += slope * (frames - last["frame"])
        value = first["value"] + _whole_periods(rise, period)
    else:
        value = first["value"]
    ending = {**last, "frame": frames, "value": _figure(value)}
    for side in ("in", "out"):
        ending.pop(side, None)
    # A key that is not the way back stays, and the loop gets one more.
    way_back = near and (abs(rise) <= 0.35 * _reach(keys) or bool(period))
    fitted = [*(keys[:-1] if way_back else keys), ending]
    if not way_back and last["frame"] >= frames:
        return "it goes on beyond the loop; move its last keys inside"
    if first["frame"] > 0:
        fitted = [{**first, "frame": 0}, *fitted]
    join = {"before": "repeat", "after": "repeat"}
    return {**signal, "keys": fitted, **join}, _spelt(keys), _spelt(fitted)


def _reach(keys: list[Signal]) -> float:
    values = [key["value"] for key in keys]
    return max(values) - min(values)


def fit_link(signal: Signal, moving: Moving, loop: Loop, ties: Ties) -> Fitted | str:
    """What it follows has been fitted by then; a factor may make a part of a period of it."""
    period = moving.spec.period
    ends = ends_of(signal, loop, ties)
    way = ends.last - ends.first
    if not period or abs(way) < 1e-12:
        return "what it follows does not close"
    factor = float(signal.get("factor", 1.0))
    changed = {**signal, "factor": _figure(factor * _whole_periods(way, period) / way)}
    return changed, f"factor {_figure(factor)}", f"factor {changed['factor']}"


Fitter = Callable[[Signal, Moving, Loop, Ties], Fitted | str]
FITTERS: Mapping[str, Fitter] = {
    "run": fit_run,
    "cycle": fit_cycle,
    "sound": fit_sound,
    "keys": fit_keys,
    "link": fit_link,
}
NEVER = {"formula": "its formula is not the same after a loop"}


def fit_to_loop(study: Study) -> Fit:
    """What would close every signal of a study. Nothing is changed; the operations would.

    What follows another value is looked at when that one has been fitted.
    """
    found = Fit()
    _fit_signals(study, found, lambda moving: moving.signal["signal"] != "link")
    links = [m for m in moving_numbers(study) if m.signal["signal"] == "link"]
    for _ in links:
        fitted = len(found.operations)
        found.remains = [r for r in found.remains if r.address not in {m.address for m in links}]
        _fit_signals(
            after_fit(study, found), found, lambda moving: moving.signal["signal"] == "link"
        )
        if len(found.operations) == fitted:
            break
    _fit_memories(study, found)
    return found


def after_fit(study: Study, fit: Fit) -> Study:
    """The study with all changes made."""
    operations = [Set(**operation) for operation in fit.operations]
    changed, _ = apply_edit(dict(study.document), operations)
    return Study(changed, study.sounds)


def _fit_signals(study: Study, found: Fit, chosen: Callable[[Moving], bool]) -> None:
    for moving in filter(chosen, moving_numbers(study)):
        changed = dict(moving.signal)
        said: list[tuple[str, str]] = []
        stagger = changed.get("stagger")
        if stagger and not stagger.get("closes", True):
            changed["stagger"] = {**stagger, "closes": True}
            said.append(("the stagger goes on", "the stagger closes"))
        if not ends_of(changed, study.loop, study.ties).meets(moving.spec.period):
            fitter = FITTERS.get(changed["signal"])
            fitted = (
                NEVER.get(changed["signal"], "nothing near by closes")
                if fitter is None
                else fitter(changed, moving, study.loop, study.ties)
            )
            if isinstance(fitted, str):
                place = (moving.piece, moving.step, moving.address, moving.label)
                found.remains.append(Remains(*place, fitted))
            else:
                changed = fitted[0]
                said.append(fitted[1:])
        if said:
            before, after = (", ".join(each) for each in zip(*said, strict=True))
            place = (moving.piece, moving.step, moving.address, moving.label)
            found.changes.append(Change(*place, before, after))
            operation = {"do": "set", "path": moving.address, "value": _plain(changed)}
            found.operations.append(operation)


def _fit_memories(study: Study, found: Fit) -> None:
    """Masks that fade within a loop are begun one loop ahead."""
    for piece in study.pieces:
        for step in piece["recipe"]:
            for layer in step.get("where", {}).get("layers", []):
                if layer.get("memory") != "fades" or layer.get("begins", "empty") == "ahead":
                    continue
                if layer.get("fade", 24) > study.loop.frames or not layer.get("on", True):
                    continue
                address = (
                    f"/pieces/{piece['id']}/recipe/{step['id']}/where/layers/{layer['id']}/begins"
                )
                found.changes.append(
                    Change(
                        piece["id"],
                        step["id"],
                        address,
                        "Memory",
                        "begins with nothing",
                        "begins one loop ahead",
                    )
                )
                found.operations.append({"do": "set", "path": address, "value": "ahead"})


def _plain(value: Any) -> Any:
    """Numbers as JSON has them."""
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return value.item() if isinstance(value, np.generic) else value
