"""Clamps and supports: sizes by hand, weighed by the kernel, every check seen to refuse, rehearsed, and laid into a layout."""

from __future__ import annotations

import math

import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.families.clamp.sizes import ClampSizes
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import BlockKind, Clamp, ClampKind, SupportBlock
from elbrix.solids.client import Kernel

FAMILY = find_family("clamp")
SHOP = shop_of(documents())
STRAP = {
    "kind": "strap",
    "stud": "M10",
    "torque": "20",
    "slot_width": "11",
    "slot_start": "20",
    "slot_end": "50",
    "length": "110",
    "width": "30",
    "height": "18",
    "relief": "0",
    "stud_to_tip": "40",
    "material": "mild steel",
}
TOE = {
    "kind": "toe",
    "stud": "M10",
    "torque": "25",
    "slot_width": "11",
    "slot_start": "22",
    "slot_end": "30",
    "length": "60",
    "width": "30",
    "height": "30",
    "push_screw": "M8",
    "push_torque": "1",
    "push_height": "16",
    "contact_height": "10",
    "toe_length": "50",
    "material": "mild steel",
}
STEP = {
    "kind": "step",
    "steps": "5",
    "rise": "3",
    "tread": "7",
    "height": "24",
    "length": "30",
    "load": "5000",
    "material": "mild steel",
}
HEEL = {"kind": "heel", "length": "50", "width": "38", "height": "25", "load": "5000", "material": "mild steel"}
JACK = {
    "kind": "jack",
    "push_screw": "M12",
    "width": "30",
    "height": "30",
    "screw_length": "28",
    "load": "5000",
    "material": "mild steel",
}
ALL = [STRAP, {**STRAP, "relief": "1"}, TOE, {**TOE, "part": "toe"}, STEP, HEEL, JACK, {"kind": "step", "steps": "2"}]


def solved(typed: dict[str, str], shop: Shop = SHOP) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def check(typed: dict[str, str], key: str) -> tuple[float, Verdict]:
    found = next(c for c in solved(typed).checks if c.key == key)
    return found.value, found.verdict


def test_a_strap_by_hand() -> None:
    d = solved(STRAP)
    # 110 − 4 − 6 − 40 = 60 behind the stud; 20 N·m on M10 dry are 10 kN, of which 60/100 are on the work.
    assert d.figure("heel_arm").value == 60
    assert d.figure("pull").value == pytest.approx(10.0) and d.figure("tip_force").value == pytest.approx(6.0)
    # 6·6000·40/((30 − 11)·18²) = 233.9 MPa; the yield of the table is 235.
    assert d.figure("bending").value == pytest.approx(233.9, abs=0.05)
    assert check(STRAP, "bends") == (pytest.approx(233.9 / 235, abs=1e-3), Verdict.NO_GO)
    assert (
        check({**STRAP, "height": "25"}, "bends")[1] is Verdict.MARGINAL
        or check({**STRAP, "height": "26"}, "bends")[1] is Verdict.GO
    )
    # A relief leaves less to bend.
    assert solved({**STRAP, "relief": "2"}).figure("bending").value == pytest.approx(6 * 6000 * 40 / (19 * 16**2), rel=1e-6)


def test_a_proposed_strap_is_bent_to_less_than_half_its_yield() -> None:
    for torque in ("5", "12", "40", "90"):
        for stuff in ("mild steel", "medium carbon steel", "aluminium alloy"):
            d = solved({"kind": "strap", "torque": torque, "material": stuff})
            value = next(c.value for c in d.checks if c.key == "bends")
            assert 0.3 < value <= 0.4501, (torque, stuff)


def test_a_toe_clamp_by_hand() -> None:
    d = solved(TOE)
    # 1 N·m on M8 dry: 625 N; asin(6/50) = 6.89°; 625·tan 6.89° = 75.5 N down; 60 − 22 + 50 = 88 from the bolt.
    assert d.figure("push").value == pytest.approx(0.625)
    assert d.figure("down_angle").value == pytest.approx(6.892, abs=1e-3)
    assert d.figure("down_force").value == pytest.approx(0.07554, abs=2e-5)
    assert d.figure("reach").value == 88
    # 60 − 30 − 5.5 − 2 is 22.5 of hole: less three turns of 1.25 and the point of a 6.8 drill, 2.04.
    assert d.figure("thread_deep").value == pytest.approx(22.5 - 3.75 - 0.3004 * 6.8, abs=1e-3)
    # 12.5 kN, seven tenths of it, at 0.12: 1050 N against 625; over its back edge 22/16 of 8750 N.
    assert check(TOE, "stays")[0] == pytest.approx(1050 / 625)
    assert check(TOE, "tips")[0] == pytest.approx(8750 * 22 / 16 / 625)


