"""Quill depth stop: a sleeve turned to the casting's uneven bore.

And a slider on it with one setting tip and three fitted feet; gauge blocks set the travel.

x forward from the sleeve's axis, y across, z up from the slider's underside. The slider is drawn and milled; the sleeve's
numbers stand beside it.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Hole, Span, hole_checks, hole_table, pattern
from elbrix.design.families.depth_stop import pictures, sleeve
from elbrix.design.families.depth_stop.sizes import HOLD, PARAMETERS, SLIDE, DepthStopSizes
from elbrix.design.family import Callout, Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.parts import Part, made, screws, size_of
from elbrix.design.slit_clamp import owned_saw
from elbrix.design.work import IN_VISE, Blank, BoredHole, HandOperation, HolePattern, SlitCut, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Group, ParameterValue, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned


def _press_least_formula(s: DepthStopSizes) -> Worked:
    return worked("Ø − widest bore", term(s.out, 4), term(s.bore.max, 4))


def _press_most_formula(s: DepthStopSizes) -> Worked:
    return worked("Ø − tightest bore", term(s.out, 4), term(s.bore.min, 4))


def _slides_formula(s: DepthStopSizes) -> Worked:
    return worked("bored − sleeve", term(s.ring, 4), term(s.sleeve, 4))


def _callouts(s: DepthStopSizes) -> tuple[Callout, ...]:
    slit = f"slit {length(s.slit)} wide through, from the back to the bore"
    screw = s.clamp.words(to_slit=s.width / 2, to_end=0.0, counterbore_depth=s.clamp_counterbore)
    return (
        Callout(slit, "top", ((s.clamp_x - s.back) / 2, 0.0)),
        Callout(f"from the far side: {screw}", "front", (s.clamp_x, s.thickness / 2)),
    )


class DepthStop:
    """See the module."""

    key = "depth_stop"
    title = "Quill depth stop"
    when = "When the quill has to stop at the same depth, set with gauge blocks and not with a ring of divisions."
    group = "stop it"
    meets = frozenset({"quill stop"})
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        p.assume("part", "slider")
        wanted = str(chosen["casting_bore"].value) if "casting_bore" in chosen else ""
        found = next((b for b in shop.bores if wanted and wanted.lower() in (b.id.lower(), b.name.lower())), None)
        if found is None and not wanted:
            found = max(shop.bores, key=lambda b: b.uneven_mm, default=None)
        known = found is not None
        p.measure("casting_bore", found.name if found else wanted, "Shop", known=known)
        bore = p.measure(
            "bore",
            Readings(values_mm=(found.smallest_mm, found.largest_mm)) if found else Readings(values_mm=(25.0, 25.05)),
            found.name if found else "not measured",
            known=known,
        )
        p.measure(
            "bore_depth",
            found.depth_mm if found and found.depth_mm else 25.0,
            found.name if found else "",
            known=bool(found and found.depth_mm),
        )
        out = p.reckon(
            "sleeve_pressed",
            worked(f"widest bore + {HOLD:g}", term(bore.max, 4), source="pressed where it is tight, held everywhere"),
            up=0.005,
        )
        guide = p.reckon("sleeve", worked("pressed part + 4", out, source="a shoulder of 2 all round"), up=1.0)
        wall = min(3.0, out / 5)
        p.reckon(
            "sleeve_bore", worked("pressed part − 2·wall", out, wall, source="walls of 3, of a fifth where it is small"), down=0.5
        )
        ring = p.reckon("slider_bore", worked(f"sleeve + {SLIDE:g}", guide), near=0.001)
        thick = p.assume("thickness", 14.0)
        clamp = p.assume("clamp_screw", "M6")
        d = float(clamp[1:])
        p.reckon("width", worked("bore + 24", ring, source="12 on each side"), up=1.0)
        p.reckon("rear_length", worked("bore/2 + 3.2·clamp screw", ring, d), up=1.0)
        tip = p.reckon("tip_distance", worked("bore/2 + 12", ring), up=0.5)
        p.reckon("front_length", worked("tip + 12", tip), up=1.0)
        width = float(p.now("width"))
        p.assume("tip_thread", "M6x1")
        y = round_down(width / 2 - 8, 1.0)
        p.work(
            "feet",
            f"{format_number(tip + 5)},{format_number(-y)}; {format_number(tip + 5)},{format_number(y)};"
            f" -6,{format_number(round_down(ring / 2 + 6, 0.5))}",
            "two before the tip, one beside the sleeve, clear of the clamp screw",
            f"y {format_number(y)}",
        )
        p.assume("foot_thread", "M4x0.7")
        p.assume("stack_place", "between")
        p.assume("travel", 12.5)
        p.assume("tip_protrusion", 6.0)
        p.reckon("sleeve_height", worked("slider + travel + tip + 10", thick, float(p.now("travel")), 6.0), up=1.0)
        p.assume("feed_force", 400.0)
        saw, source, owned = owned_saw(shop)
        p.measure("slit_width", saw, source, known=owned)
        p.assume("torque", 7.0)
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = DepthStopSizes(values)
        note = (
            f"Slider: bored to slide on the sleeve Ø{length(s.sleeve, 3)}, slit after boring. The sleeve has a drawing of its own"
        )
        if s.sleeve_shown:
            bore = values.number("sleeve_bore")
            holes: tuple[HoleLine, ...] = (
                HoleLine("A", 0.0, 0.0, f"Ø{length(bore, 2)} through", sizes=HoleSizes(diameter_mm=bore)),
            )
            note = "Pressed below, guide above; both about one axis, shoulder square to them"
        else:
            ring = Hole(name="A", x=0.0, y=0.0, drill=s.ring, feature="bore", use="bored for the sleeve", size="slider_bore")
            holes = hole_table((ring, *s.holes))
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s, shop)),
            checks=tuple(_checks(s)),
            holes=holes,
            datum="axis of the sleeve",
            note_words=note,
            callouts=sleeve.callouts(s) if s.sleeve_shown else _callouts(s),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group(
                "Sleeve",
                (
                    "casting_bore",
                    "bore",
                    "bore_depth",
                    "sleeve_pressed",
                    "press_most",
                    "press_least",
                    "sleeve",
                    "sleeve_bore",
                    "sleeve_height",
                ),
            ),
            Group(
                "Slider",
                ("part", "slider_bore", "slides", "thickness", "width", "front_length", "rear_length", "material", "pieces"),
            ),
            Group("Tip and feet", ("tip_distance", "tip_thread", "feet", "foot_thread", "inside")),
            Group("Setting", ("stack_place", "travel", "tip_protrusion", "stack", "blocks")),
            Group("Clamp", ("slit_width", "clamp_screw", "torque", "clamp_n", "grip", "feed_force")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = DepthStopSizes(design.values)
        if s.sleeve_shown:
            return (pictures.in_place(s), *sleeve.views(s))
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = DepthStopSizes(design.values)
        if s.sleeve_shown:
            return sleeve.solid(s)
        w, k, r = s.width / 2, s.slit / 2, s.ring / 2
        block = Prism(((-s.back, -w), (s.front, -w), (s.front, w), (-s.back, w)), 0.0, s.thickness, "xy")
        ring = Turned(((0.0, -1.0), (r, -1.0), (r, s.thickness + 1), (0.0, s.thickness + 1)), (0.0, 0.0, 0.0))
        slit = Prism(((-s.back - 1, -k), (-r * 0.5, -k), (-r * 0.5, k), (-s.back - 1, k)), -1.0, s.thickness + 1, "xy")
        across = s.clamp.tool(
            (s.clamp_x, w, s.thickness / 2), (0.0, 1.0, 0.0), to_slit=w, to_end=2 * w + 1, counterbore_depth=s.clamp_counterbore
        )
        return Cut(block, (ring, slit, across, *Span(0.0, s.thickness).tools(s.holes)))

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        s = DepthStopSizes(design.values)
        v = s.v
        if s.sleeve_shown:
            return sleeve.work(s)
        steps: list[Step] = [
            BoredHole(
                name="Bore for the sleeve",
                x_mm=s.back,
                y_mm=0.0,
                size_mm=s.ring,
                thickness_mm=s.thickness,
                allowed_mm=0.005,
                feature="bore",
                id="ring",
            )
        ]
        for below, name in ((False, "Setting tip"), (True, "Feet, from underneath")):
            found = pattern(s.holes, s.thickness, name, x0=-s.back, y0=0.0, below=below, id="under" if below else "tip")
            if found is not None:
                steps.append(found)
        steps += [
            HolePattern(
                name="Clamp screw, from the far side",
                holes=s.clamp.holes(
                    s.clamp_x + s.back, 0.0, to_slit=s.width / 2, to_end=0.0, counterbore_depth=s.clamp_counterbore
                ),
                thickness_mm=s.width,
                feature="clamp_screw",
                face="B",
                id="clamp",
                held=f"on edge {IN_VISE}",
            ),
            SlitCut(
                name="Slit",
                words="Saw the slit from the back into the bore; break its edges",
                low=(-1.0, -s.slit / 2, -s.thickness - 1.0),
                high=(s.back - s.ring / 4, s.slit / 2, 1.0),
                feature="slit_width",
            ),
            HandOperation(
                name="Sleeve",
                words=(
                    f"Turned by its own plan (pick the sleeve as the part shown): Ø{length(s.out, 3)} ×"
                    f" {length(v.number('bore_depth'))} to the bore as measured, {length(s.bore.min, 3)} to"
                    f" {length(s.bore.max, 3)}; Ø{length(s.sleeve, 3)} above; bore"
                    f" Ø{length(v.number('sleeve_bore'))}. Draw it in, never hammer."
                ),
                tools=("micrometer", "draw bolt"),
                check=f"A trial rod, scrap turned {length(0.01)} under the fit, goes in; then the sleeve seats all round.",
            ),
            HandOperation(
                name="Fit the feet",
                words=(
                    "Slider on the sleeve over the casting, layout blue on the casting: screw and stone the feet till all three"
                    " mark and the slider does not rock when the tip is pressed."
                ),
                tools=("layout blue", "oil stone"),
                check="All three feet mark blue, and nothing rocks when the tip is pressed.",
            ),
        ]
        blank = Blank(
            width_mm=s.width,
            height_mm=s.thickness,
            length_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
        )
        return Work(
            blank,
            tuple(steps),
            notes=("Prove the stop with an indicator on the quill, three times, before the first piece.",),
            solid=self.solid(design),
        )

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Bores its sleeve goes into."""
        s = DepthStopSizes(design.values)
        found = []
        for bore in shop.bores:
            if abs(bore.smallest_mm - s.out) <= 0.5:
                good = bore.largest_mm <= s.out <= bore.smallest_mm + 0.12
                found.append(
                    SlotFit(
                        bore.name,
                        "bore",
                        Verdict.GO if good else Verdict.NO_GO,
                        "its sleeve is pressed in" if good else "its sleeve is loose or too tight there",
                    )
                )
        return tuple(found)

    def parts(self, design: Design) -> tuple[Part, ...]:
        s, v = DepthStopSizes(design.values), design.values
        return (
            made(1, f"sleeve Ø{length(v.number('sleeve'))}, bored {length(v.number('sleeve_bore'))}", "sleeve"),
            made(1, f"setting tip {size_of(v.word('tip_thread'))}, with its lock nut", "tip"),
            made(len(s.feet), f"foot {size_of(v.word('foot_thread'))}"),
            *screws(1, v.word("clamp_screw"), "across the slit"),
        )

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = DepthStopSizes(design.values)
        return (
            Capability(
                "quill stop", f"stops the quill against {format_number(s.clamp.grip_n, 0)} N", {"force_n": s.clamp.grip_n}
            ),
        )


