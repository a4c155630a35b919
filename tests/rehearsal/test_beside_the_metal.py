"""Numbers that no metal tells of: a tap beside its hole, a die, the other jaw of a pair. They were told to be clean."""

from __future__ import annotations

import random

import pytest

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips

SHOP = shop_of(documents())


def _plans() -> dict[str, Plan]:
    found = {}
    for doc in documents():
        if isinstance(doc, DesignDoc):
            try:
                plan = plan_work(doc.title, family_of(doc).work(solve_doc(doc, SHOP), SHOP), SHOP, Options(), home=doc.machine)
            except ShopError:
                continue
            if plan.solid is not None:
                found[doc.id] = plan
    return found


PLANS = _plans()
TAPS = [
    (id, move)
    for id, plan in PLANS.items()
    for move in [m for _, o, m in plan.moves if o.cutter is not None and o.cutter.kind == "tap" and m.positions][:2]
]


def _keyed(plan: Plan, move: Move, axis: str, off: float):  # type: ignore[no-untyped-def]
    number = next(p.dial.set_mm for p in move.positions if p.axis == axis)
    return rehearse_slips(plan, SHOP, SlipsMade(keyed={f"{move.id}.{axis}": f"{number + off:.4f}"}))


@pytest.mark.parametrize(("id", "move"), TAPS, ids=[f"{i}-{m.id}" for i, m in TAPS])
def test_a_tap_beside_its_hole_breaks(id: str, move: Move) -> None:
    heard = _keyed(PLANS[id], move, "X", 5.0)
    assert not heard.clean and heard.slip is not None and heard.slip.move == move.id
    found = next(f for f in heard.findings if f.move == move.id)
    assert found.kind == "collision" and "does not stand over its hole" in found.words
    if PLANS[id].machine_id != "pip":  # its wheels read turns and divisions, another number
        assert found.thickness_mm == pytest.approx(5.0, abs=0.1)
    assert "X is" in found.words and move.words in found.words


def test_a_tap_a_little_off_finds_its_hole_and_one_on_its_number_says_nothing() -> None:
    plan = PLANS["t-nut-hazel"]
    tap = next(m for _, o, m in plan.moves if o.cutter is not None and o.cutter.kind == "tap" and m.positions)
    assert _keyed(plan, tap, "X", 0.02).clean
    assert _keyed(plan, tap, "X", 0.0).clean
    assert not _keyed(plan, tap, "X", 0.2).clean


def test_a_die_that_is_run_too_far_is_told() -> None:
    plan = PLANS["studs-hazel"]
    die = next(m for _, o, m in plan.moves if o.cutter is not None and o.cutter.kind == "die")
    heard = _keyed(plan, die, "Z", -4.0)
    assert not heard.clean and any("the thread ends elsewhere" in f.words for f in heard.findings)


@pytest.mark.parametrize(("move", "axis"), [("nest.4", "X"), ("nest.9", "X"), ("nest.4", "Y"), ("nest.relief.3", "Z")])
def test_the_other_jaw_of_a_pair_is_not_clean_because_nobody_looks_at_it(move: str, axis: str) -> None:
    plan = PLANS["jaws-foot"]
    heard = _keyed(plan, next(m for _, _, m in plan.moves if m.id == move), axis, -3.7)
    assert not heard.clean and heard.slip is not None and heard.slip.move == move


@pytest.mark.parametrize("id", sorted(PLANS))
def test_as_planned_nothing_is_said(id: str) -> None:
    assert not any("beside its number" in f.words for f in rehearse_slips(PLANS[id], SHOP, SlipsMade()).findings)


@pytest.mark.parametrize("seed", range(2))
def test_no_place_that_is_keyed_wrong_is_clean(seed: int) -> None:
    """Any X or Y of a milling move, off by 3.7 either way."""
    chance = random.Random(seed)
    tried = 0
    while tried < 12:
        id = chance.choice(sorted(PLANS))
        places = [
            (m, p.axis)
            for s, o, m in PLANS[id].moves
            for p in m.positions
            if p.axis in "XY" and s.pose is not None and (o.cutter is None or o.cutter.on != "lathe")
        ]
        if not places:
            continue
        tried += 1
        move, axis = chance.choice(places)
        assert not _keyed(PLANS[id], move, axis, chance.choice((3.7, -3.7))).clean, (id, move.id, axis)


@pytest.mark.parametrize("times", [0.8, 1.2])
def test_another_tap_cuts_another_thread(times: float) -> None:
    plan = PLANS["t-nut-hazel"]
    operation = next(o for _, o, _ in plan.moves if o.cutter is not None and o.cutter.kind == "tap")
    assert operation.cutter is not None
    heard = rehearse_slips(plan, SHOP, SlipsMade(cutters={operation.title: operation.cutter.diameter_mm * times}))
    assert not heard.clean and heard.slip is not None and heard.slip.cause == "cutter"
    assert all("cuts another thread" in f.words for f in heard.findings)
    assert {f.kind for f in heard.findings} == {"gouge" if times > 1 else "left"}
    assert rehearse_slips(plan, SHOP, SlipsMade(cutters={operation.title: operation.cutter.diameter_mm})).clean
