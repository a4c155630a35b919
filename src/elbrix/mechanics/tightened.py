"""What a tightened screw does to itself, to its thread and to the T-slot it pulls against: one rule, wherever one is tightened.

A torque scatters, so that a share of what something bears is good only while the high end of the scatter stays below the whole.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from msgspec import Struct

from elbrix.mechanics.strength import (
    LIP_BEARING,
    LIP_BENDING,
    LIP_SHEAR,
    SHEAR_OVER_YIELD,
    STUD_SHARE,
    FlangeLoad,
    bearing_mpa,
    nut_thread_shear_mm2,
)
from elbrix.quantities.lengths import fine_step, round_down
from elbrix.results.checks import Check, Limits, Points, judged
from elbrix.results.figures import FormulaTerm, format_number
from elbrix.results.formulas import term, worked
from elbrix.standards.materials import PRELOAD_SCATTER, proof_mpa
from elbrix.standards.threads import Thread

#: % of what something bears: good while the scatter cannot take it past, no good past it.
FULL: Final = Limits(marginal_above=100 / (1 + PRELOAD_SCATTER), no_above=100)
#: The same where something else gives first that is not reckoned (a slot's lips), or where the steel has no proof load but a book
#: value: good up to what a clamping stud is tightened to, no good where the scatter may take it past. A half for rounding.
CAREFUL: Final = Limits(marginal_above=100 * STUD_SHARE + 0.5, no_above=100 / (1 + PRELOAD_SCATTER))
#: % of the most a vise's handle is made for.
HANDLE: Final = Limits(marginal_above=90, no_above=100)
#: Engaged thread over Ø of an 8.8 screw in mild steel.
ENGAGED: Final = Limits(0.8, 1.0)
#: Its own flange bends from its yield on; good up to that share of it.
_FLANGE_SHARE: Final = 1 / 1.5
#: Broken edges of nut and slot, mm: where they touch no more.
EDGE_BREAKS: Final = 0.3
#: Of bought screws and studs of which nobody said another class.
SCREW_CLASS: Final = "8.8"
#: Why a bolt into a slot whose lips are not reckoned is not pulled with all it bears.
LIPS_FIRST: Final = "the slot's lips suffer first"
#: A screw that is not there, and an overlap of nothing, still have a number to show.
MAX_MPA: Final = 9999.0
MAX_SHARE: Final = 1e6
#: The least torque that can be typed, N·m.
MIN_TORQUE_NM: Final = 0.1


def proposed_nm(most_nm: float) -> float:
    """The torque to propose where so much is the most: down to whole N·m, a small one to what it can be set by."""
    return max(MIN_TORQUE_NM, round_down(most_nm, fine_step(most_nm, 1.0)))


def screw_load(
    key: str, label: str, pull_n: float, thread: Thread, strength_class: str, points: Points, *, careful: str = ""
) -> Check:
    """A bought screw or stud at a preload, in % of its proof load.

    Args:
        careful: Why not all of it may be used: "the slot's lips suffer first"; empty: it may.
    """
    proof = proof_mpa(strength_class, thread.major_mm).value
    return judged(
        key,
        label,
        worked(
            "F/(stress area × proof stress)",
            term(pull_n, 3, "N"),
            term(thread.stress_area_mm2, 4, "mm²"),
            term(proof, 0, "MPa"),
            source=f"ISO 898-1, class {strength_class}",
        ),
        CAREFUL if careful else FULL,
        (
            "below its proof load even when the torque scatters high",
            f"more than 3/8 of its proof load: {careful}" if careful else "at the high end of the torque scatter it may stretch",
            "when the torque scatters high it stretches for good"
            if careful
            else "past its proof load: it stretches for good, or breaks",
        ),
        points=points,
        unit="%",
    )


def own_screw_load(label: str, pull_n: float, area_mm2: float, yield_mpa: float, points: Points) -> Check:
    """A screw made from bar, at its weakest section, in % of the steel's yield."""
    return judged(
        "pulled",
        label,
        worked(
            "F/(weakest section × yield)",
            term(pull_n, 4, "N"),
            term(area_mm2, 3, "mm²"),
            term(yield_mpa, 6, "MPa"),
            source="the steel's book value, not hardened",
        ),
        CAREFUL,
        (
            "it lasts",
            "a strong pull: it stretches in time",
            "it stretches or snaps: stronger steel, less torque, a larger thread",
        ),
        points=points,
        unit="%",
    )


