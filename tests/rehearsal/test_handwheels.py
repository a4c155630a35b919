"""Handwheels that can be turned: backlash by hand, the slip it makes named, and what is keyed from them read back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.rehearsal.handwheels import Handwheel, slides_at
from elbrix.rehearsal.keyed import read_keyed
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.shop.machines import Axis

DOCS = documents()
SHOP = shop_of(DOCS)
WHEEL = Axis(mm_per_turn=4, divisions=200, backlash_mm=0.1, travel_mm=240)


def planned(id_: str, machine: str) -> Plan:
    doc = next(d for d in DOCS if isinstance(d, DesignDoc) and d.id == id_)
    return plan_work(doc.title, family_of(doc).work(solve_doc(doc, SHOP), SHOP), SHOP, Options(machine=machine))


def test_forward_back_and_forward_again_by_hand() -> None:
    """4 mm and 200 divisions a turn: 0.02 each; 0.1 of backlash are 5 of them."""
    w = Handwheel(axis="Y", wheel=WHEEL).turned(275)
    assert (w.turns, w.on_ring, w.dial_mm, w.slide_mm) == (1, 75, pytest.approx(5.5), pytest.approx(5.5))
    w = w.turned(-3)  # inside the backlash: the dial says 5.44, the slide has not moved
    assert (w.on_ring, w.dial_mm, w.slide_mm) == (72, pytest.approx(5.44), pytest.approx(5.5))
    w = w.turned(-47)  # 4.5 on the dial, 4.6 where the slide stands
    assert (w.on_ring, w.slide_mm, w.lost_mm) == (25, pytest.approx(4.6), pytest.approx(0.1))
    w = w.turned(5)  # forward through the backlash: nothing moves till it is taken up
    assert (w.dial_mm, w.slide_mm) == (pytest.approx(4.6), pytest.approx(4.6))
    assert w.turned(1).slide_mm == pytest.approx(4.62)
    back = Handwheel(axis="Y", wheel=WHEEL).turned(-210)
    assert (back.turns, back.on_ring) == (-1, 190)  # a ring turned back reads 190


def test_inward_is_the_way_of_a_lathe_and_weight_takes_up_a_knee() -> None:
    inward = Handwheel(axis="X", wheel=WHEEL, approach=-1).turned(-100)
    assert inward.slide_mm == inward.dial_mm == pytest.approx(-2)
    out = inward.turned(20)
    assert (out.dial_mm, out.slide_mm) == (pytest.approx(-1.6), pytest.approx(-1.7))
    knee = Handwheel(axis="Z", wheel=WHEEL, approach=0).turned(50).turned(-80)
    assert knee.slide_mm == knee.dial_mm


@given(st.lists(st.integers(-900, 900), min_size=1, max_size=12), st.sampled_from([1, -1]), st.floats(0, 0.5))
def test_the_slide_is_what_a_loose_nut_would_be(turns: list[int], approach: int, backlash: float) -> None:
    """Another road: a nut of that play, pushed by one flank or the other in small steps."""
    wheel = Handwheel(axis="X", wheel=Axis(mm_per_turn=2, divisions=100, backlash_mm=backlash), approach=approach)
    screw = nut = 0.0
    for n in turns:
        wheel = wheel.turned(n)
        for _ in range(abs(n)):
            screw += 0.02 if n > 0 else -0.02
            if approach > 0:
                nut = screw if screw > nut else min(nut, screw + backlash)
            else:
                nut = screw if screw < nut else max(nut, screw - backlash)
    assert wheel.dial_mm == pytest.approx(screw, abs=1e-6) and wheel.slide_mm == pytest.approx(nut, abs=1e-6)
    assert abs(wheel.lost_mm) <= backlash + 1e-9


def test_the_end_of_the_slide_is_the_end_of_the_wheel() -> None:
    w = Handwheel(axis="Y", wheel=WHEEL).turned(99_999)
    assert w.dial_mm == w.slide_mm == 240
    assert w.turned(-50).dial_mm == pytest.approx(239)


@pytest.mark.parametrize("machine", ["pip", "hazel"])
def test_turned_to_the_card_it_is_there_and_keys_the_card(machine: str) -> None:
    plan = planned("t-nut-hazel", machine)
    for _, _, move in plan.moves:
        slides = slides_at(plan, SHOP, move.id)
        if slides is None or not move.strokes:
            continue
        for p in slides.positions:
            wheel = slides.wheels[p.axis]
            # A little short, then up to it: as the card says it is come to.
            short = -20 * (wheel.approach or 1)
            slides = slides.turned(p.axis, (p.dial.set_mm - wheel.dial_mm) / wheel.wheel.division_mm + short).turned(
                p.axis, -short
            )
        assert all(a.there and not a.slip for a in slides.left(still=True)), move.id
        for name, text in slides.keyed().items():
            position = next(p for p in move.positions if p.axis == name.rpartition(".")[2])
            assert read_keyed(text, position, slides.machine) == pytest.approx(position.dial.set_mm, abs=0.003)


def test_come_to_from_the_wrong_side_it_is_named_as_backlash() -> None:
    plan = planned("t-nut-hazel", "pip")
    slides = slides_at(plan, SHOP, "shoulder.far.finish2")
    assert slides is not None
    y = next(p for p in slides.positions if p.axis == "Y")
    wheel = slides.wheels["Y"]
    over = (y.dial.set_mm - wheel.dial_mm) / wheel.wheel.division_mm + 60
    slides = slides.turned("Y", over).turned("Y", -60)
    assert slides.wheels["Y"].dial_mm == pytest.approx(y.dial.set_mm)  # the ring is right
    told = next(a for a in slides.left(still=True) if a.axis == "Y")
    assert not told.there and "backlash" in told.slip.lower()
    heard = rehearse_slips(plan, SHOP, SlipsMade(keyed={k: v for k, v in slides.keyed().items() if k.endswith(".Y")}))
    assert heard.slip is not None and heard.slip.move == "shoulder.far.finish2" and heard.slip.cause == "backlash"


def test_the_wheels_stand_where_the_moves_before_left_them() -> None:
    plan = planned("t-nut-hazel", "pip")
    first, second = [m for s, _, m in plan.moves if s.id == "shoulders" and m.strokes and m.positions][:2]
    slides = slides_at(plan, SHOP, second.id)
    assert slides is not None
    for p in first.positions:
        if p.axis in slides.wheels:
            assert slides.wheels[p.axis].slide_mm == pytest.approx(p.dial.set_mm)
    assert slides_at(plan, SHOP, "saw.cut") is None and slides_at(plan, SHOP, "nothing") is None
