"""Angle settings: every kind against geometry done another way, bad values, and what follows when the shop changes."""

from __future__ import annotations

import math
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.angles.budget import ARCSEC, head_tilt_dial_mm, sine_budget, unlike_rolls_mm
from elbrix.angles.cuts import chamfer, flat_table
from elbrix.angles.methods import recommend, shown, ways_to_set
from elbrix.angles.setup import AngleSetup, all_kinds, find_kind, solve_angle_setup
from elbrix.angles.sine import SinePlate
from elbrix.book.angle_setups import choose_angle, held_by, put_back, solve_angle, wring
from elbrix.book.documents import AngleDoc, shop_of
from elbrix.demo.measuring_room import settings as demo_settings
from elbrix.demo.measuring_room import tools
from elbrix.drawing.scene import Dimension, Note
from elbrix.gauging.owned import owned_set
from elbrix.gauging.uncertainty import stack_uncertainty
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.angles import parse_angle
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.angle_tools import AngleTool, AngleToolKind, SineTool
from elbrix.shop.gauges import BlockState
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

ROOM = shop_of(tools())
PLATE = SineTool(id="p", name="plate", centres_mm=100)
BARE = Shop(gauge_sets=(owned_set("b", "box", "metric 88"),), sine_tools=(PLATE,))
DEMO = {d.id: d for d in demo_settings() if isinstance(d, AngleDoc)}


def setting(kind: str, shop: Shop = BARE, holder: str = "", **typed: str) -> AngleSetup:
    found = find_kind(kind)
    chosen: dict[str, ParameterValue] = {p.name: p.read(typed[p.name]) for p in found.parameters(shop) if p.name in typed}
    assert set(typed) <= set(chosen), set(typed) - set(chosen)
    return solve_angle_setup(found, shop, chosen, holder)


def value(found: AngleSetup, key: str) -> float:
    return found.figure(key).value


# --- every kind -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("shop", [Shop(), BARE, ROOM], ids=["empty", "bare", "demo"])
@pytest.mark.parametrize("kind", list(all_kinds()))
def test_every_kind_stands_in_any_shop(kind: str, shop: Shop) -> None:
    found = setting(kind, shop)
    keys = {f.key for f in found.figures}
    assert len(keys) == len(found.figures)
    assert all(set(g.rows) <= keys for g in found.groups)
    assert all(set(c.figures) <= keys and c.reason for c in found.checks)
    parameters = {p.name for p in find_kind(kind).parameters(shop)}
    assert parameters <= keys
    assert all(f.derivation is not None for f in found.figures if f.key not in parameters)
    assert found.steps and found.cautions
    for scene in found.scenes:
        assert all(math.isfinite(v) for v in scene.bounds())
        entries = [d.entry for d in scene.dimensions if d.entry]
        assert entries and set(entries) <= parameters and len(set(entries)) == len(entries)


@pytest.mark.parametrize("id", list(DEMO))
def test_demo_settings_solve_and_keep_what_was_chosen(id: str) -> None:
    found = solve_angle(DEMO[id], ROOM)
    assert not found.dropped
    assert all(c.verdict is not Verdict.NO_GO for c in found.checks), [
        c.label for c in found.checks if c.verdict is Verdict.NO_GO
    ]


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(list(all_kinds())), st.data())
def test_any_value_either_solves_or_says_why(kind: str, data: st.DataObject) -> None:
    """Whatever is typed in one entry: a setting, or a message beside that entry; never another error."""
    parameters = find_kind(kind).parameters(ROOM)
    parameter = data.draw(st.sampled_from(parameters))
    text = data.draw(
        st.one_of(
            st.text(max_size=12),
            st.floats(-400, 400).map(lambda v: f"{v:.4f}"),
            st.sampled_from([c for c, _ in parameter.choices] or ["0"]),
        )
    )
    refused: ShopError | None = None
    found: AngleSetup | None = None
    try:
        found = solve_angle_setup(find_kind(kind), ROOM, {parameter.name: parameter.read(text)})
    except ShopError as error:
        refused = error
    if refused is not None:
        assert refused.what and refused.why and refused.do
    assert found is None or all(math.isfinite(f.value) for f in found.figures)


