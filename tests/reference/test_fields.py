"""Rings, vortex, flow, smoothing and jitter against closed forms and a reference library."""

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.special import exp1

from tests.conftest import resolved, volume
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.document.loop import Loop
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.library.steps.vortex import angular_speed, funnel
from zygomorph.core.values.entries import definitions

ONE = np.ones(1, np.float32)


def step(key: str, mesh: Mesh, context: Context | None = None, weights=ONE, **values) -> Mesh:
    definition = definitions("step")[key]
    return definition.apply(mesh, resolved(definition, **values), weights, context or Context())


def line_of_points(x: np.ndarray) -> Mesh:
    """A sheet's topology whose points lie along x; the steps here only look at points."""
    points = np.zeros((len(x), 3), np.float32)
    points[:, 0] = x
    return Mesh(points, form("sheet", columns=1, rows=1).topology)


def test_a_section_through_rings_has_their_wavelength_and_phase():
    # By the discrete Fourier transform of a cosine: 8 rings over 4 m are 0.5 m (derived).
    radius = np.arange(800) / 200
    found = step(
        "rings", line_of_points(radius), amplitude=0.1, wavelength=0.5, phase=0.2, softness=0.0
    )
    spectrum = np.fft.rfft(found.points[:, 1].astype(float)) / 400
    assert np.abs(spectrum).argmax() == 8
    assert np.abs(spectrum[8]) == pytest.approx(0.1, rel=1e-3)
    assert np.angle(spectrum[8]) == pytest.approx(-2 * np.pi * 0.2, abs=1e-3)


def test_rings_from_a_source_above_the_sheet_have_the_distance_in_space():
    # Phase 2π √(r² + h²) / λ (derived).
    radius = np.linspace(0, 3, 301)
    found = step(
        "rings",
        line_of_points(radius),
        amplitude=0.1,
        wavelength=0.4,
        softness=0.0,
        over="space",
        centre=[0.0, 0.7, 0.0],
    )
    expected = 0.1 * np.cos(2 * np.pi * np.sqrt(radius**2 + 0.49) / 0.4)
    assert np.allclose(found.points[:, 1], expected, atol=2e-6)


def test_a_soft_centre_has_no_spike():
    # The slope at the centre of cos 2π√(r² + s²)/λ is 0 (derived); without softness, a packet of
    # phase a quarter cycle has the slope of a sine.
    near = np.array([0.0, 1e-3])
    slopes = [
        np.diff(
            step(
                "rings", line_of_points(near), amplitude=0.1, wavelength=0.5, phase=0.25, softness=s
            ).points[:, 1]
        )[0]
        / 1e-3
        for s in (0.0, 0.1)
    ]
    assert slopes[0] == pytest.approx(0.1 * 2 * np.pi / 0.5, rel=1e-2)
    assert abs(slopes[1]) < 0.02


def test_a_packet_ends_and_decay_follows_an_exponential():
    radius = np.linspace(0, 3, 3001)
    sheet = line_of_points(radius)
    rings = {"amplitude": 0.1, "wavelength": 0.3, "softness": 0.0}
    plain = step("rings", sheet, **rings).points[:, 1]
    packed = step("rings", sheet, **rings, packet=0.4, front=1.5).points[:, 1]
    assert np.all(packed[np.abs(radius - 1.5) > 0.4001] == 0)
    # A Hann window (textbook formula).
    inside = np.abs(radius - 1.5) < 0.4
    hann = 0.5 + 0.5 * np.cos(np.pi * (radius - 1.5) / 0.4)
    assert np.allclose(packed[inside], (plain * hann)[inside], atol=1e-6)
    faded = step("rings", sheet, **rings, decay=2.0).points[:, 1]
    assert np.allclose(faded, plain * np.exp(-2 * radius), atol=1e-6)


