"""The parts list: every hole of a drawing that takes a screw has one in it, and what lies in the shop is counted."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import choose, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.book.parts import parts_list
from elbrix.demo import documents
from elbrix.design.family import all_families
from elbrix.design.parts import OfParts, size_of
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH
from elbrix.results.length_text import plain, said_in
from elbrix.shop.locating import Pin
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import Fastener, FastenerKind
from elbrix.standards.threads import known_thread

DESIGNS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
#: Worked by hand from the drawings: (count, what) of each line.
BY_HAND = {
    "t-nut-hazel": [(1, "stud M10")],
    "table-keys": [(1, "socket screw M4")],
    "plate-yoke": [
        (4, "socket screw M10"),
        (4, "T-nut M10"),
        (3, "socket screw M6"),
        (1, "locating pin Ø6.002, full"),
        (1, "relieved pin Ø6.002"),
    ],
    "plate-segments": [(4, "socket screw M10"), (4, "T-nut M10"), (12, "socket screw M4")],
    "v-jaws": [(2, "socket screw M8"), (2, "socket screw M10"), (2, "key 12.05 wide")],
    "jaws-ledge": [(2, "socket screw M8")],
    "riser-vise": [(4, "socket screw M10 × 40"), (4, "T-nut M10"), (4, "socket screw M8"), (1, "lower plate")],
    "sine-plate": [(2, "roll Ø20 × 80"), (4, "socket screw M5"), (1, "stop strip 80"), (2, "socket screw M4")],
    "tilting-plate": [(1, "bar Ø30 × 125"), (2, "socket screw M6")],
    "stop-quill": [(1, "sleeve Ø30, bored 19"), (1, "setting tip M6"), (3, "foot M4"), (1, "socket screw M6")],
    "stop-vise": [(2, "socket screw M5"), (1, "rod Ø10"), (1, "socket screw M5")],
    "stop-table": [(1, "socket screw M10"), (1, "T-nut M10")],
}


@pytest.mark.parametrize("id", BY_HAND)
def test_parts_by_hand(demo_shop: Shop, id: str) -> None:
    found = [(line.part.count, plain(line.part.words)) for line in parts_list(DESIGNS[id], demo_shop)]
    assert [count for count, _ in found] == [count for count, _ in BY_HAND[id]]
    assert all(words.startswith(begin) for (_, words), (_, begin) in zip(found, BY_HAND[id], strict=True)), found


def test_every_part_of_every_family_has_a_size_that_is_known(demo_shop: Shop) -> None:
    seen = set()
    for doc in DESIGNS.values():
        try:
            lines = parts_list(doc, demo_shop)
        except ShopError:
            continue
        for line in lines:
            part = line.part
            assert part.count > 0 and part.words
            assert not part.thread or known_thread(part.thread) is not None, part
            assert (line.owned is None) or not part.made
            assert part.made or part.fastener or part.stud or part.pin_mm or part.loose
        seen |= {doc.family} if lines else set()
    assert seen == {key for key, family in all_families().items() if isinstance(family, OfParts)}


def test_screws_of_a_plate_are_as_many_as_its_holes(demo_shop: Shop) -> None:
    doc = choose(DESIGNS["plate-yoke"], "pattern", "-42,-12; 42,-12; 0,18; 0,-20; 30,20")
    holes = solve_doc(doc, demo_shop).holes
    counted = {line.part.thread: line.part.count for line in parts_list(doc, demo_shop) if line.part.thread}
    assert counted["M10"] == sum(h.name.startswith("B") for h in holes) == 4
    assert counted["M6x1"] == sum(h.name.startswith("W") for h in holes) == 5
    bare = choose(doc, "pins", "none")
    assert len(parts_list(bare, demo_shop)) == len(parts_list(doc, demo_shop)) - 2


def test_what_lies_in_the_shop_is_counted_by_thread_and_length() -> None:
    doc, nothing = DESIGNS["riser-vise"], Shop()
    assert all(line.owned is None for line in parts_list(doc, nothing))  # nothing is listed, nothing is missed
    screw = Fastener(id="a", kind=FastenerKind.CAP_SCREW, thread="M10", length_mm=40, count=3)
    shop = Shop(
        fasteners=(
            screw,
            replace(screw, id="b", length_mm=45, count=9),
            replace(screw, id="c", length_mm=0, count=9),
            replace(screw, id="d", thread="M8", length_mm=0, count=6),
            Fastener(id="e", kind=FastenerKind.T_NUT, thread="M10", neck_mm=11.6, count=5),
        )
    )
    lines = parts_list(doc, shop)
    bolt = lines[0].part
    assert bolt.length_mm == solve_doc(doc, shop).figure("bolt_long").value
    wanted = sum(f.count for f in shop.fasteners[:3] if f.length_mm == bolt.length_mm)
    assert [line.owned for line in lines] == [wanted, 5, 6, None]
    pins = Shop(pins=(Pin(id="p", diameter_mm=6.01, length_mm=20, count=2), Pin(id="q", diameter_mm=8.0, length_mm=20)))
    full = next(line for line in parts_list(DESIGNS["plate-yoke"], pins) if line.part.pin_mm)
    assert full.owned == 2


def test_lengths_are_said_in_inches_and_thread_names_stay(demo_shop: Shop) -> None:
    words = [said_in(line.part.words, INCH) for line in parts_list(DESIGNS["tilting-plate"], demo_shop)]
    bolts = said_in(parts_list(DESIGNS["riser-vise"], demo_shop)[0].part.words, INCH)
    assert "M10 × 40" in bolts  # its name, whatever is shown besides
    assert words[0].startswith("bar Ø1.181") and words[1].startswith("socket screw M6")
    assert size_of("M6x1") == "M6" and size_of("M8x1") == "M8 × 1" and size_of("1/2-13") == "1/2-13 UNC"
