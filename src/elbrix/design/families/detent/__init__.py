"""Ball detent for a sliding handle or a lock lever: a screwed plunger with ball and spring over a groove.

Turned about z; z = 0 is its back, its face with the ball is up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Final

from elbrix.design.families.detent import pictures, proof
from elbrix.design.families.detent.sizes import MU, PARAMETERS, SHEAR_MODULUS, SLOPE, DetentSizes
from elbrix.design.family import Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.parts import Part, made
from elbrix.design.work import Blank, HandOperation, Step, TurnedBore, TurnedPart, TurnedTaper, TurnedThread, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.drilling import point_mm
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.results.figures import format_number
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind
from elbrix.solids.recipe import Cut, Recipe, Turned
from elbrix.standards.threads import first_choice

#: Straight edge of a stepped plunger's mouth that is aimed at, mm.
_EDGE: Final = 0.3
#: Metal behind the drill's point of a staked one, mm.
_FLOOR: Final = 2.0


class Detent:
    """See the module."""

    key = "detent"
    title = "Ball detent"
    when = "When a handle or lever has to click into places and stay there until it is meant to move."
    group = "locate it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p, n = Proposal(chosen), format_number
        kind = p.assume("kind", "staked")
        ball = p.assume("ball", 5.0)
        groove = p.reckon("groove", worked("0.15·ball", ball, source="0.3 of the ball's radius"), up=0.05)
        gap = p.assume("gap", 0.2)
        wanted = p.assume("wanted", round(0.8 * ball * ball, 1))
        wire = p.reckon("wire", worked("0.15·ball", ball), up=0.05)
        coil = p.reckon("coil", worked("0.94·ball", ball, source="a little under the ball"), up=0.1)
        coils = p.assume("coils", 10.0)
        rate = SHEAR_MODULUS * wire**4 / (8 * max(0.05, coil - wire) ** 3 * coils)
        flank = math.acos(max(0.0, 1 - groove / (ball / 2)))
        t = min(math.tan(flank), 6.0)
        force = wanted * (1 - MU * t) / (t + MU)
        free = p.reckon(
            "free_length",
            worked(
                "1.25·wire·(coils + 2) + 1.5·force/rate",
                wire,
                coils,
                term(force, 4),
                term(rate, 5),
                source="solid + a quarter + 1.5 × what it is pressed by",
            ),
            up=0.5,
            least=2.0,
        )
        drills = sorted(c.diameter_mm for c in shop.cutters_of(CutterKind.DRILL) if ball + 0.04 <= c.diameter_mm <= ball + 0.3)
        bore = p.measure("bore", drills[0] if drills else round(ball + 0.1, 2), "a drill you have", known=bool(drills))
        mouth = self._propose_mouth(p, shop, ball, gap + groove, kind)
        seat = worked(
            "free − force/rate − gap − groove + ball",
            free,
            term(force, 4),
            term(rate, 5),
            gap,
            groove,
            ball,
            source="the spring then gives what is wanted",
        )
        if kind == "staked":
            deep = p.reckon("bore_depth", seat, near=0.01, least=2.0)
            cone = point_mm(bore)
            p.reckon("length", worked(f"bore depth + drill point + {_FLOOR:g}", deep, term(cone, 4)), up=0.5)
        else:
            long = p.reckon("length", seat, near=0.01, least=2.0)
            p.reckon(
                "bore_depth",
                worked(
                    f"length − {_EDGE:g} − {SLOPE:g}·(bore − mouth)/2",
                    long,
                    bore,
                    mouth,
                    source="the drill's cone as far as the mouth",
                ),
                near=0.01,
                least=2.0,
            )
        fine = [t for t in first_choice() if t.minor_d_mm >= bore + 2.2]
        p.work(
            "thread",
            (fine[0] if fine else first_choice()[-1]).name,
            "the smallest with a wall of 1.1 under its root",
            f"{n(bore)} + 2.2",
        )
        p.assume("material", "mild steel")
        p.choose("pieces", max(1, request.pieces))
        return p.values(PARAMETERS)

    @staticmethod
    def _propose_mouth(p: Proposal, shop: Shop, ball: float, needs: float, kind: str) -> float:
        """Ø of the mouth that lets the ball out 0.15 farther than it has to come; of a stepped plunger a drill you have."""
        r, edge = ball / 2, _EDGE if kind == "stepped" else 0.0
        left = max(0.0, r - needs - 0.15 - edge)
        least = min(2 * math.sqrt(max(0.04, r * r - left * left)), ball - 0.15)
        drills = sorted(c.diameter_mm for c in shop.cutters_of(CutterKind.DRILL) if least <= c.diameter_mm <= ball - 0.1)
        if kind == "stepped" and drills:
            return p.measure("mouth", drills[0], "a drill you have")
        return p.reckon(
            "mouth",
            worked(
                "min(2·√(max(0.04; (ball/2)² − max(0; ball/2 − needs − 0.15 − edge)²)); ball − 0.15)",
                ball,
                term(needs, 4),
                edge,
                source="so that the ball comes out 0.15 farther than the groove",
            ),
            up=0.05,
        )

    def solve(self, values: Values, shop: Shop) -> Design:
        s = DetentSizes(values)
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=(
                HoleLine(
                    "A",
                    0.0,
                    0.0,
                    f"Ø{length(s.bore, 2)} × {length(s.deep, 2)}"
                    if s.kind == "staked"
                    else f"Ø{length(s.mouth, 2)} through, Ø{length(s.bore, 2)} × {length(s.deep, 2)} from the back",
                    sizes=HoleSizes(diameter_mm=s.bore, depth_mm=s.deep),
                ),
            ),
            datum="its axis and its face" if s.kind == "staked" else "its axis and its back",
            note_words=f"{s.thread.shown} along it, both ends chamfered {length(s.lead, 2)} × 45°. "
            + (
                f"Edge staked over the ball to Ø{length(s.mouth, 2)}"
                if s.kind == "staked"
                else f"Mouth Ø{length(s.mouth, 2)}, edge {length(s.straight, 2)} long; ball put in from the back"
            ),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("Groove", ("kind", "ball", "groove", "gap", "flank", "wanted", "holds")),
            Group(
                "Spring",
                ("wire", "coil", "coils", "free_length", "rate", "in_groove", "ridden_out", "solid", "force_in", "force_out"),
            ),
            Group("Plunger", ("thread", "length", "bore", "bore_depth", "touch", "mouth", "proud", "mass", "material", "pieces")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = DetentSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = DetentSizes(design.values)
        at, r = (0.0, 0.0, 0.0), s.bore / 2
        body = Turned(pictures.outline(s), at)
        hole: tuple[tuple[float, float], ...]
        if s.kind == "staked":
            floor = s.length - s.deep
            hole = ((0.0, floor - point_mm(s.bore)), (r, floor), (r, s.length + 1), (0.0, s.length + 1))
        else:
            m = s.mouth / 2
            hole = ((0.0, -1.0), (r, -1.0), (r, s.deep), (m, s.length - s.straight), (m, s.length + 1), (0.0, s.length + 1))
        return Cut(body, (Turned(hole, at),))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        s = DetentSizes(design.values)
        c, high, q = s.lead, s.length, s.turned
        steps: list[Step] = [
            TurnedPart(name="Thread's outside", size_mm=q, length_mm=high, feature="body", id="outside"),
            TurnedTaper(name="Chamfer", from_size_mm=q - 2 * c, to_size_mm=q, from_mm=0.0, to_mm=c, feature="body", id="lead"),
            TurnedTaper(
                name="Chamfer", from_size_mm=q, to_size_mm=q - 2 * c, from_mm=high - c, to_mm=high, feature="body", id="lead2"
            ),
            TurnedThread(name="Thread", thread=s.thread.name, from_mm=0.0, to_mm=high, feature="body", id="thread"),
        ]
        if s.kind == "staked":
            steps.append(TurnedBore(name="Bore", size_mm=s.bore, depth_mm=s.deep, drilled=True, feature="bore", id="ball_bore"))
        else:
            steps.append(TurnedBore(name="Mouth", size_mm=s.mouth, drilled=True, feature="mouth", id="mouth"))
            steps.append(TurnedBore(name="Bore", size_mm=s.bore, depth_mm=s.deep, drilled=True, feature="bore", id="ball_bore"))
        steps += [
            HandOperation(
                name="Screwdriver slot",
                words=(
                    f"Saw a slot across the back, {length(1)} wide and {length(1.5)} deep, or file two flats: it is set by"
                    " turning it."
                ),
                tools=("hacksaw",),
                check="A driver fills it.",
            ),
            HandOperation(
                name="Put together",
                words=(
                    "Clean, a little grease, spring and ball in. "
                    + (
                        f"Press the ball in by {length(s.gap)} and stake the edge all round with a ring punch to"
                        f" Ø{length(s.mouth, 2)}: it still moves freely, and does not come out."
                        if s.kind == "staked"
                        else "Ball first, then the spring, closed from behind."
                    )
                    + " Screw it in till it clicks as wanted; a drop of thread lock."
                ),
                tools=("ring punch",) if s.kind == "staked" else (),
                caution="A pressed spring shoots the ball: eye protection, a rag round it.",
                check="It clicks, lets go by hand, and the lever does not creep out of it when it is tapped.",
            ),
        ]
        blank = Blank(
            width_mm=q,
            height_mm=q,
            round_mm=q,
            length_mm=high,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
            along="-z" if s.kind == "staked" else "+z",
            up="+x",
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        return ()

    def parts(self, design: Design) -> tuple[Part, ...]:
        s = DetentSizes(design.values)
        return (
            Part(words=f"steel ball Ø{length(s.ball, 2)}", loose=True, feature="ball"),
            made(
                1,
                f"spring, wire {length(s.wire, 2)}, outside Ø{length(s.coil, 1)}, {format_number(s.coils)} working coils,"
                f" {length(s.free, 1)} long",
                "spring",
            ),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = DetentSizes(design.values)
        held = min(s.holds_n, 99999.0)
        return (Capability("detent", f"a lever with {format_number(held, 0)} N at the ball", {"force_n": held}),)


FAMILY: Final = Detent()
