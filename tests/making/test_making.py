"""Dial numbers by hand, and the plan replayed as cuts on a block."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.design.work import Blank
from elbrix.making.dials import on_dial
from elbrix.making.holes import hole_places, saw_cuts
from elbrix.making.options import Options
from elbrix.making.passes import passes
from elbrix.making.plan import Plan
from elbrix.making.planner import card_figures, milling_machines, plan_work, position_working
from elbrix.making.proof import plan_checks
from elbrix.making.speeds import speed_for
from elbrix.making.stock_choice import BarCutting, choose_stock
from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.machines import Axis, Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Bar, Finish, Form
from elbrix.shop.tooling import Collet, Cutter, CutterKind
from elbrix.standards.materials import material

FAMILY = find_family("t_nut")
BLANK = Blank(width_mm=18.2, height_mm=14.5, length_mm=20, pieces=6)
MILL_12 = Cutter(id="m12", kind=CutterKind.END_MILL, diameter_mm=12, shank_mm=12, teeth=4, edge_length_mm=26)


def plan_for(shop: Shop, options: Options | None = None, measured: dict[str, float] | None = None, **texts: str) -> Plan:
    design = solve_for(FAMILY, shop, Request(pieces=6), read_choices(FAMILY, {"length": "20", **texts}))
    return plan_work("T-nut", FAMILY.work(design, shop), shop, options, measured)


@pytest.fixture
def equipped(small_shop: Shop) -> Shop:
    return replace(small_shop, cutters=(MILL_12,), bars=(Bar(id="b", width_mm=20, height_mm=16, length_mm=500),))


# --- stock ----------------------------------------------------------------------------------------------------------


def test_cut_length_by_hand() -> None:
    """6·(20 + 2·0.6) + 5·2.5 + 3 = 142.7, sawn to the next half."""
    assert BarCutting().length(BLANK) == pytest.approx(143.0)
    assert BarCutting().pitch(BLANK) == pytest.approx(23.7)


def test_smallest_bar_that_encloses_wins() -> None:
    bars = [
        Bar(id="large", width_mm=30, height_mm=20, length_mm=900),
        Bar(id="right", width_mm=20, height_mm=16, length_mm=500),
        Bar(id="lying", width_mm=16, height_mm=20, length_mm=500),
    ]
    choice = choose_stock(BLANK, bars)
    assert [o.bar.id for o in choice.options] == ["lying", "right", "large"]
    assert choice.options[0].turned and choice.best is not None
    right = next(o for o in choice.options if o.bar.id == "right")
    assert right.removed_cm3 == pytest.approx((20 * 16 * 143 - 18.2 * 14.5 * 20 * 6) / 1000)
    assert right.left_mm == pytest.approx(500 - 143 - 2.5)


@pytest.mark.parametrize(
    ("bar", "fits", "says"),
    [
        (Bar(id="b", width_mm=19.2, height_mm=15.5, length_mm=500), True, "of chips"),  # 0.5 a side exactly
        (Bar(id="b", width_mm=19.1, height_mm=15.5, length_mm=500), False, "0.1 mm too small"),
        (Bar(id="b", width_mm=18.2, height_mm=14.5, length_mm=500), True, "of chips"),  # bright faces left as they are
        (Bar(id="b", width_mm=18.2, height_mm=14.5, length_mm=500, finish=Finish.ROLLED), False, "too small"),
        (Bar(id="b", width_mm=21.2, height_mm=17.5, length_mm=500, finish=Finish.ROLLED), True, "of chips"),  # 1.5 a side
        (Bar(id="b", width_mm=23.2, height_mm=19.4, length_mm=500, finish=Finish.SAWN), False, "too small"),  # 2.5 a side
        (Bar(id="b", width_mm=20, height_mm=16, length_mm=142), False, "1 mm too short"),
        (Bar(id="b", width_mm=20, height_mm=16, length_mm=143), True, "nothing useful left"),
        (Bar(id="b", width_mm=20, height_mm=16, length_mm=500, material="brass"), False, "brass, where mild steel"),
        (Bar(id="b", form=Form.ROUND, width_mm=40, length_mm=500), False, "round"),
    ],
)
def test_each_bar_is_judged_with_a_reason(bar: Bar, fits: bool, says: str) -> None:
    option = choose_stock(BLANK, [bar]).options[0]
    assert option.fits is fits and says in plain(option.reason)


def test_no_bar_says_what_to_buy(small_shop: Shop) -> None:
    assert choose_stock(BLANK, []).buy == "20 × 16 mm bright mild steel, 143 mm or longer"
    plan = plan_for(small_shop)
    assert plan.bar is None and any("Buy" in p for p in plan.problems)
    assert plan.moves  # everything after the sawing is still planned


# --- passes ---------------------------------------------------------------------------------------------------------


def test_equal_finishing_cuts() -> None:
    found = passes(7.2, 3.0, 0.3, "equal", finish_cuts=2)
    assert [round(p.to_mm, 3) for p in found] == [2.3, 4.6, 6.9, 7.05, 7.2]
    assert [p.finish for p in found] == [False, False, False, True, True]


def test_creeping_up_halves_each_time() -> None:
    cuts = [p.cut_mm for p in passes(0.4, 1.0, 0.4, "creep")]
    assert cuts == pytest.approx([0.2, 0.1, 0.05, 0.05])


def test_spring_pass_repeats_the_number() -> None:
    found = passes(1.0, 1.0, 0.2, spring=True)
    assert found[-1].cut_mm == 0 and found[-1].to_mm == found[-2].to_mm == 1.0


@given(st.floats(0.01, 60), st.floats(0.05, 10), st.floats(0, 2), st.sampled_from(["equal", "creep"]), st.integers(1, 4))
def test_passes_add_up_and_never_bite_too_deep(total: float, most: float, finish: float, style: str, count: int) -> None:
    found = passes(total, most, finish, style, finish_cuts=count)
    assert found[-1].to_mm == total
    assert sum(p.cut_mm for p in found) == pytest.approx(total)
    assert all(p.cut_mm <= most + 1e-6 for p in found if not p.finish)
    assert [p.to_mm for p in found] == sorted(p.to_mm for p in found)


def test_passes_of_nothing_are_refused() -> None:
    with pytest.raises(ShopError):
        passes(0, 1, 0.1)


# --- dials ----------------------------------------------------------------------------------------------------------

WHEELS = Machine(
    id="p",
    name="Pip",
    kind=MachineKind.BENCH,
    axes={"Y": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.18), "Z": Axis(mm_per_turn=2, divisions=100, backlash_mm=0.3)},
)


@pytest.mark.parametrize(
    ("axis", "wanted", "text", "set_mm"),
    [
        ("Y", 11.85, "5 turns + 92 div", 11.84),
        ("Y", 4.0, "2 turns", 4.0),
        ("Y", 0.3, "15 div", 0.3),
        ("Y", -11.85, "back 5 turns + 92 div", -11.84),
        ("Y", 0.0, "0 div", 0.0),
        ("Z", -7.2, "down 3 turns + 60 div", -7.2),
        ("Z", 0.05, "up 2 div", 0.04),
    ],
)
def test_handwheel_turns_and_divisions(axis: str, wanted: float, text: str, set_mm: float) -> None:
    found = on_dial(WHEELS, axis, wanted)
    assert found.text == text and found.set_mm == pytest.approx(set_mm)
    assert found.off_mm == pytest.approx(set_mm - wanted) and found.approach


def test_backlash_is_always_taken_up_the_same_way() -> None:
    assert "come forward to 8 on the ring" in on_dial(WHEELS, "Y", -11.85).approach  # 100 − 92
    assert "go 0.7 past it" in on_dial(WHEELS, "Y", -11.85).approach  # 0.18 + a quarter turn, to 0.1
    assert "never back up" in on_dial(WHEELS, "Z", -7.2).approach


@given(st.floats(-300, 300))
def test_a_dial_is_never_off_by_more_than_half_a_division(wanted: float) -> None:
    assert abs(on_dial(WHEELS, "Y", wanted).off_mm) <= 0.01 + 1e-9


def test_readout_rounds_to_its_step(mill: Machine) -> None:
    found = on_dial(mill, "Y", -11.8521)
    assert (found.text, found.off_mm) == ("−11.850", pytest.approx(0.0021))
    assert on_dial(mill, "Y", 25.4, "in").text == "1.0000"


# --- speeds ---------------------------------------------------------------------------------------------------------


def test_speed_by_hand(mill: Machine) -> None:
    """1000·25/(π·12) = 663 → 400 on a machine with 200, 400, 800, 1600; feed 400·4·0.048·0.8."""
    speed = speed_for(mill, MILL_12, material("mild steel"))
    assert speed.rpm == 400 and speed.feed_mm_min == pytest.approx(400 * 4 * 0.048 * 0.8)
    assert speed.seconds_per_turn == pytest.approx(60 * 4 / speed.feed_mm_min)


def test_a_machine_that_only_turns_fast_is_warned_of(mill: Machine) -> None:
    speed = speed_for(mill, Cutter(id="f", kind=CutterKind.FACE_MILL, diameter_mm=100, teeth=5), material("tool steel"))
    assert speed.rpm == 200 and "times the table's speed" in speed.caution


@given(st.floats(1, 120), st.sampled_from(["mild steel", "brass", "aluminium alloy", "grey cast iron"]))
def test_speed_is_never_above_the_table(diameter: float, name: str) -> None:
    machine = Machine(id="m", name="M", kind=MachineKind.KNEE, speeds_rpm=(50, 100, 200, 400, 800, 1600))
    cutter = Cutter(id="c", kind=CutterKind.END_MILL, diameter_mm=diameter, teeth=4)
    speed = speed_for(machine, cutter, material(name))
    assert math.pi * diameter * speed.rpm / 1000 <= material(name).hss_m_min + 1e-6 or speed.rpm == 50


# --- the plan -------------------------------------------------------------------------------------------------------


def test_shoulder_number_by_hand(equipped: Shop) -> None:
    """Half work 9.1 − shoulder 3.25 + half cutter 6 = 11.85, both signs; 7.2 deep."""
    plan = plan_for(equipped)
    figures = {f.key: f for f in card_figures(plan)}
    assert figures["dial_shoulder_far"].value == pytest.approx(11.85)
    assert figures["dial_shoulder_depth"].value == pytest.approx(-7.2)
    near = next(p for _, _, m in plan.moves if m.id == "shoulder.near.finish2" for p in m.positions if p.axis == "Y")
    assert near.value_mm == pytest.approx(-11.85)
    assert [t.value_mm for t in near.terms] == pytest.approx([-9.1, 3.25, -6.0])
    assert position_working(near).formula == "− half the bar + the shoulder − half the cutter"


def _replayed(plan: Plan, diameter: float, across: float, high: float) -> np.ndarray:
    """The section of the bar after every shoulder cut, cut on a grid with exactly the numbers of the plan."""
    step = 0.05
    y = np.arange(-across / 2 + step / 2, across / 2, step)[:, None]
    z = np.arange(-high + step / 2, 0, step)[None, :]
    left = np.ones((y.size, z.size), dtype=bool)
    for _, _, move in plan.moves:
        at = {p.axis: p.value_mm for p in move.positions}
        if move.id.startswith("shoulder.") and set(at) == {"Y", "Z"}:
            left &= ~((np.abs(y - at["Y"]) < diameter / 2) & (z > at["Z"]))
    return left


@pytest.mark.parametrize("style", ["equal", "creep"])
def test_replaying_the_numbers_cuts_the_t(equipped: Shop, style: str) -> None:
    plan = plan_for(equipped, Options(passes=style))
    left = _replayed(plan, 12.0, 18.2, 14.5)
    y = np.arange(-9.1 + 0.025, 9.1, 0.05)[:, None]
    z = np.arange(-14.5 + 0.025, 0, 0.05)[None, :]
    wanted = (np.abs(y) < 5.85) | (z < -7.2)
    assert np.count_nonzero(left != wanted) <= left.shape[1] * 2  # at most one grid line along each wall


def test_horizontal_arbor_form_cuts_the_same_t(equipped: Shop, mill: Machine) -> None:
    """Half the cutter's WIDTH across instead of half a diameter: 5.85 + 6.35 = 12.2."""
    flat = replace(mill, id="h", kind=MachineKind.HORIZONTAL, arbor_mm=25.4, collar_mm=44.45)
    wheel = Cutter(id="s", kind=CutterKind.SIDE_AND_FACE, diameter_mm=101.6, width_mm=12.7, teeth=20)
    shop = replace(equipped, machines=(flat,), cutters=(wheel, MILL_12))
    plan = plan_for(shop)
    y = [p.value_mm for _, _, m in plan.moves if m.id == "shoulder.far.finish2" for p in m.positions if p.axis == "Y"]
    assert y == [pytest.approx(12.2)]
    left = _replayed(plan, 12.7, 18.2, 14.5)
    assert left[:, -1].sum() * 0.05 == pytest.approx(11.7, abs=0.11)
    assert all("upright" in p for p in plan.problems)  # holes and ends wait for a spindle that stands
    small = replace(shop, cutters=(replace(wheel, diameter_mm=58.0), MILL_12))
    assert any("reaches" in p for p in plan_for(small).problems)  # (58 − 44.45)/2 − 1 = 5.775 < 7.2


