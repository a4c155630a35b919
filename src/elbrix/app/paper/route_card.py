"""The route card: stock, kit, setups with pictures, moves with numbers, tick boxes and blanks for what is measured."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec import Struct, field
from PyQt6.QtGui import QPainter

from elbrix.app.paper.pages import ACCENT, DISCLAIMER, INK, LEFT, SOFT, WIDTH, Block, Painting, Pen, flowed, page_head
from elbrix.drawing.scene import Dimension, Scene, without_words
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.making.planner import position_working
from elbrix.quantities.lengths import UnitStyle
from elbrix.rehearsal.pictures import setup_scene

#: Widths of the columns, tenths of a millimetre: words beside numbers, numbers, words alone, words beside a blank.
_WORDS, _NUMBERS, _ALL, _ASKED = 960.0, 820.0, 1800.0, 1400.0
#: Of the stock and kit column, of a setup's words beside its picture, of an operation's title and tool.
_KIT, _BESIDE, _OPERATION, _TOOL = 900.0, 1270.0, 600.0, 1220.0
_DIGITS = 38.0
_CM3_PER_IN3 = 16.387064


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
    tape: tuple[str, ...] = ()  #: what was worked out for the job, in lines
    size_mm: tuple[float, float] = (210, 297)
    _pages: list[list[tuple[float, Painting]]] = field(default_factory=list)

    @property
    def count(self) -> int:
        return len(self._layout())

    def paint(self, painter: QPainter, index: int) -> None:
        pen = Pen(painter, self.style)
        page_head(pen, self.title, self.subtitle, f"Route card   {index + 1}/{self.count}", self.style)
        for y, draw in self._layout()[index]:
            draw(pen, y)
        pen.line(LEFT, 2820, LEFT + WIDTH, 2820, 1)
        pen.words(LEFT, 2830, WIDTH, DISCLAIMER, 21, colour=SOFT)

    def _layout(self) -> list[list[tuple[float, Painting]]]:
        if not self._pages:
            self._pages = flowed(self._blocks, self.style)
        return self._pages

    def _worked_out(self, pen: Pen, y: float) -> None:
        pen.words(LEFT, y, WIDTH, "Worked out for this job", 28, bold=True)
        y += 46
        for line in self.tape:
            y += pen.words(LEFT, y, WIDTH, line, 24) + 6

    def _blocks(self, pen: Pen) -> list[Block]:
        blocks = [Block(max(640, self._kit_end(pen) + 30), self._first)]
        for words in (*self.plan.problems, *self.plan.assumed):
            h = pen.height(WIDTH - 60, words, 26) + 14
            blocks.append(Block(h, partial(self._remark, words=words)))
        if self.tape:
            high = 46 + sum(pen.height(WIDTH, line, 24) + 6 for line in self.tape)
            blocks.append(Block(high + 14, self._worked_out))
        for setup in self.plan.setups:
            blocks.append(Block(self._setup_height(pen, setup), partial(self._setup, setup=setup), heading=True))
            for operation in setup.operations:
                tall = self._operation_height(pen, operation)
                blocks.append(Block(tall, partial(self._operation, operation=operation), heading=True))
                for move in operation.moves:
                    high = self._move_height(pen, move)
                    blocks.append(Block(high, partial(self._move, move=move)))
        return blocks

    @property
    def _stock_words(self) -> list[tuple[str, float, str]]:
        """(text, letters, colour) of the stock column."""
        bar = self.plan.bar
        if self.plan.there:
            return [(f"Made on {self.plan.there}: nothing is cut from a bar.", 28.0, INK)]
        cut = self.style.with_unit(self.plan.cut_length.value, "mm", 0.5)
        found = [(f"{bar.bar.title}, {bar.bar.rack}" if bar else f"Nothing in stock does. Buy {self.plan.stock.buy}.", 28.0, INK)]
        if bar:
            left = self.style.with_unit(bar.left_mm, "mm", 0.5)
            chips = bar.removed_cm3 if self.style.length == "mm" else bar.removed_cm3 / _CM3_PER_IN3
            unit = "cm³" if self.style.length == "mm" else "in³"
            found.append((f"Cut {cut}; {left} of bar remain; {chips:.3g} {unit} of chips", 28.0, INK))
            if bar.bar.guessed:
                found.append((f"Material guessed by {bar.bar.guessed}", 28.0, INK))
        derivation = self.plan.cut_length.derivation
        if derivation:
            found.append((f"{derivation.formula} = {derivation.with_numbers} mm", 24.0, SOFT))
        return found

    def _kit_end(self, pen: Pen) -> float:
        """Where the column of stock and kit ends, from its top."""
        at = 60 + sum(pen.height(_KIT, text, size) + 8 for text, size, _ in self._stock_words) + 76
        return at + sum(h for h, _ in self._kit_rows(pen))

    def _kit_rows(self, pen: Pen) -> list[tuple[float, str]]:
        found = []
        for item in self.plan.kit:
            text = item.words + ("" if item.owned else "  (missing)")
            found.append((pen.height(_KIT - 40, text, 26, bold=not item.owned) + 8, text))
        return found

    def _first(self, pen: Pen, y: float) -> None:
        pen.scene(without_words(self.scene), LEFT, y, 900, 600, self.label, self.value, letters=26)
        x = LEFT + WIDTH - _KIT
        pen.words(x, y + 10, _KIT, "Stock", 34, bold=True)
        at = y + 60
        for text, size, colour in self._stock_words:
            at += pen.words(x, at, _KIT, text, size, colour=colour) + 8
        pen.words(x, at + 14, _KIT, "Tools and stock needed", 34, bold=True)
        at += 68
        for item, (height, text) in zip(self.plan.kit, self._kit_rows(pen), strict=True):
            pen.box(x, at + 5, 24, 24, 2)
            pen.words(x + 40, at, _KIT - 40, text, 26, bold=not item.owned)
            at += height

    def _remark(self, pen: Pen, y: float, words: str) -> None:
        pen.words(LEFT, y, 40, "▲", 24, colour=ACCENT)
        pen.words(LEFT + 40, y, WIDTH - 60, words, 26)

    def _setup_lines(self, setup: Setup) -> list[tuple[str, float, str, float]]:
        """(text, letters, colour, room below) of a setup's head."""
        found = [(f"Hold: {setup.holding}.", 28.0, INK, 6.0), (f"Datum: {setup.datum}.", 28.0, INK, 6.0)]
        return found + [(f"▲ {caution}", 26.0, ACCENT, 4.0) for caution in setup.cautions]

    def _setup_height(self, pen: Pen, setup: Setup) -> float:
        lines = sum(pen.height(_BESIDE, text, size) + room for text, size, _, room in self._setup_lines(setup))
        return max(360.0, 90 + lines + 10)

    def _setup(self, pen: Pen, y: float, setup: Setup) -> None:
        pen.line(LEFT, y + 14, LEFT + WIDTH, y + 14, 3, ACCENT)
        number = self.plan.setups.index(setup) + 1
        pen.words(LEFT, y + 30, _BESIDE, f"{number}   {setup.title}", 40, bold=True)
        at = y + 90
        for text, size, colour, room in self._setup_lines(setup):
            at += pen.words(LEFT, at, _BESIDE, text, size, colour=colour) + room
        scene = setup_scene(self.plan, setup)
        if scene is not None:
            pen.scene(scene, LEFT + WIDTH - 560, y + 26, 560, 320, self.label, letters=25, stroke=1.8)

    def _operation_words(self, operation: Operation) -> str:
        speed = ""
        if operation.speed:
            speed = f"   {operation.speed.rpm} rpm, feed {self.style.feed(operation.speed.feed_mm_min)}"
            if operation.speed.seconds_per_turn:
                speed += f", {operation.speed.seconds_per_turn:.1f} s a turn by hand"
        return f"{operation.tool}{speed}"

    def _operation_height(self, pen: Pen, operation: Operation) -> float:
        tool = pen.height(_TOOL, self._operation_words(operation), 28)
        under = sum(pen.height(_ALL, text, 26) + 4 for text, _ in self._under(operation))
        return 14 + max(pen.height(_OPERATION, operation.title, 32, bold=True), tool) + under + 14

    def _under(self, operation: Operation) -> list[tuple[str, str]]:
        """(words, colour) under its title: how it is done, and what its speed or feed has to be minded for."""
        caution = operation.speed.caution if operation.speed is not None else ""
        return [(t, c) for t, c in ((operation.note, SOFT), (f"▲ {caution}" if caution else "", ACCENT)) if t]

    def _operation(self, pen: Pen, y: float, operation: Operation) -> None:
        pen.words(LEFT, y + 12, _OPERATION, operation.title, 32, bold=True)
        pen.words(LEFT + WIDTH - _TOOL, y + 15, _TOOL, self._operation_words(operation), 28, colour=SOFT)
        below = y + self._operation_height(pen, operation) - 6
        under = self._under(operation)
        at = below - 8 - sum(pen.height(_ALL, text, 26) + 4 for text, _ in under) + 4
        for text, colour in under:
            at += pen.words(LEFT, at, _ALL, text, 26, colour=colour) + 4
        pen.line(LEFT, below, LEFT + WIDTH, below, 1)

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

    def _numbers(self, pen: Pen, move: Move) -> str:
        """The dial numbers on one line when they stand on it, else an axis a line: a number is never split."""
        each = [f"{p.axis}  {p.dial.text}" for p in move.positions]
        abreast = "     ".join(each)
        return abreast if pen.fits(_NUMBERS, abreast, _DIGITS, bold=True) else "\n".join(each)

    def _blocks_of(self, pen: Pen, move: Move) -> tuple[float, float]:
        """(height of words and numbers side by side, whole height of a move)."""
        wide = _WORDS if move.positions else _ALL
        top = pen.height(wide, move.words, 30)
        if move.positions:
            top = max(top, pen.height(_NUMBERS, self._numbers(pen, move), _DIGITS, bold=True))
        whole = top
        small = self._small(move)
        if small:
            whole += pen.height(_ALL, small, 24) + 4
        if move.caution:
            whole += pen.height(_ALL, f"▲ {move.caution}", 26) + 4
        if move.asked:
            whole += max(56.0, pen.height(_ASKED, self._asked_words(move), 28, italic=True) + 16)
        return top, max(whole, 44) + 18

    def _asked_words(self, move: Move) -> str:
        asked = move.asked
        return f"{asked.asking}: {asked.shown(self.style)}" if asked is not None else ""

    def _move_height(self, pen: Pen, move: Move) -> float:
        return self._blocks_of(pen, move)[1]

    def _move(self, pen: Pen, y: float, move: Move) -> None:
        pen.box(LEFT, y + 10, 30, 30, 3)
        if move.id in self.done:
            pen.line(LEFT + 5, y + 25, LEFT + 13, y + 35, 5, ACCENT)
            pen.line(LEFT + 13, y + 35, LEFT + 27, y + 13, 5, ACCENT)
        x = LEFT + WIDTH - _ALL
        top, whole = self._blocks_of(pen, move)
        pen.words(x, y + 6, _WORDS if move.positions else _ALL, move.words, 30)
        if move.positions:
            pen.words(LEFT + WIDTH - _NUMBERS, y + 6, _NUMBERS, self._numbers(pen, move), _DIGITS, bold=True, align="right")
        at = y + 6 + top
        small = self._small(move)
        if small:
            at += pen.words(x, at + 4, _ALL, small, 24, colour=SOFT) + 4
        if move.caution:
            at += pen.words(x, at + 4, _ALL, f"▲ {move.caution}", 26, colour=ACCENT) + 4
        if move.asked:
            typed = self.measured.get(move.asked.key)
            pen.words(x, at + 10, _ASKED, self._asked_words(move), 28, italic=True)
            pen.box(LEFT + WIDTH - 360, at + 8, 360, 42, 2)
            if typed is not None:
                pen.words(LEFT + WIDTH - 340, at + 12, 320, self.style.with_unit(typed, "mm"), 28)
        pen.line(LEFT, y + whole - 4, LEFT + WIDTH, y + whole - 4, 1)
