"""When a check is due: by counting months on the calendar, told beside the tool and beside the number it is trusted for."""

from __future__ import annotations

import random
from datetime import date, timedelta

import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.inspecting.inspection import all_kinds
from elbrix.items.kind import item_kinds
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.dates import read_date
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.lengths import METRIC
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from elbrix.shop.tooling import MeasuringTool
from elbrix.shop.upkeep import due_on, overdue, upkeep_checks


def by_counting(on: date, months: int) -> date:
    """Day by day: the same day of the month, or the last there is, in the month that is so many further."""
    left, day = months, on
    while left:
        day += timedelta(days=1)
        left -= day.day == 1
    while day.day != on.day:
        if (day + timedelta(days=1)).day == 1:
            return day
        day += timedelta(days=1)
    return day


@pytest.mark.parametrize(
    ("on", "months", "due"),
    [
        ("2026-06-15", 12, "2027-06-15"),
        ("2024-01-31", 1, "2024-02-29"),
        ("2025-12-31", 2, "2026-02-28"),
        ("2026-11-30", 3, "2027-02-28"),
    ],
)
def test_by_hand(on: str, months: int, due: str) -> None:
    assert due_on(on, months) == date.fromisoformat(due)


def test_by_counting_days() -> None:
    rng = random.Random(4)
    for _ in range(200):
        on = date(2020, 1, 1) + timedelta(days=rng.randrange(3000))
        months = rng.randint(1, 30)
        assert due_on(on.isoformat(), months) == by_counting(on, months), (on, months)


@pytest.mark.parametrize(
    ("today", "verdict", "late"),
    [
        ("2027-05-01", Verdict.GO, False),
        ("2027-06-01", Verdict.MARGINAL, False),
        ("2027-06-15", Verdict.MARGINAL, False),
        ("2027-06-16", Verdict.NO_GO, True),
    ],
)
def test_told_beforehand_and_late_only_after_the_day(today: str, verdict: Verdict, late: bool) -> None:
    now = date.fromisoformat(today)
    (check,) = upkeep_checks("2026-06-15", 12, "against gauge blocks", now)
    assert check.verdict is verdict and overdue("2026-06-15", 12, now) is late
    assert check.value == (date(2027, 6, 15) - now).days or late


def test_never_checked_is_late_and_without_a_period_nothing_is_said() -> None:
    assert overdue("", 12) and not overdue("", 0) and upkeep_checks("", 0, "") == []
    (check,) = upkeep_checks("", 6, "against gauge blocks")
    assert check.verdict is Verdict.NO_GO and "no check" in check.reason


@pytest.mark.parametrize(
    "text", ["banana", "2026-13-01", "2025-02-29", "20260601", "1.6.2026", "2126-01-01", "1625-01-01", "2026-W10-1"]
)
def test_what_is_no_date_is_refused(text: str) -> None:
    with pytest.raises(EntryError, match=r"2026|between|no date"):
        read_date(text, "Last checked on", date(2026, 11, 29))
    kind = item_kinds()["measuring"]
    with pytest.raises(ShopError):
        kind.refuse_outside(MeasuringTool(id="a", name="b", resolution_mm=0.01, uncertainty_mm=0.01, checked_on=text))


def test_dates_that_are_taken() -> None:
    now = date(2026, 11, 29)
    assert [read_date(t, "", now) for t in ("", " today ", "2026-11-29", "1999-12-31")] == [
        "",
        "2026-11-29",
        "2026-11-29",
        "1999-12-31",
    ]


def test_it_is_said_at_the_tool_and_where_its_uncertainty_is_taken() -> None:
    shop = shop_of(documents())
    tool = replace(shop.measuring[0], checked_on="2001-01-01", check_months=1)
    shop = replace(shop, measuring=(tool, *shop.measuring[1:]))
    kind = item_kinds()["measuring"]
    assert kind.count is not None and "check it" in kind.count(tool, METRIC)
    assert kind.checks is not None and kind.checks(shop, tool)[0].verdict is Verdict.NO_GO
    for inspection in all_kinds().values():
        values = inspection.propose(shop, {"tool": ParameterValue(tool.id, Origin.CHOSEN)})
        if "reading_u" in values:
            assert "overdue" in values["reading_u"].note
            break
    else:
        pytest.fail("no inspection takes a tool's uncertainty")
