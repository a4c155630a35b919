"""Gauge blocks, angle blocks and parallels as they lie in their boxes: what is here, lent out, worn or in a stack."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from fractions import Fraction

from msgspec import Struct
from msgspec.structs import replace

from elbrix.quantities.decimals import MM_PER, parse_decimal
from elbrix.quantities.errors import ShopError


class BlockState(StrEnum):
    """Where a block is, or why it is not used."""

    HERE = "here"
    LENT = "lent out"
    WORN = "worn"
    IN_USE = "in use"


class Block(Struct, frozen=True, kw_only=True):
    """One block: what is stamped on it, where it is, and what its calibration found."""

    nominal: str  #: exact decimal in the set's unit, as stamped; of an angle block "20'"
    state: BlockState = BlockState.HERE
    note: str = ""  #: "Tilda, since Monday", "the stack under the big sine plate"
    holder: str = ""  #: id of the setting that has it in its stack
    deviation_um: float | None = None  #: calibrated length less nominal; None: not calibrated

    @property
    def here(self) -> bool:
        return self.state is BlockState.HERE


def check_lengths(name: str, unit: str, nominals: Iterable[str]) -> tuple[Fraction, ...]:
    """Exact lengths of a set, in its unit.

    Raises:
        ShopError: A unit, a length or a doubled block that cannot be.
    """
    if unit not in MM_PER:
        raise ShopError(name, f"unit “{unit}”", "Sets are in mm or in", "Give one of those")
    texts = tuple(nominals)
    lengths = tuple(parse_decimal(t, name) for t in texts)
    seen: set[Fraction] = set()
    for text, length in zip(texts, lengths, strict=True):
        if length <= 0:
            raise ShopError(name, "a block of no length", "A block has a length", "Take it out of the list")
        if length in seen:
            raise ShopError(
                name, f"{text} is there twice", "One block is one length", "Take one away, or name the second set", entry=text
            )
        seen.add(length)
    return lengths


class GaugeSet(Struct, frozen=True, kw_only=True):
    """A box of gauge blocks."""

    id: str
    name: str
    unit: str = "mm"  #: "mm" or "in"
    blocks: tuple[Block, ...]
    grade: str = "1"  #: ISO 3650: "K", "0", "1" or "2"
    calibrated_on: str = ""  #: ISO date; empty: never
    calibration_u_um: float = 0.05  #: uncertainty of each calibrated length
    material: str = "steel"  #: expands like it

    def __post_init__(self) -> None:
        check_lengths(self.name, self.unit, (b.nominal for b in self.blocks))

    @property
    def calibrated(self) -> bool:
        return any(b.deviation_um is not None for b in self.blocks)

    @property
    def missing(self) -> tuple[Block, ...]:
        """Blocks that cannot go into a stack now."""
        return tuple(b for b in self.blocks if not b.here)

    def block(self, nominal: str) -> Block:
        """One block by its length, however many zeros it is written with.

        Raises:
            ShopError: The set has none of that length.
        """
        wanted = parse_decimal(nominal, self.name)
        for block in self.blocks:
            if parse_decimal(block.nominal, self.name) == wanted:
                return block
        raise ShopError(
            self.name, f"there is no block {nominal}", "Only blocks of the set can be looked for", "Check the digits and the set"
        )

    def with_block(self, block: Block) -> GaugeSet:
        """The set with one block's state or deviation replaced."""
        old = self.block(block.nominal)
        return replace(self, blocks=tuple(block if b is old else b for b in self.blocks))


class AngleBlockSet(Struct, frozen=True, kw_only=True):
    """A box of angle blocks, each wrung on either way round: it adds or takes away."""

    id: str
    name: str
    blocks: tuple[Block, ...]
    limit_arcsec: float = 2.0  #: how far any one may be off

    def __post_init__(self) -> None:
        sizes = [angle_of_block(b.nominal, self.name) for b in self.blocks]
        if len(set(sizes)) != len(sizes) or not self.limit_arcsec > 0:
            raise ShopError(self.name, "a doubled block or no limit", "One block is one angle", "Take the second one away")


def angle_of_block(nominal: str, where: str = "Angle block") -> int:
    """Whole seconds of arc of "41°", "27'" or '18"'.

    Raises:
        ShopError: Anything else, or nothing.
    """
    plain = nominal.strip()
    per = {"°": 3600, "'": 60, '"': 1}.get(plain[-1:], 0)
    digits = plain[:-1]
    if not per or not (digits.isascii() and digits.isdecimal() and len(digits) <= 5) or int(digits) == 0:
        raise ShopError(
            where, f"“{plain[:12]}” is no angle block", "It is stamped in degrees, minutes or seconds", "Write 41°, 27' or 18\""
        )
    return int(digits) * per


class Parallel(Struct, frozen=True, kw_only=True):
    """A pair of ground parallels, as measured."""

    id: str
    height_mm: float
    thickness_mm: float
    length_mm: float
    count: int = 2
    u_mm: float = 0.003  #: how far its height may be off what was measured

    def __post_init__(self) -> None:
        if not (self.height_mm > 0 and self.thickness_mm > 0 and self.length_mm > 0 and self.count >= 0):
            raise ShopError(
                "Parallel",
                "a size of nothing",
                "A parallel has a height, a thickness and a length",
                "Measure it",
                entry="height_mm",
            )

    @property
    def title(self) -> str:
        return f"{self.height_mm:g} × {self.thickness_mm:g} × {self.length_mm:g}"
