"""Sets as they lie in their boxes: states, calibration tables in and out, angle blocks, stacks as laid."""

from __future__ import annotations

import itertools
import random

import pytest
from msgspec.structs import replace

from elbrix.gauging.angle_blocks import best_angle_stack
from elbrix.gauging.build_up import Sources, lay, read_blocks
from elbrix.gauging.owned import deviations_um, owned_angle_set, owned_set, read_block_csv, usable, write_block_csv
from elbrix.gauging.uncertainty import block_u_um, stack_uncertainty
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.shop.gauges import AngleBlockSet, Block, BlockState, GaugeSet, Parallel, angle_of_block

BOX = owned_set("box", "Metric box", "metric 32")
ROWS = write_block_csv(BOX).splitlines()


def test_only_blocks_that_are_here_are_used() -> None:
    box = BOX.with_block(replace(BOX.block("30"), state=BlockState.LENT)).with_block(
        replace(BOX.block("60.0"), state=BlockState.IN_USE, holder="gnomon")
    )
    assert {"30", "60"} & set(usable(box).blocks) == set()
    assert "60" in usable(box, holder="gnomon").blocks and "30" not in usable(box, holder="gnomon").blocks
    assert [b.nominal for b in box.missing] == ["30", "60"]


def test_calibration_goes_out_and_comes_back() -> None:
    box = replace(BOX, grade="0", calibrated_on="2026-04-20")
    box = box.with_block(replace(box.block("30"), deviation_um=-0.07, note="=SUM(A1)", state=BlockState.WORN))
    text = write_block_csv(box)
    assert "'=SUM" in text  # no spreadsheet takes it for a formula
    assert read_block_csv(text, BOX) == box
    assert deviations_um(box) == {"30": -0.07}


def _with(line: int, row: str) -> str:
    return "\n".join([*ROWS[:line], row, *ROWS[line + 1 :]])


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        ("nominal;unit;deviation_um\n1.005;mm;0,1", "semicolons"),
        ("\n".join(ROWS).replace("deviation_um", "deviation_mm"), "no column deviation_um"),
        (_with(1, "1,005,mm,0.1,1,,here,"), "A decimal with a comma"),
        (_with(1, "1.005,in,0.1,1,,here,"), "unit “in”"),
        (_with(1, "1.005,mm,tiny,1,,here,"), "deviation “tiny”"),
        (_with(1, '1.005,mm,"0,1",1,,here,'), "with a point"),
        (_with(1, "1.005,mm,150,1,,here,"), "µm, not nm"),
        (_with(1, "1.006,mm,0.1,1,,here,"), "none of that length"),
        (_with(1, ROWS[2]), "second time"),
        ("\n".join(ROWS[:5]), "have no row"),
        (_with(1, "1.005,mm,0.1,1,,stolen,"), "state “stolen”"),
        (_with(1, "1.005,mm,0.1,9,,here,"), "more than one grade"),
        ("\n".join(ROWS).replace(",1,,here", ",1,20.4.26,here"), "year-month-day"),
        ("\n".join(ROWS).replace(",1,,here", ",9,,here"), "ISO 3650 knows"),
        ("nominal,unit,deviation_um\n" + "x" * 3_000_000, "lines at most"),
        ('nominal,unit,deviation_um\n"1.005,mm', "cells for|cannot be read"),
    ],
)
def test_a_bad_calibration_is_refused_whole(text: str, said: str) -> None:
    with pytest.raises(ShopError, match=said):
        read_block_csv(text, BOX)


@pytest.mark.parametrize("nominals", [("1", "1.0"), ("0",), ("1,5",)])
def test_boxes_that_cannot_be(nominals: tuple[str, ...]) -> None:
    with pytest.raises(ShopError):
        GaugeSet(id="x", name="Own box", blocks=tuple(Block(nominal=n) for n in nominals))


# --- angle blocks -----------------------------------------------------------------------------------------------------


def test_angle_blocks_against_every_choice() -> None:
    box = AngleBlockSet(id="a", name="Few", blocks=tuple(Block(nominal=n) for n in ("41°", "9°", "3°", "27'", "9'", '30"')))
    sizes = [angle_of_block(b.nominal) for b in box.blocks]
    every = [
        (sum(s * v for s, v in zip(signs, sizes, strict=True)), sum(map(abs, signs)))
        for signs in itertools.product((0, 1, -1), repeat=len(sizes))
    ]
    for wanted in random.Random(2).sample(range(1, 190_000), 60):
        found = best_angle_stack(box, wanted)
        error, count = min((abs(t - wanted), c) for t, c in every)
        assert (abs(found.error_arcsec), found.count) == (error, count)
        assert sum(map(angle_of_block, found.plus)) - sum(map(angle_of_block, found.minus)) == wanted + found.error_arcsec


