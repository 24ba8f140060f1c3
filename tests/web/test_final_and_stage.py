"""What the stage shows and what is rendered agree: simple scenes drawn both ways."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.conftest import CIRCLING, by_height, document, surface
from tests.render.scenes import need_llvm
from zygomorph.cli import main
from zygomorph.core.formats.stills import read_png

SIZE = "160x90"
FLAT = {
    "ground": {"values": {"ground": "none"}},
    "finish": {"values": {"vignette": 0, "bloom": 0, "contrast": 0, "occlusion": 0}},
}
SUN = {
    "id": "sun",
    "name": "Sun",
    "light": "sun",
    "values": {"towards": [0.4, 0.8, 0.7], "strength": 2.0, "shadow": False},
}
SKY = {"id": "sky", "name": "Sky", "light": "sky", "values": {"strength": 0.8}}
POINT = {
    "id": "point",
    "name": "Point",
    "light": "point",
    "values": {"position": [1.2, 1.4, 1.6], "strength": 60.0, "shadow": False, "radius": 0.0},
}
BALL = {"step": "icosphere", "values": {"halvings": 4}}


def scene(*steps: dict[str, Any], lights: list[Any], **piece: Any) -> dict[str, Any]:
    return {**document(*steps, **piece), **FLAT, "lights": lights}


def both_ways(
    tmp_path: Path, made: dict[str, Any], samples: tuple[int, int] = (16, 64)
) -> tuple[np.ndarray, np.ndarray]:
    """(rows, columns, 4) from 0 to 1: as the stage draws it, and by path tracing."""
    study = tmp_path / "study.json"
    study.write_text(json.dumps(made))
    found = []
    for drawn, count in zip(("stage", "traced"), samples, strict=True):
        out = tmp_path / f"{drawn}.png"
        given = ["--size", SIZE, "--samples", str(count), "--frames", "0-0", "--transparent"]
        given += ["--drawn", drawn, "--final", "--data", str(tmp_path), "--out", str(out)]
        assert main(["deliver", str(study), "--as", "still", *given]) == 0
        found.append(read_png(out) / 255)
    return found[0], found[1]


SCENES = {
    "matt": scene(BALL, lights=[SUN, SKY], looks=surface(colour="#c98f6b", roughness=100.0)),
    "by height": scene(
        {"step": "torus"},
        lights=[SKY, SUN],
        looks=surface((by_height(-0.4, 0.4, gradient="ember"),), roughness=90.0),
    ),
    "near lamp": scene(BALL, lights=[POINT], looks=surface(colour="#7f9fd0", roughness=60.0)),
    "facets": scene(
        {"step": "icosphere", "values": {"halvings": 1}},
        lights=[SUN, SKY],
        looks=surface(colour="#88aa66", roughness=100.0, shading="flat"),
    ),
    "turned and carried away": scene(
        {"step": "box"},
        lights=[SUN, SKY],
        looks=surface(colour="#d0c040", roughness=100.0),
        place={"move": [0.4, 0.2, -0.6], "turn": [20.0, 35.0, 10.0], "scale": [0.8, 1.0, 0.7]},
    ),
    "checks": scene(
        {"step": "icosphere", "values": {"halvings": 2}},
        lights=[SKY],
        looks=[
            {"id": "b", "look": "surface", "values": {"colour": "#d9c7a0", "roughness": 100.0}},
            {
                "id": "c",
                "look": "surface",
                "values": {"colour": "#30506a", "roughness": 100.0},
                "where": {
                    "layers": [
                        {
                            "id": "p",
                            "layer": "pattern",
                            "values": {"figure": "checks", "times": 3.0},
                        }
                    ]
                },
            },
        ],
    ),
    # Strokes and dots have the light beside the viewer, with lamps or without.
    "lines": scene(
        {"step": "icosphere", "values": {"halvings": 1}},
        lights=[],
        looks=surface(drawn="lines", size=0.09, colour="#c98f6b"),
    ),
    "balls": scene(
        {"step": "icosphere", "values": {"halvings": 1}},
        lights=[SUN],
        looks=surface(drawn="points", dots="balls", size=0.25, colour="#7f9fd0"),
    ),
    "discs": scene(
        {"step": "icosphere", "values": {"halvings": 1}},
        lights=[],
        looks=surface(drawn="points", dots="discs", size=0.25, colour="#88aa66"),
    ),
    "glow": scene(BALL, lights=[], looks=surface(colour="#102030", roughness=100.0, glow=300.0)),
}


@pytest.mark.parametrize("name", SCENES)
def test_the_stage_and_path_tracing_agree(name, tmp_path):
    need_llvm()
    stage, traced = both_ways(tmp_path, SCENES[name])
    # The same outline in the same place: what is covered by one and not by the other is a small
    # part of its rim.
    apart = np.abs(stage[..., 3] - traced[..., 3]).sum()
    rim = ((traced[..., 3] > 0.02) & (traced[..., 3] < 0.98)).sum()
    assert traced[..., 3].sum() > 500
    assert apart < 0.25 * max(rim, 1)
    inside = (stage[..., 3] > 0.99) & (traced[..., 3] > 0.99)
    off = np.abs(stage[inside][:, :3] - traced[inside][:, :3])
    # In steps of the screen: light that a surface throws on itself, and noise, are all that is
    # between them.
    assert off.mean() < 0.02
    # Where strokes meet, the stage draws one over the other, and tubes go through each other.
    assert np.percentile(off, 96 if name == "lines" else 99) < 0.08


CASTING = {
    "sun": {"light": "sun", "values": {"towards": [0.2, 1.0, 0.1], "strength": 2.5}},
    "point": {"light": "point", "values": {"position": [0.4, 1.6, 0.0], "strength": 60.0}},
    "spot": {
        "light": "spot",
        "values": {"position": [0.4, 1.8, 0.0], "strength": 60.0, "angle": 110.0},
    },
}


@pytest.mark.parametrize("sort", CASTING)
def test_shadows_lie_at_the_same_place(sort, tmp_path):
    """A ball over a floor: what the lamp does not reach is dark in both pictures."""
    need_llvm()
    matt = surface(colour="#c0c0c0", roughness=100.0)
    lamp = {"id": "l", "name": "Lamp", **CASTING[sort]}
    lamp["values"] = {**lamp["values"], "radius": 0.02} if sort != "sun" else lamp["values"]
    made = scene({"step": "box", "values": {"size": [3.0, 0.1, 3.0]}}, lights=[lamp], looks=matt)
    ball = {"step": "icosphere", "id": "b", "values": {"radius": 0.3}}
    above = {"id": "ball", "name": "Ball", "recipe": [ball], "place": {"move": [0, 0.6, 0]}}
    made["pieces"].append({**above, "looks": matt})
    stage, traced = both_ways(tmp_path, made, (4, 32))
    covered = (stage[..., 3] > 0.99) & (traced[..., 3] > 0.99)
    # Below the ball, which the floor lights from below in the traced picture only.
    covered[: len(covered) // 3] = False
    dark, also = (each[..., :3].max(axis=-1) < 0.12 for each in (stage, traced))
    assert (dark & covered).sum() > 100
    assert (dark & also & covered).sum() > 0.9 * (dark & covered).sum()
    assert (dark & also & covered).sum() > 0.9 * (also & covered).sum()
    assert np.abs(stage[covered] - traced[covered]).mean() < 0.02


def test_the_trails_of_a_still_agree(tmp_path):
    """A ball that circles leaves an arc behind it, also before the first frame of the loop."""
    need_llvm()
    ball = {"step": "icosphere", "values": {"halvings": 3, "radius": 0.3}}
    made = scene(ball, CIRCLING, lights=[SUN, SKY], looks=surface(colour="#c98f6b"), frames=24)
    made["finish"] = {"values": {**made["finish"]["values"], "trails": 25}}
    stage, traced = both_ways(tmp_path, made, (2, 16))
    made["finish"]["values"]["trails"] = 0
    (tmp_path / "plain").mkdir()
    plain, _ = both_ways(tmp_path / "plain", made, (2, 16))
    trail = (traced[..., 3] > 0.1) & (plain[..., 3] < 0.01)
    assert trail.sum() > 100
    ours, theirs = (each[..., :3] * each[..., 3:] for each in (stage, traced))
    off = np.abs(ours - theirs)[trail]
    assert off.mean() < 0.03
    assert np.abs(stage[..., 3] - traced[..., 3])[trail].mean() < 0.05
