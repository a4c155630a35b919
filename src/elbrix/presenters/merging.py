"""Two books side by side, before the one is brought into the other."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Final

import msgspec

from elbrix.book.documents import Document, kind_of
from elbrix.book.merging import BookComparison, Other, Prefer
from elbrix.presenters.card import Button, CardView, Row, Section

#: Before "KIND ID" in the key of a thing that both changed.
EACH: Final = "each "
_CHOICES: Final[tuple[tuple[Prefer, str], ...]] = (("both", "keep both"), ("mine", "keep ours"), ("theirs", "take theirs"))
_MAX_LISTED, _MAX_FIELDS, _LONGEST = 40, 8, 60


def merge_card(found: BookComparison, other: Other, each: Mapping[str, Prefer]) -> CardView:
    """What would come in, what stays, and what both changed with both sides.

    Args:
        each: "KIND ID" → what becomes of it; those that are not named are kept both.
    """
    sections = [
        Section(
            title=f"From {other.name}",
            text=(
                f"{found.same} are the same on both sides, {len(found.kept)} were changed only here and stay as they are."
                " Nothing is lost: undo takes the whole merge back."
            ),
            numbered=False,
        )
    ]
    if found.fought:
        rows: list[Row] = []
        for ours, theirs in found.fought:
            key = f"{kind_of(ours)} {ours.id}"
            how = each.get(key, "both")
            words = dict(_CHOICES)[how]
            rows.append(
                Row(
                    key=EACH + key,
                    label=name_of(ours),
                    value=words,
                    edit="choice",
                    choices=_CHOICES,
                    origin="chosen",
                    strong=True,
                )
            )
            rows += _both_sides(ours, theirs, key)
        sections.append(
            Section(title="Changed on both sides", hint="ours → theirs, lengths in mm", rows=tuple(rows), numbered=False)
        )
    if found.changed:
        rows = [row for ours, theirs in found.changed for row in _one_side(ours, theirs)]
        sections.append(Section(title="Changed there only", hint="taken over", rows=tuple(rows), numbered=False))
    if found.added:
        sections.append(Section(title="New here", hint=f"{len(found.added)}", rows=tuple(_listed(found.added)), numbered=False))
    many = len(found.added) + len(found.changed) + len(found.fought)
    buttons = (
        Button(key="merge", text="Bring them in" if many else "Nothing to bring in", main=True, enabled=many > 0),
        Button(key="leave", text="Leave"),
    )
    return CardView(sections=tuple(sections), buttons=buttons)


def name_of(document: Document) -> str:
    """What it is called, with its kind."""
    name = getattr(document, "title", "") or getattr(document, "name", "") or document.id
    return f"{name}   {kind_of(document).replace('_', ' ')}"


def _listed(documents: Iterable[Document]) -> list[Row]:
    every = list(documents)
    rows = [Row(key=f"new {kind_of(d)} {d.id}", label=name_of(d), value="") for d in every[:_MAX_LISTED]]
    if len(every) > _MAX_LISTED:
        rows.append(Row(key="new more", label=f"and {len(every) - _MAX_LISTED} more", value=""))
    return rows


def _one_side(ours: Document, theirs: Document) -> list[Row]:
    key = f"{kind_of(ours)} {ours.id}"
    return [Row(key=f"changed {key}", label=name_of(ours), value="", strong=True), *_both_sides(ours, theirs, key)]


def _both_sides(ours: Document, theirs: Document, key: str) -> list[Row]:
    """Every field that differs: ours → theirs."""
    rows = [
        Row(key=f"differs {key} {n}", label=name, value=f"{mine} → {other}", wrap=True)
        for n, (name, mine, other) in enumerate(differences(ours, theirs))
    ]
    if len(rows) > _MAX_FIELDS + 1:
        more = Row(key=f"differs {key} more", label=f"and {len(rows) - _MAX_FIELDS} more", value="")
        rows = [*rows[:_MAX_FIELDS], more]
    return rows


def differences(ours: Document, theirs: Document) -> list[tuple[str, str, str]]:
    """(field, ours, theirs) of everything that differs; a chosen value is a field of its own."""
    mine, other = (_flat(msgspec.to_builtins(d)) for d in (ours, theirs))
    return [
        (_name(f), _short(mine.get(f)), _short(other.get(f)))
        for f in dict.fromkeys((*mine, *other))
        if mine.get(f) != other.get(f)
    ]


def _flat(value: dict[str, Any]) -> dict[str, Any]:
    """Values chosen and slots by name stand beside the others."""
    found: dict[str, Any] = {}
    for name, part in value.items():
        if name in ("chosen", "readings", "axes", "counted", "measured") and isinstance(part, dict):
            found |= {f"{name} {key}": inner for key, inner in part.items()}
        else:
            found[name] = part
    return found


def _name(field: str) -> str:
    return field.removeprefix("chosen ").removesuffix("_mm").replace("_", " ")


def _short(value: Any) -> str:
    if value in (None, "", [], {}):
        return "nothing"
    if isinstance(value, dict):
        text = str(
            value.get("typed")
            or value.get("text")
            or ", ".join(f"{k} {v}" for k, v in value.items() if v not in ("", None, [], {}))
        )
    elif isinstance(value, list):
        text = f"{len(value)} of them" if value and isinstance(value[0], dict) else ", ".join(map(str, value))
    else:
        text = str(value)
    return text if len(text) <= _LONGEST else text[: _LONGEST - 1] + "…"
