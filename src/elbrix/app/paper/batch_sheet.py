"""The batch sheet: bars to scale, what is sawn off them, the setups of all accessories in order with boxes, one kit."""

from __future__ import annotations

from functools import partial
from typing import Final

from elbrix.app.paper.pages import INK, LEFT, SOFT, WIDTH, Block, FlowedPages, Pen
from elbrix.presenters.batch import BatchPresenter
from elbrix.presenters.card import Row, Section
from elbrix.quantities.lengths import UnitStyle

#: Heights of the picture: the least, and for each bar.
_PICTURE, _FOR_EACH = 420.0, 150.0
#: Width of a row's first words, and of its box.
_FIRST, _BOX = 760.0, 60.0
_LETTERS: Final = 26.0


class BatchSheet(FlowedPages, kw_only=True):
    """A4 upright, as many pages as it takes."""

    title: str
    subtitle: str
    presenter: BatchPresenter
    style: UnitStyle

    def _style(self) -> UnitStyle:
        return self.style

    def _head(self) -> tuple[str, str, str]:
        return self.title, self.subtitle, "Batch sheet"

    def _blocks(self, pen: Pen) -> list[Block]:
        blocks: list[Block] = []
        bars = len(self.presenter.batch.layout.bars)
        if bars:
            tall = _PICTURE + _FOR_EACH * max(0, bars - 2)
            blocks.append(Block(tall + 70, lambda p, y: self._picture(p, y + 40, tall)))
        for tile in self.presenter.tiles():
            text = f"{tile.sign}  {tile.label}: {tile.reason}"
            blocks.append(Block(pen.height(WIDTH, text, _LETTERS) + 10, partial(self._line, text=text)))
        for section in self.presenter.card().sections:
            boxed = section.title != "Kit"
            blocks.append(Block(92, partial(self._section, section=section), heading=True))
            for row in section.rows:
                high = max(pen.height(_FIRST, row.label, _LETTERS), pen.height(self._second, self._said(row), _LETTERS)) + 14
                blocks.append(Block(high, partial(self._row, row=row, high=high, boxed=boxed)))
        return blocks

    @property
    def _second(self) -> float:
        return WIDTH - _BOX - _FIRST - 20

    @staticmethod
    def _said(row: Row) -> str:
        words = f"{row.value} {row.unit}".strip()
        return f"{words}   {row.derivation}" if row.derivation and row.key.startswith("cut ") else words

    def _picture(self, pen: Pen, y: float, high: float) -> None:
        view = self.presenter.plate()
        pen.scene(view.scene, LEFT, y, WIDTH, high, view.label, letters=26, stroke=2.2)

    def _line(self, pen: Pen, y: float, text: str) -> None:
        pen.words(LEFT, y, WIDTH, text, _LETTERS)

    def _section(self, pen: Pen, y: float, section: Section) -> None:
        pen.words(LEFT, y + 30, WIDTH, section.title, 32, bold=True, colour=INK)
        if section.hint:
            pen.words(LEFT + _FIRST + _BOX, y + 34, self._second, section.hint, 24, italic=True, colour=SOFT)
        pen.line(LEFT, y + 78, LEFT + WIDTH, y + 78, 2)

    def _row(self, pen: Pen, y: float, row: Row, high: float, *, boxed: bool) -> None:
        if boxed:
            pen.box(LEFT + 4, y + 5, 26, 26, 2)
        pen.words(LEFT + _BOX, y, _FIRST, row.label, _LETTERS)
        pen.words(LEFT + _BOX + _FIRST + 20, y, self._second, self._said(row), _LETTERS)
        pen.line(LEFT, y + high - 6, LEFT + WIDTH, y + high - 6, 1)


def batch_sheet(presenter: BatchPresenter, on: str = "") -> BatchSheet:
    """The pages of a batch."""
    return BatchSheet(
        name="batch sheet",
        title=presenter.title(),
        subtitle=presenter.subtitle() + (f"   ·   {on}" if on else ""),
        presenter=presenter,
        style=presenter.style,
    )
