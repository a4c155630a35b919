"""The film strip: one picture for each setup, of the metal as the setup leaves it, filled in one after another."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Final

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QWidget

from elbrix.app.background import Later
from elbrix.app.plate.flow import clear
from elbrix.app.plate.thumbnail import Thumbnail
from elbrix.app.theme.palette import Palette
from elbrix.drawing.scene import Scene
from elbrix.making.plan import Plan, Setup

#: Beside the setup in hand stays so much of its neighbours, px.
_BESIDE: Final = 60


class FilmStrip(QScrollArea):
    """The setups of a plan, in order."""

    picked = pyqtSignal(str)  #: a setup
    filled = pyqtSignal()  #: every picture is there

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(112)
        self.setWidgetResizable(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._holder = QWidget()
        self._row = QHBoxLayout(self._holder)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(8)
        self.setWidget(self._holder)
        self.frames: dict[str, Thumbnail] = {}
        self._now = ""  # the setup in hand
        self._shape: tuple[object, ...] = ()
        self._plan: Plan | None = None
        self._waiting: list[Setup] = []
        self._picture: Callable[[Setup], Scene | None] = lambda _: None
        self._later = Later(self)
        self._later.done.connect(self._painted)

    @property
    def busy(self) -> bool:
        """Whether pictures are being worked out."""
        return self._later.busy

    def show_plan(self, plan: Plan | None, now: str, palette: Palette, picture: Callable[[Setup], Scene | None]) -> bool:
        """The setups of a plan; True when `fill` has pictures to work out.

        Args:
            plan: None: nothing can be planned.
            now: The setup in hand.
            palette: Of the window.
            picture: The metal a setup leaves.
        """
        setups = plan.setups if plan is not None else ()
        shape = (tuple((s.id, s.title) for s in setups), palette)
        if shape != self._shape:
            clear(self._row)
            self.frames = {}
            for n, setup in enumerate(setups, 1):
                frame = Thumbnail(setup.id, None, f"{n} {setup.title}", (), palette, size=QSize(150, 104))
                frame.picked.connect(self.picked)
                self.frames[setup.id] = frame
                self._row.addWidget(frame)
            self._row.addStretch(1)
            self._shape, self._plan = shape, None
        self._picture = picture
        anew = self._plan is not plan
        if anew:
            self._plan, self._waiting = plan, list(setups)
        for key, frame in self.frames.items():
            frame.on = key == now
            frame.update()
        self._now = now
        self._bring()
        return anew

    def _bring(self) -> None:
        """The setup in hand into view; frames that were just put in a row have no places yet, so they are laid out first."""
        if self._now in self.frames:
            self._row.activate()
            self._holder.resize(self._holder.minimumSizeHint().expandedTo(self.maximumViewportSize()))
            self.ensureWidgetVisible(self.frames[self._now], _BESIDE, 0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._bring()

    def fill(self) -> None:
        """The next picture; each takes some hundredths of a second, so they come one after another, beside the window."""
        if self._waiting:
            self._later.start(partial(_painting, self._plan, self._waiting[0], self._picture))
        else:
            self.filled.emit()

    def _painted(self, found: tuple[Plan | None, Setup, Scene | None]) -> None:
        plan, setup, scene = found
        if plan is self._plan:
            if setup.id in self.frames:
                self.frames[setup.id].show_scene(scene)
            self._waiting = self._waiting[1:]
        self.fill()


def _painting(
    plan: Plan | None, setup: Setup, picture: Callable[[Setup], Scene | None]
) -> tuple[Plan | None, Setup, Scene | None]:
    return plan, setup, picture(setup)
