"""How round work is held: collet, four-jaw, between centres, on a plug; drills that ran off; knurls."""

from __future__ import annotations

import json
import math
import re
from fractions import Fraction

import pytest
from msgspec.structs import replace
from shapely import Point

from elbrix.book.documents import shop_of
from elbrix.cli.main import main
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, read_choices, solve_for
from elbrix.design.work import Blank, BoredHole, TurnedBore, TurnedPart, TurnedTaper, Work
from elbrix.making.centres import dog_mm
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.quantities.errors import ShopError
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.shop.tooling import Collet
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned

SHOP = shop_of(documents())


def turned_plan(work: Work, lathe: str = "", measured: dict[str, float] | None = None, shop=SHOP) -> Plan:  # type: ignore[no-untyped-def]
    return plan_work("T", work, shop, Options(lathe=lathe), measured, home="tam")  # type: ignore[arg-type]


def designed(family: str, **typed: str) -> Work:
    found = find_family(family)
    return found.work(solve_for(found, SHOP, Request(), read_choices(found, typed)), SHOP)


def rod(length: float, *steps: object, size: float = 19.4, solid: Recipe | None = None) -> Work:
    blank = Blank(width_mm=size, height_mm=size, round_mm=size, length_mm=length, material="mild steel", along="+z", up="+x")
    whole = solid or Turned(((0.0, 0.0), (size / 2, 0.0), (size / 2, length), (0.0, length)), (0.0, 0.0, 0.0))
    return Work(blank, steps, solid=whole)  # type: ignore[arg-type]


PLAIN = TurnedPart(name="Roll", size_mm=19.4, length_mm=100, id="roll")


def test_a_roll_between_centres_is_turned_over_all_its_length_from_both_ends() -> None:
    plan = turned_plan(rod(100, PLAIN), "centres")
    assert rehearse(plan).clean
    assert [s.id for s in plan.setups] == ["saw", "ends", "ends_second", "turn", "second_end"]
    # Where the last cut of each end reaches, counted from its own face: together more than the roll.
    last = [[m for m in s.moves if m.strokes][-1] for s in plan.setups if s.id in ("turn", "second_end")]
    reached = [-min(p[2] for p in m.strokes[-1].path) for m in last]
    assert reached[0] == pytest.approx(100 - dog_mm(plan.bar.width_mm if plan.bar else 21.0))
    assert sum(reached) == pytest.approx(101.0)
    # Sawn to its length and what is faced: 100 + 2·0.3, and 3 to clean the bar's end; to the next half.
    assert plan.cut_length.value == pytest.approx(104.0)
    assert not any(m.id == "turn.part" for _, _, m in plan.moves)
    assert any("dog" in c for s in plan.setups for c in s.cautions)


def test_a_cut_too_deep_between_centres_is_found_in_either_setup() -> None:
    plan = turned_plan(rod(100, PLAIN), "centres")
    for id in ("turn", "second_end"):
        setup = next(s for s in plan.setups if s.id == id)
        move = [m for m in setup.moves if m.strokes][-1]
        across = next(p for p in move.positions if p.axis == "X")
        wrong = rehearse(plan, Slips(keyed={(move.id, "X"): across.dial.set_mm - 0.4}))
        assert wrong.wrong_at == move.id, id


@pytest.mark.parametrize(
    ("work", "words"),
    [
        (rod(100, PLAIN, TurnedBore(name="Bore", size_mm=8, id="b")), "bored end"),
        (rod(30, replace(PLAIN, length_mm=30)), "too short"),
        (rod(100, replace(PLAIN, length_mm=70), TurnedPart(name="Pin", size_mm=10, length_mm=100, id="pin")), ""),
        (rod(100, TurnedPart(name="Nose", size_mm=12, length_mm=95, id="nose"), PLAIN), "the dog would sit where nose is turned"),
        (designed("hardware", kind="shoulder_screw"), "hexagon"),
    ],
)
def test_what_no_dog_can_drive_is_planned_in_the_chuck_and_said(work: Work, words: str) -> None:
    plan = turned_plan(work, "centres")
    said = [a for a in plan.assumed if "Not between centres" in a]
    assert bool(said) == bool(words) and all(words in a for a in said)
    assert any(s.id == "ends" for s in plan.setups) is not bool(words)
    if words:
        assert plan.cut_length.value == turned_plan(work).cut_length.value


