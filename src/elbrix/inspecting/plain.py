"""What the inspections share: the tool, marks at the places, lines of readings, a figure with its uncertainty."""

from __future__ import annotations

import math
import random
from collections.abc import Iterable, Mapping, Sequence
from typing import ClassVar, Final

from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Point, Scene, Side, Style
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding, Subject
from elbrix.inspecting.readings import Odd, Place, Sheet
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values, figure_of
from elbrix.quantities.errors import EntryError
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, Origin
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import MeasuringTool
from elbrix.shop.upkeep import overdue

#: A lever indicator of 0.002 mm is trusted so far, where the shop lists none.
DIAL_U: Final = 0.003
#: A caliper, a micrometer, a level in degrees, likewise.
CALIPER_U: Final = 0.02
MICROMETER_U: Final = 0.003
LEVEL_U: Final = 0.05
#: "not listed" among the tools of the shop.
_OTHER: Final = ("", "not listed in Shop")


class PlainInspection:
    """A kind whose values are its defaults, with what was chosen laid over them."""

    defaults: ClassVar[Mapping[str, float | int | str]] = {}
    usual_u: ClassVar[float] = DIAL_U
    main: ClassVar[str] = ""
    can_practise: ClassVar[bool] = True
    measures_piece: ClassVar[bool] = False
    key: ClassVar[str]
    _subject: Subject | None = None

    @property
    def subject(self) -> Subject:
        """The design it is about.

        Raises:
            EntryError: None was picked, or it is gone.
        """
        if self._subject is None:
            raise EntryError(
                "Design", "no design is picked", "A piece is measured against its drawing", "Pick one on the card", "about"
            )
        return self._subject

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        """Defaults, the chosen tool's uncertainty, and what was chosen."""
        given = {name: ParameterValue(value, Origin.ASSUMED) for name, value in self.proposals(shop, chosen).items()}
        tool = next((t for t in shop.measuring if t.id == chosen["tool"].value), None) if "tool" in chosen else None
        known = ParameterValue(tool.trusted_mm, Origin.MEASURED, note=_of_the(tool)) if tool else None
        if "reading_u" in self.defaults or self.usual_u:
            given["reading_u"] = known or ParameterValue(self.usual_u, Origin.ASSUMED)
            given["tool"] = ParameterValue("", Origin.ASSUMED)
        return Values({name: chosen.get(name, value) for name, value in given.items()})

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        """The defaults as they are for this shop."""
        return dict(self.defaults)

    def reading_u(self, values: Values) -> float:
        return values.number("reading_u")

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise | None:
        return None

    def begun(self, asked: Iterable[Parameter], values: Values) -> tuple[list[Figure], list[Check], list[str]]:
        """Figures of what was asked; no check and no order yet."""
        return parameter_figures(asked, values), [], []

    def told(
        self,
        values: Values,
        sheet: Sheet,
        figures: Iterable[Figure],
        checks: Iterable[Check],
        groups: Iterable[Group],
        *,
        scene: Scene,
        steps: Iterable[str] = (),
        cautions: tuple[str, ...] = (),
        findings: tuple[ShopFinding, ...] = (),
    ) -> Inspection:
        """Everything put together; readings that do not belong are named before what the hands do."""
        return Inspection(
            kind=self.key,
            values=values,
            sheet=sheet,
            figures=tuple(figures),
            checks=tuple(checks),
            groups=tuple(groups),
            scene=scene,
            steps=(*odd_words(sheet.odd()), *steps),
            cautions=cautions,
            findings=findings,
        )


# --- parameters ------------------------------------------------------------------------------------------------------


def _of_the(tool: MeasuringTool) -> str:
    late = ", its check is overdue" if overdue(tool.checked_on, tool.check_months) else ""
    return f"of the {tool.name}, from Shop{late}"


def tool_parameters(shop: Shop, usual: str) -> tuple[Parameter, ...]:
    """With what it is measured, and how far a reading may be off."""
    tools = tuple((t.id, t.name) for t in shop.measuring)
    return (
        Parameter(name="tool", label="Measured with", kind=Kind.CHOICE, unit="", choices=(_OTHER, *tools), usually=usual),
        Parameter(
            name="reading_u",
            label="Uncertainty ±",
            kind=Kind.LENGTH,
            low=0.0001,
            high=1,
            step=0.0005,
            usually="of one reading, 95 of 100; a sent reading brings its own",
        ),
    )


def size(name: str, label: str, usually: str, low: float, high: float, step: float = 1.0, feature: str = "") -> Parameter:
    """A length asked for."""
    return Parameter(name=name, label=label, kind=Kind.LENGTH, low=low, high=high, step=step, usually=usually, feature=feature)


def tolerance(label: str, usually: str, low: float = 0.0005, high: float = 5.0) -> Parameter:
    """What is still good enough."""
    return Parameter(name="tolerance", label=label, kind=Kind.LENGTH, low=low, high=high, step=0.001, usually=usually)


