"""The Hold bench: joins plate, card and proof to the presenter and the book."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QMenu, QWidget

from elbrix.app.background import Later, in_background
from elbrix.app.benches.documents import DocumentBench
from elbrix.app.file_choice import file_to_read
from elbrix.app.searching import Search
from elbrix.app.session import Session
from elbrix.app.words import menu_line
from elbrix.book.choices import read_chosen
from elbrix.book.designs_in_layouts import offered
from elbrix.book.documents import Chosen, DesignDoc, LayoutDoc
from elbrix.book.layouts import asked_of
from elbrix.exchange.outlines import read_outline
from elbrix.holding import cut
from elbrix.holding.suggest import SuggestStraps
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import CardView
from elbrix.presenters.hold import BEGINNINGS, HoldPresenter, SuggestState, chooser
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import within
from elbrix.solids.client import Kernel

if TYPE_CHECKING:
    from elbrix.app.paper.pages import Pages

_SETTLED_MS = 220  # after the last change
_FRAME_MS, _FRAMES = 50, 30


class HoldBench(DocumentBench):
    """Will it stay put, can I reach it, is it located?"""

    doc_type = LayoutDoc
    prefix = "hold"
    name_hint = "The work and the cut"
    nothing = "Pick on the card what to hold"
    idle = ("Hold the work", "On the machine's real slots, with a margin against moving")

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: HoldPresenter | None = None
        self._offered: tuple[int, list[DesignDoc]] | None = None  # of which edition of the designs
        self._carried_from: HoldPresenter | None = None  # the layout as it was when something was taken up
        self.search = Search(self)
        self._searched: LayoutDoc | None = None
        self.search.told.connect(self._show_search)
        self.search.ended.connect(self._show_search)
        # The whole answer follows a moment after the last change; the quick one follows every change.
        self._whole = QTimer(self)
        self._whole.setSingleShot(True)
        self._whole.timeout.connect(self._catch_up)
        self._later = Later(self)
        self._later.done.connect(self._caught_up)
        self._mending = Later(self)
        self._mending.done.connect(self._mended)
        self._moving = QTimer(self)
        self._moving.setInterval(_FRAME_MS)
        self._moving.timeout.connect(self._move)
        self._frame = 0
        self._pen = ""  # "first" before the first place, "down" after it
        self.why.closed.connect(self._moving.stop)
        self.plate.item_dragged.connect(self._carrying)
        self.plate.path_point_added.connect(self._penned)

    # --- showing -----------------------------------------------------------------------------------------------------

    def title(self) -> tuple[str, str]:
        if self.presenter is None:
            return self.idle
        doc = self.presenter.doc
        job = self.session.book.get(DesignDoc, doc.design)
        return doc.title, self.presenter.subtitle() + (
            f"  ·  for {job.title}" if job and not doc.title.startswith(job.title) else ""
        )

    def refresh(self) -> None:
        doc: LayoutDoc | None = self.taken_up()
        if doc is None:
            return
        if self._searched is not None and not _same_question(self._searched, doc):
            self._searched = None
            self.search.stop()
        same = (
            self.presenter is not None
            and self.presenter.doc == doc
            and self.presenter.shop is self.session.shop
            and not self.presenter.quick
        )
        if same and self.presenter is not None and self.presenter.style is self.session.style:
            self._show(self.presenter)
            return
        # The quick answer comes first, the whole one beside the window; another unit changes no answer.
        quick = not same
        looked = self.presenter is None or self.presenter.doc.id != doc.id
        self.presenter = HoldPresenter(
            doc,
            self.session.shop,
            self.session.style,
            quick=quick,
            suggest=self._suggest_state(),
            before=self.presenter,
            pen=bool(self._pen),
            designs=self._designs(doc),
        )
        self._show(self.presenter)
        if quick and looked:
            self.once_seen(partial(self._whole.start, 0))
        elif quick:
            self._whole.start(_SETTLED_MS)

    def open_at_start(self) -> None:
        # What the Catalogue offers stands at the card's foot and takes every family to be loaded: it comes with the whole answer.
        self._offered = self.session.book.edition(DesignDoc), []
        self.refresh()
        self._offered = None

    def _designs(self, doc: LayoutDoc) -> list[DesignDoc]:
        """Those that are offered, and those the layout's things were taken from."""
        book = self.session.book
        if self._offered is None or self._offered[0] != book.edition(DesignDoc):
            self._offered = book.edition(DesignDoc), offered(book.each(DesignDoc))
        there = {d.id: d for d in self._offered[1]}
        taken = (book.get(DesignDoc, e.design) for e in doc.elements if e.design and e.design not in there)
        return [*there.values(), *(d for d in taken if d is not None)]

    def _show(self, presenter: HoldPresenter) -> None:
        self.plate.show_view(presenter.plate())
        if self._carried_from is None:  # while something is carried the numbers would only flicker; they follow when it is let go
            self.card.show_view(presenter.card())
        tiles = presenter.tiles()
        self.strip.setVisible(bool(tiles))
        self.strip.show_tiles(tiles, "HOLDING")
        self.refresh_why()

    @property
    def catching_up(self) -> bool:
        return self._whole.isActive() or super().catching_up

    def _catch_up(self) -> None:
        """The whole answer after the quick one."""
        presenter = self.presenter
        if presenter is not None and presenter.quick and self._carried_from is None:
            doc, shop, style = presenter.doc, self.session.shop, self.session.style
            designs = self._designs(doc)
            self._later.start(lambda: HoldPresenter(doc, shop, style, designs=designs))

    def _caught_up(self, whole: object) -> None:
        now = self.presenter
        if (
            # a bench that is left works it out again when it is picked up; a window that closes has no card any more
            self.isVisible()
            and isinstance(whole, HoldPresenter)
            and now is not None
            and now.quick
            and (now.doc, now.style) == (whole.doc, whole.style)
            and now.shop is whole.shop
        ):
            whole.suggest, whole.pen = self._suggest_state(), bool(self._pen)
            self.presenter = whole
            self._show(whole)
            self.session.said.emit()  # the head line follows the whole answer

    def open_why(self, key: str) -> None:
        super().open_why(key)
        presenter = self.presenter
        if presenter is not None and presenter.wants_fix(key):
            self._mending.start(lambda: (presenter, key, presenter.find_fix(key)))
        if key == "margin" and self.presenter is not None and self.presenter.hold is not None:
            self._frame = 0
            self._moving.start()
        else:
            self._moving.stop()

    def _mended(self, found: object) -> None:
        """The fix that was looked for stands in the open explanation."""
        if isinstance(found, tuple) and self.isVisible():
            presenter, key, fix = found
            presenter.fixes[key] = fix
            if presenter is self.presenter and self.why.isVisible() and self.why.key == key:
                super().open_why(key)

    def close_why(self) -> None:
        super().close_why()
        if self._moving.isActive():
            self._moving.stop()
            if self.presenter is not None:
                self.plate.show_view(self.presenter.plate())

    def _move(self) -> None:
        """One frame of the motion it gives with: there slowly, then again."""
        if self.presenter is None or not self.isVisible():
            self._moving.stop()
            return
        self._frame = (self._frame + 1) % _FRAMES
        self.plate.show_view(self.presenter.plate(min(1.0, self._frame / (0.7 * _FRAMES))))

    def leave(self) -> None:
        super().leave()
        self._pen = ""
        self._moving.stop()
        self.search.stop()

    def _other_document(self) -> None:
        super()._other_document()
        self._moving.stop()

    def chooser(self) -> CardView:
        return chooser()

    def beginnings(self) -> Iterable[tuple[str, str]]:
        return ((b.key, within(b.title)) for b in BEGINNINGS.values())

    def begun(self, key: str, id: str, title: str, chosen: Mapping[str, Chosen]) -> LayoutDoc:
        machine = self.session.machine
        begin = BEGINNINGS.get(key, BEGINNINGS["straps"])
        doc = begin.layout(id, machine.id if machine is not None and machine.slots else "")
        return replace(doc, title=title or doc.title, chosen={**doc.chosen, **chosen})

    def more_in_menu(self, menu: QMenu) -> None:
        have = self.presenter is not None
        for machine in self.session.shop.machines:
            if machine.slots:
                menu_line(menu, f"On {machine.name}", partial(self.put_on, machine.id)).setEnabled(have)
        menu.addSeparator()
        job = self.session.design
        if job is not None:
            kept = have and self.presenter is not None and self.presenter.doc.design == job.id
            words = "Detach from {0}" if kept else "Attach to job {0}"
            menu_line(menu, words.format(job.title), partial(self.keep_with, "" if kept else job.id)).setEnabled(have)

    def pages_title(self) -> str:
        return "Setting card" if self.presenter is not None and self.presenter.hold is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.layout_card import layout_card  # printing is not needed to start

        if self.presenter is None or self.presenter.hold is None:
            return None
        if self.presenter.quick:  # paper shows the whole answer
            self._later.drop()
            now, session, suggest = self.presenter, self.session, self._suggest_state()
            designs = self._designs(now.doc)
            self.presenter = in_background(
                lambda: HoldPresenter(now.doc, session.shop, session.style, suggest=suggest, designs=designs)
            )
        return layout_card(self.presenter)

    # --- editing -----------------------------------------------------------------------------------------------------

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked."""
        presenter = self.presenter
        act = Act.read(key)
        if act.do == Verb.NEW:
            self.start(act.of)
        elif presenter is None:
            return
        elif act.do == Verb.ADD:
            try:
                self.session.put(f"Add a {act.of}", presenter.added(act.of))
            except ShopError as error:
                self.session.refused.emit(str(error))
        elif act.do == Verb.LAY:
            try:
                self.session.put("Lay a plate from the catalogue", presenter.laid(act.of))
            except ShopError as error:
                self.session.refused.emit(str(error))
        elif act.do == Verb.TAKE:
            found = self._suggest_state()
            if found is not None and 0 <= act.number < len(found.found):
                doc = presenter.suggested(found.found[act.number])
                self._searched = doc
                self.session.put(f"Suggestion {act.number + 1}", doc)
        elif key in presenter.parameters:
            self.chose(key, value)

    def _carrying(self, feature: str, dx: float, dy: float, released: bool) -> None:
        """The work or a thing follows the pointer, settled; one step of undo for the whole way."""
        if self._carried_from is None:
            self._carried_from = self.presenter
        origin = self._carried_from
        if origin is None or not (math.isfinite(dx) and math.isfinite(dy)):
            return
        try:
            doc = origin.carried(feature, dx, dy)
        except ShopError:
            doc = None
        if doc is not None and self.presenter is not None and doc != self.presenter.doc:
            self.session.put(f"Move {feature}", doc, merge=self.merge_key(doc.id, "carry", feature))
        if released:
            self._carried_from = None
            self.done()
            self._whole.start()

    def _pressed(self, key: str) -> None:
        presenter, act = self.presenter, Act.read(key)
        if key == "undo":
            self.session.book.undo()
        elif key == "print":
            self.print_page()
        elif act.do == Verb.UPDATE and presenter is not None:
            self.session.put("Update from drawing", presenter.again(act.number))
        elif act.do == Verb.REMOVE and presenter is not None:
            name = presenter.hold.elements[act.number][2].name if presenter.hold is not None else ""
            self.session.put(f"Remove {name}", presenter.taken_away(act.number))
        elif key == "pen":
            self.put_pen(down=not self._pen)
            self.done()
        elif key == "outline":
            path = file_to_read(self, "Outline of the work", "Drawings and solids (*.dxf *.step *.stp)")
            if path is not None:
                self.read_outline(path)
        elif key == "stop":
            self._searched = None
            self.search.stop()
        elif key == "suggest" and presenter is not None:
            self._searched = presenter.doc
            doc, shop = presenter.doc, self.session.shop
            self.search.start(
                SuggestStraps(shop, presenter.machine, read_chosen(cut.parameters(shop), doc.chosen), asked_of(doc, shop))
            )
            self._show_search()

    def read_outline(self, path: Path) -> None:
        """Take the work's outline from a file; what is wrong with it stands beside the shape, and nothing is taken."""
        presenter, kernel = self.presenter, Kernel()
        if presenter is None:
            return
        try:
            found = in_background(lambda: read_outline(path, kernel.ask))
            self.session.put(f"Outline {path.name}", presenter.outlined(found))
        except ShopError as error:
            self.card.show_error("shape", self.session.beside(error))
        else:
            self.card.show_error("shape", "")
            if found.note:
                self.session.refused.emit(found.note)
        finally:
            kernel.stop()

    def put_pen(self, *, down: bool) -> None:
        """Take the pen to draw the cutter's path, or lift it."""
        self._pen = "first" if down else ""
        if self.presenter is not None:
            self.presenter.pen = down
            self._show(self.presenter)
            self.plate.setFocus()

    def _penned(self, x: float, y: float) -> None:
        presenter = self.presenter
        if presenter is None or presenter.hold is None or not self._pen:
            return
        first = self._pen == "first"
        self._pen = "down"
        self.attempt(
            "places",
            lambda: presenter.path_point_added(x, y, first=first),
            partial(self.card.show_error, "places"),
            self.merge_key(presenter.doc.id, "pen"),
        )

    def cancel(self) -> None:
        if self._pen:
            self.put_pen(down=False)
        else:
            super().cancel()

    def put_on(self, machine: str) -> None:
        """The same layout on another machine's table."""
        if self.presenter is not None:
            self.session.put("Another machine", replace(self.presenter.doc, machine=machine))

    def keep_with(self, design: str) -> None:
        """Keep the layout with a design's job; "" with none."""
        if self.presenter is not None:
            self.session.put("Keep with the job" if design else "Not with a job", replace(self.presenter.doc, design=design))

    # --- suggestions -------------------------------------------------------------------------------------------------

    def _suggest_state(self) -> SuggestState | None:
        if self._searched is None:
            return None
        found = self.search.found if isinstance(self.search.found, tuple) else ()
        return SuggestState(self.search.running, self.search.share, found, self.search.problem)

    def _show_search(self) -> None:
        if self.presenter is not None:
            self.presenter.suggest = self._suggest_state()
            self.card.show_view(self.presenter.card())


def _same_question(one: LayoutDoc, other: LayoutDoc) -> bool:
    """Whether only places of straps differ: what was found for one is still of use for the other."""
    kinds = [t.kind for t in one.elements] == [t.kind for t in other.elements]
    return one.id == other.id and one.chosen == other.chosen and kinds and one.machine == other.machine
