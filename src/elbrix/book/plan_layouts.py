"""A layout to hold the work while one operation of its cutting plan is done: size, cutter, path and cut are the plan's."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

from elbrix.book.documents import Chosen, ElementDoc, LayoutDoc
from elbrix.design.work import Blank
from elbrix.holding.cut import cutters_for
from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import within
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind

_OUT_MM = 3.0  # the end stands out of the jaws so far beyond what is cut
_FACED = "face"  # the setup that brings pieces to length: from it on they are single


def layout_of_operation(plan: Plan, blank: Blank, move: str, shop: Shop, id: str) -> LayoutDoc:
    """The layout for the operation a move belongs to, in the first vise.

    In every setup X is zero at the left end or at the stop, Y in the middle of the width and Z on the top; a layout counts
    from the middle.

    Args:
        blank: Of the plan's work.
        move: Its id.

    Raises:
        ShopError: The operation neither mills nor drills, or its cutter is not in the shop any more.
    """
    setup, operation, _ = next(x for x in plan.moves if x[2].id == move)
    stands = setup.stands or ("is a round bar" if blank.round_mm else "")
    if stands:
        raise ShopError(
            "Hold",
            f"the work {stands} there",
            "A layout is for work that lies flat on a mill's table",
            "Pick a move of another setup",
        )
    cutter = next((c for c in cutters_for(shop) if c.id and c.title == operation.tool), None)
    if cutter is None:
        raise ShopError(
            "Hold",
            f"“{operation.title}” is no milling or drilling with a cutter of this shop",
            "Hold works with the forces of mills and drills",
            "Pick a move that mills or drills",
        )
    faced = [s.id for s in plan.setups].index(setup.id) >= next((i for i, s in enumerate(plan.setups) if s.id == _FACED), 999)
    length = blank.length_mm if faced else plan.cut_length.value
    chosen = {
        "shape": "block",
        "length": f"{length:.2f}",
        "width": f"{blank.width_mm:.2f}",
        "height": f"{blank.height_mm:.2f}",
        "material": blank.material,
        "cutter": cutter.id,
        **_feed(operation, cutter),
        **_cut(operation, setup, length, blank, cutter.diameter_mm, drills=cutter.kind is CutterKind.DRILL),
    }
    return LayoutDoc(
        id=id,
        title=f"{plan.title}: {within(operation.title)}",
        machine=plan.machine_id,
        chosen={k: Chosen(text=v) for k, v in chosen.items()},
        elements=(ElementDoc(kind="vise", chosen=_standing_out(chosen, length, shop)),),
        notes=f"From the plan: {within(setup.title)}, {setup.holding}",
    )


def _feed(operation: Operation, cutter: Cutter) -> dict[str, str]:
    """The plan's feed per tooth, of a drill per turn."""
    if operation.speed is None or not operation.speed.rpm or not operation.speed.feed_mm_min:
        return {}
    per_turn = operation.speed.feed_mm_min / operation.speed.rpm
    return {"feed": f"{per_turn / (1 if cutter.kind is CutterKind.DRILL else cutter.teeth):.4f}"}


def _standing_out(cut: Mapping[str, str], length: float, shop: Shop) -> dict[str, Chosen]:
    """For a cut over the end: the work moved in the vise until that end stands out of the jaws."""
    corners = [tuple(map(float, pair.split(","))) for pair in cut.get("places", "").split(";") if pair.strip()]
    over_end = cut["cutter_path"] == "line" and corners[0][0] == corners[1][0]
    if not over_end or not shop.vises:
        return {}
    jaw = shop.vises[0].jaw_width_mm
    out = length / 2 - (float(cut["width_of_cut"]) + _OUT_MM) - jaw / 2  # where the middle of the jaws comes
    side = 1 if corners[0][0] > 0 else -1
    short = length < 0.8 * jaw
    return {"offset": Chosen(text=f"{side * out:.1f}"), **({"spacer": Chosen(text="yes")} if short else {})}


def _at(moves: tuple[Move, ...], axis: str) -> list[float]:
    return [p.value_mm for m in moves for p in m.positions if p.axis == axis]


def _cut(operation: Operation, setup: Setup, length: float, blank: Blank, d: float, *, drills: bool) -> dict[str, str]:
    moves = tuple(m for m in operation.moves if m.positions and (drills or m.direction or len(m.positions) > 1))
    xs, ys, zs = _at(moves, "X"), _at(moves, "Y"), _at(moves, "Z")
    deep = max((-z for z in zs), default=0.0)
    if drills or (xs and ys):  # an end mill that goes straight down pushes like a drill
        holes = [
            (
                next(p.value_mm for p in m.positions if p.axis == "X") - length / 2,
                next((p.value_mm for p in m.positions if p.axis == "Y"), 0.0),
            )
            for m in moves
            if any(p.axis == "X" for p in m.positions)
        ]
        return {
            "cut": "drilling",
            "cutter_path": "points",
            "places": "; ".join(f"{x:.3f},{y:.3f}" for x, y in dict.fromkeys(holes)) or "0,0",
            "depth_below_top": f"{min(deep, blank.height_mm):.2f}",
        }
    steps = sorted({0.0, *(-z for z in zs if z < 0)})
    depth = max((b - a for a, b in pairwise(steps)), default=0.0)
    if ys and not xs:  # along the work at one Y
        y = ys[0]
        wide = min(d, blank.width_mm / 2 - abs(y) + d / 2)
        at = f"{-length / 2:.3f},{y:.3f}; {length / 2:.3f},{y:.3f}"
    elif xs and not ys:  # over an end, with the side of the cutter
        x = xs[0] - length / 2
        wide = max(0.3, max(xs) - min(xs))
        at = f"{x:.3f},{-blank.width_mm / 2:.3f}; {x:.3f},{blank.width_mm / 2:.3f}"
        deep = depth = blank.height_mm
    else:  # over the whole top
        wide = min(0.7 * d, blank.width_mm)
        return {
            "cut": "milling",
            "cutter_path": "face",
            "depth_below_top": f"{deep:.2f}",
            "depth_of_cut": f"{max(depth, 0.1):.2f}",
            "width_of_cut": f"{wide:.2f}",
        }
    return {
        "cut": "milling",
        "cutter_path": "line",
        "places": at,
        "depth_below_top": f"{deep:.2f}",
        "depth_of_cut": f"{max(depth, 0.1):.2f}",
        "width_of_cut": f"{max(wide, 0.1):.2f}",
    }
