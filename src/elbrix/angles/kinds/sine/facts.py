"""What a sine setting works with: the tool, the box, the angle on the plate, and the stack chosen for it."""

from __future__ import annotations

import math
from typing import Final

from msgspec import Struct

from elbrix.angles.budget import Budget, sine_budget
from elbrix.angles.from_boxes import STACK_SHARE, other_stacks, refuse_empty, sources_of, typed_stacks
from elbrix.angles.sine import SinePlate
from elbrix.gauging.build_up import BuiltStack, Sources, expansion_um_m_k
from elbrix.gauging.uncertainty import StackBudgetLine, StackUncertainty
from elbrix.parameters.parameter import Values
from elbrix.quantities.angles import angle_text
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.results.figures import format_number
from elbrix.shop.angle_tools import AngleTool, AngleToolKind, SineTool
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop

STEEP: Final = math.radians(45)
REFUSED: Final = math.radians(60)
FACES: Final = (("centres", "parallel to the roll centres"), ("bottoms", "parallel to the line under the rolls"))
TURNED: Final = (("drawn", "as drawn"), ("complement", "turned by 90°, its complement set"))


class Facts(Struct, frozen=True):
    """What solving works with."""

    tool: SineTool
    plate: SinePlate
    sources: Sources
    angle: float
    tolerance: float
    set_at: float
    to_centres: bool
    height: float
    turned: bool


def facts_of(values: Values, shop: Shop, holder: str = "") -> Facts:
    """What the values say.

    Raises:
        EntryError: An angle that cannot be set.
    """
    tool = next((t for t in owned_tools(shop) if t.id == values.word("tool")), owned_tools(shop)[0])
    sources = sources_of(values, shop, holder)
    plate = SinePlate(centres_mm=tool.centres_mm, roll_pivot_mm=tool.roll_pivot_mm, roll_stack_mm=tool.roll_stack_mm)
    angle, turned = values.number("angle"), values.word("orientation") == "complement"
    set_at = math.pi / 2 - angle if turned else angle
    to_centres = values.word("face") == "centres"
    try:
        height = plate.stack_mm(set_at, to_centres=to_centres)
    except ShopError as error:
        raise EntryError("Angle", error.what, error.why, error.do, "angle") from None
    return Facts(tool, plate, sources, angle, values.number("tolerance"), set_at, to_centres, height, turned)


def window_mm(facts: Facts) -> float:
    """How far off the height a stack may be."""
    return max(facts.sources.step_mm / 2, STACK_SHARE * facts.tolerance / facts.plate.per_mm_stack_rad(facts.set_at))


def choose_stack(
    values: Values, facts: Facts, dropped: dict[str, str]
) -> tuple[BuiltStack | None, BuiltStack | None, tuple[BuiltStack, ...]]:
    """(under the stack roll, under the pivot roll, others that would do).

    Args:
        dropped: Gets the reason when a chosen stack cannot be followed.

    Raises:
        EntryError: No stack comes near.
    """
    sources = facts.sources
    if values.number("spacer") > 0 or facts.height < 1e-9:
        return None, None, ()
    refuse_empty(sources)
    window = window_mm(facts)
    if values.word("stack"):
        try:
            stack, base = typed_stacks(values.word("stack"), sources)
        except ShopError as error:
            dropped["stack"] = error.beside
        else:
            return stack, base, other_stacks(sources, facts.height, window, stack)
    if facts.height < sources.smallest_mm - sources.step_mm / 2:
        found = sources.raised(facts.height)
        if found is not None:
            return *found, ()
        raise EntryError(
            "Stack",
            f"{format_number(facts.height, 4)} mm is below the thinnest block, and no two stacks differ by it",
            "Both rolls can stand on blocks when enough are here",
            "Use a solid spacer, a larger set or a parallel under the pivot roll",
            "angle",
        )
    stacks, nearest = sources.best(facts.height, window)
    if not stacks and (found := sources.raised(facts.height)) is not None:
        return *found, ()  # between the lowest blocks nothing fits: their differences do
    if not stacks and not nearest:
        raise EntryError(
            "Stack",
            f"no stack comes near {format_number(facts.height, 4)} mm",
            "The blocks that are here do not reach it",
            "Put blocks back in Shop, or take another set",
            "angle",
        )
    ranked = stacks or tuple(sorted(nearest, key=lambda b: abs(b.height_mm - facts.height)))
    return ranked[0], None, ranked[1:]


