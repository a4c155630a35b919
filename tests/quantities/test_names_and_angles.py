"""Angles, thread names, drill names, readings and checks."""

from __future__ import annotations

import math
import pickle

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.angles import angle_text, parse_angle, show_angle
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.names import parse_drill, parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits, Verdict, worst


@pytest.mark.parametrize(
    ("text", "degrees"),
    [
        ("32.5", 32.5),
        ("32d30m", 32.5),
        ("53°14'20\"", 53 + 14 / 60 + 20 / 3600),
        ("53-14-20", 53 + 14 / 60 + 20 / 3600),
        ("-3 15", -3.25),
        ("0d30m", 0.5),
        ("53d14", 53 + 14 / 60),
        ("90°", 90),
    ],
)
def test_angle(text: str, degrees: float) -> None:
    assert math.degrees(parse_angle(text)) == pytest.approx(degrees, abs=1e-12)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("12d60m", "60 or more"),
        ("12.5d30m", "two ways"),
        ("12d30.5m10s", "two ways"),
        ("400", "out of range"),
        ("north", "no angle"),
        ("", "no angle"),
        ("1" * 500, "characters"),
    ],
)
def test_angle_refused(text: str, said: str) -> None:
    with pytest.raises(EntryError, match=said):
        parse_angle(text)


@given(st.integers(-89 * 3600, 89 * 3600))
def test_angle_shown_in_seconds_reads_back(seconds: int) -> None:
    shown = show_angle(math.radians(seconds / 3600), "dms")
    assert math.degrees(parse_angle(shown)) * 3600 == pytest.approx(seconds, abs=1e-6)


@given(st.text(max_size=70))
def test_no_text_breaks_the_name_readers(text: str) -> None:
    for reader in (parse_angle, parse_thread, parse_drill):
        try:
            reader(text)
        except EntryError:
            continue


@pytest.mark.parametrize(
    ("text", "name", "pitch", "tpi"),
    [
        ("M8", "M8", None, None),
        ("m8 x 1.25", "M8", 1.25, None),
        ("M10×1", "M10", 1.0, None),
        ("1/2-13", "1/2", None, 13),
        ("1/4-20 UNC", "1/4", None, 20),
        ("#10-32", "#10", None, 32),
        ("no 10 - 24", "#10", None, 24),
    ],
)
def test_thread_name(text: str, name: str, pitch: float | None, tpi: float | None) -> None:
    found = parse_thread(text)
    assert (found.size, found.pitch_mm, found.tpi) == (name, pitch, tpi)
    assert parse_thread(str(found)) == found  # shown, then read


@pytest.mark.parametrize("text", ["M", "M0", "8", "1/2", "M8x0", "half inch", "", "1/2-0"])
def test_thread_name_refused(text: str) -> None:
    with pytest.raises(EntryError):
        parse_thread(text)


@pytest.mark.parametrize(
    ("text", "name", "mm"),
    [
        ("#7", "#7", None),
        ("f", "F", None),
        ("1/4", "1/4", 6.35),
        ('1 1/16"', "1 1/16", 26.9875),
        ("6.8", "6.8", 6.8),
        ("0.25 in", "0.25", 6.35),
    ],
)
def test_drill_name(text: str, name: str, mm: float | None) -> None:
    found = parse_drill(text)
    assert found.name == name
    assert (None if found.size_mm is None else float(found.size_mm)) == (None if mm is None else pytest.approx(mm))


@pytest.mark.parametrize("text", ["", "0", "1/0", "big one", "."])
def test_drill_name_refused(text: str) -> None:
    with pytest.raises(EntryError):
        parse_drill(text)


def test_readings_keep_their_extremes() -> None:
    r = Readings(values_mm=(12.05, 12.11, 12.08))
    assert (r.min, r.max, r.count) == (12.05, 12.11, 3)
    assert r.mean == pytest.approx(12.08)
    assert r.spread == pytest.approx(0.06)
    assert r.shifted(-0.35).min == pytest.approx(11.70)


@pytest.mark.parametrize("values", [(), (math.nan,), (12.0, math.inf)])
def test_readings_refuse_what_is_none(values: tuple[float, ...]) -> None:
    with pytest.raises(ShopError):
        Readings(values_mm=values)


@pytest.mark.parametrize(
    ("value", "verdict"),
    [
        (0.04, Verdict.NO_GO),
        (0.05, Verdict.MARGINAL),
        (0.19, Verdict.MARGINAL),
        (0.2, Verdict.GO),
        (0.5, Verdict.GO),
        (0.51, Verdict.MARGINAL),
        (1.01, Verdict.NO_GO),
        (math.nan, Verdict.NO_GO),
        (0.1 + 0.1, Verdict.GO),
    ],
)
def test_limits_belong_to_the_better_side(value: float, verdict: Verdict) -> None:
    assert Limits(0.05, 0.2, 0.5, 1.0).judge(value) is verdict


def test_worst_of_verdicts() -> None:
    assert worst([]) is Verdict.GO
    assert worst([Verdict.GO, Verdict.NO_GO, Verdict.MARGINAL]) is Verdict.NO_GO
    assert len({v.sign for v in Verdict}) == 3  # told apart without colour


def test_error_says_all_four_and_survives_a_pipe() -> None:
    error = ShopError("Hazel, lip depth", "16.1 mm cannot be", "It ends above the floor", "Measure again", "lip")
    assert str(error) == "Hazel, lip depth: 16.1 mm cannot be. It ends above the floor. Measure again."
    back = pickle.loads(pickle.dumps(error))
    assert (str(back), back.entry) == (str(error), "lip")


@given(st.integers(-359 * 3600, 359 * 3600))
def test_an_angle_of_whole_seconds_opens_as_them(seconds: int) -> None:
    text = angle_text(math.radians(seconds / 3600))
    assert math.degrees(parse_angle(text)) * 3600 == pytest.approx(seconds, abs=1e-5)
    assert ("'" in text) == (seconds % 3600 != 0)
    assert "." not in text


@given(st.floats(-359, 359))
def test_any_other_angle_opens_as_decimal_degrees(degrees: float) -> None:
    text = angle_text(math.radians(degrees))
    assert math.degrees(parse_angle(text)) == pytest.approx(degrees, abs=1e-9)


def test_an_angle_between_two_seconds_is_not_rounded_to_one() -> None:
    assert angle_text(math.radians(10.0001)) == "10.0001"  # 0.36″
    assert angle_text(math.radians(10.5)) == "10°30'00\""
    assert angle_text(math.radians(10.0)) == "10"
    assert angle_text(math.radians(-0.5)) == "-0°30'00\""
