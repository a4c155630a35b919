"""Flatness of a table, jaw or plate from heights on a grid: both fits, contour, where to take off, does it rock."""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence
from typing import ClassVar, Final

from msgspec.structs import replace

from elbrix.drawing.scene import Element, Line, Note, Path, Scene, Style, box
from elbrix.inspecting.inspection import Exercise, Inspection, ShopFinding
from elbrix.inspecting.plain import (
    PlainInspection,
    choice,
    contour,
    count,
    fine_grid,
    found,
    marks,
    parameter_group,
    size,
    tolerance,
    tool_parameters,
    within,
)
from elbrix.inspecting.readings import K_95, Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.metrology.zones import PlaneFit, fit_plane
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import format_number
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

#: What holds the indicator still: with the spindle it is the table's own slides that are the plane it is read from.
READ_FROM: Final = (("stand", "a stand on the same face"), ("spindle", "the spindle, the table moved"))
#: A piece that rests with its middle nearer than this share of the width to the line of two contacts rocks over it.
_ROCKS: Final = 0.08
_MAX_NAMED: Final = 6


class Flatness(PlainInspection):
    """See the module."""

    key = "flatness"
    title = "Flatness"
    when = "How flat is this face, where is it high, and does a piece rock on it?"
    order = 40
    main = "flatness"
    defaults: ClassVar = {
        "machine": "",
        "read_from": "stand",
        "length": 200.0,
        "width": 120.0,
        "columns": 4,
        "rows": 3,
        "tolerance": 0.02,
    }

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        tables = [(m.id, m.name) for m in shop.machines if m.kind not in (MachineKind.LATHE, MachineKind.ROTARY_TABLE)]
        return (
            choice("machine", "Table of", [("", "no machine"), *tables], "a machine, when it is its table that is measured"),
            choice("read_from", "Indicator held by", READ_FROM, "the spindle shows how the table rises against its slides"),
            size("length", "Length of the grid", "first to last column", 5, 5000, feature="face"),
            size("width", "Width of the grid", "first to last row", 5, 5000, feature="face"),
            count("columns", "Columns", 2, 12, "places along the length"),
            count("rows", "Rows", 2, 12, "places across"),
            tolerance("Out of flat allowed", "from the drawing, or what the work bears"),
            *tool_parameters(shop, "an indicator on a height stand, from one plane"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        nx, ny = int(values.number("columns")), int(values.number("rows"))
        dx, dy = values.number("length") / (nx - 1), values.number("width") / (ny - 1)
        spots = [(i, j) for j in range(ny) for i in (range(nx) if j % 2 == 0 else reversed(range(nx)))]  # to and fro
        return tuple(
            Place(
                key=f"c{i + 1}r{j + 1}",
                label=f"column {i + 1}, row {j + 1}",
                quantity=Quantity.DEVIATION,
                at=(i * dx, j * dy),
                low=-5,
                high=5,
                spot=(i * dx, j * dy),
            )
            for i, j in spots
        )

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        """The grid of a machine's table stands in from its edges by a twentieth."""
        table = table_of(shop, str(chosen["machine"].value)) if "machine" in chosen else None
        if table is None or not (table.table_length_mm and table.table_width_mm):
            return dict(self.defaults)
        return {
            **self.defaults,
            "length": _under_the_spindle(table, "X", table.table_length_mm),
            "width": _under_the_spindle(table, "Y", table.table_width_mm),
            "read_from": "spindle",
            "columns": 6,
        }

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked = self.parameters(shop)
        figures, checks, steps = self.begun(asked, values)
        findings: tuple[ShopFinding, ...] = ()
        groups = [parameter_group("Set up", asked)]
        contours: list[Element] = []
        read = [p for p in sheet.places if sheet.has(p.key)]
        if sheet.complete:
            fit = fit_plane([(*p.spot, sheet.mean(p.key)) for p in sheet.places])
            u = K_95 * sheet.sigma * math.sqrt(2)
            at = {p.key: off for p, off in zip(sheet.places, fit.off_mm, strict=True)}
            high, low = sheet.places[fit.high_point], sheet.places[fit.low_point]
            figures += [
                found(
                    "flatness",
                    "Flatness",
                    fit.flatness_mm,
                    u,
                    (
                        "highest − lowest over the least-squares plane",
                        f"{format_number(max(fit.off_mm), 4)} − {format_number(min(fit.off_mm), 4)}",
                    ),
                    features=(high.key, low.key),
                ),
                found("zone", "Narrowest zone", fit.zone_mm, u, ("least distance of two planes with all places between", "")),
                found("slope_x", "Slope along", fit.slope_x * 1000, _slope_u(sheet, 0), ("least squares", ""), unit="mm/m"),
                found("slope_y", "Slope across", fit.slope_y * 1000, _slope_u(sheet, 1), ("least squares", ""), unit="mm/m"),
            ]
            groups.append(Group("Found", ("flatness", "zone", "slope_x", "slope_y")))
            checks.append(
                within(
                    "zone",
                    "Flatness, narrowest zone",
                    fit.zone_mm,
                    u,
                    values.number("tolerance"),
                    ("flat enough", "too close to the limit to be sure", "not flat enough"),
                    features=(high.key, low.key),
                )
            )
            checks.append(_rest_check(sheet, fit, values, u))
            steps = _orders(sheet, fit, values.number("tolerance"), u)
            findings = _findings(values, shop, fit, u, (_slope_u(sheet, 0), _slope_u(sheet, 1)))
            spots = {(p.spot[0], p.spot[1]): at[p.key] for p in sheet.places}
            contours = contour(*fine_grid(sorted({x for x, _ in spots}), sorted({y for _, y in spots}), spots))
            away = 0.05 * max(values.number("length"), values.number("width"))
            contours += [
                Note((p.at[0], p.at[1] - away), words, feature=p.key, align=0)
                for p, words in ((high, "highest"), (low, "lowest"))
            ]
        elif len(read) > 3:
            contours = contour([(p.spot[0], p.spot[1]) for p in read], [sheet.mean(p.key) for p in read])
        return self.told(
            values,
            sheet,
            figures,
            checks,
            groups,
            scene=_scene(sheet, values, contours),
            steps=steps,
            cautions=(f"Wipe face and foot at every place: a chip of {length(0.02)} is a hill of {length(0.02)}",),
            findings=findings,
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise:
        hollow, twist = chance.uniform(-0.04, 0.04), chance.gauss(0, 0.01)
        slope_x, slope_y = chance.gauss(0, 2e-4), chance.gauss(0, 2e-4)
        wide, deep = values.number("length"), values.number("width")
        true, points = {}, []
        for place in self.places(values, shop):
            x, y = place.spot
            u, v = 2 * x / wide - 1, 2 * y / deep - 1
            z = hollow * (u * u + v * v) / 2 + twist * u * v + slope_x * x + slope_y * y
            true[place.key] = z
            points.append((x, y, z))
        fit = fit_plane(points)
        return Exercise(
            tool="dial",
            true=true,
            answers={"flatness": fit.flatness_mm, "slope_x": fit.slope_x * 1000, "slope_y": fit.slope_y * 1000},
        )


def _under_the_spindle(table: Machine, axis: str, size_mm: float) -> float:
    """Of a side of a table what its slide brings under the spindle, in from the edges by a twentieth."""
    wheel = table.axes.get(axis)
    return float(round(min(0.9 * size_mm, wheel.travel_mm if wheel is not None and wheel.travel_mm else math.inf)))


def table_of(shop: Shop, id: str) -> Machine | None:
    return next((m for m in shop.machines if m.id == id), None) if id else None


def _findings(values: Values, shop: Shop, fit: PlaneFit, u_mm: float, u_slopes: tuple[float, float]) -> tuple[ShopFinding, ...]:
    """The table as it was found: flatness with its uncertainty on top, and its rise when the spindle held the indicator."""
    table = table_of(shop, values.word("machine"))
    if table is None:
        return ()
    # The grid's columns lie along X, its rows along Y. A stand on the same face knows nothing of the slides.
    known = replace(table, table_flat_um=round(1000 * (fit.zone_mm + u_mm), 1))
    if values.word("read_from") == "spindle":
        # Pressed in by a higher place: + is up. What is less than its own uncertainty is not known, and counted as that.
        rises = (
            1000 * s if abs(1000 * s) > u else math.copysign(u, s)
            for s, u in zip((fit.slope_x, fit.slope_y), u_slopes, strict=True)
        )
        x, y = (round(r, 4) for r in rises)
        known = replace(known, table_rise_x_mm_m=x, table_rise_y_mm_m=y)
    return (ShopFinding(key="flatness", words=f"Keep as {table.name}'s table", items=(known,)),)


def _slope_u(sheet: Sheet, axis: int) -> float:
    """mm/m: a grid is symmetric, so the slopes do not depend on each other."""
    spots = [p.spot[axis] for p in sheet.places]
    middle = math.fsum(spots) / len(spots)
    return 1000 * K_95 * sheet.sigma / math.sqrt(math.fsum((s - middle) ** 2 for s in spots))


def contacts(spots: Sequence[tuple[float, float]], heights: Sequence[float], near: float = 1e-9) -> tuple[int, ...]:
    """The places a flat piece rests on when it lies over the middle of the face.

    Of every plane on or above all places the one that is lowest over the middle touches three of them: a linear
    programme in slopes and height. Places it comes as near to as the readings can tell count as well.

    Args:
        spots: (x, y).
        heights: One of each.
        near: What still counts as touching.
    """
    import numpy as np
    from scipy.optimize import linprog

    places, high = np.asarray(spots, dtype=float), np.asarray(heights, dtype=float)
    middle = (places.min(axis=0) + places.max(axis=0)) / 2
    about = (places - middle) / np.abs(places - middle).max()
    scale = float(np.ptp(high)) or 1.0
    up = (high - high.mean()) / scale
    rows = -np.column_stack([about, np.ones(len(about))])
    solved = linprog([0.0, 0.0, 1.0], A_ub=rows, b_ub=-up, bounds=(None, None), method="highs-ds")
    if solved.x is None:  # bounded from below by the highest place: it always has an answer
        return tuple(range(len(about)))
    gap = scale * (about @ solved.x[:2] + solved.x[2] - up)
    # Over a peak in the very middle, or a ridge across it, the plane may tip anyhow: then it touches in one place, or two.
    return tuple(int(i) for i in np.flatnonzero(gap <= max(near, 1e-7 * scale)))


def steadiness(spots: Sequence[tuple[float, float]], on: Sequence[int]) -> float:
    """How far the middle of all places lies inside the outline of those that bear, mm; 0 when it lies on its edge.

    Args:
        spots: (x, y) of every place.
        on: Indices of those that bear.
    """
    from shapely import MultiPoint, Point

    xs, ys = [x for x, _ in spots], [y for _, y in spots]
    middle = Point((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
    outline = MultiPoint([spots[i] for i in on]).convex_hull
    return float(outline.boundary.distance(middle)) if outline.area > 0 and outline.covers(middle) else 0.0


def _rest_check(sheet: Sheet, fit: PlaneFit, values: Values, u: float) -> Check:
    spots = [(p.spot[0], p.spot[1]) for p in sheet.places]
    on = contacts(spots, fit.off_mm, u / 2)
    reach = steadiness(spots, on)
    share = 100 * reach / min(values.number("length"), values.number("width"))
    names = ", ".join(sheet.places[i].label for i in on[:4]) + ("" if len(on) <= 4 else f" and {len(on) - 4} more")
    return judged(
        "rests",
        "Rests without rocking",
        share,
        Limits(marginal_below=100 * _ROCKS),
        (f"a flat piece rests on {names}", f"a flat piece rocks: only {names} bear, and the middle hangs over their edge", ""),
        unit="%",
        features=tuple(sheet.places[i].key for i in on),
        derivation=("how far the middle lies inside the places that bear, of the shorter side", f"{reach:.1f} mm"),
        step=1.0,
    )


def _orders(sheet: Sheet, fit: PlaneFit, limit: float, u: float) -> list[str]:
    """Where to take off, the highest first: what stands more than the limit over the lowest place."""
    if fit.zone_mm + u <= limit:
        return ["Flat enough, for certain: put it back to work"]
    low = min(fit.off_mm)
    over = sorted(
        ((off - low - limit, p) for off, p in zip(fit.off_mm, sheet.places, strict=True) if off - low > limit),
        key=lambda pair: -pair[0],
    )
    if not over:
        return ["Close to what is allowed: measure again with a better indicator before anything is taken off"]
    said = "; ".join(f"{length(most)} at {p.label}" for most, p in over[:_MAX_NAMED])
    more = f"; and less at {len(over) - _MAX_NAMED} more" if len(over) > _MAX_NAMED else ""
    return [
        f"Take off {said}{more}: scrape or lap only the high places, a little each pass",
        "Blue it, wipe, and measure the same grid again after every pass: the history shows what each one did",
    ]


def _scene(sheet: Sheet, values: Values, contours: list[Element]) -> Scene:
    long, wide = values.number("length"), values.number("width")
    edge = 0.08 * max(long, wide)
    frame = box(-edge, -edge, long + edge, wide + edge, Style.BODY, "face")
    elements: list[Element] = [frame, Path(frame.points, Style.VISIBLE, "face", closed=True), *contours]
    ny, nx = int(values.number("rows")), int(values.number("columns"))
    elements += [Line((0, wide * j / (ny - 1)), (long, wide * j / (ny - 1)), Style.SURROUNDINGS, "grid") for j in range(ny)]
    elements += [Line((long * i / (nx - 1), 0), (long * i / (nx - 1), wide), Style.SURROUNDINGS, "grid") for i in range(nx)]
    rings, numbers = marks(sheet, 0.012 * max(long, wide), sign=True)
    return Scene("grid", "The face from above", tuple(elements + rings), tuple(numbers))


KIND = Flatness()
