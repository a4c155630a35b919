"""The cut log: how finishing cuts came out beside what was set, per machine, tool and material. mm."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date
from typing import Final

from msgspec import Struct

from elbrix.quantities.errors import ShopError
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import LENGTH_UNIT, length

#: Of a cut at least so much has to come off, or it did not cut: the edge rubbed, pushed the metal aside, and springs back.
_CAME_OFF: Final = 0.5
#: So many cuts tell what may be depended on.
_ENOUGH: Final = 3
#: Cuts that come out further beside what was set than this share of themselves are not to be foretold by.
_WILD: Final = (0.25, 0.5)


class LoggedCut(Struct, frozen=True, kw_only=True):
    """One finishing cut that was measured."""

    id: str
    machine: str  #: its id
    tool: str  #: as the plan calls it
    material: str
    set_mm: float  #: the cut that was set, on the size: of a diameter on the diameter
    off_mm: float  #: how far the size came out beside what was set, + over
    rpm: float = 0.0
    on: str = ""  #: ISO date
    notes: str = ""  #: fluid, finish, what was heard

    def __post_init__(self) -> None:
        if not (math.isfinite(self.set_mm) and self.set_mm > 0):
            raise ShopError(
                "Cut log",
                f"a cut of {length(self.set_mm)} {LENGTH_UNIT}",
                "A cut takes something off",
                "Enter what was set",
                "set_mm",
            )

    @property
    def title(self) -> str:
        return f"{self.tool} in {self.material} on {self.machine}"

    @property
    def alike(self) -> tuple[str, str, str]:
        """Cuts that tell of one another."""
        return (self.machine, self.tool, self.material)

    @property
    def share(self) -> float:
        """How far it came out off, as a share of the cut."""
        return abs(self.off_mm) / self.set_mm


class Experience(Struct, frozen=True):
    """What a shop knows of cuts of one sort."""

    cuts: tuple[LoggedCut, ...]

    @property
    def mean_mm(self) -> float:
        """How far they come out beside what is set."""
        return sum(c.off_mm for c in self.cuts) / len(self.cuts) if self.cuts else 0.0

    @property
    def spread_mm(self) -> float:
        if len(self.cuts) < 2:
            return 0.0
        return math.sqrt(sum((c.off_mm - self.mean_mm) ** 2 for c in self.cuts) / (len(self.cuts) - 1))

    @property
    def least_mm(self) -> float | None:
        """The smallest cut that may be depended on: it and every larger one took off half of itself or more; None: not known."""
        if len(self.cuts) < _ENOUGH:
            return None
        least: float | None = None
        for cut in sorted(self.cuts, key=lambda c: -c.set_mm):
            if cut.share > _CAME_OFF:
                break
            least = cut.set_mm
        return least


def experience(cuts: Iterable[LoggedCut], machine: str, tool: str, material: str) -> Experience:
    """Of one machine, tool and material, in the order they were made."""
    found = [c for c in cuts if c.alike == (machine, tool, material)]
    return Experience(tuple(sorted(found, key=lambda c: (c.on, c.id))))


def cut_checks(cut: LoggedCut, all_cuts: Iterable[LoggedCut]) -> list[Check]:
    """What the cuts alike say: how far they come out, how much they scatter, and the smallest to depend on."""
    known, n = experience(all_cuts, *cut.alike), format_number
    least = known.least_mm
    largest = max((c.set_mm for c in known.cuts), default=cut.set_mm)
    wild = known.spread_mm / largest
    return [
        Check(
            key="mean",
            label="Come out beside what is set",
            value=known.mean_mm,
            unit="mm",
            step=0.001,
            limits=Limits(),
            figures=("off_mm",),
            reason=f"{len(known.cuts)} cuts of this sort: the next is set as much the other way",
            derivation=Derivation("mean", f"({' + '.join(n(c.off_mm, 4) for c in known.cuts[-8:])})/{len(known.cuts)}"),
        ),
        Check(
            key="spread",
            label="Scatter of one cut, of the largest",
            value=100 * wild,
            unit="%",
            limits=Limits(marginal_above=100 * _WILD[0], no_above=100 * _WILD[1]),
            figures=("off_mm", "set_mm"),
            reason=(
                f"±{length(known.spread_mm, 3)}: the last number can be foretold"
                if wild <= _WILD[0]
                else f"±{length(known.spread_mm, 3)}: measure twice, and leave a cut more"
            ),
            derivation=Derivation("standard deviation/largest cut", f"{n(known.spread_mm, 4)}/{n(largest, 4)}"),
        ),
        Check(
            key="least",
            label="Smallest dependable cut",
            value=least or 0.0,
            unit="mm",
            step=0.005,
            text="" if least is not None else "not known yet" if len(known.cuts) < _ENOUGH else "none of these",
            limits=Limits(),
            figures=("set_mm",),
            reason=(
                "finer ones are not planned on this machine with this tool: what is left is stoned, honed or ground"
                if least is not None
                else f"{_ENOUGH} measured cuts tell"
            ),
            derivation=Derivation(
                "the smallest of those that took off half of themselves or more, as all larger did", str(len(known.cuts))
            ),
        ),
    ]


def today() -> str:
    """For the log."""
    return date.today().isoformat()
