"""What is known of the shop and what is not: checks on slots, dials and shanks."""

from __future__ import annotations

from datetime import date

from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.checks import Check, Limits
from elbrix.results.figures import Derivation, format_number
from elbrix.shop.gauges import GaugeSet
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.slots import SLOT_SIZES, TSlot
from elbrix.standards.fits import block_limit_um
from elbrix.standards.near_miss import size_near_misses, thread_near_misses
from elbrix.standards.slots import book_slot_names
from elbrix.standards.threads import find_thread

#: A slot that varies more than this is worn, burred or was misread, mm.
SPREAD_CLOSE, SPREAD_NO = 0.10, 0.30


def slot_checks(slot: TSlot) -> list[Check]:
    """How well one slot is known."""
    found = [
        Check(
            key="places",
            label="Places measured",
            value=slot.places,
            unit="",
            limits=Limits(1, 3),
            text=f"{slot.places} of 3",
            features=("slot neck",),
            figures=tuple(n for n, *_ in SLOT_SIZES),
            reason=(
                "not measured yet: nothing can be made to fit it"
                if not slot.places
                else (
                    "a slot is seldom the same along the table: measure both ends and the middle"
                    if slot.places < 3
                    else "both ends and the middle were measured"
                )
            ),
        )
    ]
    for name, label, *_ in SLOT_SIZES:
        readings = getattr(slot, name)
        if readings is not None and readings.count > 1:
            found.append(
                Check(
                    key=f"spread_{name}",
                    label=f"{label}, spread",
                    value=readings.spread,
                    unit="mm",
                    limits=Limits(marginal_above=SPREAD_CLOSE, no_above=SPREAD_NO),
                    features=(f"slot {name}",),
                    figures=(name,),
                    reason=(
                        "one reading is wrong, or there is a burr: measure that place again"
                        if readings.spread > SPREAD_NO
                        else (
                            "worn or burred: the tightest place decides"
                            if readings.spread > SPREAD_CLOSE
                            else "even enough for one nut to fit all along"
                        )
                    ),
                    derivation=Derivation(
                        "largest − smallest reading", f"{format_number(readings.max)} − {format_number(readings.min)}"
                    ),
                )
            )
    if slot.neck is not None:
        nearest = min(book_slot_names(), key=lambda n: abs(float(n) - slot.neck.min))  # type: ignore[union-attr]
        off = slot.neck.min - float(nearest)
        found.append(
            Check(
                key="book",
                label=f"Deviation from {nearest} mm slot",
                value=off,
                unit="mm",
                limits=Limits(marginal_below=-0.02, marginal_above=0.35),
                features=("slot neck",),
                figures=("neck",),
                reason=(
                    "a bought nut for that size may not go in"
                    if off < -0.02
                    else "no book size: bought nuts will be loose"
                    if off > 0.35
                    else "near the book, still worth measuring"
                ),
                derivation=Derivation(
                    "tightest neck − book size", f"{format_number(slot.neck.min)} − {nearest}", "ISO 299, reference"
                ),
            )
        )
    return found


def machine_checks(machine: Machine) -> list[Check]:
    """What planning on a machine needs to know."""
    found = []
    axes = len(machine.axes)
    found.append(
        Check(
            key="dials",
            label="Handwheels recorded",
            value=axes,
            unit="",
            limits=Limits(marginal_below=2),
            text=f"{axes} axes",
            reason="dial numbers need the advance of one turn and the divisions"
            if axes < 2
            else "dial numbers can be worked out",
        )
    )
    if machine.kind is not MachineKind.ROTARY_TABLE:
        steps = len(machine.speeds_rpm)
        found.append(
            Check(
                key="speeds",
                label="Spindle speeds recorded",
                value=steps,
                unit="",
                limits=Limits(marginal_below=1),
                text=f"{steps} steps",
                reason=(
                    "speeds are then only calculated, not set to a step"
                    if not steps
                    else machine.speeds_note or "speeds go to the next lower step"
                ),
            )
        )
    backlash = max((a.backlash_mm for a in machine.axes.values()), default=0.0)
    if axes:
        found.append(
            Check(
                key="slack",
                label="Largest backlash",
                value=backlash,
                unit="mm",
                limits=Limits(marginal_above=0.15, no_above=0.6),
                reason="climb cutting would drag the table" if backlash > 0.15 else "take it up in the same direction each time",
                derivation=Derivation("largest backlash of any handwheel", format_number(backlash)),
            )
        )
    return found


def cutter_checks(shop: Shop) -> list[Check]:
    """Shanks against collets: the near misses, one check each; one that passes when there are none."""
    sizes = [(f"{c.name} collet", c.size_mm) for c in shop.collets]
    if not sizes:
        return []
    found = []
    shanked = [
        c for c in shop.cutters if c.shank_mm > 0 and c.kind.value in ("end mill", "face mill", "countersink", "spot drill")
    ]
    for cutter in shanked:
        if any(abs(s - cutter.shank_mm) <= 0.1 for _, s in sizes):
            continue
        near = size_near_misses(f"{format_number(cutter.shank_mm)} mm shank", cutter.shank_mm, sizes)
        reason = near[0].sentence if near else f"no collet for a {format_number(cutter.shank_mm)} mm shank"
        found.append(
            Check(
                key=f"shank {cutter.id}",
                label=f"{cutter.title}, shank {format_number(cutter.shank_mm)}",
                value=near[0].off_diameter * 100 if near else 100,
                unit="%",
                limits=Limits(marginal_above=0.0, no_above=0.5),
                reason=reason,
                text="no collet",
                features=(cutter.id,),
            )
        )
    held = len(shanked) - len(found)
    found.append(
        Check(
            key="shanks",
            label="Shanks with a collet",
            value=held,
            unit="",
            limits=Limits(marginal_below=len(shanked) - 0.5),
            text=f"{held} of {len(shanked)}",
            reason="each of these has a collet of its own size",
        )
    )
    return found


