"""Slips as somebody made them, as text from the command line or the bench, and the rehearsal that finds them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

import numpy as np
from msgspec import Struct, field

from elbrix.making.plan import Move, Operation, Plan, Setup
from elbrix.quantities.errors import EntryError
from elbrix.rehearsal.at_readout import machine_of
from elbrix.rehearsal.clearances import in_the_way
from elbrix.rehearsal.findings import Finding
from elbrix.rehearsal.keyed import Slip, Wrong, named, read_keyed
from elbrix.rehearsal.run import Slips, corners, in_part, moved, rehearse
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.machines import MachineKind
from elbrix.shop.shop import Shop

TURNS = ("end", "over", "mirrored")
#: A tap finds its hole when it stands no farther off, mm.
_BESIDE_MM: Final = 0.05


class SlipsMade(Struct, frozen=True, kw_only=True):
    """What somebody really did, as they say it."""

    keyed: Mapping[str, str] = field(default_factory=dict)  #: "MOVE.AXIS" → number as on that machine's card
    turned: Mapping[str, str] = field(default_factory=dict)  #: setup → end, over or mirrored
    cutters: Mapping[str, float] = field(default_factory=dict)  #: operation's title or a move of it → Ø, mm


class RehearsalResult(Struct, frozen=True, kw_only=True):
    """A rehearsal with the slip named."""

    clean: bool
    findings: tuple[Finding, ...]
    slip: Slip | None
    seconds: float


def _place(plan: Plan, name: str) -> tuple[Setup, Operation, Move, str]:
    id, dot, axis = name.rpartition(".")
    found = next(((s, o, m) for s, o, m in plan.moves if m.id == id), None)
    if not dot or found is None or axis not in {p.axis for p in found[2].positions}:
        near = [m.id for _, _, m in plan.moves if m.positions][:4]
        have = ", ".join(p.axis for p in found[2].positions) if found else ""
        raise EntryError(
            "Keyed number",
            f"“{name[:40]}” is no number of this plan",
            f"The move has the axes {have}" if have else f"Moves are called for example {', '.join(near)}",
            "Name it as MOVE.AXIS, as the plan does",
            entry=name,
        )
    return (*found, axis)


def rehearse_slips(plan: Plan, shop: Shop, asked: SlipsMade, shown: Plan | None = None) -> RehearsalResult:
    """Rehearse a plan with what was really done.

    Args:
        shown: The plan whose numbers were on the card, when readings have steered it away from the drawn one.

    Raises:
        EntryError: A move, axis, setup or operation the plan does not have, or a number that is none.
        ShopError: A plan that cannot be rehearsed.
    """
    wrong = [wrong_number(shown or plan, shop, name, text) for name, text in asked.keyed.items()]
    for setup, how in asked.turned.items():
        if how not in TURNS or setup not in {s.id for s in plan.setups if s.pose is not None}:
            have = ", ".join(s.id for s in plan.setups if s.pose is not None)
            raise EntryError(
                "Turned",
                f"“{setup[:30]}={how[:12]}” is no setup turned end, over or mirrored",
                f"Setups are {have}",
                "Write it as SETUP=end, SETUP=over or SETUP=mirrored",
                entry=setup,
            )
    for operation, size in asked.cutters.items():
        if operation not in {o.title for _, o, _ in plan.moves} | {m.id for _, _, m in plan.moves} or not 0 < size < 500:
            raise EntryError(
                "Cutter",
                f"“{operation[:40]}={size:g}” is no operation with a cutter",
                "Operations are called for example " + ", ".join(o.title for _, o, _ in plan.moves if o.cutter)[:80],
                "Write it as OPERATION=DIAMETER in mm",
                entry=operation,
            )
    slips = Slips(
        keyed={(w.move.id, w.position.axis): _drawn(plan, w) + w.off for w in wrong}, turned=asked.turned, cutters=asked.cutters
    )
    found = rehearse(plan, slips, piece=next((w.move.piece for w in wrong if w.move.piece), 0))
    slip = named(plan, wrong, dict(asked.turned), dict(asked.cutters), found.wrong_at)
    if asked.turned and not asked.keyed and not asked.cutters and found.clean:
        slip = None  # the piece is alike that way round: nobody could tell
    unseen = [w for w in wrong if abs(w.off) > _BESIDE_MM and (_cuts_nothing_seen(w.move) or _out_of_sight(plan, w))]
    if slip is None and unseen:
        slip = named(plan, unseen, {}, {}, unseen[0].move.id)
    threads = _other_threads(plan, asked.cutters)
    if slip is None and threads:
        slip = named(plan, [], {}, dict(asked.cutters), threads[0].move)
    findings = (*found.findings, *(_beside(w) for w in unseen), *threads, *in_the_way(plan, shop))
    return RehearsalResult(clean=not findings and slip is None, findings=findings, slip=slip, seconds=found.seconds)


def _cuts_nothing_seen(move: Move) -> bool:
    """A tap, a die, a place that is only set: no metal tells that its number was another."""
    return not move.strokes and not move.zeroes and move.removes is None


def _out_of_sight(plan: Plan, w: Wrong) -> bool:
    """Whether a move cuts beside the piece that is rehearsed: in the other jaw of a pair, for one."""
    if not w.move.strokes or w.setup.pose is None or plan.blank is None or w.lathe:
        return False
    tool = w.operation.cutter
    if tool is None:
        return False
    near = max(tool.diameter_mm, tool.width_mm) / 2
    really = moved(w.move, Slips(keyed={(w.move.id, w.position.axis): w.keyed_mm}), tool)
    blank = corners(plan)
    low, high = blank.min(axis=0) - near, blank.max(axis=0) + near
    for stroke in (*w.move.strokes, *really):
        ends = in_part(plan, w.setup, np.array(stroke.path), w.move.piece)
        if (ends.max(axis=0) >= low).all() and (ends.min(axis=0) <= high).all():
            return False
    return True


def _other_threads(plan: Plan, cutters: Mapping[str, float]) -> list[Finding]:
    """Taps and dies of another size: the rehearsal's metal has no threads that would tell."""
    found = []
    for setup, operation, move in plan.moves:
        tool, size = operation.cutter, cutters.get(operation.title, cutters.get(move.id))
        if tool is None or tool.kind not in ("tap", "die") or size is None or abs(size - tool.diameter_mm) < _BESIDE_MM:
            continue
        found.append(
            Finding(
                kind="gouge" if size > tool.diameter_mm else "left",
                setup=setup.id,
                move=move.id,
                feature=move.feature,
                thickness_mm=abs(size - tool.diameter_mm) / 2,
                at_mm=(0.0, 0.0, 0.0),
                words=f"“{move.words}”: a {tool.kind} of {length(size, 2)} {LENGTH_UNIT} cuts another thread than"
                f" {length(tool.diameter_mm, 2)}",
            )
        )
    return found


