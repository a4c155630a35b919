"""The tape against figures worked by hand, against Python's own fractions, and against triangles built from points."""

from __future__ import annotations

import math
import random
from fractions import Fraction

import pytest
from msgspec.structs import replace

from elbrix.answers.answer import NotAnswered, ShopContext
from elbrix.answers.ask import ask
from elbrix.answers.tape.line import is_tape, work_out
from elbrix.answers.tape.reckoning import reckon
from elbrix.book.documents import shop_of
from elbrix.cli import calc
from elbrix.demo import documents
from elbrix.mechanics.dividing import divide
from elbrix.mechanics.triangles import solve_triangle
from elbrix.quantities.errors import ShopError

SHOP = shop_of(documents())


@pytest.mark.parametrize(
    ("text", "unit", "value", "of"),
    [
        ('12.5 + 1/2"', "mm", 25.2, "mm"),
        ('1-5/8"', "mm", 41.275, "mm"),
        ('1 5/8" - 12 thou', "in", 40.9702, "mm"),
        ("1/2 + 3/8", "in", 22.225, "mm"),
        ("1/2 + 3/8", "", 0.875, ""),
        ("100 - 3*(12.5 + 4)", "mm", 50.5, "mm"),
        ("2^3 - -1", "", 9, ""),
        ("-3^2", "", -9, ""),
        ("5/16in * 4", "mm", 31.75, "mm"),
        ("30 mm / 4 mm", "mm", 7.5, ""),
        ("20 mm * 1 in", "mm", 508, "mm²"),
        ("53°14'20\" / 2", "mm", 26.619444444444445, "deg"),
        ("32d30m + 0.5°", "mm", 33, "deg"),
        ("90° - 53°14'", "mm", 36 + 46 / 60, "deg"),
        ("sin(30)*100", "mm", 50, "mm"),
        ("100 sin", "mm", None, None),
        ("cos 60 * 50 mm", "mm", 25, "mm"),
        ("127 * sin(32.5°)", "mm", 127 * math.sin(math.radians(32.5)), "mm"),
        ("asin(65/100)", "mm", math.degrees(math.asin(0.65)), "deg"),
        ("atan 1", "mm", 45, "deg"),
        ("sqrt(3^2 + 4^2)", "mm", 5, "mm"),
        ("√(20 mm * 45 mm)", "mm", 30, "mm"),
        ("pi*25", "mm", 78.53981633974483, "mm"),
        ("π × 25 mm", "mm", 78.53981633974483, "mm"),
        ("10% * 250", "mm", 25, "mm"),
        ("25 N·m / 10 mm", "mm", 2500, "N"),
        ("9 kN + 225 lbf", "mm", 9000 + 225 * 4.4482216152605, "N"),
        ("2 lb + 1 oz", "mm", 2 * 0.45359237 + 0.028349523125, "kg"),
        ("1500 N / (10 mm * 12 mm)", "mm", 12.5, "MPa"),
        ("1 m - 2.5 cm - 40 µm", "mm", 974.96, "mm"),
    ],
)
def test_lines_worked_by_hand(text, unit, value, of):
    if value is None:
        with pytest.raises(ShopError):
            reckon(text, unit)
        return
    line = work_out(text, SHOP, unit)
    assert line.value == pytest.approx(value, rel=1e-14)
    assert line.unit == of


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("1-5/8", "two sizes"),
        ("3 +", "too soon"),
        ("2 3", "sign between"),
        ("12,5", "comma"),
        ("1/0", "over 0"),
        ("3 mm / (2 - 2)", "division by 0"),
        ("5 kg + 3", "bare number"),
        ("5 kg + 3 mm", "cannot be added"),
        ("sqrt(-1)", "less than 0"),
        ("asin(1.01)", "No angle"),
        ("tan 90°", "right angle"),
        ("sin(3 mm)", "taken of an angle"),
        ("(2 mm) in", "second unit"),
        ("12 furlong", "complete number"),
        ("((1)", "does not close"),
        ("#4 + 1", "no line"),
        ("9^99", "power"),
        ("12°70'", "60 or more"),
        ("1" * 41, "digits"),
        ("(" * 30 + "1" + ")" * 30, "brackets"),
        ("", "nothing"),
        ("5 @ 3", "cannot be read"),
    ],
)
def test_what_cannot_be_read_is_named(text, says):
    with pytest.raises(ShopError) as error:
        reckon(text, "mm")
    assert says in str(error.value)


