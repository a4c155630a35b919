"""Table keys: play, squareness and remedies worked by hand and by turning a vise on its keys; solid, plan and what cannot be."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import brentq

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.families.table_key import FAMILY
from elbrix.design.families.table_key.rescue import remedies, tool_for
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


def key(shop: Shop, **typed: str) -> Design:
    return solve_for(FAMILY, shop, Request(machine="hazel", slot="middle slot", pieces=2), read_choices(FAMILY, typed))


def plan(shop: Shop, **typed: str) -> Plan:
    design = key(shop, **typed)
    return plan_work("Keys", FAMILY.work(design, shop), shop, home="hazel")


def said(design: Design, name: str) -> float:
    return design.figure(name).value


# --- proposed from what was measured ----------------------------------------------------------------------------------


def test_widths_follow_from_the_slots(demo_shop: Shop) -> None:
    # The middle slot reads 12.05 at its tightest, the vise's keys are 14 wide.
    design = key(demo_shop)
    assert said(design, "table_width") == pytest.approx(12.04) and said(design, "vise_width") == pytest.approx(13.99)
    easy = key(demo_shop, fit="easy")
    assert said(easy, "table_width") == pytest.approx(12.02) and said(easy, "vise_play") == pytest.approx(0.03)
    assert (
        design.figure("kind").text == "a stepped key" and key(demo_shop, vise_slot="12.05").figure("kind").text == "a plain key"
    )


def test_an_empty_shop_gets_a_book_slot_and_says_so() -> None:
    design = key(Shop())
    assert design.check("places").verdict is not Verdict.GO and said(design, "table_width") == pytest.approx(11.99)
    assert FAMILY.fits(design, Shop()) == ()


def test_the_screw_leaves_a_wall(demo_shop: Shop) -> None:
    # M5: head 8.5 + 0.5 bore, (12.04 − 9)/2 = 1.52 beside it; M6 with 10.5 would leave 0.77.
    assert key(demo_shop).values.word("screw") == "M5" and key(demo_shop).check("wall").value == pytest.approx(1.52)
    assert key(demo_shop, screw="M6").check("wall").verdict is Verdict.NO_GO


# --- how square -------------------------------------------------------------------------------------------------------


def turned(spacing: float, play_near: float, play_far: float) -> float:
    """Largest turn of a bar on two keys, each free by ± half of its play across: found by turning it until both touch."""

    def left(angle: float) -> float:
        return play_near / 2 + play_far / 2 - spacing * math.sin(angle)

    return float(brentq(left, 0.0, 0.5))


def test_play_turns_the_vise_as_far_as_it_can(demo_shop: Shop) -> None:
    design = key(demo_shop, key_spacing="210")
    # At its widest the slot reads 12.09: 0.05 there, 0.01 in the vise.
    each = 12.09 - 12.04 + 14.0 - 13.99
    assert said(design, "left_by_play") == pytest.approx(125 * math.tan(turned(210, each, each)), rel=1e-5)
    assert said(design, "left_by_play") == pytest.approx(125 * 0.06 / 210, rel=1e-6)


@given(st.floats(-0.9, 0.9), st.floats(-0.45, 0.45), st.floats(80, 400))
def test_two_keys_one_turned_round_take_up_twice_their_offset(out: float, off: float, spacing: float) -> None:
    assume(round(out, 4) or round(off, 4))
    design = key(
        Shop(), misalignment=f"{out:.4f}", misalignment_check=f"{out:.4f}", offset=f"{off:.4f}", key_spacing=f"{spacing:.1f}"
    )
    # The table halves lie on a straight line; the vise halves at +offset and −offset; the vise's slots at 0 and δ.
    near, far = (0.0, off), (round(spacing, 1), -off)
    line = math.atan2(far[1] - near[1] + round(out, 4), far[0] - near[0])
    assert design.figure("yaw").value == pytest.approx(3600 * math.degrees(line), abs=2)
    assert said(design, "error") == pytest.approx(abs(math.tan(line)) * said(design, "jaw_length"), abs=1e-3)


def test_half_of_what_is_read_from_both_sides_is_proposed(demo_shop: Shop) -> None:
    design = key(demo_shop, misalignment="0.24", misalignment_check="0.25", key_spacing="210")
    assert said(design, "mean_out") == pytest.approx(0.245) and said(design, "offset") == pytest.approx(0.12)
    assert said(design, "error") == pytest.approx(125 * (0.245 - 0.24) / 210)
    assert design.check("agree").verdict is Verdict.GO and design.check("straight").verdict is Verdict.GO
    left = key(demo_shop, misalignment="0.24", misalignment_check="0.25", key_spacing="210", offset="0")
    assert left.check("straight").verdict is Verdict.NO_GO and "offset them by 0.12" in plain(left.check("straight").reason)


def test_sides_that_disagree_stop_everything(demo_shop: Shop) -> None:
    check = key(demo_shop, misalignment="0.24", misalignment_check="0.18").check("agree")
    assert check.verdict is Verdict.NO_GO and check.value == pytest.approx(0.06) and "burr" in check.reason
    assert (
        key(demo_shop, misalignment="0.24", misalignment_check="0.18", reading_resolution="0.03").check("agree").verdict
        is Verdict.GO
    )


# --- ways out ---------------------------------------------------------------------------------------------------------


def test_six_remedies_by_hand() -> None:
    # δ 0.245, play 0.02, keys 200 apart, jaw 100: half of everything.
    found = {r.key: r for r in remedies(-0.245, 0.02, 200, 100, 18, 0.01)}
    hand = {"offset": 0.015, "open": 0.02, "open one": 0.07625, "recut": 0.015, "skim": 0.02, "indicate": 0.01}
    assert {k: round(r.left_mm, 6) for k, r in found.items()} == hand
    assert {k for k, r in found.items() if r.undone} == {"offset", "indicate"}
    assert "thin end 17.88" in plain(found["skim"].costs) and "taper of 0.122" in plain(found["skim"].words)


def test_the_least_is_first_and_what_can_be_taken_back_before_what_cannot() -> None:
    found = remedies(0.3, 0.02, 200, 100, 0, 0.01)
    assert [r.left_mm for r in found] == sorted(r.left_mm for r in found)
    order = [r.key for r in found]
    assert order.index("offset") < order.index("recut")  # both leave 0.015
    assert all("thin end" not in r.costs for r in found)


def test_remedies_stand_on_the_card_only_for_a_crooked_vise(demo_shop: Shop) -> None:
    straight, crooked = key(demo_shop), key(demo_shop, misalignment="0.2")
    assert not any(g.title.startswith("Remedies") for g in FAMILY.card(straight))
    ways = next(g for g in FAMILY.card(crooked) if g.title.startswith("Remedies"))
    assert len(ways.rows) == 7 and "jaw left at the thin end" in " ".join(crooked.figure(k).note for k in ways.rows)
    assert (
        crooked.figure("advice").text.startswith("Offset keys") and crooked.figure("remedy_1").label == "1. No keys: indicate it"
    )
    assert key(demo_shop, misalignment="0.2", squareness="0.01").figure("advice").text.startswith("No keys")


# --- the solid, the plan, the shop ------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "typed", [{"vise_slot": "12.05"}, {"vise_slot": "14"}, {"misalignment": "0.4", "misalignment_check": "0.4"}]
)
def test_the_solid_has_the_volume_of_its_parts(typed: dict[str, str], kernel: Kernel, demo_shop: Shop) -> None:
    d = key(demo_shop, **typed)
    n = {name: said(d, name) for name in ("table_width", "table_height", "vise_width", "vise_height", "length")}
    clear, head_d, head_h = {"M4": (4.5, 7.0, 4.0), "M5": (5.5, 8.5, 5.0)}[d.values.word("screw")]
    bore, deep = math.pi / 4 * (head_d + 0.5) ** 2, head_h + 0.3
    metal = n["length"] * (n["table_width"] * n["table_height"] + n["vise_width"] * n["vise_height"])
    hole = bore * deep + math.pi / 4 * clear**2 * (n["table_height"] + n["vise_height"] - deep)
    assert kernel.ask("mass", FAMILY.solid(d))["volume_mm3"] == pytest.approx(metal - hole, rel=1e-6)


def wall(p: Plan, key_: str, d: float) -> float:
    """Where a wall stands from the middle of the bar: the cutter's centre less its radius."""
    at = next(q.value_mm for _, _, m in p.moves for q in m.positions if q.key == key_)
    return abs(at) - d / 2


