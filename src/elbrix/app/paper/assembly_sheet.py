"""The assembly sheet: the accessory in place with its parts numbered, the parts list, and what is done by hand, in order."""

from __future__ import annotations

from typing import Final

from msgspec import Struct
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from elbrix.app.paper.documents import file_name
from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head, text_height
from elbrix.app.plate.painter import View
from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.book.parts import PartLine, parts_list
from elbrix.design.work import HandOperation
from elbrix.drawing.scene import Path, Point, Scene, Style, without_words
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.results.length_text import said_in
from elbrix.shop.shop import Shop

#: The picture on the first page, and where its balloons stand; tenths of a millimetre.
_TOP: Final = 240.0
_PICTURE_W, _PICTURE_H = 1500.0, 820.0
_BALLOON_X: Final = LEFT + 1720.0
_RADIUS: Final = 34.0
_LAST: Final = 2780.0


class NumberedPart(Struct, frozen=True):
    """One numbered part: 1 is the accessory's own piece."""

    number: int
    count: int
    words: str
    there: str  #: "made for it", "6 in Shop", "buy it"
    feature: str


class HandStep(Struct, frozen=True):
    """Something done when it is put together."""

    title: str
    words: str
    caution: str
    check: str = ""


class AssemblySheet(Struct, frozen=True, kw_only=True):
    """A4 upright."""

    name: str
    title: str
    subtitle: str
    scene: Scene
    lines: tuple[NumberedPart, ...]
    steps: tuple[HandStep, ...]
    style: UnitStyle
    size_mm: tuple[float, float] = (210, 297)

    @property
    def count(self) -> int:
        return len(self._flowed())

    def _flowed(self) -> list[list[HandStep]]:
        """The steps by page: what the first has no room for goes on."""
        pages: list[list[HandStep]] = [[]]
        y = self._list_bottom() + 60
        for step in self.steps:
            tall = _tall(step)
            if y + tall > _LAST and pages[-1]:
                pages.append([])
                y = _TOP
            pages[-1].append(step)
            y += tall
        return pages

    def _list_bottom(self) -> float:
        y = _TOP + _PICTURE_H + 70
        return y + sum(max(40.0, text_height(1080, line.words, 24)) + 8 for line in self.lines) + 30

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, self.style)
        pages = self._flowed()
        page_head(pen, self.title, self.subtitle, f"Assembly {index + 1}/{len(pages)}", self.style)
        y = _TOP
        if index == 0:
            bare = Scene(self.scene.name, elements=without_words(self.scene).elements)
            view = pen.scene(bare, LEFT, _TOP, _PICTURE_W, _PICTURE_H, lambda d: "", letters=1)
            self._balloons(pen, view)
            y = self._list(pen)
        number = sum(len(p) for p in pages[:index])
        for step in pages[index]:
            number += 1
            y += self._step(pen, number, step, y)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _balloons(self, pen: Pen, view: View) -> None:
        """Numbers in a column at the right, each with a line to its part; in the order the parts lie, so that no lines cross."""
        shown = [(line, at) for line in self.lines if (at := middle_of(self.scene, line.feature)) is not None]
        if shown and any(_near(at, shown[0][1]) for _, at in shown[1:]):
            # What lies in its middle hides it there: the piece itself is pointed at beside that.
            aside = middle_of(self.scene, shown[0][0].feature, 0.2)
            assert aside is not None
            shown[0] = (shown[0][0], aside)
        there = sorted(((line, view.px(at)) for line, at in shown), key=lambda pair: pair[1].y())
        step = _PICTURE_H / max(1, len(there))
        for n, (line, point) in enumerate(there):
            y = _TOP + step * (n + 0.5)
            end = QPointF(_BALLOON_X - _RADIUS, y)
            pen.line(point.x(), point.y(), end.x(), end.y(), 1.8, SOFT)
            pen.circle(point.x(), point.y(), 5, 3, ACCENT)
            pen.circle(_BALLOON_X, y, _RADIUS)
            pen.words(_BALLOON_X - _RADIUS, y - 20, 2 * _RADIUS, str(line.number), 30, bold=True, align="centre")

    def _list(self, pen: Pen) -> float:
        y = _TOP + _PICTURE_H + 20
        for x, words in ((LEFT, "no."), (LEFT + 110, "for one"), (LEFT + 260, "part"), (LEFT + 1400, "where from")):
            pen.words(x, y, 400, words, 22, colour=SOFT)
        y += 50
        for line in self.lines:
            pen.words(LEFT, y, 100, str(line.number), 26, bold=True)
            pen.words(LEFT + 110, y, 140, f"{line.count} ×", 24)
            used = pen.words(LEFT + 260, y, 1080, line.words, 24)
            pen.words(LEFT + 1400, y, 460, line.there, 24, colour=SOFT)
            y += max(40.0, used) + 8
        pen.line(LEFT, y, LEFT + WIDTH, y, 1)
        return y + 30

    @staticmethod
    def _step(pen: Pen, number: int, step: HandStep, y: float) -> float:
        begun = y
        pen.words(LEFT, y, 50, "□", 30)
        y += pen.words(LEFT + 60, y, 1780, f"{number}   {step.title}", 28, bold=True) + 2
        y += pen.words(LEFT + 60, y, 1780, step.words, 25) + 2
        if step.check:
            pen.words(LEFT, y, 50, "□", 30)
            y += pen.words(LEFT + 60, y, 1780, f"Check: {step.check}", 25, bold=True) + 2
        if step.caution:
            y += pen.words(LEFT + 60, y, 1780, f"▲ {step.caution}", 24, colour=ACCENT)
        return y - begun + 22


