"""The schools of a shop: the same metal from another datum, another touch-off tool, two drills; remembered for the next plan."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Plan, Setup
from elbrix.making.planner import plan_work
from elbrix.making.schools import CLIMB, DATUM, HABITS, HOLES, habits
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.shop.tooling import TouchOff

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())


def planned(id: str, shop=SHOP, **how: str) -> Plan:  # type: ignore[no-untyped-def]
    doc = DOCS[id]
    return plan_work(doc.title, family_of(doc).work(solve_doc(doc, shop), shop), shop, Options(**how), home=doc.machine)  # type: ignore[arg-type]


def pairs(id: str) -> list[tuple[Setup, Setup]]:
    before, after = planned(id), planned(id, datum="corner")
    return [(a, b) for a, b in zip(before.setups, after.setups, strict=True) if a.datum != b.datum]


@pytest.mark.parametrize("id", ["plate-yoke", "riser-vise", "stop-vise", "v-jaws", "vise-long-bars"])
def test_from_the_corner_every_number_is_half_the_width_more_and_the_metal_the_same(id: str) -> None:
    changed = pairs(id)
    assert changed
    for middle, corner in changed:
        assert middle.pose is not None and corner.pose is not None
        half = {
            round(y2 - y1, 6)
            for m, c in zip(middle.moves, corner.moves, strict=True)
            for s, t in zip(m.strokes, c.strokes, strict=True)
            for (_, y1, _), (_, y2, _) in zip(s.path, t.path, strict=True)
        }
        assert len(half) == 1 and min(half) > 0
        by = half.pop()
        for m, c in zip(middle.moves, corner.moves, strict=True):
            for p, q in zip(m.positions, c.positions, strict=True):
                assert q.value_mm - p.value_mm == pytest.approx(by if p.axis == "Y" else 0.0, abs=1e-9)
                assert sum(t.value_mm for t in q.terms) == pytest.approx(q.value_mm)
        # A place of the machine is the same place of the part: 2 by its own number here, 2 + half there.
        turn, near = corner.pose.rotation, corner.pose.offset
        assert turn == middle.pose.rotation
        assert near[1] - middle.pose.offset[1] == pytest.approx(by, abs=1e-9)
        # The touch is half the finder before the side, and nothing else.
        touch = next(m for m in corner.moves if m.zeroes == "Y").positions[0]
        assert touch.value_mm == pytest.approx(-SHOP.touch_offs[0].size_mm / 2)
        assert next(z.reads_mm for z in corner.zeroes if z.axis == "Y") == pytest.approx(touch.value_mm)
        assert "near side" in corner.datum and "middle" not in corner.datum.split("Y zero")[1].split(";")[0]
    plan = planned(id, datum="corner")
    assert rehearse(plan).clean
    # Whoever keys the middle's number from the corner is caught at that move.
    setup = changed[0][1]
    move = next(m for m in setup.moves if m.strokes)
    y = next(p for p in move.positions if p.axis == "Y")
    old = next(p for m in changed[0][0].moves if m.id == move.id for p in m.positions if p.axis == "Y")
    wrong = rehearse(plan, Slips(keyed={(move.id, "Y"): y.dial.set_mm - (y.value_mm - old.value_mm)}))
    assert wrong.wrong_at == move.id


def test_another_touch_off_tool_changes_half_of_what_touches() -> None:
    rod = TouchOff(id="rod", size_mm=6.0, name="rolled rod")
    shop = replace(SHOP, touch_offs=(*SHOP.touch_offs, rod))
    first, other = planned("plate-yoke", shop), planned("plate-yoke", shop, touch_off="rod")
    a, b = ({m.id: m for _, _, m in p.moves if m.zeroes in ("X", "Y")} for p in (first, other))
    assert a.keys() == b.keys() and a
    for id, move in a.items():
        by = b[id].positions[0].value_mm - move.positions[0].value_mm
        assert abs(by) == pytest.approx((SHOP.touch_offs[0].size_mm - 6.0) / 2)
        assert "rolled rod" in b[id].words
    assert rehearse(other).clean


def test_two_drills_say_what_they_do_not_hold() -> None:
    ream, drills = planned("plate-yoke"), planned("plate-yoke", holes="two drills")
    assert any("Ream" in o.title for s in ream.setups for o in s.operations)
    assert not any("Ream" in o.title for s in drills.setups for o in s.operations)
    finish = [o for s in drills.setups for o in s.operations if "second drill" in o.title]
    assert finish and all(o.cutter is not None and o.cutter.kind == "drill" for o in finish)
    assert any("pressed holds in no such hole" in a for a in drills.assumed)
    assert rehearse(drills).clean


@pytest.mark.parametrize(("policy", "climbs"), [("no", False), ("yes", True)])
def test_the_climb_of_a_plan_goes_before_the_machines(policy: str, climbs: bool) -> None:
    plan = planned("t-nut-hazel", climb=policy)
    said = [m.direction for _, _, m in plan.moves if m.direction and "full width" not in m.direction]
    assert said and all(d.startswith("climb") is climbs for d in said)
    assert rehearse(plan).clean


def test_every_choice_has_its_reason() -> None:
    for choices in (DATUM, HOLES, CLIMB):
        assert all(":" in words or "," in words for _, words in choices)
    own = habits(Options(machine="x", bar="y"), Options(machine="z", bar="b", datum="corner", style="quick"))
    assert (own.machine, own.bar, own.datum, own.style) == ("x", "y", "corner", "quick") and "machine" not in HABITS
