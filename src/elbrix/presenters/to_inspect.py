"""Ways into Inspect from what is in hand: a piece, a thing of the shop, a setting. Each says what it can be looked at with."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from elbrix.answers.answer import Destination
from elbrix.book.documents import DesignDoc
from elbrix.items.kind import kind_of_item
from elbrix.quantities.angles import angle_text

if TYPE_CHECKING:
    from elbrix.angles.setup import ReadBack


def measure_piece(doc: DesignDoc) -> Destination:
    """A piece against its drawing."""
    return _to("Measure a piece", "as_made", f"{doc.title}, as made", {"about": doc.id})


def measure_mate(doc: DesignDoc) -> Destination:
    """The mate of a design whose holes wait for it."""
    return _to("Measure its mate", "mate_holes", f"Mate of {doc.title}", {"about": doc.id})


def inspections_of(item: Any) -> dict[str, Destination]:
    """What a thing of the shop can be looked at with, by key of its button."""
    kind = kind_of_item(item)
    return {look.key: _to(look.words, look.kind, look.title, look.chosen) for look in kind.looked_at(item)} if kind else {}


def read_back(setting: ReadBack, title: str) -> Destination:
    """The angle of a setting, to be read back."""
    chosen = {"wanted": angle_text(setting.angle), "tolerance": f"{math.degrees(setting.tolerance) * 60:.6g}"}
    if setting.sine_tool:
        chosen["tool_kind"] = setting.sine_tool
    return _to("Read back", "sine_check", f"{title}, read back", chosen)


def _to(words: str, kind: str, title: str, chosen: dict[str, str]) -> Destination:
    return Destination(words=words, bench="inspect", kind=kind, title=title, chosen=chosen)
