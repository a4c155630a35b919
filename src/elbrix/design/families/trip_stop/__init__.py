"""Trip stop for a power feed: a slotted bar with a scale, and what its scale is worth by trials.

x along the bar, y across from its middle, z up from its back.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, circles, hidden_lines, hole_checks, hole_table, pattern
from elbrix.design.families.trip_stop.sizes import PARAMETERS, TripStopSizes
from elbrix.design.families.trip_stop.trials import CONFIDENCE
from elbrix.design.family import Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.parts import Part, screws
from elbrix.design.thin import held_check
from elbrix.design.work import IN_VISE, Blank, HandOperation, Pocket, Step, Work
from elbrix.drawing.scene import Arc, Dimension, Element, Handle, Line, Note, Scene, Side, Style, box
from elbrix.parameters.parameter import Group, ParameterValue, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_up
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.statistics import student_95


class TripStop:
    """See the module."""

    key = "trip_stop"
    title = "Trip stop with a scale"
    when = "When the power feed has to throw out at the same place, and you want to know how near it comes."
    group = "stop it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        travel = p.assume("travel", 100.0)
        screw = p.assume("screw", "M6")
        clear = clearance_hole(screw).value
        mills = sorted(c.diameter_mm for c in shop.square_end_mills() if clear - 0.35 <= c.diameter_mm <= clear + 1.6)
        slot = p.measure(
            "slot_width",
            mills[0] if mills else round_up(clear, 0.5),
            "an owned cutter" if mills else "no owned cutter is near",
            known=bool(mills),
        )
        bear = head("socket_cap", screw, "head_d").value
        p.reckon("width", worked("max(2.2·slot; screw's head + 8)", slot, bear), up=1.0)
        p.reckon("thickness", worked("0.06·travel", travel), up=1.0, least=6.0)
        p.reckon("end_wall", worked("1.5·slot", slot), up=1.0)
        p.assume("nose_length", 20.0)
        p.assume("scale_screw", "none")
        p.assume("trials", "")
        p.assume("wanted_travel", 50.0)
        p.assume("travel_tolerance", 0.2)
        p.assume("material", "mild steel")
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = TripStopSizes(values)
        ends = (
            HoleLine(
                "S1",
                s.slot_x[0],
                0.0,
                f"centre of slot end 1; slot {length(s.slot)} wide, through",
                sizes=HoleSizes(diameter_mm=s.slot),
            ),
            HoleLine("S2", s.slot_x[1], 0.0, "centre of slot end 2", sizes=HoleSizes(diameter_mm=s.slot)),
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s)),
            checks=tuple(_checks(s)),
            holes=(*ends, *hole_table(s.scale)),
            datum="left end and middle of the width",
            note_words=f"Slot {length(s.slot)} × {length(s.slot_length)} through; nose square to {length(0.02)}",
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        told = {f.key for f in design.figures}
        line = tuple(k for k in ("count", "factor", "offset", "sigma", "setting", "band") if k in told)
        return (
            Group("Slot", ("travel", "screw", "slot_width", "slot_long")),
            Group("Bar", ("width", "thickness", "end_wall", "nose_length", "length", "scale_screw", "material", "pieces")),
            Group("Scale calibration", ("trials", *line, "wanted_travel", "travel_tolerance"), "one feed, one way"),
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = TripStopSizes(design.values)
        return (_in_place(s), _front(s), _top(s), _side(s))

    def solid(self, design: Design) -> Recipe:
        s = TripStopSizes(design.values)
        w, r, (a, b) = s.width / 2, s.slot / 2, s.slot_x
        bar = Prism(((0, -w), (s.length, -w), (s.length, w), (0, w)), 0.0, s.thickness, "xy")
        between = Prism(((a, -r), (b, -r), (b, r), (a, r)), -1.0, s.thickness + 1.0, "xy")
        ends = tuple(
            Turned(((0.0, -1.0), (r, -1.0), (r, s.thickness + 1.0), (0.0, s.thickness + 1.0)), (x, 0.0, 0.0)) for x in (a, b)
        )
        return Cut(bar, (between, *ends, *Span(0.0, s.thickness).tools(s.scale)))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = TripStopSizes(design.values)
        a, b = s.slot_x
        steps: list[Step] = []
        holes = pattern(s.scale, s.thickness, "Scale screws", x0=0.0, y0=0.0, id="scale")
        if holes is not None:
            steps.append(holes)
        steps.append(
            Pocket(
                name="Slot",
                corners=((a, 0.0), (b, 0.0)),
                depth_mm=s.thickness + 0.5,
                cutter_mm=s.slot,
                held=f"{IN_VISE} on parallels either side of the slot, a drill hole at its beginning",
                feature="slot_width",
                id="slot",
            )
        )
        steps.append(
            HandOperation(
                name="Try it",
                words=(
                    "Set the scale at three places or more over what you use, run the feed into it, read where the slide stopped;"
                    " the same feed, the same direction, the slide locked the same. Type the pairs: the line and its band stand"
                    " on the card."
                ),
                tools=("readout or indicator",),
                caution="The first runs by hand: a trip that does not throw out drives the table into its end.",
                check="Three runs by hand to the same place before the feed is trusted.",
            )
        )
        blank = Blank(
            width_mm=s.width,
            height_mm=s.thickness,
            length_mm=s.length,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """It goes on the feed's own bracket, in no slot that Shop knows."""
        return ()

    def parts(self, design: Design) -> tuple[Part, ...]:
        s, v = TripStopSizes(design.values), design.values
        scale = screws(len(s.scale), v.word("scale_screw"), "for the scale", feature="scale")
        return (*screws(1, v.word("screw"), "through the slot, with its washer", feature="slot_width"), *scale)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = TripStopSizes(design.values)
        words = f"trips over {length(s.travel)}" + (
            f", ±{length(s.line.band(s.line.setting(s.v.number('wanted_travel'))), 2)}" if s.line else ", not tried yet"
        )
        return (Capability("trip", words, {"travel_mm": s.travel}),)


