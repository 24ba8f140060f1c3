"""Every system gives the same bytes: with one thread and with all, in whichever order frames are
asked for, from frame 0 or from a checkpoint, in the server or on the command line."""

import json

import numpy as np
import pytest

from tests.api.actions import frame_url
from tests.api.conftest import read_frame
from zygomorph.cli import main
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.state_history import CHECKPOINT
from zygomorph.core.memo.memo import Memo
from zygomorph.core.values.definitions import ForceDefinition, SystemDefinition
from zygomorph.core.values.entries import definitions
from zygomorph.core.values.groups import SYSTEMS
from zygomorph.render.specimens import specimen

STEPS = [
    key
    for key, each in definitions("step").items()
    if isinstance(each, SystemDefinition | ForceDefinition) or each.group is SYSTEMS
]
ALSO = ["sea", "float", "let_go", "veins", "ruffles", "melt_balls", "press"]
KEYS = list(dict.fromkeys([*STEPS, *ALSO]))
FRAMES = (CHECKPOINT + 7, 3, 5.25, CHECKPOINT)


def parts(study, frame, evaluator=None, shared=False):
    """The bytes of all that a piece is at a frame: its bases, their attributes, its copies."""
    found = (evaluator or Evaluator()).evaluate(study, Request("p", frame, shared=shared)).geometry
    arrays = {}
    for number, base in enumerate(found.bases):
        arrays[f"{number} points"] = base.points
        arrays[f"{number} corners"] = base.topology.corners
        for domain, named in base.attributes.items():
            arrays |= {f"{number} {domain} {name}": array for name, array in named.items()}
    if found.copies is not None:
        arrays["placements"] = found.copies.placements
    return {name: np.ascontiguousarray(array).tobytes() for name, array in arrays.items()}


@pytest.fixture(scope="module", params=KEYS)
def study(request):
    return specimen("step", request.param)


def test_any_order_of_frames_and_any_number_of_threads(study):
    evaluator = Evaluator()
    scrubbed = [parts(study, frame, evaluator) for frame in FRAMES]
    for frame, found in zip(FRAMES, scrubbed, strict=True):
        assert found == parts(study, frame, shared=True)


def test_from_a_checkpoint_as_from_the_first_frame(study):
    """What lay between is forgotten, so that it begins again at what is kept longest."""
    evaluator = Evaluator()
    parts(study, 2 * CHECKPOINT + 3, evaluator)
    evaluator.states._recent, evaluator.cache = Memo(1_000_000), Memo(1_000_000)
    assert parts(study, CHECKPOINT + 2, evaluator) == parts(study, CHECKPOINT + 2)


def test_the_server_as_the_command_line(study, client, tmp_path):
    stored = client.post("/api/studies", json={"document": study.document}).get_json()
    number = next(k for k, each in enumerate(stored["motion"]) if each["id"] == "p")
    first = {**stored, "motion": [stored["motion"][number]]}
    header, blocks = read_frame(client.get(frame_url(first, 7.0, exact="true")).data)
    file, out = tmp_path / "study.json", tmp_path / "out.npz"
    file.write_text(json.dumps(study.document))
    data = ["--data", str(tmp_path / "data")]
    asked = ["evaluate", str(file), "--frame", "7", "--piece", "p", "--out", str(out)]
    assert main([*data, *asked]) == 0
    written = np.load(out)
    assert header["points"] == len(written["points"])
    if header["copies"] is None and header["drawn"] == len(written["points"]):
        assert np.array_equal(blocks["exact"], written["points"])
