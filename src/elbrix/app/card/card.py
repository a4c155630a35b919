"""The card widget: shows a CardView and reports what is typed and picked."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QContextMenuEvent, QFontMetrics, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from elbrix.app.menus import open_once
from elbrix.app.theme.icons import paint_origin
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.exchange.csv_tables import safe_cell
from elbrix.presenters.card import Button, CardView, Row, Section

WIDTH = 340
#: Letters of buttons that fit beside each other.
_BUTTONS_ABREAST = 36


class _Line(QWidget):
    """The painted part of a row; clicks go through to the row."""

    def __init__(self, row: RowWidget) -> None:
        super().__init__(row)
        self._row = row
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        self._row.paint_line()


#: The column of origin marks, that of units, and what neither label nor value may take of a row's width, px.
_MARK, _UNIT = 20, 38
_BESIDE = _MARK + _UNIT + 6 + 16


class Legend(QWidget):
    """What the marks in the first column of the card mean."""

    def __init__(self, palette: Palette, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._palette = palette
        self.setFixedHeight(52)
        self.setAccessibleName("Marks: " + ", ".join(words for _, words in LEGEND))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(font(11))
        colour = QColor(self._palette.soft)
        x, y = 3.0, 12.0
        for origin, words in LEGEND:
            wide = QFontMetrics(painter.font()).horizontalAdvance(words)
            if x + 18 + wide > self.width():
                x, y = 3.0, y + 20
            paint_origin(painter, origin, QRectF(x, y, 11, 11), colour)
            painter.setPen(colour)
            painter.drawText(QRectF(x + 17, y - 4, wide + 4, 20), Qt.AlignmentFlag.AlignVCenter, words)
            x += 17 + wide + 16


#: Origin → how the legend of the card says it.
LEGEND = (
    ("measured", "measured"),
    ("chosen", "chosen"),
    ("calculated", "calculated"),
    ("assumed", "assumed"),
    ("from a table", "from a table"),
)


class RowWidget(QWidget):
    """One row: label, origin mark, value, unit. Click or Enter edits, picks or opens the working."""

    typed = pyqtSignal(str, str)
    accepted = pyqtSignal(str)
    cancelled = pyqtSignal(str)
    picked = pyqtSignal(str, str)
    released = pyqtSignal(str)
    pointed = pyqtSignal(str)
    copy_all = pyqtSignal()

    def __init__(self, palette: Palette, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._palette = palette
        self.row = Row(key="", label="", value="")
        self._open = False
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self._line = _Line(self)
        self._line.setFixedHeight(26)
        self._working = Label(parent=self)
        self._working.setObjectName("working")
        self._working.setWordWrap(True)
        self._working.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._working.hide()
        self._error = Label(parent=self)
        self._error.setObjectName("error")
        self._error.setWordWrap(True)
        self._error.hide()
        self._editor: QLineEdit | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        for part in (self._line, self._error, self._working):
            layout.addWidget(part)
        self._lit = False

    def show_row(self, row: Row, palette: Palette) -> None:
        """Show a row; an open entry keeps what is being typed."""
        if (row, palette) == (self.row, self._palette):
            return
        self._palette = palette
        self.row = row
        self._working.setText(row.derivation)
        self._working.setVisible(self._open and bool(row.derivation))
        self._fit_line()
        self.setAccessibleName(" ".join(p for p in (row.label, row.value, row.unit, row.origin) if p).strip())
        presses = {"text": "Enter to type", "choice": "Enter to choose", "press": "Enter to open"}
        self.setAccessibleDescription(presses.get(row.edit, row.derivation))
        hints = {"text": "Click to type", "choice": "Click to choose"}
        set_tip(self, hints.get(row.edit, "Click for the working" if row.derivation else ""))
        self.setCursor(Qt.CursorShape.PointingHandCursor if row.edit or row.derivation else Qt.CursorShape.ArrowCursor)
        self._line.update()

    def _fit_line(self) -> None:
        """A sentence takes the lines it needs."""
        height = 26
        text = self.row.value or self.row.placeholder
        if self._wraps and text:
            width = max(120, self.width() - _MARK - 12)
            height = 24 + QFontMetrics(font(13)).boundingRect(0, 0, width, 4000, int(Qt.TextFlag.TextWordWrap), text).height() + 5
        if height != self._line.height():
            self._line.setFixedHeight(height)

    @property
    def _wraps(self) -> bool:
        """Whether the value stands under its label: it is a sentence, or the two do not stand side by side."""
        row = self.row
        if row.wrap or not row.value:
            return row.wrap
        value = QFontMetrics(font(14, bold=row.strong, italic=row.origin == "assumed")).horizontalAdvance(row.value)
        return QFontMetrics(font(13, bold=row.strong)).horizontalAdvance(row.label) + value > self._line.width() - _BESIDE

    def resizeEvent(self, event: object) -> None:
        self._fit_line()

    def light(self, on: bool) -> None:
        if on != self._lit:
            self._lit = on
            self._line.update()

    def show_error(self, text: str) -> None:
        """A message under the row; empty clears it."""
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
        return self._error.text() if self._error.isVisibleTo(self) else ""

    @property
    def editor(self) -> QLineEdit | None:
        return self._editor

    def paint_line(self) -> None:
        """Paint label, mark, value and unit."""
        painter = QPainter(self._line)
        p, row = self._palette, self.row
        width, height = self._line.width(), self._line.height()
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
            row.unit,
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
                f"{row.value} {row.unit}".strip() or row.placeholder,
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
        self._working.setVisible(on and bool(self.row.derivation))

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
        self._line.update()

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
        self._line.update()
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
                self._line.update()
                self.setFocus()
                self.cancelled.emit(self.row.key)
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                if not self.error_text:
                    self.finish()
                return True
        return False

    def _open_choices(self) -> None:
        menu = QMenu(self)
        for value, words in self.row.choices:
            action = QAction(words, menu)
            action.triggered.connect(lambda _=False, v=value: self.picked.emit(self.row.key, v))
            menu.addAction(action)
        if self.row.chosen:
            menu.addSeparator()
            back = QAction("Back to proposal", menu)
            back.triggered.connect(lambda: self.released.emit(self.row.key))
            menu.addAction(back)
        open_once(menu, self.mapToGlobal(QPoint(self.width() // 2, 26)))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        menu = QMenu(self)
        if self.row.derivation:
            show = QAction("Show working", menu)
            show.triggered.connect(lambda: self.open_working(not self._open))
            menu.addAction(show)
        if self.row.chosen:
            back = QAction("Back to proposal", menu)
            back.triggered.connect(lambda: self.released.emit(self.row.key))
            menu.addAction(back)
        copy = QAction("Copy the number", menu)
        copy.triggered.connect(self._copy)
        menu.addAction(copy)
        whole = QAction("Copy the whole card", menu)
        whole.triggered.connect(self.copy_all)
        menu.addAction(whole)
        if event is not None:
            open_once(menu, event.globalPos())

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.row.value)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton and event.position().y() < self._line.height() + 2:
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
        self._line.update()

    def focusOutEvent(self, event: object) -> None:
        self._line.update()

    def enterEvent(self, event: object) -> None:
        self.pointed.emit(self.row.key)

    def leaveEvent(self, event: object) -> None:
        self.pointed.emit("")


class _Number(QWidget):
    """The number of a group, in a copper disc."""

    def __init__(self, number: int, palette: Palette) -> None:
        super().__init__()
        self._number, self._palette = number, palette
        self.setFixedSize(20, 20)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(QColor(self._palette.accent))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(0, 0, 20, 20)
        painter.setPen(QColor(self._palette.on_accent))
        painter.setFont(font(12, bold=True))
        painter.drawText(QRectF(0, 0, 20, 20), Qt.AlignmentFlag.AlignCenter, str(self._number))


class Card(QFrame):
    """The paper beside the plate."""

    typed = pyqtSignal(str, str)
    accepted = pyqtSignal(str)
    cancelled = pyqtSignal(str)
    picked = pyqtSignal(str, str)
    released = pyqtSignal(str)
    pointed = pyqtSignal(str)
    pressed = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("cardPaper")
        self.setMinimumWidth(WIDTH)
        self.setMaximumWidth(560)
        self._palette = LIGHT
        self._shape: tuple[object, ...] = ()
        self.rows: dict[str, RowWidget] = {}
        self._hints: list[Label] = []
        self._texts: list[Label] = []
        self._buttons: dict[str, QPushButton] = {}
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._foot = QHBoxLayout()
        self._foot.setSpacing(8)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 12, 8, 12)
        layout.setSpacing(8)
        layout.addWidget(self._area, 1)
        layout.addLayout(self._foot)

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 400)

    def set_palette(self, palette: Palette) -> None:
        self._palette = palette
        self._shape = ()

    def show_view(self, view: CardView) -> None:
        """Show a card. Rows that stay are only refreshed, so an open entry and its focus survive."""
        shape = (
            tuple(
                (s.title, s.numbered, bool(s.text), tuple(r.key for r in s.rows), tuple(b.key for b in s.buttons), s.pictures)
                for s in view.sections
            ),
            tuple(b.key for b in view.buttons),
            self._palette,
        )
        if shape != self._shape:
            self._build(view)
            self._shape = shape
        for section, hint, text in zip(view.sections, self._hints, self._texts, strict=True):
            hint.setText(section.hint)
            text.setText(section.text)
        for section in view.sections:
            for row in section.rows:
                self.rows[row.key].show_row(row, self._palette)
            for button in section.buttons:
                self._refresh_button(button)
        for button in view.buttons:
            self._refresh_button(button)

    def content_height(self, width: int) -> int:
        """How high the card must be at a width to show everything, px."""
        page = self._area.widget()
        layout = page.layout() if page is not None else None
        if layout is None:
            return 0
        layout.activate()
        inside = width - 14 - 8
        high = layout.heightForWidth(inside) if layout.hasHeightForWidth() else layout.sizeHint().height()
        return high + 24 + (56 if self._foot.count() else 0)

    def _refresh_button(self, button: Button) -> None:
        widget = self._buttons[button.key]
        widget.setText(button.text)
        widget.setEnabled(button.enabled)
        set_tip(widget, button.tip)

    def _build(self, view: CardView) -> None:
        open_rows = {key for key, row in self.rows.items() if row.working_open}
        typing = next(
            ((key, row.editor.text(), row.error_text) for key, row in self.rows.items() if row.editor is not None), None
        )
        focused = next((key for key, part in (*self.rows.items(), *self._buttons.items()) if part.hasFocus()), None)
        for row in self.rows.values():
            row.forget_editor()
        bar = self._area.verticalScrollBar()
        at = bar.value() if bar is not None else 0
        self.rows, self._hints, self._texts, self._buttons = {}, [], [], {}
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(0)
        number = 0
        for section in view.sections:
            number += section.numbered
            self._add_section(column, section, number if section.numbered else 0)
        if any(row.origin in dict(LEGEND) for section in view.sections for row in section.rows):
            column.addWidget(Legend(self._palette))
        column.addStretch(1)
        if focused is not None:
            self._area.setFocus()  # a page that is taken out with the focus takes the window's with it
        # The old rows may be in the middle of telling us something: they go when that is over.
        old = self._area.takeWidget()
        if old is not None:
            old.hide()
            old.deleteLater()
        self._area.setWidget(page)
        if typing is not None and typing[0] in self.rows:
            self.rows[typing[0]].go_on_typing(typing[1], typing[2])
        for key in open_rows & set(self.rows):
            self.rows[key].open_working(True)
        if bar is not None:
            bar.setValue(at)
        while self._foot.count():
            item = self._foot.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for button in view.buttons:
            self._foot.addWidget(self._make_button(button), 1 if button.main else 0)
        if focused is not None and typing is None:
            self._focus_again(focused)

    def _focus_again(self, key: str) -> None:
        """Who works by keyboard stays on the card: on the same row or button, or on its first row when that is gone."""
        part = self.rows.get(key) or self._buttons.get(key) or next(iter(self.rows.values()), None)
        if part is not None:
            part.setFocus()

    def _add_section(self, column: QVBoxLayout, section: Section, number: int) -> None:
        head = QHBoxLayout()
        head.setContentsMargins(0, 10 if column.count() else 0, 0, 4)
        head.setSpacing(8)
        if number:
            head.addWidget(_Number(number, self._palette))
        title = Label(section.title)
        title.setObjectName("groupTitle")
        hint = Label(section.hint)
        hint.setObjectName("hint")
        hint.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        # It gives way: a long one is cut off rather than pushing the numbers out of the card.
        hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        head.addWidget(title)
        head.addWidget(hint, 1)
        if section.title or section.hint:
            column.addLayout(head)
        text = Label(section.text)
        text.setObjectName("rowLabel")
        text.setWordWrap(True)
        column.addWidget(text)
        text.setVisible(bool(section.text))  # after it has a parent: alone it would be a window for a moment, and take the focus
        self._hints.append(hint)
        self._texts.append(text)
        for row in section.rows:
            widget = RowWidget(self._palette)
            for name in ("typed", "accepted", "cancelled", "picked", "released", "pointed"):
                getattr(widget, name).connect(getattr(self, name))
            widget.copy_all.connect(self.copy_all)
            self.rows[row.key] = widget
            column.addWidget(widget)
        if section.pictures:
            from elbrix.app.card.pictures import Pictures  # few cards have any

            pictures = Pictures(section.pictures)
            pictures.pressed.connect(self.pressed)
            column.addWidget(pictures)
        if section.buttons:
            # Side by side while they fit; two long ones would push the numbers out of the card.
            wide = sum(len(button.text) for button in section.buttons) > _BUTTONS_ABREAST
            line = QVBoxLayout() if wide else QHBoxLayout()
            line.setContentsMargins(0, 4, 0, 0)
            line.setSpacing(2 if wide else 10)
            for button in section.buttons:
                line.addWidget(self._make_button(button))
            if not wide:
                line.addStretch(1)
            column.addLayout(line)

    def _make_button(self, button: Button) -> QPushButton:
        widget = QPushButton(button.text)
        widget.setObjectName("main" if button.main else "plain")
        widget.setCursor(Qt.CursorShape.PointingHandCursor)
        widget.setSizePolicy(
            QSizePolicy.Policy.Expanding if button.main else QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed
        )
        widget.clicked.connect(lambda _=False, key=button.key: self.pressed.emit(key))
        self._buttons[button.key] = widget
        return widget

    def table_text(self) -> str:
        """All numbers as rows that paste into a spreadsheet: label, value, unit, where it came from."""
        lines = []
        for widget in self.rows.values():
            row = widget.row
            lines.append("\t".join(safe_cell(cell) for cell in (row.label, row.value, row.unit, row.origin)))
        return "\n".join(lines) + "\n"

    def copy_all(self) -> None:
        """Put the whole card on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.table_text())

    def button(self, key: str) -> QPushButton:
        """A button by key; KeyError for none."""
        return self._buttons[key]

    def open_entry(self) -> tuple[str, QLineEdit] | None:
        """The row that is being typed: its key and its field."""
        return next(((key, row.editor) for key, row in self.rows.items() if row.editor is not None), None)

    def finish_entry(self) -> None:
        """As Enter: the row that is typed is done, if nothing is wrong with it."""
        for row in self.rows.values():
            if row.editor is not None and not row.error_text:
                row.finish()

    def light(self, keys: frozenset[str]) -> None:
        for key, row in self.rows.items():
            row.light(key in keys)

    def show_error(self, key: str, text: str) -> None:
        """A message under the row it is about."""
        if key in self.rows:
            self.rows[key].show_error(text)
