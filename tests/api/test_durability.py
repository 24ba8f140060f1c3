"""A killed server loses no accepted edit; a full disk loses nothing."""

import json
import signal
import subprocess
import sys
import threading
import urllib.request

import pytest
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from tests.conftest import document
from tests.waiting import until
from zygomorph.core.document.schema import VERSION
from zygomorph.store.database import StoreError, open_engine, writing
from zygomorph.store.models import EditRow
from zygomorph.store.studies import OPERATIONS, Studies

SERVE = """
import sys
from pathlib import Path
from waitress import create_server
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
server = create_server(make_app(Service(Path(sys.argv[1]))), host="127.0.0.1", port=0, threads=4)
print(server.effective_port, flush=True)
server.run()
"""


def send(port, path, body):
    request = urllib.request.Request(
        f"http://127.0.0.1:{port}{path}",
        json.dumps(body).encode(),
        {"Content-Type": "application/json"},
    )
    with urllib.request.urlopen(request, timeout=10) as answer:
        return json.load(answer)


def test_a_kill_at_any_moment_loses_no_accepted_edit(tmp_path):
    process = subprocess.Popen(
        [sys.executable, "-c", SERVE, str(tmp_path)], stdout=subprocess.PIPE, text=True
    )
    port = int(process.stdout.readline())
    made = send(port, "/api/studies", {"document": document({"step": "icosphere"})})
    accepted = []

    def edit():
        for number in range(10_000):
            operation = {"do": "set", "path": "/note", "value": str(number)}
            body = {"window": "w", "revision": number, "operations": [operation]}
            try:
                send(port, f"/api/studies/{made['id']}/edits", body)
            except OSError:
                return
            accepted.append(number)

    thread = threading.Thread(target=edit)
    thread.start()
    until(lambda: len(accepted) > 20)
    process.send_signal(signal.SIGKILL)
    thread.join()
    process.wait()
    assert accepted
    studies = Studies(open_engine(tmp_path / "zygomorph.sqlite3"))
    kept = studies.get(made["id"], "w")
    # The edit under way at the kill may have been stored without its answer getting out.
    assert kept.revision in (len(accepted), len(accepted) + 1)
    assert kept.document["note"] == str(kept.revision - 1)
    assert len(studies.history(made["id"])) == kept.revision


def test_a_full_disk_is_said_and_the_study_stays(tmp_path):
    engine = open_engine(tmp_path / "zygomorph.sqlite3")
    studies = Studies(engine)
    made = studies.create(document({"step": "icosphere"}))
    with engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
    large = OPERATIONS.validate_python([{"do": "set", "path": "/note", "value": "x" * 4000}])

    def no_room(connection, _record):
        connection.execute(f"PRAGMA max_page_count={pages + 1}")

    from sqlalchemy import event

    engine.dispose()
    event.listen(engine, "connect", no_room)
    with pytest.raises(StoreError, match="disk is full"):
        for revision in range(200):
            studies.edit(made.id, large, revision, "w", "Fill")
    kept = studies.get(made.id)
    assert kept.document["name"] == "Test"
    assert len(studies.history(made.id)) == kept.revision


def test_a_failed_write_leaves_everything_as_it_was(tmp_path):
    engine = open_engine(tmp_path / "zygomorph.sqlite3")
    studies = Studies(engine)
    made = studies.create(document({"step": "icosphere"}))
    with pytest.raises(StoreError, match="could not be stored"), writing(engine) as session:
        row = session.get(type_of_row(), made.id)
        row.name = "Changed"
        session.flush()
        raise OperationalError("", {}, Exception("broken"))
    assert studies.find("Test").id == made.id


def type_of_row():
    from zygomorph.store.models import StudyRow

    return StudyRow


def test_a_file_that_is_no_database_is_explained(tmp_path):
    (tmp_path / "zygomorph.sqlite3").write_bytes(b"not a database" * 100)
    with pytest.raises(StoreError, match="cannot be opened"):
        open_engine(tmp_path / "zygomorph.sqlite3")


def test_studies_stored_by_an_older_version_are_brought_up_to_date(tmp_path):
    path = tmp_path / "studies.sqlite"
    engine = open_engine(path)
    new = document({"step": "icosphere"}, {"step": "displace", "values": {"noise": "gradient"}})
    stored = Studies(engine).create(new)
    old = json.dumps(new | {"version": 1}).replace('"noise": "gradient"', '"noise": "ridged"')
    with writing(engine) as session:
        session.execute(text("UPDATE studies SET document = :old"), {"old": old})
        session.execute(text("UPDATE alembic_version SET version_num = '0001'"))
        session.execute(text("DROP TABLE presets"))
        session.execute(text("DROP TABLE gradients"))
    engine.dispose()
    found = Studies(open_engine(path)).document(stored.id)
    assert found["version"] == VERSION
    assert found["pieces"][0]["recipe"][1]["values"] == {"noise": "gradient", "fold": "ridged"}


def test_an_edit_of_version_3_is_taken_back_after_the_upgrade(tmp_path):
    """A database as the program of version 3 left it: a study, and an edit of its look and camera
    that this window may still undo and redo."""
    path = tmp_path / "studies.sqlite"
    engine = open_engine(path)
    stored = Studies(engine).create(document({"step": "icosphere"}))
    old = document({"step": "icosphere"}, look={"surface": {"glow": 50.0}})
    old |= {"version": 3, "camera": {"angle": 60.0}}
    done = [
        {"do": "set", "path": "/pieces/p/look/surface/glow", "value": 50.0},
        {"do": "set", "path": "/camera/angle", "value": 60.0},
    ]
    back = [
        {"do": "set", "path": "/camera/angle", "value": 32.0},
        {"do": "remove", "path": "/pieces/p/look/surface/glow"},
    ]
    with writing(engine) as session:
        row = session.get(type_of_row(), stored.id)
        row.document, row.revision = old, 1
        edit = {"window": "w", "kind": "edit", "label": "Glow", "revision": 1}
        session.add(EditRow(study_id=stored.id, operations=done, inverse=back, **edit))
        session.flush()
        session.execute(text("UPDATE alembic_version SET version_num = '0004'"))
        session.execute(text("DROP TABLE gradients"))
    engine.dispose()
    studies = Studies(open_engine(path))
    values = studies.document(stored.id)["pieces"][0]["looks"][0]["values"]
    assert values == {"glow": 50.0}
    undone = studies.undo(stored.id, "w").document
    assert undone["pieces"][0]["looks"][0]["values"] == {}
    assert undone["cameras"][0]["values"]["angle"] == 32.0
    redone = studies.redo(stored.id, "w").document
    assert redone["pieces"][0]["looks"][0]["values"] == {"glow": 50.0}
    assert redone["cameras"][0]["values"]["angle"] == 60.0
