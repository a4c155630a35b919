"""What the hands reach for besides cutters and their holders: read from the steps as written, so that none is left out."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from typing import Final

from elbrix.making.context import Context
from elbrix.making.plan import Operation, Setup
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.shop.tooling import MeasuringTool

#: Of a step's words: what they say is in the hand, and what it is on the list. Adjectives ("clean one end square") are none.
_HANDS: Final = tuple(
    (re.compile(words), item)
    for words, item in (
        (r"\bfeeler", "feeler gauges"),
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
_RANGE_MM, _OVER_MM = 25.0, 0.4


def complete_kit(ctx: Context, setups: Iterable[Setup]) -> None:
    """Put on the list what the steps speak of and is not there yet."""
    sizes: dict[str, float] = {}
    for setup in setups:
        for operation in setup.operations:
            _tool(ctx, operation)
        said = _said(setup)
        for pattern, item in _HANDS:
            if pattern.search(said) and not _listed(ctx, item):
                ctx.request(item, True)
        for word in _MEASURES:
            if re.search(rf"\b{word}", said) and not _listed(ctx, word):
                _measure(ctx, word, word, 0.0)
        for move in setup.moves:
            if move.asked is not None and "micrometer" in move.asked.words:
                size = move.asked.expected_mm
                sizes[_range(ctx, size)] = max(size, sizes.get(_range(ctx, size), 0.0))
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


def _measure(ctx: Context, words: str, kind: str, size_mm: float) -> None:
    """A measuring tool: one of the shop's that reaches, else what would have to do."""
    tools = ctx.shop.measuring
    own = _own(tools, kind, size_mm)
    if own or not tools:
        ctx.request(words, True, "" if not own or kind == own else own)
        return
    instead = _own(tools, "caliper", size_mm) if kind == "micrometer" else ""
    note = f"none in Shop that measures {ctx.say(size_mm)}" if size_mm else "none in Shop"
    ctx.request(words, False, f"{note}; the {instead} is less sure" if instead else note)


def _own(tools: Sequence[MeasuringTool], kind: str, size_mm: float) -> str:
    """Name of a measuring tool of the shop that is of a kind and reaches a size; the surest of them."""
    least = _RANGE_MM if kind == "micrometer" else math.inf
    fit = [t for t in tools if kind in t.name.lower() and t.reach_mm - least - _OVER_MM <= size_mm <= t.reach_mm]
    return min(fit, key=lambda t: t.trusted_mm).name if fit else ""