# --- sine -------------------------------------------------------------------------------------------------------------


def tilt_by_bisection(plate: SinePlate, stack_mm: float) -> float:
    """Tilt of the line of centres, found by trying: the stack roll's underside must lie on the stack."""
    low, high = -0.5, math.pi / 2
    for _ in range(200):
        middle = (low + high) / 2
        underside = plate.roll_pivot_mm / 2 + plate.centres_mm * math.sin(middle) - plate.roll_stack_mm / 2
        low, high = (middle, high) if underside < stack_mm else (low, middle)
    return low


@settings(max_examples=60, deadline=None)
@given(st.floats(1, 59), st.floats(-0.02, 0.02), st.sampled_from(["centres", "bottoms"]))
def test_sine_setting_is_the_real_triangle(degrees: float, unlike: float, face: str) -> None:
    tool = replace(PLATE, roll_stack_mm=20 + unlike)
    found = setting("sine", replace(BARE, sine_tools=(tool,)), angle=f"{degrees:.6f}", tolerance="0.01", face=face)
    plate = SinePlate(centres_mm=100, roll_pivot_mm=20, roll_stack_mm=20 + unlike)
    tilt = tilt_by_bisection(plate, value(found, "stack_height"))
    # The line under the rolls leans by the difference of the radii over the centres.
    expected = tilt if face == "centres" else tilt - math.asin(unlike / 2 / 100)
    assert math.radians(value(found, "reached")) == pytest.approx(expected, abs=1e-9)
    assert abs(value(found, "off")) < 0.01 * 3600 * 0.11  # the choice of stack uses a tenth of the tolerance


def test_gnomon_by_hand() -> None:
    """The figure worked in docs/user-guide.md: sin 53°14' = 0.80108, so 80.1060 between the rolls of a 100 mm plate."""
    found = solve_angle(DEMO["angle-gnomon"], ROOM)
    sine = math.sqrt(1 - math.cos(math.radians(53 + 14 / 60)) ** 2)
    assert value(found, "height") == pytest.approx(100 * sine, abs=1e-9)
    assert "1.11" not in found.figure("stack").text.split(" + ")  # lent out
    assert sum(map(float, found.figure("stack").text.split(" + "))) == pytest.approx(value(found, "height"), abs=0.0035)
    assert found.figure("read_back").text.startswith("53.2°")
    assert abs(value(found, "off")) < 12 and value(found, "expected") < 30
    assert found.values.word("method") == "sine"


def test_a_lent_block_changes_the_stack_and_comes_back() -> None:
    first = setting("sine", angle="53°14'", tolerance="0.01")
    used = first.stacks[0].names[-1]
    box = BARE.gauge_sets[0]
    lent = replace(BARE, gauge_sets=(box.with_block(replace(box.block(used), state=BlockState.LENT)),))
    second = setting("sine", lent, angle="53°14'", tolerance="0.01")
    assert used not in second.stacks[0].names
    assert abs(value(second, "off")) < 4


def test_a_chosen_stack_that_is_gone_is_said_and_replaced() -> None:
    box = BARE.gauge_sets[0]
    lent = replace(BARE, gauge_sets=(box.with_block(replace(box.block("80"), state=BlockState.LENT, note="Bram")),))
    assert setting("sine", angle="53", stack="80 + 1.05").stacks[0].names == ("80", "1.05")
    found = setting("sine", lent, angle="53", stack="80 + 1.05")
    assert "lent out, Bram" in found.dropped["stack"]
    assert found.check("dropped").verdict is Verdict.MARGINAL
    ((name, text),) = found.fixes["dropped"].changes
    assert name == "stack" and text.split() == list(found.stacks[0].names)


