"""Two angles at once on two stacked sine plates, and which of three different things a compound angle means."""

from __future__ import annotations

import math
from collections.abc import Mapping

from elbrix.angles.compound import Tilt, from_projections, onto_two_plates, tilt_fixed_axes, tilt_own_axes
from elbrix.angles.from_boxes import owned_boxes, stacks_at_once
from elbrix.angles.kinds.plain import PlainKind, beside, parameter_figures, propose_plain
from elbrix.angles.pictures import along
from elbrix.angles.setup import AngleSetup, SetupStep, Table
from elbrix.angles.sine import SinePlate
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Scene, Side, Style
from elbrix.gauging.build_up import Sources
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values
from elbrix.quantities.angles import show_angle
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, Figure
from elbrix.results.formulas import reckoned, term, worked
from elbrix.shop.shop import Shop

MEANINGS = (
    ("own", "tilt about X, then about the work's own Y"),
    ("fixed", "tilt about X, then about the table's Y"),
    ("slopes", "slopes seen from the front and from the side"),
    ("true", "one true tilt and the direction it falls"),
)
PARAMETERS = (
    Parameter(name="meaning", label="Angles given as", kind=Kind.CHOICE, unit="", choices=MEANINGS),
    Parameter(
        name="first",
        label="First angle",
        kind=Kind.ANGLE,
        unit="",
        low=-89,
        high=89,
        usually="about X, the slope from the front, or the true tilt",
        feature="front",
    ),
    Parameter(
        name="second",
        label="Second angle",
        kind=Kind.ANGLE,
        unit="",
        low=-360,
        high=360,
        usually="about Y, the slope from the side, or the direction",
        feature="side",
    ),
    Parameter(name="lower_centres", label="Lower plate centres", kind=Kind.LENGTH, low=10, high=500, step=0.001, feature="front"),
    Parameter(name="upper_centres", label="Upper plate centres", kind=Kind.LENGTH, low=10, high=500, step=0.001, feature="side"),
)