def _beside(w: Wrong) -> Finding:
    off, tool = f"{length(abs(w.off), 3)} {LENGTH_UNIT}", w.operation.cutter.kind if w.operation.cutter is not None else ""
    what = {
        "tap": "the tap does not stand over its hole: it breaks, or cuts the thread askew",
        "die": "the thread ends elsewhere",
        "": "it does not stand where the next moves count from",
    }.get(tool, "it cuts into what is beside this piece")
    return Finding(
        kind="collision" if tool == "tap" else "left",
        setup=w.setup.id,
        move=w.move.id,
        feature=w.move.feature,
        thickness_mm=abs(w.off),
        at_mm=(0.0, 0.0, 0.0),
        words=f"“{w.move.words}”: {w.position.axis} is {off} beside its number; {what}",
    )


def _drawn(plan: Plan, w: Wrong) -> float:
    """Where the drawn plan has the number that was keyed beside."""
    found = [p for _, _, m in plan.moves if m.id == w.move.id for p in m.positions if p.axis == w.position.axis]
    return found[0].dial.set_mm if found else w.position.dial.set_mm


def slips_of(plan: Plan, shop: Shop, keyed: Mapping[str, str]) -> Slips:
    """Keyed numbers of a plan as slips; one that is none any more is left out."""
    found = {}
    for name, text in keyed.items():
        try:
            w = wrong_number(plan, shop, name, text)
        except EntryError:
            continue
        found[w.move.id, w.position.axis] = w.keyed_mm
    return Slips(keyed=found)


def wrong_number(plan: Plan, shop: Shop, name: str, text: str) -> Wrong:
    """One keyed number beside the planned one.

    Raises:
        EntryError: No number of this plan, or none at all.
    """
    setup, operation, move, axis = _place(plan, name)
    position = next(p for p in move.positions if p.axis == axis)
    machine = machine_of(setup, plan, shop)
    value = read_keyed(text, position, machine)
    return Wrong(
        setup=setup,
        operation=operation,
        move=move,
        position=position,
        keyed_mm=value,
        text=text,
        wheel=machine.axes.get(axis) if machine is not None else None,
        readout=machine is None or machine.readout_step_mm > 0 or axis not in machine.axes,
        lathe=machine is not None and machine.kind is MachineKind.LATHE,
    )
