"""The revolutions on a card against what is cut there: worked from the strokes, not from the planner's own tool.

A toolmaker found "M3, 1590 rpm" beside "power off, spindle by hand" on one card, and a bore of Ø50 at the speed of Ø20.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from functools import cache

import pytest
from msgspec.structs import replace

import making_record
from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.work import Blank, BoredHole, TurnedBore, TurnedKnurl, TurnedPart, TurnedThread, Work
from elbrix.making.options import Options
from elbrix.making.plan import Operation, Plan, Setup
from elbrix.making.planner import plan_work
from elbrix.making.speeds import slowest_for, speed_for
from elbrix.quantities.errors import ShopError
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import material

SHOP = shop_of(documents())
#: What turns with the power off.
BY_HAND = re.compile(r"[Pp]ower off|spindle by hand|\bBy hand with the spindle")
#: Rounding of what the table gives.
SLACK = 1.0 + 1e-6


@cache
def plans() -> dict[str, tuple[Plan, Work, Shop]]:
    found = {}
    for name, work, shop, how, measured, unit in making_record.works():
        try:
            found[name] = plan_work("P", work, shop, how, measured, unit=unit), work, shop
        except ShopError:
            continue
    return found


def operations() -> Iterator[tuple[Operation, Setup, Work, Machine | None]]:
    for plan, work, shop in plans().values():
        for setup in plan.setups:
            machine = next((m for m in shop.machines if m.id == (setup.machine_id or plan.machine_id)), None)
            for operation in setup.operations:
                yield operation, setup, work, machine


def words_of(operation: Operation) -> str:
    return " ".join([operation.note, *(f"{m.words} {m.caution} {m.lock}" for m in operation.moves)])


def test_nothing_that_is_done_by_hand_has_revolutions() -> None:
    by_hand = [o for o, *_ in operations() if BY_HAND.search(words_of(o))]
    assert len(by_hand) > 15
    assert not [(o.title, o.speed) for o in by_hand if o.speed is not None]


def cut_mm(operation: Operation, setup: Setup) -> float:
    """The largest Ø at which an edge meets metal: of the cutter in a mill and of a drill, of the work under a lathe's tool."""
    tool = operation.cutter
    assert tool is not None
    if tool.on == "lathe" and tool.kind != "drill":
        return 2 * max((abs(p[0]) for m in operation.moves for s in m.strokes for p in s.path), default=0.0)
    return tool.diameter_mm


def test_no_edge_is_faster_than_its_table() -> None:
    """π·D·n/1000 at the largest Ø of the strokes; only where the machine has nothing slower may it be more, and says so."""
    seen = lathe = 0
    for operation, setup, work, machine in operations():
        if operation.speed is None or operation.cutter is None or machine is None or not machine.speeds_rpm:
            continue
        # A lathe's tool runs in from beside the work: the stroke begins outside the metal.
        run_in = 4.0 + 0.6 if operation.cutter.on == "lathe" and operation.cutter.kind != "drill" else 0.0
        metal = material(work.blank.material)
        table = metal.carbide_m_min if "carbide" in operation.speed.derivation.source else metal.hss_m_min
        surface = math.pi * max(0.0, cut_mm(operation, setup) - run_in) * operation.speed.rpm / 1000
        slowest = operation.speed.rpm == min(machine.speeds_rpm)
        assert surface <= table * SLACK or slowest, (operation.title, surface, table)
        if slowest and surface > table * SLACK:
            assert operation.speed.caution, operation.title
        seen += 1
        lathe += operation.cutter.on == "lathe"
    assert seen > 400 and lathe > 60


def test_what_parts_and_grooves_goes_at_half() -> None:
    metal = material("mild steel")
    seen = 0
    for operation, _, work, machine in operations():
        if operation.cutter is None or operation.cutter.kind != "parting" or machine is None or operation.speed is None:
            continue
        metal = material(work.blank.material)
        outside = 2 * max(abs(p[0]) for m in operation.moves for s in m.strokes for p in s.path) - 4.0 - 0.6
        slow = operation.speed.rpm == min(machine.speeds_rpm, default=0)
        assert slow or math.pi * outside * operation.speed.rpm / 1000 <= metal.hss_m_min / 2 * SLACK, operation.title
        seen += 1
    assert seen > 5


