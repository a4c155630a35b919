"""The Design bench: joins plate, card and proof to the presenter and the book."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QWidget

from elbrix.app.background import Later, in_background
from elbrix.app.benches.editing import EditingBench
from elbrix.app.file_choice import file_to_read
from elbrix.app.session import Session
from elbrix.book.designs import choose, issue_revision
from elbrix.drawing.scene import MovablePoint
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.design import DesignPresenter, Drawn, FixFound
from elbrix.presenters.proof import Why
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel, refusal

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.benches.design.shelf import Shelf
    from elbrix.app.paper.pages import Pages
    from elbrix.making.plan import Plan


class DesignBench(EditingBench):
    """Plate, card and proof of the design in hand; the shelf when there is none or a new one is wanted."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: DesignPresenter | None = None
        self._moved_from: DesignPresenter | None = None  # the design as it was when a hole was taken up
        self._drawn = Drawn()
        self._tab = 0
        self._kernel_words = ""
        self._planning = QTimer(self)
        self._planning.setSingleShot(True)
        self._planning.setInterval(60)
        self._planning.timeout.connect(self._catch_up)
        self._planner = Later(self)
        self._planner.done.connect(self._planned)
        self._looking = Later(self)
        self._looking.done.connect(self._looked)
        self._shelf: Shelf | None = None
        self.plate.tab_picked.connect(self._pick_tab)
        self.plate.point_dragged.connect(self._moved)
        self.card.picked.connect(self.chose)
        self.card.pressed.connect(self._pressed)
        session.kernel.answered.connect(self._answered)
        session.kernel.refused.connect(self._refused)
        session.kernel.state_changed.connect(self._kernel_state)

    @property
    def edited(self) -> DesignPresenter | None:
        return self.presenter

    @property
    def shelf(self) -> Shelf:
        """What can be made, built when it is first wanted."""
        if self._shelf is None:
            from elbrix.app.benches.design.shelf import Shelf

            self._shelf = Shelf(self)
            self._shelf.picked.connect(self._picked)
            self._shelf.hide()
        return self._shelf

    @property
    def shelf_open(self) -> bool:
        return self._shelf is not None and self._shelf.isVisibleTo(self)

    # --- showing -----------------------------------------------------------------------------------------------------

    @property
    def catching_up(self) -> bool:
        return self._planning.isActive() or (self._shelf is not None and self._shelf.catching_up) or super().catching_up

    def title(self) -> tuple[str, str]:
        if self.shelf_open or self.presenter is None:
            return "New design", "Pick what to make; it starts from the slot measured in Shop"
        return self.presenter.doc.title, self.presenter.subtitle()

    def refresh(self) -> None:
        doc = self.session.design
        if doc is None:
            self.show_shelf()
            return
        if self.presenter is not None and self.presenter.doc.id != doc.id:
            self._drawn = Drawn()
            self.close_why()
        self.presenter = DesignPresenter(
            doc,
            self.session.shop,
            self.session.style,
            self.session.job_of(doc),
            self._drawn,
            self._tab,
            self.presenter,
            self.session.sheet,
        )
        self._show(self.presenter)
        if self.presenter.plan_is_old:
            self.after_paint(self._planning.start)

    def _catch_up(self) -> None:
        """The cutting plan follows a moment after the last keystroke."""
        presenter = self.presenter
        if presenter is not None and presenter.plan_is_old:
            self._planner.start(lambda: (presenter, presenter.planned()))

    def _planned(self, found: tuple[DesignPresenter, Plan | ShopError | None]) -> None:
        presenter, plan = found
        if presenter is self.presenter and presenter.plan_is_old:
            presenter.take_plan(plan)
            self.card.show_view(presenter.card())

    def why_of(self, key: str) -> Why | None:
        """At once what the check says by itself; what it hinges on and what mends it follow."""
        p = self.presenter
        if p is None:
            return None
        why = p.why(key)
        if why is not None and key not in p.looked and not self._looking.busy:
            self._looking.start(lambda: (p, key, p.look(key)))
        return why

    def _looked(self, found: tuple[DesignPresenter, str, FixFound]) -> None:
        presenter, key, looked = found
        presenter.looked[key] = looked
        self.refresh_why()  # of a design that was changed in the meantime it is looked for anew

    def _show_plate(self, presenter: DesignPresenter) -> None:
        self.plate.show_view(presenter.plate(self._kernel_words))

    def _show(self, presenter: DesignPresenter) -> None:
        self._show_plate(presenter)
        self.card.show_view(presenter.card())
        self.strip.show_tiles(presenter.tiles())
        self.refresh_why()
        if self.isVisible():
            for purpose, job, arguments in presenter.wanted():
                self.session.kernel.request(purpose, job, *arguments)

    def showEvent(self, event: object) -> None:
        if self.presenter is not None:
            for purpose, job, arguments in self.presenter.wanted():
                self.session.kernel.request(purpose, job, *arguments)

    def show_shelf(self, slot: tuple[str, str] | None = None) -> None:
        """Choose a family, or one of the designs there are."""
        self.shelf.fill(self.session, slot)
        self.shelf.setGeometry(self.rect())
        self.shelf.show()
        self.shelf.raise_()

    def hide_shelf(self) -> None:
        if self._shelf is not None:
            self._shelf.hide()

    def begin(self, slot: tuple[str, str] | None = None) -> None:
        self.show_shelf(slot)

    def pick_up(self) -> None:
        self.hide_shelf()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)
        if self._shelf is not None:
            self._shelf.setGeometry(self.rect())

    def pages_title(self) -> str:
        return "Drawing" if self.presenter is not None and self.presenter.design is not None else ""

    def pages(self) -> Pages | None:
        from elbrix.app.paper.documents import drawing_sheet  # printing is not needed to start

        doc = self.session.design
        if doc is None:
            return None
        kernel = Kernel()
        try:
            return in_background(lambda: drawing_sheet(doc, self.session.shop, self.session.style, kernel, self.session.sheet))
        except ShopError as error:
            self.session.refused.emit(str(error))
            return None
        finally:
            kernel.stop()

    # --- kernel ------------------------------------------------------------------------------------------------------

    def _answered(self, purpose: str, arguments: Any, result: Any) -> None:
        if self.presenter is None or not arguments:
            return
        self._drawn.keep(purpose, arguments[0], result)
        if arguments[0] == self.presenter.recipe or purpose == "iso":
            self._show_plate(self.presenter)

    def _refused(self, purpose: str, arguments: Any, reason: str) -> None:
        if self.presenter is not None and arguments and arguments[0] == self.presenter.recipe:
            self._kernel_words = f"The solid cannot be drawn: {reason}. {refusal(reason).do}"
            self._drawn.refuse(purpose, arguments[0])
            self.plate.show_view(self.presenter.plate(self._kernel_words))

    def _kernel_state(self, words: str) -> None:
        self._kernel_words = words
        if self.presenter is not None and self.isVisible():
            self.plate.show_view(self.presenter.plate(words))

    def _pick_tab(self, tab: int) -> None:
        self._tab = tab
        self.refresh()

    # --- buttons -----------------------------------------------------------------------------------------------------

    def _pressed(self, key: str) -> None:
        if key == "plan":
            self.session.go.emit("make")
        elif key == "undo":
            self.session.book.undo()
        elif key == "issue":
            self.issue("First issue" if self.presenter and not self.presenter.doc.letter else "")
        elif (act := Act.read(key)).do == Verb.READ:
            path = file_to_read(self, "Holes", "Tables and drawings (*.csv *.dxf)")
            if path is not None:
                self.read_holes(act.of, path)

    def _moved(self, spot: MovablePoint, x: float, y: float, alone: bool, released: bool) -> None:
        """A hole follows the pointer, settled; one step of undo for the whole way. A place where it cannot be is passed over."""
        if self._moved_from is None:
            self._moved_from = self.presenter
        origin = self._moved_from
        if origin is not None and self.presenter is not None:
            self.attempt(
                spot.entry,
                lambda: origin.moved(spot, x, y, alone=alone),
                self.plate.say,
                self.merge_key(origin.doc.id, "spot", spot.entry),
            )
        if released:
            self._moved_from = None
            self.plate.say("")
            self.done()

    def read_holes(self, name: str, path: Path) -> None:
        """Take a hole pattern from a file; what is wrong with it stands beside the entry, and nothing is taken."""
        from elbrix.app.background import in_background
        from elbrix.design.patterns import read_from_file  # readers of files are not needed to start

        presenter = self.presenter
        if presenter is not None:
            self.attempt(
                name,
                lambda: presenter.typed_mm(name, in_background(partial(read_from_file, presenter.kind_of(name), path))),
                partial(self.card.show_error, name),
                "",
            )
            self.done()

    def issue(self, reason: str) -> None:
        """Put the design in the catalogue; a later revision asks why it was made."""
        if self.presenter is None:
            return
        if not reason:
            from elbrix.app.entry import ask_line

            reason = ask_line(
                self, "Reason for the revision", "Next year nobody remembers. “Neck 0.1 narrower, it bound at the right end”"
            )
            if not reason:
                return
        try:
            doc = issue_revision(self.presenter.doc, self.session.shop, reason)
        except ShopError as error:
            self.session.refused.emit(str(error))
            return
        if self.session.put(f"Revision {doc.letter}", doc):
            self.session.go.emit("catalogue")

    def _picked(self, family: str, machine: str, slot: str) -> None:
        with self.session.together():
            if family == "":
                self.session.pick_design(machine)  # an existing design
            else:
                self.start_design(family, machine, slot)
            self.hide_shelf()
            self.session.tell()

    def fill_in(self, go: Destination) -> None:
        """An answer leads here: to a drawing, or to a new design of a family with what was asked for."""
        if go.thing:
            self.session.pick_design(go.thing)
        elif go.kind:
            given = dict(go.chosen)
            self.start_design(go.kind, given.pop("machine", ""), given.pop("slot", ""))
            doc = self.session.design
            for name, text in given.items():
                doc = choose(doc, name, text) if doc is not None else None
            if doc is not None and given:
                self.session.put(f"{doc.title}, as needed", doc)
        self.hide_shelf()

    def start_design(self, family_key: str, machine: str, slot: str) -> None:
        """A new design of a family for a slot."""
        from elbrix.book.designs import new_design
        from elbrix.book.documents import DesignDoc, new_id
        from elbrix.design.family import find_family

        family = find_family(family_key)
        place = next((m.name for m in self.session.shop.machines if m.id == machine), "")
        title = f"{family.title} for {place}, {slot}" if place else family.title
        id_ = new_id(family.key, self.session.book.ids(DesignDoc), place)
        with self.session.together():
            if self.session.put(f"New {family.title}", new_design(family, id_, machine, slot, title)):
                self.session.pick_design(id_)
