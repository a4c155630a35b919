"""The Catalogue bench: drawers of cards where other benches have the plate."""

from __future__ import annotations

from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QMenu, QWidget

from elbrix.app.background import Later, in_background
from elbrix.app.benches.bench import Bench
from elbrix.app.benches.catalogue.drawers import Drawers
from elbrix.app.dialogs import asked
from elbrix.app.file_choice import file_to_read
from elbrix.app.keys import keymap
from elbrix.app.one_by_one import OneByOne
from elbrix.app.session import Session
from elbrix.app.words import menu_line
from elbrix.book.documents import DesignDoc, StockTakeDoc, new_id
from elbrix.book.photos import photo
from elbrix.book.revisions import as_revision, copy_of, copy_with, made_as_revision, next_of, restored
from elbrix.book.stock_take import ID, count, stock_take, taken_over
from elbrix.finding.fit_matrix import FitRow, fit_row, what_else
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.catalogue import CataloguePresenter, Entry, KnownEntry
from elbrix.presenters.proof import Why
from elbrix.presenters.stock_take import places_of, stock_take_card
from elbrix.presenters.to_inspect import measure_mate, measure_piece
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Fix
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.paper.pages import Pages
    from elbrix.instruments.lines import Reading
    from elbrix.instruments.listener import Asking


