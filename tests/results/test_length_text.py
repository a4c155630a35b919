"""Sentences with lengths in them: the same in mm as they were written, and every length turned in inches, nothing else."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH
from elbrix.results.figures import format_number
from elbrix.results.length_text import LENGTH_UNIT, length, plain, said_in

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
