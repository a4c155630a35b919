"""The card of a layout to take to the machine.

Both pictures, the order of tightening, where each thing stands, the cut it was worked out for, every check that is not plain go,
what to mind. As many pages as it takes: nothing of it is left for the screen.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import zip_longest

from elbrix.app.paper.blocks import Row, across, columns, heading, ticked
from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, LEFT, WIDTH, Block, FlowedPages, Pen
from elbrix.holding.solve import LayoutResult
from elbrix.parameters.parameter import Group
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.words import check_text
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.checks import Check

#: The pictures: above and front, their heights.
_ABOVE, _FRONT = 800.0, 320.0
#: Checks that are told even when they are go.
_ALWAYS = ("margin", "reach", "located")


class LayoutCard(FlowedPages, kw_only=True):
    """A4 upright, as many pages as it takes."""

    presenter: HoldPresenter
    hold: LayoutResult

    @property
    def title(self) -> str:
        return self.presenter.doc.title

    def _style(self) -> UnitStyle:
        return self.presenter.style

    def _head(self) -> tuple[str, str, str]:
        return self.title, self.presenter.subtitle(), "Layout card"

    def _blocks(self, pen: Pen) -> Iterator[Block]:
        yield Block(_ABOVE + _FRONT + 40, self._pictures)
        for caution in self.hold.cautions:
            yield across(pen, f"▲ {caution}", 24, ACCENT, 8)
        order = [*self.hold.tighten, *self.hold.swaps]
        if order:
            yield heading("In this order", gap=8)
            for words in order:
                yield ticked(pen, words)
        groups = [(g.title, self._rows(g)) for g in self.hold.groups if g.id in ("work", "cut") or g.id.startswith("element")]
        yield heading("What it was worked out for, and where each thing stands", gap=8)
        nothing: tuple[str, list[Row]] = ("", [])
        for left, right in zip_longest(groups[::2], groups[1::2], fillvalue=nothing):
            yield from columns(pen, left, right)
        checks = [c for c in self.hold.checks if c.verdict.rank > 0 or c.key in _ALWAYS]
        yield heading("Checks")
        for check in sorted(checks, key=lambda c: -c.verdict.rank):
            yield across(pen, self._said(check), 22)

    def _pictures(self, pen: Pen, y: float) -> None:
        p = self.presenter
        above, front = self.hold.scenes
        pen.scene(above, LEFT, y, WIDTH, _ABOVE, p.label, p.value, letters=24)
        pen.scene(front, LEFT, y + _ABOVE + 20, WIDTH, _FRONT, p.label, p.value, letters=24)

    def _rows(self, group: Group) -> list[Row]:
        """All of the work and the cut; of a thing its entries, since the checks say what follows from them."""
        found = []
        for key in group.rows:
            if group.id in ("work", "cut") or key in self.presenter.parameters:
                row = self.presenter.row(key)
                found.append((row.label, f"{row.value} {row.unit}".strip() or "–"))
        return found

    def _said(self, check: Check) -> str:
        return f"{check.verdict.sign} {check.label}: {check_text(check, self.presenter.style)}; {check.reason}"


def layout_card(presenter: HoldPresenter) -> LayoutCard:
    """The pages of a solved layout."""
    assert presenter.hold is not None
    return LayoutCard(name=file_name(presenter.doc.title, "setting card"), presenter=presenter, hold=presenter.hold)
