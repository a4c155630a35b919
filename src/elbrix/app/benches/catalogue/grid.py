"""Cards in rows of which only those that are seen, and some beside them, are there: twenty thousand open like twenty."""

from __future__ import annotations

from typing import Final

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QScrollArea, QWidget

from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.presenters.catalogue import Entry, state_of
from elbrix.results.checks import Verdict

_CELL: Final = QSize(210, 186)
_GAP: Final = 14
#: So few are all there at once: Tab goes through them.
_FEW: Final = 60


class CardGrid(QWidget):
    """Every entry has its place; a card is made when its place comes near what is seen."""

    picked = pyqtSignal(str)
    came = pyqtSignal()  #: other cards are there than before

    def __init__(self, area: QScrollArea) -> None:
        super().__init__()
        self._area = area
        area.setWidgetResizable(True)
        area.setWidget(self)
        bar = area.verticalScrollBar()
        if bar is not None:
            bar.valueChanged.connect(lambda _: self.place())
        self._entries: list[Entry] = []
        self._known: dict[str, Entry] = {}
        self._palette: Palette = LIGHT
        self._current = ""
        self.cards: dict[str, Thumbnail] = {}

    @property
    def ids(self) -> list[str]:
        """Every entry in order, whether its card is there or not."""
        return [e.doc.id for e in self._entries]

    def show_entries(self, entries: list[Entry], current: str, palette: Palette) -> None:
        """Other entries, or the same with more known of them."""
        if palette is not self._palette:
            self._let_go(list(self.cards))
        self._entries, self._current, self._palette = entries, current, palette
        self._known = {e.doc.id: e for e in entries}
        stale = [k for k, card in self.cards.items() if k not in self._known or card.title != self._known[k].doc.title]
        self._let_go(stale)
        self.place()
        for key, card in self.cards.items():
            self.show_entry(self._known[key])
            card.on = key == current
            card.update()

    def show_entry(self, entry: Entry) -> None:
        """One card with what is known of it."""
        self._known[entry.doc.id] = entry
        card, p = self.cards.get(entry.doc.id), self._palette
        if card is not None:
            colours: dict[Verdict | None, str] = {Verdict.GO: p.centre, Verdict.MARGINAL: p.brass, Verdict.NO_GO: p.note}
            sign = entry.verdict.sign if entry.verdict is not None else ""
            card.show_more(entry.scene, entry.lines or (state_of(entry.doc), ""), sign, colours.get(entry.verdict, p.scribed))

    def place(self) -> None:
        """Cards where they belong, made as they come near and let go when they are far."""
        count = len(self._entries)
        across = max(1, (self.width() - 8 + _GAP) // (_CELL.width() + _GAP))
        high = _CELL.height() + _GAP
        # The row fills the width: cards as wide as there is room for, never narrower than their words need.
        wide = max(_CELL.width(), (self.width() - 8 + _GAP) // across - _GAP)
        self.setMinimumHeight(-(-count // across) * high)
        first, last = self._near(across, high, count)
        wanted = self._entries[first:last]
        self._let_go([k for k in self.cards if k not in {e.doc.id for e in wanted}])
        fresh = False
        for n, entry in enumerate(wanted, first):
            card = self.cards.get(entry.doc.id)
            if card is None:
                card = self.cards[entry.doc.id] = Thumbnail(
                    entry.doc.id, None, entry.doc.title, (), self._palette, size=_CELL, parent=self
                )
                card.picked.connect(self.picked)
                card.on = entry.doc.id == self._current
                self.show_entry(self._known[entry.doc.id])
                fresh = True
            row, column = divmod(n, across)
            card.setFixedSize(wide, _CELL.height())
            card.move(column * (wide + _GAP), row * high)
            card.show()
        if fresh:
            self.came.emit()

    def _near(self, across: int, high: int, count: int) -> tuple[int, int]:
        """(first, last) of the entries whose cards are wanted: what is seen, and as much again on both sides."""
        if count <= _FEW:
            return 0, count
        bar, room = self._area.verticalScrollBar(), max(high, self._area.height())
        top = bar.value() if bar is not None else 0
        return max(0, (top - room) // high) * across, min(count, ((top + 2 * room) // high + 1) * across)

    def _let_go(self, keys: list[str]) -> None:
        for key in keys:
            card = self.cards.pop(key)
            card.hide()
            card.deleteLater()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.place()
