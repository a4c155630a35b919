"""The rules of mechanics, each worked another way: from places of corners, by taking small steps, by trying everything."""

from __future__ import annotations

import itertools
import math
import random
from fractions import Fraction

import pytest

from elbrix.mechanics.balance import SHAKES_N, speed_to_balance, throw_n
from elbrix.mechanics.change_wheels import change_wheels
from elbrix.mechanics.dividing import divide, turn_worm
from elbrix.mechanics.drilling import MIN_SHARE, POINT, point_mm, spot_mm, thread_depth_wanted
from elbrix.mechanics.lifting import CRANE_KG, ONE_PERSON_KG, lifting_words, too_heavy
from elbrix.mechanics.pins import relieved_accept_mm, turn_rad, two_full_accept_mm, widest_land_mm
from elbrix.mechanics.ring_slot import longest_straight_mm
from elbrix.mechanics.strength import (
    COUNTED,
    LIP_BEARING,
    LIP_BENDING,
    LIP_SHEAR,
    MU,
    STUD_SHARE,
    FlangeLoad,
    bearing_mpa,
    nut_thread_shear_mm2,
    preload_n,
    rod_bends_mm,
    slit_grip_n,
    stud_load_n,
    stud_torque_nm,
    torque_nm,
    youngs_mpa,
)
from elbrix.mechanics.triangles import Triangle, solve_triangle
from elbrix.quantities.errors import ShopError
from elbrix.standards.threads import find_thread, parse_thread


def within(value: float, limit: float) -> bool:
    return value <= limit + 1e-9


# --- turning beside the middle ---------------------------------------------------------------------------------------


def test_a_throw_is_mass_times_the_acceleration_of_its_place() -> None:
    """x = e·cos ωt; twice differenced over a small step. By hand: 2 kg, 5 mm out, 300 rpm: 2 × 0.005 × 31.416² = 9.87 N."""
    assert throw_n(2, 5, 300) == pytest.approx(9.8696, abs=1e-3)
    for mass, off, rpm in ((0.4, 12, 900), (3, 1.5, 640), (11, 40, 90)):
        w, dt, e = 2 * math.pi * rpm / 60, 1e-5, off / 1000
        accelerated = (e * math.cos(w * dt) - 2 * e + e * math.cos(-w * dt)) / dt**2
        assert throw_n(mass, off, rpm) == pytest.approx(mass * abs(accelerated), rel=1e-3)
        assert throw_n(mass, off, speed_to_balance(mass, off)) == pytest.approx(SHAKES_N)
    assert speed_to_balance(2, 5) > speed_to_balance(4, 5) > speed_to_balance(4, 10)


# --- dividing --------------------------------------------------------------------------------------------------------


def test_dividing_by_hand() -> None:
    """Forty turns of the worm: seven divisions are 5 5/7 turns, 15 holes of 21; twelve 3 1/3, 5 of 15."""
    seven = divide(7, 40, (15, 16, 21, 28))
    assert (seven.circle, seven.places[1], seven.exact) == (21, (5, 15), True)
    assert seven.words == "5 turns + 15 holes on the 21 circle"
    assert divide(12, 40, (15, 16, 21)).places[1] == (3, 5)
    assert divide(40, 40, (15,)).words == "1 turn"
    assert divide(9, 90, (), 120).words == "10 turns"
    assert divide(7, 90, (), 120).words == "12 turns + 103 marks of 120"


