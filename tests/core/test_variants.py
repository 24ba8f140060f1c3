"""Variants: what a choice switches, what it keeps, and what it never loses."""

import copy

import pytest
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule
from pydantic import TypeAdapter

from tests.conftest import document, surface
from zygomorph.core.document.beginnings import beginnings
from zygomorph.core.document.edits import Operation, apply_edit, value_at
from zygomorph.core.document.study import check_document
from zygomorph.core.document.variants import (
    add_option,
    addresses_of,
    choose,
    differ,
    remove_option,
    same,
)
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.values.entries import definitions

READ = TypeAdapter(list[Operation])
AMOUNT = "/pieces/p/recipe/s1/values/amount"
OCTAVES = "/pieces/p/recipe/s1/values/octaves"
ON = "/pieces/p/recipe/s1/on"
LOOKS = "/pieces/p/looks"


def begun():
    made = document({"step": "icosphere"}, {"step": "displace", "values": {"amount": 0.1}})
    options = [{"id": "a", "name": "Calm"}, {"id": "b", "name": "Wild"}]
    made["variants"] = [{"id": "v", "name": "Weather", "chosen": "a", "options": options}]
    return made


def edited(made, operations):
    after = apply_edit(made, READ.validate_python(operations))[0]
    return dict(check_document(after).document)


def put(made, address, value):
    return edited(made, [{"do": "set", "path": address, "value": value}])


def marked(*addresses):
    made = begun()
    for address in addresses:
        made = edited(made, differ(made, "v", address))
    return made


def test_one_choice_switches_a_value_a_step_and_a_look():
    made = marked(AMOUNT, ON, LOOKS)
    made = edited(made, choose(made, "v", "b"))
    made = put(put(made, AMOUNT, 0.5), ON, False)
    made = put(made, LOOKS, surface(colour="#ff0000"))
    calm = edited(made, choose(made, "v", "a"))
    assert value_at(calm, AMOUNT) == 0.1
    assert value_at(calm, ON) is True
    assert value_at(calm, LOOKS) == beginnings("look")
    wild = edited(calm, choose(calm, "v", "b"))
    assert wild == made


def test_what_is_not_marked_is_the_same_for_all():
    made = edited(marked(AMOUNT), choose(marked(AMOUNT), "v", "b"))
    made = put(made, OCTAVES, 7)
    made = edited(made, choose(made, "v", "a"))
    assert value_at(made, OCTAVES) == 7


def test_a_value_that_was_left_out_is_kept_as_its_default():
    made = marked(OCTAVES)
    made = put(edited(made, choose(made, "v", "b")), OCTAVES, 9)
    made = edited(made, choose(made, "v", "a"))
    assert value_at(made, OCTAVES) == definitions("step")["displace"].values["octaves"].default


def test_a_signal_is_switched_as_a_value():
    made = marked(AMOUNT)
    wave = {"signal": "cycle", "low": 0.0, "high": 0.4}
    made = put(edited(made, choose(made, "v", "b")), AMOUNT, wave)
    assert value_at(edited(made, choose(made, "v", "a")), AMOUNT) == 0.1
    assert addresses_of(made["variants"][0]) == [AMOUNT]


def test_what_is_the_same_again_stays_as_it_is_now():
    made = marked(AMOUNT, OCTAVES)
    made = put(edited(made, choose(made, "v", "b")), AMOUNT, 0.5)
    made = edited(made, same(made, "v", AMOUNT))
    assert addresses_of(made["variants"][0]) == [OCTAVES]
    assert value_at(edited(made, choose(made, "v", "a")), AMOUNT) == 0.5


def test_an_option_begins_like_the_chosen_one():
    made = put(marked(AMOUNT), AMOUNT, 0.3)
    made = edited(made, add_option(made, "v", "c", "Storm"))
    assert made["variants"][0]["chosen"] == "c"
    assert value_at(made, AMOUNT) == 0.3
    made = put(made, AMOUNT, 0.9)
    for option, amount in (("a", 0.3), ("b", 0.1), ("c", 0.9)):
        made = edited(made, choose(made, "v", option))
        assert value_at(made, AMOUNT) == amount


