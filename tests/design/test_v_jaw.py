"""V-jaws: geometry by touching circles to flanks.

Milling numbers by turning the block, weight against the kernel, and what cannot be.
"""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.optimize import brentq

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.families.v_jaw import FAMILY
from elbrix.design.families.v_jaw.sizes import ANGLES, VJawSizes, holds_from, holds_to
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.design.work import VGroove
from elbrix.making.grooves import tilt_for, vee_numbers
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


def jaws(shop: Shop, **typed: str) -> Design:
    return solve_for(FAMILY, shop, Request(machine="hazel", pieces=2), read_choices(FAMILY, typed))


def said(design: Design, key: str) -> float:
    return design.figure(key).value


def touches_at(d: float, angle_deg: float) -> tuple[float, float]:
    """Centre above the point of the V and half width of contact of a circle in it.

    Found by lowering it till it touches a flank.
    """
    half = math.radians(angle_deg) / 2
    # Distance of (0, h) to the flank through the origin at `half` from the vertical.
    h = brentq(lambda z: z * math.sin(half) - d / 2, 0.0, 100 * d)
    return float(h), float(h * math.sin(half) * math.cos(half))


@given(st.floats(2, 100), st.sampled_from(ANGLES))
def test_a_round_lies_where_it_touches(d: float, angle: float) -> None:
    centre, contact = touches_at(d, angle)
    s = jaws(Shop(), angle=f"{angle:g}")
    assert VJawSizes(s.values).centre_above(d) == pytest.approx(centre, rel=1e-9)
    # The largest round of a mouth touches right at its edge.
    assert holds_to(2 * contact, angle) == pytest.approx(d, rel=1e-9)


@given(st.floats(5, 120), st.sampled_from(ANGLES))
def test_the_jaws_meet_when_the_faces_do(mouth: float, angle: float) -> None:
    half = math.radians(angle) / 2
    deep = mouth / 2 / math.tan(half)
    d = holds_from(mouth, angle, "twin")
    # Twins: both points lie as far behind their faces as the V is deep; between them is the round.
    assert 2 * touches_at(d, angle)[0] == pytest.approx(2 * deep, rel=1e-9)
    f = holds_from(mouth, angle, "flat")
    assert touches_at(f, angle)[0] + f / 2 == pytest.approx(deep, rel=1e-9)


def test_worked_by_hand(demo_shop: Shop) -> None:
    # 90°, mouth 40: 20 deep, holds 28.28 to 56.57 between twins; a 30 pin stands 15·(1 + √2) − 20 = 16.213 above the face.
    design = jaws(
        demo_shop, angle="90", v_width="40", smallest="30", largest="55", pin_diameter="30", relief_width="6", height="34"
    )
    for key, hand in {
        "deep": 20,
        "least": 28.2843,
        "most": 56.5685,
        "over_pin": 16.2132,
        "tilt": 45,
        "moves": 0.70711,
        "alone": 8.48528,
    }.items():
        assert said(design, key) == pytest.approx(hand, abs=1e-4), key
    assert said(design, "flank") == pytest.approx(9450 / math.sqrt(2))
    # 60°: 1.00, 120°: 0.577 of the error in Ø.
    assert said(jaws(demo_shop, angle="60"), "moves") == pytest.approx(1.0) and said(
        jaws(demo_shop, angle="120"), "moves"
    ) == pytest.approx(0.57735, abs=1e-5)


def test_the_angle_goes_by_the_range(demo_shop: Shop) -> None:
    assert jaws(demo_shop, smallest="20", largest="30").values.word("angle") == "90"  # 1.5, 90° holds 2
    assert jaws(demo_shop, smallest="10", largest="30").values.word("angle") == "120"  # 3, 120° holds 4
    assert jaws(demo_shop, smallest="5", largest="60").check("smallest").verdict is Verdict.NO_GO


# --- milled -----------------------------------------------------------------------------------------------------------


@given(st.floats(10, 120), st.floats(4, 100), st.sampled_from(ANGLES))
def test_a_tilted_flank_lies_level_where_the_numbers_say(edge: float, mouth: float, angle: float) -> None:
    assume(mouth / 2 < edge)
    tilt = math.radians(tilt_for(angle))
    deep = mouth / 2 / math.tan(math.radians(angle) / 2)

    def turned(u: float, w: float) -> tuple[float, float]:
        """About the high edge, at u = −edge, w = 0."""
        u += edge
        return u * math.cos(tilt) + w * math.sin(tilt), -u * math.sin(tilt) + w * math.cos(tilt)

    # The flank from the bottom of the V to the mouth on the far side from the high edge.
    bottom, rim = turned(0.0, -deep), turned(mouth / 2, 0.0)
    assert bottom[1] == pytest.approx(rim[1], abs=1e-9)  # level
    down, across = vee_numbers(edge, mouth, angle)
    assert down == pytest.approx(-rim[1], abs=1e-9) and across == pytest.approx(bottom[0], abs=1e-9)


