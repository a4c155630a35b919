"""Clamp hardware: sizes by hand, weighed by the kernel, cut again from the strokes alone, refused where there is no such part."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.families.hardware.sizes import HardwareSizes
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.making.stock_choice import choose_stock
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar, Form
from elbrix.shop.tooling import Stud
from elbrix.solids.client import Kernel

FAMILY = find_family("hardware")
SHOP = shop_of(documents())
KINDS = [
    {"kind": "stud"},
    {"kind": "stud", "section": "hexagon", "clamp_high": "90"},
    {"kind": "stud", "engaged": "40", "upper_thread": "60"},
    {"kind": "tall_nut"},
    {"kind": "shoulder_screw"},
    {"kind": "shoulder_screw", "undercut": "0", "thread": "1/4-20", "hole": "10.01"},
    {"kind": "t_bolt"},
]


def solved(typed: dict[str, str], shop: Shop = SHOP) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def planned(design: Design, shop: Shop = SHOP) -> Plan:
    return plan_work("T", FAMILY.work(design, shop), shop)


def check(design: Design, key: str) -> tuple[float, Verdict]:
    found = next(c for c in design.checks if c.key == key)
    return found.value, found.verdict


#: A slot 12.2 wide, lips 9 deep, head 19, 21 deep: its nut has a neck 8 high and a head 11.5 high (21 − 9 − 0.5), takes M10.
SLOT = {"neck": "12.2", "lip": "9", "head": "19", "depth": "21"}


def test_a_stud_by_hand() -> None:
    d = solved({"kind": "stud", **SLOT, "clamp_low": "15", "clamp_high": "45", "material": "mild steel"})
    v = d.values
    assert v.word("thread") == "M10x1.5"
    assert v.number("engaged") == 15.5  # 8 + 11.5 − 2.5·1.5 = 15.75, down to a half
    assert v.number("nut_height") == pytest.approx(8.4 + 2.0)  # ISO 4032, ISO 7089
    assert d.figure("foot").value == pytest.approx(16.5)  # 15.5 in the nut, its top 1 below the table
    assert v.number("length") == 75  # 16.5 + 45 + 10.4 + 3 = 74.9
    assert v.number("upper_thread") == 45.5  # 75 − 16.5 − 15 + 1.5 + 0.3, up to a half
    assert d.figure("out").value == pytest.approx(3.1)
    assert d.figure("down_to").value == pytest.approx(13.0)
    # M10: 57.99 mm²; 3/8 of 235 MPa over it is 5111 N, and 0.2·10·5.111 N·m
    assert v.number("torque") == 10.0
    assert d.figure("stress").value == pytest.approx(10.0 / (0.2 * 0.01) / 57.99, rel=1e-3)


@pytest.mark.parametrize(
    ("typed", "key", "verdict"),
    [
        ({"engaged": "20"}, "stopped", Verdict.NO_GO),  # through a nut 19.5 high
        ({"engaged": "19.4"}, "stopped", Verdict.MARGINAL),
        ({"engaged": "7"}, "engaged", Verdict.NO_GO),
        ({"engaged": "9"}, "engaged", Verdict.MARGINAL),
        ({"length": "71"}, "stands_out", Verdict.NO_GO),  # 16.5 + 45 + 10.4 is 71.9
        ({"length": "73"}, "stands_out", Verdict.MARGINAL),
        ({"length": "102"}, "long", Verdict.MARGINAL),
        ({"upper_thread": "43"}, "down", Verdict.NO_GO),  # 75 − 16.5 − 43 = 15.5 over 15
        ({"upper_thread": "44"}, "down", Verdict.MARGINAL),
        ({"torque": "21.5"}, "pulled", Verdict.NO_GO),  # 10.75 kN over 57.99 mm² is 185 MPa of 235: 79 %, past 100/1.3
        ({"torque": "20.5"}, "pulled", Verdict.MARGINAL),  # 75 %
        ({"torque": "15"}, "pulled", Verdict.MARGINAL),
    ],
)
def test_every_check_of_a_stud_is_seen_to_refuse(typed: dict[str, str], key: str, verdict: Verdict) -> None:
    base = {"kind": "stud", **SLOT, "clamp_low": "15", "clamp_high": "45", "material": "mild steel"}
    assert check(solved(base), key)[1] is Verdict.GO
    assert check(solved({**base, **typed}), key)[1] is verdict


def test_a_t_bolt_by_hand() -> None:
    d = solved({"kind": "t_bolt", **SLOT, "thread": "M10", "material": "mild steel", "torque": "10"})
    v = d.values
    assert (v.number("head_width"), v.number("head_diameter")) == (18.0, 22.5)  # 19 − 1; 1.25·18
    # Under the lips (18 − 12.2)/2 = 2.9 each side, where the round is shortest √(22.5² − 18²) = 13.5: 5000 N/(2·2.9·13.5)
    assert check(d, "lips")[0] == pytest.approx(5000 / (2 * 2.9 * 13.5), rel=1e-6)
    assert check(d, "head_shear")[0] == pytest.approx(100 * 5000 / (math.pi * 10 * 8) / (0.58 * 235), rel=1e-3)
    assert check(d, "below") == (pytest.approx(21 - 9 - 8), Verdict.GO)
    assert check(solved({"kind": "t_bolt", **SLOT, "head_height": "12.2"}), "below")[1] is Verdict.NO_GO
    assert check(solved({"kind": "t_bolt", **SLOT, "head_diameter": "18.7", "head_width": "18"}), "turns")[1] is Verdict.NO_GO
    assert check(solved({"kind": "t_bolt", **SLOT, "head_width": "19.2", "head_diameter": "24"}), "slides")[1] is Verdict.NO_GO
    assert check(solved({"kind": "t_bolt", **SLOT, "thread": "M12", "neck": "11.9"}), "passes")[1] is Verdict.NO_GO


def test_a_tall_nut_by_hand() -> None:
    d = solved({"kind": "tall_nut", "thread": "M12", "across_flats": "19", "torque": "20", "material": "mild steel"})
    pull = 20 / (0.2 * 0.012)
    assert d.values.number("length") == 24
    assert check(d, "wall")[0] == pytest.approx(3.5 / 12)
    # Sheared at the stud's Ø: π·12·24/1.75·(0.875 + (12 − 10.863)·tan 30°)
    assert check(d, "strip")[0] == pytest.approx(100 * pull / 791.8 / (0.58 * 235), rel=1e-3)
    assert check(d, "bears")[0] == pytest.approx(pull / (math.pi / 4 * (19**2 - 13.5**2)) / 235, rel=1e-6)
    assert check(solved({"kind": "tall_nut", "thread": "M12", "length": "9"}), "tall")[1] is Verdict.NO_GO
    assert check(solved({"kind": "tall_nut", "thread": "M12", "across_flats": "14.5"}), "wall")[1] is Verdict.NO_GO


def test_a_shoulder_screw_by_hand() -> None:
    typed = {"kind": "shoulder_screw", "hole": "8.01; 8.02", "work_thickness": "12", "thread": "M6", "material": "mild steel"}
    d = solved(typed)
    v = d.values
    assert (v.number("shoulder_diameter"), v.number("shoulder_length")) == (7.995, 12.1)
    assert (v.number("undercut"), v.number("engaged")) == (2.0, 11.0)  # 2·1; 1.5·6 + 2
    assert check(d, "turns")[0] == pytest.approx(0.015)
    assert check(d, "seats")[0] == pytest.approx(0.9975)
    # The undercut, Ø4.7, is weaker than the thread's 20.1 mm².
    assert d.figure("stress").value == pytest.approx(v.number("torque") * 1000 / (0.2 * 6) / (math.pi / 4 * 4.7**2), rel=1e-3)
    for more, key in (
        ({"shoulder_diameter": "8.02"}, "turns"),
        ({"shoulder_length": "11.9"}, "floats"),
        ({"shoulder_length": "13.2"}, "floats"),
        ({"engaged": "6"}, "engaged"),
        ({"across_flats": "9.2", "shoulder_diameter": "8"}, "head"),
        ({"torque": "10"}, "pulled"),
    ):
        assert check(solved({**typed, **more}), key)[1] is not Verdict.GO, key
    assert check(solved({**typed, "undercut": "1"}), "runs_out")[1] is Verdict.MARGINAL


@pytest.mark.parametrize(
    ("typed", "entry"),
    [
        ({"kind": "stud", "section": "hexagon", "thread": "M12", "across_flats": "12.5"}, "across_flats"),
        ({"kind": "stud", "section": "hexagon", "length": "40", "engaged": "18", "upper_thread": "18"}, "upper_thread"),
        ({"kind": "stud", "length": "20", "upper_thread": "30"}, "length"),
        ({"kind": "tall_nut", "thread": "M12", "across_flats": "13"}, "across_flats"),
        ({"kind": "shoulder_screw", "thread": "M8", "shoulder_diameter": "8"}, "thread"),
        ({"kind": "shoulder_screw", "across_flats": "8", "shoulder_diameter": "8"}, "across_flats"),
        ({"kind": "shoulder_screw", "undercut": "10"}, "undercut"),
        ({"kind": "t_bolt", "head_diameter": "18", "head_width": "18"}, "head_diameter"),
        ({"kind": "t_bolt", "head_width": "10.5", "thread": "M10", "head_diameter": "30"}, "head_width"),
    ],
)
def test_what_is_no_such_part_is_refused_beside_its_entry(typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved(typed)
    assert refused.value.entry == entry and refused.value.why and refused.value.do


@pytest.mark.parametrize("typed", KINDS, ids=str)
def test_the_solid_weighs_what_is_worked_out(typed: dict[str, str], kernel: Kernel) -> None:
    d = solved(typed)
    s = HardwareSizes(d.values)
    weighed = kernel.ask("mass", FAMILY.solid(d))["volume_mm3"]
    # The chamfer of a hexagon's corners is not taken off the sum.
    assert weighed == pytest.approx(s.volume, rel=0.02 if s.in_hexagon else 1e-6)
    assert weighed <= s.volume + 1e-3


def radius_left(plan: Plan, s: HardwareSizes, z: float) -> float:
    """What the strokes leave at a height of the finished piece, worked anew: every pass from its end takes all outside it."""
    left = s.bar / 2
    for setup in plan.setups:
        turned = setup.id == "second_end"
        from_end = (s.length - z if turned else z) if s.kind != "t_bolt" else (z if turned else s.length - z)
        if setup.id not in ("turn", "second_end"):
            continue
        for operation in setup.operations:
            tool = operation.cutter
            for move in operation.moves:
                for (r0, _, z0), (r1, _, z1) in (way for stroke in move.strokes for way in pairwise(stroke.path)):
                    if tool is None or z0 == z1:
                        if tool is not None and tool.kind == "parting" and r1 > 0 and z1 <= -from_end <= z1 + tool.width_mm:
                            left = min(left, r1)
                        continue
                    if tool.kind == "turning" and z1 <= -from_end:
                        share = (-from_end - z0) / (z1 - z0)
                        left = min(left, r0 + (r1 - r0) * share)
    return left


@pytest.mark.parametrize("typed", [k for k in KINDS if k["kind"] != "tall_nut"], ids=str)
def test_cut_from_the_strokes_alone_it_has_its_profile(typed: dict[str, str]) -> None:
    d = solved(typed)
    s = HardwareSizes(d.values)
    plan = planned(d)
    low, high = s.hex_span if s.in_hexagon else (math.inf, math.inf)
    for n in range(1, 400):
        z = s.length * n / 400
        if any(abs(z - at) < 0.02 for _, at in s.profile):
            continue
        wanted = next(
            (
                a + (b - a) * (z - za) / (zb - za)
                for (a, za), (b, zb) in zip(s.profile, s.profile[1:], strict=False)
                if za <= z < zb
            ),
            0.0,
        )
        if low <= z <= high:
            wanted = s.corners / 2
            if s.kind == "shoulder_screw" and z > high - s.hex_drop:
                wanted -= (z - high + s.hex_drop) / math.tan(math.radians(30))
        assert radius_left(plan, s, z) == pytest.approx(wanted, abs=0.003), z


@pytest.mark.parametrize("typed", KINDS, ids=str)
def test_rehearsed_clean_and_a_slip_is_found(typed: dict[str, str]) -> None:
    plan = planned(solved(typed))
    assert rehearse(plan).clean
    slip = next(
        (m.id, p.axis, p.dial.set_mm)
        for _, o, m in reversed(list(plan.moves))
        for p in m.positions
        if m.strokes and o.cutter is not None and o.cutter.kind == "turning" and p.axis == "X" and not m.zeroes
    )
    wrong = rehearse(plan, Slips(keyed={(slip[0], slip[1]): slip[2] - 1.0}))
    assert wrong.wrong_at == slip[0] and any(f.kind == "gouge" for f in wrong.findings)


def test_only_that_hexagon_keeps_its_flats() -> None:
    blank = FAMILY.work(solved({"kind": "tall_nut", "material": "mild steel", "across_flats": "17"}), SHOP).blank
    bars = [
        Bar(id="round", form=Form.ROUND, width_mm=25, length_mm=900),
        Bar(id="other", form=Form.HEXAGON, width_mm=19, length_mm=900),
        Bar(id="brass", form=Form.HEXAGON, width_mm=17, length_mm=900, material="brass"),
        Bar(id="short", form=Form.HEXAGON, width_mm=17, length_mm=30),
    ]
    choice = choose_stock(blank, bars)
    assert choice.best is None and choice.buy.startswith("17 mm hexagon mild steel")
    reasons = {o.bar.id: o.reason for o in choice.options}
    assert "keeps the flats" in reasons["round"] and "19 mm hexagon" in reasons["other"]
    assert "brass" in reasons["brass"] and "too short" in reasons["short"]
    right = Bar(id="right", form=Form.HEXAGON, width_mm=17, length_mm=900)
    best = choose_stock(blank, [*bars, right]).best
    assert best is not None and best.bar is right
    # A hexagon is no flat and no round for anything else.
    other = FAMILY.work(solved({"kind": "stud"}), SHOP).blank
    assert choose_stock(other, [right]).best is None


def test_a_made_stud_is_owned_as_no_stronger_than_its_steel() -> None:
    thing = FAMILY.as_thing(solved({"kind": "stud", "material": "mild steel"}), "own", 4)  # type: ignore[attr-defined]
    assert isinstance(thing, Stud) and thing.strength_class == "4.6" and thing.count == 4


def test_a_die_that_is_not_owned_is_said_and_a_large_thread_is_cut_with_the_tool() -> None:
    small = planned(solved({"kind": "stud", "thread": "M12"}))
    assert any("die" in k.words and not k.owned for k in small.kit)
    large = planned(solved({"kind": "stud", "thread": "M20", "neck": "22.2", "head": "35", "lip": "16", "depth": "38"}))
    cut = next(m for _, _, m in large.moves if m.id.endswith(".cut") and "2.5" in m.words)
    # Two depths of 0.6134·2.5 off a Ø of 19.9.
    assert sum(t.value_mm for t in cut.positions[0].terms) * (1 if cut.positions[0].per_mm == 0.5 else 2) == pytest.approx(16.833)


def test_a_hexagon_never_sinks_into_the_slot_it_is_wider_than() -> None:
    for typed in ({**SLOT}, {"neck": "16.1", "lip": "14; 14.6", "head": "27", "depth": "32"}, {}):
        s = HardwareSizes(solved({"kind": "stud", "section": "hexagon", **typed}).values)
        # The T-nut is pulled against the lips where they are deepest: the table's top is then highest over the stud's foot.
        top_of_table = s.lower + s.v.readings("lip").max - s.nut.neck_height
        assert s.hex_span[0] >= top_of_table + 1.0 - 1e-9