class TwoTilts(PlainKind):
    """See the module."""

    key = "two_tilts"
    title = "Two angles at once"
    when = "A face that leans two ways: one true tilt, its direction, and both stacks"
    order = 2

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        boxes = tuple((b.id, b.name) for b in owned_boxes(shop))
        return (*PARAMETERS, Parameter(name="block_set", label="Block set", kind=Kind.CHOICE, unit="", choices=boxes))

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        centres = shop.sine_tools[0].centres_mm if shop.sine_tools else 100.0
        return propose_plain(
            chosen,
            {
                "meaning": "own",
                "first": math.radians(20),
                "second": math.radians(10),
                "lower_centres": centres,
                "upper_centres": centres,
                "block_set": owned_boxes(shop)[0].id,
            },
        )

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        a, b, meaning = values.number("first"), values.number("second"), values.word("meaning")
        try:
            tilt = self._tilt(meaning, a, b)
            x, y = onto_two_plates(tilt.true_rad, tilt.downhill_rad)
            base, top = SinePlate(centres_mm=values.number("lower_centres")), SinePlate(centres_mm=values.number("upper_centres"))
            heights = (base.stack_mm(abs(x)), top.stack_mm(abs(y)))
        except ShopError as error:
            raise beside(error, "second" if abs(b) >= math.pi / 2 and meaning != "true" else "first") from None
        box = next((g for g in owned_boxes(shop) if g.id == values.word("block_set")), owned_boxes(shop)[0])
        stacks = stacks_at_once(Sources(box=box, holder=holder), heights)
        slopes = (math.atan2(-tilt.normal[0], tilt.normal[2]), math.atan2(-tilt.normal[1], tilt.normal[2]))
        parameters = self.parameters(shop)
        figures = [
            *parameter_figures(parameters, values),
            Figure(
                key="true",
                label="True tilt",
                value=math.degrees(tilt.true_rad),
                unit="",
                text=show_angle(tilt.true_rad, "dms"),
                features=("front", "side"),
                derivation=Derivation(
                    "cos T = n_z, z of the upward normal",
                    f"n = ({tilt.normal[0]:.6f}, {tilt.normal[1]:.6f}, {tilt.normal[2]:.6f})",
                    "z up, right-handed",
                ),
            ),
            Figure(
                key="downhill",
                label="Downhill direction",
                value=math.degrees(tilt.downhill_rad),
                unit="",
                text=show_angle(tilt.downhill_rad % (2 * math.pi), "dms"),
                features=("above",),
                derivation=Derivation(
                    "atan2(n_y, n_x)",
                    f"atan2({tilt.normal[1]:.6f}, {tilt.normal[0]:.6f})",
                    "counter-clockwise from +X, seen from above",
                ),
            ),
            reckoned(
                "slope_front",
                "Slope in the front view",
                worked(
                    "atan(−n_x/n_z)",
                    term(tilt.normal[0], 6),
                    term(tilt.normal[2], 6),
                    source="the plane cut by the front: z = x·tan A",
                ),
                unit="",
                text=show_angle(slopes[0], "dms"),
                features=("front",),
            ),
            reckoned(
                "slope_side",
                "Slope in the side view",
                worked(
                    "atan(−n_y/n_z)",
                    term(tilt.normal[1], 6),
                    term(tilt.normal[2], 6),
                    source="the plane cut by the side: z = y·tan B",
                ),
                unit="",
                text=show_angle(slopes[1], "dms"),
                features=("side",),
            ),
            reckoned(
                "plate_x",
                "Lower plate tilt, about X",
                worked(
                    "asin(−n_y/cos(y))",
                    term(tilt.normal[1], 6),
                    term(math.degrees(y), 6, "°"),
                    source="the base carries the tilt about X",
                ),
                unit="",
                text=show_angle(x, "dms"),
                features=("front",),
            ),
            reckoned(
                "plate_y",
                "Upper plate tilt, own Y",
                worked("asin(n_x)", term(tilt.normal[0], 6), source="turned with the lower plate"),
                unit="",
                text=show_angle(y, "dms"),
                features=("side",),
            ),
            reckoned(
                "stack_base",
                "Lower plate stack",
                worked("C·sin(|x|)", term(base.centres_mm, 4), term(math.degrees(x), 6, "°")),
                step=0.0001,
                features=("front",),
            ),
            reckoned(
                "stack_top",
                "Upper plate stack",
                worked("C·sin(|y|)", term(top.centres_mm, 4), term(math.degrees(y), 6, "°")),
                step=0.0001,
                features=("side",),
            ),
        ]
        for key, label, built in zip(
            ("blocks_base", "blocks_top"), ("Lower stack blocks", "Upper stack blocks"), stacks or (), strict=False
        ):
            figures.append(
                Figure(
                    key=key,
                    label=label,
                    value=0.0,
                    unit="",
                    text=built.words if built.pieces else "none: it lies flat",
                    derivation=Derivation(
                        "both stacks from one box at once, fewest blocks in all", built.words, "to the set's own step"
                    ),
                )
            )
        other = self._other_meaning(meaning, a, b)
        away = math.degrees(max(self._between(tilt, t) for _, t in other)) * 60 if other else 0.0
        steep = math.degrees(max(abs(x), abs(y)))
        checks = [
            Check(
                key="meaning",
                label="Difference if read otherwise",
                value=away,
                unit="′",
                limits=Limits(marginal_above=3.0),
                figures=("meaning",),
                features=("above",),
                reason=(
                    "ask the draughtsman which is meant: the same two numbers give another face"
                    if away > 3
                    else "so small that all readings agree"
                ),
                derivation=Derivation(
                    "angle between the normals",
                    "; ".join(
                        f"{dict(MEANINGS)[m]}: tilt {show_angle(t.true_rad, 'dms')}, falls to"
                        f" {show_angle(t.downhill_rad % (2 * math.pi), 'dms')}"
                        for m, t in other
                    ),
                ),
            ),
            Check(
                key="steep",
                label="Steepest plate",
                value=steep,
                unit="deg",
                limits=Limits(marginal_above=45, no_above=60),
                figures=("plate_x", "plate_y"),
                reason="over 60° turn the work" if steep > 60 else "over 45° a µm turns it far" if steep > 45 else "flat enough",
            ),
            Check(
                key="both",
                label="Both stacks from one set",
                value=1 if stacks else 0,
                unit="",
                limits=Limits(no_below=1),
                text="yes" if stacks else "no",
                figures=("block_set",),
                reason=(
                    "no block is wanted twice"
                    if stacks
                    else f"the blocks that are here cannot make both to the step of {box.name}: a second set or a solid spacer"
                ),
            ),
        ]
        rows = ("stack_base", "stack_top", *(("blocks_base", "blocks_top") if stacks else ()), "block_set")
        table = Table(
            title="The three meanings",
            header=("Given as", "True tilt", "Falls to"),
            rows=tuple(
                (dict(MEANINGS)[m], show_angle(t.true_rad, "dms"), show_angle(t.downhill_rad % (2 * math.pi), "dms"))
                for m, t in ((meaning, tilt), *other)
            ),
        )
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            scenes=(self._scene(tilt, slopes, meaning, (a, b)),),
            table=table,
            stacks=tuple(s for s in stacks or () if s.pieces),
            groups=(
                Group("Drawing", ("meaning", "first", "second")),
                Group("Resulting tilt", ("true", "downhill", "slope_front", "slope_side")),
                Group("Two stacked sine plates", ("lower_centres", "upper_centres", "plate_x", "plate_y")),
                Group("Stacks", rows),
            ),
            steps=(
                SetupStep(
                    "Lower plate: stack under its roll, lock it", "the base carries the tilt about X", show_angle(abs(x), "dms")
                ),
                SetupStep(
                    "Upper plate: stack under its roll, lock it",
                    "about its own Y, which leans with the lower plate",
                    show_angle(abs(y), "dms"),
                ),
                SetupStep(
                    "Check the finished tilt: true tilt and the side it falls to",
                    "a sign turned round falls the other way",
                    show_angle(tilt.true_rad, "dms"),
                ),
            ),
            cautions=(
                "Two stacked plates are heavy and top-heavy: clamp the lower one first, lift with help",
                "Never mill on gauge blocks: clamp the plates at their sides",
            ),
        )

    def _tilt(self, meaning: str, a: float, b: float) -> Tilt:
        if meaning == "own":
            return tilt_own_axes(a, b)
        if meaning == "fixed":
            return tilt_fixed_axes(a, b)
        if meaning == "slopes":
            true, uphill = from_projections(a, b)
            return _tilt_of(true, uphill + math.pi)
        if not 0 <= a < math.pi / 2:
            raise EntryError(
                "True tilt",
                f"{math.degrees(a):g}°",
                "A true tilt is from 0° to under 90°",
                "The direction says which way",
                "first",
            )
        return _tilt_of(a, b)

    def _other_meaning(self, meaning: str, a: float, b: float) -> list[tuple[str, Tilt]]:
        """The same slopes read as the other things they might mean.

        A turn about X slopes y, one about Y slopes x the other way.
        """
        if meaning == "true":
            return []
        x, y = (b, -a) if meaning == "slopes" else (a, b)
        found = []
        for key, first, second in (("own", x, y), ("fixed", x, y), ("slopes", -y, x)):
            if key != meaning:
                try:
                    found.append((key, self._tilt(key, first, second)))
                except ShopError:
                    continue
        return found

    def _between(self, one: Tilt, other: Tilt) -> float:
        n, m = one.normal, other.normal
        cross = math.hypot(n[1] * m[2] - n[2] * m[1], n[2] * m[0] - n[0] * m[2], n[0] * m[1] - n[1] * m[0])
        return math.atan2(cross, sum(p * q for p, q in zip(n, m, strict=True)))

    def _scene(self, tilt: Tilt, slopes: tuple[float, float], meaning: str, given: tuple[float, float]) -> Scene:
        """The face from the front and from the side, and from above the way it falls."""
        size, high, gap = 100.0, 46.0, 62.0
        elements: list[Element] = []
        dims: list[Dimension] = []
        for i, (slope, name, title) in enumerate(
            ((slopes[0], "front", "from the front, x to the right"), (slopes[1], "side", "from the side, y to the right"))
        ):
            left = i * (size + gap)
            rise = size * math.tan(max(-1.3, min(1.3, slope)))
            low = min(0.0, rise)
            ring = ((left, -high + low), (left + size, -high + low), (left + size, rise), (left, 0.0))
            elements += [
                Path(ring, Style.BODY, name, closed=True),
                Path(ring, Style.VISIBLE, name, closed=True),
                Line((left, 0), (left + size * 1.12, 0), Style.CENTRE),
            ]
            start, end = sorted((0.0, math.degrees(slope)))
            elements.append(Arc((left, 0), size * 0.5, start, end, Style.CENTRE, name))
            elements.append(Note((left + size / 2, -high + low - 12), title, quiet=True, align=0))
            live = ("first", "second")[i] if meaning == "slopes" else ""
            dims.append(
                Dimension(
                    f"slope_{name}",
                    (left, 0),
                    along((left, 0), slope / 2, size * 0.66, 0),
                    Side.AT,
                    text=show_angle(slope, "dms"),
                    value_mm=math.degrees(slope),
                    feature=name,
                    entry=live,
                    order=i,
                )
            )
            if meaning in ("own", "fixed"):
                turn, about = (given[1], "about Y") if i == 0 else (given[0], "about X")
                at = (left + size / 2, -high + low - 30)
                dims.append(
                    Dimension(
                        about,
                        at,
                        at,
                        Side.AT,
                        prefix=about + " ",
                        text=show_angle(turn, "dms"),
                        value_mm=math.degrees(turn),
                        feature=name,
                        entry="second" if i == 0 else "first",
                        order=1 - i,
                    )
                )
        middle = (2 * (size + gap) + size * 0.42, -high * 0.2)
        r = size * 0.42
        d = tilt.downhill_rad
        tip = along(middle, d, r * 0.92, 0)
        elements += [
            Arc(middle, r, style=Style.SURROUNDINGS, feature="above"),
            Line((middle[0] - r, middle[1]), (middle[0] + r, middle[1]), Style.CENTRE),
            Line((middle[0], middle[1] - r), (middle[0], middle[1] + r), Style.CENTRE),
        ]
        elements += [
            Line(along(middle, d + math.pi, r * 0.8, 0), tip, Style.TOOL, "above"),
            Line(tip, along(tip, d + 2.7, r * 0.2, 0), Style.TOOL, "above"),
            Line(tip, along(tip, d - 2.7, r * 0.2, 0), Style.TOOL, "above"),
        ]
        elements += [
            Note((middle[0] + r + 5, middle[1]), "x", quiet=True),
            Note((middle[0], middle[1] + r + 7), "y", quiet=True, align=0),
            Note((middle[0], middle[1] - r - 12), "from above: it falls along the arrow", quiet=True, align=0),
        ]
        dims.append(
            Dimension(
                "true",
                middle,
                along(middle, d + math.pi / 2, r * 0.45, 0),
                Side.AT,
                text=show_angle(tilt.true_rad, "dms"),
                value_mm=math.degrees(tilt.true_rad),
                suffix="true",
                feature="above",
                entry="first" if meaning == "true" else "",
            )
        )
        return Scene("two tilts", "The face from two sides, and the way it falls", tuple(elements), tuple(dims))


def _tilt_of(true: float, downhill: float) -> Tilt:
    s = math.sin(true)
    return Tilt(
        true, math.atan2(math.sin(downhill), math.cos(downhill)), (s * math.cos(downhill), s * math.sin(downhill), math.cos(true))
    )


KIND = TwoTilts()
