"""Every size of a sine plate that follows from its values.

X from the low end, y from the middle of the width, z from the underside; mm.

The plate is a plain block. Each roll has a flat and is screwed with it to the underside; the centres are set with a gauge
stack between
the rolls before the screws are tightened. The pivot roll is at the low end.
"""

from __future__ import annotations

import math
from functools import cached_property
from typing import Final

from msgspec import Struct

from elbrix.design.bores import HEAD_BELOW_MM
from elbrix.design.family import HoleLine, HoleSizes
from elbrix.mechanics.strength import youngs_mpa
from elbrix.parameters.parameter import Values
from elbrix.parameters.places import read_places
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import length
from elbrix.standards.materials import material
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.threads import Thread, find_thread

STRIP_WIDE, STRIP_HIGH, STRIP_THREAD = 8.0, 10.0, "M4"
CLAMP_N: Final = 500.0  #: one small strap, hand tight, on the middle


class Layout(Struct, frozen=True, dict=True):
    """Sizes and holes."""

    v: Values

    @property
    def centres(self) -> float:
        return self.v.number("roll_centres")

    @property
    def roll(self) -> float:
        """Ø of the pivot roll."""
        return self.v.number("roll_diameter")

    @property
    def roll_stack(self) -> float:
        """Ø of the stack roll: thinner by what the plate is thicker there."""
        return self.roll - self.v.number("taper")

    @property
    def flat(self) -> float:
        """Depth of the flats."""
        return self.v.number("roll_flat")

    @property
    def over(self) -> float:
        """Plate past each roll centre."""
        return self.v.number("overhang")

    @property
    def length(self) -> float:
        return self.centres + 2 * self.over

    @property
    def width(self) -> float:
        return self.v.number("width")

    @property
    def thickness(self) -> float:
        return self.v.number("thickness")

    @property
    def roll_x(self) -> tuple[float, float]:
        """Roll centres from the low end."""
        return self.over, self.over + self.centres

    @property
    def below(self) -> float:
        """Roll centres below the underside."""
        return self.roll / 2 - self.flat

    @property
    def face_above(self) -> float:
        """Work face above the line of centres."""
        return self.thickness + self.below

    @cached_property
    def work_thread(self) -> Thread:
        return find_thread(parse_thread(self.v.word("work_thread")))

    @cached_property
    def roll_screw(self) -> Thread:
        return find_thread(parse_thread(self.v.word("roll_screw")))

    @property
    def screw_size(self) -> str:
        return self.roll_screw.name.split("x")[0] if self.roll_screw.metric else self.roll_screw.name.rpartition("-")[0]

    @cached_property
    def clear_mm(self) -> float:
        return clearance_hole(self.screw_size).value

    @cached_property
    def bore_mm(self) -> float:
        """Counterbore: the head and half a millimetre all round, to the next millimetre."""
        return math.ceil(head("socket_cap", self.screw_size, "head_d").value + 1.0)

    @cached_property
    def bore_depth(self) -> float:
        return head("socket_cap", self.screw_size, "head_h").value + HEAD_BELOW_MM

    @property
    def floor(self) -> float:
        """Metal under the counterbore."""
        return self.thickness - self.bore_depth

    @cached_property
    def screws(self) -> tuple[tuple[float, float], ...]:
        """Roll screws: two in each roll, a quarter of the width in."""
        y = self.width / 2 - max(self.width / 5, self.bore_mm * 0.9)
        return tuple((x, s * y) for x in self.roll_x for s in (-1, 1))

    @cached_property
    def strip_holes(self) -> tuple[tuple[float, float], ...]:
        """Screws of the stop strip at the low end."""
        if self.v.word("stop_strip") != "yes":
            return ()
        return tuple((STRIP_WIDE / 2, s * (self.width / 2 - 10)) for s in (-1, 1))

    @cached_property
    def work_holes(self) -> tuple[tuple[float, float], ...]:
        """Tapped holes for clamps: as typed or read, or a grid clear of everything.

        Raises:
            ShopError: A pattern that is none.
        """
        places = read_places(self.v.word("pattern"), "mm", "Work holes")
        if not places.grid_mm:
            return places.points
        edge = 1.5 * self.work_thread.major_mm
        pitch = places.grid_mm
        strip = STRIP_WIDE if self.strip_holes else 0.0
        columns = [
            self.length / 2 + i * pitch
            for i in range(-40, 41)
            if strip + edge <= self.length / 2 + i * pitch <= self.length - edge
        ]
        rows = [j * pitch for j in range(-40, 41) if abs(j * pitch) <= self.width / 2 - edge]
        found = [(x, y) for x in columns for y in rows if self._clear(x, y)]
        if len(found) > 400:
            raise ShopError(
                "Work holes", f"a grid of {len(found)} holes", "Nobody taps that many", "Choose a wider grid", "pattern"
            )
        return tuple((round(x, 6), round(y, 6)) for x, y in found)

    def _clear(self, x: float, y: float) -> bool:
        """A grid leaves out what would meet a roll, a roll screw or the strip."""
        half = self.work_thread.major_mm / 2
        if any(abs(x - rx) < self.roll / 2 + half for rx in self.roll_x):
            return False
        return all(math.hypot(x - sx, y - sy) >= half + self.bore_mm / 2 + half for sx, sy in self.screws)

    @cached_property
    def holes(self) -> tuple[HoleLine, ...]:
        """The hole table, from the low end and the middle of the width."""
        tapped = f"{self.work_thread.shown} through, drill {length(self.work_thread.tap_drill[1], 2)}"
        counterbore = (
            f"Ø{length(self.clear_mm, 1)} through, counterbore Ø{length(self.bore_mm, 1)} ×"
            f" {length(self.bore_depth, 1)} for {self.screw_size} into the roll"
        )
        strip = f"{STRIP_THREAD} × 0.7 through, drill {length(3.3, 1)}, for the stop strip"
        head = HoleSizes(diameter_mm=self.clear_mm, counterbore_mm=self.bore_mm, counterbore_depth_mm=self.bore_depth)
        rows = (
            [
                ("W", p, tapped, HoleSizes(diameter_mm=self.work_thread.tap_drill[1], thread=self.work_thread.name))
                for p in self.work_holes
            ]
            + [("R", p, counterbore, head) for p in self.screws]
            + [("S", p, strip, HoleSizes(diameter_mm=3.3, thread=f"{STRIP_THREAD}x0.7")) for p in self.strip_holes]
        )
        counts: dict[str, int] = {}
        found = []
        for letter, (x, y), what, sizes in rows:
            counts[letter] = counts.get(letter, 0) + 1
            found.append(HoleLine(f"{letter}{counts[letter]}", x, y, what, sizes=sizes))
        return tuple(found)

    @property
    def e_mpa(self) -> float:
        return youngs_mpa(self.v.word("material"))

    @property
    def sag_um(self) -> float:
        """Middle of the plate under one strap, on its rolls: F·C³/(48·E·I)."""
        inertia = self.width * self.thickness**3 / 12
        return CLAMP_N * self.centres**3 / (48 * self.e_mpa * inertia) * 1000

    @property
    def density_kg_m3(self) -> float:
        return material(self.v.word("material")).density_kg_m3

    @property
    def volumes_mm3(self) -> tuple[float, float, float]:
        """Of the plate without its holes, of both rolls less their flats, of the work holes."""
        r = self.roll / 2
        segment = r * r * math.acos((r - self.flat) / r) - (r - self.flat) * math.sqrt(max(0.0, 2 * r * self.flat - self.flat**2))
        rolls = 2 * (math.pi * r * r - segment) * self.width
        drill = self.work_thread.tap_drill[1]
        holes = len(self.work_holes) * math.pi / 4 * drill**2 * self.thickness
        return self.length * self.width * self.thickness, rolls, holes

    @property
    def mass_kg(self) -> float:
        plate, rolls, holes = self.volumes_mm3
        return (plate + rolls - holes) * self.density_kg_m3 * 1e-9

    @property
    def largest_deg(self) -> float:
        """Where the low end's lower corner comes down on the surface plate: r − o·sin θ + (r − f)·cos θ = 0."""
        r, o, h = self.roll / 2, self.over, self.below
        reach = math.hypot(o, h)
        if r >= reach:
            return 90.0
        return min(90.0, math.degrees(math.asin(r / reach) + math.atan2(h, o)))


def usual_thickness(centres: float) -> float:
    """A fifth of the centres, to the next 2 mm."""
    return max(12.0, 2 * math.ceil(centres / 10))


def usual_overhang(roll: float) -> float:
    """Room past the roll for a stop strip, and still clear of the surface plate at 60°."""
    return round_down(roll / 2 + 4, 0.5)
