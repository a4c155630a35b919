"""One move of the list, and the head of an operation: painted, because a plan has a hundred of them.

Only a row that has something to enter gets widgets of its own.
"""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QPoint, QPointF, QRect, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygon, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.presenters.make import MoveLine
from elbrix.quantities.sentences import unbroken

_WRAP: Final = int(Qt.TextFlag.TextWordWrap)
_LEFT: Final = 38  # of the words, beside the tick
_RIGHT: Final = 6
_TOP: Final = 5
_GAP: Final = 2
_TICK: Final = QRect(11, 7, 15, 15)
_TALL: Final = 10_000


class _Text:
    """A piece of wrapped text with its look."""

    def __init__(self, text: str, face: QFont, color: str, *, right: bool = False, under: str = "", edge: str = "") -> None:
        self.text, self.face, self.color, self.under, self.edge = text, face, color, under, edge
        self.flags = _WRAP | int(Qt.AlignmentFlag.AlignRight if right else Qt.AlignmentFlag.AlignLeft)
        self.pad = QPoint(8, 5) if edge else QPoint(0, 0)
        self._heights: dict[int, int] = {}

    def height(self, width: int) -> int:
        known = self._heights.get(width)
        if known is None:  # breaking lines is what a card of moves spends its time on
            inner = QRect(0, 0, max(20, width - 2 * self.pad.x()), _TALL)
            known = QFontMetrics(self.face).boundingRect(inner, self.flags, self.text).height() + 2 * self.pad.y()
            self._heights[width] = known
        return known

    def paint(self, painter: QPainter, at: QRect) -> None:
        if self.edge:
            painter.fillRect(at, QColor(self.under))
            painter.fillRect(at.x(), at.y(), 3, at.height(), QColor(self.edge))
        painter.setFont(self.face)
        painter.setPen(QColor(self.color))
        painter.drawText(at.adjusted(self.pad.x(), self.pad.y(), -self.pad.x(), -self.pad.y()), self.flags, self.text)


class PieceRow(QWidget):
    """Pieces one under the other, as wide as it is and as high as they need; a piece is text or a widget."""

    higher = pyqtSignal()  #: it may want another height

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._pieces: list[_Text | QWidget] = []
        self._known: tuple[int, int] = (-1, 0)

    margins = (_LEFT, _TOP, _RIGHT, 6)

    def show_pieces(self, pieces: list[_Text | QWidget]) -> None:
        self._pieces, self._known = pieces, (-1, 0)
        self.higher.emit()
        self.update()

    def _rects(self, width: int) -> list[QRect]:
        left, y, right, _ = self.margins
        wide, found = max(20, width - left - right), []
        for piece in self._pieces:
            high = piece.height(wide) if isinstance(piece, _Text) else self._widget_height(piece, wide)
            found.append(QRect(left, y, wide, high))
            y += high + _GAP
        return found

    def _widget_height(self, widget: QWidget, wide: int) -> int:
        layout = widget.layout()
        if layout is not None and layout.hasHeightForWidth():
            return layout.heightForWidth(wide)
        return widget.sizeHint().height()

    def place(self, y: int, width: int) -> int:
        """Put it there, and its widgets in it; how high it is."""
        if self._known[0] != width:
            rects = self._rects(width)
            self._known = (width, (rects[-1].bottom() + 1 if rects else self.margins[1]) + self.margins[3])
            for piece, rect in zip(self._pieces, rects, strict=True):
                if isinstance(piece, QWidget):
                    piece.setGeometry(rect)
        self.setGeometry(0, y, width, self._known[1])
        return self._known[1]

    def paint_pieces(self, painter: QPainter) -> None:
        for piece, rect in zip(self._pieces, self._rects(self.width()), strict=True):
            if isinstance(piece, _Text):
                piece.paint(painter, rect)


class RowColumn(QWidget):
    """Rows one under the other, placed by the column itself: a layout asks each of a hundred for its height many times."""

    placed = pyqtSignal()  #: every row stands where it belongs

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[PieceRow] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self.place)

    def place_soon(self) -> None:
        """Place the rows when the window has its turn."""
        self._soon.start()

    def show_rows(self, rows: list[PieceRow]) -> None:
        """Other rows; the ones before are let go."""
        for row in self.rows:
            row.hide()
            row.deleteLater()
        self.rows = rows
        for row in rows:
            row.higher.connect(self._soon.start)
        self._soon.start()

    def place(self) -> None:
        """Every row where it belongs."""
        y, width = 0, self.width()
        for row in self.rows:
            y += row.place(y, width)
            row.show()
        self.setMinimumHeight(y)
        self.placed.emit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is not None and event.size().width() != event.oldSize().width():
            self._soon.start()


class OperationHead(PieceRow):
    """Title of an operation, its tool and speed under it."""

    margins = (8, 10, 6, 4)

    def __init__(self, parent: QWidget, title: str, under: str, palette: Palette) -> None:
        super().__init__(parent)
        self.setAccessibleName(f"{title}. {under}" if under else title)
        pieces: list[_Text | QWidget] = [_Text(title, font(15, bold=True), palette.ink)]
        if under:
            pieces.append(_Text(under, font(11), palette.soft))
        self.show_pieces(pieces)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self.paint_pieces(QPainter(self))


class _SetEntry(QLineEdit):
    """Where one axis was really set. Its own slot is a method, so that a row that goes while it is typed in goes quietly."""

    given = pyqtSignal(int)

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number
        self.setFixedWidth(84)
        self.editingFinished.connect(self._finished)

    def _finished(self) -> None:
        self.given.emit(self.number)


