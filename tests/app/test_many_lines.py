"""A drawing of very many lines: painted beside the window, and in the end the same as if it had been painted at once."""

from __future__ import annotations

import random

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.plate.painted import MANY_STROKES
from elbrix.app.plate.painter import paint_lines
from elbrix.drawing.scene import Arc, Dimension, Line, Note, Path, Scene, Side, Style, box
from elbrix.presenters.plate import PlateView


def many(shift: float = 0.0) -> Scene:
    """A plate with some four hundred tapped holes."""
    holes = [
        e
        for i in range(20)
        for j in range(20)
        for e in (
            Arc((10 * i + shift, 10 * j), 3.0, style=Style.VISIBLE, feature=f"hole {i} {j}"),
            Arc((10 * i + shift, 10 * j), 3.6, 0.0, 270.0, style=Style.THREAD),
        )
    ]
    return Scene(
        "top",
        elements=(box(-10, -10, 200, 200, feature="plate"), *holes, Note((0, 205), "four hundred")),
        dimensions=(Dimension("length", (-10, -10), (200, -10), Side.BELOW, entry="length"),),
    )


@pytest.fixture
def plate(qtbot: QtBot) -> DrawingView:
    found = DrawingView()
    qtbot.addWidget(found)
    found.resize(800, 600)
    found.show_view(PlateView(many(), thing="a"))
    found.show()
    qtbot.waitExposed(found)
    settled(found, qtbot)
    return found


def settled(plate: DrawingView, qtbot: QtBot) -> None:
    """Painted, and nothing to follow."""

    def rests() -> bool:
        plate.repaint()
        return 0 in plate._pictures and not plate._pictures[0].busy and plate._pictures[0]._kept is not None

    qtbot.waitUntil(rests, timeout=10_000)


def painted(plate: DrawingView) -> QImage:
    return plate.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)


def at_once(plate: DrawingView) -> QImage:
    """The plate as it was, with its lines painted over it in one go: where they stand already nothing changes."""
    image = painted(plate)
    painter = QPainter(image)
    paint_lines(painter, plate.panes[0].scene, plate.view, plate._look)
    painter.end()
    return image


def unlike(a: QImage, b: QImage) -> float:
    """The share of points that differ by more than the softening of an edge drawn twice."""
    assert a.size() == b.size()
    points = [(x, y) for x in range(0, a.width(), 3) for y in range(0, a.height(), 3)]
    differ = sum(
        max(abs(p.red() - q.red()), abs(p.green() - q.green()), abs(p.blue() - q.blue())) > 60
        for p, q in ((a.pixelColor(x, y), b.pixelColor(x, y)) for x, y in points)
    )
    return differ / len(points)


def test_few_lines_are_painted_at_once(qtbot: QtBot) -> None:
    found = DrawingView()
    qtbot.addWidget(found)
    found.show_view(PlateView(Scene("a", elements=(Line((0, 0), (10, 5)),)), thing="a"))
    found.grab()
    assert not found._pictures


def test_many_lines_come_to_the_same_picture(plate: DrawingView) -> None:
    assert plate.panes[0].scene.strokes > MANY_STROKES
    assert 0 in plate._pictures
    assert unlike(painted(plate), at_once(plate)) < 0.01
    bare = DrawingView()
    bare.resize(plate.size())
    assert unlike(painted(plate), painted(bare)) > 0.05  # there is something to compare


def test_zooming_shows_the_old_lines_where_they_are_now_and_then_the_new_ones(plate: DrawingView, qtbot: QtBot) -> None:
    QTest.keyClick(plate, Qt.Key.Key_Plus)
    QTest.keyClick(plate, Qt.Key.Key_Plus)
    early = painted(plate)  # stretched: soft, but in place
    settled(plate, qtbot)
    late = painted(plate)
    assert unlike(late, at_once(plate)) < 0.01
    assert unlike(early, late) < 0.2


def test_another_thing_never_stands_in_the_lines_of_the_last_one(plate: DrawingView, qtbot: QtBot) -> None:
    full = unlike(painted(plate), blank := ground(plate, qtbot))
    plate.show_view(PlateView(many(3.0), thing="b"))
    assert unlike(painted(plate), blank) < 0.5 * full  # numbers and words only
    settled(plate, qtbot)
    assert unlike(painted(plate), blank) > 0.5 * full


def ground(plate: DrawingView, qtbot: QtBot) -> QImage:
    empty = DrawingView()
    qtbot.addWidget(empty)
    empty.resize(plate.size())
    return painted(empty)


def test_what_is_lit_up_is_lit_at_once(plate: DrawingView) -> None:
    centre = plate.view.px((100.0, 100.0))
    edge = plate.view.px((103.0, 100.0)).toPoint()
    before = painted(plate).pixelColor(edge)
    assert plate.panes[0].features_at(QPointF(edge)) == {"hole 10 10"}
    assert plate.panes[0].features_at(centre) == {"plate"}
    plate.light(frozenset({"hole 10 10"}))
    after = painted(plate).pixelColor(edge)
    assert after != before
    plate.light(frozenset())
    assert painted(plate).pixelColor(edge) == before


def test_pointing_finds_what_going_through_every_line_finds() -> None:
    chance = random.Random(8)
    elements = (
        *(Line((chance.uniform(0, 90), 0), (chance.uniform(0, 90), 60), feature=f"l{i}") for i in range(30)),
        *(Arc((chance.uniform(0, 90), 30), chance.uniform(2, 20), 20, 200, feature=f"a{i}") for i in range(30)),
        Path(((5, 5), (30, 5), (30, 25)), Style.BODY, "face", closed=True),
    )
    scene = Scene("x", elements=elements)
    for _ in range(60):
        at = (chance.uniform(-5, 95), chance.uniform(-5, 65))
        near = scene.near(at, 2.0)
        for e in elements:
            reaches = (
                e.points(200)
                if isinstance(e, Arc)
                else e.points
                if isinstance(e, Path)
                else [tuple(a + (b - a) * k / 200 for a, b in zip(e.a, e.b, strict=True)) for k in range(201)]
            )
            if any(abs(p[0] - at[0]) <= 2.0 and abs(p[1] - at[1]) <= 2.0 for p in reaches):
                assert e in near


def test_bounds_of_pieces_of_circles_are_exact() -> None:
    chance = random.Random(9)
    for _ in range(60):
        start = chance.uniform(-400, 400)
        arc = Arc((chance.uniform(-5, 5), 2.0), chance.uniform(0.5, 9), start, start + chance.choice((30, 90, 200, 359, 360)))
        dense = arc.points(3_000)
        left, bottom, right, top = Scene("a", elements=(arc,)).bounds()
        assert left == pytest.approx(min(p[0] for p in dense), abs=1e-5)
        assert right == pytest.approx(max(p[0] for p in dense), abs=1e-5)
        assert bottom == pytest.approx(min(p[1] for p in dense), abs=1e-5)
        assert top == pytest.approx(max(p[1] for p in dense), abs=1e-5)


def test_the_pointer_over_many_lines_is_quick_to_answer(plate: DrawingView) -> None:
    """Of eight hundred elements only those beside the pointer are looked at."""
    assert len(plate.panes[0].scene.near((100.0, 100.0), 1.0)) <= 4
    QTest.mouseMove(plate, QPoint(300, 300))
