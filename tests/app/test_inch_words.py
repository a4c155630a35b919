"""In an inch shop every sentence of every demo item is in inches: cards, tiles, reasons, choices and moves."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication

from elbrix.app.session import Session
from elbrix.app.window import Window
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, JobDoc, LayoutDoc, shop_of
from elbrix.demo import documents, write_demo
from elbrix.parameters.parameter import Kind
from elbrix.presenters.acts import Act, Verb
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.card import CardView
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.make import MakePresenter
from elbrix.presenters.proof import Tile, Why
from elbrix.quantities.lengths import INCH, METRIC

DOCS = documents()
SHOP = shop_of(DOCS)
ITEMS = [d for d in DOCS if isinstance(d, DesignDoc | AngleDoc | LayoutDoc | InspectionDoc)]
#: What keeps its millimetres: names, metric stock and metric blocks, slopes, stiffness, rates that name their own step.
OWN = re.compile(
    r"1(25|00) mm (vise|sine plate)|[\d.]+ mm (shank|pitch)|N/mm|mm/m|per 0\.0?1 mm|hand lengthens 50 mm"
    # A metric bar keeps its name, and a cutter.
    r"|(mill|cutter|saw|drill|Drill|countersink|reamer|finder) Ø[\d.]+( × [\d.]+)?( R[\d.]+)? mm|\d+ mm caliper"
    r"|(Ø[\d.]+|[\d.]+ × [\d.]+) mm (bright|ground|rolled|sawn)|[\d.]+ mm hexagon"
    r"|(Step \d+: )?[\d.]+ mm:? +(Wring|Lay [\d.]+ down)[^\n]*"
)


def of_card(card: CardView) -> Iterator[str]:
    for section in card.sections:
        yield from (section.title, section.hint, section.text)
        for row in section.rows:
            yield f"{row.label} {row.unit} {row.value}"
            yield f"{row.label}: {row.value} {row.unit}"
        yield from (button.text for button in section.buttons)


def of_tiles(tiles: tuple[Tile, ...], why: Callable[[str], Why | None]) -> Iterator[str]:
    for tile in tiles:
        yield from (tile.label, tile.value, tile.reason)
        told = why(tile.key)
        if told is not None:
            yield from (told.title, told.reason, told.critical, told.fix)


def sentences(doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc) -> Iterator[str]:
    if isinstance(doc, DesignDoc):
        make = MakePresenter(doc, SHOP, INCH, JobDoc(id="j", design=doc.id))
        yield make.subtitle()
        yield from of_tiles(make.tiles(), make.why)
        for _, words, choices in make.options():
            yield from (words, *(text for _, text in choices))
        for line in make.lines():
            yield from (line.words, line.tool, line.caution, line.ask, *line.details)
        shown: DesignPresenter | AnglesPresenter | HoldPresenter | InspectPresenter = DesignPresenter(doc, SHOP, INCH)
    elif isinstance(doc, LayoutDoc):
        shown = HoldPresenter(doc, SHOP, INCH)
    elif isinstance(doc, AngleDoc):
        shown = AnglesPresenter(doc, SHOP, INCH)
    else:
        shown = InspectPresenter(doc, SHOP, INCH)
    yield shown.subtitle()
    yield from of_card(shown.card())
    yield from of_tiles(shown.tiles(), shown.why)


@pytest.mark.parametrize("doc", ITEMS, ids=lambda d: d.id)
def test_no_millimetre_is_left(doc: DesignDoc | AngleDoc | LayoutDoc | InspectionDoc) -> None:
    for text in sentences(doc):
        assert not re.search(r"\bmm\b", OWN.sub("", text)), text


@pytest.mark.parametrize("number", range(0, 60, 6))
def test_what_a_rehearsal_finds_is_said_in_inches(number: int) -> None:
    """A slip in a number of the T-nut's card: what it is taken for, where the metal is hurt and by how much."""
    doc = next(d for d in DOCS if isinstance(d, DesignDoc) and d.id == "t-nut-hazel")
    make = MakePresenter(doc, SHOP, INCH, JobDoc(id="j", design=doc.id))
    assert make.plan is not None
    cutting = [(m, p) for _, o, m in make.plan.moves if m.strokes and o.tool for p in m.positions]
    move, position = cutting[number % len(cutting)]
    slipped = make.with_keyed(move.id, position.axis, f"{position.dial.set_mm / 25.4 + 0.1:.4f}")
    wrong = MakePresenter(doc, SHOP, INCH, slipped)
    wrong.heard = wrong.rehearse_slips()
    assert wrong.heard is not None and not wrong.heard.clean
    for text in (*of_tiles(wrong.tiles(), wrong.why), wrong.plate(move.id).footer):
        assert not re.search(r"\bmm\b", OWN.sub("", text)) and "\u2063" not in text, text


def typed(window: Window, bench: str, key: str, text: str) -> str:
    """The message beside an entry of a card."""
    card = window.benches[bench].card
    card.typed.emit(key, text)
    shown = card.rows[key]._error
    return shown.text() if shown is not None else ""


def test_a_refusal_beside_an_entry_is_in_inches(qapp: QApplication, tmp_path: Path) -> None:
    """Out of limits on every bench: the limits are those one could type."""
    session = Session(write_demo(tmp_path / "w.elbrix"))
    session.set_unit("in")
    window, heard = Window(session), []
    for bench, named, text in (
        ("shop", "neck", "900"),
        ("design", "", "90000"),
        ("angles", "", "90000"),
        ("hold", "", "90000"),
        ("inspect", "", "90000"),
        ("catalogue", "made neck_width", "900"),
    ):
        window.open_bench(bench)
        if bench == "shop":
            window.bench.pick(Act(Verb.SEE, "hazel").key)  # type: ignore[attr-defined]
            window.bench.pick(Act(Verb.SLOT, "middle slot").key)  # type: ignore[attr-defined]
        rows = window.bench.card.rows
        known = getattr(getattr(window.bench, "presenter", None), "parameters", {})
        lengths = [k for k in rows if k in known and known[k].kind is Kind.LENGTH and rows[k].row.edit == "text"]
        key = named or next(iter(lengths), "")
        if key not in rows:
            continue
        said = typed(window, bench, key, text)
        assert said and "\u2063" not in said and not re.search(r"\d ?mm\b", said), (bench, said)
        heard.append(bench)
    assert len(heard) > 3, heard
    window.close()


def test_what_a_dial_cannot_set_is_said_in_its_own_unit() -> None:
    """Five places of an inch stand for the tenth of a micron that mm are said in; a minus is a minus."""
    doc = next(d for d in DOCS if isinstance(d, DesignDoc) and d.id == "t-nut-hazel")
    seen = 0
    for style, unit, per in ((INCH, "in", 25.4), (METRIC, "µm", 0.001)):
        make = MakePresenter(doc, SHOP, style, JobDoc(id="j", design=doc.id))
        for (_, _, move), line in zip(make.moves, make.lines(), strict=True):
            for text in (t for t in line.details if "the dial sets" in t):
                axis, said = text.partition(":")[0], re.search(r"the dial sets ([+−][0-9.]+) (\S+) off", text)
                assert said is not None and said[2] == unit and "-" not in text, text
                off = next(p.dial.off_mm for p in move.positions if p.axis == axis)
                assert float(said[1].replace("−", "-")) * per == pytest.approx(off, abs=0.00015)
                seen += unit == "in"
    assert seen > 5