def test_a_pin_behind_its_collar_is_turned_from_the_second_end() -> None:
    """Collar of 20 to 70, pin of 10 behind it: from its own end, once the dog has changed ends."""
    solid = Turned(((0.0, 0.0), (9.7, 0.0), (9.7, 70.0), (5.0, 70.0), (5.0, 100.0), (0.0, 100.0)), (0.0, 0.0, 0.0))
    collar, pin = (
        replace(PLAIN, name="Collar", length_mm=70, id="collar"),
        TurnedPart(name="Pin", size_mm=10, length_mm=100, id="pin"),
    )
    plan = turned_plan(rod(100, collar, pin, solid=solid), "centres")
    assert rehearse(plan).clean
    assert {m.id.split(".")[0] for s in plan.setups if s.id == "second_end" for m in s.moves if m.strokes} == {"pin"}


def held(plan: Plan) -> list[str]:
    return [s.holding for s in plan.setups if s.fixture == "chuck"]


def test_a_collet_of_this_lathe_and_of_the_works_own_size_holds_it() -> None:
    pin = rod(40, TurnedPart(name="Shank", size_mm=12, length_mm=40, id="shank"), size=12)
    assert "12 mm lathe collet" in held(turned_plan(pin))[1]
    # A collet of the mill, or for any machine, holds shanks and not work.
    mill = replace(SHOP, collets=tuple(c for c in SHOP.collets if c.machine != "tam"))
    anywhere = replace(mill, collets=(*mill.collets, Collet(id="c", size_mm=12, name="12 mm")))
    near = replace(mill, collets=(Collet(id="c", size_mm=11.9, name="11.9 mm", machine="tam"),))
    for shop in (mill, anywhere, near):
        assert all("collet" not in words for words in held(turned_plan(pin, shop=shop)))
    true = replace(mill, collets=(Collet(id="c", size_mm=12.05, name="12.05 mm", machine="tam"),))
    assert "12.05 mm collet" in held(turned_plan(pin, shop=true))[1]
    assert all("four-jaw" in words and "indicator" in words for words in held(turned_plan(pin, "four-jaw")))


def test_thin_walls_are_faced_on_a_plug_of_the_bore_less_a_hundredth() -> None:
    def sleeve(bore: float, **more: float) -> Plan:
        solid = Cut(
            Turned(((0.0, 0.0), (15.0, 0.0), (15.0, 40.0), (0.0, 40.0)), (0.0, 0.0, 0.0)),
            (Turned(((0.0, -1.0), (bore / 2, -1.0), (bore / 2, 41.0), (0.0, 41.0)), (0.0, 0.0, 0.0)),),
        )
        steps = (
            TurnedPart(name="Outside", size_mm=30, length_mm=40, id="o"),
            TurnedBore(name="Bore", size_mm=bore, id="b", **more),
        )
        return turned_plan(rod(40, *steps, size=30, solid=solid))

    thin = sleeve(26.0)
    assert rehearse(thin).clean
    assert "plug" in held(thin)[1] and "three-cornered" in held(thin)[1]
    plug = next(m for _, _, m in thin.moves if m.id == "second_end.plug")
    per = 0.5 if next(m for m in SHOP.machines if m.id == "tam").dial_reads == "radius" else 1.0
    assert plug.positions[0].value_mm == pytest.approx(per * 25.99) and not plug.strokes
    assert "plug" not in held(sleeve(24.0))[1]  # 3 mm of wall is enough at Ø30
    assert "plug" not in held(sleeve(26.0, depth_mm=30.0))[1]  # a blind bore has nothing to draw it up by


