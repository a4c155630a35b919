"""Where the notes of a picture are written so that none covers a number, another note, or runs off the plate."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Final

from msgspec import Struct
from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QFontMetricsF

from elbrix.app.theme.type import font
from elbrix.drawing.placing import PlacedDimension
from elbrix.drawing.scene import Note, Scene

#: A place over a line of a size is taken when every other one lies on words: it costs less than any of those.
_THROUGH = 1e-3
#: Likewise a place that another note's leader passes; a name is left out there.
_STRUCK = 0.5
#: Letters of a name over those of a size; names that stand too close are tried so much smaller, down to so many pixels.
_QUIET: Final = 0.86
_SMALLER: Final = (0.9, 0.85)
_LEGIBLE_PX: Final = 10.0
Value = Callable[[str], str] | None
_Edges = tuple[float, float, float, float]  # left, top, right, bottom, px


class PlacedNote(Struct, frozen=True):
    """A note as it is written, in pixels."""

    note: Note
    text: str
    box: QRectF
    letters: float


def leader_line(box: QRectF, end: QPointF) -> QLineF:
    """From the nearer end of a note's words to what it is about."""
    return QLineF(QPointF(box.left() - 5 if end.x() <= box.center().x() else box.right() + 5, box.center().y()), end)


def note_text(note: Note, value: Value) -> str:
    return note.text.replace("{value}", value(note.figure)) if note.figure and value else note.text


def number_boxes(placed: Sequence[PlacedDimension]) -> list[QRectF]:
    """Where the numbers of sizes stand, in pixels."""
    return [QRectF(p.text_box[0], -p.text_box[3], p.text_box[2] - p.text_box[0], p.text_box[3] - p.text_box[1]) for p in placed]


def size_lines(placed: Sequence[PlacedDimension]) -> list[QRectF]:
    """The lines of sizes and those that lead to them, two pixels wide, in pixels."""
    ends = [pair for p in placed if p.a != p.b for pair in ((p.a, p.b), (p.from_a, p.a), (p.from_b, p.b))]
    return [
        QRectF(min(a[0], b[0]) - 1, -max(a[1], b[1]) - 1, abs(a[0] - b[0]) + 2, abs(a[1] - b[1]) + 2)
        for a, b in ends
        if abs(a[0] - b[0]) < 1 or abs(a[1] - b[1]) < 1
    ]


def place_notes(
    scene: Scene,
    px: Callable[[tuple[float, float]], QPointF],
    placed: Sequence[PlacedDimension],
    letters: float,
    value: Value,
    room: QRectF | None,
    beside: Sequence[QRectF] = (),
) -> list[PlacedNote]:
    """Find a place for every note.

    What speaks of a number or a problem comes first; a name, or what is stamped on a thing, that finds no free place is left out.
    Names that stand too close are written smaller first, all of them alike.

    Args:
        px: From the scene's mm to pixels.
        placed: The sizes as they stand.
        letters: Of the sizes, px.
        room: Nothing is written outside of it; None: wherever.
        beside: What stands there of other pictures.
    """
    best = _place(scene, px, placed, letters, value, room, beside, 1.0)
    names = sum(1 for e in scene.elements if isinstance(e, Note) and e.quiet and note_text(e, value))
    for smaller in _SMALLER:
        if sum(1 for n in best if n.note.quiet) == names or letters * _QUIET * smaller < _LEGIBLE_PX:
            break
        tried = _place(scene, px, placed, letters, value, room, beside, smaller)
        best = tried if len(tried) > len(best) else best
    return best


