"""Cutting plans rehearsed: the bar cut with exactly the numbers on the card, and what is left compared with what was asked."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.designs import blank_of, family_of, plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.work import Blank, PieceHole, Shoulder, TappedHole, Work
from elbrix.making.options import Options
from elbrix.making.plan import Plan, Setup
from elbrix.making.planner import milling_machines, plan_work
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind

#: What a dial's steps and a wall between two samples may cost, mm.
_DIAL = 0.03


def at(move: object, axis: str) -> float | None:
    return next((p.value_mm for p in move.positions if p.axis == axis), None)  # type: ignore[attr-defined]


def cutter_of(shop: Shop, tool: str) -> Cutter:
    return next(c for c in shop.cutters if c.title == tool)


def cut_across(shop: Shop, setup: Setup, across: float, samples: np.ndarray) -> np.ndarray:
    """How deep the bar is cut below its top at each place across it, after every move of a setup."""
    deep = np.zeros_like(samples)
    for operation in setup.operations:
        for move in operation.moves:
            y, z = at(move, "Y"), at(move, "Z")
            if y is None or z is None or z >= 0:
                continue
            cutter = cutter_of(shop, operation.tool)
            half = (cutter.width_mm if cutter.kind is CutterKind.SIDE_AND_FACE else cutter.diameter_mm) / 2
            under = np.abs(samples - y) <= half
            deep[under] = np.maximum(deep[under], -z)
    return deep


def asked_across(work: Shoulder, across: float, samples: np.ndarray) -> np.ndarray:
    stands = np.abs(samples - work.off_mm) <= work.width_mm / 2
    return np.where(stands, 0.0, work.depth_mm)


def near_a_wall(work: Shoulder, samples: np.ndarray) -> np.ndarray:
    walls = [work.off_mm - work.width_mm / 2, work.off_mm + work.width_mm / 2]
    return np.min([np.abs(samples - w) for w in walls], axis=0) < _DIAL


def rehearse(shop: Shop, plan: Plan, work: Work) -> None:
    """Every shoulder of a plan: no gouge, nothing left standing, but for the steps of the dial at its walls."""
    across = work.blank.width_mm
    samples = np.linspace(-across / 2 + 0.011, across / 2 - 0.011, 901)
    for step in (s for s in work.steps if isinstance(s, Shoulder)):
        setup = next(s for s in plan.setups if s.id == ("shoulders" if step.id == "shoulder" else step.id))
        left = cut_across(shop, setup, across, samples) - asked_across(step, across, samples)
        sound = ~near_a_wall(step, samples)
        assert left[sound].max() < _DIAL, f"{step.name}: it gouges"
        assert left[sound].min() > -_DIAL, f"{step.name}: metal is left"


DESIGNS = [d for d in documents() if isinstance(d, DesignDoc)]


@pytest.mark.parametrize("id", [d.id for d in DESIGNS if d.family != "sine_plate"])
@pytest.mark.parametrize("which", range(3))
def test_shoulders_of_every_demo_design_on_every_machine(id: str, which: int, demo_shop: Shop) -> None:
    mills = milling_machines(demo_shop)
    assert len(mills) == 3
    doc = next(d for d in DESIGNS if d.id == id)
    design = solve_doc(doc, demo_shop)
    work = family_of(doc).work(design, demo_shop)
    rehearse(demo_shop, plan_work(doc.title, work, demo_shop, home=mills[which].id), work)


@settings(max_examples=40, deadline=None)
@given(st.floats(6, 30), st.floats(0.2, 0.9), st.floats(-1, 1), st.floats(0.1, 0.8))
def test_any_shoulder_off_the_middle(demo_shop: Shop, across: float, share: float, off: float, deep: float) -> None:
    stands = across * share
    work = Work(
        Blank(width_mm=across, height_mm=12.0, length_mm=30.0),
        (Shoulder(name="Step", width_mm=stands, depth_mm=12 * deep, off_mm=off * (across - stands) / 2, id="step"),),
    )
    plan = plan_work("Any", work, demo_shop, home="hazel")
    setup = next((s for s in plan.setups if s.id == "step"), None)
    assert setup is not None
    ledges = [across / 2 - stands / 2 - sign * work.steps[0].off_mm for sign in (1, -1)]  # type: ignore[union-attr]
    mill = cutter_of(demo_shop, next(o.tool for o in setup.operations if "shoulder" in o.title))
    if max(ledges) > mill.diameter_mm:
        return  # wider than one pass of the thickest cutter: the plan says so elsewhere
    rehearse(demo_shop, plan, work)


def test_a_side_with_nothing_to_take_off_is_left_alone(demo_shop: Shop) -> None:
    step = Shoulder(name="Step", width_mm=10, depth_mm=4, off_mm=2.5, id="step")
    plan = plan_work("One side", Work(Blank(width_mm=15, height_mm=12, length_mm=30), (step,)), demo_shop, home="hazel")
    titles = [o.title for s in plan.setups if s.id == "step" for o in s.operations]
    assert titles == ["Find zero", "Near shoulder (−Y)", "Deburr"]


def test_two_shoulders_keep_their_measured_sizes_apart(demo_shop: Shop) -> None:
    blank = Blank(width_mm=20, height_mm=14, length_mm=30)
    steps = tuple(Shoulder(name=n, width_mm=12, depth_mm=4, id=n) for n in ("one", "two"))
    work = Work(blank, steps)
    asked = {m.asked.key for _, _, m in plan_work("Two", work, demo_shop, home="hazel").moves if m.asked}
    assert {"one.first_shoulder", "one.neck", "two.first_shoulder", "two.neck"} <= asked
    plain = plan_work("Two", work, demo_shop, home="hazel")
    moved = plan_work("Two", work, demo_shop, measured={"one.first_shoulder": 16.2}, home="hazel")
    for name, same in (("one", False), ("two", True)):
        before, after = (
            [at(m, "Y") for s in p.setups if s.id == name for m in s.moves if m.id.startswith(f"{name}.near")]
            for p in (plain, moved)
        )
        assert (before == after) is same


def holes_cut(shop: Shop, setup: Setup) -> dict[tuple[float, float], dict[str, float]]:
    """Deepest each kind of tool goes, by place."""
    found: dict[tuple[float, float], dict[str, float]] = {}
    for operation in setup.operations:
        for move in operation.moves:
            x, y, z = (at(move, axis) for axis in "XYZ")
            if x is not None and y is not None and z is not None and z < 0:
                deepest = found.setdefault((round(x, 2), round(y, 2)), {})
                kind = cutter_of(shop, operation.tool).kind.value
                deepest[kind] = max(deepest.get(kind, 0.0), -z)
    return found


def test_bored_holes_go_where_and_as_deep_as_asked(demo_shop: Shop) -> None:
    hole = PieceHole(name="Holes", thickness_mm=12, drill_mm=5.5, bore_mm=10, bore_depth_mm=5.3, off_mm=-0.25)
    blank = Blank(width_mm=14, height_mm=12, length_mm=20, pieces=3)
    plan = plan_work("Bores", Work(blank, (hole,)), demo_shop, home="hazel")
    cut = holes_cut(demo_shop, next(s for s in plan.setups if s.id == "bores"))
    assert len(cut) == 3 and {y for _, y in cut} == {-0.25}
    xs = sorted(x for x, _ in cut)
    assert xs[1] - xs[0] == pytest.approx(xs[2] - xs[1], abs=0.02) and xs[1] - xs[0] > 20
    for tools in cut.values():
        assert tools["drill"] > 12 + 0.3 * 5.5  # the point is through
        assert tools["end mill"] == pytest.approx(5.3, abs=0.011) and tools["spot drill"] < 3


def test_tapped_and_bored_holes_of_a_batch_stand_at_the_same_places(demo_shop: Shop) -> None:
    blank = Blank(width_mm=18, height_mm=14, length_mm=22, pieces=4)
    tapped = plan_work(
        "T", Work(blank, (TappedHole(name="H", thread="M6x1", thickness_mm=14, countersink_mm=6.3),)), demo_shop, home="hazel"
    )
    bored = plan_work(
        "B",
        Work(blank, (PieceHole(name="H", thickness_mm=14, drill_mm=5.5, bore_mm=10, bore_depth_mm=4),)),
        demo_shop,
        home="hazel",
    )
    places = [
        sorted({at(m, "X") for s in p.setups if s.id == setup for m in s.moves if m.id.startswith(moves)})
        for p, setup, moves in ((tapped, "holes", "holes.drill"), (bored, "bores", "bores.drill"))
    ]
    assert places[0] == places[1] and len(places[0]) == 4


def test_pieces_come_out_of_the_bar_with_their_allowance(demo_shop: Shop) -> None:
    for doc in DESIGNS:
        plan = plan_doc(doc, solve_doc(doc, demo_shop), demo_shop)
        blank = blank_of(doc, demo_shop)
        cuts = [at(m, "X") for s in plan.setups if s.id == "part" for m in s.moves if m.id.startswith("part.")]
        places = [c for c in cuts if c is not None]
        edges = [0.0, *places, plan.cut_length.value]
        assert len(places) == blank.pieces - 1
        assert all(b - a >= blank.length_mm for a, b in pairwise(edges))


def test_a_chosen_cutter_is_used_and_rehearses_as_well(demo_shop: Shop) -> None:
    doc = next(d for d in DESIGNS if d.id == "t-nut-hazel")
    work = family_of(doc).work(solve_doc(doc, demo_shop), demo_shop)
    base = plan_doc(doc, solve_doc(doc, demo_shop), demo_shop)
    thick = max((c for c in demo_shop.cutters if c.kind is CutterKind.END_MILL), key=lambda c: c.diameter_mm)
    plan = plan_work(doc.title, work, demo_shop, Options(cutter=thick.id), home="hazel")
    tools = {o.tool for s in plan.setups if s.id == "shoulders" for o in s.operations if "shoulder" in o.title}
    assert tools == {thick.title} and base.setups[2].id == "shoulders"
    rehearse(demo_shop, plan, work)
    spring = plan_work(doc.title, work, demo_shop, replace(Options(), spring_pass=True), home="hazel")
    rehearse(demo_shop, spring, work)
