"""Sizes that never cover each other, and files other programs read."""

from __future__ import annotations

import io
from xml.etree import ElementTree

import ezdxf.filemanagement
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.design.family import Design, Request, find_family, parameter_of, solve_for
from elbrix.design.files import dimension_texts, drawing_scene, file_bytes, hole_csv
from elbrix.drawing.placing import TextSizes, overlaps, place
from elbrix.drawing.scene import Arc, Dimension, Line, Note, Path, Point, Scene, Side, box, shift_scene
from elbrix.drawing.shading import shade, view_matrix
from elbrix.drawing.views import arrange
from elbrix.exchange.csv_tables import csv_text, safe_cell
from elbrix.quantities.lengths import INCH, METRIC
from elbrix.quantities.readings import Readings
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.solids.client import Kernel
from elbrix.solids.recipe import Prism

SIZES = TextSizes(width=lambda text: 9.0 * len(text), height=14.0, row=29.0, first=27.0, arrow=8.0)


@given(
    st.lists(st.tuples(st.sampled_from(list(Side)), st.floats(-30, 30), st.floats(0.05, 40)), min_size=1, max_size=12),
    st.floats(0.5, 30),
)
def test_no_number_ever_covers_another(spans: list[tuple[Side, float, float]], scale: float) -> None:
    dims = tuple(
        (
            Dimension(f"d{i}", (start, -20), (start + span, -20), side)
            if side in (Side.ABOVE, Side.BELOW)
            else Dimension(f"d{i}", (0, start), (0, start + span), side)
        )
        for i, (side, start, span) in enumerate(spans)
    )
    scene = Scene("x", elements=(box(-30, -30, 70, 70),), dimensions=dims)
    placed = place(scene, lambda p: (p[0] * scale, p[1] * scale), lambda d: f"{d.value:.3f}", SIZES)
    assert overlaps(placed) == []
    left, bottom, right, top = (v * scale for v in scene.bounds())
    for p in placed:  # and none lies on the thing itself, but those that are meant to stand there
        if p.dimension.side is Side.AT:
            continue
        x0, y0, x1, y1 = p.text_box
        assert x1 <= left or x0 >= right or y1 <= bottom or y0 >= top


@pytest.mark.parametrize("scale", [4.0, 8.0, 14.0])
@pytest.mark.parametrize("style", [METRIC, INCH])
def test_t_nut_views_have_room_for_their_sizes(nut: Design, scale: float, style: object) -> None:
    family = find_family("t_nut")
    for scene in (family.scenes(nut)[0], arrange(list(family.scenes(nut)[1:]), 14)):
        texts = dimension_texts(scene, style)  # type: ignore[arg-type]
        placed = place(scene, lambda p: (p[0] * scale, p[1] * scale), lambda d, t=texts: t[d.key], SIZES)
        assert overlaps(placed) == []
        assert len(placed) == len(scene.dimensions)


def test_third_angle_arrangement(nut: Design) -> None:
    """Top above the front and in line with it, side to the right and level with it."""
    front, top, side = find_family("t_nut").scenes(nut)[1:]
    sheet = arrange([front, top, side], 10)
    f = front.bounds()
    widths = sheet.bounds()
    assert widths[3] - f[3] == pytest.approx(10 + top.bounds()[3] - top.bounds()[1], abs=1e-6)
    length = next(d for d in sheet.dimensions if d.key == "length")
    assert length.near is not None and length.near[1] >= f[3] + 10 - 1e-6
    assert (length.near[0] + length.near[2]) / 2 == pytest.approx((f[0] + f[2]) / 2)


def test_shifting_a_view_moves_everything_alike(nut: Design) -> None:
    front = find_family("t_nut").scenes(nut)[1]
    moved = shift_scene(shift_scene(front, 12.5, -3), -12.5, 3)
    assert moved.bounds() == pytest.approx(front.bounds())
    assert [d.value for d in moved.dimensions] == pytest.approx([d.value for d in front.dimensions])


def test_dxf_reads_back_at_full_size(nut: Design, kernel: Kernel) -> None:
    data = file_bytes(find_family("t_nut"), nut, kernel, "dxf", "T-nut", "")
    doc = ezdxf.filemanagement.read(io.StringIO(data.decode()))
    assert doc.audit().errors == []
    space = doc.modelspace()
    lines = [(e.dxf.start, e.dxf.end) for e in space.query("LINE[layer=='VISIBLE']")]
    spans = {round(abs(a.x - b.x), 4) for a, b in lines if abs(a.y - b.y) < 1e-9}
    assert {11.7, 19.0} <= spans  # the neck across, the length along
    assert sorted(round(c.dxf.radius, 3) for c in space.query("CIRCLE[layer=='VISIBLE']")) == [4.25, 5.25]
    # Sizes are dimensions: what they measure is what they say.
    sizes = {e.dxf.text: e.get_measurement() for e in space.query("DIMENSION")}
    assert all(float(text.split()[0].strip("()")) == pytest.approx(measured, abs=0.006) for text, measured in sizes.items())
    assert {"11.70", "18.20", "19.00"} <= sizes.keys()
    written = {e.dxf.text for e in space.query("TEXT")}
    assert any("M10 x 1.5" in text for text in written) and any("45%%d" in text for text in written)
    low, high = doc.header["$EXTMIN"], doc.header["$EXTMAX"]
    assert low[0] < -9.1 and high[0] > 60 and low[1] < 0 and high[1] > 49  # whoever zooms to it sees all of it
    # Every view has a closed outline; the front one is the nut's own section less its corners: head, neck, two chamfers.
    outlines = [p.get_points("xyb") for p in space.query("LWPOLYLINE[layer=='OUTLINE']") if p.closed]
    areas = sorted(abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(o, [*o[1:], o[0]], strict=True))) / 2 for o in outlines)
    head, neck = nut.values.number("head_height"), nut.values.number("neck_height")
    front = 18.2 * head + 11.7 * neck - 0.5**2
    assert areas == pytest.approx(sorted([front, 18.2 * 19, 19 * (head + neck), 19 * (head + neck)]), abs=0.01)


