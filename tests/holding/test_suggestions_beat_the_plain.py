"""Ten layouts of our own: what is suggested is never worse than what anybody would try first, or says so."""

from __future__ import annotations

import pytest

from elbrix.book.choices import read_chosen
from elbrix.book.documents import shop_of
from elbrix.book.layouts import asked_of, solve_doc
from elbrix.demo import documents
from elbrix.geometry.shapes import bounds
from elbrix.holding import cut
from elbrix.holding.solve import machine_for
from elbrix.holding.suggest import suggest
from layouts_tools import doc, thing

SHOP = shop_of(documents())
WORKS = [
    ("100", "60", "20", "mild steel"),
    ("200", "90", "10", "mild steel"),
    ("300", "80", "25", "bronze"),
    ("150", "150", "30", "grey cast iron"),
    ("60", "60", "12", "brass"),
    ("250", "120", "15", "aluminium alloy"),
    ("180", "40", "30", "mild steel"),
    ("120", "100", "50", "mild steel"),
    ("90", "90", "8", "brass"),
    ("220", "70", "16", "bronze"),
]


@pytest.mark.parametrize(("length", "width", "height", "material"), WORKS)
def test_a_suggestion_is_no_worse_than_a_strap_at_either_end(length: str, width: str, height: str, material: str) -> None:
    work = {
        "length": length,
        "width": width,
        "height": height,
        "material": material,
        "cutter_path": "points",
        "places": "0,0; 20,10",
    }
    half = float(length) / 2
    plain = solve_doc(
        doc(
            thing("strap", slot="middle slot", x=f"{half + 24:g}", direction="180"),
            thing("strap", slot="middle slot", x=f"{-half - 24:g}", direction="0"),
            **work,
        ),
        SHOP,
    )
    assert bounds(plain.piece.outline)[2] == pytest.approx(half)
    start = doc(thing("strap", slot="middle slot", x="0"), thing("strap", slot="middle slot", x="10"), **work)
    machine = machine_for(SHOP, start.machine)
    found = suggest(SHOP, machine, read_chosen(cut.parameters(SHOP), start.chosen), asked_of(start, SHOP))
    best = found[0]
    assert (best.clashes, -best.margin) <= (len({c.index for c in plain.clashes}), -plain.margin.least * (1 - 1e-6))
    assert "No better" not in best.sentence  # two studs in the middle of the work hold nothing
    owned = {c.id: c.count for c in SHOP.clamps}
    for one in found:
        used = [values["clamp"] for values in one.values.values()]
        assert all(used.count(c) <= owned[c] for c in used)


def test_where_nothing_better_is_found_it_says_so() -> None:
    good = doc(
        thing("strap", slot="middle slot", x="74", direction="180", stud_to_tip="44", torque="25"),
        thing("strap", slot="middle slot", x="-74", direction="0", stud_to_tip="44", torque="25"),
        length="100", width="60", height="20", cutter_path="points", places="0,0",
    )  # fmt: skip
    machine = machine_for(SHOP, good.machine)
    now = solve_doc(good, SHOP)
    found = suggest(SHOP, machine, read_chosen(cut.parameters(SHOP), good.chosen), asked_of(good, SHOP))
    for one in found:
        better = one.clashes < len({c.index for c in now.clashes}) or one.margin > now.margin.least + 1e-3
        assert better or "No better" in one.sentence