def test_distortion_moves_rings_out_of_round_and_a_cycle_closes():
    sheet = form("sheet")
    round_, bent = (step("rings", sheet, distortion=d).points for d in (0.0, 0.2))
    assert np.abs(round_ - bent).max() > 0.03
    again = step("rings", sheet, distortion=0.2, phase=1.0, distortion_evolve=1.0).points
    assert np.array_equal(again, bent)


@pytest.mark.parametrize("profile", ["rankine", "lamb"])
def test_the_funnel_is_the_integral_of_the_speed(profile):
    # ∂h/∂r = v² / (g r) with v = r ω (textbook: radial balance of pressure).
    def slope(r: float) -> float:
        return float(angular_speed(np.array([r * r]), profile)[0] ** 2 * r)

    whole = quad(slope, 0, 1)[0] + quad(slope, 1, np.inf)[0]
    for r in (0.2, 0.7, 1.0, 1.8, 4.0):
        rest = quad(slope, r, max(r, 1))[0] + quad(slope, max(r, 1), np.inf)[0]
        assert funnel(np.array([r * r]), profile)[0] == pytest.approx(rest / whole, rel=1e-6)


@given(st.floats(0.05, 1.5), st.floats(-8, 8), st.floats(0, 2))
def test_the_vortex_winds_and_sinks_by_its_profiles(core, circulation, wound):
    x = np.linspace(0, 3, 200)
    mesh = line_of_points(x)
    u = (x / core) ** 2
    speed = circulation / (2 * np.pi * core**2)
    with np.errstate(divide="ignore", invalid="ignore"):
        # Rankine 1858; Lamb-Oseen: H. Lamb, "Hydrodynamics", § 334a.
        turned = {
            "rankine": np.where(u < 1, 1, 1 / u),
            "lamb": np.where(u > 0, (1 - np.exp(-u)) / u, 1),
        }
        sunk = {
            "rankine": np.where(u < 1, 1 - u / 2, 0.5 / u),
            "lamb": np.where(
                u > 0,
                ((1 - np.exp(-u)) ** 2 / u + 2 * exp1(u) - 2 * exp1(2 * u)) / np.log(4),
                1,
            ),
        }
    for profile in ("rankine", "lamb"):
        out = step(
            "vortex",
            mesh,
            core=core,
            circulation=circulation,
            wound=wound,
            depth=0.5,
            profile=profile,
        ).points.astype(float)
        assert np.allclose(out[:, 1], -0.5 * sunk[profile], atol=2e-5)
        angle = speed * wound * turned[profile]
        # Angles grow with the square of 1 / core, and with them what float32 leaves of them.
        spread = 2e-5 + 3e-6 * np.abs(angle).max()
        assert np.allclose(out[:, 0], x * np.cos(angle), atol=3 * spread)
        assert np.allclose(np.abs(out[:, 2]), np.abs(x * np.sin(angle)), atol=3 * spread)


def test_a_positive_circulation_turns_counter_clockwise_seen_from_the_axis():
    # Right-handed about the axis (common practice): x goes towards -z about y.
    out = step("vortex", line_of_points(np.array([0.1])), circulation=0.1, core=0.5, depth=0.0)
    assert out.points[0, 2] < 0


def test_flow_keeps_volume_and_follows_the_stream_more_closely_with_more_steps():
    # Curl noise has no sources, so a closed surface that is carried keeps its volume (Bridson,
    # Hourihan & Nordenstam 2007). The midpoint rule's error falls with the square of the steps.
    ball = form("icosphere", radius=0.5, halvings=5)
    carried = {
        n: step("flow", ball, distance=0.25, size=0.6, octaves=1.0, steps=n) for n in (4, 8, 64)
    }
    assert volume(carried[64]) == pytest.approx(volume(ball), rel=2e-3)
    errors = [np.abs(carried[n].points - carried[64].points).max() for n in (4, 8)]
    assert errors[0] / errors[1] > 3
    assert np.linalg.norm(carried[64].points - ball.points, axis=1).mean() > 0.05


