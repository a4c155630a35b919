"""Drill sizes: number, letter, fractional and metric."""

from __future__ import annotations

from fractions import Fraction

from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.quantities.names import DrillName
from elbrix.standards.tables import TableValue, not_in_table, table


def drill_mm(drill: DrillName) -> TableValue:
    """The diameter of a named drill in mm.

    Raises:
        ShopError: A number or letter that no drill has. A size that says itself is only read, not looked up.
    """
    data = table("drills")
    if drill.size_mm is not None:
        return TableValue(float(drill.size_mm), "mm", "the size itself; 1 in = 25.4 mm", "exact", drill.name)
    gauges = data["number_in"] if drill.name.startswith("#") else data["letter_in"]
    if drill.name not in gauges:
        raise not_in_table("Drill", drill.name, list(gauges))
    # Exact through Fraction: .2010 in is 5.1054 mm, not 5.105400000000001.
    return TableValue(float(Fraction(gauges[drill.name]) * Fraction(254, 10)), "mm", data["source"], data["kind"], drill.name)


def fraction_name(sixtyfourths: int) -> str:
    """27 sixty-fourths → "27/64", 32 → "1/2", 68 → "1 1/16"."""
    whole, rest = divmod(sixtyfourths, 64)
    part = Fraction(rest, 64)
    words = [str(whole)] if whole else []
    return " ".join([*words, f"{part.numerator}/{part.denominator}"] if rest else words)


def all_drills() -> list[tuple[str, float]]:
    """Every drill as (name, mm), thinnest first."""
    data = table("drills")
    found = [(name, float(inches) * MM_PER_INCH) for part in ("number_in", "letter_in") for name, inches in data[part].items()]
    found += [(fraction_name(n), n / 64 * MM_PER_INCH) for n in data["fraction_64ths"]]
    found += [(f"{size:g} mm", float(size)) for size in data["metric_mm"]]
    return sorted(found, key=lambda drill: drill[1])


def nearest_drills(size_mm: float, count: int = 3) -> list[tuple[str, float]]:
    """The drills nearest to a size, nearest first."""
    return sorted(all_drills(), key=lambda drill: abs(drill[1] - size_mm))[:count]
