"""Sentences with lengths in them: the same in mm as they were written, and every length turned in inches, nothing else."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH
from elbrix.results.figures import format_number
from elbrix.results.length_text import LENGTH_UNIT, length, plain, rough_length, said_in, torque_text

WORDS = st.text(st.characters(whitelist_categories=("Lu", "Ll", "Zs"), whitelist_characters="×Ø,;:±−"), max_size=20)
SIZE = st.floats(-2000, 2000)


@given(st.lists(st.tuples(WORDS, SIZE, st.integers(0, 4)), min_size=1, max_size=5))
def test_only_what_is_marked_is_turned(parts: list[tuple[str, float, int]]) -> None:
    text = "".join(f"{words}{length(v, places)}" for words, v, places in parts)
    assert said_in(text, METRIC) == plain(text) == "".join(f"{w}{format_number(v, n)}" for w, v, n in parts)
    expected = "".join(f"{w}{INCH.show(float(format_number(v, n)), 'mm')}" for w, v, n in parts)
    assert said_in(text, INCH) == expected


@given(SIZE)
def test_what_is_said_is_the_length_to_half_a_tenth_of_a_thou(value: float) -> None:
    shown = float(said_in(length(value, 4), INCH))
    assert shown * MM_PER_INCH == pytest.approx(value, abs=0.00005 * MM_PER_INCH + 0.00006)


@given(WORDS)
def test_words_without_lengths_stay(words: str) -> None:
    assert said_in(words, METRIC) == said_in(words, INCH) == words


def test_said_twice_is_said_once() -> None:
    text = f"clear by {length(12.7)} {LENGTH_UNIT}, M8 × 1.25, 30°"
    once = said_in(text, INCH)
    assert once == "clear by 0.5000 inches, M8 × 1.25, 30°"
    assert said_in(once, INCH) == once
    assert said_in(text, METRIC) == "clear by 12.7 mm, M8 × 1.25, 30°"
    assert "\u2063" not in once


@given(SIZE, st.integers(0, 6))
def test_a_number_in_a_working_is_short_and_loses_nothing_that_matters(value: float, places: int) -> None:
    text = format_number(value, places)
    assert float(text) == pytest.approx(value, abs=0.5 * 10.0**-places + 1e-9)
    assert not re.search(r"\.\d*0$", text)
    assert not text.endswith(".")
    assert text != "-0"


@given(st.text(alphabet="\u20631.-mn ", max_size=30))
def test_marks_round_what_is_no_number_are_no_lengths(words: str) -> None:
    assert isinstance(said_in(words, INCH), str)  # "1.2.3" was taken for one, and ended the painting of its line


@given(st.floats(0.2, 300))
def test_a_torque_is_said_for_a_wrench_that_reads_pounds_as_well(value: float) -> None:
    """Worked by the definitions: a foot of 304.8 mm, a pound of 0.45359237 kg, 9.80665 m/s²."""
    text = f"Strap 1: M10, {torque_text(value, 1)}, then the next"
    assert said_in(text, METRIC) == f"Strap 1: M10, {format_number(value, 1)} N·m, then the next"
    found = re.search(r"([\d.]+) N·m \(([\d.]+) (ft|in)·lb\)", said_in(text, INCH))
    assert found
    metres = {"ft": 0.3048, "in": 0.0254}[found[3]]
    back = float(found[2]) * metres * 0.45359237 * 9.80665
    assert back == pytest.approx(float(found[1]), rel=0.05, abs=0.006)
    assert said_in(said_in(text, INCH), INCH) == said_in(text, INCH)


def test_torques_at_the_wrench() -> None:
    assert said_in(torque_text(20), INCH) == "20 N·m (15 ft·lb)"  # 20/1.3558 = 14.75
    assert said_in(torque_text(2.5, 1), INCH) == "2.5 N·m (22 in·lb)"  # 2.5/0.11298 = 22.1
    assert said_in(torque_text(40.67, 2), INCH) == "40.67 N·m (30 ft·lb)"


@pytest.mark.parametrize(
    ("text", "inches"),
    [
        ("end mill Ø1", "end mill Ø1 mm"),
        ("with the end mill Ø10 R1 and the drill Ø6.8.", "with the end mill Ø10 R1 mm and the drill Ø6.8 mm."),
        ("slitting saw Ø80 × 2", "slitting saw Ø80 × 2 mm"),
        ("Drill Ø25.1, then ream", "Drill Ø25.1 mm, then ream"),
        ("edge finder Ø10 mm", "edge finder Ø10 mm"),
        ("drill 1/4, drill #7, M10 tap", "drill 1/4, drill #7, M10 tap"),
        (f"drill Ø{length(6.35)}", "drill Ø0.2500"),
        ("a bore Ø12", "a bore Ø12"),
    ],
)
def test_a_cutter_called_by_its_size_in_mm_says_so_in_an_inch_shop(text: str, inches: str) -> None:
    assert said_in(text, METRIC) == plain(text)
    assert said_in(text, INCH) == inches == said_in(inches, INCH)


def test_a_rough_length_is_what_a_tape_says() -> None:
    """A bar of 610.44 is 610.4 long, or 24.03 inches, and nobody saws by the tenth of a thou."""
    text = f"{rough_length(610.44)} {LENGTH_UNIT} left of {length(12.7)}"
    assert said_in(text, METRIC) == "610.4 mm left of 12.7" == plain(text)
    assert said_in(text, INCH) == "24.03 inches left of 0.5000"
