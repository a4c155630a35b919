"""Outlines from drawings keep their corners and lie within a fiftieth of what was drawn, however many points they come with."""

from __future__ import annotations

import io
import math
from collections.abc import Callable
from itertools import pairwise
from pathlib import Path

import ezdxf
import pytest
from shapely import Polygon

from elbrix.exchange.outlines import _MAX_CORNERS, fewer_corners, outline_from_dxf, read_outline
from elbrix.geometry.shapes import Point, area
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError


def _dxf(draw: Callable[[object], object], unit: int = 4) -> bytes:
    drawing = ezdxf.new(units=unit)
    draw(drawing.modelspace())
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def _off(one: Polygon, other: Polygon) -> float:
    return max(one.exterior.hausdorff_distance(other.exterior), 0.0)


@pytest.mark.parametrize("radius", [2.0, 10.0, 30.0, 100.0, 250.0])
def test_a_round_is_as_round_as_a_spline(radius: float) -> None:
    """Its sides left a circle of Ø 200 by three tenths: a nest cut to it pinched the work."""
    ring = outline_from_dxf(_dxf(lambda space: space.add_circle((5, 5), radius)))  # type: ignore[attr-defined]
    sag = max(radius - math.hypot((a[0] + b[0]) / 2 - 5, (a[1] + b[1]) / 2 - 5) for a, b in pairwise(ring))
    assert sag <= max(0.02, radius / 5000) + 1e-9
    assert all(math.hypot(x - 5, y - 5) == pytest.approx(radius) for x, y in ring)


def test_in_a_drawing_in_inches_the_sag_is_in_millimetres() -> None:
    ring = outline_from_dxf(_dxf(lambda space: space.add_circle((0, 0), 4.0), unit=1))  # type: ignore[attr-defined]
    sag = 101.6 - math.hypot((ring[0][0] + ring[1][0]) / 2, (ring[0][1] + ring[1][1]) / 2)
    assert 0.005 < sag <= 0.0204


def _wavy(count: int, high: float) -> list[Point]:
    """A block whose rear edge is a wave of so many points; its other corners stand alone."""
    wave = [(60 - 60 * k / count, 30 + high * math.sin(6 * math.pi * k / count)) for k in range(count + 1)]
    return [(0.0, 0.0), (60.0, 0.0), *wave]


@pytest.mark.parametrize("count", [150, 397, 998, 1900])
def test_corners_that_stand_alone_are_kept(tmp_path: Path, count: int) -> None:
    """Every second corner of many was dropped, whichever it was: a block lost one of its own, and was a wedge."""
    points = _wavy(count, 2.0)
    file = tmp_path / "work.dxf"
    file.write_bytes(_dxf(lambda space: space.add_lwpolyline(points, close=True)))  # type: ignore[attr-defined]
    ring = read_places(read_outline(file, lambda *_: None).places, "mm", "Outline").points
    assert len(ring) <= _MAX_CORNERS
    corners = {(round(x - ring[0][0], 2), round(y - ring[0][1], 2)) for x, y in ring}
    left, low = min(x for x, _ in corners), min(y for _, y in corners)
    there = {(round(x - left, 2), round(y - low, 2)) for x, y in corners}
    assert {(0.0, 0.0), (60.0, 0.0)} <= there
    moved = Polygon([(x - ring[0][0] - left, y - ring[0][1] - low) for x, y in ring])
    assert _off(moved, Polygon(points)) < 0.1
    assert moved.area == pytest.approx(Polygon(points).area, rel=2e-3)


@pytest.mark.parametrize("turn", [1, -1])
def test_it_goes_round_as_it_did(turn: int) -> None:
    ring = tuple(_wavy(500, 2.0)[::turn])
    assert area(fewer_corners(ring)) * area(ring) > 0


def test_what_cannot_be_kept_is_refused_and_not_bent() -> None:
    teeth = [(0.3 * k, 40.0 + (1.0 if k % 2 else 0.0)) for k in range(400)]
    with pytest.raises(ShopError, match="none of which can be left out"):
        fewer_corners(((0.0, 0.0), *reversed(teeth))[::-1])
    few = ((0.0, 0.0), (60.0, 0.0), (60.0, 40.0))
    assert fewer_corners(few) is few
