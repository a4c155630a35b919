"""The setting card of a layout: both pictures, the torques in order, the margin with what it assumes, what to mind. One page."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtGui import QPainter

from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head
from elbrix.holding.solve import LayoutResult
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.words import check_text
from elbrix.quantities.sentences import sentence

_LAST = 2790.0


class LayoutCard(Struct, kw_only=True):
    """A4 upright, one page."""

    name: str
    presenter: HoldPresenter
    hold: LayoutResult
    size_mm: tuple[float, float] = (210, 297)

    @property
    def count(self) -> int:
        return 1

    @property
    def title(self) -> str:
        return self.presenter.doc.title

    def paint(self, painter: QPainter, index: int) -> None:
        pen, p = Pen(painter, self.presenter.style), self.presenter
        page_head(pen, p.doc.title, p.subtitle(), "Layout card", p.style)
        above, front = self.hold.scenes
        pen.scene(above, LEFT, 230, WIDTH, 880, p.label, p.value, letters=24)
        pen.scene(front, LEFT, 1130, WIDTH, 360, p.label, p.value, letters=24)
        y = max(self._order(pen, 1520), self._numbers(pen, 1520))
        y = self._proof(pen, y + 12)
        for caution in self.hold.cautions:
            y += pen.words(LEFT, y + 8, WIDTH, f"▲ {caution}", 24, colour=ACCENT) + 6
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _order(self, pen: Pen, y: float) -> float:
        """Tightening, each with a box to tick."""
        pen.words(LEFT, y, 900, "In this order", 28, bold=True)
        y += 44
        for words in self.hold.tighten:
            pen.words(LEFT, y, 40, "□", 26)
            y += pen.words(LEFT + 44, y, 860, words, 24) + 8
        for words in self.hold.swaps:
            pen.words(LEFT, y, 40, "□", 26)
            y += pen.words(LEFT + 44, y, 860, words, 22) + 6
        return y

    def _numbers(self, pen: Pen, y: float) -> float:
        """Where each thing stands."""
        x = LEFT + 960
        for number, (thing, values, placed) in enumerate(self.hold.elements):
            pen.words(x, y, 900, sentence(placed.name), 26, bold=True)
            y += 38
            for parameter in thing.parameters(self.presenter.shop, self.presenter.machine):
                if parameter.name in values:
                    row = self.presenter._row(f"{number}.{parameter.name}")
                    used = pen.words(x, y, 480, row.label, 21, colour=SOFT)
                    more = pen.words(x + 470, y, 430, f"{row.value} {row.unit}".strip() or "–", 22, bold=True, align="right")
                    y += max(used, more) + 1
            y += 8
        return y

    def _proof(self, pen: Pen, y: float) -> float:
        pen.words(LEFT, y, 900, "Checks", 28, bold=True)
        y += 40
        checks = [c for c in self.hold.checks if c.verdict.rank > 0 or c.key in ("margin", "reach", "located")]
        for check in sorted(checks, key=lambda c: -c.verdict.rank):
            if y > _LAST - 120:
                pen.words(LEFT, y, WIDTH, "More on the screen.", 22, colour=SOFT)
                return y + 30
            words = f"{check.verdict.sign} {check.label}: {check_text(check, self.presenter.style)}; {check.reason}"
            y += pen.words(LEFT, y, WIDTH, words, 22) + 4
        return y


def layout_card(presenter: HoldPresenter) -> LayoutCard:
    """The page of a solved layout."""
    assert presenter.hold is not None
    return LayoutCard(name=file_name(presenter.doc.title, "setting card"), presenter=presenter, hold=presenter.hold)
