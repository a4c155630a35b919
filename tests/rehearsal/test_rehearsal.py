"""Plans cut before there is metal: clean ones raise no alarm, wrong numbers are caught at their move and named."""

from __future__ import annotations

import json
import math
import random
from itertools import pairwise

import numpy as np
import pytest
from msgspec.structs import replace

from elbrix.book.designs import family_of, plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.cli.main import main
from elbrix.demo import documents
from elbrix.design.family import Family, Request, all_families, find_family, read_choices, solve_for
from elbrix.design.work import Blank, Groove, HolePattern, PatternHole, Shoulder, Work
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan, Setup
from elbrix.making.planner import plan_work
from elbrix.making.pose import FACES, Lie, frame_of, opposite
from elbrix.making.strokes import Body, Stroke, Tool
from elbrix.making.tracks import tracks, tracks_to_wall
from elbrix.parameters.parameter import Kind
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.rehearsal.distances import to_body, to_outline, to_stroke
from elbrix.rehearsal.keyed import digits_differ
from elbrix.rehearsal.run import Slips, rehearse
from elbrix.rehearsal.slips import SlipsMade, rehearse_slips
from elbrix.rehearsal.surface import Shape, Surface
from elbrix.results.length_text import plain
from elbrix.solids.recipe import Cut, Prism, drilled
from slips_seeded import Seeded, metal_changes, sample

SHOP = shop_of(documents())
DESIGNS = [d for d in documents() if isinstance(d, DesignDoc)]
NUT = next(d for d in DESIGNS if d.id == "t-nut-hazel")
#: Choices that change what is made.
CHOICES = ("kind", "part", "side", "opposite", "keys", "pins", "angle", "corners", "mirrored")


def kinds(family: Family) -> list[dict[str, str]]:
    """Every choice that changes the piece."""
    found: list[dict[str, str]] = [{}]
    for p in family.parameters:
        if p.kind is Kind.CHOICE and p.name in CHOICES:
            found += [{p.name: value} for value, _ in p.choices]
    return found


EVERY = [(key, typed) for key, family in all_families().items() for typed in kinds(family)]


def nut(machine: str = "hazel", **options: str) -> Plan:
    work = family_of(NUT).work(solve_doc(NUT, SHOP), SHOP)
    return plan_work(NUT.title, work, SHOP, Options(machine=machine, **options))  # type: ignore[arg-type]


def block(*steps: object, pieces: int = 1, solid: object = None, **sizes: float) -> Work:
    size = {"width_mm": 30.0, "height_mm": 20.0, "length_mm": 60.0, **sizes}
    w, h, long = size["width_mm"], size["height_mm"], size["length_mm"]
    body = Prism(((0, -w / 2), (long, -w / 2), (long, w / 2), (0, w / 2)), -h, 0.0, "xy")
    return Work(Blank(pieces=pieces, **size), tuple(steps), solid=solid or body)  # type: ignore[arg-type]


# --- clean plans ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_every_demo_design_is_cut_clean_on_its_own_machine(doc: DesignDoc) -> None:
    plan = plan_doc(doc, solve_doc(doc, SHOP), SHOP)
    heard = rehearse_slips(plan, SHOP, SlipsMade())
    assert heard.clean, [f.words for f in heard.findings]


