"""The curved T-nut: slid round its ring by brute force, weighed, cut from the strokes, its worm turned back into angles."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from shapely import LineString, Point, Polygon, minimum_bounding_radius

from elbrix.book.documents import shop_of
from elbrix.demo import documents
from elbrix.design.families.ring_nut.sizes import RingNutSizes
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.design.work import RingWall
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.making.rotary import swing_deg, worm_words
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.results.checks import Verdict
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

FAMILY = find_family("ring_nut")
SHOP = shop_of(documents())
#: R 90, neck 12.2, lips 9, head 20.4, 17.6 deep.
SLOT = {"ring_radius": "90", "neck": "12.2", "lip": "9", "head": "20.4", "depth": "17.6"}
LENGTHS = [{**SLOT, "length": length} for length in ("20", "48", "75")]


def solved(typed: dict[str, str], shop: Shop = SHOP) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def check(typed: dict[str, str], key: str) -> tuple[float, Verdict]:
    found = next(c for c in solved(typed).checks if c.key == key)
    return found.value, found.verdict


def test_its_sizes_by_hand() -> None:
    d = solved(SLOT)
    v = d.values
    assert (v.number("neck_width"), v.number("neck_height")) == (11.9, 8.0)  # 12.2 − 0.3; 9 − 1
    assert (v.number("head_width"), v.number("head_height")) == (19.4, 8.1)  # 20.4 − 1; 17.6 − 9 − 0.5
    assert v.number("length") == 39  # twice 19.4, up
    assert v.word("thread") == "M10x1.5" and d.figure("full_thread").value == pytest.approx(16.1 - 3.75)
    said = [d.figure(k).value for k in ("neck_inside", "neck_outside", "head_inside", "head_outside")]
    assert said == pytest.approx([84.05, 95.95, 80.3, 99.7])
    assert d.figure("included").value == pytest.approx(2 * math.degrees(math.asin(19.5 / 90)))
    # From the inner corners of the head to the middle of its outer wall.
    assert d.figure("bar_width").value == pytest.approx(99.7 - math.sqrt(80.3**2 - 19.5**2))


def ring(s: RingNutSizes, width: float) -> Polygon:
    """The nut's outline in coordinates of the ring's centre."""
    h, n = s.length / 2, 200
    xs = [h * (2 * i / n - 1) for i in range(n + 1)]
    inside = [(x, math.sqrt(s.inner(width) ** 2 - x * x)) for x in xs]
    return Polygon([*inside, *((x, math.sqrt(s.outer(width) ** 2 - x * x)) for x in reversed(xs))])


def slot(radius: float, width: float) -> Polygon:
    return Point(0, 0).buffer(radius + width / 2, 720).difference(Point(0, 0).buffer(radius - width / 2, 720))


@pytest.mark.parametrize("typed", LENGTHS, ids=lambda t: t["length"])
def test_it_lies_in_its_ring_with_the_clearance_it_says(typed: dict[str, str]) -> None:
    s = RingNutSizes(solved({**typed, "centring_error": "0"}).values)
    for nut, gap in ((s.nut_neck, s.neck.min), (s.nut_head, s.head.min)):
        there, room = ring(s, nut), slot(s.radius, gap)
        assert there.within(room)
        # Half of the clearance on each side: carried outward by a hair more it leaves the ring.
        half = (gap - nut) / 2
        moved = Polygon([(x, y + half * 1.1) for x, y in there.exterior.coords])
        assert not moved.within(room)


def test_a_radius_that_is_wrong_takes_the_clearance_it_says() -> None:
    s = RingNutSizes(solved({**SLOT, "length": "75", "centring_error": "1.5"}).values)
    # Cut on 91.5 and laid into 90, as well as it can lie: slid along y until the overlap with the walls is least.
    gap = s.neck.min
    play = 1e9
    cut = 91.5
    h = s.length / 2
    for shift in [i / 1000 for i in range(-400, 401)]:
        worst = -1e9
        for x in [h * i / 100 for i in range(101)]:
            y_in = math.sqrt((cut - s.nut_neck / 2) ** 2 - x * x) - cut + 90 + shift
            y_out = math.sqrt((cut + s.nut_neck / 2) ** 2 - x * x) - cut + 90 + shift
            worst = max(worst, (90 - gap / 2) - math.hypot(x, y_in), math.hypot(x, y_out) - (90 + gap / 2))
        play = min(play, worst)
    # Half of what is left, on the tighter side.
    assert -2 * play == pytest.approx(s.neck_play, abs=0.02)


@pytest.mark.parametrize("typed", LENGTHS, ids=lambda t: t["length"])
def test_the_circle_round_it_is_the_smallest(typed: dict[str, str]) -> None:
    s = RingNutSizes(solved(typed).values)
    assert s.circle == pytest.approx(2 * minimum_bounding_radius(ring(s, s.nut_head)), rel=1e-4)
    assert check({**typed, "entry_hole": f"{s.circle - 0.2:.2f}"}, "enters")[1] is Verdict.NO_GO
    assert check({**typed, "entry_hole": f"{s.circle + 0.2:.2f}"}, "enters")[1] is Verdict.MARGINAL
    assert check({**typed, "entry_hole": f"{s.circle + 0.6:.2f}"}, "enters")[1] is Verdict.GO


def test_a_straight_one_is_said_to_do_exactly_as_far_as_it_slides() -> None:
    longest = solved(SLOT).figure("straight_longest").value
    s = RingNutSizes(solved(SLOT).values)

    def slides(length: float) -> bool:
        """A straight block pushed against the inner wall, as the ring is less a hair."""
        for width, gap in ((s.nut_neck, s.neck.min - 0.1), (s.nut_head, s.head.min - 0.2)):
            inner = s.radius - gap / 2
            if math.hypot(length / 2, inner + width) > s.radius + gap / 2 + 1e-9:
                return False
        return True

    assert slides(longest - 0.01) and not slides(longest + 0.01)
    assert check({**SLOT, "length": f"{math.floor(longest)}"}, "worth")[1] is Verdict.MARGINAL
    assert check({**SLOT, "length": f"{math.ceil(longest)}"}, "worth")[1] is Verdict.GO


@pytest.mark.parametrize(
    ("typed", "key", "verdict"),
    [
        ({"neck_width": "12.3"}, "neck_slides", Verdict.NO_GO),
        ({"neck_width": "12.15"}, "neck_slides", Verdict.MARGINAL),
        ({"head_width": "20.5"}, "head_slides", Verdict.NO_GO),
        ({"neck_height": "8.9"}, "below", Verdict.NO_GO),
        ({"neck_height": "8.6"}, "below", Verdict.MARGINAL),
        ({"head_height": "8.7"}, "under", Verdict.NO_GO),
        ({"thread": "M12", "neck_width": "12.1"}, "wall", Verdict.NO_GO),
        ({"neck_height": "3", "head_height": "8"}, "engagement", Verdict.NO_GO),
        ({"torque": "68"}, "stud", Verdict.NO_GO),  # M10: 58 mm² · 580 MPa is 33.6 kN; K·d of that 67.3 N·m
        ({"torque": "53"}, "stud", Verdict.MARGINAL),  # and 51.7 N·m where the scatter begins to take it past
        ({"length": "15", "torque": "29"}, "lip_bending", Verdict.NO_GO),
        ({"head_width": "13", "torque": "25"}, "bearing", Verdict.NO_GO),
    ],
)
def test_every_check_is_seen_to_refuse(typed: dict[str, str], key: str, verdict: Verdict) -> None:
    assert check(SLOT, key)[1] is Verdict.GO
    assert check({**SLOT, **typed}, key)[1] is verdict


def test_its_loads_by_hand() -> None:
    typed = {**SLOT, "torque": "20", "length": "40"}
    # 10 kN; overlap (19.4 + 11.9)/2 − 12.2 − 0.3 = 3.15; arm 10.2 − (12.2 + 19.4)/4 = 2.3
    assert check(typed, "bearing")[0] == pytest.approx(10000 / (2 * 3.15 * 40))
    assert check(typed, "lip_shear")[0] == pytest.approx(10000 / (2 * 9 * 44.6))
    assert check(typed, "lip_bending")[0] == pytest.approx(3 * 10000 * 2.3 / (44.6 * 81))
    assert check(typed, "flange")[0] == pytest.approx(3 * 10000 * (31.6 / 4 - 5.95) / (40 * 8.1**2), rel=1e-3)


@pytest.mark.parametrize(
    ("typed", "entry"),
    [
        ({"head_width": "11"}, "head_width"),
        ({"thread": "M12"}, "thread"),
        ({"length": "170"}, "length"),
        ({"neck_height": "1", "head_height": "4"}, "head_height"),
    ],
)
def test_what_is_no_such_nut_is_refused_beside_its_entry(typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as refused:
        solved({**SLOT, **typed})
    assert refused.value.entry == entry and refused.value.why and refused.value.do


@pytest.mark.parametrize("typed", LENGTHS, ids=lambda t: t["length"])
def test_the_solid_weighs_what_is_worked_out(typed: dict[str, str], kernel: Kernel) -> None:
    d = solved(typed)
    assert kernel.ask("mass", FAMILY.solid(d))["volume_mm3"] == pytest.approx(RingNutSizes(d.values).volume, rel=1e-6)


def planned(design: Design, shop: Shop = SHOP) -> Plan:
    return plan_work("T", FAMILY.work(design, shop), shop, home="hazel")


@pytest.mark.parametrize("typed", LENGTHS, ids=lambda t: t["length"])
def test_cut_by_brute_force_from_its_strokes(typed: dict[str, str]) -> None:
    """From above: the bar less every disc the cutter covers on its way is the nut, level by level."""
    d = solved(typed)
    s, plan = RingNutSizes(d.values), planned(d)
    setup = next(x for x in plan.setups if x.id == "ring")
    top, h = s.total, s.length / 2
    bar = Polygon([(-h, s.low_y), (h, s.low_y), (h, s.high_y), (-h, s.high_y)])
    for level, width in ((top - 1.0, s.nut_neck), (s.head_height / 2, s.nut_head)):
        left = bar
        for operation in setup.operations:
            if operation.cutter is None:
                continue
            r = operation.cutter.diameter_mm / 2
            for move in operation.moves:
                for stroke in move.strokes:
                    if top + stroke.path[0][2] <= level:
                        swept = LineString([(x, y - s.radius) for x, y, _ in stroke.path]).buffer(r, 64)
                        left = left.difference(swept)
        wanted = Polygon([(x, y - s.radius) for x, y in ring(s, width).exterior.coords])
        assert left.symmetric_difference(wanted).area < 0.002 * wanted.area
        assert left.symmetric_difference(wanted).buffer(-0.01).area < 1e-3


@pytest.mark.parametrize("typed", LENGTHS, ids=lambda t: t["length"])
def test_rehearsed_clean_and_a_slip_is_found(typed: dict[str, str]) -> None:
    plan = planned(solved(typed))
    assert rehearse(plan).clean
    last = next(m for _, _, m in plan.moves if m.id == "neck_out.finish")
    at = next(p for p in last.positions if p.axis == "Y")
    wrong = rehearse(plan, Slips(keyed={(last.id, "Y"): at.dial.set_mm - 1.0}))
    assert wrong.wrong_at == last.id and any(f.kind == "gouge" for f in wrong.findings)


def test_the_worm_turned_back_is_the_angle() -> None:
    clover = next(m for m in SHOP.machines if m.kind is MachineKind.ROTARY_TABLE)
    for angle in (0.05, 3.99, 4.0, 19.08, 53.83):
        words = worm_words(clover, angle)
        turns = float((re.search(r"(\d+) turn", words) or [0, 0])[1])
        marks = float((re.search(r"(\d+) marks", words) or [0, 0])[1])
        # 90 turns of the worm are one of the table: 4° a turn, a minute a mark.
        assert 4 * turns + marks / 60 == pytest.approx(angle, abs=0.5 / 60 + 1e-9)
    assert worm_words(None, 12.5) == "12.5°"
    plain = Machine(id="r", name="R", kind=MachineKind.ROTARY_TABLE, worm_turns=40)
    assert worm_words(plain, 9.0).startswith("1 turns")


def test_the_swing_clears_the_ends_of_the_piece() -> None:
    for half, d, radius in ((24, 12, 105.7), (37.5, 20, 74.3)):
        angle = math.radians(swing_deg(half, d, radius))
        assert radius * math.sin(angle) - d / 2 >= half + 1.9


def test_it_fits_only_rings_of_its_own_radius() -> None:
    own = solved({}, SHOP)
    assert [f.verdict for f in FAMILY.fits(own, SHOP)] == [Verdict.GO]
    other = solved({**SLOT, "ring_radius": "60", "length": "60"})
    assert FAMILY.fits(other, SHOP)[0].verdict is Verdict.NO_GO


def test_a_cutter_too_thick_for_the_ring_is_said_and_never_turns_inside_out() -> None:
    tight = {"ring_radius": "22", "neck": "6", "lip": "4", "head": "10", "depth": "9", "length": "12", "thread": "M4"}
    work = FAMILY.work(solved(tight), SHOP)
    thick = max((c for c in SHOP.cutters if c.kind.value == "end mill"), key=lambda c: c.diameter_mm)
    plan = plan_work("T", work, SHOP, Options(cutter=thick.id), home="hazel")
    assert any("does not turn inside" in p for p in plan.problems)
    assert all(m.positions[0].value_mm > 0 for _, _, m in plan.moves if m.id.startswith(("head_in", "neck_in")))


@pytest.mark.parametrize("off", [0.004, 0.03, 0.08])
def test_a_centre_that_is_still_off_moves_both_walls_and_not_their_width(off: float) -> None:
    """Cut about a point beside the centre: the worst any wall point lies off its radius, over all directions and angles."""
    d = solve_for(FAMILY, SHOP, Request(), {})
    work = FAMILY.work(d, SHOP)
    plan = plan_work("T", work, SHOP, measured={"ring_centre": off}, home="hazel")
    radii = [w.radius_mm for w in work.steps if isinstance(w, RingWall)]
    turn = np.linspace(0, 2 * math.pi, 721)
    worst = max(float(np.max(np.abs(np.hypot(off + r * np.cos(turn), r * np.sin(turn)) - r))) for r in radii)
    assert worst == pytest.approx(off, rel=1e-3)
    said = [w for w in (*plan.assumed, *plan.problems) if "centre is" in w]
    assert len(said) == 1 and f"{off:g}" in said[0]
    assert any("Centre it again" in w for w in plan.problems) == (off > 0.05)
    place = next(m for _, _, m in plan.moves if m.id == "ring.centre.Y")
    assert place.asked is not None and place.asked.key == "ring_centre"