def count(name: str, label: str, low: int, high: int, usually: str) -> Parameter:
    return Parameter(name=name, label=label, kind=Kind.COUNT, unit="", low=low, high=high, step=1, usually=usually)


def choice(name: str, label: str, choices: Sequence[tuple[str, str]], usually: str = "") -> Parameter:
    return Parameter(name=name, label=label, kind=Kind.CHOICE, unit="", choices=tuple(choices), usually=usually)


def parameter_figures(parameters: Iterable[Parameter], values: Values) -> list[Figure]:
    """Every value as a figure of the card."""
    return [figure_of(p, values[p.name]) for p in parameters]


def parameter_group(title: str, parameters: Iterable[Parameter]) -> Group:
    return Group(title, tuple(p.name for p in parameters))


# --- figures and checks ----------------------------------------------------------------------------------------------


def found(
    key: str, label: str, value: float, u: float, working: tuple[str, str], *, unit: str = "mm", features: tuple[str, ...] = ()
) -> Figure:
    """A number that follows from readings, with its uncertainty.

    Args:
        working: Formula, and the same with numbers.
    """
    derivation = Derivation(*working, f"± {u:.2g} {unit} with 95 of 100" if u else "")
    return Figure(
        key=key, label=label, value=value, unit=unit, u=u, step=fine(u), derivation=derivation, features=features or (key,)
    )


def fine(u: float) -> float:
    """The step a number is shown in: two figures of its uncertainty, never finer than 0.0001 nor coarser than 0.01."""
    return min(0.01, max(0.0001, 10.0 ** (math.floor(math.log10(u)) - 1))) if u > 0 else 0.001


def slope_u(sheet: Sheet) -> float:
    """How far the slope of a least-squares line over the places' first numbers may be off, unit of the readings per mm."""
    spots = [p.spot[0] for p in sheet.places]
    middle = math.fsum(spots) / len(spots)
    squares = math.fsum((s - middle) ** 2 for s in spots)
    return sheet.u_of({p.key: (s - middle) / squares for p, s in zip(sheet.places, spots, strict=True)})


def within(
    key: str,
    label: str,
    value: float,
    u: float,
    limit: float,
    words: tuple[str, str, str],
    *,
    unit: str = "mm",
    features: tuple[str, ...] = (),
) -> Check:
    """Whether a magnitude is within a limit, with a guard band: go only when it is so for certain, no-go when certainly not.

    Args:
        words: Why it is go, close and no-go.
    """
    return judged(
        key,
        label,
        abs(value),
        Limits(marginal_above=limit - u, no_above=limit + u),
        words,
        unit=unit,
        features=features or (key,),
        figures=(key,),
        derivation=(
            "go up to the limit less the uncertainty, no-go from the limit and the uncertainty",
            f"{limit:.4g} ∓ {u:.2g} {unit}",
        ),
        step=fine(u),
    )


def _said(odd: Odd) -> str:
    """An odd reading in the unit of its place; a length so that it follows the unit on show."""
    return length(odd.value, 4) if odd.place.unit == "mm" else f"{odd.value:.4g} {odd.place.unit}"


def odd_words(odd: Iterable[Odd]) -> tuple[str, ...]:
    """What to do about readings that do not belong."""
    return tuple(
        f"Reading {o.number} at {o.place.label} does not belong with the others ({_said(o)}): wipe, and take it again"
        for o in odd
    )


# --- the picture -----------------------------------------------------------------------------------------------------


def marks(sheet: Sheet, radius: float, *, sign: bool = False, step: float = 0.001) -> tuple[list[Element], list[Dimension]]:
    """A ring and a number at each place; the next one stands out.

    Args:
        radius: Of the rings, mm of the picture.
        sign: Readings are deviations and carry theirs.
    """
    elements: list[Element] = []
    numbers: list[Dimension] = []
    following = sheet.missing[0].key if sheet.missing else ""
    for order, place in enumerate(sheet.places):
        nearest = place.key == following
        elements.append(Arc(place.at, radius, style=Style.TOOL if nearest else Style.CENTRE, feature=place.key))
        if nearest:
            elements.append(Arc(place.at, 1.7 * radius, style=Style.TOOL, feature=place.key))
        mean = sheet.mean(place.key) if sheet.has(place.key) else None
        many = len(sheet.readings[place.key])
        numbers.append(
            Dimension(
                f"at {place.key}",
                place.at,
                (place.at[0], place.at[1] + 2.6 * radius),
                Side.AT,
                value_mm=mean or 0.0,
                prefix="+" if sign and mean is not None and mean > 0 else "",
                text=_shown(place, mean, order, sign=sign),
                suffix=f"({many} of {place.times})" if 0 < many < place.times else "",
                entry=f"read {place.key}",
                feature=place.key,
                measured=mean is not None,
                step_mm=step,
                order=order,
            )
        )
    return elements, numbers