def test_a_blank_is_as_large_as_what_is_made_of_it() -> None:
    """The zeros of the plan count from the blank's middle: were it not the part's, everything would be cut beside it."""
    found = [(d.id, family_of(d).work(solve_doc(d, SHOP), SHOP)) for d in DESIGNS]
    for key, typed in [*EVERY, ("hardware", {"kind": "stud", "upper_thread": "74.5", "clamp_low": "20.3", "thread": "M10x1.5"})]:
        family = find_family(key)
        found.append((f"{key} {typed}", family.work(solve_for(family, SHOP, Request(), read_choices(family, typed)), SHOP)))
    looked = 0
    for name, work in found:
        if work.solid is None or work.blank.hex_mm:
            continue
        shape = Shape(work.solid)
        sizes = sorted((work.blank.width_mm, work.blank.height_mm, work.blank.length_mm))
        assert sorted(shape.high - shape.low) == pytest.approx(sizes, abs=1e-6), name
        looked += 1
    assert looked > 60


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=str)
def test_every_kind_is_cut_clean_or_refused_in_words(key: str, typed: dict[str, str]) -> None:
    family = find_family(key)
    work = family.work(solve_for(family, SHOP, Request(), read_choices(family, typed)), SHOP)
    for machine, style in (("hazel", "full"), ("pip", "quick"), ("margaret", "full")):
        plan = plan_work(key, work, SHOP, Options(machine=machine, style=style))
        heard = rehearse_slips(plan, SHOP, SlipsMade())
        real = [f for f in heard.findings if f.kind != "limit"]  # a small machine is told, and refused in words
        assert not real or any("not planned" in p for p in plan.problems), [f.words for f in real]


@pytest.mark.parametrize(
    ("key", "typed"),
    [
        ("fixture_plate", {"kind": kind, "pins": pins, "pin_holes": when})
        for kind in ("work", "grid")
        for pins in ("full", "relieved")
        for when in ("now", "assembly")
    ]
    + [
        ("riser", {"kind": "two", "part": part, "joining_holes": when})
        for part in ("upper", "lower")
        for when in ("now", "assembly")
    ],
    ids=str,
)
def test_holes_of_the_assembly_are_not_missed_when_it_leaves_the_mill(key: str, typed: dict[str, str]) -> None:
    family = find_family(key)
    design = solve_for(family, SHOP, Request(), read_choices(family, typed))
    work = family.work(design, SHOP)
    plan = plan_work(key, work, SHOP, Options(machine="hazel"))
    heard = rehearse_slips(plan, SHOP, SlipsMade())
    assert not [f for f in heard.findings if f.kind in ("left", "gouge")], [f.words for f in heard.findings]
    withheld = family.withheld(design)
    assert (work.solid == family.solid(design)) is (withheld is None or typed.get("part") == "upper")


@pytest.mark.parametrize("seed", range(8))
def test_random_designs_are_cut_clean(seed: int) -> None:
    rng = random.Random(seed)
    tried = 0
    while tried < 6:
        key, typed = rng.choice(EVERY)
        family = find_family(key)
        proposed = solve_for(family, SHOP, Request(), read_choices(family, typed))
        lengths = [p.name for p in family.parameters if p.kind is Kind.LENGTH and p.name not in typed]
        texts = dict(typed)
        for name in rng.sample(lengths, min(3, len(lengths))):
            value = proposed.values[name].value
            if isinstance(value, int | float) and value:
                texts[name] = f"{value * rng.uniform(0.6, 1.5):.3f}"
        try:
            design = solve_for(family, SHOP, Request(), read_choices(family, texts))
        except ShopError:
            continue
        if any(c.verdict.value == "no-go" for c in design.checks):
            continue
        tried += 1
        options = Options(machine=rng.choice(["hazel", "pip"]), passes=rng.choice(["equal", "creep"]))
        work = family.work(design, SHOP)
        plan = plan_work(key, work, SHOP, options)
        # What is too thin for the jaws is refused in words, with how else it is held.
        thin = work.blank.height_mm < 5.0 and not work.blank.round_mm
        real = [
            f for f in rehearse_slips(plan, SHOP, SlipsMade()).findings if f.kind != "limit" and not (thin and f.kind == "unheld")
        ]
        assert not real or any("not planned" in p for p in plan.problems), (key, texts, [f.words for f in real])


def test_every_piece_of_a_bar_is_cut_clean() -> None:
    plan = nut()
    assert len(plan.pieces) == 6
    for piece in range(6):
        assert rehearse(plan, piece=piece).clean, piece


