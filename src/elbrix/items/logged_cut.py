"""The cut log: what finishing cuts came out at, so that the next can be foretold."""

from __future__ import annotations

from typing import Any

from elbrix.drawing.scene import Arc, Element, Line, Note, Scene, Style, box, picked_style
from elbrix.items.kind import ItemKind
from elbrix.parameters.parameter import Kind, Parameter
from elbrix.results.checks import Check
from elbrix.results.length_text import length
from elbrix.shop.cut_log import Experience, LoggedCut, cut_checks, experience, today
from elbrix.shop.shop import Shop

#: Size of the picture, in its own units.
_WIDE, _HIGH = 200.0, 110.0


def cut_scene(known: Experience, picked: str) -> Scene:
    """Cuts of one sort: what was set to the right, how far it came out off upward; the line where half of it came off."""
    if not known.cuts:
        frame = box(0, -_HIGH / 2, _WIDE, _HIGH / 2, Style.HIDDEN)
        return Scene("cuts", "Cut log", (frame, Note((_WIDE / 2, 8), "no cuts yet", quiet=True, align=0)), to_scale=False)
    wide = 1.15 * max(c.set_mm for c in known.cuts)
    high = max(0.3 * wide, *(abs(c.off_mm) for c in known.cuts))

    def at(set_mm: float, off_mm: float) -> tuple[float, float]:
        return set_mm / wide * _WIDE, off_mm / high * 0.45 * _HIGH

    elements: list[Element] = [
        box(0, -_HIGH / 2, _WIDE, _HIGH / 2, Style.HIDDEN),
        Line((0, 0), (_WIDE, 0), Style.CENTRE),
        Line(at(0, known.mean_mm), at(wide, known.mean_mm), Style.TOOL),
        Note((_WIDE + 4, at(0, known.mean_mm)[1]), f"{length(known.mean_mm, 4)} on average", quiet=True),
    ]
    reach = min(wide, 2 * high)
    elements += [Line(at(0, 0), at(reach, k * reach / 2), Style.PATH_NO_GO) for k in (-1, 1)]
    for cut in known.cuts:
        on = cut.id == picked
        elements.append(Arc(at(cut.set_mm, cut.off_mm), 2.4 if on else 1.6, style=picked_style(on), feature=cut.id))
    elements.append(Note((_WIDE / 2, -_HIGH / 2 - 8), "cut as set", quiet=True, align=0))
    elements.append(Note((_WIDE + 4, _HIGH / 2), "over", quiet=True))
    elements.append(Note((_WIDE + 4, -_HIGH / 2), "under", quiet=True))
    return Scene("cuts", known.cuts[-1].title, tuple(elements), to_scale=False)


def _all(shop: Shop) -> tuple[LoggedCut, ...]:
    return tuple(KIND.of(shop))


def _drawn(shop: Shop, item: Any, part: str) -> tuple[Scene, str]:
    known = experience(_all(shop), *item.alike) if item is not None else Experience(())
    return cut_scene(
        known, item.id if item is not None else ""
    ), "Not to scale; beyond the heavy lines less than half of the cut came off"


def _checked(shop: Shop, item: Any) -> list[Check]:
    return cut_checks(item, _all(shop)) if item is not None else []


KIND = ItemKind(
    kind="logged cut",
    key="cut_log",
    title="Cut log",
    order=220,
    type=LoggedCut,
    scene=_drawn,
    checks=_checked,
    sort=lambda c: (c.alike, c.on, c.id),
    count=lambda c, style: f"{style.show(c.set_mm, 'mm', 0.01)} set, {style.show(c.off_mm, 'mm', 0.001)} off",
    new=lambda id, variant: LoggedCut(
        id=id, machine="", tool="turning tool", material="mild steel", set_mm=0.2, off_mm=0.0, on=today()
    ),
    prefix="cut",
    parameters=(
        Parameter(name="machine", label="Machine", kind=Kind.TEXT, unit=""),
        Parameter(name="tool", label="Tool", kind=Kind.TEXT, unit=""),
        Parameter(name="material", label="Material", kind=Kind.TEXT, unit=""),
        Parameter(name="set_mm", label="Cut that was set, on the size", kind=Kind.LENGTH, low=0.001, high=20, step=0.0),
        Parameter(name="off_mm", label="Came out beside it, + over", kind=Kind.LENGTH, low=-5, high=5, step=0.0),
        Parameter(name="rpm", label="Speed", kind=Kind.NUMBER, low=0, high=30000, unit="rpm"),
        Parameter(name="on", label="Cut on", kind=Kind.DATE, unit=""),
        Parameter(name="notes", label="Fluid, finish, notes", kind=Kind.TEXT, unit=""),
    ),
)
