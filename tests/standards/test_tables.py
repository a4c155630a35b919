"""The tables, each by another road than its own digits."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_drill, parse_thread
from elbrix.standards.drills import all_drills, drill_mm, fraction_name, nearest_drills
from elbrix.standards.fits import block_limit_um, fit_um, it_um
from elbrix.standards.lookup import standard
from elbrix.standards.materials import material, materials, nut_factor, proof_mpa
from elbrix.standards.screws import clearance_hole, head
from elbrix.standards.slots import book_slot_names, t_nut, t_slot
from elbrix.standards.tables import table
from elbrix.standards.threads import all_threads, find_thread, tap_drill, which_thread


def test_every_table_names_its_source_and_kind() -> None:
    for name in (
        "drills",
        "threads_metric",
        "threads_inch",
        "holes",
        "screws",
        "strength",
        "fits",
        "gauge_blocks",
        "t_slots",
        "materials",
        "friction",
    ):
        data = table(name)
        assert data["source"] and data["kind"] in ("standard", "reference") and data["as_of"], name


def test_number_and_letter_drills_run_in_order() -> None:
    numbers = [float(v) for v in table("drills")["number_in"].values()]
    letters = [float(v) for v in table("drills")["letter_in"].values()]
    assert len(numbers) == 80 and len(letters) == 26
    assert all(a > b for a, b in pairwise(numbers))  # #1 is the thickest
    assert all(a < b for a, b in pairwise(letters))
    assert numbers[0] < letters[0]  # A follows #1


@pytest.mark.parametrize(("drill", "mm"), [("#7", 5.1054), ("#80", 0.3429), ("F", 6.5278), ("Z", 10.4902), ("1/4", 6.35)])
def test_drill_in_mm(drill: str, mm: float) -> None:
    assert drill_mm(parse_drill(drill)).value == pytest.approx(mm, abs=1e-9)  # inches × 25.4 by hand


def test_drills_are_found_by_size() -> None:
    assert nearest_drills(6.35, 2)[0][1] == pytest.approx(6.35)
    assert {name for name, size in all_drills() if abs(size - 6.35) < 1e-9} >= {"E", "1/4"}
    assert fraction_name(27) == "27/64" and fraction_name(32) == "1/2" and fraction_name(68) == "1 1/16"


def test_metric_tap_drill_is_major_less_pitch() -> None:
    for thread in (t for t in all_threads() if t.metric):
        assert thread.tap_drill[1] == pytest.approx(thread.major_mm - thread.pitch_mm, abs=0.06), thread.name


def test_inch_tap_drill_leaves_a_usual_thread() -> None:
    for thread in (t for t in all_threads() if not t.metric):
        full_depth = 1.299 * thread.pitch_mm  # diameter lost at 100 % thread, 1.0825·P·1.2
        share = (thread.major_mm - thread.tap_drill[1]) / full_depth
        assert 0.54 < share < 0.86, (thread.name, share)


@pytest.mark.parametrize(
    ("name", "stress_mm2"),
    [
        ("M6", 20.1),
        ("M8", 36.6),
        ("M10", 58.0),
        ("M12", 84.3),
        ("M16", 157),
        ("M20", 245),
        ("M24", 353),
        ("M30", 561),
        ("1/4-20", 0.0318 * 645.16),
        ("1/2-13", 0.1419 * 645.16),
        ("1-8", 0.606 * 645.16),
    ],
)
def test_stress_area_against_the_printed_tables(name: str, stress_mm2: float) -> None:
    assert find_thread(parse_thread(name)).stress_area_mm2 == pytest.approx(stress_mm2, rel=0.004)


def test_stress_area_is_the_mean_of_pitch_and_root_diameter() -> None:
    for thread in (t for t in all_threads() if t.metric):  # the definition in ISO 898-1: d3 = d1 − H/6
        root = thread.minor_d_mm - math.sqrt(3) / 2 * thread.pitch_mm / 6
        assert thread.stress_area_mm2 == pytest.approx(math.pi / 4 * ((thread.pitch_d_mm + root) / 2) ** 2, rel=2e-4)


@pytest.mark.parametrize(
    ("name", "pitch_d", "minor_d"), [("M10", 9.026, 8.376), ("M6", 5.350, 4.917), ("M20x1.5", 19.026, 18.376)]
)
def test_pitch_and_minor_diameters(name: str, pitch_d: float, minor_d: float) -> None:
    thread = find_thread(parse_thread(name))
    assert (thread.pitch_d_mm, thread.minor_d_mm) == (pytest.approx(pitch_d, abs=6e-4), pytest.approx(minor_d, abs=6e-4))


def test_numbered_inch_sizes() -> None:
    assert find_thread(parse_thread("#10-24")).major_mm == pytest.approx(0.190 * 25.4)
    assert find_thread(parse_thread("#0-80")).major_mm == pytest.approx(0.060 * 25.4)


def test_unknown_thread_is_not_guessed() -> None:
    with pytest.raises(ShopError, match=r"M10x1\.5"):
        find_thread(parse_thread("M10x1.4"))
    with pytest.raises(ShopError, match="never guessed"):
        tap_drill(parse_thread("M11"))


@pytest.mark.parametrize(
    ("major", "pitch", "name"),
    [
        (9.9, 1.5, "M10x1.5"),
        (12.6, 25.4 / 13, "1/2-13"),
        (9.46, 25.4 / 16, "3/8-16"),
        (7.9, 1.25, "M8x1.25"),
        (6.28, 25.4 / 20, "1/4-20"),
        (11.85, 1.75, "M12x1.75"),
    ],
)
def test_a_measured_thread_is_recognised(major: float, pitch: float, name: str) -> None:
    best = which_thread(major, pitch)
    assert best[0].thread.name == name and best[0].likely
    assert [m.score for m in best] == sorted(m.score for m in best)


def test_clearance_holes_clear_in_order() -> None:
    for size in table("holes")["metric_mm"]:
        fine, medium, coarse = (clearance_hole(size, s).value for s in ("fine", "medium", "coarse"))
        assert float(size[1:]) < fine < medium < coarse < float(size[1:]) * 1.31, size
    for size in table("holes")["inch"]:
        fine, medium, coarse = (clearance_hole(size, s).value for s in ("close", "normal", "loose"))
        assert fine < medium < coarse


@pytest.mark.parametrize(("size", "medium", "coarse"), [("M12", 13.5, 14.5), ("M14", 15.5, 16.5), ("M16", 17.5, 18.5)])
def test_the_clearance_holes_that_books_get_wrong(size: str, medium: float, coarse: float) -> None:
    assert (clearance_hole(size).value, clearance_hole(size, "coarse").value) == (medium, coarse)


def test_screw_heads_keep_their_proportions() -> None:
    for size in table("screws")["socket_cap_mm"]:
        assert head("socket_cap", size, "head_h").value == pytest.approx(float(size[1:]))  # as high as the thread is thick
        assert 1.45 <= head("socket_cap", size, "head_d").value / float(size[1:]) <= 1.9
    for size in table("screws")["countersunk_mm"]:
        d, k = head("countersunk", size, "head_d").value, head("countersunk", size, "head_h").value
        assert 2 * k == pytest.approx(d - float(size[1:]), abs=0.9)  # a 90° cone
    for size in table("screws")["hex_mm"]:
        assert 1.49 <= head("hex", size, "across_flats").value / float(size[1:]) <= 1.84
    assert head("hex", "M10", "across_flats").value == 16 and head("hex", "M22", "across_flats").value == 34
    assert head("hex", "1/2", "across_flats").value == pytest.approx(19.05)
    assert head("socket_cap", "3/8", "key").value == pytest.approx(5 / 16 * 25.4)
    for size in table("screws")["washer_mm"]:
        assert float(size[1:]) < head("washer", size, "hole_d").value < head("washer", size, "outside_d").value


def test_tolerance_grades_follow_their_formula() -> None:
    tops = [0.0, *table("fits")["ranges_up_to_mm"]]
    for low, high in pairwise(tops):
        middle = math.sqrt(max(low, 1.0) * high)
        unit = 0.45 * middle ** (1 / 3) + 0.001 * middle
        for grade, factor in (("IT6", 10), ("IT7", 16), ("IT8", 25), ("IT9", 40), ("IT10", 64), ("IT11", 100)):
            assert it_um(high, grade).value == pytest.approx(factor * unit, rel=0.20 if high <= 3 else 0.12), (high, grade)


@pytest.mark.parametrize(
    ("nominal", "zone", "upper", "lower"),
    [
        (25, "H7", 21, 0),
        (25, "g6", -7, -20),
        (25, "N7", -7, -28),
        (25, "k6", 15, 2),
        (25, "m6", 21, 8),
        (25, "n6", 28, 15),
        (25, "p6", 35, 22),
        (25, "f7", -20, -41),
        (40, "e8", -50, -89),
        (25, "M7", 0, -21),
        (25, "K7", 6, -15),
        (25, "JS7", 10.5, -10.5),
        (25, "js6", 6.5, -6.5),
        (10, "H8", 22, 0),
        (30, "h6", 0, -13),
        (30.001, "h6", 0, -16),
        (3, "H7", 10, 0),
        (3, "N7", -4, -14),
        (100, "F8", 90, 36),
        (25, "P7", -14, -35),
        (6, "g6", -4, -12),
    ],
)
def test_fit_zone(nominal: float, zone: str, upper: float, lower: float) -> None:
    assert fit_um(nominal, zone) == (pytest.approx(upper), pytest.approx(lower))


@pytest.mark.parametrize(("nominal", "zone"), [(0, "H7"), (501, "H7"), (25, "z6"), (25, "H"), (25, "7")])
def test_fit_outside_the_table(nominal: float, zone: str) -> None:
    with pytest.raises(ShopError):
        fit_um(nominal, zone)


def test_gauge_block_limits_against_their_rule() -> None:
    for length in (25, 50, 75, 100, 150, 200, 250, 300, 400, 500):
        for grade, base, per in (("1", 0.2, 250), ("0", 0.1, 500), ("2", 0.4, 125)):
            assert block_limit_um(length, grade, "te").value == pytest.approx(base + length / per, rel=0.17), (length, grade)
    assert block_limit_um(10, "K", "te").value == 0.20 and block_limit_um(10.1, "K", "te").value == 0.30
    with pytest.raises(ShopError):
        block_limit_um(0.4, "0", "te")


def test_book_nuts_go_into_book_slots() -> None:
    for name in table("t_slots")["nut_mm"]:
        assert t_nut(name, "head_width").value < t_slot(name, "head_width_min").value
        assert t_nut(name, "head_height").value < t_slot(name, "head_space_min").value
        assert t_nut(name, "total_height").value < t_slot(name, "depth_min").value
        assert t_nut(name, "thread").value < float(name)
        assert t_slot(name, "depth_min").kind == "reference"
    widths = [float(n) for n in book_slot_names()]
    assert widths == sorted(widths)


def test_strengths_and_materials() -> None:
    assert proof_mpa("8.8", 16).value == 580 and proof_mpa("8.8", 16.1).value == 600
    assert proof_mpa("grade 5", 12.7).value == pytest.approx(85000 * 6.894757e-3, rel=1e-6)
    with pytest.raises(ShopError):
        proof_mpa("8.9", 10)
    assert material("Brass").name == material("free-cutting brass").name == "brass"
    for m in materials().values():
        assert 1000 < m.density_kg_m3 < 9500 and m.hss_m_min < m.carbide_m_min and 0 < m.mc < 0.5
    assert nut_factor("oiled") < nut_factor("dry")
    with pytest.raises(ShopError):
        material("mithril")


@pytest.mark.parametrize(
    ("asked", "value", "unit"),
    [
        ({"table": "drill", "drill": "#7"}, 5.1054, "mm"),
        ({"table": "tap_drill", "thread": "1/4-20"}, 5.1054, "mm"),
        ({"table": "tap_drill", "size": "M6", "pitch": 1}, 5.0, "mm"),
        ({"table": "clearance_hole", "size": "M8", "series": "fine"}, 8.4, "mm"),
        ({"table": "socket_cap", "size": "M8", "dim": "key"}, 6, "mm"),
        ({"table": "hex", "size": "M12", "dim": "across_flats"}, 18, "mm"),
        ({"table": "it", "size_mm": 25, "grade": "IT7"}, 21, "µm"),
        ({"table": "thread", "size": "M10", "pitch": 1.5, "dim": "pitch_d"}, 9.0257, "mm"),
        ({"table": "block_limit", "length_mm": 100, "grade": "1", "dim": "tv"}, 0.20, "µm"),
        ({"table": "t_slot", "slot": 12, "dim": "head_width_min"}, 19, "mm"),
        ({"table": "t_nut", "slot": "12", "dim": "thread"}, 10, "mm"),
        ({"table": "proof", "class": "8.8", "size": "M20"}, 600, "MPa"),
        ({"table": "expansion", "material": "steel"}, 11.5, "µm/(m·K)"),
        ({"table": "density", "material": "aluminium"}, 2700, "kg/m³"),
    ],
)
def test_look_up_by_name(asked: dict[str, object], value: float, unit: str) -> None:
    found = standard(asked)
    assert found["value"] == pytest.approx(value, abs=1e-4) and found["unit"] == unit
    assert found["source"] and found["kind"] in ("exact", "standard", "reference")


def test_fit_look_up_gives_both_deviations() -> None:
    assert standard({"table": "fit", "nominal_mm": 25, "zone": "H7"})["value"] == [21.0, 0.0]


@pytest.mark.parametrize(
    "asked",
    [
        {"table": "drill", "drill": "#81"},
        {"table": "hex", "size": "M11", "dim": "head_h"},
        {"table": "nothing"},
        {"table": "it", "size_mm": "wide", "grade": "IT7"},
        {"table": "hex", "size": "M10"},
        {},
    ],
)
def test_look_up_refuses(asked: dict[str, object]) -> None:
    with pytest.raises(ShopError):
        standard(asked)
