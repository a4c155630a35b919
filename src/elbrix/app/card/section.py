"""One section of a card: its head, its text, its rows and its buttons. It stays as long as what stands in it is the same."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from elbrix.app.card.row import RowSignals, RowWidget
from elbrix.app.theme.palette import Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip, with_signs
from elbrix.presenters.card import Button, Section

#: Letters of buttons that fit beside each other.
_BUTTONS_ABREAST = 36
#: What stands beside a group's title, and the card's edges, px.
_BESIDE_TITLE = 120
#: Over a section that is not the first, px.
_ABOVE = 10


class _Number(QWidget):
    """The number of a group, in a copper disc."""

    def __init__(self, number: int, palette: Palette) -> None:
        super().__init__()
        self._number, self._palette = number, palette
        self.setFixedSize(20, 20)

    def set_palette(self, palette: Palette) -> None:
        self._palette = palette
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(QColor(self._palette.accent))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(0, 0, 20, 20)
        painter.setPen(QColor(self._palette.on_accent))
        painter.setFont(font(12, bold=True))
        painter.drawText(QRectF(0, 0, 20, 20), Qt.AlignmentFlag.AlignCenter, str(self._number))


def make_button(button: Button, press: Callable[[str], None]) -> QPushButton:
    """A button that says its key when it is pressed."""
    widget = QPushButton(with_signs(button.text))
    widget.setObjectName("main" if button.main else "plain")
    widget.setCursor(Qt.CursorShape.PointingHandCursor)
    widget.setSizePolicy(QSizePolicy.Policy.Expanding if button.main else QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)
    widget.clicked.connect(lambda _=False, key=button.key: press(key))
    return widget


def refresh_button(widget: QPushButton, button: Button) -> None:
    """What it says and whether it can be pressed."""
    widget.setText(with_signs(button.text))
    widget.setEnabled(button.enabled)
    set_tip(widget, button.tip)


def shape_of(section: Section, number: int, *, first: bool) -> tuple[object, ...]:
    """What a section's widgets are made for; with the same shape they are only refreshed."""
    rows, buttons = tuple(r.key for r in section.rows), tuple(b.key for b in section.buttons)
    return (section.title, number, first, bool(section.text), bool(section.hint), rows, buttons, section.pictures)


class SectionPart(QWidget):
    """The widgets of one section."""

    pressed = pyqtSignal(str)

    def __init__(
        self,
        section: Section,
        number: int,
        shape: tuple[object, ...],
        palette: Palette,
        said: RowSignals,
        parent: QWidget,
        wide: int,
    ) -> None:
        super().__init__(parent)
        self.shape, self.palette_of_card = shape, palette
        self.rows: dict[str, RowWidget] = {}
        self.buttons: dict[str, QPushButton] = {}
        self._number: _Number | None = None
        self.hint, self.text = Label(section.hint), Label(section.text)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._add_head(section, number, wide, first=bool(shape[2]))
        self.text.setObjectName("rowLabel")
        self.text.setWordWrap(True)
        self._column.addWidget(self.text)
        self.text.setVisible(bool(section.text))  # after it has a parent: alone it would be a window, and take the focus
        for row in section.rows:
            widget = RowWidget(palette, said)
            self.rows[row.key] = widget
            self._column.addWidget(widget)
        if section.pictures:
            from elbrix.app.card.pictures import Pictures  # few cards have any

            pictures = Pictures(section.pictures)
            pictures.pressed.connect(self.pressed)
            self._column.addWidget(pictures)
        if section.buttons:
            self._add_buttons(section)

    def _add_head(self, section: Section, number: int, wide: int, *, first: bool) -> None:
        head = QHBoxLayout()
        head.setContentsMargins(0, 0 if first else _ABOVE, 0, 4)
        head.setSpacing(8)
        if number:
            self._number = _Number(number, self.palette_of_card)
            head.addWidget(self._number)
        title = Label(section.title)
        title.setObjectName("groupTitle")
        self.hint.setObjectName("hint")
        self.hint.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        long = QFontMetrics(font(15, bold=True)).horizontalAdvance(section.title) > wide - _BESIDE_TITLE
        title.setWordWrap(long)  # a name somebody gave may be of any length
        if not long:  # the hint gives way: cut off rather than pushing the numbers out of the card
            self.hint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        if section.title or section.hint:
            head.addWidget(title, 1 if long else 0)
            head.addWidget(self.hint, 0 if long else 1)
            self._column.addLayout(head)
        else:
            for alone in (title, self.hint):
                alone.setParent(self)
                alone.hide()

    def _add_buttons(self, section: Section) -> None:
        # Side by side while they fit; two long ones would push the numbers out of the card.
        wide = sum(len(button.text) for button in section.buttons) > _BUTTONS_ABREAST
        line = QVBoxLayout() if wide else QHBoxLayout()
        line.setContentsMargins(0, 4, 0, 0)
        line.setSpacing(2 if wide else 10)
        for button in section.buttons:
            self.buttons[button.key] = widget = make_button(button, self._press)
            line.addWidget(widget)
        if not wide:
            line.addStretch(1)
        self._column.addLayout(line)

    def _press(self, key: str) -> None:
        # A method holds its object; a bound signal's `emit` does not, and says it of what may be gone.
        self.pressed.emit(key)

    def set_palette(self, palette: Palette) -> None:
        """Another look; the rows take it with what they show next."""
        self.palette_of_card = palette
        if self._number is not None:
            self._number.set_palette(palette)

    def settle(self) -> None:
        """Its rows have other heights."""
        for row in self.rows.values():
            row.settle()
        self._column.invalidate()

    def refresh(self, section: Section) -> None:
        """What its rows and buttons say."""
        self.hint.setText(section.hint)
        self.text.setText(section.text)
        for row in section.rows:
            self.rows[row.key].show_row(row, self.palette_of_card)
        for button in section.buttons:
            refresh_button(self.buttons[button.key], button)
