"""What runs into the jaws does so wherever Y is zero, and what does not, does not."""

from __future__ import annotations

import itertools
import math
from typing import Final

import numpy as np
import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.drawing.scene import Path
from elbrix.making.options import Options
from elbrix.making.plan import Plan, Setup
from elbrix.making.planner import plan_work
from elbrix.making.strokes import Stroke, Tool
from elbrix.rehearsal.clearances import in_the_way
from elbrix.rehearsal.distances import silhouette, to_outline, to_stroke
from elbrix.rehearsal.pictures import setup_scene
from elbrix.rehearsal.section import extent, metal, within_metal

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())


def planned(id: str, datum: str) -> Plan:
    doc = DOCS[id]
    return plan_work(doc.title, family_of(doc).work(solve_doc(doc, SHOP), SHOP), SHOP, Options(datum=datum), home=doc.machine)  # type: ignore[arg-type]


def collisions(plan: Plan, jaws_mm: float | None) -> list[tuple[str, float]]:
    """Move and depth of each; with all jaws so far below the top, or as planned."""
    if jaws_mm is not None:
        plan = replace(plan, setups=tuple(replace(s, jaws_mm=jaws_mm) if s.jaws_mm else s for s in plan.setups))
    return sorted((f.move, round(f.thickness_mm, 6)) for f in in_the_way(plan, SHOP) if f.kind == "collision")


@pytest.mark.parametrize("id", sorted(DOCS))
def test_neither_datum_sees_what_the_other_does_not(id: str) -> None:
    middle, corner = planned(id, "middle"), planned(id, "corner")
    assert collisions(middle, None) == collisions(corner, None) == []
    # Jaws raised nearly to the top: whatever is cut out to the sides below them hits them, as deep in either plan.
    assert collisions(middle, 0.4) == collisions(corner, 0.4)


def test_raised_jaws_are_hit_somewhere() -> None:
    assert any(collisions(planned(id, "corner"), 0.4) for id in DOCS)


def _highest(plan: Plan, setup: Setup, axis: int, way: int) -> float:
    """Where the metal ends as a setup begins, along one axis of the machine, looked for in steps of a twentieth, mm."""
    low, high = extent(plan, setup)
    grid = [np.linspace(low[k], high[k], 21)[1:-1] for k in range(3)]
    end = high[axis] if way > 0 else low[axis]
    found = -way * math.inf
    for n in range(math.ceil((high[axis] - low[axis]) / 4) + 1):
        grid[axis] = end - way * (4 * n + np.arange(0, 4, 0.05) + 0.013)
        there = np.stack([g.ravel() for g in np.meshgrid(*grid, indexing="ij")], axis=1)
        inside = metal(plan, setup, there, "") < -1e-3
        if inside.any():
            found = float(way * (way * there[inside, axis]).max())
            break
    return found


#: Touched before the work lies there, or by something that is no part of it.
_NOT_THE_WORK: Final = ("stop", "jaw", "rotary table", "middle", "by eye")


@pytest.mark.parametrize("ident", ["t-nut-pip", "table-keys", "riser-vise", "v-jaws", "pin-relieved", "gib-tam", "plate-yoke"])
def test_what_is_touched_is_where_the_zero_says(ident: str) -> None:
    """The top that is touched is at Z = 0, the side at the finder's reading and its half: found in the metal, not in the plan."""
    plan, looked = planned(ident, "middle"), 0
    for setup in plan.setups:
        if setup.pose is None or setup.lie is None or setup.on_lathe or setup.lie.tilt_deg:
            continue
        for zero in setup.zeroes:
            if any(word in zero.touches for word in _NOT_THE_WORK):
                continue
            looked += 1
            axis = "XYZ".index(zero.axis)
            if zero.axis == "Z":
                assert _highest(plan, setup, 2, 1) == pytest.approx(0.0, abs=0.06), (setup.id, zero.touches)
            else:
                sides = (zero.reads_mm + 5 - _highest(plan, setup, axis, -1), zero.reads_mm - 5 - _highest(plan, setup, axis, 1))
                assert min(map(abs, sides)) < 0.08, (setup.id, zero.touches, sides)
    assert looked >= 3


