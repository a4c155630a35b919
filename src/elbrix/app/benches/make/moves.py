"""The list of moves beside the plate: numbers in large type, Space is done and next."""

from __future__ import annotations

from functools import partial
from typing import Final

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from elbrix.app.benches.make.rows import MoveWidget, OperationHead, PieceRow, RowColumn
from elbrix.app.card.card import WIDTH
from elbrix.app.plate.flow import FlowLayout, clear
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.words import menu_line, set_tip, with_signs
from elbrix.presenters.make import MoveLine

#: Height of a choice over the moves, px.
_CHOICE_PX: Final = 25


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
        self._flow = FlowLayout(self._options, 2)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self._options.setSizePolicy(policy)
        self.option_buttons: dict[str, QPushButton] = {}
        self._menus: dict[str, QMenu] = {}
        self.column = RowColumn()
        self.column.placed.connect(self._reveal)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area.setVerticalScrollBarPolicy(
            Qt.ScrollBarPolicy.ScrollBarAlwaysOn
        )  # coming and going it would break every text anew
        self._area.setWidget(self.column)
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
        batch = QPushButton("Batch")
        batch.setObjectName("plain")
        set_tip(batch, "All accessories that are made together: bars, order, kit")
        batch.clicked.connect(lambda: self.pressed.emit("batch"))
        batch.hide()
        self.batch_button = batch
        links = QHBoxLayout()
        for button in (hold, route, practice, batch):
            links.addWidget(button)
        links.addStretch(1)
        foot = QVBoxLayout()
        foot.setSpacing(2)
        foot.addLayout(links)
        foot.addWidget(at_machine)
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
            self.column.place_soon()

    def _reveal(self) -> None:
        widget = self.widgets.get(self._current)
        bar = self._area.verticalScrollBar()
        if widget is None or bar is None:
            return
        top, bottom, seen = widget.y(), widget.y() + widget.height(), self._area.height()
        if top < bar.value() + 40 or bottom > bar.value() + seen - 60:
            bar.setValue(top - seen // 3)

    def _build(self, lines: list[MoveLine], heads: dict[str, tuple[str, str]]) -> None:
        self.widgets = {}
        rows: list[PieceRow] = []
        for line in lines:
            if line.id in heads:
                rows.append(OperationHead(self.column, *heads[line.id], self._palette))
            widget = MoveWidget(self.column)
            widget.picked.connect(self.picked)
            widget.ticked.connect(self.ticked)
            widget.measured.connect(self.measured)
            widget.keyed.connect(self.keyed)
            self.widgets[line.id] = widget
            rows.append(widget)
        self.column.show_rows(rows)

    def _show_options(self, options: list[tuple[str, str, list[tuple[str, str]]]]) -> None:
        if set(self.option_buttons) != {name for name, *_ in options}:
            clear(self._flow)
            self.option_buttons, self._menus = {}, {}
            for name, *_ in options:
                button = QPushButton()
                button.setObjectName("plain")
                button.setFixedHeight(_CHOICE_PX)  # ten of them stand over the moves
                button.setCursor(Qt.CursorShape.PointingHandCursor)
                button.clicked.connect(
                    lambda _=False, n=name, b=button: self._menus[n].popup(b.mapToGlobal(b.rect().bottomLeft()))
                )
                self.option_buttons[name] = button
                self._menus[name] = QMenu(button)
                self._flow.addWidget(button)
        for name, words, choices in options:
            button = self.option_buttons[name]
            button.setText(f"{with_signs(words)} ▾")
            menu = self._menus[name]
            menu.clear()
            for value, text in choices:
                menu_line(menu, text, partial(self._pick_option, name, value))

    def _pick_option(self, name: str, value: str) -> None:
        self.option_picked.emit(name, value)

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
