"""What a plan takes where the shop has nothing: sizes of a bar to buy, cutters that stand in, and that it says so."""

from __future__ import annotations

import random
import re
from fractions import Fraction

import pytest
from campaigns.designs import odd
from msgspec.structs import replace

from elbrix.design.family import Request, all_families, find_family, read_choices, solve_for
from elbrix.making.context import Context
from elbrix.making.plan import NO_BAR, Plan
from elbrix.making.planner import plan_work
from elbrix.making.proof import plan_checks
from elbrix.making.stock_choice import SOLD, SOLD_SIXTEENTHS, BarCutting, choose_stock
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar, Form, section_text
from elbrix.shop.tooling import Cutter, CutterKind


def empty(key: str, **typed: str) -> Plan:
    family = find_family(key)
    return plan_work("P", family.work(solve_for(family, Shop(), Request(), read_choices(family, typed)), Shop()), Shop())


@pytest.mark.parametrize("typed", [{"kind": "pin"}, {"kind": "bush"}, {"kind": "pivot"}])
def test_a_round_part_without_a_bar_is_turned_from_the_one_to_buy(typed: dict[str, str]) -> None:
    plan = empty("locator", **typed)
    assert plan.bar is None and plan.problems[0].startswith(NO_BAR) and plan.blank is not None
    family = find_family("locator")
    work = family.work(solve_for(family, Shop(), Request(), read_choices(family, typed)), Shop())
    assert f"Ø{plan.blank.diameter_mm:g} mm" in plan.problems[0]
    assert plan.blank.diameter_mm >= work.blank.round_mm + 1
    # No cut is set outside the bar.
    diameters = [abs(p.value_mm) for _, o, m in plan.moves if m.strokes and o.tool for p in m.positions if p.axis == "X"]
    assert diameters and max(diameters) <= plan.blank.diameter_mm  # the dial of a lathe reads Ø
    assert rehearse_slips(plan, Shop(), SlipsMade()).clean


@pytest.mark.parametrize("key", ["t_nut", "riser", "table_key", "v_jaw", "clamp", "soft_jaw"])
def test_a_milled_part_without_a_bar_is_cut_clean_from_what_is_to_be_bought(key: str) -> None:
    plan = empty(key)
    assert plan.bar is None and "Buy" in plan.problems[0] and plan.source.startswith("buy ")
    assert not [f for f in rehearse_slips(plan, Shop(), SlipsMade()).findings if f.kind != "limit"]


def test_no_bar_is_said_once_and_hides_no_other_problem() -> None:
    plan = empty("t_nut")
    plan = replace(plan, problems=(*plan.problems, "The boring bar does not go in: no hole for it"))
    said = [c.reason for c in plan_checks(plan, None, {}) if c.key.startswith("problem")]
    assert said == ["The boring bar does not go in: no hole for it"]
    bar = next(c for c in plan_checks(plan, None, {}) if c.key == "bar")
    assert "Buy" in bar.reason and bar.verdict.value == "no-go"


#: Of each unit: its name on the bar and a number of it, mm.
_PER = {"mm": 1.0, "in": 25.4}
_SIZE = r"(?:\d+ )?\d+/\d+|[\d.]+"
BOUGHT = re.compile(
    rf"(?:Ø({_SIZE}) (?:mm|in)|({_SIZE}) (?:mm|in) hexagon|({_SIZE}) × ({_SIZE}) (mm|in) bright) (.+), ([\d.]+) (mm|in) or longer"
)


