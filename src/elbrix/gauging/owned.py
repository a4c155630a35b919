"""A shop's own set: made from a standard one, its blocks that are here, and its calibration as a table in and out."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Final

from msgspec.structs import replace

from elbrix.exchange.csv_tables import csv_text, read_csv
from elbrix.gauging.blocks import BlockSet, standard_set
from elbrix.quantities.dates import read_date
from elbrix.quantities.decimals import parse_decimal
from elbrix.quantities.errors import ShopError
from elbrix.shop.gauges import AngleBlockSet, Block, BlockState, GaugeSet
from elbrix.standards.tables import not_in_table, table

_COLUMNS: Final = ("nominal", "unit", "deviation_um")
_OPTIONAL: Final = ("grade", "calibrated_on", "state", "note")
_LARGEST_UM: Final = 100.0


def owned_set(id: str, name: str, standard: str, grade: str = "1") -> GaugeSet:
    """A whole box of a standard set, every block here.

    Raises:
        ShopError: No such standard set.
    """
    found = standard_set(standard)
    return GaugeSet(id=id, name=name, unit=found.unit, blocks=tuple(Block(nominal=b) for b in found.blocks), grade=grade)


def standard_angle_set(name: str) -> tuple[str, ...]:
    """Blocks of "angle 13" or "angle 16".

    Raises:
        ShopError: No such set.
    """
    sets = table("block_sets")["angle_sets"]
    if name.strip().lower() not in sets:
        raise not_in_table("Angle block set", name, list(sets))
    return tuple(sets[name.strip().lower()])


def owned_angle_set(id: str, name: str, standard: str) -> AngleBlockSet:
    """A whole box of a standard set."""
    return AngleBlockSet(id=id, name=name, blocks=tuple(Block(nominal=n) for n in standard_angle_set(standard)))


def usable(box: GaugeSet, *, holder: str = "") -> BlockSet:
    """The blocks that can go into a stack now: those that are here, and those `holder` has in its own stack already."""
    return BlockSet(box.name, box.unit, tuple(b.nominal for b in box.blocks if b.here or (holder and b.holder == holder)))


def deviations_um(box: GaugeSet) -> dict[str, float]:
    """Calibrated deviation by block, of those that have one."""
    return {b.nominal: b.deviation_um for b in box.blocks if b.deviation_um is not None}


def write_block_csv(box: GaugeSet) -> str:
    """The set as a table: nominal, unit, deviation_um, grade, calibrated_on, state, note."""
    rows = [
        (
            b.nominal,
            box.unit,
            "" if b.deviation_um is None else f"{b.deviation_um:g}",
            box.grade,
            box.calibrated_on,
            b.state.value,
            b.note,
        )
        for b in box.blocks
    ]
    return csv_text([*_COLUMNS, *_OPTIONAL], rows)


def read_block_csv(text: str, box: GaugeSet) -> GaugeSet:
    """A calibration laid onto a set. Every block of the set needs its row; nothing is taken when one row is wrong.

    Raises:
        ShopError: What is wrong, with the line: separators, commas as decimals, units, unknown, doubled or missing blocks.
    """
    where = f"Calibration of {box.name}"
    rows = read_csv(text, where, _COLUMNS, _OPTIONAL)
    new: dict[Fraction, Block] = {}
    known = {Fraction(b.nominal): b for b in box.blocks}
    grades, dates = set(), set()
    for line, row in rows:
        here = f"{where}, line {line}"
        if row["unit"] != box.unit:
            raise ShopError(
                here,
                f"unit “{row['unit'][:8]}”",
                f"The set is in {box.unit}",
                "Check which set the file is for; nothing was taken",
            )
        length = parse_decimal(row["nominal"], here)
        if length not in known:
            raise ShopError(
                here,
                f"a block {row['nominal']}",
                f"{box.name} has none of that length",
                "Check which set the file is for; nothing was taken",
            )
        if length in new:
            raise ShopError(
                here,
                f"{row['nominal']} for the second time",
                "Each block has one row",
                "Take one of them away; nothing was taken",
            )
        old = known[length]
        state = row.get("state", "") or old.state.value
        if state not in set(BlockState):
            raise ShopError(
                here, f"state “{state[:12]}”", "A block is " + ", ".join(BlockState), "Write one of those; nothing was taken"
            )
        new[length] = replace(
            old,
            deviation_um=_deviation(row["deviation_um"], here),
            state=BlockState(state),
            note=row.get("note", old.note)[:200].removeprefix("'"),
        )
        grades.add(row.get("grade", "") or box.grade)
        dates.add(row.get("calibrated_on", ""))
    missing = [b.nominal for b in box.blocks if Fraction(b.nominal) not in new]
    if missing:
        raise ShopError(
            where,
            f"{len(missing)} block{'s have' if len(missing) > 1 else ' has'} no row:"
            f" {', '.join(missing[:6])}{' …' if len(missing) > 6 else ''}",
            "A half calibrated set would be ranked wrongly",
            "Add the rows, with an empty deviation where there is none; nothing was taken",
        )
    grade, date = _one(grades, "grade", where), _one(dates - {""} or {""}, "date", where)
    if grade not in table("gauge_blocks")["limits_um"]:
        raise ShopError(where, f"grade “{grade[:8]}”", "ISO 3650 knows K, 0, 1 and 2", "Write one of those; nothing was taken")
    date = read_date(date, where)
    return replace(box, blocks=tuple(new[Fraction(b.nominal)] for b in box.blocks), grade=grade, calibrated_on=date)


def _deviation(text: str, where: str) -> float | None:
    plain = text.replace("−", "-").removeprefix("'")
    if not plain:
        return None
    try:
        value = float(plain) if len(plain) <= 12 else math.nan
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        hint = "Write the decimal with a point" if "," in plain else "Write it in µm, for example -0.07"
        raise ShopError(where, f"deviation “{plain[:12]}”", "It is a number of µm", f"{hint}; nothing was taken")
    if abs(value) > _LARGEST_UM:
        raise ShopError(
            where,
            f"a deviation of {value:g} µm",
            "A block that far off is none any more",
            "Check the unit: µm, not nm; nothing was taken",
        )
    return value


def _one(values: set[str], what: str, where: str) -> str:
    if len(values) > 1:
        raise ShopError(
            where,
            f"more than one {what}: {', '.join(sorted(values))}",
            "A set is calibrated as one",
            "Split the file; nothing was taken",
        )
    return next(iter(values), "")
