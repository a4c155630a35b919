"""A body that stands out over the table, and a cut wider than its cutter: both went unjudged at the ends of their entries."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from layouts_tools import doc, solve, thing

WORK = {"length": "80", "width": "40", "height": "30"}
PLATE = {"thickness": "20", "length": "200"}


def _overhang(shop: Shop, width: float) -> tuple[float, Verdict] | None:
    hold = solve(doc(thing("plate", **PLATE, width=f"{width:g}"), **WORK), shop)
    found = [c for c in hold.checks if c.key.startswith("overhang")]
    return (found[0].value, found[0].verdict) if found else None


def test_a_plate_as_wide_as_the_table_lies_on_it(demo_shop: Shop) -> None:
    assert demo_shop.machines[0].table_width_mm == 254
    assert _overhang(demo_shop, 254) is None


@pytest.mark.parametrize(
    ("width", "verdict"),
    # In the middle of 254 it stands out by (w − 254)/2 at either side, in % of w: 317 is 9.94, 318 is 10.06.
    [(260, Verdict.GO), (317, Verdict.GO), (318, Verdict.MARGINAL), (740, Verdict.MARGINAL), (760, Verdict.NO_GO)],
)
def test_what_hangs_over_is_a_share_of_its_size(demo_shop: Shop, width: float, verdict: Verdict) -> None:
    found = _overhang(demo_shop, width)
    assert found is not None
    assert found[0] == pytest.approx(100 * (width - 254) / 2 / width, rel=1e-6)
    assert found[1] is verdict


def test_bolts_beyond_the_table_hold_nothing(demo_shop: Shop) -> None:
    """The wider plate was held better, by bolts that stood in the air."""
    on = solve(doc(thing("plate", **PLATE, width="250"), **WORK), demo_shop)
    off = solve(doc(thing("plate", **PLATE, width="500"), **WORK), demo_shop)
    held = [next(c.value for c in hold.checks if c.key.startswith("mount")) for hold in (on, off)]
    assert held[1] <= held[0] * 1.05


def test_a_table_nobody_measured_says_nothing(demo_shop: Shop) -> None:
    mill = replace(demo_shop.machines[0], table_width_mm=0, table_length_mm=0)
    assert _overhang(replace(demo_shop, machines=(mill, *demo_shop.machines[1:])), 2000 / 2.5) is None


@pytest.mark.parametrize(("wide", "told"), [("12", False), ("12.1", True), ("300", True)])
def test_no_cut_is_wider_than_its_cutter(demo_shop: Shop, wide: str, told: bool) -> None:
    cut = {"cut": "milling", "cutter": next(c.id for c in demo_shop.cutters if c.diameter_mm == 12), "width_of_cut": wide}
    hold = solve(doc(thing("vise"), **WORK, **cut), demo_shop)
    found = [c for c in hold.checks if c.key == "width_of_cut"]
    assert bool(found) is told
    if found:
        assert found[0].verdict is Verdict.NO_GO and found[0].value == pytest.approx(100 * float(wide) / 12)
        assert found[0].remedies == ("width_of_cut",)