def budget_of(values: Values, facts: Facts, stack: BuiltStack | None, base: BuiltStack | None, shop: Shop, rise: float) -> Budget:
    if values.number("spacer") > 0:
        u = _spacer_u_mm(shop, values.number("spacer"))
        unsure = StackUncertainty(
            (StackBudgetLine("Spacer as measured", u * 1000, u * 1000, "the measuring tool's own uncertainty"),)
        )
    elif stack is None:
        unsure = StackUncertainty(())
    else:
        unsure = StackUncertainty(stack.uncertainty().lines + (base.uncertainty().lines if base else ()))
    return sine_budget(
        facts.plate,
        facts.set_at,
        unsure,
        chosen_off_mm=rise - facts.height,
        centres_u_mm=facts.tool.centres_u_mm,
        rolls_u_mm=facts.tool.rolls_u_mm,
        face_u_mm=facts.tool.face_u_mm,
        surface_um=values.number("surface_flatness_um"),
        rise_mm_m=table_rise_mm_m(shop, values.word("stands_on")),
        difference_k=values.number("difference_k"),
        expansion_um_m_k=expansion_um_m_k(facts.sources.box.material),
    )


def owned_tools(shop: Shop) -> tuple[SineTool, ...]:
    return shop.sine_tools or (SineTool(id="", name="a 100 mm sine plate, assumed", centres_mm=100),)


def surfaces(shop: Shop) -> tuple[tuple[str, str], ...]:
    """What a setting may stand on: a surface plate, or a milling machine's table the one way or the other."""
    tables = [m for m in shop.machines if m.kind not in (MachineKind.LATHE, MachineKind.ROTARY_TABLE)]
    along = (((f"{m.id} {axis}", f"{m.name}'s table, along {axis}") for axis in ("X", "Y")) for m in tables)
    return (("", "a surface plate"), *(one for both in along for one in both))


def table_under(shop: Shop, stands_on: str) -> tuple[Machine | None, str]:
    """(the machine whose table it is, the axis the setting lies along); None on a surface plate."""
    id, _, axis = stands_on.rpartition(" ")
    return next((m for m in shop.machines if id and m.id == id), None), axis


def table_rise_mm_m(shop: Shop, stands_on: str) -> float:
    """How far the table under a setting rises against its slide, the way the setting lies."""
    table, axis = table_under(shop, stands_on)
    if table is None:
        return 0.0
    return table.table_rise_x_mm_m if axis == "X" else table.table_rise_y_mm_m


def owned_readers(shop: Shop) -> tuple[AngleTool, ...]:
    """Levels and protractors, finest first."""
    kinds = (AngleToolKind.LEVEL, AngleToolKind.PROTRACTOR, AngleToolKind.VISE_PROTRACTOR)
    return tuple(sorted((t for t in shop.angle_tools if t.kind in kinds), key=lambda t: t.resolution_deg + t.error_deg))


def _spacer_u_mm(shop: Shop, length_mm: float) -> float:
    """How well the shop measures a spacer of that length."""
    fit = [t.trusted_mm for t in shop.measuring if t.reach_mm >= length_mm]
    return min(fit, default=0.01)


def settle_angle(values: Values, shop: Shop, wanted_rad: float, holder: str = "", most: int = 2) -> str:
    """The angle nearest to a wanted one that up to `most` blocks make, as typed text: what a dragged plate settles on.

    Raises:
        ShopError: No block is here.
    """
    facts = facts_of(values.having(angle=wanted_rad, orientation="drawn"), shop, holder)
    height = facts.sources.nearest_made(facts.height, most, facts.plate.centres_mm * (1 - 1e-9))
    return angle_text(facts.plate.angle_rad(height, to_centres=facts.to_centres))
