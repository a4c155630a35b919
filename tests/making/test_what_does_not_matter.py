"""What must not matter to a plan: the order in which the shop lists its things, and things it does not use."""

from __future__ import annotations

import json
import random
from typing import Any, Final

import pytest
from msgspec.structs import replace

import making_record
from elbrix.shop.shop import Shop
from records import differences

#: Of all plans of the record, every so many.
_EVERY: Final = 6
_LISTS: Final = tuple(f for f in Shop.__struct_fields__ if f not in ("machines", "others"))
WORKS: Final = list(making_record.works())[::_EVERY]


def _said(work: Any, shop: Shop, how: Any, measured: dict[str, float], unit: str) -> dict[str, Any]:
    """All a plan says but the list of bars that were looked at, which names them all, and its count."""
    found = dict(making_record.said(work, shop, how, measured, unit))
    found.pop("bars", None)
    found["checks"] = [c for c in found.get("checks", []) if c["key"] != "bar"]
    return found


@pytest.mark.parametrize("case", WORKS, ids=[w[0] for w in WORKS])
def test_the_order_of_a_list(case: tuple[Any, ...]) -> None:
    name, work, shop, how, measured, unit = case
    chance = random.Random(name)
    mixed = replace(shop, **{f: tuple(chance.sample(getattr(shop, f), len(getattr(shop, f)))) for f in _LISTS})
    assert differences(_said(work, shop, how, measured, unit), _said(work, mixed, how, measured, unit)) == []


@pytest.mark.parametrize("case", WORKS, ids=[w[0] for w in WORKS])
def test_a_bar_a_cutter_a_tool_or_a_block_it_does_not_name(case: tuple[Any, ...]) -> None:
    name, work, shop, how, measured, unit = case
    whole = _said(work, shop, how, measured, unit)
    text = json.dumps(whole, ensure_ascii=False)
    chance, lists = random.Random(name), ("bars", "cutters", "collets", "measuring", "parallels", "clamps", "gauge_sets")
    unused = [
        (f, item)
        for f in lists
        for item in getattr(shop, f)
        if not any(str(word) in text for a in ("title", "name", "id") if len(str(word := getattr(item, a, ""))) > 2)
    ]
    for field, item in chance.sample(unused, min(3, len(unused))):
        without = replace(shop, **{field: tuple(i for i in getattr(shop, field) if i is not item)})
        assert differences(whole, _said(work, without, how, measured, unit)) == [], (name, field, item)
