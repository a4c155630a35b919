"""Cards in rows of which only those that are seen, and some beside them, are there: twenty thousand open like twenty."""

from __future__ import annotations

from collections.abc import Callable
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
        self.ids: list[str] = []  #: every entry in order, whether its card is there or not
        self._entry: Callable[[str], Entry | None] = lambda _: None
        self._palette: Palette = LIGHT
        self._current = ""
        self.cards: dict[str, Thumbnail] = {}

    def show_entries(self, ids: list[str], entry: Callable[[str], Entry | None], current: str, palette: Palette) -> None:
        """Other entries, or the same with more known of them.

        Args:
            entry: What is known of one; asked for those that come near what is seen.
        """
        if palette is not self._palette:
            self._let_go(list(self.cards))
        self.ids, self._entry, self._current, self._palette = ids, entry, current, palette
        self._let_go([k for k, card in self.cards.items() if (e := entry(k)) is None or e.doc.title != card.title])
        self.place()
        for key, card in self.cards.items():
            if (known := entry(key)) is not None:
                self.show_entry(known)
            card.on = key == current
            card.update()

    def show_entry(self, entry: Entry) -> None:
        """One card with what is known of it."""
        card, p = self.cards.get(entry.doc.id), self._palette
        if card is not None:
            colours: dict[Verdict | None, str] = {Verdict.GO: p.centre, Verdict.MARGINAL: p.brass, Verdict.NO_GO: p.note}
            sign = entry.verdict.sign if entry.verdict is not None else ""
            card.show_more(entry.scene, entry.lines or (state_of(entry.doc), ""), sign, colours.get(entry.verdict, p.scribed))

    def place(self) -> None:
        """Cards where they belong, made as they come near and let go when they are far."""
        count = len(self.ids)
        across = max(1, (self.width() - 8 + _GAP) // (_CELL.width() + _GAP))
        high = _CELL.height() + _GAP
        # The row fills the width: cards as wide as there is room for, never narrower than their words need.
        wide = max(_CELL.width(), (self.width() - 8 + _GAP) // across - _GAP)
        self.setMinimumHeight(-(-count // across) * high)
        first, last = self._near(across, high, count)
        wanted = self.ids[first:last]
        self._let_go([k for k in self.cards if k not in set(wanted)])
        fresh = False
        for n, id_ in enumerate(wanted, first):
            card = self.cards.get(id_)
            if card is None:
                entry = self._entry(id_)
                if entry is None:
                    continue
                card = self.cards[id_] = Thumbnail(
                    entry.doc.id, None, entry.doc.title, (), self._palette, size=_CELL, parent=self
                )
                card.picked.connect(self.picked)
                card.on = id_ == self._current
                self.show_entry(entry)
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
