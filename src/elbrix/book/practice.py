"""Practice: an inspection of a described thing whose truth follows from a number kept with it, read by a simulated instrument."""

from __future__ import annotations

import random
from typing import Final

from msgspec import Struct

from elbrix.book.choices import read_chosen
from elbrix.book.documents import DesignDoc, InspectionDoc
from elbrix.book.inspections import kind_of
from elbrix.inspecting.inspection import Exercise, Inspection
from elbrix.inspecting.readings import Place
from elbrix.instruments.behaviour import Truth
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

_MARK: Final = "practice "


class PracticeInstrument(Struct, frozen=True, kw_only=True):
    """What has to stand on the bench for a practice to go on."""

    name: str
    truth: Truth
    seed: int
    of: str  #: id of the practice


def practice_of(doc: InspectionDoc, id: str, seed: int, on: str) -> InspectionDoc:
    """A practice with the same set-up as an inspection."""
    return InspectionDoc(
        id=id,
        kind=doc.kind,
        title=f"Practice: {doc.title.removeprefix('Practice: ')}",
        about=doc.about,
        began=on,
        chosen=doc.chosen,
        notes=f"{_MARK}{seed}",
    )


def seed_of(doc: InspectionDoc) -> int | None:
    """The number a practice is made from; None of a real inspection."""
    text = doc.notes.removeprefix(_MARK) if doc.notes.startswith(_MARK) else ""
    return int(text) if text.isdecimal() and len(text) < 12 else None


def exercise_of(doc: InspectionDoc, designs: tuple[DesignDoc, ...], shop: Shop) -> Exercise | None:
    """What is true in a practice; None of a real inspection.

    Raises:
        ShopError: The inspection does not work out.
    """
    seed = seed_of(doc)
    if seed is None:
        return None
    kind = kind_of(doc, designs, shop)
    return kind.exercise(kind.propose(shop, read_chosen(kind.parameters(shop), doc.chosen)), shop, random.Random(seed))


def practice_instrument(doc: InspectionDoc, exercise: Exercise, inspection: Inspection) -> PracticeInstrument:
    """The instrument for the places that are still to be read, in their order.

    Raises:
        ShopError: Every place is read.
    """
    left: list[Place] = [
        place for place in inspection.sheet.missing for _ in range(place.times - len(inspection.sheet.readings[place.key]))
    ]
    if not left:
        raise ShopError("Practice", "every place is read", "There is nothing left to measure", "Begin another one")
    axes = tuple(p.axis for p in left) if any(p.axis for p in left) else ()
    return PracticeInstrument(
        name=f"{exercise.tool}-practice",
        truth=Truth(values=tuple(exercise.true[p.key] for p in left), axes=axes),
        seed=seed_of(doc) or 0,
        of=doc.id,
    )
