"""Between two places of a path a clamp has room, and the outermost places of a path are the ones where it tips first."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import pytest
from shapely import LineString, Polygon

from elbrix.geometry.shapes import circle, hull, least_outside_by, placed, rectangle
from elbrix.holding.cut import WAYS, cutting_of, propose, thinned
from elbrix.holding.layout import Solid
from elbrix.holding.reach import Stretch, ToolShape, clashes
from elbrix.parameters.parameter import ParameterValue
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from holding_record import layouts
from layouts_tools import doc, solve, solve_recorded, thing
from work_pieces import block

LAYOUTS = list(layouts())
TOOL = ToolShape(diameter_mm=6.0, edge_mm=30.0, shank_mm=6.0)


def _post(x: float, size: float = 8.0, top: float = 20.0) -> Solid:
    return Solid(ring=placed(rectangle(size, size), x, 0.0, 0.3), bottom_mm=0.0, top_mm=top, name="post")


def test_what_stands_between_two_places_is_met() -> None:
    """Thirty millimetres from place to place: the post between was told to be clear."""
    way = (Stretch((0.0, 0.0), (15.0, 0.0), 0), Stretch((15.0, 0.0), (30.0, 0.0), 1))
    met = clashes(way, 0.0, TOOL, [_post(25.0)])
    assert [(c.index, c.what) for c in met] == [(1, "post")]
    # The axis runs right through it: by more than the cutter and its room.
    assert met[0].by_mm > 4.0
    assert clashes(way, 0.0, TOOL, [_post(45.0)]) == [] and clashes(way, 20.1, TOOL, [_post(25.0)]) == []
    lifted = (Stretch((0.0, 0.0), (0.0, 0.0), 0), Stretch((30.0, 0.0), (30.0, 0.0), 1))
    assert clashes(lifted, 0.0, TOOL, [_post(15.0)]) == []  # the tool is lifted over it


def test_the_holder_does_not_go_into_the_work() -> None:
    """A side milled 40 deep with 30 of cutter out: the holder of Ø 40 runs over the edge that stands there."""
    work = Solid(ring=rectangle(100, 60), bottom_mm=0.0, top_mm=40.0, name="the work")
    beside = (Stretch((-50.0, -33.0), (50.0, -33.0), 0),)
    assert [c.what for c in clashes(beside, 0.0, TOOL, [], work=work)] == ["the work"]
    assert clashes(beside, 0.0, TOOL, [], work=work)[0].by_mm == pytest.approx(20.0 - 3.0)
    assert clashes(beside, 11.0, TOOL, [], work=work) == []  # 29 deep
    far = (Stretch((-50.0, -51.0), (50.0, -51.0), 0),)
    assert clashes(far, 0.0, TOOL, [], work=work) == []


@pytest.mark.parametrize("seed", range(60))
def test_a_straight_piece_and_a_shape_against_another_library(seed: int) -> None:
    chance = random.Random(seed)
    ring = hull([(chance.uniform(-30, 30), chance.uniform(-30, 30)) for _ in range(8)])
    a, b = ((chance.uniform(-60, 60), chance.uniform(-60, 60)) for _ in range(2))
    other, piece = Polygon(ring), LineString([a, b])
    found = least_outside_by(ring, a, b)
    if not piece.intersects(other):
        assert found == pytest.approx(piece.distance(other), abs=1e-9)
        return
    inner = [piece.interpolate(k / 400, normalized=True) for k in range(401)]
    deep = max((other.exterior.distance(p) for p in inner if other.contains(p)), default=0.0)
    assert found <= 0.0
    assert -found == pytest.approx(deep, abs=piece.length / 16)


@pytest.mark.parametrize("number", range(len(LAYOUTS)))
def test_no_clash_is_missed_anywhere_on_the_way(number: int, demo_shop: Shop) -> None:
    """Every half millimetre of the way, by brute force."""
    hold = solve_recorded(number, LAYOUTS[number], demo_shop)
    cutting = hold.cutting
    solids = [s for _, _, p in hold.elements for s in p.solids]
    seen = {c.what for c in hold.clashes} - {"the work"}
    really = set()
    for solid in solids:
        radius = cutting.tool.radius_at(solid.top_mm - cutting.end_mm)
        if radius <= 0:
            continue
        body = Polygon(solid.ring).buffer(0)
        for stretch in cutting.way:
            piece = LineString([stretch.start, stretch.end])
            if piece.distance(body) < radius + 1.0 - 1e-6:
                really.add(solid.name)
    assert seen == really


def test_all_of_the_way_is_there(demo_shop: Shop) -> None:
    """Round a block its stretches close the ring; over its top they follow one another; between holes there are none."""
    piece = block(100.0, 60.0)
    for runs in ("around", "face"):
        given = {"cutter_path": ParameterValue(runs, Origin.CHOSEN), "cut": ParameterValue("milling", Origin.CHOSEN)}
        way = cutting_of(propose(demo_shop, demo_shop.machine("hazel"), given), demo_shop, piece).way
        ends = [*way, way[0]] if runs == "around" else way
        assert all(math.dist(a.end, b.start) < 1e-9 for a, b in pairwise(ends))
    drilled = solve(doc(thing("vise"), cut="drilling", cutter_path="points", places="-20,0; 20,0"), demo_shop).cutting
    assert all(s.start == s.end for s in drilled.way) and {s.index for s in drilled.way} == {0, 1}


@pytest.mark.parametrize("rows", [3, 6, 11])
def test_the_outermost_places_are_kept(rows: int) -> None:
    """Of seventy places over a top every second or third was looked at: its corners, where it tips, were among those left out."""
    path = [(10.0 * k, 7.0 * i) for i in range(rows) for k in (range(7) if i % 2 == 0 else reversed(range(7)))]
    kept = [path[i] for i in thinned(path, 28)]
    assert len(kept) == min(28, len(path))
    assert {(0.0, 0.0), (60.0, 0.0), (0.0, 7.0 * (rows - 1)), (60.0, 7.0 * (rows - 1))} <= set(kept)
    assert list(thinned(path, 28)) == sorted(set(thinned(path, 28)))  # in the order of the cut


def test_a_round_of_many_places_is_thinned_evenly() -> None:
    path = list(circle(90.0, 96))
    kept = thinned(path, 28)
    assert len(kept) == 28 and max(b - a for a, b in pairwise(kept)) <= 4


def test_the_least_over_a_top_is_at_one_of_its_corners(demo_shop: Shop) -> None:
    """All places of the path, all directions: none is worse than what is told."""
    from elbrix.holding.limit import LimitSolver

    hold = solve(doc(thing("vise"), length="90", width="80", height="60", cutter_path="face", cut="milling"), demo_shop)
    fine = cutting_of(hold.values, demo_shop, hold.piece, 400, 2 * WAYS)
    assert len(fine.path) > 28
    least = min(x.factor or math.inf for x in LimitSolver(hold.held).solve(list(fine.loads)))
    assert hold.margin.least <= least * 1.003