def test_a_measured_first_shoulder_replans_the_second(equipped: Shop) -> None:
    """The far shoulder came out 0.04 proud: 14.99 instead of 9.1 + 5.85 = 14.95. The second makes the neck 11.7 all the same."""
    plan = plan_for(equipped, measured={"first_shoulder": 14.99})
    near = next(p.value_mm for _, _, m in plan.moves if m.id == "shoulder.near.finish2" for p in m.positions if p.axis == "Y")
    wall = near + 6.0  # the wall the cutter leaves, on the near side
    assert (14.99 - 9.1) - wall == pytest.approx(11.7)


def test_measured_bar_and_cutter_replan(equipped: Shop) -> None:
    plan = plan_for(equipped, measured={"bar_width": 18.3, "cutter_diameter": 11.9})
    far = next(p for _, _, m in plan.moves if m.id == "shoulder.far.finish2" for p in m.positions if p.axis == "Y")
    assert far.value_mm == pytest.approx(5.85 + 5.95)  # the neck stays in the middle whatever the bar came out
    assert "as measured" in position_working(far).formula
    zero = [p.value_mm for _, _, m in plan.moves if m.id == "zero.Y" for p in m.positions]
    assert zero == [pytest.approx(-9.15 - 5.0)]  # from the near side, the way positions are set


