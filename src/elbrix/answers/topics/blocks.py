"""Gauge stacks."""

from __future__ import annotations

from fractions import Fraction

from msgspec.structs import replace

from elbrix.angles.from_boxes import owned_boxes
from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question, Token
from elbrix.answers.topics.figures import from_setting, mm
from elbrix.quantities.errors import ShopError
from elbrix.quantities.grammar import UNIT_MM
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop


def _tolerance_um(q: Question) -> str | None:
    """Of a stack: "within 2 µm"."""
    found = q.length("within", "tolerance", "plus-minus", "tol")
    return None if found is None else f"{found * 1000:g}"


def _box(q: Question, world: ShopContext) -> dict[str, str]:
    unit = "in" if q.has("inch") else "mm" if q.has("metric") else ""
    box = next((g for g in world.shop.gauge_sets if g.unit == unit), None)
    return {"block_set": box.id} if box is not None else {}


def _stack(q: Question, world: ShopContext) -> Answer:
    tolerance = _tolerance_um(q)
    without = _without(q)
    height = q.length("stack", "height") or q.length()
    if height is None:
        raise missing("The height", "stack 41.7265")
    chosen = {"height": mm(height), **_box(q, world)}
    second = q.length()
    if second is None and q.has("two", "twice", "pair", "equal", "both"):
        second = height
    if second is not None:
        chosen["second_height"] = mm(second)
    if tolerance is not None:
        chosen["tolerance"] = tolerance
    if q.has("wear"):
        chosen["wear"] = "2"
    if q.has("real", "calibrated", "calibration"):
        chosen["ranking"] = "real"
    shop = world.shop
    if without:
        shop, chosen = _lent(shop, chosen, without)
    title = f"Stack of {length(height, 5)} {LENGTH_UNIT}"
    if second is not None:
        title = f"Stacks of {length(height, 5)} and {length(second, 5)} {LENGTH_UNIT}"
    keys = ("stack", "reached 0", "off 0", *(("reached 1", "off 1") if second is not None else ()), "expected", "worst")
    notes = () if world.shop.gauge_sets else ("No set of gauge blocks in Shop yet: an 88-piece one is assumed",)
    if without:
        title += " without " + ", ".join(t.text for t in without)
    return from_setting(title, "height", shop, chosen, keys, owned=not without, notes=notes)


def _without(q: Question) -> tuple[Token, ...]:
    """Blocks that are not to be used."""
    if not q.has("without", "except", "excluding"):
        return ()
    found = []
    while (token := q.after("without", "except", "excluding")) is not None:
        found.append(token)
    if not found:
        raise missing("The block to leave out", "stack 41.7265 without 1.1")
    return tuple(found)


def _lent(shop: Shop, chosen: dict[str, str], without: tuple[Token, ...]) -> tuple[Shop, dict[str, str]]:
    """The shop with some blocks taken out of the box the question is about.

    Raises:
        ShopError: The box has no such block.
    """
    boxes = owned_boxes(shop)
    box = next((b for b in boxes if b.id == chosen.get("block_set", boxes[0].id)), boxes[0])
    gone = {_printed(t, box.unit) for t in without}
    left = tuple(b for b in box.blocks if Fraction(b.nominal) not in gone)
    if missing_ones := gone - {Fraction(b.nominal) for b in box.blocks}:
        raise ShopError(
            "Ask",
            f"{box.name} has no block {float(min(missing_ones)):g}",
            "Only what is in it can be left out",
            "Check the digits",
        )
    others = tuple(b for b in boxes if b.id != box.id)
    return replace(shop, gauge_sets=(replace(box, blocks=left), *others)), chosen | {"block_set": box.id}


def _printed(token: Token, unit: str) -> Fraction:
    """What is printed on a block, in its box's unit; a bare number is that."""
    value = Fraction(token.text) if token.kind != "length" else Fraction(token.value)  # type: ignore[arg-type]
    return value / Fraction(UNIT_MM[unit]) if token.kind == "length" else value


TOPICS = (
    Topic(
        key="stack",
        searches=True,
        needs=(words("stack blocks block gauge wring"),),
        hints=words("height two equal pair wear calibrated real within inch metric") | {"@length", "@number"},
        handles=words("without except excluding tolerance within holder"),
        examples=(
            "stack 41.7265",
            "stack 41.7265 without 1.1",
            "stack 1.6427 in",
            "two stacks 30 and 41.7265",
            "stack 80.108 calibrated",
        ),
        answer=_stack,
    ),
)
