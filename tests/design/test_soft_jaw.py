"""Soft jaws: nests checked by laying the work in them.

Squareness by tipping it on its pins, weight against the kernel, and what cannot be.
"""

from __future__ import annotations

import io
import math
import re
from itertools import pairwise

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point as MovablePoint
from shapely import Polygon, unary_union
from shapely.affinity import translate

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc
from elbrix.demo import documents
from elbrix.design.families.soft_jaw import FAMILY
from elbrix.design.families.soft_jaw.nest import beyond, centred, largest_cutter, outline_nest
from elbrix.design.families.soft_jaw.sizes import SoftJawSizes
from elbrix.design.family import Design, Request, read_choices, solve_for
from elbrix.exchange.outlines import outline_from_dxf
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

FOOT = (
    (-6.0, 30.0),
    (-9.0, 9.0),
    (-29.0, -9.8),
    (-23.0, -20.2),
    (0.0, -12.0),
    (23.0, -20.2),
    (29.0, -9.8),
    (9.0, 9.0),
    (6.0, 30.0),
)
BOX = ((-30.0, -15.0), (30.0, -15.0), (30.0, 15.0), (-30.0, 15.0))


def jaw(shop: Shop, **typed: str) -> Design:
    return solve_for(FAMILY, shop, Request(), read_choices(FAMILY, typed))


def said(design: Design, key: str) -> float:
    return design.figure(key).value


# --- nests ------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("ring", [BOX, centred(FOOT)])
@pytest.mark.parametrize("cutter", [4.0, 8.0, 12.0])
def test_the_work_lies_in_a_relieved_nest_and_not_in_a_bare_one(ring: tuple[tuple[float, float], ...], cutter: float) -> None:
    work = Polygon(ring)
    relieved, bare = outline_nest(ring, 0.1, cutter, True), outline_nest(ring, 0.1, cutter, False)
    room = unary_union([Polygon(r) for r in relieved.rings])
    assert relieved.left_mm2 == 0 and work.difference(room.buffer(0.01)).area == pytest.approx(0, abs=1e-6)
    assert bare.left_mm2 > 0.5  # sharp corners stand in metal
    # What a corner leaves standing: a square corner of a cutter of radius r, (1 − π/4)·r² each, a little less for the clearance.
    if ring is BOX:
        r = cutter / 2
        corner = (r - 0.1) ** 2 - 0  # square beside the arc's tangent points, inside the work
        by_hand = 4 * (
            work.area / 4
            - work.intersection(Polygon([(0, 0), (30, 0), (30, 15), (0, 15)]))
            .intersection(unary_union([Polygon(q) for q in bare.rings]))
            .area
        )
        assert bare.left_mm2 == pytest.approx(by_hand, rel=0.05) and bare.left_mm2 < 4 * corner


@settings(max_examples=40)
@given(st.floats(1.5, 14), st.floats(0.02, 1.0))
def test_the_cutter_never_goes_where_the_nest_ends(cutter: float, clearance: float) -> None:
    nest = outline_nest(centred(FOOT), clearance, cutter, True)
    whole = unary_union([Polygon(r) for r in nest.rings]).buffer(0.01)
    path = Polygon(nest.path).exterior
    swept = unary_union([MovablePoint(path.interpolate(i / 200, normalized=True)).buffer(cutter / 2) for i in range(200)])
    assert swept.difference(whole).area < 0.02 * cutter
    # And the work can be laid in: anywhere within its clearance.
    work = Polygon(centred(FOOT))
    if nest.left_mm2 == 0:
        assert translate(work, 0.3 * clearance, 0).difference(whole).area < 0.05


def test_a_cutter_that_goes_in_nowhere() -> None:
    with pytest.raises(ShopError, match="does not go into the nest") as caught:
        outline_nest(((0, 0), (40, 0), (40, 6), (0, 6)), 0.1, 10, True)
    assert caught.value.entry == "cutter_diameter"


def test_the_largest_cutter_is_the_largest_that_leaves_nothing() -> None:
    slim = ((0.0, 0.0), (60.0, 0.0), (60.0, 7.0), (0.0, 7.0))  # 7.2 wide with its clearance
    assert largest_cutter(slim, 0.1, (3.0, 6.0, 7.0, 8.0, 12.0)) == 7.0
    assert largest_cutter(slim, 0.1, (8.0, 12.0)) == 0.0


@pytest.mark.parametrize("gap", [0.0, 4.0, 11.0])
def test_both_jaws_together_are_the_nest_less_the_spacer(gap: float) -> None:
    nest = outline_nest(centred(FOOT), 0.1, 6.0, True)
    whole = unary_union([Polygon(r) for r in nest.rings])
    parts = sum(Polygon(r).area for moving in (False, True) for r in beyond(nest.rings, gap, moving))
    band = whole.intersection(Polygon([(-99, -gap / 2), (99, -gap / 2), (99, gap / 2), (-99, gap / 2)])).area if gap else 0.0
    assert parts == pytest.approx(whole.area - band, rel=1e-6)


