"""The card widget: shows a CardView and reports what is typed and picked."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QApplication, QFrame, QGridLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from elbrix.app.card.legend import LEGEND, Legend
from elbrix.app.card.row import RowSignals, RowWidget
from elbrix.app.card.section import SectionPart, make_button, refresh_button, shape_of
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.words import Label
from elbrix.exchange.csv_tables import safe_cell
from elbrix.presenters.card import Button, CardView, Section

WIDTH = 340
#: Left and right of the buttons at the foot, px.
_FOOT_EDGES = 22


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
        self._parts: list[SectionPart] = []
        self._said = RowSignals(self)
        for name in ("typed", "accepted", "cancelled", "picked", "released", "pointed"):
            getattr(self._said, name).connect(getattr(self, name))
        self._said.copy_all.connect(self.copy_all)
        self._legend: Legend | None = None
        self._buttons: dict[str, QPushButton] = {}
        self._foot_buttons: dict[str, QPushButton] = {}
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._page = QWidget()
        self._column = QVBoxLayout(self._page)
        self._column.setContentsMargins(0, 0, 8, 0)
        self._column.setSpacing(0)
        self._area.setWidget(self._page)
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
        for part in (*self._parts, *((self._legend,) if self._legend is not None else ())):
            part.set_palette(palette)

    def show_view(self, view: CardView) -> None:
        """Show a card. Rows that stay are only refreshed, so an open entry and its focus survive."""
        shape = (*self._shapes(view), tuple(b.key for b in view.buttons))
        anew = shape != self._shape
        if anew:
            self._build(view)
            self._shape = shape
        for section, part in zip(view.sections, self._parts, strict=True):
            part.refresh(section)
        for button in view.buttons:
            refresh_button(self._buttons[button.key], button)
        if anew:
            self._settle()

    def _settle(self) -> None:
        """Sentences take the lines they need at once: a card that is shown for the first time has no turn of the loop yet."""
        for part in self._parts:
            part.settle()
        self._column.invalidate()
        self._column.activate()

    def _shapes(self, view: CardView) -> list[tuple[object, ...]]:
        found, number = [], 0
        for i, section in enumerate(view.sections):
            number += section.numbered
            found.append(shape_of(section, number if section.numbered else 0, first=not i))
        return found

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

    def _build(self, view: CardView) -> None:
        """The sections anew; one that is as it was stays where it is, with whatever is typed in it."""
        shapes = self._shapes(view)
        going = list(self._parts)
        kept: dict[int, SectionPart] = {}
        for i, shape in enumerate(shapes):
            same = next((part for part in going if part.shape == shape), None)
            if same is not None:
                kept[i] = same
                going.remove(same)
        lost = {key: row for part in going for key, row in part.rows.items()}
        open_rows = {key for key, row in lost.items() if row.working_open}
        typing = next(((key, row.editor.text(), row.error_text) for key, row in lost.items() if row.editor is not None), None)
        leaving = (*lost.items(), *(b for part in going for b in part.buttons.items()), *self._foot_buttons.items())
        focused = next((key for key, part in leaving if part.hasFocus()), None)
        for row in lost.values():
            row.forget_editor()
        bar = self._area.verticalScrollBar()
        at = bar.value() if bar is not None else 0
        if focused is not None:
            self._area.setFocus()  # what is taken away with the focus takes the window's with it
        self._page.setUpdatesEnabled(False)
        while self._column.count():
            self._column.takeAt(0)
        # The old rows may be in the middle of telling us something: they go when that is over.
        for widget in (*going, *((self._legend,) if self._legend is not None else ())):
            widget.hide()
            widget.deleteLater()
        self._legend = None
        self._parts = [kept.get(i) or self._part(view.sections[i], shape) for i, shape in enumerate(shapes)]
        for part in self._parts:
            self._column.addWidget(part)
            part.show()
        self.rows = {key: row for part in self._parts for key, row in part.rows.items()}
        self._buttons = {key: button for part in self._parts for key, button in part.buttons.items()}
        if any(row.origin in dict(LEGEND) for section in view.sections for row in section.rows):
            self._legend = Legend(self._palette)
            self._column.addWidget(self._legend)
        self._column.addStretch(1)
        self._page.setUpdatesEnabled(True)
        if typing is not None and typing[0] in self.rows:
            self.rows[typing[0]].go_on_typing(typing[1], typing[2])
        for key in open_rows & set(self.rows):
            self.rows[key].open_working(True)
        if bar is not None:
            bar.setValue(at)
        self._build_foot(view.buttons)
        if focused is not None and typing is None:
            self._focus_again(focused)

    def _build_foot(self, buttons: Sequence[Button]) -> None:
        for old in self._foot_buttons.values():
            self._foot.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._foot_buttons = {button.key: make_button(button, self._press) for button in buttons}
        self._buttons |= self._foot_buttons
        self._lay_foot(list(self._foot_buttons.values()))

    def _press(self, key: str) -> None:
        self.pressed.emit(key)

    def _part(self, section: Section, shape: tuple[object, ...]) -> SectionPart:
        """A new section, heard by the card."""
        number = shape[1]
        assert isinstance(number, int)
        part = SectionPart(section, number, shape, self._palette, self._said, self._page, WIDTH)
        part.pressed.connect(self.pressed)
        return part

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

    @property
    def _hints(self) -> list[Label]:
        return [part.hint for part in self._parts]

    @property
    def _texts(self) -> list[Label]:
        return [part.text for part in self._parts]

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