def test_over_sixty_the_complement() -> None:
    found = setting("sine", angle="75", tolerance="0.01")
    assert found.values.word("orientation") == "complement"
    assert value(found, "set_at") == pytest.approx(15) and value(found, "reached") == pytest.approx(75, abs=0.002)
    drawn = setting("sine", angle="75", tolerance="0.01", orientation="drawn")
    assert drawn.check("steep").verdict is Verdict.NO_GO
    assert dict(drawn.fixes["steep"].changes) == {"orientation": "complement"}
    assert setting("sine", angle="50").check("steep").verdict is Verdict.MARGINAL


@pytest.mark.parametrize("degrees", ["0.003", "0.1", "0.28", "0.3", "0.45"])
def test_below_the_thinnest_block_both_rolls_stand(degrees: str) -> None:
    found = setting("sine", angle=degrees, tolerance="0.01")
    assert len(found.stacks) == 2 or float(degrees) > 0.28
    assert value(found, "stack_height") == pytest.approx(100 * math.sin(math.radians(float(degrees))), abs=0.0018)


def test_a_solid_spacer_gives_its_own_angle() -> None:
    found = setting("sine", angle="30", tolerance="0.05", spacer="50.02")
    assert value(found, "reached") == pytest.approx(math.degrees(math.asin(0.5002)), abs=1e-9)
    assert not found.stacks
    low, _, high = plain(found.figure("spacer_make").text).removesuffix(" mm").partition(" … ")
    assert float(low) == pytest.approx(100 * math.sin(math.radians(29.95)), abs=6e-4)
    assert float(high) == pytest.approx(100 * math.sin(math.radians(30.05)), abs=6e-4)


def test_budget_lines_are_the_derivatives() -> None:
    """Each line against turning the plate's own formula: the angle with one thing a little off, less the angle without."""
    plate, at, small = SinePlate(centres_mm=100, roll_pivot_mm=20, roll_stack_mm=20), math.radians(40), 1e-5
    height = plate.stack_mm(at)
    none = stack_uncertainty([])
    budget = sine_budget(
        plate,
        at,
        none,
        chosen_off_mm=small,
        centres_u_mm=small,
        rolls_u_mm=small,
        face_u_mm=small,
        surface_um=small * 1000,
        difference_k=1.0,
    )
    lines = {line.key: line.rss_rad for line in budget.lines}
    assert lines["off"] == pytest.approx(plate.angle_rad(height + small) - at, rel=1e-4)
    assert lines["surface"] == pytest.approx(plate.angle_rad(height + small) - at, rel=1e-4)
    assert lines["centres"] == pytest.approx(at - replace(plate, centres_mm=100 + small).angle_rad(height), rel=1e-4)
    assert lines["rolls"] == pytest.approx(replace(plate, roll_stack_mm=20 + small).angle_rad(height) - at, rel=1e-3)
    assert lines["face"] == pytest.approx(small / 100, rel=1e-6)
    warm = replace(plate, centres_mm=100 * (1 + 11.5e-6))
    assert lines["temperature"] == pytest.approx(at - warm.angle_rad(height), rel=1e-3)
    assert budget.worst_rad == pytest.approx(sum(lines.values()))
    assert budget.rss_rad == pytest.approx(math.hypot(*lines.values()))


def test_dragging_settles_on_the_nearest_two_blocks() -> None:
    kind, found = find_kind("sine"), setting("sine", angle="20")
    lengths = [float(b.nominal) for b in BARE.gauge_sets[0].blocks]
    heights = lengths + [a + b for a, b in combinations(lengths, 2)]
    for wanted in (3.7, 21.3, 47.9):
        text = kind.settle(found, BARE, "angle", wanted)
        nearest = min(heights, key=lambda h: abs(h - 100 * math.sin(math.radians(wanted))))
        assert 100 * math.sin(parse_angle(text)) == pytest.approx(nearest, abs=1e-6)


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"angle": "89.99"}, "from 0° to 89.9°"),
        ({"angle": "-5"}, "out of range"),
        ({"angle": "91"}, "out of range"),
        ({"angle": "53°61'"}, "60 or more"),
        ({"spacer": "-2"}, "Solid spacer"),
        ({"spacer": "140", "angle": "30"}, "just under that"),
        ({"difference_k": "warm"}, "not a number"),
        ({"stack": "80 / 80", "angle": "1"}, ""),
    ],
)
def test_sine_values_that_cannot_be(typed: dict[str, str], said: str) -> None:
    if "stack" in typed:
        assert "both stacks" in setting("sine", **typed).dropped["stack"]
        return
    with pytest.raises(EntryError, match=said) as caught:
        setting("sine", **typed)
    assert caught.value.entry in typed or caught.value.entry == "spacer"