@pytest.mark.parametrize("off", [0.03, 0.15, 0.4])
def test_a_bore_is_cut_all_round_from_the_diameter_said(off: float) -> None:
    """The drilled hole a little beside the spindle's axis: the least circle about the axis that holds all of it."""
    block = Prism(((0.0, -30.0), (60.0, -30.0), (60.0, 30.0), (0.0, 30.0)), -20.0, 0.0, "xy")
    hole = Turned(((0.0, -21.0), (12.5, -21.0), (12.5, 1.0), (0.0, 1.0)), (30.0, 0.0, 0.0))
    blank = Blank(width_mm=60, height_mm=20, length_mm=60, material="mild steel")
    work = Work(
        blank, (BoredHole(name="Seat", x_mm=30, y_mm=0, size_mm=25, thickness_mm=20, id="seat"),), solid=Cut(block, (hole,))
    )

    def planned(measured: dict[str, float]) -> Plan:
        return plan_work("T", work, SHOP, measured=measured, home="hazel")

    plain, steered = planned({}), planned({"seat.wander": off})
    drill = next(m for _, _, m in plain.moves if m.id == "seat.drill")
    assert drill.asked is not None and drill.asked.key == "seat.wander"
    drilled = next(o for s in plain.setups for o in s.operations if o.moves and o.moves[0].id == "seat.drill").cutter
    assert drilled is not None
    d = drilled.diameter_mm
    ran = Point(off, 0).buffer(d / 2, 256)
    low, high = d, d + 4
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (low, middle) if Point(0, 0).buffer(middle / 2, 256).covers(ran) else (middle, high)
    notes = " ".join(o.note for s in steered.setups for o in s.operations)
    said = float(notes.split("cut all round from Ø")[1].split(" mm")[0])
    assert said == pytest.approx(high, abs=0.01)
    cuts = [o.cutter.diameter_mm for s in steered.setups for o in s.operations if o.cutter and o.cutter.kind == "boring"]
    before = [o.cutter.diameter_mm for s in plain.setups for o in s.operations if o.cutter and o.cutter.kind == "boring"]
    assert cuts[-1] == before[-1] == 25
    # On the side it ran from no cut is deeper than the plain plan's deepest.
    first = (cuts[0] - d) / 2 + off
    assert first <= max(b - a for a, b in zip([d, *before], before, strict=False)) / 2 + 0.16 + 1e-6
    assert rehearse(steered).clean


def test_a_drill_that_ran_off_too_far_is_a_problem_with_what_to_do() -> None:
    solid = Cut(
        Turned(((0.0, 0.0), (15.0, 0.0), (15.0, 40.0), (0.0, 40.0)), (0.0, 0.0, 0.0)),
        (Turned(((0.0, -1.0), (8.0, -1.0), (8.0, 41.0), (0.0, 41.0)), (0.0, 0.0, 0.0)),),
    )
    steps = (TurnedPart(name="Outside", size_mm=30, length_mm=40, id="o"), TurnedBore(name="Bore", size_mm=16, id="b"))
    work = rod(40, *steps, size=30, solid=solid)
    assert not any("cut all round" in p for p in turned_plan(work).problems)
    far = turned_plan(work, measured={"b.wander": 1.6})
    assert any("cut all round only from" in p and "smaller drill" in p for p in far.problems)


def test_a_knurl_falls_into_its_own_marks() -> None:
    """Teeth times pitch is the circumference, to what a hundredth of the diameter makes of it."""
    family = find_family("hardware")
    for head in ("12", "17", "24", "31.5"):
        for pitch in ("0.5", "0.8", "1.2"):
            typed = {"kind": "thumb_screw", "thread": "M6", "head_diameter": head, "knurl": pitch}
            d = solve_for(family, SHOP, Request(), read_choices(family, typed))
            before, p = d.figure("before_knurl").value, float(pitch)
            count = round(math.pi * before / p)
            assert abs(count * p - math.pi * before) <= math.pi * 0.01 + 1e-9
            assert float(head) - p * (1 / math.pi + 1) - 0.02 <= before + p / 2 <= float(head) + 1e-9
    by_hand = solve_for(
        family, SHOP, Request(), read_choices(family, {"kind": "thumb_screw", "head_diameter": "12", "knurl": "0.8"})
    )
    # 11.6 π / 0.8 = 45.55: 45 teeth, 45·0.8/π = 11.459.
    assert by_hand.figure("before_knurl").value == pytest.approx(11.45)
    assert by_hand.figure("over_crests").value == pytest.approx(11.85)
    plan = plan_work("T", family.work(by_hand, SHOP), SHOP, home="tam")
    rolled = next(m for _, _, m in plan.moves if m.id == "knurl.1")
    assert rolled.asked is not None and rolled.asked.expected_mm == pytest.approx(11.85) and "centre" in rolled.caution


@pytest.mark.parametrize(
    ("typed", "entry"),
    [({"head_diameter": "7.5"}, "head_diameter"), ({"knurl": "2.5"}, "knurl"), ({"undercut": "10"}, "undercut")],
)
def test_a_thumb_screw_that_is_none(typed: dict[str, str], entry: str) -> None:
    family = find_family("hardware")
    with pytest.raises(ShopError) as refused:
        solve_for(family, SHOP, Request(), read_choices(family, {"kind": "thumb_screw", **typed}))
    assert refused.value.entry == entry


