"""What Make says, worked again by somebody who has only the words: numbers from terms, bars from lengths, wheels by hand."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.batches import batch_of
from elbrix.book.documents import DesignDoc, JobDoc, shop_of
from elbrix.demo import documents
from elbrix.presenters.batch import BatchPresenter, changes_words
from elbrix.presenters.handwheels import HandwheelPresenter
from elbrix.presenters.make import MakePresenter, hours
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH, UnitStyle
from elbrix.rehearsal.handwheels import Handwheel
from elbrix.shop.machines import Axis
from paper_arithmetic import evaluate

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = {d.id: d for d in DOCS if isinstance(d, DesignDoc)}
SOME = ("t-nut-hazel", "t-nut-pip", "t-nut-margaret", "plate-yoke", "v-jaws", "bush-yoke", "stop-vise", "gib-tam")


def make(id: str, style: UnitStyle = METRIC, job: JobDoc | None = None) -> MakePresenter:
    return MakePresenter(DESIGNS[id], SHOP, style, job or JobDoc(id="j", design=id))


# --- moves -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("id", SOME)
def test_every_number_comes_out_of_its_own_terms(id: str) -> None:
    """ "Y = half the bar − the shoulder + half the cutter = 10 − 4.15 + 6": added up again it is where the axis has to stand."""
    p = make(id)
    worked = 0
    for (_, _, move), line in zip(p.moves, p.lines(), strict=True):
        assert [axis for axis, _ in line.numbers] == [q.axis for q in move.positions]
        for q in move.positions:
            said = [d for d in line.details if d.startswith(f"{q.axis} = ")]
            assert len(said) == (len(q.terms) > 1)
            if said:
                # The last of its parts is the sum with numbers; a factor of the dial's may stand before it.
                assert evaluate(said[0].split(" = ")[-1]) == pytest.approx(q.value_mm, abs=2e-3), said
                worked += 1
            assert sum(t.value_mm for t in q.terms) == pytest.approx(q.value_mm, abs=1e-6)
    assert worked > 3


@pytest.mark.parametrize("id", SOME)
def test_inch_numbers_are_the_same_places(id: str) -> None:
    """A readout's number in inches, turned back, is the metric one to a step of either."""
    metric, inch = make(id), make(id, INCH)
    machines = {m.id: m for m in SHOP.machines}
    compared = 0
    for (setup, _, a), (_, _, b) in zip(metric.moves, inch.moves, strict=True):
        assert metric.plan is not None
        machine = machines.get(setup.machine_id or metric.plan.machine_id)
        for q, r in zip(a.positions, b.positions, strict=True):
            assert q.value_mm == pytest.approx(r.value_mm, abs=1e-6)
            if machine is None or not machine.readout_step_mm or not re.fullmatch(r"[−+-]?[\d.]+", r.dial.text):
                continue
            step = max(machine.readout_step_mm, 0.0001 * MM_PER_INCH)
            shown = float(r.dial.text.replace("−", "-")) * MM_PER_INCH
            assert shown == pytest.approx(q.value_mm, abs=step), (a.id, q.axis)
            compared += 1
    if any(m.readout_step_mm for m in SHOP.machines if metric.plan and m.id == metric.plan.machine_id):
        assert compared > 5


def test_done_moves_are_counted_and_the_first_open_one_is_next() -> None:
    p = make("t-nut-hazel")
    ids = [m.id for _, _, m in p.moves]
    assert len(set(ids)) == len(ids)
    assert p.first_open() == ids[0]
    half = make("t-nut-hazel", job=JobDoc(id="j", design="t-nut-hazel", done=tuple(ids[:7])))
    assert half.first_open() == ids[7]
    assert f"7 of {len(ids)} moves done" in half.subtitle()
    assert [line.done for line in half.lines()] == [True] * 7 + [False] * (len(ids) - 7)
    whole = make("t-nut-hazel", job=JobDoc(id="j", design="t-nut-hazel", done=tuple(ids)))
    assert whole.first_open() == ids[-1]
    assert [half.place_of(i) for i in ids] == list(range(len(ids)))
    assert half.place_of("no such move") == 0


def test_a_plan_that_nothing_changed_is_not_made_again() -> None:
    p = make("t-nut-hazel")
    ticked = MakePresenter(p.doc, SHOP, METRIC, JobDoc(id="j", design=p.doc.id, done=(p.first_open(),)), before=p)
    assert ticked.plan is p.plan
    measured = MakePresenter(p.doc, SHOP, METRIC, JobDoc(id="j", design=p.doc.id, measured={"bar_width": 20.02}), before=p)
    assert measured.plan is not p.plan
    assert MakePresenter(p.doc, SHOP, INCH, p.job, before=p).plan is not p.plan


