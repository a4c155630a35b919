"""Outlines read from files: right ones by their area, wrong ones refused whole."""

from __future__ import annotations

import io
import math
from collections.abc import Callable
from pathlib import Path

import ezdxf
import pytest
from ezdxf.document import Drawing

from elbrix.exchange.outlines import outline_from_dxf, read_outline
from elbrix.geometry.shapes import area, bounds
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import Prism


def dxf(draw: Callable[[Drawing], object], units: int = 4) -> bytes:
    drawing = ezdxf.new(units=units)
    draw(drawing)
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def test_a_closed_polyline_and_a_round() -> None:
    square = dxf(lambda d: d.modelspace().add_lwpolyline([(0, 0), (40, 0), (40, 20), (0, 20)], close=True))
    assert area(outline_from_dxf(square)) == pytest.approx(800)
    disc = dxf(lambda d: d.modelspace().add_circle((5, 5), 30))
    assert area(outline_from_dxf(disc)) == pytest.approx(math.pi * 900, rel=0.01)


def test_a_slot_of_lines_and_arcs_joined_in_any_order() -> None:
    def draw(d: Drawing) -> None:
        m = d.modelspace()
        m.add_arc((40, 0), 10, 270, 90)
        m.add_line((0, 10), (40, 10))
        m.add_arc((0, 0), 10, 90, 270)
        m.add_line((40, -10), (0, -10))
        m.add_circle((0, 0), 4)  # a hole: the larger outline is the work

    ring = outline_from_dxf(dxf(draw))
    assert area(ring) == pytest.approx(40 * 20 + math.pi * 100, rel=0.01) and bounds(ring) == pytest.approx(
        (-10, -10, 50, 10), abs=0.2
    )


def test_bulges_and_inches() -> None:
    half = dxf(lambda d: d.modelspace().add_lwpolyline([(0, 0, 1.0), (2, 0, 0.0)], format="xyb", close=True), units=1)
    assert area(outline_from_dxf(half)) == pytest.approx(math.pi / 2 * 25.4**2, rel=0.01)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (dxf(lambda d: d.modelspace().add_lwpolyline([(0, 0), (40, 0), (40, 20)])), "nothing in the drawing is closed"),
        (dxf(lambda d: d.modelspace().add_lwpolyline([(0, 0), (40, 20), (40, 0), (0, 20)], close=True)), "cross"),
        (dxf(lambda d: d.modelspace().add_circle((0, 0), 9e6)), "far larger"),
        (dxf(lambda d: None), "nothing in the drawing"),
        (b"hello", "cannot be read as DXF"),
        (b"", "cannot be read as DXF"),
        (dxf(lambda d: d.modelspace().add_circle((0, 0), 5), units=9), "unit has the code"),
    ],
)
def test_drawings_without_an_outline(data: bytes, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        outline_from_dxf(data)


def test_a_step_solid_from_above(tmp_path: Path, kernel: Kernel) -> None:
    recipe = Prism(((0, 0), (60, 0), (60, 30), (0, 30)), 0, 12, plane="xy")
    for unit in ("MM", "INCH"):
        path = tmp_path / f"block-{unit}.step"
        path.write_bytes(kernel.ask("step", recipe, "block", "2026-11-26T00:00:00", unit))
        found = read_outline(path, kernel.ask)
        ring = read_places(found.places, "mm", "Outline").points
        assert abs(area(ring)) == pytest.approx(1800, rel=1e-3) and found.height_mm == pytest.approx(12, abs=1e-3)


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.step", b"", "empty"),
        ("a.step", b"ISO-10303-21; nonsense", "STEP"),
        ("a.step", b"\x00" * 100, "STEP"),
        ("a.png", b"x", "neither DXF nor STEP"),
        ("a.dxf", b"0\nSECTION\n", "cannot be read|closed"),
    ],
)
def test_files_that_are_none(tmp_path: Path, kernel: Kernel, name: str, data: bytes, said: str) -> None:
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(ShopError, match=said):
        read_outline(path, kernel.ask)


def test_a_huge_or_missing_file(tmp_path: Path, kernel: Kernel, monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(ShopError, match="cannot be opened"):
        read_outline(tmp_path / "gone.dxf", kernel.ask)
    monkeypatch.setattr("elbrix.exchange.outlines.LARGEST_FILE", 10)
    path = tmp_path / "big.step"
    path.write_bytes(b"x" * 100)
    with pytest.raises(ShopError, match="at most"):
        read_outline(path, kernel.ask)


def test_edges_drawn_twice_and_specks_do_not_matter() -> None:
    corners = [(0, 0), (40, 0), (40, 20), (0, 20)]

    def draw(d: Drawing) -> None:
        m = d.modelspace()
        for a, b in zip(corners, [*corners[1:], corners[0]], strict=True):
            m.add_line(a, b)
            m.add_line(b, a)  # over itself, the other way round
            m.add_line(b, (b[0] + 0.002, b[1]))  # a speck at the corner
        m.add_arc((20, 20), 3, 0, 180)
        m.add_arc((20, 20), 3, 0, 180)

    assert area(outline_from_dxf(dxf(draw))) == pytest.approx(800, rel=1e-3)


def test_a_chord_and_its_arc_are_two_edges() -> None:
    def draw(d: Drawing) -> None:
        d.modelspace().add_line((-10, 0), (10, 0))
        d.modelspace().add_arc((0, 0), 10, 0, 180)

    assert area(outline_from_dxf(dxf(draw))) == pytest.approx(math.pi * 50, rel=0.01)


def test_inches_are_inches() -> None:
    inch = dxf(lambda d: d.modelspace().add_lwpolyline([(0, 0), (2, 0), (2, 1), (0, 1)], close=True), units=1)
    assert area(outline_from_dxf(inch)) == pytest.approx(2 * 25.4**2)