@pytest.mark.parametrize(
    ("typed", "key", "verdict"),
    [
        ({}, "fingers", "go"),
        ({"torque": "0.4"}, "fingers", "marginal"),
        ({"torque": "0.8"}, "fingers", "no-go"),
        ({"head_diameter": "10"}, "grip", "marginal"),
        ({"head_diameter": "8.3", "knurl": "0"}, "grip", "no-go"),
        ({"engaged": "6.5"}, "engaged", "marginal"),
        ({"engaged": "5"}, "engaged", "no-go"),
        ({"undercut": "1"}, "runs_out", "marginal"),
    ],
)
def test_every_check_of_a_thumb_screw_is_seen_to_refuse(typed: dict[str, str], key: str, verdict: str) -> None:
    family = find_family("hardware")
    d = solve_for(family, SHOP, Request(), read_choices(family, {"kind": "thumb_screw", "thread": "M6", **typed}))
    assert next(c for c in d.checks if c.key == key).verdict.value == verdict


def test_on_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["plan", "hardware", "--set", "length=150", "--lathe", "centres", "--json"]) == 0
    setups = json.loads(capsys.readouterr().out)["setups"]
    assert any("between centres" in s["holding"] for s in setups)


def test_a_taper_at_the_second_end_is_cut_after_the_dog_has_changed_ends() -> None:
    solid = Turned(((0.0, 0.0), (9.7, 0.0), (9.7, 98.0), (7.7, 100.0), (0.0, 100.0)), (0.0, 0.0, 0.0))
    chamfer = TurnedTaper(name="Chamfer", from_size_mm=19.4, to_size_mm=15.4, from_mm=98, to_mm=100, id="chamfer")
    plan = turned_plan(rod(100, PLAIN, chamfer, solid=solid), "centres")
    assert rehearse(plan).clean
    setup = next(s for s in plan.setups if any(m.id == "chamfer.1" for m in s.moves))
    assert setup.id == "second_end"


@pytest.mark.parametrize(("depth", "y"), [(0.0, 0.0), (8.0, 7.0)])
def test_without_a_boring_head_a_bore_goes_on_the_faceplate(depth: float, y: float) -> None:
    """Rehearsed to its solid about the hole's own middle; what hangs off the axis by the block's own middle of mass."""
    block = Prism(((0.0, -30.0), (80.0, -30.0), (80.0, 30.0), (0.0, 30.0)), -20.0, 0.0, "xy")
    low = -depth if depth else -21.0
    hole = Turned(((0.0, low), (15.0, low), (15.0, 1.0), (0.0, 1.0)), (30.0, y, 0.0))
    blank = Blank(width_mm=60, height_mm=20, length_mm=80, material="mild steel")
    seat = BoredHole(name="Seat", x_mm=30, y_mm=y, size_mm=30, depth_mm=depth, thickness_mm=20, id="seat")
    work = Work(blank, (seat,), solid=Cut(block, (hole,)))
    bare = replace(SHOP, holders=tuple(h for h in SHOP.holders if h.kind.value != "boring head"))
    plan = plan_work("T", work, bare, home="hazel")
    setup = next(s for s in plan.setups if s.id == "seat")
    assert setup.fixture == "faceplate" and setup.machine_id == "tam"
    assert rehearse(plan).clean
    assert any("No boring head" in a for a in plan.assumed)
    off, mass = math.hypot(10, y), 80 * 60 * 20 * 7.85e-6
    fastest = math.sqrt(30 / (mass * off / 1000)) * 30 / math.pi
    assert any(f"{fastest:.0f} rpm" in c for c in setup.cautions)
    last = [m for m in setup.moves if m.strokes][-1]
    across = next(p for p in last.positions if p.axis == "X")
    wrong = rehearse(plan, Slips(keyed={(last.id, "X"): across.dial.set_mm + 0.3}))
    assert wrong.wrong_at == last.id
    # With the head, or a shop that lists no holders at all, it stays on the mill.
    for shop in (SHOP, replace(SHOP, holders=())):
        there = next(s for s in plan_work("T", work, shop, home="hazel").setups if s.id == "seat")
        assert there.fixture != "faceplate"


