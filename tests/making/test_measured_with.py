"""What a size is measured with: named at its move, on the kit list, and long enough for it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache

import pytest
from msgspec.structs import replace

import making_record
from elbrix.making.context import in_bore
from elbrix.making.plan import AskedSize, Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import MeasuringTool

MM_PER_INCH = 25.4
#: Whatever a hand can measure a size with.
INSTRUMENT = re.compile(r"\b(micrometer|caliper|gauge|pin|indicator|protractor|swings)\b")


@cache
def plans() -> tuple[tuple[str, Plan, Shop], ...]:
    found = []
    for name, work, shop, how, measured, unit in making_record.works():
        try:
            found.append((f"{name} {unit}", plan_work("P", work, shop, how, measured, unit=unit), shop))
        except ShopError:
            continue
    return tuple(found)


def asked() -> Iterator[tuple[str, Plan, Shop, AskedSize]]:
    for name, plan, shop in plans():
        yield from ((name, plan, shop, m.asked) for _, _, m in plan.moves if m.asked is not None)


def test_every_size_says_what_it_is_measured_with() -> None:
    every = list(asked())
    assert len(every) > 800
    assert [(name, a.words) for name, _, _, a in every if not INSTRUMENT.search(a.words)] == []


def test_a_caliper_on_the_list_reaches_everything_it_is_asked_for() -> None:
    long = set()
    for name, plan, shop, size in asked():
        if "caliper" not in size.words:
            continue
        item = next(k for k in plan.kit if k.words.startswith("caliper"))
        named = re.fullmatch(r"caliper(?: to (\d+) (mm|in))?", item.words)
        assert named, (name, item)
        reach = float(named[1]) * (MM_PER_INCH if named[2] == "in" else 1.0) if named[1] else 152.4
        assert reach >= size.expected_mm - 1e-9, (name, size.words, size.expected_mm, item)
        own = next((t for t in shop.measuring if t.name == item.note), None)
        if own is not None:
            assert own.reach_mm >= size.expected_mm, (name, size.expected_mm, own)
        elif shop.measuring:
            assert not item.owned and "none in Shop that measures" in item.note, (name, item)
        long |= {item.words} if named[1] else set()
    assert len(long) >= 3  # the rule was put to work


def test_a_bore_is_measured_by_what_fits_in_it() -> None:
    assert in_bore(6.0).startswith("small-hole gauge and micrometer")
    assert in_bore(25.0).startswith("telescoping gauge and micrometer")
    assert in_bore(200.0).startswith("inside gauge in")
    for name, plan, _, size in asked():
        if "in the bore" in size.words:
            kit = " | ".join(k.words for k in plan.kit)
            assert ("small-hole gauges" if size.expected_mm < 10 else "telescoping gauges") in kit, (name, kit)


@pytest.mark.parametrize(
    ("words", "place"),
    [
        ("caliper over the ends", "over the ends"),
        ("micrometer over B and D, at both ends", "over B and D"),
        ("telescoping gauge and micrometer in the bore, crosswise at both ends", "in the bore"),
        ("width, with a pin or gauge blocks", "width"),
    ],
)
def test_the_place_is_said_without_what_it_is_measured_with(words: str, place: str) -> None:
    assert AskedSize(key="k", words=words, expected_mm=1.0).place == place


def test_of_two_calipers_that_are_as_sure_the_one_in_the_unit_of_the_plan_is_taken_whatever_their_order() -> None:
    metric = MeasuringTool(id="a", name="metric caliper", resolution_mm=0.01, uncertainty_mm=0.03)
    inch = MeasuringTool(id="b", name="inch caliper", resolution_mm=0.0127, uncertainty_mm=0.03)
    assert (metric.unit, inch.unit) == ("mm", "in")
    name, work, shop, how, measured, _ = next(w for w in making_record.works() if w[0] == "t-nut-hazel")
    for tools in ((metric, inch), (inch, metric)):
        for unit, want in (("mm", "metric caliper"), ("in", "inch caliper")):
            plan = plan_work(name, work, replace(shop, measuring=tools), how, measured, unit=unit)
            assert next(k.note for k in plan.kit if k.words == "caliper") == want


@pytest.mark.parametrize(
    ("division_mm", "unit"),
    [(0.01, "mm"), (0.02, "mm"), (0.05, "mm"), (0.001, "mm"), (0.0127, "in"), (0.0254, "in"), (0.00254, "in")],
)
def test_the_unit_a_tool_reads_in_is_that_of_its_division(division_mm: float, unit: str) -> None:
    assert MeasuringTool(id="t", name="t", resolution_mm=division_mm, uncertainty_mm=0.01).unit == unit
