"""The Shop bench: joins plate, card and strip to the presenter and the book."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PyQt6.QtWidgets import QLineEdit, QWidget

from elbrix.app.benches.bench import Bench
from elbrix.app.benches.shop.measuring import MeasuringPanel
from elbrix.app.entry import ask_line
from elbrix.app.file_choice import file_to_read, file_to_write
from elbrix.app.session import Session
from elbrix.book.documents import new_id
from elbrix.exchange.csv_tables import LONGEST_TABLE
from elbrix.exchange.whole_file import write_whole
from elbrix.gauging.owned import read_block_csv, write_block_csv
from elbrix.items.kind import listed_kinds
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.proof import Why
from elbrix.presenters.shop.presenter import HOW, PLACES, ShopPresenter, new_machine, next_slot
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import entry_text
from elbrix.quantities.sentences import sentence, within
from elbrix.results.length_text import said_in
from elbrix.shop.gauges import GaugeSet
from elbrix.shop.machines import Machine
from elbrix.shop.slots import SLOT_SIZES, TSlot

#: In measuring order: every size at one place, then on to the next place.
STEPS = tuple((place, name, label) for place in PLACES for name, label, *_ in SLOT_SIZES)


if TYPE_CHECKING:
    from elbrix.answers.answer import Destination
    from elbrix.instruments.lines import Reading
    from elbrix.instruments.listener import Asking


class ShopBench(Bench):
    """What have I really got?"""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._what, self._item, self._slot = session.machine_id, "", ""
        self._tool = ""  # picked for the readings to come
        self._step: int | None = None
        self.presenter = ShopPresenter(session.shop, session.style, self._what, self._item, self._slot)
        self.measuring = MeasuringPanel()
        self.column.insertWidget(1, self.measuring)
        self.measuring.entered.connect(self._entered)
        self.measuring.skipped.connect(lambda: self._go(1))
        self.measuring.back.connect(lambda: self._go(-1))
        self.measuring.finished.connect(self.stop_measuring)
        for part in (self.plate, self.card):
            part.accepted.connect(lambda _: self.done())
            part.cancelled.connect(lambda _: self.cancel())
        self.plate.typed.connect(lambda key, text: self._typed(_plate_key(key), text, self.plate.show_error))
        self.plate.clicked.connect(self._clicked)
        self.plate.pointed.connect(self._pointed)
        self.card.typed.connect(lambda key, text: self._typed(key, text, lambda words: self.card.show_error(key, words)))
        self.card.picked.connect(self.pick)
        self.card.pressed.connect(self._pressed)
        self.card.pointed.connect(
            lambda key: self.plate.light(
                frozenset({f"slot {key}" if key != "depth" else "slot floor", key.removeprefix("item ")}) if key else frozenset()
            )
        )

    # --- showing -----------------------------------------------------------------------------------------------------

    def title(self) -> tuple[str, str]:
        return self.presenter.title()

    def refresh(self) -> None:
        self.presenter = p = ShopPresenter(self.session.shop, self.session.style, self._what, self._item, self._slot, self._tool)
        self._what = p.what
        slot = self._measured_slot()
        if self._step is not None and slot is not None:
            size = STEPS[self._step][1]
            self.plate.show_view(p.measuring_plate(slot, size))
            self.plate.light(frozenset({"slot floor" if size == "depth" else f"slot {size}"}))
        else:
            self.plate.show_view(p.plate())
        self.card.show_view(p.card())
        tiles = p.tiles()
        self.strip.setVisible(bool(tiles) and self._step is None)
        self.strip.show_tiles(tiles, "MEASUREMENTS")
        self.refresh_why()

    def leave(self) -> None:
        self.stop_measuring()

    def why_of(self, key: str) -> Why | None:
        return self.presenter.why(key)

    def _clicked(self, feature: str) -> None:
        act = Act.read(feature)
        if act.do in (Verb.PICK, Verb.BLOCK):
            self._slot = act.of
        elif any(t.id == feature for t in self.presenter.things):
            self._item = feature
        self.refresh()

    def _pointed(self, features: frozenset[str]) -> None:
        self.plate.light(features)
        self.card.light(
            frozenset(f.removeprefix("slot ").replace("floor", "depth") for f in features)
            | frozenset(Act(Verb.ITEM, f).key for f in features)
            | frozenset(Act(Verb.SLOT, a.of).key for a in map(Act.read, features) if a.do == Verb.PICK)
        )

    # --- editing -----------------------------------------------------------------------------------------------------

    def _typed(self, key: str, text: str, show_error: Callable[[str], None]) -> None:
        try:
            words, document = self.presenter.typed(key, text)
        except ShopError as error:
            show_error(self.session.beside(error))
            return
        show_error("")
        if key == "slot_label" and isinstance(document, Machine):
            self._slot = text.strip()[:40]
        if self.session.put(words, document, merge=self.merge_key("shop", self._what, self._item, key)):
            self.was_kept()

    def pick(self, key: str, value: str = "") -> None:
        """A line of the card was picked."""
        act = Act.read(key)
        if act.do == Verb.SEE:
            self.see(act.of)
        elif act.do == Verb.SLOT:
            self._slot = act.of
            self.refresh()
        elif act.do == Verb.ITEM:
            self._item = act.of
            self.refresh()
        elif key == "add set":
            self.add_set(value)
        elif key == "measured_with":
            self._tool = value
            self.refresh()
            self.done()
        else:
            self._typed(key, value, lambda words: self.card.show_error(key, words))
            self.done()

    def add_set(self, standard: str) -> None:
        """A whole standard set; what is missing of it is said block by block."""
        kind, things = self.presenter.kind, self.presenter.things
        if kind is None:
            return
        box = kind.new(new_id(kind.prefix or kind.kind, (t.id for t in things), standard), standard)
        self._item, self._slot = box.id, ""
        self.session.put(f"New {standard} set", box)

    def fill_in(self, go: Destination) -> None:
        if go.thing:
            self.see(go.thing)
            self.refresh()  # its list has to be there before one of it is picked
        if go.item:
            self.pick(Act(Verb.ITEM, go.item).key)

    def see(self, what: str) -> None:
        """Look at a machine by id, or at one of the lists."""
        self.stop_measuring()
        self._what, self._item, self._slot = what, "", ""
        if what not in listed_kinds():
            self.session.machine_id = what
        self.session.tell()

    def _something_to_try(self, key: str) -> None:
        """A sample in this book, or the demo shop in a window of its own."""
        if key == "demo":
            self.session.demo_wanted.emit()
            return
        from elbrix.app.background import in_background
        from elbrix.demo.sample import sample  # an empty book is a rare one

        self.session.put("A sample to try", *in_background(sample))

    def _pressed(self, key: str) -> None:
        p, act = self.presenter, Act.read(key)
        if key == "add machine":
            name = ask_line(self, "Name of the machine", "The name the shop uses. Its slots are measured next")
            if name:
                self.add_machine(name)
        elif act.do == Verb.INSPECT:
            go = p.to_inspect(act.of)
            if go is not None:
                self.session.destination.emit(go)
        elif act.do == Verb.BOOK:
            from elbrix.app.benches.shop import books  # few ever merge or export

            books.pressed(self, self.session, act.of)
        elif key in ("sample", "demo"):
            self._something_to_try(key)
        elif key == "add slot" and p.machine is not None:
            slot = next_slot(p.machine)
            self._slot = slot.label
            self.session.put(f"{p.machine.name}, {slot.label}", replace(p.machine, slots=(*p.machine.slots, slot)))
        elif key == "add thing" and p.kind is not None:
            prefix = (p.kind.prefix or p.kind.kind).replace(" ", "-")
            thing = p.kind.new(new_id(prefix, (t.id for t in p.things), str(len(p.things) + 1)), "")
            self._item = thing.id
            self.session.put(f"New in {within(p.kind.title)}", thing)
        elif key in ("csv in", "csv out"):
            self._table(key)
        elif key == "remove":
            thing = p.machine or p.item
            if thing is not None and self.session.remove(
                f"Remove {getattr(thing, 'name', '') or getattr(thing, 'title', '')}", thing
            ):
                self._what, self._item = ("", "") if p.machine else (p.what, "")
                self.refresh()
        elif key == "measure":
            self.start_measuring()
        elif key == "design" and p.machine is not None and p.slot is not None:
            self.design_for(p.machine, p.slot)

    def _table(self, key: str) -> None:
        """A calibration read, or the set written."""
        path = (file_to_read if key == "csv in" else file_to_write)(self, "Table of the set", "Tables (*.csv)")
        if path is not None:
            self.read_table(path) if key == "csv in" else self.write_table(path)

    def read_table(self, path: Path) -> None:
        """Lay a calibration onto the box in view.

        What is wrong with it stands beside the calibration date, and nothing is taken.
        """
        box = self.presenter.item
        if not isinstance(box, GaugeSet):
            return
        try:
            if path.stat().st_size > LONGEST_TABLE:
                raise ShopError(path.name, "it is far too large", "A set has a few hundred lines", "Check which file it is")
            fresh = read_block_csv(path.read_text(encoding="utf-8-sig"), box)
        except (OSError, UnicodeDecodeError) as error:
            self.card.show_error(
                Act(Verb.FIELD, "calibrated_on").key, f"{path.name} cannot be read ({type(error).__name__}). Choose a text table"
            )
            return
        except ShopError as error:
            self.card.show_error(Act(Verb.FIELD, "calibrated_on").key, said_in(str(error), self.session.style))
            return
        if self.session.put(f"Calibration {path.name}", fresh):
            self.card.show_error(Act(Verb.FIELD, "calibrated_on").key, "")

    def write_table(self, path: Path) -> None:
        """Write the box in view as a table."""
        box = self.presenter.item
        if isinstance(box, GaugeSet):
            try:
                write_whole(path, write_block_csv(box).encode())
            except OSError as error:
                self.session.refused.emit(f"{path} cannot be written: {error.strerror}")

    def add_machine(self, name: str) -> None:
        """A machine of that name with one slot, and straight on to measuring it."""
        machine = new_machine(new_id("machine", (m.id for m in self.session.shop.machines), name), name)
        if self.session.put(f"New machine {machine.name}", machine):
            self.see(machine.id)
            self.start_measuring()

    def design_for(self, machine: Machine, slot: TSlot) -> None:
        """On to Design with the shelf open for this slot."""
        self.session.machine_id = machine.id
        self.session.shelf_wanted.emit(machine.id, slot.label)

    # --- measuring ---------------------------------------------------------------------------------------------------

    def _measured_slot(self) -> TSlot | None:
        return self.presenter.slot

    def start_measuring(self) -> None:
        """Lead through the slot in view, from the first place that is missing."""
        slot = self._measured_slot()
        if slot is None:
            return
        self._slot = slot.label
        missing = [i for i, (place, name, _) in enumerate(STEPS) if self._reading(slot, name, place) is None]
        self._step = missing[0] if missing else 0
        self.measuring.show()
        self.strip.hide()
        self.close_why()
        self._ask()

    def stop_measuring(self) -> None:
        if self._step is None:
            return
        self._step = None
        self.measuring.hide()
        self.plate.light(frozenset())
        self.refresh()

    def _reading(self, slot: TSlot, name: str, place: str) -> float | None:
        readings = getattr(slot, name)
        if readings is None:
            return None
        return dict(zip(readings.places, readings.values_mm, strict=False)).get(place)

    def _ask(self) -> None:
        slot = self._measured_slot()
        if self._step is None or slot is None:
            return
        place, name, label = STEPS[self._step]
        now = self._reading(slot, name, place)
        style = self.session.style
        self.measuring.show_step(
            f"{sentence(place)}: {within(label)}",
            HOW[name],
            f"{self._step + 1} of {len(STEPS)}",
            "" if now is None else entry_text(now, style.length),
            style.name("mm"),
        )
        self.refresh()

    def open_entry(self) -> tuple[str, QLineEdit] | None:
        if self._step is not None and self.measuring.isVisibleTo(self):
            return STEPS[self._step][1], self.measuring.line
        return super().open_entry()

    def asks(self, key: str) -> Asking | None:
        return self.presenter.asks(key)

    def captured(self, key: str, reading: Reading) -> None:
        if self._step is not None and self.measuring.isVisibleTo(self):
            self.measuring.line.setText(reading.typed)
            self._entered(self.measuring.line.text(), reading.instrument)
            return
        tool = self.presenter.tool
        self.presenter.tool = reading.instrument  # the reading keeps the tool it was really taken with
        super().captured(key, reading)
        self.presenter.tool = tool

    def show_heard(self, words: str) -> None:
        if self._step is not None and self.measuring.isVisibleTo(self):
            self.measuring.show_error(words)
        else:
            super().show_heard(words)

    def _entered(self, text: str, tool: str = "") -> None:
        slot, p = self._measured_slot(), self.presenter
        if self._step is None or slot is None or p.machine is None:
            return
        place, name, label = STEPS[self._step]
        try:
            measured = p.with_reading(slot, name, place, text, tool)
        except ShopError as error:
            self.measuring.show_error(self.session.beside(error))
            return
        machine = replace(p.machine, slots=tuple(measured if s.label == slot.label else s for s in p.machine.slots))
        if self.session.put(f"{p.machine.name}, {slot.label}, {place}: {within(label)}", machine):
            self._go(1)

    def _go(self, by: int) -> None:
        if self._step is None:
            return
        step = self._step + by
        if step >= len(STEPS):
            self.stop_measuring()
            return
        self._step = max(0, step)
        self._ask()


def _plate_key(entry: str) -> str:
    """Entries of the plate that are fields of the machine."""
    return Act(Verb.FIELD, entry).key if entry.startswith("table_") else entry
