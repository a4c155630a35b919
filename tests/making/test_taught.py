"""A machine that gives way, simulated: what is set by the plan, cut, measured, typed, planned again, to the last cut."""

from __future__ import annotations

import random

import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.work import Blank, BoredHole, TurnedPart, Work
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.making.taught import cuts_so_far
from elbrix.solids.recipe import Cut, Prism, Turned

_DEMO = shop_of(documents())
#: Tam with a readout: fine enough for three finishing cuts.
SHOP = replace(_DEMO, machines=tuple(replace(m, readout_step_mm=0.005) if m.id == "tam" else m for m in _DEMO.machines))
PIN = Work(
    Blank(width_mm=16, height_mm=16, round_mm=16, length_mm=60, material="mild steel", along="+z", up="+x"),
    (TurnedPart(name="Pin", size_mm=12, length_mm=30, id="pin"), TurnedPart(name="Body", size_mm=16, length_mm=60, id="body")),
    solid=Turned(((0.0, 0.0), (6.0, 0.0), (6.0, 30.0), (8.0, 30.0), (8.0, 60.0), (0.0, 60.0)), (0.0, 0.0, 0.0)),
)
SEAT = Work(
    Blank(width_mm=60, height_mm=20, length_mm=60, material="mild steel"),
    (BoredHole(name="Seat", x_mm=30, y_mm=0, size_mm=25, thickness_mm=20, id="seat"),),
    solid=Cut(
        Prism(((0.0, -30.0), (60.0, -30.0), (60.0, 30.0), (0.0, 30.0)), -20.0, 0.0, "xy"),
        (Turned(((0.0, -21.0), (12.5, -21.0), (12.5, 1.0), (0.0, 1.0)), (30.0, 0.0, 0.0)),),
    ),
)


def turned_to(plan: Plan, key: str) -> float:
    """The Ø the cross-slide is set to before a size is measured."""
    move = next(m for _, _, m in plan.moves if m.asked is not None and m.asked.key == key)
    position = next(p for p in move.positions if p.axis == "X")
    return position.value_mm * (2.0 if position.per_mm == 1.0 else 1.0)


def bored_to(plan: Plan, key: str) -> float:
    """The Ø the head is set to: said in words, three places."""
    move = next(m for _, _, m in plan.moves if m.asked is not None and m.asked.key == key)
    if "set the head to Ø" not in move.words:
        return move.asked.expected_mm  # type: ignore[union-attr]
    return float(move.words.split("set the head to Ø")[1].split(" mm")[0])


def finished(work: Work, home: str, set_to, stem: str, last: str, leaves) -> list[float]:  # type: ignore[no-untyped-def]
    """Every measured size, each cut coming out `leaves` beside what was set."""
    measured: dict[str, float] = {}
    found = []
    keys = [
        m.asked.key
        for _, _, m in plan_work("T", work, SHOP, home=home).moves
        if m.asked is not None and m.asked.key.startswith(stem)
    ]
    assert keys[-1] == last and len(keys) >= 3
    for key in keys:
        plan = plan_work("T", work, SHOP, measured=measured, home=home)
        measured[key] = set_to(plan, key) + leaves()
        found.append(measured[key])
    return found


@pytest.mark.parametrize("leaves", [0.02, -0.015, 0.04])
def test_a_tool_that_always_leaves_as_much_cuts_the_last_to_size(leaves: float) -> None:
    turned = finished(PIN, "tam", turned_to, "pin.size", "pin.size", lambda: leaves)
    assert turned[-1] == pytest.approx(12.0, abs=1e-6)
    bored = finished(SEAT, "hazel", bored_to, "seat.size", "seat.size", lambda: -leaves)
    assert bored[-1] == pytest.approx(25.0, abs=0.0011)


def test_what_scatters_is_averaged_and_not_chased() -> None:
    """Over many pieces: nearer to size than by the cut before alone, and the spread is said as it is."""
    rng = random.Random(4)
    off = [
        finished(PIN, "tam", turned_to, "pin.size", "pin.size", lambda: 0.02 + rng.gauss(0, 0.004))[-1] - 12 for _ in range(60)
    ]
    mean = sum(off) / len(off)
    assert abs(mean) < 0.002
    # Two cuts before: √(1 + 1/2) of one cut's scatter; chasing the last alone would be √2.
    spread = (sum((o - mean) ** 2 for o in off) / (len(off) - 1)) ** 0.5
    assert spread < 0.004 * 1.40
    many = [rng.gauss(0.01, 0.003) for _ in range(400)]
    measured, sizes, taught = {}, [], 0.0
    for i, o in enumerate(many):
        sizes.append((f"s{i}", 10.0 - 0.1 * i))
        measured[f"s{i}"] = sizes[-1][1] - taught + o
        taught = sum(many[: i + 1]) / (i + 1)
    cuts = cuts_so_far(measured, sizes)
    assert cuts.off_mm == pytest.approx(many, abs=1e-9)
    assert cuts.spread_mm == pytest.approx(0.003, rel=0.15)


def test_a_size_that_was_not_measured_teaches_nothing() -> None:
    sizes = [("a", 13.0), ("b", 12.5), ("c", 12.2)]
    assert cuts_so_far({}, sizes).count == 0
    assert cuts_so_far({"b": 12.53}, sizes).off_mm == pytest.approx((0.03,))
    # c was set for 12.2 − 0.03 after b, and came out at 12.2: off by 0.03 again.
    assert cuts_so_far({"b": 12.53, "c": 12.2}, sizes).off_mm == pytest.approx((0.03, 0.03))
