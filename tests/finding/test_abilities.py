"""What designs can do, known beforehand: the same answers at once as after solving, and never those of another shop."""

from __future__ import annotations

import itertools
import random
from pathlib import Path

import pytest
from msgspec.structs import replace

from elbrix.book.designs import choose, family_of, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.book.store import Book
from elbrix.demo import documents, write_demo
from elbrix.design.family import MeetsNeeds
from elbrix.finding import keeping
from elbrix.finding.abilities import NEEDED, Abilities, KnownAbilities, abilities_of, those_in_question
from elbrix.finding.find import find, first_look
from elbrix.finding.keeping import learn, work_out
from elbrix.finding.need import Need
from elbrix.finding.others import heights
from elbrix.quantities.errors import ShopError
from elbrix.shop.gauges import Parallel
from elbrix.shop.shop import Shop

DESIGNS = [d for d in documents() if isinstance(d, DesignDoc)]
NEEDS = (
    "M10 stud in a 12 slot",
    "M8 stud on Clover",
    "1/2-13 stud on Old Margaret",
    "stop the quill at 41.7",
    "lift 38",
    "lift 1 inch",
    "lift the vise 60",
    "32.5 deg on a 60 block to 2 minutes",
)


def everything_known(shop: Shop) -> KnownAbilities:
    known = KnownAbilities()
    for doc in DESIGNS:
        known.of(doc, shop)
    return known


def test_a_family_says_which_needs_its_designs_meet(demo_shop: Shop) -> None:
    """One that did not would never be looked at."""
    for doc in DESIGNS:
        family = family_of(doc)
        try:
            can = {c.kind for c in family.can_hold(solve_doc(doc, demo_shop))}
        except ShopError:
            continue
        said = family.meets if isinstance(family, MeetsNeeds) else frozenset()
        assert can & NEEDED == said, doc.id
    assert {d.family for d in those_in_question(DESIGNS, NEEDED)} == {"t_nut", "riser", "depth_stop"}


@pytest.mark.parametrize("text", NEEDS)
def test_at_once_is_what_is_found_by_solving(demo_shop: Shop, text: str) -> None:
    at_once = first_look(text, demo_shop, DESIGNS, "mm", everything_known(demo_shop))
    assert at_once.hits == find(text, demo_shop, DESIGNS).hits and not at_once.waiting and not at_once.make


def test_what_is_not_worked_out_is_counted_and_not_guessed(demo_shop: Shop) -> None:
    found = first_look("M10 stud in a 12 slot", demo_shop, DESIGNS, "mm", KnownAbilities())
    assert not found.hits and found.waiting == sum(d.family == "t_nut" for d in DESIGNS)
    tried = first_look("hold round 140 x 40 on Hazel, top clear", demo_shop, DESIGNS, "mm", KnownAbilities()).to_prove
    assert any("vise" in words for words in tried) and not any("strap" in words for words in tried)


def test_another_size_or_another_shop_is_not_known(demo_shop: Shop) -> None:
    known, nut = everything_known(demo_shop), next(d for d in DESIGNS if d.id == "t-nut-hazel")
    assert known.known(nut, demo_shop) == abilities_of(nut, demo_shop)
    assert known.known(choose(nut, "thread", "M8"), demo_shop) is None
    assert known.known(nut, replace(demo_shop)) is None  # the slots may have been measured again
    assert known.known(replace(nut), demo_shop) is not None


# --- kept in a file -------------------------------------------------------------------------------------------------------


@pytest.fixture
def book(tmp_path: Path) -> Path:
    write_demo(tmp_path / "shop.elbrix").close()
    return tmp_path / "shop.elbrix"


