"""Inspections in the book: readings kept, merged and brought back; a piece judged against its design; findings kept."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace

from elbrix.book.angle_setups import solve_angle
from elbrix.book.designs import choose, made_sizes, new_design, solve_doc
from elbrix.book.documents import AngleDoc, Chosen, DesignDoc, InspectionDoc, TakenDoc, from_json, to_json
from elbrix.book.inspections import (
    earlier,
    fresh,
    inspect_doc,
    keep_as_made,
    subject_of,
    typed_readings,
    with_chosen,
    with_readings,
)
from elbrix.book.practice import exercise_of, practice_instrument, practice_of
from elbrix.book.rescues import Volume, rescues
from elbrix.book.store import Book
from elbrix.demo import documents
from elbrix.design.family import find_family
from elbrix.inspecting.readings import Place
from elbrix.instruments.lines import Quantity
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.results.length_text import plain
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel


@pytest.fixture(scope="module")
def designs() -> tuple[DesignDoc, ...]:
    return tuple(d for d in documents() if isinstance(d, DesignDoc))


def _made(neck: float, u: float = 0.004, times: int = 3) -> InspectionDoc:
    taken = tuple(TakenDoc(value=neck, u=u, tool="micrometer") for _ in range(times))
    return InspectionDoc(id="i", kind="as_made", title="nut", about="t-nut-hazel", readings={"neck_width": taken})


def test_a_piece_is_judged_by_what_it_does_to_the_design(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    """The middle slot is 12.05 at its tightest: a neck of 11.7 goes, one of 12.2 cannot."""
    good, tight = (inspect_doc(_made(neck), designs, demo_shop) for neck in (11.70, 12.20))
    assert good.check("made neck_width").verdict is Verdict.GO
    assert tight.check("made neck_width").verdict is Verdict.NO_GO
    assert any("over the drawing" in step for step in tight.steps)


def test_a_coarse_tool_cannot_pass_a_size_close_to_its_limit(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    """Found by bisection where the design turns: just inside it a fine tool says go and a coarse one does not."""
    subject = subject_of(next(d for d in designs if d.id == "t-nut-hazel"), demo_shop)
    low, high = 11.7, 12.2
    while high - low > 1e-5:
        middle = (low + high) / 2
        low, high = (middle, high) if subject.judge("neck_width", middle)[0] is Verdict.GO else (low, middle)
    inside = low - 0.003
    fine, coarse = (inspect_doc(_made(inside, u), designs, demo_shop).check("made neck_width") for u in (0.001, 0.02))
    assert fine.verdict is Verdict.GO
    assert coarse.verdict is Verdict.MARGINAL
    assert "as far as this tool can tell" in coarse.reason


def test_sizes_as_made_go_to_the_design_and_replace_older_ones(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    design = next(d for d in designs if d.id == "t-nut-hazel")
    doc = _made(11.66)
    kept = keep_as_made(doc, design, inspect_doc(doc, designs, demo_shop), "2026-11-29")
    sizes = {m.parameter: m.made_mm for m in made_sizes(kept, demo_shop)}
    assert sizes["neck_width"] == pytest.approx((11.66,) * 3)
    assert sizes["head_width"] == {m.parameter: m.made_mm for m in made_sizes(design, demo_shop)}["head_width"]
    assert next(m for m in kept.as_made if m.figure == "neck_width").measured_with == "micrometer"


def test_an_inspection_of_nothing_asks_for_a_design(demo_shop: Shop) -> None:
    with pytest.raises(ShopError) as refused:
        inspect_doc(InspectionDoc(id="i", kind="as_made", title="piece"), (), demo_shop)
    assert refused.value.entry == "about"


def test_the_same_thing_looked_at_again_is_its_history() -> None:
    one = InspectionDoc(id="a", kind="head_tram", title="Head", began="2026-01-01", readings={"east": (TakenDoc(value=0.0),)})
    two = replace(one, id="b", began="2026-06-01")
    other = replace(one, id="c", title="Other head", began="2026-03-01")
    now = fresh(two, "d", "2026-11-29")
    assert not now.readings
    assert [d.id for d in earlier(now, [two, other, one, now])] == ["a", "b"]


@pytest.mark.parametrize(
    ("text", "unit", "found"),
    [("12.05", "mm", (12.05,)), ("0.5 in; 12.7", "mm", (12.7, 12.7)), ("0.5", "in", (12.7,)), ("", "mm", ())],
)
def test_readings_as_typed(text: str, unit: str, found: tuple[float, ...]) -> None:
    place = Place(key="p", label="place", quantity=Quantity.LENGTH, at=(0, 0), low=0, high=20)
    assert typed_readings(place, text, unit) == pytest.approx(found)


@pytest.mark.parametrize("text", ["x", "nan", "1e999", "25", "12;;x", "; ".join(["1"] * 21), "9" * 400])
def test_what_is_no_reading_is_said_beside_the_place(text: str) -> None:
    place = Place(key="p", label="place", quantity=Quantity.LENGTH, at=(0, 0), low=0, high=20)
    with pytest.raises(EntryError) as refused:
        typed_readings(place, text, "mm")
    assert refused.value.entry == "p"


@pytest.mark.parametrize("text", ["19.5 °C", "19,5", "19.5 C"])
def test_a_temperature_is_read_with_its_unit(text: str) -> None:
    place = Place(key="p", label="room", quantity=Quantity.TEMPERATURE, at=(0, 0), low=-30, high=60, unit="°C")
    assert typed_readings(place, text, "mm") == (19.5,)
    with pytest.raises(EntryError):
        typed_readings(place, "400", "mm")


def test_a_book_keeps_every_reading(tmp_path: Path) -> None:
    doc = with_readings(
        _made(11.7), "head_width", (TakenDoc(value=18.2, u=0.003, tool="micrometer-1", on="2026-11-29T10:00:00"),)
    )
    book = Book.create(tmp_path / "book.elbrix")
    book.put("Inspection", doc)
    book.close()
    book = Book.open(tmp_path / "book.elbrix")
    assert book.get(InspectionDoc, "i") == doc
    book.close()
    assert from_json("inspection", to_json(doc)) == doc
    assert with_readings(doc, "head_width", ()) == _made(11.7)


@pytest.mark.parametrize(
    "bad",
    [
        InspectionDoc(id="i", kind="seance", title="x"),
        InspectionDoc(id="i", kind="flatness", title="x", readings={"p": tuple(TakenDoc(value=0.0) for _ in range(5001))}),
    ],
)
def test_no_book_takes_an_inspection_no_bench_could_show(bad: InspectionDoc) -> None:
    with pytest.raises(ShopError):
        from_json("inspection", to_json(bad))


def test_practice_is_the_same_again_from_its_number(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    real = InspectionDoc(id="i", kind="head_tram", title="Head")
    doc = practice_of(real, "p", 4711, "2026-11-29")
    first, again = (exercise_of(doc, designs, demo_shop) for _ in range(2))
    assert first is not None
    assert first == again
    assert exercise_of(real, designs, demo_shop) is None
    assert exercise_of(replace(doc, notes="practice makes perfect"), designs, demo_shop) is None
    # What is read already is not asked of the instrument again.
    begun = with_readings(doc, "east", (TakenDoc(value=0.0),))
    instrument = practice_instrument(begun, first, inspect_doc(begun, designs, demo_shop))
    assert instrument.truth.values == tuple(first.true[k] for k in ("north", "west", "south"))


# --- what saves it ---------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def volume(kernel: Kernel) -> Volume:
    return lambda family, design: float(kernel.ask("mass", family.solid(design))["volume_mm3"])


def _ways(made: dict[str, float], shop: Shop, designs: tuple[DesignDoc, ...], volume: Volume) -> dict[str, str]:
    readings = {size: (TakenDoc(value=value, u=0.004),) for size, value in made.items()}
    doc = InspectionDoc(id="i", kind="as_made", title="nut", about="t-nut-hazel", readings=readings)
    design = next(d for d in designs if d.id == "t-nut-hazel")
    return {r.title: plain(r.words) for r in rescues(design, inspect_doc(doc, designs, shop), shop, volume)}


def test_metal_that_is_left_is_taken_off_as_far_as_it_must(
    demo_shop: Shop, designs: tuple[DesignDoc, ...], volume: Volume
) -> None:
    """What is offered is tried: at that size, and off by the tool either way, nothing is worse than drawn; a hair above it is."""
    words = _ways({"neck_width": 12.15}, demo_shop, designs, volume)["Take off"]
    target = float(words.split("from ")[1].split(" ")[0])
    by = float(words.split(" ")[0])
    assert target + by == pytest.approx(12.15)
    subject = subject_of(next(d for d in designs if d.id == "t-nut-hazel"), demo_shop)
    assert all(subject.judge("neck_width", target + d)[0] is Verdict.GO for d in (-0.004, 0, 0.004))
    assert subject.judge("neck_width", target + 0.015)[0] is not Verdict.GO


def test_metal_that_is_gone_is_only_made_up_where_it_fills_a_gap(
    demo_shop: Shop, designs: tuple[DesignDoc, ...], volume: Volume
) -> None:
    assert "shim" in _ways({"neck_width": 11.2}, demo_shop, designs, volume)["Make up"]
    assert "Make up" not in _ways({"neck_width": 9.7}, demo_shop, designs, volume)  # the thread has no wall any more


def test_a_weak_piece_is_not_sent_to_another_slot(demo_shop: Shop, designs: tuple[DesignDoc, ...], volume: Volume) -> None:
    """It goes into every slot and tears out of each: strength is solved there as well."""
    ways = _ways({"length": 12.0}, demo_shop, designs, volume)
    assert set(ways) == {"Make another"}
    assert "bar" in ways["Make another"]


def test_a_right_piece_needs_no_saving(demo_shop: Shop, designs: tuple[DesignDoc, ...], volume: Volume) -> None:
    assert _ways({"neck_width": 11.7}, demo_shop, designs, volume) == {}


def test_every_design_of_the_demo_can_be_measured(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    """Each size has its place, once; read as drawn, every one of them is right."""
    for design in designs:
        doc = InspectionDoc(id="i", kind="as_made", title="piece", about=design.id)
        subject = subject_of(design, demo_shop)
        found = inspect_doc(doc, designs, demo_shop)
        entries = [d.entry for d in found.scene.dimensions]
        assert sorted(entries) == sorted(f"read {s.key}" for s in subject.sizes), design.id
        read = replace(doc, readings={s.key: (TakenDoc(value=s.designed_mm, u=1e-6),) for s in subject.sizes})
        after = inspect_doc(read, designs, demo_shop)
        assert len(after.checks) == len(subject.sizes)
        # A design that stands on a limit to the last digit cannot be measured for certain; none is wrong.
        assert all(c.verdict is not Verdict.NO_GO for c in after.checks), design.id
        assert all(subject.judge(s.key, s.designed_mm)[0] is Verdict.GO for s in subject.sizes), design.id


@pytest.mark.parametrize(("orientation", "shown"), [("drawn", 53.0), ("complement", 37.0)])
def test_a_setting_is_read_back_as_it_stands_on_the_plate(demo_shop: Shop, orientation: str, shown: float) -> None:
    """Work turned about stands at the rest of the right angle: that is what a level on it shows."""
    doc = AngleDoc(id="a", kind="sine", title="a", chosen={"angle": Chosen(text="53°"), "orientation": Chosen(text=orientation)})
    back = solve_angle(doc, demo_shop).read_back
    assert back is not None
    assert math.degrees(back.angle) == pytest.approx(shown)


# --- holes at assembly -----------------------------------------------------------------------------------------------


@pytest.fixture
def riser(demo_shop: Shop) -> DesignDoc:
    doc = new_design(find_family("riser"), "riser", "hazel", "", "Riser")
    for name, text in (("kind", "two"), ("part", "lower")):
        doc = choose(doc, name, text)
    return doc


def _mate(doc: DesignDoc, shop: Shop, moved: Callable[[float, float], tuple[float, float]], **chosen: str) -> InspectionDoc:
    places = subject_of(doc, shop).mating
    assert places is not None
    readings = {
        f"h{i}{axis}": (TakenDoc(value=v),)
        for i, place in enumerate(places.places, 1)
        for axis, v in zip("xy", moved(*place), strict=True)
    }
    given = {name: Chosen(text=text) for name, text in chosen.items()}
    return InspectionDoc(id="m", kind="mate_holes", title="mate", about=doc.id, readings=readings, chosen=given)


def test_withheld_holes_are_released_with_the_mates_ordinates(demo_shop: Shop, riser: DesignDoc) -> None:
    """The upper plate's holes are 0.12 further out than drawn: the lower's threads follow them, and Make drills them."""
    doc = _mate(riser, demo_shop, lambda x, y: (x + math.copysign(0.12, x), y))
    found = inspect_doc(doc, (riser,), demo_shop)
    (finding,) = found.findings
    before, after = solve_doc(riser, demo_shop), solve_doc(with_chosen(riser, finding.chosen), demo_shop)
    old = [(h.x_mm, h.y_mm) for h in before.holes if h.name.startswith("J")]
    new = [(h.x_mm, h.y_mm) for h in after.holes if h.name.startswith("J")]
    assert len(old) >= 3
    assert new == [pytest.approx((x + math.copysign(0.12, x), y)) for x, y in old]
    family = find_family("riser")
    drilled = [work.steps for work in (family.work(d, demo_shop) for d in (before, after))]
    waiting = [any(getattr(s, "name", "").startswith("Joining holes") for s in steps) for steps in drilled]
    assert waiting == [True, False]


def test_a_readout_that_was_not_zeroed_releases_nothing_or_is_laid_onto_the_drawing(demo_shop: Shop, riser: DesignDoc) -> None:
    turn = 0.01

    def elsewhere(x: float, y: float) -> tuple[float, float]:
        return 200 + x * math.cos(turn) - y * math.sin(turn), 80 + x * math.sin(turn) + y * math.cos(turn)

    doc = _mate(riser, demo_shop, elsewhere)
    found = inspect_doc(doc, (riser,), demo_shop)
    assert not found.findings
    laid = inspect_doc(_mate(riser, demo_shop, elsewhere, zero="anywhere"), (riser,), demo_shop)
    places = laid.findings[0].chosen["joining_positions"]
    real = [tuple(map(float, p.split(","))) for p in places.split("; ")]
    mating = subject_of(riser, demo_shop).mating
    assert mating is not None
    assert real == [pytest.approx(p, abs=2e-3) for p in mating.places]


def test_a_mate_whose_hole_lies_beside_the_plate_releases_nothing(demo_shop: Shop, riser: DesignDoc) -> None:
    doc = _mate(riser, demo_shop, lambda x, y: (50 * x, y), zero="datum")
    found = inspect_doc(doc, (riser,), demo_shop)
    assert not found.findings
    assert any(c.key == "release" and c.verdict is Verdict.NO_GO for c in found.checks)


def test_a_design_without_withheld_holes_says_so(demo_shop: Shop, designs: tuple[DesignDoc, ...]) -> None:
    with pytest.raises(EntryError, match="waits for its mate"):
        inspect_doc(InspectionDoc(id="m", kind="mate_holes", title="m", about="t-nut-hazel"), designs, demo_shop)
