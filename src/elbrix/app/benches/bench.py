"""The three parts every bench has, in one place: plate, proof strip below it, card at the right, and the why panel between."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QMenu, QSplitter, QVBoxLayout, QWidget

from elbrix.app.background import Later
from elbrix.app.card.card import WIDTH, Card
from elbrix.app.keys import keymap
from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.proof.strip import ProofStrip, WhyPanel
from elbrix.app.session import Session
from elbrix.presenters.proof import Why

if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.app.paper.pages import Pages
    from elbrix.instruments.lines import Quantity, Reading
    from elbrix.instruments.listener import Asking


class Bench(QWidget):
    """Lays out the parts. A bench fills them in `refresh` and answers their signals."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("bench")
        self.session = session
        self.plate, self.strip, self.card = DrawingView(), ProofStrip(), Card()
        self.plate.name_of = self._name_of
        self.left = QWidget()
        self.column = QVBoxLayout(self.left)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(10)
        self.column.addWidget(self.plate, 1)
        self.column.addWidget(self.strip)
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        self.splitter.addWidget(self.left)
        self.splitter.addWidget(self.card)
        self.splitter.setStretchFactor(0, 1)
        self.splitter.setStretchFactor(1, 0)
        self.splitter.setHandleWidth(16)
        self.splitter.setCollapsible(0, False)
        self.splitter.setCollapsible(1, False)
        self.splitter.setSizes([900, WIDTH])
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 0, 14, 12)
        layout.addWidget(self.splitter)
        self.why = WhyPanel(self.left)
        self.why.closed.connect(self.close_why)
        self.strip.pressed.connect(self._strip_pressed)
        self._painted = False
        self._stopped = False
        self._after_paint: list[Callable[[], None]] = []
        self._edit = 0
        self._edited = False
        keymap().bind(self, "fit", self.plate.fit, Qt.ShortcutContext.WidgetWithChildrenShortcut)

    # --- the first paint ---------------------------------------------------------------------------------------------

    def after_paint(self, call: Callable[[], None]) -> None:
        """Call once the bench has been seen: the place for what the first paint does not show."""
        if self._painted:
            QTimer.singleShot(0, lambda: None if self._stopped else call())
        else:
            self._after_paint.append(call)

    def once_seen(self, call: Callable[[], None]) -> None:
        """Call now, or once when the bench has been seen for the first time, however often it is asked before.

        What is begun beside the window earlier would delay the first paint.
        """
        if self._painted:
            call()
        elif call not in self._after_paint:
            self._after_paint.append(call)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self._painted:
            self._painted = True
            QTimer.singleShot(0, self._seen)  # the parts paint after it, in the same turn of the event loop

    def _seen(self) -> None:
        calls, self._after_paint = ([] if self._stopped else self._after_paint), []
        for call in calls:
            call()

    def stop(self) -> None:
        """The window closes: nothing of the bench may run any more, whatever still refers to it."""
        self._stopped = True
        self._after_paint.clear()
        for timer in self.findChildren(QTimer):
            timer.stop()

    # --- to be filled in ---------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the session as it stands."""

    def open_at_start(self) -> None:
        """As `refresh`, when the window itself has just been opened: what takes long may follow `after_paint`."""
        self.refresh()

    @property
    def catching_up(self) -> bool:
        """Whether something the bench shows is still to follow."""
        waits = self.isVisible() and bool(self._after_paint)
        return waits or any(later.busy for later in self.findChildren(Later))

    def title(self) -> tuple[str, str]:
        """What the head line says: title and a line under it."""
        return "", ""

    def why_of(self, key: str) -> Why | None:
        """The explanation of a check; None when there is no such check."""
        return None

    def begin(self, slot: tuple[str, str] | None = None) -> None:
        """Something new is wanted, for a machine's slot when one is named."""

    def fill_in(self, go: Destination) -> None:
        """An answer leads here: show what it is about."""

    def pick_up(self) -> None:
        """Another design is taken in hand."""

    def fill_title_menu(self, menu: QMenu) -> bool:
        """Put this bench's own things into the menu under the title; False leaves it to the designs."""
        return False

    def leave(self) -> None:
        """The bench is no longer in front."""

    def pages_title(self) -> str:
        """What printing would print, in words; empty for nothing."""
        return ""

    def pages(self) -> Pages | None:
        """The pages to print."""
        return None

    # --- one entry, one step of undo ---------------------------------------------------------------------------------

    def merge_key(self, *parts: str) -> str:
        """Edits with the same key are one step of undo: every keystroke of one entry."""
        return " ".join((*parts, str(self._edit)))

    def was_kept(self) -> None:
        """An edit of the open entry is in the book."""
        self._edited = True

    def done(self) -> None:
        """An entry is finished: the next one is a new step of undo."""
        self._edit += 1
        self._edited = False

    def cancel(self) -> None:
        """Esc: everything typed since the entry opened is taken back."""
        if self._edited:
            self.session.book.undo()
        self.done()

    def print_page(self) -> None:
        """Ask the window for this bench's page."""
        self.session.print_wanted.emit()

    # --- instruments -------------------------------------------------------------------------------------------------

    def open_entry(self) -> tuple[str, QLineEdit] | None:
        """The entry that has the focus: its key and its field."""
        if self.plate.editing:
            return self.plate.editing, self.plate.editor
        return self.card.open_entry()

    def asks(self, key: str) -> Asking | None:
        """What an entry wants of an instrument; None when it wants nothing that can be measured."""
        return None

    def _name_of(self, entry: str) -> str:
        """What a live number of the plate is called on the card."""
        row = self.card.rows.get(entry)
        return row.row.label if row is not None else entry.replace("_", " ")

    def asking(self, quantity: Quantity | None = None) -> tuple[str, Asking] | None:
        """(key, what it wants) of the place that asks now for a reading; `quantity` is what there is to be had."""
        entry = self.open_entry()
        wanted = self.asks(entry[0]) if entry is not None else None
        return (entry[0], wanted) if entry is not None and wanted is not None else None

    def captured(self, key: str, reading: Reading) -> None:
        """A reading came for the place that asks: it stands in its entry as if typed, which then goes on to the next."""
        entry = self.open_entry()
        if entry is None or entry[0] != key:
            return
        field = entry[1]
        field.setText(reading.typed)
        field.textEdited.emit(field.text())
        if self.plate.editing:
            if not self.plate.error_text:
                self.plate.next_entry()
        else:
            self.card.finish_entry()

    def instrument_gone(self) -> None:
        """An instrument is no longer there: what it said last may not be so any more."""

    def show_heard(self, words: str) -> None:
        """Beside the entry: why a line was not taken."""
        if self.plate.editing:
            self.plate.show_error(words)
            return
        entry = self.card.open_entry()
        if entry is not None:
            self.card.show_error(entry[0], words)
        else:
            self.session.refused.emit(words)

    # --- shared ------------------------------------------------------------------------------------------------------

    def apply_palette(self) -> None:
        palette = self.session.palette
        self.plate.set_palette(palette)
        self.strip.set_palette(palette)
        self.card.set_palette(palette)

    def _strip_pressed(self, key: str) -> None:
        if self.why.isVisible() and self.why.key == key:
            self.close_why()
        else:
            self.open_why(key)

    def open_why(self, key: str) -> None:
        """Open the explanation above the strip."""
        why = self.why_of(key)
        if why is None:
            self.close_why()
            return
        self.why.show_why(why)
        self._place_why()
        self.strip.light(frozenset({key}))

    def refresh_why(self) -> None:
        """After a change: the open explanation follows, or closes when its check is gone."""
        if self.why.isVisible():
            self.open_why(self.why.key)

    def close_why(self) -> None:
        self.why.hide()
        self.strip.light(frozenset())

    def _place_why(self) -> None:
        width = min(430, self.left.width() - 24)
        self.why.setFixedWidth(width)
        layout = self.why.layout()
        if layout is not None:
            layout.activate()
        self.why.resize(width, max(self.why.sizeHint().height(), self.why.heightForWidth(width)))
        self.why.move(self.left.width() - width - 12, max(8, self.strip.y() - self.why.height() - 8))

    def resizeEvent(self, event: object) -> None:
        self.strip.give_way(self.height())
        if self.why.isVisible():
            self._place_why()
