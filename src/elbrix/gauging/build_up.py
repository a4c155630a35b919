"""Stacks as they are laid on the table, from the shop's own boxes: which pieces, in which order, how high they really are."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache
from typing import Final

import numpy as np
from msgspec import Struct

from elbrix.gauging.blocks import BlockSet
from elbrix.gauging.calibrated import MAX_CALIBRATED, CalibratedSolver
from elbrix.gauging.mixed import MixedSolver
from elbrix.gauging.owned import deviations_um, usable
from elbrix.gauging.pairs import pair
from elbrix.gauging.stacks import MAX_BLOCKS, StackSolver, solver_for
from elbrix.gauging.uncertainty import StackUncertainty, block_u_um, stack_uncertainty
from elbrix.quantities.decimals import MM_PER, parse_decimal
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.patterns import Pattern
from elbrix.results.figures import format_number
from elbrix.results.progress import Watch, unwatched
from elbrix.shop.gauges import GaugeSet, Parallel
from elbrix.standards.materials import material

#: Steel blocks expand so; used when the set's material is in no table.
STEEL_UM_M_K: Final = 11.5
_SPLIT: Final = Pattern(r"(?:[\s+;&]|,(?![0-9]))+")  # a comma before a digit is no parting: it was meant as a decimal
_UNIT: Final = Pattern(r"(?P<n>[0-9.]+) ?(?P<u>mm|in|\")")
_FINEST_MM: Final = 10**6
#: Wear blocks come with a set: their nominal by its unit.
WEAR_NOMINAL: Final = {"mm": "2", "in": "0.1"}
RANKS: Final = (("fewest", "the fewest blocks"), ("real", "the least real error, as calibrated"))
#: Blocks compared by their calibrated lengths at every keystroke; more are a search of their own.
_REAL_AT_ONCE: Final = 5


def to_exact(value_mm: float) -> Fraction:
    """A calculated height as an exact target, to a nanometre."""
    return Fraction(round(value_mm * _FINEST_MM), _FINEST_MM)


class StackPiece(Struct, frozen=True):
    """One piece of a stack."""

    name: str  #: as stamped
    exact_mm: Fraction  #: nominal
    real_mm: float  #: with its calibrated deviation
    u_um: float  #: how far it may be off
    what: str = "block"  #: "block", "wear block" or "parallel"
    box: str = ""  #: id of its set
    unit: str = "mm"

    @property
    def length_mm(self) -> float:
        return float(self.exact_mm)

    @property
    def words(self) -> str:
        """As it is called out when wringing."""
        plain = self.name if self.unit == "mm" else f"{self.name} in"
        return plain if self.what == "block" else f"{self.what} {plain}"


class BuiltStack(Struct, frozen=True):
    """A stack from bottom to top: a parallel first, wear blocks outside, the thickest block at the bottom."""

    pieces: tuple[StackPiece, ...]
    box: GaugeSet  #: the set it was asked from; pieces of a second set name theirs

    @property
    def height_mm(self) -> float:
        return float(sum((p.exact_mm for p in self.pieces), Fraction(0)))

    @property
    def real_mm(self) -> float:
        return math.fsum(p.real_mm for p in self.pieces)

    @property
    def real_sum(self) -> str:
        """Its pieces as they really are, to be added: "1.00208 + 1.00041"."""
        return " + ".join(format_number(p.real_mm, 5) for p in self.pieces)

    @property
    def blocks(self) -> tuple[StackPiece, ...]:
        """Without wear blocks and parallels."""
        return tuple(p for p in self.pieces if p.what == "block")

    @property
    def names(self) -> tuple[str, ...]:
        """Pieces as typed: with their unit when they are of a second set, "p20" for a parallel."""
        typed = (p for p in self.pieces if p.what != "wear block")
        return tuple(
            f"p{p.name}" if p.what == "parallel" else p.name if p.box == self.box.id else f"{p.name}{p.unit}" for p in typed
        )

    @property
    def words(self) -> str:
        mixed = len({p.unit for p in self.blocks}) > 1
        return " + ".join(
            f"parallel {p.name}" if p.what == "parallel" else f"{p.name} {p.unit}" if mixed and p.what == "block" else p.name
            for p in self.pieces
        )

    def uncertainty(self, difference_k: float = 0.0) -> StackUncertainty:
        """How far the stack may be off."""
        return stack_uncertainty(
            [p.u_um for p in self.pieces],
            height_mm=self.height_mm,
            difference_k=difference_k,
            expansion_um_m_k=expansion_um_m_k(self.box.material),
        )


def expansion_um_m_k(name: str) -> float:
    """Of a set's material."""
    try:
        return material(name).expansion_um_m_k
    except ShopError:
        return STEEL_UM_M_K


