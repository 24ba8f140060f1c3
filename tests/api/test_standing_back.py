"""Moving pictures stand back for frames, and for what the first start compiles."""

import threading

import numpy as np
import pytest

from tests.conftest import study
from tests.waiting import until
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
from zygomorph.api.thumbnails import Thumbnails, Wanted
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.jobs.queue.cluster import ClusterSettings

BALL = study({"step": "icosphere", "values": {"halvings": 1}})


class Compiling:
    """A first start that is as far as a test says."""

    total = 36

    def __init__(self):
        self.done = 12
        self.finished = threading.Event()


@pytest.fixture
def first_start(tmp_path):
    compiling = Compiling()
    service = Service(
        tmp_path, compiling=compiling, cluster=ClusterSettings(workers=1, apart=False)
    )
    yield compiling, service
    compiling.finished.set()
    service.debounce.close()
    service.thumbnails.close()


def wanted(name="ball"):
    return Wanted(name, "1", lambda: BALL, size=(16, 10), moments=3)


def test_the_health_tells_how_far_the_first_start_is(first_start):
    _, service = first_start
    answer = make_app(service).test_client().get("/api/health").json
    assert answer == {"ready": True, "compiling": {"done": 12, "total": 36}}


def test_a_later_start_has_nothing_to_compile(tmp_path):
    answer = make_app(Service(tmp_path)).test_client().get("/api/health").json
    assert answer["compiling"] == {"done": 0, "total": 0}


def test_no_picture_is_drawn_aside_before_the_first_start_is_over(first_start):
    compiling, service = first_start
    assert service.thumbnails.state(wanted()) == "drawing"
    assert not compiling.finished.wait(0.3)
    assert service.thumbnails.state(wanted()) == "drawing"
    compiling.finished.set()
    until(lambda: service.thumbnails.state(wanted()) == "ready")


def test_a_delivery_waits_until_all_is_compiled(first_start):
    """What stands in for a kernel until then differs from it in the last bit."""
    compiling, service = first_start
    client = make_app(service).test_client()
    made = service.studies.create(dict(BALL.document))
    body = {"study": made.id, "kind": "obj", "frames": [0, 0]}
    job = client.post("/api/deliveries", json=body).json
    until(lambda: client.get(f"/api/jobs/{job['id']}").json["what"].endswith("12 of 36"))
    compiling.finished.set()
    until(lambda: client.get(f"/api/jobs/{job['id']}").json["state"] == "done")
    service.queue.close()


def test_it_stands_back_before_every_frame_of_a_picture(tmp_path):
    asked = []
    drawn = threading.Event()
    thumbnails = Thumbnails(tmp_path, Evaluator(), drawn.set, lambda: asked.append(True))
    thumbnails.state(wanted())
    assert drawn.wait(30)
    assert len(asked) == 3
    # Who waits for a picture does not wait for others first.
    thumbnails.get(wanted("other"))
    assert len(asked) == 3
    thumbnails.close()


def test_asking_for_a_frame_makes_pictures_wait(first_start):
    _, service = first_start
    before = service.debounce._asked
    made = service.studies.create(dict(BALL.document))
    key = make_app(service).test_client().get(f"/api/studies/{made.id}").json["motion"][0]["key"]
    answer = (
        make_app(service)
        .test_client()
        .get(f"/api/studies/{made.id}/pieces/p/frame?key={key}&frame=0")
    )
    assert answer.status_code == 200
    assert np.isfinite(service.debounce._asked)
    assert service.debounce._asked > before