def _figures(s: TripStopSizes) -> list[Figure]:
    v = s.v
    found = [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned("slot_long", "Slot length", worked("travel + cutter", s.travel, s.slot), step=0.1, features=("slot_width",)),
        reckoned(
            "length",
            "Bar length",
            worked("end + slot + the larger of end and nose", s.end, s.slot_length, max(s.end, s.nose)),
            step=0.1,
            features=("bar",),
        ),
        Figure(
            key="count",
            label="Number of trials",
            value=len(s.readings),
            unit="",
            text=f"{len(s.readings)} of 3 at least" if len(s.readings) < 3 else f"{len(s.readings)} trials",
            features=("scale",),
        ),
    ]
    if s.line is not None:
        n, (k, o) = s.line, (s.line.factor, s.line.offset)
        set_at = n.setting(v.number("wanted_travel"))
        found += [
            Figure(
                key="factor",
                label="Scale factor",
                value=k,
                unit="",
                text=f"{k:.4f}",
                features=("scale",),
                derivation=Derivation("Σ(s − s̄)(r − r̄)/Σ(s − s̄)²", format_number(k, 6), f"least squares on {n.n} trials"),
            ),
            Figure(
                key="offset",
                label="Stop at scale 0",
                value=o,
                step=0.001,
                features=("scale",),
                derivation=Derivation("r̄ − factor·s̄", format_number(o, 6)),
            ),
            Figure(
                key="sigma",
                label="Scatter of trials",
                value=n.sigma,
                step=0.001,
                features=("scale",),
                derivation=Derivation(
                    "√(Σ residual²/(n − 2)), no less than the step read/√12",
                    format_number(n.sigma, 6),
                    "guess: the digits typed are the step",
                ),
            ),
            reckoned(
                "setting",
                "Scale setting",
                worked("(wanted − offset)/factor", v.number("wanted_travel"), term(o, 6), term(k, 6)),
                step=0.05,
                features=("scale",),
            ),
            reckoned(
                "band",
                "Stop uncertainty ±",
                worked(
                    "t·σ·√(1 + 1/n + (s − s̄)²/Sxx)",
                    term(student_95(n.n - 2).value, 4),
                    term(n.sigma, 6),
                    n.n,
                    term(set_at, 4),
                    term(n.mean, 4),
                    term(n.spread, 4),
                    source="the next single stop, not the mean",
                ),
                step=0.001,
                features=("scale",),
                note=f"{CONFIDENCE:.0%} of the time",
            ),
        ]
    return found


