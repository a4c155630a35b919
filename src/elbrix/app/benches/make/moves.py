"""The list of moves beside the plate: numbers in large type, Space is done and next."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygon
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from elbrix.app.card.card import WIDTH
from elbrix.app.plate.flow import FlowLayout, clear
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.presenters.make import MoveLine


class _Tick(QWidget):
    pressed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.done = False
        self.palette_ = LIGHT
        self.setFixedSize(24, 26)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self.palette_
        painter.setPen(QPen(QColor(p.soft), 1.5))
        painter.drawRect(QRectF(3, 5, 15, 15))
        if self.done:
            painter.setPen(QPen(QColor(p.go), 2.6))
            painter.drawPolyline(QPolygon([QPoint(5, 12), QPoint(9, 17), QPoint(20, 3)]))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pressed.emit()


class _SetEntry(QLineEdit):
    """Where one axis was really set. Its own slot is a method, so that a row that goes while it is typed in goes quietly."""

    given = pyqtSignal(int)

    def __init__(self, number: int) -> None:
        super().__init__()
        self.number = number
        self.setFixedWidth(84)
        self.editingFinished.connect(self._finished)

    def _finished(self) -> None:
        self.given.emit(self.number)


class MoveWidget(QFrame):
    """One move; the current one shows its details."""

    picked = pyqtSignal(str)
    ticked = pyqtSignal(str)
    measured = pyqtSignal(str, str)
    keyed = pyqtSignal(str, str, str)

    def __init__(self) -> None:
        super().__init__()
        self.line: MoveLine | None = None
        self._current = False
        self.palette_ = LIGHT
        self._tick = _Tick()
        self._tick.pressed.connect(self._toggled)
        self._words, self._numbers, self._details, self._caution, self._ask, self._error = (Label() for _ in range(6))
        for label in (self._words, self._numbers, self._details, self._caution, self._ask, self._error):
            label.setWordWrap(True)
        self._numbers.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._details.setObjectName("hint")
        self._error.setObjectName("error")
        self._furnished = False
        self._body = QVBoxLayout()
        self._body.setSpacing(1)
        for part in (self._words, self._numbers, self._details, self._caution, self._error):
            self._body.addWidget(part)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(8, 5, 6, 6)
        layout.setSpacing(6)
        layout.addWidget(self._tick, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(self._body, 1)
        self._error.hide()

    def _furnish(self) -> None:
        """The entries of a row, made when it first has something to enter: a plan has a hundred rows."""
        if self._furnished:
            return
        self._furnished = True
        self.entry = QLineEdit()
        self.entry.setFixedWidth(110)
        self.entry.editingFinished.connect(self._entered)
        self._asking = QWidget()
        asking = QHBoxLayout(self._asking)
        asking.setContentsMargins(0, 2, 0, 2)
        asking.addWidget(self._ask, 1)
        asking.addWidget(self.entry)
        self._setting = QWidget()
        setting = QHBoxLayout(self._setting)
        setting.setContentsMargins(0, 2, 0, 2)
        setting.setSpacing(6)
        self._set_words = Label("Really set to")
        self._set_words.setObjectName("hint")
        setting.addWidget(self._set_words)
        setting.addStretch(1)
        self.set_entries = [_SetEntry(n) for n in range(3)]
        for entry in self.set_entries:
            entry.given.connect(self._set)
            setting.addWidget(entry)
        self._body.insertWidget(self._body.indexOf(self._numbers) + 1, self._setting)
        self._body.insertWidget(self._body.indexOf(self._error), self._asking)

    def show_line(self, line: MoveLine, palette: Palette, current: bool) -> None:
        """Show a move; a size being typed is left alone, and so is a row that shows it already."""
        if (line, palette, current) == (self.line, self.palette_, self._current):
            return
        if current or line.ask or any(line.keyed):
            self._furnish()
        self.line, self.palette_, self._current = line, palette, current
        self._tick.done, self._tick.palette_ = line.done, palette
        self._tick.update()
        self._words.setText(line.words)
        self._words.setStyleSheet(
            f"color: {palette.ink if current else palette.soft}; font-weight: {'bold' if current else 'normal'};"
        )
        # Each number keeps together; two that are long stand one under the other.
        self._numbers.setText("     ".join(f"{axis} {text}".replace(" ", "\u00a0") for axis, text in line.numbers))
        self._numbers.setFont(font(19 if current else 14, bold=True))
        self._numbers.setStyleSheet(f"font-size: {19 if current else 14}px; font-weight: bold; color: {palette.ink};")
        self._numbers.setVisible(bool(line.numbers))
        self._details.setText("\n".join(line.details))
        self._details.setVisible(current and bool(line.details))
        self._caution.setText(f"▲ {line.caution}")
        self._caution.setStyleSheet(f"color: {palette.accent}; font-size: 12px;")
        self._caution.setVisible(bool(line.caution) and current)
        if self._furnished:
            self._show_entries(line, current=current)
        self.update()

    def _show_entries(self, line: MoveLine, *, current: bool) -> None:
        self._ask.setText(line.ask)
        self._ask.setStyleSheet("font-style: italic; font-size: 12px;")
        self._asking.setVisible(bool(line.ask) and (current or bool(line.measured)))
        self.entry.setAccessibleName(line.ask)
        if not self.entry.hasFocus():
            self.entry.setText(line.measured)
        self._setting.setVisible(bool(line.numbers) and (current or any(line.keyed)))
        for entry, number, text in zip(
            self.set_entries, [*line.numbers, *[("", "")] * 3], [*line.keyed, *[""] * 3], strict=False
        ):
            entry.setVisible(bool(number[0]))
            entry.setPlaceholderText(number[0])
            entry.setAccessibleName(f"{number[0]} as it was really set")
            set_tip(entry, f"What {number[0]} was really set to, as the machine shows it: the metal on the plate is cut with it")
            if not entry.hasFocus():
                entry.setText(text)

    def _set(self, n: int) -> None:
        if self.line is not None and n < len(self.line.keyed) and self.set_entries[n].text().strip() != self.line.keyed[n]:
            self.keyed.emit(self.line.id, self.line.numbers[n][0], self.set_entries[n].text())

    def _toggled(self) -> None:
        if self.line is not None:
            self.ticked.emit(self.line.id)

    def show_error(self, text: str) -> None:
        self._error.setText(text)
        self._error.setVisible(bool(text))

    @property
    def error_text(self) -> str:
        return self._error.text()

    def _entered(self) -> None:
        if self.line is not None and self.entry.text().strip() != self.line.measured:
            self.measured.emit(self.line.ask_key, self.entry.text())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._current:
            back = QColor(self.palette_.accent)
            back.setAlpha(28)
            painter.fillRect(self.rect(), back)
            painter.fillRect(0, 0, 3, self.height(), QColor(self.palette_.accent))
        painter.setPen(QPen(QColor(self.palette_.line), 1))
        painter.drawLine(8, self.height() - 1, self.width(), self.height() - 1)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if self.line is not None:
            self.picked.emit(self.line.id)


class MoveCard(QFrame):
    """How it is made, and the moves."""

    picked = pyqtSignal(str)
    ticked = pyqtSignal(str)
    measured = pyqtSignal(str, str)
    keyed = pyqtSignal(str, str, str)
    option_picked = pyqtSignal(str, str)
    pressed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("cardPaper")
        self.setMinimumWidth(WIDTH)
        self.setMaximumWidth(620)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Moves: Space is done and next")
        self._options = QWidget()
        self._flow = FlowLayout(self._options, 4)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self._options.setSizePolicy(policy)
        self.option_buttons: dict[str, QPushButton] = {}
        self._menus: dict[str, QMenu] = {}
        self._page = QWidget()
        self._column = QVBoxLayout(self._page)
        self._column.setContentsMargins(0, 0, 6, 0)
        self._column.setSpacing(0)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area.setWidget(self._page)
        bar = self._area.verticalScrollBar()
        if bar is not None:
            bar.rangeChanged.connect(lambda *_: self._reveal())  # rows get their heights after they are shown
        self.widgets: dict[str, MoveWidget] = {}
        self._shape: tuple[str, ...] = ()
        self._palette = LIGHT
        self._current = ""
        at_machine, route = QPushButton("At the machine"), QPushButton("Route card")
        at_machine.setObjectName("main")
        route.setObjectName("plain")
        set_tip(at_machine, "One move at a time, readable from two metres (F11)")
        at_machine.clicked.connect(lambda: self.pressed.emit("at machine"))
        route.clicked.connect(lambda: self.pressed.emit("route card"))
        hold = QPushButton("Check holding")
        hold.setObjectName("plain")
        set_tip(hold, "The operation in hand as a layout in Hold: its size, cutter, path and cut")
        hold.clicked.connect(lambda: self.pressed.emit("hold"))
        self.hold_button = hold
        practice = QPushButton("Practice")
        practice.setObjectName("plain")
        set_tip(practice, "One slip is put into this card: find it before there is metal")
        practice.clicked.connect(lambda: self.pressed.emit("practice"))
        self.practice_button = practice
        foot = QHBoxLayout()
        foot.addWidget(at_machine, 1)
        foot.addWidget(hold)
        foot.addWidget(route)
        foot.addWidget(practice)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 12, 8, 12)
        layout.setSpacing(8)
        layout.addWidget(self._options)
        layout.addWidget(self._area, 1)
        layout.addLayout(foot)

    def show_moves(
        self,
        lines: list[MoveLine],
        current: str,
        options: list[tuple[str, str, list[tuple[str, str]]]],
        heads: dict[str, tuple[str, str]],
        palette: Palette,
    ) -> None:
        """Show the list.

        Args:
            heads: First move id of each operation → (title, tool and speed), written above it.
        """
        self._palette = palette
        self._show_options(options)
        shape = tuple(line.id for line in lines) + tuple(f"{k}{v}" for k, v in heads.items()) + (palette.card,)
        if shape != self._shape:
            self._build(lines, heads)
            self._shape = shape
        for line in lines:
            self.widgets[line.id].show_line(line, palette, line.id == current)
        if current in self.widgets:
            self._current = current
            QTimer.singleShot(30, self._reveal)  # once the rows have their heights

    def _reveal(self) -> None:
        widget = self.widgets.get(self._current)
        bar = self._area.verticalScrollBar()
        if widget is None or bar is None:
            return
        top, bottom, seen = widget.y(), widget.y() + widget.height(), self._area.height()
        if top < bar.value() + 40 or bottom > bar.value() + seen - 60:
            bar.setValue(top - seen // 3)

    def _build(self, lines: list[MoveLine], heads: dict[str, tuple[str, str]]) -> None:
        clear(self._column)
        self.widgets = {}
        for line in lines:
            if line.id in heads:
                title, under = heads[line.id]
                head, small = Label(title), Label(under)
                head.setObjectName("groupTitle")
                head.setContentsMargins(8, 10, 0, 0)
                head.setWordWrap(True)
                small.setObjectName("hint")
                small.setContentsMargins(8, 0, 0, 2)
                small.setWordWrap(True)
                self._column.addWidget(head)
                self._column.addWidget(small)
            widget = MoveWidget()
            widget.picked.connect(self.picked)
            widget.ticked.connect(self.ticked)
            widget.measured.connect(self.measured)
            widget.keyed.connect(self.keyed)
            self.widgets[line.id] = widget
            self._column.addWidget(widget)
        self._column.addStretch(1)

    def _show_options(self, options: list[tuple[str, str, list[tuple[str, str]]]]) -> None:
        if set(self.option_buttons) != {name for name, *_ in options}:
            clear(self._flow)
            self.option_buttons = {}
            for name, *_ in options:
                button = QPushButton()
                button.setObjectName("plain")
                button.setCursor(Qt.CursorShape.PointingHandCursor)
                button.clicked.connect(
                    lambda _=False, n=name, b=button: self._menus[n].popup(b.mapToGlobal(b.rect().bottomLeft()))
                )
                self.option_buttons[name] = button
                self._flow.addWidget(button)
        for name, words, choices in options:
            button = self.option_buttons[name]
            button.setText(f"{words} ▾")
            menu = QMenu(button)
            for value, text in choices:
                action = QAction(text, menu)
                action.triggered.connect(lambda _=False, n=name, v=value: self.option_picked.emit(n, v))
                menu.addAction(action)
            self._menus[name] = menu

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Space:
            self.pressed.emit("done")
        elif event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Right):
            self.pressed.emit("next")
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Left):
            self.pressed.emit("back")
        else:
            super().keyPressEvent(event)