def test_the_round_nest_is_bored_a_hair_large(demo_shop: Shop) -> None:
    design = jaw(demo_shop, kind="round", work_width="40", nest_clearance="0.08", spacer="14")
    s = SoftJawSizes(design.values)
    assert said(design, "nest_d") == pytest.approx(40.08) and s.recess == pytest.approx(20.04 - 7, abs=0.02)
    assert jaw(demo_shop, kind="round", nest_clearance="-0.05").check("bite").verdict is Verdict.NO_GO
    plan = plan_work("Jaw", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    cuts = [m.asked.expected_mm for _, _, m in plan.moves if m.asked and m.id.startswith("nest.")]
    steps = {round(b - a, 6) for a, b in pairwise(cuts)}
    assert cuts[-1] == pytest.approx(40.08) and len(steps) == 1  # equal finishing cuts


# --- ledges, pins, grip -----------------------------------------------------------------------------------------------


def test_squareness_by_hand_and_by_tipping(demo_shop: Shop) -> None:
    design = jaw(
        demo_shop,
        kind="pins",
        pin_spacing="50",
        pin_height_error="0.01",
        pin_lean="0.001",
        pin_protrusion="4",
        square_length="80",
        squareness="0.1",
    )
    # One pin 0.01 high, the other as much low, half the play and lean each way: the work turns by their sum over 50.
    turned = math.atan2(0.01 + 0.01 + 0.015 + 0.001 * 4, 50)
    assert said(design, "out_of_square") == pytest.approx(80 * math.tan(turned), rel=1e-9) == pytest.approx(0.0624)
    far = jaw(demo_shop, kind="pins", work_length="110", square_length="80")
    assert said(far, "out_of_square") < said(design, "out_of_square")  # as far apart as the work allows


def test_pins_are_reamed_by_their_fit(demo_shop: Shop) -> None:
    slip, press = (
        jaw(demo_shop, kind="pins", pin_diameter="6.002"),
        jaw(demo_shop, kind="pins", pin_diameter="6.002", pin_fit="press"),
    )
    assert next(h for h in slip.holes if h.name == "P1").what.startswith(
        "Ø6.017 +0.01/−0.005 reamed"
    )  # 0.01 to 0.025 over the pin
    assert next(h for h in press.holes if h.name == "P1").what.startswith(
        "Ø5.994 +0.003/−0.004 reamed"
    )  # 0.005 to 0.012 under it
    s = SoftJawSizes(slip.values)
    assert s.pins[0].y + s.pin / 2 == pytest.approx(s.seat)  # the work rests on top of them


def test_grip_is_a_tenth_of_the_height_and_three_at_least(demo_shop: Shop) -> None:
    for high, grip, verdict in (
        ("20", "3", Verdict.GO),
        ("20", "2.5", Verdict.MARGINAL),
        ("80", "6", Verdict.MARGINAL),
        ("80", "3", Verdict.NO_GO),
        ("80", "8", Verdict.GO),
    ):
        assert jaw(demo_shop, work_height=high, grip_height=grip).check("grip_height").verdict is verdict, (high, grip)


def test_the_vise_opens_for_the_work(demo_shop: Shop) -> None:
    # Ledge jaws 16 thick, ledge 3: 100 of work takes 2·16 + 100 − 6 = 126 of 130.
    assert jaw(demo_shop, work_width="100").check("opens").value == pytest.approx(4.0)
    assert jaw(demo_shop, work_width="110").check("opens").verdict is Verdict.NO_GO
    assert jaw(demo_shop, work_width="110", jaws="single").check("opens").value == pytest.approx(130 - (16 + 110 - 3))


def test_a_ledge_is_milled_below_the_top(demo_shop: Shop) -> None:
    design = jaw(demo_shop, grip_height="6", ledge_depth="4")
    plan = plan_work("Jaw", FAMILY.work(design, demo_shop), demo_shop, home="hazel")
    setup = next(s for s in plan.setups if s.id == "ledge")
    ys = [p.value_mm for m in setup.moves for p in m.positions if p.key == "ledge.shoulder_far"]
    mill = next(c for c in demo_shop.cutters if c.title == next(o.tool for o in setup.operations if "shoulder" in o.title))
    # The jaw lies face up, its top away: the wall stands 40 − 6 from the bottom, 14 from the middle.
    assert ys[0] - mill.diameter_mm / 2 == pytest.approx(14.0, abs=0.003)
    assert min(p.value_mm for m in setup.moves for p in m.positions if p.axis == "Z") == pytest.approx(-4.0, abs=0.006)


# --- the solid --------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", ["plain", "ledge", "pins", "vee", "round", "outline"])
def test_the_solid_weighs_its_parts(kind: str, demo_shop: Shop, kernel: Kernel) -> None:
    design = jaw(demo_shop, kind=kind)
    s = SoftJawSizes(design.values)
    holes = sum(
        math.pi / 4 * ((h.ream or h.drill) ** 2 * (s.thickness - h.bore_depth) + h.bore**2 * h.bore_depth) for h in s.holes
    )
    volume = kernel.ask("mass", FAMILY.solid(design))["volume_mm3"]
    assert volume == pytest.approx(s.volume - holes, rel=2e-4)
    box = s.width * s.height * s.thickness
    assert (volume < box - holes - 1) is (kind not in ("plain", "pins"))


def test_left_and_right_are_each_others_turn(demo_shop: Shop) -> None:
    text = "; ".join(f"{x},{y}" for x, y in FOOT)
    fixed, moving = (SoftJawSizes(jaw(demo_shop, kind="outline", outline=text, side=side).values) for side in ("fixed", "moving"))
    nest = outline_nest(centred(FOOT), 0.1, fixed.v.number("cutter_diameter"), True)
    a, b = sum(Polygon(r).area for r in fixed.recesses), sum(Polygon(r).area for r in moving.recesses)
    assert a != pytest.approx(b, rel=0.01)  # a foot is no rectangle
    assert a + b < sum(Polygon(r).area for r in nest.rings)


# --- outlines somebody else drew --------------------------------------------------------------------------------------


def dxf(draw: object) -> bytes:
    drawing = ezdxf.new(setup=True)
    drawing.units = 4
    draw(drawing.modelspace())  # type: ignore[operator]
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def test_a_closed_spline_is_read_as_a_fine_outline() -> None:
    def draw(space: object) -> None:
        points = [(20 * math.cos(t), 12 * math.sin(t), 0) for t in (2 * math.pi * i / 24 for i in range(25))]
        space.add_spline(points)  # type: ignore[attr-defined]

    ring = outline_from_dxf(dxf(draw))
    assert Polygon(ring).area == pytest.approx(math.pi * 20 * 12, rel=0.005) and len(ring) > 24


def test_an_ellipse_too() -> None:
    ring = outline_from_dxf(dxf(lambda space: space.add_ellipse((5, 5), major_axis=(30, 0), ratio=0.5)))
    assert Polygon(ring).area == pytest.approx(math.pi * 30 * 15, rel=0.005)


@pytest.mark.parametrize(
    "draw",
    [
        lambda space: space.add_lwpolyline([(0, 0), (40, 0), (40, 30)]),  # open
        lambda space: space.add_lwpolyline([(0, 0), (40, 30), (40, 0), (0, 30)], close=True),  # crosses itself
        lambda space: [space.add_line((i, 0), (i + 1, 0)) for i in range(5000)],  # far too many
    ],
)
def test_outlines_that_are_none(draw: object) -> None:
    with pytest.raises(ShopError):
        outline_from_dxf(dxf(draw))


# --- the demo shop, and what cannot be --------------------------------------------------------------------------------


def test_the_demo_jaws_are_proven(demo_shop: Shop) -> None:
    for ident in ("jaws-ledge", "jaws-foot"):
        doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == ident)
        design = solve_doc(doc, demo_shop)
        assert all(c.verdict is Verdict.GO for c in design.checks), ident
        assert {f.machine: f.verdict for f in FAMILY.fits(design, demo_shop)}["125 mm vise"] is Verdict.GO


