"""The sine plate: sizes by hand, the error budget that decides the centres, holes against everything, and the real solid."""

from __future__ import annotations

import io
import math
from pathlib import Path

import ezdxf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from elbrix.angles.budget import ARCSEC
from elbrix.angles.methods import sine_error_rad
from elbrix.book.designs import plan_doc, solve_doc
from elbrix.book.documents import DesignDoc, JobDoc
from elbrix.cli.main import main
from elbrix.demo.wrenfield import documents
from elbrix.design.families.sine_plate import CENTRES
from elbrix.design.families.sine_plate.layout import Layout
from elbrix.design.families.sine_plate.proof import tool_of
from elbrix.design.family import Design, Request, find_family, read_choices, solve_for
from elbrix.design.files import dimension_texts, mass_kg
from elbrix.design.judging import nearest_fix
from elbrix.design.patterns import pattern_from_csv, pattern_from_dxf, read_pattern
from elbrix.drawing.placing import TextSizes, overlaps, place
from elbrix.drawing.views import arrange
from elbrix.making.planner import plan_work
from elbrix.parameters.places import places_text, read_places
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.checks import Verdict
from elbrix.shop.shop import Shop
from elbrix.solids.client import Kernel

FAMILY = find_family("sine_plate")


def plate(shop: Shop | None = None, **typed: str) -> Design:
    return solve_for(FAMILY, shop or Shop(), Request(), read_choices(FAMILY, typed))


def value(design: Design, key: str) -> float:
    return design.figure(key).value


# --- sizes ------------------------------------------------------------------------------------------------------------


def test_sizes_by_hand() -> None:
    """C 100, rolls 20 with flats of 2, plate 20 thick: 80 between, 120 over, face 28 above the centres, 128 long."""
    d = plate(roll_centres="100")
    assert [value(d, k) for k in ("roll_diameter", "roll_flat", "overhang", "thickness", "width")] == [20, 2, 14, 20, 80]
    assert [value(d, k) for k in ("between", "over_rolls", "face_above", "length", "stack_roll")] == [80, 120, 28, 128, 20]


def test_an_uneven_plate_is_levelled_by_the_stack_roll() -> None:
    """Lying on its rolls the face is level: both ends stand d − f + thickness high."""
    d = plate(roll_centres="100", taper="0.006")
    s = Layout(d.values)
    low, high = s.roll - s.flat + s.thickness, s.roll_stack - s.flat + s.thickness + 0.006
    assert low == pytest.approx(high)
    assert value(d, "between") == pytest.approx(80.003) and value(d, "over_rolls") == pytest.approx(119.997)


@pytest.mark.parametrize("finest", ["8", "12", "18", "25", "60"])
def test_the_shortest_centres_that_keep_the_angle(finest: str) -> None:
    d = plate(angle_tolerance=finest)
    centres = value(d, "roll_centres")
    assert centres in CENTRES
    if value(d, "expected") > float(finest):
        assert centres == CENTRES[-1] and d.check("error").verdict is Verdict.NO_GO
    for shorter in [c for c in CENTRES if c < centres]:
        assert value(plate(angle_tolerance=finest, roll_centres=f"{shorter:g}"), "expected") > float(finest)


def test_expected_error_is_the_budget_of_the_angles_bench() -> None:
    d = plate(roll_centres="150", max_angle="30", centres_tolerance="0.004")
    again = sine_error_rad(tool_of(d.values), math.radians(30), "1") * ARCSEC
    assert value(d, "expected") == pytest.approx(again)
    assert value(d, "expected") > value(plate(roll_centres="150", max_angle="30", centres_tolerance="0.001"), "expected")


