"""Steps that change the topology, one after the other in any order: nothing opens, nothing is lost."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from tests.random_values import small
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK

FRONT = {
    "id": "l",
    "layer": "linear",
    "profile": "hard",
    "values": {"direction": [1, 0.3, 0], "position": [0.02, 0, 0], "width": 0.001},
}
MASKED = {"layers": [FRONT]}
# Each keeps a closed surface closed, whatever came before.
CLOSED = [
    {"step": "extrude", "values": {"depth": 0.05, "inset": 0.01}},
    {"step": "extrude", "values": {"depth": 0.05, "way": "region"}, "where": MASKED},
    {"step": "subdivide", "values": {"way": "smooth", "levels": 1}},
    {"step": "subdivide", "values": {"way": "plain", "levels": 1}, "where": MASKED},
    {"step": "subdivide", "values": {"way": "loop", "levels": 1, "crease": 40.0}},
    {"step": "dual"},
    {"step": "triangulate"},
    {"step": "bevel", "values": {"width": 0.01, "segments": 2}},
    {"step": "reduce", "values": {"share": 60.0}},
    {"step": "displace", "values": {"amount": 0.02}},
]
FORMS = ["icosphere", "box", "torus", "cylinder"]


def made(*steps):
    return Evaluator().evaluate(study(*steps), Request("p")).mesh


@settings(max_examples=40)
@given(st.sampled_from(FORMS), st.lists(st.sampled_from(CLOSED), min_size=1, max_size=4))
def test_a_closed_surface_stays_closed_in_any_order(form, steps):
    store = {"step": "inflate", "values": {"amount": 0.0}, "where": {**MASKED, "store": "side"}}
    mesh = made({"step": form, "values": small(form)}, store, *steps)
    assert mesh.topology.closed
    assert np.isfinite(mesh.points).all()
    assert mesh.topology.point_count == len(mesh.points)
    # Everything that is known of elements is still known of all of them.
    for domain, named in mesh.attributes.items():
        for name, values in named.items():
            assert len(values) == mesh.count(domain), (domain, name)
    stored = mesh.get("point", MASK + "side")
    assert stored.min() >= -0.3
    assert stored.max() <= 1.3
    assert len(np.unique(mesh.ids("point"))) == len(mesh.points)


# What only describes the surface anew, or cuts it without moving it, keeps its volume exactly.
SAME = [
    {"step": "triangulate"},
    {"step": "split"},
    {"step": "split", "values": {"way": "sharp"}},
    {"step": "shade"},
    {"step": "shade", "values": {"way": "smooth"}},
    {"step": "subdivide", "values": {"way": "plain", "levels": 1}},
    {"step": "orient"},
    {"step": "spread", "values": {"amount": 0.0}},
    {"step": "real"},
]


@settings(max_examples=30)
@given(st.sampled_from(FORMS), st.lists(st.sampled_from(SAME), min_size=1, max_size=4))
def test_what_only_describes_the_surface_keeps_its_volume(form, steps):
    base = {"step": form, "values": small(form)}
    assert volume(made(base, *steps)) == pytest.approx(volume(made(base)), rel=2e-3)


APART = [
    {"step": "split"},
    {"step": "spread", "values": {"amount": 0.1, "uneven": 40.0}, "where": MASKED},
    {"step": "turn_each", "values": {"size": 60, "turn": 40.0}},
    {"step": "remove", "values": {"way": "contour"}, "where": MASKED},
]


@settings(max_examples=12)
@given(st.lists(st.sampled_from([*CLOSED, *APART]), min_size=1, max_size=3))
def test_one_thread_and_several_give_the_same_bytes(steps):
    # So many points that several threads share the work where they may.
    ball = {"step": "icosphere", "values": {"halvings": 4}}
    document = study(ball, {"step": "subdivide", "values": {"way": "plain", "levels": 1}}, *steps)
    several, one = (
        Evaluator().evaluate(document, Request("p", shared=shared)).mesh for shared in (False, True)
    )
    assert several.topology.digest == one.topology.digest
    assert several.points.tobytes() == one.points.tobytes()
    assert several.rest.tobytes() == one.rest.tobytes()
