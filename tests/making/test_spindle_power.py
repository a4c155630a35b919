"""What a cut asks of the spindle: by hand, by the teeth's own forces, and by the metal the strokes really take.

A plan once asked a bench mill's motor for twice what it has: its power was a number in Shop that nothing read.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc, shop_of
from elbrix.demo import documents
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.proof import plan_checks
from elbrix.making.speeds import Speed, speed_for
from elbrix.mechanics.cutting import ARRIVES, OUTWARD, WORN, cutting_power_w, drilling_force
from elbrix.presenters.make import MakePresenter
from elbrix.quantities.lengths import UnitStyle
from elbrix.rehearsal.distances import to_body, to_stroke
from elbrix.rehearsal.run import posed, steps_of
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import material

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())
STEEL = material("mild steel")


def mill(power_w: float, *speeds: int, rigidity: str = "medium") -> Machine:
    return Machine(id="m", name="Mill", kind=MachineKind.KNEE, power_w=power_w, speeds_rpm=speeds, rigidity=rigidity)


def drill(d: float) -> Cutter:
    return Cutter(id="d", kind=CutterKind.DRILL, diameter_mm=d, shank_mm=d)


# --- the rule by hand ------------------------------------------------------------------------------------------------


def test_a_drill_by_hand() -> None:
    """Ø12 at 400 rpm, 0.1 mm a turn, kc1.1 1700 MPa, mc 0.24: worked on paper.

    Area π/4·144 = 113.1 mm², 40 mm/min: 4,524 mm³/min. Chip 0.05·sin 59° = 0.0429, 0.0429^−0.24 = 2.130, kc 3,621 MPa.
    3,621 · 4,524 / 60,000 = 273.0 W, worn 1.3 ×: 354.9 W.
    """
    chip = 0.05 * math.sin(math.radians(59))
    assert cutting_power_w(STEEL, math.pi / 4 * 144 * 40, chip) == pytest.approx(354.9, abs=0.6)


@pytest.mark.parametrize("d", [3.3, 6.8, 10.2, 13.0, 20.0])
def test_a_drills_power_is_its_torque_turned(d: float) -> None:
    """By the other road: the torque that Hold takes for a drill, times the angle it turns in a second."""
    speed = speed_for(mill(1e6, 100, 200, 400, 800), drill(d), STEEL)
    torque = drilling_force(STEEL, d, speed.feed_mm_min / speed.rpm).torque_nmm
    assert speed.asks_w == pytest.approx(torque / 1000 * 2 * math.pi * speed.rpm / 60, rel=1e-6)


@pytest.mark.parametrize(("d", "teeth", "deep"), [(12, 4, 3.0), (20, 4, 5.0), (10, 2, 1.5), (16, 6, 4.0)])
def test_a_slots_power_is_the_work_of_its_teeth(d: float, teeth: int, deep: float) -> None:
    """By the other road: every tooth's force along its way, added up over a whole turn in small steps."""
    speed = speed_for(
        mill(1e6, 300), Cutter(id="e", kind=CutterKind.END_MILL, diameter_mm=d, teeth=teeth), STEEL, takes_mm2=d * deep
    )
    fz = speed.feed_mm_min / speed.rpm / teeth
    phi = (np.arange(20000) + 0.5) / 20000 * math.pi  # a slot: half a turn in the metal
    push = STEEL.kc11_mpa * (fz * np.sin(phi)) ** (1 - STEEL.mc) * deep
    work_of_a_tooth = float(push.mean()) * math.pi * d / 2  # N·mm a turn
    watts = teeth * work_of_a_tooth * speed.rpm / 60 / 1000 * WORN
    # One mean chip stands for all of them: a power under 1 of a mean is over the mean of the powers, so it errs to the safe side.
    assert watts <= speed.asks_w <= 1.05 * watts
    assert OUTWARD < 1  # what pushes outward does no work


@pytest.mark.parametrize(("d", "teeth", "wide"), [(16, 4, 0.6), (12, 4, 2.0), (20, 4, 10.0), (10, 2, 9.9)])
def test_a_thin_side_cut_costs_what_its_teeth_do(d: float, teeth: int, wide: float) -> None:
    """Only a little of the arc is in the metal, where chips are thin: reckoned as a slot's, a quarter was missing."""
    cutter = Cutter(id="e", kind=CutterKind.END_MILL, diameter_mm=d, teeth=teeth)
    speed = speed_for(mill(1e6, 300), cutter, STEEL, takes_mm2=wide * 20.0, width_mm=wide)
    fz = speed.feed_mm_min / speed.rpm / teeth
    arc = math.acos(1 - 2 * wide / d)
    phi = (np.arange(20000) + 0.5) / 20000 * arc
    push = STEEL.kc11_mpa * (fz * np.sin(phi)) ** (1 - STEEL.mc) * 20.0
    watts = teeth * float(push.mean()) * arc * d / 2 * speed.rpm / 60 / 1000 * WORN
    assert watts <= speed.asks_w <= 1.05 * watts