class MoveWidget(PieceRow):
    """One move; the current one shows its details."""

    picked = pyqtSignal(str)
    ticked = pyqtSignal(str)
    measured = pyqtSignal(str, str)
    keyed = pyqtSignal(str, str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.line: MoveLine | None = None
        self._current = False
        self.palette_ = LIGHT
        self.error_text = ""
        self._furnished = False

    def _furnish(self) -> None:
        """The entries of a row, made when it first has something to enter."""
        if self._furnished:
            return
        self._furnished = True
        self.entry = QLineEdit()
        self.entry.setFixedWidth(110)
        self.entry.editingFinished.connect(self._entered)
        self._ask = Label()
        self._ask.setWordWrap(True)
        self._ask.setStyleSheet("font-style: italic; font-size: 12px;")
        self._asking = QWidget(self)
        asking = QHBoxLayout(self._asking)
        asking.setContentsMargins(0, 2, 0, 2)
        asking.addWidget(self._ask, 1)
        asking.addWidget(self.entry)
        self._setting = QWidget(self)
        setting = QHBoxLayout(self._setting)
        setting.setContentsMargins(0, 2, 0, 2)
        setting.setSpacing(6)
        set_words = Label("Really set to")
        set_words.setObjectName("hint")
        setting.addWidget(set_words)
        setting.addStretch(1)
        self.set_entries = [_SetEntry(n) for n in range(3)]
        for entry in self.set_entries:
            entry.given.connect(self._set)
            setting.addWidget(entry)

    def show_line(self, line: MoveLine, palette: Palette, current: bool) -> None:
        """Show a move; a size being typed is left alone, and so is a row that shows it already."""
        if (line, palette, current) == (self.line, self.palette_, self._current):
            return
        if current or line.ask or any(line.keyed):
            self._furnish()
        self.line, self.palette_, self._current = line, palette, current
        self.setAccessibleName(" ".join((line.words, *(f"{axis} {text}" for axis, text in line.numbers))))
        if self._furnished:
            self._fill_entries(line)
        self._show()

    def _show(self) -> None:
        line, palette, current = self.line, self.palette_, self._current
        if line is None:
            return
        pieces: list[_Text | QWidget] = [_Text(line.words, font(13, bold=current), palette.ink if current else palette.soft)]
        if line.numbers:
            # Each number keeps together; two that are long stand one under the other.
            text = "     ".join(unbroken(f"{axis} {text}") for axis, text in line.numbers)
            pieces.append(_Text(text, font(19 if current else 14, bold=True), palette.ink, right=True))
        asks = sets = False
        if self._furnished:
            asks = bool(line.ask) and (current or bool(line.measured))
            sets = bool(line.numbers) and (current or any(line.keyed))
            self._asking.setVisible(asks)
            self._setting.setVisible(sets)
        if sets:
            pieces.append(self._setting)
        if current and line.details:
            pieces.append(_Text("\n".join(line.details), font(11), palette.soft))
        if current and line.caution:
            pieces.append(_Text(f"▲ {line.caution}", font(12), palette.accent))
        if asks:
            pieces.append(self._asking)
        if self.error_text:
            pieces.append(_Text(self.error_text, font(12), palette.no_go, under=palette.card, edge=palette.no_go))
        self.show_pieces(pieces)

    def _fill_entries(self, line: MoveLine) -> None:
        self._ask.setText(line.ask)
        self.entry.setAccessibleName(line.ask)
        if not self.entry.hasFocus():
            self.entry.setText(line.measured)
        for entry, number, text in zip(
            self.set_entries, [*line.numbers, *[("", "")] * 3], [*line.keyed, *[""] * 3], strict=False
        ):
            entry.setVisible(bool(number[0]))
            entry.setPlaceholderText(number[0])
            entry.setAccessibleName(f"{number[0]} as it was really set")
            set_tip(entry, f"What {number[0]} was really set to, as the machine shows it: the metal on the plate is cut with it")
            if not entry.hasFocus():
                entry.setText(text)

    def _set(self, n: int) -> None:
        if self.line is not None and n < len(self.line.keyed) and self.set_entries[n].text().strip() != self.line.keyed[n]:
            self.keyed.emit(self.line.id, self.line.numbers[n][0], self.set_entries[n].text())

    def show_error(self, text: str) -> None:
        if text != self.error_text:
            self.error_text = text
            self._show()

    def _entered(self) -> None:
        if self.line is not None and self.entry.text().strip() != self.line.measured:
            self.measured.emit(self.line.ask_key, self.entry.text())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        if self._current:
            back = QColor(p.accent)
            back.setAlpha(28)
            painter.fillRect(self.rect(), back)
            painter.fillRect(0, 0, 3, self.height(), QColor(p.accent))
        painter.setPen(QPen(QColor(p.soft), 1.5))
        painter.drawRect(_TICK)
        if self.line is not None and self.line.done:
            painter.setPen(QPen(QColor(p.go), 2.6))
            corner = _TICK.topLeft()
            painter.drawPolyline(QPolygon([corner + QPoint(2, 5), corner + QPoint(6, 12), corner + QPoint(17, -2)]))
        self.paint_pieces(painter)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(8, self.height() - 1, self.width(), self.height() - 1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self.line is None or event is None:
            return
        at: QPointF = event.position()
        # The tick is hit a little beside it as well: hands are not always clean, or still.
        if at.x() < _LEFT - 4 and at.y() < _TICK.bottom() + 8:
            self.ticked.emit(self.line.id)
        else:
            self.picked.emit(self.line.id)
