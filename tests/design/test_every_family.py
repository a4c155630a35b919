"""What every family owes.

Proposals from nothing, refusals beside an entry, a card that names what there is, files another reader understands.
"""

from __future__ import annotations

import csv
import io
import math
import re

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from elbrix.book.designs import solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.family import Design, Family, Request, all_families, find_family, read_choices, solve_for
from elbrix.design.files import file_bytes
from elbrix.design.parts import OfParts
from elbrix.design.work import HandOperation
from elbrix.making.planner import plan_work
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.rehearsal.pictures import setup_scene
from elbrix.results.figures import Origin
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel
from paper_arithmetic import evaluate, settled

FAMILIES = all_families()
SHOP = shop_of(documents())
DEMO = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
#: Keys of rows the bench writes on the card itself.
TAKEN = {"bar", "cut_length", "left", "made", "location", "notes", "machine", "add set"}


def kinds(family: Family) -> list[dict[str, str]]:
    """Every choice of every choice parameter that changes what it is."""
    found: list[dict[str, str]] = [{}]
    for p in family.parameters:
        if p.kind is Kind.CHOICE and p.name in (
            "kind",
            "way",
            "held",
            "part",
            "side",
            "opposite",
            "keys",
            "pins",
            "over",
            "datum",
            "fit",
            "angle",
            "corners",
            "mirrored",
        ):
            found += [{p.name: value} for value, _ in p.choices]
    return found


#: Choices that rightly fail with what else is proposed: a corner left as cut, two full pins for a poor spacing, a V too narrow
#: for the range.
REFUSED = {
    ("corners", "left"): {"reached"},
    ("pins", "full"): {"spacing"},
    ("angle", "60"): {"smallest"},
    ("angle", "90"): {"smallest"},
}
EVERY = [(key, typed) for key, family in FAMILIES.items() for typed in kinds(family)]


def solved(key: str, typed: dict[str, str], shop: Shop) -> Design:
    family = find_family(key)
    return solve_for(family, shop, Request(), read_choices(family, typed))