def test_an_empty_box_is_said_beside_the_box() -> None:
    box = BARE.gauge_sets[0]
    empty = replace(box, blocks=tuple(replace(b, state=BlockState.LENT) for b in box.blocks))
    with pytest.raises(EntryError, match="no block of box is here") as caught:
        setting("sine", replace(BARE, gauge_sets=(empty,)), angle="20")
    assert caught.value.entry == "block_set"


def test_blocks_are_booked_out_and_back() -> None:
    doc = DEMO["angle-gnomon"]
    found = solve_angle(doc, ROOM)
    (out,) = wring(doc, found, ROOM)
    shop = replace(ROOM, gauge_sets=(out, *ROOM.gauge_sets[1:]))
    held = {b.nominal for b in out.blocks if b.holder == doc.id}
    assert held == set(found.stacks[0].names)
    assert solve_angle(doc, shop).stacks[0].names == found.stacks[0].names  # its own blocks count as here
    other = solve_angle(replace(doc, id="another"), shop)
    assert not held & set(other.stacks[0].names)
    (back,) = put_back(doc, shop)
    assert back == ROOM.gauge_sets[0] and not held_by(doc, ROOM)
    with pytest.raises(ShopError, match="no stack"):
        wring(doc, solve_angle(choose_angle(doc, ROOM, "spacer", "80"), ROOM), ROOM)


# --- ways -------------------------------------------------------------------------------------------------------------


@settings(max_examples=80, deadline=None)
@given(st.floats(0.5, 89.5), st.floats(0.002, 2.0))
def test_the_quickest_owned_way_within_the_tolerance(degrees: float, tolerance: float) -> None:
    shop = replace(ROOM, machines=(Machine(id="m", name="Mill", kind=MachineKind.KNEE),))
    ways = ways_to_set(shop, math.radians(degrees))
    advice = recommend(ways, math.radians(tolerance))
    meeting = [w for w in ways if w.owned and w.error_rad <= math.radians(tolerance)]
    if meeting:
        assert advice.way in meeting and advice.way.minutes == min(w.minutes for w in meeting)
    else:
        assert advice.way.error_rad == min(w.error_rad for w in ways if w.owned)
        assert "Nothing owned keeps" in advice.reason
    assert advice.next_better == "" or "needs" in advice.next_better or "with" in advice.next_better


def test_fixed_angles_do_only_theirs_and_the_head_costs_its_squareness() -> None:
    by_key = {w.key: w for w in ways_to_set(ROOM, math.radians(45))}
    assert math.degrees(by_key["piece"].error_rad) == pytest.approx(0.03)
    beside = {w.key: w for w in ways_to_set(ROOM, math.radians(45.5))}
    assert math.degrees(beside["piece"].error_rad) == pytest.approx(0.53)
    off = {w.key: w for w in ways_to_set(ROOM, math.radians(33))}
    assert not off["piece"].possible  # three degrees off it is another angle, no coarse way to set this one
    assert off["head"].upsets_head and not off["head"].owned  # no mill in that room
    assert [w.key for w in ways_to_set(ROOM, math.radians(33))] == [
        w.key for w in sorted(off.values(), key=lambda w: (not w.possible, w.minutes, w.error_rad))
    ]