def _place(
    scene: Scene,
    px: Callable[[tuple[float, float]], QPointF],
    placed: Sequence[PlacedDimension],
    letters: float,
    value: Value,
    room: QRectF | None,
    beside: Sequence[QRectF],
    smaller: float,
) -> list[PlacedNote]:
    taken = number_boxes(placed)
    taken += beside
    notes = [e for e in scene.elements if isinstance(e, Note)]
    walls = [_edges(box) for box in taken]
    lines = [_edges(box) for box in size_lines(placed)]
    aside = _aside([n for n in notes if n.leader and n.align < 0], taken, px, letters, value)
    leaders: list[QLineF] = []
    found: dict[int, PlacedNote] = {}
    for i, note in sorted(enumerate(notes), key=lambda pair: (pair[1].quiet, pair[1].plain, pair[0])):
        tall = letters * (_QUIET * smaller if note.quiet else 0.92)
        text = note_text(note, value)
        if not text:
            continue
        wide = QFontMetricsF(font(tall)).horizontalAdvance(text)
        at = px(note.at)
        left = at.x() + (aside if note.leader and note.align < 0 else 0.0)
        left -= wide if note.align > 0 else wide / 2 if note.align == 0 else 0.0
        first = QRectF(left, at.y() - tall * 0.62, wide, tall * 1.24)
        best, least = first, float("inf")
        for box in _tries(first, at, tall, room, aside=note.leader is None) if not note.stays else (first,):
            outside = 0.0 if room is None or room.contains(box) else 1e6
            if outside >= least:
                continue
            cost = outside + _shared(_edges(box), walls, least - outside)
            if not cost and _struck(box, leaders):
                cost = _STRUCK
            if not cost and not note.quiet and not note.plain:  # a number with a line through it reads as struck out
                cost = _THROUGH * _shared(_edges(box), lines, least)
            if cost < least:
                best, least = box, cost
            if not cost:
                break
        if least and (note.quiet or note.plain or note.stays or least >= 1e6):  # a line through a word leaves none out
            continue
        walls.append(_edges(best.adjusted(-2, 0, 2, 0)))
        if note.leader is not None:
            leaders.append(leader_line(best, px(note.leader)))
        found[i] = PlacedNote(note, text, best, tall)
    return [found[i] for i in sorted(found)]


def _edges(box: QRectF) -> _Edges:
    return box.left(), box.top(), box.right(), box.bottom()


def _shared(box: _Edges, others: Sequence[_Edges], enough: float) -> float:
    """How much of a box lies under others, px²; no longer counted from `enough` on."""
    left, top, right, bottom = box
    found = 0.0
    for a, b, c, d in others:
        if a < right and c > left and b < bottom and d > top:
            found += (min(right, c) - max(left, a)) * (min(bottom, d) - max(top, b))
            if found >= enough:
                break
    return found


def _struck(box: QRectF, leaders: Sequence[QLineF]) -> bool:
    """Whether the leader of another note passes the words of one."""
    edges = (
        QLineF(box.topLeft(), box.topRight()),
        QLineF(box.bottomLeft(), box.bottomRight()),
        QLineF(box.topLeft(), box.bottomLeft()),
        QLineF(box.topRight(), box.bottomRight()),
    )
    met = QLineF.IntersectionType.BoundedIntersection
    return any(box.contains(line.p2()) or any(line.intersects(edge)[0] == met for edge in edges) for line in leaders)


def _tries(first: QRectF, at: QPointF, tall: float, room: QRectF | None, *, aside: bool) -> Iterator[QRectF]:
    """Where a note may stand instead, nearest first: inside the room, a few lines up or down, on the other side of its place.

    Args:
        aside: Also further along its own line; with a leader that would strike the note between through.
    """
    start = first
    if room is not None:
        start = first.translated(max(0.0, room.left() - first.left()) - max(0.0, first.right() - room.right()), 0)
    yield start
    mirrored = start.translated(2 * (at.x() - start.center().x()), 0)
    for step in (1.0, 2.0, 3.0, 4.0, 5.5, 7.0):
        for box in (start, mirrored):
            yield from (box.translated(0, k * step * tall * 1.1) for k in (-1, 1))
        if aside:
            yield from (start.translated(k * step * tall * 1.5, 0) for k in (1, -1))


def _aside(
    notes: list[Note], taken: list[QRectF], px: Callable[[tuple[float, float]], QPointF], letters: float, value: Value
) -> float:
    """How far notes with a leader move to the right, all together, so that none lies on a number."""
    tall, aside = letters * 0.92, 0.0
    metrics = QFontMetricsF(font(tall))
    for box in sorted(taken, key=lambda b: b.left()):
        for note in notes:
            at = px(note.at)
            wide = metrics.horizontalAdvance(note_text(note, value)) + 16
            if QRectF(at.x() + aside - 8, at.y() - tall * 0.8, wide, tall * 1.6).intersects(box):
                aside = box.right() + tall - at.x()
    return aside
