"""The Make bench: film strip of setups, plate, moves, and the view at the machine."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Final

from msgspec.structs import replace
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QLineEdit, QStackedWidget, QWidget

from elbrix.app.background import Later
from elbrix.app.benches.bench import Bench
from elbrix.app.benches.make.batch import BatchPart
from elbrix.app.benches.make.film import FilmStrip
from elbrix.app.benches.make.machine_view import MachineView
from elbrix.app.benches.make.moves import MoveCard
from elbrix.app.benches.make.practice import PracticePart
from elbrix.app.benches.make.turning import STILL_MS, TurningPart
from elbrix.app.card.card import WIDTH
from elbrix.app.keys import keymap
from elbrix.app.session import Session
from elbrix.book.designs import blank_of
from elbrix.book.documents import LayoutDoc, new_id
from elbrix.drawing.scene import Scene
from elbrix.instruments.lines import Quantity, Reading
from elbrix.instruments.listener import Asking
from elbrix.making.schools import HABITS
from elbrix.presenters.make import MakePresenter
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Why
from elbrix.quantities.errors import ShopError

if TYPE_CHECKING:
    from elbrix.app.paper.pages import Pages
    from elbrix.book.documents import JobDoc
    from elbrix.rehearsal.slips import RehearsalResult


#: Height of the bench from which film, plate and handwheels stand over each other, px.
_ROOM_FOR_BOTH: Final = 660


class MakeBench(Bench):
    """What do I cut, in which order, to which dial numbers?"""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.presenter: MakePresenter | None = None
        self._move = ""
        self.moves = MoveCard()
        self.right = QStackedWidget()
        self.splitter.replaceWidget(1, self.right)
        self.right.addWidget(self.moves)
        self.right.addWidget(self.card)
        self.right.setMinimumWidth(WIDTH)
        self.right.setMaximumWidth(620)
        self.splitter.setSizes([860, 380])
        self.splitter.setStretchFactor(1, 0)
        self.film = FilmStrip()
        self.column.insertWidget(0, self.film)
        self.turning = TurningPart(session, self)
        self.column.addWidget(self.turning.panel)
        self.plate.tab_picked.connect(self._pick_tab)
        self._stands: dict[str, float] = {}  # what the readout says, by axis
        self._stopped_moving = QTimer(self)
        self._stopped_moving.setSingleShot(True)
        self._stopped_moving.setInterval(STILL_MS)
        self._stopped_moving.timeout.connect(lambda: self._show_left(still=True))
        self._painting = Later(self)
        self._painting.done.connect(self._plate_ready)
        self._later = Later(self)
        self._later.done.connect(self._rehearsed)
        self.machine_view = MachineView(self)
        self.batch = BatchPart(session, self)
        self.practice = PracticePart(self)
        self._wire()
        keymap().bind(self, "machine", self.at_machine, Qt.ShortcutContext.WidgetWithChildrenShortcut)

    def _wire(self) -> None:
        self.machine_view.done.connect(self.tick_and_next)
        self.machine_view.back.connect(lambda: self._step(-1))
        self.machine_view.left.connect(self.leave_machine)
        self.machine_view.measured.connect(self._measured)
        self.moves.picked.connect(self._pick)
        self.moves.ticked.connect(self._toggle)
        self.moves.measured.connect(self._measured)
        self.moves.keyed.connect(self.keyed)
        self.film.picked.connect(self._pick_setup)
        self.film.filled.connect(self._rehearse)
        self.turning.turned.connect(self._show_plate)
        self.practice.changed.connect(self.refresh)
        self.practice.said.connect(self.session.refused)
        self.batch.changed.connect(self._batch_changed)
        self.batch.turn_picked.connect(self._go_to_turn)
        self.card.pressed.connect(self._pressed)
        self.card.picked.connect(self.batch.picked)
        self.moves.option_picked.connect(self._option)
        self.moves.pressed.connect(self._pressed)

    # --- showing -----------------------------------------------------------------------------------------------------

    def title(self) -> tuple[str, str]:
        if self.presenter is None:
            return "Nothing to make yet", "Design something first"
        if self.batch.shown is not None:
            return self.batch.shown.title(), self.batch.shown.subtitle()
        return self.presenter.doc.title, self.presenter.subtitle()

    def refresh(self) -> None:
        doc = self.session.design
        if doc is None:
            self.presenter = None
            self.practice.follow(None)
            self.plate.show_view(self._empty())
            self.moves.show_moves([], "", [], {}, self.session.palette)
            self.strip.show_tiles(())
            return
        another = self.presenter is None or self.presenter.doc.id != doc.id
        if another:
            self._move = ""
            self.close_why()
        self.presenter = p = MakePresenter(
            doc, self.session.shop, self.session.style, self.session.job_of(doc), before=self.presenter
        )
        self.practice.follow(p)
        if not self._move or all(m.id != self._move for _, _, m in p.moves):
            self._move = p.first_open()
        options = [*p.options(), self.batch.option(doc, p.job)]
        self.moves.show_moves(p.lines(), self._move, options, p.heads(), self.session.palette)
        self.moves.batch_button.setVisible(bool(self.batch.others(p.job)))
        self.moves.practice_button.setText(
            "Hiding a slip …" if self.practice.busy else "This one" if p.hidden is not None else "Practice"
        )
        if another and not p.has_picture(self._move):
            self.plate.show_view(PlateView(Scene(""), thing=doc.id))  # better nothing for a moment than another piece
        self.batch.follow(doc, p.job)
        self.turning.follow(p, self._move, hidden=self.batch.shown is not None)
        self._show_plate()
        self._show_film(p)
        self._show_strip()
        self.refresh_why()
        self.once_seen(self._rehearse)
        if self.machine_view.isVisible():
            self._show_at_machine()

    def _show_strip(self) -> None:
        p, shown = self.presenter, self.batch.shown
        self.strip.setVisible(self.turning.panel.isHidden())
        self._make_room()
        self.right.setCurrentWidget(self.moves if shown is None else self.card)
        if shown is not None:
            self.card.set_palette(self.session.palette)
            self.card.show_view(shown.card())
            self.strip.show_tiles(shown.tiles(), "BATCH")
        elif p is not None:
            self.strip.show_tiles(p.tiles(), "REHEARSAL" if p.heard is not None else "PREPARATION")

    # --- handwheels --------------------------------------------------------------------------------------------------

    def _pick_tab(self, tab: int) -> None:
        """The metal alone, or with the machine's handwheels under it to practise on; nothing of that is kept."""
        p = self.presenter
        if p is None:
            return
        self.turning.end()
        if tab:
            self.turning.begin(p, self._move)
        p.turn_to(None)
        self.refresh()
        self.turning.take_hold()

    def _make_room(self) -> None:
        """Where the window is low the film gives way to the handwheels: the plate shows what they do."""
        self.film.setVisible(self.batch.shown is None and (self.turning.panel.isHidden() or self.height() >= _ROOM_FOR_BOTH))

    def _rehearse(self) -> None:
        """The plan is rehearsed, once the film has its pictures: beside it every picture would take longer."""
        p = self.presenter
        if p is not None and p.heard is None and p.plan is not None and not self.film.busy:
            self._later.start(p.rehearse_slips)

    def _rehearsed(self, heard: RehearsalResult) -> None:
        p = self.presenter
        if p is not None:
            p.heard = heard
            self._show_strip()
            self._show_plate()
            self.refresh_why()

    def _show_plate(self) -> None:
        """The metal after the move in hand: at once when it is known, else when it is worked out."""
        p, move = self.presenter, self._move
        if p is None:
            return
        if self.batch.shown is not None:
            self.plate.show_view(self.batch.shown.plate())
            return
        if p.has_picture(move):
            self.plate.show_view(p.plate(move))
        elif not self._painting.busy:
            self.once_seen(lambda: self._painting.start(lambda: (p, move, p.plate(move))))

    def _plate_ready(self, painted: tuple[MakePresenter, str, PlateView]) -> None:
        p, move, view = painted
        if self.batch.shown is not None:
            return
        if p is self.presenter and move == self._move:
            self.plate.show_view(view)
            if not p.has_picture(move):
                self._show_plate()  # a handwheel was turned in the meantime
            if self.machine_view.isVisible():
                self._show_at_machine()
        else:
            self._show_plate()  # it went on in the meantime

    def keyed(self, move: str, axis: str, text: str) -> None:
        """A number as it was really set."""
        if self.presenter is None:
            return
        widget = self.moves.widgets.get(move)
        try:
            job = self.presenter.with_keyed(move, axis, text)
        except ShopError as error:
            if widget is not None:
                widget.show_error(self.session.beside(error))
            return
        if widget is not None:
            widget.show_error("")
        self.session.put(f"{axis} set to {text.strip()}" if text.strip() else f"{axis} as planned", job)

    def _empty(self) -> PlateView:
        return PlateView(
            Scene(""),
            message="Nothing to make yet.\n\nDesign an accessory; its cutting plan appears here by itself.",
            thing="empty",
        )

    def _show_film(self, p: MakePresenter) -> None:
        now = p.moves[p.place_of(self._move)][0].id if p.moves else ""
        if self.film.show_plan(p.plan, now, self.session.palette, partial(p.picture, small=True)):
            self.once_seen(self.film.fill)

    def why_of(self, key: str) -> Why | None:
        if self.batch.shown is not None:
            return self.batch.shown.why(key)
        return self.presenter.why(key) if self.presenter is not None else None

    @property
    def catching_up(self) -> bool:
        return super().catching_up or self.film.busy or self.practice.busy or self.batch.later.busy

    # --- moves -------------------------------------------------------------------------------------------------------

    @property
    def current(self) -> str:
        """Id of the current move."""
        return self._move

    def _pick(self, id: str) -> None:
        self._move = id
        self.refresh()
        self.moves.setFocus()

    def _batch_changed(self) -> None:
        self.refresh()
        self.session.said.emit()

    def _go_to_turn(self, job: str, setup: str) -> None:
        """A setup of the batch, in the moves of its own accessory."""
        self.close_why()
        if self.session.design_id != job:
            self.session.pick_design(job)
        self.batch.leave()
        self._batch_changed()
        self._pick_setup(setup)

    def _pick_setup(self, id: str) -> None:
        self.batch.leave()
        if self.presenter is not None:
            first = next((m.id for s, _, m in self.presenter.moves if s.id == id), "")
            self._pick(first or self._move)

    def _step(self, by: int) -> None:
        if self.presenter is not None and self.presenter.moves:
            at = min(max(0, self.presenter.place_of(self._move) + by), len(self.presenter.moves) - 1)
            self._move = self.presenter.moves[at][2].id
            self.refresh()

    def _toggle(self, id: str) -> None:
        if self.presenter is not None:
            done = id not in self.presenter.job.done
            self._keep("Move done" if done else "Move not done", self.presenter.ticked(id, done))

    def _keep(self, words: str, job: JobDoc) -> bool:
        """A move ticked or not; with the last one the piece is owned."""
        finished = self.presenter.finished(job) if self.presenter is not None else None
        if finished is None:
            return self.session.put(words, job)
        kept = self.session.put(finished.label, *finished.documents)
        if kept:
            self.leave_machine()
            self.session.refused.emit(f"{finished.words}. Undo takes all of it back.")
        return kept

    def tick_and_next(self) -> None:
        """Space: the move is done, on to the next."""
        if self.presenter is not None and self._move:
            id_, last = self._move, self.presenter.place_of(self._move) == len(self.presenter.moves) - 1
            job = self.presenter.ticked(id_, True)
            if not last:
                self._move = self.presenter.moves[self.presenter.place_of(id_) + 1][2].id
            if not self._keep("Move done", job) or id_ in self.presenter.job.done:
                self.refresh()

    def _measured(self, key: str, text: str) -> None:
        if self.presenter is None:
            return
        widget = self.moves.widgets.get(self._move)
        try:
            job = self.presenter.with_measured(key, text)
        except ShopError as error:
            self.machine_view.show_error(self.session.beside(error))
            for w in self.moves.widgets.values():
                if w.line is not None and w.line.ask_key == key:
                    w.show_error(self.session.beside(error))
            return
        self.machine_view.show_error("")
        if widget is not None:
            for w in self.moves.widgets.values():
                w.show_error("")
        cut = self.presenter.logged(key, job)
        self.session.put(f"Measured {text.strip()}", job, *((cut,) if cut is not None else ()))

    def _option(self, name: str, value: str) -> None:
        if self.presenter is not None and name == "together":
            try:
                self.session.put("Made together", self.batch.toggled(self.presenter.job, value))
            except ShopError as error:
                self.session.refused.emit(str(error))
        elif self.presenter is not None:
            job = self.presenter.with_option(name, value)
            if name in HABITS:
                self.session.keep_habits(job.options)
            self.session.put("How it is made", job)

    def _pressed(self, key: str) -> None:
        if key == "done":
            self.tick_and_next()
        elif key in ("next", "back"):
            self._step(1 if key == "next" else -1)
        elif key == "at machine":
            self.at_machine()
        elif key == "route card":
            self.print_page()
        elif key == "hold":
            self.hold_it()
        elif key == "practice":
            self.practise()
        elif key == "batch":
            self.close_why()
            self.batch.show()
        elif key == "keep bars":
            self.batch.keep_bars()
        elif key == "leave batch":
            self.close_why()
            self.batch.leave()
            self._batch_changed()
        elif key == "batch sheet":
            self.print_page()

    def practise(self) -> None:
        """Begin with a slip hidden in the card; then the move in hand is the one that is called wrong."""
        if self.practice.press(self._move):
            self.moves.practice_button.setText("Hiding a slip …")

    def hold_it(self) -> None:
        """The operation in hand as a layout in Hold."""
        from elbrix.book.plan_layouts import layout_of_operation  # the force model is not needed to show a plan

        presenter = self.presenter
        if presenter is None or presenter.plan is None or not self._move:
            return
        id_ = new_id("hold", self.session.book.ids(LayoutDoc), presenter.doc.title)
        try:
            doc = layout_of_operation(
                presenter.plan, blank_of(presenter.doc, self.session.shop), self._move, self.session.shop, id_
            )
        except ShopError as error:
            self.session.refused.emit(str(error))
            return
        doc = replace(doc, design=presenter.doc.id)
        known = next((d for d in self.session.book.all(LayoutDoc) if d.design == doc.design and d.title == doc.title), None)
        if known is not None or self.session.put(f"Hold: {doc.title}", doc):
            self.session.take(LayoutDoc, (known or doc).id)
            self.session.go.emit("hold")

    # --- at the machine ----------------------------------------------------------------------------------------------

    def at_machine(self) -> None:
        """Only the current move, over the whole window."""
        self.practice.end()
        self._stands.clear()  # the slides may have moved unheard since
        window = self.window()
        if self.presenter is None or not self.presenter.moves or window is None:
            return
        self.machine_view.setParent(window)
        self.machine_view.setGeometry(window.rect())
        self.machine_view.show()
        self.machine_view.raise_()
        self.machine_view.setFocus()
        self._show_at_machine()

    def _show_at_machine(self) -> None:
        p = self.presenter
        if p is not None and p.moves:
            at = p.place_of(self._move)
            setup, _, move = p.moves[at]
            picture = p.picture(setup, move) if p.has_picture(move.id) else None  # it comes when it is worked out
            self.machine_view.show_line(p.line(*p.moves[at]), f"{at + 1} of {len(p.moves)}", self.session.palette, picture)
            self._show_left(still=False)

    # --- instruments -------------------------------------------------------------------------------------------------

    def open_entry(self) -> tuple[str, QLineEdit] | None:
        if self.machine_view.isVisible():
            return ("measured", self.machine_view.entry) if self.machine_view.entry.isVisible() else None
        return super().open_entry()

    def asks(self, key: str) -> Asking | None:
        asked = self.presenter.moves[self.presenter.place_of(self._move)][2].asked if self.presenter is not None else None
        if key != "measured" or asked is None:
            return None
        near = max(2.0, 0.25 * asked.expected_mm)
        return Asking(
            quantity=Quantity.LENGTH, low=max(0.0, asked.expected_mm - near), high=asked.expected_mm + near, name=asked.words
        )

    def asking(self, quantity: Quantity | None = None) -> tuple[str, Asking] | None:
        """At the machine the readout is heard all the time, and whatever measures when a size is asked."""
        if quantity is Quantity.AXIS and self.machine_view.isVisible():
            return "readout", Asking(quantity=Quantity.AXIS, name="the slides")
        return super().asking(quantity)

    def captured(self, key: str, reading: Reading) -> None:
        if key == "readout":
            self._stands[reading.axis] = reading.value
            self._show_left(still=False)
            self._stopped_moving.start()
        elif key == "measured":
            self.machine_view.entry.setText(reading.typed)
            self.machine_view.entry.returnPressed.emit()

    def instrument_gone(self) -> None:
        self._stands.clear()
        self.machine_view.show_left(())

    def show_heard(self, words: str) -> None:
        if self.machine_view.isVisible():
            self.machine_view.show_error(words)
        else:
            super().show_heard(words)

    def _show_left(self, *, still: bool) -> None:
        if self.presenter is not None and self._stands and self.machine_view.isVisible():
            self.machine_view.show_left(self.presenter.left_to_go(self._move, self._stands, still=still))

    # --- leaving -----------------------------------------------------------------------------------------------------

    def leave_machine(self) -> None:
        self.machine_view.hide()
        self.moves.setFocus()

    def leave(self) -> None:
        self.batch.leave()
        self.turning.end()
        self.practice.end()
        self.machine_view.hide()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)
        self._make_room()
        window = self.window()
        if self.machine_view.isVisible() and window is not None:
            self.machine_view.setGeometry(window.rect())

    # --- paper -------------------------------------------------------------------------------------------------------

    def pages_title(self) -> str:
        if self.batch.shown is not None:
            return "Batch sheet"
        return "Route card" if self.presenter is not None and self.presenter.plan is not None else ""

    def pages(self) -> Pages | None:
        if self.batch.shown is not None:
            from elbrix.app.paper.batch_sheet import batch_sheet

            return batch_sheet(self.batch.shown)
        from elbrix.app.paper.documents import route_card  # printing is not needed to start

        doc = self.session.design
        if doc is None:
            return None
        try:
            return route_card(doc, self.session.shop, self.session.style, self.session.job_of(doc))
        except ShopError as error:
            self.session.refused.emit(str(error))
            return None