def stripping(pull_n: float, thread: Thread, engaged_mm: float, yield_mpa: float, points: Points) -> Check:
    """The thread of a nut, in % of what shears it out."""
    area = nut_thread_shear_mm2(thread, engaged_mm)
    return judged(
        "strip",
        "Thread stripping",
        worked(
            f"F/(shear area × {SHEAR_OVER_YIELD:g} × yield)",
            term(pull_n, 3, "N"),
            term(area, 4, "mm²"),
            term(yield_mpa, 6, "MPa"),
            source="area π·d·Le/P·[P/2 + (d − D2)·tan 30°]; yield: reference",
            most=MAX_SHARE / 100,
        ),
        FULL,
        (
            "the nut's thread has strength in hand",
            "near shearing when the torque scatters high",
            "the thread shears out of the nut",
        ),
        points=points,
        unit="%",
    )


def engaged(thread: Thread, engaged_mm: float, proof: float, yield_mpa: float, points: Points) -> Check:
    """Engaged thread over Ø: as much as holds a stud of that proof stress in a nut of that yield."""
    scale = max(0.8, proof / 580 * 235 / yield_mpa)
    return judged(
        "engagement",
        "Thread engagement",
        worked(
            "full thread / diameter",
            engaged_mm,
            term(thread.major_mm, 6),
            source=f"1.0 × d for an 8.8 stud in mild steel, here × {format_number(scale, 2)}",
        ),
        Limits(ENGAGED.no_below * scale, ENGAGED.marginal_below * scale),
        (
            "the stud gives before the thread strips",
            "enough with care; strips first if overdone",
            "too little thread: it strips before the stud gives",
        ),
        points=points,
        unit="× d",
    )


def handle_load(key: str, torque_nm: float, most_nm: float, features: tuple[str, ...], torque: str) -> Check:
    """A vise's handle, in % of what the vise is made for.

    Args:
        torque: The parameter that is pulled with.
    """
    return judged(
        key,
        "Handle torque",
        worked("torque/the vise's largest", torque_nm, most_nm, source="Shop"),
        HANDLE,
        ("within what the vise is made for", "at the end of what the vise is made for", "more than the vise is made for"),
        unit="%",
        features=features,
        figures=(torque,),
        remedies=(torque,),
    )


