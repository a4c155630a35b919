"""Draws a scene with a QPainter: on the plate in scribed colours, on paper in ink. Sizes are placed by `drawing.placing`."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Final

from msgspec import Struct
from msgspec.structs import replace
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPolygonF

from elbrix.app.plate.notes import PlacedNote, leader_line, place_notes
from elbrix.app.theme.palette import Palette
from elbrix.app.theme.type import font
from elbrix.drawing.placing import PlacedDimension, TextSizes, place
from elbrix.drawing.scene import Arc, Dimension, Element, Line, Note, Path, Point, Scene, Style


class View(Struct, frozen=True):
    """From mm (y up) to pixels (y down)."""

    scale: float = 10.0  #: pixels per mm
    x: float = 0.0  #: pixel of x = 0
    y: float = 0.0  #: pixel of y = 0

    def px(self, p: Point) -> QPointF:
        return QPointF(self.x + p[0] * self.scale, self.y - p[1] * self.scale)

    def mm(self, p: QPointF) -> Point:
        return ((p.x() - self.x) / self.scale, (self.y - p.y()) / self.scale)

    def up(self, p: Point) -> Point:
        """Device units with y up, as the placing of sizes wants them."""
        return (self.x + p[0] * self.scale, p[1] * self.scale - self.y)

    def moved(self, dx: float, dy: float) -> View:
        return replace(self, x=self.x + dx, y=self.y + dy)

    def zoomed(self, factor: float, at: QPointF) -> View:
        """Larger or smaller, keeping what is under a pixel in place."""
        factor = min(max(factor, 0.02 / self.scale), 400.0 / self.scale)
        return View(self.scale * factor, at.x() - (at.x() - self.x) * factor, at.y() - (at.y() - self.y) * factor)


class PaintStyle(Struct, frozen=True):
    """Colours and letter size of one surface."""

    ink: QColor
    hidden: QColor
    centre: QColor
    thin: QColor
    host: QColor
    host_fill: QColor
    body: QColor
    section: QColor
    brass: QColor
    measured: QColor
    note: QColor
    tool: QColor
    ground: QColor
    lit: QColor
    letters: float = 14.0
    stroke: float = 1.0
    quiet: int = 255  #: how strongly a size that cannot be typed is drawn


def plate_look(p: Palette, letters: float = 14.0) -> PaintStyle:
    q = QColor
    return PaintStyle(
        q(p.scribed),
        q(p.hidden),
        q(p.centre),
        q(p.scribed),
        q(p.host),
        q(p.host_fill),
        q(p.body),
        q(p.body).lighter(125),
        q(p.brass),
        q(p.brass),
        q(p.note),
        q(p.tool),
        q(p.plate),
        q(p.brass),
        letters,
        quiet=200,
    )


def paper_look(letters: float = 14.0, stroke: float = 1.0) -> PaintStyle:
    q = QColor
    return PaintStyle(
        q("#22252c"),
        q("#6f6c64"),
        q("#2f7d6c"),
        q("#22252c"),
        q("#6f6c64"),
        q("#efeadd"),
        q("#f7f3ea"),
        q("#ddd6c5"),
        q("#22252c"),
        q("#22252c"),
        q("#6f6c64"),
        q("#a84a22"),
        q("#ffffff"),
        q("#a84a22"),
        letters,
        stroke,
    )


_CORNERS: Final = {
    Style.VISIBLE: 2.0,
    Style.SURROUNDINGS: 1.4,
    Style.HIDDEN: 1.0,
    Style.CENTRE: 1.0,
    Style.THREAD: 1.0,
    Style.THIN: 1.0,
    Style.TOOL: 1.3,
    Style.PATH_GO: 1.6,
    Style.PATH_MARGINAL: 2.0,
    Style.PATH_NO_GO: 3.2,
    Style.SECTION: 1.6,
    Style.SURROUNDINGS_SECTION: 1.2,
    Style.BODY: 0.0,
}


def text_sizes(look: PaintStyle) -> TextSizes:
    """Letter sizes for the placing of dimensions, in pixels."""
    metrics = QFontMetricsF(font(look.letters, bold=True))
    return TextSizes(
        width=metrics.horizontalAdvance,
        height=look.letters,
        row=look.letters * 2.1,
        first=look.letters * 1.9,
        arrow=look.letters * 0.55,
    )


@lru_cache(maxsize=2000)
def _text_width(text: str, letters: float) -> float:
    return QFontMetricsF(font(letters, bold=True)).horizontalAdvance(text)


def place_sizes(scene: Scene, view: View, label: Callable[[Dimension], str], look: PaintStyle) -> list[PlacedDimension]:
    """Dimensions placed in pixels with y up (negate y to paint)."""
    return place(scene, view.up, label, text_sizes(look))


def fitted(
    scene: Scene,
    width: float,
    height: float,
    label: Callable[[Dimension], str],
    look: PaintStyle,
    margin: float = 26.0,
    top: float = 36.0,
    notes: bool = True,
    whole_notes: bool = False,
) -> View:
    """The view that shows a scene with all its sizes, as large as the room allows.

    Args:
        notes: Whether room is kept for the words that begin beside the thing.
        whole_notes: Also for those that begin on it and run out of it.
    """
    left, bottom, right, up = scene.bounds()
    w, h = max(right - left, 1e-6), max(up - bottom, 1e-6)
    said = _words_widths(scene, look) if notes else []
    words_right = max((wide for e, wide in said if e.at[0] >= right), default=0.0)
    room = [margin, margin, margin + words_right, margin]  # left, bottom, right, top beyond the thing
    scale = 1.0
    for _ in range(4 if whole_notes else 3):
        scale = max(1e-3, min((width - room[0] - room[2]) / w, (height - top - room[1] - room[3]) / h))
        view = View(scale, -left * scale, bottom * scale)
        placed = place_sizes(scene, view, label, look)
        low, high = view.up((left, bottom)), view.up((right, up))
        boxes = [p.text_box for p in placed]
        starts, ends = [low[0]], [high[0] + words_right]
        if whole_notes:  # words run out from where they stand: to the right, or to both sides, or to the left
            starts = [view.up(e.at)[0] - wide * (e.align + 1) / 2 for e, wide in said]
            ends = [start + wide for start, (_, wide) in zip(starts, said, strict=True)]
        room = [
            margin + max(0.0, low[0] - min((*(b[0] for b in boxes), *starts), default=low[0])),
            margin + max(0.0, low[1] - min((b[1] for b in boxes), default=low[1])),
            margin + max((0.0, *(b[2] - high[0] for b in boxes), *(end - high[0] for end in ends))),
            margin + max(0.0, max((b[3] for b in boxes), default=high[1]) - high[1]),
        ]
    free_x, free_y = width - room[0] - room[2] - w * scale, height - top - room[1] - room[3] - h * scale
    return View(scale, room[0] + free_x / 2 - left * scale, top + room[3] + free_y / 2 + up * scale)


def _words_widths(scene: Scene, look: PaintStyle) -> list[tuple[Note, float]]:
    """Notes with the pixels they need."""
    metrics = QFontMetricsF(font(look.letters * 0.9))
    return [(e, metrics.horizontalAdvance(e.text)) for e in scene.elements if isinstance(e, Note)]


def element_path(e: Line | Arc | Path, view: View) -> QPainterPath:
    """An element in pixels."""
    if isinstance(e, Line):
        path = QPainterPath(view.px(e.a))
        path.lineTo(view.px(e.b))
        return path
    if isinstance(e, Arc):
        path = QPainterPath()
        if e.ratio == 1.0:
            c, r = view.px(e.centre), e.radius * view.scale
            box = QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r)
            path.arcMoveTo(box, e.start_deg)
            path.arcTo(box, e.start_deg, e.end_deg - e.start_deg)
        else:
            path.addPolygon(QPolygonF([view.px(p) for p in e.points()]))
        return path
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for ring in (e.points, *e.holes):
        path.addPolygon(QPolygonF([view.px(p) for p in ring]))
        if e.closed or ring is not e.points:
            path.closeSubpath()
    return path


def paint_scene(
    painter: QPainter,
    scene: Scene,
    view: View,
    look: PaintStyle,
    placed: Sequence[PlacedDimension] = (),
    *,
    lit: frozenset[str] = frozenset(),
    lit_keys: frozenset[str] = frozenset(),
    value: Callable[[str], str] | None = None,
    hot: str = "",
    skip: str = "",
    notes: Sequence[PlacedNote] | None = None,
) -> None:
    """Paint lines, fills, words and placed sizes.

    Args:
        lit: Features to light up.
        lit_keys: Sizes to light up.
        value: Text of a figure for words that carry one.
        hot: Key of the size under the pointer or with the focus.
        skip: Key of a size not drawn, because an entry field stands there.
        notes: As they were placed beside other pictures; None: they are placed here.
    """
    paint_lines(painter, scene, view, look, lit)
    for p in placed:
        if p.dimension.key != skip:
            _paint_size(
                painter,
                p,
                look,
                hot=p.dimension.key == hot,
                lit=p.dimension.key in lit_keys or (p.dimension.feature in lit and bool(p.dimension.feature)),
            )
    if notes is None:
        notes = place_notes(scene, view.px, placed, look.letters, value, None)
    for note in notes:
        _paint_note(painter, note, view, look)


def paint_lines(painter: QPainter, scene: Scene, view: View, look: PaintStyle, lit: frozenset[str] = frozenset()) -> None:
    """Paint lines and fills, and nothing that is written; also in a thread of its own."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for e in scene.elements:
        if not isinstance(e, Note):
            _paint_element(painter, e, view, look, e.feature in lit and bool(e.feature))


