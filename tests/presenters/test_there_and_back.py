"""What is carried, added or drawn and then put back leaves a layout as it was; what is dragged settles and stays."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.book.documents import AngleDoc, DesignDoc, LayoutDoc, shop_of
from elbrix.demo import documents
from elbrix.design.moving import settle_point
from elbrix.holding.layout import all_elements
from elbrix.parameters.parameter import Kind
from elbrix.parameters.places import read_places
from elbrix.presenters.angles import AnglesPresenter
from elbrix.presenters.design import DesignPresenter
from elbrix.presenters.hold import BEGINNINGS, HoldPresenter
from elbrix.presenters.merging import differences
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH

DOCS = documents()
SHOP = shop_of(DOCS)
DESIGNS = tuple(d for d in DOCS if isinstance(d, DesignDoc))
LAYOUTS = {d.id: d for d in DOCS if isinstance(d, LayoutDoc)}
LAYOUTS |= {b.key: b.layout(b.key, "hazel") for b in BEGINNINGS.values()}


def held(doc: LayoutDoc) -> HoldPresenter:
    p = HoldPresenter(doc, SHOP, METRIC, quick=True, designs=DESIGNS)
    assert p.hold is not None
    return p


def stands(p: HoldPresenter) -> list[tuple[Any, ...]]:
    """Where everything stands, and what is said of it."""
    assert p.hold is not None
    return [
        (placed.name, round(placed.spot[0], 6), round(placed.spot[1], 6), placed.problem) for _, _, placed in p.hold.elements
    ] + [(c.key, c.verdict, round(c.value, 4)) for c in p.hold.checks]


@pytest.mark.parametrize("id", LAYOUTS)
def test_carried_there_and_back_everything_stands_as_before(id: str) -> None:
    p = held(LAYOUTS[id])
    assert p.hold is not None
    first = stands(held(p.carried("work", 0, 0) or p.doc))  # what is carried is on whole millimetres from then on
    for feature in ("work", *(placed.name for _, _, placed in p.hold.elements)):
        start = held(p.carried(feature, 0, 0) or p.doc)
        for dx, dy in ((7.0, 0.0), (0.0, -63.0), (-12.0, 5.0)):
            there = start.carried(feature, dx, dy)
            if there is None:
                continue
            try:
                back = held(there).carried(feature, -dx, -dy)
            except (ShopError, AssertionError):
                continue  # it cannot stand there at all
            assert back is not None
            now = held(back)
            if dy and feature != "work":
                # It settles on the nearest slot: from there it may be nearer to another one than to its own.
                assert {s[0] for s in stands(now)} == {s[0] for s in stands(start)}
                continue
            assert stands(now) == stands(start), (feature, dx, dy)
    assert first


@pytest.mark.parametrize("id", LAYOUTS)
@pytest.mark.parametrize("kind", sorted(all_elements()))
def test_what_is_added_and_taken_away_was_never_there(id: str, kind: str) -> None:
    p = held(LAYOUTS[id])
    try:
        more = HoldPresenter(p.added(kind), SHOP, METRIC, quick=True, designs=DESIGNS)
    except ShopError:
        return
    assert len(more.doc.elements) == len(p.doc.elements) + 1
    assert more.taken_away(len(p.doc.elements)) == p.doc
    if more.hold is not None:  # or the card says why not, with what to take back
        assert [t.key for t, _, _ in more.hold.elements][-1] == kind
    else:
        assert more.card().sections[0].text


@pytest.mark.parametrize("id", LAYOUTS)
@given(
    points=st.lists(st.tuples(st.integers(-80, 80), st.integers(-60, 60)), min_size=2, max_size=6, unique=True),
    turn=st.sampled_from([0, 30, 90, -45]),
)
@settings(max_examples=8)
def test_a_path_is_drawn_where_it_was_clicked(id: str, points: list[tuple[int, int]], turn: int) -> None:
    """Clicked in the machine's frame, kept from the work's middle and turned with it."""
    doc = LAYOUTS[id]
    try:
        p = held(replace(doc, chosen={**doc.chosen, **held(doc).typed("angle", f"{turn}").chosen}))
    except (ShopError, AssertionError):
        return
    assert p.hold is not None
    middle, angle = p.hold.piece.middle, p.hold.values.number("angle")
    assert math.degrees(angle) == pytest.approx(turn)
    clicked = []
    for n, (u, v) in enumerate(points):
        x = middle[0] + u * math.cos(angle) - v * math.sin(angle)
        y = middle[1] + u * math.sin(angle) + v * math.cos(angle)
        clicked.append((u, v))
        try:
            drawn = p.path_point_added(x, y, first=n == 0)
        except ShopError:
            return
        assert read_places(drawn.chosen["places"].text, "mm", "Path").points == tuple(map(tuple, clicked))
        now = HoldPresenter(drawn, SHOP, METRIC, quick=True, designs=DESIGNS)
        if now.hold is None:
            return  # it goes where nothing can be cut: said beside it
        p = now


# --- designs ---------------------------------------------------------------------------------------------------------


def with_places() -> list[tuple[DesignDoc, str]]:
    found = []
    for doc in DESIGNS:
        p = DesignPresenter(doc, SHOP, METRIC)
        assert p.design is not None
        for name, q in p.parameters.items():
            if q.kind in (Kind.PLACES, Kind.OUTLINE) and name in p.design.values and p.design.values.word(name):
                found.append((doc, name))
    return found


PLACED = with_places()


@pytest.mark.parametrize(("doc", "name"), PLACED, ids=[f"{d.id}-{n}" for d, n in PLACED])
def test_holes_are_read_and_written_in_the_unit_on_show(doc: DesignDoc, name: str) -> None:
    """An inch shop opened a pattern written in millimetres, moved one hole, and every hole went 25.4 times as far out."""
    metric, inch = DesignPresenter(doc, SHOP, METRIC), DesignPresenter(doc, SHOP, INCH)
    assert metric.design is not None
    places = read_places(metric.design.values.word(name), "mm", name)
    shown = read_places(inch.entry_text(name), "in", name)
    assert shown.grid_mm == pytest.approx(places.grid_mm, abs=1e-5)
    assert len(shown.points) == len(places.points)
    for a, b in zip(shown.points, places.points, strict=True):
        assert a == pytest.approx(b, abs=1e-5)
    row = next((r for s in inch.card().sections for r in s.rows if r.key == name), None)
    if row is not None and places.points:
        numbers = [float(n) for n in re.findall(r"-?\d+\.\d+", row.value)]
        for said, real in zip(numbers, [v for p in places.points for v in p], strict=False):
            assert said * MM_PER_INCH == pytest.approx(real, abs=0.02)


@pytest.mark.parametrize("doc", [d for d in DESIGNS if any(d is p for p, _ in PLACED)], ids=lambda d: d.id)
def test_a_hole_that_is_carried_lands_where_it_settles_and_goes_back(doc: DesignDoc) -> None:
    p = DesignPresenter(doc, SHOP, METRIC)
    spots = p.scene().spots
    for spot in spots[:: max(1, len(spots) // 5)]:
        wanted = (spot.at[0] + 3.3, spot.at[1])
        try:
            there = p.moved(spot, *wanted, alone=True)
        except ShopError:
            continue  # two on one spot, or off the part: said so
        now = DesignPresenter(there, SHOP, METRIC)
        moved = next(s for s in now.scene().spots if (s.entry, s.index) == (spot.entry, spot.index))
        assert moved.at == pytest.approx(settle_point(spot, wanted), abs=1e-3)
        others = [s.at for s in now.scene().spots if (s.entry, s.index) != (spot.entry, spot.index)]
        before = [s.at for s in spots if (s.entry, s.index) != (spot.entry, spot.index)]
        for a, b in zip(others, before, strict=True):
            assert a == pytest.approx(b, abs=1e-3)
        back = now.moved(moved, *spot.at, alone=True)
        at = next(
            s.at for s in DesignPresenter(back, SHOP, METRIC).scene().spots if (s.entry, s.index) == (spot.entry, spot.index)
        )
        assert at == pytest.approx(settle_point(moved, spot.at), abs=1e-3)


# --- angles ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("doc", [d for d in DOCS if isinstance(d, AngleDoc)], ids=lambda d: d.id)
def test_a_dragged_plate_settles_once(doc: AngleDoc) -> None:
    """Let go where it settled it stays: the stack under it is one that the box has."""
    p = AnglesPresenter(doc, SHOP, METRIC)
    if p.setting is None or not p.setting.scenes[0].handles:
        pytest.skip("nothing to drag")
    entry = p.setting.scenes[0].handles[0].entry
    per = math.degrees(1) if p.parameters[entry].kind is Kind.ANGLE else 1.0  # a dragged plate says degrees

    def stands_at(q: AnglesPresenter) -> float:
        assert q.setting is not None
        return q.setting.values.number(entry) * per

    names = {b.nominal for g in SHOP.gauge_sets for b in g.blocks}
    for share in (0.93, 1.04):
        wanted = stands_at(p) * share
        now = AnglesPresenter(p.dragged(entry, wanted), SHOP, METRIC)
        at = stands_at(now)
        assert at == pytest.approx(wanted, rel=0.05)
        assert now.setting is not None
        assert {n for built in now.setting.stacks for n in built.names} <= names
        again = AnglesPresenter(now.dragged(entry, at), SHOP, METRIC)
        assert stands_at(again) == pytest.approx(at, abs=1e-6)


@pytest.mark.parametrize("doc", DESIGNS[:8], ids=lambda d: d.id)
def test_two_versions_of_a_design_differ_in_what_was_changed(doc: DesignDoc) -> None:
    other = replace(doc, location="a drawer nobody has", made=doc.made + 3)
    said = differences(doc, other)
    assert len(said) == 2
    assert any("a drawer nobody has" in theirs for _, _, theirs in said)
    assert differences(doc, doc) == []