def test_nothing_to_set_with_and_no_tolerance() -> None:
    with pytest.raises(ShopError, match="tolerance of nothing"):
        recommend(ways_to_set(ROOM, 0.5), 0.0)
    with pytest.raises(ShopError):
        ways_to_set(ROOM, 0.0)
    coarse = recommend(ways_to_set(Shop(), math.radians(20)), math.radians(0.001))
    assert coarse.way.key == "line" and coarse.way.owned


def test_head_tilt_by_three_sweeps() -> None:
    """The dial follows the tilted line: over the table a tangent, along the quill a sine, swung on a circle a tangent again."""
    angle = math.radians(12)
    direction = np.array([math.cos(angle), math.sin(angle)])
    assert head_tilt_dial_mm(angle, 100, "table") == pytest.approx(100 * direction[1] / direction[0])
    assert head_tilt_dial_mm(angle, 100, "quill") == pytest.approx((100 * direction)[1])
    assert head_tilt_dial_mm(angle, 150, "sweep") == pytest.approx(150 * math.tan(angle))


def test_unlike_rolls_level_an_uneven_plate() -> None:
    """Both ends of the face at one height: under-plate distance d − f plus the thickness there."""
    d_p, f, thick, extra = 20.0, 1.5, 18.0, 0.024
    d_s = d_p - unlike_rolls_mm(extra)
    assert (d_p - f) + thick == pytest.approx((d_s - f) + thick + extra)


@pytest.mark.parametrize(
    ("seconds", "words"), [(3.04, "3.0″"), (45, "45″"), (90, "1.5′"), (120, "2′"), (1500, "25′"), (7200, "2.00°")]
)
def test_small_angles_in_their_own_unit(seconds: float, words: str) -> None:
    assert shown(seconds / ARCSEC) == words


# --- over pins, cuts, circles, tilts ----------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(st.floats(30, 150), st.floats(10, 60), st.floats(0.3, 0.95))
def test_v_over_pin_touches_both_flanks(degrees: float, width: float, share: float) -> None:
    half = math.radians(degrees) / 2
    pin = share * width / math.cos(half)
    found = setting("v_over_pin", v_angle=f"{degrees:.6f}", v_width=f"{width:.6f}", pin_diameter=f"{pin:.6f}")
    centre = np.array([0.0, value(found, "top") - pin / 2])
    mouth, point = np.array([width / 2, 0.0]), np.array([0.0, -value(found, "vertex")])
    way = (mouth - point) / np.linalg.norm(mouth - point)
    gap = abs(way[0] * (centre - point)[1] - way[1] * (centre - point)[0])
    assert gap == pytest.approx(pin / 2, rel=1e-5)
    again = setting(
        "v_over_pin",
        v_angle=f"{degrees:.6f}",
        v_width=f"{width:.6f}",
        pin_diameter=f"{pin:.6f}",
        over_pin=f"{value(found, 'top'):.6f}",
    )
    if value(found, "top") != 0:
        assert value(again, "real_width") == pytest.approx(width, abs=1e-4)


def test_two_pins_give_the_angle_whichever_is_typed_first() -> None:
    a = setting("v_over_pin", v_angle="88", v_width="40", pin_diameter="30")
    b = setting("v_over_pin", v_angle="88", v_width="40", pin_diameter="12")
    tops = {"30": f"{value(a, 'top'):.6f}", "12": f"{value(b, 'top'):.6f}"}
    for first, second in (("30", "12"), ("12", "30")):
        found = setting(
            "v_over_pin", v_width="40", pin_diameter=first, over_pin=tops[first], second_pin=second, over_second_pin=tops[second]
        )
        assert value(found, "real_angle") == pytest.approx(88, abs=1e-4)
        assert found.check("angle_as_cut").verdict is Verdict.NO_GO  # 2° off the 90 that is drawn