def ids(case: object) -> str:
    return str(case).replace(" ", "")


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_it_is_proposed_from_nothing_and_says_what_was_assumed(key: str, typed: dict[str, str]) -> None:
    design = solved(key, typed, Shop())
    assert any(given.origin is Origin.ASSUMED for given in design.values.values())
    assert not any(given.origin is Origin.MEASURED for given in design.values.values())
    assert {c.key for c in design.checks if c.verdict.value == "no-go"} <= REFUSED.get(next(iter(typed.items()), ("", "")), set())


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_nothing_it_proposes_in_the_demo_shop_fails_its_own_proof(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    design = solved(key, typed, demo_shop)
    assert {c.key for c in design.checks if c.verdict.value == "no-go"} <= REFUSED.get(next(iter(typed.items()), ("", "")), set())


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_card_plate_and_proof_speak_of_the_same_things(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    family, design = find_family(key), solved(key, typed, demo_shop)
    figures = [f.key for f in design.figures]
    assert len(figures) == len(set(figures)) and len({c.key for c in design.checks}) == len(design.checks)
    assert not TAKEN & set(figures)
    rows = [row for group in family.card(design) for row in group.rows]
    assert len(rows) == len(set(rows)) and set(rows) <= set(figures)
    names = {p.name: p for p in family.parameters}
    for check in design.checks:
        assert check.reason and set(check.remedies) <= set(names), check.key
        assert set(check.figures) <= set(figures), check.key
    scenes = family.scenes(design)
    assert [s.name for s in scenes] == ["in place", "front", "top", "side"]
    for scene in scenes:
        assert {d.entry for d in scene.dimensions} - {""} <= set(names)
        for handle in scene.handles:
            now = design.values.number(handle.entry)
            assert handle.low - 1e-6 <= now <= handle.high + 1e-6, (scene.name, handle.entry, handle.low, now, handle.high)
    assert design.note and design.datum


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_it_plans_its_own_cutting_and_says_what_it_fits(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    family, design = find_family(key), solved(key, typed, demo_shop)
    plan = plan_work(family.title, family.work(design, demo_shop), demo_shop, home="hazel")
    moves = [m.id for _, _, m in plan.moves]
    assert len(moves) == len(set(moves)) and len(moves) >= 4
    for setup in plan.setups:
        assert setup.holding and setup.datum
        for move in setup.moves:
            assert move.words
        scene = setup_scene(plan, setup, setup.moves[-1] if setup.moves else None, 40)
        assert scene is None or scene.elements
    assert family.can_hold(design) and all(f.reason for f in family.fits(design, demo_shop))


#: Numbers in words that are no lengths: threads, angles, µm, N, kg, %, counts.
NO_LENGTH = re.compile(
    r"M\d+(\.\d)?( × [\d.]+)?|\b[A-Z]\d+\b|\d[\d./]*°|\d[\d.]* ?(µm|N\b|kg|%)|\d-\d+ UN\w*"
    r"|\d+ of them|Drill [\d.]+ ×|tapped to 0|them 1 and 2"
)


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_steps_by_hand_are_said_in_the_shops_unit_and_proved(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    """No length stands unmarked in them, and what is put together says what has to be true before the next."""
    family, design = find_family(key), solved(key, typed, demo_shop)
    by_hand = [s for s in family.work(design, demo_shop).steps if isinstance(s, HandOperation)]
    for step in by_hand:
        for words in (step.words, step.check, step.caution):
            left = NO_LENGTH.sub("", re.sub("\u2063[-0-9.]+\u2063", "", words))
            assert not re.search(r"\d", left), left
    assert all(s.check for s in by_hand if not s.first) or not isinstance(family, OfParts) or not family.parts(design)
    plan = plan_work(family.title, family.work(design, demo_shop), demo_shop, home="hazel", unit="in")
    bench = " ".join(m.words for _, _, m in plan.moves if m.id.startswith("bench"))
    assert "\u2063" not in bench and all(s.check[:20] in bench for s in by_hand)


SCALE = {"%": 100.0, "kN": 0.001, "N·m": 0.001}
WORDS = {"length", "torque", "ring_longest", "thread", "chamfer", "stud_stop", "look_alike", "hole_count", "roll_centres"}


@pytest.mark.parametrize(("key", "typed"), EVERY, ids=ids)
def test_every_working_can_be_worked_again_from_its_line(key: str, typed: dict[str, str], demo_shop: Shop) -> None:
    design = solved(key, typed, demo_shop)
    for what in (*design.figures, *design.checks):
        derivation = what.derivation
        if derivation is None or not derivation.with_numbers or what.key in WORDS or what.text:
            continue
        line = derivation.with_numbers
        worked = settled(line) if " to " in line else evaluate(line) * SCALE.get(what.unit, 1.0)
        assert what.value == pytest.approx(worked, rel=0.002, abs=0.002), what.key
    for check in design.checks:
        if check.derivation and any(sign in check.derivation.formula for sign in "−/"):
            for sign in "−/":
                assert check.derivation.formula.count(sign) == check.derivation.with_numbers.count(sign), check.key


# --- whatever is typed ------------------------------------------------------------------------------------------------


def odd(p: Parameter) -> st.SearchStrategy[str]:
    """Values a hand may type for a parameter, inside its limits."""
    if p.kind is Kind.CHOICE:
        return st.sampled_from([value for value, _ in p.choices])
    if p.kind is Kind.COUNT:
        return st.integers(int(p.low), int(min(p.high, 6))).map(str)
    if p.kind is Kind.THREAD:
        return st.sampled_from(["M3", "M5", "M8", "M12", "1/4-20", "3/8-16"])
    if p.kind in (Kind.PLACES, Kind.OUTLINE):
        return st.sampled_from(
            [
                "none",
                "grid 15",
                "0,0",
                "-20,0; 20,0; 0,15",
                "row -30,0 + 4 x 15",
                "circle 5 on 40",
                "5,5; 40,5; 40,30; 22,12; 5,30",
            ]
        )
    if p.kind is Kind.TEXT:
        return st.sampled_from(["", "125 mm vise", "Clover's centre bore", "10,10.02; 20,20.1; 40,40.05", "nonsense"])
    high = min(p.high, max(4 * p.low, 120.0))
    return st.floats(p.low, high).map(lambda v: f"{v:.2f}")


@st.composite
def typed_by_hand(draw: st.DrawFn) -> tuple[str, dict[str, str]]:
    key = draw(st.sampled_from(list(FAMILIES)))
    parameters = draw(st.lists(st.sampled_from(FAMILIES[key].parameters), min_size=1, max_size=5, unique_by=lambda p: p.name))
    return key, {p.name: draw(odd(p)) for p in parameters}


@settings(max_examples=400)
@given(typed_by_hand(), st.booleans())
def test_whatever_is_typed_it_solves_or_says_which_entry(case: tuple[str, dict[str, str]], demo: bool) -> None:
    key, typed = case
    family, shop = find_family(key), SHOP if demo else Shop()
    chosen: dict[str, ParameterValue] = {}
    for name, text in typed.items():
        try:
            chosen |= read_choices(family, {name: text})
        except EntryError:
            continue  # refused beside its entry: the value before it stays
    try:
        design = solve_for(family, shop, Request(), chosen)
    except ShopError as error:
        refused = error
    else:
        refused = None
    if refused is not None:
        assert refused.what and refused.why and refused.do
        return
    family.scenes(design)
    family.card(design)
    family.solid(design)
    family.fits(design, shop)
    assert all(math.isfinite(f.value) for f in design.figures)
    plan = plan_work("T", family.work(design, shop), shop)
    assert all(math.isfinite(p.value_mm) for _, _, m in plan.moves for p in m.positions)


# --- files, read back by other readers --------------------------------------------------------------------------------

#: Designs of this shelf whose holes all stand square to the face of the "top" view.
PLATES = ["plate-yoke", "plate-segments", "v-jaws", "riser-vise", "stop-vise", "stop-table", "stop-quill", "tilting-plate"]
ALL = [k for k, d in DEMO.items() if d.family != "t_nut"]


def said_sizes(what: str) -> list[float]:
    """Diameters a line of the hole table names as cut: "Ø6.6 through, counterbore Ø11 × 6.5"; of a thread its drill."""
    found = [float(v) for v in re.findall(r"Ø([\d.]+)", what)]
    drill = re.search(r"drill ([\d.]+)", what)
    if drill and "reamed" not in what:
        found.append(float(drill[1]))
    return found


@pytest.fixture(scope="module")
def made() -> dict[str, Design]:
    return {k: solve_doc(DEMO[k], SHOP) for k in ALL}


@pytest.mark.parametrize("ident", PLATES)
def test_circles_of_the_dxf_lie_where_the_hole_table_says(ident: str, made: dict[str, Design], kernel: Kernel) -> None:
    design = made[ident]
    family = find_family(design.family)
    text = file_bytes(family, design, kernel, "dxf", ident, "2026-01-01T00:00:00").decode()
    drawing = ezdxf.read(io.StringIO(text))
    circles = [(c.dxf.center.x, c.dxf.center.y, 2 * c.dxf.radius) for c in drawing.modelspace().query("CIRCLE ARC")]
    names = [h for h in design.holes if said_sizes(h.what)]
    first = names[0]
    # The sheet sets the top view somewhere: the first hole says where, the others have to follow.
    size = said_sizes(first.what)[0]
    for ox, oy in {(round(x - first.x_mm, 3), round(y - first.y_mm, 3)) for x, y, d in circles if abs(d - size) < 0.01}:
        if all(
            any(math.hypot(x - ox - h.x_mm, y - oy - h.y_mm) < 0.01 and abs(d - s) < 0.011 for x, y, d in circles)
            for h in names
            for s in said_sizes(h.what)[:1]
        ):
            return
    raise AssertionError("no place of the top view has all its holes")


@pytest.mark.parametrize("ident", ALL)
def test_step_has_the_cylinders_the_hole_table_names(ident: str, made: dict[str, Design], kernel: Kernel) -> None:
    design = made[ident]
    text = file_bytes(find_family(design.family), design, kernel, "step", ident, "2026-01-01T00:00:00").decode()
    assert text.startswith("ISO-10303-21;") and text.rstrip().endswith("END-ISO-10303-21;")
    radii = [float(r) for r in re.findall(r"CYLINDRICAL_SURFACE\('[^']*',#\d+,([\d.]+(?:E[-+]?\d+)?)\)", text)]
    for hole in design.holes:
        for size in said_sizes(hole.what)[:1]:
            assert any(abs(2 * r - size) < 0.011 for r in radii), (hole.name, size)


@pytest.mark.parametrize("ident", ALL)
def test_hole_table_reads_back_from_its_csv(ident: str, made: dict[str, Design], kernel: Kernel) -> None:
    design = made[ident]
    rows = list(csv.DictReader(io.StringIO(file_bytes(find_family(design.family), design, kernel, "csv", ident, "x").decode())))
    assert [(r["hole"], round(float(r["x_mm"]), 3), round(float(r["y_mm"]), 3)) for r in rows] == [
        (h.name, round(h.x_mm, 3), round(h.y_mm, 3)) for h in design.holes
    ]


def test_every_family_has_something_in_the_demo_shop() -> None:
    assert {d.family for d in DEMO.values()} == set(FAMILIES)


def test_the_shelf_says_when_one_would_want_it() -> None:
    assert {f.group for f in FAMILIES.values()} == {"hold it", "locate it", "tilt it", "stop it", "fasten it"}
    assert all(f.when.startswith("When ") and f.when.endswith(".") and len(f.when) < 120 for f in FAMILIES.values())