def _several(size: float, length: float, pieces: int, spindle: float) -> Plan:
    tam = replace(SHOP.machine("tam"), spindle_bore_mm=spindle)
    shop = replace(SHOP, machines=tuple(tam if m.id == "tam" else m for m in SHOP.machines))
    work = rod(length, replace(PLAIN, size_mm=size, length_mm=length), size=size)
    return turned_plan(replace(work, blank=replace(work.blank, pieces=pieces)), shop=shop)


@pytest.mark.parametrize("spindle", [0.0, 20.0, 26.0, 60.0])
@pytest.mark.parametrize(("size", "length", "pieces"), [(19.4, 30.0, 1), (19.4, 30.0, 4), (23.9, 12.0, 3), (38.0, 140.0, 2)])
def test_what_is_sawn_off_still_has_its_grip_when_the_last_piece_is_parted(
    spindle: float, size: float, length: float, pieces: int
) -> None:
    plan = _several(size, length, pieces, spindle)
    assert plan.blank is not None
    stock = plan.blank.diameter_mm
    turn = next(s for s in plan.setups if s.id == "turn")
    # From the card: how far the parting tool goes beyond the face, with its own width.
    part = next(m for m in turn.moves if m.id == "turn.part")
    parted = -part.strokes[0].path[-1][2]
    grip = max(15.0, stock)
    by_itself = pieces > 1 and 0 < spindle < stock + 0.5
    used = parted + 0.3  # and what facing the first end takes
    wanted = used + 8 + grip if by_itself else pieces * used + 8 + grip
    sawn = next(m for m in plan.setups[0].moves).words
    assert ("each length by itself" in turn.holding) == by_itself == (f"{pieces} times" in sawn)
    if by_itself:
        each = float(sawn.split(" times ")[1].split(" mm")[0])
        assert wanted - 1e-9 <= each < wanted + 0.5
        assert plan.cut_length.value == pytest.approx(pieces * each + (pieces - 1) * 2.5)
    else:
        assert wanted - 1e-9 <= plan.cut_length.value < wanted + 0.5
    if plan.bar is None:  # what is to be bought is what the plan was made for
        bought = re.search(r"Buy Ø([\d.]+) mm .*, (\d+) mm or longer", " ".join(plan.problems))
        assert bought is not None and float(bought[1]) == stock
        assert plan.cut_length.value <= float(bought[2]) < plan.cut_length.value + 1
    assert any("spindle: its bore is not recorded" in a for a in plan.assumed) == (pieces > 1 and not spindle)
    assert any("free behind the spindle" in c for c in turn.cautions) == (not by_itself and (pieces - 1) * used + grip > 150)


@pytest.mark.parametrize("size", [12.7, 15.0, 19.4, 26.0, 40.0, 101.0, 150.0])
@pytest.mark.parametrize("unit", ["mm", "in"])
def test_without_a_bar_the_plan_is_made_for_the_one_that_is_bought(size: float, unit: str) -> None:
    work = rod(30.0, replace(PLAIN, size_mm=size, length_mm=30.0), size=size)
    plan = plan_work("T", work, replace(SHOP, bars=()), Options(), home="tam", unit=unit)
    assert plan.blank is not None and plan.bar is None
    stock = plan.blank.diameter_mm
    said = " ".join(plan.problems)
    if unit == "mm":
        assert f"Buy Ø{stock:g} mm " in said
    else:
        whole, rest = divmod(round(stock / 25.4 * 16), 16)
        part = f" {Fraction(rest, 16)}" if rest else ""
        assert f"Buy Ø{whole or ''}{part} in ".replace("Ø ", "Ø") in said
        assert stock == pytest.approx((whole + rest / 16) * 25.4)
    # As it is where it is sold to size, else a millimetre over at least.
    assert stock == pytest.approx(size, abs=0.002) or stock >= size + 1.0
    assert rehearse(plan).clean


def test_long_work_that_does_not_go_into_the_spindle_is_faced_in_a_steady() -> None:
    for spindle, steady in ((26.0, True), (60.0, False), (0.0, False)):
        plan = _several(38.0, 140.0, 1, spindle)
        words = " ".join(m.words for s in plan.setups for m in s.moves)
        assert ("fixed steady" in words) == ("take the steady away" in words) == steady
        assert ("drawn in close" in words) == ("Draw the bar out" in words) == (not steady)
        assert any(k.words == "fixed steady" for k in plan.kit) == steady
        second = next(s for s in plan.setups if s.id == "second_end")
        assert ("far end runs in the fixed steady" in second.holding) == steady
