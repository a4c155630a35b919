"""`plan` and `rehearse`: how an accessory is cut, and whether that comes to the part."""

from __future__ import annotations

import argparse

from elbrix.cli.solving import print_json, solve
from elbrix.making.drawn_limits import with_limits
from elbrix.making.minutes import plan_minutes, setup_minutes
from elbrix.making.options import Options
from elbrix.making.plan import Move, Plan
from elbrix.making.planner import plan_work
from elbrix.making.strokes import Tool
from elbrix.making.tables import cut_list_csv
from elbrix.quantities.errors import EntryError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import within
from elbrix.results.length_text import plain, said_in
from elbrix.shop.shop import Shop


def planned(options: argparse.Namespace) -> tuple[Plan, Shop]:
    """The plan that is asked for.

    Raises:
        ShopError: What is asked for cannot be designed or planned.
    """
    family, shop, request, design = solve(options)
    on = shop.machine(options.on).id if options.on else ""
    found = plan_work(
        family.title,
        family.work(design, shop),
        shop,
        Options(
            machine=on,
            **{name: getattr(options, name) for name in ("style", "passes", "heat", "lathe", "datum", "holes", "climb", "rip")},
        ),
        home=request.machine,
        unit=options.units,
    )
    return with_limits(found, family, design, shop), shop


def plan(options: argparse.Namespace) -> int:
    """`elbrix plan`."""
    plan, _ = planned(options)
    if options.csv:
        print(cut_list_csv(plan), end="")
        return 0
    if options.json:
        print_json(plan_json(plan))
        return 0
    style = UnitStyle(options.units)
    print(
        f"{plan.title} on {plan.machine}; {said_in(plan.source, style)}"
        + ("" if plan.there else f"; cut {style.with_unit(plan.cut_length.value, 'mm')}")
    )
    for words in (*plan.problems, *plan.assumed):
        print(f"  ! {said_in(words, style)}")
    for setup in plan.setups:
        print(said_in(f"\n{setup.title}\n  hold   {setup.holding}\n  datum  {setup.datum}", style))
        for operation in setup.operations:
            speed = operation.speed
            paced = f", {speed.rpm} rpm, {style.feed(speed.feed_mm_min)}" if speed is not None else ""
            print(said_in(f"  {operation.title}: {operation.tool}{paced}", style))
            if operation.note:
                print(f"    {said_in(operation.note, style)}")
            if speed is not None and speed.caution:
                print(f"    ▲ {said_in(speed.caution, style)}")
            for move in operation.moves:
                numbers = "  ".join(f"{p.axis} {p.dial.text}" for p in move.positions)
                print(f"    {said_in(move.words, style)}  {numbers}")
                for words in move_details(move, style):
                    print(f"      {said_in(words, style)}")
        for words in setup.cautions:
            print(f"  ▲ {said_in(words, style)}")
    return 0


def move_details(move: Move, style: UnitStyle) -> list[str]:
    """What else has to be known at the machine: approach, locks, direction, what to measure, cautions."""
    found = [f"{p.axis}: {p.dial.approach}" for p in move.positions if p.dial.approach]
    if move.lock:
        found.append(f"lock {move.lock}")
    if move.direction:
        found.append(f"cut {move.direction}")
    if move.asked is not None:
        found.append(f"{within(move.asked.asking)}: {move.asked.shown(style)}")
    if move.caution:
        found.append(f"▲ {move.caution}")
    return found


def tool_json(tool: Tool | None) -> dict[str, object] | None:
    """A cutter as it is held, with what applies to it."""
    if tool is None:
        return None
    sizes = {
        name: getattr(tool, name)
        for name in (
            "diameter_mm",
            "corner_mm",
            "edge_length_mm",
            "shank_diameter_mm",
            "stick_out_mm",
            "point_deg",
            "width_mm",
            "on",
            "holder",
        )
        if getattr(tool, name)
    }
    return {"kind": tool.kind, **sizes, "axis": tool.axis}