class CatalogueBench(Bench):
    """What have I made, what does it fit, where is it, what did I learn?"""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.drawers = Drawers()
        self.column.replaceWidget(self.plate, self.drawers)
        self.plate.setParent(None)
        self.column.setStretchFactor(self.drawers, 1)
        self._filling = OneByOne(self)
        self._known: dict[str, KnownEntry] = {}
        self._words = ""
        self._revision = self._revision_of = self._tool = ""
        self._sentence: tuple[str, str] | None = None  # typed, not finished
        self._rows: dict[str, tuple[DesignDoc, Shop, FitRow]] = {}
        self._fix: tuple[DesignDoc, str, Fix] | None = None  # of which item, for which place
        self._painting = QTimer(self)  # rows come one by one and are shown by the handful
        self._painting.setSingleShot(True)
        self._painting.setInterval(60)
        self._painting.timeout.connect(self._paint_matrix)
        self._helping = Later(self)
        self._helping.done.connect(self._helped)
        self._prints = "label"  # what printing prints
        self.presenter = CataloguePresenter(session.book, session.style, session.design)
        self.drawers.turned.connect(lambda _: self.refresh())
        self.drawers.grid.came.connect(lambda: self.once_seen(self._fill_seen))
        self.drawers.matrix.opened.connect(self._open_cell)
        self.drawers.matrix.taken.connect(session.pick_design)
        self.card.picked.connect(self._picked)
        self.why.fix_pressed.connect(self._apply_fix)
        self.drawers.picked.connect(session.pick_design)
        self._search = QTimer(self)
        self._search.setSingleShot(True)
        self._search.setInterval(80)
        self._search.timeout.connect(self._show_found)
        self.drawers.searched.connect(self._searched)
        self.card.typed.connect(self._typed)
        self.card.accepted.connect(self._accepted)
        self.card.cancelled.connect(lambda _: self.cancel())
        self.card.pressed.connect(self._pressed)
        self.drawers.stock.typed.connect(self._counted)
        self.drawers.stock.accepted.connect(lambda _: self.done())
        self.drawers.stock.cancelled.connect(lambda _: super(CatalogueBench, self).cancel())
        self.drawers.stock.pressed.connect(self._stock_pressed)
        keymap().bind(self, "find", self.drawers.line.setFocus, Qt.ShortcutContext.WidgetWithChildrenShortcut)

    def title(self) -> tuple[str, str]:
        return self.presenter.title()

    def refresh(self) -> None:
        design = self.session.design
        if design is None or design.id != self._revision_of:
            self._revision, self._revision_of = "", design.id if design is not None else ""
        self.presenter = p = CataloguePresenter(self.session.book, self.session.style, design, self._words, self._revision)
        self._show_drawers()
        self._show_stock()
        if self.drawers.side == "fits":
            self._paint_matrix()
        self.card.show_view(p.card())
        self.strip.show_tiles(p.tiles(), "FITS, AS MADE")
        self.refresh_why()

    def _show_found(self) -> None:
        """Other words were searched for: the item in hand stays as it is."""
        self.presenter.search(self._words)
        self._show_drawers()
        if self.drawers.side == "fits":
            self._paint_matrix()
        self.session.said.emit()

    def _show_drawers(self) -> None:
        p, empty = self.presenter, ""
        if not p.ids:
            empty = (
                "Nothing has all those words. Remove one."
                if self._words.strip()
                else "The drawers are empty. Design an accessory and release it."
            )
        known = partial(p.shown, known=self._known)
        self.drawers.show_entries(p.ids, known, p.doc.id if p.doc else "", self.session.palette, empty)
        self.once_seen(self._fill_seen)

    def open_at_start(self) -> None:
        """The drawers with their titles; pictures, fits and the item's card follow once they have been seen."""
        p = CataloguePresenter(self.session.book, self.session.style, None)
        self.drawers.show_entries(p.ids, p.shown, "", self.session.palette, "")
        self.after_paint(self.session.tell)

    @property
    def catching_up(self) -> bool:
        return self._filling.busy or self._painting.isActive() or super().catching_up

    def _fill_seen(self) -> None:
        """Work out what is seen and not known yet: rows of what fits what, or the cards that are there."""
        if self.drawers.side == "fits":
            shop = self.session.shop
            rows = self._rows
            missing = [d for d in self.presenter.docs if (r := rows.get(d.id)) is None or r[0] != d or r[1] is not shop]
            if missing:
                self._filling.instead([(partial(fit_row, d, shop), partial(self._row, d, shop)) for d in missing])
            return
        p, known = self.presenter, self._known
        cards = (self.session.book.get(DesignDoc, id_) for id_ in self.drawers.cards)
        there = [d for d in cards if d is not None]
        stale = [
            d
            for d in there
            if (k := known.get(d.id)) is None or k.entry.doc != d or k.shop is not p.shop or k.style is not p.style
        ]
        shop = p.shop
        self._filling.instead([(partial(p.entry, d), partial(self._fill, shop, p.style)) for d in stale])

    def _fill(self, shop: Shop, style: UnitStyle, entry: Entry) -> None:
        """A card that was worked out, kept until its design or the shop changes."""
        self._known[entry.doc.id] = KnownEntry(entry, shop, style)
        self.drawers.show_entry(entry)

    # --- what fits what ----------------------------------------------------------------------------------------------

    def _row(self, doc: DesignDoc, shop: Shop, row: FitRow) -> None:
        self._rows[doc.id] = (doc, shop, row)
        if not self._painting.isActive():
            self._painting.start()

    def _paint_matrix(self) -> None:
        rows = [self._rows[d.id][2] for d in self.presenter.docs if d.id in self._rows]
        self.drawers.matrix.show_rows(rows, self.session.design_id, self.session.palette)

    def _open_cell(self, design: str, machine: str, slot: str) -> None:
        """The item comes into hand, and the explanation of that place opens."""
        if self.session.design_id != design:
            self.session.pick_design(design)
        doc, fit = self.session.design, next((f for f in self.presenter.fits if (f.machine, f.slot) == (machine, slot)), None)
        if doc is not None and fit is not None:
            self._fix = None
            key, shop = f"{machine}|{slot}", self.session.shop
            self.open_why(key)
            self._helping.start(lambda: (doc, key, what_else(doc, fit, shop)))

    def _helped(self, found: object) -> None:
        """The change stands in the explanation, if that is still open on the same item."""
        if isinstance(found, tuple) and found[2] is not None and self.isVisible():
            self._fix = found
            if self._fix_for(self.why.key) is not None and self.why.isVisible():
                self.open_why(self.why.key)

    def _fix_for(self, key: str) -> Fix | None:
        """The change that would help in a place; of no other place, and of no item that has changed since."""
        found = self._fix
        return found[2] if found is not None and found[:2] == (self.session.design, key) else None

    def _apply_fix(self, key: str) -> None:
        """A copy with that one size changed: the item itself stays what it is."""
        doc, fix = self.session.design, self._fix_for(key)
        if doc is None or fix is None:
            return
        fresh = copy_with(doc, fix, new_id(doc.family, self.session.book.ids(DesignDoc), doc.title))
        if self.session.put(fix.text, fresh):
            self.session.pick_design(fresh.id)
            self.session.go.emit("design")

    # --- revisions ---------------------------------------------------------------------------------------------------

    def _picked(self, key: str, _value: str = "") -> None:
        act = Act.read(key)
        if act.do == Verb.USE:
            use = self.presenter.uses[act.number]
            if use.bench != "make":
                self.session.take(type(use.document), use.document.id)
            self.session.go.emit(use.bench)
            return
        if act.do == Verb.REVISION:
            self._revision = "" if self._revision == act.of else act.of
            self.refresh()

    def _revise(self, what: str) -> None:
        doc, letter = self.session.design, self._revision
        if doc is None:
            return
        try:
            if what == "made":
                self.session.put(f"As made becomes {next_of(doc)}", made_as_revision(doc, self.session.shop))
            elif what == "back":
                self.session.put(f"Back to revision {letter}", restored(doc, letter))
            elif what == "copy":
                fresh = copy_of(doc, letter, new_id(doc.family, self.session.book.ids(DesignDoc), doc.title))
                if self.session.put(f"From revision {letter}", fresh):
                    self.session.pick_design(fresh.id)
                    self.session.go.emit("design")
        except ShopError as error:
            self.session.refused.emit(str(error))

    # --- stock-take --------------------------------------------------------------------------------------------------

    def _show_stock(self) -> None:
        if self.drawers.side == "stock":
            self.drawers.stock.set_palette(self.session.palette)
            self.drawers.stock.show_view(stock_take_card(places_of(self.session.book)))

    def _counted(self, key: str, text: str) -> None:
        id_, now = Act.read(key).of, stock_take(self.session.book)
        try:
            fresh = count(now, id_, text, date.today().isoformat())
        except ShopError as error:
            self.drawers.stock.show_error(key, self.session.beside(error))
            return
        self.drawers.stock.show_error(key, "")
        self.session.put("Counted", fresh, merge=self.merge_key("stock", id_))

    def _stock_pressed(self, key: str) -> None:
        book = self.session.book
        fresh = StockTakeDoc(id=ID)
        if key == "take over":
            docs = taken_over(places_of(book))
            self.session.put(f"Stock-take: {len(docs)} taken over", *docs, fresh)
        elif key == "begin anew":
            self.session.put("Stock-take begun anew", fresh)
        elif key == "list":
            self._print("stock")

    def _give(self) -> None:
        """The item with everything it needs, for another shop."""
        from elbrix.app.benches.shop.books import write_items  # few are given away
        from elbrix.book.giving import with_all_it_needs

        doc = self.session.design
        if doc is not None:
            write_items(self, self.session, with_all_it_needs(doc, self.session.book), doc.id)

    # --- photographs -------------------------------------------------------------------------------------------------

    def _add_photo(self) -> None:
        path = file_to_read(self, "A photograph of it", "Pictures (*.jpg *.jpeg *.png *.webp *.bmp);;Every file (*)")
        if path is not None:
            self.add_photo(path)

    def add_photo(self, path: Path) -> None:
        """Keep a picture file with the item in hand; what is wrong with it is said, and nothing changes."""
        from elbrix.app.photographs import read_photo  # few ever add one

        doc = self.session.design
        if doc is None:
            return
        try:
            jpeg = in_background(lambda: read_photo(path))
            kept = photo(doc, self.session.book, "", jpeg, date.today().isoformat())
        except ShopError as error:
            self.session.refused.emit(str(error))
            return
        self.session.put(f"Photograph of {doc.title}", kept)

    def _open_photo(self, id: str) -> None:
        from elbrix.app.benches.catalogue.photographs import PhotoDialog

        found = next((p for p in self.presenter.photos if p.id == id), None)
        if found is not None:
            dialog = PhotoDialog(found, self)
            dialog.named.connect(lambda words: self.session.put("Name of a photograph", replace(found, title=words)))
            dialog.removed.connect(lambda: self.session.remove("Take out a photograph", found))
            asked(dialog)

    # --- instruments -------------------------------------------------------------------------------------------------

    def asks(self, key: str) -> Asking | None:
        return self.presenter.asks(key)

    def captured(self, key: str, reading: Reading) -> None:
        self._tool = reading.instrument
        super().captured(key, reading)
        self._tool = ""

    # --- paper -------------------------------------------------------------------------------------------------------

    def fill_title_menu(self, menu: QMenu) -> bool:
        many = len(self.presenter.ids)
        for key, words in (
            ("book", f"Print the catalogue ({many} items)"),
            ("labels", f"Print drawer labels ({many} items)"),
            ("places", "Print labels of the places"),
        ):
            menu_line(menu, words, partial(self._print, key)).setEnabled(many > 0)
        menu.addSeparator()
        return False  # the items follow

    def _print(self, what: str) -> None:
        """A page for what is printed now; the next print is the label of the item in hand again."""
        self._prints = what
        self.print_page()
        self._prints = "label"

    def fill_in(self, go: Destination) -> None:
        self.session.pick_design(go.thing)

    def why_of(self, key: str) -> Why | None:
        why, fix = self.presenter.why(key), self._fix_for(key)
        if why is None or fix is None:
            return why
        return replace(
            why,
            fix=said_in(fix.text, self.session.style),
            derivation=f"{why.derivation} The change makes a copy; this item stays what it is.",
        )

    def _searched(self, words: str) -> None:
        self._words = words
        self._search.start()

    def _typed(self, key: str, text: str) -> None:
        if Act.read(key).do == Verb.LESSON:  # a sentence is kept when it is finished, not letter by letter
            self._sentence = (key, text)
            return
        self._keep(key, text)

    def _accepted(self, key: str) -> None:
        sentence, self._sentence = self._sentence, None
        if sentence is not None and sentence[0] == key:
            self._keep(*sentence)
        self.done()

    def cancel(self) -> None:
        self._sentence = None
        super().cancel()

    def _keep(self, key: str, text: str) -> None:
        try:
            words, doc = self.presenter.typed(key, text, self._tool)
        except ShopError as error:
            self.card.show_error(key, self.session.beside(error))
            return
        self.card.show_error(key, "")
        if self.session.put(words, doc, merge=self.merge_key("catalogue", doc.id, key)):
            self.was_kept()

    def _pressed(self, key: str) -> None:
        if key == "design":
            self.session.go.emit("design")
        elif key == "label":
            self.print_page()
        elif key == "measure" and self.session.design is not None:
            self.session.destination.emit(measure_piece(self.session.design))
        elif key == "mate" and self.session.design is not None:
            self.session.destination.emit(measure_mate(self.session.design))
        elif key == "give":
            self._give()
        elif key == "photo add":
            self._add_photo()
        elif (act := Act.read(key)).do == Verb.PHOTO:
            self._open_photo(act.of)
        elif key == "assembly":
            self._print("assembly")
        elif key == "rev print":
            self._print("revision")
        elif key == "rev close":
            self._revision = ""
            self.refresh()
        elif key in ("rev back", "rev copy"):
            self._revise(Act.read(key).of)
        elif key == "made revision":
            self._revise("made")

    def pages_title(self) -> str:
        titles = {
            "revision": f"Drawing, revision {self._revision}",
            "book": "Catalogue",
            "labels": "Drawer labels",
            "stock": "Stock-take",
            "places": "Labels of places",
            "assembly": "Assembly sheet",
        }
        if self._prints in titles:
            return titles[self._prints]
        return "Drawer label" if self.presenter.design is not None else ""

    def pages(self) -> Pages | None:
        if self._prints == "revision":
            return self._revision_pages()
        if self._prints in ("book", "labels"):
            return self._many_pages()
        if self._prints == "places":
            from elbrix.app.paper.catalogue_pages import place_sheet

            return place_sheet(places_of(self.session.book))
        if self._prints == "assembly" and self.session.design is not None:
            from elbrix.app.paper.assembly_sheet import assembly_sheet

            return assembly_sheet(self.session.design, self.session.shop, self.session.style)
        if self._prints == "stock":
            from elbrix.app.paper.stock_list import stock_list

            return stock_list(places_of(self.session.book), stock_take(self.session.book).on)
        from elbrix.app.paper.documents import drawer_label  # printing is not needed to start

        doc = self.session.design
        if doc is None:
            return None
        try:
            return drawer_label(doc, self.session.shop, self.session.style)
        except ShopError as error:
            self.session.refused.emit(str(error))
            return None

    def _many_pages(self) -> Pages:
        """Everything that was found by the search line; worked out while the window stays alive."""
        from elbrix.app.paper.catalogue_pages import catalogue_pages, label_sheet

        docs, shop, style = self.presenter.docs, self.session.shop, self.session.style
        if self._prints == "labels":
            return in_background(lambda: label_sheet(docs, shop, style))
        title = f"Catalogue of {self.session.book.path.stem}"
        return in_background(lambda: catalogue_pages(docs, shop, style, title))

    def _revision_pages(self) -> Pages | None:
        """The drawing of the revision that is open, as it was released."""
        from elbrix.app.paper.documents import drawing_sheet

        doc = self.session.design
        if doc is None or not self._revision:
            return None
        kernel = Kernel()
        try:
            then = as_revision(doc, self._revision)
            return in_background(lambda: drawing_sheet(then, self.session.shop, self.session.style, kernel, self.session.sheet))
        except ShopError as error:
            self.session.refused.emit(str(error))
            return None
        finally:
            kernel.stop()
