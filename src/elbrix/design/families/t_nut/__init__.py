"""T-nut for a straight slot, one or a batch; and whether a straight one would do in a ring slot.

x across the slot, y along it, z up from the nut's underside. Read top to bottom: what is asked, what is proposed, what follows,
what may go wrong, what it looks like, how it is made.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.families.t_nut.pictures import front, in_place, profile, side, top
from elbrix.design.families.t_nut.proof import checks, figures
from elbrix.design.families.t_nut.sizes import PARAMETERS, STOPS, TNutSizes, cross_pin
from elbrix.design.family import Callout, Capability, Design, HoleLine, Request, SlotFit
from elbrix.design.parts import Part, size_of
from elbrix.design.slot_nut import (
    HEAD_CLEAR,
    HEAD_PLAY,
    NECK_PLAY,
    SHORT_PITCHES,
    STEP,
    TOP_BELOW,
    choose_thread,
    neck_height_mm,
    nut_length_mm,
    straight_in_ring_mm,
)
from elbrix.design.work import Blank, Chamfer, HandOperation, Shoulder, TappedHole, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import stud_load_n
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict, worst
from elbrix.results.figures import Origin, format_number
from elbrix.results.formulas import kilonewtons, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot
from elbrix.shop.workholding import Fastener, FastenerKind
from elbrix.solids.recipe import Cut, Prism, Recipe, drilled
from elbrix.standards.threads import known_thread


def _callouts(s: TNutSizes) -> tuple[Callout, ...]:
    edge = Callout(
        f"both lower edges of the head chamfered {length(s.chamfer)} × 45°",
        "front",
        (s.nut_head / 2 - s.chamfer / 2, s.chamfer / 2),
    )
    if s.stop_kind != "pin":
        return (edge,)
    pin = cross_pin(s.thread.major_mm)
    words = f"cross pin Ø{length(pin)} through head and thread, its middle {length(1.5 * pin)} above the underside, after tapping"
    return (edge, Callout(words, "side", (0.0, 1.5 * pin)))


_BOOK_SLOT = {"neck": 12.0, "lip": 9.0, "head": 19.0, "depth": 20.0}


class TNut:
    """The family."""

    key = "t_nut"
    title = "T-nut"
    when = "When a stud has to pull in a T-slot and what can be bought does not fit yours."
    group = "fasten it"
    commonest = True
    meets = frozenset({"stud"})
    parameters = PARAMETERS

    # --- propose -----------------------------------------------------------------------------------------------------

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        """Sizes that fit the measured slot; a book slot, marked as assumed, when nothing was measured."""
        p = Proposal(chosen)
        neck, lip, head, depth, radius = self._slot(p, shop, request)
        self._contradictions(neck, lip, head, depth)
        slides = "it must slide in the tightest place"
        neck_width = p.reckon(
            "neck_width", worked(f"tightest slot neck − {NECK_PLAY:g}", neck.min, source=slides), down=STEP, least=STEP
        )
        neck_height = p.rounded(
            "neck_height",
            neck_height_mm(lip.min),
            worked(f"shallowest lip − {TOP_BELOW:g}", lip.min, source="pulled up, the top must stay below the table"),
        )
        head_width = p.reckon("head_width", worked(f"narrowest slot head − {HEAD_PLAY:g}", head.min, source=slides), down=STEP)
        p.reckon(
            "head_height",
            worked(
                f"shallowest floor − max(deepest lip; neck height) − {HEAD_CLEAR:g}",
                depth.min,
                lip.max,
                neck_height,
                source="it must slide everywhere",
            ),
            down=STEP,
            least=1.0,
        )
        longest = straight_in_ring_mm(radius, neck.min, neck_width, head.min, head_width)
        long = p.rounded(
            "length",
            nut_length_mm(head_width, longest),
            worked("head width", head_width, source="at least as long as wide; longer spreads the load on the lips"),
        )
        p.assume("chamfer", 0.5, "slot floors have corner fillets")
        name = p.assume("thread", "") if "thread" in chosen else self._thread(p, shop, neck_width, long)
        p.assume("stud_stop", "short", "without a stop the stud jacks against the floor and breaks the lips")
        p.assume("material", "mild steel", "change it to the bar you have")
        classes = [s.strength_class for s in shop.studs if (known := known_thread(s.thread)) is not None and known.name == name]
        if classes:
            p.measure("stud_class", classes[0], "studs on the shelf")
        else:
            p.assume("stud_class", "8.8", "usual for clamping studs")
        p.assume("lubrication", "dry", "as found in most shops")
        p.choose("pieces", request.pieces, "as asked")
        self._torque(p)
        return p.values(PARAMETERS)

    def _slot(self, p: Proposal, shop: Shop, request: Request) -> tuple[Readings, Readings, Readings, Readings, float]:
        """Neck, lip, head, depth and the ring's radius, measured or from a book."""
        found = next(
            (
                (machine, slot)
                for machine, slot in shop.measured_slots()
                if request.machine in ("", machine.id, machine.name) and request.slot in ("", slot.label)
            ),
            None,
        )
        note = f"{found[0].name}, {found[1].label}" if found else "not measured: a book slot for 12 mm, measure your own"

        def size(name: str) -> Readings:
            if found is None:
                return p.assume(name, Readings(values_mm=(_BOOK_SLOT[name],)), note)
            own = getattr(found[1], name)
            assert isinstance(own, Readings)
            return p.measure(name, own, note)

        radius = p.measure("ring_radius", found[1].ring_radius_mm if found else 0.0, note, known=found is not None)
        return size("neck"), size("lip"), size("head"), size("depth"), radius

    @staticmethod
    def _thread(p: Proposal, shop: Shop, neck_width: float, long: float) -> str:
        """Metal along the slot beside the thread, too: a short nut in a ring slot takes a smaller one."""
        owned = tuple(dict.fromkeys(known.name for stud in shop.studs if (known := known_thread(stud.thread)) is not None))
        thread = choose_thread(neck_width, owned, long)
        return p.work(
            "thread",
            thread.name,
            "largest first choice whose wall in the neck is good",
            f"({format_number(neck_width)} − {thread.major_mm:g})/2 = {format_number((neck_width - thread.major_mm) / 2)} wall",
            "and there are studs of it on the shelf" if thread.name in owned else "no owned stud comes as near",
        )

    def _contradictions(self, neck: Readings, lip: Readings, head: Readings, depth: Readings) -> None:
        TSlot(label="Slot", neck=neck, lip=lip, head=head, depth=depth)  # refuses what cannot be

    def _torque(self, p: Proposal) -> None:
        """What every part allows: nut, lips and stud are known by now, without a torque."""
        p.assume("torque", 1.0)
        s = TNutSizes(p.values(PARAMETERS))
        p.torque(
            "torque",
            worked(
                "K·d·min(usual preload; least any part allows)",
                term(s.k, 6),
                term(s.thread.major_mm, 6, "mm"),
                kilonewtons(stud_load_n(s.thread, s.v.word("stud_class")), 2),
                kilonewtons(min(limit for _, limit, _ in s.pulled.allowed()), 2),
                source="usual: 3/8 of the stud's proof load; guidance: the machine maker's figure first",
            ),
            step=1.0,
        )

    # --- solve -------------------------------------------------------------------------------------------------------

    def solve(self, values: Values, shop: Shop) -> Design:
        """Derived sizes, checks and the hole, from values that may be anything within their limits."""
        s = TNutSizes(values)
        self._contradictions(s.neck, s.lip, s.head, s.depth)
        if not s.nut_neck < s.nut_head:
            raise ShopError(
                "Nut head width",
                f"{length(s.nut_head)} {LENGTH_UNIT} is no wider than the neck, {length(s.nut_neck)} {LENGTH_UNIT}",
                "The head is what holds under the lips",
                "Make the head wider or the neck narrower",
                "head_width",
            )
        if s.chamfer * 2 >= min(s.head_height, s.nut_head):
            raise ShopError(
                "Head edges broken",
                f"{length(s.chamfer)} {LENGTH_UNIT} leaves nothing of a head {length(s.head_height)} {LENGTH_UNIT} high",
                "The chamfer runs along both lower edges",
                "Make it smaller",
                "chamfer",
            )
        stop_words = dict(STOPS)[s.stop_kind]
        return Design(
            family=self.key,
            values=values,
            figures=tuple(figures(s)),
            checks=tuple(checks(s, shop)),
            holes=(HoleLine("A", 0.0, 0.0, s.hole_words(), sizes=s.hole_sizes()),),
            datum="middle of the nut's top",
            note_words=f"{s.thread.shown}, {stop_words}",
            callouts=_callouts(s),
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        places = min(design.values.readings(n).count for n, *_ in SLOT_SIZES)
        on = max((design.values.readings(n).on for n, *_ in SLOT_SIZES), default="")
        ring = ("ring_radius", "ring_longest") if design.values.number("ring_radius") else ()
        return (
            Group(
                "Measured slot",
                (*(n for n, *_ in SLOT_SIZES), *ring),
                f"{places} place{'s' if places > 1 else ''}" + (f", {on}" if on else ""),
            ),
            Group(
                "Nut",
                (
                    "neck_width",
                    "neck_height",
                    "head_width",
                    "head_height",
                    "total_height",
                    "length",
                    "thread",
                    "engagement_mm",
                    "stud_stop",
                    "chamfer",
                    "material",
                    "pieces",
                ),
            ),
            Group("Strength", ("stud_class", "lubrication", "torque", "preload", "highest_torque")),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = TNutSizes(design.values)
        return (in_place(s), front(s), top(s), side(s))

    def solid(self, design: Design) -> Recipe:
        s = TNutSizes(design.values)
        drill = s.thread.tap_drill[1]
        steps = ((drill, s.drill_depth()),)
        through = None if s.stop_kind == "blind" else s.total
        return Cut(
            Prism(profile(s), -s.length / 2, s.length / 2),
            (drilled((0.0, 0.0, s.total), steps, through_to=through, mouth=s.mouth),),
        )

    def section(self, design: Design) -> tuple[str, float]:
        return "x", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = TNutSizes(design.values)
        blind = s.stop_kind == "blind"
        tap_deep = s.total - SHORT_PITCHES * s.thread.pitch_mm if s.stop_kind == "short" else s.engaged if blind else 0.0
        steps: list[Shoulder | Chamfer | TappedHole | HandOperation] = [
            Shoulder(name="Shoulders", width_mm=s.nut_neck, depth_mm=s.neck_height, feature="neck"),
            Chamfer(name="Break the head's lower edges", leg_mm=s.chamfer, feature="head"),
            TappedHole(
                name="Stud hole",
                thread=s.thread.name,
                thickness_mm=s.total,
                drill_through=not blind,
                drill_depth_mm=s.drill_depth() if blind else 0.0,
                tap_depth_mm=tap_deep,
                countersink_mm=s.mouth,
                feature="thread",
            ),
        ]
        if s.stop_kind == "staked":
            steps.append(
                HandOperation(
                    name="Stake the last thread",
                    words=(
                        "Turn the nut over on a block. Two light blows of a centre punch beside the thread, opposite each other."
                        " Try a stud: it must stop."
                    ),
                    tools=("centre punch", "hammer"),
                    caution="Eye protection on.",
                    check="A stud stops before it comes through.",
                )
            )
        if s.stop_kind == "pin":
            pin = cross_pin(s.thread.major_mm)
            steps.append(
                HandOperation(
                    name="Cross pin",
                    words=(
                        f"Drill Ø{length(pin)} across the head, its middle {length(1.5 * pin)} above the underside,"
                        " through the thread."
                        " Drive in a pin, file both ends flush."
                    ),
                    tools=(f"drill Ø{pin:g}", f"pin Ø{pin:g}"),
                    check="A stud stops at the pin; the nut still slides in the slot.",
                )
            )
        blank = Blank(
            width_mm=s.nut_head,
            height_mm=s.total,
            length_mm=s.length,
            pieces=int(design.values.number("pieces")),
            material=design.values.word("material"),
            along="+y",
        )
        notes = ("Top is the neck side. The letters on the faces are those of the drawing.",)
        return Work(blank, tuple(steps), notes=notes, solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """The geometric checks, with the sizes as they are, in every measured slot."""
        found = []
        for machine, slot in shop.measured_slots():
            there = design.values.having(
                **{n: ParameterValue(getattr(slot, n), Origin.MEASURED) for n, *_ in SLOT_SIZES}, ring_radius=slot.ring_radius_mm
            )
            judged = [
                c
                for c in checks(TNutSizes(there), shop)
                if c.key in ("slides", "top_below", "head_slides", "head_height", "lies_flat", "ring", "bearing")
            ]
            verdict = worst([c.verdict for c in judged])
            bad = [c for c in judged if c.verdict is verdict]
            found.append(
                SlotFit(machine.name, slot.label, verdict, "slides and seats" if verdict is Verdict.GO else bad[0].reason)
            )
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        v = design.values
        return Fastener(id=id, kind=FastenerKind.T_NUT, thread=v.word("thread"), neck_mm=v.number("neck_width"), count=count)

    def parts(self, design: Design) -> tuple[Part, ...]:
        thread = TNutSizes(design.values).thread.name
        return (Part(words=f"stud {size_of(thread)}", stud=True, thread=thread, feature="thread"),)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = TNutSizes(design.values)
        most = design.figure("highest_torque").value
        name = s.thread.name.split("x")[0] if s.thread.metric else s.thread.name
        return (
            Capability(
                "stud",
                f"{name} stud to {most:.0f} N·m",
                {"thread_mm": s.thread.major_mm, "pitch_mm": s.thread.pitch_mm, "torque_nm": most},
            ),
        )


FAMILY: Final = TNut()
