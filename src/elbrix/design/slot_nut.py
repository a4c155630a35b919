"""The T-nut that belongs in a slot: the rules our own nuts are made by, for everything that is bolted down with one."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.mechanics.ring_slot import longest_straight_mm
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import round_down, round_up
from elbrix.results import length_text
from elbrix.results.checks import Limits, Verdict
from elbrix.standards.threads import Thread, first_choice

#: Play and clearances, mm. Source: shop practice; sizes round down to STEP.
NECK_PLAY: Final = 0.3  # both sides together
HEAD_PLAY: Final = 1.0
TOP_BELOW: Final = 1.0
HEAD_CLEAR: Final = 0.5
STEP: Final = 0.1
#: Of a nut that is pulled up, its top below what it stands under: good from half a millimetre.
TOP_LIMITS: Final = Limits(0.2, 0.5)
#: Unfinished threads a stopped tap leaves, in pitches.
SHORT_PITCHES: Final = 2.5
#: Metal along the slot beside the thread, in its Ø: no less than, better than. Source: shop practice.
ALONG_MIN, ALONG_GOOD = 0.15, 0.25
#: A nut as long as wide: its head is about this many necks wide when the slot's head was not measured.
_HEAD_SHARE: Final = 1.6
#: And that much thread below the lips, in necks, when its depth was not.
_HEAD_HIGH: Final = 0.6


class SlotNut(Struct, frozen=True, kw_only=True):
    """What is known of a nut before it is made, mm."""

    thread: Thread
    neck_width: float
    neck_height: float
    head_width: float
    head_height: float
    length: float

    @property
    def full_thread(self) -> float:
        """From its top: the tap is stopped short of the underside."""
        return self.neck_height + self.head_height - SHORT_PITCHES * self.thread.pitch_mm


def neck_height_mm(lip_min: float) -> float:
    """Of a nut: its pulled-up top stays a millimetre below the table, and it is not under 0.6 of the lips."""
    tall = min(max(lip_min - TOP_BELOW, round_up(0.6 * lip_min, STEP)), lip_min - 0.5)
    return max(1.0, round_down(tall, STEP))


def straight_in_ring_mm(ring_radius: float, neck_min: float, neck_width: float, head_min: float, head_width: float) -> float:
    """The longest straight nut of these widths that slides in a ring slot; without end in a straight one (radius 0)."""
    if ring_radius <= 0:
        return math.inf
    return min(
        longest_straight_mm(ring_radius, neck_min - 0.1, neck_width), longest_straight_mm(ring_radius, head_min - 0.2, head_width)
    )


def nut_length_mm(head_width: float, longest: float) -> float:
    """As long as its head is wide, up to the next mm, or as long as it may be."""
    usual = round_up(head_width, 1.0)
    return usual if math.isinf(longest) else min(usual, max(3.0, round_down(longest, 0.5)))


def nut_for(neck_min: float, lip_min: float, lip_max: float, head_min: float = 0.0, depth_min: float = 0.0) -> SlotNut:
    """The nut our own rules make for a slot.

    Args:
        head_min: Narrowest slot head, `depth_min` shallowest floor; 0 where it was not measured: then usual shares of the neck.

    Raises:
        ShopError: A neck too narrow for any thread.
    """
    width = round_down(neck_min - NECK_PLAY, STEP)
    neck = neck_height_mm(lip_min)
    head = round_down((head_min or _HEAD_SHARE * neck_min) - HEAD_PLAY, STEP)
    high = min(depth_min - lip_max, depth_min - neck) - HEAD_CLEAR if depth_min else _HEAD_HIGH * neck_min
    return SlotNut(
        thread=choose_thread(width),
        neck_width=width,
        neck_height=neck,
        head_width=head,
        head_height=max(1.0, round_down(high, STEP)),
        length=round_up(head, 1.0),
    )


def along_limits(d: float) -> Limits:
    """Metal between the thread and each end of the nut."""
    return Limits(no_below=ALONG_MIN * d, marginal_below=ALONG_GOOD * d)


def nut_thread(neck_min: float) -> Thread:
    """The largest thread a nut for a slot has a sound wall for.

    Args:
        neck_min: Of the slot at its narrowest, mm.
    """
    return choose_thread(max(round_down(neck_min - NECK_PLAY, STEP), 4.0))


def fitting_bolt(neck_min: float, sizes: tuple[str, ...]) -> str:
    """The largest of some metric bolts that a nut for the slot has a sound wall for; the smallest when none."""
    good = nut_thread(neck_min).major_mm
    return next((b for b in reversed(sizes) if float(b[1:]) <= good), sizes[0])


def wall_limits(neck: float) -> Limits:
    """Wall of metal beside the thread in the neck: good from min(0.8, 0.055 × neck), close from 0.25 mm."""
    return Limits(no_below=0.25, marginal_below=min(0.8, 0.055 * neck))


def choose_thread(neck: float, owned: tuple[str, ...] = (), length: float = math.inf) -> Thread:
    """The largest first-choice thread whose wall in the neck is good; an owned stud one size smaller wins over an unowned one.

    Args:
        length: Of the nut along the slot, mm: there has to be metal beside the thread that way, too.

    Raises:
        ShopError: A neck too narrow for any.
    """
    good = [
        t
        for t in first_choice()
        if wall_limits(neck).judge((neck - t.major_mm) / 2) is Verdict.GO and t.major_mm * (1 + 2 * ALONG_GOOD) <= length
    ]
    if not good:
        raise ShopError(
            "Nut neck width",
            f"{length_text.length(neck)} {length_text.LENGTH_UNIT} holds no thread",
            f"The smallest is {first_choice()[0].shown}",
            "Measure the slot again, or check the unit",
            "neck_width",
        )
    for thread in good[:-3:-1]:
        if thread.name in owned:
            return thread
    return good[-1]
