"""Fit to loop: every period, rate and key moved to the nearest setting that closes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from zygomorph.core.animation.loop_closure import Moving, ends_of, moving_numbers
from zygomorph.core.document.edits import Set, apply_edit
from zygomorph.core.document.parts import parts
from zygomorph.core.document.study import Study
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.layer_values import LAYER_VALUES

Signal = dict[str, Any]


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
    return study.with_document(changed)


def _fit_signals(study: Study, found: Fit, chosen: Callable[[Moving], bool]) -> None:
    for moving in filter(chosen, moving_numbers(study)):
        changed = dict(moving.signal)
        said: list[tuple[str, str]] = []
        stagger = changed.get("stagger")
        if stagger and not stagger.get("closes", True):
            changed["stagger"] = {**stagger, "closes": True}
            said.append(("the stagger goes on", "the stagger closes"))
        if not ends_of(changed, study.loop, study.signals).meets(moving.spec.period):
            fit = definitions("signal")[changed["signal"]].fit
            fitted = fit(changed, moving, study.loop, study.signals)
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
    for layer in parts(study.document):
        if layer.kind != "layer" or not layer.on:
            continue
        given = layer.given
        if given.get("memory") != "fades" or given.get("begins", "empty") == "ahead":
            continue
        if given.get("fade", LAYER_VALUES["fade"].default) > study.loop.frames:
            continue
        address = f"{layer.address}/begins"
        said = ("begins with nothing", "begins one loop ahead")
        found.changes.append(
            Change(layer.within("piece"), layer.within("step"), address, "Memory", *said)
        )
        found.operations.append({"do": "set", "path": address, "value": "ahead"})


def _plain(value: Any) -> Any:
    """Numbers as JSON has them."""
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return value.item() if isinstance(value, np.generic) else value
