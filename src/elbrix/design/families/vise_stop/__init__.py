"""Stop on the end of a vise's fixed jaw.

A plate with a rod held in a slit bore; every piece comes to the same place along the jaws.

x forward from the jaw's face, y up from the bed, z out from the jaw's end.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.bores import Span, hole_checks, hole_table, pattern
from elbrix.design.families.vise_stop import pictures
from elbrix.design.families.vise_stop.sizes import PARAMETERS, Sizes
from elbrix.design.family import Capability, Design, Need, SlotFit
from elbrix.design.hosts import vise_of
from elbrix.design.slit_clamp import owned_saw
from elbrix.design.work import BenchWork, Blank, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.parameters.parameter import Given, Group, Values, figure_of
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_up
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import Figure, Working, num
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe


class ViseStop:
    """See the module."""

    key = "vise_stop"
    title = "Vise stop"
    when = "When one piece after the other has to come to the same place along the jaws."
    group = "stop it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        p = Proposal(chosen)
        vise, known = vise_of(shop, str(chosen["vise"].value) if "vise" in chosen else "")
        p.measure("vise", vise.name, "Shop", known=known)
        jaw = p.measure("jaw_thick", vise.jaw_thickness_mm, vise.name, known=known)
        high = p.measure("jaw_high", vise.jaw_height_mm, vise.name, known=known)
        rod = p.assume("rod", 10.0)
        p.work("thickness", round_up(max(rod + 6, 10), 1), "rod + 6, 10 at least", f"{num(rod)} + 6")
        plate = p.work("high", max(10.0, high - 2), "the jaw's height − 2: the cutter passes over it", f"{num(high)} − 2")
        screw = p.assume("screw", "M6" if jaw >= 21 else "M5" if jaw >= 17 else "M4")
        d = float(screw[1:])
        low = p.work("low_screw", round_up(1.7 * d, 0.5), "1.7 × its Ø", f"1.7·{num(d)}")
        p.work(
            "high_screw",
            max(low + 2.4 * d, round_up(plate - 1.9 * d, 0.5)),
            "1.9 × its Ø below the top",
            f"{num(plate)} − 1.9·{num(d)}",
        )
        p.work("rod_out", round_up(rod / 2 + 6, 0.5), "its radius and 6: room for the screw's thread", f"{num(rod)}/2 + 6")
        p.work("rod_up", round_up(max(rod / 2 + 4, 0.5 * plate), 0.5), "half the plate's height", f"0.5·{num(plate)}")
        p.assume("reach", 60.0)
        width, source, owned = owned_saw(shop)
        p.measure("slit", width, source, known=owned)
        p.assume("clamp", "M5")
        p.assume("torque", 4.0)
        p.assume("push", 50.0)
        p.assume("give", 0.05)
        p.assume("material", "mild steel")
        p.choose("pieces", 1)
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = Sizes(values)
        note = (
            f"Rod Ø{num(s.rod, 3)} slides in Ø{num(s.bore.ream, 3)}; slit {num(s.slit)} from the bore up after reaming;"
            f" {values.word('clamp')} across it, tapped behind the slit"
        )
        return Design(
            family=self.key,
            values=values,
            figures=tuple(_figures(s)),
            checks=tuple(_checks(s)),
            holes=hole_table(s.holes),
            datum="jaw's face and the bed",
            note=note,
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("On the vise", ("vise", "jaw_thick", "jaw_high", "screw", "low_screw", "high_screw")),
            Group("The rod", ("rod", "rod_out", "rod_up", "reach", "push", "bends", "give")),
            Group("The clamp", ("slit", "clamp", "torque", "clamp_n", "grip")),
            Group("The plate", ("thickness", "high", "wide", "material", "pieces")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = Sizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = Sizes(design.values)
        block = Prism(((s.left, 0.0), (s.right, 0.0), (s.right, s.high), (s.left, s.high)), 0.0, s.thick, "xy")
        k = s.slit / 2
        slit = Prism(
            ((s.rod_x - k, s.rod_y), (s.rod_x + k, s.rod_y), (s.rod_x + k, s.high + 1), (s.rod_x - k, s.high + 1)),
            -1.0,
            s.thick + 1,
            "xy",
        )
        # The head sits in a shallow spot face.
        across = s.clamp.tool(
            (s.right, s.clamp_y, s.thick / 2),
            (1.0, 0.0, 0.0),
            to_slit=s.right - s.rod_x,
            to_end=s.right - s.rod_x + s.clamp_thread,
            sunk=0.3 * s.clamp.d + 1,
        )
        return Cut(block, (*Span(0.0, s.thick).tools(s.holes), slit, across))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", Sizes(design.values).rod_x

    def work(self, design: Design, shop: Shop) -> Work:
        s = Sizes(design.values)
        steps: list[Step] = []
        holes = pattern(s.holes, s.thick, "Screw holes and the rod's bore", x0=s.left, y0=s.high / 2)
        assert holes is not None
        steps.append(holes)
        steps += [
            BenchWork(
                name="Clamp screw and slit",
                words=(
                    f"On edge: {s.v.word('clamp')} clearance from the right end to the rod's middle, {num(s.clamp_y, 1)} up, in"
                    f" the middle of the thickness; tapping drill {num(s.clamp_thread, 0)} on, tap. Then saw the slit from the"
                    " top into the bore, break its edges."
                ),
                tools=("tap", "hacksaw or slitting saw"),
            ),
            BenchWork(
                name="On the vise",
                words=(
                    f"Spot through into the jaw's end, drill and tap {s.v.word('screw')}. The rod parallel to the jaws by eye,"
                    f" its end rounded. Push the work on it gently, always the same: it gives {num(s.bends, 3)} under"
                    f" {num(s.v.number('push'))} N."
                ),
                tools=("tap",),
                caution="Take the rod back before a heavy cut: chips pack behind it.",
            ),
        ]
        blank = Blank(
            across_mm=s.high, high_mm=s.thick, along_mm=s.wide, pieces=int(s.v.number("pieces")), material=s.v.word("material")
        )
        return Work(blank, tuple(steps))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Vises whose jaw it does not stand above."""
        s = Sizes(design.values)
        found = []
        for vise in shop.vises:
            thick = abs(vise.jaw_thickness_mm - s.jaw_thick) <= 0.5 * s.jaw_thick
            low = s.high <= vise.jaw_height_mm
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

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = Sizes(design.values)
        return (
            Capability(
                "stop", f"stops work to {num(s.v.number('reach'))} in from the jaw's end", {"reach_mm": s.v.number("reach")}
            ),
        )


