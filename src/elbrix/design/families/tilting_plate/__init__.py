"""Tilting plate: a plate screwed to a round bar that is held in the vise.

Tilted by hand, set by a level or protractor, held by the vise's jaws.

x along the bar, y back from its axis, z up from the plate's underside.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import SUNK, Span, hole_checks, hole_table, pattern, sunk
from elbrix.design.families.tilting_plate import pictures
from elbrix.design.families.tilting_plate.sizes import OVER_BAR, PARAMETERS, UNDER_POINT, Sizes
from elbrix.design.family import Capability, Design, Need, SlotFit
from elbrix.design.hosts import vise_of
from elbrix.design.work import BenchWork, Blank, Channel, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Given, Group, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down, round_up
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import Figure, Working, num
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

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, str(chosen["vise"].value) if "vise" in chosen else "")
        p.measure("vise", vise.name, "Shop", known=known)
        high = p.measure("jaw_high", vise.jaw_height_mm, vise.name, known=known)
        p.measure("jaw_thick", vise.jaw_thickness_mm, vise.name, known=known)
        p.assume("wanted", 15.0)
        below = p.assume("below", 1.0)
        most = 2 * (high - below) - 1
        bars = sorted(
            b.width_mm for b in shop.bars if b.form is Form.ROUND and "steel" in b.material and b.width_mm <= min(high, most)
        )
        bar = p.measure(
            "bar_size",
            bars[-1] if bars else round_down(min(high, most), 1.0),
            "the thickest on the rack" if bars else "none on the rack",
            known=bool(bars),
        )
        p.measure("bar_long", vise.jaw_width_mm, vise.name, known=known)
        notch = p.work("notch", round_down(0.6 * bar, 0.5), "0.6·D: it lies on two edges", f"0.6·{num(bar)}")
        sinks = (bar - math.sqrt(max(bar * bar - notch * notch, 0.0))) / 2
        deep = p.work(
            "notch_deep",
            round_up(sinks + OVER_BAR, 0.1),
            "(D − √(D² − w²))/2 + 0.3, up to 0.1",
            f"({num(bar)} − √({num(bar)}² − {num(notch)}²))/2 + {num(OVER_BAR)}",
        )
        screw = p.assume("screw", "M6" if bar >= 18 else "M5" if bar >= 14 else "M4")
        head = sunk("S", 0, 0, screw)
        p.work(
            "thickness",
            round_up(head.bore_deep + 0.8 * head.drill + deep, 1.0),
            "sunk head + 0.8·d + notch, up to 1",
            f"{num(head.bore_deep)} + 0.8·{num(head.drill)} + {num(deep)}",
        )
        p.assume("front", 35.0)
        p.assume("back", 35.0)
        length = p.work(
            "length", round_down(min(vise.jaw_width_mm, 120.0), 5.0), "the jaws' width, 120 at the most", num(vise.jaw_width_mm)
        )
        p.work("screws_apart", round_down(0.6 * length, 1.0), "0.6 of the length", f"0.6·{num(length)}")
        p.assume("pattern", "grid 20")
        p.assume("work_thread", "M6x1")
        levels = [t for t in shop.angle_tools if t.kind in (AngleToolKind.LEVEL, AngleToolKind.PROTRACTOR)]
        best = min(levels, key=lambda t: t.resolution_deg + t.error_deg, default=None)
        p.measure(
            "reads_to", best.resolution_deg if best else 0.1, best.name if best else "no level in Shop", known=best is not None
        )
        p.measure(
            "tool_error", best.error_deg if best else 0.1, best.name if best else "no level in Shop", known=best is not None
        )
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = Sizes(values)
        note = (
            f"Notch {num(s.notch)} × {num(s.notch_deep)} along it, parallel to the face within 0.02; bar Ø{num(s.bar)} ×"
            f" {num(values.number('bar_long'))}, {values.word('screw')} {num(s.engaged, 1)} deep in it"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s)),
            checks=tuple(_checks(s)),
            holes=hole_table(s.holes),
            datum="middle of the length and the bar's axis",
            note=note,
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("In the vise", ("vise", "jaw_high", "jaw_thick", "bar_size", "bar_long", "below", "stands")),
            Group("How far it tilts", ("wanted", "front_down", "back_down", "reads_to", "tool_error", "error")),
            Group("The notch", ("notch", "notch_deep", "drop", "sinks")),
            Group("The plate", ("front", "back", "length", "thickness", "material", "mass", "pieces")),
            Group("Screws", ("screw", "screws_apart", "engaged", "drilled", "screw_long")),
            Group("Work holes", ("pattern", "hole_count", "work_thread")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = Sizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = Sizes(design.values)
        return Cut(Prism(pictures.profile(s), -s.length / 2, s.length / 2, "yz"), Span(0.0, s.thick).tools(s.holes))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", design.values.number("screws_apart") / 2

    def work(self, design: Design, shop: Shop) -> Work:
        s = Sizes(design.values)
        v = s.v
        steps: list[Step] = [
            Channel(
                name="Notch for the bar, underside up",
                wide_mm=s.notch,
                deep_mm=s.notch_deep,
                at_mm=(s.back - s.front) / 2,
                below=True,
                feature="notch",
                id="notch",
                allowed_mm=0.1,
            )
        ]
        # The bar lies with the plate's back away; y counts from the axis, the bar's middle is (back − front)/2 from it.
        holes = pattern(s.holes, s.thick, "Screw and work holes", x0=-s.length / 2, y0=(s.back - s.front) / 2)
        assert holes is not None
        steps.append(holes)
        drill = s.screw.tap_drill
        steps += [
            BenchWork(
                name="The bar",
                words=(
                    f"Plate on the bar in the vise, square along it: spot through its screw holes. Drill {drill[0]} ×"
                    f" {num(s.bar_drilled, 1)} from the bar's top, point stopping {num(s.bar_left, 1)} short of breaking through,"
                    f" tap {v.word('screw')} {num(s.engaged, 1)}. Screws {num(s.screw_long, 0)} under the head."
                ),
                tools=("tap", "drill stop"),
            ),
            BenchWork(
                name="Zero and read-back",
                words=(
                    "Bar in the vise, nipped. Level on the plate, tapped to 0 and zeroed there: then the vise's own lean does"
                    f" not count. Tilt, nip, read, tap, tighten, read again: within {num(s.setting_error, 2)}° is as close as it"
                    " reads."
                ),
                tools=("level or protractor", "soft hammer"),
                caution=(
                    "Only the jaws' friction holds the tilt: light cuts, pushing toward the axis; a stop or jack under the low"
                    " edge for more."
                ),
            ),
        ]
        blank = Blank(
            across_mm=s.front + s.back,
            high_mm=s.thick,
            along_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
        )
        return Work(blank, tuple(steps))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every vise, by how far it tilts there."""
        s = Sizes(design.values)
        found = []
        for vise in shop.vises:
            there = Sizes(design.values.having(jaw_high=vise.jaw_height_mm, jaw_thick=vise.jaw_thickness_mm))
            goes = max(there.front_down, there.back_down)
            rests = vise.jaw_height_mm - there.below - there.bar / 2
            good = goes >= s.v.number("wanted") and rests >= 0
            found.append(
                SlotFit(
                    vise.name,
                    "jaws",
                    Verdict.GO if good else Verdict.NO_GO,
                    f"tilts to {num(goes, 1)}°" if rests >= 0 else "its jaws are too low for the bar",
                )
            )
        return tuple(found)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = Sizes(design.values)
        most = max(s.front_down, s.back_down)
        return (
            Capability(
                "angle",
                f"0° to {num(most, 0)}° within ±{num(s.setting_error, 2)}°",
                {"angle_deg": most, "error_arcsec": 3600 * s.setting_error},
            ),
        )


