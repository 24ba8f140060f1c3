"""The ripple tank against the wave equation: modes, energy, bounds of steps, rims, wakes."""

import re

import numpy as np
import pytest
import scipy.ndimage

from tests.conftest import study
from tests.random_values import made_of
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import StepError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.ripples.cells import Cells, cells_over, covered, crossed
from zygomorph.core.geometry.ripples.drops import Rain, drops_between
from zygomorph.core.geometry.ripples.tank import (
    Basin,
    State,
    Water,
    absorbing,
    advanced,
    at_rest,
    steps_for,
)
from zygomorph.core.inspect.seam import seam

SIDE = {"width": 4.0, "depth": 4.0, "columns": 80, "rows": 80}


def pond(**values):
    sheet = {"step": "sheet", "values": SIDE}
    return study(sheet, {"step": "ripples", "values": {"grid": 64, **values}}, frames=48)


def heights(document, frame, evaluator=None):
    mesh = (evaluator or Evaluator()).evaluate(document, Request("p", frame)).mesh
    return mesh.points[:, 1]


def walked(state, water, basin, frames, rate=24.0, push=None):
    steps = steps_for(water, basin.size, 1 / rate)
    found = [state]
    for _ in range(frames):
        found.append(advanced(found[-1], water, basin, push, 1 / rate, steps))
    return found


def energy(state, water, size):
    """½ ∫ h′² + c² |∇h|²."""
    h = state.heights.astype(float)
    slopes = (np.diff(h, axis=0) ** 2).sum() + (np.diff(h, axis=1) ** 2).sum()
    return 0.5 * ((state.speeds.astype(float) ** 2).sum() + water.speed**2 / size**2 * slopes)