def test_the_thirteen_make_every_three_seconds_to_their_reach() -> None:
    box = owned_angle_set("a", "Thirteen", "angle 13")
    for degrees, minutes in ((53, 14), (32, 30), (7, 45)):
        assert best_angle_stack(box, (degrees * 60 + minutes) * 60).error_arcsec == 0


@pytest.mark.parametrize("nominal", ["", "9", "x°", "0'", "²°", "1.5°", "999999°"])
def test_angle_blocks_that_cannot_be(nominal: str) -> None:
    with pytest.raises(ShopError):
        angle_of_block(nominal)


# --- laying and unsureness --------------------------------------------------------------------------------------------


def test_uncertainty_by_hand() -> None:
    """Grade 1 limits of ISO 3650: 70 mm 0.5 µm, 10 mm 0.2, 1.11 mm 0.2; two joints of 0.05; 0.5 K over 81.11 mm of steel."""
    limits = [block_u_um(v, "1") for v in (70.0, 10.0, 1.11)]
    assert limits == [0.5, 0.2, 0.2]
    found = stack_uncertainty(limits, height_mm=81.11, difference_k=0.5, expansion_um_m_k=11.5)
    assert found.worst_um == pytest.approx(0.9 + 0.1 + 0.4664, abs=1e-4)
    assert found.rss_um == pytest.approx((0.33 + 0.005 + 0.4664**2) ** 0.5, abs=1e-4)
    assert block_u_um(70.0, "1", 0.06) == 0.06


def test_laid_stacks_are_what_was_asked() -> None:
    """Every way to source a stack.

    What is laid adds up, wear blocks stand outside, a parallel at the bottom, the thickest next.
    """
    inch = owned_set("inch", "Inch box", "inch 36")
    parallel = Parallel(id="p", height_mm=24.995, thickness_mm=8, length_mm=150)
    for sources in (
        Sources(box=BOX),
        Sources(box=BOX, wear=2),
        Sources(box=BOX, second=inch),
        Sources(box=BOX, parallels=(parallel,)),
    ):
        stacks, _ = sources.best(80.105, 0.0003)
        assert stacks
        for built in stacks:
            assert built.height_mm == pytest.approx(80.105, abs=0.0003)
            assert lay(BOX, read_blocks(" ".join(built.names), sources, "stack"), sources.wear) == built
            kinds = [p.what for p in built.pieces]
            assert kinds.count("wear block") == sources.wear
            assert sources.wear == 0 or (kinds[0] == kinds[-1] == "wear block")
            lengths = [p.length_mm for p in built.blocks]
            assert lengths == sorted(lengths, reverse=True)


def test_calibration_moves_the_real_height() -> None:
    box = BOX.with_block(replace(BOX.block("30"), deviation_um=-0.12))
    built = lay(box, read_blocks("30 + 1.005", Sources(box=box), "stack"))
    assert built.height_mm == 31.005
    assert built.real_mm == pytest.approx(31.00488, abs=1e-9)
    assert [p.u_um for p in built.pieces] == [0.05, 0.2]  # calibrated, grade 1


def test_a_height_below_the_thinnest_block_stands_on_two() -> None:
    for rise in (0.005, 0.235, 0.7):
        found = Sources(box=BOX).raised(rise)
        assert found is not None
        upper, lower = found
        assert upper.height_mm - lower.height_mm == pytest.approx(rise, abs=1e-9)
        assert not set(upper.names) & set(lower.names)
    parallel = Parallel(id="p", height_mm=20, thickness_mm=8, length_mm=150)
    assert Sources(box=BOX, parallels=(parallel,)).raised(0.0) is None


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("2.5", "no block 2.5"),
        ("30 30", "twice"),
        ("60", "lent out, Bram"),
        ("30,5", "decimal with a point"),
        ("p20", "parallel 20"),
        ("9in", "no inch set"),
    ],
)
def test_typed_stacks_that_cannot_stand(text: str, said: str) -> None:
    box = BOX.with_block(replace(BOX.block("60"), state=BlockState.LENT, note="Bram"))
    with pytest.raises(EntryError, match=said):
        read_blocks(text, Sources(box=box), "stack")


def test_nothing_to_stand_on_the_wear_blocks() -> None:
    with pytest.raises(ShopError, match="wear blocks"):
        Sources(box=BOX, wear=2).best(3.9, 0.0)
