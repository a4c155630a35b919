"""Stop on the end of a vise's fixed jaw.

A plate with a rod held in a slit bore; every piece comes to the same place along the jaws.

x forward from the jaw's face, y up from the bed, z out from the jaw's end.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, hole_checks, hole_table, pattern
from elbrix.design.families.vise_stop import pictures
from elbrix.design.families.vise_stop.sizes import PARAMETERS, ViseStopSizes
from elbrix.design.family import Callout, Capability, Design, Request, SlotFit
from elbrix.design.hosts import vise_of
from elbrix.design.parts import Part, made, screws
from elbrix.design.slit_clamp import owned_saw
from elbrix.design.work import IN_VISE, Blank, HandOperation, HolePattern, SlitCut, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import STEEL_E_MPA
from elbrix.parameters.parameter import Group, ParameterValue, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe


class ViseStop:
    """See the module."""

    key = "vise_stop"
    title = "Vise stop"
    when = "When one piece after the other has to come to the same place along the jaws."
    group = "stop it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, str(chosen["vise"].value) if "vise" in chosen else "")
        p.measure("vise", vise.name, "Shop", known=known)
        jaw = p.measure("jaw_thickness", vise.jaw_thickness_mm, vise.name, known=known)
        high = p.measure("jaw_height", vise.jaw_height_mm, vise.name, known=known)
        rod = p.assume("rod_diameter", 10.0)
        p.reckon("thickness", worked("rod + 6", rod), up=1.0, least=10.0)
        plate = p.reckon("height", worked("jaw's height − 2", high, source="the cutter passes over it"), least=10.0)
        screw = p.assume("mounting_screw", "M6" if jaw >= 21 else "M5" if jaw >= 17 else "M4")
        d = float(screw[1:])
        low = p.reckon("lower_screw", worked("1.7·Ø", d), up=0.5)
        p.reckon("upper_screw", worked("height − 1.9·Ø", plate, d), up=0.5, least=low + 2.4 * d)
        p.reckon("rod_offset", worked("rod/2 + 6", rod, source="room for the screw's thread"), up=0.5)
        p.reckon("rod_height", worked("max(rod/2 + 4; height/2)", rod, plate), up=0.5)
        p.assume("rod_reach", 60.0)
        width, source, owned = owned_saw(shop)
        p.measure("slit_width", width, source, known=owned)
        p.assume("clamp_screw", "M5")
        p.assume("torque", 4.0)
        p.assume("rod_force", 50.0)
        p.assume("deflection", 0.05)
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = ViseStopSizes(values)
        note = (
            f"Rod Ø{length(s.rod, 3)} slides in Ø{length(s.bore.ream, 3)}; slit after reaming, {values.word('clamp_screw')}"
            " across it"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s)),
            checks=tuple(_checks(s)),
            holes=hole_table(s.holes),
            datum="jaw's face and the bed",
            note_words=note,
            callouts=(
                Callout(f"slit {length(s.slit)} wide through, from the bore up", "top", (s.rod_x, (s.rod_y + s.height) / 2)),
                Callout(s.clamp.words(**s.clamp_depths), "side", (s.clamp_y, s.thickness / 2)),
            ),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("Vise", ("vise", "jaw_thickness", "jaw_height", "mounting_screw", "lower_screw", "upper_screw")),
            Group("Rod", ("rod_diameter", "rod_offset", "rod_height", "rod_reach", "rod_force", "bends", "deflection")),
            Group("Clamp", ("slit_width", "clamp_screw", "torque", "clamp_n", "grip")),
            Group("Plate", ("thickness", "height", "wide", "material", "pieces")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = ViseStopSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = ViseStopSizes(design.values)
        block = Prism(((s.left, 0.0), (s.right, 0.0), (s.right, s.height), (s.left, s.height)), 0.0, s.thickness, "xy")
        k = s.slit / 2
        slit = Prism(
            ((s.rod_x - k, s.rod_y), (s.rod_x + k, s.rod_y), (s.rod_x + k, s.height + 1), (s.rod_x - k, s.height + 1)),
            -1.0,
            s.thickness + 1,
            "xy",
        )
        across = s.clamp.tool((s.right, s.clamp_y, s.thickness / 2), (1.0, 0.0, 0.0), **s.clamp_depths)
        return Cut(block, (*Span(0.0, s.thickness).tools(s.holes), slit, across))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", ViseStopSizes(design.values).rod_x

    def work(self, design: Design, shop: Shop) -> Work:
        s = ViseStopSizes(design.values)
        steps: list[Step] = []
        holes = pattern(s.holes, s.thickness, "Screw holes and the rod's bore", x0=s.left, y0=s.height / 2)
        assert holes is not None
        steps.append(holes)
        k, middle = s.slit / 2, s.rod_x - s.left
        steps += [
            HolePattern(
                name="Clamp screw, from the right end",
                holes=s.clamp.holes(s.thickness / 2, s.clamp_y - s.height / 2, **s.clamp_depths),
                thickness_mm=s.width,
                feature="clamp_screw",
                face="F",
                id="clamp",
                held=f"upright {IN_VISE}, square to the table",
            ),
            SlitCut(
                name="Slit",
                words=f"Saw the slit from the top into the bore, {length(s.slit, 1)} wide; break its edges",
                low=(middle - k, s.rod_y - s.height / 2, -s.thickness - 1.0),
                high=(middle + k, s.height / 2 + 1.0, 1.0),
                feature="slit_width",
            ),
            HandOperation(
                name="Vise",
                words=(
                    f"Spot through into the jaw's end, drill and tap {s.v.word('mounting_screw')}. The rod parallel to the jaws"
                    f" by eye, its end rounded. Push the work on it gently, always the same: it gives {length(s.bends, 3)}"
                    f" under {format_number(s.v.number('rod_force'))} N."
                ),
                tools=("tap",),
                caution="Take the rod back before a heavy cut: chips pack behind it.",
                check="The same piece put in five times indicates alike.",
            ),
        ]
        blank = Blank(
            width_mm=s.height,
            height_mm=s.thickness,
            length_mm=s.width,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Vises whose jaw it does not stand above."""
        s = ViseStopSizes(design.values)
        found = []
        for vise in shop.vises:
            thick = abs(vise.jaw_thickness_mm - s.jaw_thickness) <= 0.5 * s.jaw_thickness
            low = s.height <= vise.jaw_height_mm
            good = thick and low
            found.append(
                SlotFit(
                    vise.name,
                    "fixed jaw",
                    Verdict.GO if good else Verdict.NO_GO,
                    (
                        "it stays below the jaw's top"
                        if good
                        else "its jaw is lower"
                        if not low
                        else "its jaw has another thickness"
                    ),
                )
            )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        v = design.values
        rod = f"rod Ø{length(v.number('rod_diameter'))}, bright, its end domed"
        return (
            *screws(2, v.word("mounting_screw"), "into the jaw's end", feature="screws"),
            made(1, rod, "rod_diameter"),
            *screws(1, v.word("clamp_screw"), "across the slit", feature="slit_width"),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = ViseStopSizes(design.values)
        return (
            Capability(
                "stop",
                f"stops work up to {length(s.v.number('rod_reach'))} {LENGTH_UNIT} from the jaw's end",
                {"reach_mm": s.v.number("rod_reach")},
            ),
        )


def _figures(s: ViseStopSizes) -> list[Figure]:
    v = s.v
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned(
            "wide",
            "Plate width",
            worked("jaw + rod out + radius + metal", s.jaw_thickness, s.rod_x, s.rod / 2, s.right - s.rod_x - s.rod / 2),
            step=0.1,
            features=("plate",),
        ),
        reckoned(
            "bends",
            "Rod deflection",
            worked(
                "F·L³/(3·E·π·d⁴/64)",
                v.number("rod_force"),
                v.number("rod_reach"),
                STEEL_E_MPA,
                s.rod,
                source="pushed across its end; along it, far less",
            ),
            step=0.001,
            features=("rod_diameter",),
        ),
        *s.clamp.figures("Rod holding force", ("rod_diameter", "slit_width")),
    ]


