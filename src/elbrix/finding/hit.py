"""What a search for a need gives."""

from __future__ import annotations

from typing import Any

from msgspec import Struct, field

from elbrix.finding.need import Need
from elbrix.results.checks import Verdict


class Hit(Struct, frozen=True, kw_only=True):
    """One way to meet the need, proved.

    Attributes:
        items: Ids of what it takes, of the shop and the catalogue.
        words: What it is, and the numbers that prove it.
        verdict: Go or marginal; what is no-go is no hit.
        margin: Of the proof: times the cut, times nearer than asked, mm of play; None where there is no such number.
        minutes: To set it up, a shop's rule of thumb; 0: not known.
        uses: The layout or the setting that proves it, as plain data.
    """

    items: tuple[str, ...]
    words: str
    verdict: Verdict
    margin: float | None
    minutes: float = 0.0
    uses: dict[str, Any] = field(default_factory=dict)


class Make(Struct, frozen=True, kw_only=True):
    """What to make when nothing does."""

    family: str
    values: dict[str, str]
    words: str
    machine: str = ""  #: id of the one it is for
    slot: str = ""
    design: str = ""  #: id of one that is drawn already, and was not made
    bar: str = ""  #: from which bar, or what to buy
    minutes: float = 0.0  #: to make it; 0: not planned


class Found(Struct, frozen=True, kw_only=True):
    """A need, what meets it, best first, and what to make."""

    need: Need
    hits: tuple[Hit, ...]
    make: tuple[Make, ...]
    notes: tuple[str, ...] = ()  #: why what comes near does not do
    waiting: int = 0  #: designs that are not worked out yet
    to_prove: tuple[str, ...] = ()  #: what is going to be tried in Hold, in words with marked lengths