def test_a_pin_that_misses_the_flanks_is_said_with_a_pin_that_does() -> None:
    found = setting("v_over_pin", v_angle="90", v_width="20", pin_diameter="30")
    assert found.check("flanks").verdict is Verdict.NO_GO
    ((name, text),) = found.fixes["flanks"].changes
    assert (
        name == "pin_diameter"
        and setting("v_over_pin", v_angle="90", v_width="20", pin_diameter=text).check("flanks").verdict is Verdict.GO
    )
    with pytest.raises(EntryError, match="misses the flanks") as caught:
        setting("v_over_pin", v_angle="90", v_width="20", pin_diameter="10", over_pin="9")
    assert caught.value.entry == "over_pin"


@pytest.mark.parametrize("shape", ["male", "female"])
def test_dovetail_rods_touch_floor_and_flank(shape: str) -> None:
    w, h, a, rod = 60.0, 14.0, math.radians(57), 9.0
    found = setting("dovetail", shape=shape, corner_width="60", height="14", flank_angle="57", rod_diameter="9")
    s = 1 if shape == "male" else -1
    centre = np.array([value(found, "across") / 2 - s * rod / 2, rod / 2])
    corner = np.array([w / 2, 0.0])
    flank = np.array([s * math.cos(a), math.sin(a)])
    offset = centre - corner
    assert abs(flank[0] * offset[1] - flank[1] * offset[0]) == pytest.approx(rod / 2, abs=1e-9)
    assert value(found, "other") == pytest.approx(w + s * 2 * h / math.tan(a))
    touch = corner + flank * float(flank @ offset)
    assert value(found, "touch") == pytest.approx(touch[1])
    again = setting(
        "dovetail",
        shape=shape,
        corner_width="60",
        height="14",
        flank_angle="57",
        rod_diameter="9",
        over_rods=f"{value(found, 'across'):.6f}",
    )
    assert value(again, "real") == pytest.approx(w, abs=1e-5)


def test_shim_and_gib_take_up_the_same_slack() -> None:
    found = setting("dovetail", flank_angle="60", side_play="0.5", gib_thickness="4")
    assert value(found, "shim") == pytest.approx(0.5 * math.sin(math.radians(60)))
    # Measured along the floor a gib of thickness s fills s/sin α; the slack is there already.
    assert value(found, "off_slide") * math.sin(math.radians(60)) == pytest.approx(4 - value(found, "shim"))


@pytest.mark.parametrize(
    ("typed", "entry"),
    [({"rod_diameter": "40", "shape": "female", "corner_width": "50"}, "rod_diameter"), ({"over_rods": "2"}, "over_rods")],
)
def test_dovetails_that_cannot_be(typed: dict[str, str], entry: str) -> None:
    with pytest.raises(EntryError) as caught:
        setting("dovetail", **typed)
    assert caught.value.entry == entry


@settings(max_examples=40, deadline=None)
@given(st.floats(5, 85), st.floats(2, 80))
def test_flat_grows_as_the_lines_cross(degrees: float, thickness: float) -> None:
    """The cut line a distance s inside the corner, crossed with both faces."""
    a = math.radians(degrees)
    for row in flat_table(a, thickness):
        normal = np.array([math.sin(a), math.cos(a)])  # corner at the origin, face along −x, thickness along −y
        on_face, on_edge = -row.infeed_mm / normal[0], -row.infeed_mm / normal[1]
        assert row.along_face_mm == pytest.approx(-on_face)
        assert row.flat_mm == pytest.approx(math.hypot(on_face, on_edge))
    assert -on_edge == pytest.approx(thickness)  # the last row goes all through


def test_chamfer_steps_cover_the_face() -> None:
    for leg in np.linspace(1, 30, 40):
        found = chamfer(math.radians(40), float(leg), edge_mm=6)
        reach = 6 + (found.steps - 1) * 6 * 0.8
        assert reach >= found.face_mm - 1e-9 and (found.steps == 1 or reach - 4.8 < found.face_mm)
        assert math.hypot(found.leg_mm, found.other_leg_mm) == pytest.approx(found.face_mm)
    with pytest.raises(ShopError):
        chamfer(0, 1)


