"""Spots before drilling: where they are, by readout, against where they were wanted; the one that is out is named."""

from __future__ import annotations

import math
import random
from typing import ClassVar, Final

from elbrix.drawing.scene import Arc, Element, Line, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.plain import PlainInspection, found, marks, parameter_group, tolerance, tool_parameters, within
from elbrix.inspecting.readings import K_95, Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.hole_patterns import FittedPattern, best_fit
from elbrix.parameters.parameter import Group, Kind, Parameter, Values
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import EntryError
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

#: Of one inspection: more are measured in parts.
MAX_HOLES: Final = 40


def wanted_places(values: Values, least: int) -> tuple[tuple[float, float], ...]:
    """The wanted places.

    Raises:
        EntryError: A grid, too few, too many.
    """
    found_here = read_places(values.word("wanted"), "mm", "Holes wanted")
    points = found_here.points
    if not least <= len(points) <= MAX_HOLES:
        raise EntryError(
            "Holes wanted",
            f"{len(points)} places",
            f"Between {least} and {MAX_HOLES} can be laid onto each other",
            "Write pairs from the datum: 0,0; 40,0; 40,30",
            "wanted",
        )
    return points


def holes_parameter() -> Parameter:
    return Parameter(
        name="wanted", label="Holes wanted", kind=Kind.PLACES, usually="from the drawing, from one datum", feature="holes"
    )


