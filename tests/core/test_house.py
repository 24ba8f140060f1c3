"""The picture of the layers shows those that the imports are held to."""

import importlib.util
import tomllib

from tests.conftest import ROOT


def test_the_picture_has_the_layers_of_the_contract():
    spec = importlib.util.spec_from_file_location("house", ROOT / "scripts" / "house.py")
    house = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(house)
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text())
    contracts = {c["name"]: c for c in settings["tool"]["importlinter"]["contracts"]}
    layers = contracts["Layers of the core"]["layers"]
    drawn = [layer for layer in layers if layer in house.CORE]
    assert drawn == list(house.CORE)
    # What is left out is at the bottom, and has no layers of its own.
    assert set(layers) - set(drawn) == {
        "budget | cancelling | program | progress",
        "errors",
    }
    picture = (ROOT / "docs" / "house.svg").read_text()
    assert all(f">{name}<" in picture for name in house.CORE)
