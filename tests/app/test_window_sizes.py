"""Every window size works: measured as geometry over the whole catalogue, every setting and layout, not only looked at."""

from __future__ import annotations

from itertools import combinations

import pytest
from PyQt6.QtCore import QLineF, QRectF
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QApplication

from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.plate.drawing_view import DrawingView
from elbrix.app.plate.notes import leader_line
from elbrix.app.theme.type import font
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc
from elbrix.demo import write_demo
from elbrix.items.kind import listed_kinds

#: The smallest allowed, what laptops and desks have, and a 4K screen; 1280 × 800 at 200 % is 640 × 400 and is not allowed.
SIZES = [(980, 640), (1024, 768), (1280, 800), (1366, 768), (1920, 1080), (3840, 2160)]
#: A plate wider than this has room for every title and hint that a narrower one has, px.
ROOMY = 820


def boxes(plate: DrawingView) -> list[tuple[QRectF, str]]:
    """Where the numbers stand on the plate, in pixels."""
    found = []
    for pane in plate.panes:
        for p in pane.placed:
            left, bottom, right, top = p.text_box
            found.append((QRectF(left, -top, right - left, top - bottom), p.text))
    return found


def runs_through(line: QLineF, box: QRectF) -> bool:
    """Whether a line passes a box: a word under it reads as struck out."""
    steps = max(2, int(line.length() / 2))
    return any(box.contains(line.pointAt(k / steps)) for k in range(steps))


def check_words(plate: DrawingView, where: str) -> None:
    """The line of hints has a part that is whole, and the title is whole and stands on no tab."""
    plate.grab()  # where the tabs stand is known once they are painted
    foot = QFontMetricsF(font(12)).horizontalAdvance(plate._foot.split("   ·   ")[0])
    assert foot <= plate.width() - 32, (where, plate._foot)
    box = plate.title_box()
    assert box.width() >= QFontMetricsF(font(12, bold=True)).horizontalAdvance(plate.shown.title), (where, plate.shown.title)
    assert not any(box.intersects(tab) for tab in plate._tab_boxes), (where, plate.shown.title)


def check(plate: DrawingView, where: str) -> None:
    main = plate.panes[0]
    if plate.width() <= ROOMY:
        check_words(plate, where)
    if not main.scene.elements:
        return
    assert main.share >= 0.3, (where, main.share)  # the thing, and not a speck of it
    view = QRectF(plate.rect())
    left, bottom, right, top = main.scene.bounds()
    corners = [main.view.px(p) for p in ((left, bottom), (right, top))]
    assert all(view.adjusted(-1, -1, 1, 1).contains(c) for c in corners), where
    for pane in plate.panes[1:]:
        assert pane.longest_px >= 40, (where, pane.longest_px)  # a second picture that shows nothing is given up
    for pane, notes in zip(plate.panes, plate.notes(), strict=True):
        leaders = {n.text: leader_line(n.box, pane.view.px(n.note.leader)) for n in notes if n.note.leader is not None}
        for n in notes:
            written = n.box.adjusted(3, 3, -3, -3)
            struck = [text for text, line in leaders.items() if text != n.text and runs_through(line, written)]
            assert not struck, (where, n.text, struck)
            assert not n.note.stays or abs(n.box.center().y() - pane.view.px(n.note.at).y()) < 1, (where, n.text)
    texts = boxes(plate) + [(n.box, n.text) for notes in plate.notes() for n in notes]
    for box, text in texts:
        assert view.contains(box), (where, text)
    for (a, first), (b, second) in combinations(texts, 2):
        both = a.adjusted(1, 2, -1, -2).intersected(b.adjusted(1, 2, -1, -2))
        assert both.isEmpty(), (where, first, second)


@pytest.fixture(scope="module")
def shown(tmp_path_factory: pytest.TempPathFactory, qapp: QApplication) -> Window:
    from elbrix.app.session import Session

    window = Window(Session(write_demo(tmp_path_factory.mktemp("sizes") / "demo.elbrix")))
    window.show()
    return window


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("size", SIZES, ids=lambda s: f"{s[0]}x{s[1]}")
def test_the_plate_keeps_its_drawing(size: tuple[int, int], unit: str, shown: Window) -> None:
    session = shown.session
    session.set_unit(unit)
    shown.resize(*size)
    QApplication.processEvents()
    for kind, bench in ((DesignDoc, "design"), (AngleDoc, "angles"), (LayoutDoc, "hold"), (InspectionDoc, "inspect")):
        shown.open_bench(bench)
        for doc in session.book.all(kind):
            session.take(kind, doc.id)
            shown.bench.plate.fit()
            check(shown.bench.plate, f"{doc.id} {size} {unit}")
    bench = shown.open_bench("shop") or shown.benches["shop"]
    assert isinstance(bench, ShopBench)
    lists = (*listed_kinds(), *(m.id for m in session.shop.machines)) if size[0] <= 1366 else ()  # wider ones only have more room
    for what in lists:
        bench.see(what)
        bench.plate.fit()
        if not bench.plate.shown.message:
            check(bench.plate, f"{what} {size} {unit}")