def bar_checks(shop: Shop) -> list[Check]:
    """Guessed materials and offcuts."""
    if not shop.bars:
        return []
    guessed = [b for b in shop.bars if b.guessed]
    short = [b for b in shop.bars if b.length_mm < 100]
    return [
        Check(
            key="guessed",
            label="Materials known",
            value=len(guessed),
            unit="",
            limits=Limits(marginal_above=0),
            text=f"{len(guessed)} guessed" if guessed else "all",
            features=tuple(b.id for b in guessed),
            reason=(
                "guessed by " + ", ".join(f"{b.guessed} ({b.title})" for b in guessed) + ": speeds and strength rest on it"
                if guessed
                else "every bar's material is known"
            ),
        ),
        Check(
            key="offcuts",
            label="Short bars",
            value=len(short),
            unit="",
            limits=Limits(marginal_above=2),
            text=f"{len(short)} short",
            features=tuple(b.id for b in short),
            reason=(
                "short offcuts: use them up first where they do, or clear the rack"
                if len(short) > 2
                else "few offcuts under 100 mm"
            ),
        ),
        Check(
            key="kinds",
            label="Materials in stock",
            value=len({b.material for b in shop.bars}),
            unit="",
            limits=Limits(no_below=1),
            reason=", ".join(sorted({b.material for b in shop.bars})),
        ),
    ]


def stud_checks(shop: Shop) -> list[Check]:
    """Pairs of studs on the shelf that start in each other's nuts and then jam."""
    if not shop.studs:
        return []
    threads = {}
    for stud in shop.studs:
        try:
            threads[stud.id] = find_thread(parse_thread(stud.thread))
        except ShopError:
            continue
    found = []
    for thread in dict.fromkeys(threads.values()):
        for miss in thread_near_misses(thread, [t for t in set(threads.values()) if t > thread]):
            found.append(
                Check(
                    key=f"alike {thread.name} {miss.partner}",
                    label=f"{thread.shown} beside {miss.partner}",
                    value=miss.off_diameter * 100,
                    unit="%",
                    limits=Limits(marginal_below=6.0),
                    text="look alike",
                    reason=miss.sentence + ". Keep them apart and mark the nuts",
                )
            )
    known = len(threads)
    found.append(
        Check(
            key="threads",
            label="Standard stud threads",
            value=known,
            unit="",
            limits=Limits(marginal_below=len(shop.studs) - 0.5),
            text=f"{known} of {len(shop.studs)}",
            reason="each is a standard thread" if known == len(shop.studs) else "one is in no table: measure its pitch again",
        )
    )
    return found


#: A calibration older than this is looked at again, years.
CALIBRATION_YEARS = 2.0


def box_checks(box: GaugeSet, today: date | None = None) -> list[Check]:
    """How complete a set is, and how well its lengths are known."""
    out = box.missing
    names = ", ".join(f"{b.nominal} {b.state.value}" for b in out[:6]) + (" …" if len(out) > 6 else "")
    known = sum(b.deviation_um is not None for b in box.blocks)
    worst = max((abs(b.deviation_um) for b in box.blocks if b.deviation_um is not None), default=0.0)
    found = [
        Check(
            key="here",
            label="Blocks present",
            value=len(box.blocks) - len(out),
            unit="",
            limits=Limits(marginal_below=len(box.blocks) - 0.5),
            text=f"{len(box.blocks) - len(out)} of {len(box.blocks)}",
            reason=names if out else "all of them",
            features=tuple(f"block {b.nominal}" for b in out),
        ),
        Check(
            key="calibrated",
            label="Calibrated",
            value=known,
            unit="",
            limits=Limits(marginal_below=len(box.blocks) - 0.5),
            text=f"{known} of {len(box.blocks)}",
            reason=(
                "stacks are ranked by the grade's limits where a block is not calibrated"
                if known < len(box.blocks)
                else "every block has its own length"
            ),
        ),
    ]
    try:
        on = date.fromisoformat(box.calibrated_on)
    except ValueError:
        on = None
    if on is not None:
        years = ((today or date.today()) - on).days / 365.25
        found.append(
            Check(
                key="age",
                label="Calibration age",
                value=years,
                unit="years",
                limits=Limits(marginal_above=CALIBRATION_YEARS),
                reason="blocks wear and grow: have them looked at" if years > CALIBRATION_YEARS else "recent enough",
            )
        )
    if known:
        found.append(
            Check(
                key="worst",
                label="Largest deviation",
                value=worst,
                unit="µm",
                limits=Limits(marginal_above=block_limit_um(25.0, box.grade, "te").value),
                reason=(
                    "worn beyond its grade: use it last"
                    if worst > block_limit_um(25.0, box.grade, "te").value
                    else "within the grade"
                ),
            )
        )
    return found