@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
def test_what_was_really_set_is_kept_beside_its_number_or_refused(style: UnitStyle) -> None:
    p = make("t-nut-hazel", style)
    _, _, move = next(place for place in p.moves if len(place[2].positions) > 1 and place[2].strokes)
    axis = move.positions[0].axis
    kept = p.with_keyed(move.id, axis, f"  {move.positions[0].dial.text} ")
    assert kept.keyed == {f"{move.id}.{axis}": move.positions[0].dial.text}
    again = make("t-nut-hazel", style, kept)
    line = again.lines()[again.place_of(move.id)]
    assert line.keyed[0] == move.positions[0].dial.text
    assert line.keyed[1:] == ("",) * (len(move.positions) - 1)
    assert again.with_keyed(move.id, axis, "").keyed == {}
    with pytest.raises(EntryError):
        again.with_keyed(move.id, axis, "half a turn and a bit")
    assert again.job.keyed == kept.keyed


@given(st.floats(0, 6000))
def test_hours_are_said_to_ten_minutes(minutes: float) -> None:
    said = hours(minutes)
    found = re.fullmatch(r"(?:(\d+) min)|(?:(\d+) h(?: (\d+))?)", said)
    assert found is not None
    back = int(found[1]) if found[1] else int(found[2]) * 60 + int(found[3] or 0)
    assert back % 10 == 0
    assert abs(back - minutes) <= 5 or back == 10


# --- handwheels ------------------------------------------------------------------------------------------------------


class Screw:
    """A screw in a nut with play: the slide is pushed by whichever flank bears. The zero was taken coming in one direction."""

    def __init__(self, backlash: float, approach: int) -> None:
        self.backlash = backlash
        self.slide = 0.0
        # Coming from below the lower flank bears at the zero: the screw goes back by it before it takes the slide along.
        self.free_low, self.free_high = (0.0, backlash) if approach > 0 else (-backlash, 0.0)
        self.screw = 0.0

    def turn(self, way: float) -> None:
        for _ in range(200):
            self.screw += way / 200
            self.slide = max(self.slide, self.screw + min(self.free_low, 0.0)) if way > 0 else self.slide
            self.slide = min(max(self.slide, self.screw + self.free_low), self.screw + self.free_high)


@given(
    turns=st.lists(st.integers(-300, 300), min_size=1, max_size=12),
    backlash=st.sampled_from([0.0, 0.05, 0.1, 0.3]),
    approach=st.sampled_from([1, -1]),
)
@settings(max_examples=60)
def test_a_slide_follows_its_wheel_as_a_screw_with_play_does(turns: list[int], backlash: float, approach: int) -> None:
    wheel = Handwheel(axis="X", wheel=Axis(mm_per_turn=4, divisions=200, backlash_mm=backlash), approach=approach)
    real = Screw(backlash, approach)
    for divisions in turns:
        wheel = wheel.turned(divisions)
        real.turn(divisions * 0.02)
        assert wheel.dial_mm == pytest.approx(real.screw, abs=1e-9)
        assert wheel.slide_mm == pytest.approx(real.slide, abs=1e-9)
        assert abs(wheel.lost_mm) <= backlash + 1e-9
        assert wheel.turns * 4 + wheel.on_ring * 0.02 == pytest.approx(wheel.dial_mm, abs=1e-6) or wheel.dial_mm < 0


def test_turned_to_the_number_of_the_card_it_is_there() -> None:
    p = make("t-nut-pip")
    wheels = HandwheelPresenter(METRIC)
    tried = 0
    for _, _, move in p.moves:
        if not p.has_wheels(move.id) or move.zeroes:
            continue
        wheels.slides = None
        wheels.go_to(p.plan, SHOP, move.id)
        assert wheels.slides is not None
        for q in move.positions:
            if q.axis not in wheels.slides.wheels:
                continue
            wheel = wheels.slides.wheels[q.axis]
            # Past it against the approach, then up to it: what every machinist does.
            start = wheel.dial_mm
            far = q.dial.set_mm - wheel.approach * 1.0
            wheels.turn(q.axis, (far - start) / wheel.wheel.division_mm)
            wheels.turn(q.axis, (q.dial.set_mm - far) / wheel.wheel.division_mm)
        views = {v.axis: v for v in wheels.views(lambda q: q.dial.text, still=True)}
        for q in move.positions:
            if q.axis in views:
                assert views[q.axis].there, (move.id, q.axis, views[q.axis])
                assert views[q.axis].wanted == q.dial.text
                tried += 1
    assert tried > 6


