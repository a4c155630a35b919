"""Gib and packing strip for a dovetail or a square way that came out loose.

x along it from its thick end, y across from its middle, z up from the side its screws press.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import hole_table
from elbrix.design.families.gib import pictures, proof
from elbrix.design.families.gib.sizes import DIMPLE_DEEP, PARAMETERS, GibSizes
from elbrix.design.family import Capability, Design, Request, SlotFit
from elbrix.design.parts import Part, screws
from elbrix.design.work import BevelledEdge, Blank, HandOperation, HolePattern, PatternHole, Step, TaperedFace, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, drilled


class Gib:
    """See the module."""

    key = "gib"
    title = "Gib or packing strip"
    when = "When a dovetail or a square way has more play than its screws take up."
    group = "locate it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p, _n = Proposal(chosen), format_number
        kind = p.assume("kind", "dovetail")
        dovetail = kind == "dovetail"
        angle = p.assume("flank_angle", math.radians(55))
        beta = float(angle)
        high = p.assume("way_height", 12.0)
        old = p.assume("old_thickness", 5.0)
        slack = p.assume("slack", 0.3)
        clear = p.assume("clearance", 0.02)
        more = p.assume("allowance", 0.05)
        thick = p.reckon(
            "thickness",
            worked(
                "old + play·sin(β) − clearance + allowance",
                old,
                slack,
                term(math.degrees(beta), 3, "°"),
                clear,
                more,
                source="play square to the flank; the allowance is left for fitting",
            )
            if dovetail
            else worked(
                "old + play − clearance + allowance", old, slack, clear, more, source="the allowance is left for fitting"
            ),
            up=0.01,
            least=0.8,
        )
        p.assume("drop", 0.0)
        p.reckon(
            "width",
            worked("height/sin(β) − 1", high, term(math.degrees(beta), 3, "°"), source="1 less than its flank")
            if dovetail
            else worked("height − 1", high),
            down=0.1,
            least=4.0,
        )
        long = p.assume("length", 120.0)
        p.reckon("screws", worked("length/40 + 1", long, source="one for each 40, and one"), near=1, least=2, most=12)
        p.reckon("end_distance", worked("0.12·length", long), up=0.5)
        p.assume("screw", "M5x0.8" if thick >= 3.5 else "M4x0.7")
        p.work("torque", 0.3, "by feel: it takes up play, it clamps nothing", "0.3")
        p.assume("material", "mild steel")
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = GibSizes(values)
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=hole_table(s.holes),
            datum="thick end and middle over both edges",
            note_words=(
                f"Thickness {length(s.fitted, 3)} when fitted; faces flat and scraped"
                + (f", edges {format_number(90 - s.bevel_deg, 2)}° to the faces" if s.dovetail else ", edges square")
                + (f"; taper 1 in {format_number(s.length / s.drop, 1)}" if s.drop else "")
            ),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        s = GibSizes(design.values)
        way = (
            "kind",
            *(("flank_angle",) if s.dovetail else ()),
            "way_height",
            "old_thickness",
            "slack",
            "clearance",
            "allowance",
        )
        edges = ("width", *(("bevel", "overall") if s.dovetail else ()))
        pressed = ("screws", "end_distance", "apart", "screw", "torque", "press") if s.screws else ("screws",)
        return (
            Group("Way", way),
            Group("Strip", ("thickness", "fitted", "drop", "slope", "thin_end", *edges, "length", "mass", "material", "pieces")),
            Group("Screws", pressed),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = GibSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = GibSizes(design.values)
        body = Prism(s.section, 0.0, s.length, "yz")
        tools: list[Recipe] = [drilled((h.x, h.y, 0.0), ((h.drill, DIMPLE_DEEP),), out=(0.0, 0.0, -1.0)) for h in s.holes]
        if s.drop:
            w, over = s.overall, s.drop / s.length
            tools.append(
                Prism(
                    (
                        (-1.0, s.thick + over),
                        (s.length + 1, s.thick - s.drop - over),
                        (s.length + 1, s.thick + 5),
                        (-1.0, s.thick + 5),
                    ),
                    -w,
                    w,
                    "xz",
                )
            )
        return Cut(body, tuple(tools)) if tools else body

    def section(self, design: Design) -> tuple[str, float]:
        return "x", GibSizes(design.values).length / 2

    def work(self, design: Design, shop: Shop) -> Work:
        s = GibSizes(design.values)
        steps: list[Step] = []
        if s.screws:
            steps.append(
                HolePattern(
                    name="Dimples for the screws",
                    # Turned over about its length the far side is near.
                    holes=tuple(PatternHole(h.x, -h.y, drill_mm=h.drill, depth_mm=DIMPLE_DEEP) for h in s.holes),
                    thickness_mm=s.thick,
                    feature="screws",
                    face="C",
                    id="dimples",
                )
            )
        if s.dovetail:
            # Seen from the thick end the upper face lies to +y: B leans out at the top, D at the bottom.
            steps += [
                BevelledEdge(name="Bevel of B", side="B", deg=s.bevel_deg, feature="edges", id="bevel_b"),
                BevelledEdge(name="Bevel of D", side="D", deg=s.bevel_deg, feature="edges", id="bevel_d"),
            ]
        if s.drop:
            w = s.overall / 2
            steps.append(
                TaperedFace(
                    name="Taper",
                    drop_mm=s.drop,
                    low_y_mm=s.lean * (1 - s.drop / s.thick) - w,
                    high_y_mm=w,
                    feature="thickness",
                    id="taper",
                )
            )
        steps.append(
            HandOperation(
                name="Fit",
                words=(
                    f"Blue on the way, scrape or lap the strip till it bears along its whole length:"
                    f" {length(s.fitted, 3)} then."
                    " Corners broken so that it stands on the flank. Screws by feel, lock nuts: the slide moves by hand, without"
                    " play."
                ),
                tools=("scraper", "marking blue", "indicator"),
                caution="Scraped edges are razors: break them first.",
                check="Blue along its whole length; an indicator against the slide, pushed to and fro, hardly moves.",
            )
        )
        blank = Blank(
            width_mm=s.overall,
            height_mm=s.thick,
            length_mm=s.length,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        return ()

    def parts(self, design: Design) -> tuple[Part, ...]:
        s = GibSizes(design.values)
        return screws(s.screws, s.v.word("screw"), "with a turned point and a lock nut", kind="set screw", feature="screws")

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = GibSizes(design.values)
        way = f"a dovetail of {format_number(math.degrees(s.angle), 1)}°" if s.dovetail else "a square way"
        return (Capability("slide", f"{way}, {length(s.v.number('slack'))} of play taken up", {"play_mm": s.v.number("slack")}),)


FAMILY: Final = Gib()