def laid_block(box: GaugeSet, nominal: str) -> StackPiece:
    """A block of a set, with its calibration when it has one.

    Raises:
        ShopError: The set has none of that length.
    """
    block = box.block(nominal)
    length = Fraction(block.nominal) * MM_PER[box.unit]
    u = block_u_um(float(length), box.grade, box.calibration_u_um if block.deviation_um is not None else None)
    return StackPiece(block.nominal, length, float(length) + (block.deviation_um or 0.0) / 1000, u, "block", box.id, box.unit)


def _ends(box: GaugeSet, wear: int) -> list[StackPiece]:
    nominal = WEAR_NOMINAL[box.unit]
    length = parse_decimal(nominal, "Wear block") * MM_PER[box.unit]
    return [StackPiece(nominal, length, float(length), block_u_um(float(length), box.grade), "wear block", "", box.unit)] * wear


def laid_parallel(parallel: Parallel) -> StackPiece:
    """A parallel as it was measured."""
    height = to_exact(parallel.height_mm)
    return StackPiece(f"{parallel.height_mm:g}", height, parallel.height_mm, parallel.u_mm * 1000, "parallel")


def lay(box: GaugeSet, pieces: Sequence[StackPiece], wear: int = 0) -> BuiltStack:
    """Blocks, and a parallel under them, as a stack. Wear blocks come from outside the set."""
    ends = _ends(box, wear)
    foot = [p for p in pieces if p.what == "parallel"]
    blocks = sorted((p for p in pieces if p.what == "block"), key=lambda b: -b.exact_mm)
    return BuiltStack((*foot, *ends[:1], *blocks, *ends[1:]), box)


