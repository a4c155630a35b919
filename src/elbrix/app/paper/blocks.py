"""Blocks of pages that flow: a heading, words across the page, a line to tick, rows of two columns."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from itertools import zip_longest
from typing import Final

from elbrix.app.paper.pages import INK, LEFT, SOFT, WIDTH, Block, Pen

#: Of two columns: the width of one, and where the second begins.
COLUMN, SECOND = 900.0, LEFT + 960
#: Of a column: the label, the gap, the value.
_LABEL: Final = 480.0
_VALUE: Final = COLUMN - _LABEL - 10
Row = tuple[str, str]  #: label, value


def heading(words: str, gap: float = 0.0) -> Block:
    """A heading that stays with what follows it."""

    def draw(pen: Pen, y: float) -> None:
        pen.words(LEFT, y + gap, WIDTH, words, 28, bold=True)

    return Block(44.0 + gap, draw, heading=True)


def across(pen: Pen, words: str, size: float, colour: str = INK, gap: float = 4.0) -> Block:
    """Words over the whole width."""

    def draw(pen: Pen, y: float) -> None:
        pen.words(LEFT, y, WIDTH, words, size, colour=colour)

    return Block(pen.height(WIDTH, words, size) + gap, draw)


def ticked(pen: Pen, words: str, size: float = 24.0, gap: float = 8.0) -> Block:
    """A line with a box before it."""

    def draw(pen: Pen, y: float) -> None:
        pen.box(LEFT, y + 4, 24, 24, 2)
        pen.words(LEFT + 44, y, WIDTH - 44, words, size)

    return Block(pen.height(WIDTH - 44, words, size) + gap, draw)


def columns(pen: Pen, left: tuple[str, Iterable[Row]], right: tuple[str, Iterable[Row]]) -> Iterator[Block]:
    """Two groups of rows beside each other, each under its title; no row is split."""

    def titles(pen: Pen, y: float) -> None:
        pen.words(LEFT, y, COLUMN, left[0], 26, bold=True)
        pen.words(SECOND, y, COLUMN, right[0], 26, bold=True)

    yield Block(42.0, titles, heading=True)
    for a, b in zip_longest(left[1], right[1]):
        yield Block(max(_row_height(pen, row) for row in (a, b) if row is not None), _two_rows(a, b))
    yield Block(12.0, lambda pen, y: None)


def _row_height(pen: Pen, row: Row) -> float:
    return max(pen.height(_LABEL, row[0], 21), pen.height(_VALUE, row[1], 22, bold=True)) + 1


def _two_rows(left: Row | None, right: Row | None) -> Callable[[Pen, float], None]:
    def draw(pen: Pen, y: float) -> None:
        for x, row in ((LEFT, left), (SECOND, right)):
            if row is not None:
                pen.words(x, y, _LABEL, row[0], 21, colour=SOFT)
                pen.words(x + _LABEL + 10, y, _VALUE, row[1], 22, bold=True, align="right")

    return draw
