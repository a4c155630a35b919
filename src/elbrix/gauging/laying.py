"""Stacks as they are laid on the table, from the shop's own box: which pieces, in which order, how high they really are."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Final

from elbrix.gauging.owned import deviations_um, usable
from elbrix.gauging.pairs import pair
from elbrix.gauging.stacks import Stack, solver_for
from elbrix.gauging.uncertainty import StackUncertainty, stack_uncertainty
from elbrix.quantities.decimals import MM_PER, exact
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.figures import num
from elbrix.shop.gauges import GaugeSet
from elbrix.standards.materials import material

#: Steel blocks expand so; used when the set's material is in no table.
STEEL_UM_M_K: Final = 11.5
_SPLIT: Final = re.compile(r"[\s+;,&]+")
_FINEST_MM: Final = 10**6


def to_exact(value_mm: float) -> Fraction:
    """A calculated height as an exact target, to a nanometre."""
    return Fraction(round(value_mm * _FINEST_MM), _FINEST_MM)


@dataclass(frozen=True, slots=True)
class Laid:
    """One piece of a stack."""

    name: str  #: as stamped
    length_mm: float  #: nominal
    real_mm: float  #: with its calibrated deviation
    what: str = "block"  #: "block" or "wear block"


@dataclass(frozen=True, slots=True)
class Built:
    """A stack from bottom to top: wear blocks outside, the thickest at the bottom."""

    pieces: tuple[Laid, ...]
    box: GaugeSet

    @property
    def height_mm(self) -> float:
        return float(sum((Fraction(str(p.length_mm)) for p in self.pieces), Fraction(0)))

    @property
    def real_mm(self) -> float:
        return sum(p.real_mm for p in self.pieces)

    @property
    def names(self) -> tuple[str, ...]:
        """Blocks of the box in it, thickest first."""
        return tuple(p.name for p in self.pieces if p.what == "block")

    @property
    def words(self) -> str:
        return " + ".join(p.name for p in self.pieces)

    def uncertainty(self, difference_k: float = 0.0) -> StackUncertainty:
        """How far the stack may be off."""
        known = deviations_um(self.box)
        return stack_uncertainty(
            [p.length_mm for p in self.pieces],
            self.box.grade,
            calibration_u_um=[self.box.calibration_u_um if p.what == "block" and p.name in known else None for p in self.pieces],
            difference_k=difference_k,
            expansion_um_m_k=expansion_um_m_k(self.box.material),
        )


def expansion_um_m_k(name: str) -> float:
    """Of a set's material."""
    try:
        return material(name).expansion_um_m_k
    except ShopError:
        return STEEL_UM_M_K


def lay(box: GaugeSet, names: Sequence[str], wear: int = 0, wear_nominal: str = "2") -> Built:
    """Named blocks as a stack. Wear blocks come from outside the set.

    Raises:
        ShopError: A block the set does not have.
    """
    per = MM_PER[box.unit]
    blocks = []
    for block in sorted((box.block(n) for n in names), key=lambda b: -Fraction(b.nominal)):
        length = float(Fraction(block.nominal) * per)
        blocks.append(Laid(block.nominal, length, length + (block.deviation_um or 0.0) / 1000))
    worn = float(exact(wear_nominal, "Wear block") * per)
    ends = [Laid(wear_nominal, worn, worn, "wear block")] * wear
    return Built((*ends[:1], *blocks, *ends[1:]), box)


def best_builds(
    box: GaugeSet,
    target_mm: float,
    tolerance_mm: float,
    *,
    holder: str = "",
    wear: int = 0,
    wear_nominal: str = "2",
    want: int = 8,
) -> tuple[tuple[Built, ...], tuple[Built, ...]]:
    """(stacks best first, nearest heights when there is none) from the blocks that are here or held by `holder` itself.

    Raises:
        ShopError: An empty box, or a target the wear blocks alone exceed.
    """
    per = MM_PER[box.unit]
    target = to_exact(target_mm) / per - wear * exact(wear_nominal, "Wear block")
    if target <= 0:
        raise ShopError(
            "Stack", f"{num(target_mm, 4)} mm is not above the wear blocks", "They come off the height first", "Leave them away"
        )
    found = solver_for(usable(box, holder=holder)).best(target, tolerance=to_exact(tolerance_mm) / per, want=want)

    def laid(stacks: tuple[Stack, ...]) -> tuple[Built, ...]:
        return tuple(lay(box, s.blocks, wear, wear_nominal) for s in stacks)

    return laid(found.stacks), laid(found.nearest)


def smallest_mm(box: GaugeSet, holder: str = "") -> float:
    """The thinnest block that can be used."""
    return float(min(usable(box, holder=holder).lengths()) * MM_PER[box.unit])


def raised(box: GaugeSet, target_mm: float, holder: str = "") -> tuple[Built, Built] | None:
    """Two stacks S and S + target for both rolls, when the target is below the smallest block: the fewest blocks in all.

    The target is taken to the set's own step. None when no pair can be made.
    """
    per = MM_PER[box.unit]
    blocks = usable(box, holder=holder)
    solver = solver_for(blocks)
    step = solver.tick
    rise = Fraction(round(to_exact(target_mm) / per / step)) * step
    best: tuple[Built, Built] | None = None
    for base in sorted(blocks.lengths()):
        if rise <= 0 or (best is not None and len(best[0].pieces) + len(best[1].pieces) <= 2):
            break
        most = len(best[0].pieces) + len(best[1].pieces) - 1 if best is not None else 8
        counts = solver.counts(int((base + rise) / step))
        if not counts or (counts & -counts).bit_length() - 1 > most - 1:
            continue
        try:
            found = pair(solver, (base, base + rise), most)
        except ShopError:
            continue
        if found.feasible and (best is None or found.blocks_total < len(best[0].pieces) + len(best[1].pieces)):
            best = lay(box, found.first), lay(box, found.second)
    return best


def read_blocks(text: str, box: GaugeSet, holder: str, entry: str) -> tuple[str, ...]:
    """Blocks typed as "50 + 25 + 1.23", each in the box and here.

    Raises:
        EntryError: A block that is none of the box, is there twice, or is lent out, worn or in another stack.
    """
    names: list[str] = []
    for word in _SPLIT.split(text.strip()):
        try:
            block = box.block(word)
        except ShopError as error:
            raise EntryError("Stack", error.what, error.why, error.do, entry) from None
        if block.nominal in names:
            raise EntryError("Stack", f"{block.nominal} is in it twice", "The box has one of each", "Take another block", entry)
        if not block.here and block.holder != holder:
            where = f", {block.note}" if block.note else ""
            raise EntryError(
                "Stack",
                f"{block.nominal} is {block.state.value}{where}",
                "Only blocks that are here can be wrung",
                "Take another one, or put it back in Shop",
                entry,
            )
        names.append(block.nominal)
    return tuple(names)