def test_holes_and_saw_cuts_share_the_bar(equipped: Shop) -> None:
    plan = plan_for(equipped)
    xs = sorted({p.value_mm for _, _, m in plan.moves if m.id.startswith("holes.drill") for p in m.positions if p.axis == "X"})
    assert xs == pytest.approx([10.6 + 23.7 * i for i in range(6)])  # 0.6 + 10, then length + facing + kerf
    cuts = [m for _, _, m in plan.moves if m.id.startswith("part.")]
    assert len(cuts) == 5
    assert all(m.caution for m in cuts)  # catch the piece


def test_pieces_holes_and_cuts_never_meet() -> None:
    from elbrix.making.context import Context

    ctx = Context(
        shop=Shop(),
        machine=Machine(id="m", name="M", kind=MachineKind.KNEE),
        blank=BLANK,
        options=Options(),
        measured={},
        cutting=BarCutting(),
        bar=None,
    )
    holes, cuts = hole_places(ctx), saw_cuts(ctx)
    for hole in holes:
        assert all(abs(hole - cut) > 10 for cut in cuts)
    assert cuts[-1] + 1.25 + 0.6 + 20 + 0.6 <= ctx.bar_length + 1e-9


def test_tap_depths_follow_the_stud_stop(equipped: Shop) -> None:
    tap = next(m.words for _, _, m in plan_for(equipped).moves if m.id == "holes.tap.1")
    assert "full thread to 10.75 mm below the top" in tap and "2.5 turns short" in tap
    blind = plan_for(equipped, stud_stop="blind", head_height="12", thread="M8")
    drill = next(p.terms for _, _, m in blind.moves if m.id == "holes.drill.1" for p in m.positions if p.axis == "Z")
    assert [t.words for t in drill] == ["full diameter", "drill point"]


