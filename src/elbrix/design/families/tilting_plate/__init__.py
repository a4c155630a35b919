"""Tilting plate: a plate screwed to a round bar that is held in the vise.

Tilted by hand, set by a level or protractor, held by the vise's jaws.

x along the bar, y back from its axis, z up from the plate's underside.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import HEAD_BELOW_MM, Span, counterbored, hole_checks, hole_table, pattern
from elbrix.design.families.tilting_plate import pictures, round_bar
from elbrix.design.families.tilting_plate.round_bar import CHAMFER
from elbrix.design.families.tilting_plate.sizes import OVER_BAR, PARAMETERS, UNDER_POINT, TiltingPlateSizes
from elbrix.design.family import Capability, Design, Request, SlotFit
from elbrix.design.hosts import vise_of
from elbrix.design.made_of import mass
from elbrix.design.parts import Part, made, screws
from elbrix.design.work import Blank, Groove, HandOperation, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.drilling import POINT, TAP_LEAD_PITCHES
from elbrix.mechanics.lifting import lifting_check
from elbrix.parameters.parameter import Group, ParameterValue, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down
from elbrix.results.checks import Check, Limits, Points, Verdict, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.angle_tools import AngleToolKind
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Form
from elbrix.solids.recipe import Cut, Prism, Recipe


class TiltingPlate:
    """See the module."""

    key = "tilting_plate"
    title = "Tilting plate"
    when = "When an angle is wanted quickly, and a level or protractor is close enough."
    group = "tilt it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, str(chosen["vise"].value) if "vise" in chosen else "")
        p.measure("vise", vise.name, "Shop", known=known)
        p.assume("part", "plate")
        high = p.measure("jaw_height", vise.jaw_height_mm, vise.name, known=known)
        p.measure("jaw_thickness", vise.jaw_thickness_mm, vise.name, known=known)
        p.assume("tilt", 15.0)
        below = p.assume("axis_depth", 1.0)
        most = 2 * (high - below) - 1
        bars = sorted(
            b.width_mm for b in shop.bars if b.form is Form.ROUND and "steel" in b.material and b.width_mm <= min(high, most)
        )
        bar = p.measure(
            "bar_diameter",
            bars[-1] if bars else round_down(min(high, most), 1.0),
            "the thickest on the rack" if bars else "none on the rack",
            known=bool(bars),
        )
        p.measure("bar_length", vise.jaw_width_mm, vise.name, known=known)
        notch = p.reckon("notch_width", worked("0.6·D", bar, source="it lies on two edges"), down=0.5)
        deep = p.reckon("notch_depth", worked(f"(D − √(max(0; D² − w²)))/2 + {OVER_BAR:g}", bar, notch), up=0.1)
        screw = p.assume("screw", "M6" if bar >= 18 else "M5" if bar >= 14 else "M4")
        head = counterbored("S", 0, 0, screw)
        p.reckon("thickness", worked("counterbored head + 0.8·hole + notch", head.bore_depth, head.drill, deep), up=1.0)
        p.assume("front_length", 35.0)
        p.assume("rear_length", 35.0)
        length = p.reckon("length", worked("jaws' width", vise.jaw_width_mm), down=5.0, most=120.0)
        p.reckon("screw_spacing", worked("0.6·length", length), down=1.0)
        p.assume("pattern", "grid 20")
        p.assume("work_thread", "M6x1")
        levels = [t for t in shop.angle_tools if t.kind in (AngleToolKind.LEVEL, AngleToolKind.PROTRACTOR)]
        best = min(levels, key=lambda t: t.resolution_deg + t.error_deg, default=None)
        p.measure(
            "reading_resolution",
            best.resolution_deg if best else 0.1,
            best.name if best else "no level in Shop",
            known=best is not None,
        )
        p.measure(
            "tool_error", best.error_deg if best else 0.1, best.name if best else "no level in Shop", known=best is not None
        )
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = TiltingPlateSizes(values)
        note = (
            _bar_note(s)
            if s.bar_shown
            else f"Notch {length(s.notch)} × {length(s.notch_depth)} along it, parallel to the face within {length(0.02)}; bar"
            f" Ø{length(s.bar)} × {length(values.number('bar_length'))}, {values.word('screw')}"
            f" {length(s.engaged, 1)} deep in it"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s)),
            checks=tuple(_checks(s)),
            holes=() if s.bar_shown else hole_table(s.holes),
            datum="middle of the length and the bar's axis",
            note_words=note,
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("Vise", ("vise", "jaw_height", "jaw_thickness", "bar_diameter", "bar_length", "axis_depth", "stands")),
            Group("Tilt", ("tilt", "front_down", "back_down", "reading_resolution", "tool_error", "error")),
            Group("Notch", ("notch_width", "notch_depth", "drop", "sinks")),
            Group("Plate", ("part", "front_length", "rear_length", "length", "thickness", "material", "mass", "pieces")),
            Group("Screws", ("screw", "screw_spacing", "engaged", "drilled", "screw_long")),
            Group("Work holes", ("pattern", "hole_count", "work_thread")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = TiltingPlateSizes(design.values)
        if s.bar_shown:
            return (pictures.in_place(s), *round_bar.views(s))
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = TiltingPlateSizes(design.values)
        if s.bar_shown:
            return round_bar.solid(s)
        return Cut(Prism(pictures.profile(s), -s.length / 2, s.length / 2, "yz"), Span(0.0, s.thickness).tools(s.holes))

    def section(self, design: Design) -> tuple[str, float]:
        if TiltingPlateSizes(design.values).bar_shown:
            return "y", 0.0
        return "x", design.values.number("screw_spacing") / 2

    def work(self, design: Design, shop: Shop) -> Work:
        s = TiltingPlateSizes(design.values)
        v = s.v
        if s.bar_shown:
            return round_bar.work(s)
        steps: list[Step] = [
            Groove(
                name="Notch for the bar, underside up",
                width_mm=s.notch,
                depth_mm=s.notch_depth,
                at_mm=(s.back - s.front) / 2,
                below=True,
                feature="notch_width",
                id="notch",
                allowed_mm=0.1,
            )
        ]
        # The bar lies with the plate's back away; y counts from the axis, the bar's middle is (back − front)/2 from it.
        holes = pattern(s.holes, s.thickness, "Screw and work holes", x0=-s.length / 2, y0=(s.back - s.front) / 2)
        assert holes is not None
        steps.append(holes)
        drill = s.screw.tap_drill
        steps += [
            HandOperation(
                name="The bar",
                words=(
                    f"Plate on the bar in the vise, square along it: spot through its screw holes. Drill {drill[0]} ×"
                    f" {length(s.bar_drilled, 1)} from the bar's top, point stopping {length(s.bar_left, 1)} short"
                    f" of breaking through, tap {v.word('screw')} {length(s.engaged, 1)}. Screws"
                    f" {length(s.screw_length, 0)} under the head."
                ),
                tools=("tap", "drill stop"),
                check="A trial screw of scrap rod bottoms nowhere; the plate sits on the bar without a gap.",
            ),
            HandOperation(
                name="Zero and read-back",
                words=(
                    "Bar in the vise, nipped. Level on the plate, tapped to 0 and zeroed there: then the vise's own lean does"
                    f" not count. Tilt, nip, read, tap, tighten, read again: within {format_number(s.setting_error, 2)}° is as"
                    " close as it reads."
                ),
                tools=("level or protractor", "soft hammer"),
                caution=(
                    "Only the jaws' friction holds the tilt: light cuts, pushing toward the axis; a stop or jack under the low"
                    " edge for more."
                ),
                check="Read back after the vise is tight, and again after the first light cut.",
            ),
        ]
        blank = Blank(
            width_mm=s.front + s.back,
            height_mm=s.thickness,
            length_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every vise, by how far it tilts there."""
        s = TiltingPlateSizes(design.values)
        found = []
        for vise in shop.vises:
            there = TiltingPlateSizes(design.values.having(jaw_height=vise.jaw_height_mm, jaw_thickness=vise.jaw_thickness_mm))
            goes = max(there.front_down, there.back_down)
            rests = vise.jaw_height_mm - there.below - there.bar / 2
            good = goes >= s.v.number("tilt") and rests >= 0
            found.append(
                SlotFit(
                    vise.name,
                    "jaws",
                    Verdict.GO if good else Verdict.NO_GO,
                    f"tilts to {format_number(goes, 1)}°" if rests >= 0 else "its jaws are too low for the bar",
                )
            )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        s, v = TiltingPlateSizes(design.values), design.values
        return (
            made(1, f"bar Ø{length(s.bar)} × {length(v.number('bar_length'))}", "bar"),
            *screws(
                2, v.word("screw"), f"into the bar, {length(s.screw_length)} under the head, cut to length", feature="screws"
            ),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = TiltingPlateSizes(design.values)
        most = max(s.front_down, s.back_down)
        return (
            Capability(
                "angle",
                f"0° to {format_number(most, 0)}° within ±{format_number(s.setting_error, 2)}°",
                {"angle_deg": most, "error_arcsec": 3600 * s.setting_error},
            ),
        )


def _bar_note(s: TiltingPlateSizes) -> str:
    return (
        f"{s.screw.shown} {length(s.engaged, 1)} deep, drill {length(s.screw.tap_drill[1], 2)} × {length(s.bar_drilled, 1)}, both"
        f" through the axis and parallel; both ends chamfered {length(CHAMFER)} × 45°"
    )


def _figures(s: TiltingPlateSizes) -> list[Figure]:
    v = s.v
    d = format_number(s.bar)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="front_down",
            label="Limit, front down",
            value=s.front_down,
            unit="deg",
            features=("tilt", "plate"),
            derivation=Derivation(
                "turned till plate and jaws or bed touch", format_number(s.front_down, 6), "searched to 0.001°, 80° at the most"
            ),
        ),
        Figure(
            key="back_down",
            label="Limit, rear down",
            value=s.back_down,
            unit="deg",
            features=("tilt", "plate"),
            derivation=Derivation(
                "turned till plate and jaws or bed touch", format_number(s.back_down, 6), "searched to 0.001°, 80° at the most"
            ),
        ),
        reckoned(
            "error",
            "Setting error ±",
            worked(
                "√(2·(r/2)² + e²)",
                term(v.number("reading_resolution"), 4),
                term(v.number("tool_error"), 4),
                source="zeroing rounds as reading does",
            ),
            unit="deg",
            features=("tilt",),
        ),
        reckoned(
            "drop", "Axis below the plate", worked("√(D² − w²)/2", s.bar, s.notch), step=0.01, features=("notch_width", "bar")
        ),
        reckoned(
            "sinks",
            "Bar depth in notch",
            worked("D/2 − √(D² − w²)/2", s.bar, s.notch),
            step=0.01,
            features=("notch_width", "bar"),
        ),
        reckoned(
            "stands",
            "Bar above the bed",
            worked("jaws − below − D/2", v.number("jaw_height"), s.below, s.bar),
            step=0.1,
            features=("bar", "vise"),
        ),
        Figure(
            key="engaged",
            label="Thread depth in bar",
            value=s.engaged,
            step=0.1,
            features=("screws",),
            derivation=Derivation(
                "least of 1.5·d and what leaves 2 under the drill's point",
                f"min(1.5·{format_number(s.screw.major_mm)}; {d} − {format_number(UNDER_POINT)} −"
                f" 0.3004303·{format_number(s.screw.tap_drill[1])} − 3·{format_number(s.screw.pitch_mm)})",
            ),
        ),
        reckoned(
            "drilled",
            "Drill depth in bar",
            worked(f"thread + {TAP_LEAD_PITCHES:g}·pitch", term(s.engaged, 4), s.screw.pitch_mm),
            step=0.1,
            features=("screws",),
        ),
        reckoned(
            "screw_long",
            "Screw length under head",
            worked(
                "plate under the head + gap over the bar + thread", s.floor, term(s.notch_depth - s.sinks, 4), term(s.engaged, 4)
            ),
            step=0.1,
            features=("screws",),
        ),
        Figure(
            key="hole_count",
            label="Number of holes",
            value=len(s.work_holes),
            unit="",
            text=f"{len(s.work_holes)} holes",
            features=("work holes",),
        ),
        reckoned(
            "mass",
            "Plate mass",
            mass(s.volume, s.density, source="plate with its notch, holes not taken off"),
            unit="kg",
            features=("plate",),
        ),
    ]