def _checks(s: TripStopSizes) -> list[Check]:
    v = s.v
    screw = float(v.word("screw")[1:])
    found = [
        judged(
            "screw",
            "Screw clearance",
            worked("slot − screw", s.slot, screw),
            Limits(0.0, 0.2, 2.2),
            ("it slides", "tight" if s.slot - screw < 0.2 else "wide: the head bears on little", "it does not go in"),
            step=0.1,
            features=("slot_width",),
            figures=("slot_width", "screw"),
            remedies=("screw", "slot_width"),
        ),
        judged(
            "bears",
            "Head bearing width",
            worked("(head − slot)/2", s.head_d, s.slot),
            Limits(0.3, 1.0),
            ("it bears on both sides", "little: a washer under it", "it pulls through the slot"),
            step=0.1,
            features=("slot_width",),
            figures=("slot_width", "screw"),
            remedies=("screw",),
        ),
        judged(
            "rails",
            "Wall beside slot",
            worked("(width − slot)/2/thickness", s.width, s.slot, s.thickness),
            Limits(0.3, 0.5),
            ("the rails are stiff", "thin rails spring open under the screw", "they bend"),
            unit="× thick",
            features=("bar", "slot_width"),
            figures=("width", "slot_width"),
            remedies=("width",),
        ),
        judged(
            "end_wall",
            "End wall",
            worked("end/slot", s.end, s.slot),
            Limits(0.5, 1.0),
            ("the trip's blow is taken", "thin at the end", "the end breaks off"),
            unit="× slot",
            features=("bar",),
            figures=("end_wall",),
            remedies=("end_wall",),
        ),
        held_check(s.thickness, "thickness", ("bar",)),
        *hole_checks(s.scale, s.thickness, s.edge, v.word("material"), ("width", "scale_screw")),
        judged(
            "tried",
            "Number of trials",
            len(s.readings),
            Limits(marginal_below=5),
            (
                "the band is worth something",
                (
                    "three at least, five are better: until then the scale is only a guess"
                    if len(s.readings) < 3
                    else "few trials: the band is wide"
                ),
                "",
            ),
            unit="",
            text=f"{len(s.readings)} of 5",
            features=("scale",),
            figures=("trials",),
            derivation=("trials", str(len(s.readings))),
        ),
    ]
    if s.line is not None:
        at = s.line.setting(v.number("wanted_travel"))
        band, within = s.line.band(at), v.number("travel_tolerance")
        found.append(
            judged(
                "band",
                "Stop uncertainty",
                band,
                Limits(marginal_above=0.8 * within, no_above=within),
                (
                    f"within {length(within)}, {CONFIDENCE:.0%} of the time",
                    "all of what is allowed",
                    "not so near: creep up by hand, or find what scatters",
                ),
                step=0.001,
                features=("scale",),
                figures=("band", "sigma"),
                remedies=("travel_tolerance",),
                derivation=("its band, worked out above", format_number(band, 5)),
            )
        )
        low, high = min(q for q, _ in s.readings), max(q for q, _ in s.readings)
        out = max(low - at, at - high, 0.0)
        found.append(
            judged(
                "tried_there",
                "Range of trials",
                out,
                Limits(marginal_above=0.0, no_above=max(1.0, high - low)),
                ("between two trials", "outside what was tried: the line is only carried on", "far outside what was tried"),
                step=0.1,
                features=("scale",),
                figures=("setting", "trials"),
                remedies=("wanted_travel",),
                derivation=("beyond the nearest trial", format_number(out)),
            )
        )
    return found


# --- drawn ------------------------------------------------------------------------------------------------------------


def _slot(s: TripStopSizes, style: Style = Style.VISIBLE) -> list[Element]:
    (a, b), r = s.slot_x, s.slot / 2
    return [
        Line((a, r), (b, r), style, "slot_width"),
        Line((a, -r), (b, -r), style, "slot_width"),
        Arc((a, 0), r, 90, 270, style, "slot_width"),
        Arc((b, 0), r, -90, 90, style, "slot_width"),
        Line((-4, 0), (s.length + 4, 0), Style.CENTRE),
    ]