def _blocks(s: DepthStopSizes, shop: Shop) -> str:
    """The stack out of the first box of the shop: "1.4 + 7", or why not."""
    if not shop.gauge_sets:
        return "no gauge blocks in Shop"
    from elbrix.gauging.build_up import Sources  # NumPy is only loaded when a stack is worked out

    try:
        stacks, nearest = Sources(box=shop.gauge_sets[0]).best(s.stack, 0.0005, 1)
    except ShopError:
        return "no stack of that height"
    if stacks:
        return stacks[0].words
    return f"none; nearest {format_number(nearest[0].height_mm, 4)}: {nearest[0].words}" if nearest else "none"


def _figures(s: DepthStopSizes, shop: Shop) -> list[Figure]:
    v = s.v
    under = v.word("stack_place") == "under"
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        reckoned("press_least", "Smallest interference", _press_least_formula(s), step=0.001, features=("sleeve",)),
        reckoned("press_most", "Largest interference", _press_most_formula(s), step=0.001, features=("sleeve",)),
        reckoned("slides", "Slider clearance", _slides_formula(s), step=0.001, features=("bore",)),
        Figure(
            key="inside",
            label="Tip inside the feet",
            value=max(s.inside, -999.0),
            step=0.1,
            features=("tip", "feet"),
            derivation=Derivation(
                "to the nearest side of the feet's polygon; less than 0 outside", format_number(max(s.inside, -999.0))
            ),
        ),
        reckoned(
            "stack",
            "Gauge stack",
            worked("travel + tip out", term(v.number("travel"), 4), term(v.number("tip_protrusion"), 4))
            if under
            else worked("travel", term(v.number("travel"), 4)),
            step=0.001,
            features=("tip",),
            note="under the slider: the tip stands out below it" if under else "between tip and landing: the stack is the travel",
        ),
        Figure(key="blocks", label="Blocks", value=0.0, unit="", text=_blocks(s, shop), features=("tip",)),
        *s.clamp.figures("Slider holding force", ("slit_width",)),
    ]