# --- together --------------------------------------------------------------------------------------------------------

BATCHES = [
    ("t-nut-hazel", "blocks-step", "stop-vise"),
    ("bush-yoke", "pin-relieved"),
    ("t-nut-hazel", "t-nut-pip", "table-keys", "riser-vise"),
]


@pytest.mark.parametrize("ids", BATCHES, ids="+".join)
def test_what_is_sawn_off_a_bar_and_what_is_left_is_the_bar(ids: tuple[str, ...]) -> None:
    found = batch_of([(DESIGNS[i], None) for i in ids], SHOP)
    shown = BatchPresenter(found, METRIC)
    for use in found.layout.bars:
        real = next(b for b in SHOP.bars if b.id == use.bar.id)
        ends = sorted((c.at_mm, c.at_mm + c.length_mm) for c in use.lengths)
        assert ends[0][0] >= -1e-9
        assert all(a[1] <= b[0] + 1e-9 for a, b in pairwise(ends))  # none lies in another
        assert ends[-1][1] + use.left_mm <= real.length_mm + 1e-6
        lost = real.length_mm - sum(b - a for a, b in ends) - use.left_mm
        assert 0 <= lost <= 4.0 * len(ends) + 1e-6  # a saw cut for each
    numbers = shown.numbers()
    assert sorted(numbers.values()) == list(range(1, len(numbers) + 1))
    rows = shown.card().sections[0].rows
    assert len(rows) == len(numbers) + len(found.to_buy) + sum(bool(plan.there) for plan in found.plans.values())
    for row in rows[: len(numbers)]:
        number = int(row.label.split("  ")[0])
        job = next(j for j, n in numbers.items() if n == number)
        cut = next(c.length_mm for u in found.layout.bars for c in u.lengths if c.job == job)
        assert float(row.value) == pytest.approx(cut, abs=0.26)


@pytest.mark.parametrize("ids", BATCHES, ids="+".join)
def test_every_setup_of_every_card_is_in_the_order_once(ids: tuple[str, ...]) -> None:
    found = batch_of([(DESIGNS[i], None) for i in ids], SHOP)
    done = [(t.job, t.setup.id) for t in found.turns]
    assert len(set(done)) == len(done)
    assert set(done) == {(job, s.id) for job, plan in found.plans.items() for s in plan.setups}
    for job, plan in found.plans.items():  # and each card's own order is kept
        assert [s for j, s in done if j == job] == [s.id for s in plan.setups]
    assert tuple(found.changes) <= tuple(found.apart)
    kit = {line.item.words for line in found.kit}
    assert kit == {k.words for plan in found.plans.values() for k in plan.kit}


@pytest.mark.parametrize("ids", BATCHES[:1], ids="+".join)
def test_a_batch_says_the_same_in_inches(ids: tuple[str, ...]) -> None:
    found = batch_of([(DESIGNS[i], None) for i in ids], SHOP, "in")
    rows = [BatchPresenter(found, s).card().sections[0].rows for s in (METRIC, INCH)]
    for a, b in zip(*rows, strict=True):
        if a.unit == "mm":
            assert float(b.value) * MM_PER_INCH == pytest.approx(float(a.value), abs=0.3)
            assert b.unit == "in"
    assert "in³" in BatchPresenter(found, INCH).plate().footer
    assert "cm³" in BatchPresenter(found, METRIC).plate().footer


@pytest.mark.parametrize(
    ("changes", "said"),
    [((0, 0, 0, 0), "nothing"), ((1, 0, 0, 0), "1 machine"), ((3, 1, 0, 12), "3 machines, 1 way of holding, 12 tools")],
)
def test_changes_in_words(changes: tuple[int, int, int, int], said: str) -> None:
    assert changes_words(changes) == said  # type: ignore[arg-type]


def test_a_design_that_cannot_be_made_says_why_and_shows_nothing() -> None:
    doc = replace(DESIGNS["t-nut-hazel"], machine="none", slot="none")
    p = MakePresenter(doc, replace(SHOP, machines=()), METRIC, JobDoc(id="j", design=doc.id))
    assert p.plan is None or p.moves
    view = p.plate(p.first_open())
    assert view.message or view.scene.elements
    assert all(math.isfinite(t.number) for t in p.tiles())
