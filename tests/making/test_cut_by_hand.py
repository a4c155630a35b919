"""Plans cut by somebody who has only the card: slides, a finder, a lathe that is a list of radii. No rehearsal, no pose."""

from __future__ import annotations

import random

import numpy as np
import pytest

from elbrix.book.designs import family_of, solve_doc
from elbrix.book.documents import DesignDoc, shop_of
from elbrix.demo import documents
from elbrix.design.work import Blank, HolePattern, TurnedGroove, TurnedPart, Work
from elbrix.making.options import Options
from elbrix.making.plan import Plan
from elbrix.making.planner import plan_work
from elbrix.solids.recipe import Turned

DOCS = {d.id: d for d in documents() if isinstance(d, DesignDoc)}
SHOP = shop_of(documents())
STEP = 0.05


def cut_on_a_lathe(plan: Plan, length: float) -> np.ndarray:
    """Radius along the piece from its free end, as the numbers of the cards leave it: both ends, turned round between them."""
    stock = plan.bar.width_mm / 2 if plan.bar is not None else 50.0
    z = np.arange(STEP / 2, length, STEP)
    radius = np.full(z.shape, stock)
    for setup in plan.setups:
        if setup.fixture != "chuck":
            continue
        from_second = setup.lie is not None and setup.lie.up == "F"
        depth = length - z if from_second else z  # from the end that stands out
        for move in setup.moves:
            numbers = {p.axis: p for p in move.positions}
            if not move.strokes or move.id.endswith((".face", "turn.part")):
                continue
            width = next(o.cutter.width_mm for o in setup.operations if move in o.moves and o.cutter is not None)
            if "X" not in numbers or "Z" not in numbers:
                continue
            across = numbers["X"].value_mm
            r = across / 2 if numbers["X"].per_mm == 0.5 else across
            to = -numbers["Z"].value_mm
            low = to - width if width else -1.0
            hit = (depth > low) & (depth < to)
            radius[hit] = np.minimum(radius[hit], r)
    return radius


def stepped(chance: random.Random) -> tuple[Work, np.ndarray]:
    """A pin of random steps that grow and fall again, perhaps with a groove; and its radii."""
    length = chance.uniform(70, 140)
    up, down = chance.randint(1, 3), chance.randint(0, 2)
    ends = sorted(chance.uniform(14, length - 14) for _ in range(up + down - 1)) if up + down > 1 else []
    ends = [round(e, 1) for e in ends] + [round(length, 1)]
    length = ends[-1]
    sizes = sorted(round(chance.uniform(8, 22), 1) for _ in range(up))
    sizes += sorted((round(chance.uniform(6, sizes[-1] - 1), 1) for _ in range(down)), reverse=True)
    parts = [
        TurnedPart(name=f"Part {i}", size_mm=s, length_mm=e, id=f"p{i}") for i, (s, e) in enumerate(zip(sizes, ends, strict=True))
    ]
    z = np.arange(STEP / 2, length, STEP)
    radius = np.zeros_like(z)
    for s, a, b in zip(sizes, [0.0, *ends], ends, strict=False):
        radius[(z > a) & (z < b)] = s / 2
    steps: list[object] = list(parts)
    if ends[0] > 20 and sizes[0] > 9:
        steps.append(TurnedGroove(name="Groove", size_mm=sizes[0] - 2, from_mm=8.0, to_mm=11.0, id="g"))
        radius[(z > 8) & (z < 11)] = sizes[0] / 2 - 1
    profile = [(0.0, 0.0)]
    for s, a, b in zip(sizes, [0.0, *ends], ends, strict=False):
        profile += [(s / 2, a), (s / 2, b)]
    profile.append((0.0, length))
    widest = max(sizes)
    blank = Blank(
        width_mm=widest, height_mm=widest, round_mm=widest, length_mm=length, material="mild steel", along="+z", up="+x"
    )
    return Work(blank, tuple(steps), solid=Turned(tuple(profile), (0.0, 0.0, 0.0))), radius  # type: ignore[arg-type]


@pytest.mark.parametrize("lathe", ["", "centres"])
@pytest.mark.parametrize("seed", range(25))
def test_a_list_of_radii_comes_out_as_the_drawing(seed: int, lathe: str) -> None:
    work, wanted = stepped(random.Random(seed))
    plan = plan_work("T", work, SHOP, Options(lathe=lathe), home="tam")  # type: ignore[arg-type]
    got = cut_on_a_lathe(plan, work.blank.length_mm)
    # A diameter that is the bar's own is not cut; beside a shoulder one sample may lie on either side.
    off = np.abs(got - wanted)
    off[: int(0.1 / STEP)] = 0
    edges = np.abs(np.diff(wanted, prepend=wanted[0])) > 1e-9
    off[edges | np.roll(edges, -1)] = 0
    assert off.max() < 0.011, (seed, float(off.max()))


@pytest.mark.parametrize("datum", ["middle", "corner"])
@pytest.mark.parametrize("id", ["plate-yoke", "plate-segments", "riser-vise", "vise-long-bars", "jaws-ledge"])
def test_holes_lie_where_the_drawing_says_for_who_touches_the_side_and_counts(id: str, datum: str) -> None:
    """The readout is set so that the side reads what the card says for a finder at it; then each hole's number is a place."""
    doc = DOCS[id]
    work = family_of(doc).work(solve_doc(doc, SHOP), SHOP)
    plan = plan_work(doc.title, work, SHOP, Options(datum=datum), home=doc.machine)  # type: ignore[arg-type]
    patterns = [s for s in work.steps if isinstance(s, HolePattern) and not s.together]
    assert patterns
    half = SHOP.touch_offs[0].size_mm / 2
    for pattern in patterns:
        setup = next(s for s in plan.setups if s.id == pattern.id)
        touch = {m.zeroes: m.positions[0].value_mm for m in setup.moves if m.zeroes in ("X", "Y")}
        # The finder's middle stands half its Ø before the side: the side itself is at that number plus half.
        left, near = touch["X"] + half, touch["Y"] + half
        wide = {"A": work.blank.width_mm, "C": work.blank.width_mm}.get(pattern.face, work.blank.height_mm)
        wanted = sorted({(round(h.x_mm, 3), round(h.y_mm + wide / 2, 3)) for h in pattern.holes})
        got = sorted(
            {
                (
                    round(next(p.value_mm for p in m.positions if p.axis == "X") - left, 3),
                    round(next(p.value_mm for p in m.positions if p.axis == "Y") - near, 3),
                )
                for o in setup.operations
                if o.title.startswith(("Drill", "Spot"))
                for m in o.moves
            }
        )
        assert got == wanted, pattern.id