def test_quick_style_squares_less_and_says_what_is_missing(equipped: Shop) -> None:
    full, quick = plan_for(equipped), plan_for(equipped, Options(style="quick"))
    count = lambda plan: sum(m.id.startswith("square.") for _, _, m in plan.moves)  # noqa: E731
    assert count(quick) < count(full)
    assert any("datum" in a for a in quick.assumed) and not any("datum" in a for a in full.assumed)


def test_every_move_is_named_once_and_every_cut_says_what_to_lock(demo_shop: Shop) -> None:
    for machine in milling_machines(demo_shop):
        plan = plan_for(demo_shop, Options(machine=machine.id))
        ids = [m.id for _, _, m in plan.moves]
        assert len(ids) == len(set(ids))
        assert all(
            m.lock
            for _, _, m in plan.moves
            if m.id.startswith(("shoulder.far", "shoulder.near", "holes.drill", "face.")) and m.positions
        )
        assert all(s.holding and s.datum and (s.cautions or s.id in ("saw", "bench")) for s in plan.setups)
        own = [p for s, _, m in plan.moves if not s.machine_id for p in m.positions]
        assert own and all(p.dial.approach for p in own) == (machine.readout_step_mm == 0)


def test_climb_policy_of_each_machine(demo_shop: Shop) -> None:
    pip = plan_for(demo_shop, Options(machine="pip"))
    assert {m.direction.split(":")[0] for _, _, m in pip.moves if m.direction} == {"conventional"}
    hazel = plan_for(demo_shop, Options(machine="hazel"))
    assert any("climb" in m.direction for _, _, m in hazel.moves)


