"""Steps that change the topology, one after the other in any order: nothing opens, nothing is lost."""

import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study, volume
from tests.random_values import made_of, small
from zygomorph.core.errors import StepError
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


SOLID = [
    {"step": "fracture", "values": {"count": 6, "gap": 0.0}},
    {"step": "fracture", "values": {"count": 5, "gap": 0.01, "cut": "now"}},
    {"step": "boolean", "values": {"piece": "o", "keep": "outside"}},
    {"step": "boolean", "values": {"piece": "o", "keep": "join"}},
    {"step": "voxels", "values": {"size": 0.12}},
    {"step": "bevel", "values": {"width": 0.01}},
]
BESIDE = {
    "id": "o",
    "name": "Other",
    "place": {"move": [0.31, 0.27, 0.23], "turn": [11, 23, 5]},
    "recipe": [{"id": "f", "step": "box", "values": {"size": [0.5, 0.5, 0.5]}}],
}
# A chain may make what goes through itself, of which it is said that it has no clear inside.
NO_INSIDE = re.compile("goes through itself|has no clear inside|has no faces|is flat")


@settings(max_examples=25)
@given(st.sampled_from(FORMS), st.lists(st.sampled_from(SOLID), min_size=1, max_size=3))
def test_solids_stay_closed_and_their_volume_is_what_the_steps_say(form, steps):
    store = {"step": "inflate", "values": {"amount": 0.0}, "where": {**MASKED, "store": "side"}}
    evaluator, before = Evaluator(), None
    for count in range(len(steps) + 1):
        base = {"step": form, "values": small(form)}
        study_of = made_of(base, store, *steps[:count], other=BESIDE)
        try:
            mesh = evaluator.evaluate(study_of, Request("p")).mesh
        except StepError as error:
            assert NO_INSIDE.search(error.message), error.message
            assert error.hint
            return
        if len(mesh.points) == 0:
            return
        assert mesh.topology.closed
        for domain, named in mesh.attributes.items():
            for name, values in named.items():
                assert len(values) == mesh.count(domain), (domain, name)
        stored = mesh.get("point", MASK + "side")
        assert np.isfinite(stored).all()
        assert -1e-3 <= stored.min() <= stored.max() <= 1 + 1e-3
        assert len(np.unique(mesh.ids("point"))) == len(mesh.points)
        found = volume(mesh)
        if before is not None and steps[count - 1]["step"] == "fracture":
            assert found == pytest.approx(before, rel=1e-4)
        if before is not None and steps[count - 1]["step"] == "boolean":
            more = steps[count - 1]["values"]["keep"] == "join"
            assert found >= before * (1 - 1e-5) if more else found <= before * (1 + 1e-5)
        before = found


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
    {"step": "fracture", "values": {"count": 12, "gap": 0.01}},
    {"step": "voxels", "values": {"size": 0.1, "smooth": 0.05}},
]


@pytest.mark.thorough
@settings(max_examples=12)
@given(st.lists(st.sampled_from([*CLOSED, *APART]), min_size=1, max_size=3))
def test_one_thread_and_several_give_the_same_bytes(steps):
    # So many points that several threads share the work where they may.
    ball = {"step": "icosphere", "values": {"halvings": 4}}
    document = study(ball, {"step": "subdivide", "values": {"way": "plain", "levels": 1}}, *steps)
    try:
        several, one = (
            Evaluator().evaluate(document, Request("p", shared=shared)).mesh
            for shared in (False, True)
        )
    except StepError as error:
        # What was split or removed before is open.
        assert re.search("is open|goes through itself", error.message)
        return
    assert several.topology.digest == one.topology.digest
    assert several.points.tobytes() == one.points.tobytes()
    assert several.rest.tobytes() == one.rest.tobytes()