def _checks(s: TiltingPlateSizes) -> list[Check]:
    v = s.v
    wanted, most = v.number("tilt"), max(s.front_down, s.back_down)
    d = s.screw.major_mm
    over = min((abs(h.y) - s.notch / 2 - h.d / 2 for h in s.work_holes), default=math.inf)
    return [
        *(
            [
                judged(
                    "over_notch",
                    "Work holes beside the notch",
                    over,
                    Limits(0.0, 0.5 * s.work_holes[0].d),
                    (
                        "every screw ends beside the bar",
                        "a screw ends close beside the bar",
                        "a screw over the notch bears on the bar and lifts the plate off its seat",
                    ),
                    step=0.1,
                    features=("work holes", "notch_width"),
                    figures=("pattern", "notch_width"),
                    remedies=("pattern",),
                    derivation=("from the axis less half the notch less half the thread", format_number(over, 4)),
                )
            ]
            if s.work_holes
            else []
        ),
        judged(
            "tilts",
            "Tilt limit",
            worked("larger of both ways − wanted", term(most, 4), wanted),
            Limits(0.0, 1.0),
            (
                "nothing touches before",
                "it just comes there",
                "plate and vise touch first: thicker bar, or a narrower plate on that side",
            ),
            unit="deg",
            features=("tilt", "plate", "vise"),
            figures=("front_down", "back_down", "tilt"),
            remedies=("bar_diameter", "front_length", "rear_length", "tilt"),
        ),
        judged(
            "rests",
            "Bar clearance to bed",
            worked("jaws − below − half of D", v.number("jaw_height"), s.below, s.bar / 2),
            Limits(0.0, 0.5),
            (
                "the jaws hold it, the bed does not",
                "it all but lies on the bed",
                "the bed is in its way: it stands higher, or take a thinner bar",
            ),
            step=0.1,
            features=("bar", "vise"),
            figures=("stands", "bar_diameter", "axis_depth"),
            remedies=("bar_diameter", "axis_depth"),
        ),
        judged(
            "held",
            "Jaw grip on the bar",
            s.below,
            Limits(0.0, 0.5),
            ("the jaws' tops are above its middle", "right at the jaws' top: it may climb out", ""),
            step=0.1,
            features=("bar", "vise"),
            figures=("axis_depth",),
            remedies=("axis_depth",),
            derivation=("axis below the jaws' top", format_number(s.below)),
        ),
        judged(
            "seat",
            "Notch seat width",
            worked("notch/Ø", s.notch, s.bar),
            Limits(0.35, 0.5, 0.8, 0.95),
            (
                "a wide, steady seat",
                "narrow: it rocks on them" if s.notch < 0.5 * s.bar else "wide: it wedges into the notch",
                "it rocks" if s.notch < 0.5 * s.bar else "it wedges the plate apart",
            ),
            unit="× Ø",
            features=("notch_width", "bar"),
            figures=("notch_width",),
            remedies=("notch_width",),
        ),
        judged(
            "clears",
            "Notch floor clearance",
            worked("notch − sinks", s.notch_depth, term(s.sinks, 4)),
            Limits(0.0, 0.1),
            ("it lies on the edges only", "it all but touches the floor", "it stands on the floor and rocks"),
            step=0.01,
            features=("notch_width", "bar"),
            figures=("notch_depth", "sinks"),
            remedies=("notch_depth",),
        ),
        judged(
            "under_head",
            "Floor under counterbore",
            worked(
                f"(thickness − notch − head − {HEAD_BELOW_MM:g})/d",
                s.thickness,
                s.notch_depth,
                s.screws[0].bore_depth - HEAD_BELOW_MM,
                s.screws[0].d,
            ),
            Limits(0.4, 0.8),
            ("the head pulls on solid metal", "thin under the head", "it pulls through"),
            unit="× d",
            features=("screws", "notch_width"),
            figures=("thickness", "notch_depth"),
            remedies=("thickness", "notch_depth"),
        ),
        judged(
            "thread",
            "Thread depth in bar",
            worked("thread/d", term(s.engaged, 4), d),
            Limits(0.8, 1.0),
            ("it holds", "short in steel", "it strips: a thicker bar or smaller screws"),
            unit="× d",
            features=("screws", "bar"),
            figures=("engaged",),
            remedies=("screw", "bar_diameter"),
        ),
        judged(
            "through",
            "Floor under drill point",
            worked(f"D − drilled − {POINT:g}·drill", s.bar, term(s.bar_drilled, 4), s.screw.tap_drill[1]),
            Limits(0.5, 1.9),
            ("nothing shows on the far side", "thin at the drill's point", "it breaks through where the jaws hold"),
            step=0.1,
            features=("screws", "bar"),
            figures=("drilled", "bar_diameter"),
            remedies=("screw", "bar_diameter"),
        ),
        *(
            c
            for c in hole_checks(s.holes, s.thickness, s.edge, v.word("material"), ("front_length", "rear_length", "length"))
            if c.key != "floor"
        ),
        judged(
            "error",
            "Setting error",
            s.setting_error,
            Limits(marginal_above=0.2, no_above=2.0),
            ("close enough for most drawings", "coarse: a sine plate sets closer", "no better than by eye"),
            unit="deg",
            features=("tilt",),
            figures=("error", "reading_resolution"),
            remedies=("reading_resolution",),
            derivation=("its error, worked out above", format_number(s.setting_error, 5)),
        ),
        lifting_check(
            worked("mass", s.mass_kg),
            Points(features=("plate",), figures=("mass",), remedies=("thickness", "front_length", "rear_length")),
        ),
    ]


FAMILY: Final = TiltingPlate()