def test_an_offset_key_is_milled_from_both_sides_with_its_own_walls(demo_shop: Shop) -> None:
    # Equal halves 0.5 apart: the whole is half a millimetre wider, and each half has one wall to cut, on opposite sides as it
    # lies.
    p = plan(demo_shop, vise_slot="12.05", offset="0.5")
    assert [s.id for s in p.setups if s.id.endswith("half")] == ["vise_half", "table_half"]
    whole = 12.04 + 0.5
    for setup in (s for s in p.setups if s.id.endswith("half")):
        assert [o.title for o in setup.operations if "shoulder" in o.title] == [
            "Near shoulder (−Y)"
        ]  # turned over, the far one is near
    mill = next(
        c
        for c in demo_shop.cutters
        if c.title == next(o.tool for s in p.setups if s.id == "vise_half" for o in s.operations if "shoulder" in o.title)
    )
    near = wall(p, "vise_half.shoulder_near", mill.diameter_mm)
    assert near + whole / 2 == pytest.approx(
        12.04, abs=0.006
    )  # from the far side of the bar to the new wall; the dial has its steps


def test_a_stepped_key_has_two_walls_and_a_plain_one_none(demo_shop: Shop) -> None:
    p = plan(demo_shop, vise_slot="14")
    mill = next(
        c
        for c in demo_shop.cutters
        if c.title == next(o.tool for s in p.setups if s.id == "table_half" for o in s.operations if "shoulder" in o.title)
    )
    both = wall(p, "table_half.shoulder_far", mill.diameter_mm) + wall(p, "table_half.shoulder_near", mill.diameter_mm)
    assert both == pytest.approx(12.04, abs=0.012)
    assert not any(s.id.endswith("half") for s in plan(demo_shop, vise_slot="12.05").setups)


