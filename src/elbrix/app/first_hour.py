"""The line of the first hour: five things to do with one's own slot; the next one stands out, and with the last it goes."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from elbrix.app.pickable import Pickable
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.app.words import Label, set_tip
from elbrix.presenters.first_hour import TourStep


class _Step(Pickable):
    """One of the steps; picked, its bench comes to the front."""

    def __init__(self, key: str, number: int) -> None:
        super().__init__(key, focus=Qt.FocusPolicy.TabFocus)
        self._number, self.palette_ = number, LIGHT
        self._step: TourStep | None = None
        self._now = False

    def show_step(self, step: TourStep, palette: Palette, *, now: bool) -> None:
        self._step, self.palette_, self._now = step, palette, now
        self.setAccessibleName(f"{step.words}, {'done' if step.done else 'next' if now else 'later'}")
        self.setFixedSize(round(QFontMetricsF(font(12, bold=True)).horizontalAdvance(self._words)) + 22, 28)
        self.update()

    @property
    def _words(self) -> str:
        step = self._step
        return "" if step is None else f"{'✓' if step.done else self._number}  {step.words}"

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._step is None:
            return
        painter, p = QPainter(self), self.palette_
        colour = QColor(p.go if self._step.done else p.accent if self._now else p.soft)
        painter.setPen(colour)
        painter.setFont(font(12, bold=self._now))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self._words)
        if self.hasFocus():
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


class FirstHour(QWidget):
    """The steps in order, and a way to put them away."""

    picked = pyqtSignal(str)  #: a bench
    away = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(20, 2, 14, 2)
        layout.setSpacing(4)
        self._title = Label("First hour")
        self._title.setObjectName("hint")
        layout.addWidget(self._title)
        self.steps: list[_Step] = []
        self._row = layout
        layout.addStretch(1)
        self.close_ = QPushButton("Put away")
        self.close_.setObjectName("plain")
        set_tip(self.close_, "These steps do not come again in this book")
        self.close_.clicked.connect(self.away)
        layout.addWidget(self.close_)
        self.hide()

    def show_steps(self, steps: tuple[TourStep, ...], palette: Palette) -> None:
        """The steps as they stand; none: it is over."""
        self.setVisible(bool(steps))
        while len(self.steps) < len(steps):
            number = len(self.steps)
            part = _Step(steps[number].bench, number + 1)
            part.picked.connect(self.picked)
            self._row.insertWidget(1 + number, part)
            self.steps.append(part)
        following = next((n for n, step in enumerate(steps) if not step.done), -1)
        for n, (part, step) in enumerate(zip(self.steps, steps, strict=False)):
            part.show_step(step, palette, now=n == following)
