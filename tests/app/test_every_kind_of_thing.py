"""Everything a shop has can be entered, changed, undone, exported, imported, found by Ask and drawn: also a kind that is new."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication

from elbrix import items
from elbrix.answers.ask import ask, world_of
from elbrix.app.benches.shop.view import ShopBench
from elbrix.app.window import Window
from elbrix.book import documents
from elbrix.book.items_file import export_text, import_items, read_items
from elbrix.book.store import Book
from elbrix.demo import write_demo
from elbrix.drawing.scene import Note
from elbrix.items.kind import ItemKind, item_kinds, listed_kinds
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import ShopError
from elbrix.shop.machines import Machine
from elbrix.shop.slots import TSlot

A_NEW_MODULE = '''
"""Magnets, a kind this version never heard of."""
from msgspec import Struct
from elbrix.drawing.scene import Arc, Scene
from elbrix.items.kind import ItemKind, number_of
from elbrix.parameters.parameter import Kind, Parameter


class Magnet(Struct, frozen=True, kw_only=True):
    id: str
    diameter_mm: float = 20.0
    pull_n: float = 100.0
    count: int = 1

    @property
    def title(self) -> str:
        return f"magnet {self.diameter_mm:g}"


KIND = ItemKind(
    kind="magnet", key="magnets", title="Magnets", order=99, type=Magnet, count=number_of,
    new=lambda id, variant: Magnet(id=id),
    scene=lambda shop, item, part: (Scene("m", "Magnets", (Arc((0, 0), item.diameter_mm / 2, feature=item.id),)), "To scale"),
    parameters=(
        Parameter(name="diameter_mm", label="Diameter", kind=Kind.LENGTH, low=2, high=200),
        Parameter(name="pull_n", label="Pull", kind=Kind.NUMBER, unit="N", low=1, high=9000),
        Parameter(name="count", label="Quantity", kind=Kind.COUNT, unit="", low=0, high=99),
    ),
)
'''


def _forget() -> None:
    for cached in (item_kinds, listed_kinds, documents.kinds, documents._kinds_by_type):
        cached.cache_clear()


@pytest.fixture
def with_magnets(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    (tmp_path / "magnet.py").write_text(A_NEW_MODULE)
    monkeypatch.setattr(items, "__path__", [*items.__path__, str(tmp_path)])
    _forget()
    yield
    monkeypatch.undo()
    sys.modules.pop("elbrix.items.magnet", None)
    _forget()


@pytest.fixture
def bench(window: Window) -> ShopBench:
    window.open_bench("shop")
    found = window.benches["shop"]
    assert isinstance(found, ShopBench)
    return found


#: For each sort of field, something else that may be typed.
_OTHER = {Kind.TEXT: "other words", Kind.THREAD: "M12", Kind.COUNTS: "90, 400", Kind.DATE: "2024-02-29"}


def _another(kind: ItemKind, item: object, name: str, unit: str) -> str:
    p = kind.parameter(name)
    assert p is not None
    now = kind.entry_text(p, item, unit)
    if p.kind is Kind.CHOICE:
        return next(v for v, _ in p.choices if v != now)
    if p.kind is Kind.ANGLE:
        return f"{getattr(item, name) + 0.25}"
    if p.kind in _OTHER:
        return _OTHER[p.kind]
    if p.kind is Kind.COUNT:
        return str(int(now) + 1)
    return f"{float(now) * 1.01 + (0.01 if unit == 'mm' else 0.0005):.4f}"


def _goes_all_the_way(bench: ShopBench, kind: ItemKind, unit: str, tmp_path: Path) -> None:
    session = bench.session
    session.set_unit(unit)
    bench.see(kind.key)
    before = kind.of(session.shop)
    if kind.variants is not None:
        bench.add_set(kind.variants()[0][0])
    else:
        bench.card.pressed.emit("add thing")
    QApplication.processEvents()
    new = next(t for t in kind.of(session.shop) if t.id not in {b.id for b in before})
    bench.pick(f"item {new.id}")
    # drawn: the plate shows a picture with it lit up or alone
    assert bench.plate.shown.scene.elements, kind.key
    # every field changes and is taken back
    for p in kind.parameters:
        item = next(t for t in kind.of(session.shop) if t.id == new.id)
        row = bench.card.rows[f"field {p.name}"]
        text = _another(kind, item, p.name, unit)
        if p.kind is Kind.CHOICE:
            row.picked.emit(f"field {p.name}", text)
        else:
            bench.card.typed.emit(f"field {p.name}", text)
        QApplication.processEvents()
        changed = next(t for t in kind.of(session.shop) if t.id == new.id)
        refused = bench.card.rows[f"field {p.name}"].error_text
        assert (getattr(changed, p.name) != getattr(item, p.name)) != bool(refused), (kind.key, p.name, text, refused)
        if refused:
            continue
        if p.kind in (Kind.LENGTH, Kind.NUMBER):
            per = 25.4 if p.kind is Kind.LENGTH and unit == "in" else 1.0
            assert getattr(changed, p.name) == pytest.approx(float(text) * per, rel=1e-9)
        session.book.undo()
        session.changed.emit()
        assert next(t for t in kind.of(session.shop) if t.id == new.id) == item
    # exported, imported into an empty book
    mine = next(t for t in kind.of(session.shop) if t.id == new.id)
    other = Book.create(tmp_path / f"{kind.kind.replace(' ', '-')}-{unit}.elbrix")
    assert import_items(other, read_items(export_text([mine]))).added == 1
    assert kind.of(other.shop) == (mine,)
    # found by its list's own word
    word = kind.title.split(",")[0].split()[-1] if kind.key != "rack" else "bars"
    world = world_of(other)
    name = kind.name(mine, session.style)
    hits = [w for w in (word, kind.kind) if _found(world, w, name, kind)]
    assert hits, (kind.key, word, name)
    other.close()


def _found(world: object, word: str, name: str, kind: ItemKind) -> bool:
    try:
        answer = ask(f"where is the {word}", world)  # type: ignore[arg-type]
    except ShopError:
        return False
    return answer.go is not None and answer.go.thing == kind.key


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("key", sorted(listed_kinds()))
def test_every_kind_goes_all_the_way(bench: ShopBench, key: str, unit: str, tmp_path: Path) -> None:
    _goes_all_the_way(bench, listed_kinds()[key], unit, tmp_path)


def test_a_new_kind_is_one_module(with_magnets: None, bench: ShopBench, tmp_path: Path) -> None:
    bench.session.changed.emit()
    assert "see magnets" in bench.card.rows
    _goes_all_the_way(bench, listed_kinds()["magnets"], "mm", tmp_path)


@pytest.fixture
def demo_book(tmp_path: Path) -> Iterator[Book]:
    book = write_demo(tmp_path / "demo.elbrix")
    yield book
    book.close()


@pytest.mark.parametrize("key", sorted(item_kinds()))
def test_a_file_cannot_bring_in_what_cannot_be_typed(demo_book: Book, key: str) -> None:
    kind = item_kinds()[key]
    own = kind.of(demo_book.shop)
    text = export_text(own)
    assert len(read_items(text)) == len(own)  # what the demo shop has can be typed
    one = own[0] if own else kind.new("one", "")
    for p in kind.parameters:
        value = getattr(one, p.name)
        if p.kind is Kind.LENGTH and isinstance(value, float) and value > 0:
            wrong = export_text([one]).replace(f'"{p.name}": {value}', f'"{p.name}": {p.high * 3 + 1}')
            with pytest.raises(ShopError, match="Nothing was imported"):
                read_items(wrong)


def test_what_is_left_of_a_bar_is_said_in_the_unit_on_show(bench: ShopBench) -> None:
    for unit, left in (("mm", "500 left"), ("in", "19.69 left")):
        bench.session.set_unit(unit)
        bench.see("rack")
        said = [e.text for e in bench.plate.shown.scene.elements if isinstance(e, Note)]
        assert said[0].endswith(left), said[0]


def test_kinds_and_keys_are_told_apart() -> None:
    kinds = list(item_kinds().values())
    for values in (
        [k.kind for k in kinds],
        [k.order for k in kinds],
        [k.type for k in kinds],
        [k.attribute or k.kind for k in kinds],
    ):
        assert len(set(values)) == len(values)
    assert not {p.name for k in kinds for p in k.parameters} & {"id"}


# --- handwheels and readings ------------------------------------------------------------------------------------------


def test_travel_is_typed_and_stays_when_the_backlash_is_corrected(bench: ShopBench) -> None:
    bench.see("hazel")
    bench.card.typed.emit("axis X", "4; 200; 0.05; 620")
    hazel = bench.session.book.get(Machine, "hazel")
    assert hazel is not None and hazel.axes["X"].travel_mm == 620
    bench.card.typed.emit("axis X", "4; 200; 0.08")
    hazel = bench.session.book.get(Machine, "hazel")
    assert hazel is not None and (hazel.axes["X"].backlash_mm, hazel.axes["X"].travel_mm) == (0.08, 620)
    row = bench.presenter._axis_row(hazel, "X")
    assert row.value.endswith("/ 620.00") and row.entry_text == "4; 200; 0.08; 620"


def test_a_reading_keeps_the_tool_it_was_taken_with(bench: ShopBench) -> None:
    tools = [t.name for t in bench.session.shop.measuring]
    assert len(tools) > 1
    bench.see("hazel")
    p = bench.presenter
    assert p.slot is not None and p.machine is not None and p.slot.neck is not None

    def now() -> TSlot:
        assert bench.presenter.slot is not None
        return bench.presenter.slot

    was = now().neck
    assert was is not None
    bench.card.typed.emit("neck", "; ".join(f"{v + 0.01:.3f}" for v in was.values_mm))
    assert now().neck is not None and now().neck.measured_with == was.measured_with and now().neck.places == was.places  # type: ignore[union-attr]
    bench.pick("measured_with", tools[1])
    assert now().neck.measured_with == was.measured_with  # type: ignore[union-attr]  # picking a tool changes no old reading
    bench.card.typed.emit("lip", "8.31")
    assert now().lip.measured_with == tools[1]  # type: ignore[union-attr]
    assert now().head == p.slot.head
