"""Books and exports of older versions open and mean the same: against files that those versions really wrote."""

from __future__ import annotations

import json
import re
import shutil
import sqlite3
from pathlib import Path

import pytest

from elbrix.angles.setup import find_kind
from elbrix.book import backup, layouts
from elbrix.book.angle_setups import solve_angle
from elbrix.book.designs import family_of, plan_doc, solve_doc
from elbrix.book.documents import AngleDoc, DesignDoc, JobDoc, LayoutDoc, kind_of
from elbrix.book.formats import ANGLE_PARAMETERS, ELEMENT_PARAMETERS, FAMILY_PARAMETERS, FORMAT, LAYOUT_PARAMETERS, MEASURED
from elbrix.book.items_file import read_items
from elbrix.book.opening import BookProblem
from elbrix.book.store import Book
from elbrix.design.family import all_families
from elbrix.holding.layout import all_elements
from elbrix.parameters.parameter import LISTS, Parameter
from elbrix.quantities.errors import ShopError

#: Written by version 0.1.0: its demo shop, everything once more with every value chosen, and a job begun on each design.
OLD = Path(__file__).parent.parent / "specimens" / "format_1"
#: Item → parameter → text, as 0.1.0 solved it.
MEANING: dict[str, dict[str, str]] = json.loads((OLD / "meaning.json").read_text())


@pytest.fixture
def old_book(tmp_path: Path) -> Path:
    return Path(shutil.copy(OLD / "wrenfield.elbrix", tmp_path / "shop.elbrix"))


def _same(parameters: dict[str, Parameter], now: dict[str, str], then: dict[str, str], names: dict[str, str]) -> None:
    """Every old value under its new name; a name that is asked for no more would be lost."""
    assert {names.get(n, n) for n in then} <= set(now)
    for old, text in then.items():
        name = names.get(old, old)
        assert name in parameters
        if parameters[name].kind in LISTS:  # written closer since: the same sizes
            assert parameters[name].read(text).value == parameters[name].read(now[name]).value, name
        else:
            assert now[name] == text, name


def test_everything_means_what_it_meant(old_book: Path) -> None:
    book = Book.open(old_book)
    assert not book.read_only and book.integrity() == "ok"
    seen = 0
    for key, then in MEANING.items():
        kind, _, id_ = key.partition(" ")
        if kind == "design":
            design = book.get(DesignDoc, id_)
            assert design is not None
            family, values = family_of(design), solve_doc(design, book.shop).values
            now = {p.name: p.entry_text(values[p.name]) for p in family.parameters}
            _same({p.name: p for p in family.parameters}, now, then, FAMILY_PARAMETERS.get(design.family, {}))
            assert set(design.revisions[-1].values) <= set(now)  # what was asked for since stands beside it
            assert design.as_made[0].figure in now
        elif kind == "angle":
            angle = book.get(AngleDoc, id_)
            assert angle is not None
            known = {p.name: p for p in find_kind(angle.kind).parameters(book.shop)}
            found = solve_angle(angle, book.shop).values
            _same(known, {n: p.entry_text(found[n]) for n, p in known.items()}, then, ANGLE_PARAMETERS.get(angle.kind, {}))
        elif kind == "hold":
            layout = book.get(LayoutDoc, id_)
            assert layout is not None
            known = layouts.parameters_of(layout, book.shop)
            solved = layouts.solve_doc(layout, book.shop, quick=True)
            now = {}
            for name, p in known.items():
                number, _, own = name.rpartition(".")
                now[name] = p.entry_text((solved.elements[int(number)][1] if number else solved.values)[own])
            names = dict(LAYOUT_PARAMETERS)
            for i, element in enumerate(layout.elements):
                names |= {f"{i}.{a}": f"{i}.{b}" for a, b in ELEMENT_PARAMETERS.get(element.kind, {}).items()}
            _same(known, now, then, names)
        else:
            job = book.get(JobDoc, id_)
            assert job is not None
            assert job.measured == {MEASURED.get(n, n): v for n, v in then.items()}
        seen += 1
    assert seen == len(MEANING) > 50
    book.close()


