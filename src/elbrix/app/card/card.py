"""The card widget: shows a CardView and reports what is typed and picked."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from elbrix.app.card.legend import LEGEND, Legend
from elbrix.app.card.row import RowWidget
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.exchange.csv_tables import safe_cell
from elbrix.presenters.card import Button, CardView, Section

WIDTH = 340
#: Letters of buttons that fit beside each other.
_BUTTONS_ABREAST = 36
#: Left and right of the buttons at the foot, px.
_FOOT_EDGES = 22
#: What stands beside a group's title, and the card's edges, px.
_BESIDE_TITLE = 120


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
        self._foot = QGridLayout()
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
        return high + 24 + (self._foot.sizeHint().height() + 12 if self._foot.count() else 0)

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
        self._lay_foot([self._make_button(button) for button in view.buttons])
        if focused is not None and typing is None:
            self._focus_again(focused)

    def _lay_foot(self, buttons: list[QPushButton]) -> None:
        """Beside each other where they go on the narrowest card, else the first above the others: none is cut off."""
        for column in range(self._foot.columnCount()):
            self._foot.setColumnStretch(column, 0)
        for button in buttons:
            button.setParent(self)  # its width goes by the style of where it stands
            button.ensurePolished()
        wide = sum(button.sizeHint().width() for button in buttons) + 8 * (len(buttons) - 1)
        stacked = wide > WIDTH - _FOOT_EDGES
        for n, button in enumerate(buttons):
            if stacked:
                self._foot.addWidget(button, min(n, 1), max(0, n - 1), 1, 1 if n else max(1, len(buttons) - 1))
            else:
                self._foot.addWidget(button, 0, n)
        if buttons and not stacked:
            self._foot.setColumnStretch(0, 1)

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
        long = QFontMetrics(font(15, bold=True)).horizontalAdvance(section.title) > WIDTH - _BESIDE_TITLE
        title.setWordWrap(long)  # a name somebody gave may be of any length
        if not long:  # the hint gives way: cut off rather than pushing the numbers out of the card
            hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        head.addWidget(title, 1 if long else 0)
        head.addWidget(hint, 0 if long else 1)
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