def test_a_turning_tool_by_hand() -> None:
    """Ø30, 0.75 mm deep: P = kc·a·f·v with kc at h = f."""
    lathe = mill(1e6, 265)
    tool = Cutter(id="t", kind=CutterKind.END_MILL, diameter_mm=30, teeth=1)
    speed = speed_for(lathe, tool, STEEL, "Z", takes_mm2=math.pi * 30 * 0.75)
    f = speed.feed_mm_min / speed.rpm
    kc = 1700 * f**-0.24
    v = math.pi * 30 * speed.rpm / 60000  # m/s
    assert speed.asks_w == pytest.approx(kc * 0.75 * f * v * 1.3, rel=1e-6)


# --- held back -------------------------------------------------------------------------------------------------------


@given(
    power=st.floats(80, 3000),
    d=st.floats(2, 40),
    steps=st.lists(st.integers(20, 3000), min_size=0, max_size=9),
    rigidity=st.sampled_from(["light", "medium", "heavy"]),
    metal=st.sampled_from(["mild steel", "bronze", "cast iron", "tool steel, annealed", "aluminium alloy"]),
)
def test_a_motor_is_never_asked_for_more_or_it_is_said(
    power: float, d: float, steps: list[int], rigidity: str, metal: str
) -> None:
    strong, weak = (mill(p, *steps, rigidity=rigidity) for p in (1e9, power))
    free, held = (speed_for(m, drill(d), material(metal)) for m in (strong, weak))
    assert held.rpm <= free.rpm
    assert held.feed_mm_min <= free.feed_mm_min + 1e-9
    assert held.arrives_w == pytest.approx(ARRIVES * power)
    assert held.too_much or held.asks_w <= held.arrives_w * 1.005
    assert held.too_much == ("stalls" in held.caution)
    # Worked out again from what is on the card.
    f = held.feed_mm_min / held.rpm
    again = drilling_force(material(metal), d, f).torque_nmm / 1000 * 2 * math.pi * held.rpm / 60
    assert again == pytest.approx(held.asks_w, rel=1e-5)
    # Under half the table's chip an edge rubs: the feed a turn is never less.
    assert f >= free.feed_mm_min / free.rpm / 2 - 1e-9


def test_what_is_not_known_is_not_held_back() -> None:
    free = speed_for(mill(0, 300), drill(20), STEEL)
    assert (free.asks_w, free.arrives_w, free.too_much, free.caution) == (0, 0, False, "")
    sized = speed_for(mill(50, 400), Cutter(id="r", kind=CutterKind.REAMER, diameter_mm=6, teeth=6), STEEL)
    assert not sized.too_much


@pytest.mark.parametrize(("d", "watts"), [(20.0, 250.0), (30.0, 350.0), (16.0, 150.0), (25.0, 400.0), (12.0, 60.0)])
def test_the_mend_for_a_drill_is_one(d: float, watts: float) -> None:
    """The first drill it names is turned by the motor, and so is the rest of the Ø after it."""
    machine = mill(watts, 200, 350, 560, 900, rigidity="light")
    whole = speed_for(machine, drill(d), STEEL)
    assert whole.too_much
    words = plain(whole.caution)
    named = float(words.split("Ø")[1].split(" ")[0])
    first = speed_for(machine, drill(named), STEEL)
    assert not first.too_much, words
    if "first." in words:
        left = whole.asks_w * (1 - (named / d) ** 2)
        assert left <= whole.arrives_w * 1.001
    else:
        assert "in steps" in words


# --- what the strokes really take ------------------------------------------------------------------------------------


def heaviest_mm2(plan: Plan, count: int) -> dict[str, float]:
    """For each operation, the most metal in the way of one of its cuts, mm²: random points of the blank, cut stroke by stroke.

    What a stroke takes over the way it goes in metal.
    """
    assert plan.blank is not None
    low, high = np.array(plan.blank.min_mm), np.array(plan.blank.max_mm)
    points = low + np.random.default_rng(7).random((count, 3)) * (high - low)
    each = float(np.prod(high - low)) / count
    metal = to_body(points, plan.blank) < 0
    found: dict[str, float] = {}
    for step in steps_of(plan):
        if step.move.removes is not None or step.setup.pose is None:
            continue
        there = posed(points, step.setup)
        for stroke in step.strokes:
            taken = metal & (to_stroke(there, step.tool, stroke) < 0)
            metal &= ~taken
            path = np.array(stroke.path)
            if taken.sum() < 200:
                continue
            along = int(np.argmax(np.ptp(path, axis=0)))
            area = taken.sum() * each / float(np.ptp(there[taken][:, along]))
            key = f"{step.setup.title}: {step.operation.title}"
            found[key] = max(found.get(key, 0.0), area)
    return found


def assumed_mm2(speed: Speed, teeth: int) -> float:
    """The area the planner took, turned round out of what it says the cut asks."""
    fz = speed.feed_mm_min / speed.rpm / teeth
    pressure = STEEL.kc11_mpa * (fz * 2 / math.pi) ** -STEEL.mc * WORN
    return speed.asks_w * 60000 / pressure / speed.feed_mm_min


