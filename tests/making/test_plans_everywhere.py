"""Plans for any slot, on any machine, in any style: the shoulders cut the T, nothing runs into anything."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import milling_machines, plan_work, position_working
from elbrix.quantities.readings import Readings
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.tooling import CutterKind

FAMILY = find_family("t_nut")


def plan_of(shop: Shop, options: Options, unit: str = "mm", **texts: str) -> Plan:
    design = solve_for(FAMILY, shop, Request(machine="hazel", slot="middle slot", pieces=4), read_choices(FAMILY, texts))
    return plan_work("T-nut", FAMILY.work(design, shop), shop, options, unit=unit)


ALL_OPTIONS = [
    Options(machine=machine, style=style, passes=cut, spring_pass=spring)
    for machine in ("hazel", "pip", "margaret")
    for style in ("full", "quick")
    for cut in ("equal", "creep")
    for spring in (False, True)
]


@pytest.mark.parametrize("options", ALL_OPTIONS, ids=lambda o: f"{o.machine}-{o.style}-{o.passes}-{o.spring_pass}")
def test_walls_and_floor_come_out_whatever_the_style(demo_shop: Shop, options: Options) -> None:
    plan = plan_of(demo_shop, options)
    machine = demo_shop.machine(options.machine)
    kind = CutterKind.SIDE_AND_FACE if machine.horizontal else CutterKind.END_MILL
    tool = next(o.tool for _, o, m in plan.moves if m.id.startswith("shoulder.far"))
    cutter = next(c for c in demo_shop.cutters_of(kind) if c.title == tool)
    width = cutter.width_mm if machine.horizontal else cutter.diameter_mm
    last: dict[str, dict[str, float]] = {}
    for _, _, move in plan.moves:
        at = {p.axis: p.value_mm for p in move.positions}
        if {"Y", "Z"} == set(at) and move.id.startswith("shoulder."):
            last[move.id.split(".")[1]] = at
    assert last["far"]["Y"] - width / 2 == pytest.approx(11.7 / 2)
    assert last["near"]["Y"] + width / 2 == pytest.approx(-11.7 / 2)
    assert last["far"]["Z"] == last["near"]["Z"] == pytest.approx(-7.2)


@pytest.mark.parametrize("options", ALL_OPTIONS[::3], ids=lambda o: f"{o.machine}-{o.style}-{o.passes}")
def test_no_pass_goes_past_the_finished_wall(demo_shop: Shop, options: Options) -> None:
    plan = plan_of(demo_shop, options)
    for side, sign in (("far", 1.0), ("near", -1.0)):
        ys = [
            sign * p.value_mm
            for _, _, m in plan.moves
            if m.id.startswith(f"shoulder.{side}")
            for p in m.positions
            if p.axis == "Y"
        ]
        assert ys == sorted(ys, reverse=True)  # only ever inwards
        zs = [p.value_mm for _, _, m in plan.moves if m.id.startswith(f"shoulder.{side}") for p in m.positions if p.axis == "Z"]
        assert min(zs) == pytest.approx(-7.2)


def test_inches_say_the_same_as_millimetres(demo_shop: Shop) -> None:
    metric, inch = plan_of(demo_shop, Options(machine="hazel")), plan_of(demo_shop, Options(machine="hazel"), "in")
    for (_, _, a), (_, _, b) in zip(metric.moves, inch.moves, strict=True):
        assert a.id == b.id
        for p, q in zip(a.positions, b.positions, strict=True):
            assert p.value_mm == q.value_mm
            shown = float(q.dial.text.replace("−", "-"))
            assert shown * 25.4 == pytest.approx(p.value_mm, abs=0.0001 * 25.4)
            assert q.unit == "in" and p.unit == "mm"


def test_no_millimetre_is_said_in_an_inch_plan(demo_shop: Shop) -> None:
    plan = plan_of(demo_shop, Options(machine="hazel"), "in")
    sentences = [m.words for _, _, m in plan.moves] + [o.note for s in plan.setups for o in s.operations]
    for words in sentences:
        assert not re.search(
            r"\d mm\b", re.sub(r"× [\d.]+ mm bright", "", words.replace("0.05 mm feeler", "")).replace("mm/min", "")
        ), words


def test_inch_working_adds_up_in_inches(demo_shop: Shop) -> None:
    plan = plan_of(demo_shop, Options(machine="hazel"), "in")
    far = next(p for _, _, m in plan.moves if m.id == "shoulder.far.finish2" for p in m.positions if p.axis == "Y")
    numbers = position_working(far).with_numbers.replace("−", "-").replace("- ", "-").replace("+ ", "+")
    assert sum(float(n) for n in numbers.split()) == pytest.approx(far.value_mm / 25.4, abs=0.0003)


def test_handwheels_keep_their_own_divisions_in_either_unit(demo_shop: Shop) -> None:
    metric, inch = plan_of(demo_shop, Options(machine="pip")), plan_of(demo_shop, Options(machine="pip"), "in")
    for (_, _, a), (_, _, b) in zip(metric.moves, inch.moves, strict=True):
        assert [p.dial.text for p in a.positions] == [p.dial.text for p in b.positions]


slots = st.builds(
    lambda neck, lip, wider, deeper: TSlot(
        label="slot",
        neck=Readings(values_mm=(neck,)),
        lip=Readings(values_mm=(lip,)),
        head=Readings(values_mm=(neck * wider + 2,)),
        depth=Readings(values_mm=(lip * deeper + 3,)),
    ),
    st.floats(8, 30),
    st.floats(4, 20),
    st.floats(1.3, 1.9),
    st.floats(1.6, 2.4),
)


@settings(max_examples=40)
@given(slots, st.integers(1, 12), st.sampled_from(["short", "staked", "pin", "blind"]), st.sampled_from(["full", "quick"]))
def test_any_slot_gets_a_plan_that_holds_together(slot: TSlot, pieces: int, stop: str, style: str) -> None:
    machine = Machine(id="m", name="M", kind=MachineKind.KNEE, slots=(slot,))
    shop = Shop(machines=(machine,))
    design = solve_for(FAMILY, shop, Request(pieces=pieces), read_choices(FAMILY, {"stud_stop": stop}))
    plan = plan_work("T-nut", FAMILY.work(design, shop), shop, Options(style=style))
    ids = [m.id for _, _, m in plan.moves]
    assert len(ids) == len(set(ids))
    for setup, _, move in plan.moves:
        assert setup.holding and (move.strokes or move.words)
        for p in move.positions:
            assert math.isfinite(p.value_mm)
            assert sum(t.value_mm for t in p.terms) == pytest.approx(p.value_mm)
    holes = [p.value_mm for _, _, m in plan.moves if m.id.startswith("holes.drill") for p in m.positions if p.axis == "X"]
    assert len(holes) == pieces
    length = design.values.number("length")
    assert all(b - a > length for a, b in pairwise(holes))
    assert plan.cut_length.value >= pieces * length


def test_every_machine_that_mills_is_offered(demo_shop: Shop) -> None:
    assert [m.name for m in milling_machines(demo_shop)] == ["Hazel", "Pip", "Old Margaret"]


def test_the_designs_own_machine_is_taken_when_it_mills(demo_shop: Shop) -> None:
    design = solve_for(FAMILY, demo_shop, Request(machine="pip"), {})
    work = FAMILY.work(design, demo_shop)
    assert plan_work("x", work, demo_shop, home="pip").machine == "Pip"
    assert plan_work("x", work, demo_shop, home="tam").machine == "Hazel"  # a lathe mills nothing
    assert plan_work("x", work, demo_shop, Options(machine="margaret"), home="pip").machine == "Old Margaret"


def test_a_chosen_bar_and_cutter_are_taken(demo_shop: Shop) -> None:
    plan = plan_of(demo_shop, Options(machine="hazel", bar="bar-5", cutter="end-mill-16"))
    assert plan.bar is not None and plan.bar.bar.id == "bar-5"
    assert any(o.tool == "end mill Ø16" for s in plan.setups if s.id == "shoulders" for o in s.operations)
    gone = plan_of(demo_shop, Options(machine="hazel", bar="no such bar", cutter="no such cutter"))
    assert gone.bar is not None  # back to the best
