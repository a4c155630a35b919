"""The shelf: families by need, the slot they are for, and the designs there are."""

from __future__ import annotations

from functools import partial
from typing import Final

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from elbrix.app.one_by_one import OneByOne, Work
from elbrix.app.plate.flow import FlowLayout
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.session import Session
from elbrix.app.words import Label, with_signs
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.design.family import GROUPS, Family, Request, all_families, in_group, solve_for
from elbrix.drawing.scene import Scene
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import sentence
from elbrix.shop.shop import Shop

#: A picture with its gap, what the shelf's edges take, and the fewest beside each other: px, px, pictures.
_PICTURE_PX, _EDGES_PX, _FEWEST = 216, 64, 3
#: Designs on the shelf; the others are in the Catalogue.
_MAX_RECENT: Final = 24


def family_scene(family: Family, shop: Shop, request: Request) -> Scene | None:
    """The in-place picture of what a family would propose."""
    try:
        return next(iter(family.scenes(solve_for(family, shop, request, {}))))
    except ShopError:
        return None


def design_scene(doc: DesignDoc, shop: Shop) -> Scene | None:
    """The in-place picture of a design; None of one that contradicts itself."""
    try:
        return next(iter(family_of(doc).scenes(solve_doc(doc, shop))))
    except ShopError:
        return None


class Shelf(QFrame):
    """What can be made, for which slot."""

    picked = pyqtSignal(str, str, str)  #: family, machine, slot; or "", design id, ""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("bench")
        self._session: Session | None = None
        self._slot = ("", "")
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 6, 12, 12)
        layout.addWidget(self._area)
        self._pictures = OneByOne(self)
        self._abreast = _FEWEST
        self._grids: list[tuple[QGridLayout, list[Thumbnail]]] = []
        self.families: dict[str, Thumbnail] = {}
        self.designs: dict[str, Thumbnail] = {}

    @property
    def catching_up(self) -> bool:
        """Whether pictures are still to follow."""
        return self._pictures.busy

    def fill(self, session: Session, slot: tuple[str, str] | None = None) -> None:
        """Make the shelf anew from the shop and the book, for a slot when one is wanted."""
        self._session = session
        self._slot = slot or self._slot
        shop = session.shop
        measured = [(m.id, s.label, f"{m.name}, {s.label}") for m, s in shop.measured_slots()]
        if self._slot not in [(m, s) for m, s, _ in measured]:
            mine = [(m, s) for m, s, _ in measured if session.machine is not None and m == session.machine.id]
            self._slot = mine[0] if mine else (measured[0][:2] if measured else ("", ""))
        page = QWidget()
        column = QVBoxLayout(page)
        column.setSpacing(8)
        column.setContentsMargins(0, 0, 8, 0)
        column.addWidget(_heading("Slot"))
        row = QWidget()
        flow = FlowLayout(row, 8)
        for machine, label, words in measured:
            button = QPushButton(with_signs(words))
            if (machine, label) == self._slot:
                button.setObjectName("on")
            button.clicked.connect(lambda _=False, m=machine, s=label: self._take_slot(m, s))
            flow.addWidget(button)
        if not measured:
            flow.addWidget(
                Label(
                    "No slot is measured yet. What you pick is sized for a book slot and marked so, until you measure yours"
                    " in Shop."
                )
            )
        column.addWidget(row)
        self.families, self.designs, self._grids = {}, {}, []
        self._abreast = self._fitting()
        works: list[Work] = []
        request = Request(machine=self._slot[0], slot=self._slot[1], pieces=4)
        groups = QWidget()  # side by side: a group of one does not take a whole row
        beside = FlowLayout(groups, 18)
        for group in (g for g in GROUPS if any(f.group == g for f in all_families().values())):
            holder, thumbs = QWidget(), QGridLayout()
            under = QVBoxLayout(holder)
            under.setContentsMargins(0, 0, 0, 0)
            under.addWidget(_heading(sentence(group)))
            under.addLayout(thumbs)
            placed: list[Thumbnail] = []
            for family in in_group(group):
                thumb = Thumbnail(family.key, None, family.title, _wrap(family.when), session.palette)
                works.append((partial(family_scene, family, shop, request), thumb.show_scene))
                thumb.picked.connect(lambda key: self.picked.emit(key, *self._slot))
                self.families[family.key] = thumb
                placed.append(thumb)
            self._lay(thumbs, placed)
            self._grids.append((thumbs, placed))
            beside.addWidget(holder)
        column.addWidget(groups)
        latest = session.book.latest(DesignDoc, _MAX_RECENT)
        if latest:
            column.addWidget(_heading("Recent designs"))
            holder = QWidget()
            flow = FlowLayout(holder)
            for doc in latest:
                thumb = Thumbnail(doc.id, None, doc.title, (f"Rev {doc.letter}" if doc.letter else "draft",), session.palette)
                thumb.picked.connect(lambda id: self.picked.emit("", id, ""))
                works.append((partial(design_scene, doc, shop), thumb.show_scene))
                self.designs[doc.id] = thumb
                flow.addWidget(thumb)
            column.addWidget(holder)
        column.addStretch(1)
        self._area.setWidget(page)
        self._pictures.start(works)  # each is solved for it

    def _fitting(self) -> int:
        """How many pictures of a group stand beside each other."""
        host = self.parentWidget()
        wide = self.width() if self.isVisible() or host is None else max(self.width(), host.width())
        return max(_FEWEST, (wide - _EDGES_PX) // _PICTURE_PX)

    def showEvent(self, event: object) -> None:
        self.resizeEvent(event)

    def resizeEvent(self, event: object) -> None:
        if self._session is not None and self.isVisible() and self._fitting() != self._abreast:
            self._abreast = self._fitting()
            for grid, thumbs in self._grids:
                self._lay(grid, thumbs)
            page = self._area.widget()
            if page is not None:
                page.updateGeometry()

    def _lay(self, grid: QGridLayout, thumbs: list[Thumbnail]) -> None:
        """A group's pictures in rows of as many as fit."""
        for thumb in thumbs:
            grid.removeWidget(thumb)
        for n, thumb in enumerate(thumbs):
            grid.addWidget(thumb, n // self._abreast, n % self._abreast)

    def _take_slot(self, machine: str, slot: str) -> None:
        self._slot = (machine, slot)
        if self._session is not None:
            self.fill(self._session)


def _heading(text: str) -> Label:
    label = Label(text)
    label.setObjectName("groupTitle")
    return label


def _wrap(text: str, width: int = 32) -> tuple[str, ...]:
    lines, line = [], ""
    for word in text.split():
        if len(line) + len(word) > width and line:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    return tuple([*lines, line][:3])