@pytest.mark.parametrize(
    ("id", "machine"),
    [("t-nut-hazel", "hazel"), ("t-nut-hazel", "pip"), ("riser-vise", "hazel"), ("stop-vise", "hazel"), ("blocks-step", "hazel")],
)
def test_no_cut_takes_more_than_it_was_reckoned_with(id: str, machine: str) -> None:
    doc = DOCS[id]
    plan = plan_doc(doc, solve_doc(doc, SHOP), SHOP, JobDoc(id="j", design=doc.id, options=Options(machine=machine)))
    taken = heaviest_mm2(plan, 150_000)
    looked = 0
    for setup in plan.setups:
        for o in setup.operations:
            speed, tool = o.speed, o.cutter
            if speed is None or tool is None or tool.kind not in ("end_mill", "face_mill") or not speed.asks_w:
                continue
            cutter = next((c for c in SHOP.cutters if c.title == o.tool), None)
            if cutter is None:
                continue  # one that is missing
            real = taken.get(f"{setup.title}: {o.title}", 0.0)
            assert real <= assumed_mm2(speed, cutter.teeth) * 1.1, (setup.title, o.title)
            looked += real > 0
    assert looked >= 2


# --- on the card -----------------------------------------------------------------------------------------------------


def weak_shop(watts: float) -> Shop:
    return replace(SHOP, machines=tuple(replace(m, power_w=watts if m.id == "hazel" else m.power_w) for m in SHOP.machines))


def plan_with(watts: float) -> tuple[Plan, Shop, DesignDoc]:
    shop, doc = weak_shop(watts), DOCS["plate-segments"]
    return plan_doc(doc, solve_doc(doc, shop), shop), shop, doc


def test_a_breach_is_a_check_with_its_mend() -> None:
    plan, shop, _ = plan_with(40.0)
    check = next(c for c in plan_checks(plan, shop.machine("hazel"), {}) if c.key == "power")
    assert check.verdict is Verdict.NO_GO
    assert "stalls" in check.reason
    assert "thinner cutter" in check.reason
    assert check.value > 1


def test_enough_is_go_and_an_unknown_motor_says_nothing() -> None:
    for watts, verdict in ((1500.0, Verdict.GO), (0.0, None)):
        plan, shop, _ = plan_with(watts)
        checks = [c for c in plan_checks(plan, shop.machine("hazel"), {}) if c.key == "power"]
        assert [c.verdict for c in checks] == ([verdict] if verdict else [])


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_it_is_said_at_the_first_move_of_its_operation_and_only_there(unit: str) -> None:
    plan, shop, doc = plan_with(40.0)
    presenter = MakePresenter(doc, shop, UnitStyle(unit), JobDoc(id="j", design=doc.id))
    warned = [line for line in presenter.lines() if "stalls" in line.caution]
    cautioned = [o for _, o, _ in plan.moves if o.speed is not None and o.speed.too_much]
    assert warned
    assert len(warned) == len({id(o) for o in cautioned})
    if unit == "in":
        assert not any(" mm" in line.caution for line in warned)


def test_a_speed_that_is_too_fast_for_the_work_is_said_too() -> None:
    """A machine whose slowest step is over the table's speed said so to Ask and to nobody at the machine."""
    fast = replace(SHOP, machines=tuple(replace(m, speeds_rpm=(2000, 2700)) for m in SHOP.machines))
    doc = DOCS["t-nut-hazel"]
    presenter = MakePresenter(doc, fast, UnitStyle("mm"), JobDoc(id="j", design=doc.id))
    assert any("times the table's speed" in line.caution for line in presenter.lines())


def test_what_belts_and_gears_have_to_be_minded_for_is_said_once_a_machine() -> None:
    for doc in DOCS.values():
        plan = plan_doc(doc, solve_doc(doc, SHOP), SHOP)
        turning = {s.machine_id or plan.machine_id for s in plan.setups for o in s.operations if o.speed is not None}
        for machine in SHOP.machines:
            said = [s for s in plan.setups if any(machine.speeds_note and machine.speeds_note in c for c in s.cautions)]
            assert len(said) == (machine.id in turning and bool(machine.speeds_note)), (doc.title, machine.name)


def test_straight_down_goes_at_a_third() -> None:
    """The note of a counterbore said so, the revolutions beside it did not."""
    doc = DOCS["jaws-ledge"]
    plan = plan_doc(doc, solve_doc(doc, SHOP), SHOP)
    sunk = [o for s in plan.setups for o in s.operations if o.title.startswith("Counterbore")]
    assert sunk
    for o in sunk:
        assert o.speed is not None
        assert o.cutter is not None
        assert o.speed.rpm <= 1000 * material(plan.material).hss_m_min / (math.pi * o.cutter.diameter_mm) / 3 * 1.001
