"""What a rehearsal finds."""

from __future__ import annotations

from msgspec import Struct


class Finding(Struct, frozen=True, kw_only=True):
    """One thing wrong with a plan."""

    kind: str  #: gouge, left, collision, air, limit or unheld
    setup: str
    move: str
    feature: str
    thickness_mm: float
    at_mm: tuple[float, float, float]  #: in the part frame
    words: str
