"""A bench that works on one of several documents of the book: which is in hand, beginnings, the menu under the title."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import partial
from typing import TYPE_CHECKING, Any, ClassVar, Protocol

from PyQt6.QtWidgets import QMenu, QWidget

from elbrix.app.benches.editing import Edited, EditingBench
from elbrix.app.session import Session
from elbrix.app.words import menu_line
from elbrix.book.documents import Chosen, new_id
from elbrix.drawing.scene import Scene
from elbrix.presenters.card import CardView
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile
from elbrix.quantities.sentences import within

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination


class Shown(Edited, Protocol):
    """What such a bench asks of its presenter besides editing."""

    def subtitle(self) -> str: ...
    def plate(self) -> PlateView: ...
    def card(self) -> CardView: ...
    def tiles(self) -> tuple[Tile, ...]: ...


class DocumentBench(EditingBench):
    """Angles, Hold and Inspect: each says what it makes of a document, the rest is here."""

    doc_type: ClassVar[type[Any]]
    prefix: ClassVar[str]  #: of the ids
    name_hint: ClassVar[str]  #: under the question for another name
    nothing: ClassVar[str]  #: across the plate while a beginning is picked
    idle: ClassVar[tuple[str, str]]  #: head line while nothing is in hand

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._choosing = False
        self.presenter = None
        self.plate.clicked.connect(lambda feature: self._pointed_feature(frozenset({feature})))
        self.card.picked.connect(self.pick)
        self.card.pressed.connect(self._pressed)

    # --- what a bench says -------------------------------------------------------------------------------------------

    def chooser(self) -> CardView:
        """Beginnings, on the card."""
        raise NotImplementedError

    def beginnings(self) -> Iterable[tuple[str, str]]:
        """(key, words) of each beginning, for the menu."""
        raise NotImplementedError

    def begun(self, key: str, id: str, title: str, chosen: Mapping[str, Chosen]) -> Any:
        """A new document from a beginning."""
        raise NotImplementedError

    def words_in_menu(self, doc: Any) -> str:
        """A document in the menu."""
        return str(doc.title)

    def more_in_menu(self, menu: QMenu) -> None:
        """What else can be done with the one in hand."""

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked."""

    def _pressed(self, key: str) -> None:
        """A button of the card was pressed."""

    def _other_document(self) -> None:
        """Another document comes into hand."""
        self.close_why()

    presenter: Any  #: of the one in hand; None for none

    @property
    def edited(self) -> Shown | None:
        found: Shown | None = self.presenter
        return found

    # --- which is in hand --------------------------------------------------------------------------------------------

    @property
    def doc(self) -> Any:
        """The one in hand; None while a beginning is picked, and when there is none."""
        return None if self._choosing else self.session.in_hand(self.doc_type)

    @property
    def docs(self) -> list[Any]:
        return self.session.book.all(self.doc_type)

    def title(self) -> tuple[str, str]:
        if self.edited is None:
            return self.idle
        return self.edited.doc.title, self.edited.subtitle()

    def taken_up(self) -> Any:
        """The one that is to be shown; None when there is none, and beginnings are offered then."""
        doc = self.doc
        if doc is None:
            self.presenter = None
            self.show_nothing()
        elif self.presenter is not None and self.presenter.doc.id != doc.id:
            self._other_document()
        return doc

    def show_presenter(self, presenter: Shown, strip: str) -> None:
        """Plate, card and proof of the one in hand.

        Args:
            strip: What the proof strip is called.
        """
        self.plate.show_view(presenter.plate())
        self.card.show_view(presenter.card())
        tiles = presenter.tiles()
        self.strip.setVisible(bool(tiles))
        self.strip.show_tiles(tiles, strip)
        self.refresh_why()

    def show_nothing(self) -> None:
        """Nothing is in hand: beginnings on the card, an empty plate."""
        self.plate.show_view(PlateView(Scene(""), message=self.nothing, thing="none"))
        self.card.show_view(self.chooser())
        self.strip.hide()
        self.close_why()

    def show_document(self, id: str) -> None:
        """Take one in hand."""
        self._choosing = False
        self.session.take(self.doc_type, id)

    def choose(self) -> None:
        """Offer beginnings on the card."""
        self._choosing = True
        self.refresh()
        self.session.said.emit()

    def start(self, key: str, title: str = "", chosen: Mapping[str, Chosen] | None = None) -> None:
        """Begin a new one."""
        id_ = new_id(self.prefix, self.session.book.ids(self.doc_type), title or key)
        doc = self.begun(key, id_, title, chosen or {})
        with self.session.together():
            if self.session.put(f"New: {within(doc.title)}", doc):
                self.show_document(id_)

    def fill_in(self, go: Destination) -> None:
        if go.kind:
            self.start(go.kind, go.title, {name: Chosen(text=text) for name, text in go.chosen.items()})
        elif go.thing:
            self.show_document(go.thing)

    def pick_up(self) -> None:
        self._choosing = False

    def leave(self) -> None:
        self._choosing = False

    def remove(self) -> None:
        """Take the one in hand out of the book."""
        doc = self.session.in_hand(self.doc_type)
        if doc is not None and self.session.remove(f"Remove {doc.title}", doc):
            self.refresh()

    # --- the menu under the title ------------------------------------------------------------------------------------

    def fill_title_menu(self, menu: QMenu) -> bool:
        for doc in self.docs:
            menu_line(menu, self.words_in_menu(doc), partial(self.show_document, doc.id))
        menu.addSeparator()
        for key, words in self.beginnings():
            menu_line(menu, f"New: {words}", partial(self.start, key))
        menu.addSeparator()
        self.more_in_menu(menu)
        have = self.edited is not None
        for words, act in (("Rename…", self._rename), ("Duplicate", self._copy), ("Remove", self.remove)):
            menu_line(menu, words, act).setEnabled(have)
        return True

    def _rename(self) -> None:
        self.rename(self.session.in_hand(self.doc_type), self.name_hint)

    def _copy(self) -> None:
        if id_ := self.copied(self.prefix, self.session.in_hand(self.doc_type), self.docs):
            self.show_document(id_)