@pytest.mark.parametrize("wide", [56, 70, 90])
def test_a_ledge_wider_than_the_cutter_leaves_no_wall_standing(wide: float) -> None:
    half = wide / 2
    tongue = ((-half, -30), (half, -30), (half, -4.9), (6, -4.9), (6, 0), (-6, 0), (-6, -4.9), (-half, -4.9))
    solid = Prism(tongue, 0.0, 60.0, "yz")
    step = Shoulder(name="Tongue", width_mm=12, depth_mm=4.9, id="tongue")
    plan = plan_work("Wide", block(step, solid=solid, width_mm=wide, height_mm=30), SHOP, home="hazel")
    assert rehearse(plan).clean
    tracks_of = {p.value_mm for _, _, m in plan.moves if m.id.startswith("tongue.far") for p in m.positions if p.axis == "Y"}
    assert len(tracks_of) > 3


# --- what is found ----------------------------------------------------------------------------------------------------


def changed(plan: Plan, id: str, **changes: object) -> Plan:
    """A plan with one move changed behind the planner's back."""

    def of(move: Move) -> Move:
        return replace(move, **changes) if move.id == id else move

    return replace(
        plan,
        setups=tuple(
            replace(s, operations=tuple(replace(o, moves=tuple(of(m) for m in o.moves)) for o in s.operations))
            for s in plan.setups
        ),
    )


def stroke_of(plan: Plan, id: str) -> Stroke:
    return next(m.strokes[0] for _, _, m in plan.moves if m.id == id)


@pytest.mark.parametrize(("off", "kind"), [(-0.27, "gouge"), (0.02, "left"), (-0.012, "gouge")])
def test_a_wall_that_is_off_is_found_to_two_microns(off: float, kind: str) -> None:
    plan = nut()
    path = tuple((x, y + off, z) for x, y, z in stroke_of(plan, "shoulder.far.finish2").path)
    found = rehearse(changed(plan, "shoulder.far.finish2", strokes=(Stroke(path),))).findings
    assert found[0].kind == kind and found[0].thickness_mm == pytest.approx(abs(off), abs=0.002)
    assert found[0].move == "shoulder.far.finish2" or kind == "left"
    assert found[0].setup == "shoulders" and found[0].feature == "neck"


def test_a_move_that_was_forgotten_leaves_its_metal() -> None:
    plan = changed(nut(), "shoulder.near.finish2", strokes=())
    found = rehearse(plan).findings
    assert found and {f.kind for f in found} == {"left"}
    assert max(f.thickness_mm for f in found if f.kind == "left") == pytest.approx(0.15, abs=0.01)


def test_a_strip_thinner_than_the_points_are_apart_is_found() -> None:
    """Two tracks of a Ø12 cutter 12.1 apart: a strip 0.1 thick stands between them on the floor."""
    groove = Groove(name="Channel", width_mm=24.1, depth_mm=5, id="channel", allowed_mm=0.1)
    ring = ((-15, -20), (15, -20), (15, 0), (12.05, 0), (12.05, -5), (-12.05, -5), (-12.05, 0), (-15, 0))
    plan = plan_work(
        "Strip", block(groove, solid=Prism(ring, 0.0, 60.0, "yz")), SHOP, Options(cutter="end-mill-12"), home="hazel"
    )
    assert rehearse(plan).clean
    walls = {"channel.far", "channel.near"}
    for _, _, move in plan.moves:
        if move.id.startswith("channel.") and move.id not in walls and move.strokes:
            plan = changed(plan, move.id, strokes=())
    found = [f for f in rehearse(plan).findings if f.kind == "left"]
    # A point knows how far it is to what is gone: half the strip, from its middle.
    assert found and min(f.thickness_mm for f in found) == pytest.approx(0.05, abs=0.01)


def test_the_work_put_in_wrong_is_named() -> None:
    for how in ("end", "over", "mirrored"):
        # A T-nut's shoulders are alike on both sides: turned end for end nothing changes, its holes stay in the middle.
        heard = rehearse_slips(nut(), SHOP, SlipsMade(turned={"shoulders": how}))
        if how == "over":
            assert heard.slip is not None and heard.slip.cause == "orientation" and "turned over" in heard.slip.words
            assert not heard.clean
        else:
            assert heard.slip is None
    jaw = next(d for d in DESIGNS if d.id == "jaws-ledge")
    plan = plan_doc(jaw, solve_doc(jaw, SHOP), SHOP)
    heard = rehearse_slips(plan, SHOP, SlipsMade(turned={"ledge": "end"}))
    assert heard.slip is not None and heard.slip.move.startswith("ledge") and "A up, B away" in heard.slip.words