def test_a_first_wall_that_came_out_wrong_moves_the_second(demo_shop: Shop) -> None:
    design = key(demo_shop, vise_slot="14")
    work = FAMILY.work(design, demo_shop)
    p = plan_work("Keys", work, demo_shop, home="hazel")
    asked = next(m.asked for _, _, m in p.moves if m.asked and m.asked.key == "table_half.first_shoulder")
    again = plan_work("Keys", work, demo_shop, measured={"table_half.first_shoulder": asked.expected_mm + 0.1}, home="hazel")
    moved = wall(again, "table_half.shoulder_near", 0.0) - wall(p, "table_half.shoulder_near", 0.0)
    assert moved == pytest.approx(-0.1, abs=0.006)


def test_every_piece_is_bored_from_below(demo_shop: Shop) -> None:
    p = plan(demo_shop)
    bores = next(s for s in p.setups if s.id == "bores")
    xs = [q.value_mm for m in bores.moves if m.id.startswith("bores.bore.") for q in m.positions if q.axis == "X"]
    assert len(xs) == 2 and xs[1] > xs[0] > 0
    deep = next(q.value_mm for m in bores.moves if m.id == "bores.bore.1" for q in m.positions if q.axis == "Z")
    assert deep == pytest.approx(-5.3, abs=0.01)  # an M5 head and 0.3


def test_where_it_fits(demo_shop: Shop) -> None:
    fits = {(f.machine, f.slot): f.verdict for f in FAMILY.fits(key(demo_shop), demo_shop)}
    assert fits["Hazel", "middle slot"] is Verdict.GO
    assert fits["Pip", "rear slot"] is Verdict.NO_GO  # 10.1 wide
    assert ("Clover", "ring slot") not in fits
    assert FAMILY.can_hold(key(demo_shop))[0].sizes == {"slot_mm": 12.05, "host_mm": 14.0}


def test_the_demo_keys_are_proven(demo_shop: Shop) -> None:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "table-keys")
    design = solve_doc(doc, demo_shop)
    assert all(c.verdict is Verdict.GO for c in design.checks)
    assert plan_doc(doc, design, demo_shop).problems == ()


# --- what cannot be ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"offset": "9.9", "table_width": "6", "vise_width": "6", "screw": "M3"}, "parts the two halves", "offset"),
        ({"screw": "M10"}, "wider than the key", "screw"),
    ],
)
def test_keys_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError, match=said_) as caught:
        key(demo_shop, **typed)
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "check"),
    [
        ({"table_width": "12.06"}, "slides"),
        ({"vise_width": "14.01"}, "seats"),
        ({"table_height": "8.4"}, "below"),
        ({"vise_height": "6.2"}, "above"),
        ({"offset": "8.5"}, "neck"),
        ({"key_spacing": "40"}, "square"),
    ],
)
def test_what_is_refused_says_why(typed: dict[str, str], check: str, demo_shop: Shop) -> None:
    found = key(demo_shop, **typed).check(check)
    assert found.verdict is Verdict.NO_GO and found.reason and found.derivation is not None


def test_remedies_are_matched_with_what_is_in_the_shop(demo_shop: Shop) -> None:
    assert tool_for("indicate", 14, demo_shop) == ("lever indicator", True) and tool_for("indicate", 14, Shop())[1] is False
    mill, owned = tool_for("open", 14, demo_shop)
    assert owned and mill == "end mill Ø12.69"  # the largest that goes into a 14 slot
    words, owned = tool_for("recut", 5, demo_shop)
    assert plain(words) == "an end mill to 5 mm" and not owned
    crooked = key(demo_shop, misalignment="0.2")
    notes = [crooked.figure(f"remedy_{i}").note for i in range(1, 7)]
    assert all("With the " in n or "Missing in Shop" in n for n in notes)
    assert "Missing in Shop: an indicator" in " ".join(
        key(Shop(), misalignment="0.2").figure(f"remedy_{i}").note for i in range(1, 7)
    )
