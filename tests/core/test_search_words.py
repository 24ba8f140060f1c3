"""Forms, steps, layers and signals are found by other words than their own name."""

import pytest

from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.entries import definitions

ENTRIES = [d for sort in ("form", "step", "layer", "signal") for d in definitions(sort).values()]


@pytest.mark.parametrize("entry", ENTRIES, ids=lambda d: f"{d.sort} {d.key}")
def test_each_has_other_words_that_its_name_does_not_say_already(entry: Definition):
    assert entry.also
    assert len(set(entry.also)) == len(entry.also)
    assert entry.title.lower() not in [word.lower() for word in entry.also]


@pytest.mark.parametrize(
    ("word", "sort", "key"),
    [
        ("noise", "step", "displace"),
        ("rock", "step", "displace"),
        ("boil", "step", "displace"),
        ("morph", "step", "blend"),
        ("ripple", "step", "rings"),
        ("brush", "layer", "drawn"),
        ("music", "layer", "sound"),
        ("hair", "form", "strands"),
        ("SVG", "form", "outline"),
        ("keyframes", "signal", "keys"),
    ],
)
def test_words_that_people_look_for_lead_to_their_entry(word, sort, key):
    assert word in definitions(sort)[key].also
