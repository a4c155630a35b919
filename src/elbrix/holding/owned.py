"""Whether what a layout takes is on the shelf in that number."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable

from msgspec import Struct

from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation
from elbrix.shop.shop import Shop
from elbrix.shop.slots import TSlot
from elbrix.shop.workholding import FastenerKind
from elbrix.standards.threads import Thread, known_thread


class ShelfUse(Struct, frozen=True):
    """What a thing takes from the shelf."""

    name: str  #: "strap clamp 100 × 30 × 18"
    owned: int
    taken: int = 1


def fasteners_use(
    shop: Shop,
    kind: FastenerKind,
    thread: Thread,
    *,
    taken: int = 1,
    slot: TSlot | None = None,
    long: tuple[float, float] = (0.0, math.inf),
) -> tuple[ShelfUse, ...]:
    """Nuts or screws of one thread; nothing when the shop lists none of the kind: they are not counted there.

    Args:
        slot: T-nuts only: those whose neck goes between its lips, as far as both are measured.
        long: Lengths in mm that will do.
    """
    listed = [f for f in shop.fasteners if f.kind is kind]
    if not listed or not taken:
        return ()
    lips = slot.neck.min if slot is not None and slot.neck is not None else math.inf
    owned = sum(
        f.count for f in listed if known_thread(f.thread) == thread and f.neck_mm <= lips and long[0] <= f.length_mm <= long[1]
    )
    length = f", {math.ceil(long[0])} to {math.floor(long[1])} long" if long[1] < math.inf else ""
    fits = f" that goes into the {slot.label}" if slot is not None else ""
    return (ShelfUse(f"{kind.value} {thread.shown}{length}{fits}", owned, taken),)


def shelf_check(uses: Iterable[ShelfUse]) -> Check | None:
    """One check over everything a layout takes; None when it takes nothing that is listed."""
    taken: Counter[str] = Counter()
    owned: dict[str, int] = {}
    for use in uses:
        taken[use.name] += use.taken
        owned[use.name] = use.owned
    if not taken:
        return None
    short = {name: n - owned[name] for name, n in taken.items() if n > owned[name]}
    words = "; ".join(f"{taken[name]} × {name} wanted, {owned[name] or 'none'} in Shop" for name in short)
    return Check(
        key="shelf",
        label="Hardware in stock",
        value=sum(short.values()),
        unit="",
        limits=Limits(no_above=0.0),
        text="all there" if not short else f"{sum(short.values())} short",
        reason=words + ": take others, or correct the count in Shop" if short else "everything is in Shop in that number",
        derivation=Derivation(
            "wanted − owned where more is wanted, added up",
            " + ".join(str(max(0, n - owned[name])) for name, n in sorted(taken.items())),
            "; ".join(f"{name}: {n} of {owned[name]}" for name, n in sorted(taken.items())),
        ),
    )
