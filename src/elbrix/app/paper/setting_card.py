"""The setting card: what to set, the wring list with tick boxes, how well it will be, what to mind.

One page to take to the machine.
"""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.angles.setup import AngleSetup
from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.words import check_text
from elbrix.results.length_text import said_in


class SettingCard(Struct, kw_only=True):
    """A4 upright, one page."""

    name: str
    presenter: AnglesPresenter
    setting: AngleSetup
    size_mm: tuple[float, float] = (210, 297)

    @property
    def count(self) -> int:
        return 1

    @property
    def title(self) -> str:
        return self.presenter.doc.title

    def paint(self, painter: QPainter, index: int) -> None:
        pen, p = Pen(painter, self.presenter.style), self.presenter
        page_head(pen, p.doc.title, p.subtitle(), "Setting card", p.style)
        pen.scene(self.setting.scenes[0], LEFT, 230, 1060, 760, p.label, p.value, letters=24)
        y = self._numbers(pen, LEFT + 1110, 240)
        y = self._steps(pen, max(y, 1010) + 20)
        y = self._table(pen, y)
        y = self._proof(pen, y + 10)
        for caution in self.setting.cautions:
            y += pen.words(LEFT, y + 10, WIDTH, f"▲ {caution}", 25, colour=ACCENT) + 6
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _numbers(self, pen: Pen, x: float, y: float) -> float:
        for group in self.setting.groups:
            pen.words(x, y, 750, group.title, 28, bold=True)
            y += 40
            for key in group.rows:
                row = self.presenter.row(key)
                used = pen.words(x, y, 400, row.label, 23, colour=SOFT)
                more = pen.words(
                    x + 390,
                    y,
                    360,
                    (f"{row.value}{row.unit}" if row.unit in ("″", "′") else f"{row.value} {row.unit}").strip() or "–",
                    24,
                    bold=True,
                    align="right",
                )
                y += max(used, more) + 3
            y += 12
        return y

    def _steps(self, pen: Pen, y: float) -> float:
        pen.words(LEFT, y, 900, "Wringing order" if self.setting.stacks else "Steps", 34, bold=True)
        y += 52
        for number, step in enumerate(self.setting.steps, 1):
            words, running, care = (said_in(text, self.presenter.style) for text in (step.words, step.running, step.care))
            pen.box(LEFT, y + 4, 26, 26, 2)
            used = pen.words(LEFT + 50, y, 1350, f"{number}   {words}", 27)
            if running:
                pen.words(LEFT + 1420, y, 440, running, 30, bold=True, align="right")
            if care:
                used += pen.words(LEFT + 92, y + used, 1300, care, 22, colour=SOFT)
            y += used + 12
            pen.line(LEFT, y - 6, LEFT + WIDTH, y - 6, 1)
        return y

    def _table(self, pen: Pen, y: float) -> float:
        table = self.setting.table
        if table is None:
            return y
        pen.words(LEFT, y + 8, 900, table.title, 30, bold=True)
        y += 52
        wide = WIDTH / len(table.header)
        room = max(1, int((2560 - y) // 34) - 1)
        for cells in (table.header, *table.rows[:room]):
            for i, cell in enumerate(cells):
                pen.words(LEFT + i * wide, y, wide - 10, cell, 23, bold=cells is table.header)
            y += 34
        if len(table.rows) > room:
            pen.words(LEFT, y, WIDTH, f"and {len(table.rows) - room} more: copy the table from the card", 22, colour=SOFT)
            y += 30
        return y

    def _proof(self, pen: Pen, y: float) -> float:
        pen.words(LEFT, y, 900, "How well", 30, bold=True)
        y += 46
        half = (len(self.setting.checks) + 1) // 2
        for i, check in enumerate(self.setting.checks):
            column, row = divmod(i, half)
            x, at = LEFT + column * 950, y + row * 34
            pen.words(x, at, 600, f"{check.verdict.sign}  {check.label}", 23)
            pen.words(x + 600, at, 260, check_text(check, self.presenter.style), 23, bold=True, align="right")
        return y + half * 34


def setting_card(presenter: AnglesPresenter) -> SettingCard:
    """The page of a setting that solves."""
    assert presenter.setting is not None
    return SettingCard(name=file_name(presenter.doc.title, "setting card"), presenter=presenter, setting=presenter.setting)
