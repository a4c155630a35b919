"""What the kernel's lines are made into, in this process: merged, told apart, cut at covers."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.drawing.scene import Arc, Line, Path, Style
from elbrix.drawing.views import exact_view, from_kernel, section_scene
from elbrix.solids import kernel
from elbrix.solids.recipe import Cut, Prism, drilled

_SPAN = st.tuples(st.floats(-50, 50), st.floats(0.01, 30)).map(lambda s: (s[0], s[0] + s[1]))


def _length(spans: list[tuple[float, float]]) -> float:
    return sum(b - a for a, b in spans)


@given(st.lists(_SPAN, max_size=10))
def test_merged_spans_are_apart_and_cover_the_same(spans: list[tuple[float, float]]) -> None:
    merged = kernel._merged(spans)
    assert all(a[1] < b[0] for a, b in pairwise(merged))
    for a, b in spans:
        middle = (a + b) / 2
        assert any(low - 1e-6 <= middle <= high + 1e-6 for low, high in merged)
    assert _length(merged) <= _length(spans) + 1e-4


@given(st.lists(_SPAN, max_size=6), st.lists(_SPAN, max_size=6))
def test_nothing_is_left_under_a_cover(spans: list[tuple[float, float]], covers: list[tuple[float, float]]) -> None:
    left = kernel._less(kernel._merged(spans), kernel._merged(covers))
    for a, b in left:
        middle = (a + b) / 2
        assert not any(low + 1e-6 < middle < high - 1e-6 for low, high in covers)
        assert any(low - 1e-6 <= middle <= high + 1e-6 for low, high in spans)


def test_collinear_pieces_become_one_line() -> None:
    pieces = [("L", False, 0.0, 0.0, 3.0, 3.0), ("L", False, 5.0, 5.0, 2.0, 2.0), ("L", True, 0.0, 0.0, 9.0, 9.0)]
    found = kernel._tidy(pieces)
    assert len(found) == 2
    seen = next(c for c in found if not c[1])
    hidden = next(c for c in found if c[1])
    assert sorted([seen[2], seen[4]]) == pytest.approx([0, 5])
    assert sorted([hidden[2], hidden[4]]) == pytest.approx([5, 9])


def test_parallel_lines_stay_apart() -> None:
    found = kernel._tidy([("L", False, 0.0, 0.0, 10.0, 0.0), ("L", False, 0.0, 0.01, 10.0, 0.01)])
    assert len(found) == 2


def test_hidden_circle_under_a_visible_one_is_dropped() -> None:
    circle = ("C", False, 0.0, 0.0, 5.0, 0.0, 360.0)
    assert kernel._tidy([circle, ("C", True, 0.0, 0.0, 5.0, 0.0, 360.0)]) == [circle]
    assert len(kernel._tidy([circle, ("C", True, 0.0, 0.0, 4.0, 0.0, 360.0)])) == 2


@pytest.fixture(scope="module")
def block() -> Cut:
    """20 × 10 × 30 with a 6 mm hole from the top."""
    body = Prism(((-10, 0), (10, 0), (10, 30), (-10, 30)), -5, 5)
    return Cut(body, (drilled((0, 0, 30), ((6, 30),), through_to=30),))


def test_section_along_either_axis(block: Cut) -> None:
    across = kernel.section(block, "y", 0.0)
    along = kernel.section(block, "x", 0.0)
    assert across["area_mm2"] == pytest.approx((20 - 6) * 30)
    assert along["area_mm2"] == pytest.approx((10 - 6) * 30)
    scene = section_scene(along)
    fills = [e for e in scene.elements if isinstance(e, Path) and e.style is Style.SECTION]
    assert len(fills) == 2
    assert all(e.style is not Style.HIDDEN for e in scene.elements if isinstance(e, Line | Arc | Path))


def test_a_section_off_the_middle_misses_the_hole(block: Cut) -> None:
    cut = kernel.section(block, "y", 4.0)
    assert cut["area_mm2"] == pytest.approx(20 * 30)
    assert len(cut["faces"]) == 1


def test_views_become_lines_arcs_and_ellipses(block: Cut) -> None:
    top = from_kernel(kernel.view(block, "top"))
    assert [e.radius for e in top if isinstance(e, Arc)] == [pytest.approx(3.0)]
    iso = from_kernel(kernel.view(block, "iso"))
    tilted = [e for e in iso if isinstance(e, Arc)]
    assert tilted
    for arc in tilted:
        assert arc.radius == pytest.approx(3.0)
        assert arc.ratio == pytest.approx(math.sin(math.radians(30)), abs=0.01)  # the picture looks down at 30°
    styles = [e.style for e in iso if isinstance(e, Line | Arc)]
    assert styles.index(Style.VISIBLE) > max((i for i, s in enumerate(styles) if s is Style.HIDDEN), default=-1)


def test_an_arc_runs_the_way_it_is_drawn() -> None:
    """A half-round end: the outline's arc must bulge outwards, not through the part."""
    half = Prism(((0, 0), (20, 0), (20, 10), (0, 10)), 0, 8, "xy")
    nose = drilled((20, 5, 8), ((10, 8),), through_to=8)
    curves = kernel.view(Cut(half, (nose,)), "top")
    arc = next(c for c in curves if c[0] == "C" and not c[1])
    middle = math.radians((arc[5] + arc[6]) / 2)
    x = arc[2] + arc[4] * math.cos(middle)
    assert x == pytest.approx(15.0)  # into the block, where the cutter went


def test_exact_lines_replace_the_outline_but_keep_sizes(block: Cut, nut: object) -> None:
    from elbrix.design.family import find_family

    outline = find_family("t_nut").scenes(nut)[1]  # type: ignore[arg-type]
    scene = exact_view(outline, kernel.view(block, "front"))
    assert scene.dimensions == outline.dimensions
    assert scene.handles == outline.handles
    conventions = {e.style for e in scene.elements if isinstance(e, Line)}
    assert {Style.THREAD, Style.CENTRE} <= conventions


def test_mesh_is_closed(block: Cut) -> None:
    """Every edge of the mesh belongs to two triangles, so an STL made of it is watertight."""
    triangles = kernel.mesh(block)["triangles"].round(4)
    count: dict[tuple[tuple[float, ...], tuple[float, ...]], int] = {}
    for corners in triangles.tolist():
        for a, b in ((0, 1), (1, 2), (2, 0)):
            edge = tuple(sorted((tuple(corners[a]), tuple(corners[b]))))
            count[edge] = count.get(edge, 0) + 1  # type: ignore[index, arg-type]
    assert set(count.values()) == {2}


def test_the_same_solid_is_built_once(block: Cut) -> None:
    assert kernel.build(block) is kernel.build(block)


def test_refusals_are_words() -> None:
    slit = Prism(((-1, -1), (1, -1), (1, 31), (-1, 31)), -6, 6)
    with pytest.raises(kernel.KernelRefusal, match="2 separate pieces"):
        kernel.build(Cut(Prism(((-10, 0), (10, 0), (10, 30), (-10, 30)), -5, 5), (slit,)))
    with pytest.raises(kernel.KernelRefusal, match="no STEP"):
        kernel.read_step_mass(b"hello")