def _figures(s: Sizes) -> list[Figure]:
    v = s.v
    d, w = num(s.bar), num(s.notch)
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="front_down",
            label="Front down to",
            value=s.front_down,
            unit="deg",
            features=("tilt", "plate"),
            working=Working(
                "turned till plate and jaws or bed touch", num(s.front_down, 6), "searched to 0.001°, 80° at the most"
            ),
        ),
        Figure(
            key="back_down",
            label="Back down to",
            value=s.back_down,
            unit="deg",
            features=("tilt", "plate"),
            working=Working(
                "turned till plate and jaws or bed touch", num(s.back_down, 6), "searched to 0.001°, 80° at the most"
            ),
        ),
        Figure(
            key="error",
            label="Set and read within ±",
            value=s.setting_error,
            unit="deg",
            features=("tilt",),
            working=Working(
                "√(2·(r/2)² + e²)",
                f"√(2·({num(v.number('reads_to'), 4)}/2)² + {num(v.number('tool_error'), 4)}²)",
                "zeroing rounds as reading does",
            ),
        ),
        Figure(
            key="drop",
            label="Axis below the plate",
            value=s.drop,
            step=0.01,
            features=("notch", "bar"),
            working=Working("√(D² − w²)/2", f"√({d}² − {w}²)/2"),
        ),
        Figure(
            key="sinks",
            label="Bar stands into the notch",
            value=s.sinks,
            step=0.01,
            features=("notch", "bar"),
            working=Working("D/2 − √(D² − w²)/2", f"{d}/2 − √({d}² − {w}²)/2"),
        ),
        Figure(
            key="stands",
            label="Bar above the bed",
            value=v.number("jaw_high") - s.below - s.bar / 2,
            step=0.1,
            features=("bar", "vise"),
            working=Working("jaws − below − D/2", f"{num(v.number('jaw_high'))} − {num(s.below)} − {d}/2"),
        ),
        Figure(
            key="engaged",
            label="Thread in the bar",
            value=s.engaged,
            step=0.1,
            features=("screws",),
            working=Working(
                "least of 1.5·d and what leaves 2 under the drill's point",
                f"min(1.5·{num(s.screw.major_mm)}; {d} − {num(UNDER_POINT)} − 0.3004303·{num(s.screw.tap_drill[1])} −"
                f" 3·{num(s.screw.pitch_mm)})",
            ),
        ),
        Figure(
            key="drilled",
            label="Drilled in the bar",
            value=s.bar_drilled,
            step=0.1,
            features=("screws",),
            working=Working("thread + 3 turns", f"{num(s.engaged, 4)} + 3·{num(s.screw.pitch_mm)}"),
        ),
        Figure(
            key="screw_long",
            label="Screws, under the head",
            value=s.screw_long,
            step=1,
            features=("screws",),
            working=Working(
                "plate under the head + gap over the bar + thread",
                f"{num(s.floor)} + {num(s.notch_deep - s.sinks, 4)} + {num(s.engaged, 4)}",
            ),
        ),
        Figure(
            key="hole_count",
            label="That makes",
            value=len(s.work_holes),
            unit="",
            text=f"{len(s.work_holes)} holes",
            features=("work holes",),
        ),
        Figure(
            key="mass",
            label="Mass of the plate",
            value=s.volume * s.density * 1e-9,
            unit="kg",
            features=("plate",),
            working=Working(
                "plate with its notch × density, holes not taken off", f"{num(s.volume, 1)}·{s.density:g}/1000000000"
            ),
        ),
    ]


