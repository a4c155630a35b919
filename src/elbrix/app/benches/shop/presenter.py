"""What the Shop bench shows and how its entries change the book. No widgets here."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Final

from elbrix.app.benches.shop.scenes import cutter_scene, machine_scene, rack_scene, section_scene
from elbrix.app.card.view import Button, CardView, Row, Section
from elbrix.app.plate.view import PlateView
from elbrix.app.proof.strip import Tile, Why
from elbrix.app.words import tiles_of, why_check
from elbrix.book.documents import Document
from elbrix.design.files import dimension_text
from elbrix.drawing.scene import Dimension, Scene
from elbrix.quantities.checks import Check
from elbrix.quantities.counts import parse_count
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import Length, UnitStyle, entry_text
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.shop.audit import bar_checks, cutter_checks, machine_checks, slot_checks, stud_checks
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Cutter, CutterKind, MeasuringTool, Stud
from elbrix.standards.materials import materials

PLACES: Final = ("left end", "middle", "right end")
#: How to take each size, in the order of measuring.
HOW: Final = {
    "neck": "Inside jaws between the lips, square across, twice at different heights: take the smaller",
    "lip": "Hook or depth gauge from the table top to the underside of the lip; not onto a burr",
    "head": "Inside jaws below the lips: open, rock gently, take the smallest",
    "depth": "Depth rod to the slot floor, chips brushed out, beam flat on the table",
}
#: Lists beside the machines.
THINGS: Final = {"rack": "Bars on the rack", "cutters": "Cutters", "studs": "Studs", "measuring": "Measuring tools"}


@dataclass(frozen=True, slots=True)
class Field:
    """One editable attribute of a thing in the shop."""

    attr: str
    label: str
    kind: str  #: length, count, number, text, choice, speeds
    low: float = 0.0
    high: float = 10000.0
    choices: tuple[str, ...] = ()
    step_mm: float | None = None


_FIELDS: Final[dict[type, tuple[Field, ...]]] = {
    Bar: (
        Field("form", "Form", "choice", choices=tuple(f.value for f in Form)), Field("width_mm", "Width or Ø", "length", 1, 500), Field("height_mm", "Height", "length", 0, 500),
        Field("length_mm", "Length left", "length", 0, 7000, step_mm=0.5), Field("full_length_mm", "As bought", "length", 0, 7000, step_mm=0.5),
        Field("material", "Material", "choice", choices=tuple(materials())), Field("finish", "Finish", "choice", choices=tuple(f.value for f in Finish)),
        Field("guessed", "Material guessed by", "text"), Field("rack", "Lies", "text"),
    ),
    Cutter: (
        Field("kind", "Kind", "choice", choices=tuple(k.value for k in CutterKind)), Field("diameter_mm", "Diameter, measured", "length", 0.2, 300), Field("shank_mm", "Shank", "length", 0, 80),
        Field("teeth", "Teeth", "count", 1, 200), Field("edge_length_mm", "Edge length", "length", 0, 300), Field("width_mm", "Width, disc cutters", "length", 0, 100),
        Field("material", "Of", "choice", choices=("HSS", "carbide")), Field("name", "Thread of a tap", "text"), Field("notes", "Notes", "text"),
    ),
    Stud: (Field("thread", "Thread", "thread"), Field("length_mm", "Length", "length", 5, 1000), Field("count", "How many", "count", 0, 999), Field("strength_class", "Strength", "choice", choices=("4.6", "5.6", "8.8", "10.9", "12.9"))),
    MeasuringTool: (Field("name", "Name", "text"), Field("resolution_mm", "Reads to", "length", 0.0001, 5), Field("uncertainty_mm", "Trusted to ±", "length", 0.0001, 5), Field("reach_mm", "Reach", "length", 1, 2000)),
    Machine: (
        Field("name", "Name", "text"), Field("kind", "Kind", "choice", choices=tuple(k.value for k in MachineKind)), Field("table_length_mm", "Table length", "length", 0, 6000), Field("table_width_mm", "Table width", "length", 0, 2000),
        Field("readout_step_mm", "Readout step, 0 for none", "length", 0, 1), Field("rigidity", "Rigidity", "choice", choices=("light", "medium", "heavy")), Field("climb", "Climb cutting", "choice", choices=("never", "finish only", "yes")),
        Field("speeds_rpm", "Spindle steps, rpm", "speeds"), Field("arbor_mm", "Arbor Ø, 0 for none", "length", 0, 100), Field("collar_mm", "Collar Ø", "length", 0, 150), Field("notes", "Notes", "text"),
    ),
}  # fmt: skip
_LIST_OF: Final[dict[str, tuple[type, str]]] = {
    "rack": (Bar, "bars"),
    "cutters": (Cutter, "cutters"),
    "studs": (Stud, "studs"),
    "measuring": (MeasuringTool, "measuring"),
}
_AXIS_FIELDS: Final = (("mm_per_turn", "per turn"), ("divisions", "divisions"), ("slack_mm", "slack"))


class ShopPresenter:
    """One look at the shop: which thing, which slot."""

    def __init__(self, shop: Shop, style: UnitStyle, what: str, item: str, slot: str) -> None:
        self.shop, self.style = shop, style
        self.what = (
            what
            if what in THINGS or any(m.id == what for m in shop.machines)
            else (shop.machines[0].id if shop.machines else "rack" if shop.bars else "")
        )
        self.machine = next((m for m in shop.machines if m.id == self.what), None)
        self.slot = self._slot(slot)
        things = self.things
        self.item: Any = next((t for t in things if t.id == item), things[0] if things else None)

    def _slot(self, label: str) -> TSlot | None:
        if self.machine is None or not self.machine.slots:
            return None
        slots = self.machine.slots
        middle = next((s for s in slots if "middle" in s.label and s.measured), None)
        return next((s for s in slots if s.label == label), None) or middle or next((s for s in slots if s.measured), slots[0])

    @property
    def things(self) -> tuple[Any, ...]:
        """Bars, cutters … when one of those lists is looked at."""
        return getattr(self.shop, _LIST_OF[self.what][1]) if self.what in _LIST_OF else ()

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
        if self.what in THINGS:
            return THINGS[self.what], f"{len(self.things)} of them"
        return "An empty shop", "Begin with the machine whose slots you know least"

    # --- plate -------------------------------------------------------------------------------------------------------

    def plate(self) -> PlateView:
        def label(d: Dimension) -> str:
            return dimension_text(d.value, d.prefix, d.suffix, d.text, self.style, d.step_mm)

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
        if self.what == "rack" and self.shop.bars:
            scene, footer = (
                rack_scene(self.shop, self.item.id if self.item else ""),
                "To scale. Dashed: what has been used of the bar as bought",
            )
        elif self.what == "cutters" and self.shop.cutters:
            scene, footer = (
                cutter_scene(self.shop.cutters, self.item.id if self.item else ""),
                "To scale. A shank is seldom the size of its cutter",
            )
        elif self.what in THINGS:
            names = "\n".join(self._name(t) for t in self.things)
            return PlateView(
                Scene(""), message=names or f"No {THINGS[self.what].lower()} yet. Add the first one on the card.", thing=self.what
            )
        else:
            return PlateView(
                Scene(""),
                message="Nothing here yet.\n\nMeasure your first slot: four sizes, at both ends and in the middle.\nTwo minutes with a caliper, and the first nut that fits follows by itself.\n\nOr walk around the demo shop, in a window of its own.",
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
            return dimension_text(d.value, d.prefix, d.suffix, d.text, self.style, d.step_mm)

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
        elif self.what in _LIST_OF:
            sections += self._thing_sections()
        buttons: tuple[Button, ...] = ()
        if not self.shop.machines:
            buttons = (Button(key="add machine", text="Measure a slot", main=True), Button(key="demo", text="The demo shop"))
        if self.slot is not None:
            words = "Measure this slot" if not self.slot.measured else "Measure it again"
            buttons = (
                Button(key="measure", text=words, main=not self.slot.measured),
                Button(key="design", text="Design for this slot", main=self.slot.measured, enabled=self.slot.measured),
            )
        return CardView(sections=tuple(sections), buttons=buttons)

    def _contents(self) -> Section:
        rows = [
            Row(
                key=f"see {m.id}",
                label=m.name,
                value=f"{sum(s.measured for s in m.slots)} of {len(m.slots)} slots",
                edit="press",
                strong=m.id == self.what,
            )
            for m in self.shop.machines
        ]
        for key, words in THINGS.items():
            count = len(getattr(self.shop, _LIST_OF[key][1]))
            rows.append(Row(key=f"see {key}", label=words, value=str(count), edit="press", strong=key == self.what))
        return Section(
            title="What is here",
            rows=tuple(rows),
            buttons=(Button(key="add machine", text="Add a machine"),) if self.shop.machines else (),
        )

    def _machine_sections(self, machine: Machine) -> list[Section]:
        slots = tuple(
            Row(
                key=f"slot {s.label}",
                label=s.label,
                value=f"{s.places} place{'s' if s.places != 1 else ''}" if s.measured else "not measured",
                edit="press",
                strong=self.slot is not None and s.label == self.slot.label,
            )
            for s in machine.slots
        )
        found = [Section(title="Its T-slots", rows=slots, buttons=(Button(key="add slot", text="Add a slot"),))]
        if self.slot is not None:
            found.append(Section(title="Readings", hint=self.slot.label, rows=(*tuple(self._readings_row(n, label) for n, label, *_ in SLOT_SIZES), Row(key="slot_label", label="Called", value=self.slot.label, edit="text", origin="chosen"), Row(key="offset_mm", label="From the table's middle", value=self.style.show(self.slot.offset_mm, "mm"), unit=self.style.name("mm"), edit="text", origin="measured", entry_text=entry_text(self.slot.offset_mm, self.style.length)), Row(key="ring_radius_mm", label="Ring radius, 0 if straight", value=self.style.show(self.slot.ring_radius_mm, "mm"), unit=self.style.name("mm"), edit="text", origin="measured", entry_text=entry_text(self.slot.ring_radius_mm, self.style.length)))))  # fmt: skip
        found.append(
            Section(
                title="Handwheels",
                hint="per turn, divisions, slack",
                rows=tuple(self._axis_row(machine, axis) for axis in ("X", "Y", "Z")),
            )
        )
        found.append(
            Section(
                title="The machine",
                rows=tuple(self._field_row(machine, f) for f in _FIELDS[Machine]),
                buttons=(Button(key="remove", text="Remove this machine"),),
            )
        )
        return found

    def _readings_row(self, name: str, label: str) -> Row:
        assert self.slot is not None
        readings: Readings | None = getattr(self.slot, name)
        if readings is None:
            return Row(key=name, label=label, value="", placeholder="measure", edit="text", unit=self.style.name("mm"))
        low, high = self.style.show(readings.min, "mm"), self.style.show(readings.max, "mm")
        value = low if low == high else f"{low} … {high}"
        working = f"tightest {self.style.with_unit(readings.min, 'mm')}, largest {self.style.with_unit(readings.max, 'mm')}, mean {self.style.with_unit(readings.mean, 'mm')}, spread {self.style.with_unit(readings.spread, 'mm')}"
        more = "\n".join(
            p for p in (working, ", ".join(readings.places), " ".join(w for w in (readings.measured_with, readings.on) if w)) if p
        )
        return Row(
            key=name,
            label=label,
            value=value,
            unit=self.style.name("mm"),
            origin="measured",
            edit="text",
            entry_text=self.entry_text(name),
            working=more,
        )

    def _axis_row(self, machine: Machine, axis: str) -> Row:
        wheel = machine.axes.get(axis)
        if wheel is None:
            return Row(key=f"axis {axis}", label=axis, value="", placeholder="4; 200; 0.05", edit="text")
        show = self.style.show
        value = f"{show(wheel.mm_per_turn, 'mm')} / {wheel.divisions} / {show(wheel.slack_mm, 'mm')}"
        text = f"{entry_text(wheel.mm_per_turn, self.style.length)}; {wheel.divisions}; {entry_text(wheel.slack_mm, self.style.length)}"
        return Row(
            key=f"axis {axis}",
            label=axis,
            value=value,
            unit=self.style.name("mm"),
            origin="measured",
            edit="text",
            entry_text=text,
            working=f"one division is {self.style.with_unit(wheel.division_mm, 'mm')}",
        )

    def _thing_sections(self) -> list[Section]:
        rows = tuple(
            Row(
                key=f"item {t.id}",
                label=self._name(t),
                value=self._count(t),
                edit="press",
                strong=self.item is not None and t.id == self.item.id,
            )
            for t in self.things
        )
        found = [Section(title=THINGS[self.what], rows=rows, buttons=(Button(key="add thing", text="Add one"),))]
        if self.item is not None:
            found.append(
                Section(
                    title="This one",
                    rows=tuple(self._field_row(self.item, f) for f in _FIELDS[type(self.item)]),
                    buttons=(Button(key="remove", text="Take it off the list"),),
                )
            )
        return found

    def _name(self, thing: Any) -> str:
        if isinstance(thing, Stud):
            return f"{thing.thread} × {self.style.show(thing.length_mm, 'mm')}"
        if isinstance(thing, MeasuringTool):
            return thing.name
        return str(thing.title)

    def _count(self, thing: Any) -> str:
        if isinstance(thing, Bar):
            return self.style.show(thing.length_mm, "mm", 0.5)
        if isinstance(thing, Stud):
            return f"{thing.count} of them"
        if isinstance(thing, Cutter):
            return f"shank {self.style.show(thing.shank_mm, 'mm')}" if thing.shank_mm else "on arbor"
        return f"±{self.style.show(thing.uncertainty_mm, 'mm')}"

    def _field_row(self, thing: Any, f: Field) -> Row:
        value = getattr(thing, f.attr)
        if f.kind == "length":
            return Row(
                key=f"field {f.attr}",
                label=f.label,
                value=self.style.show(value, "mm", f.step_mm),
                unit=self.style.name("mm"),
                edit="text",
                origin="measured",
                entry_text=entry_text(value, self.style.length),
            )
        if f.kind == "choice":
            return Row(
                key=f"field {f.attr}",
                label=f.label,
                value=str(value),
                edit="choice",
                choices=tuple((c, c) for c in f.choices),
                origin="chosen",
            )
        if f.kind == "speeds":
            return Row(
                key=f"field {f.attr}",
                label=f.label,
                value=", ".join(map(str, sorted(value))),
                edit="text",
                entry_text=", ".join(map(str, sorted(value))),
                origin="measured" if value else "",
            )
        return Row(key=f"field {f.attr}", label=f.label, value=str(value), edit="text", entry_text=str(value), placeholder="–")

    # --- proof -------------------------------------------------------------------------------------------------------

    @property
    def checks(self) -> list[Check]:
        if self.machine is not None:
            return [*(slot_checks(self.slot) if self.slot else []), *machine_checks(self.machine)]
        lists: dict[str, Callable[[Shop], list[Check]]] = {"cutters": cutter_checks, "rack": bar_checks, "studs": stud_checks}
        return lists[self.what](self.shop) if self.what in lists else []

    def tiles(self) -> tuple[Tile, ...]:
        return tiles_of(self.checks, self.style)

    def why(self, key: str) -> Why | None:
        check = next((c for c in self.checks if c.key == key), None)
        return why_check(check, self.style) if check is not None else None

    # --- changes, as new documents -----------------------------------------------------------------------------------

    def typed(self, key: str, text: str) -> tuple[str, Document]:
        """(what was done, changed document) for a typed or picked entry.

        Raises:
            ShopError: It cannot be; nothing changes.
        """
        if self.machine is not None and self.slot is not None and key in {n for n, *_ in SLOT_SIZES}:
            return f"{self.machine.name}, {self.slot.label}, {key} {text.strip()}", self._with_slot(
                _slot_with(self.slot, key, self.read(key, text))
            )
        if self.machine is not None and self.slot is not None and key in ("offset_mm", "ring_radius_mm"):
            low, high = (-1000.0, 1000.0) if key == "offset_mm" else (0.0, 2000.0)
            value = Length.parse(text, self.style.length, "Slot", low, high).mm
            return f"{self.machine.name}, {self.slot.label} moved", self._with_slot(_slot_with(self.slot, key, value))
        if self.machine is not None and self.slot is not None and key == "slot_label":
            return f"{self.machine.name}, slot called {text.strip()}", self._renamed_slot(text)
        if self.machine is not None and key.startswith("axis "):
            return f"{self.machine.name}, {key}", replace(
                self.machine, axes={**self.machine.axes, key[5:]: self._axis(key[5:], text)}
            )
        attr = key.removeprefix("field ")
        thing = self.machine if self.machine is not None else self.item
        field = next((f for f in _FIELDS.get(type(thing), ()) if f.attr == attr), None)
        if field is None or thing is None:
            raise EntryError("Shop", "that cannot be typed here", "It is no entry of this thing", "Pick a row of the card")
        value = self._value(field, thing, text)
        return f"{field.label} {text.strip()}", replace(thing, **{attr: value})

    def read(self, name: str, text: str, tool: str = "", places: tuple[str, ...] = ()) -> Readings:
        """Readings from typed text, each within what a slot can be; several are parted by ;"""
        label, low, high = next((label, low, high) for n, label, low, high in SLOT_SIZES if n == name)
        parts = [p for p in text.split(";") if p.strip()] or [""]
        if len(parts) > 50:
            raise EntryError(label, f"{len(parts)} readings", "Fifty at most are kept for one size", "Keep the ones that matter")
        values = tuple(Length.parse(p, self.style.length, label, low, high).mm for p in parts)
        return Readings(values_mm=values, measured_with=tool or self.tool_name(), on=time.strftime("%Y-%m-%d"), places=places)

    def tool_name(self) -> str:
        """The measuring tool assumed: the first the shop has."""
        return self.shop.measuring[0].name if self.shop.measuring else ""

    def with_reading(self, slot: TSlot, name: str, place: str, text: str) -> TSlot:
        """A slot with one more reading, or the one of that place replaced.

        Raises:
            ShopError: The text, or a slot like that, cannot be.
        """
        fresh = self.read(name, text, places=(place,))
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
        if len(parts) not in (2, 3):
            raise EntryError(
                f"{axis} handwheel",
                f"{len(parts)} numbers",
                "It takes travel per turn, divisions, and slack",
                "Write for example 4; 200; 0.05",
            )
        turn = Length.parse(parts[0], self.style.length, "Per turn", 0.1, 50).mm
        divisions = parse_count(parts[1], f"{axis} handwheel, divisions", 1, 2000, "Count them round the dial, for example 200")
        slack = Length.parse(parts[2], self.style.length, "Slack", 0, 10).mm if len(parts) == 3 else 0.0
        return Axis(mm_per_turn=turn, divisions=divisions, slack_mm=slack)

    def _value(self, f: Field, thing: Any, text: str) -> Any:
        if f.kind == "length":
            return Length.parse(text, self.style.length, f.label, f.low, f.high).mm
        if f.kind == "count":
            return parse_count(text, f.label, int(f.low), int(f.high))
        if f.kind == "choice":
            kind = type(getattr(thing, f.attr))
            return kind(text)
        if f.kind == "speeds":
            parts = [p for p in text.replace(";", ",").split(",") if p.strip()]
            if len(parts) > 60:
                raise EntryError(f.label, f"{len(parts)} speeds", "60 are kept at most", "Leave some away")
            return tuple(sorted({parse_count(p, f.label, 1, 99999, "Write for example 80, 120, 180, 270") for p in parts}))
        if f.kind == "thread":
            return str(parse_thread(text, f.label))
        if len(text) > 2000:
            raise EntryError(f.label, f"{len(text):,} characters", "2,000 are kept at most", "Shorten it")
        return text.strip()

    def new_thing(self, new_id: Callable[[str], str]) -> Document:
        """One more of the list looked at, to be filled in."""
        kind = _LIST_OF[self.what][0]
        if kind is Bar:
            return Bar(id=new_id("bar"), width_mm=20, height_mm=20, length_mm=500, full_length_mm=500)
        if kind is Cutter:
            return Cutter(id=new_id("cutter"), kind=CutterKind.END_MILL, diameter_mm=10, shank_mm=10, teeth=4)
        if kind is Stud:
            return Stud(id=new_id("stud"), thread="M10", length_mm=100)
        return MeasuringTool(id=new_id("measuring"), name="caliper", resolution_mm=0.01, uncertainty_mm=0.03)


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
