"""The drawing on other paper, in the other projection, in tiles; chosen in the preview and kept for the shop."""

from __future__ import annotations

import math

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.paper.drawing_sheet import DrawingSheet
from elbrix.app.paper.hole_pages import PageRoom, mark_pages, tiles
from elbrix.app.paper.pages import Pen, standard_fit
from elbrix.app.paper.preview import PagePreview
from elbrix.app.plate.painter import View, paper_look, place_sizes
from elbrix.app.window import Window
from elbrix.design.callouts import lettered
from elbrix.design.family import Design, Family, Request, find_family, read_choices, solve_for
from elbrix.design.tolerances import size_limits
from elbrix.drawing.scene import Scene
from elbrix.drawing.sheets import PAPERS, PROJECTIONS, SheetChoice
from elbrix.drawing.views import arrange, placed_views
from elbrix.presenters.words import said_scene
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from kinds_of_family import KINDS, SHOP, kind_id, solved

CHOICES = [SheetChoice(projection, paper) for projection, _ in PROJECTIONS for paper, _ in PAPERS]


@pytest.fixture(autouse=True)
def app(qapp: QApplication) -> None:
    """Fonts need the application."""


def sheet_of(family: Family, design: Design, choice: SheetChoice, style: UnitStyle = METRIC) -> DrawingSheet:
    """The drawing with the family's own outlines: they take the room that the exact edges take."""
    views = tuple(lettered(s, design.callouts) for s in family.scenes(design) if s.name in ("front", "top", "side"))
    return DrawingSheet(
        name="drawing",
        title=family.title,
        subtitle="Draft",
        design=design,
        views=views,
        limits=size_limits(family, design, SHOP),
        style=style,
        material="mild steel",
        mass="1 kg",
        on="2026-11-30",
        face=next(s for s in family.scenes(design) if s.name == design.face),
        choice=choice,
    )


def box_of(view: View, bounds: tuple[float, float, float, float]) -> QRectF:
    a, b = view.px(bounds[:2]), view.px(bounds[2:])
    return QRectF(a, b).normalized()


@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
@pytest.mark.parametrize("kind", [k for k in KINDS if k[1] in ("", "kind")], ids=kind_id)
def test_no_number_lies_on_another_or_on_another_view(kind: tuple[str, str, str], style: UnitStyle) -> None:
    family, design = solved(*kind)
    for choice in CHOICES:
        sheet = sheet_of(family, design, choice, style)
        wide, high = 10 * choice.size_mm[0] - 220, 10 * choice.size_mm[1] - 800
        scene = sheet._spread(wide, high)
        look = paper_look(30.0, 2.2)
        view = standard_fit(said_scene(scene, style), wide, high, sheet._label, look)
        placed = place_sizes(scene, view, sheet._label, look)
        numbers = [QRectF(b[0], -b[3], b[2] - b[0], b[3] - b[1]) for b in (p.text_box for p in placed)]
        page = QRectF(0, 0, wide, high)
        for i, (p, number) in enumerate(zip(placed, numbers, strict=True)):
            assert page.contains(number), (choice, p.text)
            others = [o for o in numbers[i + 1 :] if o.adjusted(1, 1, -1, -1).intersects(number)]
            assert not others, (choice, p.text)
            bodies = {q.dimension.near for q in placed if q.dimension.near and q.dimension.near != p.dimension.near}
            assert not [b for b in bodies if box_of(view, b).intersects(number)], (choice, p.text)


def test_where_the_views_stand() -> None:
    """Third angle: seen from above, drawn above; from the right, right. First angle: below and left. Both in line."""
    family, design = solved("soft_jaw", "", "")
    views = [s for s in family.scenes(design) if s.name in ("front", "top", "side")]
    for projection, up, right in (("third", 1, 1), ("first", -1, -1)):
        placed = {s.name: s.bounds() for s in placed_views(views, 20, SheetChoice(projection))}
        front, top, side = placed["front"], placed["top"], placed["side"]
        assert (top[0] + top[2]) / 2 == pytest.approx((front[0] + front[2]) / 2)
        assert side[1] == pytest.approx(front[1])
        gap = (top[1] - front[3]) if up > 0 else (front[1] - top[3])
        aside = (side[0] - front[2]) if right > 0 else (front[0] - side[2])
        assert gap == pytest.approx(20) and aside == pytest.approx(20)
        assert projection in arrange(views, 20, SheetChoice(projection)).title