def _checks(s: Sizes) -> list[Check]:
    v = s.v
    wanted, most = v.number("wanted"), max(s.front_down, s.back_down)
    stands = v.number("jaw_high") - s.below - s.bar / 2
    d = s.screw.major_mm
    return [
        judged(
            "tilts",
            "Tilts far enough",
            most - wanted,
            Limits(0.0, 1.0),
            (
                "nothing touches before",
                "it just comes there",
                "plate and vise touch first: thicker bar, or a narrower plate on that side",
            ),
            unit="deg",
            features=("tilt", "plate", "vise"),
            figures=("front_down", "back_down", "wanted"),
            mends=("bar_size", "front", "back", "wanted"),
            working=("larger of both ways − wanted", f"{num(most, 4)} − {num(wanted)}"),
        ),
        judged(
            "rests",
            "Bar clear of the bed",
            stands,
            Limits(0.0, 0.5),
            (
                "the jaws hold it, the bed does not",
                "it all but lies on the bed",
                "the bed is in its way: it stands higher, or take a thinner bar",
            ),
            step=0.1,
            features=("bar", "vise"),
            figures=("stands", "bar_size", "below"),
            mends=("bar_size", "below"),
            working=("jaws − below − half of D", f"{num(v.number('jaw_high'))} − {num(s.below)} − {num(s.bar / 2)}"),
        ),
        judged(
            "held",
            "Jaws hold it on its full Ø",
            s.below,
            Limits(0.0, 0.5),
            ("the jaws' tops are above its middle", "right at the jaws' top: it may climb out", ""),
            step=0.1,
            features=("bar", "vise"),
            figures=("below",),
            mends=("below",),
            working=("axis below the jaws' top", num(s.below)),
        ),
        judged(
            "seat",
            "Bar lies on two edges",
            s.notch / s.bar,
            Limits(0.35, 0.5, 0.8, 0.95),
            (
                "a wide, steady seat",
                "narrow: it rocks on them" if s.notch < 0.5 * s.bar else "wide: it wedges into the notch",
                "it rocks" if s.notch < 0.5 * s.bar else "it wedges the plate apart",
            ),
            unit="× Ø",
            features=("notch", "bar"),
            figures=("notch",),
            mends=("notch",),
            working=("notch/Ø", f"{num(s.notch)}/{num(s.bar)}"),
        ),
        judged(
            "clears",
            "Bar clear of the notch's floor",
            s.notch_deep - s.sinks,
            Limits(0.0, 0.1),
            ("it lies on the edges only", "it all but touches the floor", "it stands on the floor and rocks"),
            step=0.01,
            features=("notch", "bar"),
            figures=("notch_deep", "sinks"),
            mends=("notch_deep",),
            working=("notch − sinks", f"{num(s.notch_deep)} − {num(s.sinks, 4)}"),
        ),
        judged(
            "under_head",
            "Metal between head and notch",
            s.floor / s.screws[0].d,
            Limits(0.4, 0.8),
            ("the head pulls on solid metal", "thin under the head", "it pulls through"),
            unit="× d",
            features=("screws", "notch"),
            figures=("thickness", "notch_deep"),
            mends=("thickness", "notch_deep"),
            working=(
                "(thickness − notch − head − 0.5)/d",
                (
                    f"({num(s.thick)} − {num(s.notch_deep)} − {num(s.screws[0].bore_deep - SUNK)} −"
                    f" {num(SUNK)})/{num(s.screws[0].d)}"
                ),
            ),
        ),
        judged(
            "thread",
            "Thread in the bar",
            s.engaged / d,
            Limits(0.8, 1.0),
            ("it holds", "short in steel", "it strips: a thicker bar or smaller screws"),
            unit="× d",
            features=("screws", "bar"),
            figures=("engaged",),
            mends=("screw", "bar_size"),
            working=("thread/d", f"{num(s.engaged, 4)}/{num(d)}"),
        ),
        judged(
            "through",
            "Drill stops short in the bar",
            s.bar_left,
            Limits(0.5, 1.9),
            ("nothing shows on the far side", "thin at the drill's point", "it breaks through where the jaws hold"),
            step=0.1,
            features=("screws", "bar"),
            figures=("drilled", "bar_size"),
            mends=("screw", "bar_size"),
            working=(
                "D − drilled − 0.300·drill",
                f"{num(s.bar)} − {num(s.bar_drilled, 4)} − 0.3004303·{num(s.screw.tap_drill[1])}",
            ),
        ),
        *(c for c in hole_checks(s.holes, s.thick, s.edge, v.word("material"), ("front", "back", "length")) if c.key != "floor"),
        judged(
            "error",
            "Set as close as it is read",
            s.setting_error,
            Limits(close_above=0.2, no_above=2.0),
            ("close enough for most drawings", "coarse: a sine plate sets closer", "no better than by eye"),
            unit="deg",
            features=("tilt",),
            figures=("error", "reads_to"),
            mends=("reads_to",),
            working=("its error, worked out above", num(s.setting_error, 5)),
        ),
    ]


FAMILY: Final = TiltingPlate()
