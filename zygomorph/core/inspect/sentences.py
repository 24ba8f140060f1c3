"""What a step does, in a sentence, and what its values do over the loop."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from zygomorph.core.catalogue import Definition, definitions, recipe_definitions
from zygomorph.core.loop import Loop
from zygomorph.core.masks.layers import COMMON_VALUES, describe_layer
from zygomorph.core.place import PLACE_VALUES
from zygomorph.core.resolve import (
    AcrossValue,
    at_quality,
    is_across,
    is_moving,
    sample_number,
    words_of,
)
from zygomorph.core.schema import MOVED
from zygomorph.core.signals.sound import peaks_of
from zygomorph.core.spread import last_number
from zygomorph.core.study import Study
from zygomorph.core.ties import NO_TIES, Ties
from zygomorph.core.values import Value


def _figure(value: float) -> str:
    return f"{value:.4g}" if abs(value) < 1e4 else f"{value:,.0f}"


def with_unit(value: float, unit: str) -> str:
    """A figure with its unit, as it is written: 90°, 1.5 ×, 0.3 m."""
    if unit == "°":
        return f"{_figure(value)}°"
    return f"{_figure(value)} {unit}".strip()


# As much of a formula as a sentence shows.
FORMULA_SIGNS = 48
Names = Mapping[str, str]
NO_NAMES: Names = {}


def say(value: Any, spec: Value, loop: Loop, names: Names = NO_NAMES, ties: Ties = NO_TIES) -> str:
    """A value of the document in words; one that moves is said by its range.

    names : of pieces, by their ids
    """
    if spec.kind in ("vector", "direction"):
        parts = [say(part, _without_unit(spec), loop, names, ties) for part in value]
        unit = spec.unit if spec.unit == "°" else f" {spec.unit}".rstrip()
        return f"({', '.join(parts)}){unit}"
    if spec.kind in ("number", "whole"):
        if is_across(value) and spec.each:
            times = np.arange(loop.frames + 1.0) if is_moving(value) else np.zeros(1)
            first = sample_number(value, times, loop, False, ties)
            last = last_number(AcrossValue("", spec, value, loop, ties), times)
            low, high = min(first.min(), last.min()), max(first.max(), last.max())
            return f"{_figure(float(low))} to {with_unit(float(high), spec.unit)}"
        if not is_moving(value):
            plain = sample_number(value, np.zeros(1), loop, False, ties)[0]
            return with_unit(float(plain), spec.unit)
        samples = sample_number(value, np.arange(loop.frames + 1.0), loop, False, ties)
        return f"{_figure(samples.min())} to {with_unit(float(samples.max()), spec.unit)}"
    if spec.kind == "piece":
        return f"“{names.get(value, value)}”" if value else "no piece"
    if spec.kind == "choice":
        return dict(spec.options).get(value, str(value))
    if spec.kind == "formula":
        # The row has one line; the field below it has all.
        whole = str(value).strip()
        begin = whole.partition("\n")[0]
        if len(begin) > FORMULA_SIGNS:
            begin = begin[: FORMULA_SIGNS - 2]
        return begin if begin == whole else begin.rstrip() + " …"
    return str(value)


# One of something is not said in the plural.
ONE = re.compile(r"(?<![\d.,])(?<!× )\b1 (octave|step|turn|strand)s\b")


def _without_unit(spec: Value) -> Value:
    return Value("number", 0.0, "", "", "")


def sentence(
    definition: Definition,
    given: Mapping[str, Any],
    loop: Loop,
    names: Names = NO_NAMES,
    ties: Ties = NO_TIES,
) -> str:
    """The definition's sentence with the values in it.

    A part in square brackets is left out where all values it names are idle or do not apply.
    """
    words = {
        name: say(given.get(name, spec.default), spec, loop, names, ties)
        for name, spec in definition.values.items()
    }

    def of(name: str) -> Any:
        return given.get(name, definition.values[name].default)

    def is_idle(name: str, spec: Value) -> bool:
        if spec.shown_when is not None and of(spec.shown_when[0]) not in spec.shown_when[1]:
            return True
        return spec.idle is not None and of(name) == spec.idle

    idle = {name for name, spec in definition.values.items() if is_idle(name, spec)}

    def part(match: re.Match[str]) -> str:
        named = set(re.findall(r"{(\w+)}", match[1]))
        return "" if named <= idle else match[1]

    said = re.sub(r"\[([^]]*)\]", part, definition.sentence).format(**words)
    return ONE.sub(r"1 \1", said)


def moving_values(step: Mapping[str, Any]) -> Iterator[tuple[str, Value, Any]]:
    """Path inside the step, declaration and document value of each number that moves."""
    specs = recipe_definitions()[step["step"]].values
    yield from _moving("values", specs, step.get("values", {}))
    for layer in step.get("where", {}).get("layers", []):
        own = definitions("layer")[layer["layer"]].values
        path = f"where/layers/{layer['id']}"
        yield from _moving(f"{path}/values", own, layer.get("values", {}))
        yield from _moving(path, COMMON_VALUES, layer)


def place_lanes(
    held: Mapping[str, Any], specs: Mapping[str, Value], study: Study
) -> list[dict[str, Any]]:
    """The lanes of where a piece or a marker stands."""
    return [
        lane(path, spec, value, study.loop, study.ties)
        for path, spec, value in _moving("place", specs, held.get("place", {}))
    ]


def _moving(
    path: str, specs: Mapping[str, Value], given: Mapping[str, Any]
) -> Iterator[tuple[str, Value, Any]]:
    for name, spec in specs.items():
        value = given.get(name)
        if not (is_moving(value) or is_across(value)):
            continue
        if isinstance(value, list):
            for index, part in enumerate(value):
                if is_moving(part) or is_across(part):
                    yield f"{path}/{name}/{index}", spec, part
        else:
            yield f"{path}/{name}", spec, value


def lane(path: str, spec: Value, value: Any, loop: Loop, ties: Ties) -> dict[str, Any]:
    """A moving value over the loop, as a lane of the time strip shows it."""
    # The last sample lies just before the end, so that a saw is drawn to its top.
    times = np.linspace(0, loop.frames - 1e-6, min(loop.frames, 120) + 1)
    samples = sample_number(value, times, loop, False, ties)
    axis = path.rsplit("/", 1)[-1]
    label = f"{spec.label} {'xyz'[int(axis)]}" if axis in ("0", "1", "2") else spec.label
    signal = at_quality(value, False)
    found = {
        "path": path,
        "label": label,
        "unit": spec.unit,
        "signal": signal["signal"],
        "each": spec.each and axis not in ("0", "1", "2"),
        "samples": [round(float(s), 6) for s in samples],
        "last": [],
        "peaks": [],
    }
    if is_across(value):
        last = last_number(AcrossValue("", spec, value, loop, ties), times)
        found["last"] = [round(float(s), 6) for s in last]
    if signal["signal"] == "sound":
        found["peaks"] = peaks_of(signal, loop, ties)
    return found


def describe_step(
    step: Mapping[str, Any], loop: Loop, names: Names = NO_NAMES, ties: Ties = NO_TIES
) -> dict[str, Any]:
    """Sentence, mask summary and lanes of a step."""
    definition = recipe_definitions()[step["step"]]
    layers = [x for x in step.get("where", {}).get("layers", []) if x.get("on", True)]
    lanes = [lane(path, spec, value, loop, ties) for path, spec, value in moving_values(step)]
    by_time = definition.by_time is not None and definition.by_time(words_of(step))
    by_time = by_time or any(_layer_by_time(layer) for layer in layers)
    return {
        "id": step["id"],
        "title": definition.title,
        "sentence": sentence(definition, step.get("values", {}), loop, names, ties),
        "where": _where(step, layers),
        "when": _when(lanes, by_time),
        "by_time": by_time,
        "lanes": lanes,
    }


def _layer_by_time(layer: Mapping[str, Any]) -> bool:
    """Whether a layer's weight differs from frame to frame though none of its values moves."""
    if layer.get("memory", "none") != "none":
        return True
    own = definitions("layer")[layer["layer"]]
    words = {name: spec.default for name, spec in own.values.items()} | layer.get("values", {})
    return own.by_time is not None and own.by_time(words)


def _where(step: Mapping[str, Any], layers: list[Any]) -> str:
    said = " × ".join(describe_layer(layer) for layer in layers) or "everywhere"
    moves = step.get("where", {}).get("moves", "points")
    return said if moves == "points" else f"{said}, {MOVED[moves]}"


def _when(lanes: list[dict[str, Any]], by_time: bool) -> str:
    if not lanes:
        return "moves by itself" if by_time else "nothing moves"
    said = [f"{each['label'].lower()}: {each['signal']}" for each in lanes[:3]]
    return ", ".join(said) + (f" and {len(lanes) - 3} more" if len(lanes) > 3 else "")


def describe_motion(study: Study) -> list[dict[str, Any]]:
    """For each piece: its steps in words, and the lanes of its place."""
    names = {piece["id"]: piece["name"] for piece in study.pieces}
    return [
        {
            "id": piece["id"],
            "steps": [
                describe_step(step, study.loop, names, study.ties) for step in piece["recipe"]
            ],
            "place_lanes": place_lanes(piece, PLACE_VALUES, study),
        }
        for piece in study.pieces
    ]
