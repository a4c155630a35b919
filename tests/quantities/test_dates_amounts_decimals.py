"""Dates, amounts of money and the lengths stamped on gauge blocks, as they are typed; what is refused says what to write."""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.counts import parse_amount
from elbrix.quantities.dates import read_date
from elbrix.quantities.decimals import MM_PER, parse_decimal, parse_height
from elbrix.quantities.errors import EntryError, ShopError

_NOW = date(2026, 11, 30)


@pytest.mark.parametrize(
    ("text", "iso"),
    [
        ("", ""),
        ("  ", ""),
        ("today", "2026-11-30"),
        (" Today ", "2026-11-30"),
        ("2026-11-30", "2026-11-30"),
        ("2024-02-29", "2024-02-29"),
        ("1900-01-01", "1900-01-01"),
    ],
)
def test_a_date_is_read(text: str, iso: str) -> None:
    assert read_date(text, "Calibrated on", _NOW) == iso


@pytest.mark.parametrize("text", ["30.11.2026", "11/30/2026", "20261130", "2026-11-3", "2025-02-29", "2026-13-01", "soon", "²"])
def test_what_is_no_date_is_told_how_dates_are_written(text: str) -> None:
    with pytest.raises(EntryError) as refused:
        read_date(text, "Calibrated on", _NOW)
    assert (refused.value.why, refused.value.do) == ("Dates are written year-month-day", "Write 2026-11-30, or today")
    assert text in refused.value.what


@pytest.mark.parametrize("text", ["2026-12-01", "1899-12-31", "9999-12-31"])
def test_a_day_to_come_or_long_gone_is_told_so(text: str) -> None:
    with pytest.raises(EntryError, match="is not between 1900 and today"):
        read_date(text, "Calibrated on", _NOW)


@given(st.dates(date(1900, 1, 1), _NOW))
def test_every_day_since_1900_is_read_as_itself(day: date) -> None:
    assert read_date(day.isoformat(), "On", _NOW) == day.isoformat()
    assert date.fromisoformat(read_date(day.isoformat(), "On", day)) + timedelta(1) > day


@pytest.mark.parametrize(
    ("text", "amount"), [("12.50", 12.5), ("12,50", 12.5), ("0", 0.0), (" 3 ", 3.0), ("0.0125", 0.0125), ("1200", 1200.0)]
)
def test_an_amount_is_read(text: str, amount: float) -> None:
    assert parse_amount(text, "Price") == amount


@pytest.mark.parametrize("text", ["", "-1", "1.2.3", "12.50 a piece", "1e3", "12345678", "٣", ".", "0.00001"])
def test_what_is_no_amount(text: str) -> None:
    with pytest.raises(EntryError, match="is no amount"):
        parse_amount(text, "Price")


@pytest.mark.parametrize("text", ["1,200", "12,000", "0,125"])
def test_a_comma_before_three_digits_may_mean_thousands(text: str) -> None:
    with pytest.raises(EntryError, match="can mean two amounts") as refused:
        parse_amount(text, "Price")
    assert text.replace(",", "") in refused.value.do
    assert text.replace(",", ".") in refused.value.do


@pytest.mark.parametrize("read", [parse_decimal, parse_height])
@pytest.mark.parametrize(
    ("text", "exact"),
    [
        ("1.0005", Fraction(10005, 10000)),
        (".1001", Fraction(1001, 10000)),
        ("100", Fraction(100)),
        ("4.", Fraction(4)),
        (" 41.7265 ", Fraction(417265, 10000)),
        ("0", Fraction(0)),
    ],
)
def test_a_block_or_a_height_is_exact(read, text: str, exact: Fraction) -> None:
    assert read(text, "Set") == exact


@pytest.mark.parametrize("read", [parse_decimal, parse_height])
@pytest.mark.parametrize("text", ["", ".", "-1", "1.0005 mm", "1/2", "1e1", "12345.1", "٣", "1.2.3"])
def test_neither_is_anything_but_a_plain_decimal(read, text: str) -> None:
    with pytest.raises(ShopError, match="Write it as a plain decimal"):
        read(text, "Set")


@pytest.mark.parametrize(("read", "said"), [(parse_decimal, "is no block length"), (parse_height, "is no height")])
def test_a_comma_is_named(read, said: str) -> None:
    with pytest.raises(ShopError, match="Write the decimal with a point") as refused:
        read("41,7265", "Set")
    assert said in str(refused.value)


def test_a_block_has_six_places_and_a_height_forty() -> None:
    assert parse_decimal("1.000001", "Set") == Fraction(1000001, 1000000)
    with pytest.raises(ShopError, match="is no block length"):
        parse_decimal("1.0000001", "Set")
    long = "1." + "3" * 40
    assert parse_height(long, "Set") == Fraction(int("1" + "3" * 40), 10**40)
    with pytest.raises(ShopError, match="is no height"):
        parse_height(long + "3", "Set")


def test_an_inch_is_exactly_25_4() -> None:
    assert MM_PER["in"] / MM_PER["mm"] * 10 == 254