def test_a_job_goes_on_where_it_was(old_book: Path) -> None:
    """What was measured is still asked for, and what was ticked off is still a move of the plan."""
    book = Book.open(old_book)
    for job in book.all(JobDoc):
        design = book.get(DesignDoc, job.design)
        assert design is not None
        solved = solve_doc(design, book.shop)
        moves = [m for _, _, m in plan_doc(design, solved, book.shop, job).moves]
        assert set(job.done) & {m.id for m in moves}
        fresh = [m for _, _, m in plan_doc(design, solved, book.shop).moves]  # a measured size may end the asking for it
        asked = {m.asked.key for m in (*moves, *fresh) if m.asked is not None}
        # A bar that is to size is not milled and not measured any more, and a diameter is finished in fewer cuts.
        between = {k for k in job.measured if re.search(r"\.size\d+$", k)}
        assert set(job.measured) - {"bar_width", "bar_height"} - between <= asked, job.id
    book.close()


def test_the_history_goes_back_through_the_old_format(old_book: Path) -> None:
    book = Book.open(old_book)
    assert book.redo_label == "Rename" and book.undo_label == "Jobs begun"
    before = {(kind_of(d), d.id) for d in book.documents}
    assert book.undo() == "Jobs begun" and book.undo() == "Everything chosen"
    assert not any(d.id.startswith("all-") for d in book.documents)
    assert book.redo() == "Everything chosen" and book.redo() == "Jobs begun"
    assert {(kind_of(d), d.id) for d in book.documents} == before
    assert book.redo() == "Rename" and any(isinstance(d, LayoutDoc) and d.title == "Something else" for d in book.documents)
    book.close()


def test_the_book_is_copied_as_it_was_first(old_book: Path) -> None:
    whole = sqlite3.connect(old_book).execute("SELECT kind, id, body FROM item ORDER BY kind, id").fetchall()
    Book.open(old_book).close()
    assert sqlite3.connect(old_book).execute("PRAGMA user_version").fetchone() == (FORMAT,)
    kept = sqlite3.connect(backup.path_of(old_book, f"before format {FORMAT}"))
    assert kept.execute("PRAGMA user_version").fetchone() == (1,)
    assert kept.execute("SELECT kind, id, body FROM item ORDER BY kind, id").fetchall() == whole


def test_without_a_copy_it_is_not_lifted(old_book: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(backup, "make", lambda *_: None)
    before = sqlite3.connect(old_book).execute("SELECT kind, id, body FROM item ORDER BY kind, id").fetchall()
    with pytest.raises(BookProblem, match="no copy of it can be made"):
        Book.open(old_book)
    after = sqlite3.connect(old_book)
    assert after.execute("SELECT kind, id, body FROM item ORDER BY kind, id").fetchall() == before
    assert after.execute("PRAGMA user_version").fetchone() == (1,)


def test_a_book_that_may_only_be_read_is_read_as_it_is(old_book: Path) -> None:
    writer = Book.open(old_book)
    writer.close()
    again = Path(shutil.copy(OLD / "wrenfield.elbrix", old_book.with_name("second.elbrix")))
    lifted = {(kind_of(d), d.id): d for d in writer.documents}
    first = Book.open(again)  # takes the writer's place; the file is lifted
    first.close()
    raw = Path(shutil.copy(OLD / "wrenfield.elbrix", old_book.with_name("third.elbrix")))
    raw.chmod(0o444)
    connection = sqlite3.connect(f"{raw.as_uri()}?mode=ro", uri=True, isolation_level=None)
    reader = Book(raw, connection, None, "Read only")
    assert {(kind_of(d), d.id): d for d in reader.documents} == lifted
    assert connection.execute("PRAGMA user_version").fetchone() == (1,)
    reader.close()


def test_an_old_export_is_read_as_the_old_book(old_book: Path) -> None:
    book = Book.open(old_book)
    found = read_items((OLD / "wrenfield-items.json").read_text())
    assert {(kind_of(d), d.id): d for d in found} == {(kind_of(d), d.id): d for d in book.documents}
    book.close()


@pytest.mark.parametrize("item", ['{"id": 3}', '{"axes": 4}', '{"chosen": [], "family": "t_nut"}', '{"elements": [{}]}'])
@pytest.mark.parametrize("kind", ["machine", "design", "hold", "job", "angle", "vise"])
def test_what_no_version_wrote_is_refused_in_words(kind: str, item: str) -> None:
    text = f'{{"format": "elbrix-items", "version": 1, "items": [{{"kind": "{kind}", "item": {item}}}]}}'
    with pytest.raises(ShopError, match=r"cannot be read|has no"):
        read_items(text)


def test_only_names_that_exist_are_renamed() -> None:
    """A slip in the table would drop a value in silence."""
    for key, names in FAMILY_PARAMETERS.items():
        known = {p.name for p in all_families()[key].parameters}
        assert set(names.values()) <= known, key
        assert not set(names) & (known - set(names.values())), key
    assert set(ELEMENT_PARAMETERS) <= set(all_elements())
