"""Gibs: laid into the dovetail they were measured for, weighed, and their slants cut again from the strokes."""

from __future__ import annotations

import math

import numpy as np
import pytest
from shapely import Polygon
from shapely.affinity import rotate, translate

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.families.gib.sizes import GibSizes
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

FAMILY = find_family("gib")
SHOP = shop_of(documents())
BASE = {
    "kind": "dovetail",
    "flank_angle": "60",
    "way_height": "12",
    "old_thickness": "5",
    "slack": "0.4",
    "clearance": "0.02",
    "allowance": "0.05",
    "thickness": "5.38",
    "width": "12.8",
    "length": "120",
    "screws": "4",
    "end_distance": "15",
    "screw": "M5",
    "torque": "0.3",
    "material": "mild steel",
}
KINDS = [BASE, {**BASE, "kind": "square"}, {**BASE, "drop": "2"}, {**BASE, "kind": "square", "drop": "2", "screws": "0"}]


def solved(typed: dict[str, str], shop: Shop = SHOP) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def planned(typed: dict[str, str]) -> Plan:
    return plan_work("T", FAMILY.work(solved(typed), SHOP), SHOP, home="hazel")


def check(typed: dict[str, str], key: str) -> tuple[float, Verdict]:
    found = next(c for c in solved(typed).checks if c.key == key)
    return found.value, found.verdict


def test_its_sizes_by_hand() -> None:
    d = solved(BASE)
    # 0.4 sideways is 0.3464 square to a flank of 60°; 5 + 0.3464 − 0.02.
    assert d.figure("fitted").value == pytest.approx(5.3264, abs=1e-4)
    assert d.figure("bevel").value == pytest.approx(30.0)
    assert d.figure("overall").value == pytest.approx(12.8 + 5.38 * math.tan(math.radians(30)))
    assert d.figure("apart").value == 30.0
    free = solved({k: v for k, v in BASE.items() if k != "thickness"})
    assert free.values.number("thickness") == pytest.approx(5.38)  # 5.3764, up to a hundredth
    square = solved({**BASE, "kind": "square"})
    assert square.figure("fitted").value == pytest.approx(5.38) and square.figure("overall").value == pytest.approx(12.8)


def test_laid_into_its_dovetail_the_play_is_what_is_left() -> None:
    """Way and slide drawn as they are: the gib as fitted between their flanks, the slide pushed till it meets it."""
    beta, high = math.radians(60), 12.0
    old, slack = 5.0, 0.4
    s = GibSizes(solved(BASE).values)
    # The flank of the way leans over from the origin; the slide's is parallel, one old gib and the play farther, sideways.
    away = old / math.sin(beta) + slack
    way = Polygon([(0, 0), (high / math.tan(beta), high), (-40, high), (-40, 0)])
    top = high / math.tan(beta)
    slide = Polygon([(away, 0), (away + top, high), (away + top + 40, high), (away + 40, 0)])
    # The gib's section, as thick as fitted, on the flank: its lower face along it.
    ring = [(y, z * s.fitted / s.thick) for y, z in s.section]
    turned = rotate(Polygon(ring), 60 - 180, origin=(0, 0))
    low, high_y = turned.bounds[1], turned.bounds[3]
    gib = translate(turned, 0, (12 - (high_y - low)) / 2 - low)
    # Slid sideways till it touches the way.
    step = 20.0
    gib = translate(gib, 30, 0)
    for _ in range(60):
        moved = translate(gib, -step, 0)
        if moved.intersection(way).area > 1e-12 or moved.bounds[0] < -60:
            step /= 2
        else:
            gib = moved
    # The slide pushed against it.
    push, step = 0.0, 1.0
    for _ in range(60):
        if translate(slide, -(push + step), 0).intersection(gib).area > 1e-12:
            step /= 2
        else:
            push += step
    # 0.02 square to the flank is 0.023 sideways.
    assert push == pytest.approx(0.02 / math.sin(beta), abs=2e-3)


