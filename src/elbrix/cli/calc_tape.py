"""The bench calculator of `elbrix calc`."""

from __future__ import annotations

import math
from collections.abc import Mapping
from fractions import Fraction
from functools import cache
from pathlib import Path
from typing import Any

from elbrix.answers.answer import ShopContext
from elbrix.answers.ask import ask
from elbrix.answers.by_tape import tape_line
from elbrix.answers.tape.amounts import Amount
from elbrix.answers.tape.line import TapeLine, shown
from elbrix.answers.tape.reckoning import reckon
from elbrix.book.documents import shop_of
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.quantities.errors import ShopError

_MAX_LINES = 1000


@cache
def _demo() -> ShopContext:
    return ShopContext(shop_of(documents()))


def _world(asked: Mapping[str, Any]) -> ShopContext:
    if asked.get("book") is None:
        return _demo()
    book = Book.open(Path(str(asked["book"])))
    try:
        return ShopContext(book.shop)
    finally:
        book.close()


def _wrong(what: str, do: str) -> ShopError:
    return ShopError("tape", what, "The tape cannot tell what is meant", do)


def _earlier(asked: Mapping[str, Any], unit: str, world: ShopContext) -> dict[int, TapeLine]:
    """Earlier results by number: a list counts from 1; each a number, a text, or {value, unit} as this calculation gives it."""
    given = asked.get("lines")
    if given is None:
        return {}
    if isinstance(given, list):
        given = {str(n): line for n, line in enumerate(given, 1)}
    if not isinstance(given, dict) or len(given) > _MAX_LINES:
        raise _wrong("“lines” are no earlier results", 'Give ["12.5 mm", …] or {"3": "12.5 mm"}')
    found: dict[int, TapeLine] = {}
    for name, line in given.items():
        number = str(name).lstrip("#")
        if not number.isdecimal():
            raise _wrong(f"“{str(name)[:20]}” is no line's number", "Lines are numbered: 1, 2, 3")
        found[int(number)] = _line(line, unit, world, found)
    return found


def _line(line: Any, unit: str, world: ShopContext, before: dict[int, TapeLine]) -> TapeLine:
    if isinstance(line, dict) and "value" in line:
        of, value = str(line.get("unit", "")), line["value"]
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise _wrong("an earlier result has no number", 'Give {"value": 12.5, "unit": "mm"}')
        one = reckon(f"1 {of}") if of else Amount(Fraction(1))
        return shown(Amount(Fraction(str(value)) * Fraction(one.number), one.dims), unit)
    if isinstance(line, int | float) and not isinstance(line, bool):
        return shown(reckon(repr(line), unit), unit)
    if isinstance(line, str):
        return tape_line(line, world, unit, before, ask)
    raise _wrong("an earlier result is neither a number nor a text", 'Give "12.5 mm"')


def tape(asked: Mapping[str, Any]) -> dict[str, Any]:
    """One line of the tape; the contract is in docs/command-line.md."""
    unit = str(asked.get("unit") or "")
    if unit not in ("", "mm", "in"):
        raise _wrong(f"“{unit[:12]}” is no unit of bare numbers", 'Give "mm" or "in", or leave it away')
    text = asked.get("text")
    if not isinstance(text, str):
        raise _wrong("“text” is missing", 'Give "text": "12.5 + 1/2\\""')
    world = _world(asked)
    found = tape_line(text, world, unit, _earlier(asked, unit, world), ask)
    answer = {"value": found.value, "unit": found.unit, "text": found.text, "exact": found.exact or None}
    if found.exact and found.exact_unit != found.unit:
        answer["exact_unit"] = found.exact_unit
    return answer | {k: v for k, v in found.more.items() if k != "unit"}
