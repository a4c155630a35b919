"""Draws any main view without a screen."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import Final

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtGui import QImage

from elbrix.app.benches.angles.view import AnglesBench
from elbrix.app.benches.design.view import DesignBench
from elbrix.app.benches.inspect.view import InspectBench
from elbrix.app.benches.make.view import MakeBench
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.paper.output import page_image
from elbrix.app.plate.thumbnail import thumbnails_waiting
from elbrix.app.session import Session
from elbrix.app.start import application
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, LayoutDoc
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.quantities.errors import ShopError

VIEWS: Final = {
    "shop": "the table of a machine and its slots",
    "shop-measuring": "measuring a slot, with the caliper",
    "shop-rack": "the bars on the rack",
    "shop-cutters": "the cutters",
    "shop-blocks": "a set of gauge blocks in its box",
    "design": "a T-nut in its slot",
    "design-views": "V-jaws, front, top and side",
    "design-plate": "a rotary plate for segments on its table",
    "design-nest": "soft jaws with a nest that follows the work",
    "design-stop": "a quill depth stop with its gauge stack",
    "design-tilt": "a tilting plate in the vise",
    "design-section": "cut open",
    "design-solid": "shaded",
    "design-failing": "a design that fails, and why",
    "design-shelf": "what can be made",
    "design-sine-plate": "a sine plate on its stack",
    "design-sine-plate-views": "the sine plate from three sides",
    "angles": "an angle set on a sine plate, with the blocks that are here",
    "angles-two-tilts": "a face that leans two ways",
    "angles-v": "a V over a pin",
    "angles-dovetail": "a dovetail over rods",
    "angles-cut": "a tilted cut",
    "angles-circle": "holes on a circle",
    "angles-height": "a height in gauge blocks",
    "angles-new": "what can be set",
    "hold": "a round plate under straps, with the margin along the path",
    "hold-vise": "work in the vise",
    "hold-plate": "work on a fixture plate with pins",
    "ask": "a question and its answer",
    "make": "the cutting plan",
    "make-slip": "a number keyed wrong, before there is metal",
    "make-handwheels": "a machine's handwheels, turned for practice",
    "make-together": "several accessories made in one go",
    "make-at-machine": "one move, readable from two metres",
    "inspect": "a head swept, and which way to tap it",
    "inspect-flatness": "a face measured on a grid",
    "inspect-slots": "every slot of a table",
    "inspect-jaw": "a vise jaw run along",
    "inspect-as-made": "a piece against its drawing",
    "inspect-new": "what can be looked at",
    "catalogue": "what was made",
    "paper-drawing": "the drawing as printed",
    "paper-route-card": "the route card as printed",
    "paper-label": "the drawer label as printed",
    "paper-setting-card": "the setting card as printed",
    "paper-hold-card": "the setting card of a layout as printed",
    "paper-inspection-sheet": "an inspection as printed",
}
#: Left out of the pictures in the documentation, which has one of each main view.
SIDE_VIEWS: Final = frozenset(
    {
        "shop-rack",
        "shop-cutters",
        "shop-blocks",
        "design-stop",
        "design-tilt",
        "paper-label",
        "paper-setting-card",
        "design-views",
        "angles-two-tilts",
        "design-sine-plate-views",
        "design-section",
        "design-solid",
        "angles-v",
        "angles-dovetail",
        "angles-cut",
        "angles-circle",
        "angles-height",
        "angles-new",
        "design-plate",
        "inspect",
        "inspect-slots",
        "inspect-jaw",
        "inspect-as-made",
        "inspect-new",
        "paper-inspection-sheet",
        "hold-plate",
        "hold-vise",
        "paper-hold-card",
    }
)


def draw_pictures(
    targets: dict[str, Path], book: Path | None, scratch: Path, size: tuple[int, int], unit: str, *, dim: bool = False
) -> None:
    """Draw views into files.

    Args:
        targets: View name → file.
        book: A book to show; None for the demo shop.
        scratch: A folder for a copy, so that looking never changes anything.

    Raises:
        ShopError: An unknown view or a file that cannot be written.
    """
    unknown = [v for v in targets if v not in VIEWS]
    if unknown:
        raise ShopError("Picture", f"there is no view “{unknown[0]}”", "There are: " + ", ".join(VIEWS), "Pick one of those")
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app = application()
    copy = scratch / "picture.elbrix"
    if book is None:
        opened = write_demo(copy)
    else:
        Book.open(book).close()
        copy.write_bytes(book.read_bytes())
        opened = Book.open(copy)
    window = Window(Session(opened))
    window.session.set_unit(unit)
    window.session.set_dim(dim)
    window.resize(*size)
    window.show()
    try:
        for view, path in targets.items():
            image = _draw(window, view)
            path.parent.mkdir(parents=True, exist_ok=True)
            if not image.save(str(path)):
                raise ShopError(
                    "Picture",
                    f"{path} cannot be written",
                    "The folder is not there or may not be written to",
                    "Choose another place",
                )
    finally:
        window.close()
        app.processEvents()


def _wait(ms: int) -> None:
    loop = QEventLoop()
    QTimer.singleShot(ms, loop.quit)
    loop.exec()


def settle(window: Window, seconds: float = 15.0) -> None:
    """Let the window and the kernel finish what they are at."""
    end = time.monotonic() + seconds
    _wait(30)
    while (
        window.session.kernel.busy or window.bench.catching_up or window.ask.busy or thumbnails_waiting()
    ) and time.monotonic() < end:
        _wait(20)
    _wait(60)


def _draw(window: Window, view: str) -> QImage:
    bench, _, part = view.partition("-")
    if bench == "paper":
        return _paper(window, part)
    window.open_bench("angles" if bench == "ask" else bench)
    prepare: dict[str, Callable[[Window], None]] = {
        "shop": lambda w: _shop(w).see(w.session.shop.machines[0].id if w.session.shop.machines else ""),
        "shop-measuring": _measuring,
        "shop-rack": lambda w: _shop(w).see("rack"),
        "shop-cutters": lambda w: _shop(w).see("cutters"),
        "shop-blocks": _blocks,
        "design": lambda w: _design(w, 0),
        "design-views": lambda w: _design(w, 1, "v-jaws"),
        "design-plate": lambda w: _design(w, 0, "plate-segments"),
        "design-nest": lambda w: _design(w, 0, "jaws-foot"),
        "design-stop": lambda w: _design(w, 0, "stop-quill"),
        "design-tilt": lambda w: _design(w, 0, "tilting-plate"),
        "design-section": lambda w: _design(w, 2),
        "design-solid": lambda w: _design(w, 3),
        "design-sine-plate": lambda w: _design(w, 0, "sine-plate"),
        "design-sine-plate-views": lambda w: _design(w, 1, "sine-plate"),
        "angles": lambda w: _angle(w, "angle-gnomon"),
        "angles-two-tilts": lambda w: _angle(w, "angle-declining"),
        "angles-v": lambda w: _angle(w, "angle-v"),
        "angles-dovetail": lambda w: _angle(w, "angle-dovetail"),
        "angles-cut": lambda w: _angle(w, "angle-edge"),
        "angles-circle": lambda w: _angle(w, "angle-hours"),
        "angles-height": lambda w: _angle(w, "angle-height"),
        "angles-new": _angle_new,
        "ask": _ask,
        "hold": lambda w: _hold(w, "hold-dial"),
        "hold-vise": lambda w: _hold(w, "hold-wedge"),
        "hold-plate": lambda w: _hold(w, "hold-yoke"),
        "design-failing": _failing,
        "design-shelf": lambda w: w.new_design(),
        "make": _make,
        "make-slip": _slip,
        "make-handwheels": _handwheels,
        "make-together": _together,
        "make-at-machine": _at_machine,
        "inspect": lambda w: _inspect(w, "tram-hazel"),
        "inspect-flatness": lambda w: _inspect(w, "flat-plate"),
        "inspect-slots": lambda w: _inspect(w, "slots-hazel"),
        "inspect-jaw": lambda w: _inspect(w, "jaw-vise"),
        "inspect-as-made": lambda w: _inspect(w, "made-t-nut-hazel"),
        "inspect-new": _inspect_new,
        "catalogue": lambda w: _pick(w, "t-nut-hazel"),
    }
    prepare[view](window)
    settle(window)
    image = window.grab().toImage()
    window.ask.close_panel()
    window.ask.clear()
    make = window.benches["make"]
    if isinstance(make, MakeBench):
        make.leave_machine()
        make.leave()
        if view == "make-slip":
            make.keyed(make.current, "Y", "")
    _shop(window).stop_measuring()
    return image


def _shop(window: Window) -> ShopBench:
    bench = window.benches["shop"]
    assert isinstance(bench, ShopBench)
    return bench


def _pick(window: Window, id: str) -> None:
    """A design of the demo when it is there, else whatever is in hand."""
    if window.session.book.get(DesignDoc, id) is not None:
        window.session.pick_design(id)


def _design(window: Window, tab: int, id: str = "t-nut-hazel") -> None:
    bench = window.benches["design"]
    assert isinstance(bench, DesignBench)
    bench.hide_shelf()
    bench.close_why()
    _pick(window, id)
    bench.plate.tab_picked.emit(tab)


def _blocks(window: Window) -> None:
    bench = _shop(window)
    bench.see("blocks")
    bench.plate.clicked.emit("block 1.11")


def _angle(window: Window, id: str) -> None:
    """A setting of the demo when it is there, else whatever is in hand."""
    if window.session.book.get(AngleDoc, id) is not None:
        window.session.take(AngleDoc, id)


def _angle_new(window: Window) -> None:
    bench = window.benches["angles"]
    assert isinstance(bench, AnglesBench)
    bench.choose()


def _hold(window: Window, id: str) -> None:
    """A layout of the demo when it is there, else whatever is in hand."""
    if window.session.book.get(LayoutDoc, id) is not None:
        window.session.take(LayoutDoc, id)


def _inspect(window: Window, id: str) -> None:
    """An inspection of the demo when it is there, else whatever is in hand."""
    if window.session.book.get(InspectionDoc, id) is not None:
        window.session.take(InspectionDoc, id)


def _inspect_new(window: Window) -> None:
    bench = window.benches["inspect"]
    assert isinstance(bench, InspectBench)
    bench.choose()


def _ask(window: Window) -> None:
    _angle(window, "angle-gnomon")
    window.ask.setText("sine 53d14m on 100 to 2'")
    window.ask.open()


def _failing(window: Window) -> None:
    _design(window, 0, "t-nut-first")
    settle(window)
    window.bench.open_why("top_below")


def _measuring(window: Window) -> None:
    machine = next((m for m in window.session.shop.machines if any(not s.measured for s in m.slots)), None)
    if machine is not None:
        _shop(window).see(machine.id)
        _shop(window).pick(f"slot {next(s.label for s in machine.slots if not s.measured)}")
    _shop(window).start_measuring()


def _make(window: Window) -> None:
    _pick(window, "t-nut-hazel")
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    bench.close_why()
    if bench.presenter is not None:
        bench._pick(
            next((m.id for _, _, m in bench.presenter.moves if m.id == "shoulder.far.finish2"), bench.presenter.first_open())
        )


def _slip(window: Window) -> None:
    """Half the cutter forgotten on the second wall of the neck."""
    _make(window)
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    bench.keyed(bench.current, "Y", "5.85")


def _handwheels(window: Window) -> None:
    """A wall come to from the wrong side on a machine without a readout."""
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    _pick(window, "t-nut-pip")
    machine = next((m.id for m in window.session.shop.machines if not m.readout_step_mm and m.axes), "")
    bench.moves.option_picked.emit("machine", machine)
    bench.moves.picked.emit("shoulder.far.finish2")
    bench.plate.tab_picked.emit(1)
    slides = bench.turning.wheels.slides if bench.turning.wheels is not None else None
    if slides is None or "Y" not in slides.wheels:
        return
    wheel, wanted = slides.wheels["Y"], next(p.dial.set_mm for p in slides.positions if p.axis == "Y")
    bench.turning.panel.turned.emit("Y", round((wanted - wheel.dial_mm) / wheel.wheel.division_mm) + 40)
    bench.turning.panel.turned.emit("Y", -40)
    _wait(1500)  # a slide that has stopped is told where it stands


def _together(window: Window) -> None:
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    _pick(window, "t-nut-hazel")
    doc = window.session.design
    if doc is None:
        return
    there = window.session.job_of(doc).together
    for other in ("t-nut-tam", "t-nut-clover", "table-keys"):
        if other not in there and window.session.book.get(DesignDoc, other) is not None:
            bench.moves.option_picked.emit("together", other)
    bench.moves.batch_button.click()


def _at_machine(window: Window) -> None:
    _make(window)
    bench = window.benches["make"]
    assert isinstance(bench, MakeBench)
    bench.at_machine()


def _paper(window: Window, part: str) -> QImage:
    key = {
        "drawing": "design",
        "route-card": "make",
        "label": "catalogue",
        "setting-card": "angles",
        "hold-card": "hold",
        "inspection-sheet": "inspect",
    }[part]
    bench = window.benches[key]
    window.open_bench(key)
    _angle(window, "angle-gnomon")
    _pick(window, "t-nut-hazel")
    pages = bench.pages()
    if pages is None:
        raise ShopError("Picture", "there is nothing to print", "The book has no design that solves", "Design something first")
    return page_image(pages, 0, 1280 if part != "label" else 900)


__all__ = ["VIEWS", "draw_pictures", "settle"]