class Sources(Struct, frozen=True, kw_only=True):
    """What a stack may be made of."""

    box: GaugeSet
    second: GaugeSet | None = None  #: a set of the other unit, when mixing is allowed
    parallels: tuple[Parallel, ...] = ()  #: when one may stand under the stack
    holder: str = ""  #: whose own blocks count as here
    wear: int = 0
    rank: str = "fewest"  #: "fewest" blocks first, or the least "real" error as calibrated

    @property
    def solver(self) -> StackSolver:
        return solver_for(usable(self.box, holder=self.holder))

    @property
    def step_mm(self) -> float:
        """Heights follow in this step."""
        return float(self.solver.tick * MM_PER[self.box.unit])

    @property
    def smallest_mm(self) -> float:
        """The thinnest block that can be used, on its wear blocks."""
        thinnest = min(usable(self.box, holder=self.holder).lengths()) * MM_PER[self.box.unit]
        return float(thinnest + self.worn_mm)

    @property
    def worn_mm(self) -> Fraction:
        """What the wear blocks at the ends of a stack take up."""
        return sum((e.exact_mm for e in _ends(self.box, self.wear)), Fraction(0))

    def best(self, target_mm: float, tolerance_mm: float, want: int = 8) -> tuple[tuple[BuiltStack, ...], tuple[BuiltStack, ...]]:
        """(stacks best first, nearest heights when there is none).

        Raises:
            ShopError: An empty box, or a target the wear blocks alone exceed.
        """
        worn = self.worn_mm
        target, tolerance = to_exact(target_mm) - worn, to_exact(tolerance_mm)
        if target <= 0:
            raise ShopError(
                "Stack",
                f"{format_number(target_mm, 4)} mm is not above the wear blocks",
                "They come off the height first",
                "Leave them away",
            )
        real = self.rank == "real" and self.box.calibrated
        found: list[tuple[float, float, float, BuiltStack]] = []
        for parallel in (None, *self.parallels):
            rest = target - (to_exact(parallel.height_mm) if parallel else 0)
            if rest <= 0:
                continue
            for blocks in self._stacks(rest, tolerance, want):
                built = lay(self.box, [*blocks, *([laid_parallel(parallel)] if parallel else [])], self.wear)
                off = round(abs((built.real_mm if real else built.height_mm) - target_mm), 9)
                count = len(built.pieces)
                found.append(
                    (off, count, built.uncertainty().rss_um, built) if real else (count, off, built.uncertainty().rss_um, built)
                )
        found.sort(key=lambda f: f[:3])
        stacks = tuple(f[3] for f in found[:want])
        return stacks, () if stacks else self._nearest(target)

    def _stacks(self, target_mm: Fraction, tolerance_mm: Fraction, want: int) -> list[list[StackPiece]]:
        if self.second is not None and usable(self.second, holder=self.holder).blocks:
            two = MixedSolver(self.solver, solver_for(usable(self.second, holder=self.holder)))
            boxes = {self.box.unit: self.box, self.second.unit: self.second}
            answer = two.best(target_mm, tolerance_mm=tolerance_mm, want=want)
            return [[laid_block(boxes[n.split()[1]], n.split()[0]) for n in s.blocks] for s in answer.stacks]
        per = MM_PER[self.box.unit]
        if self.rank == "real" and self.box.calibrated:
            least = self.solver.best(target_mm / per, tolerance=tolerance_mm / per, want=1)
            if not least.feasible:
                return []
            return self._calibrated(target_mm, tolerance_mm, min(_REAL_AT_ONCE, least.stacks[0].count + 1), want, unwatched)
        answer = self.solver.best(target_mm / per, tolerance=tolerance_mm / per, want=want)
        return [[laid_block(self.box, n) for n in s.blocks] for s in answer.stacks]

    def _calibrated(
        self, target_mm: Fraction, tolerance_mm: Fraction, most: int, want: int, watch: Watch
    ) -> list[list[StackPiece]]:
        solver = _calibrated_solver(usable(self.box, holder=self.holder), tuple(deviations_um(self.box).items()))
        answer = solver.best(target_mm, most=most, want=want, tolerance_mm=tolerance_mm, watch=watch)
        return [[laid_block(self.box, n) for n in s.blocks] for s in answer.stacks]

    def nearest_real(
        self, target_mm: float, tolerance_mm: float, watch: Watch = unwatched, want: int = 8
    ) -> tuple[BuiltStack, ...]:
        """The stacks of up to eight blocks of the first box with the least real error, best first. It may take seconds.

        Raises:
            ShopError: A target the wear blocks alone exceed.
            Stopped: When `watch` says so.
        """
        worn = self.worn_mm
        found = self._calibrated(to_exact(target_mm) - worn, to_exact(tolerance_mm), MAX_CALIBRATED, want, watch)
        return tuple(lay(self.box, blocks, self.wear) for blocks in found)

    def _nearest(self, target_mm: Fraction) -> tuple[BuiltStack, ...]:
        answer = self.solver.best(target_mm / MM_PER[self.box.unit], want=1)
        return tuple(
            lay(self.box, [laid_block(self.box, n) for n in s.blocks], self.wear) for s in answer.stacks + answer.nearest
        )

    def nearest_made(self, height_mm: float, most: int = 2, longest_mm: float = 0.0) -> float:
        """The height nearest to a wanted one that up to `most` blocks make, mm.

        Args:
            longest_mm: Heights above it are not looked at; 0: no limit.

        Raises:
            ShopError: No block is here.
        """
        tick = self.step_mm
        counts = self.solver.least_counts(math.ceil(longest_mm / tick) if longest_mm else None)
        made = np.flatnonzero(counts <= most)
        if not len(made):
            raise ShopError("Stack", "no block is here", "It settles on what they make", "Put blocks back in Shop")
        return float(made[np.argmin(np.abs(made * tick - height_mm))]) * tick

    def raised(self, target_mm: float) -> tuple[BuiltStack, BuiltStack] | None:
        """Two stacks S + target and S for both rolls, when the target is below the smallest block: the fewest pieces in all.

        S may be a parallel. The target is taken to the set's own step. None when no pair can be made.
        """
        per, solver = MM_PER[self.box.unit], self.solver
        step = solver.tick
        rise = Fraction(round(to_exact(target_mm) / per / step)) * step
        if rise <= 0:
            return None
        best: tuple[BuiltStack, BuiltStack] | None = None
        for parallel in self.parallels:
            if parallel.count < 1:
                continue
            stacks = self._stacks(to_exact(parallel.height_mm + target_mm), step * per / 2, 1)
            if stacks and (best is None or len(stacks[0]) + 1 < _pieces(best)):
                best = lay(self.box, stacks[0]), lay(self.box, [laid_parallel(parallel)])
        for base in sorted(usable(self.box, holder=self.holder).lengths()):
            most = (_pieces(best) if best else 9) - 1
            counts = solver.counts(int((base + rise) / step))
            if most < 2:
                break
            if not counts or (counts & -counts).bit_length() > most:
                continue
            try:
                found = pair(solver, (base + rise, base), min(most, MAX_BLOCKS))
            except ShopError:
                continue
            if found.feasible and found.blocks_total <= most:
                first, second = (lay(self.box, [laid_block(self.box, n) for n in names]) for names in (found.first, found.second))
                best = (first, second)
        return best


