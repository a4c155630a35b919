"""What is drawn is what stands there: solids, seats, cutter and ghost found again in the pictures by their geometry."""

from __future__ import annotations

import math
import random
from collections.abc import Iterable

import numpy as np
import pytest
from msgspec.structs import replace

from elbrix.book.documents import LayoutDoc
from elbrix.book.layouts import solve_doc, typed_in
from elbrix.demo import documents
from elbrix.design.family import Request, find_family, solve_for
from elbrix.drawing.scene import Arc, Element, Line, Path, Style
from elbrix.geometry.shapes import area, bounds, circle, inside, outside_by, rectangle
from elbrix.holding.layout import Piece, PlacedElement, PlacingContext, all_elements, find_element
from elbrix.holding.mounted import bolt_places
from elbrix.holding.pictures import ghost_ring
from elbrix.holding.solve import LayoutResult
from elbrix.holding.spots import _towards
from elbrix.parameters.parameter import ParameterValue
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.figures import Origin
from elbrix.shop.machines import Machine
from elbrix.shop.shop import Shop
from elbrix.shop.workholding import FastenerKind
from elbrix.standards.threads import find_thread
from layouts_tools import doc, thing
from work_pieces import SAID, any_of, block, round_work

Box = tuple[float, float, float, float]


def _corners(points: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
    return sorted((round(x, 3) + 0.0, round(y, 3) + 0.0) for x, y in points)


def _rings(elements: Iterable[Element]) -> list[list[tuple[float, float]]]:
    return [_corners(e.points) for e in elements if isinstance(e, Path) and e.closed]


def _placed(shop: Shop, machine: Machine, kind: str, piece: Piece, number: int = 0, **chosen: float | str) -> PlacedElement:
    element = find_element(kind)
    given = {name: ParameterValue(value, Origin.CHOSEN) for name, value in chosen.items()}
    values = element.propose(shop, machine, piece, given, number)
    return element.place(kind, values, PlacingContext(shop=shop, machine=machine, piece=piece, mu=0.15, nut_factor=0.2))


def _some_work(chance: random.Random) -> Piece:
    high = chance.choice((3.0, 12.0, 25.0, 60.0))
    if chance.random() < 0.3:
        return round_work(chance.choice((20.0, 45.0, 70.0)), high)
    return block(chance.choice((60, 100, 160)), chance.choice((20, 50, 90)), high=high)


@pytest.mark.parametrize("kind", list(all_elements()))
def test_every_solid_is_drawn_where_it_stands(demo_shop: Shop, kind: str) -> None:
    """From above its ring, from the front its length by its heights; a nut and a head of a screw as a circle in their ring."""
    chance, seen = random.Random(kind), 0
    for n in range(24):
        piece = _some_work(chance)
        try:
            p = _placed(demo_shop, demo_shop.machine("hazel"), kind, piece, n % 2)
        except ShopError:
            continue
        rings = _rings((*p.above, *p.over))
        circles = [e for e in (*p.above, *p.over) if isinstance(e, Arc)]
        fronts = _rings(p.front)
        for solid in p.solids:
            seen += 1
            left, low, right, high = bounds(solid.ring)
            middle = ((left + right) / 2, (low + high) / 2)
            if "nut" in solid.name or "head" in solid.name:
                at = [c for c in circles if c.centre == pytest.approx(middle)]
                assert at and max(c.radius for c in at) <= (right - left) / 2 + 1e-6, solid.name
                continue
            if "parallels" in solid.name:  # of those only the part under the work is in the way
                assert any(_within(solid.ring, ring) for ring in rings), solid.name
                continue
            assert _corners(solid.ring) in rings, solid.name
            box = _corners([(left, solid.bottom_mm), (right, solid.bottom_mm), (right, solid.top_mm), (left, solid.top_mm)])
            assert box in fronts or kind == "stop", (solid.name, box)
        for seat in p.seats:
            assert any(_within(seat, ring) for ring in rings), "a seat nobody sees"
            assert area(seat) > 0
    assert seen or kind == "backing_bar"


def _within(ring: Iterable[tuple[float, float]], drawn: list[tuple[float, float]]) -> bool:
    xs, ys = [x for x, _ in drawn], [y for _, y in drawn]
    return all(min(xs) - 0.01 <= x <= max(xs) + 0.01 and min(ys) - 0.01 <= y <= max(ys) + 0.01 for x, y in ring)


def _everything(p: PlacedElement) -> dict[str, list[tuple[float, float]]]:
    """Whatever of a thing lies somewhere on the table."""

    def points(elements: Iterable[Element]) -> list[tuple[float, float]]:
        found: list[tuple[float, float]] = []
        for e in elements:
            found += [e.a, e.b] if isinstance(e, Line) else [e.centre] if isinstance(e, Arc) else []
            found += e.points if isinstance(e, Path) else []
        return found

    return {
        "above": points((*p.above, *p.over)),
        "solids": [q for s in p.solids for q in s.ring],
        "seats": [q for s in p.seats for q in s],
        "contacts": [(c.at[0], c.at[1]) for c in p.contacts],
        "forces": [(f.at[0], f.at[1]) for f in p.forces],
        "spot": [p.spot],
        "name": [] if p.name_at is None else [p.name_at],
        "bolts": [] if p.mount is None else list(p.mount.bolts),
        "base": [] if p.mount is None else list(p.mount.ring),
    }


@pytest.mark.parametrize("kind", list(all_elements()))
@pytest.mark.parametrize("high", [4.0, 30.0])
def test_carried_along_with_work_and_slots_it_is_the_same_thing(demo_shop: Shop, kind: str, high: float) -> None:
    dx, dy = 37.0, 21.0
    hazel = replace(demo_shop.machine("hazel"), table_length_mm=4000.0, table_width_mm=4000.0)
    moved = replace(hazel, slots=tuple(replace(s, offset_mm=s.offset_mm + dy) for s in hazel.slots))
    piece = block(100.0, 60.0, high=high)
    there = replace(piece, outline=tuple((x + dx, y + dy) for x, y in piece.outline), middle=(dx, dy), cg=(dx, dy, high / 2))
    one, two = _placed(demo_shop, hazel, kind, piece), _placed(demo_shop, moved, kind, there)
    before, after = _everything(one), _everything(two)
    for part, points in before.items():
        assert [(x + dx, y + dy) for x, y in points] == [pytest.approx(q) for q in after[part]], part
    assert _rings(two.front) == _rings(_moved(e, dx) for e in one.front)
    assert [(c.key, c.verdict, c.text) for c in one.checks] == [(c.key, c.verdict, c.text) for c in two.checks]
    assert [c.value for c in one.checks] == pytest.approx([c.value for c in two.checks])
    assert [f.force_n for f in one.forces] == pytest.approx([f.force_n for f in two.forces])


def _moved(e: Element, dx: float) -> Element:
    return replace(e, points=tuple((x + dx, y) for x, y in e.points)) if isinstance(e, Path) else e


@pytest.mark.parametrize(("kind", "flip"), [("vise", (-1, 1)), ("split_vise", (1, -1)), ("backing_bar", (-1, 1))])
def test_its_two_ends_are_alike(demo_shop: Shop, kind: str, flip: tuple[int, int]) -> None:
    """Work in the table's middle: a jaw and all that belongs to it is its own mirror image."""
    p = _placed(demo_shop, demo_shop.machine("hazel"), kind, block(100.0, 60.0))
    for part, points in _everything(p).items():
        if part in ("name", "spot"):
            continue
        assert _corners((flip[0] * x, flip[1] * y) for x, y in points) == _corners(points), part


# --- how a body is bolted down --------------------------------------------------------------------------------------------


@pytest.mark.parametrize("count", [1, 2, 4, 6, 8])
@pytest.mark.parametrize(("long", "wide"), [(240.0, 90.0), (80.0, 300.0), (20.0, 12.0)])
def test_bolts_stand_in_rows_symmetrical_and_inside(count: int, long: float, wide: float) -> None:
    ring = tuple((x + 11.0, y - 7.0) for x, y in rectangle(long, wide))
    places = bolt_places(ring, count)
    assert len(places) == max(2, count)
    assert all(inside(ring, p) for p in places)
    turned = _corners((22.0 - x, -14.0 - y) for x, y in places)
    assert turned == _corners(places)  # half a turn about the middle
    along = sorted({round(x if long >= wide else y, 6) for x, y in places})
    gaps = np.diff(along)
    if count > 2:
        assert len(along) == count // 2 and gaps == pytest.approx([gaps[0]] * len(gaps))
    reach = min(25.0, long / 4, wide / 4)
    assert min(min(x - (11 - long / 2), (11 + long / 2) - x) for x, _ in places) <= reach + 1e-9


# --- pictures of the whole ------------------------------------------------------------------------------------------------


def _layouts(shop: Shop, many: int) -> Iterable[LayoutResult]:
    chance, found = random.Random(11), 0
    while found < many:
        kinds = chance.sample(list(SAID), chance.choice((1, 2)))
        base = {
            "length": f"{chance.choice((60, 100, 160))}",
            "width": f"{chance.choice((30, 50, 90))}",
            "height": f"{chance.choice((6, 12, 25, 60))}",
            "cut": chance.choice(("light", "medium", "drilling")),
        }
        try:
            layout = doc(*(thing(k, **any_of(chance, **SAID[k])) for k in kinds), **base)
            yield solve_doc(typed_in(layout, shop), shop, quick=True)
        except ShopError:
            continue
        found += 1


def test_the_ghost_is_the_work_moved_as_a_rigid_piece(demo_shop: Shop) -> None:
    """Its corners go where some v and ω take them, at most 9 % of the work; half way in half as far, at rest nowhere."""
    seen = 0
    for hold in _layouts(demo_shop, 30):
        ring = ghost_ring(hold.piece, hold.margin)
        if not ring:
            continue
        seen += 1
        work = np.array(hold.piece.outline)
        gone = np.array(ring) - work
        fastest = float(np.hypot(*gone.T).max())
        left, low, right, high = bounds(hold.piece.outline)
        assert fastest == pytest.approx(0.09 * max(right - left, high - low))
        terms = np.array([[1.0, 0.0, -y] for _, y in work] + [[0.0, 1.0, x] for x, _ in work])
        fitted = terms @ np.linalg.lstsq(terms, gone.T.reshape(-1), rcond=None)[0]
        assert fitted == pytest.approx(gone.T.reshape(-1), abs=1e-6)
        assert np.array(ghost_ring(hold.piece, hold.margin, 0.5)) - work == pytest.approx(gone / 2)
        assert np.array(ghost_ring(hold.piece, hold.margin, 0.0)) == pytest.approx(work)
        assert hold.margin.limit is not None
        v, w = np.array(hold.margin.limit.motion[:3]), np.array(hold.margin.limit.motion[3:])
        at = [v + np.cross(w, (*p, hold.piece.top_mm)) for p in hold.piece.outline]
        scale = fastest / max(math.hypot(m[0], m[1]) for m in at)
        assert gone == pytest.approx(np.array(at)[:, :2] * scale, abs=1e-6)
    assert seen > 8


def test_work_and_cutter_stand_in_the_pictures_as_they_are(demo_shop: Shop) -> None:
    for hold in _layouts(demo_shop, 14):
        above, front = hold.scenes[0], hold.scenes[1]
        left, low, right, high = bounds(hold.piece.outline)
        work = [e for e in above.elements if isinstance(e, Path) and e.feature == "work"]
        assert work and all(_corners(e.points) == _corners(hold.piece.outline) for e in work)
        bottom, top = hold.piece.bottom_mm, hold.piece.top_mm
        stands = [_corners(e.points) for e in front.elements if isinstance(e, Path) and e.feature == "work"]
        assert stands and set(map(tuple, stands)) == {
            tuple(_corners([(left, bottom), (right, bottom), (right, top), (left, top)]))
        }
        sizes = {d.key: d for s in (above, front) for d in s.dimensions}
        assert sizes["height"].value == pytest.approx(top - bottom) and sizes["length"].value == pytest.approx(right - left)
        assert sizes["width"].value == pytest.approx(high - low)
        assert ("lift" in sizes) == (bottom > 0) and (bottom == 0 or sizes["lift"].value == pytest.approx(bottom))
        cutting, margin = hold.cutting, hold.margin
        x = cutting.path[margin.worst // cutting.each][0]
        tool = next(e for e in front.elements if isinstance(e, Path) and e.style is Style.TOOL)
        shank = next(e for e in front.elements if isinstance(e, Path) and e.feature == "cutter_path" and e.style is Style.HIDDEN)
        near, end, far, t = _box(tool)
        assert ((near + far) / 2, far - near, end) == pytest.approx((x, cutting.tool.diameter_mm, cutting.end_mm))
        assert (_box(shank)[0] + _box(shank)[2]) / 2 == pytest.approx(x) and _box(shank)[1] == pytest.approx(t)
        assert _box(shank)[2] - _box(shank)[0] == pytest.approx(cutting.tool.holder_mm)
        assert all(e.a[1] == e.b[1] for e in front.elements if isinstance(e, Line) and e.feature == "table")


def _box(path: Path) -> Box:
    return bounds(path.points)


def test_every_place_of_the_path_has_its_mark_by_what_holds_there(demo_shop: Shop) -> None:
    """An open circle at twice and more, a circle crossed once below that, twice where it gives; a square where it cannot go."""
    demo = [solve_doc(d, demo_shop, quick=True) for d in documents() if isinstance(d, LayoutDoc)]
    seen = set()
    for hold in (*demo, *_layouts(demo_shop, 24)):
        stopped = {c.index for c in hold.clashes}
        for i, place in enumerate(hold.cutting.path):
            if i >= len(hold.margin.at_places):
                continue
            marks = [e for e in hold.scenes[0].elements if getattr(e, "feature", "") == f"place {i}"]
            arcs = [e for e in marks if isinstance(e, Arc)]
            crosses = [e for e in marks if isinstance(e, Line)]
            factor = hold.margin.at_places[i]
            kind = "stopped" if i in stopped else "go" if factor >= 2 else "close" if factor >= 1 else "gives"
            seen.add(kind)
            assert len(marks) == {"stopped": 1, "go": 1, "close": 2, "gives": 3}[kind]
            assert all(a.centre == place for a in arcs) and all(_middle(c) == pytest.approx(place) for c in crosses)
            if kind == "gives":
                (a, b), (c, d) = ((x.a, x.b) for x in crosses)
                assert (b[0] - a[0]) * (d[0] - c[0]) + (b[1] - a[1]) * (d[1] - c[1]) == pytest.approx(0.0)  # square crossed
    assert seen == {"go", "stopped", "close", "gives"}


def _middle(line: Line) -> tuple[float, float]:
    return (line.a[0] + line.b[0]) / 2, (line.a[1] + line.b[1]) / 2


@pytest.mark.parametrize("degrees", range(0, 360, 15))
def test_a_plain_strap_points_at_the_work_from_every_side(degrees: int) -> None:
    """Square to a side it stands beside; from a corner, within the eighth that is nearest to the middle."""
    piece = block(100.0, 60.0, x=7.0, y=-4.0)
    turn = math.radians(degrees)
    root = (7.0 + 130 * math.cos(turn), -4.0 + 130 * math.sin(turn))
    way = _towards(piece, root)
    there = math.atan2(-4.0 - root[1], 7.0 - root[0])
    off = abs((way - there + math.pi) % (2 * math.pi) - math.pi)
    left, low, right, high = bounds(piece.outline)
    square = left <= root[0] <= right or low <= root[1] <= high
    assert off < math.pi / 2 if square else off <= math.pi / 8 + 1e-9
    if square:
        far = [(root[0] + s * math.cos(way), root[1] + s * math.sin(way)) for s in range(200)]
        assert any(inside(piece.outline, p) for p in far)
        assert min(abs(math.cos(way)), abs(math.sin(way))) < 1e-9
    assert outside_by(circle(10.0, 24), (0.0, 0.0)) < 0  # the helper the tests above lean on


@pytest.mark.parametrize("machine", ["hazel", "pip", "tam", "margaret"])
def test_a_fresh_stud_is_no_thicker_than_the_nut_for_its_slot(demo_shop: Shop, machine: str) -> None:
    """By the other road: a T-nut designed for the slot. And of threads that go, one whose bought nut is there comes first."""
    mill = demo_shop.machine(machine)
    for high in (6.0, 20.0, 45.0):
        values = find_element("strap").propose(demo_shop, mill, block(60.0, 30.0, high=high), {}, 0)
        stud = next(s for s in demo_shop.studs if s.id == values.word("stud"))
        nut = solve_for(find_family("t_nut"), demo_shop, Request(machine=machine, slot=values.word("slot")), {})
        thread, most = find_thread(parse_thread(stud.thread)), find_thread(parse_thread(nut.values.word("thread")))
        assert thread.major_mm <= most.major_mm, (stud.id, most)
        owned = [
            f for f in demo_shop.fasteners if f.kind is FastenerKind.T_NUT and f.neck_mm <= nut.values.number("neck_width") + 0.5
        ]
        if owned:
            assert any(find_thread(parse_thread(f.thread)) == thread for f in owned)