def test_the_wrong_cutter_is_named() -> None:
    heard = rehearse_slips(nut(), SHOP, SlipsMade(cutters={"Far shoulder (+Y)": 8.0}))
    assert heard.slip is not None and heard.slip.cause == "cutter" and "8 mm" in plain(heard.slip.words)
    assert max(f.thickness_mm for f in heard.findings if f.kind == "gouge") == pytest.approx(1.0, abs=0.003)


@pytest.mark.parametrize(
    ("text", "cause"),
    [
        ("8.085", "digit"),
        ("88.50", "decimal"),
        ("0.885", "decimal"),
        ("8.85", ""),
        ("-8.85", "sign"),
        ("-7.2", "axis"),
        ("0.3484", "unit"),
        ("5.85", "tool_allowance"),
        ("11.85", "tool_allowance"),
        ("8.58", "digit"),
        ("8.5", "digit"),
    ],
)
def test_a_wrong_number_on_the_readout_is_named_by_its_cause(text: str, cause: str) -> None:
    """The demo nut's far wall stands at Y 8.850 for a Ø6 cutter, its depth at Z −7.200."""
    heard = rehearse_slips(nut(), SHOP, SlipsMade(keyed={"shoulder.far.finish2.Y": text}))
    assert (heard.slip.cause if heard.slip else "") == cause
    assert heard.clean is not bool(cause)
    if heard.slip is not None:
        assert (heard.slip.move, heard.slip.axis) == ("shoulder.far.finish2", "Y")


@pytest.mark.parametrize(
    ("text", "cause"), [("5t42", "turn"), ("3t42", "turn"), ("4t51", "backlash"), ("-4t42", "sign"), ("4t42", "")]
)
def test_a_wrong_number_on_a_handwheel_is_named_by_its_cause(text: str, cause: str) -> None:
    plan = nut("pip")
    move = next(m for _, _, m in plan.moves if m.id == "shoulder.far.finish2")
    assert next(p for p in move.positions if p.axis == "Y").dial.text == "4 turns + 42 div"
    heard = rehearse_slips(plan, SHOP, SlipsMade(keyed={"shoulder.far.finish2.Y": text}))
    assert (heard.slip.cause if heard.slip else "") == cause


def test_a_zero_set_wrong_moves_everything_counted_from_it() -> None:
    shown = next(p.dial.set_mm for _, _, m in nut().moves if m.id == "zero.Y" for p in m.positions)
    heard = rehearse_slips(nut(), SHOP, SlipsMade(keyed={"zero.Y.Y": f"{shown + 5:.3f}"}))
    assert heard.slip is not None and heard.slip.move == "zero.Y" and heard.slip.cause == "tool_allowance"
    assert "half the edge finder" in heard.slip.words
    heard = rehearse_slips(nut(), SHOP, SlipsMade(keyed={"zero.Y.Y": "-14.5"}))
    assert heard.slip is not None and heard.slip.cause in ("datum", "digit")


def test_seeded_slips_are_caught_at_their_move_and_named() -> None:
    rng = random.Random(11)
    caught = named = 0
    missed: list[Seeded] = []
    for n, doc in enumerate(DESIGNS):
        work = family_of(doc).work(solve_doc(doc, SHOP), SHOP)
        machine = ("hazel", "pip")[n % 2]
        plan = plan_work(doc.title, work, SHOP, Options() if work.blank.round_mm else Options(machine=machine))
        for slip in sample(plan, SHOP, rng, 2):
            try:
                heard = rehearse_slips(plan, SHOP, SlipsMade(keyed={slip.name: slip.text}))
            except EntryError:
                continue  # beyond the travel of the slide: refused beside the entry
            if heard.slip is None:
                if metal_changes(plan, SHOP, slip):
                    missed.append(slip)
                continue
            assert heard.slip.move == slip.name.rpartition(".")[0]
            caught += 1
            named += heard.slip.cause in slip.causes
    assert caught > 40  # of two in each plan
    assert caught / (caught + len(missed)) >= 0.97, missed
    assert named / caught >= 0.95


