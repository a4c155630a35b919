"""Figures of the tables as a handbook has them, typed here from the standards and not from the data files."""

from __future__ import annotations

import pytest

from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.standards.fits import block_limit_um, fit_um, it_um
from elbrix.standards.heat import CASE_MM_PER_ROOT_HOUR, TREATMENTS, case_hours, treatment
from elbrix.standards.materials import density, expansion, friction, material, material_in, materials, nut_factor, proof_mpa
from elbrix.standards.near_miss import size_near_misses, thread_near_misses
from elbrix.standards.screws import clearance_hole, dowel, head, insert_drill, shoulder_screw
from elbrix.standards.slots import book_slot_names, t_nut, t_slot
from elbrix.standards.tables import not_in_table
from elbrix.standards.threads import all_threads, find_thread, first_choice, known_thread, look_up, tap_drill, which_thread

# --- threads ---------------------------------------------------------------------------------------------------------

#: name, pitch Ø, minor Ø of the nut (ISO 724), stress area (ISO 898-1), tap drill.
METRIC = [
    ("M3", 2.675, 2.459, 5.03, 2.5),
    ("M4", 3.545, 3.242, 8.78, 3.3),
    ("M5", 4.480, 4.134, 14.2, 4.2),
    ("M6", 5.350, 4.917, 20.1, 5.0),
    ("M8", 7.188, 6.647, 36.6, 6.8),
    ("M10", 9.026, 8.376, 58.0, 8.5),
    ("M12", 10.863, 10.106, 84.3, 10.2),
    ("M16", 14.701, 13.835, 157.0, 14.0),
    ("M20", 18.376, 17.294, 245.0, 17.5),
]
#: name, major in inches, threads to the inch, stress area in square inches (ASME B1.1).
INCH = [
    ("#6-32", 0.138, 32, 0.00909),
    ("#10-24", 0.190, 24, 0.0175),
    ("#10-32", 0.190, 32, 0.0200),
    ("1/4-20", 0.250, 20, 0.0318),
    ("5/16-18", 0.3125, 18, 0.0524),
    ("3/8-16", 0.375, 16, 0.0775),
    ("1/2-13", 0.500, 13, 0.1419),
    ("1/2-20", 0.500, 20, 0.1599),
    ("5/8-11", 0.625, 11, 0.226),
]


@pytest.mark.parametrize(("name", "pitch_d", "minor", "area", "drill"), METRIC)
def test_metric_threads_are_those_of_the_handbook(name: str, pitch_d: float, minor: float, area: float, drill: float) -> None:
    t = find_thread(parse_thread(name))
    assert t.pitch_d_mm == pytest.approx(pitch_d, abs=6e-4)
    assert t.minor_d_mm == pytest.approx(minor, abs=6e-4)
    assert t.stress_area_mm2 == pytest.approx(area, rel=4e-3)
    assert tap_drill(parse_thread(name)).value == drill
    assert look_up(parse_thread(name), "stress_area").value == t.stress_area_mm2
    assert look_up(parse_thread(name), "pitch_d").unit == "mm"
    assert t.series == "coarse"
    assert t.metric


@pytest.mark.parametrize(("name", "major", "tpi", "area"), INCH)
def test_inch_threads_are_those_of_the_handbook(name: str, major: float, tpi: int, area: float) -> None:
    t = find_thread(parse_thread(name))
    assert t.major_mm == pytest.approx(25.4 * major, abs=1e-5)
    assert t.pitch_mm == pytest.approx(25.4 / tpi)
    assert t.stress_area_mm2 == pytest.approx(area * 645.16, rel=4e-3)
    assert not t.metric
    assert t.shown.startswith(name)