class Spots(PlainInspection):
    """See the module."""

    key = "spots"
    title = "Spots and holes by readout"
    when = "Are all spots where they belong, before anything is drilled?"
    order = 130
    main = "turn"
    usual_u = 0.01
    defaults: ClassVar = {"wanted": "0,0; 40,0; 40,30; 0,30", "tolerance": 0.05}

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            holes_parameter(),
            tolerance("Out of place allowed", "from the hole's middle to where it belongs"),
            *tool_parameters(shop, "the readout, an indicator or a pin in the spindle"),
        )

    def points(self, values: Values) -> tuple[tuple[float, float], ...]:
        """Where the holes belong.

        Raises:
            EntryError: They cannot be measured so.
        """
        return wanted_places(values, 2)

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        points = self.points(values)
        apart = 0.03 * _size(points)
        return tuple(
            Place(
                key=f"h{i + 1}{axis.lower()}",
                label=f"hole {i + 1}, {axis}",
                quantity=Quantity.AXIS,
                at=(point[0], point[1] + (apart if axis == "X" else -apart)),
                axis=axis,
                spot=point,
            )
            for i, point in enumerate(points)
            for axis in ("X", "Y")
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        points, limit = self.points(values), values.number("tolerance")
        figures, checks, steps = self.begun(asked, values)
        groups = [parameter_group("Set up", asked)]
        laid: FittedPattern | None = None
        if sheet.complete:
            measured = [(sheet.mean(f"h{i + 1}x"), sheet.mean(f"h{i + 1}y")) for i in range(len(points))]
            laid = best_fit(points, measured, sheet.sigma)
            more, rows, checks, steps = pattern_results(points, laid, sheet, limit)
            figures += more
            groups.append(Group("Found", rows))
        elements = pattern_scene(points, laid.residual_mm if laid else (), laid.wrong if laid else ())
        rings, numbers = marks(sheet, 0.012 * _size(points))
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=Scene("holes", "The holes from above, errors enlarged", tuple(elements + rings), tuple(numbers)),
            steps=steps,
            cautions=("Spindle stopped while places are picked up",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise | None:
        points = self.points(values)
        turn, dx, dy = chance.gauss(0, 2e-3), chance.gauss(0, 1), chance.gauss(0, 1)
        true = {}
        for i, (x, y) in enumerate(points):
            true[f"h{i + 1}x"] = x * math.cos(turn) - y * math.sin(turn) + dx
            true[f"h{i + 1}y"] = x * math.sin(turn) + y * math.cos(turn) + dy
        return Exercise(tool="readout", true=true, answers={"turn": math.degrees(turn) * 60})


def pattern_results(
    points: tuple[tuple[float, float], ...], laid: FittedPattern, sheet: Sheet, limit: float
) -> tuple[list[Figure], tuple[str, ...], list[Check], list[str]]:
    """Figures, their keys, checks and orders of a pattern laid onto its places."""
    good = [i for i in range(len(points)) if i not in laid.wrong]
    middle = [math.fsum(points[i][k] for i in good) / len(good) for k in (0, 1)]
    squares = math.fsum((points[i][0] - middle[0]) ** 2 + (points[i][1] - middle[1]) ** 2 for i in good)
    u = K_95 * sheet.sigma
    off = [math.hypot(*r) for r in laid.residual_mm]
    figures = [
        found("shift_x", "Pattern shifted in X", laid.shift_mm[0], u / math.sqrt(len(good)), ("least squares", "")),
        found("shift_y", "Pattern shifted in Y", laid.shift_mm[1], u / math.sqrt(len(good)), ("least squares", "")),
        found(
            "turn",
            "Pattern turned",
            math.degrees(laid.turn) * 60,
            math.degrees(u / math.sqrt(squares)) * 60 if squares else 0.0,
            ("least squares, counter-clockwise", ""),
            unit="′",
        ),
        *(
            found(
                f"off {i + 1}",
                f"Hole {i + 1} out of place",
                d,
                u,
                ("what is left of it after the fit", f"{format_number(r[0], 4)}, {format_number(r[1], 4)}"),
                features=(f"hole {i + 1}",),
            )
            for i, (d, r) in enumerate(zip(off, laid.residual_mm, strict=True))
        ),
    ]
    worst = max(range(len(off)), key=off.__getitem__)
    checks = [
        within(
            f"off {worst + 1}",
            "Worst hole",
            off[worst],
            u,
            limit,
            ("every hole is in its place", "too close to the limit to be sure", f"hole {worst + 1} is out of place"),
            features=(f"hole {worst + 1}",),
        ),
        judged(
            "agree",
            "Holes that agree",
            float(len(laid.wrong)) + (0.5 if laid.undecided else 0.0),
            Limits(marginal_above=0.0, no_above=0.5),
            (
                "no hole is further out than the readings explain",
                "something is out, and these readings cannot say which hole: measure one more, or each twice",
                f"hole {', '.join(str(i + 1) for i in laid.wrong)} is further out than the readings explain",
            ),
            unit="",
            text=f"{len(points) - len(laid.wrong)} of {len(points)}",
            features=tuple(f"hole {i + 1}" for i in laid.wrong),
        ),
    ]
    steps = []
    for i in laid.wrong:
        dx, dy = laid.residual_mm[i]
        steps.append(
            f"Hole {i + 1} stands {length(abs(dx))} {'right' if dx > 0 else 'left'} and {length(abs(dy))}"
            f" {'far' if dy > 0 else 'near'} of where it belongs: spot it anew before drilling, the old spot milled away"
        )
    if laid.undecided:
        steps.append("Something is out, but it cannot be said which: measure each hole once more")
    if not steps:
        steps.append("Drill: no spot is out by more than the readings themselves")
    return figures, tuple(f.key for f in figures), checks, steps


def pattern_scene(
    points: tuple[tuple[float, float], ...], off: tuple[tuple[float, float], ...], wrong: tuple[int, ...]
) -> list[Element]:
    """The holes from above, with what each is out by as an enlarged stroke."""
    big = _size(points)
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    edge = 0.15 * big
    elements: list[Element] = [
        box(min(xs) - edge, min(ys) - edge, max(xs) + edge, max(ys) + edge, Style.BODY, "piece"),
        box(min(xs) - edge, min(ys) - edge, max(xs) + edge, max(ys) + edge, Style.VISIBLE, "piece"),
    ]
    most = max((math.hypot(*r) for r in off), default=0.0)
    for i, (x, y) in enumerate(points):
        elements.append(Arc((x, y), 0.025 * big, style=Style.VISIBLE, feature=f"hole {i + 1}"))
        if most > 0:
            dx, dy = (0.12 * big * c / most for c in off[i])
            elements.append(Line((x, y), (x + dx, y + dy), Style.TOOL if i in wrong else Style.THIN, f"hole {i + 1}"))
    return elements


def _size(points: tuple[tuple[float, float], ...]) -> float:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return max(max(xs) - min(xs), max(ys) - min(ys), 1.0)


KIND = Spots()