def test_dividing_is_the_nearest_of_every_circle() -> None:
    chance = random.Random(3)
    for _ in range(120):
        count, worm = chance.randint(2, 130), chance.choice((40, 60, 90, 72))
        circles = chance.sample((15, 16, 17, 18, 19, 20, 21, 23, 27, 29, 31, 33, 37, 39, 41, 43, 47, 49), 4)
        found = divide(count, worm, circles)
        errors = {}
        for circle in circles:
            hole = Fraction(360, worm * circle)  # degrees of the table for one hole
            wanted = [Fraction(360 * k, count) for k in range(count)]
            errors[circle] = max(min(abs(w - hole * n) for n in (w // hole, w // hole + 1)) for w in wanted)
        least = min(errors.values())
        assert found.error_deg == pytest.approx(float(least), abs=1e-12)
        assert errors[found.circle] == least
        assert found.circle == min(c for c in circles if errors[c] == least)
        for k, (turns, holes) in enumerate(found.places):
            at = (turns + holes / found.circle) * 360 / worm
            assert abs(at - 360 * k / count) <= found.error_deg + 1e-9
            assert 0 <= holes < found.circle


def test_an_angle_by_the_nearest_of_every_hole() -> None:
    chance = random.Random(5)
    for _ in range(150):
        angle, worm = Fraction(chance.randint(0, 36000), 100), chance.choice((40, 60, 90, 72))
        circles, marks = chance.sample((15, 16, 17, 19, 21, 23, 29, 33, 49), 3), chance.choice((0, 120, 240))
        found = turn_worm(angle, worm, circles, marks)
        set_deg = (found.turns + Fraction(found.rest, found.circle)) * 360 / worm
        assert float(set_deg - angle) == pytest.approx(found.error_deg, abs=1e-12)
        hundredths = int(angle * 100)  # every hole of every turn, in whole numbers: hundredths of a degree times worm and holes
        every = [
            Fraction(min(abs(36_000 * n - hundredths * worm * c) for n in range(worm * c + 1)), 100 * worm * c)
            for c in (*circles, *([marks] if marks else []))
        ]
        assert abs(set_deg - angle) == min(every)
        assert found.on_dial == (found.circle == marks)


@pytest.mark.parametrize(
    ("count", "worm", "circles", "marks"), [(1, 40, (15,), 0), (10_001, 40, (15,), 0), (6, 0, (15,), 0), (6, 40, (), 0)]
)
def test_dividing_that_cannot_be(count: int, worm: int, circles: tuple[int, ...], marks: int) -> None:
    with pytest.raises(ShopError):
        divide(count, worm, circles, marks)


def test_of_trains_that_cut_alike_the_one_with_the_larger_small_wheel() -> None:
    """A half: 20 to 40 and 30 to 60 both do; small wheels wear and climb."""
    found = change_wheels(1.0, 2.0, (20, 30, 40, 60))
    assert (found.drivers, found.driven) == ((30,), (60,))
    assert found.exact


# --- drilling and lifting --------------------------------------------------------------------------------------------


def test_the_point_of_a_drill_is_a_cone_of_118_degrees() -> None:
    assert pytest.approx(0.30043, abs=1e-5) == POINT
    for d in (2.5, 6.8, 20.0):
        assert 2 * math.degrees(math.atan(d / 2 / point_mm(d))) == pytest.approx(118)


def test_a_spot_is_gone_when_the_drill_has_been() -> None:
    """A 90° cone so deep as it is wide by half: narrower than the drill, and nowhere below the drill's own cone."""
    for drill, spotter, bottom in itertools.product((2.0, 5.0, 8.5, 14.0), (6.0, 10.0), (0.3, 2.0, 9.0, 40.0)):
        deep = spot_mm(drill, spotter, bottom)
        assert deep > 0
        assert within(2 * deep, drill)
        assert within(2 * deep, spotter)
        assert within(deep, max(0.1, bottom - 0.05))


def test_a_spot_by_hand() -> None:
    """Four tenths of the drill, at most 0.45 of the spot drill, and a hair above the bottom."""
    assert spot_mm(8.5, 10, 40) == pytest.approx(3.4)
    assert spot_mm(8.5, 6, 40) == pytest.approx(2.7)
    assert spot_mm(8.5, 10, 2) == pytest.approx(1.95)
    assert spot_mm(8.5, 10, 0.12) == pytest.approx(0.1)


def test_thread_wanted_and_what_is_lifted() -> None:
    assert thread_depth_wanted("mild steel") == 1.0
    assert thread_depth_wanted("aluminium alloy") == 1.5
    assert thread_depth_wanted("something unheard of") == 1.5  # too deep harms nobody
    assert not too_heavy(ONE_PERSON_KG)
    assert too_heavy(ONE_PERSON_KG + 0.01)
    assert lifting_words(ONE_PERSON_KG) == ""
    assert ONE_PERSON_KG == 15  # shop practice
    assert MIN_SHARE == 0.6  # of the thread wanted: less strips
    assert lifting_words(40).startswith("Two people")
    assert CRANE_KG > 5 * ONE_PERSON_KG


# --- two pins --------------------------------------------------------------------------------------------------------


def test_two_round_pins_go_in_while_each_finds_room() -> None:
    """Pins at 0 and L + e in holes at 0 and L: the piece is shifted in small steps till both are inside, or never."""
    for c1, c2 in ((0.02, 0.05), (0.01, 0.01), (0.3, 0.0)):
        accepted = two_full_accept_mm(c1, c2)
        for e in (0.98 * accepted, 1.02 * accepted + 1e-6):
            goes = any(
                within(abs(shift), c1 / 2) and within(abs(shift - e), c2 / 2)
                for shift in (k * accepted / 5000 for k in range(-6000, 6001))
            )
            assert goes == (e <= accepted)


def _land_goes_in(hole: float, pin: float, land: float, off: float) -> bool:
    """Every point of the land's arcs, the pin off by so much across them, stays in the hole."""
    tall = math.sqrt(max(0.0, pin**2 - land**2)) / 2  # where the flats cut the pin's round
    for k in range(201):
        x = -land / 2 + land * k / 200
        y = math.sqrt(max(0.0, (pin / 2) ** 2 - x * x))
        if math.hypot(x + off, y) > hole / 2 + 1e-9:
            return False
    return math.hypot(land / 2 + off, tall) <= hole / 2 + 1e-9


def test_the_widest_land_is_the_widest_that_goes_in() -> None:
    chance = random.Random(5)
    for _ in range(60):
        pin = chance.uniform(4, 16)
        hole, left = pin + chance.uniform(0.005, 0.08), chance.uniform(0.003, 0.06)
        widest = widest_land_mm(hole, pin, left)
        if 0.01 < widest < pin:
            assert _land_goes_in(hole, pin, 0.999 * widest, left)
            assert not _land_goes_in(hole, pin, min(pin, 1.003 * widest), left)
            round_play = chance.uniform(0.0, 0.04)
            assert relieved_accept_mm(hole, pin, widest, round_play) == pytest.approx(left + round_play / 2)
    assert widest_land_mm(10.02, 10.0, 0.0) == 10.0  # nothing is left: the whole pin
    assert widest_land_mm(10.0, 10.0, 0.05) < 0  # none goes in


def test_what_two_pins_let_turn() -> None:
    """One end up by half its play, the other down: an angle from two places."""
    for c1, c2, apart in ((0.02, 0.04, 60.0), (0.1, 0.0, 25.0)):
        assert turn_rad(c1, c2, apart) == pytest.approx(math.atan2(c1 / 2 + c2 / 2, apart), rel=1e-5)


# --- a ring slot -----------------------------------------------------------------------------------------------------


def _block_goes_in(long: float, wide: float, inner: float, outer: float) -> bool:
    """A block laid square to a radius, pushed out in small steps: its inner side clears the inner wall, its corners the outer."""
    return any(
        within(inner, near) and within(math.hypot(long / 2, near + wide), outer)
        for near in (inner + k * (outer - inner) / 4000 for k in range(4001))
    )


@pytest.mark.parametrize(("radius", "gap", "nut"), [(80, 12, 11.5), (40, 10, 8), (150, 18, 17.9), (25, 8, 6.3)])
def test_the_longest_straight_nut_of_a_ring_slot(radius: float, gap: float, nut: float) -> None:
    longest = longest_straight_mm(radius, gap, nut)
    assert _block_goes_in(0.9995 * longest, nut, radius - gap / 2, radius + gap / 2)
    assert not _block_goes_in(1.001 * longest, nut, radius - gap / 2, radius + gap / 2)
    assert longest_straight_mm(radius, gap, gap + 0.1) == 0
    with pytest.raises(ShopError):
        longest_straight_mm(gap / 2 - 0.1, gap, nut)


# --- strength --------------------------------------------------------------------------------------------------------


def test_torque_and_preload_turn_into_each_other() -> None:
    """By hand: 40 N·m on M10 with K 0.2 is 40 000/(0.2 × 10) = 20 000 N."""
    assert preload_n(40, 0.2, 10) == pytest.approx(20_000)
    for d, k, t in ((6, 0.18, 9.0), (12, 0.2, 70.0)):
        assert torque_nm(preload_n(t, k, d), k, d) == pytest.approx(t)


def test_a_clamping_stud_is_pulled_with_three_eighths_of_its_proof_load() -> None:
    """M10: 58.0 mm² (ISO 898-1); class 8.8 up to M16 proves at 580 MPa: 33 640 N, three eighths 12 615."""
    m10 = find_thread(parse_thread("M10"))
    assert stud_load_n(m10, "8.8") == pytest.approx(STUD_SHARE * 580 * 57.99, rel=2e-3)
    assert stud_load_n(m10, "8.8") == pytest.approx(12_615, rel=2e-3)
    assert stud_torque_nm(m10, "8.8", 0.2) == pytest.approx(12_615 * 0.2 * 10 / 1000, rel=2e-3)


def test_the_shear_of_a_nut_thread_is_what_its_ridges_measure_at_the_stud() -> None:
    """The 60° profile drawn tooth by tooth: how much of a line along the stud's outside lies in the nut's metal."""
    for name, engaged in (("M8", 8.0), ("M12", 20.0), ("M16x1.5", 11.0)):
        t = find_thread(parse_thread(name))
        h = t.pitch_mm * math.sqrt(3) / 2
        # The nut's tooth points inwards: at the pitch diameter half a pitch wide, its flanks at 30°.
        crest = t.pitch_d_mm / 2 - h / 2  # where the flanks would meet
        inside, steps = 0, 40_000
        for k in range(steps):
            x = (k + 0.5) / steps * t.pitch_mm - t.pitch_mm / 2  # from the middle of a tooth
            inside += crest + abs(x) / math.tan(math.radians(30)) <= t.major_mm / 2
        along = inside / steps * engaged
        assert nut_thread_shear_mm2(t, engaged) == pytest.approx(math.pi * t.major_mm * along, rel=1e-3)
    assert nut_thread_shear_mm2(find_thread(parse_thread("M8")), -1) == 0


def test_a_lip_is_a_short_beam_with_half_the_pull() -> None:
    """10 kN on lips 9 thick and 30 long, 2.5 out: shear 10 000/(2·9·30), bending moment 5 000 × 2.5 over 30 × 9²/6."""
    lip = FlangeLoad(arm_mm=2.5, effective_length_mm=30, thickness_mm=9)
    assert lip.shear_mpa(10_000) == pytest.approx(18.5185, abs=1e-3)
    assert lip.bending_mpa(10_000) == pytest.approx(5_000 * 2.5 / (30 * 81 / 6))
    assert FlangeLoad(arm_mm=-1, effective_length_mm=30, thickness_mm=9).bending_mpa(10_000) == 0
    assert bearing_mpa(10_000, 2, 25) == pytest.approx(100)
    assert bearing_mpa(10_000, 0, 25) == math.inf
    # Allowables of a grey-iron table, MPa: close above, no above.
    assert (LIP_BEARING, LIP_SHEAR, LIP_BENDING) == ((250, 400), (40, 60), (40, 60))


def test_a_rod_bends_as_its_curvature_adds_up() -> None:
    """M/(E·I) summed twice along the rod in two thousand steps."""
    for push, out, size in ((50, 80, 10), (200, 35, 8)):
        inertia, n = math.pi * size**4 / 64, 2000
        slope = down = 0.0
        for k in range(n):
            dx = out / n
            slope += push * (out - (k + 0.5) * dx) / (205_000 * inertia) * dx
            down += slope * dx
        assert rod_bends_mm(push, out, size) == pytest.approx(down, rel=2e-3)
    assert rod_bends_mm(50, 80, 10, 100_000) == pytest.approx(2.05 * rod_bends_mm(50, 80, 10))


def test_what_a_slit_holds_counts_on_the_least_pull() -> None:
    assert slit_grip_n(1000) == pytest.approx(2 * 0.12 * 1000 * COUNTED)
    assert MU == 0.12
    assert 0.5 < COUNTED < 1
    assert youngs_mpa("aluminium alloy") == pytest.approx(70_000, rel=0.05)
    assert youngs_mpa("mild steel") == pytest.approx(205_000, rel=0.05)


# --- triangles -------------------------------------------------------------------------------------------------------


def _by_corners(chance: random.Random) -> Triangle:
    """A triangle from three places: sides by distance, angles between the sides there."""
    p, q, r = ((chance.uniform(0, 100), chance.uniform(0, 100)) for _ in range(3))

    def at(v: tuple[float, float], one: tuple[float, float], two: tuple[float, float]) -> float:
        a, b = (one[0] - v[0], one[1] - v[1]), (two[0] - v[0], two[1] - v[1])
        return abs(math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1]))

    return Triangle(math.dist(q, r), math.dist(p, r), math.dist(p, q), at(p, q, r), at(q, p, r), at(r, p, q))


def test_any_three_of_a_triangle_bring_back_the_rest() -> None:
    chance = random.Random(12)
    for _ in range(60):
        t = _by_corners(chance)
        if min(t.A, t.B, t.C) < 0.05:
            continue
        for names in itertools.combinations("abcABC", 3):
            sides = {n: getattr(t, n) for n in names if n.islower()}
            angles = {n: getattr(t, n) for n in names if n.isupper()}
            if not sides:
                continue
            found = solve_triangle(sides, angles)
            assert any(all(abs(getattr(f, n) - getattr(t, n)) < 1e-5 for n in "abcABC") for f in found), (names, t)
            for f in found:
                assert pytest.approx(math.pi) == f.A + f.B + f.C
                s = (f.a + f.b + f.c) / 2
                assert f.area_mm2 == pytest.approx(math.sqrt(max(0.0, s * (s - f.a) * (s - f.b) * (s - f.c))), rel=1e-5)
                assert all(getattr(f, n) == pytest.approx(v) for n, v in {**sides, **angles}.items())


def test_two_sides_and_the_angle_beside_them_leave_two_or_one_or_none() -> None:
    deg = math.radians
    assert len(solve_triangle({"a": 7, "b": 10}, {"A": deg(30)})) == 2
    assert len(solve_triangle({"a": 5, "b": 10}, {"A": deg(30)})) == 1  # just reaches: a right angle
    assert len(solve_triangle({"a": 12, "b": 10}, {"A": deg(30)})) == 1
    with pytest.raises(ShopError, match="too short"):
        solve_triangle({"a": 4.9, "b": 10}, {"A": deg(30)})


@pytest.mark.parametrize(
    ("sides", "angles"),
    [
        ({"a": 1, "b": 2, "c": 3}, {}),  # flat
        ({"a": 1, "b": 2, "c": 4}, {}),
        ({"a": 1, "b": 2}, {}),
        ({}, {"A": 1.0, "B": 1.0, "C": 1.0}),
        ({"a": 0, "b": 2, "c": 2}, {}),
        ({"a": 2}, {"A": 2.0, "B": 1.2}),  # over 180°
        ({"a": 1, "b": 2}, {"A": 2.0}),  # an obtuse angle opposite the shorter side
    ],
)
def test_what_is_no_triangle_is_said(sides: dict[str, float], angles: dict[str, float]) -> None:
    with pytest.raises(ShopError):
        solve_triangle(sides, angles)
