"""A study with the files that it uses as one ZIP, and archives that are not what they say."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from tests.conftest import document, obj_text
from zygomorph.core.document.files import digests_in
from zygomorph.core.document.groups import preset_of
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import ZygomorphError
from zygomorph.core.evaluation.evaluate import Request
from zygomorph.core.formats import bundle as bundles
from zygomorph.core.formats.bundle import BundledFile, read_bundle, write_bundle
from zygomorph.core.formats.collection import Packed, studies_in, write_collection
from zygomorph.store.bundled import open_bundle

TETRAHEDRON = obj_text(
    np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]]),
    np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]]),
).encode()
DIGEST = hashlib.sha256(TETRAHEDRON).hexdigest()
MADE = document({"step": "imported", "values": {"mesh": DIGEST}})
FILE = BundledFile(DIGEST, "tetra.obj", TETRAHEDRON, {"points": 4})

GROUPED = document(
    {"step": "icosphere"}, {"id": "t", "step": "twist", "values": {"angle": 30}, "group": "g"}
)
GROUPED["pieces"][0]["groups"] = [{"id": "g", "name": "Turn"}]


def archive(**entries: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in entries.items():
            made.writestr(name.replace("__", "/").replace("_json", ".json"), data)
    return out.getvalue()


def test_a_bundle_gives_back_what_went_in_and_evaluates_without_a_store():
    data = write_bundle(MADE, [FILE])
    found = read_bundle(data)
    assert found.document["pieces"][0]["recipe"] == MADE["pieces"][0]["recipe"]
    assert found.files == (FILE,)
    study, evaluator = open_bundle(data)
    assert len(evaluator.evaluate(study, Request("p")).mesh.points) == 4


def test_the_same_study_gives_the_same_bytes():
    assert write_bundle(MADE, [FILE]) == write_bundle(json.loads(json.dumps(MADE)), [FILE])


def test_files_are_found_wherever_a_document_names_them():
    assert digests_in(MADE) == [DIGEST]
    assert digests_in({"a": [DIGEST, {"b": "0" * 64}, DIGEST], "c": DIGEST[:40]}) == [
        DIGEST,
        "0" * 64,
    ]


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "no bundle"),
        (b"PK not really", "no bundle"),
        (archive(readme=b"hello"), "no study.json"),
        (archive(study_json=b"{"), ""),
        (archive(study_json=json.dumps(MADE).encode(), files_json=b"{}"), "cannot be read"),
        (
            archive(
                study_json=json.dumps(MADE).encode(),
                files_json=json.dumps(
                    [{"digest": "../../etc/passwd", "filename": "x", "report": {}}]
                ).encode(),
            ),
            "cannot be read",
        ),
        (
            archive(
                study_json=json.dumps(MADE).encode(),
                files_json=json.dumps(
                    [{"digest": DIGEST, "filename": "tetra.obj", "report": {}}]
                ).encode(),
            ),
            "not in this bundle",
        ),
    ],
)
def test_what_is_no_bundle_is_told(data, said):
    with pytest.raises(ZygomorphError, match=said):
        read_bundle(data)


def test_a_file_that_is_not_what_its_name_says_is_refused():
    damaged = BundledFile(DIGEST, "tetra.obj", TETRAHEDRON + b"#", {})
    with pytest.raises(ZygomorphError, match="damaged"):
        read_bundle(write_bundle(MADE, [damaged]))


def test_an_archive_that_is_made_to_fill_memory_is_refused_before_it_is_unpacked():
    bomb = archive(study_json=b" " * 60_000_000)
    assert len(bomb) < 100_000
    with pytest.raises(ZygomorphError, match="unpacks to 60,000,000 bytes"):
        read_bundle(bomb)


def test_very_many_entries_are_refused():
    many = {f"f{k}": b"" for k in range(bundles.MOST_FILES + 10)}
    with pytest.raises(ZygomorphError, match="entries"):
        read_bundle(archive(**many))


@given(some.integers(0, 2000), some.integers(0, 255))
def test_a_bundle_with_a_changed_byte_is_read_whole_or_refused(at, value):
    data = bytearray(write_bundle(MADE, [FILE]))
    data[at % len(data)] = value
    try:
        found = read_bundle(bytes(data))
    except ZygomorphError:
        return
    assert all(hashlib.sha256(file.data).hexdigest() == file.digest for file in found.files)


def packed(*names_and_data):
    out = io.BytesIO()
    write_collection([Packed(name, data) for name, data in names_and_data], out)
    return out.getvalue()


def test_many_studies_go_into_one_archive_under_names_of_their_own():
    one, two = write_bundle(MADE, [FILE]), write_bundle(document(), [])
    data = packed(("a.zip", one), ("a.zip", two), ("a.zip", one))
    assert [(p.name, p.data) for p in studies_in(data, "all.zip")] == [
        ("a-2.zip", two),
        ("a-3.zip", one),
        ("a.zip", one),
    ]


def test_a_bundle_and_a_document_are_one_study_each():
    for data in (write_bundle(MADE, [FILE]), json.dumps(MADE).encode()):
        assert list(studies_in(data, "x")) == [Packed("x", data)]


def test_what_systems_put_beside_files_is_no_study_and_nothing_at_all_is_told():
    with pytest.raises(ZygomorphError, match="no study in this ZIP"):
        list(studies_in(archive(**{"__MACOSX/._a.zip": b"x", "notes.txt": b"y"}), "x.zip"))


def test_one_that_is_damaged_in_a_collection_does_not_hold_up_the_others():
    one = write_bundle(MADE, [FILE])
    data = bytearray(packed(("a.zip", one), ("b.zip", one)))
    at = data.index(one) + len(one) // 2
    data[at : at + 8] = bytes(8)
    wrong, right = studies_in(bytes(data), "x.zip")
    assert right == Packed("b.zip", one)
    with pytest.raises(ZygomorphError, match="no bundle"):
        read_bundle(wrong.data)


@given(some.integers(0, 3000), some.integers(0, 255))
def test_a_collection_with_a_changed_byte_gives_studies_or_is_refused(at, value):
    data = bytearray(packed(("a.zip", write_bundle(MADE, [FILE]))))
    data[at % len(data)] = value
    try:
        for each in studies_in(bytes(data), "x.zip"):
            read_bundle(each.data)
    except ZygomorphError:
        pass


def test_presets_travel_and_wrong_ones_are_told():
    study = Study(check_document(GROUPED).document)
    preset = preset_of(study, "p", "g")
    assert read_bundle(write_bundle(MADE, [], [preset])).presets == (preset,)
    with pytest.raises(ZygomorphError, match="format"):
        read_bundle(write_bundle(MADE, [], [{**preset, "format": "other"}]))
