"""The last answers: the same question is worked out once, another shop asks anew, what fails is not kept."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.angle_setups import choose_angle, solve_angle
from elbrix.book.documents import AngleDoc, shop_of
from elbrix.book.latest import Latest
from elbrix.demo import documents
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

SHOP = shop_of(documents())


def test_of_the_last_three_none_is_worked_out_again() -> None:
    latest: Latest[str, str] = Latest()
    worked: list[str] = []

    def asked(doc: str, shop: Shop = SHOP) -> str:
        return latest.of(doc, shop, lambda: (worked.append(doc), doc.upper())[1])

    assert [asked(d) for d in "abcabc"] == list("ABCABC")
    assert worked == list("abc")
    asked("d")
    asked("a")  # pushed out
    assert worked == list("abcda")
    asked("a", replace(SHOP))  # another that has the same in it
    assert worked == list("abcda")
    asked("a", replace(SHOP, bars=()))
    assert worked == list("abcdaa")


def test_what_fails_is_not_kept() -> None:
    latest: Latest[str, str] = Latest()

    def fail() -> str:
        raise ShopError("T", "it cannot be", "why", "do")

    with pytest.raises(ShopError):
        latest.of("a", SHOP, fail)
    assert latest.of("a", SHOP, lambda: "now") == "now"


def test_an_angle_tried_and_shown_is_solved_once_and_follows_the_shop() -> None:
    doc = next(d for d in documents() if isinstance(d, AngleDoc) and d.kind == "sine")
    first = solve_angle(doc, SHOP)
    assert solve_angle(replace(doc), SHOP) is first
    assert solve_angle(choose_angle(doc, SHOP, "angle", "20"), SHOP) is not first
    poorer = replace(SHOP, gauge_sets=())
    assert solve_angle(doc, poorer).figures != first.figures
