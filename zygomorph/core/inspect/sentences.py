"""What a step does, in a sentence, and what its values do over the loop."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import numpy as np

from zygomorph.core.animation.per_element import last_element
from zygomorph.core.animation.resolve import (
    PerElementValue,
    at_quality,
    is_moving,
    is_per_element,
    sample_number,
)
from zygomorph.core.animation.sound.audible import listens
from zygomorph.core.animation.sound.hearing import peaks_of
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.parts import (
    GivenValue,
    Part,
    by_of,
    layers_of,
    looks_of,
    parts_of,
    roots,
    steps_of,
)
from zygomorph.core.document.schema import MOVED
from zygomorph.core.document.signal_context import NO_CONTEXT, SignalContext
from zygomorph.core.document.study import Study
from zygomorph.core.masking.blending import describe_layer
from zygomorph.core.values.definitions import Definition, SystemDefinition
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.figures import figure, with_unit
from zygomorph.core.values.kinds import kind_of
from zygomorph.core.values.value import Value

Names = Mapping[str, str]
NO_NAMES: Names = {}


def say(
    value: Any,
    spec: Value,
    loop: Loop,
    names: Names = NO_NAMES,
    signals: SignalContext = NO_CONTEXT,
) -> str:
    """A value of the document in words; one that moves is said by its range.

    names : of pieces, by their ids
    """
    kind = kind_of(spec)
    if not kind.moves:
        return kind.words(value, spec, names)
    if kind.components > 1:
        parts = [say(part, _without_unit(spec), loop, names, signals) for part in value]
        unit = spec.unit if spec.unit == "°" else f" {spec.unit}".rstrip()
        return f"({', '.join(parts)}){unit}"
    if is_per_element(value) and spec.each:
        times = np.arange(loop.frames + 1.0) if is_moving(value) else np.zeros(1)
        first = sample_number(value, times, loop, False, signals)
        last = last_element(PerElementValue("", spec, value, loop, signals), times)
        low, high = min(first.min(), last.min()), max(first.max(), last.max())
        return f"{figure(float(low))} to {with_unit(float(high), spec.unit)}"
    if not is_moving(value):
        plain = sample_number(value, np.zeros(1), loop, False, signals)[0]
        return with_unit(float(plain), spec.unit)
    samples = sample_number(value, np.arange(loop.frames + 1.0), loop, False, signals)
    return f"{figure(samples.min())} to {with_unit(float(samples.max()), spec.unit)}"


# One of something is not said in the plural.
ONE = re.compile(r"(?<![\d.,])(?<!× )\b1 (octave|step|turn|strand)s\b")


def _without_unit(spec: Value) -> Value:
    return Value("number", 0.0, "", "", "")


def sentence(
    definition: Definition,
    given: Mapping[str, Any],
    loop: Loop,
    names: Names = NO_NAMES,
    signals: SignalContext = NO_CONTEXT,
    said_of: Mapping[str, str] | None = None,
) -> str:
    """The definition's sentence with the values in it.

    said_of : words for some values, by their names, instead of what is given
    A part in square brackets is left out where all values it names are idle or do not apply.
    """
    words = {
        name: say(given.get(name, spec.default), spec, loop, names, signals)
        for name, spec in definition.values.items()
    }

    words |= said_of or {}

    def of(name: str) -> Any:
        return given.get(name, definition.values[name].default)

    def is_idle(name: str, spec: Value) -> bool:
        if said_of and name in said_of:
            return False
        if spec.shown_when is not None and of(spec.shown_when[0]) not in spec.shown_when[1]:
            return True
        return spec.idle is not None and of(name) == spec.idle

    idle = {name for name, spec in definition.values.items() if is_idle(name, spec)}

    def part(match: re.Match[str]) -> str:
        named = set(re.findall(r"{(\w+)}", match[1]))
        return "" if named <= idle else match[1]

    said = re.sub(r"\[([^]]*)\]", part, definition.sentence).format(**words)
    return ONE.sub(r"1 \1", said)


def moving_values(part: Part) -> Iterator[GivenValue]:
    """Each number of a part that moves, or differs from element to element."""
    for value in part.values():
        for number in value.numbers():
            if is_moving(number.given) or is_per_element(number.given):
                yield number


def lanes_of(
    walked: Iterable[Part], within: Part, loop: Loop, signals: SignalContext
) -> list[dict[str, Any]]:
    """The lanes of the time strip of some parts, with paths below the address of one of them."""
    return [
        lane(each.address.removeprefix(f"{within.address}/"), each.spec, each.given, loop, signals)
        | {"address": each.address, "step": part.within("step")}
        for part in walked
        for each in moving_values(part)
    ]


def lane(path: str, spec: Value, value: Any, loop: Loop, signals: SignalContext) -> dict[str, Any]:
    """A moving value over the loop, as a lane of the time strip shows it."""
    # The last sample lies just before the end, so that a saw is drawn to its top.
    times = np.linspace(0, loop.frames - 1e-6, min(loop.frames, 120) + 1)
    samples = sample_number(value, times, loop, False, signals)
    axis = path.rsplit("/", 1)[-1]
    label = f"{spec.label} {'xyz'[int(axis)]}" if axis in ("0", "1", "2") else spec.label
    signal = at_quality(value, False)
    found = {
        "path": path,
        "label": label,
        "unit": spec.unit,
        "address": "",
        "step": "",
        "given": value,
        "signal": signal["signal"],
        "each": spec.each and axis not in ("0", "1", "2"),
        "samples": [round(float(s), 6) for s in samples],
        "last": [],
        "peaks": [],
    }
    if is_per_element(value):
        last = last_element(PerElementValue("", spec, value, loop, signals), times)
        found["last"] = [round(float(s), 6) for s in last]
    if listens(definitions("signal")[signal["signal"]]):
        found["peaks"] = peaks_of(signal, loop, signals)
    return found


def describe_step(
    step: Part, loop: Loop, names: Names = NO_NAMES, signals: SignalContext = NO_CONTEXT
) -> dict[str, Any]:
    """Sentence, mask summary and lanes of a step or a look."""
    definition = step.definition
    assert definition is not None  # it is a step or a look
    layers = [layer for layer in layers_of(step) if layer.given.get("on", True)]
    lanes = lanes_of(parts_of(step), step, loop, signals)
    by_time = any(_by_time(part) for part in parts_of(step) if part.on)
    return {
        "id": step.id,
        "title": definition.title,
        "sentence": sentence(
            definition, step.given.get("values", {}), loop, names, signals, _by_value(step)
        ),
        "where": _where(step, layers),
        "when": _when(lanes, by_time, _closing(step, loop)),
        "by_time": by_time,
        "lanes": lanes,
    }


def _by_time(part: Part) -> bool:
    """Whether a step or layer differs from frame to frame though none of its values moves."""
    if part.given.get("memory", "none") != "none":
        return True
    own = part.definition
    if isinstance(own, SystemDefinition):
        return True
    return own is not None and own.by_time is not None and own.by_time(part.discrete())


def _where(step: Part, layers: list[Part]) -> str:
    said = " × ".join(describe_layer(layer.given) for layer in layers) or "everywhere"
    moves = step.given.get("where", {}).get("moves", "natural")
    return said if moves == "natural" else f"{said}, {MOVED[moves]}"


def _closing(step: Part, loop: Loop) -> str:
    """How the loop of a system closes, in words, or ""."""
    if not isinstance(step.definition, SystemDefinition):
        return ""
    if loop.one_way:
        return "; begins at frame 0, as the study plays one way"
    spec = step.definition.values["closing"]
    return f"; loop closes {dict(spec.options)[step.discrete()['closing']]}"


def _when(lanes: list[dict[str, Any]], by_time: bool, closing: str) -> str:
    if not lanes:
        return f"moves by itself{closing}" if by_time else "nothing moves"
    said = [f"{each['label'].lower()}: {each['signal']}" for each in lanes[:3]]
    return ", ".join(said) + (f" and {len(lanes) - 3} more" if len(lanes) > 3 else "") + closing


def _by_value(part: Part) -> dict[str, str]:
    """What is said of the values of a look that go by value: by what."""
    if part.kind != "look":
        return {}
    found = {}
    for by in by_of(part):
        layers = [layer for layer in layers_of(by) if layer.given.get("on", True)]
        if layers:
            found[by.id] = "by " + " × ".join(describe_layer(layer.given) for layer in layers)
    return found


def describe_scene(study: Study) -> list[dict[str, Any]]:
    """Lights, cameras, backdrop, ground and finish by address: in words, and their lanes."""
    names = {piece["id"]: piece["name"] for piece in study.pieces}
    return [
        {
            "address": part.address,
            "sentence": ""
            if part.definition is None
            else sentence(
                part.definition, part.given.get("values", {}), study.loop, names, study.signals
            ),
            "lanes": lanes_of([part], part, study.loop, study.signals),
        }
        for part in roots(study.document)
        if part.kind not in ("piece", "marker")
    ]


def describe_motion(study: Study) -> list[dict[str, Any]]:
    """For each piece: its steps in words, and the lanes of its place."""
    names = {piece["id"]: piece["name"] for piece in study.pieces}
    return [
        {
            "id": piece.id,
            "steps": [
                describe_step(step, study.loop, names, study.signals) for step in steps_of(piece)
            ],
            "looks": [
                describe_step(look, study.loop, names, study.signals) for look in looks_of(piece)
            ],
            "place_lanes": lanes_of([piece], piece, study.loop, study.signals),
        }
        for piece in roots(study.document, "piece")
    ]
