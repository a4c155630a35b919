"""What fits what, at one look: every item against every slot, bore and vise, on the dark ground."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QToolTip, QWidget

from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.finding.fit_matrix import FitRow, columns
from elbrix.results.checks import Verdict

_TITLES, _HEAD, _WIDE, _HIGH = 250, 168, 34, 28
#: Names of places lean, so that they are read without turning the head far.
_LEAN = -58.0


class Matrix(QWidget):
    """Painted cells; arrows move, Enter or a click opens the reason."""

    opened = pyqtSignal(str, str, str)  #: design, machine, slot
    taken = pyqtSignal(str)  #: a design by its title

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._palette = LIGHT
        self.rows: tuple[FitRow, ...] = ()
        self.places: tuple[tuple[str, str], ...] = ()
        self.at = (0, 0)  #: row and column in hand
        self._design = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("What fits what")

    def show_rows(self, rows: Sequence[FitRow], design: str, palette: Palette) -> None:
        """Rows that are judged in some place; the design in hand stands out."""
        self._palette, self._design = palette, design
        self.rows = tuple(r for r in rows if r.fits)
        self.places = columns(self.rows)
        self.at = (min(self.at[0], max(0, len(self.rows) - 1)), min(self.at[1], max(0, len(self.places) - 1)))
        self.setMinimumSize(self.sizeHint())
        self.setAccessibleDescription(self.words(*self.at))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(_TITLES + _WIDE * len(self.places) + 110, _HEAD + _HIGH * len(self.rows) + 16)

    def words(self, row: int, column: int) -> str:
        """A cell in words."""
        if row >= len(self.rows) or column >= len(self.places):
            return ""
        fit, place = self.rows[row].at(self.places[column]), self.places[column]
        told = f"{fit.verdict.value}: {fit.reason}" if fit is not None else "not for such places"
        return f"{self.rows[row].title} in {place[0]}, {place[1]}: {told}"

    # --- painting ----------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self._palette
        painter.fillRect(self.rect(), QColor(p.plate))
        for column, (machine, slot) in enumerate(self.places):
            painter.save()
            painter.translate(_TITLES + _WIDE * (column + 0.5) + 4, _HEAD - 8)
            painter.rotate(_LEAN)
            painter.setFont(font(12, bold=column == self.at[1] and self.hasFocus()))
            painter.setPen(QColor(p.scribed))
            room = _HEAD / 0.86
            text = QFontMetricsF(painter.font()).elidedText(f"{machine}, {slot}", Qt.TextElideMode.ElideRight, room)
            painter.drawText(QPointF(0, 4), text)
            painter.restore()
            x = _TITLES + _WIDE * column
            painter.setPen(QPen(QColor(p.grid), 1))
            painter.drawLine(QPointF(x, _HEAD), QPointF(x, _HEAD + _HIGH * len(self.rows)))
        for number, row in enumerate(self.rows):
            self._paint_row(painter, number, row)

    def _paint_row(self, painter: QPainter, number: int, row: FitRow) -> None:
        p, top = self._palette, _HEAD + _HIGH * number
        painter.setPen(QPen(QColor(p.grid), 1))
        painter.drawLine(QPointF(8, top), QPointF(_TITLES + _WIDE * len(self.places), top))
        on = row.design == self._design
        painter.setFont(font(13, bold=on))
        painter.setPen(QColor(p.brass if on else p.scribed))
        title = QFontMetricsF(painter.font()).elidedText(row.title, Qt.TextElideMode.ElideRight, _TITLES - 20)
        painter.drawText(QRectF(10, top, _TITLES - 14, _HIGH), Qt.AlignmentFlag.AlignVCenter, title)
        colours = {Verdict.GO: p.centre, Verdict.MARGINAL: p.brass, Verdict.NO_GO: p.note}
        for column, place in enumerate(self.places):
            fit = row.at(place)
            box = QRectF(_TITLES + _WIDE * column, top, _WIDE, _HIGH)
            if self.hasFocus() and (number, column) == self.at:
                painter.setPen(QPen(QColor(p.brass), 1.6))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(box.adjusted(2, 2, -2, -2), 3, 3)
            if fit is None:
                painter.setPen(QColor(p.hidden))
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "·")
                continue
            painter.setFont(font(14 if fit.verdict is Verdict.GO else 12))
            painter.setPen(QColor(colours[fit.verdict]))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, fit.verdict.sign)

    # --- doing -------------------------------------------------------------------------------------------------------

    def cell_at(self, at: QPointF) -> tuple[int, int] | None:
        """Row and column under a place; column −1 is the title."""
        row = int((at.y() - _HEAD) // _HIGH)
        if at.y() < _HEAD or row >= len(self.rows):
            return None
        column = -1 if at.x() < _TITLES else int((at.x() - _TITLES) // _WIDE)
        return (row, column) if column < len(self.places) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = self.cell_at(event.position()) if event is not None else None
        if found is None:
            return
        self.setFocus()
        if found[1] < 0:
            self.taken.emit(self.rows[found[0]].design)
            return
        self._move(*found)
        self._open()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        found = self.cell_at(event.position()) if event is not None else None
        if event is not None and found is not None and found[1] >= 0:
            QToolTip.showText(event.globalPosition().toPoint(), self.words(*found), self)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        steps = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        step = steps.get(Qt.Key(event.key()))
        if step is not None:
            self._move(self.at[0] + step[0], self.at[1] + step[1])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._open()
        else:
            super().keyPressEvent(event)

    def _move(self, row: int, column: int) -> None:
        if self.rows and self.places:
            self.at = (min(max(0, row), len(self.rows) - 1), min(max(0, column), len(self.places) - 1))
            self.setAccessibleDescription(self.words(*self.at))
            self.update()

    def _open(self) -> None:
        row, column = self.at
        if row < len(self.rows) and column < len(self.places):
            self.opened.emit(self.rows[row].design, *self.places[column])

    def focusInEvent(self, event: object) -> None:
        self.update()

    def focusOutEvent(self, event: object) -> None:
        self.update()
