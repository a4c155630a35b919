"""The line protocol and who listens: bad, late, doubled and unasked lines are said plainly, nothing is invented."""

from __future__ import annotations

import random

import pytest

from elbrix.instruments.lines import Identity, Quantity, Reading, Trouble, format_line, parse_line
from elbrix.instruments.listener import Asking, Fate, Listener
from elbrix.quantities.errors import ShopError


def test_each_kind_of_line_is_read_in_mm_and_degrees() -> None:
    one = parse_line("caliper-1 length 12.053 mm ±0.02 17\n")
    assert isinstance(one, Reading) and (one.value, one.u, one.number, one.quantity) == (12.053, 0.02, 17, Quantity.LENGTH)
    inch = parse_line("caliper-1 length -0.5000 in ±0.001 18")
    assert isinstance(inch, Reading) and inch.value == pytest.approx(-12.7) and inch.u == pytest.approx(0.0254)
    axis = parse_line("readout-1 axis X -43.210 mm ±0.005 120")
    assert isinstance(axis, Reading) and (axis.axis, axis.value) == ("X", -43.21)
    level = parse_line("level-1 angle 32.50 deg ±0.05 9")
    assert isinstance(level, Reading) and level.value == 32.5
    known = parse_line("caliper-1 is caliper 0.01 mm 0 150 v1")
    assert known == Identity(instrument="caliper-1", kind="caliper", resolution=0.01, low=0, high=150, unit="mm")
    assert parse_line("dial-2 battery 7") == Trouble(instrument="dial-2", what="battery", words="battery at 7 %")
    assert parse_line("dial-2 fault the cable is out") == Trouble(instrument="dial-2", what="fault", words="the cable is out")


@pytest.mark.parametrize(
    "line",
    [
        "",
        "caliper-1",
        "caliper-1 length",
        "caliper-1 length 12.05",
        "caliper-1 length 12.05 mm",
        "caliper-1 length 12.05 mm ±0.02",
        "caliper-1 length 12.05 mm 0.02 17",
        "caliper-1 length 12,05 mm ±0.02 17",
        "caliper-1 length nan mm ±0.02 17",
        "caliper-1 length inf mm ±0.02 17",
        "caliper-1 length 1e3 mm ±0.02 17",
        "caliper-1 length 999999999 mm ±0.02 17",
        "caliper-1 length 12.05 yd ±0.02 17",
        "caliper-1 length 12.05 deg ±0.02 17",
        "level-1 angle 3 mm ±0.02 17",
        "caliper-1 length 12.05 mm ±0.02 -1",
        "caliper-1 length 12.05 mm ±0.02 17 18",
        "caliper-1 weight 12.05 kg ±0.02 17",
        "readout-1 axis Q 1.0 mm ±0.005 1",
        "readout-1 axis X 1.0 mm ±0.005",
        "Caliper length 1 mm ±0.02 1",
        "caliper-1 is caliper 0 mm 0 150 v1",
        "caliper-1 is caliper 0.01 mm 150 0 v1",
        "caliper-1 is caliper 0.01 mm 0 150 v2",
        "dial-1 battery 101",
        "x" * 5000,
        "caliper-1 length ١٢ mm ±0.02 17",
    ],
)
def test_what_is_no_line_is_refused_with_a_reason(line: str) -> None:
    with pytest.raises(ShopError):
        parse_line(line)
    heard = Listener().hear(line)
    assert heard.fate is Fate.REFUSED and heard.reading is None and len(heard.words) > 20


def test_what_is_written_reads_back() -> None:
    chance = random.Random(2)
    for n in range(300):
        quantity = chance.choice(list(Quantity))
        unit = chance.choice(sorted(set(quantity.units) - {"rad"}))
        shown = f"{chance.uniform(-300, 300):.{chance.randint(0, 4)}f}"
        line = f"a-{n} {quantity.value} {'Y ' if quantity is Quantity.AXIS else ''}{shown} {unit} ±0.0{chance.randint(1, 9)} {n}"
        assert format_line(parse_line(line)) == line


def _line(number: int, value: float = 12.05, name: str = "caliper-1", what: str = "length", unit: str = "mm") -> str:
    return f"{name} {what} {value} {unit} ±0.02 {number}"


def test_a_reading_lands_only_in_the_field_that_asks() -> None:
    ear = Listener()
    assert ear.hear(_line(1)).fate is Fate.UNASKED
    ear.asking = Asking(quantity=Quantity.LENGTH, low=5, high=20, name="Neck width")
    taken = ear.hear(_line(2))
    assert taken.fate is Fate.TAKEN and taken.reading is not None and taken.reading.value == 12.05
    assert ear.hear(_line(3, 120.5)).fate is Fate.ASKED, "a digit too many is asked about, not taken"
    wrong = ear.hear(_line(1, name="level-1", what="angle", unit="deg"))
    assert wrong.fate is Fate.ASKED and "wants length" in wrong.words
    ear.asking = Asking(quantity=Quantity.AXIS, axis="X")
    assert ear.hear("readout-1 axis Y 3.0 mm ±0.005 1").fate is Fate.ASKED
    assert ear.hear("readout-1 axis X 3.0 mm ±0.005 2").fate is Fate.TAKEN


def test_doubled_and_late_lines_and_two_of_one_name() -> None:
    ear = Listener()
    ear.asking = Asking(quantity=Quantity.LENGTH)
    assert ear.hear(_line(5), "a").fate is Fate.TAKEN
    assert "twice" in ear.hear(_line(5), "a").words
    assert "late" in ear.hear(_line(4), "a").words
    assert "two instruments" in ear.hear(_line(9), "b").words
    ear.gone("a")
    assert ear.hear(_line(1), "b").fate is Fate.TAKEN, "plugged in again it counts from the beginning"


def test_ranges_batteries_and_a_burst() -> None:
    ear = Listener()
    ear.hear("caliper-1 is caliper 0.01 mm 0 150 v1")
    ear.asking = Asking(quantity=Quantity.LENGTH)
    assert "beyond its own range" in ear.hear(_line(1, 400.0)).words
    ear.hear("caliper-1 battery 4")
    assert ear.troubles["caliper-1"] == "battery at 4 %"
    taken = [ear.hear(_line(n)) for n in range(2, 3002)]
    assert all(h.fate is Fate.TAKEN for h in taken) and len(ear.log) == 1000
