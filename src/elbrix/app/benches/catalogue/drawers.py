"""The drawers: cards in rows on the dark ground, or what fits what, with a search line above."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout

from elbrix.app.benches.catalogue.grid import CardGrid
from elbrix.app.benches.catalogue.matrix import Matrix
from elbrix.app.card.card import Card
from elbrix.app.pickable import Pickable
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label
from elbrix.presenters.catalogue import Entry


class _Side(Pickable):
    """One way to look at the catalogue, underlined when it is the one in hand."""

    def __init__(self, key: str, words: str) -> None:
        super().__init__(key)
        self.words, self.palette_ = words, LIGHT
        self.setAccessibleName(words)
        self.setFixedSize(round(QFontMetricsF(font(13, bold=True)).horizontalAdvance(words)) + 22, 30)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), self.palette_
        painter.setFont(font(13, bold=self.on))
        painter.setPen(QColor(p.brass if self.on else p.scribed))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.words)
        if self.on or self.hasFocus():
            painter.drawLine(10, self.height() - 4, self.width() - 10, self.height() - 4)


class Drawers(QFrame):
    """Cards in rows on the dark ground, a search line above."""

    picked = pyqtSignal(str)
    searched = pyqtSignal(str)
    turned = pyqtSignal(str)  #: to another side: "drawers", "fits" or "stock"

    def __init__(self) -> None:
        super().__init__()
        self._palette = LIGHT
        self.line = QLineEdit()
        self.line.setPlaceholderText("Words: M10, Hazel, blind, drawer 3 …")
        self.line.setAccessibleName("Search the catalogue by words")
        self.line.setMaximumWidth(420)
        self.line.setMaxLength(200)
        self.line.textChanged.connect(self.searched)
        self.empty = Label()
        self.empty.setWordWrap(True)
        self._area = QScrollArea()
        self.grid = CardGrid(self._area)
        self.grid.picked.connect(self.picked)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 8, 12)
        layout.setSpacing(12)
        self.matrix = Matrix()
        self._area.setAccessibleName("Drawers")
        self._matrix_area = QScrollArea()
        self._matrix_area.setAccessibleName("What fits what")
        self._matrix_area.setWidgetResizable(True)
        self._matrix_area.setWidget(self.matrix)
        self._matrix_area.hide()
        self.stock = Card()
        self.stock.hide()
        self._shown = {"drawers": self._area, "fits": self._matrix_area, "stock": self.stock}
        titles = {"drawers": "Drawers", "fits": "What fits what", "stock": "Stock-take"}
        self.sides = {key: _Side(key, words) for key, words in titles.items()}
        for words in self.sides.values():
            words.picked.connect(self.turn)
        self.side = "drawers"
        head = QHBoxLayout()
        head.addWidget(self.line, 1)
        head.addStretch(1)
        for words in self.sides.values():
            head.addWidget(words)
        layout.addLayout(head)
        layout.addWidget(self.empty)
        for shown in self._shown.values():
            layout.addWidget(shown, 1)

    def turn(self, side: str) -> None:
        """Look at the catalogue another way."""
        self.side = side
        for key, shown in self._shown.items():
            shown.setVisible(key == side)
        self.turned.emit(side)

    def show_entries(
        self, ids: list[str], entry: Callable[[str], Entry | None], current: str, palette: Palette, empty: str
    ) -> None:
        """The grid's cards, which side is in hand, and why there is nothing when there is nothing."""
        self._palette = palette
        self.grid.show_entries(ids, entry, current, palette)
        for side, words in self.sides.items():
            words.on = side == self.side
            words.palette_ = palette
            words.update()
        self.empty.setText(empty)
        self.empty.setStyleSheet(f"color: {palette.scribed}; font-size: 15px;")
        self.empty.setVisible(bool(empty))
        self.update()

    @property
    def cards(self) -> dict[str, Thumbnail]:
        """Those that are there: what is seen, and some beside it."""
        return self.grid.cards

    def show_entry(self, entry: Entry) -> None:
        """One card with what is known of it."""
        self.grid.show_entry(entry)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(self._palette.plate))
        painter.setBrush(QColor(self._palette.plate))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 6, 6)