def test_random_arithmetic_is_that_of_fractions():
    chance = random.Random(5)

    def tree(depth):
        if depth == 0 or chance.random() < 0.25:
            n = chance.choice(
                [str(chance.randint(1, 99)), f"{chance.randint(1, 999) / 8}", f"{chance.randint(1, 9)}/{chance.randint(2, 9)}"]
            )
            return n, Fraction(n)
        (a, x), (b, y) = tree(depth - 1), tree(depth - 1)
        op = chance.choice("+-*/")
        if op == "/" and y == 0:
            op = "+"
        value = {"+": x + y, "-": x - y, "*": x * y}[op] if op != "/" else x / y
        return f"({a} {op} {b})", value

    for _ in range(300):
        text, value = tree(3)
        if len(text) <= 200:
            assert reckon(text, "").number == value, text
            assert reckon(text, "in").number == value * Fraction("25.4"), text


def test_earlier_lines_are_used_with_their_units():
    found = work_out("#1 * 2 + #3", SHOP, "mm", {1: reckon("1/2 in"), 3: reckon("0.6 mm")})
    assert found.value == 26.0
    assert calc.answer({"calc": "tape", "text": "#2 - #1", "lines": ["12.5", "sin(30)*100"], "unit": "mm"})["value"] == 37.5


def test_no_digit_is_dropped():
    assert work_out("0.1234567890123 mm", SHOP).value == 0.1234567890123
    assert work_out("1/3 + 1/7", SHOP).exact == "10/21"
    assert work_out('1-5/8"', SHOP, "in").exact == "13/8"
    assert '1 5/8"' in work_out('1-5/8"', SHOP, "in").text


@pytest.mark.parametrize("given", ["abc", "abC", "ABc", "bcA", "acC", "aBC"])
def test_triangles_close_and_come_back_from_points(given):
    chance = random.Random(given)
    for _ in range(60):
        points = [(chance.uniform(0, 90), chance.uniform(0, 90)) for _ in range(3)]
        sides = {n: math.dist(points[i], points[j]) for n, i, j in (("a", 1, 2), ("b", 0, 2), ("c", 0, 1))}
        if min(sides.values()) < 5:
            continue
        angles = {}
        for n, i, j, k in (("A", 0, 1, 2), ("B", 1, 0, 2), ("C", 2, 0, 1)):
            u = [points[j][0] - points[i][0], points[j][1] - points[i][1]]
            v = [points[k][0] - points[i][0], points[k][1] - points[i][1]]
            angles[n] = math.atan2(abs(u[0] * v[1] - u[1] * v[0]), u[0] * v[0] + u[1] * v[1])
        if min(angles.values()) < 0.05:
            continue
        found = solve_triangle({n: sides[n] for n in given if n in sides}, {n: angles[n] for n in given if n in angles})
        assert any(all(getattr(t, n) == pytest.approx(v, rel=1e-7) for n, v in {**sides, **angles}.items()) for t in found), (
            given,
            points,
            found,
        )
        for t in found:
            assert pytest.approx(math.pi) == t.A + t.B + t.C
            assert t.a / math.sin(t.A) == pytest.approx(t.c / math.sin(t.C), rel=1e-9)


def test_the_open_case_has_both_triangles_and_the_right_angle_one():
    assert work_out("triangle a=30 C=90 b=40", SHOP, "mm").value == 50
    both = work_out("triangle a=5 b=7 A=30", SHOP, "mm")
    assert len(both.more["triangles"]) == 2
    assert "or" in both.text
    assert len(solve_triangle({"a": 3.5, "b": 7.0}, {"A": math.radians(30)})) == 1
    for text in (
        "triangle a=1 b=2 c=9",
        "triangle A=30 B=60 C=90",
        "triangle a=1 b=2",
        "triangle a=2 b=7 A=30",
        "triangle a=3 b=4 q",
    ):
        with pytest.raises(ShopError):
            work_out(text, SHOP, "mm")


@pytest.mark.parametrize("count", [2, 3, 7, 11, 13, 37, 97, 127, 360])
def test_dividing_by_turning_every_division_out(count):
    clover = next(m for m in SHOP.machines if m.name == "Clover")
    found = divide(count, clover.worm_turns, clover.index_circles, clover.worm_marks)
    worst = max(
        abs((turns + holes / found.circle) * 360 / clover.worm_turns - k * 360 / count)
        for k, (turns, holes) in enumerate(found.places)
    )
    assert worst == pytest.approx(found.error_deg, abs=1e-9)
    for circle in (*clover.index_circles, clover.worm_marks):
        other = max(abs(round(k * 90 * circle / count) - k * 90 * circle / count) / circle * 4 for k in range(count))
        assert found.error_deg <= other + 1e-9
    assert found.exact == any((90 * c) % count == 0 for c in (*clover.index_circles, clover.worm_marks))