@pytest.mark.parametrize(
    ("base", "typed", "key", "verdict"),
    [
        (STRAP, {"slot_width": "9.9"}, "stud_passes", Verdict.NO_GO),
        (STRAP, {"slot_width": "10.3"}, "stud_passes", Verdict.MARGINAL),
        (STRAP, {"slot_width": "14"}, "stud_passes", Verdict.MARGINAL),
        (STRAP, {"width": "20"}, "sides", Verdict.MARGINAL),
        (STRAP, {"width": "16"}, "sides", Verdict.NO_GO),
        (STRAP, {"stud_to_tip": "47"}, "stud_there", Verdict.NO_GO),  # the slot ends 46 from where the tip presses
        (STRAP, {"stud_to_tip": "15"}, "stud_there", Verdict.NO_GO),
        (STRAP, {"stud_to_tip": "53"}, "lever", Verdict.MARGINAL),
        (STRAP, {"stud_to_tip": "80"}, "lever", Verdict.NO_GO),
        (STRAP, {"pad": "3"}, "bruises", Verdict.MARGINAL),  # 6000/(3·30)
        (TOE, {"push_torque": "1.5"}, "stays", Verdict.MARGINAL),  # 1050/937
        (TOE, {"push_torque": "1.8"}, "stays", Verdict.NO_GO),
        (TOE, {"contact_height": "17"}, "points_down", Verdict.NO_GO),
        (TOE, {"contact_height": "15"}, "points_down", Verdict.MARGINAL),
        (TOE, {"contact_height": "4"}, "points_down", Verdict.MARGINAL),
        (TOE, {"length": "46"}, "thread_holds", Verdict.NO_GO),
        (TOE, {"length": "50"}, "thread_holds", Verdict.MARGINAL),
        (STEP, {"tread": "5"}, "treads", Verdict.MARGINAL),
        (STEP, {"rise": "4"}, "fine", Verdict.MARGINAL),
        (STEP, {"rise": "5", "height": "60", "tread": "7"}, "stands", Verdict.MARGINAL),
        (STEP, {"height": "15"}, "low", Verdict.MARGINAL),
        (STEP, {"load": "60000"}, "bears", Verdict.NO_GO),  # 60 kN on 210 mm² of mild steel: 286 MPa
        (HEEL, {"width": "26"}, "differ", Verdict.MARGINAL),
        (HEEL, {"height": "90"}, "stands", Verdict.GO),
        (HEEL, {"height": "15", "width": "16"}, "stands", Verdict.MARGINAL),
        (JACK, {"screw_length": "31"}, "goes_in", Verdict.NO_GO),
        (JACK, {"screw_length": "14"}, "reaches", Verdict.MARGINAL),
        (JACK, {"width": "19"}, "wall", Verdict.MARGINAL),
        (JACK, {"load": "25000"}, "bears", Verdict.NO_GO),  # 84.3 mm²: 297 MPa
    ],
)
def test_every_check_is_seen_to_refuse(base: dict[str, str], typed: dict[str, str], key: str, verdict: Verdict) -> None:
    assert check({**base, **typed}, key)[1] is verdict


