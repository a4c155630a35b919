"""The plate widget: shows one scene to scale and reports what is typed, dragged and pointed at. Knows no family."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QLineEdit, QWidget

from elbrix.app import hints
from elbrix.app.dragging import dropped_text, enter
from elbrix.app.plate.brass_entry import BrassEntry
from elbrix.app.plate.painted import PaintedPlate
from elbrix.drawing.scene import Dimension, Handle, MovablePoint
from elbrix.presenters.plate import PlateView
from elbrix.quantities.lengths import round_to_step
from elbrix.quantities.sentences import sentence


class DrawingView(PaintedPlate):
    """The marking-out surface."""

    typed = pyqtSignal(str, str)  #: parameter, text, at every keystroke
    accepted = pyqtSignal(str)  #: the entry is done
    cancelled = pyqtSignal(str)  #: Esc: put it back as it was
    edge_dragged = pyqtSignal(str, float, bool)  #: parameter, settled value in mm, released
    point_dragged = pyqtSignal(
        object, float, float, bool, bool
    )  #: a spot as it was taken up, where it is now in mm, alone, released
    pointed = pyqtSignal(object)  #: frozenset of features under the pointer
    tab_picked = pyqtSignal(int)
    path_point_added = pyqtSignal(float, float)  #: where a click of the pen was, in mm
    clicked = pyqtSignal(str)  #: feature under a click
    item_dragged = pyqtSignal(
        str, float, float, bool
    )  #: a feature, how far from where it was taken up in mm, and whether it was let go
    item_dropped = pyqtSignal(str, str)  #: a feature, and the one it was let go on; empty for none

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Plate")
        self.setAcceptDrops(True)
        self.name_of: Callable[[str], str] = lambda entry: entry.replace("_", " ")  #: what a live number is called on the card
        self._dragging: tuple[Handle, QPointF, float] | None = None
        self._moving: tuple[MovablePoint, QPointF] | None = None
        self._pan: QPointF | None = None
        self._entry = BrassEntry(self)
        self._entry.textEdited.connect(lambda text: self.typed.emit(self.editing, text))
        self._entry.stepped.connect(self._step)
        self._entry.accepted.connect(self._entered)
        self._entry.cancelled.connect(self._cancelled)

    @property
    def editing(self) -> str:
        """Parameter whose number is being typed; empty for none."""
        return self._entry.parameter

    @property
    def editor(self) -> QLineEdit:
        return self._entry

    def show_view(self, shown: PlateView) -> None:
        """Show a view; zoom and pan stay while the thing stays the same."""
        fresh = shown.thing != self._shown.thing or shown.tab != self._shown.tab
        self._shown, self._foot = shown, hints.still_wanted(shown.footer)
        self._show_solid(shown.mesh)
        if fresh:
            self._fitted = True
            for picture in self._pictures.values():
                picture.forget()
            if self.editing and all(d.entry != self.editing for scene in shown.scenes for d in scene.dimensions):
                self._close_entry()
        kept = self._panes
        self._panes = self._panes_at(self._level)
        if len(kept) != len(self._panes):
            self._fitted = True
        for pane, old in zip(self._panes, kept, strict=False):
            pane.view = old.view
        if self.testAttribute(Qt.WidgetAttribute.WA_PendingResizeEvent):
            self._fitted = True  # it gets its size before it is seen, and is fitted then
        elif self._fitted and not self._dragging and not (self.editing and not fresh):
            self.fit()
        else:
            self._place()
        self._move_entry()
        self.update()
        if self.hasFocus():
            self.setAccessibleDescription(self.in_words())

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.setAccessibleDescription(self.in_words())
        super().focusInEvent(event)

    def show_error(self, text: str) -> None:
        """A message beside the open entry; empty clears it. Nothing typed is lost."""
        self._entry.show_error(text)

    @property
    def error_text(self) -> str:
        return self._entry.error_text

    # --- typing ------------------------------------------------------------------------------------------------------

    def entries(self) -> list[Dimension]:
        """Live numbers in measuring order."""
        return sorted((d for d in self._dimensions() if d.entry), key=lambda d: d.order)

    def in_words(self) -> str:
        """The picture for who cannot see it: what it is of, and its live numbers in measuring order."""
        shown = self._shown
        if shown.message:
            return shown.message
        sizes = [f"{self.name_of(d.entry)} {shown.label(d)}" for d in self.entries()]
        return ". ".join(p for p in (sentence(shown.title), ", ".join(dict.fromkeys(sizes))) if p)

    def open_entry(self, entry: str) -> bool:
        """Open the entry field on a live number; False when it is not on this view."""
        if not any(d.entry == entry for d in self._dimensions()):
            return False
        self._finish()
        self._entry.start(entry, self.name_of(entry), self._shown.entry_text(entry), self._middle_of(entry))
        self.update()
        hints.used("type")
        return True

    def _middle_of(self, entry: str) -> QPointF | None:
        """Where the number of a parameter stands."""
        for p in self.placed:
            if p.dimension.entry == entry:
                return QPointF((p.text_box[0] + p.text_box[2]) / 2, -(p.text_box[1] + p.text_box[3]) / 2)
        return None

    def _move_entry(self) -> None:
        self._entry.move_over(self._middle_of(self.editing))

    def _finish(self) -> None:
        entry = self._close_entry()
        if entry:
            self.accepted.emit(entry)

    def _close_entry(self) -> str:
        self.update()
        return self._entry.finish()

    def _step(self, by: int) -> None:
        order = self.entries()
        if not order:
            return
        names = [d.entry for d in order]
        at = names.index(self.editing) if self.editing in names else (-1 if by > 0 else 0)
        self.open_entry(names[(at + by) % len(names)])
        hints.used("tab")

    def next_entry(self) -> None:
        """On to the next live number in measuring order."""
        self._step(1)

    def _entered(self) -> None:
        self._finish()
        self.setFocus()
        self._after_edit()

    def _cancelled(self) -> None:
        entry = self._close_entry()
        self.setFocus()
        self.cancelled.emit(entry)
        self._after_edit()

    def _after_edit(self) -> None:
        if self._fitted:
            QTimer.singleShot(0, self._refit)

    def _refit(self) -> None:
        if self._fitted and not self.editing:
            self.fit()

    def event(self, event: QEvent | None) -> bool:
        # Tab would leave the plate; here it walks the live numbers in measuring order.
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QKeyEvent.Type.KeyPress
            and event.key() == Qt.Key.Key_Tab
            and self.entries()
        ):
            self._step(1)
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() == Qt.Key.Key_Escape and self._shown.pen:
            self.cancelled.emit("")
        elif event.key() == Qt.Key.Key_Home:
            self.fit()
            hints.used("fit")
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self._zoom(1.2, QPointF(self.rect().center()))
        elif event.key() == Qt.Key.Key_Minus:
            self._zoom(1 / 1.2, QPointF(self.rect().center()))
        elif event.text().isdecimal() and event.text() != "0" and int(event.text()) <= len(self._shown.tabs):
            self.tab_picked.emit(int(event.text()) - 1)
        elif self._solid is not None and event.key() in _TURNS:
            self._solid.turn(*_TURNS[Qt.Key(event.key())])
            self.update()
        else:
            super().keyPressEvent(event)

    # --- pointing ----------------------------------------------------------------------------------------------------

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self._zoom(1.0015 ** event.angleDelta().y(), event.position())

    def _zoom(self, factor: float, at: QPointF) -> None:
        self._fitted = False
        pane = self._pane_at(at)
        pane.view = pane.view.zoomed(factor, at)
        self._place()
        self._move_entry()
        self.update()

    def size_at(self, at: QPointF) -> Dimension | None:
        """The size whose number is under a pixel."""
        return next((size for size in (pane.size_at(at) for pane in self._panes) if size is not None), None)

    def handle_at(self, at: QPointF) -> Handle | None:
        """The edge under a pixel that can be dragged."""
        return self._pane_at(at).handle_at(at)

    def _features_at(self, at: QPointF) -> frozenset[str]:
        size, handle = self.size_at(at), self.handle_at(at)
        if size is not None and size.feature:
            return frozenset({size.feature})
        return frozenset({handle.feature}) if handle is not None else self._pane_at(at).features_at(at)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and dropped_text(event) and self.entries():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        """Only a live number takes what is carried."""
        if event is not None:
            size = self.size_at(event.position())
            event.setAccepted(size is not None and bool(size.entry))

    def dropEvent(self, event: QDropEvent | None) -> None:
        size = self.size_at(event.position()) if event is not None else None
        text = dropped_text(event)
        if event is not None and size is not None and text and self.open_entry(size.entry):
            event.acceptProposedAction()
            enter(self.editor, text)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan = at
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        for index, box in enumerate(self._tab_boxes):
            if box.contains(at):
                self.tab_picked.emit(index)
                return
        if self._solid is not None:
            self._pan = at
            return
        self._finish()
        size = self.size_at(at)
        if size is not None and size.entry:
            self.open_entry(size.entry)
            return
        spot = self._pane_at(at).spot_at(at)
        if spot is not None:
            self._moving = (spot, at)
            self.setFocus()
            return
        handle = self.handle_at(at)
        if handle is not None:
            shown = (d.value for d in self._dimensions() if d.entry == handle.entry)
            now = handle.value if handle.value is not None else next(shown, None)
            if now is not None:
                self._dragging = (handle, at, now)
                return
        self.setFocus()
        if self._shown.pen:
            x, y = self._pane_at(at).view.mm(at)
            self.path_point_added.emit(x, y)
            return
        if self._shown.carry and (feature := self._pane_at(at).topmost(at, self._shown.carry)):
            self._carrying = (feature, at, at)
            return
        for feature in self._features_at(at):
            self.clicked.emit(feature)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if self._pan is not None:
            moved = at - self._pan
            self._pan = at
            if self._solid is not None:
                self._solid.turn(-moved.x() * 0.5, moved.y() * 0.5)
            else:
                self._fitted = False
                pane = self._pane_at(at)
                pane.view = pane.view.moved(moved.x(), moved.y())
                self._place()
                self._move_entry()
            self.update()
            return
        if self._dragging:
            self._drag(at, released=False)
            return
        if self._moving is not None:
            self._move(event, released=False)
            return
        if self._carrying is not None:
            self._carrying = (*self._carrying[:2], at)
            self._tell_carrying(at, released=False)
            self.pointed.emit(self._features_at(at))
            self.update()
            return
        size = self.size_at(at)
        hot = size.key if size is not None else ""
        if hot != self._hot:
            self._hot = hot
            self.update()
        handle = self.handle_at(at)
        if size is None and self._pane_at(at).spot_at(at) is not None:
            self.setCursor(Qt.CursorShape.SizeAllCursor)
            self.pointed.emit(self._features_at(at))
            return
        shape = Qt.CursorShape.IBeamCursor if size is not None and size.entry else Qt.CursorShape.ArrowCursor
        if size is None and handle is not None:
            shape = Qt.CursorShape.SizeHorCursor if abs(handle.along[0]) > abs(handle.along[1]) else Qt.CursorShape.SizeVerCursor
        if self._shown.pen and size is None and handle is None:
            shape = Qt.CursorShape.CrossCursor
        if any(b.contains(at) for b in self._tab_boxes):
            shape = Qt.CursorShape.PointingHandCursor
        self.setCursor(shape)
        self.pointed.emit(self._features_at(at))

    def _tell_carrying(self, at: QPointF, *, released: bool) -> None:
        if self._carrying is not None and (at - self._carrying[1]).manhattanLength() >= 6:
            feature, began, _ = self._carrying
            scale = self._pane_at(began).view.scale
            self.item_dragged.emit(feature, (at.x() - began.x()) / scale, (began.y() - at.y()) / scale, released)

    def _drag(self, at: QPointF, *, released: bool) -> None:
        if self._dragging is None:
            return
        handle, start, now = self._dragging
        scale = self._pane_at(start).view.scale
        dx, dy = (at.x() - start.x()) / scale, (start.y() - at.y()) / scale
        wanted = now + handle.gain * (dx * handle.along[0] + dy * handle.along[1])
        value = min(max(round_to_step(wanted, handle.step), handle.low), handle.high)
        if wanted > handle.high + handle.step:
            self._drag_words = f"It stops there: {self.shown.words(handle.high_reason)}"
        elif wanted < handle.low - handle.step:
            self._drag_words = f"It stops there: {self.shown.words(handle.low_reason)}"
        else:
            self._drag_words = ""
        self.edge_dragged.emit(handle.entry, value, released)
        if released:
            hints.used("drag")

    def _move(self, event: QMouseEvent, *, released: bool) -> None:
        """A spot follows the pointer; with Shift its partners stay."""
        if self._moving is None:
            return
        spot, began = self._moving
        at = event.position()
        if (at - began).manhattanLength() < 4:
            return
        scale = self._pane_at(began).view.scale
        x, y = spot.at[0] + (at.x() - began.x()) / scale, spot.at[1] + (began.y() - at.y()) / scale
        self.point_dragged.emit(spot, x, y, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier), released)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._pan = None
        if self._carrying is not None:
            feature, began, _ = self._carrying
            self._carrying = None
            self.update()
            if (event.position() - began).manhattanLength() < 6:
                self.clicked.emit(feature)
            else:
                self._carrying = (feature, began, event.position())
                self._tell_carrying(event.position(), released=True)
                self._carrying = None
                self.item_dropped.emit(feature, next(iter(self._features_at(event.position())), ""))
            return
        if self._moving is not None:
            spot, began = self._moving
            if (event.position() - began).manhattanLength() < 4:
                self.clicked.emit(spot.feature)
            self._move(event, released=True)
            self._moving = None
            return
        if self._dragging:
            moved = (event.position() - self._dragging[1]).manhattanLength() > 2
            if moved:
                self._drag(event.position(), released=True)
            self._dragging = None
            self._drag_words = ""
            if self._fitted:
                self.fit()
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._hot = ""
        self.pointed.emit(frozenset())
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._fitted:
            self.fit()
        self._move_entry()


_TURNS = {Qt.Key.Key_Left: (8.0, 0.0), Qt.Key.Key_Right: (-8.0, 0.0), Qt.Key.Key_Up: (0.0, -8.0), Qt.Key.Key_Down: (0.0, 8.0)}