@pytest.mark.parametrize(
    ("keyed", "says"),
    [
        ({"shoulder.far.finish2.Y": "eight"}, "no number"),
        ({"shoulder.far.finish2.Y": "9000"}, "beyond any slide"),
        ({"shoulder.far.finish2.Y": "300"}, r"travels \W?240"),
        ({"shoulder.far.finish2.X": "3"}, "no number of this plan"),
        ({"nothing.Y": "3"}, "no number of this plan"),
        ({"shoulder.far.finish2": "3"}, "no number of this plan"),
    ],
)
def test_what_is_no_number_of_the_card_is_refused_beside_its_entry(keyed: dict[str, str], says: str) -> None:
    with pytest.raises(EntryError, match=says):
        rehearse_slips(nut(), SHOP, SlipsMade(keyed=keyed))


def test_a_handwheel_is_keyed_in_turns() -> None:
    with pytest.raises(EntryError, match="no handwheel setting"):
        rehearse_slips(nut("pip"), SHOP, SlipsMade(keyed={"shoulder.far.finish2.Y": "4 and a bit"}))
    for asked, says in (
        (SlipsMade(turned={"shoulders": "round"}), "turned end, over or mirrored"),
        (SlipsMade(cutters={"No": 3}), "no operation"),
    ):
        with pytest.raises(EntryError, match=says):
            rehearse_slips(nut(), SHOP, asked)


def test_a_part_without_a_solid_is_refused() -> None:
    plan = plan_work("Bare", Work(Blank(width_mm=20, height_mm=10, length_mm=30)), SHOP)
    with pytest.raises(ShopError, match="not all machined"):
        rehearse(plan)


# --- limits and what is in the way ------------------------------------------------------------------------------------


def test_a_long_plate_is_beyond_a_small_table() -> None:
    plan = plan_work("Long", block(length_mm=420, width_mm=60), SHOP, Options(machine="pip"))
    words = [f.words for f in rehearse_slips(plan, SHOP, SlipsMade()).findings if f.kind == "limit"]
    assert words and "Pip travels 220" in plain(words[0])
    assert plan_work("Long", block(length_mm=420, width_mm=60), SHOP, home="pip").machine == "Hazel"


def test_a_shoulder_as_deep_as_the_bar_leaves_nothing_to_hold() -> None:
    step = Shoulder(name="Step", width_mm=10, depth_mm=19, id="step")
    found = rehearse_slips(plan_work("Deep", block(step), SHOP, home="hazel"), SHOP, SlipsMade()).findings
    assert any(f.kind == "unheld" and "Little in the jaws" in f.words for f in found)


def test_a_cut_where_nothing_is_left_is_told() -> None:
    plan = nut()
    again = next(m for _, _, m in plan.moves if m.id == "shoulder.far.finish2")
    doubled = changed(plan, "shoulder.far.finish1", strokes=again.strokes)
    assert any(f.kind == "air" and f.move == "shoulder.far.finish2" for f in rehearse(doubled).findings)


# --- words and pose ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("doc", DESIGNS, ids=lambda d: d.id)
def test_sentences_agree_with_the_pose(doc: DesignDoc) -> None:
    plan = plan_doc(doc, solve_doc(doc, SHOP), SHOP)
    assert plan.solid is not None
    for setup in (s for s in plan.setups if s.pose is not None):
        assert setup.lie is not None and setup.pose is not None
        turn = np.array(setup.pose.rotation)
        assert turn @ turn.T == pytest.approx(np.eye(3)) and np.linalg.det(turn) == pytest.approx(1.0)
        if setup.fixture == "vise":
            lie = setup.lie
            assert f"{lie.up} up, {lie.away} to the fixed jaw, {lie.right} to the right" in setup.holding
        for axis, reads in ((z.axis, z.reads_mm) for z in setup.zeroes):
            touched = [p for m in setup.moves if axis in m.zeroes for p in m.positions if p.axis == axis]
            assert not touched or touched[0].value_mm == pytest.approx(reads)
        for move in setup.moves:
            if move.direction.startswith(("conventional", "climb")):
                (ax, ay, _), (bx, by, _) = move.strokes[0].path[0], move.strokes[0].path[-1]
                table = {(1, 0): "to the left", (-1, 0): "to the right", (0, 1): "toward you", (0, -1): "away from you"}
                way = (int(np.sign(round(bx - ax, 6))), int(np.sign(round(by - ay, 6))))
                assert move.direction.endswith(table[way])


