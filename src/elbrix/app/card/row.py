"""One row of a card: label, origin mark, value and unit, with its entry, its working and its menu."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject, QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDropEvent,
    QFontMetrics,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QVBoxLayout, QWidget

from elbrix.app.dragging import dropped_text, enter
from elbrix.app.menus import open_once
from elbrix.app.theme.icons import paint_origin
from elbrix.app.theme.palette import Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, menu_line, set_tip
from elbrix.presenters.card import Row

#: The column of origin marks, that of units, and what neither label nor value may take of a row's width, px.
_MARK, _UNIT = 20, 38
_BESIDE = _MARK + _UNIT + 6 + 16
#: Height of a line, px.
_LINE = 26


class RowSignals(QObject):
    """What the rows of a card say, each with its key; one of these for all, as connecting each of a hundred would be felt."""

    typed = pyqtSignal(str, str)
    accepted = pyqtSignal(str)
    cancelled = pyqtSignal(str)
    picked = pyqtSignal(str, str)
    released = pyqtSignal(str)
    pointed = pyqtSignal(str)
    copy_all = pyqtSignal()


class RowWidget(QWidget):
    """One row: label, origin mark, value, unit. Click or Enter edits, picks or opens the working."""

    def __init__(self, palette: Palette, said: RowSignals, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.typed, self.accepted, self.cancelled, self.picked = said.typed, said.accepted, said.cancelled, said.picked
        self.released, self.pointed, self.copy_all = said.released, said.pointed, said.copy_all
        self._palette = palette
        self.row = Row(key="", label="", value="")
        self._open = False
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self._high = _LINE
        # Few rows ever show these two; a card of a hundred opens in half the time without them.
        self._working: Label | None = None
        self._error: Label | None = None
        self._editor: QLineEdit | None = None
        self._column = QVBoxLayout(self)
        # The line is painted: a widget of its own for each would double what a card of a hundred has to style.
        self._column.setContentsMargins(0, _LINE, 0, 0)
        self._column.setSpacing(2)
        self._lit = False
        self.setAcceptDrops(True)

    def _below(self, name: str, at: int) -> Label:
        """A label under the line, in the style of a name."""
        label = Label(parent=self)
        label.setObjectName(name)
        label.setWordWrap(True)
        self._column.insertWidget(at, label)
        return label

    def show_row(self, row: Row, palette: Palette) -> None:
        """Show a row; an open entry keeps what is being typed."""
        if (row, palette) == (self.row, self._palette):
            return
        self._palette = palette
        self.row = row
        self.open_working(self._open)
        self._fit_line()
        self.setAccessibleName(" ".join(p for p in (row.label, row.value, row.unit, row.origin) if p).strip())
        presses = {"text": "Enter to type", "choice": "Enter to choose", "press": "Enter to open"}
        self.setAccessibleDescription(presses.get(row.edit, row.derivation))
        hints = {"text": "Click to type", "choice": "Click to choose"}
        set_tip(self, hints.get(row.edit, "Click for the working" if row.derivation else ""))
        self.setCursor(Qt.CursorShape.PointingHandCursor if row.edit or row.derivation else Qt.CursorShape.ArrowCursor)
        self.update()

    def _fit_line(self) -> None:
        """A sentence takes the lines it needs."""
        height = _LINE
        text = self._sentence
        if self._wraps and text:
            width = max(120, self.width() - _MARK - 12)
            height = 24 + QFontMetrics(font(13)).boundingRect(0, 0, width, 4000, int(Qt.TextFlag.TextWordWrap), text).height() + 5
        if height != self._high:
            self._high = height
            self._column.setContentsMargins(0, height, 0, 0)

    @property
    def _sentence(self) -> str:
        """What stands under the label where the two do not stand side by side."""
        row = self.row
        return f"{row.value} {row.unit}".strip() if row.value else row.placeholder

    def settle(self) -> None:
        """Its line has another height."""
        self._column.invalidate()

    @property
    def _wraps(self) -> bool:
        """Whether the value stands under its label: it is a sentence, or the two do not stand side by side."""
        row = self.row
        text = row.value or row.placeholder
        if row.wrap or not text:
            return row.wrap
        value = QFontMetrics(font(14, bold=row.strong, italic=row.origin == "assumed")).horizontalAdvance(text)
        return QFontMetrics(font(13, bold=row.strong)).horizontalAdvance(row.label) + value > self.width() - _BESIDE

    def resizeEvent(self, event: object) -> None:
        self._fit_line()

    def light(self, on: bool) -> None:
        if on != self._lit:
            self._lit = on
            self.update()

    def show_error(self, text: str) -> None:
        """A message under the row; empty clears it."""
        if self._error is None:
            if not text:
                return
            self._error = self._below("error", 0)
        if text == self._error.text():
            return
        self._error.setText(text)
        self._error.setVisible(bool(text))
        if self._editor is not None:
            self._editor.setAccessibleDescription(text)
            self._editor.setProperty("wrong", bool(text))
            style = self._editor.style()
            if style is not None:
                style.unpolish(self._editor)
                style.polish(self._editor)

    @property
    def error_text(self) -> str:
        return self._error.text() if self._error is not None and self._error.isVisibleTo(self) else ""

    @property
    def editor(self) -> QLineEdit | None:
        return self._editor

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self._paint_line()

    def _paint_line(self) -> None:
        """Paint label, mark, value and unit."""
        painter = QPainter(self)
        p, row = self._palette, self.row
        width, height = self.width(), self._high
        if self._lit or self.hasFocus():
            back = QColor(p.accent)
            back.setAlpha(36)
            painter.fillRect(0, 0, width, height - 1, back)
            painter.fillRect(0, 0, 3, height - 1, QColor(p.accent))
        painter.setPen(QPen(QColor(p.line), 1))
        painter.drawLine(0, height - 1, width, height - 1)
        if row.origin:
            paint_origin(painter, row.origin, QRectF(3, (24 - 11) / 2, 11, 11), QColor(p.soft))
        if self._wraps:
            self._paint_sentence(painter, width, height)
            return
        unit_width = _UNIT
        value_right = width - unit_width - 6
        painter.setFont(font(11))
        painter.setPen(QColor(p.soft))
        painter.drawText(
            QRectF(width - unit_width, 0, unit_width, height - 2),
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            # A word that waits for its number has no unit: "measure in" reads as a place.
            row.unit if row.value or not row.placeholder or self._editor is not None else "",
        )
        value_font = font(14, bold=row.strong, italic=row.origin == "assumed")
        painter.setFont(value_font)
        painter.setPen(QColor(p.soft if row.placeholder and not row.value else p.ink))
        label_font = font(13, bold=row.strong)
        if self._editor is None:
            painter.drawText(
                QRectF(0, 0, value_right, height - 2),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                row.value or row.placeholder,
            )
        painter.setFont(label_font)
        painter.setPen(QColor(p.ink if row.strong else p.soft))
        painter.drawText(
            QRectF(_MARK, 0, width, height - 2), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, row.label
        )

    def _paint_sentence(self, painter: QPainter, width: int, height: int) -> None:
        p, row = self._palette, self.row
        painter.setFont(font(12))
        painter.setPen(QColor(p.soft))
        painter.drawText(QRectF(_MARK, 2, width - 12, 20), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, row.label)
        if self._editor is None:
            painter.setFont(font(13))
            painter.setPen(QColor(p.ink if row.value else p.soft))
            painter.drawText(
                QRectF(_MARK, 22, width - _MARK - 6, height - 22),
                int(Qt.TextFlag.TextWordWrap) | int(Qt.AlignmentFlag.AlignLeft),
                self._sentence,
            )

    # --- doing -------------------------------------------------------------------------------------------------------

    def activate(self) -> None:
        """What a click or Enter does."""
        if self.row.edit == "text":
            self.open_editor()
        elif self.row.edit == "choice":
            self._open_choices()
        elif self.row.edit == "press":
            self.picked.emit(self.row.key, "")
        elif self.row.derivation:
            self.open_working(not self._open)

    def open_working(self, on: bool) -> None:
        self._open = on
        shown = on and bool(self.row.derivation)
        if shown and self._working is None:
            self._working = self._below("working", self._column.count())
            self._working.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        if self._working is not None:
            self._working.setText(self.row.derivation)
            self._working.setVisible(shown)

    @property
    def working_open(self) -> bool:
        return self._open

    def forget_editor(self) -> None:
        """Let the entry field go without a word: its text lives on in the row that follows."""
        if self._editor is not None:
            self._editor.blockSignals(True)
            self._editor = None

    def go_on_typing(self, text: str, error: str) -> None:
        """Open the entry as it was before the card was made anew."""
        self.open_editor()
        if self._editor is not None:
            self._editor.setText(text)
            self.show_error(error)

    def open_editor(self) -> None:
        """Open the entry field over the number."""
        if self._editor is not None:
            return
        editor = QLineEdit(self)
        editor.setAccessibleName(self.row.label)
        editor.setText(self.row.entry_text or self.row.value)
        wide = max(130, QFontMetrics(font(14)).horizontalAdvance(editor.text()) + 26)
        if self._wraps:
            editor.setGeometry(0, 20, self.width(), 26)
        else:
            editor.setGeometry(max(90, self.width() - wide - 40), 0, min(wide, self.width() - 130), 26)
            editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        editor.textEdited.connect(lambda text: self.typed.emit(self.row.key, text))
        editor.editingFinished.connect(self._finish)
        editor.installEventFilter(self)
        self._editor = editor
        editor.show()
        editor.setFocus()
        editor.selectAll()
        self.update()

    def finish(self) -> None:
        """As Enter: the entry closes, the row keeps the focus."""
        self._finish()
        self.setFocus()

    def _finish(self) -> None:
        if self._editor is None:
            return
        editor, self._editor = self._editor, None
        editor.blockSignals(True)
        editor.deleteLater()
        wrong = bool(self.error_text)
        self.show_error("")
        self.update()
        # A text that could not be taken is let go with the entry; the value before it never changed.
        (self.cancelled if wrong else self.accepted).emit(self.row.key)

    def eventFilter(self, watched: object, event: object) -> bool:
        if watched is self._editor and isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Escape:
                editor, self._editor = self._editor, None
                if editor is not None:
                    editor.blockSignals(True)
                    editor.deleteLater()
                self.show_error("")
                self.update()
                self.setFocus()
                self.cancelled.emit(self.row.key)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if not self.error_text:
                    self.finish()
                return True
        return False

    def _pick(self, value: str) -> None:
        self.picked.emit(self.row.key, value)

    def _let_go(self) -> None:
        self.released.emit(self.row.key)

    def _open_choices(self) -> None:
        menu = QMenu(self)
        for value, words in self.row.choices:
            menu_line(menu, words, partial(self._pick, value))
        if self.row.chosen:
            menu.addSeparator()
            menu_line(menu, "Back to proposal", self._let_go)
        open_once(menu, self.mapToGlobal(QPoint(self.width() // 2, 26)))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and self.row.edit == "text" and dropped_text(event):
            event.acceptProposedAction()
            self.light(on=True)

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        self.light(on=False)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A number was dropped here: it stands in the entry as if typed."""
        self.light(on=False)
        text = dropped_text(event)
        if event is None or not text or self.row.edit != "text":
            return
        event.acceptProposedAction()
        self.open_editor()
        if self._editor is not None:
            enter(self._editor, text)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        menu = QMenu(self)
        if self.row.derivation:
            menu_line(menu, "Show working", lambda: self.open_working(not self._open))
        if self.row.chosen:
            menu_line(menu, "Back to proposal", self._let_go)
        menu_line(menu, "Copy the number", self._copy)
        menu_line(menu, "Copy the whole card", self._copy_whole)
        if event is not None:
            open_once(menu, event.globalPos())

    def _copy_whole(self) -> None:
        self.copy_all.emit()

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.row.value)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton and event.position().y() < self._high + 2:
            # The mark left of the number opens its working; the number itself is for typing.
            if self.row.derivation and self.row.edit and event.position().x() < self.width() * 0.45:
                self.open_working(not self._open)
            else:
                self.activate()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.activate()
        elif event.key() == Qt.Key.Key_Question:
            self.open_working(not self._open)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: object) -> None:
        self.pointed.emit(self.row.key)
        self.update()

    def focusOutEvent(self, event: object) -> None:
        self.update()

    def enterEvent(self, event: object) -> None:
        self.pointed.emit(self.row.key)

    def leaveEvent(self, event: object) -> None:
        self.pointed.emit("")