def _checks(s: ViseStopSizes) -> list[Check]:
    v = s.v
    push, give = v.number("rod_force"), v.number("deflection")
    return [
        judged(
            "bends",
            "Rod deflection",
            worked("F·L³/(3·E·π·d⁴/64)", push, v.number("rod_reach"), STEEL_E_MPA, s.rod),
            Limits(marginal_above=0.8 * give, no_above=give),
            (f"it gives less than {length(give)}", "all of what is allowed: push gently", "thicker rod, or less reach"),
            step=0.001,
            features=("rod_diameter",),
            figures=("bends", "rod_diameter", "rod_reach"),
            remedies=("rod_diameter", "rod_reach"),
        ),
        s.clamp.load(),
        judged(
            "holds",
            "Rod holding force",
            worked("holding force/push", term(s.clamp.grip_n, 4), push),
            Limits(1.0, 2.0),
            ("held twice over or more", "little in hand: tighten it more", "the work pushes it back"),
            unit="×",
            features=("slit_width", "rod_diameter"),
            figures=("grip", "rod_force"),
            remedies=("torque", "clamp_screw"),
        ),
        judged(
            "under",
            "Height below jaw top",
            worked("jaw − plate", v.number("jaw_height"), s.height),
            Limits(0.0, 1.0),
            ("the cutter passes over it", "level with the jaw: mind the cutter", "it stands above the jaw: the cutter meets it"),
            step=0.1,
            features=("plate", "jaw"),
            figures=("height", "jaw_height"),
            remedies=("height",),
        ),
        judged(
            "face",
            "Rod clearance to jaw",
            worked("rod out − radius", s.rod_x, s.rod / 2),
            Limits(0.3, 1.0),
            ("the work's side goes past it", "it all but touches the jaw", "it rubs on the jaw"),
            step=0.1,
            features=("rod_diameter", "jaw"),
            figures=("rod_offset",),
            remedies=("rod_offset",),
        ),
        *hole_checks(
            s.holes, s.thickness, s.edge, v.word("material"), ("height", "mounting_screw", "lower_screw", "upper_screw")
        ),
        judged(
            "clamp_thread",
            "Clamp screw thread",
            worked("metal behind the slit/d", s.clamp_thread, s.clamp.d),
            Limits(0.8, 1.0),
            ("it holds", "short", "it strips: set the rod farther out"),
            unit="× d",
            features=("slit_width",),
            figures=("clamp_screw", "rod_offset"),
            remedies=("rod_offset", "clamp_screw"),
        ),
        judged(
            "clamp_apart",
            "Metal clamp screw to fixing screws",
            s.clamp_apart,
            Limits(0.15 * s.clamp.d, 0.5 * s.clamp.d),
            ("half a diameter or more between the holes", "thin between the holes", "the holes run into each other"),
            step=0.1,
            features=("slit_width", "screws"),
            figures=("upper_screw", "rod_height"),
            remedies=("upper_screw", "height", "rod_offset"),
            derivation=("least distance of the axes less both radii", format_number(s.clamp_apart, 4)),
        ),
        judged(
            "clamp_over",
            "Wall screw to rod",
            worked("between middles − rod − screw", s.clamp_y - s.rod_y, s.rod / 2, s.clamp.clear / 2, source="halves"),
            Limits(0.3, 1.0),
            ("metal between them", "thin between them", "it runs into the bore"),
            step=0.1,
            features=("slit_width", "rod_diameter"),
            figures=("rod_height", "height"),
            remedies=("rod_height", "height"),
        ),
        judged(
            "clamp_top",
            "Wall screw to top",
            worked("plate − middle − radius", s.height, s.clamp_y, s.clamp.clear / 2),
            Limits(0.5, 1.5),
            ("metal over it", "thin over it", "it breaks out at the top"),
            step=0.1,
            features=("slit_width",),
            figures=("height",),
            remedies=("height", "rod_height"),
        ),
    ]


FAMILY: Final = ViseStop()