def test_face_letters_keep_to_their_faces() -> None:
    lie = Lie(up="C", away="D", zero=(0, 0, -20))
    assert lie.right == "F"  # turned over about the long axis: the high end stays on the right
    assert lie.machine((10.0, 3.0, -20.0)) == pytest.approx((10.0, -3.0, 0.0))
    assert lie.machine((10.0, 3.0, 0.0)) == pytest.approx((10.0, -3.0, -20.0))
    for face, way in FACES.items():
        assert FACES[opposite(face)] == tuple(-v + 0.0 for v in way)
    tilted = Lie(up="A", away="B", zero=(0, 15, 0), tilt_deg=30)
    assert tilted.machine((0, 15, 0)) == pytest.approx((0, 0, 0))
    assert tilted.machine((0, -15, 0))[2] == pytest.approx(-15.0)  # 30·sin 30° lower on the near side


def test_the_pose_brings_the_part_where_the_lie_says() -> None:
    frame = frame_of("+y", "-z", (-5.0, 0.0, -8.0), (5.0, 40.0, 12.0))
    assert frame.part((0.0, 0.0, 0.0)) == pytest.approx((0.0, 0.0, -8.0))  # low end, middle, top: the top faces down
    lie = Lie(up="C", away="D", zero=(0.0, 0.0, -20.0))
    pose = lie.pose(frame)
    for bar in ((0.0, 0.0, 0.0), (40.0, 5.0, -20.0), (13.0, -2.0, -7.0)):
        there = np.array(pose.rotation) @ np.array(frame.part(bar)) + np.array(pose.offset)
        assert there == pytest.approx(lie.machine(bar))


# --- distances --------------------------------------------------------------------------------------------------------


def test_distances_by_hand() -> None:
    mill = Tool(kind="end_mill", diameter_mm=10)
    stroke = Stroke(((0, 0, -5), (100, 0, -5)))
    points = np.array([(50, 8, 0), (50, 4, 0), (50, 0, -7), (50, 8, -9), (-8, 0, 0), (50, 4.5, -4.8)])
    assert to_stroke(points, mill, stroke) == pytest.approx([3, -1, 2, 5, 3, -0.2])
    drill = Tool(kind="drill", diameter_mm=10, point_deg=90)
    down = Stroke(((0, 0, 5), (0, 0, -20)))
    assert to_stroke(np.array([(0, 0, -21), (7, 0, -5), (0, 3, -17)]), drill, down) == pytest.approx([1, 2, 0], abs=1e-9)
    disc = Tool(kind="side_and_face", diameter_mm=80, width_mm=10, axis="y")
    along = Stroke(((0, 0, -5), (100, 0, -5)))
    assert to_stroke(np.array([(50, 7, 0), (50, 0, -6), (50, 8, -9)]), disc, along) == pytest.approx([2, 1, 5])
    turning = Tool(kind="turning", on="lathe")
    pass_ = Stroke(((6.0, 0, 2.0), (6.0, 0, -20.0)))
    assert to_stroke(np.array([(5, 0, -10), (0, 7, -10), (6.5, 0, -21)]), turning, pass_) == pytest.approx([1, -1, 1])
    bore = Tool(kind="boring", on="lathe")
    assert to_stroke(np.array([(5, 0, -10), (0, 7, -10)]), bore, pass_) == pytest.approx([-1, 1])
    with pytest.raises(ValueError, match="level or straight down"):
        to_stroke(points, mill, Stroke(((0, 0, 0), (10, 0, -5))))