def test_both_flanks_of_the_plan_meet_in_the_v(demo_shop: Shop) -> None:
    design = jaws(demo_shop)
    s = VJawSizes(design.values)
    plan = plan_work("V", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    setups = [x for x in plan.setups if x.id.startswith("vee.")]
    mill = next(c for c in demo_shop.cutters if c.title == setups[0].operations[1].tool)
    last = [m for x in setups for m in x.moves if any(p.key == "vee.z" for p in m.positions)]
    assert len(last) == 2 and [x.lie.away for x in setups if x.lie] == ["B", "D"]  # turned end for end between
    down, across = vee_numbers(s.width / 2, s.mouth, s.angle)
    for move in last:
        at = {p.axis: p.value_mm for p in move.positions}
        assert at["Z"] == pytest.approx(-down, abs=1e-6) and -at["Y"] - mill.diameter_mm / 2 == pytest.approx(across, abs=1e-6)
    assert last[-1].asked is not None and last[-1].asked.expected_mm == pytest.approx(s.over_pin)


def test_a_v_off_the_middle_has_two_numbers(demo_shop: Shop) -> None:
    from msgspec.structs import replace

    design = jaws(demo_shop)
    work = FAMILY.work(design, demo_shop)
    moved = replace(work, steps=tuple(replace(x, at_mm=5.0) if isinstance(x, VGroove) else x for x in work.steps))
    plan = plan_work("V", moved, demo_shop, home="hazel")
    zs = [p.value_mm for _, _, m in plan.moves for p in m.positions if p.key == "vee.z"]
    # The far edge, high first, is 5 nearer: 2 × 5·sin τ between the two.
    assert zs[0] - zs[1] == pytest.approx(2 * 5 * math.sin(math.radians(30)), abs=1e-6)


def test_holes_follow_the_bar(demo_shop: Shop) -> None:
    design = jaws(demo_shop)
    s = VJawSizes(design.values)
    plan = plan_work("V", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    found = {
        (round(p["X"], 3), round(p["Y"], 3))
        for _, _, m in plan.moves
        if m.id.startswith("pattern.drill")
        for p in [{q.axis: q.value_mm for q in m.positions}]
    }
    # Along the bar is along the V; away from you is to the V's left.
    assert found == {(round(h.y, 3), round(-h.x, 3)) for h in s.holes}


def test_the_solid_weighs_its_end_times_its_length(demo_shop: Shop, kernel: Kernel) -> None:
    for keys in ("none", "along", "across", "both"):
        s = VJawSizes(jaws(demo_shop, keyways=keys).values)
        holes = sum(math.pi / 4 * (h.drill**2 * (s.height - h.bore_depth) + h.bore**2 * h.bore_depth) for h in s.holes)
        across = s.keyway * s.keyway_depth * s.width if keys in ("across", "both") else 0.0
        shared = s.keyway**2 * s.keyway_depth if keys == "both" else 0.0
        # Where the keyway across runs under the table bolts there is less hole.
        less = 2 * math.pi / 4 * s.bolts[0].drill ** 2 * s.keyway_depth if across else 0.0
        volume = kernel.ask("mass", FAMILY.solid(jaws(demo_shop, keyways=keys)))["volume_mm3"]
        assert volume == pytest.approx(s.area * s.length - across + shared - holes + less, rel=2e-4), keys


def test_what_it_fits_and_holds(demo_shop: Shop) -> None:
    design = jaws(demo_shop)
    fits = {(f.machine, f.slot): f.verdict for f in FAMILY.fits(design, demo_shop)}
    assert fits["125 mm vise", "jaw screws"] is Verdict.GO and fits["split vise, two blocks", "jaw screws"] is Verdict.NO_GO
    assert fits["Hazel", "middle slot"] is Verdict.GO and fits["Pip", "front slot"] is Verdict.NO_GO
    holds = FAMILY.can_hold(design)[0].sizes
    assert holds["from_mm"] == pytest.approx(max(said(design, "least"), said(design, "alone"))) and holds[
        "to_mm"
    ] == pytest.approx(said(design, "most"))


def test_the_demo_pair_is_proven(demo_shop: Shop) -> None:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "v-jaws")
    design = solve_doc(doc, demo_shop)
    assert all(c.verdict is Verdict.GO for c in design.checks) and plan_doc(doc, design, demo_shop).problems == ()


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"smallest": "30", "largest": "20"}, "smaller one comes first", "largest"),
        ({"v_width": "112", "width": "113"}, "A land is left", "v_width"),
        ({"relief_width": "20", "v_width": "18"}, "takes the whole V away", "relief_width"),
        ({"v_width": "60", "angle": "60", "height": "30"}, "go through", "height"),
        ({"bolt_position": "90", "length": "60"}, "90 from the low end", "bolt_position"),
    ],
)
def test_jaws_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError) as caught:
        jaws(demo_shop, **typed)
    assert re.search(said_, plain(str(caught.value)))
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "check"),
    [
        ({"largest": "30", "v_width": "14"}, "largest"),
        ({"relief_width": "8"}, "drops"),
        ({"height": "12", "keyways": "none"}, "floor"),
        ({"largest": "130", "smallest": "60", "width": "180", "screw_spacing": "150", "bolt_spacing": "150"}, "opens"),
        ({"bolt_position": "20"}, "web"),
        ({"pin_diameter": "5"}, "pin_diameter"),
        ({"length": "110"}, "stands"),
    ],
)
def test_what_is_refused_says_why(typed: dict[str, str], check: str, demo_shop: Shop) -> None:
    found = jaws(demo_shop, **typed).check(check)
    assert found.verdict is Verdict.NO_GO and found.reason
