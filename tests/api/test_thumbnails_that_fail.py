"""A picture that cannot be drawn is not tried at every start, and takes nothing down with it."""

import pytest

from tests.conftest import document
from tests.waiting import until
from zygomorph.api.service import Service
from zygomorph.api.thumbnails import of_study
from zygomorph.core.errors import ZygomorphError


@pytest.fixture
def drawn(monkeypatch):
    """Which studies were drawn."""
    found: list[str] = []

    def draw(study, *given):
        found.append(study.name)
        if study.name == "Broken":
            raise ZygomorphError("It cannot be made.")
        return b"picture"

    monkeypatch.setattr("zygomorph.api.thumbnails.moving_thumbnail", draw)
    return found


def settled(service, wanted):
    until(lambda: service.thumbnails.state(wanted) != "drawing")
    return service.thumbnails.state(wanted)


def stored(service, name):
    made = document({"step": "icosphere", "values": {"halvings": 1}})
    return service.studies.create(made | {"name": name})


def test_what_failed_is_not_drawn_again_after_a_restart(tmp_path, drawn):
    service = Service(tmp_path)
    broken = of_study(stored(service, "Broken"))
    assert settled(service, broken) == "failed"
    again = Service(tmp_path)
    assert again.thumbnails.state(broken) == "failed"
    assert drawn == ["Broken"]


def test_what_was_begun_and_never_ended_is_left_after_the_second_time(tmp_path, drawn):
    service = Service(tmp_path)
    wanted = of_study(stored(service, "Deadly"))
    mark = (service.folder / "thumbnails" / wanted.name).with_suffix(".begun")
    mark.parent.mkdir()
    # A program that was killed while it drew leaves its mark.
    mark.write_bytes(b".")
    assert settled(Service(tmp_path), wanted) == "ready"
    assert not [p for p in mark.parent.iterdir() if p.suffix == ".begun" and p.read_bytes() != b"."]
    other = of_study(stored(service, "Other"))
    mark.with_name(other.name).with_suffix(".begun").write_bytes(b"..")
    again = Service(tmp_path)
    assert again.thumbnails.state(other) == "failed"
    with pytest.raises(ZygomorphError, match="drawing it has failed before"):
        again.thumbnails.get(other)
    assert drawn == ["Deadly"]


def test_while_a_picture_is_drawn_it_is_noted(tmp_path, monkeypatch):
    service = Service(tmp_path)
    wanted = of_study(stored(service, "Long"))
    path = service.folder / "thumbnails" / wanted.name
    seen = []

    def draw(*given):
        seen.append(path.with_suffix(".begun").read_bytes())
        return b"picture"

    monkeypatch.setattr("zygomorph.api.thumbnails.moving_thumbnail", draw)
    assert settled(service, wanted) == "ready"
    assert seen == [b"."]
    assert not path.with_suffix(".begun").exists()


def test_another_program_draws_its_own_pictures(tmp_path, drawn, monkeypatch):
    service = Service(tmp_path)
    wanted = of_study(stored(service, "Good"))
    assert settled(service, wanted) == "ready"
    monkeypatch.setattr("zygomorph.api.thumbnails.program_digest", lambda: "another program")
    assert service.thumbnails.state(wanted) == "drawing"
    assert settled(service, wanted) == "ready"
    assert drawn == ["Good", "Good"]
    assert len(list((tmp_path / "thumbnails").glob("*.webp"))) == 1


def test_deliveries_of_an_earlier_run_do_not_stay(tmp_path):
    left = tmp_path / "delivered"
    left.mkdir()
    for name in ("0123456789ab.glb", "0123456789ab.zip.part"):
        (left / name).write_bytes(b"old")
    Service(tmp_path)
    assert list(left.iterdir()) == []
