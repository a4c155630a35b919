"""A vise whose key slots are out of line: six remedies, by what each leaves over the jaw."""

from __future__ import annotations

from typing import Final

from msgspec import Struct

from elbrix.results.figures import Derivation, format_number
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop
from elbrix.shop.stock import Form
from elbrix.shop.tooling import CutterKind

#: How truly a slot is recut or a jaw skimmed on a good machine, and how closely an indicator sets a vise, mm.
RECUT: Final = 0.01
SKIM: Final = 0.01
INDICATED: Final = 0.01


class Remedy(Struct, frozen=True):
    """One way out."""

    key: str
    title: str
    words: str
    left_mm: float  #: over the jaw, at the most
    derivation: Derivation
    undone: bool  #: it can be taken back
    costs: str  #: what it takes away, and what it needs


def remedies(out: float, play: float, spacing: float, jaw: float, jaw_thick: float, read_to: float) -> list[Remedy]:
    """Six remedies, those that leave least first; of equal ones those that can be taken back.

    Args:
        out: δ, how far the two slots are out of line, mm.
        play: c, of a key in both its slots together.
        spacing: S, of the keys.
        jaw: J, length of the jaw.
        jaw_thick: Of the fixed jaw plate; 0: not known.
        read_to: How truly δ is known.
    """
    delta, per = abs(out), jaw / spacing
    terms, known = f"({format_number(play, 4)} + {format_number(read_to, 4)})", (play + read_to) * per
    taper = delta * per
    left = f", jaw left at the thin end {length(jaw_thick - taper, 2)} {LENGTH_UNIT}" if jaw_thick else ""
    found = [
        Remedy(
            "offset",
            "Offset keys",
            f"Offset keys: halves ±{length(delta / 2, 3)} {LENGTH_UNIT} apart, one key turned round",
            known,
            Derivation("(play + reading)·J/S", f"{terms} · {format_number(jaw)}/{format_number(spacing)}"),
            True,
            "two keys; nothing is cut from vise or table",
        ),
        Remedy(
            "open",
            "Open both vise slots",
            f"Open both vise slots by {length(delta, 3)} {LENGTH_UNIT} on opposite sides, wider keys: each middle moves"
            f" {length(delta / 2, 3)} {LENGTH_UNIT}",
            known + RECUT * per,
            Derivation(
                "(play + reading + recut)·J/S",
                f"({format_number(play, 4)} + {format_number(read_to, 4)} + {RECUT}) ·"
                f" {format_number(jaw)}/{format_number(spacing)}",
            ),
            False,
            "metal off the vise; the mill, indicated on the jaw",
        ),
        Remedy(
            "open one",
            "Open one vise slot",
            f"Open one vise slot by {length(delta, 3)} {LENGTH_UNIT} on one side, one wider key: its middle moves only"
            f" {length(delta / 2, 3)} {LENGTH_UNIT}",
            (delta / 2 + play + RECUT) * per,
            Derivation(
                "(δ/2 + play + recut)·J/S",
                f"({format_number(delta, 4)}/2 + {format_number(play, 4)} + {RECUT}) ·"
                f" {format_number(jaw)}/{format_number(spacing)}",
            ),
            False,
            "metal off the vise at one end; half of the error stays",
        ),
        Remedy(
            "recut",
            "Fill and recut the slots",
            "Fill the slots and recut both in one setting",
            (play + RECUT) * per,
            Derivation(
                "(play + recut)·J/S", f"({format_number(play, 4)} + {RECUT}) · {format_number(jaw)}/{format_number(spacing)}"
            ),
            False,
            "filler pieces pinned in, the vise upside down on the mill for an afternoon",
        ),
        Remedy(
            "skim",
            "Skim the fixed jaw",
            f"Skim the fixed jaw in place: a taper of {length(taper, 3)} {LENGTH_UNIT} end to end",
            SKIM + play * per,
            Derivation("skim + play·J/S", f"{SKIM} + {format_number(play, 4)} · {format_number(jaw)}/{format_number(spacing)}"),
            False,
            f"true only on these keys in this table{left}",
        ),
        Remedy(
            "indicate",
            "No keys: indicate it",
            "No keys: indicate the jaw every time",
            INDICATED,
            Derivation("what an indicator sets", f"{INDICATED}"),
            True,
            "about ten minutes at every setting up",
        ),
    ]
    return sorted(found, key=lambda r: (r.left_mm, not r.undone))


def tool_for(remedy: str, slot_mm: float, shop: Shop) -> tuple[str, bool]:
    """What a remedy is made with, and whether it is in the shop: "end mill Ø12", or what is missing.

    Args:
        slot_mm: Width of the vise's key slot: what cuts it has to go in.
    """
    if remedy == "indicate":
        tool = next((m.name for m in shop.measuring if "indicator" in m.name.lower()), "")
        return (tool, True) if tool else ("an indicator", False)
    if remedy in ("open", "open one", "recut"):
        mill = next((c.title for c in shop.square_end_mills() if c.diameter_mm <= slot_mm), "")
        return (mill, True) if mill else (f"an end mill to {length(slot_mm)} {LENGTH_UNIT}", False)
    if remedy == "skim":
        mill = next((c.title for c in shop.cutters_of(CutterKind.FACE_MILL, CutterKind.END_MILL)), "")
        return (mill, True) if mill else ("an end mill", False)
    bar = next(
        (b.title for b in shop.bars if b.form is Form.FLAT and min(b.width_mm, b.height_mm) >= slot_mm and b.length_mm >= 60), ""
    )
    return (bar, True) if bar else (f"a bar {length(slot_mm)} {LENGTH_UNIT} or thicker", False)


def advised(found: list[Remedy], wanted: float) -> Remedy:
    """Keys that set it right and leave little enough, because nothing is lost by trying them; else what leaves least."""
    return next((r for r in found if r.key == "offset" and r.left_mm <= wanted), found[0])