@pytest.fixture
def solved(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Ids of the designs that are solved from now on."""
    seen: list[str] = []

    def counted(doc: DesignDoc, shop: Shop) -> Abilities:
        seen.append(doc.id)
        return abilities_of(doc, shop)

    monkeypatch.setattr(keeping, "abilities_of", counted)
    return seen


def test_worked_out_once_and_again_only_what_changed(book: Path, tmp_path: Path, solved: list[str]) -> None:
    kept = tmp_path / "cache" / "abilities.json"
    told = work_out(book, kept)
    in_question = {d.id for d in those_in_question(DESIGNS, NEEDED)}
    assert set(solved) == in_question and kept.read_bytes() == told
    solved.clear()
    assert work_out(book, kept) == told and not solved
    there = Book.open(book)
    nut = there.get(DesignDoc, "t-nut-hazel")
    assert nut is not None
    there.put("thread", choose(nut, "thread", "M8"))
    there.close()
    assert work_out(book, kept) != told and solved == ["t-nut-hazel"]
    solved.clear()
    there = Book.open(book)
    machine = there.shop.machine("hazel")
    there.put("another name", replace(machine, name="Hazel the second"))
    there.close()
    work_out(book, kept)
    assert set(solved) == in_question  # a slot may have been measured again


@pytest.mark.parametrize("damage", [b"", b"{", b'{"made_for": 3}', b"\xff\xfe"])
def test_a_damaged_file_is_made_anew(book: Path, tmp_path: Path, damage: bytes) -> None:
    kept = tmp_path / "abilities.json"
    whole = work_out(book, kept)
    kept.write_bytes(damage)
    assert work_out(book, kept) == whole == kept.read_bytes()


def test_a_file_that_cannot_be_written_costs_nothing_but_time(book: Path) -> None:
    assert work_out(book, Path("/proc/nowhere/abilities.json"))


def test_learned_is_only_what_is_still_the_same(book: Path, tmp_path: Path) -> None:
    told = work_out(book, tmp_path / "abilities.json")
    there = Book.open(book)
    docs, shop, known = there.all(DesignDoc), there.shop, KnownAbilities()
    changed = [choose(d, "thread", "M8") if d.id == "t-nut-hazel" else d for d in docs]
    many = learn(known, told, changed, shop)
    in_question = list(those_in_question(changed, NEEDED))
    assert many == len(in_question) - 1
    for doc in in_question:
        assert known.known(doc, shop) == (None if doc.id == "t-nut-hazel" else abilities_of(doc, shop))
    assert learn(KnownAbilities(), told, docs, replace(shop, machines=shop.machines[1:])) == 0
    there.close()


# --- heights --------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(20))
def test_heights_are_those_of_trying_every_pair(seed: int) -> None:
    chance = random.Random(seed)
    sizes = [chance.choice([5, 8, 10, 12, 16, 20, 24.995, 32, 40]) for _ in range(chance.randrange(1, 30))]
    shop = Shop(parallels=tuple(Parallel(id=f"p{n}", height_mm=h, thickness_mm=6, length_mm=150) for n, h in enumerate(sizes)))
    wanted, close = chance.choice([20, 40, 44.995, 48, 52.3]), chance.choice([0.004, 0.02, 0.5])
    hits, notes = heights(Need(what="lift", sizes=(wanted,), close=close), shop, [], lambda _: None)
    every = [(h,) for h in sizes] + list(itertools.combinations(sizes, 2))
    fitting = sorted(abs(sum(c) - wanted) + 0.001 * len(c) for c in every if abs(sum(c) - wanted) <= close)
    firm = [c for c in every if abs(sum(c) - wanted) <= close and (len(c) == 1 or abs(sum(c) - wanted) < close / 2)]
    assert len(hits) == min(6, len(fitting)) and bool(notes) != bool(hits)
    assert sum(h.verdict.value == "go" for h in hits) == min(6, len(firm))
    if hits and len(firm) >= len(hits):
        nearest = sorted(abs(sum(c) - wanted) + 0.001 * len(c) for c in firm)[: len(hits)]
        assert [close - h.margin + 0.001 * len(h.items) for h in hits if h.margin is not None] == pytest.approx(nearest)
