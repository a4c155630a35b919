"""Layouts an independent audit found flattering, worked by another road: loose stops, pressure under the tips, weak bodies."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import linprog

from elbrix.book.documents import shop_of
from elbrix.book.layouts import solve_doc
from elbrix.demo import documents
from elbrix.holding.bolted import stands_n
from elbrix.holding.contacts import ClampForce, Contact, HeldPart, Load, wrench
from elbrix.holding.limit import LimitSolver
from elbrix.holding.margin import ENOUGH, LOW_SHARE
from elbrix.holding.seats import pressed_contacts
from elbrix.mechanics.strength import preload_n
from elbrix.results.checks import Verdict
from layouts_tools import doc, thing

SHOP = shop_of(documents())


def verdict(hold: object, key: str) -> Verdict:
    return next(c for c in hold.checks if c.key == key).verdict  # type: ignore[attr-defined]


def by_program(held: HeldPart, load: Load, sides: int = 48) -> float:
    """The same limit as a linear programme with inscribed cones, bounds on what is weak and on what grips."""
    columns, rows = [], []
    for i, c in enumerate(held.contacts):
        n = np.array(c.inward)
        u = np.cross(n, (1, 0, 0) if abs(n[0]) < 0.9 else (0, 1, 0))
        u = u / np.linalg.norm(u)
        v = np.cross(n, u)
        for k in range(sides if c.mu else 1):
            a = 2 * math.pi * k / sides
            columns.append(wrench(c.at, n + c.mu * (math.cos(a) * u + math.sin(a) * v)))
            rows.append(("contact", i))
    for j, p in enumerate(held.forces):
        if not p.grip_n:
            continue
        n = np.array(p.along)
        u = np.cross(n, (1, 0, 0) if abs(n[0]) < 0.9 else (0, 1, 0))
        u = u / np.linalg.norm(u)
        v = np.cross(n, u)
        for k in range(sides):
            a = 2 * math.pi * k / sides
            columns.append(wrench(p.at, math.cos(a) * u + math.sin(a) * v))
            rows.append(("grip", j))
    given = wrench(held.cg, (0, 0, -held.weight_n)) + sum(
        (wrench(p.at, np.array(p.along) * p.force_n) for p in held.forces), np.zeros(6)
    )
    cut = wrench(load.at, load.force_n) + np.concatenate([np.zeros(3), load.moment_nmm])
    equal = np.column_stack([*columns, cut])
    limits, most = [], []
    for i, c in enumerate(held.contacts):
        if math.isfinite(c.most_n):
            limits.append([1.0 if r == ("contact", i) else 0.0 for r in rows] + [0.0])
            most.append(c.most_n)
    for j, p in enumerate(held.forces):
        if p.grip_n:
            limits.append([1.0 if r == ("grip", j) else 0.0 for r in rows] + [0.0])
            most.append(p.grip_n)
    size = np.array([1, 1, 1, 50, 50, 50.0])
    found = linprog(
        [0.0] * len(columns) + [-1.0],
        A_eq=equal / size[:, None],
        b_eq=-given / size,
        A_ub=np.array(limits) if limits else None,
        b_ub=most or None,
    )
    return math.inf if found.status == 3 else float(found.x[-1]) if found.status == 0 else 0.0


def test_weak_and_gripping_contacts_agree_with_a_linear_programme() -> None:
    random = np.random.default_rng(11)
    tried = 0
    for _ in range(60):
        contacts = [Contact((x, y, 0.0), (0, 0, 1), 0.15, "seat") for x in (-60.0, 60.0) for y in (-40.0, 40.0)]
        contacts += [
            Contact((-60, random.uniform(-30, 30), 8), (1, 0, 0), 0.0, "stop a", passive=True, most_n=random.uniform(200, 3000)),
            Contact((random.uniform(-30, 30), -40, 8), (0, 1, 0), 0.1, "stop b", most_n=random.uniform(200, 3000)),
        ]
        forces = (
            ClampForce(
                (random.uniform(-40, 40), random.uniform(-20, 20), 20), (0, 0, -1), random.uniform(500, 6000), 0.0, "strap"
            ),
            ClampForce((-60, 0, 8), (1, 0, 0), 0.0, 0.15, "stop a", random.uniform(0, 2000)),
        )
        held = HeldPart(contacts=tuple(contacts), forces=forces, weight_n=20.0, cg=(0, 0, 10))
        a = random.uniform(0, 2 * math.pi)
        load = Load((random.uniform(-60, 60), random.uniform(-40, 40), 18), (500 * math.cos(a), 500 * math.sin(a), 150))
        got = LimitSolver(held).solve([load])[0].factor
        assert got is not None
        want = by_program(held, load)
        # A cone of 48 sides lies inside the true one, by cos(π/48) at the most.
        assert want * (1 - 1e-6) <= got <= want / math.cos(math.pi / 48) * (1 + 1e-6)
        tried += 1
    assert tried == 60


@pytest.mark.parametrize("turned", ["0", "30"])
def test_stops_that_face_each_other_with_nothing_that_presses_hold_nothing(turned: str) -> None:
    stops = (
        thing("stop", slot="middle slot", x="-85", direction="0"),
        thing("stop", slot="middle slot", x="85", direction="180"),
    )
    hold = solve_doc(doc(*stops, length="100", width="60", height="20", cut="heavy", angle=turned), SHOP)
    assert hold.margin.motion.mode == "loose" and verdict(hold, "margin") is Verdict.NO_GO


def test_pressure_stands_under_the_tips_and_not_at_the_far_corners() -> None:
    """A long plate with its two straps near the middle turns long before a plate pressed at its corners would."""
    straps = (
        thing("strap", slot="front slot", x="15", direction="90", stud_to_tip="30", torque="20", clamp="strap-80"),
        thing("strap", slot="rear slot", x="-15", direction="-90", stud_to_tip="30", torque="20", clamp="strap-80"),
    )
    for length in ("200", "300"):
        hold = solve_doc(
            doc(*straps, length=length, width="90", height="10", cut="medium", cutter_path="points", places="95,0; -95,0"), SHOP
        )
        assert hold.margin.rests, [p.problem for _, _, p in hold.elements]
        tips = [p for p in hold.held.forces if p.force_n > 0]
        reach = max(math.hypot(abs(p.at[0]) + 16, abs(p.at[1]) + 16) for p in tips)
        most = 0.15 * (sum(p.force_n for p in tips) + hold.held.weight_n + 0.0) * reach
        arm = 95.0
        force = hold.cutting.force.sideways_n
        assert hold.margin.least <= most / (force * arm) * (1 + 1e-6)  # all friction as far out as any pad reaches


def test_a_seat_gives_no_friction_where_nothing_presses() -> None:
    ring = ((-100.0, -45.0), (100.0, -45.0), (100.0, 45.0), (-100.0, 45.0))
    found = pressed_contacts((ring,), 0.0, 10.0, 0.15, (ClampForce((0, 0, 10), (0, 0, -1), 1000),), (0, 0, 5))
    rubbing = [c for c in found if c.mu]
    assert {c.at[:2] for c in found if not c.mu} == set(ring)
    assert max(abs(c.at[0]) for c in rubbing) == pytest.approx(16) and max(abs(c.at[1]) for c in rubbing) == pytest.approx(16)


def test_a_stop_bears_what_the_friction_of_its_bolt_gives() -> None:
    bears = stands_n(25, 0.2)
    assert bears == pytest.approx(0.15 * LOW_SHARE * 25_000 / (0.2 * 10)) and bears < 1500
    stop = thing("stop", slot="middle slot", x="-85", direction="0", bolt_torque="25")
    strap = thing("strap", slot="middle slot", x="90", direction="180", stud_to_tip="44", torque="2", clamp="strap-100")
    hold = solve_doc(
        doc(stop, strap, length="100", width="60", height="20", cut="milling", depth_of_cut="8", width_of_cut="12", feed="0.2"),
        SHOP,
    )
    weak = next(c for c in hold.held.contacts if c.passive)
    assert weak.most_n == pytest.approx(bears)
    # Straight against the stop: what it bears, and what friction the strap earns, and no more.
    pressed = sum(p.force_n for p in hold.held.forces if -p.along[2] > 0.5) + hold.held.weight_n
    limit = LimitSolver(hold.held).solve([Load((0, 0, weak.at[2]), (-1000, 0, 0))])[0].factor
    assert limit is not None and limit * 1000 <= bears + 0.15 * pressed + 1e-3


def test_a_toe_clamp_that_pushes_harder_than_its_own_bolt_holds_is_no_go() -> None:
    def stays(torque: str, bolt: str) -> Verdict:
        toe = thing("toe", slot="middle slot", x="90", direction="180", torque=torque, bolt_torque=bolt)
        return verdict(solve_doc(doc(toe, length="100", width="60", height="20"), SHOP), "0.stays")

    assert stays("1", "25") is Verdict.GO and stays("2.2", "25") is Verdict.MARGINAL and stays("8", "25") is Verdict.NO_GO
    push = preload_n(8, 0.2, 10) * math.cos(math.radians(10))
    assert stands_n(25, 0.2) / push < 1 < ENOUGH


def test_the_worst_direction_is_looked_for_at_the_worst_place() -> None:
    hold = solve_doc(next(d for d in documents() if getattr(d, "id", "") == "hold-dial"), SHOP)  # type: ignore[arg-type]
    place = hold.cutting.loads[hold.margin.worst]
    size = math.hypot(*place.force_n[:2])
    every = [
        LimitSolver(hold.held)
        .solve([Load(place.at, (size * math.cos(math.radians(a)), size * math.sin(math.radians(a)), place.force_n[2]))])[0]
        .factor
        for a in range(0, 360, 3)
    ]
    assert hold.margin.least <= min(f for f in every if f is not None) * 1.002


# --- heels, parallels, tapping, bays ------------------------------------------------------------------------------------------


def test_a_heel_in_the_work_or_off_the_table_is_no_place() -> None:
    inside = thing("strap", slot="middle slot", x="0", direction="0", stud_to_tip="36", clamp="strap-100")
    u = "0,0; 120,0; 120,80; 90,80; 90,30; 30,30; 30,80; 0,80"
    hold = solve_doc(doc(inside, shape="outline", outline=u, height="20"), SHOP)
    assert "heel would stand in the work" in hold.elements[0][2].problem and not hold.held.forces
    hazel = next(m for m in SHOP.machines if m.id == "hazel")
    front = min(hazel.slots, key=lambda s: s.offset_mm)
    over = thing("strap", slot=front.label, x="0", direction="90", stud_to_tip="20", clamp="strap-100")
    edge = solve_doc(doc(over, length="100", width=f"{-2 * (front.offset_mm + 10):g}", height="20"), SHOP)
    assert "over the table's edge" in edge.elements[0][2].problem


def test_a_drill_that_comes_through_meets_the_parallels() -> None:
    vise = thing("vise", vise="vise-125", torque="25")
    base = {
        "length": "90", "width": "60", "height": "34", "cut": "drilling", "cutter": "drill-8.5", "cutter_path": "points",
        "depth_below_top": "36",
    }  # fmt: skip
    beside = solve_doc(doc(vise, places="0,0", **base), SHOP)
    over = solve_doc(doc(vise, places="0,27", **base), SHOP)
    assert verdict(beside, "reach") is Verdict.GO
    assert any("parallels" in c.what for c in over.clashes) and verdict(over, "reach") is Verdict.NO_GO


def test_tapping_turns_the_work_both_ways() -> None:
    straps = tuple(
        thing("strap", slot="middle slot", x=x, direction=turn, stud_to_tip="30", torque="20", clamp="strap-100")
        for x, turn in (("74", "180"), ("-74", "0"))
    )
    tap = next(c for c in SHOP.cutters if c.kind.value == "tap")
    hold = solve_doc(
        doc(*straps, length="100", width="60", height="20", cut="tapping", cutter=tap.id, cutter_path="points", places="0,0"),
        SHOP,
    )
    moments = sorted(load.moment_nmm[2] for load in hold.cutting.loads)
    assert len(moments) == 2 and moments[0] == -moments[1] < 0 and all(load.force_n == (0, 0, 0) for load in hold.cutting.loads)
    assert hold.margin.motion.mode == "spin" and "flat" in hold.margin.motion.words


def test_a_path_round_a_bay_is_nowhere_nearer_than_the_cutter() -> None:
    from shapely.geometry import Point as Spot
    from shapely.geometry import Polygon

    from elbrix.holding.cut import around

    u = ((0.0, 0.0), (120.0, 0.0), (120.0, 80.0), (90.0, 80.0), (90.0, 30.0), (30.0, 30.0), (30.0, 80.0), (0.0, 80.0))
    path = around(u, 8.0)
    away = [Polygon(u).exterior.distance(Spot(p)) for p in path]
    assert min(away) >= 8.0 and max(away) == pytest.approx(8.01, abs=0.02)
    assert any(30 < x < 90 and y > 35 for x, y in path)  # it goes into the bay


def test_motions_are_named_by_axis_and_place() -> None:
    vise = thing("vise", vise="vise-125", torque="3")
    tall = solve_doc(doc(vise, length="60", width="40", height="120", cut="heavy", depth_below_top="5"), SHOP)
    assert tall.margin.motion.mode in ("tip", "turn", "pull-out", "slip") and any(
        w in tall.margin.motion.words for w in ("edge", "axis", "X", "grip", "slides")
    )
    v = [Contact((x, s * 10, 10), (0, -s, 1), 0.1, "v") for x in (-30.0, 30.0) for s in (-1, 1)]
    strap = ClampForce((0, 0, 34), (0, 0, -1), 1000.0, 0.0, "strap")
    held = HeldPart(contacts=tuple(v), forces=(strap,), weight_n=10, cg=(0, 0, 20))
    from elbrix.holding.motion import name_motion

    load = Load((0, 0, 20), (0, 0, 0), (1000.0, 0, 0))
    found = name_motion(held, load, LimitSolver(held).solve([load])[0])
    assert found.mode == "turn" and "own axis" in found.words
