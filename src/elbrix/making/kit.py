"""What the hands reach for besides cutters and their holders: read from the steps as written, so that none is left out."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from typing import Final

from elbrix.making.context import Context
from elbrix.making.plan import Operation, Setup
from elbrix.quantities.lengths import MM_PER_INCH

#: Of a step's words: what they say is in the hand, and what it is on the list. Adjectives ("clean one end square") are none.
_HANDS: Final = tuple(
    (re.compile(words), item)
    for words, item in (
        (r"\bfeeler", "feeler gauges"),
        (r"\bsmall-hole gauge", "small-hole gauges"),
        (r"\btelescoping gauge", "telescoping gauges"),
        (r"\binside gauge", "inside gauge"),
        (r"\bpin or gauge blocks\b", "pin or gauge blocks"),
        (r"(?<!pin or )\bgauge blocks?\b", "gauge blocks"),
        (r"\b(?:the|a|by|with) square\b", "square"),
        (r"\bstrip of brass\b", "strip of brass"),
        (r"\b(?:a|the) (?:smooth |fine )?file\b", "file"),
        (r"\bover parallels\b|\bon parallels\b", "parallels"),
        (r"\bon (?:two strips of )?paper\b|\bpaper is held\b", "thin paper"),
        (r"\bagainst (?:a|the) stop\b", "work stop on the vise"),
    )
)
#: What measures, by the word for it; "micrometer" comes by ranges.
_MEASURES: Final = ("caliper", "protractor", "indicator", "depth gauge")
#: Micrometers come in ranges of so much, and turn a little further than they say.
_RANGE_MM: Final = 25.0
#: Calipers are made so long; the first is the one everybody has.
_CALIPERS_MM: Final = (150.0, 200.0, 300.0, 500.0, 600.0, 1000.0)
_CALIPERS_IN: Final = (6.0, 8.0, 12.0, 20.0, 24.0, 40.0)


def complete_kit(ctx: Context, setups: Iterable[Setup]) -> None:
    """Put on the list what the steps speak of and is not there yet."""
    sizes: dict[str, float] = {}
    reach: dict[str, float] = {}
    for setup in setups:
        for operation in setup.operations:
            _tool(ctx, operation)
        said = _said(setup)
        for pattern, item in _HANDS:
            if pattern.search(said) and not _listed(ctx, item):
                ctx.request(item, True)
        for word in _MEASURES:
            if re.search(rf"\b{word}", said) and not _listed(ctx, word):
                reach.setdefault(word, 0.0)
        for move in setup.moves:
            if move.asked is None:
                continue
            size = move.asked.expected_mm
            if "micrometer" in move.asked.words:
                sizes[_range(ctx, size)] = max(size, sizes.get(_range(ctx, size), 0.0))
            elif "caliper" in move.asked.words:
                reach["caliper"] = max(size, reach.get("caliper", 0.0))
    for word, size in reach.items():
        _measure(ctx, _to_reach(ctx, word, size), word, size)
    for words, size in sorted(sizes.items(), key=lambda pair: pair[1]):
        _measure(ctx, f"micrometer {words}", "micrometer", size)


def _tool(ctx: Context, operation: Operation) -> None:
    """What an operation is done with, when no item of the list speaks of it."""
    words = operation.tool
    if (operation.cutter is not None and words and not _listed(ctx, words)) or (
        re.match(r"(?:bandsaw|hacksaw)", words) and not _listed(ctx, words)
    ):
        ctx.request(words, True)


def _said(setup: Setup) -> str:
    found = [setup.holding, setup.datum]
    for operation in setup.operations:
        found += [operation.title, operation.tool, operation.note]
    for move in setup.moves:
        found += [move.words, move.asked.words if move.asked is not None else ""]
    return " ".join(found).lower()


def _listed(ctx: Context, words: str) -> bool:
    """Whether an item of the list is this, or names it among others."""
    return any(words.lower() in item.words.lower() or item.words.lower() in words.lower() for item in ctx.kit)


def _range(ctx: Context, size_mm: float) -> str:
    """ "25 to 50 mm", "1 to 2 in": of the micrometer that measures a size."""
    step = _RANGE_MM if ctx.unit == "mm" else MM_PER_INCH
    high = max(1, math.ceil(size_mm / step - 1e-9))
    return f"{(high - 1) * 25} to {high * 25} mm" if ctx.unit == "mm" else f"{high - 1} to {high} in"


def _to_reach(ctx: Context, word: str, size_mm: float) -> str:
    """ "caliper to 300 mm", where the usual one is too short."""
    usual = _CALIPERS_MM if ctx.unit == "mm" else tuple(MM_PER_INCH * inches for inches in _CALIPERS_IN)
    if size_mm <= usual[0]:
        return word
    long = next((s for s in usual if s >= size_mm), math.ceil(size_mm))
    return f"{word} to {long:g} mm" if ctx.unit == "mm" else f"{word} to {math.ceil(long / MM_PER_INCH - 1e-9)} in"


def _measure(ctx: Context, words: str, kind: str, size_mm: float) -> None:
    """A measuring tool: one of the shop's that reaches, else what would have to do."""
    tools = ctx.shop.measuring
    own = _own(ctx, kind, size_mm)
    if own or not tools:
        ctx.request(words, True, "" if not own or kind == own else own)
        return
    instead = _own(ctx, "caliper", size_mm) if kind == "micrometer" else ""
    note = f"none in Shop that measures {ctx.say(size_mm)}" if size_mm else "none in Shop"
    ctx.request(words, False, f"{note}; the {instead} is less sure" if instead else note)


def _own(ctx: Context, kind: str, size_mm: float) -> str:
    """Name of the measuring tool of the shop that is of a kind and reaches a size."""
    tool = ctx.shop.measuring_tool(kind, size_mm, ctx.unit)
    return tool.name if tool is not None else ""
