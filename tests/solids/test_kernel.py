"""The solid against volumes worked by hand, and the process that makes it."""

from __future__ import annotations

import math
import os
import signal
import struct
import time

import numpy as np
import pytest

from elbrix.design.family import Design, find_family
from elbrix.quantities.errors import ShopError
from elbrix.solids.client import Kernel, KernelGone
from elbrix.solids.recipe import Cut, Join, Prism, Turned, drilled

CUBE = Prism(((0, 0), (10, 0), (10, 10), (0, 10)), 0, 10)


def test_t_nut_volume_by_hand(nut: Design, kernel: Kernel) -> None:
    """T less two broken edges, less the drilled hole and its mouth."""
    mass = kernel.ask("mass", find_family("t_nut").solid(nut))
    profile = 18.2 * 7.3 + 11.7 * 7.2 - 2 * 0.5 * 0.5 / 2
    mouth, drill = 10.5, 8.5
    deep = (mouth - drill) / 2  # a countersink of 90°
    cone = math.pi * deep / 12 * (mouth**2 + mouth * drill + drill**2)
    hole = cone + math.pi / 4 * drill**2 * (14.5 - deep)
    assert mass["volume_mm3"] == pytest.approx(profile * 19 - hole, rel=1e-9)
    assert mass["high_mm"] == (pytest.approx(9.1), pytest.approx(9.5), pytest.approx(14.5))
    assert mass["centroid_mm"][0] == pytest.approx(0, abs=1e-9)


def test_turned_and_joined_shapes(kernel: Kernel) -> None:
    cylinder = Turned(((0, 0), (5, 0), (5, 12), (0, 12)), (30, 0, 0))
    assert kernel.ask("mass", cylinder)["volume_mm3"] == pytest.approx(math.pi * 25 * 12, rel=1e-9)
    joined = Join((CUBE, Prism(((10, 0), (15, 0), (15, 10), (10, 10)), 0, 10)))
    assert kernel.ask("mass", joined)["volume_mm3"] == pytest.approx(1500)
    assert sum(1 for c in kernel.ask("view", joined, "front") if not c[1]) == 4  # no false line where the two met


def test_blind_hole_has_its_drill_point(kernel: Kernel) -> None:
    drilled_cube = Cut(Prism(((-10, 0), (10, 0), (10, 20), (-10, 20)), -10, 10), (drilled((0, 0, 20), ((6, 10),)),))
    point = 3 / math.tan(math.radians(59))
    assert kernel.ask("mass", drilled_cube)["volume_mm3"] == pytest.approx(
        8000 - math.pi * 9 * 10 - math.pi * 9 * point / 3, rel=1e-9
    )


def test_views_show_the_outline_and_hide_the_hole(nut: Design, kernel: Kernel) -> None:
    solid = find_family("t_nut").solid(nut)
    front = kernel.ask("view", solid, "front")
    seen = {tuple(round(v, 3) + 0.0 for v in c[2:]) for c in front if c[0] == "L" and not c[1]}
    assert any({(a, b), (c, d)} == {(-5.85, 14.5), (5.85, 14.5)} for a, b, c, d in seen)  # the top of the neck
    hidden = [c for c in front if c[1]]
    assert {round(abs(c[2]), 3) for c in hidden if c[0] == "L" and abs(c[2] - c[4]) < 1e-6} >= {4.25}
    assert any(
        {round(abs(c[2]), 3), round(abs(c[4]), 3)} == {4.25, 5.25} for c in hidden if c[0] == "L"
    )  # the countersink's flank
    circles = sorted(c[4] for c in kernel.ask("view", solid, "top") if c[0] == "C" and not c[1])
    assert circles == [pytest.approx(4.25), pytest.approx(5.25)]
    assert {c[0] for c in kernel.ask("view", solid, "iso")} == {"L", "E"}


def test_hidden_lines_never_lie_under_visible_ones(nut: Design, kernel: Kernel) -> None:
    for view in ("front", "top", "side"):
        lines = [c for c in kernel.ask("view", find_family("t_nut").solid(nut), view) if c[0] == "L"]
        seen = [c for c in lines if not c[1]]
        for c in (c for c in lines if c[1]):
            middle = ((c[2] + c[4]) / 2, (c[3] + c[5]) / 2)
            assert all(_off(middle, s) > 1e-4 for s in seen), (view, c)


