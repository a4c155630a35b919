"""What the drawing limits is measured before the piece is used: at a cut, when it is set, or last of all."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.tolerances import drawn_sizes, size_limits
from elbrix.design.work import HandOperation
from elbrix.making.drawn_limits import with_limits
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from kinds_of_family import KINDS, kind_id, solved

SHOP = shop_of(documents())


def planned(key: str, name: str = "", value: str = "") -> Plan:
    family, design = solved(key, name, value)
    return with_limits(plan_work(key, family.work(design, SHOP), SHOP, Options()), family, design, SHOP)


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_every_limited_size_of_the_piece_is_measured_somewhere(kind: tuple[str, str, str]) -> None:
    """The end float of a pivot and the head of a T-nut had limits on the drawing, and nobody was told to measure them."""
    family, design = solved(*kind)
    try:
        plan = planned(*kind)
    except ShopError:
        return
    asked = [m.asked for _, _, m in plan.moves if m.asked is not None]
    by_hand = [s for s in family.work(design, SHOP).steps if isinstance(s, HandOperation)]
    set_by_hand = {name for step in by_hand for name in step.proves}
    for name, limits in size_limits(family, design, SHOP).items():
        if limits.general or name not in drawn_sizes(family, design) or name in set_by_hand:
            continue
        size = design.values.number(name)
        own = [a for a in asked if abs(a.expected_mm - size) < 1e-6]
        assert own, name
        assert any(a.limits is not None and a.limits.under <= limits.under and a.limits.over <= limits.over for a in own), name
    for hole in design.holes:
        if hole.sizes is not None and hole.sizes.limits is not None:
            assert any(abs(a.expected_mm - hole.sizes.diameter_mm) < 1e-6 for a in asked), hole.what


def test_the_end_float_of_a_pivot_is_faced_to_its_length_and_judged() -> None:
    """12 of body and 0.08 of float, −0.05 +0.1: at 12.20 it is marginal or worse, at 12.10 right."""
    plan = planned("locator", "kind", "pivot")
    n = next(i for i, (_, _, m) in enumerate(plan.moves) if m.id == "thread.shoulder")
    before, move = plan.moves[n - 1][2], plan.moves[n][2]
    assert move.asked is not None and move.asked.asking == "Measure with the caliper between the shoulder and the head"
    assert move.asked.tool == "150 mm caliper"
    assert move.asked.judged.judge(0.02) is Verdict.GO
    assert move.asked.judged.judge(0.12) is not Verdict.GO
    left, at = (next(p.value_mm for p in m.positions if p.axis == "Z") for m in (before, move))
    assert abs(left - at - 0.2) < 1e-9  # the Ø is turned short of its shoulder, which is faced then
    assert not [m for _, _, m in plan.moves if m.id.startswith("measured.")]


def test_a_nut_is_measured_over_its_head_when_it_is_parted_off() -> None:
    plan = planned("t_nut")
    setup, operation, move = plan.moves[-1]
    assert (setup.id, move.id) == ("measure", "measured.head_height") and setup.operations == (operation,)
    assert move.asked is not None and move.asked.asking == "Measure with the caliper, nut head height"
    assert any("caliper" in item.words for item in plan.kit)


def test_what_is_set_by_gauge_blocks_is_not_asked_of_a_caliper() -> None:
    assert not [m for _, _, m in planned("sine_plate").moves if m.id == "measured.roll_centres"]


def test_a_drill_does_not_go_deeper_than_the_drawing_allows() -> None:
    """16.63 +0.01 deep by a carriage of 0.1 a division: the nearest number was 0.03 too deep, and a spring set too loosely."""
    plan = planned("detent", "kind", "stepped")
    n = next(i for i, (_, _, m) in enumerate(plan.moves) if m.id == "ball_bore.drill")
    drill, to_size = plan.moves[n][2], plan.moves[n + 1][2]
    z = next(p for p in drill.positions if p.axis == "Z")
    assert to_size.asked is not None and to_size.asked.asking.startswith("Measure with the depth gauge, how deep the bore is")
    assert z.dial.set_mm > z.value_mm + 0.02 and f"{z.dial.set_mm - z.value_mm:.3f}" in to_size.words
    assert [item.words for item in plan.kit if "depth gauge" in item.words]
    assert not [m for _, _, m in plan.moves if m.id == "measured.bore_depth"]


def test_alike_holes_are_gauged_in_one_step() -> None:
    plan = planned("fixture_plate", "kind", "work")
    gauged = [m.asked for _, _, m in plan.moves if m.id.startswith("measured.hole")]
    assert [a.asking for a in gauged if a is not None] == ["Measure with the gauge pins, holes P1, P2"]
    assert gauged[0] is not None and gauged[0].judged.judge(0.004) is not Verdict.GO
    assert [item.owned for item in plan.kit if item.words == "gauge pins"] == [False]  # its pin of 6.002 goes into no good one


@pytest.mark.parametrize("kind", KINDS, ids=kind_id)
def test_a_size_on_the_way_has_no_limits_of_the_drawing(kind: tuple[str, str, str]) -> None:
    try:
        plan = planned(*kind)
    except ShopError:
        return
    assert not [m.id for _, _, m in plan.moves if m.asked is not None and not m.asked.drawn and m.asked.limits is not None]


def test_a_depth_so_far_that_happens_to_be_as_large_as_a_limited_size_is_none() -> None:
    """A nut's head is 7.2 −0.1 +0.05: a depth on the way of 7.2 was judged by that, and no head was measured."""
    family, design = solved("t_nut", "", "")
    plan = plan_work("t_nut", family.work(design, SHOP), SHOP, Options())

    def as_large(move: Move) -> Move:
        if move.asked is None or move.asked.key != "depth_so_far":
            return move
        return replace(move, asked=replace(move.asked, expected_mm=design.values.number("head_height")))

    alike = replace(
        plan,
        setups=tuple(
            replace(s, operations=tuple(replace(o, moves=tuple(map(as_large, o.moves))) for o in s.operations))
            for s in plan.setups
        ),
    )
    limited = with_limits(alike, family, design, SHOP)
    so_far = next(m.asked for _, _, m in limited.moves if m.asked is not None and m.asked.key == "depth_so_far")
    assert so_far.expected_mm == design.values.number("head_height") and so_far.limits is None
    assert [m.id for _, _, m in limited.moves if m.id.startswith("measured.")] == ["measured.head_height"]