def test_sizes_over_an_inch_and_what_is_no_thread() -> None:
    over = [t for t in all_threads() if not t.metric and t.name.startswith("1 1/4")]
    assert all(t.major_mm == pytest.approx(31.75) for t in over)
    with pytest.raises(ShopError, match="not in the table") as caught:
        find_thread(parse_thread("M10x2"))
    assert "M10x1.5" in caught.value.do  # what there is of that size
    assert "M12" not in caught.value.do
    with pytest.raises(ShopError) as caught:
        find_thread(parse_thread("1/4-24"))
    assert "1/4-20" in caught.value.do
    assert "M" not in caught.value.do.split(":")[1]
    with pytest.raises(ShopError) as caught:
        find_thread(parse_thread("M9.7"))
    assert "M10x1.5" in caught.value.do
    assert "UNF" not in caught.value.do
    assert "x1.25" not in caught.value.do.replace("M8x1.25", "")  # coarse ones only, when the size itself is unknown
    assert known_thread("M10") is known_thread("M10x1.5")
    assert known_thread("M9.7") is None
    with pytest.raises(ShopError):
        look_up(parse_thread("M10"), "weight")


def test_first_choice_and_order() -> None:
    names = [t.name.split("x")[0] for t in first_choice()]
    assert {"M5", "M6", "M8", "M10", "M12"} <= set(names)
    assert "M14" not in names  # second choice
    assert [t.major_mm for t in first_choice()] == sorted(t.major_mm for t in first_choice())
    assert all(t.series == "coarse" for t in first_choice())


def test_a_measured_thread_is_the_one_it_is() -> None:
    assert which_thread(9.85, 1.5)[0].thread.name == "M10x1.5"
    assert which_thread(9.4, 25.4 / 16)[0].thread.name == "3/8-16"
    assert which_thread(6.25, 25.4 / 20)[0].thread.name == "1/4-20"
    exact = which_thread(10.0, 1.5)[0]
    assert exact.score == pytest.approx(0)
    assert exact.likely
    # 0.8 % over the nominal counts as much as 3 % under it, and as 3 % in pitch.
    over, under, pitch = (which_thread(d, p)[0] for d, p in ((10.08, 1.5), (9.7, 1.5), (10.0, 1.545)))
    assert [m.score for m in (over, under, pitch)] == pytest.approx([1.0, 1.0, 1.0])
    assert not which_thread(10.2, 1.5)[0].likely
    for major, lead in ((0.4, 0.2), (300, 2), (10, 0.01), (10, 30), (200, 2), (0.5, 0.2)):
        with pytest.raises(ShopError):
            which_thread(major, lead)
    scores = [m.score for m in which_thread(12.1, 1.7, 8)]
    assert scores == sorted(scores)
    assert len(scores) == 8


def test_what_looks_alike() -> None:
    """1/2-13 beside M12 × 1.75: 5.5 % and 10 %; 3/8-16 beside M10: 5 and 6 %."""
    m10 = thread_near_misses(find_thread(parse_thread("M10")))
    alike = next(m for m in m10 if m.partner.startswith("3/8-16"))
    assert alike.off_diameter == pytest.approx(1 - 9.525 / 10)
    assert alike.off_pitch == pytest.approx(25.4 / 16 / 1.5 - 1)
    assert not any(m.partner.startswith(("M12", "1/4", "M10 × 1.5")) for m in m10)
    shank = size_near_misses("20 mm shank", 20.0, [("3/4 inch collet", 19.05), ("20 mm collet", 20.0), ("25 mm collet", 25.0)])
    assert [m.partner for m in shank] == ["3/4 inch collet"]
    assert "never goes in" in shank[0].sentence
    assert "not held" in size_near_misses("19.05 mm shank", 19.05, [("20 mm collet", 20.0)])[0].sentence


# --- strength and materials ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("grade", "at_mm", "mpa"),
    [
        ("4.6", 10, 225),
        ("8.8", 16, 580),
        ("8.8", 20, 600),
        ("10.9", 12, 830),
        ("12.9", 12, 970),
        ("grade 2", 12.7, 379),  # 55 ksi
        ("grade 5", 12.7, 586),  # 85 ksi
        ("grade 8", 12.7, 827),  # 120 ksi
        ("8", 9.525, 827),
    ],
)
def test_proof_stress(grade: str, at_mm: float, mpa: float) -> None:
    assert proof_mpa(grade, at_mm).value == pytest.approx(mpa, rel=2e-3)


def test_proof_stress_outside_its_table() -> None:
    for grade, at in (("8.8", 200), ("grade 5", 100), ("7.7", 10), ("grade 9", 10)):
        with pytest.raises(ShopError):
            proof_mpa(grade, at)