def _in_place(s: TripStopSizes) -> Scene:
    """On the feed's bracket with its lever, and the scale's divisions."""
    w, (a, b) = s.width / 2, s.slot_x
    found: list[Element] = [
        box(-14, -w - 12, s.length * 0.7, -w, Style.SURROUNDINGS_SECTION, "bracket"),
        box(0, -w, s.length, w, Style.BODY, "bar"),
        box(0, -w, s.length, w, Style.VISIBLE, "bar"),
        *_slot(s),
    ]
    at = a + 0.3 * s.travel
    found += [
        Arc((at, 0), s.head_d / 2, style=Style.SURROUNDINGS, feature="slot_width"),
        Arc((at, 0), s.clear / 2, style=Style.SURROUNDINGS, feature="slot_width"),
    ]
    count = max(4, min(40, int(s.travel // 5)))
    found += [
        Line((a + s.travel * i / count, w), (a + s.travel * i / count, w - (3.2 if i % 5 == 0 else 1.8)), Style.THIN, "scale")
        for i in range(count + 1)
    ]
    found += [
        box(s.length + 2, -w * 0.7, s.length + 8, w + 22, Style.SURROUNDINGS, "lever"),
        Note((s.length - 2, w + 18), "trip lever", quiet=True, align=1),
        Note((0, -w - 17), "bracket on the feed", quiet=True),
    ]
    dims = (
        Dimension("travel", (a, w), (b, w), Side.ABOVE, entry="travel", feature="slot_width", order=0),
        Dimension("width", (0, -w), (0, w), Side.LEFT, entry="width", feature="bar", order=1),
        Dimension(
            "slot_width",
            (s.length, -s.slot / 2),
            (s.length, s.slot / 2),
            Side.RIGHT,
            entry="slot_width",
            feature="slot_width",
            order=2,
        ),
    )
    return Scene("in place", "On the feed's bracket", tuple(found), dims, _handles(s))


def _handles(s: TripStopSizes) -> tuple[Handle, ...]:
    w = s.width / 2
    least = math.ceil(s.slot + 4)
    return (
        *(
            Handle(
                "width",
                (0, k * w),
                (s.length, k * w),
                (0.0, k),
                2.0,
                1.0,
                least,
                120.0,
                "metal is left beside the slot",
                "wider than it need be",
                "bar",
                value=s.width,
            )
            for k in (-1.0, 1.0)
        ),
        Handle(
            "travel",
            (s.length, -w),
            (s.length, w),
            (1.0, 0.0),
            1.0,
            1.0,
            2.0,
            800.0,
            "it has to adjust",
            "longer than any feed here",
            "slot_width",
            value=s.travel,
        ),
    )


def _top(s: TripStopSizes) -> Scene:
    w, (a, b) = s.width / 2, s.slot_x
    found: list[Element] = [
        box(0, -w, s.length, w, Style.BODY, "bar"),
        box(0, -w, s.length, w, Style.VISIBLE, "bar"),
        *_slot(s),
        *circles(s.scale),
    ]
    dims = (
        Dimension("length", (0, -w), (s.length, -w), Side.BELOW, feature="bar"),
        Dimension("slot_begins", (0, w), (a, w), Side.ABOVE, feature="slot_width", step_mm=0.1),
        Dimension("travel", (a, w), (b, w), Side.ABOVE, entry="travel", feature="slot_width"),
        Dimension("width", (0, -w), (0, w), Side.LEFT, entry="width", feature="bar"),
        Dimension(
            "slot_width", (s.length, -s.slot / 2), (s.length, s.slot / 2), Side.RIGHT, entry="slot_width", feature="slot_width"
        ),
    )
    return Scene("top", "Top", tuple(found), dims, _handles(s))


def _front(s: TripStopSizes) -> Scene:
    (a, b), r = s.slot_x, s.slot / 2
    found: list[Element] = [
        box(0, 0, s.length, s.thickness, Style.BODY, "bar"),
        box(0, 0, s.length, s.thickness, Style.VISIBLE, "bar"),
        *(Line((x, 0), (x, s.thickness), Style.HIDDEN, "slot_width") for x in (a - r, b + r)),
        *hidden_lines(s.scale, Span(0.0, s.thickness), lambda p, z: (p, z), lambda h: h.x),
    ]
    return Scene(
        "front",
        "Front",
        tuple(found),
        (Dimension("thickness", (s.length, 0), (s.length, s.thickness), Side.RIGHT, entry="thickness", feature="bar"),),
    )


def _side(s: TripStopSizes) -> Scene:
    w, r = s.width / 2, s.slot / 2
    found: list[Element] = [
        box(-w, 0, w, s.thickness, Style.VISIBLE, "bar"),
        *(Line((k * r, 0), (k * r, s.thickness), Style.HIDDEN, "slot_width") for k in (-1, 1)),
    ]
    return Scene("side", "Right end", tuple(found))


FAMILY: Final = TripStop()
