"""Outlines with true arcs: against circles worked by hand, shapely's buffers, and the cylinders of the written STEP."""

from __future__ import annotations

import math
import re
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Point, Polygon

from elbrix.design.families.soft_jaw import FAMILY
from elbrix.design.families.soft_jaw.sizes import SoftJawSizes
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.design.files import file_bytes
from elbrix.geometry.arcs import area_with_arcs, with_arcs
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import Prism


def polygon(r: float, x: float, y: float, count: int) -> list[tuple[float, float]]:
    angles = [2 * math.pi * i / count for i in range(count)]
    return [(x + r * math.cos(a), y + r * math.sin(a)) for a in angles]


@given(st.floats(0.5, 200), st.floats(-50, 50), st.floats(-50, 50), st.integers(16, 96))
def test_a_polygon_on_a_circle_is_the_circle(r: float, x: float, y: float, count: int) -> None:
    outline, arcs = with_arcs(polygon(r, x, y, count), [(x, y, r)])
    assert len(arcs) == len(outline) == 3
    assert area_with_arcs(outline, arcs) == pytest.approx(math.pi * r * r, rel=1e-9)


@given(st.floats(4, 60), st.floats(4, 60), st.floats(0.5, 1.9))
def test_a_rounded_rectangle_has_four_quarter_rounds(w: float, h: float, r: float) -> None:
    corners = [(0.0, 0.0), (w, 0.0), (w, h), (0.0, h)]
    grown = Polygon(corners).buffer(r, quad_segs=12)
    ring = [(float(x), float(y)) for x, y in grown.exterior.coords[:-1]]
    outline, arcs = with_arcs(ring, [(x, y, r) for x, y in corners])
    assert len(arcs) == 4 and len(outline) == 8
    assert area_with_arcs(outline, arcs) == pytest.approx(w * h + 2 * r * (w + h) + math.pi * r * r, rel=1e-9)
    assert area_with_arcs(tuple(reversed(ring)), ()) == pytest.approx(grown.area)  # a bare polygon, the other way round


def test_an_inward_arc_takes_away() -> None:
    """A 10 × 10 square with a half round of r 2 bitten out of its right side, from below upward."""
    bite = [(10 + 2 * math.cos(a), 5 + 2 * math.sin(a)) for a in [math.radians(270 - 15 * i) for i in range(13)]]
    outline, arcs = with_arcs([(0, 0), (10, 0), *bite, (10, 10), (0, 10)], [(10, 5, 2)])
    assert len(arcs) == 2  # a half round in two pieces
    assert area_with_arcs(outline, arcs) == pytest.approx(100 - 2 * math.pi, rel=1e-9)


def test_the_kernel_builds_what_is_said(kernel: Kernel) -> None:
    outline, arcs = with_arcs(polygon(20, 0, 0, 96), [(0, 0, 20)])
    for plane in ("xy", "xz", "yz"):
        mass = kernel.ask("mass", Prism(outline, 2, 12, plane, arcs))
        assert mass["volume_mm3"] == pytest.approx(math.pi * 400 * 10, rel=1e-9), plane


# --- the nest of a soft jaw ---------------------------------------------------------------------------------------------


def jaw(shop: Shop, **typed: str) -> Design:
    return solve_for(FAMILY, shop, Request(machine="hazel"), read_choices(FAMILY, typed))


def cylinders(design: Design, kernel: Kernel) -> Counter[float]:
    step = file_bytes(FAMILY, design, kernel, "step", "jaw", "2026-01-01T00:00:00").decode()
    return Counter(round(float(r), 4) for r in re.findall(r"CYLINDRICAL_SURFACE\('',#\d+,([\d.E+-]+)\)", step))


@pytest.mark.parametrize("side", ["fixed", "moving"])
@pytest.mark.parametrize("size", ["30", "40", "60"])
def test_a_round_nest_is_a_cylinder(size: str, side: str, demo_shop: Shop, kernel: Kernel) -> None:
    design = jaw(demo_shop, kind="round", work_width=size, work_length=size, side=side)
    s = SoftJawSizes(design.values)
    found = cylinders(design, kernel)
    assert found[round(s.nest_r, 4)] >= 1
    # By another road: the circle beyond the parting line, as shapely cuts it, times the depth.
    beyond = (
        Point(0, 0)
        .buffer(s.nest_r, quad_segs=4000)
        .intersection(Polygon([(-500, s.spacer / 2), (500, s.spacer / 2), (500, 500), (-500, 500)]))
    )
    holes = sum(
        math.pi / 4 * ((h.ream or h.drill) ** 2 * (s.thickness - h.bore_depth) + h.bore**2 * h.bore_depth) for h in s.holes
    )
    whole = s.width * s.height * s.thickness - beyond.area * s.grip - holes
    assert kernel.ask("mass", FAMILY.solid(design))["volume_mm3"] == pytest.approx(whole, rel=2e-6)


def test_an_outline_nest_has_the_cutters_rounds(demo_shop: Shop, kernel: Kernel) -> None:
    design = jaw(demo_shop, kind="outline", outline="0,0; 44,0; 44,26; 0,26")
    r = round(design.values.number("cutter_diameter") / 2, 4)
    s = SoftJawSizes(design.values)
    holes = {round((h.ream or h.drill) / 2, 4) for h in s.holes} | {round(h.bore / 2, 4) for h in s.holes if h.bore}
    found = cylinders(design, kernel)
    assert found[r] >= 2 and set(found) <= holes | {r}  # no curve is made of strips
