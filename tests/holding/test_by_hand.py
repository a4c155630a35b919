"""Small rules of Hold, each against a figure worked by hand on both sides of its limit."""

from __future__ import annotations

import math

import pytest

from elbrix.book.layouts import solve_doc, typed_in
from elbrix.geometry.shapes import bounds, rectangle
from elbrix.holding.contacts import ClampForce, Contact
from elbrix.holding.cut import cutting_of, propose
from elbrix.holding.layout import PlacedElement, Solid, Squeeze
from elbrix.holding.margin import _grips
from elbrix.holding.reclamping import Reclamping
from elbrix.holding.report import _same_room, reclamping_check
from elbrix.holding.suggest import _plain
from elbrix.holding.thin import sag_check, squeeze_checks
from elbrix.mechanics.cutting import milling_force
from elbrix.parameters.parameter import ParameterValue
from elbrix.results.checks import Verdict
from elbrix.results.figures import Origin
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind
from elbrix.standards.materials import material
from layouts_tools import doc, thing
from work_pieces import block


def test_stops_side_by_side_share_what_presses_them_and_one_behind_has_none() -> None:
    """1000 N at 30° to the stops' way: 866.03 N on two of them, 433.01 each; a weak one gives no more than it bears."""
    push = ClampForce((50.0, 0.0, 10.0), (-math.cos(math.radians(30)), 0.5, 0.0), 1000.0, 0.0, "toe")
    first = Contact((-50.0, 20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 1", passive=True)
    second = Contact((-50.0, -20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 2", passive=True)
    behind = Contact((60.0, 0.0, 10.0), (-1.0, 0.0, 0.0), 0.15, "stop 3", passive=True)
    smooth = Contact((-50.0, 0.0, 10.0), (1.0, 0.0, 0.0), 0.0, "stop 4", passive=True)
    pressing = Contact((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), 0.15, "seat")
    grips = _grips((first, second, behind, smooth, pressing), (push,))
    assert [g.name for g in grips] == ["stop 1", "stop 2"]
    assert [g.pressed_n for g in grips] == pytest.approx([433.0127, 433.0127])
    assert [g.grip_n for g in grips] == pytest.approx([64.9519, 64.9519]) and all(g.force_n == 0 for g in grips)
    weak = Contact((-50.0, 20.0, 10.0), (1.0, 0.0, 0.0), 0.15, "stop 1", passive=True, most_n=100.0)
    assert _grips((weak,), (push,))[0].pressed_n == 100.0
    assert not _grips((first,), (ClampForce((0, 0, 0), (1.0, 0.0, 0.0), 500.0),))  # pulled away from it


@pytest.mark.parametrize(
    ("factor", "verdict", "word"),
    [(0.9, Verdict.NO_GO, "too little"), (1.9, Verdict.MARGINAL, "too little"), (2.1, Verdict.GO, "every state holds")],
)
def test_a_state_of_reclamping_is_judged_as_a_cut_is(factor: float, verdict: Verdict, word: str) -> None:
    swaps = [Reclamping("first", 3.0), Reclamping("second", factor, off="strap 1")]
    check = reclamping_check(swaps)
    assert check.verdict is verdict and word in check.reason and "with strap 1 off" in check.reason
    assert check.value == factor and check.features == ("strap 1",)


@pytest.mark.parametrize(
    ("clearance", "error", "accepted", "word"),
    [("0.02", "0.01", 0.01, "goes on"), ("0.02", "0.03", -0.01, "will not"), ("0.02", "0.02", 0.0, "goes on")],
)
def test_two_full_pins_accept_their_mean_clearance(
    demo_shop: Shop, clearance: str, error: str, accepted: float, word: str
) -> None:
    """(0.02 + 0.02)/2 less the error of their spacing."""
    layout = doc(thing("plate", pins="two full", pin_clearance=clearance, spacing_error=error), length="100", width="60")
    hold = solve_doc(typed_in(layout, demo_shop), demo_shop, quick=True)
    check = next(c for c in hold.checks if c.label.startswith("Spacing the two pins"))
    assert check.value == pytest.approx(accepted) and word in check.reason
    assert (check.verdict is Verdict.NO_GO) == (accepted < 0)


@pytest.mark.parametrize("backed", [0.0, 30.0, 70.0, 88.0, 95.0])
def test_a_sheet_standing_in_the_jaws_is_a_cantilever_from_what_holds_it_highest(demo_shop: Shop, backed: float) -> None:
    """2 mm of steel, 60 long, to 90 above the table in jaws to 40: F·a³/(3·E·b·t³/12), b no more than the arm."""
    piece = block(60.0, 2.0, high=90.0)
    light = {"cut": ParameterValue("light", Origin.CHOSEN)}
    cutting = cutting_of(propose(demo_shop, demo_shop.machine("hazel"), light), demo_shop, piece)
    high = cutting.loads[0].at[2]
    assert 85.0 < high < 90.0
    held = Squeeze(gap_mm=2.0, along_mm=60.0, force_n=3000.0, jaw_top_mm=40.0, backed_to_mm=backed, name="vise")
    check = next(c for c in squeeze_checks(held, piece, cutting) if c.key.startswith("rings"))
    arm = max(0.0, high - (max(40.0, backed)))
    shift = cutting.force.sideways_n * arm**3 / (3 * 205_000 * min(60.0, max(arm, 2.0)) * 2.0**3 / 12)
    assert check.value == pytest.approx(shift, rel=0.03)  # Young's modulus of steels, 200 to 210 GPa
    assert ("climb" in check.reason) == (backed > 40.0)
    assert (check.verdict is Verdict.NO_GO) == (shift > 0.1)


def test_plain_places_by_hand(demo_shop: Shop) -> None:
    """Beside work from −50 to 50 by −18 to 18, between slots at −50, 0 and 50."""
    slots = [s for s in demo_shop.machine("hazel").slots if s.straight]
    for count in (1, 2, 3, 4):
        arrangements = _plain(slots, (-50.0, -18.0, 50.0, 18.0), count, ("a", "b"))
        assert len(arrangements) == 2 * 4 and all(len(a) == count for a in arrangements)
        for clamp, group in (("a", arrangements[:4]), ("b", arrangements[4:])):
            assert {spot[3] for a in group for spot in a} == {clamp}
            for off, ends in zip((18.0, 24.0, 32.0), group[:3], strict=True):
                assert [s[1] for s in ends][:2] == [50.0 + off, -50.0 - off][:count]
                assert [s[1] for s in ends][2:] == [80.0, -80.0][: max(0, count - 2)]
                assert all(s[0] == "middle slot" and math.cos(s[2]) * s[1] < 0 for s in ends)  # each points in
            xs = {1: [0.0], 2: [0.0, 0.0], 3: [-25.0, -25.0, 25.0], 4: [-25.0, -25.0, 25.0, 25.0]}[count]
            assert [s[1] for s in group[3]] == xs
            assert [s[0] for s in group[3]] == ["front slot", "rear slot"] * (count // 2) + ["front slot"] * (count % 2)
            assert all(math.sin(s[2]) == (1.0 if s[0] == "front slot" else -1.0) for s in group[3])


@pytest.mark.parametrize(("width", "outside"), [(1.0, 5.0), (3.0, 3.0), (6.0, 0.0), (9.0, -3.0), (12.0, -6.0)])
def test_round_the_edge_the_axis_stands_off_by_what_the_cutter_does_not_take(
    demo_shop: Shop, width: float, outside: float
) -> None:
    """Ø12: r − a_e from the edge, inside it when more than half the cutter is in the work."""
    mill = next(c for c in demo_shop.cutters if c.kind is CutterKind.END_MILL and c.diameter_mm == 12)
    chosen = {"cutter": mill.id, "cutter_path": "around", "width_of_cut": width, "cut": "milling"}
    given = {name: ParameterValue(value, Origin.CHOSEN) for name, value in chosen.items()}
    cutting = cutting_of(propose(demo_shop, demo_shop.machine("hazel"), given), demo_shop, block(100.0, 60.0))
    assert bounds(cutting.path) == pytest.approx((-50 - outside, -30 - outside, 50 + outside, 30 + outside), abs=0.02)


@pytest.mark.parametrize(
    ("width", "chip", "arc"), [(1.5, "0.0331", "41"), (3.0, "0.0433", "60"), (6.0, "0.05", "90"), (9.0, "0.05", "120")]
)
def test_the_thickest_chip_is_that_where_the_tooth_leaves_or_at_a_quarter_turn(width: float, chip: str, arc: str) -> None:
    """Ø12 at 0.05 a tooth: 1 − 2·3/12 = cos 60°, sin 60° · 0.05 = 0.0433; past a quarter turn the whole feed."""
    force = milling_force(material("mild steel"), 12.0, 4, 2.0, width, 0.05)
    assert f"chip to {chip}," in force.derivation.source and f", {arc}° in the cut" in force.derivation.source


def test_thin_work_says_it_bends_exactly_when_it_does(demo_shop: Shop) -> None:
    """On two strips 80 apart, pressed in its middle: F·a²·b²/(3·E·I·(a + b)) with a = b = 40."""
    strips = tuple(tuple((x + side * 45.0, y) for x, y in rectangle(10.0, 60.0)) for side in (-1, 1))
    chosen = {"cut": "drilling", "cutter_path": "points", "places": "0,0"}
    given = {name: ParameterValue(value, Origin.CHOSEN) for name, value in chosen.items()}
    seen = set()
    for high in (0.8, 1.2, 1.6, 2.0, 2.5, 3.0, 4.0, 6.0, 8.0):
        piece = block(100.0, 60.0, high=high)
        cutting = cutting_of(propose(demo_shop, demo_shop.machine("hazel"), given), demo_shop, piece)
        thrust = max(-load.force_n[2] for load in cutting.loads)
        check = sag_check(strips, piece, cutting)
        wide = min(100.0, 60.0, max(80.0, high))
        bent = thrust * 40.0**4 / (3 * 205_000 * wide * high**3 / 12 * 80.0)
        if check is None:
            assert bent < 0.0011 or 6 * high >= 80.0
            continue
        assert check.value == pytest.approx(bent, rel=0.03)
        assert (check.verdict is Verdict.GO) == ("stiff enough" in check.reason) == (check.value <= 0.02)
        assert "X 0, Y 0" in plain(check.reason) or check.verdict is Verdict.GO
        seen.add(check.verdict)
    assert len(seen) > 1


@pytest.mark.parametrize(("low", "beside", "same"), [(9.0, 0.0, True), (9.6, 0.0, False), (10.0, 0.0, False), (0.0, 25.0, False)])
def test_two_things_are_in_one_room_when_they_meet_in_plan_and_in_height(low: float, beside: float, same: bool) -> None:
    """One 20 × 20 from 0 to 10; the other from so high to 30: what stands on it by half a millimetre or less is not in it."""
    under = PlacedElement(name="a", solids=(Solid(ring=rectangle(20.0, 20.0), bottom_mm=0.0, top_mm=10.0, name="a"),))
    ring = tuple((x + beside, y) for x, y in rectangle(20.0, 20.0))
    over = PlacedElement(name="b", solids=(Solid(ring=ring, bottom_mm=low, top_mm=30.0, name="b"),))
    assert _same_room(under, over) is same and _same_room(over, under) is same
