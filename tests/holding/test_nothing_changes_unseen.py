"""What Hold says and draws is held still: see `holding_record`."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

import holding_record
import records
from elbrix.holding.layout import all_elements
from elbrix.shop.shop import Shop


@cache
def kept() -> dict[str, Any]:
    return holding_record.kept()


def changed(part: str, now: Any) -> list[str]:
    return records.differences(kept()[part], now, part)[:8]


@pytest.mark.parametrize("kind", list(all_elements()))
def test_a_thing_in_random_places(demo_shop: Shop, kind: str) -> None:
    assert not changed(kind, list(holding_record.standing(demo_shop, kind)))


LAYOUTS = list(holding_record.layouts())


@pytest.mark.parametrize("number", range(len(LAYOUTS)))
def test_a_whole_layout(demo_shop: Shop, number: int) -> None:
    now = holding_record.said(LAYOUTS[number], demo_shop)
    assert not records.differences(kept()["layouts"][number], now, f"layout {number}")[:8]


def test_the_search_for_places(demo_shop: Shop) -> None:
    assert not changed("suggested", holding_record.suggested(demo_shop))


def test_the_record_is_of_layouts_that_say_something() -> None:
    layouts = kept()["layouts"]
    assert len(layouts) == len(LAYOUTS) and sum("refused" in x for x in layouts) <= 2
    verdicts = {c["label"].split(",")[0] for x in layouts if "checks" in x for c in x["checks"]}
    assert len(verdicts) > 25
    for kind in all_elements():
        placed = [x["placed"] for x in kept()[kind] if "placed" in x]
        assert len(placed) > 8 and any(p["problem"] == "" for p in placed), kind