def test_a_leaning_head_is_told_beside_the_face_it_spoils(demo_shop: Shop) -> None:
    """A ring of radius R leaning by φ leaves z = −√(R² − y²)·φ: over half a width w it is R − √(R² − w²) times φ deep."""

    def said(right: float, back: float) -> list[str]:
        hazel = replace(demo_shop.machine("hazel"), head_lean_right_mm_m=right, head_lean_back_mm_m=back)
        machines = tuple(hazel if m.id == "hazel" else m for m in demo_shop.machines)
        plan = plan_for(replace(demo_shop, machines=machines), Options(machine="hazel"))
        return [c for s in plan.setups for c in s.cautions if "leans, as last swept" in c]

    assert said(0, 0) == []
    assert said(0.05, 0.0) == []  # nothing anybody measures
    (first, *_) = said(20.0, 5.0)
    hollow, slope = (float(w.split(" ")[0]) for w in (first.split("hollow by ")[1], first.split("sloped by ")[1]))
    width = slope / 0.005
    radius = (hollow / 0.02 + (width / 2) ** 2 / (hollow / 0.02)) / 2  # of the circle with that sagitta over that chord
    assert 10 < width < 40
    assert min(abs(radius - c.diameter_mm / 2) for c in demo_shop.cutters) < 0.04 * radius


