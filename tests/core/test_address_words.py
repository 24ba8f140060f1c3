"""Addresses as an artist would say them."""

import pytest

from zygomorph.core.inspect.address_words import address_words, followable

ONE = {
    "markers": [{"id": "m", "name": "Lamp"}],
    "pieces": [
        {
            "id": "p",
            "name": "Pond",
            "looks": [
                {"id": "k", "look": "surface", "by": [{"id": "colour"}]},
                {
                    "id": "k2",
                    "look": "surface",
                    "where": {"layers": [{"id": "l", "layer": "ball"}]},
                },
            ],
            "recipe": [
                {"id": "f", "step": "box"},
                {"id": "s", "step": "bend", "where": {"layers": [{"id": "l", "layer": "ball"}]}},
            ],
        }
    ],
    "lights": [{"id": "key", "name": "Window", "light": "sun"}],
    "cameras": [{"id": "c", "name": "Close", "camera": "perspective"}],
    "backdrop": {"backdrop": "two_colours"},
}


@pytest.mark.parametrize(
    ("address", "words"),
    [
        ("/pieces/p/recipe/s/values/angle", "2 Bend, angle"),
        ("/pieces/p/recipe/s/on", "2 Bend, in use"),
        ("/pieces/p/recipe/s/where/layers/l/values/radius", "2 Bend, Ball, radius"),
        ("/pieces/p/recipe/s/where/layers/l/strength", "2 Bend, Ball, strength"),
        ("/pieces/p/recipe/s/where/layers/gone/on", "2 Bend, a layer that is gone"),
        ("/pieces/p/looks/k/values/metal", "look, metal"),
        ("/pieces/p/looks/k/by/colour/values/gradient", "look, colour by value, gradient"),
        ("/pieces/p/looks/k2/where/layers/l/values/radius", "look 2, Ball, radius"),
        ("/pieces/p/looks/k", "look"),
        ("/pieces/p/place/turn", "place: turn"),
        ("/pieces/p/place", "place"),
        ("/pieces/p/looks", "look"),
        ("/markers/m/place/move", "Lamp, move"),
        ("/pieces/p/recipe/gone/values/angle", "a step that is gone"),
        ("/pieces/gone/visible", "a piece that is gone, shown"),
        ("/backdrop", "the backdrop"),
        ("/backdrop/values/edge", "the backdrop, corners"),
        ("/lights/key/values/strength", "Window, strength"),
        ("/lights/key/visible", "Window, shown"),
        ("/lights/key/values", "Window"),
        ("/lights/gone/visible", "a light that is gone, shown"),
        ("/cameras/c/values/target", "Close, target"),
        ("/loop/frames", "the loop frames"),
        ("/markers/gone/place", "a marker that is gone, place"),
    ],
)
def test_an_address_in_words(address, words):
    assert address_words(ONE, address) == words


def test_the_piece_is_named_where_there_are_several():
    two = {**ONE, "pieces": [*ONE["pieces"], {"id": "q", "name": "Q", "recipe": []}]}
    assert address_words(two, "/pieces/p/recipe/s/on") == "Pond, 2 Bend, in use"
    assert address_words(two, "/pieces/p/visible") == "Pond, shown"


def test_every_number_may_be_followed_and_a_vector_by_its_components():
    found = {each.address: each for each in followable(ONE)}
    angle = found["/pieces/p/recipe/s/values/angle"]
    assert (angle.owner, angle.label) == ("Pond", "2 Bend: Angle")
    assert found["/pieces/p/recipe/s/where/layers/l/strength"].label == "2 Bend: Ball, Strength"
    assert found["/pieces/p/place/turn/1"].label == "Place: Turn y"
    assert found["/markers/m/place/move/0"].label == "Move x"
    assert found["/markers/m/place/move/0"].owner == "Lamp"
    assert "/pieces/p/recipe/s/where/layers/l/profile" not in found
    assert "/pieces/p/recipe/s/values/axis" not in found
    assert list(found)[-1] == "/markers/m/place/turn/2"