def test_for_the_other_vise(demo_shop: Shop) -> None:
    design = jaw(demo_shop, vise="split vise, two blocks", work_length="50")
    assert (said(design, "length"), said(design, "height"), design.values.word("jaw_screw")) == (80, 24, "M6")


@pytest.mark.parametrize(
    ("typed", "said_", "entry"),
    [
        ({"grip_height": "40"}, "Nothing would be left under the work", "grip_height"),
        ({"kind": "outline", "outline": "none"}, "there is none yet", "outline"),
        ({"kind": "round", "work_width": "100", "thickness": "20"}, "comes out at the back", "thickness"),
        ({"kind": "round", "work_width": "160", "thickness": "90"}, "comes out at the ends", "length"),
        ({"kind": "outline", "outline": "0,0; 40,30; 40,0; 0,30"}, "cross", ""),
        ({"kind": "vee", "v_width": "60", "grip_height": "5", "thickness": "60"}, "a mouth of 60", "v_width"),
    ],
)
def test_jaws_that_are_none(typed: dict[str, str], said_: str, entry: str, demo_shop: Shop) -> None:
    with pytest.raises(ShopError) as caught:
        jaw(demo_shop, **typed)
    assert re.search(said_, plain(str(caught.value)))
    assert caught.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "check"),
    [
        ({"grip_height": "16"}, "over_heads"),
        ({"kind": "outline", "corners": "left"}, "reached"),
        ({"kind": "round", "thickness": "15"}, "behind"),
        ({"kind": "pins", "pin_spacing": "58"}, "on_pins"),
        ({"kind": "pins", "pin_protrusion": "22"}, "pin_protrusion"),
        ({"kind": "pins", "pin_height_error": "0.2"}, "square"),
        ({"kind": "vee", "work_width": "24", "v_width": "14"}, "v_holds"),
        ({"kind": "round", "spacer": "40", "thickness": "20"}, "split"),
    ],
)
def test_what_is_refused_says_why(typed: dict[str, str], check: str, demo_shop: Shop) -> None:
    found = jaw(demo_shop, **typed).check(check)
    assert (
        found.verdict in (Verdict.NO_GO, Verdict.MARGINAL)
        and found.reason
        and (check == "split" or found.verdict is Verdict.NO_GO)
    )