def test_materials_by_any_of_their_names() -> None:
    assert material("Mild_Steel").name == "mild steel"
    for name, own in materials().items():
        assert material(name.upper()) is own
        assert 900 < own.density_kg_m3 < 20_000
        assert 1.0 <= own.thread_depth <= 2.0
        assert own.hss_m_min < own.carbide_m_min
    assert density("mild steel").value == pytest.approx(7850, rel=0.01)
    assert density("aluminium alloy").value == pytest.approx(2700, rel=0.05)
    assert expansion("mild steel").value == pytest.approx(11.5, abs=0.8)
    assert expansion("aluminium alloy").value == pytest.approx(23, abs=1.5)
    assert expansion("brass").value == pytest.approx(19, abs=1.5)
    found = material_in(["a", "plate", "of", "grey", "cast", "iron", "brass", "please"])
    assert found == (material("grey cast iron"), {"grey", "cast", "iron"})
    assert material_in(["nothing"]) is None
    with pytest.raises(ShopError):
        material("kryptonite")


def test_friction_and_torque_factors() -> None:
    assert nut_factor("dry") == pytest.approx(0.2, abs=0.02)
    assert nut_factor("oiled") < nut_factor("dry")
    assert 0.1 <= friction("steel on cast iron, dry") <= 0.2
    for call in (lambda: nut_factor("wet"), lambda: friction("ice on ice")):
        with pytest.raises(ShopError):
            call()


# --- heat ------------------------------------------------------------------------------------------------------------


def test_heat_by_hand() -> None:
    """Harris: 0.025 in after an hour at 925 °C, twice that after four."""
    assert pytest.approx(0.025 * 25.4) == CASE_MM_PER_ROOT_HOUR
    assert case_hours(CASE_MM_PER_ROOT_HOUR) == pytest.approx(1)
    assert case_hours(1.27) == pytest.approx(4)
    assert case_hours(0.5) == pytest.approx(0.62, abs=0.005)


def test_soaking_goes_by_the_thickest_section_up_to_five_minutes() -> None:
    steel = treatment("harden", "tool steel, annealed")
    assert steel.low_c < steel.high_c
    for section in (3.0, 25.0, 60.0):
        minutes = steel.soak_min(section)
        assert minutes >= steel.least_min
        assert minutes >= steel.min_per_mm * section - 1e-9
        assert minutes == steel.least_min or minutes % 5 == 0
        assert minutes == steel.least_min or minutes < steel.min_per_mm * section + 5
    exact = 20 / steel.min_per_mm
    assert steel.soak_min(exact) == max(steel.least_min, 20)  # on a five it stays there
    with pytest.raises(ShopError):
        treatment("harden", "aluminium alloy")
    assert {kind for kind, _ in TREATMENTS} >= {"", "harden", "case", "anneal"}


# --- fits and blocks -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("size", "grade", "um"),
    [(10, "IT7", 15), (10.001, "IT7", 18), (25, "IT6", 13), (50, "IT8", 39), (100, "IT7", 35), (3, "IT7", 10)],
)
def test_tolerance_grades(size: float, grade: str, um: float) -> None:
    assert it_um(size, grade).value == um


@pytest.mark.parametrize(
    ("nominal", "zone", "upper", "lower"),
    [
        (20, "H7", 21, 0),
        (20, "g6", -7, -20),
        (20, "h6", 0, -13),
        (20, "f7", -20, -41),
        (20, "k6", 15, 2),
        (20, "m6", 21, 8),
        (20, "n6", 28, 15),
        (20, "p6", 35, 22),
        (20, "js6", 6.5, -6.5),
        (20, "N7", -7, -28),
        (20, "P7", -14, -35),
        (20, "K7", 6, -15),
        (20, "G7", 28, 7),
        (300, "M6", -9, -41),
    ],
)
def test_fits_of_the_handbook(nominal: float, zone: str, upper: float, lower: float) -> None:
    assert fit_um(nominal, zone) == (upper, lower)


@pytest.mark.parametrize(
    ("long", "grade", "te"), [(10, "0", 0.12), (10, "1", 0.20), (25, "2", 0.60), (100, "0", 0.30), (100, "1", 0.60)]
)
def test_gauge_block_limits(long: float, grade: str, te: float) -> None:
    assert block_limit_um(long, grade, "te").value == te
    assert block_limit_um(long, grade, "tv").value < te