@pytest.mark.parametrize(
    ("typed", "key", "verdict"),
    [
        ({"thickness": "5.3"}, "to_fit", Verdict.NO_GO),
        ({"thickness": "5.34"}, "to_fit", Verdict.MARGINAL),
        ({"thickness": "5.6"}, "to_fit", Verdict.MARGINAL),
        ({"thickness": "6"}, "to_fit", Verdict.NO_GO),
        ({"width": "13.9"}, "clears_root", Verdict.NO_GO),  # the flank is 13.86
        ({"width": "13.5"}, "clears_root", Verdict.MARGINAL),
        ({"length": "400"}, "stiff", Verdict.MARGINAL),
        ({"drop": "4", "screws": "0"}, "holds_itself", Verdict.MARGINAL),
        ({"drop": "0.5"}, "holds_itself", Verdict.MARGINAL),
        ({"drop": "3.3"}, "floor", Verdict.MARGINAL),
        ({"torque": "2"}, "even", Verdict.MARGINAL),
        ({"torque": "8", "screws": "2", "length": "200"}, "even", Verdict.NO_GO),
    ],
)
def test_every_check_is_seen_to_refuse(typed: dict[str, str], key: str, verdict: Verdict) -> None:
    assert check({**BASE, **typed}, key)[1] is verdict


def test_the_bulge_is_a_beam_clamped_at_its_ends() -> None:
    """Integrated: M = F/2·(x − a/4) over half the span, curvature M/(E·I) twice."""
    typed = {**BASE, "torque": "2"}
    force = 2 / (0.2 * 0.005)
    a, b, t, e = 30.0, 12.8, 5.38, 205_000.0
    x = np.linspace(0, a / 2, 20001)
    slope = np.cumsum(force / 2 * (x - a / 4)) * (x[1] - x[0]) / (e * b * t**3 / 12)
    sag = abs(np.sum(slope) * (x[1] - x[0]))
    d = solved(typed)
    young = d.values.word("material")
    assert young == "mild steel"
    assert check(typed, "even")[0] == pytest.approx(sag, rel=0.03)


@pytest.mark.parametrize(
    ("typed", "entry"),
    [
        ({"drop": "5"}, "drop"),
        ({"width": "4.5"}, "width"),
        ({"end_distance": "60"}, "end_distance"),
        ({"thickness": "1.4"}, "screw"),
    ],
)
def test_what_is_no_such_strip_is_refused_beside_its_entry(typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved({**BASE, **typed})
    assert refused.value.entry == entry and refused.value.why and refused.value.do


@pytest.mark.parametrize("typed", KINDS, ids=lambda t: t["kind"] + t.get("drop", ""))
def test_weighed_rehearsed_and_slips_found(typed: dict[str, str], kernel: Kernel) -> None:
    d = solved(typed)
    s = GibSizes(d.values)
    r = s.dimple / 2
    dimples = s.screws * math.pi * r * r * (0.4 + r / math.tan(math.radians(59)) / 3)
    assert kernel.ask("mass", FAMILY.solid(d))["volume_mm3"] == pytest.approx(s.volume - dimples, rel=1e-6)
    plan = planned(typed)
    assert rehearse(plan).clean
    last = next(m for _, _, m in reversed(list(plan.moves)) if m.strokes and any(p.axis == "Z" for p in m.positions))
    z = next(p for p in last.positions if p.axis == "Z")
    wrong = rehearse(plan, Slips(keyed={(last.id, "Z"): z.dial.set_mm - 0.3}))
    assert wrong.wrong_at == last.id and any(f.kind == "gouge" for f in wrong.findings)


def test_the_slants_lie_level_where_they_are_cut() -> None:
    """Both corners of each slant, carried into its setup's frame, come to the number of its last pass."""
    plan = planned(BASE)
    s = GibSizes(solved(BASE).values)
    (ay, az), (by, bz), (cy, cz), (dy, dz) = s.section
    for name, corners in (("bevel_b", ((by, bz), (cy, cz))), ("bevel_d", ((ay, az), (dy, dz)))):
        setup = next(x for x in plan.setups if x.id == name)
        assert setup.pose is not None
        last = [m for m in setup.moves if m.strokes][-1]
        z = next(p.value_mm for p in last.positions if p.axis == "Z")
        for y, up in corners:
            there = np.array(setup.pose.rotation) @ np.array((50.0, y, up)) + np.array(setup.pose.offset)
            assert there[2] == pytest.approx(z, abs=1e-9)
