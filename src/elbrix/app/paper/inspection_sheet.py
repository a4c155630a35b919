"""The inspection sheet: what was looked at, every reading with its tool, what was found, what to do."""

from __future__ import annotations

from typing import Final

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head
from elbrix.inspecting.inspection import Inspection
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.words import check_text, said_scene
from elbrix.results.length_text import said_in

#: Lines of readings on the first page, and on each one after it; two columns.
_FIRST, _LATER = 12, 62
_LINE: Final = 38.0
#: Of found numbers and of verdicts so many stand on the first page; the lowest a line of it may begin.
_MOST_FOUND, _MOST_CHECKS, _FLOOR = 16, 8, 2660.0


class InspectionSheet(Struct, kw_only=True):
    """A4 upright."""

    name: str
    presenter: InspectPresenter
    inspection: Inspection
    size_mm: tuple[float, float] = (210, 297)

    @property
    def title(self) -> str:
        return self.presenter.doc.title

    @property
    def _lines(self) -> list[tuple[str, str, str]]:
        """(place, readings, tool) of every place."""
        return self.presenter.reading_lines()

    @property
    def count(self) -> int:
        left = max(0, len(self._lines) - 2 * _FIRST)
        return 1 + -(-left // (2 * _LATER))

    def paint(self, painter: QPainter, index: int) -> None:
        pen, p = Pen(painter, self.presenter.style), self.presenter
        page_head(pen, p.doc.title, p.subtitle(), "Inspection sheet", p.style)
        if index == 0:
            self._first(pen)
        else:
            start = 2 * _FIRST + (index - 1) * 2 * _LATER
            self._readings(pen, 240, self._lines[start : start + 2 * _LATER], _LATER)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, 1500, DISCLAIMER, 21, colour=SOFT)
        pen.words(LEFT + 1500, 2830, WIDTH - 1500, f"{index + 1} of {self.count}", 21, colour=SOFT, align="right")

    def _first(self, pen: Pen) -> None:
        p = self.presenter
        high = 1000.0 if len(self._lines) <= 8 and len(self.inspection.steps) < 5 else 700.0
        pen.scene(said_scene(self.inspection.scene, p.style), LEFT, 230, 1060, high, p.label, letters=24)
        y = self._numbers(pen, LEFT + 1110, 240)
        y = max(y, 250.0 + high) + 10
        y = self._readings(pen, y, self._lines[: 2 * _FIRST], _FIRST)
        y = self._proof(pen, y + 14)
        for number, step in enumerate(self.inspection.steps, 1):
            if y > _FLOOR - 130:
                y += (
                    pen.words(LEFT + 46, y, WIDTH - 60, f"and {len(self.inspection.steps) - number + 1} more on the screen", 23)
                    + 6
                )
                break
            pen.box(LEFT, y + 4, 24, 24, 2)
            y += pen.words(LEFT + 46, y, WIDTH - 60, f"{number}   {said_in(step, p.style)}", 25) + 10
        for caution in self.inspection.cautions:
            if y > _FLOOR:
                break
            y += pen.words(LEFT, y + 4, WIDTH, f"▲ {said_in(caution, p.style)}", 23, colour=ACCENT) + 6
        pen.words(LEFT, 2735, 900, "Looked at by", 23, colour=SOFT)
        pen.line(LEFT + 190, 2775, LEFT + 900, 2775, 1)
        pen.words(LEFT + 960, 2735, 300, "on", 23, colour=SOFT)
        pen.line(LEFT + 1020, 2775, LEFT + WIDTH, 2775, 1)

    def _numbers(self, pen: Pen, x: float, y: float) -> float:
        for group in self.inspection.groups:
            y += pen.words(x, y, 750, group.title, 27, bold=True) + 6
            shown = group.rows[:_MOST_FOUND] if len(group.rows) > _MOST_FOUND + 1 else group.rows
            for key in shown:
                row = self.presenter.row(key)
                used = pen.words(x, y, 400, row.label, 22, colour=SOFT)
                more = pen.words(x + 380, y, 370, f"{row.value} {row.unit}".strip() or "–", 23, bold=True, align="right")
                y += max(used, more) + 3
            if len(shown) < len(group.rows):
                y += pen.words(x, y, 750, f"and {len(group.rows) - len(shown)} more on the screen", 22, colour=SOFT) + 3
            y += 12
        return y

    def _readings(self, pen: Pen, y: float, lines: list[tuple[str, str, str]], rows: int) -> float:
        if not lines:
            return y
        pen.words(LEFT, y, 900, "Readings", 28, bold=True)
        y += 46
        half, wide = min(rows, -(-len(lines) // 2)), WIDTH / 2 - 20
        for i, (place, values, tool) in enumerate(lines):
            column, row = divmod(i, half)
            x, at = LEFT + column * (wide + 40), y + row * _LINE
            pen.words(x, at, 330, place if pen.fits(330, place, 20) else place[:27] + "…", 20, colour=SOFT)
            pen.words(x + 335, at, 400, values, 20 if pen.fits(400, values, 20) else 15, bold=True)
            pen.words(x + 740, at, wide - 740, tool, 17 if pen.fits(wide - 740, tool, 17) else 12, colour=SOFT, align="right")
            pen.line(x, at + _LINE - 6, x + wide, at + _LINE - 6, 1)
        return y + half * _LINE + 8

    def _proof(self, pen: Pen, y: float) -> float:
        checks = self.inspection.checks
        if not checks:
            return y
        pen.words(LEFT, y, 900, "Verdict", 28, bold=True)
        y += 44
        ranked = sorted(checks, key=lambda c: -c.verdict.rank)
        for check in ranked[:_MOST_CHECKS]:
            pen.words(LEFT, y, 520, f"{check.verdict.sign} {check.verdict.value}   {check.label}", 22, bold=True)
            pen.words(LEFT + 530, y, 330, check_text(check, self.presenter.style), 22, align="right")
            y += (
                max(30.0, pen.words(LEFT + 890, y, WIDTH - 890, said_in(check.reason, self.presenter.style), 20, colour=SOFT)) + 6
            )
        if len(checks) > _MOST_CHECKS:
            y += pen.words(LEFT, y, 900, f"and {len(checks) - _MOST_CHECKS} that are no worse", 22, colour=SOFT) + 6
        return y + 8


def inspection_sheet(presenter: InspectPresenter) -> InspectionSheet:
    """The pages of an inspection that works out."""
    assert presenter.inspection is not None
    return InspectionSheet(
        name=file_name(presenter.doc.title, "inspection sheet"), presenter=presenter, inspection=presenter.inspection
    )
