"""The Angles bench: joins plate, card and proof to the presenter and the book."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QWidget

from elbrix.angles.setup import all_kinds, find_kind
from elbrix.app.benches.editing import EditingBench
from elbrix.app.searching import Search
from elbrix.app.session import Session
from elbrix.book.angle_setups import put_back, wring
from elbrix.book.documents import AngleDoc, Chosen, new_id
from elbrix.drawing.scene import Scene
from elbrix.presenters.angles import AnglesPresenter, LongerState, chooser
from elbrix.presenters.plate import PlateView
from elbrix.quantities.errors import ShopError

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.paper.pages import Pages


class AnglesBench(EditingBench):
    """How do I set this angle, and how well?"""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: AnglesPresenter | None = None
        self._choosing = False
        self.search = Search(self)
        self._searched: AngleDoc | None = None  # what the search is for: its answer stands beside nothing else
        self.search.told.connect(self._show_search)
        self.search.ended.connect(self._show_search)
        self.plate.item_dropped.connect(self._carried)
        self.plate.clicked.connect(lambda feature: self._pointed_feature(frozenset({feature})))
        self.card.picked.connect(self.pick)
        self.card.pressed.connect(self._pressed)

    @property
    def edited(self) -> AnglesPresenter | None:
        return self.presenter

    # --- showing -----------------------------------------------------------------------------------------------------

    def title(self) -> tuple[str, str]:
        if self.presenter is None:
            return "Set an angle", "On a sine plate, by two tilts, over pins, or cut straight"
        return self.presenter.doc.title, self.presenter.subtitle()

    def refresh(self) -> None:
        doc = self.session.angle_setup
        if doc is None or self._choosing:
            self.presenter = None
            self.plate.show_view(PlateView(Scene(""), message="Pick on the card what to set", thing="none"))
            self.card.show_view(chooser())
            self.strip.hide()
            self.close_why()
            return
        if self.presenter is not None and self.presenter.doc.id != doc.id:
            self.close_why()
        if self._searched is not None and not _asks_the_same(self._searched, doc):
            self._searched = None
            self.search.stop()
        self.presenter = p = AnglesPresenter(doc, self.session.shop, self.session.style, self._search_state())
        self.plate.show_view(p.plate())
        self.card.show_view(p.card())
        tiles = p.tiles()
        self.strip.setVisible(bool(tiles))
        self.strip.show_tiles(tiles, "UNCERTAINTY")
        self.refresh_why()

    def _search_state(self) -> LongerState | None:
        if self._searched is None:
            return None
        found = self.search.found if isinstance(self.search.found, tuple) else ()
        return LongerState(self.search.running, self.search.share, found, self.search.problem)

    def _show_search(self) -> None:
        if self.presenter is not None:
            self.presenter.longer = self._search_state()
            self.card.show_view(self.presenter.card())

    def pick_up(self) -> None:
        self._choosing = False

    def leave(self) -> None:
        self._choosing = False
        self.search.stop()

    def fill_title_menu(self, menu: QMenu) -> bool:
        for doc in self.session.angle_setups:
            self._add(menu, f"{doc.title}   {find_kind(doc.kind).title}", partial(self.show_setting, doc.id))
        menu.addSeparator()
        for kind in all_kinds().values():
            self._add(menu, f"New: {kind.title.lower()}", partial(self.start, kind.key))
        menu.addSeparator()
        have = self.presenter is not None
        for words, act in (("Rename…", self._rename), ("Duplicate", self._copy), ("Remove", self.remove)):
            self._add(menu, words, act).setEnabled(have)
        return True

    def _add(self, menu: QMenu, words: str, act: Callable[[], object]) -> QAction:
        action = QAction(words, menu)
        action.triggered.connect(lambda _=False: act())
        menu.addAction(action)
        return action

    def show_setting(self, id: str) -> None:
        """Take a setting in hand."""
        self._choosing = False
        self.session.pick_angle(id)

    def fill_in(self, go: Destination) -> None:
        if go.kind:
            self.start(go.kind, go.title, {name: Chosen(text=text) for name, text in go.chosen.items()})
        elif go.thing:
            self.show_setting(go.thing)

    def choose(self) -> None:
        """Offer the kinds on the card."""
        self._choosing = True
        self.refresh()

    def start(self, kind_key: str, title: str = "", chosen: dict[str, Chosen] | None = None) -> None:
        """A new setting of a kind."""
        kind = find_kind(kind_key)
        id_ = new_id("angle", (d.id for d in self.session.angle_setups), title or kind.key)
        doc = AngleDoc(id=id_, kind=kind.key, title=title or kind.title, chosen=chosen or {})
        if self.session.put(f"New: {kind.title.lower()}", doc):
            self.show_setting(id_)

    def pages_title(self) -> str:
        return "Setting card" if self.presenter is not None and self.presenter.setting is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.setting_card import setting_card  # printing is not needed to start

        return setting_card(self.presenter) if self.presenter is not None and self.presenter.setting is not None else None

    # --- editing -----------------------------------------------------------------------------------------------------

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked: a choice, another stack, another way, something new."""
        presenter = self.presenter
        if key.startswith("new "):
            self.start(key[4:])
            return
        if presenter is None:
            return
        if key.startswith("take "):
            key, value = "stack", key[5:]
        elif key.startswith("way "):
            key, value = "method", key[4:]
        if key in presenter.parameters:
            self.chose(key, value)

    def _carried(self, feature: str, onto: str) -> None:
        if self.presenter is None:
            return
        try:
            found = self.presenter.carried(feature, onto)
        except ShopError as error:
            self.card.show_error("stack", error.beside)
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

    def _rename(self) -> None:
        self.rename(self.session.angle_setup, "The work and its angle, as on the drawing")

    def _copy(self) -> None:
        if id_ := self.copied("angle", self.session.angle_setup, self.session.angle_setups):
            self.show_setting(id_)

    def remove(self) -> None:
        """Take the setting out of the book; its blocks go back into their box first."""
        doc = self.session.angle_setup
        if doc is None:
            return
        boxes = put_back(doc, self.session.shop)
        if (not boxes or self.session.put("Blocks back in the box", *boxes)) and self.session.remove(f"Remove {doc.title}", doc):
            self.refresh()


def _asks_the_same(one: AngleDoc, other: AngleDoc) -> bool:
    """Whether only the stack that is taken differs."""
    chosen = [{k: v for k, v in doc.chosen.items() if k != "stack"} for doc in (one, other)]
    return one.id == other.id and chosen[0] == chosen[1]
