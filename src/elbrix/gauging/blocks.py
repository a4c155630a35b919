"""A set of gauge blocks as exact lengths."""

from __future__ import annotations

from fractions import Fraction

from msgspec import Struct

from elbrix.quantities.decimals import parse_decimal
from elbrix.quantities.errors import ShopError
from elbrix.shop.gauges import check_lengths
from elbrix.standards.tables import not_in_table, table


class BlockSet(Struct, frozen=True):
    """Blocks by their nominal as printed on them, each there once."""

    name: str
    unit: str  #: "mm" or "in"
    blocks: tuple[str, ...]

    def __post_init__(self) -> None:
        check_lengths(self.name, self.unit, self.blocks)

    def lengths(self) -> tuple[Fraction, ...]:
        """In the set's unit, in the order of `blocks`."""
        return tuple(Fraction(b) for b in self.blocks)

    def without(self, names: list[str] | tuple[str, ...]) -> BlockSet:
        """The set with some blocks lent out, worn or in use.

        Raises:
            ShopError: A block that is not in the set.
        """
        gone = {parse_decimal(n, self.name) for n in names}
        have = set(self.lengths())
        if gone - have:
            raise ShopError(
                self.name,
                f"there is no block {float(next(iter(gone - have))):g}",
                "Only blocks of the set can be missing from it",
                "Check the list of missing blocks",
            )
        return BlockSet(self.name, self.unit, tuple(b for b in self.blocks if Fraction(b) not in gone))


def standard_set_names() -> tuple[str, ...]:
    """Every standard set, small ones first."""
    return tuple(sorted(table("block_sets")["sets"], key=lambda n: (n.split()[0] != "metric", int(n.split()[1]))))


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
