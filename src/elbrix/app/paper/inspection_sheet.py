"""The inspection sheet: what was looked at, every reading with its tool, what was found, what to do."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import zip_longest
from typing import Final

from elbrix.app.paper.blocks import Row, across, columns, heading, ticked
from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, LEFT, SOFT, WIDTH, Block, FlowedPages, Pen
from elbrix.inspecting.inspection import Inspection
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.words import check_text, said_scene
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Check

_LINE: Final = 38.0


class InspectionSheet(FlowedPages, kw_only=True):
    """A4 upright, as many pages as it takes: nothing of it is left for the screen."""

    presenter: InspectPresenter
    inspection: Inspection

    @property
    def title(self) -> str:
        return self.presenter.doc.title

    def _style(self) -> UnitStyle:
        return self.presenter.style

    def _head(self) -> tuple[str, str, str]:
        return self.title, self.presenter.subtitle(), "Inspection sheet"

    def _blocks(self, pen: Pen) -> Iterator[Block]:
        lines, found = self.presenter.reading_lines(), self.inspection
        picture = 1000.0 if len(lines) <= 8 and len(found.steps) < 5 else 700.0
        beside, below = self._numbers(pen, picture)
        yield Block(picture + 30, lambda pen, y: self._first(pen, y, picture, beside))
        nothing: tuple[str, list[Row]] = ("", [])
        for left, right in zip_longest(below[::2], below[1::2], fillvalue=nothing):
            yield from columns(pen, left, right)
        for caution in found.cautions:
            yield across(pen, f"▲ {caution}", 23, ACCENT, 6)
        if lines:
            yield heading("Readings", gap=6)
        half = -(-len(lines) // 2)
        for n in range(half):
            yield Block(_LINE, _reading(lines[n], lines[n + half] if n + half < len(lines) else None))
        if found.checks:
            yield heading("Verdict", gap=14)
        for check in sorted(found.checks, key=lambda c: -c.verdict.rank):
            yield self._verdict(pen, check)
        for number, step in enumerate(found.steps, 1):
            yield ticked(pen, f"{number}   {step}", 25, 10)
        yield Block(90.0, _signed)

    def _first(self, pen: Pen, y: float, high: float, beside: list[tuple[str, list[Row]]]) -> None:
        p = self.presenter
        pen.scene(said_scene(self.inspection.scene, p.style), LEFT, y, 1060, high, p.label, letters=24)
        for title, rows in beside:
            y += pen.words(_BESIDE, y, 750, title, 27, bold=True) + 6
            for row in rows:
                y += self._beside(pen, y, row)
            y += 12

    def _beside(self, pen: Pen, y: float, row: Row) -> float:
        used = pen.words(_BESIDE, y, 400, row[0], 22, colour=SOFT)
        return max(used, pen.words(_BESIDE + 380, y, 370, row[1], 23, bold=True, align="right")) + 3

    def _numbers(self, pen: Pen, high: float) -> tuple[list[tuple[str, list[Row]]], list[tuple[str, list[Row]]]]:
        """Groups of numbers that stand beside the picture, and those for which it is not high enough."""
        beside: list[tuple[str, list[Row]]] = []
        below: list[tuple[str, list[Row]]] = []
        left = high
        for group in self.inspection.groups:
            rows = []
            for key in group.rows:
                row = self.presenter.row(key)
                rows.append((row.label, f"{row.value} {row.unit}".strip() or "–"))
            tall = 60 + sum(max(pen.height(400, a, 22), pen.height(370, b, 23, bold=True)) + 3 for a, b in rows)
            (beside if tall <= left and not below else below).append((group.title, rows))
            left -= tall
        return beside, below

    def _verdict(self, pen: Pen, check: Check) -> Block:
        said, reason = check_text(check, self.presenter.style), check.reason

        def draw(pen: Pen, y: float) -> None:
            pen.words(LEFT, y, 520, f"{check.verdict.sign} {check.verdict.value}   {check.label}", 22, bold=True)
            pen.words(LEFT + 530, y, 330, said, 22, align="right")
            pen.words(LEFT + 890, y, WIDTH - 890, reason, 20, colour=SOFT)

        tall = max(
            30.0,
            pen.height(520, f"{check.verdict.sign} {check.verdict.value}   {check.label}", 22, bold=True),
            pen.height(330, said, 22),
            pen.height(WIDTH - 890, reason, 20),
        )
        return Block(tall + 6, draw)


#: Where the numbers beside the picture begin.
_BESIDE: Final = LEFT + 1110.0


def _reading(*pair: tuple[str, str, str] | None) -> Callable[[Pen, float], None]:
    def draw(pen: Pen, y: float) -> None:
        wide = WIDTH / 2 - 20
        for column, line in enumerate(pair):
            if line is None:
                continue
            place, values, tool = line
            x = LEFT + column * (wide + 40)
            pen.words(x, y, 330, place, 20 if pen.fits(330, place, 20) else 14, colour=SOFT)
            pen.words(x + 335, y, 400, values, 20 if pen.fits(400, values, 20) else 15, bold=True)
            pen.words(x + 740, y, wide - 740, tool, 17 if pen.fits(wide - 740, tool, 17) else 12, colour=SOFT, align="right")
            pen.line(x, y + _LINE - 6, x + wide, y + _LINE - 6, 1)

    return draw


def _signed(pen: Pen, y: float) -> None:
    pen.words(LEFT, y + 40, 900, "Looked at by", 23, colour=SOFT)
    pen.line(LEFT + 190, y + 80, LEFT + 900, y + 80, 1)
    pen.words(LEFT + 960, y + 40, 300, "on", 23, colour=SOFT)
    pen.line(LEFT + 1020, y + 80, LEFT + WIDTH, y + 80, 1)


def inspection_sheet(presenter: InspectPresenter) -> InspectionSheet:
    """The pages of an inspection that works out."""
    assert presenter.inspection is not None
    return InspectionSheet(
        name=file_name(presenter.doc.title, "inspection sheet"), presenter=presenter, inspection=presenter.inspection
    )
