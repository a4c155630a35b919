"""Stacks asked for from the shop's boxes.

What every kind of setting that stands on blocks asks, and how a typed stack is read.
"""

from __future__ import annotations

from fractions import Fraction
from typing import Final

from msgspec import Struct

from elbrix.gauging.build_up import RANKS, BuiltStack, Sources, laid_block, lay, read_blocks, to_exact
from elbrix.gauging.owned import owned_set, usable
from elbrix.gauging.pairs import pair
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue, Values
from elbrix.quantities.decimals import MM_PER
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import Derivation, Origin
from elbrix.results.progress import Watch
from elbrix.shop.gauges import GaugeSet
from elbrix.shop.shop import Shop

_BORROWED: Final = "borrowed"
#: Share of the tolerance the choice of stack may use up, so that fewer blocks do.
STACK_SHARE: Final = 0.1
WEAR: Final = (("0", "none"), ("2", "one at each end"))


def owned_boxes(shop: Shop) -> tuple[GaugeSet, ...]:
    return shop.gauge_sets or (owned_set(_BORROWED, "an 88-piece set, assumed", "metric 88"),)


def box_parameters(shop: Shop) -> tuple[Parameter, ...]:
    """Where the blocks come from, in the order of asking; the stack itself last."""
    boxes = tuple((b.id, b.name) for b in owned_boxes(shop))
    return (
        Parameter(name="block_set", label="Block set", kind=Kind.CHOICE, unit="", choices=boxes, feature="stack"),
        Parameter(
            name="second_set",
            label="Second block set",
            kind=Kind.CHOICE,
            unit="",
            choices=(("", "no second set"), *boxes),
            usually="a set of the other unit, when mixing is allowed",
            feature="stack",
        ),
        Parameter(
            name="parallel",
            label="Parallel in the stack",
            kind=Kind.CHOICE,
            unit="",
            choices=(("no", "no"), ("yes", "when it saves blocks")),
            feature="stack",
        ),
        Parameter(name="wear", label="Wear blocks", kind=Kind.CHOICE, unit="", choices=WEAR, feature="stack"),
        Parameter(
            name="ranking",
            label="Stack ranking",
            kind=Kind.CHOICE,
            unit="",
            choices=RANKS,
            usually="fewest blocks; the least real error needs a calibration",
            feature="stack",
        ),
        Parameter(
            name="stack", label="Stack", kind=Kind.TEXT, unit="", usually="the best of the blocks that are here", feature="stack"
        ),
    )


def box_proposal(shop: Shop) -> dict[str, ParameterValue]:
    """What is proposed for `box_parameters`."""

    def assumed(value: str, why: str) -> ParameterValue:
        return ParameterValue(value, Origin.ASSUMED, derivation=Derivation("", "", why))

    return {
        "block_set": ParameterValue(owned_boxes(shop)[0].id, Origin.MEASURED if shop.gauge_sets else Origin.ASSUMED),
        "second_set": assumed("", "one set is one calibration"),
        "parallel": assumed("no", "a parallel is measured ten times coarser than a block"),
        "wear": assumed("0", "put them on when the stack stands on cast iron or bare steel"),
        "ranking": assumed("fewest", "every joint less is a chance for dirt less"),
        "stack": ParameterValue("", Origin.CALCULATED),
    }


def sources_of(values: Values, shop: Shop, holder: str = "") -> Sources:
    """What the values of `box_parameters` say."""
    boxes = owned_boxes(shop)
    box = next((b for b in boxes if b.id == values.word("block_set")), boxes[0])
    second = next((b for b in boxes if b.id == values.word("second_set") and b.unit != box.unit), None)
    parallels = tuple(p for p in shop.parallels if p.count > 0) if values.word("parallel") == "yes" else ()
    return Sources(
        box=box, second=second, parallels=parallels, holder=holder, wear=int(values.word("wear")), rank=values.word("ranking")
    )


def refuse_empty(sources: Sources) -> None:
    """Raises EntryError when no block of the box is here."""
    if not usable(sources.box, holder=sources.holder).blocks:
        raise EntryError(
            "Blocks",
            f"no block of {sources.box.name} is here",
            "A stack is made of blocks",
            "Put some back in Shop, or take another set",
            "block_set",
        )


def typed_stacks(text: str, sources: Sources) -> tuple[BuiltStack, BuiltStack | None]:
    """A stack, or two parted by a stroke.

    Raises:
        EntryError: A block that is not here, is not in the boxes, or is in it twice.
    """
    first, _, second = text.partition("/")
    pieces = read_blocks(first, sources, "stack")
    under = read_blocks(second, sources, "stack") if second.strip() else []
    if any(p in pieces and p.what == "block" for p in under):
        raise EntryError("Stack", "one block is in both stacks", "The box has one of each", "Take another one", "stack")
    return lay(sources.box, pieces, sources.wear if not under else 0), lay(sources.box, under) if under else None


def stacks_at_once(
    sources: Sources, heights_mm: tuple[float, float], tolerance_mm: float = 0.0
) -> tuple[BuiltStack, BuiltStack] | None:
    """Both heights from the first box at once, fewest blocks in all, to the set's own step.

    None when they cannot be had together.

    A height of nothing gets an empty stack.
    """
    box, blocks = sources.box, usable(sources.box, holder=sources.holder)
    if not blocks.blocks:
        return None
    per, solver = MM_PER[box.unit], sources.solver
    worn = sources.worn_mm
    wanted = [to_exact(h) - (worn if h > 0 else 0) for h in heights_mm]
    half = to_exact(tolerance_mm) / per
    targets = [t / per if half else Fraction(round(t / per / solver.tick)) * solver.tick for t in wanted]
    names: list[tuple[str, ...]]
    if min(targets) <= 0:
        found = [solver.best(t, tolerance=half, want=1).stacks if t > 0 else () for t in targets]
        if any(t > 0 and not f for t, f in zip(targets, found, strict=True)):
            return None
        names = [f[0].blocks if f else () for f in found]
    else:
        try:
            both = pair(solver, (targets[0], targets[1]), 8, half)
        except ShopError:
            return None
        if not both.feasible:
            return None
        names = [both.first, both.second]
    first, second = (lay(box, [laid_block(box, n) for n in row], sources.wear if row else 0) for row in names)
    return first, second


def other_stacks(sources: Sources, height_mm: float, window_mm: float, chosen: BuiltStack) -> tuple[BuiltStack, ...]:
    """What else would do."""
    try:
        return tuple(b for b in sources.best(height_mm, window_mm)[0] if b.names != chosen.names)
    except ShopError:
        return ()


class NearestReal(Struct, frozen=True):
    """Every stack of up to eight blocks by its real length: a call of plain values, so another process can make it."""

    sources: Sources
    height_mm: float
    window_mm: float

    def __call__(self, watch: Watch) -> tuple[BuiltStack, ...]:
        return self.sources.nearest_real(self.height_mm, self.window_mm, watch)


class Longer(Struct, frozen=True):
    """A search that takes too long to run at every keystroke: offered, watched and stoppable."""

    words: str  #: what it does, on its button
    why: str
    run: NearestReal


def longer_search(sources: Sources, height_mm: float, window_mm: float) -> Longer | None:
    """Every stack of up to eight blocks by its real length, when the box was calibrated."""
    if not sources.box.calibrated or height_mm <= 0:
        return None
    return Longer(
        "Look through every stack of 8 blocks",
        "by their calibrated lengths, as near to the height as the box can come",
        NearestReal(sources, height_mm, window_mm),
    )