def test_nothing_is_guessed_outside_a_table() -> None:
    for call in (
        lambda: it_um(600, "IT7"),
        lambda: it_um(0, "IT7"),
        lambda: it_um(10, "IT30"),
        lambda: fit_um(20, "q6"),
        lambda: fit_um(20, "H"),
        lambda: block_limit_um(0.4, "0", "te"),
        lambda: block_limit_um(1200, "0", "te"),
        lambda: block_limit_um(10, "9", "te"),
        lambda: block_limit_um(10, "0", "length"),
    ):
        with pytest.raises(ShopError):
            call()


# --- screws and slots ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("size", "fine", "medium", "coarse"),
    [("M6", 6.4, 6.6, 7.0), ("M8", 8.4, 9.0, 10.0), ("M10", 10.5, 11.0, 12.0), ("M12", 13.0, 13.5, 14.5)],
)
def test_clearance_holes(size: str, fine: float, medium: float, coarse: float) -> None:
    assert [clearance_hole(size, s).value for s in ("fine", "medium", "coarse")] == [fine, medium, coarse]
    assert clearance_hole(size, "close").value == fine
    assert clearance_hole(size, "loose").value == coarse
    with pytest.raises(ShopError):
        clearance_hole(size, "sloppy")


@pytest.mark.parametrize(
    ("kind", "size", "dim", "mm"),
    [
        ("socket_cap", "M10", "head_d", 16),
        ("socket_cap", "M10", "head_h", 10),
        ("socket_cap", "M10", "key", 8),
        ("socket_cap", "M6", "head_d", 10),
        ("hex", "M10", "across_flats", 16),
        ("hex", "M8", "across_flats", 13),
        ("nut", "M10", "height", 8.4),
        ("washer", "M10", "outside_d", 20),
        ("washer", "M8", "thickness", 1.6),
        ("set_screw", "M6", "key", 3),
        ("socket_cap", "1/4", "head_d", 9.525),
        ("socket_cap", "1/4", "key", 4.7625),
    ],
)
def test_heads(kind: str, size: str, dim: str, mm: float) -> None:
    assert head(kind, size, dim).value == pytest.approx(mm, abs=1e-3)


def test_inserts_dowels_and_shoulder_screws() -> None:
    for name in ("M6x1", "M8x1.25", "1/4-20"):
        major = find_thread(parse_thread(name)).major_mm
        assert major < insert_drill(name).value < 1.12 * major  # over the screw: the wire stands between
    for nothing in ("source", "M7x9", ""):
        with pytest.raises(ShopError):
            insert_drill(nothing)
    assert shoulder_screw("8", "thread_d").value == 6
    assert shoulder_screw("10", "thread_d").value == 8
    assert dowel("6", "shortest").value < dowel("6", "longest").value
    for call in (
        lambda: shoulder_screw("8", "colour"),
        lambda: dowel("6", "colour"),
        lambda: head("hex", "M10", "colour"),
        lambda: head("hex", "M10.5", "key"),
        lambda: head("bolt", "M10", "key"),
    ):
        with pytest.raises(ShopError):
            call()


def test_book_slots() -> None:
    assert {"10", "12", "14", "18"} <= set(book_slot_names())
    assert t_nut("12", "thread").value == 10
    assert t_nut("14", "thread").value == 12
    assert t_nut("12.0", "thread").name == "M10"
    for slot in ("12", "14", "18"):
        assert t_slot(slot, "head_width_min").value < t_slot(slot, "head_width_max").value
        assert t_nut(slot, "head_width").value <= t_slot(slot, "head_width_min").value
    for call in (lambda: t_slot("13.3", "head_width_min"), lambda: t_slot("12", "colour"), lambda: t_nut("abc", "thread")):
        with pytest.raises(ShopError):
            call()


def test_what_is_not_in_a_table_says_what_is() -> None:
    few, many = not_in_table("W", "x", ["a", "b"]), not_in_table("W", "x", [str(n) for n in range(40)])
    assert few.do == "The table has: a, b"
    assert many.do.endswith("23 …")
    assert "24" not in many.do.split(", ")
    assert not not_in_table("W", "x", [str(n) for n in range(24)]).do.endswith("…")
