"""The Angles bench: joins plate, card and proof to the presenter and the book."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from elbrix.angles.setup import all_kinds, find_kind
from elbrix.app.benches.documents import DocumentBench
from elbrix.app.searching import Search
from elbrix.app.session import Session
from elbrix.book.angle_setups import put_back, wring
from elbrix.book.documents import AngleDoc, Chosen
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.angles import AnglesPresenter, LongerState, chooser
from elbrix.presenters.card import CardView
from elbrix.presenters.to_inspect import read_back
from elbrix.quantities.errors import ShopError

if TYPE_CHECKING:
    from elbrix.app.paper.pages import Pages


class AnglesBench(DocumentBench):
    """How do I set this angle, and how well?"""

    doc_type = AngleDoc
    prefix = "angle"
    name_hint = "The work and its angle, as on the drawing"
    nothing = "Pick on the card what to set"
    idle = ("Set an angle", "On a sine plate, by two tilts, over pins, or cut straight")

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: AnglesPresenter | None = None
        self.search = Search(self)
        self._searched: AngleDoc | None = None  # what the search is for: its answer stands beside nothing else
        self.search.told.connect(self._show_search)
        self.search.ended.connect(self._show_search)
        self.plate.item_dropped.connect(self._carried)

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        doc: AngleDoc | None = self.taken_up()
        if doc is None:
            return
        if self._searched is not None and not _asks_the_same(self._searched, doc):
            self._searched = None
            self.search.stop()
        self.presenter = p = AnglesPresenter(doc, self.session.shop, self.session.style, self._search_state())
        self.show_presenter(p, "UNCERTAINTY")

    def _search_state(self) -> LongerState | None:
        if self._searched is None:
            return None
        found = self.search.found if isinstance(self.search.found, tuple) else ()
        return LongerState(self.search.running, self.search.share, found, self.search.problem)

    def _show_search(self) -> None:
        if self.presenter is not None:
            self.presenter.longer = self._search_state()
            self.card.show_view(self.presenter.card())

    def leave(self) -> None:
        super().leave()
        self.search.stop()

    def chooser(self) -> CardView:
        return chooser()

    def beginnings(self) -> Iterable[tuple[str, str]]:
        return ((kind.key, kind.title.lower()) for kind in all_kinds().values())

    def begun(self, key: str, id: str, title: str, chosen: Mapping[str, Chosen]) -> AngleDoc:
        kind = find_kind(key)
        return AngleDoc(id=id, kind=kind.key, title=title or kind.title, chosen=dict(chosen))

    def words_in_menu(self, doc: AngleDoc) -> str:
        return f"{doc.title}   {find_kind(doc.kind).title}"

    def pages_title(self) -> str:
        return "Setting card" if self.presenter is not None and self.presenter.setting is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.setting_card import setting_card  # printing is not needed to start

        return setting_card(self.presenter) if self.presenter is not None and self.presenter.setting is not None else None

    # --- editing -----------------------------------------------------------------------------------------------------

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked: a choice, another stack, another way, something new."""
        presenter = self.presenter
        act = Act.read(key)
        if act.do == Verb.NEW:
            self.start(act.of)
            return
        if presenter is None:
            return
        if act.do == Verb.TAKE:
            key, value = "stack", act.of
        elif act.do == Verb.METHOD:
            key, value = "method", act.of
        if key in presenter.parameters:
            self.chose(key, value)

    def _carried(self, feature: str, onto: str) -> None:
        if self.presenter is None:
            return
        try:
            found = self.presenter.carried(feature, onto)
        except ShopError as error:
            self.card.show_error("stack", self.session.beside(error))
            return
        self.card.show_error("stack", "")
        if found is not None:
            self.session.put(found[0], found[1])
            self.done()

    def _pressed(self, key: str) -> None:
        presenter = self.presenter
        if key == "undo":
            self.session.book.undo()
        elif key == "print":
            self.print_page()
        elif key == "read back" and presenter is not None and presenter.setting is not None:
            if presenter.setting.read_back is not None:
                self.session.destination.emit(read_back(presenter.setting.read_back, presenter.doc.title))
        elif key == "stop":
            self._searched = None
            self.search.stop()
        elif key == "longer" and presenter is not None and presenter.setting is not None and presenter.setting.longer is not None:
            self._searched = presenter.doc
            self.search.start(presenter.setting.longer.run)
            self._show_search()
        elif presenter is not None and presenter.setting is not None and key in ("wring", "back"):
            try:
                if key == "wring":
                    self.session.put("Stack wrung", *wring(presenter.doc, presenter.setting, self.session.shop))
                else:
                    self.session.put("Blocks back in the box", *put_back(presenter.doc, self.session.shop))
            except ShopError as error:
                self.session.refused.emit(str(error))

    def remove(self) -> None:
        """Take the setting out of the book; its blocks go back into their box first."""
        doc = self.session.in_hand(AngleDoc)
        boxes = put_back(doc, self.session.shop) if doc is not None else ()
        if not boxes or self.session.put("Blocks back in the box", *boxes):
            super().remove()


def _asks_the_same(one: AngleDoc, other: AngleDoc) -> bool:
    """Whether only the stack that is taken differs."""
    chosen = [{k: v for k, v in doc.chosen.items() if k != "stack"} for doc in (one, other)]
    return one.id == other.id and chosen[0] == chosen[1]