class PulledNut(Struct, frozen=True, kw_only=True):
    """A nut pulled up under the lips of a T-slot, mm and MPa; the slot at its governing extremes."""

    thread: Thread
    engaged_mm: float
    neck: float  #: width; `head` too
    head: float
    head_height: float
    length: float
    yield_mpa: float
    proof: float  #: of its stud
    slot_neck: tuple[float, float]  #: tightest, widest
    slot_head: float  #: widest
    lip: float  #: thinnest

    @property
    def overlap(self) -> float:
        """Under the lip it bears on least, pushed to one side, less broken edges."""
        return (self.head + self.neck) / 2 - self.slot_neck[1] - EDGE_BREAKS

    @property
    def lips(self) -> FlangeLoad:
        arm = self.slot_head / 2 - (self.slot_neck[0] + self.head) / 4
        return FlangeLoad(arm_mm=arm, effective_length_mm=self.length + 2 * max(arm, 0.0), thickness_mm=self.lip)

    @property
    def flange(self) -> FlangeLoad:
        own = (self.slot_neck[1] + self.head) / 4 - self.neck / 2
        return FlangeLoad(arm_mm=own, effective_length_mm=self.length, thickness_mm=self.head_height)

    @property
    def stud_n(self) -> float:
        """Proof load of its stud."""
        return self.thread.stress_area_mm2 * self.proof

    @property
    def strip_n(self) -> float:
        """What shears its thread out."""
        return nut_thread_shear_mm2(self.thread, self.engaged_mm) * SHEAR_OVER_YIELD * self.yield_mpa

    def allowed(self) -> list[tuple[str, float, float]]:
        """Part, preload at its marginal limit and at its no-go limit, N."""
        bearing_1 = bearing_mpa(1.0, self.overlap, self.length)
        good = FULL.marginal_above / 100
        found = [
            ("stud", self.stud_n * good, self.stud_n),
            ("nut thread", self.strip_n * good, self.strip_n),
            ("lip pressure", LIP_BEARING[0] / bearing_1, LIP_BEARING[1] / bearing_1),
            ("lip shear", LIP_SHEAR[0] / self.lips.shear_mpa(1.0), LIP_SHEAR[1] / self.lips.shear_mpa(1.0)),
        ]
        bending_1, own_1 = self.lips.bending_mpa(1.0), self.flange.bending_mpa(1.0)
        if bending_1 > 0:
            found.append(("lip bending", LIP_BENDING[0] / bending_1, LIP_BENDING[1] / bending_1))
        if own_1 > 0:
            found.append(("nut flange", self.yield_mpa * _FLANGE_SHARE / own_1, self.yield_mpa / own_1))
        return found

    def lip_checks(self, pull_n: float, points: Mapping[str, Points]) -> list[Check]:
        """Pressure, shear and bending of the lips, bending of the nut's own flange.

        Args:
            points: For `bearing`, `lip_shear`, `lip_bending` and `flange`.
        """
        lips, own, pull = self.lips, self.flange, term(pull_n, 3, "N")
        arm = term(max(lips.arm_mm, 0.0), 4)
        return [
            lip_pressure("bearing", pull, self.overlap, self.length, points["bearing"]),
            judged(
                "lip_shear",
                "Lip shear",
                worked(
                    "F/(2·t·(L + 2·arm))",
                    pull,
                    self.lip,
                    self.length,
                    arm,
                    source="away from the slot's end; at the end it is L + arm. Arm = slot head/2 − (slot neck + head)/4",
                ),
                Limits(marginal_above=LIP_SHEAR[0], no_above=LIP_SHEAR[1]),
                ("the lips have strength in hand", "high for grey iron", "it may break the lips out of the table"),
                points=points["lip_shear"],
                unit="MPa",
                step=0.1,
            ),
            judged(
                "lip_bending",
                "Lip bending",
                worked(
                    "3·F·arm/((L + 2·arm)·t²)",
                    pull,
                    arm,
                    self.length,
                    self.lip,
                    source="cantilever at the lip's root; arm = slot head/2 − (slot neck + head)/4",
                ),
                Limits(marginal_above=LIP_BENDING[0], no_above=LIP_BENDING[1]),
                ("the lips have strength in hand", "high for grey iron", "it may crack the lips at their root"),
                points=points["lip_bending"],
                unit="MPa",
                step=0.1,
            ),
            judged(
                "flange",
                "Nut flange bending",
                worked(
                    "3·F·arm/(L·head height²)",
                    term(pull_n, 3, "N"),
                    term(max(own.arm_mm, 0.0), 4),
                    self.length,
                    self.head_height,
                    source=f"arm = (slot neck + head)/4 − neck/2; yield {self.yield_mpa:.0f} MPa, reference",
                ),
                Limits(marginal_above=self.yield_mpa * _FLANGE_SHARE, no_above=self.yield_mpa),
                ("the head stays flat", "less than 1.5 times in hand", "the head bends down at the neck"),
                points=points["flange"],
                unit="MPa",
                step=0.1,
            ),
        ]


def lip_pressure(key: str, pull: FormulaTerm, overlap_mm: float, length_mm: float, points: Points) -> Check:
    """What presses on a slot's lips from below; without end where it does not reach under them."""
    return judged(
        key,
        "Pressure on the lips",
        worked(
            f"min({MAX_MPA:g}; F/(2·overlap·L))",
            pull,
            term(max(overlap_mm, 1e-6), 6),
            term(max(length_mm, 1e-6), 6),
            source="pushed to one side, 0.3 off for broken edges; grey iron, the machine maker's figure first",
        ),
        Limits(marginal_above=LIP_BEARING[0], no_above=LIP_BEARING[1]),
        (
            "spread wide enough for grey iron",
            "it marks the lips in time",
            "it dents the lips" if overlap_mm > 0 and length_mm > 0 else "it hardly reaches under one lip",
        ),
        points=points,
        unit="MPa",
        step=1,
    )
