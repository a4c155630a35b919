"""The sizes of a split vise. x across the jaws, y along the slot from the jaw face of a half to its heel, z up; mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from elbrix.design.bores import Hole, reamed, tapped
from elbrix.mechanics.strength import COUNTED, MU, preload_n
from elbrix.parameters.parameter import Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.length_text import length
from elbrix.shop.workholding import screw_force_per_nm
from elbrix.standards.materials import Material, material
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.threads import Thread, find_thread

#: Friction of the screw in its thread and on its point: what surely reaches the work, and what the halves may have to stand.
MU_DRY, MU_OILED = 0.18, 0.10
#: In the middle of both: what is said of a vise in Shop. Source: shop practice, greased steel screws.
MU_USUAL: Final = 0.14
NUT_FACTOR: Final = 0.2
#: Point of the screw: Ø over its own; and how deep it stands in the jaw plate, mm.
POINT_SHARE: Final = 0.7
POINT_DEEP: Final = 3.0
POINT_ROOM: Final = 0.3
#: What a hardened dowel is trusted with in shear, MPa. Source: shop practice, under a third of what shears it.
DOWEL_MPA: Final = 200.0
#: From a head or a nut to what stands beside it, mm.
BESIDE: Final = 1.0
#: Holes a dowel as sold slides in are so much over its size, with how much under and over that they may come out, mm; those
#: it is pressed into have its size.
SLIDES: Final = 0.02
SLIDE_LIMITS: Final = (0.0, 0.012)
PRESS_LIMITS: Final = (0.005, 0.004)
#: Between the plates and the ends, mm.
ROOM: Final = 1.0
#: What the sizes that add up to such a room may be off together, mm: three of 0.1.
OFF: Final = 0.3


class SplitViseSizes:
    """The arithmetic of one split vise.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v, self.kind = v, v.word("kind")
        self.neck: Readings = v.readings("neck")
        self.lip: Readings = v.readings("lip")
        self.width, self.height, self.upright = v.number("jaw_width"), v.number("height"), v.number("upright")
        self.foot, self.long, self.plate = v.number("foot_height"), v.number("half_length"), v.number("jaw_plate")
        self.push, self.bolt = v.number("push_height"), v.word("bolt")
        self.first, self.apart = v.number("bolt_first"), v.number("bolt_apart")
        self.screw: Thread = find_thread(parse_thread(v.word("screw")))
        self.guide, self.guide_apart = float(v.word("guide")), v.number("guide_apart")
        self.key, self.seat, self.down, self.key_long = (v.number(n) for n in ("key_width", "key_seat", "key_down", "key_length"))
        self.rail_width, self.rail_height, self.rail_apart = (v.number(n) for n in ("rail_width", "rail_height", "rail_apart"))
        self.pitch, self.stations, self.dowel = v.number("rail_pitch"), int(v.number("stations")), float(v.word("dowel"))
        self._refuse_blocks()
        (self._refuse_rails if self.rails else self._refuse_keys)()

    def _refuse_blocks(self) -> None:
        if self.upright + 5 > self.long:
            raise _refused(
                "Length of a half",
                f"{length(self.long)} with an upright of {length(self.upright)}",
                "No foot would be left for the bolts",
                "A longer half, or a thinner upright",
                "half_length",
            )
        if self.foot > self.height - 3:
            raise _refused(
                "Foot height",
                f"{length(self.foot)} under a jaw {length(self.height)} high",
                "No jaw would stand above it",
                "A lower foot, or higher jaws",
                "foot_height",
            )
        if not self.screw.major_mm / 2 + 0.5 < self.push < self.height - self.screw.major_mm / 2 - 0.5:
            raise _refused(
                "Push screw height",
                f"{length(self.push)} of {length(self.height)} with {self.screw.shown}",
                "The screw breaks out of the block",
                "Between its top and its underside, by half the screw at least",
                "push_height",
            )
        if self.guide_apart + self.guide + 2 > self.width or self.guide_apart < self.guide + self.screw.major_mm + 1:
            raise _refused(
                "Guide pin spacing",
                f"{length(self.guide_apart)} in jaws {length(self.width)} wide, beside {self.screw.shown}",
                "A guide breaks out, or meets the screw",
                "Inside the width, beside the screw",
                "guide_apart",
            )
        if self.plate < POINT_DEEP + 1:
            raise _refused(
                "Jaw plate thickness",
                f"{length(self.plate)} with the screw's point {length(POINT_DEEP)} deep in it",
                "The point comes through",
                "A thicker plate",
                "jaw_plate",
            )
        if any(y + h.mouth / 2 >= self.long for y, h in ((h.y, h) for h in self.foot_holes)):
            raise _refused(
                "Length of a half",
                f"{length(self.long)} with a hole {length(max(h.y for h in self.foot_holes))} behind the face",
                "A hole lies beside the foot",
                "A longer half, or the holes nearer to the face",
                "half_length",
            )

    def _refuse_keys(self) -> None:
        if self.key >= self.width - 4:
            raise _refused(
                "Key width",
                f"{length(self.key)} in a half {length(self.width)} wide",
                "The half rests on the table beside its keyway",
                "A narrower key, or a wider half",
                "key_width",
            )
        if self.seat >= self.foot - 2:
            raise _refused(
                "Keyway depth",
                f"{length(self.seat)} in a foot of {length(self.foot)}",
                "Nothing would be left over it",
                "A shallower keyway, or a higher foot",
                "key_seat",
            )
        if 2 * self.key_long >= self.long:
            raise _refused(
                "Key length",
                f"two of {length(self.key_long)} under a half of {length(self.long)}",
                "They meet",
                "Shorter keys",
                "key_length",
            )

    def _refuse_rails(self) -> None:
        if self.rail_apart + self.rail_width > self.width + self.rail_width or self.rail_apart < self.rail_width + 1:
            raise _refused(
                "Rail spacing",
                f"{length(self.rail_apart)} with rails {length(self.rail_width)} wide under jaws of {length(self.width)}",
                "The rails meet, or the bolts lie beside the half",
                "Between a rail's width and the jaws'",
                "rail_apart",
            )
        if self.opening < 5:
            raise _refused(
                "Threads in a rail",
                f"{self.stations} at {length(self.pitch)}",
                "The halves meet before anything is between them",
                "More threads, or a wider pitch",
                "stations",
            )

    # --- which ---------------------------------------------------------------------------------------------------------

    @property
    def rails(self) -> bool:
        return self.kind == "rails"

    @property
    def part(self) -> str:
        """Which part is drawn: there is no rail where it stands on the slot."""
        chosen = self.v.word("part")
        return "fixed" if chosen == "rail" and not self.rails else chosen

    @property
    def half(self) -> bool:
        """One of the two halves is drawn."""
        return self.part in ("fixed", "screw")

    # --- holes ---------------------------------------------------------------------------------------------------------

    @cached_property
    def bolts(self) -> tuple[Hole, ...]:
        """Of a half, down through its foot."""
        clear, size = clearance_hole(self.bolt, "medium").value, self.bolt
        at = (
            [(k * self.rail_apart / 2, self.first) for k in (-1, 1)]
            if self.rails
            else [(0.0, self.first), (0.0, self.first + self.apart)]
        )
        return tuple(
            Hole(
                name=f"B{i}",
                x=x,
                y=y,
                drill=clear,
                below=True,
                feature="bolts",
                use=f"for {size} " + ("into the rail" if self.rails else "to the slot"),
            )
            for i, (x, y) in enumerate(at, 1)
        )

    @property
    def dowel_y(self) -> float:
        """Of the dowels in a half: half a pitch behind its bolts, so that both halves find holes."""
        return self.first + self.pitch / 2

    @property
    def key_places(self) -> tuple[float, float]:
        """Middles of the keys under a half."""
        return (ROOM + self.key_long / 2, self.long - ROOM - self.key_long / 2)

    @cached_property
    def foot_holes(self) -> tuple[Hole, ...]:
        """All of the holes drilled from underneath."""
        if self.rails:
            dowels = tuple(
                reamed(
                    f"D{i}",
                    k * self.rail_apart / 2,
                    self.dowel_y,
                    self.dowel + SLIDES,
                    limits=SLIDE_LIMITS,
                    feature="rails",
                    below=True,
                    use="slides on its dowel",
                )
                for i, k in enumerate((-1, 1), 1)
            )
            return (*self.bolts, *dowels)
        deep = self.seat + self.key_screw_deep
        keys = tuple(
            tapped(
                f"K{i}",
                0.0,
                y,
                self.v.word("key_screw"),
                thread_deep=deep,
                feature="keys",
                below=True,
                use="depths from the underside",
            )
            for i, y in enumerate(self.key_places, 1)
        )
        return (*self.bolts, *keys)

    @property
    def key_screw_deep(self) -> float:
        """Full thread of a key's screw above the keyway: 1.5 × its Ø."""
        return round(1.5 * find_thread(parse_thread(self.v.word("key_screw"))).major_mm, 1)

    @cached_property
    def face_holes(self) -> tuple[Hole, ...]:
        """Through the upright of the screw half, from its face: x and z."""
        guides = tuple(
            reamed(
                f"G{i}",
                k * self.guide_apart / 2,
                self.push,
                self.guide + SLIDES,
                limits=SLIDE_LIMITS,
                feature="guides",
                use="its pin slides in it",
            )
            for i, k in enumerate((-1, 1), 1)
        )
        return (tapped("S", 0.0, self.push, self.screw.name, feature="screw"), *guides)

    @cached_property
    def plate_holes(self) -> tuple[Hole, ...]:
        """Of the jaw plate, from its back: x and z."""
        guides = tuple(
            reamed(
                f"G{i}",
                k * self.guide_apart / 2,
                self.push,
                self.guide,
                limits=PRESS_LIMITS,
                feature="guides",
                below=True,
                use="the pin pressed in",
            )
            for i, k in enumerate((-1, 1), 1)
        )
        return (
            Hole(
                name="S",
                x=0.0,
                y=self.push,
                drill=round(self.point + POINT_ROOM, 1),
                depth=POINT_DEEP,
                feature="screw",
                below=True,
                use="for the screw's point",
            ),
            *guides,
        )

    @cached_property
    def rail_holes(self) -> tuple[Hole, ...]:
        """Of a rail, from its top: x across it, y along it from its middle."""
        start = -(self.stations - 1) / 2 * self.pitch
        size = self.rail_thread
        clear, bore = (
            clearance_hole(self.bolt, "medium").value,
            float(math.ceil(head("socket_cap", self.bolt, "head_d").value + 1)),
        )
        deep = round(head("socket_cap", self.bolt, "head_h").value + 0.5, 2)
        ends = tuple(
            Hole(
                name=f"B{i}",
                x=0.0,
                y=k * (self.rail_length / 2 - self.rail_end / 2),
                drill=clear,
                bore=bore,
                bore_depth=deep,
                feature="bolts",
                use="to the slot",
            )
            for i, k in enumerate((-1, 1), 1)
        )
        threads = tuple(tapped(f"T{i + 1}", 0.0, start + i * self.pitch, size, feature="rails") for i in range(self.stations))
        dowels = tuple(
            reamed(
                f"D{i + 1}",
                0.0,
                start + (i + 0.5) * self.pitch,
                self.dowel + SLIDES,
                limits=SLIDE_LIMITS,
                feature="rails",
                use="the dowel stands in it",
            )
            for i in range(self.stations - 1)
        )
        return (*ends, *threads, *dowels)

    @property
    def rail_thread(self) -> str:
        """The bolts' own, coarse."""
        return find_thread(parse_thread(self.bolt)).name

    @property
    def rail_end(self) -> float:
        """From the last thread to the end of a rail: room for the bolt that holds it to the table."""
        return float(math.ceil(3.6 * float(self.bolt[1:]) + 6))

    @property
    def rail_length(self) -> float:
        return (self.stations - 1) * self.pitch + 2 * self.rail_end

    @property
    def holes(self) -> tuple[Hole, ...]:
        """Of the drawn part, in the face its table is about; those through the upright stand square to them."""
        return {"jaw": self.plate_holes, "rail": self.rail_holes}.get(self.part, self.foot_holes)

    # --- reach ---------------------------------------------------------------------------------------------------------

    @property
    def opening(self) -> float:
        """The longest work between the jaws, the plate drawn back.

        On rails the outermost threads have no dowel hole behind them: a half stands on the next.
        """
        if self.rails:
            return (self.stations - 3) * self.pitch - 2 * self.first - self.plate - ROOM
        return self.v.number("table_length") - 2 * self.long - self.plate - ROOM

    @property
    def point(self) -> float:
        """Ø of the screw's point."""
        return round(POINT_SHARE * self.screw.major_mm, 1)

    @property
    def screw_length(self) -> float:
        """Of the screw without its head: point, travel, and through the upright."""
        return POINT_DEEP + self.v.number("screw_travel") + self.upright

    @property
    def key_gap(self) -> float:
        """From a key's end to the nearest T-nut: negative where they meet."""
        half = self.v.number("nut_length") / 2
        before = self.first - half - (ROOM + self.key_long)
        behind = self.long - ROOM - self.key_long - (self.first + self.apart + half)
        return min(before, behind)

    @property
    def nuts_apart(self) -> float:
        """Between the two T-nuts of a half."""
        return self.apart - self.v.number("nut_length")

    # --- forces --------------------------------------------------------------------------------------------------------

    def lead_and_friction_deg(self, mu: float) -> float:
        """What the screw climbs and what rubs, as one angle."""
        return math.degrees(math.atan(self.screw.pitch_mm / (math.pi * self.screw.pitch_d_mm)) + math.atan(mu))

    def per_nm(self, mu: float) -> float:
        """Force of the screw in N for each N·m: its point rubs at two thirds of its radius."""
        return screw_force_per_nm(self.screw.pitch_d_mm, self.screw.pitch_mm, mu, self.point / 3)

    @property
    def force_least(self) -> float:
        """What surely reaches the work, N."""
        return self.v.number("screw_torque") * self.per_nm(MU_DRY)

    @property
    def force_most(self) -> float:
        """What the halves may have to stand, N."""
        return self.v.number("screw_torque") * self.per_nm(MU_OILED)

    @property
    def pull(self) -> float:
        """Of one hold-down bolt, N, before what scatters."""
        return preload_n(self.v.number("bolt_torque"), NUT_FACTOR, float(self.bolt[1:]))

    @property
    def bears(self) -> float:
        """What a half stands along the slot by the friction under it, N."""
        return MU * COUNTED * self.pull * len(self.bolts)

    @property
    def levers(self) -> float:
        """From the heel to the bolts, all of them together."""
        return sum(self.long - b.y for b in self.bolts)

    @property
    def tips(self) -> float:
        """How many times the screw's force a half stands before it tips back about its heel."""
        return COUNTED * self.pull * self.levers / (self.force_most * self.push)

    @property
    def upright_mpa(self) -> float:
        """Bent where the upright stands on its foot: F·(push − foot)/(W·U²/6), the screw half less its own hole."""
        net = self.width - (self.screw.major_mm if self.push - self.screw.major_mm / 2 < self.foot + self.screw.major_mm else 0.0)
        return self.force_most * max(0.0, self.push - self.foot) * 6 / (net * self.upright**2)

    @property
    def plate_mpa(self) -> float:
        """Of the jaw plate, pushed in the middle by the screw, borne along its width: F·W/8 over H·t²/6."""
        return self.force_most * self.width / 8 * 6 / ((self.height - self.point) * self.plate**2)

    @property
    def rail_mpa(self) -> float:
        """Of a rail, pulled by half the force: over what its holes leave."""
        return self.force_most / 2 / ((self.rail_width - max(self.dowel, float(self.bolt[1:]))) * self.rail_height)

    # --- play ----------------------------------------------------------------------------------------------------------

    @property
    def play(self) -> float:
        return self.neck.max - self.key

    @property
    def askew(self) -> float:
        """Of the jaw face across its width, by the play of the keys: W·c/L over both keys."""
        return self.width * max(0.0, self.play) / (self.long - 2 * ROOM)

    # --- metal ---------------------------------------------------------------------------------------------------------

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def block(self) -> tuple[float, float, float]:
        """Length, width and height of the drawn part's bar."""
        if self.part == "jaw":
            return (self.width, self.height, self.plate)
        if self.part == "rail":
            return (self.rail_length, self.rail_width, self.rail_height)
        return (self.width, self.long, self.height)

    @property
    def volume(self) -> float:
        """Of the drawn part, mm³, holes and keyway not taken off."""
        if self.half:
            return self.width * (self.upright * self.height + (self.long - self.upright) * self.foot)
        a, b, c = self.block
        return a * b * c

    @property
    def end(self) -> tuple[tuple[float, float], ...]:
        """A half from its right: y behind its face, z up; counter-clockwise."""
        return (
            (0.0, 0.0),
            (self.long, 0.0),
            (self.long, self.foot),
            (self.upright, self.foot),
            (self.upright, self.height),
            (0.0, self.height),
        )

    def edge(self, x: float, y: float) -> float:
        """Of the drawn part: to the nearest side of the face its holes are in."""
        if self.part == "jaw":
            return min(self.width / 2 - abs(x), y, self.height - y)
        if self.part == "rail":
            return min(self.rail_width / 2 - abs(x), self.rail_length / 2 - abs(y))
        return min(self.width / 2 - abs(x), self.long - y)

    def face_edge(self, x: float, z: float) -> float:
        """Of the upright's face."""
        return min(self.width / 2 - abs(x), z, self.height - z)


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
