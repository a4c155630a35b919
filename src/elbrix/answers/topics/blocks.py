"""Gauge stacks."""

from __future__ import annotations

from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import from_setting, mm


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
    height = q.length("stack", "height") or q.length()
    if height is None:
        raise missing("The height", "stack 41.7265")
    second = q.length()
    chosen = {"height": mm(height), **_box(q, world)}
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
    title = f"Stack of {height:g} mm" if second is None else f"Stacks of {height:g} and {second:g} mm"
    keys = ("stack", "reached 0", "off 0", *(("reached 1", "off 1") if second is not None else ()), "expected", "worst")
    notes = () if world.shop.gauge_sets else ("No set of gauge blocks in Shop yet: an 88-piece one is assumed",)
    return from_setting(title, "height", world.shop, chosen, keys, notes=notes)


TOPICS = (
    Topic(
        key="stack",
        needs=(words("stack blocks block gauge wring"),),
        hints=words("height two equal pair wear calibrated real within inch metric") | {"@length", "@number"},
        examples=("stack 41.7265", "stack 1.6427 in", "two stacks 30 and 41.7265", "stack 80.108 calibrated"),
        answer=_stack,
    ),
)
