"""Soft jaws for one vise: plain, with a ledge, two squaring pins, a V, a round nest, or a nest that follows the work's outline.

x along the jaw from its middle, y back from its face, z up from the vise's bed.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Final

from elbrix.design.bores import Span, counterbored, hole_table, pattern
from elbrix.design.families.soft_jaw import pictures, proof
from elbrix.design.families.soft_jaw.nest import beyond, centred, largest_cutter, opened, outline_nest
from elbrix.design.families.soft_jaw.sizes import (
    FIT_MM,
    GRIP_MIN,
    GRIP_SHARE,
    PARAMETERS,
    SCREWS,
    WALL_BEHIND,
    WALL_OVER,
    SoftJawSizes,
)
from elbrix.design.family import Callout, Capability, Design, Request, SlotFit
from elbrix.design.hosts import vise_of
from elbrix.design.parts import Part, screws
from elbrix.design.work import IN_VISE, Blank, BoredHole, HandOperation, Pocket, Shoulder, Step, VGroove, Work
from elbrix.drawing.scene import Scene
from elbrix.geometry.shapes import Ring
from elbrix.mechanics.strength import HANDLE_SHARE
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.places import read_places
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.results.checks import Verdict
from elbrix.results.formulas import term, worked
from elbrix.results.length_text import length, torque_text
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe

_ROUGH_OUTLINE: Final = "0,0; 60,0; 60,30; 0,30"


#: Corners of a nest that are written out; of more the outline's own drawing says where they are.
_CORNERS: Final = 12


def _callouts(s: SoftJawSizes) -> tuple[Callout, ...]:
    """A nest: where its wall runs, so that the jaw can be milled from the sheet alone."""
    if s.kind == "round":
        words = f"nest Ø{length(2 * s.nest_r, 2)} × {length(s.grip)}, its centre {length(s.spacer / 2)} in front of the face"
        return (Callout(words, "top", (0.0, s.recess)),)
    if s.kind != "outline":
        return ()
    moving, d = s.moving, s.v.number("cutter_diameter")

    def behind(points: Iterable[tuple[float, float]]) -> str:
        sign = -1.0 if moving else 1.0
        places = [(sign * x, sign * y - s.spacer / 2) for x, y in points]
        return "; ".join(f"{length(x, 2)}, {length(y, 2)}" for x, y in places if y > -d / 2)

    path = s.nest.path
    wall = (
        f"its middle by way of {behind(path)} (along the jaw from its middle, behind the face)"
        if len(path) <= _CORNERS
        else f"{length(s.v.number('outline_clearance'))} round the work's outline, from its own drawing"
    )
    found = [Callout(f"nest {length(s.grip)} deep, end mill Ø{length(d)}, {wall}", "top", (0.0, s.recess))]
    if s.nest.reliefs and (corners := behind(s.nest.reliefs)):
        found.append(Callout(f"corners relieved with the same cutter at {corners}", "top", _relief(s, moving)))
    return tuple(found)


def _relief(s: SoftJawSizes, moving: bool) -> tuple[float, float]:
    sign = -1.0 if moving else 1.0
    places = [(sign * x, sign * y - s.spacer / 2) for x, y in s.nest.reliefs]
    return max(places, key=lambda p: p[1])


class SoftJaw:
    """See the module."""

    key = "soft_jaw"
    title = "Soft jaw"
    when = "When work has no two flat sides, marks easily, or has to lie at the same place every time."
    group = "hold it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, str(chosen["vise"].value) if "vise" in chosen else "")
        p.measure("vise", vise.name, "Shop", known=known)
        kind = p.assume("kind", "ledge")
        jaws = p.assume("jaws", "pair")
        p.assume("side", "fixed")
        high = p.assume("work_height", 20.0)
        wide = p.assume("work_length", 60.0)
        deep = p.assume("work_width", 20.0 if kind == "vee" else 40.0)
        width = p.measure("length", vise.jaw_width_mm, vise.name, known=known)
        screw = p.measure(
            "jaw_screw", vise.jaw_screw if vise.jaw_screw in SCREWS else "M8", vise.name, known=known and vise.jaw_screw in SCREWS
        )
        p.measure(
            "screw_spacing",
            vise.jaw_screw_spacing_mm or round(0.64 * vise.jaw_width_mm),
            vise.name,
            known=known and vise.jaw_screw_spacing_mm > 0,
        )
        above = p.measure(
            "screw_height",
            vise.jaw_screw_height_mm or round(0.45 * vise.jaw_height_mm),
            vise.name,
            known=known and vise.jaw_screw_height_mm > 0,
        )
        p.measure("opening", vise.opening_mm, vise.name, known=known)
        head = counterbored("S", 0, 0, screw)
        if kind == "vee":
            height = p.reckon(
                "height",
                worked(
                    f"max(vise's jaws; vise screws + counterbore/2 + {WALL_OVER:g} + 1.1·Ø + 2)",
                    vise.jaw_height_mm,
                    above,
                    head.bore,
                    deep,
                    source="the V and its edge over the screws' heads",
                ),
                up=0.5,
            )
        else:
            height = p.measure("height", vise.jaw_height_mm, vise.name, known=known)
        room = height - above - head.bore / 2 - WALL_OVER
        if kind == "vee":
            p.reckon(
                "grip_height", worked("0.53·Ø + 2", deep, source="half the V's mouth + 2: its middle below the jaw's top"), up=0.5
            )
        else:
            p.reckon(
                "grip_height",
                worked(f"max({GRIP_MIN:g}; {GRIP_SHARE:g}·work; 0.25·work)", high),
                up=0.5,
                least=1.0,
                most=max(1.0, round_down(room, 0.5)),
            )
        ledge = p.assume("ledge_depth", 3.0)
        owned = [q for q in shop.pins if 4 <= q.diameter_mm <= 12 and q.count >= 2]
        pin = p.measure(
            "pin_diameter", owned[0].diameter_mm if owned else 6.0, "Shop" if owned else "none owned", known=bool(owned)
        )
        p.reckon(
            "pin_spacing",
            worked("min(work − 2·pin; jaw − 3·pin)", wide, pin, width, source="as far apart as can be"),
            down=1.0,
            least=5.0,
        )
        p.assume("pin_protrusion", max(1.0, min(4.0, round_down(0.3 * deep, 0.5))))
        fit = p.assume("pin_fit", "slip")
        p.assume("pin_height_error", 0.01)
        p.reckon("pin_lean", worked("play/20", max(FIT_MM[fit], 0.0), source="over 20 of hole"), near=1e-05)
        p.assume("square_length", high)
        p.assume("squareness", 0.05)
        angle = p.assume("v_angle", "90")
        a = math.radians(float(angle)) / 2
        if kind == "vee":
            p.reckon("v_width", worked("1.06·Ø·cos(A/2)", deep, term(2 * math.degrees(a), 3, "°")), up=0.5, least=2.0)
        else:
            p.assume("v_width", 10.0)
        over = p.assume("nest_clearance", 0.08)
        text = p.assume("outline", _ROUGH_OUTLINE if kind == "outline" else "none")
        clearance = p.assume("outline_clearance", 0.1)
        ring = (
            centred(read_places(text, "mm", "Outline").points)
            if kind == "outline" and len(read_places(text, "mm", "Outline").points) > 2
            else ()
        )
        # A large cutter's corner reliefs eat the wall behind.
        mills = tuple(c.diameter_mm for c in shop.square_end_mills() if c.diameter_mm <= 8.0)
        best = largest_cutter(ring, clearance, mills) if ring else 0.0
        cutter = p.measure(
            "cutter_diameter",
            best or 6.0,
            "the largest owned to 8 that leaves nothing standing" if best else "no owned one does",
            known=best > 0,
        )
        corners = p.assume("corners", "relieved")
        across = deep if kind != "outline" or not ring else max(q[1] for q in ring) - min(q[1] for q in ring)
        spacer = p.reckon(
            "spacer",
            worked("0.35·work", across, source="between the jaws: they must still close on the work"),
            down=0.5,
            least=1.0,
        )
        recess = {
            "ledge_depth": ledge,
            "vee": float(p.now("v_width")) / 2 / math.tan(a),
            "round": (deep + over - spacer) / 2,
            "outline": _deepest(ring, clearance, cutter, corners == "relieved", spacer),
        }.get(kind, 0.0)
        p.reckon(
            "thickness",
            worked(f"max(recess + {WALL_BEHIND:g}; counterbored head + 0.8·hole)", recess, head.bore_depth, head.drill),
            up=1.0,
        )
        p.assume("torque", round(vise.max_torque_nm * HANDLE_SHARE, 0))
        p.measure("force_per_nm", vise.force_per_nm, vise.name, known=known)
        p.assume("material", "aluminium alloy")
        p.choose("pieces", 2 if jaws == "pair" else 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = SoftJawSizes(values)
        how = {
            "plain": "plain",
            "ledge": f"ledge {length(s.grip)} × {length(s.ledge)}",
            "pins": f"two pins Ø{length(s.pin, 3)}, their tops level to {length(0.01)}",
            "vee": f"V {values.word('v_angle')}° along it",
            "round": (f"nest Ø{length(2 * s.nest_r, 2)} × {length(s.grip)}, bored in place on a {length(s.spacer)} spacer"),
            "outline": (
                f"nest {length(s.grip)} deep, {length(values.number('outline_clearance'))} round the work, cut in"
                f" place on a {length(s.spacer)} spacer"
            ),
        }[s.kind]
        note = f"For {values.word('vise')}: {how}. Back flat to {length(0.01)}; edges broken {length(0.3)}"
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s, shop)),
            checks=tuple(proof.checks(s, shop)),
            holes=hole_table(s.holes),
            datum="middle of the jaw and its bottom",
            face="front",
            note_words=note,
            callouts=_callouts(s),
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        kind = design.values.word("kind")
        own = {
            "plain": (),
            "ledge": ("ledge_depth",),
            "pins": (
                "pin_diameter",
                "pin_spacing",
                "pin_protrusion",
                "pin_fit",
                "pin_height_error",
                "pin_lean",
                "square_length",
                "squareness",
                "out_of_square",
            ),
            "vee": ("v_angle", "v_width", "v_deep", "v_most"),
            "round": ("nest_clearance", "nest_d", "spacer", "behind"),
            "outline": (
                "outline",
                "outline_clearance",
                "cutter_diameter",
                "best_cutter",
                "corners",
                "reliefs",
                "spacer",
                "behind",
            ),
        }[kind]
        side = ("side",) if kind == "outline" else ()
        title = {"pins": "Squaring pins", "vee": "V", "ledge": "Ledge"}.get(kind, "Nest")
        return (
            Group("Work", ("kind", "jaws", *side, "work_height", "work_length", "work_width", "grip_height", "seat")),
            *((Group(title, own),) if own else ()),
            Group("Vise", ("vise", "jaw_screw", "screw_spacing", "screw_height", "opening")),
            Group("Jaw", ("length", "height", "thickness", "material", "mass", "pieces")),
            Group("Clamping", ("torque", "force_per_nm", "push"), "cut as they will hold"),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = SoftJawSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = SoftJawSizes(design.values)
        w = s.width / 2
        block = Prism(pictures.end(s), -w, w, "yz")
        tools: list[Recipe] = list(Span(0.0, s.thickness, "xz").tools(s.holes))
        for ring in s.recesses:
            # The recess is open to the face: it is carried on a little in front of it.
            outline, arcs = opened(ring, s.recess_circles)
            tools.append(Prism(outline, s.seat, s.height + 1.0, "xy", arcs))
        return Cut(block, tuple(tools))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", (
            design.values.number("screw_spacing") / 2
            if design.values.word("kind") in ("plain", "ledge", "vee")
            else (design.values.number("pin_spacing") / 2 if design.values.word("kind") == "pins" else 0.0)
        )

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = SoftJawSizes(design.values)
        v = s.v
        steps: list[Step] = []
        if s.kind == "ledge":
            steps.append(
                Shoulder(name="Ledge", width_mm=s.seat, depth_mm=s.ledge, off_mm=-s.grip / 2, feature="ledge", id="ledge")
            )
        if s.kind == "vee":
            steps.append(
                VGroove(
                    name="V along the jaw",
                    included_deg=float(v.word("v_angle")),
                    mouth_mm=s.v_mouth,
                    at_mm=s.v_up - s.height / 2,
                    feature="v",
                )
            )
        holes = pattern(
            s.holes,
            s.thickness,
            "Screw and pin holes" if s.pins else "Screw holes",
            x0=-s.width / 2,
            y0=s.height / 2,
            held=f"{IN_VISE}, face up, on parallels clear of the holes; the jaw's top away from you",
        )
        assert holes is not None
        steps.append(holes)
        closed = (
            f"Screwed to the vise and closed on a spacer of {length(s.spacer)} low down between them, handle at"
            f" {torque_text(v.number('torque'), 3)}: they then stand as they will when they hold the work"
        )
        # Both jaws are cut together: X from the jaw's low end, Y from the parting line.
        if s.kind == "round":
            steps.append(
                BoredHole(
                    name="Nest, in place",
                    x_mm=s.width / 2,
                    y_mm=0.0,
                    size_mm=2 * s.nest_r,
                    depth_mm=s.grip,
                    thickness_mm=s.height,
                    held=closed,
                    feature="nest",
                    id="nest",
                    gap_mm=s.spacer,
                    moving=s.moving,
                )
            )
        if s.kind == "outline":
            steps.append(
                Pocket(
                    name="Nest, in place",
                    corners=tuple((x + s.width / 2, y) for x, y in s.nest.path),
                    depth_mm=s.grip,
                    cutter_mm=v.number("cutter_diameter"),
                    closed=True,
                    reliefs=tuple((x + s.width / 2, y) for x, y in s.nest.reliefs),
                    gap_mm=s.spacer,
                    moving=s.moving,
                    held=closed,
                    feature="nest",
                    id="nest",
                )
            )
        if s.pins:
            steps.append(
                HandOperation(
                    name="Pins",
                    words=(
                        f"Pins Ø{length(s.pin, 3)} in, {length(v.number('pin_protrusion'))} out. A straight edge"
                        f" over both: level with the bed to {length(v.number('pin_height_error'), 3)} by the indicator,"
                        " else change the lower one's place."
                    ),
                    tools=("indicator",),
                    check="Both pins are level by the indicator.",
                )
            )
        spare = (
            " A blank of the same thickness at the other end for work off the middle, or the moving jaw cocks."
            if s.kind in ("plain", "ledge")
            else ""
        )
        steps.append(
            HandOperation(
                name="Fit to the vise",
                words=f"Backs and vise stoned and wiped, screws tight crosswise, indicator along both faces.{spare}",
                tools=("oil stone", "indicator"),
                check="Shut on paper at all four corners: every strip is held.",
            )
        )
        blank = Blank(
            width_mm=s.height,
            height_mm=s.thickness,
            length_mm=s.width,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
            up="-y",
        )
        notes = ("Stamp which is fixed and which is moving, and the work's name.",)
        return Work(blank, tuple(steps), notes=notes, solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every vise whose jaw screws were measured."""
        s = SoftJawSizes(design.values)
        found = []
        for vise in shop.vises:
            if not vise.jaw_screw_spacing_mm or not vise.jaw_screw.startswith("M"):
                continue
            off = max(
                abs(vise.jaw_screw_spacing_mm - s.v.number("screw_spacing")) / 2,
                abs(vise.jaw_screw_height_mm - s.v.number("screw_height")),
            )
            free = (s.screws[0].drill - float(vise.jaw_screw[1:])) / 2
            good = vise.jaw_screw == s.v.word("jaw_screw") and off <= free
            found.append(
                SlotFit(
                    vise.name,
                    "jaw screws",
                    Verdict.GO if good else Verdict.NO_GO,
                    (
                        "its screws line up"
                        if good
                        else (
                            f"its screws are {vise.jaw_screw}, {length(vise.jaw_screw_spacing_mm)} apart,"
                            f" {length(vise.jaw_screw_height_mm)} up"
                        )
                    ),
                )
            )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        v = design.values
        pins = (Part(words=f"pin Ø{length(v.number('pin_diameter'))}", count=2, pin_mm=v.number("pin_diameter")),)
        return (*screws(2, v.word("jaw_screw"), "to the vise", feature="screws"), *(pins if v.word("kind") == "pins" else ()))

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = SoftJawSizes(design.values)
        if s.kind == "round":
            return (
                Capability(
                    "round",
                    f"rounds Ø{length(s.work_depth)} over {length(s.grip)}",
                    {"from_mm": s.work_depth, "to_mm": s.work_depth, "height_mm": s.grip},
                ),
            )
        if s.kind == "vee":
            return (
                Capability(
                    "round",
                    f"rounds to Ø{length(s.v_mouth / math.cos(s.v_half), 1)}, lying",
                    {"from_mm": s.v_mouth * math.cos(s.v_half), "to_mm": s.v_mouth / math.cos(s.v_half)},
                ),
            )
        what = "its outline" if s.kind == "outline" else f"work to {length(s.width)} long"
        return (Capability("block", f"{what}, held over {length(s.grip)}", {"length_mm": s.width, "grip_mm": s.grip}),)


def _deepest(ring: Ring, clearance: float, cutter: float, relieved: bool, spacer: float) -> float:
    """How far an outline nest goes behind either jaw's face; 0 when there is none, which is said when it is solved."""
    if not ring:
        return 0.0
    try:
        rings = outline_nest(ring, clearance, cutter, relieved).rings
    except ShopError:
        return 0.0
    return max((y for moving in (False, True) for part in beyond(rings, spacer, moving) for _, y in part), default=0.0)


FAMILY: Final = SoftJaw()