def _figures(s: Sizes) -> list[Figure]:
    v = s.v
    return [
        *(figure_of(p, v[p.name]) for p in PARAMETERS),
        Figure(
            key="wide",
            label="Plate, wide",
            value=s.wide,
            step=0.1,
            features=("plate",),
            working=Working(
                "jaw + rod out + radius + metal",
                f"{num(s.jaw_thick)} + {num(s.rod_x)} + {num(s.rod / 2)} + {num(s.right - s.rod_x - s.rod / 2)}",
            ),
        ),
        Figure(
            key="bends",
            label="The rod's end gives",
            value=s.bends,
            step=0.001,
            features=("rod",),
            working=Working(
                "F·L³/(3·E·π·d⁴/64)",
                f"{num(v.number('push'))}·{num(v.number('reach'))}³/(3·205000·π·{num(s.rod)}⁴/64)",
                "pushed across its end; along it, far less",
            ),
        ),
        *s.clamp.figures("Rod is held with", ("rod", "slit")),
    ]


def _checks(s: Sizes) -> list[Check]:
    v = s.v
    push, give = v.number("push"), v.number("give")
    top, face = v.number("jaw_high") - s.high, s.rod_x - s.rod / 2
    return [
        judged(
            "bends",
            "Rod stiff enough",
            s.bends,
            Limits(close_above=0.8 * give, no_above=give),
            (f"it gives less than {num(give)}", "all of what is allowed: push gently", "thicker rod, or less reach"),
            step=0.001,
            features=("rod",),
            figures=("bends", "rod", "reach"),
            mends=("rod", "reach"),
            working=("F·L³/(3·E·π·d⁴/64)", f"{num(push)}·{num(v.number('reach'))}³/(3·205000·π·{num(s.rod)}⁴/64)"),
        ),
        judged(
            "holds",
            "Rod does not slide back",
            s.clamp.grip_n / push,
            Limits(1.0, 2.0),
            ("held twice over or more", "little in hand: tighten it more", "the work pushes it back"),
            unit="×",
            features=("slit", "rod"),
            figures=("grip", "push"),
            mends=("torque", "clamp"),
            working=("held with/pushed with", f"{num(s.clamp.grip_n, 4)}/{num(push)}"),
        ),
        judged(
            "under",
            "Below the jaw's top",
            top,
            Limits(0.0, 1.0),
            ("the cutter passes over it", "level with the jaw: mind the cutter", "it stands above the jaw: the cutter meets it"),
            step=0.1,
            features=("plate", "jaw"),
            figures=("high", "jaw_high"),
            mends=("high",),
            working=("jaw − plate", f"{num(v.number('jaw_high'))} − {num(s.high)}"),
        ),
        judged(
            "face",
            "Rod clear of the jaw's face",
            face,
            Limits(0.3, 1.0),
            ("the work's side goes past it", "it all but touches the jaw", "it rubs on the jaw"),
            step=0.1,
            features=("rod", "jaw"),
            figures=("rod_out",),
            mends=("rod_out",),
            working=("rod out − radius", f"{num(s.rod_x)} − {num(s.rod / 2)}"),
        ),
        *hole_checks(s.holes, s.thick, s.edge, v.word("material"), ("high", "screw", "low_screw", "high_screw")),
        judged(
            "clamp_thread",
            "Thread for the clamp screw",
            s.clamp_thread / s.clamp.d,
            Limits(0.8, 1.0),
            ("it holds", "short", "it strips: set the rod farther out"),
            unit="× d",
            features=("slit",),
            figures=("clamp", "rod_out"),
            mends=("rod_out", "clamp"),
            working=("metal behind the slit/d", f"{num(s.clamp_thread)}/{num(s.clamp.d)}"),
        ),
        judged(
            "clamp_over",
            "Clamp screw clear of the rod",
            s.clamp_y - s.rod_y - s.rod / 2 - s.clamp.clear / 2,
            Limits(0.3, 1.0),
            ("metal between them", "thin between them", "it runs into the bore"),
            step=0.1,
            features=("slit", "rod"),
            figures=("rod_up", "high"),
            mends=("rod_up", "high"),
            working=(
                "between middles − rod − screw, halves",
                f"{num(s.clamp_y - s.rod_y)} − {num(s.rod / 2)} − {num(s.clamp.clear / 2)}",
            ),
        ),
        judged(
            "clamp_top",
            "And below the top",
            s.high - s.clamp_y - s.clamp.clear / 2,
            Limits(0.5, 1.5),
            ("metal over it", "thin over it", "it breaks out at the top"),
            step=0.1,
            features=("slit",),
            figures=("high",),
            mends=("high", "rod_up"),
            working=("plate − middle − radius", f"{num(s.high)} − {num(s.clamp_y)} − {num(s.clamp.clear / 2)}"),
        ),
    ]


FAMILY: Final = ViseStop()