def _pen(style: Style, look: PaintStyle) -> QPen:
    colour = {
        Style.HIDDEN: look.hidden,
        Style.CENTRE: look.centre,
        Style.THREAD: look.hidden,
        Style.SURROUNDINGS: look.host,
        Style.SURROUNDINGS_SECTION: look.host,
        Style.TOOL: look.tool,
        Style.PATH_GO: look.centre,
        Style.PATH_MARGINAL: look.measured,
        Style.PATH_NO_GO: look.tool,
        Style.THIN: look.thin,
    }.get(style, look.ink)
    pen = QPen(
        colour, max(0.1, _CORNERS[style] * look.stroke), Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.MiterJoin
    )
    if style is Style.HIDDEN:
        pen.setDashPattern([5, 3])
    elif style is Style.CENTRE:
        pen.setDashPattern([12, 3, 2, 3])
    elif style is Style.PATH_MARGINAL:
        pen.setDashPattern([4, 2])
    elif style is Style.BODY:
        pen = QPen(Qt.PenStyle.NoPen)
    return pen


def _paint_element(painter: QPainter, e: Element, view: View, look: PaintStyle, lit: bool) -> None:
    if isinstance(e, Note):
        return
    path = element_path(e, view)
    if isinstance(e, Path) and e.closed:
        fill = {Style.BODY: look.body, Style.SECTION: look.section, Style.SURROUNDINGS_SECTION: look.host_fill}.get(e.style)
        if e.style is Style.TOOL:
            colour = QColor(look.tool)
            colour.setAlpha(70)
            painter.fillPath(path, colour)
        elif fill is not None:
            painter.fillPath(path, fill)
            if e.style in (Style.SURROUNDINGS_SECTION, Style.SECTION):
                _hatch(
                    painter,
                    path,
                    look.host if e.style is Style.SURROUNDINGS_SECTION else look.ink,
                    look,
                    steep=e.style is Style.SECTION,
                )
    pen = _pen(e.style, look)
    if lit and e.style is not Style.BODY:
        pen.setColor(look.lit)
        pen.setWidthF(max(2.6, pen.widthF() * 1.5) * look.stroke)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def _hatch(painter: QPainter, path: QPainterPath, colour: QColor, look: PaintStyle, *, steep: bool) -> None:
    """Slanting lines over a cut face, from a tile: thousands of clipped lines would cost more than the rest of the picture."""
    if look.stroke == 1.0:
        painter.fillPath(path, QBrush(_hatch_tile(colour.rgb(), 9 if not steep else 7, steep)))
        return
    painter.save()  # paper wants real lines, at any resolution
    painter.setClipPath(path)
    box = path.boundingRect()
    soft = QColor(colour)
    soft.setAlpha(70)
    painter.setPen(QPen(soft, look.stroke))
    step = (9.0 if not steep else 7.0) * look.stroke
    x = math.floor((box.left() - box.height()) / step) * step
    run = QPainterPath()
    while x < box.right() and run.elementCount() < 8000:
        run.moveTo(x, box.bottom() if steep else box.top())
        run.lineTo(x + box.height(), box.top() if steep else box.bottom())
        x += step
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(run)
    painter.restore()