def test_missing_things_block_only_their_own_steps(small_shop: Shop) -> None:
    plan = plan_for(small_shop)
    missing = [k.words for k in plan.kit if not k.owned]
    assert "M10x1.5 tap" in missing and any("end mill" in m for m in missing)
    assert {"saw", "square.A", "square.C", "shoulders", "holes", "part", "face", "length"} <= {s.id for s in plan.setups}


def test_wrong_collet_is_called_out(equipped: Shop) -> None:
    shop = replace(equipped, collets=(Collet(id="c", size_mm=12.7, name="1/2 inch"),))
    note = next(k.note for k in plan_for(shop).kit if k.words == "end mill Ø12")
    assert "goes in and is not held" in note


def test_empty_shop_still_plans_and_says_what_it_assumed() -> None:
    plan = plan_for(Shop())
    assert plan.moves and any("No milling machine" in a for a in plan.assumed)


def test_plan_checks(demo_shop: Shop) -> None:
    plan = plan_for(demo_shop, Options(machine="pip"), measured={"neck": 11.5})
    pip = demo_shop.machine("pip")
    checks = {c.key: c for c in plan_checks(plan, pip, {"neck": 11.5})}
    assert checks["bar"].verdict is Verdict.GO
    assert checks["measured neck"].verdict is Verdict.NO_GO  # 0.2 under, four times what is allowed
    worst = max(abs(p.dial.off_mm) for _, _, m in plan.moves for p in m.positions)
    assert checks["rounding"].value == pytest.approx(worst) and worst <= 0.01 + 1e-9


def test_turns_of_a_plan_counted_by_hand_with_a_screw_that_is_out(demo_shop: Shop) -> None:
    """Every position of the nut on Pip: turns and lines times what each really moves are the wanted number, to half a line."""
    out = {"X": 7.0, "Y": -4.0, "Z": 3.0}
    pip = demo_shop.machine("pip")
    crooked = replace(pip, axes={axis: replace(w, error_mm_m=out[axis]) for axis, w in pip.axes.items()})
    shop = replace(demo_shop, machines=tuple(crooked if m.id == "pip" else m for m in demo_shop.machines))
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.id == "t-nut-pip")
    plan = plan_doc(doc, solve_doc(doc, shop), shop)
    assert any("allow for the screw" in words for words in plan.assumed)
    counted = 0
    for _, _, move in plan.moves:
        for p in move.positions:
            if not p.dial.approach:
                continue
            turns, lines = (int(n[1]) if (n := re.search(rf"(\d+) {unit}", p.dial.text)) else 0 for unit in ("turn", "div"))
            wheel = pip.axes[p.axis]
            moved = (turns + lines / wheel.divisions) * wheel.mm_per_turn * (1 + out[p.axis] / 1000)
            assert moved == pytest.approx(abs(p.value_mm), abs=0.0101 * wheel.mm_per_turn / 2)
            counted += 1
    assert counted > 10


@pytest.mark.parametrize(("kind", "carried"), [("stud", True), ("tall_nut", False)])
def test_what_stands_far_out_of_the_chuck_is_carried_and_never_parted_through(kind: str, carried: bool) -> None:
    """Three times its Ø is what stands alone; past that parting between chuck and centre would throw it out."""
    shop = shop_of(documents())
    family = find_family("hardware")
    design = solve_for(family, shop, Request(), read_choices(family, {"kind": kind, "thread": "M10x1.5", "section": "round"}))
    plan = plan_work("Stud", family.work(design, shop), shop)
    moves = {m.id: m for _, _, m in plan.moves}
    order = list(moves)
    assert ("turn.centre" in moves) is carried
    if carried:
        assert order.index("turn.face") < order.index("turn.centre") < order.index("turn.zero")
        assert "saw the rest" in moves["turn.part"].words and "Never part through" in moves["turn.part"].caution
        assert any(k.words == "tailstock centre" for k in plan.kit)
    else:
        assert "saw" not in moves["turn.part"].words
