"""Springs: every point hangs on a spring from where it should be, and swings after it.

A damped oscillator, x″ + 2 ζ ω x′ + ω² (x - target) = 0, where the target goes straight on within
a frame. Its closed form is used, so that no spring is too stiff. (L. Landau & E. Lifshitz,
"Mechanics", § 25.)
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zygomorph.core.animation.context import Context
from zygomorph.core.animation.per_element import at_elements
from zygomorph.core.animation.resolve import Resolved
from zygomorph.core.geometry.mesh import MASK, Mesh
from zygomorph.core.kernels.along_directions import carry
from zygomorph.core.values.definitions import SystemDefinition
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.core.values.specimen import Specimen, sine
from zygomorph.core.values.value import number

LAG = "lag"


@dataclass(frozen=True)
class Hanging:
    """targets : (P, 3) float32, where points should be at a whole frame, metres
    ways : (P, 3) float32, from there to where they are, metres
    speeds : (P, 3) float32, m/s
    """

    targets: np.ndarray
    ways: np.ndarray
    speeds: np.ndarray


def response(
    frequency: np.ndarray, damping: np.ndarray, seconds: float
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Shares a, b, c, d by which y, v become a y + b v and c y + d v; (n,) float64 each.

    frequency : undamped, in swings a second; damping : against the critical one
    """
    w, z = np.broadcast_arrays(2 * np.pi * frequency, damping)
    fade = np.exp(-z * w * seconds)
    root = w * np.sqrt(np.abs(1 - z**2))
    angle = root * seconds
    under = z < 1
    with np.errstate(over="ignore", invalid="ignore"):
        # Beyond the critical damping hyperbolic functions take the place, here with what fades.
        grown, shrunk = np.exp((root - z * w) * seconds), np.exp(-(root + z * w) * seconds)
        cos = np.where(under, fade * np.cos(angle), (grown + shrunk) / 2)
        sin = np.where(under, fade * np.sin(angle), (grown - shrunk) / 2)
    # sin(ω t) / ω goes to t where ω does to 0.
    per = np.where(root > 1e-9, sin / np.maximum(root, 1e-9), fade * seconds)
    return cos + z * w * per, per, -(w**2) * per, cos - z * w * per


def start(mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context) -> Hanging:
    still = np.zeros_like(mesh.points)
    return Hanging(mesh.points, still, still)


def _after(
    state: Hanging, mesh: Mesh, values: Resolved, context: Context, frames: float
) -> Hanging:
    if len(state.targets) != len(mesh.points):
        return start(mesh, values, np.ones(1, np.float32), context)
    seconds = frames / context.loop.rate
    own = at_elements(values, mesh, context)
    frequency, damping = own.numbers["frequency"], own.numbers["damping"] / 100
    pace = (mesh.points - state.targets) / np.float32(seconds)
    # Behind a target that goes on at a pace it would stay this far in the end.
    late = pace * np.asarray(damping / (np.pi * frequency), np.float32)[:, None]
    a, b, c, d = (
        np.asarray(share, np.float32)[:, None] for share in response(frequency, damping, seconds)
    )
    way, speed = state.ways + late, state.speeds - pace
    return Hanging(mesh.points, a * way + b * speed - late, c * way + d * speed + pace)


def advance(
    state: Hanging,
    mesh: Mesh,
    values: Resolved,
    weights: np.ndarray,
    context: Context,
    frames: int,
) -> Hanging:
    return _after(state, mesh, values, context, frames)


def emit(
    state: Hanging, mesh: Mesh, values: Resolved, weights: np.ndarray, context: Context
) -> Mesh:
    part = context.frame - np.floor(context.frame)
    now = _after(state, mesh, values, context, part) if part else state
    if len(now.ways) != len(mesh.points):
        return mesh
    amount = np.ascontiguousarray(at_elements(values, mesh, context).numbers["amount"] / 100)
    ways = np.ascontiguousarray(now.ways, np.float32)
    made = mesh.moved(carry(mesh.points, ways, amount.astype(np.float32), weights))
    far = np.linalg.norm(ways, axis=1)
    return made.with_attribute("point", MASK + LAG, far / max(float(far.max(initial=0.0)), 1e-9))


DEFINITION = SystemDefinition(
    key="springs",
    title="Springs",
    group=SYSTEMS,
    help="Points swing after what moves them: they come late, go too far and settle; a mask says "
    "which do.",
    also=("jiggle", "lag", "overshoot", "secondary motion", "wobble", "jelly", "follow through"),
    values={
        "frequency": number(
            2.0,
            "Swings",
            "How stiff the springs are: swings a second without damping.",
            "per s",
            (0.2, 10.0),
            scale="log",
            hard=(1e-3, 1e3),
        ),
        "damping": number(
            20.0,
            "Damping",
            "At 100 % nothing goes too far.",
            "%",
            (0.0, 150.0),
            hard=(0.0, 1000.0),
        ),
        "amount": number(
            100.0, "Amount", "How much of the lag is seen.", "%", (0.0, 200.0), hard=(-1e4, 1e4)
        ),
    },
    sentence="Springs of {frequency}, damped by {damping}",
    start=start,
    advance=advance,
    emit=emit,
    closes=("settles", "blended", "once"),
    needs_motion=True,
    per_element=frozenset({"frequency", "damping", "amount"}),
    amounts=("amount",),
    specimen=Specimen(
        values={"frequency": 1.5, "damping": 15.0},
        before=[{"step": "place", "values": {"move": [sine(-0.4, 0.4), 0, 0], "turn": [0, 0, 0]}}],
    ),
    order=50,
)
