"""Nothing is stored that could not be opened again."""

import pytest

from tests.conftest import document
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.inspect.openable import check_openable

BALL = {"step": "icosphere", "values": {"halvings": 1}}
AT = "/pieces/p/recipe/s{}/values/amount"


def links(*to):
    steps = [
        {"step": "inflate", "values": {"amount": {"signal": "link", "to": AT.format(k)}}}
        for k in to
    ]
    return document(BALL, *steps)


def test_links_in_a_circle_are_an_error_with_their_place():
    with pytest.raises(DocumentError, match="circle") as caught:
        check_document(links(2, 1))
    assert caught.value.problems[0][0] == "/pieces/0/recipe/1/values/amount"


def test_a_link_to_itself_is_an_error():
    with pytest.raises(DocumentError, match="circle"):
        check_document(links(1))


def test_a_short_row_of_links_is_fine_and_a_long_one_is_not():
    check_document(links(*range(2, 20), 99))
    with pytest.raises(DocumentError, match="follow one another"):
        check_document(links(*range(2, 484), 999))


@pytest.mark.parametrize(
    ("value", "message"), [(float("nan"), "finite"), ("\ud800", "half of a character")]
)
def test_what_is_no_json_is_not_stored(value, message):
    made = document(BALL)
    kept = {"/pieces/p/recipe/s0/values/radius": value}
    made["variants"] = [{"id": "v", "name": "V", "chosen": "a", "options": [
        {"id": "a", "name": "A"}, {"id": "b", "name": "B", "kept": kept}]}]  # fmt: skip
    with pytest.raises(DocumentError, match=message):
        check_openable(check_document(made))


def test_pieces_that_use_one_another_in_a_long_row_are_refused():
    made = document(BALL)
    made["pieces"] = [
        {"id": f"p{k}", "name": "P", "recipe": [
            {"id": "f", "step": "piece", "values": {"piece": f"p{k + 1}"}} if k < 163 else {"id": "f", **BALL}
        ]}
        for k in range(164)
    ]  # fmt: skip
    with pytest.raises(DocumentError, match="other pieces"):
        check_openable(check_document(made))
