"""Lengths as typed: what is read, what is refused and how, what is shown."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import clip, read_length
from elbrix.quantities.lengths import (
    INCH,
    METRIC,
    Length,
    all_same,
    entry_text,
    round_down,
    round_to_step,
    round_up,
    rounding_mm,
    same_length,
    show,
)


@pytest.mark.parametrize(
    ("text", "unit", "exact_mm"),
    [
        pytest.param("12.05", "mm", Fraction(1205, 100), id="decimal"),
        pytest.param("12.", "mm", Fraction(12), id="trailing-point"),
        pytest.param(".6255", "in", Fraction(6255, 10000) * Fraction(254, 10), id="inch-decimal"),
        pytest.param('1 5/16"', "mm", Fraction(21, 16) * Fraction(254, 10), id="mixed-number-with-inch-mark"),
        pytest.param("5/16", "in", Fraction(5, 16) * Fraction(254, 10), id="fraction"),
        pytest.param("5/16 in", "mm", Fraction(5, 16) * Fraction(254, 10), id="unit-belongs-to-the-whole-fraction"),
        pytest.param("180 thou", "mm", Fraction(180 * 254, 10000), id="thou"),
        pytest.param("12.05 mm", "in", Fraction(1205, 100), id="suffix-overrides"),
        pytest.param("1/2 - 0.012", "in", Fraction(488, 1000) * Fraction(254, 10), id="arithmetic"),
        pytest.param('1/2 - 0.012"', "mm", Fraction(488, 1000) * Fraction(254, 10), id="bare-partner-takes-the-one-unit"),
        pytest.param("2*(3.5 + 1)", "mm", Fraction(9), id="brackets"),
        pytest.param("25.4/2", "mm", Fraction(127, 10), id="quotient"),
        pytest.param("3 in + 2 mm", "mm", Fraction(782, 10), id="both-units"),
        pytest.param('½"', "mm", Fraction(127, 10), id="one-sign-half"),
        pytest.param("12 − 0.3", "mm", Fraction(117, 10), id="typographic-minus"),
        pytest.param("50 µm", "mm", Fraction(5, 100), id="microns"),
        pytest.param("-2 + 14", "mm", Fraction(12), id="leading-sign"),
    ],
)
def test_reads(text: str, unit: str, exact_mm: Fraction) -> None:
    assert read_length(text, unit, "Size") == exact_mm


@pytest.mark.parametrize(
    ("text", "said"),
    [
        pytest.param("", "Nothing was entered", id="empty"),
        pytest.param("   ", "Nothing was entered", id="blanks"),
        pytest.param("12,05", "Write the decimal with a point", id="comma"),
        pytest.param("1-5/16", "can mean two sizes", id="dashed-mixed-number"),
        pytest.param("1/2 - 12 thou", "Write a unit on every number", id="bare-beside-thou"),
        pytest.param("2 mm * 3 mm", "unit", id="area"),
        pytest.param("3/0", "division by zero", id="division-by-zero"),
        pytest.param("1 1/0", "over zero", id="mixed-over-zero"),
        pytest.param("12 furlong", "Elbrix knows mm", id="unknown-unit"),
        pytest.param("(1+2", "bracket left open", id="open-bracket"),
        pytest.param("1e5", "Elbrix knows mm", id="exponent"),
        pytest.param("nan", "A number is missing", id="nan"),
        pytest.param("12 13", "", id="two-numbers"),
        pytest.param("__import__('os')", "", id="code"),
        pytest.param("9" * 40, "digits", id="forty-digits"),
        pytest.param("1" * 10_000, "10,000 characters", id="ten-thousand-characters"),
        pytest.param("(" * 30 + "1" + ")" * 29, "brackets", id="deep-brackets"),
        pytest.param("٣", "no number", id="other-digits"),
    ],
)
def test_refuses_with_reason(text: str, said: str) -> None:
    with pytest.raises(EntryError) as refused:
        read_length(text, "mm", "Size")
    assert said in str(refused.value)
    assert len(str(refused.value)) < 300


def _read_or_refused(text: str, unit: str) -> Fraction | EntryError:
    try:
        return read_length(text, unit, "Size")
    except EntryError as refused:
        return refused


@given(st.text(max_size=80))
def test_no_text_raises_anything_else(text: str) -> None:
    found = _read_or_refused(text, "mm")
    assert isinstance(found, Fraction) or (found.what and found.why and found.do)


@given(st.text(alphabet='0123456789 ./+-*()"inmthou,½', max_size=30))
def test_no_shop_text_raises_anything_else(text: str) -> None:
    found = _read_or_refused(text, "in")
    assert isinstance(found, Fraction) or (found.what and found.why and found.do)


@given(st.fractions(min_value=Fraction(1, 1000), max_value=5000, max_denominator=10_000), st.sampled_from(["mm", "in"]))
def test_what_is_shown_in_an_entry_reads_back(value: Fraction, unit: str) -> None:
    back = read_length(entry_text(float(value), unit), unit, "Size")
    assert float(back) == pytest.approx(float(value), abs=2e-6)


def test_a_dropped_unit_is_named() -> None:
    with pytest.raises(EntryError, match=r"write 3 in"):
        Length.parse("3", "mm", "Table height", 50, 500)
    with pytest.raises(EntryError, match=r"write 12\.05 mm"):
        Length.parse("12.05", "in", "Neck", 4, 60)


def test_a_negative_size_is_named() -> None:
    with pytest.raises(EntryError, match="without the minus"):
        Length.parse("-4", "mm", "Neck", 0, 60)


def test_entered_text_is_kept() -> None:
    length = Length.parse(' 1 5/16" ', "mm")
    assert (length.text, length.mm) == ('1 5/16"', 33.3375)


@pytest.mark.parametrize(
    ("value", "step", "rounded"),
    [
        (11.8749, 0.005, 11.875),
        (11.8725, 0.005, 11.875),
        (-11.8725, 0.005, -11.875),
        (0.3 / 0.1, 1, 3),
        (7.25, 0.1, 7.3),
        (5, 0, 5),
    ],
)
def test_rounding_to_a_dial(value: float, step: float, rounded: float) -> None:
    assert round_to_step(value, step) == pytest.approx(rounded, abs=1e-9)


@given(st.floats(0, 1000), st.sampled_from([0.005, 0.01, 0.1, 0.5, 1.0, 0.02]))
def test_rounding_is_never_further_than_half_a_step(value: float, step: float) -> None:
    assert abs(round_to_step(value, step) - value) <= step / 2 + 1e-6
    assert round_down(value, step) <= value + 1e-6 * max(1, step)
    assert round_up(value, step) >= value - 1e-6 * max(1, step)


def test_sizes_round_down_without_binary_dust() -> None:
    assert round_down(12.05 - 0.3, 0.1) == 11.7
    assert round_down(11.7, 0.1) == 11.7
    assert round_up(18.2, 1.0) == 19.0


@pytest.mark.parametrize(
    ("value", "unit", "step", "text"),
    [
        (11.7, "mm", None, "11.70"),
        (0.175, "mm", None, "0.175"),
        (25.4, "in", None, "1.0000"),
        (12.05, "mm", 0.005, "12.050"),
        (-0.0001, "mm", 0.01, "0.00"),
        (142.3, "mm", 0.5, "142.5"),
        (17.5133, "in", None, "0.6895"),
    ],
)
def test_shown(value: float, unit: str, step: float | None, text: str) -> None:
    assert show(value, unit, step) == text


def test_rounding_is_never_silent() -> None:
    assert rounding_mm(11.8721, "mm", 0.005) == pytest.approx(-0.0021)
    assert rounding_mm(25.4 * 0.50004, "in", 0.0001) == pytest.approx(-0.00004 * 25.4)


def test_only_lengths_follow_the_display_unit() -> None:
    assert METRIC.with_unit(11.7, "mm") == "11.70 mm"
    assert INCH.with_unit(11.7, "mm") == "0.4606 in"
    assert INCH.with_unit(25.0, "N·m") == METRIC.with_unit(25.0, "N·m") == "25.0 N·m" or INCH.with_unit(
        25.0, "N·m"
    ) == METRIC.with_unit(25.0, "N·m")


@given(st.integers(1, 40_000_000))
def test_a_tenth_of_a_micron_goes_through_an_inch_entry_and_comes_back(tenths: int) -> None:
    """130 mm, opened in inches and accepted, came back a nanometre under a limit of 130."""
    value = tenths / 10_000
    assert Length.parse(entry_text(value, "in"), "in").mm == value


@given(st.floats(0.001, 4000))
def test_any_other_size_comes_back_as_the_same_length(value: float) -> None:
    back = Length.parse(entry_text(value, "in"), "in").mm
    assert same_length(back, value)
    assert abs(back - value) <= 2.6e-6


@pytest.mark.parametrize(
    ("text", "mm"), [("0.5", 12.7), ("1/3", 25.4 / 3), ("0.33333", 0.33333 * 25.4), ("2 3/64", 2.046875 * 25.4)]
)
def test_what_is_typed_short_is_taken_as_typed(text: str, mm: float) -> None:
    assert Length.parse(text, "in").mm == pytest.approx(mm, abs=1e-12)


def test_sizes_are_the_same_in_their_order_only() -> None:
    assert all_same((1.0, 2.0), (1.0000004, 2.0))
    assert not all_same((1.0, 2.0), (2.0, 1.0))
    assert not all_same((1.0,), (1.0, 2.0))
    assert not all_same((1.0,), (1.00001,))


@given(st.integers(1, 10**6), st.integers(1, 5))
def test_a_decimal_inch_is_exactly_what_was_typed(digits: int, places: int) -> None:
    text = f"{digits / 10**places:.{places}f}"
    assert Length.parse(text, "in").exact_mm == Fraction(text) * Fraction(254, 10)


@given(st.integers(1, 4000), st.sampled_from([2, 4, 8, 16, 32, 64, 128]))
def test_a_fraction_of_an_inch_is_exactly_that(over: int, under: int) -> None:
    assert Length.parse(f"{over}/{under}", "in").exact_mm == Fraction(over, under) * Fraction(254, 10)


@given(st.integers(1, 10**9))
def test_millimetres_are_taken_to_the_last_digit(millionths: int) -> None:
    text = f"{millionths / 10**6:.6f}"
    assert Length.parse(text, "mm").exact_mm == Fraction(text) == Length.parse(f"{text} mm", "in").exact_mm


@pytest.mark.parametrize(
    ("step_mm", "text"),
    [
        pytest.param(0.001, "0.4724", id="finer than the finest inch step"),
        pytest.param(0.01, "0.4724", id="a hundredth: a tenth of a thou"),
        pytest.param(0.012, "0.4725", id="half a thou"),
        pytest.param(0.02, "0.4725", id="a fiftieth: half a thou"),
        pytest.param(0.0254, "0.472", id="a thou"),
        pytest.param(0.5, "0.472", id="half a millimetre: a thou, never coarser"),
    ],
)
def test_a_metric_step_is_shown_on_the_inch_step_below_it(step_mm: float, text: str) -> None:
    """12 mm are 0.472441 in; a step is never shown coarser than it is."""
    assert INCH.show(12.0, "mm", step_mm) == text


def test_the_limit_that_was_passed_is_named_in_the_unit_typed() -> None:
    for text, unit, low, high, said in (
        ("900", "mm", 4.0, 60.0, "It must be from 4.00 to 60.00 mm"),
        ("3", "mm", 4.0, None, "It must be at least 4.00 mm"),
        ("70", "mm", None, 60.0, "It must be at most 60.00 mm"),
        ("9", "in", 25.4, 50.8, "It must be from 1.0000 to 2.0000 in"),
    ):
        with pytest.raises(EntryError) as refused:
            Length.parse(text, unit, "Neck", low, high)
        assert refused.value.why == said


def test_the_other_unit_is_offered_only_where_it_fits() -> None:
    with pytest.raises(EntryError, match="write 2 in"):
        Length.parse("2", "mm", "Neck", 4.0, 60.0)
    for low, high in ((4.0, 20.0), (60.0, 200.0)):  # two inches are 50.8 mm
        with pytest.raises(EntryError, match="Measure again"):
            Length.parse("2", "mm", "Neck", low, high)
    assert Length.parse("2", "mm", "Neck", 2.0, 2.0).mm == 2.0  # the limits themselves are in


@given(st.integers(0, 10**7), st.sampled_from([1, 2, 5, 10, 25, 100, 1000]))
def test_whole_steps_are_left_alone_rounded_up_or_down(count: int, thousandths: int) -> None:
    value = count * thousandths / 1000
    step = thousandths / 1000
    assert round_down(value, step) == round_up(value, step) == round_to_step(value, step) == pytest.approx(value, abs=1e-9)


@given(st.integers(0, 10**6), st.sampled_from([1, 2, 5, 10, 25]), st.integers(1, 99))
def test_between_two_steps_down_is_the_one_below_and_up_the_one_above(count: int, hundredths: int, percent: int) -> None:
    step = hundredths / 100
    value = (count + percent / 100) * step
    assert round_down(value, step) == pytest.approx(count * step, abs=1e-9)
    assert round_up(value, step) == pytest.approx((count + 1) * step, abs=1e-9)


def test_feeds_in_both_units() -> None:
    assert METRIC.feed(127.0) == "127 mm/min"
    assert INCH.feed(127.0) == "5.0 in/min"


def test_a_long_text_is_clipped_and_a_short_one_is_not() -> None:
    assert clip("x" * 24) == f"“{'x' * 24}”"
    assert clip("x" * 25) == f"“{'x' * 24}…”"
    assert clip("a\tb\n", 24) == "“a·b·”"
    assert clip("abcd", 3) == "“abc…”"


@pytest.mark.parametrize(
    ("value", "unit", "text"),
    [
        (0.12, "", "0.12"),  # a friction is no nothing
        (0.00075, "", "0.00075"),
        (3.0, "", "3"),
        (250.4, "", "250"),
        (0.003, "kg", "0.003"),  # a pin of three grams
        (0.04, "N·m", "0.04"),
        (0.4, "N", "0.4"),
        (-0.04, "″", "-0.04"),
        (1e-9, "N", "0"),  # noise of the reckoning
        (0.0, "kg", "0.00"),
        (12.34, "kg", "12.34"),
    ],
)
def test_a_little_is_not_shown_as_nothing(value: float, unit: str, text: str) -> None:
    assert METRIC.show(value, unit) == INCH.show(value, unit) == text