def _checks(s: DepthStopSizes) -> list[Check]:
    v = s.v
    limit = max(0.012, 0.0015 * s.out)
    return [
        judged(
            "holds",
            "Smallest interference",
            _press_least_formula(s),
            Limits(-0.02, 0.0),
            (
                "pressed all over",
                "loose at its widest place: a retaining compound, as its maker says",
                "it touches only where the bore is tight",
            ),
            step=0.001,
            features=("sleeve",),
            figures=("press_least", "sleeve_pressed"),
            remedies=("sleeve_pressed",),
        ),
        judged(
            "clamp_apart",
            "Metal clamp screw to feet",
            s.clamp_apart,
            Limits(0.15 * s.clamp.d, 0.5 * s.clamp.d),
            ("half a diameter or more between the holes", "thin between the holes", "the holes run into each other"),
            step=0.1,
            features=("slit_width", "feet"),
            figures=("feet",),
            remedies=("rear_length", "clamp_screw"),
            derivation=("least distance of the axes less both radii", format_number(s.clamp_apart, 4)),
        ),
        judged(
            "splits",
            "Largest interference",
            _press_most_formula(s),
            Limits(marginal_above=max(0.05, limit), no_above=0.12),
            ("it is drawn in with a bolt", "tight: bore the casting even, or chill the sleeve", "it may split the casting"),
            step=0.001,
            features=("sleeve",),
            figures=("press_most", "sleeve_pressed"),
            remedies=("sleeve_pressed",),
        ),
        judged(
            "wall",
            "Sleeve wall",
            worked("(Ø − bored)/2", term(s.out, 4), v.number("sleeve_bore")),
            Limits(1.5, 2.5),
            ("it keeps its shape", "thin: bore it after pressing", "it folds"),
            step=0.1,
            features=("sleeve",),
            figures=("sleeve_bore",),
            remedies=("sleeve_bore",),
        ),
        judged(
            "slides",
            "Slider clearance",
            _slides_formula(s),
            Limits(0.0, 0.01, 0.05, 0.2),
            (
                "it slides, and the slit closes it",
                "tight" if s.ring - s.sleeve < 0.01 else "loose: it leans as it is clamped",
                "it leans",
            ),
            step=0.001,
            features=("bore",),
            figures=("slider_bore", "sleeve"),
            remedies=("slider_bore",),
        ),
        judged(
            "rocks",
            "Tip inside the feet",
            s.inside if s.inside > -1e6 else -999.0,
            Limits(0.0, 2.0),
            (
                "the tip's load comes down inside the three feet",
                "near the edge of the feet",
                (
                    "the load comes down outside the feet: it tips"
                    if len(s.feet) > 2
                    else "three feet stand on anything, fewer do not"
                ),
            ),
            step=0.1,
            features=("feet", "tip"),
            figures=("feet", "tip_distance", "inside"),
            remedies=("tip_distance",),
            derivation=("to the nearest side of the feet's polygon; less than 0 outside", format_number(max(s.inside, -999.0))),
        ),
        judged(
            "feet",
            "Number of feet",
            len(s.feet),
            Limits(3, 3, 3, 4),
            ("three stand on anything", "a fourth has to be fitted to the other three", "fewer than three, or more than four"),
            unit="",
            text=f"{len(s.feet)} feet",
            features=("feet",),
            figures=("feet",),
            derivation=("places given", str(len(s.feet))),
        ),
        s.clamp.load(),
        judged(
            "grip",
            "Slider holding force",
            worked("holding force/feed force", term(s.clamp.grip_n, 4), v.number("feed_force")),
            Limits(1.0, 2.0),
            ("held twice over or more", "little in hand: tighten it more", "it slides down under the push"),
            unit="×",
            features=("slit_width",),
            figures=("grip", "feed_force"),
            remedies=("torque", "clamp_screw"),
        ),
        *hole_checks(s.holes, s.thickness, s.edge, v.word("material"), ("width", "front_length", "rear_length", "thickness")),
        judged(
            "clamp_wall",
            "Wall behind clamp screw",
            worked("back − screw − radius", s.back, abs(s.clamp_x), s.clamp.clear / 2),
            Limits(1.0, 2.0),
            ("it holds", "thin", "it breaks out"),
            step=0.1,
            features=("slit_width",),
            figures=("rear_length", "clamp_screw"),
            remedies=("rear_length", "clamp_screw"),
        ),
        judged(
            "clamp_bore",
            "Wall screw to bore",
            worked("screw − half the bore − radius", abs(s.clamp_x), s.ring / 2, s.clamp.clear / 2),
            Limits(0.5, 1.5),
            ("it holds", "thin", "it runs into the bore"),
            step=0.1,
            features=("slit_width", "bore"),
            figures=("rear_length", "slider_bore"),
            remedies=("rear_length",),
        ),
    ]


FAMILY: Final = DepthStop()
