"""The Catalogue bench: drawers of cards where other benches have the plate."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QKeySequence, QPainter, QPaintEvent, QShortcut
from PyQt6.QtWidgets import QFrame, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from elbrix.app.benches.bench import Bench
from elbrix.app.plate.flow import FlowLayout, clear
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.session import Session
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.trickle import Trickle
from elbrix.app.words import Label
from elbrix.book.documents import DesignDoc
from elbrix.presenters.catalogue import CataloguePresenter, Entry, KnownEntry
from elbrix.presenters.proof import Why
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.paper.pages import Pages


class Drawers(QFrame):
    """Cards in rows on the dark ground, a search line above."""

    picked = pyqtSignal(str)
    searched = pyqtSignal(str)

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
        self._page = QWidget()
        self._flow = FlowLayout(self._page, 14)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setWidget(self._page)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 8, 12)
        layout.setSpacing(12)
        layout.addWidget(self.line)
        layout.addWidget(self.empty)
        layout.addWidget(self._area, 1)
        self.cards: dict[str, Thumbnail] = {}
        self._shape: object = None

    def show_entries(self, entries: list[Entry], current: str, palette: Palette, empty: str) -> None:
        self._palette = palette
        shape = ([(e.doc.id, e.doc.title) for e in entries], palette)
        if shape != self._shape:
            clear(self._flow)
            self.cards = {}
            for entry in entries:
                thumb = Thumbnail(entry.doc.id, None, entry.doc.title, entry.lines, palette)
                thumb.picked.connect(self.picked)
                self.cards[entry.doc.id] = thumb
                self._flow.addWidget(thumb)
            self._shape = shape
        for entry in entries:
            self.show_entry(entry)
        for key, thumb in self.cards.items():
            thumb.on = key == current
            thumb.update()
        self.empty.setText(empty)
        self.empty.setStyleSheet(f"color: {palette.scribed}; font-size: 15px;")
        self.empty.setVisible(bool(empty))
        self.update()

    def show_entry(self, entry: Entry) -> None:
        """One card with what is known of it."""
        p = self._palette
        colours: dict[Verdict | None, str] = {Verdict.GO: p.centre, Verdict.MARGINAL: p.brass, Verdict.NO_GO: p.note}
        if entry.doc.id in self.cards:
            sign = entry.verdict.sign if entry.verdict is not None else ""
            self.cards[entry.doc.id].show_more(entry.scene, entry.lines, sign, colours.get(entry.verdict, p.scribed))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(self._palette.plate))
        painter.setBrush(QColor(self._palette.plate))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -1, -1), 6, 6)


class CatalogueBench(Bench):
    """What have I made, what does it fit, where is it, what did I learn?"""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.drawers = Drawers()
        self.column.replaceWidget(self.plate, self.drawers)
        self.plate.setParent(None)
        self.column.setStretchFactor(self.drawers, 1)
        self._filling = Trickle(self)
        self._known: dict[str, KnownEntry] = {}
        self._words = ""
        self._label = False
        self.presenter = CataloguePresenter(session.book, session.style, session.design)
        self.drawers.picked.connect(session.pick_design)
        self._search = QTimer(self)
        self._search.setSingleShot(True)
        self._search.setInterval(80)
        self._search.timeout.connect(session.changed)
        self.drawers.searched.connect(self._searched)
        self.card.typed.connect(self._typed)
        self.card.accepted.connect(lambda _: self.done())
        self.card.cancelled.connect(lambda _: self.cancel())
        self.card.pressed.connect(self._pressed)
        QShortcut(QKeySequence.StandardKey.Find, self, self.drawers.line.setFocus)

    def title(self) -> tuple[str, str]:
        return self.presenter.title()

    def refresh(self) -> None:
        self.presenter = p = CataloguePresenter(self.session.book, self.session.style, self.session.design, self._words)
        empty = ""
        if not p.docs:
            empty = (
                "Nothing has all those words. Remove one."
                if self._words.strip()
                else "The drawers are empty. Design an accessory and release it."
            )
        entries = p.entries(self._known)
        self.drawers.show_entries(entries, p.doc.id if p.doc else "", self.session.palette, empty)
        self._filling.start([partial(self._fill, p, e.doc) for e in entries if e.verdict is None])
        self.card.show_view(p.card())
        self.strip.show_tiles(p.tiles(), "FITS, AS MADE")
        self.refresh_why()

    def open_at_start(self) -> None:
        """The drawers with their titles; pictures, fits and the item's card follow once they have been seen."""
        p = CataloguePresenter(self.session.book, self.session.style, None)
        self.drawers.show_entries(p.entries(), "", self.session.palette, "")
        self.after_paint(self.session.changed.emit)

    @property
    def catching_up(self) -> bool:
        return self._filling.busy or super().catching_up

    def _fill(self, p: CataloguePresenter, doc: DesignDoc) -> None:
        """One card worked out, and kept until its design or the shop changes."""
        entry = p.entry(doc)
        self._known[doc.id] = KnownEntry(entry, p.shop, p.style)
        self.drawers.show_entry(entry)

    def fill_in(self, go: Destination) -> None:
        self.session.pick_design(go.thing)

    def why_of(self, key: str) -> Why | None:
        return self.presenter.why(key)

    def _searched(self, words: str) -> None:
        self._words = words
        self._search.start()

    def _typed(self, key: str, text: str) -> None:
        try:
            words, doc = self.presenter.typed(key, text)
        except ShopError as error:
            self.card.show_error(key, error.beside)
            return
        self.card.show_error(key, "")
        if self.session.put(words, doc, merge=self.merge_key("catalogue", doc.id, key)):
            self.was_kept()

    def _pressed(self, key: str) -> None:
        if key == "design":
            self.session.go.emit("design")
        elif key == "label":
            self.print_page()

    def pages_title(self) -> str:
        return "Drawer label" if self.presenter.design is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.documents import drawer_label  # printing is not needed to start

        doc = self.session.design
        if doc is None:
            return None
        try:
            return drawer_label(doc, self.session.shop, self.session.style)
        except ShopError as error:
            self.session.refused.emit(str(error))
            return None