def test_svg_is_well_formed_and_in_millimetres(nut: Design, kernel: Kernel) -> None:
    root = ElementTree.fromstring(file_bytes(find_family("t_nut"), nut, kernel, "svg", "T-nut <&>", ""))
    assert root.tag.endswith("svg") and root.attrib["width"].endswith("mm")
    words = [e.text for e in root.iter() if e.tag.endswith("text")]
    assert "11.70" in words and any("T-nut <&>" in (w or "") for w in words)


def test_drawing_has_every_view(nut: Design, kernel: Kernel) -> None:
    sheet = drawing_scene(find_family("t_nut"), nut, kernel)
    assert any(isinstance(e, Arc) and e.ratio < 1 for e in sheet.elements)  # the solid's tilted hole
    assert any(isinstance(e, Path) and e.style.value == "section" for e in sheet.elements)
    assert sum(isinstance(e, Line) and e.style.value == "hidden" for e in sheet.elements) >= 6


def test_hole_table_as_csv(nut: Design) -> None:
    lines = hole_csv(nut).splitlines()
    assert lines[0].startswith("hole,x_mm,y_mm,what,datum,diameter_mm,depth_mm,thread,")
    assert lines[1].startswith('A,0.000,0.000,"M10 × 1.5, drill 8.5 through')


@pytest.mark.parametrize(
    ("cell", "safe"),
    [
        ("", ""),
        ("=1+1", "'=1+1"),
        ("@SUM(A1)", "'@SUM(A1)"),
        ("+cmd", "'+cmd"),
        ("-2.5", "-2.5"),
        ("-x", "'-x"),
        ("M10", "M10"),
        (3.5, "3.5"),
    ],
)
def test_no_cell_is_a_formula(cell: object, safe: str) -> None:
    assert safe_cell(cell) == safe
    assert csv_text(["a"], [[cell]]).splitlines()[1].strip('"') == safe


def test_nearer_faces_hide_farther_ones(kernel: Kernel) -> None:
    """Seen from the front, a low block stands before a tall one: its top edge shows, the tall one's lower part does not."""
    mesh = kernel.ask("mesh", Prism(((0, 0), (20, 0), (20, 10), (0, 10)), 0, 20))
    seen = shade(mesh["triangles"], list(mesh["edges"]), view_matrix(0, 0), 200, 100, margin=0.1)
    lit = np.argwhere(seen.light > 0)
    (top, left), (bottom, right) = lit.min(axis=0), lit.max(axis=0)
    assert (right - left) / (bottom - top) == pytest.approx(2.0, rel=0.05)  # 20 wide, 10 high
    assert len({round(v, 3) for v in seen.light[seen.light > 0].tolist()}) == 1  # one flat face
    assert len(seen.edges) >= 4


def test_turning_keeps_the_axes_square() -> None:
    for turn, tilt in ((0, 0), (45, 30), (200, -70)):
        matrix = view_matrix(turn, tilt)
        assert np.allclose(matrix @ matrix.T, np.eye(3)) and np.linalg.det(matrix) == pytest.approx(1)


def test_empty_shop_still_draws() -> None:
    family = find_family("t_nut")
    design = solve_for(family, Shop(), Request(), {})
    assert all(s.elements for s in family.scenes(design))


def _cross(p: Point, q: Point, r: Point, s: Point) -> bool:
    """Whether the segments p q and r s cross."""

    def side(a: Point, b: Point, c: Point) -> float:
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

    return side(p, q, r) * side(p, q, s) < 0 and side(r, s, p) * side(r, s, q) < 0


@pytest.mark.parametrize("below", [0.3, 1.0, 2.5])
@pytest.mark.parametrize("neck", [8.0, 12.05, 18.1, 28.2])
def test_leaders_of_notes_never_cross(mill: Machine, slot: TSlot, neck: float, below: float) -> None:
    def at(mm: float) -> Readings:
        return Readings(values_mm=(mm,))

    wide = replace(slot, neck=at(neck), lip=at(neck * 0.7), head=at(neck * 1.6), depth=at(neck * 1.35))
    shop = Shop(machines=(replace(mill, slots=(wide,)),))
    family = find_family("t_nut")
    height = parameter_of(family, "neck_height").read(f"{neck * 0.7 - below:.2f}")
    scene = family.scenes(solve_for(family, shop, Request(), {"neck_height": height}))[0]
    notes = [e for e in scene.elements if isinstance(e, Note) and e.leader is not None]
    assert len(notes) >= 2
    for i, a in enumerate(notes):
        for b in notes[:i]:
            assert a.leader is not None and b.leader is not None and not _cross(a.at, a.leader, b.at, b.leader)
