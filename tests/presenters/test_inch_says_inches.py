"""The same thing said in mm and in inches: a number that stands in both is no length, or it was forgotten.

Everything the benches say of everything in the demo shop, line against line. What may stay is named: threads, angles, forces,
ratios, gauge blocks by their names, and what somebody wrote.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from elbrix.answers.ask import ask, world_of
from elbrix.book.documents import AngleDoc, DesignDoc, InspectionDoc, JobDoc, LayoutDoc, shop_of
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.drawing.scene import Note
from elbrix.items.kind import listed_kinds
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.ask import answer_card, result_text
from elbrix.presenters.card import CardView
from elbrix.presenters.catalogue import CataloguePresenter
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import HoldPresenter
from elbrix.presenters.inspect import InspectPresenter
from elbrix.presenters.make import MakePresenter
from elbrix.presenters.plate import PlateView
from elbrix.presenters.shop.presenter import ShopPresenter
from elbrix.quantities.lengths import INCH, METRIC, UnitStyle
from elbrix.shop.tooling import CutterKind

PAGE = Path(__file__).parents[2] / "docs" / "questions.md"
QUESTIONS = [
    line.strip("| \n").split("|")[0].strip()
    for line in PAGE.read_text(encoding="utf-8").splitlines()
    if line.startswith("| ") and line.count("|") == 4 and not line.startswith("| Question")
]
DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = tuple(d for d in DOCS if isinstance(d, DesignDoc))
DECIMAL = re.compile(r"(?<![\w.])-?\d+\.\d+(?!\w)")
#: Behind a number: what says that it is no length, or in which unit it is.
UNITS = re.compile(
    r"\s*(°|N·m|kN|N\b|%|µm|″|′|kg|g\b|K\b|mm/m|mm\b|mm²|cm³|MPa|deg|×|turns|s a turn|years|times|± [\d.]+ (′|″|mm/m))"
)
#: Before a number: a thread, a class of strength, a friction, a factor, an inch size by name.
NAMES = re.compile(
    r"(M\d+(\.\d+)? ?[×x] ?|µ |factor \| |friction \| |coefficient \| |class \| |\bx ?|8\.8, |drill |Drill |Spot for Ø)$"
)
#: Lines that are names and words of the toolmaker, or gauge blocks by their own lengths.
OWN_WORDS = re.compile(
    r"^(Notes|Name|Blocks|Stack|Property class|Stud class|[\w ]*[Ss]tack blocks|\d+ blocks|[A-Z]   \d{4}-|Step \d+: )"
)


def lines(card: CardView) -> Iterator[str]:
    for section in card.sections:
        yield from (section.title, section.hint, section.text)
        for row in section.rows:
            yield f"{row.label} | {row.value} {row.unit}"
        yield from (f"{b.text} {b.tip}" for b in section.buttons)


def pictures(view: PlateView) -> Iterator[str]:
    yield from (view.title, view.footer, view.message)
    for scene in view.scenes:
        yield from (e.text for e in scene.elements if isinstance(e, Note))
        yield from (view.label(d) for d in scene.dimensions)


def proof(p: Any) -> Iterator[str]:
    for tile in p.tiles():
        yield f"{tile.label} | {tile.value} | {tile.reason}"
        why = p.why(tile.key)
        if why is not None:
            yield from (why.title, why.reason, why.critical, why.fix)


def all_of(p: Any) -> list[str]:
    said = [*lines(p.card()), *proof(p)]
    return said + (list(pictures(p.plate())) if hasattr(p, "plate") else [])


#: A gauge block is called by its length: on the plan of a box, or with what is the matter with it.
BLOCK = re.compile(r"^(×?[\d.]+|\d[\d.]* (worn|lent out).*)$")


#: A cutter by its own size: "end mill Ø1" is one of an inch to who reads inches.
CUTTER = re.compile(
    rf"\b({'|'.join(k.value for k in CutterKind)}|edge finder) Ø([\d.]*\d)(?: × [\d.]+)?(?: R[\d.]+)?(?![\d.]*\d| mm)",
    re.IGNORECASE,
)


def nameless(b: str) -> bool:
    """Whether a cutter stands in a line with no unit; what has four decimals is a length that was turned into inches."""
    return any(not re.search(r"\.\d{4}", m[2]) for m in CUTTER.finditer(b))


def left_in_mm(metric: list[str], inch: list[str]) -> list[str]:
    """Lines of the inch look with a decimal that the metric look has as well, and nothing that excuses it."""
    assert len(metric) == len(inch)
    found = []
    for a, b in zip(metric, inch, strict=True):
        if nameless(b):
            found.append(f"no unit in: {b}")
        numbers = set(DECIMAL.findall(a))
        if not numbers or OWN_WORDS.match(b) or (BLOCK.match(b) and a == b):
            continue
        for m in DECIMAL.finditer(b):
            zero = float(m[0]) == 0
            if m[0] in numbers and not zero and not UNITS.match(b, m.end()) and not NAMES.search(b[: m.start()]):
                found.append(f"{m[0]} in: {b}")
    return found


def both(make: Callable[[UnitStyle], Any]) -> tuple[list[str], list[str]]:
    return all_of(make(METRIC)), all_of(make(INCH))


@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_a_design(doc: DesignDoc) -> None:
    assert not left_in_mm(*both(lambda style: DesignPresenter(doc, SHOP, style)))


@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, AngleDoc)], ids=lambda d: d.id)
def test_a_setting(doc: AngleDoc) -> None:
    assert not left_in_mm(*both(lambda style: AnglesPresenter(doc, SHOP, style)))


@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, LayoutDoc)], ids=lambda d: d.id)
def test_a_layout(doc: LayoutDoc) -> None:
    assert not left_in_mm(*both(lambda style: HoldPresenter(doc, SHOP, style, designs=DESIGNS)))


@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, InspectionDoc)], ids=lambda d: d.id)
def test_an_inspection(doc: InspectionDoc) -> None:
    assert not left_in_mm(*both(lambda style: InspectPresenter(doc, SHOP, style, DESIGNS)))


@pytest.mark.parametrize("doc", DESIGNS[::3], ids=lambda d: d.id)
def test_a_plan(doc: DesignDoc) -> None:
    metric, inch = (MakePresenter(doc, SHOP, s, JobDoc(id="j", design=doc.id)) for s in (METRIC, INCH))
    assert not left_in_mm(list(proof(metric)), list(proof(inch)))
    for a, b in zip(metric.lines(), inch.lines(), strict=True):
        one, other = ([line.words, line.caution, line.ask, line.setup] for line in (a, b))
        assert not [m for m in left_in_mm(one, other) if "turns short" not in m]


@pytest.fixture(scope="module")
def demo_book(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Book]:
    book = write_demo(Path(tmp_path_factory.mktemp("demo")) / "demo.elbrix")
    yield book
    book.close()


@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_an_item_of_the_catalogue(demo_book: Book, doc: DesignDoc) -> None:
    """What it can hold and why it fits a slot or not was said in mm to everybody."""
    assert not left_in_mm(*both(lambda style: CataloguePresenter(demo_book, style, demo_book.get(DesignDoc, doc.id))))


@pytest.mark.parametrize("what", [*(m.id for m in SHOP.machines), *listed_kinds()])
def test_what_is_judged_in_the_shop(what: str) -> None:
    for thing in ShopPresenter(SHOP, METRIC, what, "", "").things[:5] or (None,):
        metric, inch = (ShopPresenter(SHOP, s, what, thing.id if thing else "", "") for s in (METRIC, INCH))
        left = left_in_mm(list(proof(metric)), list(proof(inch)))
        names = [getattr(t, "title", "") or getattr(t, "name", "") for t in metric.things]
        assert not [m for m in left if not any(n and n in m for n in names)], what


#: What stays as it was asked: in metres, feet, pounds; in a table of units.
OTHER_UNITS = re.compile(r"Radians|m/min|ft|lb|oz|thou|kN|\bin\b|[Ss]tack")


@pytest.mark.parametrize("question", QUESTIONS)
def test_an_answer_of_ask(demo_book: Book, question: str) -> None:
    """How far off the nearest drill on the rack is was said in mm to everybody."""
    answer = ask(question, world_of(demo_book))
    metric, inch = ([result_text(answer, s), *lines(answer_card(answer, s))] for s in (METRIC, INCH))
    assert not [m for m in left_in_mm(metric, inch) if not OTHER_UNITS.search(m.split(": ", 1)[1])]
    assert "\u2063" not in "".join((*metric, *inch))


def test_it_would_be_noticed() -> None:
    assert left_in_mm(["Rod contact | 6.29 of 9 "], ["Rod contact | 6.29 of 9 "])
    assert not left_in_mm(["Thread | M10 × 1.5 "], ["Thread | M10 × 1.5 "])
    assert not left_in_mm(["Tilt | 32.5°"], ["Tilt | 32.5°"])
    assert left_in_mm(["mill with the end mill Ø1"], ["mill with the end mill Ø1"])
    assert not left_in_mm(["the end mill Ø1, drill Ø6.8"], ["the end mill Ø1 mm, drill Ø0.2677"])
    assert left_in_mm(["tightest neck 12.05"], ["tightest neck 12.05"])