def plan_json(plan: Plan) -> dict[str, object]:
    """A plan as plain data; mm, unrounded, with what the dial sets."""
    return {
        "title": plan.title,
        "machine": plan.machine,
        "bar": plan.bar.bar.id if plan.bar else None,
        "buy": None if plan.bar else plan.stock.buy,
        "cut_length_mm": plan.cut_length.value,
        "problems": list(plan.problems),
        "assumed": list(plan.assumed),
        "blank": plan.blank.as_dict() if plan.blank else None,
        "pieces": [list(p) for p in plan.pieces],
        "leaves": list(plan.leaves),
        "minutes": plan_minutes(plan),
        "kit": [{"what": k.words, "owned": k.owned, "note": k.note} for k in plan.kit],
        "setups": [
            {
                "id": s.id,
                "title": s.title,
                "holding": s.holding,
                "datum": s.datum,
                "machine": s.machine_id,
                "pose": {"rotation": [list(r) for r in s.pose.rotation], "offset_mm": list(s.pose.offset)} if s.pose else None,
                "zero": [{"axis": z.axis, "touches": z.touches, "tool": z.tool, "reads_mm": z.reads_mm} for z in s.zeroes],
                "minutes": setup_minutes(s, max(1, len(plan.pieces))),
                "cautions": list(s.cautions),
                "operations": [
                    {
                        "title": o.title,
                        "tool": o.tool,
                        "cutter": tool_json(o.cutter),
                        "rpm": o.speed.rpm if o.speed else None,
                        "feed_mm_min": o.speed.feed_mm_min if o.speed else None,
                        "note": o.note,
                        "caution": o.speed.caution if o.speed else "",
                        "moves": [
                            {
                                "id": m.id,
                                "words": m.words,
                                "lock": m.lock,
                                "direction": m.direction,
                                "feature": m.feature,
                                "strokes": [{"path_mm": [list(p) for p in stroke.path]} for stroke in m.strokes],
                                **({"removes": m.removes.as_dict()} if m.removes else {}),
                                "positions": [
                                    {
                                        "axis": p.axis,
                                        "mm": p.value_mm,
                                        "dial": p.dial.text,
                                        "dial_mm": p.dial.set_mm,
                                        "approach": p.dial.approach,
                                        "terms": [[t.words, t.value_mm] for t in p.terms],
                                    }
                                    for p in m.positions
                                ],
                            }
                            for m in o.moves
                        ],
                    }
                    for o in s.operations
                ],
            }
            for s in plan.setups
        ],
    }


def rehearse(options: argparse.Namespace) -> int:
    """`elbrix rehearse`: exit code 0 when the plan cuts the part, 1 when anything was found."""
    from elbrix.rehearsal.slips import SlipsMade, rehearse_slips  # NumPy is not needed by the other commands

    plan, shop = planned(options)
    asked = SlipsMade(
        keyed=dict(_pairs(options.keyed, "--keyed", "MOVE.AXIS=NUMBER")),
        turned=dict(_pairs(options.turned, "--turned", "SETUP=end|over|mirrored")),
        cutters={k: _size(v) for k, v in _pairs(options.cutter, "--cutter", "OPERATION=DIAMETER")},
    )
    heard = rehearse_slips(plan, shop, asked)
    if options.json:
        print_json(
            {
                "title": plan.title,
                "machine": plan.machine,
                "clean": heard.clean,
                "findings": [
                    {
                        "kind": f.kind,
                        "setup": f.setup,
                        "move": f.move,
                        "feature": f.feature,
                        "thickness_mm": f.thickness_mm,
                        "at_mm": list(f.at_mm),
                        "words": plain(f.words),
                    }
                    for f in heard.findings
                ],
                "slip": None
                if heard.slip is None
                else {
                    "move": heard.slip.move,
                    "axis": heard.slip.axis,
                    "cause": heard.slip.cause,
                    "words": plain(heard.slip.words),
                },
                "problems": list(plan.problems),
                "leaves": list(plan.leaves),
                "seconds": heard.seconds,
            }
        )
    else:
        style = UnitStyle(options.units)
        print(f"{plan.title} on {plan.machine}: {'clean' if heard.clean else f'{len(heard.findings)} found'}")
        if heard.slip is not None:
            print(f"  ✕ {said_in(heard.slip.words, style)}")
        for f in heard.findings:
            print(f"  {f.kind:9} {said_in(f.words, style)}")
        for words in plan.problems:
            print(f"  ! {said_in(words, style)}")
    return 0 if heard.clean else 1


def _pairs(texts: list[str], option: str, form: str) -> list[tuple[str, str]]:
    found = []
    for text in texts:
        name, sign, value = text.rpartition("=")
        if not sign or not name or not value:
            raise EntryError(
                option, f"“{text}” is not {form}", "Both sides of the = are needed", f"Write it as {form}", entry=option
            )
        found.append((name, value))
    return found


def _size(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise EntryError(
            "--cutter", f"“{text}” is no diameter", "A diameter is a number of mm", "Write it with a point", entry="--cutter"
        ) from None
