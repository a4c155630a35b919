"""What the cut log tells, worked by hand; screws and their error; places and what lies in them; slots and their spread."""

from __future__ import annotations

import statistics
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.quantities.errors import ShopError
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.shop.audit import box_checks, slot_checks
from elbrix.shop.cut_log import LoggedCut, cut_checks, experience
from elbrix.shop.machines import Axis
from elbrix.shop.places import StoragePlace

SHOP = shop_of(documents())


def _cut(number: int, set_mm: float, off_mm: float, tool: str = "end mill Ø6", on: str = "2026-11-01") -> LoggedCut:
    return LoggedCut(id=f"c{number}", machine="hazel", tool=tool, material="brass", set_mm=set_mm, off_mm=off_mm, on=on)


CUTS = (_cut(1, 0.20, 0.010), _cut(2, 0.10, 0.020), _cut(3, 0.05, 0.012), _cut(4, 0.02, 0.015), _cut(5, 0.01, 0.002))


def test_mean_and_spread_are_those_of_the_sample() -> None:
    known = experience(CUTS, "hazel", "end mill Ø6", "brass")
    offs = [c.off_mm for c in CUTS]
    assert known.mean_mm == pytest.approx(statistics.mean(offs)) == pytest.approx(0.0118)
    assert known.spread_mm == pytest.approx(statistics.stdev(offs))
    assert experience(CUTS[:1], "hazel", "end mill Ø6", "brass").spread_mm == 0.0


def test_the_smallest_dependable_cut_is_above_the_first_that_only_rubbed() -> None:
    """0.02 came out 0.015 over: three quarters of it did not come off. That 0.01 did once is luck."""
    assert experience(CUTS, "hazel", "end mill Ø6", "brass").least_mm == 0.05
    assert experience((*CUTS[:3], CUTS[4]), "hazel", "end mill Ø6", "brass").least_mm == 0.01
    half = (*CUTS[:3], _cut(6, 0.03, 0.015))  # just half of it came off
    assert experience(half, "hazel", "end mill Ø6", "brass").least_mm == 0.03
    assert experience(CUTS[:2], "hazel", "end mill Ø6", "brass").least_mm is None  # two tell nothing
    assert experience([_cut(n, 0.1, 0.09) for n in range(3)], "hazel", "end mill Ø6", "brass").least_mm is None


def test_only_cuts_alike_tell_of_one_another_in_their_order() -> None:
    other = _cut(9, 0.1, 0.5, tool="face mill Ø63")
    late = _cut(0, 0.1, 0.0, on="2026-11-30")
    known = experience((late, other, *CUTS), "hazel", "end mill Ø6", "brass")
    assert [c.id for c in known.cuts] == ["c1", "c2", "c3", "c4", "c5", "c0"]


@pytest.mark.parametrize(("spread", "verdict"), [(0.0499, Verdict.GO), (0.0501, Verdict.MARGINAL), (0.1001, Verdict.NO_GO)])
def test_scatter_is_judged_against_the_largest_cut(spread: float, verdict: Verdict) -> None:
    """Two cuts off by ± s/√2 scatter by s; a quarter of the largest is good, a half is the end."""
    pair = (_cut(1, 0.2, spread / 2**0.5), _cut(2, 0.1, -spread / 2**0.5))
    check = next(c for c in cut_checks(pair[1], pair) if c.key == "spread")
    assert check.value == pytest.approx(100 * spread / 0.2)
    assert check.verdict is verdict


def test_a_cut_takes_something_off() -> None:
    for wrong in (0.0, -0.1, float("nan")):
        with pytest.raises(ShopError, match="A cut takes something off"):
            _cut(1, wrong, 0.0)
    assert _cut(1, 0.1, -0.02).share == pytest.approx(0.2)


@given(st.floats(0.5, 10), st.integers(10, 500), st.floats(-2, 2))
def test_a_screw_that_is_out_moves_the_slide_by_its_error(per_turn: float, divisions: int, error: float) -> None:
    """Over a metre it is off by so many millimetres: 1000/p turns."""
    axis = Axis(mm_per_turn=per_turn, divisions=divisions, error_mm_m=error)
    assert 1000 / per_turn * axis.turn_mm == pytest.approx(1000 + error)
    assert axis.division_mm * divisions == pytest.approx(axis.turn_mm)


@pytest.mark.parametrize(
    ("place", "written", "there"),
    [
        ("Drawer 3", "Drawer 3, left", True),
        ("Drawer 3", "drawer 3 ", True),
        ("Drawer 3", "Drawer 30", False),
        ("Drawer 3", "Drawer 3b", False),
        ("Drawer 3", "Drawer", False),
        ("Drawer 3", "", False),
    ],
)
def test_what_lies_in_a_place(place: str, written: str, there: bool) -> None:
    assert StoragePlace(id="p", name=place).holds(written) is there


@pytest.mark.parametrize(("spread", "verdict"), [(0.09, Verdict.GO), (0.2, Verdict.MARGINAL), (1.0, Verdict.NO_GO)])
def test_a_slot_whose_places_differ_is_told(spread: float, verdict: Verdict) -> None:
    machine = SHOP.machines[0]
    slot = replace(machine.slots[0], neck=Readings(values_mm=(12.0, 12.0 + spread)))
    found = next(c for c in slot_checks(slot) if c.key == "spread_neck")
    assert found.value == pytest.approx(spread) and found.verdict is verdict
    assert ("measure that place again" in found.reason) is (verdict is Verdict.NO_GO)


def test_how_long_ago_blocks_were_calibrated() -> None:
    box = replace(SHOP.gauge_sets[0], calibrated_on="2024-11-30")
    found = next(c for c in box_checks(box, date(2026, 11, 30)) if c.key == "age")
    assert found.value == pytest.approx(730 / 365.25)
