"""The near-miss watch: sizes that almost fit the wrong partner."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from msgspec import Struct

from elbrix.standards.threads import Thread, all_threads

DIAMETER_NEAR: Final = 0.06  #: diameters within this share of each other look alike in the hand
PITCH_NEAR: Final = 0.16
_SAME: Final = 1e-4


class NearMiss(Struct, frozen=True):
    """Two things that look like partners and are not."""

    what: str
    partner: str
    off_diameter: float  #: share, e.g. 0.047
    off_pitch: float  #: share; 0 for plain sizes
    sentence: str


def thread_near_misses(thread: Thread, among: Iterable[Thread] | None = None) -> list[NearMiss]:
    """Threads that would start on this one and then jam or strip."""
    found = []
    for other in all_threads() if among is None else among:
        if other.name == thread.name:
            continue
        d = abs(other.major_mm - thread.major_mm) / thread.major_mm
        p = abs(other.pitch_mm - thread.pitch_mm) / thread.pitch_mm
        if d <= DIAMETER_NEAR and p <= PITCH_NEAR:
            found.append(
                NearMiss(
                    thread.shown,
                    other.shown,
                    d,
                    p,
                    f"{other.shown} is within {d:.1%} in diameter and {p:.1%} in pitch of {thread.shown}: it starts, then jams or"
                    " strips",
                )
            )
    return sorted(found, key=lambda m: m.off_diameter + m.off_pitch)


def size_near_misses(
    what: str, size_mm: float, partners: Iterable[tuple[str, float]], *, clearance_mm: float = 0.1
) -> list[NearMiss]:
    """Plain sizes: shank against collets, pin against holes, key against slots.

    Args:
        what: The thing in hand: "20 mm shank".
        size_mm: Its size.
        partners: (name, size in mm) of what it may be put in.
        clearance_mm: A partner this close is the right one.
    """
    found = []
    for name, partner_mm in partners:
        off = abs(partner_mm - size_mm) / max(partner_mm, size_mm)
        if abs(partner_mm - size_mm) > clearance_mm + _SAME and off <= DIAMETER_NEAR:
            ending = "it never goes in" if size_mm > partner_mm else "it goes in and is not held"
            found.append(NearMiss(what, name, off, 0.0, f"{what} is {off:.1%} off the {name}: {ending}"))
    return sorted(found, key=lambda m: m.off_diameter)
