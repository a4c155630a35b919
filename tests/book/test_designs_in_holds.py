"""A fixture plate of the catalogue in a layout.

Its sizes taken over, said when its drawing changes, and the same holding as if it had been typed.
"""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.designs import choose, solve_doc
from elbrix.book.designs_in_layouts import add_design, changed_since, layable, sizes_taken_again, thing_of
from elbrix.book.documents import Chosen, DesignDoc, LayoutDoc
from elbrix.book.layouts import solve_doc as solve_layout
from elbrix.demo import documents
from elbrix.design.families.fixture_plate.sizes import FixturePlateSizes
from elbrix.quantities.errors import ShopError
from elbrix.shop.shop import Shop

DOCS = documents()
DESIGNS = {d.id: d for d in DOCS if isinstance(d, DesignDoc)}
YOKE = next(d for d in DOCS if isinstance(d, LayoutDoc) and d.id == "hold-yoke")


def test_only_plates_lie_in_a_layout(demo_shop: Shop) -> None:
    assert {d.family for d in layable(DESIGNS.values())} == {"fixture_plate"}
    with pytest.raises(ShopError, match="nothing that lies on a table"):
        thing_of(DESIGNS["v-jaws"], demo_shop)


def test_its_sizes_screws_and_pins_are_taken_over(demo_shop: Shop) -> None:
    thing = thing_of(DESIGNS["plate-yoke"], demo_shop)
    s = FixturePlateSizes(solve_doc(DESIGNS["plate-yoke"], demo_shop).values)
    said = {k: c.text for k, c in thing.chosen.items()}
    assert thing.kind == "plate" and thing.design == "plate-yoke"
    assert (float(said["length"]), float(said["width"]), float(said["thickness"])) == (s.length, s.width, s.thickness)
    assert said["screw_positions"] == "-42,-12; 42,-12; 0,18" and said["pins"] == "relieved" and said["pin_diameter"] == "6.002"
    # The layout made from it puts the work that much higher.
    hold = solve_layout(add_design(replace(YOKE, elements=()), DESIGNS["plate-yoke"], demo_shop), demo_shop)
    assert hold.piece.bottom_mm == s.thickness


def test_the_demo_layout_is_its_plate(demo_shop: Shop) -> None:
    thing = YOKE.elements[0]
    assert thing.design == "plate-yoke" and not changed_since(thing, DESIGNS["plate-yoke"], demo_shop)
    typed = replace(YOKE, elements=(replace(thing, design=""),))
    assert solve_layout(typed, demo_shop).margin.least == pytest.approx(solve_layout(YOKE, demo_shop).margin.least)


def test_a_changed_drawing_is_said_and_taken_again(demo_shop: Shop) -> None:
    thicker = choose(DESIGNS["plate-yoke"], "thickness", "25")
    assert changed_since(YOKE.elements[0], thicker, demo_shop)
    again = sizes_taken_again(YOKE, 0, thicker, demo_shop)
    assert again.elements[0].chosen["thickness"] == Chosen(text="25") and again.elements[0].chosen["torque"].text == "7"
    assert not changed_since(again.elements[0], thicker, demo_shop)


def test_a_drawing_that_does_not_solve_changes_nothing(demo_shop: Shop) -> None:
    broken = replace(DESIGNS["plate-yoke"], chosen={**DESIGNS["plate-yoke"].chosen, "thickness": Chosen(text="6")})
    assert not changed_since(YOKE.elements[0], broken, demo_shop)
    with pytest.raises(ShopError):
        sizes_taken_again(YOKE, 0, broken, demo_shop)


def test_a_grid_holds_by_clamps(demo_shop: Shop) -> None:
    grid = DesignDoc(id="g", family="fixture_plate", title="Grid", machine="hazel")
    assert "screws" not in thing_of(grid, demo_shop).chosen
