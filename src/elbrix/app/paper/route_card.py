"""The route card: stock, kit, setups with pictures, moves with numbers, tick boxes and blanks for what is measured."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct, field
from PyQt6.QtGui import QImage, QPainter

from elbrix.app.paper.pages import ACCENT, DISCLAIMER, LEFT, SOFT, WIDTH, Pen, page_head
from elbrix.drawing.scene import Dimension, Scene, without_words
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.planner import position_working
from elbrix.quantities.lengths import UnitStyle

_TOP, _BOTTOM = 230.0, 2790.0
Painter = Callable[[Pen, float], None]


class RouteCard(Struct, kw_only=True):
    """A4 upright, as many pages as it takes. Blocks are measured first and never split over a page."""

    name: str
    title: str
    subtitle: str
    plan: Plan
    scene: Scene
    label: Callable[[Dimension], str]
    value: Callable[[str], str]
    style: UnitStyle
    done: frozenset[str] = frozenset()
    measured: dict[str, float] = field(default_factory=dict)
    size_mm: tuple[float, float] = (210, 297)
    _pages: list[list[tuple[float, Painter]]] = field(default_factory=list)

    @property
    def count(self) -> int:
        return len(self._layout())

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter)
        page_head(pen, self.title, self.subtitle, f"Route card   {index + 1}/{self.count}", self.style)
        for y, draw in self._layout()[index]:
            draw(pen, y)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _layout(self) -> list[list[tuple[float, Painter]]]:
        if self._pages:
            return self._pages
        image = QImage(8, 8, QImage.Format.Format_RGB32)
        measuring = QPainter(image)
        pen = Pen(measuring)
        y = _TOP
        page: list[tuple[float, Painter]] = []
        for height, draw, keep in self._blocks(pen):
            if y + height + keep > _BOTTOM and page:
                self._pages.append(page)
                page, y = [], _TOP
            page.append((y, draw))
            y += height
        self._pages.append(page)
        measuring.end()
        return self._pages

    def _blocks(self, pen: Pen) -> list[tuple[float, Painter, float]]:
        """(height, painter, room it wants to keep with what follows)."""
        blocks: list[tuple[float, Painter, float]] = [(640, self._first, 0)]
        for words in (*self.plan.problems, *self.plan.assumed):
            h = pen.height(WIDTH - 60, words, 26) + 14
            blocks.append((h, lambda p, y, w=words: self._remark(p, y, w), 0))  # type: ignore[misc]
        for setup in self.plan.setups:
            blocks.append((330, lambda p, y, s=setup: self._setup(p, y, s), 200))  # type: ignore[misc]
            for operation in setup.operations:
                blocks.append((64, lambda p, y, o=operation: self._operation(p, y, o), 100))  # type: ignore[misc]
                for move in operation.moves:
                    blocks.append((self._move_height(pen, move), lambda p, y, m=move: self._move(p, y, m), 0))  # type: ignore[misc]
        return blocks

    def _first(self, pen: Pen, y: float) -> None:
        pen.scene(without_words(self.scene), LEFT, y, 900, 600, self.label, self.value, letters=24)
        x = LEFT + 940
        bar = self.plan.bar
        pen.words(x, y + 10, 900, "Stock", 32, bold=True)
        text = (
            f"{bar.bar.title}, {bar.bar.rack}. Cut {self.style.with_unit(self.plan.cut_length.value, 'mm', 0.5)}: {bar.reason}."
            if bar
            else f"Nothing on the rack does. Buy {self.plan.stock.buy}."
        )
        used = pen.words(x, y + 56, 900, text, 26)
        derivation = self.plan.cut_length.derivation
        if derivation:
            used += pen.words(x, y + 62 + used, 900, f"{derivation.formula} = {derivation.with_numbers} mm", 22, colour=SOFT) + 6
        at = y + 80 + used
        pen.words(x, at, 900, "Lay out first", 32, bold=True)
        at += 46
        half = (len(self.plan.kit) + 1) // 2
        for i, item in enumerate(self.plan.kit):
            column, row = divmod(i, half)
            pen.box(x + column * 460, at + row * 40 + 4, 24, 24, 2)
            missing = "" if item.owned else "  (missing)"
            pen.words(x + 36 + column * 460, at + row * 40, 420, (item.words + missing)[:38], 22, bold=not item.owned)

    def _remark(self, pen: Pen, y: float, words: str) -> None:
        pen.words(LEFT, y, 40, "▲", 24, colour=ACCENT)
        pen.words(LEFT + 40, y, WIDTH - 60, words, 26)

    def _setup(self, pen: Pen, y: float, setup: Setup) -> None:
        pen.line(LEFT, y + 14, LEFT + WIDTH, y + 14, 3, ACCENT)
        number = self.plan.setups.index(setup) + 1
        pen.words(LEFT, y + 30, 1300, f"{number}   {setup.title}", 38, bold=True)
        at = y + 86
        at += pen.words(LEFT, at, 1300, f"Hold: {setup.holding}.", 26) + 6
        at += pen.words(LEFT, at, 1300, f"Datum: {setup.datum}.", 26) + 6
        for caution in setup.cautions:
            at += pen.words(LEFT, at, 1300, f"▲ {caution}", 24, colour=ACCENT) + 4
        scene = setup.picture()
        if scene is not None:
            pen.scene(scene, LEFT + 1330, y + 24, 530, 290, self.label, letters=18, stroke=1.6)

    def _operation(self, pen: Pen, y: float, operation: Operation) -> None:
        speed = ""
        if operation.speed:
            speed = f"   {operation.speed.rpm} rpm, feed {operation.speed.feed_mm_min:.0f} mm/min"
            if operation.speed.seconds_per_turn:
                speed += f", {operation.speed.seconds_per_turn:.1f} s a turn by hand"
        pen.words(LEFT, y + 14, 700, operation.title, 30, bold=True)
        pen.words(LEFT + 560, y + 17, 1300, f"{operation.tool}{speed}", 26, colour=SOFT)
        pen.line(LEFT, y + 56, LEFT + WIDTH, y + 56, 1)

    def _small(self, move: Move) -> str:
        parts = []
        for p in move.positions:
            if len(p.terms) > 1:
                derivation = position_working(p)
                parts.append(f"{p.axis}: {derivation.formula} = {derivation.with_numbers}")
            if p.dial.approach:
                parts.append(f"{p.axis}: {p.dial.approach}")
        if move.lock:
            parts.append(f"lock {move.lock}")
        if move.direction:
            parts.append(move.direction)
        return "; ".join(parts)

    def _numbers(self, move: Move) -> str:
        return "     ".join(f"{p.axis}  {p.dial.text}" for p in move.positions)

    def _move_height(self, pen: Pen, move: Move) -> float:
        wide = 1000 if move.positions else 1780
        h = pen.height(wide, move.words, 27)
        small = self._small(move)
        if small:
            h += pen.height(1780, small, 21) + 2
        if move.caution:
            h += pen.height(1780, move.caution, 24) + 2
        if move.asked:
            h += 52
        return max(h, 44) + 16

    def _move(self, pen: Pen, y: float, move: Move) -> None:
        pen.box(LEFT, y + 10, 30, 30, 3)
        if move.id in self.done:
            pen.line(LEFT + 5, y + 25, LEFT + 13, y + 35, 5, ACCENT)
            pen.line(LEFT + 13, y + 35, LEFT + 27, y + 13, 5, ACCENT)
        x = LEFT + 56
        at = y + 6
        at += pen.words(x, at, 1000 if move.positions else 1780, move.words, 27)
        if move.positions:
            pen.words(x + 1020, y + 2, 780, self._numbers(move), 36, bold=True, align="right")
        small = self._small(move)
        if small:
            at += pen.words(x, at + 2, 1780, small, 21, colour=SOFT) + 2
        if move.caution:
            at += pen.words(x, at + 2, 1780, f"▲ {move.caution}", 24, colour=ACCENT) + 2
        if move.asked:
            expected = self.style.with_unit(move.asked.expected_mm, "mm")
            typed = self.measured.get(move.asked.key)
            pen.words(x, at + 12, 1300, f"Measure {move.asked.words}: {expected}", 26, italic=True)
            pen.box(x + 1420, at + 6, 360, 40, 2)
            if typed is not None:
                pen.words(x + 1440, at + 10, 320, self.style.with_unit(typed, "mm"), 28)
        pen.line(LEFT, y + self._move_height(pen, move) - 4, LEFT + WIDTH, y + self._move_height(pen, move) - 4, 1)
