"""T-slot survey: the neck of every slot of a table at several places; taper, wear, burrs, and the nut that goes everywhere."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping
from typing import ClassVar, Final

from msgspec.structs import replace

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import (
    CALIPER_U,
    PlainInspection,
    choice,
    count,
    found,
    marks,
    parameter_group,
    size,
    tool_parameters,
)
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot

_LOW, _HIGH = next((low, high) for name, _, low, high in SLOT_SIZES if name == "neck")
_EVERY: Final = ("", "every slot")
#: Wider than its tightest place by so much: a nut made for the one rattles in the other.
_WORN: Final = (0.1, 0.3)
_NUT_STEP: Final = 0.05


class SlotSurvey(PlainInspection):
    """See the module."""

    key = "slot_survey"
    title = "T-slot survey"
    when = "How wide is every slot all along, and which nut goes everywhere?"
    order = 10
    main = "tightest"
    usual_u = CALIPER_U
    defaults: ClassVar = {"machine": "", "slot": "", "count": 3, "times": 3, "clearance": 0.1}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        machines = [m for m in shop.machines if _straight(m)]
        labels = list(dict.fromkeys(s.label for m in machines for s in _straight(m)))
        return (
            choice("machine", "Machine", [(m.id, m.name) for m in machines] or [("", "none with slots")], "whose table it is"),
            choice("slot", "Slot", [_EVERY, *((label, label) for label in labels)], "one of them, or all in turn"),
            count("count", "Places a slot", 2, 15, "both ends and between"),
            count("times", "Readings a place", 1, 9, "three show how well it repeats"),
            size("clearance", "Clearance of a nut", "so much thinner than the tightest place", 0.01, 2, 0.05),
            *tool_parameters(shop, "a caliper's inside jaws"),
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        first = next((m.id for m in shop.machines if _straight(m)), "")
        return {**self.defaults, "machine": first}

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        machine, slots = _surveyed(values, shop)
        many = int(values.number("count"))
        reach = 0.9 * (machine.table_length_mm or 500.0)
        names = [
            "left end" if i == 0 else "right end" if i == many - 1 else "middle" if 2 * i == many - 1 else f"place {i + 1}"
            for i in range(many)
        ]
        return tuple(
            Place(
                key=f"s{number}p{i + 1}",
                label=f"{slot.label}, {names[i]}",
                quantity=Quantity.LENGTH,
                at=(-reach / 2 + reach * i / (many - 1), _height(machine, number - 1)),
                times=int(values.number("times")),
                low=_LOW,
                high=_HIGH,
                spot=(-reach / 2 + reach * i / (many - 1), float(number)),
            )
            for number, slot in slots
            for i in range(many)
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        machine, slots = _surveyed(values, shop)
        figures, checks, steps = self.begun(asked, values)
        rows: list[str] = []
        for number, slot in slots:
            here = [p for p in sheet.places if p.key.startswith(f"s{number}p")]
            if all(sheet.has(p.key) for p in here):
                more, check, words = _slot(number, slot, here, sheet)
                figures += more
                checks.append(check)
                steps += words
                rows += [f.key for f in more]
        if sheet.complete:
            tight = min(sheet.places, key=lambda p: sheet.mean(p.key))
            u = sheet.u_of({tight.key: 1})
            least, clearance = sheet.mean(tight.key), values.number("clearance")
            nut = round_down(least - u - clearance, _NUT_STEP)
            figures += [
                found("tightest", "Tightest place of all", least, u, (f"at {tight.label}", ""), features=(tight.key,)),
                Figure(
                    key="nut",
                    label="Nut that goes everywhere",
                    value=nut,
                    step=0.05,
                    features=(tight.key,),
                    derivation=found(
                        "nut",
                        "",
                        nut,
                        0.0,
                        (
                            "tightest place − uncertainty − clearance, down to 0.05",
                            f"{format_number(least, 3)} − {format_number(u, 3)} − {format_number(clearance, 3)}",
                        ),
                    ).derivation,
                ),
            ]
            rows = ["tightest", "nut", *rows]
            steps.append(f"A nut with a neck of {length(nut)} goes into every place that was read")
        groups = [parameter_group("Survey", asked), *([Group("Found", tuple(rows))] if rows else [])]
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=_scene(sheet, machine),
            steps=steps,
            cautions=("Chips out of the slot and burrs off its edges before reading: they are sharp",),
            findings=_findings(machine, slots, sheet),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        true = {}
        places = self.places(values, shop)
        slots = sorted({p.key.split("p")[0] for p in places})
        base = {s: chance.uniform(11.8, 12.4) for s in slots}
        slope = {s: chance.gauss(0, 0.05) for s in slots}
        reach = max(abs(p.spot[0]) for p in places)
        for p in places:
            s = p.key.split("p")[0]
            true[p.key] = base[s] + slope[s] * p.spot[0] / reach
        answers = {"tightest": min(true.values())}
        for s in slots:
            parts = _taper_parts([p for p in places if p.key.startswith(f"{s}p")])
            answers[f"taper {s[1:]}"] = sum(c * true[k] for k, c in parts.items())
        return Exercise(tool="caliper", true=true, answers=answers)


def _straight(machine: Machine) -> list[TSlot]:
    return [s for s in machine.slots if s.straight]


def _surveyed(values: Values, shop: Shop) -> tuple[Machine, list[tuple[int, TSlot]]]:
    """The machine, and its slots with their numbers from 1.

    Raises:
        EntryError: There is no such machine or slot.
    """
    machine = next((m for m in shop.machines if m.id == values.word("machine")), None)
    if machine is None or not _straight(machine):
        raise EntryError(
            "Machine", "no machine with slots", "A survey goes along the slots of a table", "Enter the machine in Shop", "machine"
        )
    slots = [(i, s) for i, s in enumerate(machine.slots, 1) if s.straight and values.word("slot") in ("", s.label)]
    if not slots:
        have = ", ".join(s.label for s in _straight(machine))
        raise EntryError(
            "Slot", f"{machine.name} has no slot “{values.word('slot')}”", f"It has: {have}", "Pick one of those", "slot"
        )
    return machine, slots


def _height(machine: Machine, index: int) -> float:
    """Where a slot runs in the picture: as it lies on the table, or evenly when that is not known."""
    offsets = [s.offset_mm for s in machine.slots]
    if len(set(offsets)) == len(offsets):
        return offsets[index]
    wide = machine.table_width_mm or 60.0 * len(offsets)
    return wide * ((index + 0.5) / len(offsets) - 0.5)


def _taper_parts(here: list[Place]) -> dict[str, float]:
    """Right end less left end of the straight line through the places, as coefficients of their readings."""
    xs = [p.spot[0] for p in here]
    middle = math.fsum(xs) / len(xs)
    squares = math.fsum((x - middle) ** 2 for x in xs)
    reach = max(xs) - min(xs)
    return {p.key: (x - middle) / squares * reach for p, x in zip(here, xs, strict=True)}


def _slot(number: int, slot: TSlot, here: list[Place], sheet: Sheet) -> tuple[list[Figure], Check, list[str]]:
    at = {p.key: sheet.mean(p.key) for p in here}
    tight, wide = min(here, key=lambda p: at[p.key]), max(here, key=lambda p: at[p.key])
    parts = _taper_parts(here)
    taper, u = sum(c * at[k] for k, c in parts.items()), sheet.u_of(parts)
    u_spread = sheet.u_of({wide.key: 1, tight.key: -1})
    figures = [
        found(
            f"tight {number}",
            f"{slot.label}, tightest",
            at[tight.key],
            sheet.u_of({tight.key: 1}),
            (f"at {tight.label}", ""),
            features=(tight.key,),
        ),
        found(
            f"taper {number}",
            f"{slot.label}, taper",
            taper,
            u,
            ("right end − left end of the straight line through the places", ""),
            features=tuple(p.key for p in here),
        ),
    ]
    ends = (here[0].key, here[-1].key)
    inside = [at[p.key] for p in here[1:-1]]
    burr = tight.key in ends and inside and min(inside) - at[tight.key] > max(2 * u_spread, 0.03)
    words = []
    if burr:
        words.append(
            f"{slot.label}: the {tight.label.split(', ')[-1]} is {length(min(inside) - at[tight.key])} tighter than the rest: a"
            " burr or a bruise from dropped work. Stone it, and read that place again"
        )
    elif abs(taper) > u and abs(taper) > _WORN[0] / 2:
        wider = "right" if taper > 0 else "left"
        words.append(f"{slot.label} opens toward the {wider} by {length(abs(taper))}: worn where the vise stands most, as a rule")
    check = judged(
        f"worn {number}",
        slot.label,
        worked("widest place − tightest place", term(at[wide.key], 4), term(at[tight.key], 4)),
        Limits(marginal_above=_WORN[0], no_above=_WORN[1]),
        (
            "the same all along",
            "wider in places: a nut made for the tightest place has play there",
            "so uneven that one nut cannot fit it: survey it again, and make nuts for a stretch of it",
        ),
        features=(wide.key, tight.key),
        step=0.01,
    )
    return figures, check, words


def _findings(machine: Machine, slots: list[tuple[int, TSlot]], sheet: Sheet) -> tuple[ShopFinding, ...]:
    """The machine with the necks as read, the mean of each place: fits go by the tightest of them."""
    if not sheet.complete:
        return ()
    kept = list(machine.slots)
    for number, slot in slots:
        here = [p for p in sheet.places if p.key.startswith(f"s{number}p")]
        taken = [t for p in here for t in sheet.readings[p.key]]
        kept[number - 1] = replace(
            slot,
            neck=Readings(
                values_mm=tuple(sheet.mean(p.key) for p in here),
                measured_with=", ".join(sheet.tools),
                on=max((t.on for t in taken), default="")[:10],
                places=tuple(p.label.split(", ")[-1] for p in here),
            ),
        )
    known = replace(machine, slots=tuple(kept))
    what = "the slot" if len(slots) == 1 else "the slots"
    return (ShopFinding(key="slots", words=f"Keep {what} of {machine.name} as read", items=(known,)),)


def _scene(sheet: Sheet, machine: Machine) -> Scene:
    long = machine.table_length_mm or 500.0
    wide = machine.table_width_mm or 60.0 * len(machine.slots)
    elements: list[Element] = [
        box(-long / 2, -wide / 2, long / 2, wide / 2, Style.BODY, "table"),
        box(-long / 2, -wide / 2, long / 2, wide / 2, Style.VISIBLE, "table"),
        Note((0, -wide / 2 - 0.05 * wide), "operator's side", quiet=True, align=0),
    ]
    for index, slot in enumerate(machine.slots):
        if not slot.straight:
            continue
        y, half = _height(machine, index), (slot.neck.min if slot.neck else 12.0) / 2
        elements += [Line((-long / 2, y + s * half), (long / 2, y + s * half), Style.THIN, f"slot {index + 1}") for s in (-1, 1)]
        elements.append(Note((long / 2 + 0.01 * long, y), slot.label, quiet=True, stays=True))
    rings, numbers = marks(sheet, 0.008 * long, step=0.01)
    return Scene("table", f"The table of {machine.name} from above", tuple(elements + rings), tuple(numbers))


KIND = SlotSurvey()
