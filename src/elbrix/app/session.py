"""What all benches share: the open book, the display unit, the look, the kernel, and what is being worked on."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from functools import cached_property
from typing import TYPE_CHECKING, Any, Final, TypeVar

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from elbrix.app.theme.palette import DIM, LIGHT, Palette
from elbrix.book.documents import AngleDoc, DesignDoc, Document, InspectionDoc, JobDoc, LayoutDoc
from elbrix.book.store import Book
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.making.options import Options
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from elbrix.results.length_text import said_in
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop

if TYPE_CHECKING:
    from elbrix.app.kernel_link import KernelLink

T = TypeVar("T")
#: Of the book's settings: the options of making that were chosen last, and how drawings stand on which paper.
_HABITS: Final = "habits of making"
_PROJECTION, _PAPER = "projection", "paper"
#: What is worked on is remembered, by kind, under these names in the book's settings.
_REMEMBERED: Final[dict[type[Any], str]] = {
    DesignDoc: "design",
    AngleDoc: "angle",
    LayoutDoc: "layout",
    InspectionDoc: "inspection",
}


class Session(QObject):
    """One window's working state."""

    changed = pyqtSignal()  #: the book, the unit, the look or the thing in hand
    trouble_changed = pyqtSignal(str)
    refused = pyqtSignal(str)  #: an edit that could not be made, in words
    said = pyqtSignal()  #: the bench in front has another title
    go = pyqtSignal(str)  #: open a bench by key
    beside_wanted = pyqtSignal(object)  #: a book to be looked at beside this one: its path
    print_wanted = pyqtSignal()  #: the page of the bench in front
    demo_wanted = pyqtSignal()  #: the demo shop in a window of its own
    destination = pyqtSignal(object)  #: a `Destination`: a bench opened, filled in
    practice_wanted = pyqtSignal(object)  #: a `PracticeInstrument`: press its button
    shelf_wanted = pyqtSignal(str, str)  #: choose what to make for a machine's slot

    def __init__(self, book: Book, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.book = book
        self.style: UnitStyle = INCH if book.setting("unit") == "in" else METRIC
        self.palette: Palette = DIM if book.setting("look") == "dim" else LIGHT
        self._in_hand: dict[type[Any], str] = {kind: book.setting(name) for kind, name in _REMEMBERED.items()}
        self.machine_id = book.setting("machine")
        self._together, self._untold = 0, False
        book.changed.append(self._book_changed)
        self._retry = QTimer(self)
        self._retry.setInterval(2000)
        self._retry.timeout.connect(self._try_again)
        self._trouble = ""
        self._follow = QTimer(self)
        self._follow.setInterval(1500)
        self._follow.timeout.connect(book.reload_if_changed)
        if book.read_only:
            self._follow.start()

    @cached_property
    def kernel(self) -> KernelLink:
        """The line to the kernel process, from the first time something solid is shown."""
        from elbrix.app.kernel_link import KernelLink

        return KernelLink(self)

    def close(self) -> None:
        """Remember where we were and let go."""
        self._retry.stop()
        self._follow.stop()
        for kind, name in _REMEMBERED.items():
            self.book.remember(name, self._in_hand[kind])
        self.book.remember("machine", self.machine_id)
        if "kernel" in vars(self):
            self.kernel.close()
        self.book.changed.clear()

    def _book_changed(self) -> None:
        if self.book.unsaved_reason != self._trouble:
            self._trouble = self.book.unsaved_reason
            self.trouble_changed.emit(self._trouble)
            if self._trouble:
                self._retry.start()
        self.tell()

    def _try_again(self) -> None:
        if self.book.flush():
            self._retry.stop()
        if self.book.unsaved_reason != self._trouble:
            self._trouble = self.book.unsaved_reason
            self.trouble_changed.emit(self._trouble)

    # --- saying that something changed -------------------------------------------------------------------------------

    def tell(self) -> None:
        """Something changed: at once, or when what is done together is done."""
        if self._together:
            self._untold = True
        else:
            self.changed.emit()

    @property
    def working(self) -> bool:
        """Whether several things are being done that are shown as one."""
        return self._together > 0

    @contextmanager
    def together(self) -> Iterator[None]:
        """Several changes, shown once when the last is made: a bench is not built again for each of them."""
        self._together += 1
        try:
            yield
        finally:
            self._together -= 1
            if not self._together and self._untold:
                self._untold = False
                self.changed.emit()

    # --- the thing in hand -------------------------------------------------------------------------------------------

    @property
    def shop(self) -> Shop:
        return self.book.shop

    def in_hand(self, kind: type[T]) -> T | None:
        """The document of a kind that is worked on; the first one when the last is gone."""
        found = self.book.get(kind, self._in_hand[kind])
        if found is None:
            found = next(self.book.each(kind), None)
            if found is not None:
                self._in_hand[kind] = found.id  # type: ignore[attr-defined]
        return found

    def take(self, kind: type[Any], id: str) -> None:
        """Work on another document of a kind."""
        self._in_hand[kind] = id
        self.tell()

    @property
    def designs(self) -> list[DesignDoc]:
        return self.book.all(DesignDoc)

    @property
    def design(self) -> DesignDoc | None:
        """The design being worked on."""
        return self.in_hand(DesignDoc)

    @property
    def design_id(self) -> str:
        return self._in_hand[DesignDoc]

    @design_id.setter
    def design_id(self, id: str) -> None:
        self._in_hand[DesignDoc] = id

    @property
    def machine(self) -> Machine | None:
        machines = self.shop.machines
        return next((m for m in machines if m.id == self.machine_id), machines[0] if machines else None)

    def job_of(self, design: DesignDoc) -> JobDoc:
        """The making of a design, begun or not."""
        for job in self.book.each(JobDoc):
            if job.design == design.id:
                return job
        return JobDoc(id=f"job-{design.id}", design=design.id, options=self.habits())

    def habits(self) -> Options:
        """How this shop wants things made, as it was chosen last."""
        kept = self.book.setting(_HABITS)
        if not kept:
            return Options()
        from elbrix.making.schools import habits

        try:
            return habits(Options(), msgspec.json.decode(kept, type=Options))
        except msgspec.MsgspecError:
            return Options()  # of another version

    @property
    def sheet(self) -> SheetChoice:
        """How this shop's drawings stand, on which paper."""
        kept = (self.book.setting(_PROJECTION), self.book.setting(_PAPER))
        return SheetChoice(kept[0] or USUAL.projection, kept[1] or USUAL.paper)

    def keep_sheet(self, choice: SheetChoice) -> None:
        """The next drawing is like this one."""
        self.book.remember(_PROJECTION, choice.projection)
        self.book.remember(_PAPER, choice.paper)
        self.tell()

    def keep_habits(self, options: Options) -> None:
        """The next plan begins with these."""
        from elbrix.making.schools import habits

        self.book.remember(_HABITS, msgspec.json.encode(habits(Options(), options)).decode())

    def pick_design(self, id: str) -> None:
        self.take(DesignDoc, id)

    def pick_machine(self, id: str) -> None:
        self.machine_id = id
        self.tell()

    def beside(self, error: ShopError) -> str:
        """A refusal as it stands beside the entry it is about, its lengths in the unit on show."""
        return said_in(error.beside, self.style)

    # --- doing -------------------------------------------------------------------------------------------------------

    def put(self, label: str, *documents: Document, merge: str = "") -> bool:
        """Keep documents in the book; False, with a message in the head line, when it is read-only."""
        try:
            self.book.put(said_in(label, self.style), *documents, merge=merge)
        except ShopError as error:
            self.refused.emit(str(error))
            return False
        return True

    def remove(self, label: str, *documents: Document) -> bool:
        try:
            self.book.remove(label, *documents)
        except ShopError as error:
            self.refused.emit(str(error))
            return False
        return True

    def set_unit(self, unit: str) -> None:
        """Switch the display unit; every number on show converts."""
        self.style = INCH if unit == "in" else METRIC
        self.book.remember("unit", unit)
        self.tell()

    def set_dim(self, dim: bool) -> None:
        self.palette = DIM if dim else LIGHT
        self.book.remember("look", "dim" if dim else "light")
        self.tell()

    @property
    def dim(self) -> bool:
        return self.palette is DIM
