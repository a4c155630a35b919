"""How much of the work a vise's jaws bear on: what stands out to both sides of a bar, and where the jaws have to end."""

from __future__ import annotations

from typing import Final

from msgspec import Struct, field

from elbrix.making.pose import Lie

#: Work gripped over less than this comes out of a vise, mm; thin work, of which there is no more, over less than this share.
MIN_GRIP_MM: Final = 3.0
_OF_THIN: Final = 0.8
#: How far below the deepest cut the jaws may end, as one would like it first, mm.
BELOW_MM: Final = (2.0, 1.5, 1.0, 0.5)
#: Sides that differ by less are met together, mm.
TOGETHER_MM: Final = 0.05


class Band(Struct, frozen=True):
    """A layer of the bar, the same all along: from how deep to how deep under A, how far it stands out to B and to D, mm."""

    top_mm: float
    bottom_mm: float
    far_mm: float
    near_mm: float

    @property
    def high(self) -> float:
        return self.bottom_mm - self.top_mm


class Sides(Struct):
    """The bar across, as the setups so far have left it."""

    bands: list[Band] = field(default_factory=list)
    length_mm: float = 0.0

    def trim(self, up: str, at_mm: float) -> None:
        """One face milled over the whole length.

        Args:
            up: The face: A to D.
            at_mm: Where it is then: the depth under A's finished face, or how far B or D stand out.
        """
        top = at_mm if up == "A" else -float("inf")
        bottom = at_mm if up == "C" else float("inf")
        far = at_mm if up == "B" else float("inf")
        near = at_mm if up == "D" else float("inf")
        cut = [Band(max(b.top_mm, top), min(b.bottom_mm, bottom), min(b.far_mm, far), min(b.near_mm, near)) for b in self.bands]
        self.bands = [b for b in cut if b.high > 0]

    def step(self, up: str, depth_mm: float, far_mm: float, near_mm: float) -> None:
        """Both sides milled down from A or C, leaving so much standing to B and to D."""
        last = max((b.bottom_mm for b in self.bands), default=0.0)
        found = []
        for b in self.bands:
            edge = min(max(depth_mm if up == "A" else last - depth_mm, b.top_mm), b.bottom_mm)
            above, below = Band(b.top_mm, edge, b.far_mm, b.near_mm), Band(edge, b.bottom_mm, b.far_mm, b.near_mm)
            cut, left = (above, below) if up == "A" else (below, above)
            cut = Band(cut.top_mm, cut.bottom_mm, min(cut.far_mm, far_mm), min(cut.near_mm, near_mm))
            found += [v for v in ((cut, left) if up == "A" else (left, cut)) if v.high > 0]
        self.bands = found

    def tall(self, lie: Lie) -> float:
        """How high the work stands in a lie, mm."""
        if lie.up in ("E", "F"):
            return self.length_mm
        if lie.up in ("B", "D"):
            return max((b.far_mm for b in self.bands), default=0.0) + max((b.near_mm for b in self.bands), default=0.0)
        return max((b.bottom_mm for b in self.bands), default=0.0) - min((b.top_mm for b in self.bands), default=0.0)

    def gripped(self, lie: Lie, jaws_mm: float) -> float:
        """How high jaws bear that end so far below the zero of Z, on the side where it is less, mm.

        They shut until they meet what stands out furthest below their tops: a narrow neck beside a wide head is not touched.
        """
        if not self.bands:
            return 0.0
        if lie.up in ("E", "F"):
            return max(0.0, self.length_mm - jaws_mm)
        if lie.up in ("B", "D"):
            line = lie.zero[1] * (1 if lie.up == "B" else -1) - jaws_mm
            ends = (min(self.bands, key=lambda b: b.top_mm), max(self.bands, key=lambda b: b.bottom_mm))
            return max(0.0, min(line + (b.near_mm if lie.up == "B" else b.far_mm) for b in ends))
        line = -lie.zero[2] + (jaws_mm if lie.up == "A" else -jaws_mm)
        under = [
            Band(max(b.top_mm, line), b.bottom_mm, b.far_mm, b.near_mm)
            if lie.up == "A"
            else Band(b.top_mm, min(b.bottom_mm, line), b.far_mm, b.near_mm)
            for b in self.bands
        ]
        under = [b for b in under if b.high > 0]
        if lie.away in ("E", "F"):
            return sum(b.high for b in under)
        sides = ([b.far_mm for b in under], [b.near_mm for b in under])
        return min(
            sum(b.high for b, out in zip(under, side, strict=True) if out >= max(side, default=0.0) - TOGETHER_MM)
            for side in sides
        )

    def near_mm(self, lie: Lie, jaws_mm: float) -> float | None:
        """How far what stands above the jaws stands out toward you from the middle of the bar; None: nobody knows.

        Of a bar with a neck it may be the neck: the head beside it is between the jaws, where nothing can be touched.
        """
        if not self.bands or lie.up not in ("A", "C") or lie.away not in ("B", "D"):
            return None
        above = [b for b in self.bands if self._down(lie, b.top_mm if lie.up == "A" else b.bottom_mm) < jaws_mm - TOGETHER_MM]
        return max((b.near_mm if lie.away == "B" else b.far_mm for b in above), default=None)

    def jaws(self, lie: Lie, depth_mm: float) -> float:
        """Where the jaws end for a cut so deep: far below it when enough is left to hold, else closer, or under a step.

        Returns:
            Below the zero of Z, mm. What holds most when nothing holds enough: ask `gripped`.
        """
        edges = sorted(
            deep for b in self.bands for e in (b.top_mm, b.bottom_mm) if (deep := self._down(lie, e)) > depth_mm + BELOW_MM[-1]
        )
        places = [*(depth_mm + v for v in BELOW_MM), *edges]
        good = next((p for p in places if self.gripped(lie, p) >= MIN_GRIP_MM - 1e-9), None)
        return good if good is not None else max(places, key=lambda p: self.gripped(lie, p))

    def better(self, lie: Lie, than: Lie) -> bool:
        """Whether only one lie of two has enough in the jaws for a cut beside them."""
        holds, other = (self.gripped(v, self.jaws(v, 0.0)) >= wanted_mm(self.tall(v)) - 1e-9 for v in (lie, than))
        return holds and not other

    def _down(self, lie: Lie, depth_mm: float) -> float:
        """A depth under A as one under the zero of Z."""
        return depth_mm + lie.zero[2] if lie.up == "A" else -lie.zero[2] - depth_mm if lie.up == "C" else 0.0


def wanted_mm(tall_mm: float) -> float:
    """How much of work so high has to be in the jaws, mm."""
    return min(MIN_GRIP_MM, _OF_THIN * tall_mm)


def unheld_words(title: str, left: str) -> str:
    """What is said of work that too little of is in the jaws.

    Args:
        title: Of the setup.
        left: How much is in them, with its unit.
    """
    return (
        f"Little in the jaws at “{title}”: {left} under the cut. Hold it by its ends, stick a thin strip down on a flat plate, or"
        " leave a foot to be cut off last"
    )