def bought(words: str, unit: str) -> Bar:
    """The bar that is said to be bought."""
    found = BOUGHT.fullmatch(words)
    assert found is not None, words
    round_, hexagon, width, height, of, material, long, of_length = found.groups()
    assert of in (None, unit) and of_length == unit
    form = Form.ROUND if round_ else Form.HEXAGON if hexagon else Form.FLAT
    # A hexagon is the part's own, whatever the shop measures in.
    per = _PER["in" if hexagon and " in hexagon" in words else "mm" if hexagon else unit]
    size, high = (float(sum(Fraction(p) for p in text.split())) * per for text in (round_ or hexagon or width, height or "0"))
    return Bar(id="b", form=form, width_mm=size, height_mm=high, length_mm=float(long) * _PER[unit], material=material)


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("key", all_families())
def test_what_is_said_to_be_bought_does(key: str, unit: str) -> None:
    """Put on the rack, the bar is fitting, and no smaller one that is sold would be."""
    family, chance, tried = find_family(key), random.Random(len(key)), 0
    for n in range(25):
        typed = {} if n == 0 else {p.name: odd(p, chance) for p in chance.sample(list(family.parameters), 3)}
        try:
            work = family.work(solve_for(family, Shop(), Request(), read_choices(family, typed)), Shop())
        except ShopError:
            continue
        if work.blank.there:
            continue
        bar = bought(choose_stock(work.blank, (), unit=unit).buy, unit)
        judged = choose_stock(work.blank, [bar]).options[0]
        assert judged.fits, (typed, judged.reason, bar.title)
        if bar.form is not Form.HEXAGON:
            sold = [s * 25.4 / 16 for s in SOLD_SIXTEENTHS] if unit == "in" else [float(s) for s in SOLD]
            smaller = [s for s in sold if s < bar.width_mm - 1e-9]
            if smaller and len(smaller) < len(sold):
                thin = replace(bar, width_mm=smaller[-1])
                # Turned over it may do; as it lies it must not.
                assert not (o := choose_stock(work.blank, [thin]).options[0]).fits or o.turned, (typed, thin.title)
        tried += 1
    assert tried > 5


@pytest.mark.parametrize(
    ("form", "width", "height", "words"),
    [
        (Form.FLAT, 20, 16, "20 × 16 mm"),
        (Form.FLAT, 19.05, 12.7, "3/4 × 1/2 in"),
        (Form.FLAT, 50.8, 6.35, "2 × 1/4 in"),
        (Form.FLAT, 127, 12.7, "5 × 1/2 in"),
        (Form.FLAT, 25, 12.7, "25 × 12.7 mm"),
        (Form.FLAT, 63.5, 38.1, "2 1/2 × 1 1/2 in"),
        (Form.FLAT, 127, 254, "127 × 254 mm"),
        (Form.ROUND, 31.75, 0, "Ø1 1/4 in"),
        (Form.ROUND, 12.5, 0, "Ø12.5 mm"),
        (Form.HEXAGON, 17, 0, "17 mm hexagon"),
        (Form.HEXAGON, 15.875, 0, "5/8 in hexagon"),
    ],
)
def test_a_bar_is_called_as_it_is_sold(form: Form, width: float, height: float, words: str) -> None:
    assert section_text(form, width, height) == words


def context(*cutters: Cutter) -> Context:
    shop = Shop(cutters=cutters)
    family = find_family("t_nut")
    blank = family.work(solve_for(family, shop, Request(), {}), shop).blank
    machine = Machine(id="m", name="Mill", kind=MachineKind.KNEE)
    from elbrix.making.options import Options

    return Context(
        shop=shop,
        machine=machine,
        blank=blank,
        options=Options(),
        measured={},
        cutting=BarCutting(),
        bar=None,
        frame=None,
        main="m",
    )


def cutter(id_: str, kind: CutterKind, d: float, name: str = "") -> Cutter:
    return Cutter(id=id_, kind=kind, diameter_mm=d, name=name, teeth=3)


def test_a_tap_is_found_by_its_name_and_a_drill_by_its_size() -> None:
    fine, coarse = cutter("f", CutterKind.TAP, 10, "M10x1"), cutter("c", CutterKind.TAP, 10, "M10x1.5")
    for order in ((fine, coarse), (coarse, fine)):
        there = context(*order)
        assert there.find(CutterKind.TAP, 10, "M10x1.5").id == "c" and there.find(CutterKind.TAP, 10, "M10x1").id == "f"
        assert there.find(CutterKind.TAP, 10).id in ("c", "f")
        missing = there.find(CutterKind.TAP, 10, "M10x1.25")
        assert missing.id.startswith("missing") and not there.kit[-1].owned
    near, exact, far = (cutter(str(d), CutterKind.DRILL, d) for d in (8.45, 8.5, 8.6))
    assert context(near, exact, far).find(CutterKind.DRILL, 8.5).id == "8.5"
    assert context(near, far).find(CutterKind.DRILL, 8.5).id == "8.45"
    assert context(far).find(CutterKind.DRILL, 8.5).id.startswith("missing")  # 0.1 over is another hole
    assert context(far).find(CutterKind.DRILL, 8.5, over=0.2).id == "8.6"
