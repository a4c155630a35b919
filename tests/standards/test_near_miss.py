"""Sizes that almost fit the wrong partner."""

from __future__ import annotations

import pytest

from elbrix.quantities.names import parse_thread
from elbrix.standards.near_miss import size_near_misses, thread_near_misses
from elbrix.standards.threads import find_thread


def test_the_ten_millimetre_thread_and_its_inch_neighbour() -> None:
    found = thread_near_misses(find_thread(parse_thread("M10")))
    miss = next(m for m in found if m.partner == "3/8-16 UNC")
    assert miss.off_diameter == pytest.approx(0.0475, abs=1e-4)  # 0.475 of 10
    assert miss.off_pitch == pytest.approx(0.0583, abs=1e-4)  # 0.0875 of 1.5
    assert "jams or strips" in miss.sentence


def test_a_thread_is_no_near_miss_of_itself_or_of_a_far_one() -> None:
    partners = [m.partner for m in thread_near_misses(find_thread(parse_thread("M10")))]
    assert "M10 × 1.5" not in partners and "M12 × 1.75" not in partners and "1/2-13 UNC" not in partners


def test_a_metric_shank_in_an_inch_collet() -> None:
    found = size_near_misses("20 mm shank", 20.0, [("3/4 collet", 19.05), ("16 collet", 16.0), ("20 collet", 20.0)])
    assert [m.partner for m in found] == ["3/4 collet"]
    assert found[0].off_diameter == pytest.approx(0.0475) and "never goes in" in found[0].sentence
    assert "not held" in size_near_misses("12 mm shank", 12.0, [("1/2 collet", 12.7)])[0].sentence