@lru_cache(maxsize=16)
def _hatch_tile(rgb: int, step: int, steep: bool) -> QImage:
    tile = QImage(step, step, QImage.Format.Format_ARGB32_Premultiplied)
    tile.fill(Qt.GlobalColor.transparent)
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    soft = QColor(rgb)
    soft.setAlpha(80)
    painter.setPen(QPen(soft, 1.1))
    for shift in (-step, 0, step):  # the neighbours' ends make the lines run through
        painter.drawLine(QLineF(shift, step, shift + step, 0) if steep else QLineF(shift, 0, shift + step, step))
    painter.end()
    return tile


def _paint_size(painter: QPainter, p: PlacedDimension, look: PaintStyle, *, hot: bool, lit: bool) -> None:
    colour = look.lit if lit or hot else look.measured if p.dimension.measured else look.brass
    if not (lit or hot) and not p.dimension.entry:
        colour = QColor(colour)
        colour.setAlpha(look.quiet)
    painter.setPen(QPen(colour, (1.6 if lit or hot else 1.1) * look.stroke))

    def q(point: Point) -> QPointF:
        return QPointF(point[0], -point[1])

    over = look.letters * 0.35
    for start, end in ((p.from_a, p.a), (p.from_b, p.b)):
        way = QLineF(q(start), q(end))
        if way.length() > 1:
            gap = look.letters * 0.25
            way.setLength(way.length() + over)
            painter.drawLine(QLineF(way.pointAt(min(0.9, gap / way.length())), way.p2()))
    a, b = q(p.a), q(p.b)
    line = QLineF(a, b)
    if p.outside:
        ends = QRectF(p.text_box[0], -p.text_box[3], p.text_box[2] - p.text_box[0], p.text_box[3] - p.text_box[1])
        tail = look.letters * 1.1
        out_a, out_b = QLineF(a, b), QLineF(b, a)
        if line.length() > 0.01:
            out_a.setLength(-tail)
            out_b.setLength(-tail)
            painter.drawLine(a, out_a.p2())
            painter.drawLine(b, out_b.p2())
        painter.drawLine(line)
        _arrow(painter, a, out_a.p2(), look)
        _arrow(painter, b, out_b.p2(), look)
        box = ends
    else:
        painter.drawLine(line)
        _arrow(painter, a, b, look)
        _arrow(painter, b, a, look)
        box = QRectF(p.text_box[0], -p.text_box[3], p.text_box[2] - p.text_box[0], p.text_box[3] - p.text_box[1])
    painter.fillRect(box, look.ground)
    if hot and p.dimension.entry:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(colour, 1.6))
        painter.drawRoundedRect(box.adjusted(-3, -2, 3, 2), 4, 4)
    painter.setPen(colour)
    painter.setFont(font(look.letters, bold=bool(p.dimension.entry) and not p.dimension.measured))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, p.text)


def _arrow(painter: QPainter, tip: QPointF, towards: QPointF, look: PaintStyle) -> None:
    way = QLineF(tip, towards)
    if way.length() < 0.01:
        return
    way.setLength(look.letters * 0.6)
    left, right = QLineF(way), QLineF(way)
    left.setAngle(way.angle() + 17)
    right.setAngle(way.angle() - 17)
    painter.drawLine(tip, left.p2())
    painter.drawLine(tip, right.p2())


def _paint_note(painter: QPainter, placed: PlacedNote, view: View, look: PaintStyle) -> None:
    note, box = placed.note, placed.box
    painter.setFont(font(placed.letters))
    colour = look.hidden if note.quiet else look.ink if note.plain else look.note
    if note.leader:
        painter.setPen(QPen(colour, 1.0 * look.stroke))
        end = view.px(note.leader)
        painter.drawLine(leader_line(box, end))
        painter.setBrush(QBrush(colour))
        painter.drawEllipse(end, 2.2 * look.stroke, 2.2 * look.stroke)
    painter.setPen(colour)
    painter.drawText(QPointF(box.left(), box.center().y() + placed.letters * 0.36), placed.text)
