"""Curved T-nut for a ring slot, milled on a rotary table.

x along the slot's tangent from its middle, y outward, z up from the underside; the ring's centre is at y = −R.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.families.ring_nut import pictures, proof
from elbrix.design.families.ring_nut.sizes import DRY, PARAMETERS, STUD_CLASS, RingNutSizes
from elbrix.design.family import Capability, Design, HoleLine, HoleSizes, Request, SlotFit
from elbrix.design.slot_nut import SHORT_PITCHES, choose_thread, nut_for
from elbrix.design.work import IN_VISE, Blank, HandOperation, HolePattern, PatternHole, RingWall, Step, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.strength import stud_torque_nm, torque_nm
from elbrix.mechanics.tightened import PulledNut
from elbrix.parameters.parameter import Group, ParameterValue, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.results.figures import format_number
from elbrix.results.formulas import worked
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.workholding import Fastener, FastenerKind
from elbrix.solids.recipe import Cut, Join, Prism, Recipe, Turned
from elbrix.standards.materials import material, proof_mpa
from elbrix.standards.threads import find_thread

_BOOK: Final = {"neck": 12.0, "lip": 9.0, "head": 20.0, "depth": 18.0}
_BOOK_RADIUS: Final = 100.0


def _ring_of(shop: Shop, request: Request) -> tuple[Machine | None, TSlot | None]:
    """The ring slot that was asked for, else the first that was measured."""
    rings = [(m, t) for m, t in shop.measured_slots() if not t.straight]
    asked = [(m, t) for m, t in rings if request.machine in (m.id, m.name) and request.slot in ("", t.label)]
    return (asked or rings)[0] if rings else (None, None)


class RingNut:
    """See the module."""

    key = "ring_nut"
    title = "Curved T-nut"
    when = "When a circular T-slot needs a nut longer than a straight one that slides in it."
    group = "fasten it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, request: Request, chosen: Mapping[str, ParameterValue]) -> Values:
        p = Proposal(chosen)
        machine, slot = _ring_of(shop, request)
        known = machine is not None and slot is not None
        name = f"{machine.name}, {slot.label}" if machine is not None and slot is not None else "not measured: a book slot"
        radius = p.measure("ring_radius", slot.ring_radius_mm if slot is not None else _BOOK_RADIUS, name, known=known)
        read: dict[str, Readings] = {}
        for part, book in _BOOK.items():
            own = getattr(slot, part) if slot is not None else None
            read[part] = p.measure(part, own or Readings(values_mm=(book,)), name, known=own is not None)
        p.assume("entry_hole", 0.0)
        p.assume("centring_error", 0.05)
        nut = nut_for(read["neck"].min, read["lip"].min, read["lip"].max, read["head"].min, read["depth"].min)
        n = format_number
        neck = p.rounded("neck_width", nut.neck_width, worked("tightest slot − 0.3", read["neck"].min))
        neck_high = p.rounded("neck_height", nut.neck_height, worked("shallowest lip − 1", read["lip"].min))
        wide = p.reckon("head_width", worked("narrowest slot head − 1", read["head"].min), down=0.1)
        high = p.rounded(
            "head_height", nut.head_height, worked("shallowest depth − deepest lip − 0.5", read["depth"].min, read["lip"].max)
        )
        long = p.reckon("length", worked("2·head", wide), up=1.0, most=max(4.0, round_down(1.2 * (radius - wide / 2), 1.0)))
        thread = find_thread(
            parse_thread(
                p.work(
                    "thread",
                    choose_thread(max(neck, 4.0), tuple(s.thread for s in shop.studs)).name,
                    "the largest with a sound wall in the neck",
                    f"{n(neck)}",
                )
            )
        )
        metal = p.assume("material", "mild steel")
        self._torque(
            p,
            PulledNut(
                thread=thread,
                engaged_mm=neck_high + high - SHORT_PITCHES * thread.pitch_mm,
                neck=neck,
                head=wide,
                head_height=high,
                length=long,
                yield_mpa=material(metal).yield_mpa,
                proof=proof_mpa(STUD_CLASS, thread.major_mm).value,
                slot_neck=(read["neck"].min, read["neck"].max),
                slot_head=read["head"].max,
                lip=read["lip"].min,
            ),
        )
        p.choose("pieces", max(3, request.pieces))
        return p.values(PARAMETERS)

    @staticmethod
    def _torque(p: Proposal, nut: PulledNut) -> None:
        """The least of what its stud, its thread, the lips and its own flange allow."""
        words, allowed = min(((w, most) for w, most, _ in nut.allowed()), key=lambda m: m[1])
        d = nut.thread.major_mm
        by_nut, by_stud = torque_nm(allowed, DRY, d), stud_torque_nm(nut.thread, STUD_CLASS, DRY)
        p.torque(
            "torque",
            worked(
                f"min(torque for the stud; torque for its {words})", by_stud, by_nut, source="for the stud: 3/8 of its proof load"
            ),
            step=0.5,
            unit="",
        )

    def solve(self, values: Values, shop: Shop) -> Design:
        s = RingNutSizes(values)
        drill = s.thread.tap_drill[1]
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=(
                HoleLine(
                    "A",
                    s.length / 2,
                    -s.low_y,
                    f"{s.thread.shown}, drill {length(drill, 2)} through, full thread {length(s.full_thread)} deep from the top",
                    sizes=HoleSizes(diameter_mm=drill, thread=s.thread.name, thread_depth_mm=s.full_thread),
                ),
            ),
            datum="left end and inner edge of the bar",
            origin=(-s.length / 2, s.low_y),
            note_words=(
                f"Neck R{length(s.inner(s.nut_neck))} and R{length(s.outer(s.nut_neck))}, head R{length(s.inner(s.nut_head))} and"
                f" R{length(s.outer(s.nut_head))}, all from one centre,"
                f" {length(s.radius)} from the thread's axis"
            ),
        )

    def card(self, design: Design) -> tuple[Group, ...]:
        return (
            Group("Ring slot", ("ring_radius", "neck", "lip", "head", "depth", "entry_hole", "straight_longest")),
            Group(
                "Nut",
                (
                    "neck_width",
                    "neck_height",
                    "head_width",
                    "head_height",
                    "length",
                    "included",
                    "circle",
                    "mass",
                    "material",
                    "pieces",
                    "apart",
                ),
            ),
            Group("Thread", ("thread", "full_thread", "torque", "pull")),
            Group(
                "On the rotary table",
                ("neck_inside", "neck_outside", "head_inside", "head_outside", "bar_width", "centring_error"),
                "radii of the walls",
            ),
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = RingNutSizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = RingNutSizes(design.values)
        head, head_arcs = s.outline(s.nut_head)
        neck, neck_arcs = s.outline(s.nut_neck)
        r = s.thread.tap_drill[1] / 2
        bore = Turned(((0.0, -1.0), (r, -1.0), (r, s.total + 1), (0.0, s.total + 1)), (0.0, 0.0, 0.0))
        # The neck reaches down into the head, so that the two are one.
        body = Join((Prism(head, 0.0, s.head_height, "xy", head_arcs), Prism(neck, s.head_height / 2, s.total, "xy", neck_arcs)))
        return Cut(body, (bore,))

    def section(self, design: Design) -> tuple[str, float]:
        return "x", 0.0

    def work(self, design: Design, shop: Shop) -> Work:
        s = RingNutSizes(design.values)
        half = s.length / 2
        centre = -s.radius - s.middle_y
        steps: list[Step] = [
            HolePattern(
                name="Thread",
                holes=(
                    PatternHole(
                        half, -s.middle_y, thread=s.thread.name, drill_mm=s.thread.tap_drill[1], thread_depth_mm=s.full_thread
                    ),
                ),
                thickness_mm=s.total,
                feature="thread",
                id="thread",
                held=f"{IN_VISE} on parallels clear of the hole",
            )
        ]
        corner = (half**2 + s.outer(s.nut_head) ** 2) ** 0.5
        for name, id, radius, edge, deep, feature, width in (
            ("Outside of the head", "head_out", s.outer(s.nut_head), corner, s.total, "head_part", 0.0),
            ("Inside of the head", "head_in", s.inner(s.nut_head), s.low_y + s.radius, s.total, "head_part", s.nut_head),
            ("Outside of the neck", "neck_out", s.outer(s.nut_neck), s.outer(s.nut_head), s.neck_height, "neck", 0.0),
            ("Inside of the neck", "neck_in", s.inner(s.nut_neck), s.inner(s.nut_head), s.neck_height, "neck", s.nut_neck),
        ):
            steps.append(
                RingWall(
                    name=name,
                    radius_mm=radius,
                    edge_mm=edge,
                    depth_mm=deep,
                    half_mm=half,
                    centre_y_mm=centre,
                    hole_radius_mm=s.radius,
                    feature=feature,
                    id=id,
                    asked=f"micrometer over the {feature.split('_')[0]}, in its middle" if width else "",
                    expected_mm=width,
                )
            )
        steps.append(
            HandOperation(
                name="Try it",
                words=(
                    f"Break all edges. It slides right round the slot with the fingers. {int(s.v.number('pieces'))} of them,"
                    f" {format_number(360 / s.v.number('pieces'), 1)}° apart."
                ),
                tools=("file",),
                check="It goes all the way round, and no corner binds.",
            )
        )
        blank = Blank(
            width_mm=s.bar_width,
            height_mm=s.total,
            length_mm=s.length,
            pieces=int(s.v.number("pieces")),
            material=s.v.word("material"),
        )
        return Work(blank, tuple(steps), solid=self.solid(design))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every measured ring slot; in a straight one it binds."""
        s = RingNutSizes(design.values)
        found = []
        for machine, slot in shop.measured_slots():
            if slot.straight or slot.neck is None or slot.head is None or slot.lip is None or slot.depth is None:
                continue
            v = design.values.having(
                ring_radius=slot.ring_radius_mm, neck=slot.neck, head=slot.head, lip=slot.lip, depth=slot.depth
            )
            try:
                there = RingNutSizes(v)
            except ShopError as error:
                found.append(SlotFit(machine.name, slot.label, Verdict.NO_GO, error.what))
                continue
            # It keeps the radius it was cut on.
            bend = s.length**2 / 8 * abs(1 / slot.ring_radius_mm - 1 / s.radius)
            play = min(there.neck_play, there.head_play) - bend
            going = [c for c in proof.checks(there) if c.key in ("neck_slides", "head_slides", "below", "under")]
            worst = max((c.verdict for c in going), key=lambda x: x.rank)
            verdict = Verdict.NO_GO if play < 0 else worst
            words = (
                "it slides"
                if verdict is Verdict.GO
                else "its curve is another"
                if play < 0
                else next(c.reason for c in going if c.verdict is worst)
            )
            found.append(SlotFit(machine.name, slot.label, verdict, words))
        return tuple(found)

    def as_thing(self, design: Design, id: str, count: int) -> object | None:
        s = RingNutSizes(design.values)
        return Fastener(id=id, kind=FastenerKind.T_NUT, thread=s.v.word("thread"), neck_mm=s.nut_neck, count=count)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = RingNutSizes(design.values)
        torque = s.v.number("torque")
        return (
            Capability(
                "ring stud",
                f"{s.thread.shown} stud to {format_number(torque)} N·m in a ring slot R{length(s.radius)}",
                {"thread_mm": s.thread.major_mm, "torque_nm": torque},
            ),
        )


FAMILY: Final = RingNut()