def test_circle_by_distances() -> None:
    found = setting("circle", holes="7", circle_diameter="150", start_angle="12.5", x="40", y="-10", pin_diameter="5")
    assert found.table is not None
    points = np.array([[float(plain(x)), float(plain(y))] for _, x, y in found.table.rows])
    assert np.linalg.norm(points - [40, -10], axis=1) == pytest.approx([75] * 7, abs=1e-3)
    gaps = np.linalg.norm(points - np.roll(points, -1, axis=0), axis=1)
    assert gaps == pytest.approx([value(found, "chord")] * 7, abs=2e-3)
    assert value(found, "over") == pytest.approx(gaps[0] + 5, abs=2e-3)
    assert setting("circle", holes="60", circle_diameter="50", hole_diameter="4").check("web").verdict is Verdict.NO_GO


def rotation(axis: str, angle: float) -> np.ndarray:
    c, s = math.cos(angle), math.sin(angle)
    return np.array([[1, 0, 0], [0, c, -s], [0, s, c]]) if axis == "x" else np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])


@settings(max_examples=60, deadline=None)
@given(st.floats(-40, 40), st.floats(-40, 40), st.sampled_from(["own", "fixed", "slopes"]))
def test_two_tilts_by_matrices(first: float, second: float, meaning: str) -> None:
    found = setting("two_tilts", meaning=meaning, first=f"{first:.6f}", second=f"{second:.6f}")
    a, b = math.radians(round(first, 6)), math.radians(round(second, 6))
    up = np.array([0, 0, 1.0])
    if meaning == "slopes":
        normal = np.cross([1, 0, math.tan(a)], [0, 1, math.tan(b)])
        normal = normal / np.linalg.norm(normal)
    else:
        normal = (rotation("x", a) @ rotation("y", b) if meaning == "own" else rotation("y", b) @ rotation("x", a)) @ up
    assert value(found, "true") == pytest.approx(math.degrees(math.acos(min(1.0, normal[2]))), abs=1e-4)
    x, y = (math.radians(value(found, k)) for k in ("plate_x", "plate_y"))
    assert rotation("x", x) @ rotation("y", y) @ up == pytest.approx(normal, abs=1e-6)
    if found.stacks and len(found.stacks) == 2:
        assert found.stacks[0].height_mm == pytest.approx(value(found, "stack_base"), abs=0.0003)
        assert found.stacks[1].height_mm == pytest.approx(value(found, "stack_top"), abs=0.0003)
        assert not set(found.stacks[0].names) & set(found.stacks[1].names)


def test_three_meanings_are_told_apart() -> None:
    """The same two turns by own and by fixed axes: the same tilt, another direction, and the check says how far."""
    own, fixed = (setting("two_tilts", meaning=m, first="30", second="25") for m in ("own", "fixed"))
    assert value(own, "true") == pytest.approx(value(fixed, "true"))
    assert abs(value(own, "downhill") - value(fixed, "downhill")) > 2
    assert own.check("meaning").verdict is Verdict.MARGINAL
    level = setting("two_tilts", meaning="true", first="0", second="0")
    assert level.check("both").verdict is Verdict.GO


def test_notes_and_sizes_speak_of_known_figures() -> None:
    for doc in DEMO.values():
        found = solve_angle(doc, ROOM)
        keys = {f.key for f in found.figures}
        for scene in found.scenes:
            assert all(not e.figure or e.figure in keys for e in scene.elements if isinstance(e, Note))
            assert all(isinstance(d, Dimension) and math.isfinite(d.value) for d in scene.dimensions)


def test_a_shop_of_levels_reads_back_with_the_finest() -> None:
    level = AngleTool(id="fine", name="fine level", kind=AngleToolKind.LEVEL, resolution_deg=0.01, error_deg=0.01)
    found = setting("sine", replace(ROOM, angle_tools=(*ROOM.angle_tools, level)), angle="20", tolerance="0.05")
    assert found.values.word("instrument") == "fine"
    assert found.check("read_back").verdict is Verdict.GO
    assert found.values.word("method") == AngleToolKind.LEVEL.value  # quick, and close enough
