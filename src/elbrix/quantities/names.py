"""Thread and drill names taken apart. What they mean in millimetres is looked up in `standards`."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import LONGEST_ENTRY, clip, tidy
from elbrix.quantities.patterns import Pattern

_METRIC: Final = Pattern(r"[Mm] ?(?P<d>[0-9]{1,3}(?:\.[0-9]{1,2})?)(?: ?[xX*] ?(?P<p>[0-9](?:\.[0-9]{1,3})?))?")
_INCH: Final = Pattern(
    r"(?:(?P<gauge>#[0-9]{1,2}|[Nn]o\.? ?[0-9]{1,2})|(?P<size>(?:[0-9]{1,2}[ -])?[0-9]{1,2}/[0-9]{1,2}|[0-9]{1,2}))"
    r"\"? ?- ?(?P<tpi>[0-9]{1,2}(?:\.5)?)(?: ?(?P<series>UNC|UNF|unc|unf))?"
)
_LETTER: Final = Pattern(r"[A-Za-z]")
_GAUGE: Final = Pattern(r"(?:#|[Nn]o\.? ?)(?P<n>[0-9]{1,3})")
_FRACTION: Final = Pattern(r"(?:(?P<w>[0-9]{1,2}) )?(?P<a>[0-9]{1,3})/(?P<b>[0-9]{1,3}) ?(?:\"|in|inch)?")
_DECIMAL: Final = Pattern(r"(?P<v>[0-9]{0,3}\.?[0-9]{1,4}) ?(?P<u>mm|in|\")?")


class ThreadName(Struct, frozen=True):
    """A thread as named: metric with a pitch in mm, or inch with threads per inch."""

    size: str  #: "M8", "1/2", "#10"
    pitch_mm: float | None = None  #: None: the coarse one
    tpi: float | None = None  #: None for metric

    @property
    def metric(self) -> bool:
        return self.tpi is None

    def __str__(self) -> str:
        if self.tpi is not None:
            return f"{self.size}-{self.tpi:g}"
        return self.size if self.pitch_mm is None else f"{self.size}x{self.pitch_mm:g}"


def parse_thread(text: str, where: str = "Thread") -> ThreadName:
    """Read `M8`, `M8x1.25`, `1/2-13`, `1/4-20 UNC`, `#10-32`.

    Raises:
        EntryError: No thread name; a name in no standard is only refused on look-up.
    """
    example = "Write M8, M8x1.25, 1/2-13 or #10-32"
    if len(text) > LONGEST_ENTRY:
        raise EntryError(
            where,
            f"{len(text):,} characters cannot be one thread name",
            f"An entry has {LONGEST_ENTRY} characters at most",
            example,
        )
    plain = " ".join(text.replace("×", "x").replace("”", '"').replace("″", '"').replace("−", "-").replace("–", "-").split())
    if match := _METRIC.fullmatch(plain):
        pitch = float(match["p"]) if match["p"] else None
        if float(match["d"]) <= 0 or pitch == 0:
            raise EntryError(where, f"{clip(plain)} has a size of nothing", "A thread has a diameter and a pitch", example)
        return ThreadName(f"M{float(match['d']):g}", pitch_mm=pitch)
    if match := _INCH.fullmatch(plain):
        if float(match["tpi"]) == 0:
            raise EntryError(where, f"{clip(plain)} has no threads per inch", "An inch thread needs a count", example)
        size = match["size"].replace("-", " ") if match["size"] else "#" + re.sub(r"[^0-9]", "", match["gauge"])
        return ThreadName(size, tpi=float(match["tpi"]))
    raise EntryError(
        where,
        f"{clip(plain)} is no thread name",
        "Metric names begin with M, inch names have a size and threads per inch",
        example,
    )


class DrillName(Struct, frozen=True):
    """A drill as named: a number or letter gauge to look up, or a size that says itself."""

    name: str  #: "#7", "F", "1/4", "6.8"
    size_mm: Fraction | None  #: None for number and letter drills


def parse_drill(text: str, unit: str = "mm", where: str = "Drill") -> DrillName:
    """Read `#7`, `F`, `1/4`, `6.8` (in `unit`) or `6.8 mm`.

    Raises:
        EntryError: No drill name.
    """
    example = "Write #7, F, 1/4 or 6.8"
    if len(text) > LONGEST_ENTRY:
        raise EntryError(
            where, f"{len(text):,} characters cannot be one drill", f"An entry has {LONGEST_ENTRY} characters at most", example
        )
    plain = " ".join(tidy(text).split())
    if match := _GAUGE.fullmatch(plain):
        return DrillName(f"#{int(match['n'])}", None)
    if _LETTER.fullmatch(plain):
        return DrillName(plain.upper(), None)
    if match := _FRACTION.fullmatch(plain):
        if int(match["b"]) == 0:
            raise EntryError(where, f"{clip(plain)} is over zero", "A fraction needs a number under the stroke", example)
        inches = int(match["w"] or 0) + Fraction(int(match["a"]), int(match["b"]))
        if inches <= 0:
            raise EntryError(where, f"{clip(plain)} is no size", "A drill is thicker than nothing", example)
        return DrillName(plain.rstrip('" inch'), inches * Fraction(254, 10))
    if (match := _DECIMAL.fullmatch(plain)) and match["v"] != ".":
        per = Fraction(254, 10) if (match["u"] or unit) in ("in", '"') else Fraction(1)
        size = Fraction(match["v"]) * per
        if size > 0:
            return DrillName(match["v"], size)
    raise EntryError(where, f"{clip(plain)} is no drill", "Drills are named by number, letter, fraction or size", example)