def test_bodies_by_hand() -> None:
    box = Body(min_mm=(0, 0, 0), max_mm=(10, 20, 30))
    assert to_body(np.array([(5, 10, 15), (13, 24, 15), (5, 10, 31)]), box) == pytest.approx([-5, 5, 1])
    pipe = Body(shape="round", axis="x", diameter_mm=20, inner_diameter_mm=10, from_mm=0, to_mm=50)
    assert to_body(np.array([(25, 0, 0), (25, 7, 0), (25, 0, 12), (53, 7, 0)]), pipe) == pytest.approx([5, -2, 2, 3])
    hexagon = Body(shape="hex", axis="z", across_flats_mm=17, from_mm=0, to_mm=5)
    assert to_body(np.array([(0, 0, 2.5), (0, 8.5 + 2, 2.5)]), hexagon) == pytest.approx([-2.5, 2])
    square = np.array([(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0)])
    assert to_outline(np.array([(2, 1), (5, 5), (2, -3)]), square) == pytest.approx([-1, 2**0.5, 3])


def test_points_stand_on_the_part() -> None:
    body = Prism(((0, 0), (40, 0), (40, 20), (0, 20)), 0.0, 10.0, "xy")
    part = Cut(body, (drilled((20.0, 10.0, 10.0), ((8.0, 10.0),), through_to=10.0),))
    surface = Surface(part)
    assert len(surface.points) > 5000
    inside, outside = (Shape(part).holds(surface.points + k * 1e-3 * surface.normals) for k in (-1, 1))
    assert inside.all() and not outside.any()
    bored = np.hypot(surface.points[:, 0] - 20, surface.points[:, 1] - 10) < 4.001
    assert bored.sum() > 100 and np.hypot(surface.points[bored, 0] - 20, surface.points[bored, 1] - 10) == pytest.approx(
        4, abs=1e-6
    )


def test_tracks_cover_a_width_and_keep_to_the_walls() -> None:
    for low, high, d in ((0, 50, 12), (0, 12, 12), (-3, 40.5, 6), (0, 20.1, 10)):
        found = tracks(low, high, d)
        assert found[0] - d / 2 == pytest.approx(low) and found[-1] + d / 2 == pytest.approx(high)
        assert all(b - a <= 0.9 * d + 1e-9 for a, b in pairwise(found))
    assert tracks(0, 10, 63, over=True) == (5.0,)
    with pytest.raises(ValueError, match="between walls"):
        tracks(0, 10, 12)
    line = tracks_to_wall(6.0, 35.0, 19.95)
    assert line[-1] == pytest.approx(6 + 19.95 / 2) and line[0] + 19.95 / 2 >= 35 and line == tuple(sorted(line, reverse=True))
    # A ledge a hair wider than the cutter: the outer track stays clear of what the last leaves for finishing.
    outer, last = tracks_to_wall(8.036, 24.108, 16.0)
    assert last == pytest.approx(16.036) and outer - last >= 3.199 and outer + 8 >= 24.108


@pytest.mark.parametrize(("drill_mm", "depth_mm"), [(11.2, 0.4), (8.4, 0.4), (4.2, 0.5), (5.0, 12.0), (2.1, 0.4)])
def test_the_drill_takes_the_whole_spot_away(drill_mm: float, depth_mm: float) -> None:
    """By geometry: a 90° spot inside a hole that ends in a cone of 118°, at every height."""
    step = HolePattern(name="Dimple", holes=(PatternHole(0.0, 0.0, drill_mm=drill_mm, depth_mm=depth_mm),), thickness_mm=20.0)
    solid = Cut(block(step).solid, (drilled((0.0, 0.0, 0.0), ((drill_mm, depth_mm),)),))
    plan = plan_work("Dimple", block(step, solid=solid), SHOP, home="hazel")
    spot = next(p.value_mm for _, _, m in plan.moves if ".spot." in m.id for p in m.positions if p.axis == "Z")
    for z in np.linspace(spot, 0.0, 50):
        wide = drill_mm / 2 - max(0.0, -z - depth_mm) * math.tan(math.radians(59))
        assert z - spot <= wide + 1e-9


