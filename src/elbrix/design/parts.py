"""What an accessory is put together from besides its own piece: screws, nuts, pins and the parts made for it."""

from __future__ import annotations

from typing import Protocol, runtime_checkable

from msgspec import Struct

from elbrix.design.family import Design
from elbrix.results.length_text import length
from elbrix.shop.workholding import FastenerKind
from elbrix.standards.threads import first_choice, known_thread


class Part(Struct, frozen=True, kw_only=True):
    """One line of a parts list, for one piece."""

    words: str  #: "socket screw M10 × 40, to the table", its lengths marked (`results.length_text`)
    count: int = 1
    made: bool = False  #: made for it, not bought
    fastener: FastenerKind | None = None  #: in which list of the shop it is looked for
    stud: bool = False
    thread: str = ""
    length_mm: float = 0.0  #: under the head; 0: by trial, or as it comes
    pin_mm: float = 0.0  #: Ø of a pin
    loose: bool = False  #: bought, and in no list of the shop
    feature: str = ""  #: what of the picture in place shows it


@runtime_checkable
class OfParts(Protocol):
    """A family whose pieces are of no use alone."""

    def parts(self, design: Design) -> tuple[Part, ...]:
        """Everything one piece is put together with."""


def size_of(thread: str) -> str:
    """A thread as one asks for it over a counter: a coarse metric one without its pitch."""
    known = known_thread(thread)
    if known is None:
        return thread
    return known.name.split("x")[0] if known.metric and known in first_choice() else known.shown


def screws(
    count: int, thread: str, where: str, length_mm: float = 0.0, kind: str = "socket screw", feature: str = ""
) -> tuple[Part, ...]:
    """Screws of one size; none for a count of 0.

    Args:
        where: What they go into: "into the jaw".
        length_mm: Under the head; 0 where the drawing does not decide it.
        feature: What of the picture in place shows them.
    """
    known = known_thread(thread)
    # A metric screw is called by its millimetres in an inch shop, too.
    long = "" if not length_mm else f" × {length_mm:g}" if known is not None and known.metric else f" × {length(length_mm)}"
    words = f"{kind} {size_of(thread)}{long}, {where}"
    if not count:
        return ()
    return (Part(words=words, count=count, fastener=FastenerKind.CAP_SCREW, thread=thread, length_mm=length_mm, feature=feature),)


def nuts(count: int, thread: str, feature: str = "") -> tuple[Part, ...]:
    """T-nuts for the table's slots."""
    words = f"T-nut {size_of(thread)}"
    return (Part(words=words, count=count, fastener=FastenerKind.T_NUT, thread=thread, feature=feature),) if count else ()


def made(count: int, words: str, feature: str = "") -> Part:
    """A part made for it; its lengths in words are marked."""
    return Part(words=words, count=count, made=True, feature=feature)
