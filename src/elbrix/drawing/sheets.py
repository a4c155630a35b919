"""How a shop draws: which projection, and on which paper."""

from __future__ import annotations

from typing import Final

from msgspec import Struct

#: Where the views stand about the front one. Source: ISO 5456-2.
PROJECTIONS: Final = (("third", "Third angle"), ("first", "First angle"))
#: Paper, lying across: name, width and height, mm. Source: ISO 216.
PAPERS: Final = (("A4", (297.0, 210.0)), ("A3", (420.0, 297.0)))


class SheetChoice(Struct, frozen=True):
    """One shop's way; what is not known is taken as usual."""

    projection: str = "third"
    paper: str = "A4"

    @property
    def size_mm(self) -> tuple[float, float]:
        return dict(PAPERS).get(self.paper, PAPERS[0][1])

    @property
    def first(self) -> bool:
        return self.projection == "first"

    @property
    def words(self) -> str:
        """ "Third angle"."""
        return dict(PROJECTIONS).get(self.projection, PROJECTIONS[0][1])


USUAL: Final = SheetChoice()