def bored(size: float, x: float, y: float) -> tuple[Setup, Machine]:
    blank = Blank(width_mm=60, height_mm=20, length_mm=80, material="mild steel")
    work = Work(blank, (BoredHole(name="Seat", x_mm=x, y_mm=y, size_mm=size, thickness_mm=20, id="seat"),))
    bare = replace(SHOP, holders=tuple(h for h in SHOP.holders if h.kind.value != "boring head"))
    setup = next(s for s in plan_work("T", work, bare, home="hazel").setups if s.id == "seat")
    assert setup.fixture == "faceplate"
    return setup, SHOP.machine("tam")


@pytest.mark.parametrize("size", [14.0, 30.0, 50.0])
@pytest.mark.parametrize(("x", "y"), [(40.0, 0.0), (30.0, 0.0), (25.0, 20.0)])
def test_on_the_faceplate_it_neither_burns_the_edge_nor_shakes_the_lathe(size: float, x: float, y: float) -> None:
    """m·e·ω² of the whole block stays under 30 N, the edge under the table's speed of the bore."""
    setup, lathe = bored(size, x, y)
    mass, off = 0.080 * 0.060 * 0.020 * 7850, math.hypot(x - 40, y) / 1000
    for operation in setup.operations:
        if operation.speed is None:
            continue
        omega = operation.speed.rpm * math.pi / 30
        assert mass * off * omega**2 <= 30.0 or (
            operation.speed.rpm == min(lathe.speeds_rpm) and "Balance it first" in operation.speed.caution
        )
        widest = size if operation.cutter is not None and operation.cutter.kind == "boring" else operation.cutter.diameter_mm  # type: ignore[union-attr]
        assert math.pi * widest * operation.speed.rpm / 1000 <= material("mild steel").hss_m_min * SLACK


def test_what_cannot_go_slow_enough_is_balanced_first() -> None:
    lathe = Machine(id="l", name="Lathe", kind=MachineKind.LATHE, speeds_rpm=(300, 600))
    bar = Cutter(id="b", kind=CutterKind.END_MILL, diameter_mm=10, teeth=1)
    found = speed_for(lathe, bar, material("mild steel"), "Z", most_rpm=200)
    assert (
        found.rpm == 300
        and found.caution == "Balance it first: Lathe turns no slower than 300 rpm, and it throws from 200 rpm on"
    )
    assert "no faster than 200" in found.derivation.with_numbers
    within = speed_for(lathe, bar, material("mild steel"), "Z", most_rpm=400)
    assert within.rpm == 300 and not within.caution


def test_the_slowest_where_no_steps_are_known_is_a_quarter() -> None:
    bare = Machine(id="l", name="Lathe", kind=MachineKind.LATHE)
    bar = Cutter(id="b", kind=CutterKind.END_MILL, diameter_mm=20, teeth=1)
    metal = material("mild steel")
    usual, slow = speed_for(bare, bar, metal, "Z"), slowest_for(bare, bar, metal, "Z")
    whole = 1000 * metal.hss_m_min / (math.pi * 20)
    assert usual.rpm == math.floor(whole / 10) * 10 and slow.rpm == math.floor(whole / 40) * 10
    stepped = replace(bare, speeds_rpm=(90, 45, 500))
    assert slowest_for(stepped, bar, metal, "Z").rpm == 45


PIN = Blank(width_mm=20, height_mm=20, round_mm=20, length_mm=50, material="mild steel", along="+z", up="+x")


def turned(*steps: object) -> dict[str, Operation]:
    plan = plan_work("T", Work(PIN, (TurnedPart(name="Body", size_mm=20, length_mm=50, id="body"), *steps)), SHOP, Options())  # type: ignore[arg-type]
    return {o.title.split()[0]: o for s in plan.setups for o in s.operations}