def _off(p: tuple[float, float], c: tuple[float, ...]) -> float:
    ax, ay, bx, by = c[2:6]
    length2 = (bx - ax) ** 2 + (by - ay) ** 2
    t = min(1.0, max(0.0, ((p[0] - ax) * (bx - ax) + (p[1] - ay) * (by - ay)) / length2))
    return math.hypot(p[0] - ax - t * (bx - ax), p[1] - ay - t * (by - ay))


def test_section_area_by_hand(nut: Design, kernel: Kernel) -> None:
    cut = kernel.ask("section", find_family("t_nut").solid(nut), "x", 0.0)
    assert cut["area_mm2"] == pytest.approx(19 * 14.5 - 8.5 * 13.5 - 9.5 * 1.0, rel=1e-9)
    assert len(cut["faces"]) == 2  # the metal either side of the hole
    area = sum(
        abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(r, [*r[1:], r[0]], strict=True)) / 2)
        for face in cut["faces"]
        for r in face[:1]
    )
    assert area == pytest.approx(cut["area_mm2"], rel=1e-6)


def test_step_goes_out_and_comes_back(nut: Design, kernel: Kernel) -> None:
    solid = find_family("t_nut").solid(nut)
    data = kernel.ask("step", solid, "T-nut", "2026-01-01T00:00:00")
    back = kernel.ask("read_step", data)
    assert back["valid"] and back["solids"] == 1
    assert back["volume_mm3"] == pytest.approx(kernel.ask("mass", solid)["volume_mm3"], rel=1e-9)
    assert data == kernel.ask("step", solid, "T-nut", "2026-01-01T00:00:00")  # the same again, to the byte
    assert b"Open CASCADE" not in data


def test_stl_volume_and_outward_normals(nut: Design, kernel: Kernel) -> None:
    solid = find_family("t_nut").solid(nut)
    data = kernel.ask("stl", solid, "T-nut")
    (count,) = struct.unpack("<I", data[80:84])
    assert len(data) == 84 + 50 * count and data[:5] != b"solid"
    record = np.frombuffer(data, dtype=[("n", "<f4", 3), ("v", "<f4", (3, 3)), ("a", "<u2")], offset=84)
    corners = record["v"].astype(float)
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    assert volume == pytest.approx(kernel.ask("mass", solid)["volume_mm3"], rel=2e-3)  # signed: inside-out would be negative


@pytest.mark.parametrize("data", [b"", b"not a step file", b"ISO-10303-21;\nHEADER;\nENDSEC;\nEND-ISO-10303-21;\n"])
def test_what_is_no_step_file_is_refused(kernel: Kernel, data: bytes) -> None:
    with pytest.raises(ShopError, match=r"Change the size|STEP"):
        kernel.ask("read_step", data)


def test_sizes_that_fall_apart_are_refused(kernel: Kernel) -> None:
    through = drilled((5, 5, 10), ((30, 10),), through_to=10)
    with pytest.raises(ShopError, match="0 separate pieces"):
        kernel.ask("mass", Cut(CUBE, (through,)))
    slit = Prism(((4, -1), (6, -1), (6, 11), (4, 11)), -1, 11)
    with pytest.raises(ShopError, match="2 separate pieces"):
        kernel.ask("mass", Cut(CUBE, (slit,)))
    bow_tie = Prism(((0, 0), (10, 10), (10, 0), (0, 10)), 0, 10)
    with pytest.raises(ShopError):
        kernel.ask("mass", bow_tie)


@pytest.mark.parametrize(
    "make",
    [
        lambda: Prism(((0, 0), (1, 0)), 0, 1),
        lambda: Prism(CUBE.outline, 1, 1),
        lambda: Prism(((0, 0), (math.nan, 0), (1, 1)), 0, 1),
        lambda: Turned(((0, 0), (-1, 0), (0, 1)), (0, 0, 0)),
    ],
)
def test_recipes_of_nothing_never_reach_the_kernel(make: object) -> None:
    with pytest.raises(ShopError):
        make()  # type: ignore[operator]


def test_a_killed_kernel_is_started_again() -> None:
    own = Kernel()
    try:
        assert own.ask("ready")
        first = own.pid
        os.kill(first, signal.SIGKILL)
        time.sleep(0.1)
        assert own.ask("mass", CUBE)["volume_mm3"] == pytest.approx(1000)
        assert own.pid not in (0, first)
    finally:
        own.stop()
    assert own.pid == 0
    with pytest.raises(KernelGone):
        own.send("ready")
