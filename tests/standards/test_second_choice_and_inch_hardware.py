"""Second-choice sizes, inch hardware, set and shoulder screws, dowels: by formula, by order and against a second table."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest

from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.standards import screws
from elbrix.standards.lookup import standard
from elbrix.standards.tables import table
from elbrix.standards.threads import all_threads, find_thread

SCREWS = table("screws")
#: Major Ø of the inch sizes, in; numbers by 0.060 + 0.013·n.
NUMBERED = {f"#{n}": 0.060 + 0.013 * n for n in (4, 5, 6, 8, 10)}


def inches(text: str) -> float:
    whole, _, part = text.rpartition("-")
    top, _, under = part.partition("/")
    return (float(whole) if whole else 0.0) + (float(top) / float(under) if under else float(top))


def major_in(size: str) -> float:
    return NUMBERED.get(size) or inches(size)


@pytest.mark.parametrize(
    ("thread", "pitch", "drill"),
    [
        ("M3.5x0.6", 0.6, 2.9),
        ("M7x1", 1, 6.0),
        ("M10x0.75", 0.75, 9.2),
        ("M14x1.25", 1.25, 12.8),
        ("M14x1", 1, 13.0),
        ("M16x1", 1, 15.0),
    ],
)
def test_second_choice_threads(thread: str, pitch: float, drill: float) -> None:
    found = find_thread(parse_thread(thread))
    assert found.pitch_mm == pitch and found.tap_drill[1] == drill
    assert abs(found.major_mm - pitch - drill) <= 0.06  # D − P, to the drill list


@pytest.mark.parametrize(("size", "medium"), [("M3.5", 3.9), ("M7", 7.6), ("M18", 20), ("M22", 24), ("M27", 30)])
def test_second_choice_clearance_holes(size: str, medium: float) -> None:
    assert screws.clearance_hole(size).value == medium
    rows = [screws.clearance_hole(size, s).value for s in ("fine", "medium", "coarse")]
    assert float(size[1:]) < rows[0] < rows[1] < rows[2]


@pytest.mark.parametrize("kind", [k for k in SCREWS if k.endswith(("_mm", "_in")) and k not in ("dowel_mm", "shoulder_mm")])
def test_every_size_grows_with_the_one_before(kind: str) -> None:
    metric = kind.endswith("_mm")
    rows = sorted(SCREWS[kind].items(), key=lambda r: float(r[0][1:]) if metric else major_in(r[0]))
    for (a, one), (b, other) in pairwise(rows):
        for dim in one:
            x, y = (v if metric else inches(str(v)) for v in (one[dim], other[dim]))
            assert x <= y, (kind, dim, a, b)


@pytest.mark.parametrize("size", list(SCREWS["countersunk_in"]))
def test_an_inch_countersunk_head_is_a_cone_of_82_degrees(size: str) -> None:
    dims = SCREWS["countersunk_in"][size]
    high = (float(dims["head_d"]) - major_in(size)) / 2 / math.tan(math.radians(41))
    assert float(dims["head_h"]) == pytest.approx(high, abs=0.0022)


@pytest.mark.parametrize("size", list(SCREWS["countersunk_mm"]))
def test_a_metric_countersunk_head_is_a_cone_of_90_degrees(size: str) -> None:
    dims = SCREWS["countersunk_mm"][size]
    assert dims["head_h"] == pytest.approx((dims["head_d"] - float(size[1:])) / 2, abs=0.02)


@pytest.mark.parametrize("size", [s for s in SCREWS["nut_in"] if s in SCREWS["hex_in"]])
def test_inch_nuts_take_the_spanner_of_their_bolts_but_for_one(size: str) -> None:
    nut, bolt = (inches(SCREWS[k][size]["across_flats"]) for k in ("nut_in", "hex_in"))
    assert nut == bolt or (size == "7/16" and nut - bolt == pytest.approx(1 / 16))
    # 7/8 of the bolt, to the 64th.
    assert inches(SCREWS["nut_in"][size]["height"]) == pytest.approx(0.875 * major_in(size), abs=1.3 / 64)


@pytest.mark.parametrize("kind", ["washer_mm", "washer_in"])
def test_a_washer_goes_over_its_screw_and_under_its_head(kind: str) -> None:
    heads = SCREWS["hex_mm" if kind.endswith("mm") else "hex_in"]
    for size, dims in SCREWS[kind].items():
        value = float if kind.endswith("mm") else inches
        major = float(size[1:]) if kind.endswith("mm") else major_in(size)
        assert major < value(dims["hole_d"]) < 1.2 * major
        if size in heads:
            assert value(dims["outside_d"]) > value(heads[size]["across_flats"])


def test_a_set_screws_key_is_half_its_thread_or_less() -> None:
    for size, dims in SCREWS["set_screw_mm"].items():
        assert 0.4 <= dims["key"] / float(size[1:]) <= 0.53
        if size in SCREWS["socket_cap_mm"]:
            assert dims["key"] < SCREWS["socket_cap_mm"][size]["key"]
    for size, dims in SCREWS["set_screw_in"].items():
        assert 0.4 <= inches(dims["key"]) / major_in(size) <= 0.53


def test_a_shoulder_is_thicker_than_its_thread_and_thinner_than_its_head() -> None:
    for size, dims in SCREWS["shoulder_mm"].items():
        thread = float(dims["thread"][1:])
        assert thread < float(size) < dims["head_d"] and dims["key"] < thread
        assert dims["key"] in {row["key"] for row in SCREWS["socket_cap_mm"].values()}
        assert screws.shoulder_screw(size, "thread_d").value == thread
    with pytest.raises(ShopError, match="not in the table"):
        screws.shoulder_screw("9", "key")


def test_dowels_have_their_lengths() -> None:
    for size, dims in SCREWS["dowel_mm"].items():
        assert dims["diameter"] == float(size) and dims["shortest"] < dims["longest"] and dims["chamfer"] < 0.25 * float(size)
    assert standard({"table": "dowel", "size": "8", "dim": "longest"})["value"] == 80
    assert standard({"table": "shoulder_screw", "size": "10", "dim": "key"})["value"] == 5
    assert standard({"table": "set_screw", "size": "M8", "dim": "key"})["value"] == 4
    assert standard({"table": "nut", "size": "3/8", "dim": "across_flats"})["value"] == pytest.approx(9 / 16 * 25.4)


def test_no_thread_is_there_twice() -> None:
    names = [t.name for t in all_threads()]
    assert len(names) == len(set(names))