@pytest.mark.parametrize(
    ("planned", "keyed", "how"),
    [
        ("11850", "1185", "dropped"),
        ("1185", "11185", "doubled"),
        ("1185", "1158", "swapped with the next"),
        ("1185", "1195", "changed"),
        ("1185", "99", ""),
        ("12", "12", ""),
    ],
)
def test_how_digits_go_wrong(planned: str, keyed: str, how: str) -> None:
    assert digits_differ(planned, keyed) == how


# --- command line -----------------------------------------------------------------------------------------------------


def run(capsys: pytest.CaptureFixture[str], *words: str) -> tuple[int, dict[str, object]]:
    code = main(["rehearse", *words, "--json"])
    return code, json.loads(capsys.readouterr().out)


def test_rehearse_on_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    code, clean = run(capsys, "t_nut", "--machine", "hazel", "--slot", "middle slot")
    assert code == 0 and clean["clean"] is True and clean["findings"] == [] and clean["slip"] is None
    assert isinstance(clean["seconds"], float)
    code, wrong = run(capsys, "t_nut", "--machine", "hazel", "--slot", "middle slot", "--keyed", "shoulder.far.finish2.Y=5.85")
    assert code == 1 and wrong["clean"] is False
    slip, findings = wrong["slip"], wrong["findings"]
    assert isinstance(slip, dict) and slip["cause"] == "tool_allowance" and slip["axis"] == "Y" and slip["words"]
    assert isinstance(findings, list) and {"kind", "setup", "move", "feature", "thickness_mm", "at_mm", "words"} <= set(
        findings[0]
    )
    assert main(["rehearse", "t_nut", "--keyed", "nonsense"]) == 1
    assert "MOVE.AXIS=NUMBER" in capsys.readouterr().err
    assert main(["rehearse", "t_nut", "--cutter", "Spot=thick"]) == 1
    assert "no diameter" in capsys.readouterr().err
    assert main(["rehearse", "t_nut", "--turned", "shoulders=over"]) == 1
    assert "turned over" in capsys.readouterr().out


def test_a_plan_says_everything_in_text_too(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["plan", "t_nut", "--machine", "pip"]) == 0
    text = capsys.readouterr().out
    assert "backlash" in text and "lock" in text and "measure" in text and "cut conventional" in text and "▲" in text


def test_slips_of_nothing_are_none() -> None:
    assert Slips().none and not Slips(turned={"a": "end"}).none


def test_holes_of_one_face_come_where_they_are_asked() -> None:
    """A hole off the middle in every face of a block: six poses, each with its own letters."""
    holes = {"A": (15.0, 4.0), "C": (40.0, -6.0), "B": (50.0, 3.0), "D": (20.0, -2.0)}
    body = Prism(((0, -15), (60, -15), (60, 15), (0, 15)), -20.0, 0.0, "xy")
    # Where these ordinates lie on the part, worked by hand from which face is away in each.
    tools = (
        drilled((15.0, 4.0, 0.0), ((5.0, 6.0),)),
        drilled((40.0, 6.0, -20.0), ((5.0, 6.0),), out=(0.0, 0.0, -1.0)),
        drilled((50.0, 15.0, -13.0), ((5.0, 6.0),), out=(0.0, 1.0, 0.0)),
        drilled((20.0, -15.0, -12.0), ((5.0, 6.0),), out=(0.0, -1.0, 0.0)),
    )
    steps = [
        HolePattern(
            name=f"Hole in {face}",
            holes=(PatternHole(x, y, drill_mm=5.0, depth_mm=6.0),),
            thickness_mm=20,
            face=face,
            id=f"hole{face}",
        )
        for face, (x, y) in holes.items()
    ]
    plan = plan_work("Six faces", block(*steps, solid=Cut(body, tools)), SHOP, home="hazel")
    heard = rehearse_slips(plan, SHOP, SlipsMade())
    assert heard.clean, [f.words for f in heard.findings]
    setups: dict[str, Setup] = {s.id: s for s in plan.setups}
    assert "D up, A to the fixed jaw" in setups["holeD"].holding
