"""A set of gauge blocks as exact lengths."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from elbrix.quantities.errors import ShopError
from elbrix.standards.tables import not_in_table, table

_DECIMAL = re.compile(r"[0-9]{0,4}\.?[0-9]{1,6}|[0-9]{1,4}\.")
MM_PER = {"mm": Fraction(1), "in": Fraction(254, 10)}


def exact(text: str, where: str) -> Fraction:
    """A decimal text as an exact number.

    Raises:
        ShopError: Anything but a plain decimal; a comma is named.
    """
    plain = text.strip()
    if not _DECIMAL.fullmatch(plain):
        hint = "Write the decimal with a point" if "," in plain else "Write it as a plain decimal, for example 41.7265"
        raise ShopError(where, f"“{plain[:20]}” is no block length", "Blocks are decimals on their own grid", hint)
    return Fraction(plain)


@dataclass(frozen=True, slots=True)
class BlockSet:
    """Blocks by their nominal as printed on them, each there once."""

    name: str
    unit: str  #: "mm" or "in"
    blocks: tuple[str, ...]

    def __post_init__(self) -> None:
        if self.unit not in MM_PER:
            raise ShopError(self.name, f"unit “{self.unit}”", "Sets are in mm or in", "Give one of those")
        lengths = [exact(b, self.name) for b in self.blocks]
        if any(v <= 0 for v in lengths):
            raise ShopError(self.name, "a block of no length", "A block has a length", "Take it out of the list")
        if len(set(lengths)) != len(lengths):
            twice = next(b for b, v in zip(self.blocks, lengths, strict=True) if lengths.count(v) > 1)
            raise ShopError(
                self.name, f"{twice} is there twice", "One block is one length", "Take one away, or name the second set"
            )

    def lengths(self) -> tuple[Fraction, ...]:
        """In the set's unit, in the order of `blocks`."""
        return tuple(Fraction(b) for b in self.blocks)

    def without(self, names: list[str] | tuple[str, ...]) -> BlockSet:
        """The set with some blocks lent out, worn or in use.

        Raises:
            ShopError: A block that is not in the set.
        """
        gone = {exact(n, self.name) for n in names}
        have = set(self.lengths())
        if gone - have:
            raise ShopError(
                self.name,
                f"there is no block {float(next(iter(gone - have))):g}",
                "Only blocks of the set can be missing from it",
                "Check the list of missing blocks",
            )
        return BlockSet(self.name, self.unit, tuple(b for b in self.blocks if Fraction(b) not in gone))


def standard_set(name: str) -> BlockSet:
    """A set by name: "metric 88", "m88", "88", "inch 81".

    Raises:
        ShopError: No such set.
    """
    sets = table("block_sets")["sets"]
    digits = "".join(c for c in name if c.isdigit())
    for own, row in sets.items():
        if name.strip().lower() == own or (
            digits and own.endswith(f" {digits}") and name.strip().lower()[:1] in (*digits, own[0])
        ):
            return BlockSet(own, row["unit"], tuple(row["blocks"]))
    raise not_in_table("Block set", name, list(sets))