@settings(max_examples=60, deadline=None)
@given(st.floats(10, 30), st.floats(0.4, 3), st.floats(6, 30))
def test_where_the_low_corner_meets_the_surface_plate(roll: float, flat: float, overhang: float) -> None:
    """The tilt is walked until the corner of the underside, turned about the roll's centre, is on the surface."""
    d = plate(roll_centres="120", roll_diameter=f"{roll:.4f}", roll_flat=f"{flat:.4f}", overhang=f"{overhang:.4f}")
    s = Layout(d.values)

    def corner(theta: float) -> float:
        return s.roll / 2 + (-s.over) * math.sin(theta) + s.below * math.cos(theta)

    found = math.radians(value(d, "largest"))
    if value(d, "largest") < 90:
        assert corner(found) == pytest.approx(0, abs=1e-9)
    assert all(corner(found * i / 50) > 0 for i in range(50))


def test_sag_by_hand() -> None:
    """500 N on 100 mm of 80 × 20 steel: 500·10⁶/(48·205000·53333) = 0.953 µm."""
    assert value(plate(roll_centres="100"), "sag") == pytest.approx(0.9527, abs=1e-3)


@pytest.mark.parametrize(
    ("typed", "entry"),
    [
        ({"roll_centres": "50", "roll_diameter": "55"}, "roll_diameter"),
        ({"roll_centres": "100", "roll_diameter": "20", "roll_flat": "10"}, "roll_diameter"),
        ({"thickness": "8", "roll_screw": "M8"}, "thickness"),
        ({"roll_centres": "100", "pattern": "5,5; 300,0"}, "pattern"),
        ({"roll_centres": "300", "width": "300", "pattern": "grid 4"}, "pattern"),
    ],
)
def test_plates_that_cannot_be(typed: dict[str, str], entry: str) -> None:
    with pytest.raises(ShopError) as caught:
        plate(**typed)
    assert caught.value.entry == entry


# --- holes ------------------------------------------------------------------------------------------------------------


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from(["12", "15", "20", "25", "30"]),
    st.sampled_from(["75", "100", "150", "200"]),
    st.sampled_from(["M5", "M6", "M8"]),
)
def test_a_grid_keeps_clear_of_everything(pitch: str, centres: str, thread: str) -> None:
    d = plate(roll_centres=centres, pattern=f"grid {pitch}", work_thread=thread)
    s = Layout(d.values)
    r = s.work_thread.major_mm / 2
    for x, y in s.work_holes:
        assert 3 * r <= x + 1e-9 and x <= s.length - 3 * r + 1e-9 and abs(y) <= s.width / 2 - 3 * r + 1e-9
        assert all(abs(x - rx) >= s.roll / 2 + r - 1e-9 for rx in s.roll_x)
        assert all(math.hypot(x - sx, y - sy) >= s.bore_mm / 2 + 2 * r - 1e-9 for sx, sy in s.screws)
        assert not s.strip_holes or x - r >= 8
    for key in ("edge", "rolls", "screws", "stop_strip"):
        assert not s.work_holes or d.check(key).verdict is not Verdict.NO_GO


@pytest.mark.parametrize(
    ("pattern", "key"),
    [
        ("2,0; 60,0", "edge"),
        ("15,0; 60,0", "rolls"),
        ("14,24; 60,0", "screws"),
        ("60,0; 64,0", "web"),
        ("9,0; 60,0", "stop_strip"),
    ],
)
def test_a_hole_in_the_wrong_place_is_named(pattern: str, key: str) -> None:
    d = plate(roll_centres="100", pattern=pattern)
    assert d.check(key).verdict is Verdict.NO_GO


def test_holes_and_hole_table_agree() -> None:
    d = plate(roll_centres="100", pattern="50,10; 70,-10")
    named = {h.name: (h.x_mm, h.y_mm) for h in d.holes}
    assert named["W1"] == (50, 10) and named["W2"] == (70, -10)
    assert {n[0] for n in named} == {"W", "R", "S"} and len(named) == 8
    assert plate(roll_centres="100", pattern="none", stop_strip="no").holes[0].name == "R1"


