"""What a hand does on a plate: point, click, drag, carry."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.design.view import DesignBench
from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.window import Window
from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.family import Design
from elbrix.drawing.scene import Path


def move(plate: DrawingView, to: QPointF) -> None:
    """The pointer moves with the left button down."""
    plate.mouseMoveEvent(
        QMouseEvent(
            QEvent.Type.MouseMove, to, to, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )


def drag(plate: DrawingView, start: QPointF, end: QPointF) -> None:
    """Press, move in three steps, let go."""
    QTest.mousePress(plate, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for share in (0.3, 0.7, 1.0):
        move(plate, start + (end - start) * share)
    QTest.mouseRelease(plate, Qt.MouseButton.LeftButton, pos=end.toPoint())


def middle_of(plate: DrawingView, feature: str) -> QPointF:
    """Where a feature's outline has its middle, px."""
    for pane in plate.panes:
        for element in pane.scene.elements:
            if isinstance(element, Path) and element.feature == feature:
                xs, ys = [p[0] for p in element.points], [p[1] for p in element.points]
                return pane.view.px(((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2))
    raise AssertionError(f"no {feature} on the plate")


def click_number(plate: DrawingView, key: str) -> None:
    """Click a brass number."""
    box = next(p.text_box for p in plate.placed if p.dimension.key == key)
    QTest.mouseClick(plate, Qt.MouseButton.LeftButton, pos=QPoint(round((box[0] + box[2]) / 2), round(-(box[1] + box[3]) / 2)))


def type_in(plate: DrawingView, key: str, text: str) -> None:
    """Click a brass number, type over it, Enter."""
    click_number(plate, key)
    plate.editor.selectAll()
    QTest.keyClicks(plate.editor, text)
    QTest.keyClick(plate.editor, Qt.Key.Key_Return)


def open_design(window: Window, ident: str) -> DesignBench:
    """The Design bench with one of the catalogue on it."""
    window.session.pick_design(ident)
    window.open_bench("design")
    found = window.benches["design"]
    assert isinstance(found, DesignBench)
    QApplication.processEvents()
    return found


def doc(bench: DesignBench) -> DesignDoc:
    """The design on the bench."""
    found = bench.session.design
    assert found is not None
    return found


def solved(bench: DesignBench) -> Design:
    return solve_doc(doc(bench), bench.session.shop)
