"""Temperature of work, tool and room: how far a measured length moves, and how long to wait."""

from __future__ import annotations

import math
import random
from typing import ClassVar, Final

from elbrix.drawing.scene import Element, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import PlainInspection, choice, found, marks, parameter_group, size, tolerance, within
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Kind, Parameter, Values
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.standards.materials import materials

_STANDARD_C: Final = 20.0
#: Still air takes so much from a surface, W/(m²·K): convection and radiation of bright metal, on the slow side.
_AIR: Final = 8.0
#: Heat capacity of a cubic metre of metal, J/(m³·K): of steel, brass and aluminium 2.4 to 3.8 million; the slowest is taken.
_HEAT: Final = 3.8e6


class Heat(PlainInspection):
    """See the module."""

    key = "heat"
    title = "Warm work"
    when = "How far does the temperature move this size, and should I wait?"
    order = 150
    main = "moved"
    usual_u = 0.0
    defaults: ClassVar = {
        "length": 100.0,
        "material": "aluminium alloy",
        "gauge_material": "mild steel",
        "thickness": 20.0,
        "tolerance": 0.01,
        "reading_u": 0.5,
    }

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        names = [(m, m) for m in materials()]
        return (
            size("length", "Length measured", "the size in question", 0.1, 10000, feature="work"),
            choice("material", "Work is of", names),
            choice("gauge_material", "Measured against", names, "blocks, scale or micrometer frame"),
            size("thickness", "Thickest section", "of the work; it cools slowest", 0.5, 500, feature="work"),
            tolerance("Size may move", "what the job bears"),
            Parameter(
                name="reading_u",
                label="Thermometer ±",
                kind=Kind.NUMBER,
                unit="K",
                low=0.01,
                high=20,
                step=0.1,
                usually="of one reading; an infrared one on bright metal is worth little",
            ),
        )

    def proposals(self, shop: Shop, chosen: object) -> dict[str, float | int | str]:
        known = list(materials())
        given = dict(self.defaults)
        for name in ("material", "gauge_material"):
            if given[name] not in known:
                given[name] = next((m for m in known if str(given[name]).split()[0] in m), known[0])
        return given

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        long = values.number("length")
        return tuple(
            Place(key=key, label=label, quantity=Quantity.TEMPERATURE, at=(x * long, y * long), low=-30, high=200, unit="°C")
            for key, label, x, y in (
                ("work", "the work", 0.5, 0.1),
                ("gauge", "blocks, scale or frame", 0.5, -0.16),
                ("room", "the room", 1.12, 0.1),
            )
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        long, limit = values.number("length"), values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        if sheet.complete:
            work, gauge, room = (sheet.mean(k) for k in ("work", "gauge", "room"))
            a_work, a_gauge = (materials()[values.word(n)].expansion_um_m_k * 1e-6 for n in ("material", "gauge_material"))
            shares = {"work": long * a_work, "gauge": -long * a_gauge}
            moved = long * (a_work * (work - _STANDARD_C) - a_gauge * (gauge - _STANDARD_C))
            u = sheet.u_of(shares)
            settled = long * (a_work - a_gauge) * (room - _STANDARD_C)
            figures += [
                found(
                    "moved",
                    "Reads too large by",
                    moved,
                    u,
                    (
                        "L · (α work · (t work − 20) − α gauge · (t gauge − 20))",
                        (
                            f"{long:g} · ({a_work * 1e6:g}·10⁻⁶ · {work - _STANDARD_C:.1f} − {a_gauge * 1e6:g}·10⁻⁶ ·"
                            f" {gauge - _STANDARD_C:.1f})"
                        ),
                    ),
                    features=("work",),
                ),
                found(
                    "settled",
                    "When all is at room warmth",
                    settled,
                    abs(long * (a_work - a_gauge)) * sheet.u_of({"room": 1}),
                    ("L · (α work − α gauge) · (t room − 20)", ""),
                    features=("work",),
                ),
            ]
            rows = ["moved", "settled"]
            wait = _wait_minutes(work, room, long * a_work, limit, values.number("thickness"))
            if wait > 0:
                figures.append(
                    found(
                        "wait",
                        "Wait about",
                        wait,
                        0.0,
                        (
                            "still air on both faces: τ = c · thickness/(2 · h), t = τ · ln(difference/difference allowed)",
                            f"{_HEAT:g} J/(m³K), {_AIR:g} W/(m²K)",
                        ),
                        unit="min",
                        features=("work",),
                    )
                )
                rows.append("wait")
            groups.append(Group("Found", tuple(rows)))
            checks.append(
                within(
                    "moved",
                    "Moved by warmth",
                    moved,
                    u,
                    limit,
                    ("warmth does not decide this size", "warmth may decide this size: wait", "do not size this work now: wait"),
                    features=("work",),
                )
            )
            if abs(moved) + u > limit:
                how = (
                    f"{wait:.0f} minutes in still air, or until work and gauge feel alike"
                    if wait > 0
                    else "until work and gauge are alike"
                )
                steps.append(f"Wait: {how}. On a cast plate or the machine table it goes faster; in oil or water faster still")
                steps.append(
                    f"If it has to be sized now, aim {length(abs(moved))} {'over' if moved > 0 else 'under'} the size, and"
                    " measure again cold before it leaves"
                )
            else:
                steps.append("Measure now: the warmth of work and gauge is not what decides")
        elements: list[Element] = [
            box(0, 0, long, 0.2 * long, Style.BODY, "work"),
            box(0, 0, long, 0.2 * long, Style.VISIBLE, "work"),
            box(0, -0.26 * long, long, -0.06 * long, Style.SURROUNDINGS, "gauge"),
            Note((0.03 * long, 0.1 * long), values.word("material"), quiet=True),
            Note((0.03 * long, -0.16 * long), values.word("gauge_material"), quiet=True),
        ]
        rings, numbers = marks(sheet, 0.014 * long)
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("heat", "The work, and what it is measured against", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Work straight from the cutter or the furnace burns: tongs or gloves, and no wet hands near a hot part",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        true = {"work": chance.uniform(18, 45), "gauge": chance.uniform(18, 24), "room": chance.uniform(16, 26)}
        a_work, a_gauge = (materials()[values.word(n)].expansion_um_m_k * 1e-6 for n in ("material", "gauge_material"))
        moved = values.number("length") * (a_work * (true["work"] - 20) - a_gauge * (true["gauge"] - 20))
        return Exercise(tool="thermometer", true=true, answers={"moved": moved})


def _wait_minutes(work: float, room: float, growth_mm_k: float, limit: float, thickness_mm: float) -> float:
    """Until the work's growth over the room's is half of what is allowed; erring on the long side."""
    difference = abs(work - room)
    allowed = max(0.5 * limit / growth_mm_k, 0.05) if growth_mm_k > 0 else math.inf
    if difference <= allowed:
        return 0.0
    tau = _HEAT * thickness_mm / 1000 / (2 * _AIR)
    return tau * math.log(difference / allowed) / 60


KIND = Heat()
