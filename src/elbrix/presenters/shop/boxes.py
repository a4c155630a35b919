"""A box of blocks in the Shop: the picked block's state, its calibration, and the box as a table in and out. No widgets here."""

from __future__ import annotations

import math
from typing import Any

from msgspec.structs import replace

from elbrix.presenters.card import Button, Row, Section
from elbrix.quantities.errors import EntryError
from elbrix.quantities.patterns import Pattern
from elbrix.shop.gauges import AngleBlockSet, Block, BlockState, GaugeSet

_DEVIATION = Pattern(r"[-+]?[0-9]{0,3}(\.[0-9]{0,3})?")


def picked_block(box: Any, name: str) -> Block | None:
    """The block of that length, when the thing is a box and has it."""
    if not isinstance(box, GaugeSet | AngleBlockSet):
        return None
    return next((b for b in box.blocks if b.nominal == name), None)


def block_section(box: GaugeSet | AngleBlockSet, block: Block) -> Section:
    """What can be said of one block."""
    unit = box.unit if isinstance(box, GaugeSet) else ""
    rows = [
        Row(
            key="block_state",
            label="It is",
            value=block.state.value,
            edit="choice",
            choices=tuple((s.value, s.value) for s in BlockState if s is not BlockState.IN_USE or block.state is s),
            origin="chosen",
        ),
        Row(
            key="block_note",
            label="Note",
            value=block.note,
            edit="text",
            entry_text=block.note,
            placeholder="who has it, since when",
            wrap=len(block.note) > 24,
        ),
    ]
    if isinstance(box, GaugeSet):
        value = "" if block.deviation_um is None else f"{block.deviation_um:+g}".replace("-", "−")
        rows.append(
            Row(
                key="block_deviation",
                label="Deviation from nominal",
                value=value,
                unit="µm",
                edit="text",
                entry_text="" if block.deviation_um is None else f"{block.deviation_um:g}",
                placeholder="not calibrated",
                origin="measured" if value else "",
            )
        )
    return Section(title=f"Block {block.nominal} {unit}".strip(), hint="click another on the plate", rows=tuple(rows))


def box_buttons(box: Any) -> tuple[Button, ...]:
    """A calibration in, the set out."""
    if not isinstance(box, GaugeSet):
        return ()
    return (
        Button(key="csv in", text="Import calibration…", tip="A table with nominal, unit, deviation_um; every block has a row"),
        Button(key="csv out", text="Export table…", tip="Comma-separated, opens in any spreadsheet"),
    )


def typed_block(box: Any, block: Block, key: str, text: str) -> tuple[str, GaugeSet | AngleBlockSet]:
    """(what was done, the changed box).

    Raises:
        EntryError: A state, note or deviation that cannot be taken.
    """
    if key == "block_state":
        state = BlockState(text)
        changed = replace(block, state=state, holder="", note=block.note if state is not BlockState.HERE else "")
        words = f"{block.nominal} {state.value}"
    elif key == "block_note":
        if len(text) > 200:
            raise EntryError("Note", f"{len(text)} characters", "200 are kept at most", "Shorten it", key)
        changed, words = replace(block, note=text.strip()), f"{block.nominal}: {text.strip()[:30]}"
    else:
        plain = text.strip().replace("−", "-")
        value = float(plain) if plain.strip("+-.") and _DEVIATION.fullmatch(plain) else math.nan
        if plain and not abs(value) <= 100:
            why = "It is a number of µm, up to 100"
            raise EntryError("Deviation", f"“{plain[:12]}”", why, "Write it with a point, for example -0.07", key)
        changed, words = (
            replace(block, deviation_um=value if plain else None),
            f"{block.nominal} off by {plain or 'nothing known'} µm",
        )
    return words, replace(box, blocks=tuple(changed if b is block else b for b in box.blocks))