def test_dials_and_dividing_by_the_shop():
    line = work_out("37.42 on Pip x", SHOP, "mm")
    assert (line.more["turns"], line.more["divisions"]) == (18, 71)  # 2 mm a turn in 100: 18 × 2 + 71 × 0.02
    assert work_out("1.25 on Margaret y", SHOP, "mm").text == work_out("1.25 on Old Margaret y", SHOP, "mm").text
    two = replace(SHOP, machines=(*SHOP.machines, replace(SHOP.machines[0], id="other", name="Young Margaret")))
    with pytest.raises(ShopError, match="more than one"):
        work_out("1.25 on Margaret y", two, "mm")  # the dial of the wrong one is worse than none
    assert work_out("divide 7 on Clover", SHOP).text == "12 turns + 18 holes on the 21 circle"
    with pytest.raises(ShopError, match="no machine"):
        work_out("divide 7 on Daisy", SHOP)
    with pytest.raises(ShopError, match="worm"):
        work_out("divide 7 on Pip", SHOP)


@pytest.mark.parametrize(
    "asked",
    [
        "7 divisions",
        "dividing 7",
        "index 7 on Clover",
        "divide into 7 on clover",
        "indexing 14/2",
        "divide 7 holes",
        "dividing 7 parts on Clover",
    ],
)
def test_dividing_is_asked_in_other_words(asked):
    assert work_out(asked, SHOP).text.startswith("12 turns + 18 holes on the 21 circle")


def test_what_does_not_come_out_is_set_from_zero_every_time():
    """13 on a worm of 90 with 240 marks: 90·240/13 = 1661.54 marks each, so the third is 4985 = 20 turns and 185."""
    found = ask("13 divisions on Clover", ShopContext(SHOP)).figures
    assert [f.text for f in found[1:4]] == [
        "6 turns + 222 marks of 240",
        "13 turns + 203 marks of 240",
        "20 turns + 185 marks of 240",
    ]
    assert len(found) == 13
    assert len(ask("7 divisions on Clover", ShopContext(SHOP)).figures) == 1  # the same step again and again


@pytest.mark.parametrize(
    ("asked", "text"),
    [  # 4° to a turn of the worm
        ("turn Clover 25d30m", "6 turns + 6 holes on the 16 circle"),  # 6.375
        ("worm turns for 30 deg on Clover", "7 turns + 8 holes on the 16 circle"),
        ("worm 8 deg", "2 turns, on Clover"),
        ("turn clover 25.37 deg", "6 turns + 82 marks of 240; nearest, 12″ off"),  # 82.2 marks of 60″
    ],
)
def test_an_angle_by_the_worm(asked, text):
    assert work_out(asked, SHOP).text == text


def test_what_is_turned_on_a_lathe_is_no_question_about_a_worm():
    for asked in ("turn Ø20 mild steel", "turn 20 deg", "index plates", "worm"):
        assert not is_tape(asked, SHOP), asked
    for asked in ("turn Clover 20", "turn Clover -3 deg", "turn Pip 20 deg", "1.5 divisions", "divide 0 on Clover"):
        with pytest.raises(ShopError):
            work_out(asked, SHOP)
    with pytest.raises(ShopError, match="no rotary table"):
        work_out("7 divisions", replace(SHOP, machines=tuple(m for m in SHOP.machines if not m.worm_turns)))
    two = [replace(m, id="second", name="Second") for m in SHOP.machines if m.name == "Clover"]
    with pytest.raises(ShopError, match="which rotary table"):
        work_out("7 divisions", replace(SHOP, machines=(*SHOP.machines, *two)))


def test_ask_works_lines_out_and_keeps_its_own_questions():
    world = ShopContext(SHOP)
    assert ask('12.5 + 1/2"', world).figures[0].value == pytest.approx(25.2)
    assert ask("triangle a=30 C=90 b=40", world).topic == "tape"
    assert ask("1/2-13", world).topic != "tape"
    assert ask("8-32", world).topic != "tape"
    assert ask("20 - 5", world).figures[0].value == 15
    assert ask("12-3", world).figures[0].value == 9
    with pytest.raises(NotAnswered):  # a slip in a thread is no sum
        ask("7/16-15", world)
    assert ask("tap drill M10", world).figures[0].value == pytest.approx(8.5)
    assert not is_tape("tap drill M10", SHOP)
    with pytest.raises(NotAnswered):
        ask("12.5 + ", world)


def test_calc_tape_by_the_contract():
    answer = calc.answer({"calc": "tape", "text": "weight 40x20x105 steel"})
    assert answer["value"] == pytest.approx(40 * 20 * 105 * 7.85e-6)
    assert answer["unit"] == "kg"
    for bad in ({"text": 5}, {"text": "1", "unit": "yd"}, {"text": "#1", "lines": 7}, {"text": "5 banana"}, {}):
        assert "error" in calc.answer({"calc": "tape", **bad})
