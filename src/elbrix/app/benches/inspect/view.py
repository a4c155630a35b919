"""The Inspect bench: joins plate, card and proof to the presenter and the book; readings are typed or sent."""

from __future__ import annotations

import random
from collections.abc import Iterable, Mapping
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QMenu, QWidget

from elbrix.app.background import Later
from elbrix.app.benches.documents import DocumentBench
from elbrix.app.file_choice import file_to_write
from elbrix.app.session import Session
from elbrix.app.words import menu_line
from elbrix.book.documents import Chosen, DesignDoc, InspectionDoc, new_id
from elbrix.book.inspections import fresh
from elbrix.book.practice import practice_instrument, practice_of
from elbrix.book.rescues import Rescue, rescues
from elbrix.design.family import Design, Family
from elbrix.inspecting.inspection import all_kinds, find_kind
from elbrix.instruments.lines import Quantity, Reading
from elbrix.instruments.listener import Asking
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import CardView
from elbrix.presenters.inspect import InspectPresenter, chooser
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel

if TYPE_CHECKING:
    from elbrix.app.paper.pages import Pages


_SETTLED_MS = 300  # after the last reading


class InspectBench(DocumentBench):
    """Is it right, and what do I do if not?"""

    doc_type = InspectionDoc
    prefix = "inspection"
    name_hint = "What was looked at, and why"
    nothing = "Pick on the card what to look at"
    idle = ("Inspect", "Readings become decisions: what to tap, shim, take off, or leave alone")

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: InspectPresenter | None = None
        self._rescue = Later(self)
        self._rescue.done.connect(self._rescued)
        self._saved: tuple[object, tuple[Rescue, ...]] | None = None  # what was found, and for which piece
        self._pausing = QTimer(self)  # a kernel is started for it: not at every letter
        self._pausing.setSingleShot(True)
        self._pausing.setInterval(_SETTLED_MS)
        self._pausing.timeout.connect(self._look_for_rescue)

    # --- showing -----------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        doc: InspectionDoc | None = self.taken_up()
        if doc is None:
            return
        book = self.session.book
        about = book.get(DesignDoc, doc.about) if doc.about else None
        self.presenter = p = InspectPresenter(
            doc,
            self.session.shop,
            self.session.style,
            () if about is None else (about,),
            self.docs,
            to_pick=partial(book.each, DesignDoc),
        )
        self.show_presenter(p, "FOUND")
        if not p.wants_rescue:
            self._pausing.stop()
        elif self._saved is not None and self._saved[0] == _piece(p):
            p.rescues = self._saved[1]
            self.card.show_view(p.card())
        else:
            self._pausing.start()

    def _look_for_rescue(self) -> None:
        p = self.presenter
        if p is not None and p.wants_rescue:
            self._rescue.start(lambda: (_piece(p), _ways_out(p)))

    def _rescued(self, found: object) -> None:
        """What saves the piece stands on the card, if it is still the same piece."""
        p = self.presenter
        if isinstance(found, tuple) and p is not None and self.isVisible() and found[0] == _piece(p):
            self._saved = found
            p.rescues = found[1]
            self.card.show_view(p.card())

    @property
    def catching_up(self) -> bool:
        return self._pausing.isActive() or super().catching_up

    def chooser(self) -> CardView:
        return chooser()

    def beginnings(self) -> Iterable[tuple[str, str]]:
        return ((kind.key, kind.title.lower()) for kind in all_kinds().values())

    def begun(self, key: str, id: str, title: str, chosen: Mapping[str, Chosen]) -> InspectionDoc:
        kind = find_kind(key)
        given = dict(chosen)
        about = given.pop("about", None)
        return InspectionDoc(
            id=id,
            kind=kind.key,
            title=title or kind.title,
            began=date.today().isoformat(),
            about=about.text if about is not None else "",
            chosen=given,
        )

    def words_in_menu(self, doc: InspectionDoc) -> str:
        return f"{doc.title}   {doc.began}"

    def more_in_menu(self, menu: QMenu) -> None:
        have = self.presenter is not None and self.presenter.inspection is not None
        menu_line(menu, "Readings as a table…", self._table).setEnabled(have)
        menu.addSeparator()

    def _table(self) -> None:
        from elbrix.app.paper.documents import file_name  # printing is not needed to start

        name = self.presenter.doc.title if self.presenter is not None else "readings"
        path = file_to_write(self, "Readings as a table", "Tables (*.csv)", f"{file_name(name, 'readings')}.csv")
        if path is not None:
            self.write_table(path)

    def write_table(self, path: Path) -> None:
        """Every reading into a file; what is wrong with the place is said in the head line."""
        if self.presenter is None:
            return
        try:
            path.write_text(self.presenter.table(), encoding="utf-8")
        except OSError as error:
            self.session.refused.emit(f"{path} cannot be written ({error.strerror}). Choose another place.")

    def pages_title(self) -> str:
        return "Inspection sheet" if self.presenter is not None and self.presenter.inspection is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.inspection_sheet import inspection_sheet  # printing is not needed to start

        return inspection_sheet(self.presenter) if self.presenter is not None and self.presenter.inspection is not None else None

    # --- editing -----------------------------------------------------------------------------------------------------

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked: a beginning, a design, an earlier one, a choice."""
        act = Act.read(key)
        if act.do == Verb.NEW:
            self.start(act.of)
        elif act.do == Verb.OPEN:
            self.show_document(act.of)
        elif self.presenter is not None and act.do == Verb.ABOUT:
            design = self.session.book.get(DesignDoc, act.of)
            if design is not None:
                doc = replace(self.presenter.doc, about=design.id, title=self.presenter.title_about(design))
                self.session.put(f"Measure {design.title}", doc)
        elif self.presenter is not None and key in self.presenter.parameters:
            self.chose(key, value)

    def _pressed(self, key: str) -> None:
        presenter = self.presenter
        if key == "undo":
            self.session.book.undo()
        elif key == "print":
            self.print_page()
        elif presenter is None:
            return
        elif key == "again":
            id_ = new_id(self.prefix, (d.id for d in self.docs), presenter.doc.title)
            if self.session.put(f"Again: {presenter.doc.title}", fresh(presenter.doc, id_, date.today().isoformat())):
                self.show_document(id_)
        elif key == "clear":
            self.session.put("Clear readings", replace(presenter.doc, readings={}))
        elif key == "practise":
            self.practise()
        elif key == "press":
            self._next_press()
        elif (act := Act.read(key)).do == Verb.KEEP:
            kept = presenter.kept(act.of)
            if kept is not None:
                self.session.put(kept[0], *kept[1])

    # --- instruments -------------------------------------------------------------------------------------------------

    def asks(self, key: str) -> Asking | None:
        return (self.presenter.asks(key) if self.presenter is not None else None) or super().asks(key)

    def asking(self, quantity: Quantity | None = None) -> tuple[str, Asking] | None:
        """The open entry; when none is open, the place that is lit."""
        found = super().asking(quantity)
        if found is not None or self.presenter is None or self.open_entry() is not None:
            return found
        place = self.presenter.following
        wanted = self.presenter.asks(Act(Verb.READ, place.key).key) if place is not None else None
        return (Act(Verb.READ, place.key).key, wanted) if place is not None and wanted is not None else None

    def captured(self, key: str, reading: Reading) -> None:
        presenter = self.presenter
        if presenter is None or key not in presenter.places:
            super().captured(key, reading)
            return
        try:
            doc = presenter.captured(key, reading)
        except ShopError as error:
            self.show_heard(self.session.beside(error))
            return
        open_here = self.plate.editing == key
        if self.session.put(presenter.change_words(key, doc), doc):
            self.done()
        place = self.presenter.places.get(key) if self.presenter is not None else None
        if open_here and place is not None:
            full = len(doc.readings.get(place.key, ())) >= place.times
            self.plate.editor.setText(self.presenter.entry_text(key) if self.presenter is not None else "")
            if full:
                self.plate.next_entry()

    def show_heard(self, words: str) -> None:
        """Without an open entry it stands beside the row of the place that asks."""
        asking = self.asking()
        if self.open_entry() is None and asking is not None:
            self.card.show_error(asking[0], words)
        else:
            super().show_heard(words)

    def practise(self) -> None:
        """The same kind of inspection of a described thing that nobody knows, with a simulated instrument to read it."""
        presenter = self.presenter
        if presenter is None:
            return
        seed = random.randrange(1_000_000)
        doc = practice_of(
            presenter.doc, new_id("practice", (d.id for d in self.docs), presenter.doc.kind), seed, date.today().isoformat()
        )
        if self.session.put(f"Practice: {presenter.doc.title}", doc):
            self.show_document(doc.id)
            self._next_press()

    def _next_press(self) -> None:
        """Press the button of the practice instrument; it is started when it is not there."""
        presenter = self.presenter
        exercise = presenter.exercise if presenter is not None else None
        if presenter is None or exercise is None or presenter.inspection is None:
            return
        self.session.practice_wanted.emit(practice_instrument(presenter.doc, exercise, presenter.inspection))


def _piece(presenter: InspectPresenter) -> tuple[object, ...]:
    """What a piece's rescue follows from."""
    design = next((d for d in presenter.designs if d.id == presenter.doc.about), None)
    return (presenter.doc, design, presenter.shop)


def _ways_out(presenter: InspectPresenter) -> tuple[Rescue, ...]:
    """Solved beside the window; the kernel says whether metal is left or missing."""
    design = next((d for d in presenter.designs if d.id == presenter.doc.about), None)
    if design is None or presenter.inspection is None:
        return ()
    kernel = Kernel()

    def volume(family: Family, solved: Design) -> float | None:
        try:
            return float(kernel.ask("mass", family.solid(solved))["volume_mm3"])
        except ShopError:
            return None

    try:
        return rescues(design, presenter.inspection, presenter.shop, volume)
    except ShopError:
        return ()
    finally:
        kernel.stop()