def test_plain_smoothing_agrees_with_trimesh():
    bumpy = step("displace", form("icosphere", halvings=3), amount=0.1, size=0.2)
    triangles = bumpy.topology.corners.reshape(-1, 3)
    reference = trimesh.Trimesh(bumpy.points.astype(float), triangles, process=False)
    trimesh.smoothing.filter_laplacian(
        reference,
        lamb=0.4,
        iterations=6,
        implicit_time_integration=False,
        volume_constraint=False,
        laplacian_operator=trimesh.smoothing.laplacian_calculation(reference, equal_weight=True),
    )
    ours = step("smooth", bumpy, times=6, strength=40.0, way="plain")
    assert np.allclose(ours.points, reference.vertices, atol=2e-6)


def test_smoothing_that_keeps_volume_hardly_shrinks():
    # G. Taubin, SIGGRAPH 1995: the pass band keeps the volume, plain smoothing loses it.
    bumpy = step("displace", form("icosphere", halvings=4), amount=0.05, size=0.1)
    left = {
        way: volume(step("smooth", bumpy, times=40, strength=50.0, way=way)) / volume(bumpy)
        for way in ("plain", "volume")
    }
    assert abs(left["volume"] - 1) < 0.01
    assert left["plain"] < 0.96


def test_smoothing_holds_the_border_where_wanted():
    waved = step("displace", form("sheet", columns=20, rows=20), amount=0.2, size=0.2)
    border = waved.topology.border
    assert border.sum() == 80
    held, free = (step("smooth", waved, hold_border=hold) for hold in (True, False))
    assert np.array_equal(held.points[border], waved.points[border])
    assert not np.array_equal(free.points[border], waved.points[border])


def test_loose_points_cannot_be_smoothed_and_say_so():
    with pytest.raises(ZygomorphError, match="no neighbours"):
        step("smooth", form("cloth", columns=4, rows=4))


def test_jitter_is_steady_held_or_smooth_and_closes():
    ball = form("icosphere")

    def at(frame: float, way: str, hold: int = 6) -> np.ndarray:
        context = Context(loop=Loop(24, 24.0), frame=frame)
        return step("jitter", ball, context, amount=0.1, way=way, hold=hold).points

    assert np.array_equal(at(0, "steady"), at(7, "steady"))
    assert np.array_equal(at(1, "held"), at(5, "held"))
    assert not np.array_equal(at(5, "held"), at(6, "held"))
    for way in ("held", "smooth"):
        assert np.array_equal(at(0, way), at(24, way))
    # Smooth goes through four fifths of the places of held, since a cubic through places may go
    # beyond them by a quarter (its weights, derived), and the amount is a most.
    held, smooth = (at(12, way) - ball.points for way in ("held", "smooth"))
    assert np.allclose(0.8 * held, smooth, atol=1e-6)
    # Catmull-Rom has a steady speed through its places (E. Catmull & R. Rom 1974).
    before, there, after = (at(f, "smooth").astype(float) for f in (11.999, 12, 12.001))
    assert np.allclose(there - before, after - there, atol=2e-6)
    # Distances are those of a cube's largest coordinate: their mean square is amount² · 3/5.
    away = np.linalg.norm((at(0, "steady") - ball.points).astype(float), axis=1)
    assert (away**2).mean() == pytest.approx(0.01 * 3 / 5, rel=0.05)
    assert away.max() <= 0.1 + 1e-6


def test_a_mask_holds_what_it_does_not_reach():
    ball = form("icosphere")
    half = (ball.points[:, 0] > 0).astype(np.float32)
    for key in ("rings", "vortex", "flow", "smooth", "jitter", "formula"):
        out = step(key, ball, weights=half).points
        still = half == 0
        assert np.allclose(out[still], ball.points[still], atol=1e-6), key
        moved = np.abs(out[~still] - ball.points[~still]).max()
        assert moved > 1e-4, key