def test_with_its_last_choice_a_variant_goes():
    made = edited(marked(AMOUNT), choose(marked(AMOUNT), "v", "b"))
    made = put(made, AMOUNT, 0.5)
    left = edited(made, remove_option(made, "v", "b"))
    assert left["variants"] == []
    assert value_at(left, AMOUNT) == 0.1
    made = edited(made, add_option(made, "v", "c", "Storm"))
    left = edited(made, remove_option(made, "v", "c"))
    assert [o["id"] for o in left["variants"][0]["options"]] == ["a", "b"]
    assert left["variants"][0]["chosen"] == "a"


def test_a_step_that_was_removed_is_no_obstacle_and_comes_back_whole():
    made = marked(AMOUNT, ON)
    made = put(edited(made, choose(made, "v", "b")), AMOUNT, 0.5)
    gone, back = apply_edit(made, READ.validate_python([{"do": "remove", "path": ON[:-3]}]))
    calm = edited(gone, choose(gone, "v", "a"))
    wild = edited(calm, choose(calm, "v", "b"))
    again = edited(wild, back)
    assert value_at(again, AMOUNT) == 0.5
    assert addresses_of(again["variants"][0]) == [AMOUNT, ON]


@pytest.mark.parametrize(
    ("address", "says"),
    [
        ("/loop/frames", "cannot differ"),
        ("/pieces/p/place/move/0", "cannot differ"),
        ("/pieces/p/recipe/s1/values/nothing", "cannot differ"),
        ("/pieces/q/visible", "nothing at"),
        ("/variants", "cannot differ"),
    ],
)
def test_what_cannot_differ_is_refused(address, says):
    with pytest.raises(ZygomorphError, match=says):
        differ(begun(), "v", address)


def test_two_variants_do_not_switch_the_same():
    made = marked(LOOKS)
    options = [{"id": "a", "name": "A"}, {"id": "b", "name": "B"}]
    made["variants"].append({"id": "w", "name": "Light", "chosen": "a", "options": options})
    with pytest.raises(ZygomorphError, match="Weather"):
        differ(made, "w", f"{LOOKS}/surface/values/colour")
    with pytest.raises(ZygomorphError, match="no variant"):
        choose(made, "x", "a")
    with pytest.raises(ZygomorphError, match="no option"):
        choose(made, "v", "z")


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"chosen": "z"}, "no option"),
        ({"options": [{"id": "a", "name": "A"}] * 2}, "used twice"),
        ({"options": [{"id": "a", "name": "A", "kept": {AMOUNT: 1.0}}]}, "stands in the study"),
        ({"options": []}, "at least 1"),
        ({"options": [{"id": "a", "name": "A", "kept": {"no path": 1}}]}, "match pattern"),
    ],
)
def test_wrong_variants_are_refused(change, says):
    made = begun()
    made["variants"][0] |= change
    with pytest.raises(DocumentError, match=says):
        check_document(made)


class Switching(RuleBasedStateMachine):
    """Whatever is switched and set, each option has what was set last while it was chosen."""

    def __init__(self):
        super().__init__()
        self.made = begun()
        self.expected = {"a": {}, "b": {}}
        self.shared = {AMOUNT: 0.1, OCTAVES: None}

    def _chosen(self):
        return self.made["variants"][0]["chosen"]

    def _marked(self):
        return addresses_of(self.made["variants"][0])

    @rule(option=st.sampled_from(["a", "b"]))
    def switch(self, option):
        self.made = edited(self.made, choose(self.made, "v", option))

    @rule(amount=st.floats(0, 1))
    def set_amount(self, amount):
        self.made = put(self.made, AMOUNT, amount)
        if AMOUNT in self._marked():
            self.expected[self._chosen()][AMOUNT] = amount
        else:
            self.shared[AMOUNT] = amount

    @precondition(lambda self: AMOUNT not in self._marked())
    @rule()
    def mark(self):
        self.made = edited(self.made, differ(self.made, "v", AMOUNT))
        for own in self.expected.values():
            own[AMOUNT] = self.shared[AMOUNT]

    @precondition(lambda self: AMOUNT in self._marked())
    @rule()
    def unmark(self):
        self.shared[AMOUNT] = self.expected[self._chosen()][AMOUNT]
        self.made = edited(self.made, same(self.made, "v", AMOUNT))

    @invariant()
    def each_option_has_its_own(self):
        made = copy.deepcopy(self.made)
        for option in ("a", "b"):
            made = edited(made, choose(made, "v", option))
            own = self.expected[option] if AMOUNT in self._marked() else self.shared
            assert value_at(made, AMOUNT) == own[AMOUNT]


TestSwitching = Switching.TestCase