@pytest.mark.parametrize(
    ("text", "unit", "back"),
    [
        ("grid 20", "mm", "grid 20"),
        ("GRID 1/2", "in", "grid 12.7"),
        ("1,2; 3.5,-4", "mm", "1,2; 3.5,-4"),
        ("1,0", "in", "25.4,0"),
        ("", "mm", ""),
    ],
)
def test_places_read_and_written(text: str, unit: str, back: str) -> None:
    assert places_text(read_places(text, unit, "Holes")) == back
    assert read_places(back, "mm", "Holes") == read_places(text, unit, "Holes")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("1", "x and a y"),
        ("1,5,2,5", "decimal with a comma"),
        ("1,1; 1,1.001", "twice"),
        ("grid 0", "must be|cannot be"),
        ("x,y", "cannot be read"),
        ("1,1;" * 9000, "characters"),
    ],
)
def test_places_that_cannot_be(text: str, said: str) -> None:
    with pytest.raises(EntryError, match=said):
        read_places(text, "mm", "Holes")


def dxf(circles: list[tuple[float, float]], units: int = 4) -> bytes:
    drawing = ezdxf.new(units=units)
    for x, y in circles:
        drawing.modelspace().add_circle((x, y), 3)
    drawing.modelspace().add_line((0, 0), (10, 10))
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


def test_patterns_from_drawings_and_tables() -> None:
    assert pattern_from_dxf(dxf([(10, 5), (30, -5), (10, 5)])) == ((10, 5), (30, -5))
    assert pattern_from_dxf(dxf([(1, 0.5)], units=1)) == ((25.4, 12.7),)
    assert pattern_from_csv(b"name,x_mm,y_mm\nA,10,5\nB,30,-5\n") == ((10, 5), (30, -5))
    assert pattern_from_csv(b"\xef\xbb\xbfx_in,y_in\n1,.5\n") == ((25.4, 12.7),)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"x_mm,y_mm\n", "no row"),
        (b"x_mm,y_mm\n1,5,2\n", "decimal with a comma"),
        (b"x,y\n1,2\n", "no column x_mm"),
        (b"x_mm,y_mm\n=1+1,2\n", "no ordinate|“=1"),
        (b"x_mm,y_mm\n1,2\n1,2\n", "twice"),
        (b"\xff\xfe\x00", "no text"),
        (b"x_mm;y_mm\n1;2\n", "semicolons"),
        (b"x_mm,y_mm\n1,inf\n", "ordinate"),
    ],
)
def test_tables_that_cannot_be(data: bytes, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        pattern_from_csv(data)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"nonsense", "cannot be read|no circle"),
        (dxf([]), "no circle"),
        (dxf([(1, 1)], units=2), "unit"),
        (dxf([(1e9, 0)]), "far outside"),
        (dxf([(i, 0) for i in range(700)]), "700 places"),
    ],
)
def test_drawings_that_cannot_be(data: bytes, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        pattern_from_dxf(data)


def test_a_pattern_file_from_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    drawing = tmp_path / "holes.dxf"
    drawing.write_bytes(dxf([(50, 10), (70, -10)]))
    assert read_pattern(drawing) == "50,10; 70,-10"
    assert main(["design", "sine_plate", "--set", "roll_centres=100", "--set", f"pattern=@{drawing}"]) == 0
    assert "W2  X    70.000  Y   -10.000" in capsys.readouterr().out
    assert main(["design", "sine_plate", "--set", f"pattern=@{tmp_path / 'none.csv'}"]) != 0
    assert "cannot be opened" in capsys.readouterr().err


# --- the solid, the plan, the demo --------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "typed",
    [
        {"roll_centres": "100"},
        {"roll_centres": "150", "pattern": "grid 15", "taper": "0.02"},
        {"roll_centres": "75", "pattern": "none", "stop_strip": "no"},
    ],
)
def test_the_solid_weighs_what_the_arithmetic_says(typed: dict[str, str], kernel: Kernel) -> None:
    d = plate(**typed)
    kg = mass_kg(FAMILY, d, kernel)
    s = Layout(d.values)
    # The arithmetic leaves out the roll screws' and the strip's holes: they are the only difference.
    sunk = 4 * math.pi / 4 * (s.bore_mm**2 * s.bore_depth + s.clear_mm**2 * (s.thickness - s.bore_depth))
    strip = len(s.strip_holes) * math.pi / 4 * 3.3**2 * s.thickness
    assert kg == pytest.approx(s.mass_kg - (sunk + strip) * 7.85e-6, rel=2e-3)


