"""Reamers: which is taken, and what its step says of the hole's limits."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.work import Blank, HolePattern, PatternHole, Work
from elbrix.making.planner import plan_work
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind

SHOP = shop_of(documents())


def with_reamers(*sizes: float) -> Shop:
    others = tuple(c for c in SHOP.cutters if c.kind is not CutterKind.REAMER)
    return replace(
        SHOP,
        cutters=others + tuple(Cutter(id=f"r{d}", kind=CutterKind.REAMER, diameter_mm=d, shank_mm=6, teeth=6) for d in sizes),
    )


def note(limits: tuple[float, float] | None, *reamers: float) -> tuple[str, str]:
    """(the reamer, what is said) of one hole Ø6 in a plate."""
    hole = PatternHole(20.0, 0.0, drill_mm=5.8, ream_mm=6.0, limits=limits)
    plate = Blank(width_mm=30.0, height_mm=10.0, length_mm=40.0)
    work = Work(plate, (HolePattern(name="Pin", holes=(hole,), thickness_mm=10.0),))
    plan = plan_work("Plate", work, with_reamers(*reamers))
    found = [o for s in plan.setups for o in s.operations if o.cutter is not None and o.cutter.kind == "reamer"]
    assert len(found) == 1 and found[0].cutter is not None
    return f"{found[0].cutter.diameter_mm:g}", found[0].note


@pytest.mark.parametrize(
    ("limits", "taken"),
    [
        (None, "6"),  # nothing is said: the first that is there
        ((0.012, 0.0), "5.988"),  # 5.988 to 6: one that cuts 5.988 to 6
        ((0.006, 0.006), "5.994"),  # 5.994 to 6.006
        ((0.0, 0.02), "6"),  # a slide fit
        ((0.002, 0.002), "5.994"),  # none fits: the one that is beyond it least, 4 µm on either side
    ],
)
def test_of_several_the_one_that_cuts_within_the_drawing(limits: tuple[float, float] | None, taken: str) -> None:
    assert note(limits, 6.0, 5.988, 5.994)[0] == taken


def test_its_step_says_what_the_hole_may_be() -> None:
    assert note(None, 6.0)[1].startswith("It cuts 6 mm to 6.012 mm: gauge")
    assert note((0.0, 0.02), 6.0)[1].startswith("It cuts 6 mm to 6.012 mm, the hole 6 mm to 6.02 mm: gauge")
    pressed = note((0.005, 0.005), 6.0)[1]
    assert "the hole 5.995 mm to 6.005 mm" in pressed and pressed.endswith("take another reamer")
