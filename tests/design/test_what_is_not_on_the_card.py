"""A size that the card of a kind does not show changes nothing of the part: what was typed for another kind stays behind.

What is proposed from it does show; and a size that brings its own row with it (a ring slot's radius) is on the card then.
"""

from __future__ import annotations

import random
from collections.abc import Iterator

import pytest
from campaigns.designs import near, odd

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, all_families, find_family, read_choices, solve_for
from elbrix.quantities.errors import ShopError

SHOP = shop_of(documents())
#: What a kind is told by.
_KINDS = ("kind", "part", "side", "jaws", "stands", "way")
#: Measured on the machine and shown with it; a size of the part is proposed from it.
_OF_THE_MACHINE = {("hardware", "neck"), ("split_vise", "neck")}


def kinds(family: Family) -> Iterator[dict[str, str]]:
    yield {}
    for p in family.parameters:
        if p.choices and p.name in _KINDS:
            yield from ({p.name: value} for value, _ in p.choices)


def rows(family: Family, design: Design) -> set[str]:
    return {row for group in family.card(design) for row in group.rows}


@pytest.mark.parametrize("key", sorted(all_families()))
def test_no_size_off_the_card_changes_the_part(key: str) -> None:
    family, chance, tried = find_family(key), random.Random(f"off {key}"), 0
    for kind in kinds(family):
        try:
            design = solve_for(family, SHOP, Request(), read_choices(family, kind))
        except ShopError:
            continue
        solid, shown = family.solid(design), rows(family, design)
        for p in family.parameters:
            if p.name in shown or p.name in kind or (key, p.name) in _OF_THE_MACHINE:
                continue
            for typed in (odd(p, chance), odd(p, chance), near(p, design, chance)):
                if typed is None:
                    continue
                try:
                    other = solve_for(family, SHOP, Request(), read_choices(family, {**kind, p.name: typed}))
                except ShopError:
                    continue  # out of its own limits
                tried += 1
                if p.name not in rows(family, other):
                    assert family.solid(other) == solid, (kind, p.name, typed)
                    assert {c.key: c.verdict for c in other.checks}.keys() == {c.key for c in design.checks}
    if key in ("clamp", "fixture_plate", "hardware", "locator", "riser", "soft_jaw", "split_vise"):
        assert tried > 10, key


def test_what_was_typed_for_a_bush_does_not_lengthen_a_pin() -> None:
    """The way it happened: a flange typed for a bush, its Ø taken back, then another kind picked."""
    family = find_family("locator")
    bush = {"kind": "bush", "head_height": "4", "head_diameter": "0"}
    pin = solve_for(family, SHOP, Request(), read_choices(family, {**bush, "kind": "pin"}))
    plain = solve_for(family, SHOP, Request(), {})
    assert family.solid(pin) == family.solid(plain)
    assert family.work(pin, SHOP).blank == family.work(plain, SHOP).blank