def _tall(step: HandStep) -> float:
    tall = text_height(1780, f"1   {step.title}", 28, bold=True) + text_height(1780, step.words, 25) + 4
    tall += text_height(1780, f"Check: {step.check}", 25, bold=True) + 2 if step.check else 0.0
    return tall + (text_height(1780, f"▲ {step.caution}", 24) if step.caution else 0.0) + 22


def _near(a: Point, b: Point) -> bool:
    return abs(a[0] - b[0]) + abs(a[1] - b[1]) < 4.0


def middle_of(scene: Scene, feature: str, share: float = 0.5) -> Point | None:
    """Where a feature is pointed at: the middle of the largest of its shapes; None where the picture does not show it.

    Args:
        share: Where along it from the left.
    """
    if not feature:
        return None
    boxes = [Scene("", elements=(e,)).bounds() for e in scene.elements if e.feature == feature and type(e).__name__ != "Note"]
    if not boxes:
        return None
    left, bottom, right, top = max(boxes, key=lambda b: (b[2] - b[0]) * (b[3] - b[1]))
    return (left + share * (right - left), (bottom + top) / 2)


def _body_of(scene: Scene, others: set[str]) -> str:
    """The feature of the piece itself: the largest of what is drawn as made and is no other part's; "" where nothing is."""
    drawn = [e for e in scene.elements if isinstance(e, Path) and e.style is Style.BODY and e.feature and e.feature not in others]

    def area(shape: Path) -> float:
        left, bottom, right, top = Scene("", elements=(shape,)).bounds()
        return (right - left) * (top - bottom)

    return max(drawn, key=area).feature if drawn else ""


def _where_from(line: PartLine) -> str:
    if line.part.made:
        return "made for it"
    if line.owned is None:
        return "bought"
    return f"{line.owned} in Shop" + (", too few" if line.owned < line.part.count else "")


def assembly_sheet(doc: DesignDoc, shop: Shop, style: UnitStyle) -> AssemblySheet:
    """The sheet of a design that is put together from parts.

    Raises:
        ShopError: The design does not solve, or is a single piece.
    """
    family, design = family_of(doc), solve_doc(doc, shop)
    parts = parts_list(doc, shop)
    if not parts:
        raise ShopError("Assembly sheet", "it is a single piece", "There is nothing to put together", "Print its drawing")
    scene = family.scenes(design)[0]
    own = _body_of(scene, {line.part.feature for line in parts})
    lines = [NumberedPart(1, 1, doc.title, "made" if doc.made else "to be made", own)]
    lines += [
        NumberedPart(n, line.part.count, said_in(line.part.words, style), _where_from(line), line.part.feature)
        for n, line in enumerate(parts, 2)
    ]
    work = family.work(design, shop)
    steps = [
        HandStep(s.name, said_in(s.words, style), said_in(s.caution, style), said_in(s.check, style))
        for s in work.steps
        if isinstance(s, HandOperation)
    ]
    steps += [HandStep("Mind", said_in(note, style), "") for note in work.notes]
    return AssemblySheet(
        name=file_name(doc.title, "assembly"),
        title=doc.title,
        subtitle=f"{family.title}" + (f", revision {doc.letter}" if doc.letter else ", draft"),
        scene=scene,
        lines=tuple(lines),
        steps=tuple(steps),
        style=style,
    )
