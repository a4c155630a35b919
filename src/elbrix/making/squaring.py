"""Squaring the bar: which face where, in which order, with face letters that stay with the work.

A and C are the faces across the height (top and underside), B and D the sides.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from elbrix.drawing.scene import Scene
from elbrix.making.context import Context
from elbrix.making.pictures import vise_end
from elbrix.making.plan import AskedSize, Move, Operation, Setup, Term
from elbrix.making.stock_choice import SIDE_ALLOWANCE
from elbrix.shop.stock import Finish
from elbrix.shop.tooling import Cutter, CutterKind

DEBURR = "Deburr every edge with a file before the work goes back: a burr lifts it off the jaw"


#: Deepest facing cut over the whole width by rigidity, mm.
_MOST_FACING = {"light": 0.4, "medium": 0.8, "heavy": 1.5}


def squaring(ctx: Context) -> Setup:
    """All faces for the full style; for the quick one only the faces that are not to size."""
    have_w = ctx.bar.width_mm if ctx.bar else ctx.blank.width_mm + 2 * SIDE_ALLOWANCE[Finish.BRIGHT]
    have_h = ctx.bar.height_mm if ctx.bar else ctx.blank.height_mm + 2 * SIDE_ALLOWANCE[Finish.BRIGHT]
    mill = _facing_cutter(ctx)
    ctx.request("parallels under the work, rod at the moving jaw", True)
    ctx.request("micrometer to 25 mm, square, file", True)
    moves: list[Move] = []
    pictures: dict[str, Callable[[], Scene]] = {}

    def add(
        id: str, words: str, letters: tuple[str, str, str], take: float, ask: AskedSize | None = None, rod: bool = False
    ) -> None:
        positions = (ctx.at("Z", [Term("below the touched face", -take)]),) if take > 0 else ()
        cuts = math.ceil(take / most - 1e-9)
        if cuts > 1:
            words += f". In {cuts} passes of {ctx.say(take / cuts)}"
        moves.append(Move(id=id, words=words, positions=positions, lock="quill and Y", direction=ctx.direction(False), asked=ask))
        pictures[id] = partial(
            vise_end,
            have_w,
            have_h,
            letters=letters,
            cutter=(0.0, -take, min(mill.diameter_mm, have_w * 1.6)),
            out_of_jaws=min(6.0, have_h * 0.4),
            rod=rod,
        )

    most = _MOST_FACING.get(ctx.machine.rigidity, 0.8)
    over_w, over_h = have_w - ctx.blank.width_mm, have_h - ctx.blank.height_mm
    full = ctx.options.style == "full"
    high = AskedSize(
        key="bar_height", words="micrometer over A and C, at both ends", expected_mm=ctx.blank.height_mm, allowed_mm=0.05
    )
    across = AskedSize(
        key="bar_width", words="micrometer over B and D, at both ends", expected_mm=ctx.blank.width_mm, allowed_mm=0.05
    )
    if full:
        add(
            "square.A",
            f"Best wide face to the fixed jaw, clean the top as face A: take {ctx.say(min(over_h / 2, 0.5))}",
            ("B", "A", "D"),
            min(over_h / 2, 0.5),
            rod=True,
        )
        moves.append(Move(id="square.deburr1", words=DEBURR))
        add(
            "square.B",
            f"A to the fixed jaw, rod at the moving jaw, clean B: take {ctx.say(min(over_w / 2, 0.5))}",
            ("A", "B", "C"),
            min(over_w / 2, 0.5),
            rod=True,
        )
        add(
            "square.D",
            f"A to the fixed jaw, B down on the parallels and tapped tight, mill D until B to D is {ctx.say(ctx.blank.width_mm)}",
            ("A", "D", "C"),
            max(0.0, over_w - min(over_w / 2, 0.5)),
            across,
        )
        add(
            "square.C",
            f"B to the fixed jaw, A down on the parallels, mill C until A to C is {ctx.say(ctx.blank.height_mm)}. Take as much"
            " off C as off A: bright bar springs",
            ("B", "C", "D"),
            max(0.0, over_h - min(over_h / 2, 0.5)),
            high,
        )
    else:
        if over_w > 0.05:
            add(
                "square.D",
                "Bright side B to the fixed jaw's side face as it is; mill the other side until it is"
                f" {ctx.say(ctx.blank.width_mm)} across",
                ("A", "D", "C"),
                over_w,
                across,
            )
        if over_h > 0.05:
            add(
                "square.C",
                f"Bright face A down on the parallels, mill the top until it is {ctx.say(ctx.blank.height_mm)} high",
                ("B", "C", "D"),
                over_h,
                high,
            )
        ctx.assumed.append(
            "Quick style: the bar's bright faces A and B are the datum. They are only as square as the bar was drawn"
        )
    moves.append(
        Move(
            id="square.deburr2",
            words=DEBURR,
            caution="Milled edges cut: file away from you, gloves only with the spindle stopped.",
        )
    )
    return Setup(
        id="square",
        title="Square the bar" if full else "Bring the bar to size",
        holding="In the vise, at least half its height in the jaws, rod at the moving jaw while a side is rough",
        datum="none yet: each face is touched with the cutter",
        operations=(Operation(title="Mill the faces", tool=mill.title, speed=ctx.speed(mill), moves=tuple(moves)),),
        pictures=pictures | {"": partial(vise_end, have_w, have_h, letters=("B", "A", "D"), out_of_jaws=min(6.0, have_h * 0.4))},
        cautions=(
            "Keep hands and rag away from the turning cutter; eye protection on.",
            "Brush chips only with the spindle stopped.",
        ),
    )


def _facing_cutter(ctx: Context) -> Cutter:
    """A face mill 1.3 × wider than the work when there is one, else the largest end mill in overlapping strokes."""
    wide = max(ctx.blank.width_mm, ctx.blank.height_mm)
    for cutter in reversed(ctx.shop.cutters_of(CutterKind.FACE_MILL)):
        if cutter.diameter_mm >= 1.3 * wide:
            ctx.need_cutter(cutter)
            return cutter
    mills = ctx.shop.cutters_of(CutterKind.END_MILL)
    if mills:
        ctx.need_cutter(mills[0])
        if mills[0].diameter_mm < 1.3 * wide:
            ctx.assumed.append(
                f"No face mill 1.3 × as wide as the work ({1.3 * wide:.0f} mm): face in overlapping strokes with the"
                f" {mills[0].title}"
            )
        return mills[0]
    return ctx.find(CutterKind.FACE_MILL, 50.0)
