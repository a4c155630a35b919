"""The plate as it is painted: ground, pictures to scale, the shaded solid, words and tabs."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QSizePolicy, QWidget

from elbrix.app.plate.giving_way import LEVELS, MIN_PX, MIN_SHARE, keeps_inset, reduced
from elbrix.app.plate.notes import PlacedNote, number_boxes, place_notes
from elbrix.app.plate.painter import View, paint_scene, plate_look
from elbrix.app.plate.pane import Pane
from elbrix.app.theme.palette import LIGHT, Palette
from elbrix.app.theme.type import font
from elbrix.drawing.placing import PlacedDimension
from elbrix.drawing.scene import Dimension, Scene
from elbrix.presenters.plate import PlateView

if TYPE_CHECKING:
    from elbrix.app.plate.lines_picture import LinesPicture
    from elbrix.app.plate.solid import SolidPicture


#: A drawing with more strokes would be felt if it were painted in one turn of the window.
MANY_STROKES: Final = 500


def _whole_parts(text: str, metrics: QFontMetricsF, width: float) -> str:
    """As many of the parts of a line of hints as stand in a width: none is cut off in the middle."""
    parts = text.split("   ·   ")
    while len(parts) > 1 and metrics.horizontalAdvance("   ·   ".join(parts)) > width:
        parts.pop()
    return "   ·   ".join(parts)


class PaintedPlate(QWidget):
    """Shows a view; what is done with it belongs to `DrawingView`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumSize(320, 220)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self._palette = LIGHT
        self._look = plate_look(LIGHT)
        self._ground: tuple[object, QPixmap] | None = None
        self._shown = PlateView(Scene(""))
        self._notes: tuple[QSize, tuple[object, ...], list[list[PlacedNote]]] | None = None
        self._solid: SolidPicture | None = None
        self._mesh: dict[str, Any] | None = None
        self._pictures: dict[int, LinesPicture] = {}  #: of the panes with very many lines
        self._level = 0  #: how much the plate gave up for want of room
        self._foot = ""
        self._seen_from = (45.0, 30.0)  # degrees: turned, tilted
        self._panes: list[Pane] = [Pane(Scene(""), QRectF())]
        self._fitted = True
        self._lit: frozenset[str] = frozenset()
        self._lit_keys: frozenset[str] = frozenset()
        self._hot = ""
        self._tab_boxes: list[QRectF] = []
        self._drag_words = ""
        self._carrying: tuple[str, QPointF, QPointF] | None = None  # feature, where it began, where it is

    @property
    def editing(self) -> str:
        """Parameter whose number is being typed, and is not painted meanwhile; empty for none."""
        return ""

    def set_palette(self, palette: Palette) -> None:
        self._palette = palette
        self._look = plate_look(palette, self._look.letters)
        self.update()

    @property
    def shown(self) -> PlateView:
        return self._shown

    @property
    def placed(self) -> list[PlacedDimension]:
        """Where the sizes stand now, pixels with y up."""
        return [p for pane in self._panes for p in pane.placed]

    @property
    def view(self) -> View:
        """Of the main picture."""
        return self._panes[0].view

    @property
    def panes(self) -> list[Pane]:
        """The pictures on it: the thing, and what stands beside it."""
        return self._panes

    @property
    def solid(self) -> SolidPicture | None:
        """The shaded solid, while one is shown."""
        return self._solid

    def _show_solid(self, mesh: dict[str, Any] | None) -> None:
        """Shade another mesh seen from where the last one was; the same mesh stays as it is turned."""
        if mesh is self._mesh:
            return
        before, self._solid, self._mesh = self._solid, None, mesh
        if before is not None:
            self._seen_from = (before.turn_deg, before.tilt_deg)
            before.deleteLater()
        if mesh is not None:
            from elbrix.app.plate.solid import SolidPicture  # NumPy is only loaded for the shaded solid

            self._solid = SolidPicture(mesh, *self._seen_from, self, before)
            self._solid.ready.connect(self.update)

    def _panes_at(self, level: int) -> list[Pane]:
        """The pictures with what a level of giving way leaves."""
        scenes = self._shown.scenes if keeps_inset(level) else self._shown.scenes[:1]
        return [Pane(reduced(scene, level), self._box(i, alone=len(scenes) == 1)) for i, scene in enumerate(scenes)]

    def _box(self, index: int, *, alone: bool) -> QRectF:
        main = (0.0, 0.0, 1.0, 1.0) if alone else self._shown.main_box
        left, top, right, bottom = main if index == 0 else self._shown.inset_box
        width, height = self.width(), self.height() - 26
        return QRectF(left * width, top * height, (right - left) * width, (bottom - top) * height)

    def fit(self) -> None:
        """Everything in view, as large as it goes."""
        self._fitted = True
        for level in range(LEVELS):
            self._level, self._panes = level, self._panes_at(level)
            for pane in self._panes:
                pane.fit(self._shown.label, self._look, alone=len(self._panes) == 1)
            small = any(pane.longest_px < MIN_PX for pane in self._panes[1:])
            if self._panes[0].share >= MIN_SHARE and not small:
                break
        self._place()
        self.update()

    def _place(self) -> None:
        for pane in self._panes:
            pane.place(self._shown.label, self._look)

    def _pane_at(self, at: QPointF) -> Pane:
        return next((pane for pane in self._panes[1:] if pane.box.contains(at)), self._panes[0])

    def _dimensions(self) -> list[Dimension]:
        return [d for pane in self._panes for d in pane.scene.dimensions]

    def light(self, features: frozenset[str], keys: frozenset[str] = frozenset()) -> None:
        """Light features and sizes up."""
        if (features, keys) != (self._lit, self._lit_keys):
            self._lit, self._lit_keys = features, keys
            self.update()

    def say(self, text: str) -> None:
        """A word at the foot of the plate while something is in the hand; empty takes it away."""
        if text != self._drag_words:
            self._drag_words = text
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self._palette
        painter.drawPixmap(0, 0, self._ground_picture())
        if self._solid is not None:
            self._solid.paint(painter, QRectF(self.rect()).adjusted(12, 36, -12, -26), p)
        elif not self._shown.message:
            skip = next((d.key for d in self._dimensions() if d.entry == self.editing and self.editing), "")
            for n, (pane, notes) in reversed(list(enumerate(zip(self._panes, self.notes(), strict=True)))):
                paint_scene(
                    painter,
                    self._lines(painter, n),
                    pane.view,
                    self._look,
                    pane.placed,
                    lit=self._lit,
                    lit_keys=self._lit_keys,
                    value=self._shown.value,
                    hot=self._hot,
                    skip=skip,
                    notes=notes,
                )
        self._paint_words(painter)
        self._paint_carried(painter)
        if self.hasFocus() and not self.editing:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(p.brass), 1.4))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(2, 2, -2, -2), 5, 5)

    def _lines(self, painter: QPainter, index: int) -> Scene:
        """What of a picture is to be painted now: all of it, or what stands over the lines that are painted beside the window."""
        pane = self._panes[index]
        if pane.scene.strokes <= MANY_STROKES:
            if index in self._pictures:
                self._pictures[index].forget()
            return pane.scene
        from elbrix.app.plate.lines_picture import LinesPicture, without_lines  # few drawings have so many

        if index not in self._pictures:
            self._pictures[index] = LinesPicture(self)
            self._pictures[index].ready.connect(self.update)
        self._pictures[index].paint(painter, pane.scene, pane.view, self._look, self.size())
        return without_lines(pane.scene, self._lit)

    def _paint_carried(self, painter: QPainter) -> None:
        if self._carrying is None or (self._carrying[2] - self._carrying[1]).manhattanLength() < 6:
            return
        words = self._carrying[0].partition(" ")[2]
        painter.setFont(font(13, bold=True))
        box = QRectF(0, 0, QFontMetricsF(painter.font()).horizontalAdvance(words) + 18, 24)
        box.moveCenter(self._carrying[2])
        painter.setBrush(QColor(self._palette.plate))
        painter.setPen(QPen(QColor(self._palette.brass), 1.6))
        painter.drawRoundedRect(box, 4, 4)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)

    @property
    def _notes_room(self) -> QRectF:
        """Between the title and the hint line."""
        return QRectF(self.rect()).adjusted(8, 34, -8, -28)

    def notes(self) -> list[list[PlacedNote]]:
        """Every note as it is written, by picture: none over a number or a note of any of them.

        Kept while the pictures stand where they stand: the plate is painted again at every touch of the pointer.
        """
        size = self.size()
        parts = (self._shown, self._look, *(p for pane in self._panes for p in (pane.scene, pane.placed, pane.view)))
        if self._notes is not None:
            for_size, of, notes = self._notes
            if for_size == size and len(of) == len(parts) and all(a is b for a, b in zip(of, parts, strict=True)):
                return notes
        self._notes = (size, parts, self._placed_notes())
        return self._notes[2]

    def _placed_notes(self) -> list[list[PlacedNote]]:
        taken = [box for pane in self._panes for box in number_boxes(pane.placed)]
        found = []
        for pane in self._panes:
            notes = place_notes(pane.scene, pane.view.px, (), self._look.letters, self._shown.value, self._notes_room, taken)
            taken += [n.box for n in notes]
            found.append(notes)
        return found

    def _ground_picture(self) -> QPixmap:
        """The dyed surface with its faint grid, drawn once per size and look."""
        key = (self.size(), self._palette.plate, self.devicePixelRatioF())
        if self._ground is None or self._ground[0] != key:
            ratio = self.devicePixelRatioF()
            picture = QPixmap(self.size() * ratio)
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            painter = QPainter(picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(self._palette.plate))
            painter.drawRoundedRect(QRectF(self.rect()), 6, 6)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            painter.setPen(QPen(QColor(self._palette.grid), 1))
            for x in range(24, self.width(), 24):
                painter.drawLine(x, 1, x, self.height() - 1)
            for y in range(24, self.height(), 24):
                painter.drawLine(1, y, self.width() - 1, y)
            painter.end()
            self._ground = (key, picture)
        return self._ground[1]

    def _paint_words(self, painter: QPainter) -> None:
        p = self._palette
        self._paint_tabs(painter)
        painter.setFont(font(12, bold=True))
        painter.setPen(QColor(p.hidden).lighter(125))
        painter.drawText(self.title_box(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self._title())
        painter.setFont(font(12))
        painter.setPen(QColor(p.hidden).lighter(115))
        painter.drawText(
            QRectF(16, self.height() - 26, self.width() - 32, 20),
            Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
            _whole_parts(self._drag_words or self._foot, QFontMetricsF(painter.font()), self.width() - 32),
        )
        if self._shown.message:
            painter.setFont(font(16))
            painter.setPen(QColor(p.scribed))
            painter.drawText(
                QRectF(self.rect()).adjusted(60, 40, -60, -40),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self._shown.message,
            )

    def _title(self) -> str:
        """The name of the picture, and to which scale it is."""
        shown = self._shown
        scaled = shown.title and shown.scene.to_scale and self._solid is None and not shown.message
        return f"{shown.title}   {self.scale_text()}" if scaled else shown.title

    def title_box(self) -> QRectF:
        """Where the title is written: beside the tabs, or under them where it would run into them."""
        wide = QFontMetricsF(font(12, bold=True)).horizontalAdvance(self._title())
        fits = 16 + wide + 6 < min((box.left() for box in self._tab_boxes), default=self.width())
        return QRectF(16, 10 if fits else 32, min(wide + 2, self.width() - 32), 20)

    def _paint_tabs(self, painter: QPainter) -> None:
        self._tab_boxes = []
        right = self.width() - 14.0
        for index in reversed(range(len(self._shown.tabs))):
            text = f"{index + 1} {self._shown.tabs[index]}"
            on = index == self._shown.tab
            painter.setFont(font(12, bold=on))
            width = QFontMetricsF(painter.font()).horizontalAdvance(text) + 14
            box = QRectF(right - width, 9, width, 22)
            painter.setPen(QColor(self._palette.brass if on else self._palette.hidden).lighter(100 if on else 125))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
            if on:
                painter.drawLine(QPointF(box.left() + 7, box.bottom()), QPointF(box.right() - 7, box.bottom()))
            self._tab_boxes.insert(0, box)
            right -= width + 2

    def scale_text(self) -> str:
        """How large it is shown, as on a drawing: "4 : 1"."""
        ratio = self._panes[0].view.scale * 25.4 / max(1.0, self.logicalDpiX())
        return f"{ratio:.1f} : 1" if ratio >= 1 else f"1 : {1 / ratio:.1f}"