def test_each_way_of_cutting_on_a_lathe_has_its_own_pace() -> None:
    """Ø20 mild steel, 24 m/min by hand: 382 rpm turned; on Tam's steps."""
    lathe = SHOP.machine("tam")
    steps = sorted(lathe.speeds_rpm)
    v = material("mild steel").hss_m_min

    def step(rpm: float) -> int:
        return max((s for s in steps if s <= rpm), default=steps[0])

    # With none on the rack a bar is bought a millimetre thicker; the demo shop has its own: the Ø it is turned from counts.
    found = turned(
        TurnedBore(name="Hole", size_mm=8, depth_mm=12, drilled=True, id="hole"),
        TurnedThread(name="Thread", thread="M12", from_mm=0, to_mm=10, id="thread"),
        TurnedKnurl(name="Knurl", pitch_mm=1, from_mm=20, to_mm=30, over_mm=20.4, id="knurl"),
    )
    face, part, drill = found["Face"], found["Part"], found["Drill"]
    assert face.speed is not None and part.speed is not None and drill.speed is not None
    outside = 2 * max(p[0] for m in part.moves for s in m.strokes for p in s.path) - 4.0
    assert face.speed.rpm == step(1000 * v / (math.pi * outside))
    assert part.speed.rpm == step(1000 * v / (math.pi * outside) / 2) < face.speed.rpm
    assert drill.speed.rpm == step(0.8 * 1000 * v / (math.pi * 8)) > face.speed.rpm
    assert found["Thread"].speed is None
    knurl = found["Knurl"].speed
    assert knurl is not None and knurl.rpm == steps[0]


def test_a_drill_that_only_opens_a_hole_goes_at_half_a_drills_speed() -> None:
    seen = 0
    for operation, _, work, machine in operations():
        if operation.title.startswith("Finish with the second drill") and machine is not None and machine.speeds_rpm:
            assert operation.speed is not None and operation.cutter is not None
            v = math.pi * operation.cutter.diameter_mm * operation.speed.rpm / 1000
            assert v <= 0.4 * material(work.blank.material).hss_m_min * SLACK or operation.speed.rpm == min(machine.speeds_rpm)
            seen += 1
    assert seen


def test_a_boring_bar_is_drawn_inside_its_bore() -> None:
    """On the faceplate and in the chuck: the tip at the Ø that is cut, no corner of the bar further out."""
    from elbrix.rehearsal.pictures import setup_scene

    seen = set()
    for plan, *_ in plans().values():
        for setup in plan.setups:
            for operation in setup.operations:
                if operation.cutter is None or operation.cutter.kind != "boring" or operation.cutter.on != "lathe":
                    continue
                move = next(m for m in reversed(operation.moves) if m.strokes)
                radius = abs(move.strokes[-1].path[-1][0])
                scene = setup_scene(plan, setup, move, cells=40)
                assert scene is not None
                bar = next(e for e in scene.elements if getattr(e, "feature", "") == "cutter")
                assert max(y for _, y in bar.points) == pytest.approx(radius) and min(y for _, y in bar.points) > -radius  # type: ignore[union-attr]
                seen.add(setup.fixture)
    assert seen == {"chuck", "faceplate"}


@pytest.mark.parametrize(("begins", "ends", "size"), [(0.0, 10.0, "M12"), (5.0, 17.5, "M12"), (8.0, 20.0, "M20")])
def test_a_thread_is_as_long_as_it_is(begins: float, ends: float, size: str) -> None:
    """From where it begins to where it ends, by die and by the tool; the number is where it ends."""
    found = turned(TurnedThread(name="Thread", thread=size, from_mm=begins, to_mm=ends, id="thread"))["Thread"]
    (move,) = found.moves
    z = next(p.value_mm for p in move.positions if p.axis == "Z")
    assert z == pytest.approx(-ends)
    if size == "M12":
        assert f"over {ends - begins:g} mm" in move.words and found.speed is None
    else:
        x = next(p for p in move.positions if p.axis == "X")
        depth = sum(t.value_mm for t in x.terms if "depths" in t.words) * (
            2.0 if x.per_mm == 1.0 else 1.0
        )  # a slide that reads radii
        assert depth == pytest.approx(-2 * 0.6134 * 2.5, abs=1e-6) and found.speed is not None
