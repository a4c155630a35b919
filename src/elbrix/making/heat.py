"""Heat as steps of a plan: before the first cut or after the last, soaked by the thickest section, with its cautions."""

from __future__ import annotations

from typing import Final

from elbrix.making.context import Context
from elbrix.making.plan import Move, Operation, Setup
from elbrix.quantities.errors import ShopError
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import format_number
from elbrix.standards.heat import TREATMENTS, case_hours, treatment

#: Treatments that come before the first cut.
BEFORE: Final = ("stress relief", "anneal")
#: Left on faces that are ground to size after hardening, mm; depth of a case that is aimed at.
GRIND_MM: Final = 0.25
CASE_MM: Final = 0.5
_FURNACE: Final = "Tongs, leather gloves, face shield; nothing wet near the furnace; hot metal looks like cold metal."
_QUENCH: Final = "Oil flares: a lid at hand, good air, never over a half-full tank. Water spits."
_INSTEAD: Final = {
    "harden": "mild and free-cutting steel have too little carbon: case harden mild steel, or make it of medium carbon steel",
    "case": "only mild steel takes a case here; medium carbon and tool steel are hardened right through",
}


def heated(ctx: Context) -> Setup | None:
    """The steps of the treatment that was asked for; None for none, or where the metal cannot be treated so."""
    kind = ctx.options.heat
    if not kind:
        return None
    blank = ctx.blank
    try:
        found = treatment(kind, blank.material)
    except ShopError as error:
        ctx.problems.append(f"{blank.material}: not treated so ({kind}). {_INSTEAD.get(kind, error.do)}")
        return None
    section = blank.round_mm or min(blank.width_mm, blank.height_mm, blank.length_mm)
    soak = case_hours(CASE_MM) * 60 if kind == "case" else found.soak_min(section)
    words = dict(TREATMENTS)[kind]
    at = f"{found.low_c:.0f} to {found.high_c:.0f} °C"
    ctx.request("furnace with a thermometer", True, "or sent out to a hardener")
    ctx.assumed.append("Temperatures and times of the heat treatment are usual figures: the steel supplier's own come first")
    moves: list[Move] = []

    def step(id: str, text: str, caution: str = "") -> None:
        moves.append(Move(id=f"heat.{id}", words=text, caution=caution))

    if kind in BEFORE:
        step("why", "Bright bar is full of stress from drawing: relieved, it does not bow when one side is cut away")
    elif kind != "blacken":
        step(
            "leave",
            f"Before: {ctx.say(GRIND_MM)} left on every face that is ground to size after; sharp corners broken, threads packed"
            " with fireclay, a wire through a hole to hang it by",
        )
    else:
        step("clean", "Before: degreased, and not touched with bare fingers", "Degreaser: good air, no flame, gloves.")
    if kind == "case":
        step("pack", "Packed all round with carburizing compound in a closed box; what stays soft is copper plated or painted")
    step(
        "heat",
        f"Slowly to {at}; {_time(soak)} there"
        + (f" for a case of {ctx.say(CASE_MM)}" if kind == "case" else f" for {ctx.say(section)} of thickest section")
        + ", counted from when the piece has the furnace's colour",
        _FURNACE,
    )
    step("cool", f"Cooled: {found.cool}", _QUENCH if "quench" in found.cool or "oil" in found.cool else "")
    if found.temper_high_c:
        step(
            "temper",
            f"Tempered at once, {found.temper_low_c:.0f} to {found.temper_high_c:.0f} °C by the hardness that is wanted, an hour;"
            " a file just slips off it then"
            if kind == "case"
            else f"Tempered at once, {found.temper_low_c:.0f} to {found.temper_high_c:.0f} °C, higher for tougher, an hour",
            _FURNACE,
        )
        step(
            "after",
            f"After: scale off, centres and datum faces cleaned, ground to size: {ctx.say(GRIND_MM)} a face",
            "Grinding: eyes, dust, a wheel that was rung.",
        )
    elif kind == "blacken":
        step("after", "After: wiped, oiled. It is a skin and no size: threads and fits stay as they are")
    else:
        step(
            "after",
            "After: scale brushed off before it meets a cutter",
            "Scale is hard and sharp: eye protection, no bare hands.",
        )
    return Setup(
        id="heat",
        title=sentence(words),
        holding="In the furnace, lying flat or hanging straight: hot metal bends by its own weight",
        datum="none",
        operations=(Operation(title="Heat", tool="furnace", moves=tuple(moves)),),
    )


def placed(ctx: Context, setups: list[Setup]) -> list[Setup]:
    """A plan's setups with the heat where it belongs: after the saw, or before the bench, blackening last."""
    setup = heated(ctx)
    if setup is None:
        return setups
    kind = ctx.options.heat
    if kind in BEFORE:
        return [setups[0], setup, *setups[1:]]
    if kind == "blacken" or not setups or setups[-1].id != "bench":
        return [*setups, setup]
    return [*setups[:-1], setup, setups[-1]]


def _time(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h" + (f" {rest:02d}" if rest else "") if hours < 24 else f"{format_number(minutes / 60, 1)} h"
