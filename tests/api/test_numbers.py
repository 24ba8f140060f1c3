"""What the interface is told of a study's values, instead of walking the document itself."""

from tests.conftest import document

CYCLE = {"signal": "cycle", "low": 0.0, "high": 90.0}
BEND = {
    "step": "bend",
    "values": {"angle": CYCLE, "centre": [0.0, CYCLE, 0.0]},
    "where": {"layers": [{"id": "l", "layer": "ball", "values": {"radius": CYCLE}}]},
}


def stored(client, **more):
    made = {**document({"step": "box"}, BEND), **more}
    return client.post("/api/studies", json={"document": made}).json


def test_numbers_to_follow_are_named_by_their_owner_and_step(client):
    state = stored(client, markers=[{"id": "m", "name": "Lamp"}])
    numbers = client.get(f"/api/studies/{state['id']}/numbers").json["numbers"]
    found = {each["address"]: (each["owner"], each["label"]) for each in numbers}
    assert found["/pieces/p/recipe/s1/values/angle"] == ("Piece", "2 Bend: Angle")
    assert found["/markers/m/place/move/1"] == ("Lamp", "Move y")
    assert client.get("/api/studies/gone/numbers").status_code == 404


def test_a_lane_says_its_address_its_step_and_its_signal(client):
    lanes = stored(client)["motion"][0]["steps"][1]["lanes"]
    assert {lane["address"]: lane["step"] for lane in lanes} == {
        "/pieces/p/recipe/s1/values/angle": "s1",
        "/pieces/p/recipe/s1/values/centre/1": "s1",
        "/pieces/p/recipe/s1/where/layers/l/values/radius": "s1",
    }
    assert all(lane["given"] == CYCLE for lane in lanes)


def test_what_a_variant_switches_is_said_in_words(client):
    address = "/pieces/p/recipe/s1/values/angle"
    options = [
        {"id": "a", "name": "A"},
        {"id": "b", "name": "B", "kept": {address: 30.0}},
    ]
    variant = {"id": "v", "name": "Variant", "chosen": "a", "options": options}
    assert stored(client, variants=[variant])["switched"] == {address: "2 Bend, angle"}
