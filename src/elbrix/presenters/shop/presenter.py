"""What the Shop bench shows and how its entries change the book. No widgets here."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, Any, Final

from msgspec.structs import replace

from elbrix.answers.answer import Destination
from elbrix.book.documents import Document
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, Scene
from elbrix.items.kind import item_kinds, kind_of_item, listed_kinds
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.card import Button, CardView, Row, Section
from elbrix.presenters.plate import PlateView
from elbrix.presenters.proof import Tile, Why
from elbrix.presenters.shop.boxes import block_section, box_buttons, picked_block, typed_block
from elbrix.presenters.shop.rows import add_row, field_rows
from elbrix.presenters.shop.scenes import machine_scene, section_scene
from elbrix.presenters.to_inspect import inspections_of
from elbrix.presenters.words import said_scene, tiles_of, why_check
from elbrix.quantities.counts import parse_count
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import Length, UnitStyle, all_same, entry_text
from elbrix.quantities.readings import Readings
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check
from elbrix.shop.audit import machine_checks, slot_checks
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot

if TYPE_CHECKING:
    from elbrix.instruments.listener import Asking

PLACES: Final = ("left end", "middle", "right end")
#: How to take each size, in the order of measuring.
HOW: Final = {
    "neck": "Inside jaws between the lips, square across, twice at different heights: take the smaller",
    "lip": "Hook or depth gauge from the table top to the underside of the lip; not onto a burr",
    "head": "Inside jaws below the lips: open, rock gently, take the smallest",
    "depth": "Depth rod to the slot floor, chips brushed out, beam flat on the table",
}


class ShopPresenter:
    """One look at the shop: which thing, which slot."""

    def __init__(self, shop: Shop, style: UnitStyle, what: str, item: str, slot: str, tool: str = "") -> None:
        self.shop, self.style = shop, style
        self.tool = tool  #: picked for the readings to come
        self.what = (
            what
            if what in listed_kinds() or any(m.id == what for m in shop.machines)
            else (shop.machines[0].id if shop.machines else "rack" if shop.bars else "")
        )
        self.kind = listed_kinds().get(self.what)
        self.machine = next((m for m in shop.machines if m.id == self.what), None)
        self.slot = self._slot(slot)
        things = self.things
        self.item: Any = next((t for t in things if t.id == item), things[0] if things else None)
        self.slot_label = slot  #: of the slot, or the length of the block picked in a box
        self.block = picked_block(self.item, slot)

    def _slot(self, label: str) -> TSlot | None:
        if self.machine is None or not self.machine.slots:
            return None
        slots = self.machine.slots
        middle = next((s for s in slots if "middle" in s.label and s.measured), None)
        return next((s for s in slots if s.label == label), None) or middle or next((s for s in slots if s.measured), slots[0])

    @property
    def things(self) -> tuple[Any, ...]:
        """Bars, cutters … when one of those lists is looked at."""
        return self.kind.of(self.shop) if self.kind is not None else ()

    @property
    def empty(self) -> bool:
        return not self.shop.machines and not self.shop.bars

    def title(self) -> tuple[str, str]:
        if self.machine is not None:
            measured = sum(s.measured for s in self.machine.slots)
            readout = (
                f"readout {self.style.with_unit(self.machine.readout_step_mm, 'mm')}"
                if self.machine.readout_step_mm
                else "no readout"
            )
            return (
                f"{self.machine.name}",
                f"{self.machine.kind.value}  ·  {measured} of {len(self.machine.slots)} slots measured  ·  {readout}",
            )
        if self.kind is not None:
            return self.kind.title, f"{len(self.things)} of them"
        return "An empty shop", "Begin with the machine whose slots you know least"

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self) -> PlateView:
        def label(d: Dimension) -> str:
            return dimension_text(d, self.style)

        footer = "Click a brass number to type it   ·   click a slot to look at its section"
        if self.machine is not None:
            scene, inset = machine_scene(self.machine, self.slot)
            round_table = self.slot is not None and not self.slot.straight
            return PlateView(
                scene,
                title=scene.title.upper(),
                footer=footer,
                label=label,
                entry_text=self.entry_text,
                thing=f"{self.what} {self.style.length} {self.slot.label if self.slot else ''}",
                inset=inset,
                main_box=(0.0, 0.0, 0.56, 1.0) if round_table else (0.0, 0.0, 1.0, 0.47) if inset else (0.0, 0.0, 1.0, 1.0),
                inset_box=(0.56, 0.1, 1.0, 0.95) if round_table else (0.03, 0.47, 0.97, 1.0),
            )
        if self.kind is not None and self.kind.scene is not None and self.things:
            drawn, footer = self.kind.scene(self.shop, self.item, self.slot_label)
            scene = said_scene(drawn, self.style)
        elif self.kind is not None:
            names = "\n".join(self.kind.name(t, self.style) for t in self.things)
            return PlateView(
                Scene(""), message=names or f"No {within(self.kind.title)} yet. Add the first one on the card.", thing=self.what
            )
        else:
            return PlateView(
                Scene(""),
                message=(
                    "Nothing here yet.\n\nMeasure your first slot: four sizes, at both ends and in the middle.\nTwo minutes with"
                    " a caliper, and the first nut that fits follows by itself.\n\nOr walk around the demo shop, in a window of"
                    " its own."
                ),
                thing="empty",
            )
        return PlateView(
            scene,
            title=scene.title.upper(),
            footer=footer,
            label=label,
            entry_text=self.entry_text,
            thing=f"{self.what} {self.style.length} {self.slot.label if self.slot else ''}",
        )

    def measuring_plate(self, slot: TSlot, size: str) -> PlateView:
        """The section with the caliper where it goes."""
        scene = section_scene(slot, size)

        def label(d: Dimension) -> str:
            return dimension_text(d, self.style)

        return PlateView(
            scene,
            title=f"MEASURING {slot.label.upper()}",
            footer="Dashed edges are not measured yet",
            label=label,
            thing=f"measuring {slot.label} {size} {self.style.length}",
        )

    def entry_text(self, key: str) -> str:
        if self.slot is not None and key in {n for n, *_ in SLOT_SIZES}:
            readings = getattr(self.slot, key)
            return "; ".join(entry_text(v, self.style.length) for v in readings.values_mm) if readings else ""
        value = getattr(self.machine, key, None)
        return entry_text(float(value), self.style.length) if isinstance(value, int | float) else ""

    # --- card --------------------------------------------------------------------------------------------------------

    def card(self) -> CardView:
        sections = [self._contents()]
        if self.machine is not None:
            sections += self._machine_sections(self.machine)
        elif self.kind is not None:
            sections += self._thing_sections()
            if self.block is not None:
                sections.insert(2, block_section(self.item, self.block))
        buttons: tuple[Button, ...] = ()
        if not self.shop.machines:
            tip = "A mill with a measured slot and a T-nut for it, in this book; undo takes it away"
            buttons = (
                Button(key="add machine", text="Measure a slot", main=True),
                Button(key="sample", text="A sample", tip=tip),
                Button(key="demo", text="The demo shop"),
            )
        if self.slot is not None:
            words = "Measure this slot" if not self.slot.measured else "Measure it again"
            buttons = (
                Button(key="measure", text=words, main=not self.slot.measured),
                Button(key="design", text="Design for this slot", main=self.slot.measured, enabled=self.slot.measured),
            )
        sections.append(_book_section())
        return CardView(sections=tuple(sections), buttons=buttons)

    def _contents(self) -> Section:
        rows = [
            Row(
                key=Act(Verb.SEE, m.id).key,
                label=m.name,
                value=f"{sum(s.measured for s in m.slots)} of {len(m.slots)} slots",
                edit="press",
                strong=m.id == self.what,
            )
            for m in self.shop.machines
        ]
        for key, kind in listed_kinds().items():
            count = len(kind.of(self.shop))
            rows.append(
                Row(key=Act(Verb.SEE, key).key, label=kind.title, value=str(count), edit="press", strong=key == self.what)
            )
        return Section(
            title="Shop inventory",
            rows=tuple(rows),
            buttons=(Button(key="add machine", text="Add machine"),) if self.shop.machines else (),
        )

    def _machine_sections(self, machine: Machine) -> list[Section]:
        slots = tuple(
            Row(
                key=Act(Verb.SLOT, s.label).key,
                label=s.label,
                value=f"{s.places} place{'s' if s.places != 1 else ''}" if s.measured else "not measured",
                edit="press",
                strong=self.slot is not None and s.label == self.slot.label,
            )
            for s in machine.slots
        )
        found = [Section(title="T-slots", rows=slots, buttons=(Button(key="add slot", text="Add T-slot"),))]
        if self.slot is not None:
            found.append(
                Section(
                    title="Readings",
                    hint=self.slot.label,
                    rows=(
                        *tuple(self._readings_row(n, label) for n, label, *_ in SLOT_SIZES),
                        self._tool_row(),
                        Row(key="slot_label", label="Slot name", value=self.slot.label, edit="text", origin="chosen"),
                        Row(
                            key="offset_mm",
                            label="Distance from table centre",
                            value=self.style.show(self.slot.offset_mm, "mm"),
                            unit=self.style.name("mm"),
                            edit="text",
                            origin="measured",
                            entry_text=entry_text(self.slot.offset_mm, self.style.length),
                        ),
                        Row(
                            key="ring_radius_mm",
                            label="Ring slot radius",
                            value=self.style.show(self.slot.ring_radius_mm, "mm"),
                            unit=self.style.name("mm"),
                            edit="text",
                            origin="measured",
                            entry_text=entry_text(self.slot.ring_radius_mm, self.style.length),
                        ),
                    ),
                )
            )
        found.append(
            Section(
                title="Handwheels",
                hint="per turn; divisions; backlash; travel",
                rows=tuple(self._axis_row(machine, axis) for axis in ("X", "Y", "Z")),
            )
        )
        found.append(
            Section(
                title="Machine",
                rows=field_rows(item_kinds()["machine"], machine, self.style),
                buttons=(
                    *(Button(key=Act(Verb.INSPECT, key).key, text=go.words) for key, go in inspections_of(machine).items()),
                    Button(key="remove", text="Remove machine"),
                ),
            )
        )
        return found

    def _tool_row(self) -> Row:
        """Which tool the next readings are taken with; each reading keeps its own."""
        return Row(
            key="measured_with",
            label="Measuring tool in use",
            value=self.tool_name() or "none in Shop",
            edit="choice" if self.shop.measuring else "",
            choices=tuple((t.name, t.name) for t in self.shop.measuring),
            origin="chosen" if self.tool else "",
        )

    def _readings_row(self, name: str, label: str) -> Row:
        assert self.slot is not None
        readings: Readings | None = getattr(self.slot, name)
        if readings is None:
            return Row(key=name, label=label, value="", placeholder="measure", edit="text", unit=self.style.name("mm"))
        low, high = self.style.show(readings.min, "mm"), self.style.show(readings.max, "mm")
        value = low if low == high else f"{low} … {high}"
        derivation = (
            f"tightest {self.style.with_unit(readings.min, 'mm')}, largest {self.style.with_unit(readings.max, 'mm')}, mean"
            f" {self.style.with_unit(readings.mean, 'mm')}, spread {self.style.with_unit(readings.spread, 'mm')}"
        )
        more = "\n".join(
            p
            for p in (derivation, ", ".join(readings.places), " ".join(w for w in (readings.measured_with, readings.on) if w))
            if p
        )
        return Row(
            key=name,
            label=label,
            value=value,
            unit=self.style.name("mm"),
            origin="measured",
            edit="text",
            entry_text=self.entry_text(name),
            derivation=more,
        )

    def _axis_row(self, machine: Machine, axis: str) -> Row:
        wheel = machine.axes.get(axis)
        if wheel is None:
            return Row(key=Act(Verb.AXIS, axis).key, label=axis, value="", placeholder="4; 200; 0.05; 500", edit="text")
        show = self.style.show
        lengths = (wheel.backlash_mm, *((wheel.travel_mm,) if wheel.travel_mm else ()))
        value = " / ".join((show(wheel.mm_per_turn, "mm"), str(wheel.divisions), *(show(v, "mm") for v in lengths)))
        unit = self.style.length
        text = "; ".join((entry_text(wheel.mm_per_turn, unit), str(wheel.divisions), *(entry_text(v, unit) for v in lengths)))
        return Row(
            key=Act(Verb.AXIS, axis).key,
            label=axis,
            value=value,
            unit=self.style.name("mm"),
            origin="measured",
            edit="text",
            entry_text=text,
            derivation=_said_of_the_screw(wheel, self.style),
        )

    def _thing_sections(self) -> list[Section]:
        assert self.kind is not None
        rows = tuple(
            Row(
                key=Act(Verb.ITEM, t.id).key,
                label=self.kind.name(t, self.style),
                value=self.kind.count(t, self.style),
                edit="press",
                strong=self.item is not None and t.id == self.item.id,
            )
            for t in self.things
        )
        sets = add_row(self.kind)
        found = [
            Section(
                title=self.kind.title,
                rows=(*rows, sets) if sets is not None else rows,
                buttons=() if sets is not None else (Button(key="add thing", text="Add"),),
            )
        ]
        if self.item is not None:
            found.append(
                Section(
                    title="Details",
                    rows=field_rows(self.kind, self.item, self.style),
                    buttons=(
                        *box_buttons(self.item),
                        *(Button(key=Act(Verb.INSPECT, key).key, text=go.words) for key, go in inspections_of(self.item).items()),
                        Button(key="remove", text="Remove"),
                    ),
                )
            )
        return found

    # --- proof -------------------------------------------------------------------------------------------------------

    def to_inspect(self, key: str) -> Destination | None:
        """Where a button that looks at the thing in hand leads."""
        return inspections_of(self.machine if self.machine is not None else self.item).get(key)

    @property
    def checks(self) -> list[Check]:
        if self.machine is not None:
            return [*(slot_checks(self.slot) if self.slot else []), *machine_checks(self.machine)]
        if self.kind is None or self.kind.checks is None:
            return []
        return self.kind.checks(self.shop, self.item)

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.checks, self.style)

    def why(self, key: str) -> Why | None:
        check = next((c for c in self.checks if c.key == key), None)
        return why_check(check, self.style) if check is not None else None

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def asks(self, key: str) -> Asking | None:
        """What an entry wants of an instrument."""
        from elbrix.presenters.capture import asking_of, length_asked

        size = next(((label, low, high) for name, label, low, high in SLOT_SIZES if name == key), None)
        if size is not None:
            return length_asked(size[0], size[1], size[2])
        if key in ("offset_mm", "ring_radius_mm", "block_real"):
            return length_asked("this size")
        kind = kind_of_item(self.machine if self.machine is not None else self.item)
        parameter = kind.parameter(_field(key)) if kind is not None else None
        return asking_of(parameter) if parameter is not None else None

    def typed(self, key: str, text: str) -> tuple[str, Document]:
        """(what was done, changed document) for a typed or picked entry.

        Raises:
            ShopError: It cannot be; nothing changes.
        """
        if self.machine is not None and self.slot is not None and key in {n for n, *_ in SLOT_SIZES}:
            return f"{self.machine.name}, {self.slot.label}, {key} {text.strip()}", self._with_slot(
                _slot_with(self.slot, key, self._retyped(key, text))
            )
        if self.machine is not None and self.slot is not None and key in ("offset_mm", "ring_radius_mm"):
            low, high = (-1000.0, 1000.0) if key == "offset_mm" else (0.0, 2000.0)
            value = Length.parse(text, self.style.length, "Slot", low, high).mm
            return f"{self.machine.name}, {self.slot.label} moved", self._with_slot(_slot_with(self.slot, key, value))
        if self.machine is not None and self.slot is not None and key == "slot_label":
            return f"{self.machine.name}, slot called {text.strip()}", self._renamed_slot(text)
        act = Act.read(key)
        if self.machine is not None and act.do == Verb.AXIS:
            return f"{self.machine.name}, {key}", replace(
                self.machine, axes={**self.machine.axes, act.of: self._axis(act.of, text)}
            )
        if key.startswith("block_") and self.block is not None:
            return typed_block(self.item, self.block, key, text)
        thing = self.machine if self.machine is not None else self.item
        kind = kind_of_item(thing)
        parameter = kind.parameter(_field(key)) if kind is not None else None
        if kind is None or parameter is None:
            raise EntryError("Shop", "that cannot be typed here", "It is no entry of this thing", "Pick a row of the card")
        return f"{parameter.label} {text.strip()}", kind.read(parameter, thing, text, self.style.length)

    def read(self, name: str, text: str, tool: str = "", places: tuple[str, ...] = ()) -> Readings:
        """Readings from typed text, each within what a slot can be; several are parted by semicolons."""
        label, low, high = next((label, low, high) for n, label, low, high in SLOT_SIZES if n == name)
        parts = [p for p in text.split(";") if p.strip()] or [""]
        if len(parts) > 50:
            raise EntryError(label, f"{len(parts)} readings", "Fifty at most are kept for one size", "Keep the ones that matter")
        values = tuple(Length.parse(p, self.style.length, label, low, high).mm for p in parts)
        return Readings(values_mm=values, measured_with=tool or self.tool_name(), on=time.strftime("%Y-%m-%d"), places=places)

    def _retyped(self, name: str, text: str) -> Readings:
        """Readings typed on the card. Without a tool picked today those they replace keep theirs: it is what took them."""
        was: Readings | None = getattr(self.slot, name)
        if was is None:
            return self.read(name, text)
        fresh = self.read(name, text, self.tool or was.measured_with)
        if all_same(fresh.values_mm, was.values_mm) and fresh.measured_with == was.measured_with:
            return was
        return replace(fresh, places=was.places if len(fresh.values_mm) == len(was.places) else ())

    def tool_name(self) -> str:
        """The measuring tool in use: the one picked, else the first the shop has."""
        return self.tool or (self.shop.measuring[0].name if self.shop.measuring else "")

    def with_reading(self, slot: TSlot, name: str, place: str, text: str, tool: str = "") -> TSlot:
        """A slot with one more reading, or the one of that place replaced.

        Raises:
            ShopError: The text, or a slot like that, cannot be.
        """
        fresh = self.read(name, text, tool, places=(place,))
        old: Readings | None = getattr(slot, name)
        kept = (
            [(p, v) for p, v in zip(old.places, old.values_mm, strict=False) if p != place]
            if old and len(old.places) == len(old.values_mm)
            else []
        )
        pairs = sorted([*kept, (place, fresh.values_mm[0])], key=lambda pv: PLACES.index(pv[0]) if pv[0] in PLACES else 9)
        readings = Readings(
            values_mm=tuple(v for _, v in pairs),
            places=tuple(p for p, _ in pairs),
            measured_with=fresh.measured_with,
            on=fresh.on,
        )
        return _slot_with(slot, name, readings)

    def _with_slot(self, slot: TSlot) -> Machine:
        assert self.machine is not None
        return replace(self.machine, slots=tuple(slot if s.label == slot.label else s for s in self.machine.slots))

    def _renamed_slot(self, text: str) -> Machine:
        assert self.machine is not None and self.slot is not None
        label = text.strip()[:40]
        if not label or any(s.label == label and s is not self.slot for s in self.machine.slots):
            raise EntryError("Slot", "that name is empty or taken", "Slots are told apart by their names", "Type another one")
        return replace(self.machine, slots=tuple(replace(s, label=label) if s is self.slot else s for s in self.machine.slots))

    def _axis(self, axis: str, text: str) -> Axis:
        parts = [p.strip() for p in text.split(";")]
        if len(parts) not in (2, 3, 4):
            raise EntryError(
                f"{axis} handwheel",
                f"{len(parts)} numbers",
                "It takes the advance of one turn, divisions, backlash and travel, in that order",
                "Write for example 4; 200; 0.05; 500",
            )
        assert self.machine is not None
        was, unit = self.machine.axes.get(axis), self.style.length
        turn = Length.parse(parts[0], unit, "Per turn", 0.1, 50).mm
        divisions = parse_count(parts[1], f"{axis} handwheel, divisions", 1, 2000, "Count them round the dial, for example 200")
        # What was not typed stays: nobody means to forget the travel by correcting the backlash.
        backlash = Length.parse(parts[2], unit, "Backlash", 0, 10).mm if len(parts) > 2 else was.backlash_mm if was else 0.0
        travel = Length.parse(parts[3], unit, "Travel", 0, 6000).mm if len(parts) > 3 else was.travel_mm if was else 0.0
        same = was is not None and abs(was.mm_per_turn - turn) < 1e-9  # another screw has errors of its own
        return Axis(
            mm_per_turn=turn,
            divisions=divisions,
            backlash_mm=backlash,
            travel_mm=travel,
            error_mm_m=was.error_mm_m if was is not None and same else 0.0,
            wander_mm=was.wander_mm if was is not None and same else 0.0,
        )


def _book_section() -> Section:
    return Section(
        title="This book",
        hint="other shops' books",
        buttons=(
            Button(key="book merge", text="Bring in another…", tip="A book or an export: both sides are shown first"),
            Button(key="book beside", text="Look at another…", tip="In a window of its own; it is not written to"),
            Button(key="book out", text="Export all…", tip="Everything as one open file, for another shop or for safety"),
        ),
        numbered=False,
    )


def _said_of_the_screw(wheel: Axis, style: UnitStyle) -> str:
    parts = [f"one division is {style.with_unit(wheel.division_mm, 'mm')}"]
    if wheel.error_mm_m:
        way = "further" if wheel.error_mm_m > 0 else "less far"
        parts.append(f"goes {abs(wheel.error_mm_m):.3g} mm/m {way} than its dial says, and turns allow for it")
    if wheel.wander_mm:
        parts.append(f"uneven by ±{style.with_unit(wheel.wander_mm, 'mm')}")
    if not wheel.travel_mm:
        parts.append("travel not recorded")
    return "; ".join(parts)


def _slot_with(slot: TSlot, attr: str, value: Any) -> TSlot:
    changes: dict[str, Any] = {attr: value}
    return replace(slot, **changes)


def new_machine(id: str, name: str) -> Machine:
    """A machine with one slot to measure."""
    return Machine(id=id, name=name.strip(), kind=MachineKind.KNEE, slots=(TSlot(label="middle slot"),))


def next_slot(machine: Machine) -> TSlot:
    """One more slot, named by counting."""
    taken = {s.label for s in machine.slots}
    label = next(f"slot {n}" for n in range(len(taken) + 1, len(taken) + 200) if f"slot {n}" not in taken)
    return TSlot(label=label)


def _field(key: str) -> str:
    """The parameter an entry is about: of the card, or of the plate, which knows fields by their bare names."""
    act = Act.read(key)
    return act.of if act.do == Verb.FIELD else key
