"""A vise jaw: its yaw and lean by an indicator run along it, and the rise of its bed; how far to tap at which bolt."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping
from typing import ClassVar

from msgspec.structs import replace

from elbrix.drawing.scene import Element, Line, Note, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import (
    PlainInspection,
    arrow,
    choice,
    found,
    marks,
    parameter_group,
    size,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.reversal import jaw_yaw
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Check
from elbrix.results.figures import Figure, format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Vise

_DEFAULT_JAW = (125.0, 40.0)


class JawInspection(PlainInspection):
    """See the module."""

    key = "jaw"
    title = "Vise jaw"
    when = "Does the fixed jaw run with the table, stand upright, and is the bed level?"
    order = 30
    main = "yaw_over_travel"
    defaults: ClassVar = {"vise": "", "travel": 100.0, "pivot_to_end": 150.0, "height": 30.0, "tolerance": 0.01}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            choice("vise", "Vise", [("", "not listed"), *((v.id, v.name) for v in shop.vises)]),
            size("travel", "Travel along the jaw", "between the two readings, as the handwheel or readout says", 5, 2000),
            size("pivot_to_end", "Bolt to tapped end", "from the bolt that is left snug to the end that is tapped", 0, 2000),
            size("height", "Travel up the jaw", "between the low and the high reading", 3, 500),
            tolerance("Out of line allowed", "over the travel along the jaw"),
            *tool_parameters(shop, "a lever indicator in the spindle"),
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        given = dict(self.defaults)
        vises = [v for v in shop.vises if not v.split]
        vise = _vise(shop, str(chosen["vise"].value)) if "vise" in chosen else (vises[0] if vises else None)
        if vise is not None:
            given |= {
                "vise": vise.id,
                "travel": round(0.85 * vise.jaw_width_mm),
                "pivot_to_end": round(0.9 * vise.jaw_width_mm),
                "height": max(3.0, round(0.7 * vise.jaw_height_mm)),
            }
        return given

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        _, high = _jaw(values, shop)
        travel, up = values.number("travel"), values.number("height")
        middle = high * 0.5

        def place(key: str, label: str, x: float, y: float) -> Place:
            return Place(key=key, label=label, quantity=Quantity.DEVIATION, at=(x, y), low=-5, high=5)

        return (
            place("left", "left end of the fixed jaw", -travel / 2, middle),
            place("right", "right end of the fixed jaw", travel / 2, middle),
            place("low", "low on the fixed jaw", 0.0, middle - up / 2),
            place("high", "high on the fixed jaw", 0.0, middle + up / 2),
            place("bed_left", "bed or parallel, left", -travel / 2, -0.35 * high),
            place("bed_right", "bed or parallel, right", travel / 2, -0.35 * high),
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        travel, up, limit = values.number("travel"), values.number("height"), values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        rows: list[str] = []
        arrows: list[Element] = []
        findings: tuple[ShopFinding, ...] = ()
        if sheet.has("left") and sheet.has("right"):
            more, told, orders = _yaw(sheet, travel, values.number("pivot_to_end"), limit)
            arrows = _tap_here(more[0].value, more[0].u, more[2].value, *_jaw(values, shop))
            figures += more
            checks.append(told)
            steps += orders
            rows += [f.key for f in more]
        if sheet.has("low") and sheet.has("high"):
            difference, u = sheet.mean("high") - sheet.mean("low"), sheet.u_of({"high": 1, "low": -1})
            figures.append(
                found(
                    "lean_over_height",
                    "Lean of the fixed jaw",
                    difference,
                    u,
                    ("high − low", f"{format_number(sheet.mean('high'), 4)} − {format_number(sheet.mean('low'), 4)}"),
                    features=("low", "high"),
                )
            )
            rows.append("lean_over_height")
            checks.append(
                within(
                    "lean_over_height",
                    "Lean",
                    difference,
                    u,
                    limit,
                    ("the jaw stands upright", "too close to the limit to be sure", "work held against it comes out of square"),
                )
            )
            vise = _vise(shop, values.word("vise"))
            if vise is not None:
                known = replace(vise, fixed_lean_mm_per_m=round(abs(difference) / up * 1000, 4))
                findings = (ShopFinding(key="lean", words=f"Keep the lean with {vise.name}", items=(known,)),)
            if abs(difference) > u:
                steps.append(
                    f"The jaw's top leans {'toward you' if difference > 0 else 'away from you'} by {length(abs(difference))} over"
                    f" {length(up)}: look for dirt behind the jaw plate and for a sprung screw before anything is ground"
                )
        if sheet.has("bed_left") and sheet.has("bed_right"):
            rise, u = sheet.mean("bed_right") - sheet.mean("bed_left"), sheet.u_of({"bed_right": 1, "bed_left": -1})
            figures.append(
                found(
                    "rise_over_travel",
                    "Rise of the bed",
                    rise,
                    u,
                    ("right − left", f"{format_number(sheet.mean('bed_right'), 4)} − {format_number(sheet.mean('bed_left'), 4)}"),
                    features=("bed_left", "bed_right"),
                )
            )
            rows.append("rise_over_travel")
            checks.append(
                within(
                    "rise_over_travel",
                    "Rise",
                    rise,
                    u,
                    limit,
                    ("the bed is level with the travel", "too close to the limit to be sure", "parallels would stand on a slope"),
                )
            )
            if abs(rise) > u:
                steps.append(
                    f"The bed is higher on the {'right' if rise > 0 else 'left'} by {length(abs(rise))}: take the vise up, wipe"
                    " table and base, stone the burrs, and read again before shimming"
                )
        return self.told(
            values,
            sheet,
            figures,
            checks,
            (parameter_group("Set up", asked), *([Group("Found", tuple(rows))] if rows else [])),
            scene=_scene(sheet, *_jaw(values, shop), arrows),
            steps=steps,
            cautions=("Spindle switched off at the machine; jaws are heavy and their edges sharp",),
            findings=findings,
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        yaw, lean, rise = chance.gauss(0, 0.05), chance.gauss(0, 0.015), chance.gauss(0, 0.01)
        true = {"left": 0.0, "right": yaw, "low": yaw / 2, "high": yaw / 2 + lean, "bed_left": 0.02, "bed_right": 0.02 + rise}
        return Exercise(
            tool="dial", true=true, answers={"yaw_over_travel": yaw, "lean_over_height": lean, "rise_over_travel": rise}
        )


def _yaw(sheet: Sheet, travel: float, pivot: float, limit: float) -> tuple[list[Figure], Check, list[str]]:
    """Figures, check and orders of the yaw. A reading rises where the jaw stands nearer to the operator."""
    difference, u = sheet.mean("right") - sheet.mean("left"), sheet.u_of({"right": 1, "left": -1})
    yaw, tap = jaw_yaw(travel, sheet.mean("left"), sheet.mean("right"), pivot)
    figures = [
        found(
            "yaw_over_travel",
            "Right less left",
            difference,
            u,
            ("right − left", f"{format_number(sheet.mean('right'), 4)} − {format_number(sheet.mean('left'), 4)}"),
            features=("left", "right"),
        ),
        found(
            "yaw",
            "Yaw",
            math.degrees(yaw) * 60,
            math.degrees(u / travel) * 60,
            ("atan(difference/travel)", f"atan({format_number(difference, 4)}/{format_number(travel, 2)})"),
            unit="′",
            features=("left", "right"),
        ),
        found(
            "tap",
            "To tap at the far end",
            abs(tap),
            u * pivot / travel,
            ("difference · bolt to end/travel", f"{format_number(abs(difference), 4)} · {pivot:g}/{travel:g}"),
            features=("left", "right"),
        ),
    ]
    check = within(
        "yaw_over_travel",
        "Yaw",
        difference,
        u,
        limit,
        ("the jaw runs with the travel", "too close to the limit to be sure", "work against the jaw comes out of line"),
        features=("left", "right"),
    )
    if abs(difference) <= u:
        return figures, check, ["The jaw runs with the travel, as far as this indicator can tell: tighten and leave it alone"]
    near, far = ("right", "left") if difference > 0 else ("left", "right")
    return (
        figures,
        check,
        [
            (
                f"The {near} end stands nearer to you by {length(abs(difference))} over {length(travel)}. Leave the {far} bolt"
                f" snug, slacken the {near} one, and tap the {near} end {length(abs(tap))} away from you"
            ),
            "Tighten both bolts in turn, and read both ends again: tightening turns it",
        ],
    )


def _tap_here(difference: float, u: float, tap: float, wide: float, high: float) -> list[Element]:
    """An arrow into the picture at the end that stands near."""
    if abs(difference) <= u:
        return []
    x = (0.5 if difference > 0 else -0.5) * wide
    return arrow((1.24 * x, 1.36 * high), (1.02 * x, 1.06 * high), f"tap this end {length(tap)} away from you", "yaw_over_travel")


def _vise(shop: Shop, id: str) -> Vise | None:
    return next((v for v in shop.vises if v.id == id), None)


def _jaw(values: Values, shop: Shop) -> tuple[float, float]:
    """Width and height of the jaw in the picture."""
    vise = _vise(shop, values.word("vise"))
    wide, high = (vise.jaw_width_mm, vise.jaw_height_mm) if vise else _DEFAULT_JAW
    return max(wide, 1.1 * values.number("travel")), max(high, 1.25 * values.number("height"))


def _scene(sheet: Sheet, wide: float, high: float, arrows: list[Element]) -> Scene:
    half = wide / 2
    elements: list[Element] = [
        box(-half, 0, half, high, Style.BODY, "jaw"),
        box(-half, 0, half, high, Style.VISIBLE, "jaw"),
        box(-0.7 * wide, -0.7 * high, 0.7 * wide, 0, Style.SURROUNDINGS, "bed"),
        Line((-0.75 * wide, -0.7 * high), (0.75 * wide, -0.7 * high), Style.SURROUNDINGS, "table"),
        Note((0, -0.62 * high), "bed, or a parallel laid on it", quiet=True, align=0),
        Note((-half, high + 0.08 * high), "fixed jaw, seen from the operator", quiet=True),
        *arrows,
    ]
    rings, numbers = marks(sheet, 0.016 * wide, sign=True)
    return Scene("jaw", "The fixed jaw from the front", tuple(elements + rings), tuple(numbers))


KIND = JawInspection()