@lru_cache(maxsize=4)
def _calibrated_solver(blocks: BlockSet, deviations: tuple[tuple[str, float], ...]) -> CalibratedSolver:
    here = set(blocks.blocks)
    return CalibratedSolver(blocks, {name: off for name, off in deviations if name in here})


def _pieces(two: tuple[BuiltStack, BuiltStack]) -> int:
    return len(two[0].pieces) + len(two[1].pieces)


def read_blocks(text: str, sources: Sources, entry: str) -> list[StackPiece]:
    """Blocks typed as "50 + 25 + 1.23", "0.1001in" of a second set, "p20" for a parallel under them, each in its box and here.

    Raises:
        EntryError: A block that is none of the boxes, is there twice, or is lent out, worn or in another stack.
    """
    boxes = [b for b in (sources.box, sources.second) if b is not None]
    found: list[StackPiece] = []
    for word in _SPLIT.split(_UNIT.sub(lambda m: m["n"] + ("in" if m["u"] == '"' else m["u"]), text.strip())):
        if word[:1] == "p":
            parallel = next((p for p in sources.parallels if f"{p.height_mm:g}" == word[1:]), None)
            if parallel is None or any(f.what == "parallel" for f in found):
                raise EntryError(
                    "Stack",
                    f"parallel {word[1:8]}",
                    "One owned parallel may stand under the stack, when that is allowed",
                    "Check its height in Shop",
                    entry,
                )
            found.append(laid_parallel(parallel))
            continue
        unit = word[-2:] if word[-2:] in MM_PER else ""
        box = next((b for b in boxes if b.unit == unit), None if unit else boxes[0])
        if box is None:
            raise EntryError(
                "Stack",
                f"no {'metric' if unit == 'mm' else 'inch'} set is in use",
                f"Blocks come from {boxes[0].name}",
                "Choose a second set to mix them",
                entry,
            )
        try:
            block = box.block(word.removesuffix(unit))
            laid = laid_block(box, block.nominal)
        except ShopError as error:
            raise EntryError("Stack", error.what, error.why, error.do, entry) from None
        if laid in found:
            raise EntryError("Stack", f"{block.nominal} is in it twice", "The box has one of each", "Take another block", entry)
        if not block.here and block.holder != (sources.holder or " "):
            where = f", {block.note}" if block.note else ""
            raise EntryError(
                "Stack",
                f"{block.nominal} is {block.state.value}{where}",
                "Only blocks that are here can be wrung",
                "Take another one, or put it back in Shop",
                entry,
            )
        found.append(laid)
    return found