@pytest.mark.parametrize(("m", "n"), [(1, 0), (2, 1), (3, 2)])
def test_modes_of_a_rectangle_swing_at_their_frequency(m, n):
    # ω = c π √((m / a)² + (n / b)²) between walls (checks of textbooks on the wave equation, such
    # as P. Morse & K. Ingard, "Theoretical Acoustics", 1968).
    a, b, cells = 2.0, 1.0, 100
    size = a / cells
    x = (np.arange(cells) + 0.5) / cells
    z = (np.arange(cells // 2) + 0.5) / (cells // 2)
    shape = np.cos(n * np.pi * z)[:, None] * np.cos(m * np.pi * x)[None]
    water = Water(speed=0.7)
    states = walked(
        State(shape.astype(np.float32), np.zeros(shape.shape, np.float32)), water, Basin(size), 240
    )
    frequency = water.speed * np.pi * np.hypot(m / a, n / b)
    part = np.array([(s.heights * shape).sum() / (shape**2).sum() for s in states])
    assert part == pytest.approx(np.cos(frequency * np.arange(241) / 24), abs=0.04)


def test_without_damping_energy_is_kept_and_with_it_it_fades():
    size, chance = 0.02, np.random.default_rng(2)
    bumps = scipy.ndimage.gaussian_filter(chance.normal(size=(60, 80)), 3, mode="reflect")
    begin = State(bumps.astype(np.float32), np.zeros((60, 80), np.float32))
    free, damped = Water(1.0), Water(1.0, damping=1.5)
    kept = [energy(s, free, size) for s in walked(begin, free, Basin(size), 240)]
    # Heights and speeds are half a step apart, so that single figures swing about the mean.
    assert np.array(kept) == pytest.approx(kept[0], rel=0.08)
    assert np.mean(kept[-48:]) == pytest.approx(np.mean(kept[:48]), rel=0.01)
    faded = walked(begin, damped, Basin(size), 48)[-1]
    # h″ + g h′ fades as exp(-g t / 2) in height, exp(-g t) in energy.
    assert energy(faded, damped, size) == pytest.approx(kept[0] * np.exp(-3.0), rel=0.15)


def test_water_is_neither_made_nor_lost():
    evaluator, document = Evaluator(), pond(rate=12.0, closing="once", damping=0.3)
    for frame in (5, 20, 45):
        h = heights(document, frame, evaluator)
        assert abs(h.mean()) < 0.02 * np.abs(h).max()


def test_steps_keep_within_the_courant_limit():
    # R. Courant, K. Friedrichs & H. Lewy 1928: on a square grid dt c / cell ≤ 1 / √2.
    for speed in (0.1, 1.0, 7.0):
        steps = steps_for(Water(speed), 0.02, 1 / 24)
        assert speed / 24 / steps / 0.02 <= 1 / np.sqrt(2)
    with pytest.raises(ZygomorphError, match="steps a frame") as raised:
        steps_for(Water(1e4), 0.01, 1 / 24)
    # The speed that it offers goes.
    offered = float(raised.value.hint.split(" m/s")[0].split()[-1])
    assert steps_for(Water(offered), 0.01, 1 / 24) <= 400


@pytest.mark.parametrize("speed", [0.4, 3.0])
def test_the_steps_that_it_takes_are_told(speed):
    """As many as are needed for the Courant limit, and so that speed × time = cells × their size."""
    made, evaluator = pond(speed=speed), Evaluator()
    first, again = (evaluator.evaluate(made, Request("p", 3.0)).steps[1] for _ in range(2))
    found = re.match(
        r"(\d+) steps? a frame on (\d+) × (\d+) cells of ([\d.]+) mm; in each, waves cross "
        r"([\d.]+) of a cell, where 0.71 is the limit",
        first.told,
    )
    steps, columns, rows, size, crossed_in_each = (float(each) for each in found.groups())
    assert columns == rows == 64
    assert steps * crossed_in_each * size / 1000 == pytest.approx(speed / 24, rel=0.02)
    assert crossed_in_each <= 0.71
    # What is kept is told again.
    assert again.told == first.told


def test_too_fast_waves_are_told_of_the_step():
    with pytest.raises(StepError, match="steps a frame") as raised:
        heights(pond(speed=9000.0), 3)
    assert raised.value.step_id == "s1"


@pytest.mark.parametrize("length", [0.1, 0.2, 0.4])
def test_an_open_rim_throws_back_less_than_a_twentieth(length):
    size, cells, margin = 0.02, 100, 25
    water = Water(1.0)
    x = (np.arange(cells + 2 * margin) - margin + 0.5) * size
    outside = np.maximum(np.maximum(-x, x - cells * size), 0)
    absorbs = np.broadcast_to(absorbing(outside, margin * size), (8, len(x))).copy()
    basin = Basin(size, None, absorbs)
    # A packet that runs to the right: h = f(x - c t), h′ = -c f′.
    packet = np.exp(-(((x - 1.0) / (1.2 * length)) ** 2)) * np.cos(2 * np.pi * x / length)
    rise = -water.speed * np.gradient(packet, size)
    begin = State(*(np.tile(a, (8, 1)).astype(np.float32) for a in (packet, rise)))
    inside = (x > 0) & (x < cells * size)
    later = walked(begin, water, basin, 72)[-1].heights[4, inside]
    assert np.abs(later).max() < 0.05
    # Against a wall all of it comes back.
    closed = walked(begin, water, Basin(size), 24)[-1].heights[4]
    assert np.abs(closed).max() > 0.5


def test_a_stiff_tank_swings_at_its_own_frequency():
    # h″ = -r h of a level surface: the damped oscillator without damping, ω = √r.
    water = Water(1.0, stiffness=20.0)
    begin = State(np.ones((9, 9), np.float32), np.zeros((9, 9), np.float32))
    found = [s.heights[4, 4] for s in walked(begin, water, Basin(0.05), 96)]
    # Short steps: as many as waves on this grid need.
    expected = np.cos(np.sqrt(20.0) * np.arange(97) / 24)
    assert np.array(found) == pytest.approx(expected, abs=0.25)


def test_smoothing_takes_short_waves_first():
    x = (np.arange(120) + 0.5) / 120

    def left(waves):
        shape = np.tile(np.cos(waves * np.pi * x), (6, 1)).astype(np.float32)
        begin = State(shape, np.zeros_like(shape))
        states = walked(begin, Water(1.0, smoothing=0.002), Basin(1 / 120), 48)
        return max(np.abs(s.heights).max() for s in states[-24:])

    assert left(2) > 0.9
    assert left(24) < 0.3


def test_a_drop_dips_about_as_deep_as_it_says():
    one = pond(
        rate=0.5,
        strongest=0.05,
        weakest=0.05,
        largest=0.2,
        smallest=0.2,
        grid=128,
        closing="once",
        damping=0.0,
        speed=0.5,
        seed=4,
    )
    lowest = min(heights(one, f).min() for f in range(0, 48, 1))
    assert lowest == pytest.approx(-0.05, rel=0.25)


def test_waves_run_out_at_their_speed():
    basin, water = Basin(0.02), Water(0.8)
    begin = at_rest((200, 200))
    x = (np.arange(200) - 99.5) * 0.02
    away = np.hypot(x[None], x[:, None])
    bump = State((np.exp(-((away / 0.08) ** 2))).astype(np.float32), begin.speeds)
    later = walked(bump, water, basin, 36)[-1].heights
    crest = away.ravel()[later.ravel().argmax()]
    assert crest == pytest.approx(0.8 * 36 / 24, abs=0.08)


def test_nothing_gets_behind_a_wall():
    box = {
        "id": "o",
        "name": "Wall",
        "recipe": [{"id": "f", "step": "box", "values": {"size": [0.2, 1.0, 5.0]}}],
    }
    sheet = {"step": "sheet", "values": SIDE}
    values = {
        "grid": 64,
        "walls": "o",
        "rate": 0,
        "push": 4.0,
        "centre": [-1.0, 0.0, 0.0],
        "radius": 0.2,
        "closing": "once",
    }
    document = made_of(sheet, {"step": "ripples", "values": values}, other=box)
    mesh = Evaluator().evaluate(document, Request("p", 40)).mesh
    h, x = mesh.points[:, 1], mesh.points[:, 0]
    assert np.abs(h[x < -0.2]).max() > 0.01
    assert np.abs(h[x > 0.25]).max() < 1e-3 * np.abs(h).max()


def test_the_outline_of_a_disc_is_its_rim():
    disc = {"step": "disc", "values": {"radius": 1.0}}
    values = {"grid": 80, "rate": 6.0, "closing": "once"}
    document = study(disc, {"step": "ripples", "values": values}, frames=48)
    mesh = Evaluator().evaluate(document, Request("p", 30)).mesh
    assert abs(mesh.points[:, 1]).max() > 1e-3
    cells = cells_over(mesh.rest, 80, 0)
    inside = covered(mesh.rest, mesh.topology.drawn_triangles, cells)
    x, z = cells.middles()
    assert (
        np.array_equal(inside, np.hypot(x[None], z[:, None]) < 0.9999)
        or (inside != (np.hypot(x[None], z[:, None]) < 1)).mean() < 0.02
    )


def test_a_piece_covers_what_lies_under_it_and_crosses_what_it_stands_in():
    ball = (
        Evaluator()
        .evaluate(
            study({"step": "icosphere", "values": {"radius": 1.0, "halvings": 4}}), Request("p")
        )
        .mesh
    )
    cells = Cells((-1.5, -1.5), 0.05, 61, 61)
    x, z = cells.middles()
    away = np.hypot(x[None], z[:, None])
    triangles = ball.topology.drawn_triangles
    # The shadow is the disc; at the height 0.6 the section has the radius 0.8 (Pythagoras).
    shadow, section = (
        covered(ball.points, triangles, cells),
        crossed(ball.points, triangles, 0.6, cells),
    )
    assert not (shadow & (away > 1.0)).any()
    assert shadow[away < 0.98].all()
    assert not (section & (away > 0.801)).any()
    assert section[away < 0.78].all()


def test_what_moves_leaves_a_wake_behind_it():
    # Faster than the waves, it stays within Mach's angle: sin α = c / v.
    moves = {
        "signal": "keys",
        "keys": [
            {"frame": 0, "value": -1.8, "ease": "linear"},
            {"frame": 40, "value": 1.5, "ease": "linear"},
        ],
    }
    sheet = {"step": "sheet", "values": SIDE}
    values = {
        "grid": 96,
        "rate": 0,
        "sinks": 0.05,
        "centre": [moves, 0.0, 0.0],
        "radius": 0.08,
        "speed": 0.6,
        "closing": "once",
        "damping": 0.2,
    }
    document = study(sheet, {"step": "ripples", "values": values}, frames=48)
    mesh = Evaluator().evaluate(document, Request("p", 40)).mesh
    x, z, h = mesh.points[:, 0], mesh.points[:, 2], np.abs(mesh.points[:, 1])
    assert h[(x > 1.4) & (x < 1.6) & (np.abs(z) < 0.06)].max() > 0.007
    speed = 3.3 / (40 / 24)
    angle = np.arcsin(0.6 / speed)
    behind = 1.5 - x
    cone = np.abs(z) < behind * np.tan(angle) + 0.35
    assert h[~cone].max() < 0.06 * h.max()
    assert h[cone & (behind > 0.5)].max() > 0.1 * h.max()


@pytest.mark.parametrize("evenly", [False, True])
def test_each_loop_has_the_same_drops_where_it_repeats(evenly):
    rain = Rain(rate=7, frames=48, seed=3)
    here, there = (drops_between(rain, a, a + 48, evenly) for a in (0, 96))
    assert len(here.frame) == 7
    assert np.array_equal(here.place, there.place)
    assert here.frame + 96 == pytest.approx(there.frame)
    other = drops_between(Rain(rate=7, frames=48, seed=3, repeats=False), 96, 144, evenly)
    assert not np.array_equal(other.place, here.place)
    # Frame by frame they are the same as all at once.
    single = [drops_between(rain, f, f + 1, evenly).place for f in range(48)]
    assert np.array_equal(np.concatenate(single), here.place)


def test_drops_that_change_place_every_n_frames_do_not_move_within_them():
    rain = Rain(rate=48, frames=48, seed=1, keeps=12, spots=2)
    for begin in range(0, 48, 12):
        places = drops_between(rain, begin, begin + 12, False).place
        assert len(np.unique(places.round(9), axis=0)) == 2
    assert len(np.unique(drops_between(rain, 0, 48, False).place.round(9), axis=0)) == 8


@pytest.mark.parametrize("rim", ["reflects", "open"])
def test_it_settles_and_the_seam_agrees(rim):
    evaluator, document = Evaluator(), pond(rim=rim, damping=1.5)
    found = seam(document, "p", evaluator)
    assert found.state == "closed"
    assert "settled in" in found.note
    ((_, settled),) = evaluator.settled(document, "p")
    assert settled.within
    assert settled.left <= 2e-5
    # The first half is not the second, and it moves.
    assert np.abs(heights(document, 12, evaluator) - heights(document, 36, evaluator)).max() > 1e-3


def test_it_says_where_it_has_not_settled():
    evaluator = Evaluator()
    document = pond(damping=0.05, most_loops=2)
    found = seam(document, "p", evaluator)
    assert "has not settled in 2 loops" in found.note
    assert found.state != "closed"


def test_cross_blended_it_closes_and_one_way_it_does_not():
    assert seam(pond(closing="blended", damping=0.3), "p", Evaluator()).state == "closed"
    assert seam(pond(closing="once", damping=0.3), "p", Evaluator()).state == "open"


def test_a_run_before_the_loop_is_the_same_run():
    late, soon = pond(closing="once", prerun=0), pond(closing="once", prerun=24)
    assert np.abs(heights(soon, 0)).max() > 1e-3
    assert np.abs(heights(late, 0)).max() == 0


def test_any_order_of_frames_gives_the_same_bytes():
    document = pond(rim="open")
    evaluator = Evaluator()
    scrubbed = [heights(document, f, evaluator) for f in (40, 3, 20.25, 11)]
    for frame, found in zip((40, 3, 20.25, 11), scrubbed, strict=True):
        one = Evaluator().evaluate(document, Request("p", frame, shared=True)).mesh
        assert np.array_equal(found, one.points[:, 1])


def test_what_moves_by_keys_leaves_the_same_wake_in_each_loop():
    """A ball that keys take across the tank and back: the wake of every round is that of the one
    before once the tank has settled, and the seam agrees."""
    ways = [(0, -0.5), (12, 0.5), (30, -0.5)]
    keys = [{"frame": f, "value": v, "in": 0.0, "out": 0.0} for f, v in ways]
    ball = {
        "id": "o",
        "name": "Ball",
        "place": {"move": [{"signal": "keys", "keys": keys}, 0.0, 0.0]},
        "recipe": [{"id": "f", "step": "icosphere", "values": {"radius": 0.12, "halvings": 2}}],
    }
    values = {"grid": 48, "rate": 0.0, "damping": 2.5, "mover": "o", "draught": 0.1}
    sheet = {"step": "sheet", "values": SIDE}
    one = dict(study(sheet, {"step": "ripples", "values": values}, frames=48).document)
    made = check_document({**one, "pieces": [*one["pieces"], ball]})
    evaluator = Evaluator()
    found = seam(made, "p", evaluator)
    assert found.state == "closed" and "settled" in found.note
    assert np.abs(heights(made, 6, evaluator)).max() > 1e-3
    # Behind the ball there are waves at frame 0 too, from its way back in the loop before.
    assert np.abs(heights(made, 0, evaluator)).max() > 1e-4
