"""Wear: the line through readings against another least squares, the day of the limit by walking there, what Shop says."""

from __future__ import annotations

import random
from datetime import date, timedelta

import numpy as np
import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.items.kind import item_kinds
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Verdict
from elbrix.shop.wear import After, WearReading, wear_checks, wear_of

TODAY = date(2026, 11, 29)
KIND = item_kinds()["wear reading"]


def reading(n: int, value: float, on: str, **more: object) -> WearReading:
    return WearReading(id=f"r{n}", thing="Roll", size="Diameter", value_mm=value, on=on, **more)  # type: ignore[arg-type]


def check(checks: list[Check], key: str) -> Check:
    return next(c for c in checks if c.key == key)


@pytest.mark.parametrize("seed", range(6))
def test_the_rate_is_that_of_another_least_squares_and_the_limit_is_reached_on_that_day(seed: int) -> None:
    rng = random.Random(seed)
    begin = date(2024, 1, 10)
    days = sorted(rng.sample(range(800), 6))
    found = [
        reading(i, 20 - 0.00003 * d + rng.uniform(-0.0005, 0.0005), (begin + timedelta(days=d)).isoformat())
        for i, d in enumerate(days)
    ]
    found[0] = replace(found[0], wanted_mm=20.0, limit_mm=0.05)
    wear = wear_of(found[-1], found)
    rate, _ = np.polyfit(days, [r.value_mm for r in found], 1)
    assert wear.per_day_mm == pytest.approx(rate, rel=1e-9)
    # Walk there a day at a time from the last reading.
    off, day = found[-1].value_mm - 20.0, begin + timedelta(days=days[-1])
    while abs(off + rate) < 0.05:
        off, day = off + rate, day + timedelta(days=1)
    on = wear.limit_on()
    assert on is not None and abs((on - day).days) <= 1


def test_a_series_begins_anew_when_it_is_reground_and_does_not_look_into_its_future() -> None:
    every = [
        reading(0, 20.0, "2025-01-01", after=After.NEW, wanted_mm=20.0, limit_mm=0.04),
        reading(1, 19.97, "2025-07-01"),
        reading(2, 19.90, "2025-08-01", after=After.GROUND, wanted_mm=19.90),
        reading(3, 19.89, "2026-02-01"),
        WearReading(id="x", thing="Other", size="Diameter", value_mm=5.0, on="2025-09-01"),
        WearReading(id="y", thing="roll ", size="diameter", value_mm=19.88, on="2026-08-01"),  # the same, otherwise spelled
    ]
    last = wear_of(every[5], every)
    assert [r.id for r in last.readings] == ["r2", "r3", "y"] and (last.wanted_mm, last.limit_mm) == (19.90, 0.04)
    before = wear_of(every[1], every)
    assert [r.id for r in before.readings] == ["r0", "r1"] and before.off_mm == pytest.approx(-0.03)
    worn = check(wear_checks(every[1], every, today=date(2025, 7, 2)), "worn")
    assert worn.value == pytest.approx(75) and worn.verdict is Verdict.MARGINAL


@pytest.mark.parametrize(
    ("values", "worn", "lasts"),
    [
        ([20.0, 19.995], Verdict.GO, Verdict.GO),
        ([20.0, 19.96], Verdict.MARGINAL, Verdict.MARGINAL),
        ([20.0, 19.95], Verdict.MARGINAL, Verdict.NO_GO),
        ([20.0, 19.94], Verdict.NO_GO, Verdict.NO_GO),
        ([20.0, 20.06], Verdict.NO_GO, Verdict.NO_GO),
        ([20.0], Verdict.GO, Verdict.GO),
    ],
)
def test_verdicts(values: list[float], worn: Verdict, lasts: Verdict) -> None:
    found = [reading(i, v, ("2026-04-20", "2026-11-20")[i]) for i, v in enumerate(values)]
    found[0] = replace(found[0], wanted_mm=20.0, limit_mm=0.05)
    checks = wear_checks(found[-1], found, today=TODAY)
    assert check(checks, "worn").verdict is worn
    assert check(checks, "lasts").verdict is lasts
    if len(values) == 1:
        assert check(checks, "lasts").text == "not known"
    if abs(values[-1] - 20.0) >= 0.05:
        assert check(checks, "lasts").text == "past it"


def test_what_shop_says_is_compared_with_the_newest_reading() -> None:
    shop = shop_of(documents())
    assert KIND.checks is not None
    newest = KIND.in_order(KIND.of(shop))[0]
    assert newest.value_mm == 19.946  # Shop has 19.95 since it was reground
    assert check(KIND.checks(shop, newest), "said").verdict is Verdict.MARGINAL
    right = replace(newest, value_mm=19.9505)
    assert check(KIND.checks(shop, right), "said").verdict is Verdict.GO
    older = next(r for r in KIND.of(shop) if r.value_mm == 20.0)
    assert all(c.key != "said" for c in KIND.checks(shop, older))
    unknown = replace(KIND.of(shop)[0], thing="a thing nobody entered")
    assert all(c.key != "said" for c in KIND.checks(shop, unknown))


@pytest.mark.parametrize(("field", "value"), [("thing", " "), ("size", "")])
def test_a_reading_of_nothing_is_refused_at_its_entry(field: str, value: str) -> None:
    with pytest.raises(ShopError) as refused:
        replace(reading(0, 1.0, "2026-01-01"), **{field: value}).__post_init__()
    assert refused.value.entry == field


def test_readings_of_one_day_or_of_no_day_give_no_rate_and_no_fault() -> None:
    same = [reading(0, 20.0, "2026-01-01", wanted_mm=20.0, limit_mm=0.01), reading(1, 19.999, "2026-01-01")]
    assert wear_of(same[1], same).per_day_mm == 0
    undated = [reading(0, 20.0, "", wanted_mm=20.0, limit_mm=0.01), reading(1, 19.999, "")]
    checks = wear_checks(undated[0], undated)
    assert check(checks, "lasts").text == "not known"
