"""ISO metric and unified inch threads: dimensions, tap drills, stress area, and which thread a measured one is."""

from __future__ import annotations

import math
from functools import cache
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.quantities.names import ThreadName, parse_drill, parse_thread
from elbrix.standards.drills import drill_mm
from elbrix.standards.tables import TableValue, not_in_table, table

#: Height of the sharp 60° triangle per pitch, and the basic profile's depths from it. Source: ISO 68-1, ASME B1.1.
_H: Final = math.sqrt(3) / 2
#: ASME numbered sizes: #0 is .060 in, each number .013 in more.
_NUMBER_BASE_IN, _NUMBER_STEP_IN = 0.060, 0.013


class Thread(Struct, frozen=True, order=True):
    """A standard thread, in mm."""

    major_mm: float
    pitch_mm: float
    name: str  #: "M10x1.5", "1/2-13"
    series: str  #: "coarse", "fine", "UNC", "UNF"
    tpi: float = 0.0  #: 0 for metric

    @property
    def metric(self) -> bool:
        return not self.tpi

    @property
    def shown(self) -> str:
        """As written on a drawing: "M10 × 1.5", "1/2-13 UNC"."""
        return self.name.replace("x", " × ") if self.metric else f"{self.name} {self.series}"

    @property
    def pitch_d_mm(self) -> float:
        """d2 = d − 3/4·H, H = √3/2·P."""
        return self.major_mm - 0.75 * _H * self.pitch_mm

    @property
    def minor_d_mm(self) -> float:
        """Basic minor diameter of the nut thread, D1 = D − 5/4·H."""
        return self.major_mm - 1.25 * _H * self.pitch_mm

    @property
    def stress_area_mm2(self) -> float:
        """π/4·(d − 0.9382·P)² (ISO 898-1), or π/4·(d − 0.9743/n)² for inch threads (ASME B1.1)."""
        less = 0.9743 if self.tpi else 0.9382
        return math.pi / 4 * (self.major_mm - less * self.pitch_mm) ** 2

    @property
    def tap_drill(self) -> tuple[str, float]:
        """Name and mm."""
        if self.metric:
            size = float(table("threads_metric")["tap_drill_mm"][self.name])
            return f"{size:g}", size
        name = table("threads_inch")["tap_drill"][self.name]
        return name, drill_mm(parse_drill(name, "in")).value


def _major_in(size: str) -> float:
    if size.startswith("#"):
        return _NUMBER_BASE_IN + _NUMBER_STEP_IN * int(size[1:])
    whole, _, part = size.rpartition(" ")
    over, _, under = part.partition("/")
    return float(whole or 0) + float(over) / float(under or 1)


@cache
def all_threads() -> tuple[Thread, ...]:
    """Every thread in the tables, thinnest first."""
    metric, inch = table("threads_metric"), table("threads_inch")
    found = [
        Thread(float(size[1:]), float(pitch), f"{size}x{pitch:g}", "coarse") for size, pitch in metric["coarse_pitch_mm"].items()
    ]
    found += [
        Thread(float(size[1:]), float(pitch), f"{size}x{pitch:g}", "fine")
        for size, pitches in metric["fine_pitches_mm"].items()
        for pitch in pitches
    ]
    for part, series in (("unc_tpi", "UNC"), ("unf_tpi", "UNF")):
        found += [
            Thread(round(_major_in(size) * MM_PER_INCH, 6), MM_PER_INCH / tpi, f"{size}-{tpi}", series, float(tpi))
            for size, tpi in inch[part].items()
        ]
    return tuple(sorted(found))


@cache
def find_thread(name: ThreadName, where: str = "Thread") -> Thread:
    """The standard thread of that name; a metric name without a pitch is the coarse one.

    Raises:
        ShopError: Not in the tables.
    """
    for thread in all_threads():
        if not name.metric or not thread.metric:
            if not name.metric and thread.name == str(name):
                return thread
        elif thread.name.split("x")[0] == name.size and (
            thread.series == "coarse" if name.pitch_mm is None else math.isclose(thread.pitch_mm, name.pitch_mm)
        ):
            return thread
    alike = [
        t.name
        for t in all_threads()
        if t.metric == name.metric and (t.name.split("x")[0] == name.size or t.name.rpartition("-")[0] == name.size)
    ]
    raise not_in_table(
        where, str(name), alike or [t.name for t in all_threads() if t.metric == name.metric and t.series in ("coarse", "UNC")]
    )


def first_choice() -> tuple[Thread, ...]:
    """First-choice metric coarse threads, thinnest first. Source: ISO 261 column 1."""
    names = set(table("threads_metric")["first_choice"])
    return tuple(t for t in all_threads() if t.metric and t.series == "coarse" and t.name.split("x")[0] in names)


class ThreadMatch(Struct, frozen=True):
    """A candidate for a measured thread."""

    thread: Thread
    off_major: float  #: measured over nominal, less 1
    off_pitch: float
    score: float  #: smaller fits better

    @property
    def likely(self) -> bool:
        return self.score < 1.0


def which_thread(major_mm: float, pitch_mm: float, count: int = 4) -> list[ThreadMatch]:
    """Rank the standard threads a measured one may be, best first.

    A real screw measures 0 to 2.5 % under its nominal diameter, so a reading above nominal counts four times as much as
    one below; a pitch read with a gauge is good to about 3 %.

    Raises:
        ShopError: A size that is no thread's.
    """
    if not (0.5 < major_mm < 200 and 0.05 < pitch_mm < 20):
        raise ShopError(
            "Which thread",
            f"{major_mm:g} mm with pitch {pitch_mm:g} mm is no thread",
            "Diameter and pitch are both needed, in mm",
            "Measure over the crests, and the pitch over ten threads",
        )
    found = []
    for thread in all_threads():
        off_major = major_mm / thread.major_mm - 1
        off_pitch = pitch_mm / thread.pitch_mm - 1
        worn = (off_major / 0.008) if off_major > 0 else (-off_major / 0.030)
        found.append(ThreadMatch(thread, off_major, off_pitch, math.hypot(worn, off_pitch / 0.03)))
    return sorted(found, key=lambda m: m.score)[:count]


def look_up(name: ThreadName, dim: str) -> TableValue:
    """One dimension of a thread: stress_area, minor_d or pitch_d."""
    thread = find_thread(name)
    values = {
        "stress_area": (thread.stress_area_mm2, "mm²"),
        "minor_d": (thread.minor_d_mm, "mm"),
        "pitch_d": (thread.pitch_d_mm, "mm"),
    }
    if dim not in values:
        raise not_in_table("Thread", dim, list(values))
    value, unit = values[dim]
    source = "ISO 724, ISO 898-1" if thread.metric else "ASME B1.1"
    return TableValue(value, unit, source, "standard", thread.shown)


def tap_drill(name: ThreadName) -> TableValue:
    """The tap drill for a thread, mm."""
    thread = find_thread(name)
    drill, size = thread.tap_drill
    return TableValue(size, "mm", str(table("threads_metric" if thread.metric else "threads_inch")["source"]), "standard", drill)


@cache
def known_thread(name: str) -> Thread | None:
    """The standard thread of a written name: "M10" and "M10x1.5" are the same; None for one in no table."""
    try:
        return find_thread(parse_thread(name))
    except ShopError:
        return None