def lines_of_symbol(first: bool, monkeypatch: pytest.MonkeyPatch) -> tuple[float, list[tuple[float, float, float, float]]]:
    """Middle of the rings, and the four edges of the cone."""
    found: list[tuple[float, float, float, float]] = []
    middles: list[float] = []
    monkeypatch.setattr(Pen, "circle", lambda self, x, y, r, *a: middles.append(x))
    monkeypatch.setattr(Pen, "line", lambda self, *a: found.append(a[:4]))
    family, design = solved("t_nut", "", "")
    image = QImage(8, 8, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    sheet = sheet_of(family, design, SheetChoice("first" if first else "third"))
    sheet._projection(Pen(painter, METRIC), 0, 0)
    painter.end()
    return middles[0], found[:4]


@pytest.mark.parametrize("first", [False, True])
def test_the_symbol_shows_the_projection(first: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    """ISO 5456-2: the rings are what is seen of the cone from its small end; third angle draws that beside the small end."""
    rings, cone = lines_of_symbol(first, monkeypatch)
    upright = sorted((abs(y2 - y1), x1) for x1, y1, x2, y2 in cone if abs(x1 - x2) < 1e-9)
    small, large = upright[0][1], upright[-1][1]
    assert (abs(small - rings) < abs(large - rings)) is not first


def plate(length: float, width: float) -> tuple[Family, Design, Scene]:
    family = find_family("fixture_plate")
    places = "; ".join(f"{x * length:.1f},{y * width:.1f}" for x in (-0.4, -0.1, 0.13, 0.42) for y in (-0.3, 0.05, 0.38))
    typed = {"kind": "work", "length": f"{length}", "width": f"{width}", "table_width": "2000", "pattern": places}
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    return family, design, next(s for s in family.scenes(design) if s.name == design.face)


@pytest.mark.parametrize("paper", [name for name, _ in PAPERS])
@pytest.mark.parametrize("size", [(160, 120), (260, 190), (420, 220), (640, 300)])
def test_tiles_lie_on_each_other(paper: str, size: tuple[float, float], monkeypatch: pytest.MonkeyPatch) -> None:
    """Cut at the crosses and laid edge to edge, the sheets are the plate at full size: every hole on one, at its place."""
    family, design, face = plate(*size)
    choice = SheetChoice(paper=paper)
    page = PageRoom(*choice.size_mm)
    count = mark_pages(design, face, page)
    laid: list[tuple[View, QRectF]] = []
    crosses: list[list[tuple[float, float]]] = []
    full = Pen.full_size

    def full_size(self: Pen, *a: object) -> View:
        view = full(self, *a)  # type: ignore[arg-type]
        laid.append((view, self.painter.clipBoundingRect()))
        crosses.append([])
        return view

    monkeypatch.setattr(Pen, "full_size", full_size)
    circle = Pen.circle
    monkeypatch.setattr(Pen, "circle", lambda self, x, y, *a: (crosses and crosses[-1].append((x, y)), circle(self, x, y, *a))[1])
    image = QImage(int(page.wide), int(page.high), QImage.Format.Format_RGB32)
    sheet = replace(sheet_of(family, design, choice), face=face)
    first = 1 + sheet._tables
    for n in range(count):
        painter = QPainter(image)
        sheet.paint(painter, first + n)
        painter.end()
    if count == 1:
        assert len(laid) == 1 and laid[0][0].scale == 10.0
        return
    assert len(laid) == count - 1 == len(tiles(face, page))
    shared: dict[tuple[float, float], int] = {}
    for (view, clip), marks in zip(laid, crosses, strict=True):
        assert view.scale == 10.0  # tenths of a millimetre: full size
        assert len(marks) == 4
        assert clip.width() <= page.wide - 200 and clip.height() <= page.high - 300
        for x, y in marks:
            assert clip.contains(x, y)
            place = (round((x - view.x) / 10, 6), round((view.y - y) / 10, 6))
            shared[place] = shared.get(place, 0) + 1
    across = {x for x, _ in shared}
    # A cross inside the plate stands on every sheet that meets there, at the same place of the plate.
    assert sum(shared.values()) == 4 * len(laid) and len(shared) < 4 * len(laid) + (len(across) == 1)
    for hole in design.holes:
        at = (hole.x_mm + design.origin[0], hole.y_mm + design.origin[1])
        assert any(clip.contains(view.px(at)) for view, clip in laid), hole.name


def test_a_plate_for_which_nobody_lays_tiles() -> None:
    _, design, face = plate(1500, 900)
    assert tiles(face, PageRoom()) == [] and mark_pages(design, face) == 1


def test_paper_and_projection_are_chosen_in_the_preview_and_kept(window: Window) -> None:
    bench = window.bench
    assert isinstance(bench, DesignBench)
    pages = bench.pages()
    assert isinstance(pages, DrawingSheet)
    preview = PagePreview(pages, "Drawing", window, window.session.keep_sheet)
    preview.paper.setCurrentIndex(preview.paper.findData("A3"))
    preview.projection.setCurrentIndex(preview.projection.findData("first"))
    while preview.catching_up:
        QTest.qWait(20)
    assert window.session.sheet == SheetChoice("first", "A3")
    assert preview._pages.size_mm == (420.0, 297.0)
    shown = preview._sheets[0]
    assert shown.pixmap().width() / shown.pixmap().height() == pytest.approx(420 / 297, rel=0.01)
    preview.close()
    again = bench.pages()
    assert isinstance(again, DrawingSheet) and again.choice == SheetChoice("first", "A3")
    # The plate's own drawing follows: the top view stands below the front.
    assert bench.presenter is not None
    bench.presenter.tab = 1
    assert "first-angle" in bench.presenter.plate().footer


def test_every_working_is_on_a_page() -> None:
    """However many there are: none is dropped at the end of a page."""
    family, design = solved("clamp", "kind", "strap")
    sheet = sheet_of(family, design, SheetChoice())
    listed = [w.label for page in sheet._working_pages for w in page]
    wanted = [f.label for f in design.figures if f.derivation and (f.derivation.formula or f.derivation.with_numbers)]
    assert {w for w in wanted if w not in listed} == set()
    assert [c.label for c in design.checks if f"{c.verdict.sign} {c.label}" not in listed] == []
    assert all(math.isfinite(w.y) and w.y < sheet.page.table_end for page in sheet._working_pages for w in page)