@pytest.mark.parametrize("ident", ["table-keys", "pin-relieved", "gib-tam", "plate-segments"])
def test_in_the_metal_is_where_the_distance_says_so(ident: str) -> None:
    """The quick way of looking against the signed distance, at random places."""
    plan, places = planned(ident, "middle"), np.random.default_rng(7)
    for setup in (s for s in plan.setups if s.pose is not None):
        low, high = extent(plan, setup)
        there = places.uniform(low - 1, high + 1, (1500, 3))
        exact = metal(plan, setup, there, "")
        assert (within_metal(plan, setup, there, 0.01) == (exact < -0.01)).all(), setup.id
        # What is drawn leaves out the strokes that are far away: near a face and in the air nothing changes.
        drawn, near = metal(plan, setup, there, "", near_mm=2.0), exact > -2.0
        assert np.array_equal(drawn[near], exact[near]) and (drawn[~near] <= exact[~near]).all(), setup.id


def test_a_square_end_mill_takes_what_its_outline_says() -> None:
    """Two planes in place of an outline: the same distance everywhere, along straight, slanting and bent paths."""
    places = np.random.default_rng(11)
    tool = Tool(kind="end_mill", diameter_mm=12.0, edge_length_mm=25.0, shank_diameter_mm=12.0, stick_out_mm=40.0)
    for path in (
        ((0.0, 0.0, -4.0), (30.0, 0.0, -4.0)),
        ((0.0, 5.0, -4.0), (0.0, -20.0, -4.0)),
        ((1.0, 2.0, -3.0), (20.0, 14.0, -3.0), (20.0, 30.0, -3.0)),
        ((5.0, 5.0, 2.0), (5.0, 5.0, -8.0)),
    ):
        there = places.uniform((-20, -40, -15), (45, 45, 20), (4000, 3))
        # By brute force: the nearest of very many places of the cutter's axis, then the rectangle of its outline.
        ends = np.array(path) if path[0][:2] != path[-1][:2] else np.array(path)[-1:]
        axis = [ends[:1]] + [a + (b - a) * np.linspace(0, 1, 1001)[:, None] for a, b in itertools.pairwise(ends)]
        away = np.min([np.hypot(there[:, 0] - x, there[:, 1] - y) for x, y, _ in np.concatenate(axis)], axis=0)
        side, under = away - 6.0, min(p[2] for p in path) - there[:, 2]
        inside = (side < 0) & (under < 0)
        outside = np.hypot(np.maximum(side, 0), np.maximum(under, 0))
        found = to_stroke(there, tool, Stroke(path))
        assert np.abs(found[~inside] - outside[~inside]).max() < 2e-3
        assert np.abs(found[inside] - np.maximum(side, under)[inside]).max() < 0.02  # places of the axis are 0.03 apart
        assert np.abs(found - to_outline(np.column_stack((away, -under)), silhouette(tool))).max() < 0.02


@pytest.mark.parametrize("ident", ["t-nut-pip", "t-nut-hazel", "table-keys", "gib-tam"])
def test_jaws_are_drawn_where_the_plan_has_them(ident: str) -> None:
    """As far below Z zero as the plan says, also when the raw bar stood higher; no cutter comes down on them."""
    plan, looked = planned(ident, "middle"), 0
    for setup in (s for s in plan.setups if s.fixture == "vise" and s.jaws_mm and s.pose is not None):
        scene = setup_scene(plan, setup)
        assert scene is not None
        jaw = next((e for e in scene.elements if isinstance(e, Path) and e.feature == "fixed jaw"), None)
        if jaw is None:
            continue  # seen from the front
        assert max(y for _, y in jaw.points) == pytest.approx(-setup.jaws_mm)
        looked += 1
    assert looked >= 3