@pytest.mark.parametrize(
    ("base", "typed", "entry"),
    [
        (STRAP, {"width": "14"}, "width"),
        (STRAP, {"slot_end": "10"}, "slot_end"),
        (STRAP, {"slot_start": "6"}, "slot_start"),
        (STRAP, {"length": "56"}, "slot_end"),
        (STRAP, {"relief": "9.5"}, "relief"),
        (STRAP, {"relief": "1", "pad": "60"}, "pad"),
        (TOE, {"length": "44"}, "length"),
        (TOE, {"push_height": "28"}, "push_height"),
        (TOE, {"push_height": "4"}, "push_height"),
        (TOE, {"toe_length": "10", "contact_height": "2"}, "toe_length"),
        (STEP, {"steps": "9"}, "steps"),
        (JACK, {"width": "17"}, "push_screw"),
    ],
)
def test_what_is_no_such_part_is_refused_beside_its_entry(base: dict[str, str], typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved({**base, **typed})
    assert refused.value.entry == entry and refused.value.why and refused.value.do


@pytest.mark.parametrize("typed", ALL, ids=lambda t: f"{t['kind']}-{t.get('part', '')}{t.get('relief', '')}")
def test_the_solid_weighs_what_is_worked_out(typed: dict[str, str], kernel: Kernel) -> None:
    d = solved(typed)
    s = ClampSizes(d.values)
    weighed = kernel.ask("mass", FAMILY.solid(d))["volume_mm3"]
    less = 0.0
    if s.kind == "toe" and not s.toe:
        r = s.screw.tap_drill[1] / 2
        deep = s.thread_deep + 3 * s.screw.pitch_mm
        less = math.pi * r * r * (deep + r / math.tan(math.radians(59)) / 3)
    if s.toe:
        r = s.screw.major_mm / 2 if s.screw.major_mm < 6 else 3.0
        less = math.pi * r * r * (1 + r / math.tan(math.radians(59)) / 3)
    if s.kind == "jack":
        less = 2 * (math.pi * 15**2 - math.pi * (15**2 + 15 * 14 + 14**2) / 3)
    assert weighed == pytest.approx(s.volume - less, rel=1e-5)


@pytest.mark.parametrize("typed", ALL, ids=lambda t: f"{t['kind']}-{t.get('part', '')}{t.get('relief', '')}")
def test_rehearsed_clean_and_a_slip_is_found(typed: dict[str, str]) -> None:
    plan = plan_work("T", FAMILY.work(solved(typed), SHOP), SHOP)
    assert rehearse(plan).clean
    last = [m for _, o, m in plan.moves if m.strokes and not m.zeroes and o.cutter is not None and m.positions][-1]
    at = last.positions[-1]
    assert rehearse(plan, Slips(keyed={(last.id, at.axis): at.dial.set_mm - 2.0})).wrong_at == last.id


def test_a_step_is_cut_from_the_tread_before_it_downward() -> None:
    plan = plan_work("T", FAMILY.work(solved(STEP), SHOP), SHOP)
    for n in (4, 3, 2, 1):
        depths = [
            -p.value_mm
            for _, _, m in plan.moves
            if m.id.startswith(f"step{n}.") and m.strokes
            for p in m.positions
            if p.axis == "Z"
        ]
        assert max(depths) == pytest.approx(3 * (5 - n)) and min(depths) > 3 * (4 - n)


def test_made_ones_are_owned_by_what_they_bear_and_reach() -> None:
    strap = FAMILY.as_thing(solved({**STRAP, "relief": "1"}), "own", 2)  # type: ignore[attr-defined]
    assert isinstance(strap, Clamp) and strap.thickness_mm == 17 and strap.yield_mpa == 235
    toe = FAMILY.as_thing(solved(TOE), "own", 2)  # type: ignore[attr-defined]
    assert isinstance(toe, Clamp) and toe.kind is ClampKind.TOE and toe.length_mm == 88 and toe.down_deg == pytest.approx(6.892)
    assert FAMILY.as_thing(solved({**TOE, "part": "toe"}), "own", 2) is None  # type: ignore[attr-defined]
    step = FAMILY.as_thing(solved(STEP), "own", 2)  # type: ignore[attr-defined]
    assert isinstance(step, SupportBlock) and step.kind is BlockKind.STEP
    assert [step.height_for(h) for h in (5, 12, 13, 16, 24, 24.5)] == [12, 12, 15, 18, 24, None]
    jack = FAMILY.as_thing(solved(JACK), "own", 1)  # type: ignore[attr-defined]
    # Right down 30 + 7.8; out as far as 12 of thread stay in the body: 28 − 12 more.
    assert isinstance(jack, SupportBlock) and (jack.min_height_mm, jack.max_height_mm) == (37.8, pytest.approx(53.8))
