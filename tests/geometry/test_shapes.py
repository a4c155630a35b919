"""Plane shapes against another library, and against what is known of circles and hexagons."""

from __future__ import annotations

import math
import random

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import Point as OtherPoint
from shapely import Polygon

from elbrix.geometry.shapes import (
    Ring,
    area,
    bounds,
    centroid,
    circle,
    clipped,
    distance,
    hexagon,
    hull,
    inside,
    nearest,
    outside_by,
    overlap,
    placed,
    ray,
    rectangle,
)

POINTS = st.lists(st.tuples(st.integers(-50, 50), st.integers(-50, 50)), min_size=3, max_size=12)


def _star(chance: random.Random, corners: int) -> Ring:
    """A ring that goes once round, in and out, with nothing square about it."""
    x, y, found = chance.uniform(-20, 20), chance.uniform(-20, 20), []
    for k in range(corners):
        at, r = 2 * math.pi * (k + chance.uniform(0.1, 0.9)) / corners, chance.uniform(4, 40)
        found.append((x + r * math.cos(at), y + r * math.sin(at)))
    return tuple(found)


STARS = [_star(random.Random(seed), 4 + seed % 9) for seed in range(40)]


def _convex(chance: random.Random) -> Ring:
    return hull([(chance.uniform(-30, 30), chance.uniform(-30, 30)) for _ in range(8)])


@pytest.mark.parametrize("count", [6, 12, 48])
def test_a_round_has_its_corners_on_the_circle(count: int) -> None:
    ring = circle(90.0, count)
    assert len(set(ring)) == count and all(math.hypot(*p) == pytest.approx(90) for p in ring)
    assert area(ring) == pytest.approx(count / 2 * 90**2 * math.sin(2 * math.pi / count))  # counter-clockwise: not negative
    assert -outside_by(ring, (0.0, 0.0)) == pytest.approx(90 * math.cos(math.pi / count))
    assert ring[0] == (90.0, 0.0) and ring[1][1] > 0


def test_a_rectangle_stands_about_its_middle() -> None:
    assert bounds(rectangle(80, 30)) == (-40, -15, 40, 15)
    assert area(rectangle(80, 30)) == 2400


def test_a_hexagon_measures_its_size_over_every_pair_of_flats() -> None:
    ring = hexagon(17.0, (3.0, -2.0))
    for k in range(3):
        way = (math.sin(math.pi / 3 * k), math.cos(math.pi / 3 * k))
        along = [(x - 3) * way[0] + (y + 2) * way[1] for x, y in ring]
        assert max(along) - min(along) == pytest.approx(17.0)
    assert bounds(ring)[2] - bounds(ring)[0] == pytest.approx(17 * 2 / math.sqrt(3))  # over corners


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(-7, 7))
def test_what_is_turned_and_moved_keeps_its_shape(x: float, y: float, turn: float) -> None:
    ring = placed(rectangle(40, 10), x, y, turn)
    assert centroid(ring) == pytest.approx((x, y), abs=1e-9)
    assert area(ring) == pytest.approx(400)
    assert math.atan2(ring[1][1] - ring[0][1], ring[1][0] - ring[0][0]) == pytest.approx(
        math.atan2(math.sin(turn), math.cos(turn)), abs=1e-9
    )


@pytest.mark.parametrize("ring", STARS, ids=range(len(STARS)))
def test_inside_and_how_far_out(ring: Ring) -> None:
    chance, other = random.Random(7), Polygon(ring)
    for _ in range(60):
        p = (chance.uniform(-70, 70), chance.uniform(-70, 70))
        to_edge = other.exterior.distance(OtherPoint(p))
        assert distance(ring, p) == pytest.approx(to_edge, abs=1e-9)
        assert outside_by(ring, p) == pytest.approx(-to_edge if other.contains(OtherPoint(p)) else to_edge, abs=1e-9)
        assert inside(ring, p) is bool(other.covers(OtherPoint(p)))
        q = nearest(ring, p)
        assert math.dist(p, q) == pytest.approx(to_edge, abs=1e-9)
        assert other.exterior.distance(OtherPoint(q)) < 1e-9
    assert all(inside(ring, corner) for corner in ring)  # the edge is counted in
    assert centroid(ring) == pytest.approx(other.centroid.coords[0], abs=1e-6)


@given(POINTS)
def test_the_hull_is_the_other_library_s(points: list[tuple[int, int]]) -> None:
    found, other = hull(points), shapely.convex_hull(shapely.MultiPoint(points))
    if other.geom_type != "Polygon":
        return
    assert {(float(x), float(y)) for x, y in found} == set(other.exterior.coords)
    assert area(found) == pytest.approx(other.area)


@pytest.mark.parametrize("seed", range(40))
def test_what_a_window_leaves(seed: int) -> None:
    chance = random.Random(seed)
    ring, window = _convex(chance), placed(rectangle(30, 24), chance.uniform(-20, 20), chance.uniform(-20, 20), seed)
    left = clipped(ring, window)
    other = Polygon(ring).intersection(Polygon(window))
    assert (area(left) if len(left) > 2 else 0.0) == pytest.approx(other.area, abs=1e-9)
    assert all(outside_by(window, p) < 1e-9 and outside_by(ring, p) < 1e-9 for p in left)


@pytest.mark.parametrize("seed", range(60))
def test_what_shares_room(seed: int) -> None:
    chance = random.Random(seed)
    a, b = _convex(chance), placed(_convex(chance), chance.uniform(-70, 70), chance.uniform(-70, 70), seed)
    assert overlap(a, b) is overlap(b, a) is (Polygon(a).intersection(Polygon(b)).area > 1e-9)


def test_touching_is_not_sharing() -> None:
    a = rectangle(20, 20)
    assert not overlap(a, placed(a, 20.0, 0.0, 0.0)) and overlap(a, placed(a, 19.99, 0.0, 0.0))
    assert not overlap(a, placed(a, 0.0, -20.0, 0.0)) and overlap(a, placed(a, 0.0, -19.99, 0.0))


@pytest.mark.parametrize("ring", STARS, ids=range(len(STARS)))
def test_where_a_ray_meets_a_shape_first(ring: Ring) -> None:
    chance, other = random.Random(11), Polygon(ring)
    met = 0
    for _ in range(30):
        at = chance.uniform(0, 2 * math.pi)
        start = (120 * math.cos(at), 120 * math.sin(at))
        aim = (chance.uniform(-30, 30) - start[0], chance.uniform(-30, 30) - start[1])
        way = (aim[0] / math.hypot(*aim), aim[1] / math.hypot(*aim))
        line = shapely.LineString([start, (start[0] + 400 * way[0], start[1] + 400 * way[1])])
        cut = line.intersection(other)
        found = ray(ring, start, way)
        assert (found is None) is cut.is_empty
        if found is None:
            continue
        met += 1
        far, normal = found
        assert far == pytest.approx(OtherPoint(start).distance(cut), abs=1e-6)
        hit = (start[0] + far * way[0], start[1] + far * way[1])
        assert math.hypot(*normal) == pytest.approx(1)
        # A step along the normal is outside, a step against it inside.
        assert not other.contains(OtherPoint(hit[0] + 1e-5 * normal[0], hit[1] + 1e-5 * normal[1]))
        assert other.contains(OtherPoint(hit[0] - 1e-5 * normal[0], hit[1] - 1e-5 * normal[1]))
    assert met > 5