def _shown(place: Place, mean: float | None, order: int, *, sign: bool) -> str:
    """What stands at a place instead of the bare number; "" for the number in the unit on show."""
    if mean is None:
        return f"{order + 1} –"
    if place.unit == "deg":
        return f"{mean:.3f}".rstrip("0").rstrip(".") + "°"
    return f"{mean:.1f} °C" if place.unit == "°C" else ""


def graph(
    points: Sequence[tuple[float, float]], left: float, right: float, base: float, high: float, feature: str = "graph"
) -> list[Element]:
    """A run of deviations over a thing, as large as there is room, with its zero line and its scale.

    Args:
        points: (x on the thing, deviation).
        base: Where zero stands.
        high: Room above it.
    """
    if not points:
        return []
    most = max(1e-6, *(abs(v) for _, v in points))
    scale = high / most
    line = tuple((x, base + v * scale) for x, v in points)
    words = f"{length(most, 4)} this high"
    crowded = max(points, key=lambda p: p[1])[0] > (left + right) / 2  # the words stand where the line is low
    elements: list[Element] = [
        Line((left, base), (right, base), Style.CENTRE, feature),
        *(Line((x, base), at, Style.THIN, feature) for (x, _), at in zip(points, line, strict=True)),
        Note((left, base + high), words, quiet=True, align=-1)
        if crowded
        else Note((right, base + high), words, quiet=True, align=1),
    ]
    if len(line) > 1:
        elements.append(Path(line, Style.VISIBLE, feature))
    return elements


def arrow(start: Point, tip: Point, words: str = "", feature: str = "arrow") -> list[Element]:
    """Tap here, that way: an arrow with its amount at its tail.

    Args:
        words: Beside the tail.
    """
    dx, dy = tip[0] - start[0], tip[1] - start[1]
    long = math.hypot(dx, dy) or 1.0
    ux, uy, head = dx / long, dy / long, 0.28 * long
    elements: list[Element] = [Line(start, tip, Style.TOOL, feature)]
    elements += [
        Line(tip, (tip[0] - head * (ux + s * 0.5 * uy), tip[1] - head * (uy - s * 0.5 * ux)), Style.TOOL, feature)
        for s in (1, -1)
    ]
    if words:
        at = (start[0] - 0.18 * dx, start[1] - 0.18 * dy)
        elements.append(Note(at, words, feature=feature, align=0 if abs(dy) > abs(dx) else (1 if dx > 0 else -1)))
    return elements


def fine_grid(
    xs: Sequence[float], ys: Sequence[float], heights: Mapping[Point, float], parts: int = 6
) -> tuple[list[Point], list[float]]:
    """Heights of a full grid, bilinear between its places: a contour without the corners of triangles.

    Args:
        xs: Columns, rising.
        ys: Rows, rising.
        heights: By place.
        parts: Into so many is each field divided.
    """
    spots, values = [], []
    for i in range((len(xs) - 1) * parts + 1):
        for j in range((len(ys) - 1) * parts + 1):
            a, b = min(i // parts, len(xs) - 2), min(j // parts, len(ys) - 2)
            u, v = i / parts - a, j / parts - b
            four = [heights[xs[a + p], ys[b + q]] for p in (0, 1) for q in (0, 1)]
            spots.append((xs[a] + u * (xs[a + 1] - xs[a]), ys[b] + v * (ys[b + 1] - ys[b])))
            values.append((1 - u) * ((1 - v) * four[0] + v * four[1]) + u * ((1 - v) * four[2] + v * four[3]))
    return spots, values


def contour(spots: Sequence[tuple[float, float]], heights: Sequence[float], levels: int = 7) -> list[Element]:
    """Lines of equal height over scattered places, straight within each triangle between them.

    Args:
        spots: (x, y) of at least three places that are not in line.
        heights: One of each.
        levels: How many lines.
    """
    import numpy as np
    from scipy.spatial import Delaunay, QhullError  # a picture of readings is all it is for

    low, high = min(heights), max(heights)
    if len(spots) < 3 or high - low < 1e-9:
        return []
    try:
        triangles = Delaunay(np.asarray(spots)).simplices
    except QhullError:
        return []
    found: list[Element] = []
    for n in range(1, levels + 1):
        level = low + (high - low) * n / (levels + 1)
        for triangle in triangles:
            ends = [
                cut
                for i, j in ((0, 1), (1, 2), (2, 0))
                if (cut := _crossing(spots, heights, int(triangle[i]), int(triangle[j]), level)) is not None
            ]
            if len(ends) == 2:
                found.append(Line(ends[0], ends[1], Style.THIN if n <= levels / 2 else Style.VISIBLE, "contour"))
    return found


def _crossing(spots: Sequence[Point], heights: Sequence[float], i: int, j: int, level: float) -> Point | None:
    a, b = heights[i], heights[j]
    if (a < level) == (b < level):
        return None
    t = (level - a) / (b - a)
    return (spots[i][0] + t * (spots[j][0] - spots[i][0]), spots[i][1] + t * (spots[j][1] - spots[i][1]))
