"""Places of holes and pairs of sizes as typed: read, written in either unit, and worked again point by point."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elbrix.parameters.parameter import LISTS, Kind, Parameter, ParameterValue, figure_of
from elbrix.parameters.places import MAX_PAIRS, MAX_PLACES, Places, places_said, places_text, read_pairs, read_places
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import INCH, METRIC, MM_PER_INCH
from elbrix.results.figures import Origin
from elbrix.results.length_text import said_in

#: Whole hundredths, none nearer than a hundredth to another.
POINTS = st.lists(st.tuples(st.integers(-9000, 9000), st.integers(-9000, 9000)), min_size=1, max_size=12, unique=True).map(
    lambda found: tuple((x / 10, y / 10) for x, y in found)
)
UNITS = st.sampled_from(["mm", "in"])


def near(a: Places, b: Places) -> bool:
    return len(a.points) == len(b.points) and all(math.dist(p, q) < 5e-6 for p, q in zip(a.points, b.points, strict=True))


@given(POINTS, UNITS)
def test_written_and_read_again_they_are_the_same(points: tuple[tuple[float, float], ...], unit: str) -> None:
    places = Places(points=points)
    again = read_places(places_text(places, unit), unit, "Holes")
    assert again.points == points  # whole tenths of a micron come back exactly


@given(st.floats(3, 500), UNITS)
def test_a_grid_too(pitch: float, unit: str) -> None:
    text = places_text(Places(grid_mm=pitch), unit)
    assert text.startswith("grid ")
    if unit == "mm" or 3.001 < pitch < 499.999:
        assert read_places(text, unit, "Holes").grid_mm == pytest.approx(pitch, abs=3e-6)


@given(POINTS)
def test_an_inch_shop_reads_what_a_metric_one_wrote_only_after_it_was_said_in_inches(
    points: tuple[tuple[float, float], ...],
) -> None:
    places = Places(points=points)
    assert places_text(places) != places_text(places, "in") or all(v == 0 for p in points for v in p)
    said = said_in(places_said(places), INCH)
    numbers = [float(n) for pair in said.split(";") for n in pair.split(",")]
    for shown, real in zip(numbers, [v for p in points for v in p], strict=True):
        assert shown * MM_PER_INCH == pytest.approx(real, abs=0.0013)
    assert said_in(places_said(places), METRIC) == places_text(places)


@pytest.mark.parametrize(
    ("text", "unit", "points"),
    [
        ("20,10; 40,10", "mm", [(20, 10), (40, 10)]),
        ("1,1/2", "in", [(25.4, 12.7)]),
        ("20 mm,1/2 in", "mm", [(20, 12.7)]),
        ("row 12,30 + 3 x 25", "mm", [(12, 30), (37, 30), (62, 30), (87, 30)]),
        ("column 12,30 + 2 x 10", "mm", [(12, 30), (12, 40), (12, 50)]),
        ("circle 4 on 100", "mm", [(50, 0), (0, 50), (-50, 0), (0, -50)]),
        ("circle 2 on 100 at 90 about 10,20", "mm", [(10, 70), (10, -30)]),
        ("circle 2 on 4 at 0", "in", [(50.8, 0), (-50.8, 0)]),
        ("5,5; row 10,0 + 1 x 10", "mm", [(5, 5), (10, 0), (20, 0)]),
        ("", "mm", []),
        ("none", "mm", []),
        ("5,5;\n6,6;", "mm", [(5, 5), (6, 6)]),
    ],
)
def test_by_hand(text: str, unit: str, points: list[tuple[float, float]]) -> None:
    found = read_places(text, unit, "Holes")
    assert near(found, Places(points=tuple(points)))


@given(st.integers(1, 40), st.floats(1, 900), st.floats(-360, 360))
def test_a_circle_is_round_and_evenly_parted(count: int, diameter: float, first: float) -> None:
    places = (
        read_places(f"circle {count} on {diameter:.4f} at {first:.3f} about 7,-3", "mm", "Holes") if diameter > count else None
    )
    if places is None:
        return
    radius = round(diameter, 4) / 2
    angles = [math.degrees(math.atan2(y + 3, x - 7)) for x, y in places.points]
    assert [math.hypot(x - 7, y + 3) for x, y in places.points] == pytest.approx([radius] * count, abs=2e-6)
    steps = [(b - a) % 360 for a, b in pairwise(angles)]
    assert steps == pytest.approx([360 / count] * (count - 1), abs=1e-3)
    assert (angles[0] - first + 180) % 360 - 180 == pytest.approx(0, abs=1e-2)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("20; 40", "no place"),
        ("1,2,3", "no place"),
        ("20,10; 20,10", "there twice"),
        ("20,10; 20.004,10", "there twice"),
        ("circle 0 on 90", "no holes"),
        ("banana", "no place"),
        ("grid 1", "cannot be right"),
        ("5000,0", "cannot be right"),
        ("x" * 20_001, "characters"),
        ("row 0,0 + 900 x 1", "901 places"),
    ],
)
def test_what_cannot_be_is_named(text: str, says: str) -> None:
    with pytest.raises(EntryError, match=says):
        read_places(text, "mm", "Holes")


def test_too_many_are_refused_before_they_are_all_made() -> None:
    with pytest.raises(EntryError, match="places"):
        read_places("; ".join(f"row 0,{y} + 199 x 3" for y in range(4)), "mm", "Holes")
    assert len(read_places("; ".join(f"row 0,{y} + 199 x 3" for y in range(3)), "mm", "Holes").points) == MAX_PLACES


# --- pairs -----------------------------------------------------------------------------------------------------------


@given(st.lists(st.tuples(st.integers(-20000, 20000), st.integers(-20000, 20000)), max_size=20), UNITS)
def test_pairs_keep_their_order_and_may_come_again(found: list[tuple[int, int]], unit: str) -> None:
    pairs = Places(points=tuple((a / 100, b / 100) for a, b in [*found, *found]))
    assert read_pairs(places_text(pairs, unit), unit, "Trials").points == pairs.points


@pytest.mark.parametrize(
    ("text", "says"), [("20", "no pair"), ("20,30,40", "no pair"), ("a,b", "cannot be read|no "), ("9999,1", "cannot")]
)
def test_a_pair_that_is_none_is_named(text: str, says: str) -> None:
    with pytest.raises(EntryError, match=says):
        read_pairs(text, "mm", "Trials")


def test_more_pairs_than_are_kept() -> None:
    assert len(read_pairs("; ".join(["1,2"] * MAX_PAIRS), "mm", "Trials").points) == MAX_PAIRS
    with pytest.raises(EntryError, match="kept at most"):
        read_pairs("; ".join(["1,2"] * (MAX_PAIRS + 1)), "mm", "Trials")


# --- as parameters ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("kind", sorted(LISTS, key=str))
@pytest.mark.parametrize("style", [METRIC, INCH], ids=["mm", "in"])
def test_an_entry_opens_with_what_it_reads(kind: Kind, style: object) -> None:
    unit = "mm" if style is METRIC else "in"
    parameter = Parameter(name="p", label="Places", kind=kind, unit="")
    value = ParameterValue("12.5,-3; 40,25.4", Origin.CHOSEN)
    opened = parameter.entry_text(value, unit)
    assert parameter.read(opened, unit).value == "12.5,-3; 40,25.4"
    shown = said_in(figure_of(parameter, value).text, METRIC if unit == "mm" else INCH)
    assert shown == ("12.5,-3; 40,25.4" if unit == "mm" else "0.4921,-0.1181; 1.5748,1.0000")
    assert figure_of(parameter, ParameterValue("", Origin.ASSUMED)).text == "none"