def test_solid_stands_where_the_sizes_say(kernel: Kernel) -> None:
    found = kernel.ask("mass", FAMILY.solid(plate(roll_centres="100")))
    assert [round(v, 4) for v in (*found["low_mm"], *found["high_mm"])] == [0, -40, -18, 128, 40, 20]


def test_every_hole_is_planned_at_its_ordinate() -> None:
    d = plate(roll_centres="100", pattern="50,10; 70,-10")
    plan = plan_work("plate", FAMILY.work(d, Shop()), Shop())
    ids = [s.id for s in plan.setups]
    assert ids.index("face") < ids.index("pattern") < ids.index("bench")  # ordinates are counted from a finished end
    moves = {m.id: m for _, _, m in plan.moves}
    drilled = [m for i, m in moves.items() if i.startswith("pattern.drill")]
    places = {tuple(p.value_mm for p in m.positions[:2]) for m in drilled}
    assert places == {(h.x_mm, h.y_mm) for h in d.holes}
    assert any("80" in m.words and "gauge stack" in m.words for m in moves.values())
    bores = [m for i, m in moves.items() if i.startswith("pattern.bore")]
    assert len(bores) == 4 and all(m.positions[2].value_mm == pytest.approx(-5.5) for m in bores)


def test_views_have_room_for_their_sizes() -> None:
    sizes = TextSizes(width=lambda text: 9.0 * len(text), height=14.0, row=29.0, first=27.0, arrow=8.0)
    for typed in ({"roll_centres": "100"}, {"roll_centres": "300", "pattern": "grid 40"}):
        scenes = FAMILY.scenes(plate(**typed))
        for scene in (scenes[0], arrange(list(scenes[1:]), 40)):
            texts = dimension_texts(scene)
            placed = place(scene, lambda p: (p[0] * 3, p[1] * 3), lambda d, t=texts: t[d.key], sizes)
            assert overlaps(placed) == []


def test_a_fix_for_a_plate_that_bends() -> None:
    d = plate(roll_centres="300", thickness="20")
    assert d.check("sag").verdict is Verdict.NO_GO
    fix = nearest_fix(FAMILY, d, Shop(), "sag")
    assert fix is not None and fix.changes[0][0] == "thickness"
    mended = plate(roll_centres="300", thickness=fix.changes[0][1])
    assert mended.check("sag").verdict.rank < d.check("sag").verdict.rank


def test_the_demo_plate() -> None:
    doc = next(d for d in documents() if isinstance(d, DesignDoc) and d.family == "sine_plate")
    from elbrix.book.documents import shop_of

    shop = shop_of(documents())
    d = solve_doc(doc, shop)
    assert d.verdict is Verdict.GO
    assert value(d, "stack_roll") == pytest.approx(19.996)
    assert plan_doc(doc, d, shop, JobDoc(id="j", design=doc.id)).setups
    assert any(c.kind == "angle" for c in FAMILY.can_hold(d))
    heavy = solve_for(FAMILY, shop, Request(), read_choices(FAMILY, {"roll_centres": "300", "width": "250", "thickness": "60"}))
    assert heavy.check("mass").verdict is Verdict.MARGINAL and FAMILY.work(heavy, shop).notes
    lent = replace(shop.gauge_sets[0], blocks=tuple(b for b in shop.gauge_sets[0].blocks if b.nominal != "0.5"))
    fewer = solve_for(FAMILY, replace(shop, gauge_sets=(lent,)), Request(), read_choices(FAMILY, {"roll_centres": "100"}))
    assert value(fewer, "smallest") == pytest.approx(math.degrees(math.asin(0.01)))
