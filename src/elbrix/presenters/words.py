"""Figures, checks and workings in words and display units, for whoever shows them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from typing import Final

from msgspec.structs import replace

from elbrix.book.documents import Chosen
from elbrix.drawing.scene import Note, Scene
from elbrix.parameters.parameter import Kind, Parameter, ParameterValue
from elbrix.presenters.card import Button, Row, Section
from elbrix.presenters.proof import Tile, Why
from elbrix.quantities.lengths import METRIC, UnitStyle
from elbrix.quantities.patterns import Pattern
from elbrix.quantities.readings import Readings
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Verdict
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.length_text import said_in

#: A line that already says what was made of it: "0.65·6 = 3.9, up to 4".
_ROUNDED: Final = Pattern(r", (?:up|down) to [-\d.]+$")


def working_text(derivation: Derivation | None, result: str, note: str = "") -> str:
    """A working in lines: formula, numbers with the result, source. The numbers are in mm, as they were worked."""
    lines = []
    if derivation is not None and derivation.formula:
        lines.append(derivation.formula)
    if derivation is not None and (line := derivation.with_numbers):
        if _ROUNDED.search(line):
            line += f" {result.partition(' ')[2]}".rstrip()  # the unit: the number stands there
        elif result and result not in line:
            line += f" = {result}"
        lines.append(line)
    if derivation is not None and derivation.source:
        lines.append(derivation.source)
    if note:
        lines.append(note)
    return "\n".join(lines)


def result_text(value: float, unit: str, step_mm: float | None) -> str:
    """What a working comes to: the number as it is shown in mm, a bare number to three places."""
    return METRIC.with_unit(value, unit, step_mm) if unit else format_number(value)


#: Characters of label and words that go into one line of a card.
_FITS: Final = 40


def figure_row(
    figure: Figure,
    style: UnitStyle,
    parameter: Parameter | None = None,
    given: ParameterValue | None = None,
    *,
    strong: bool = False,
    chosen: bool = False,
) -> Row:
    """One figure as a row of the card; with its parameter it can be edited."""
    text = said_in(figure.text, style) or style.show(figure.value, figure.unit, figure.step)
    if figure.u and not figure.text:
        text += f" ± {style.show(figure.u, figure.unit, figure.step)}"
    unit = "" if figure.text or not figure.unit else style.name(figure.unit)
    note = figure.note
    if given is not None and isinstance(given.value, Readings):
        r = given.value
        note = "\n".join(
            part
            for part in (
                figure.note,
                f"{r.count} reading{'s' if r.count > 1 else ''}: " + ", ".join(style.show(v, "mm") for v in r.values_mm),
                f"spread {style.with_unit(r.spread, 'mm')}, mean {style.with_unit(r.mean, 'mm')}" if r.count > 1 else "",
                " ".join(p for p in (r.measured_with, r.on) if p),
            )
            if part
        )
    if given is not None and not isinstance(given.value, Readings) and " by " in given.text and " ± " in given.text:
        note = "\n".join(p for p in (note, f"as read: {given.text}") if p)
    result_mm = figure.text or result_text(figure.value, figure.unit, figure.step)
    if parameter is None:
        return Row(
            key=figure.key,
            label=figure.label,
            value=text,
            unit=unit,
            origin=figure.origin.value,
            derivation=working_text(figure.derivation, result_mm, note),
            strong=strong,
            wrap=bool(figure.text) and len(figure.label) + len(figure.text) > _FITS,
        )
    choice = parameter.kind is Kind.CHOICE
    return Row(
        key=figure.key,
        label=figure.label,
        value=text,
        unit=unit,
        origin=figure.origin.value,
        edit="choice" if choice else "text",
        entry_text=parameter.entry_text(given, style.length) if given is not None and not choice else "",
        choices=tuple((value, said_in(words, style)) for value, words in parameter.choices),
        derivation=working_text(
            figure.derivation, result_mm, note or (f"usually: {said_in(parameter.usually, style)}" if parameter.usually else "")
        ),
        strong=strong,
        chosen=chosen,
    )


def check_text(check: Check, style: UnitStyle) -> str:
    """The number of a check as shown."""
    return said_in(check.text, style) if check.text else style.with_unit(check.value, check.unit, check.step)


def tile_of(check: Check, style: UnitStyle) -> Tile:
    return Tile(
        key=check.key,
        label=check.label,
        value=check_text(check, style),
        verdict=check.verdict.value,
        sign=check.verdict.sign,
        number=check.value,
        limits=check.limits,
        reason=said_in(check.reason, style),
        scaled=not check.text or bool(check.unit),
    )


def tiles_of(checks: Iterable[Check], style: UnitStyle) -> tuple[Tile, ...]:
    """All checks; worst first when something fails or is close, otherwise in their own order."""
    ordered = sorted(checks, key=lambda c: -c.verdict.rank)
    return tuple(tile_of(c, style) for c in ordered)


def limits_text(check: Check, style: UnitStyle) -> str:
    """The limits of a check in words: "go from 0.20 to 0.50 mm; no-go under 0.05 mm"."""
    lim, parts = check.limits, []

    def show(v: float) -> str:
        return style.with_unit(v, check.unit, check.step)

    low, high = lim.marginal_below, lim.marginal_above
    finite_low, finite_high = math.isfinite(low), math.isfinite(high)
    if finite_low and finite_high:
        parts.append(f"go from {show(low)} to {show(high)}")
    elif finite_low:
        parts.append(f"go from {show(low)}")
    elif finite_high:
        parts.append(f"go up to {show(high)}")
    if math.isfinite(lim.no_below):
        parts.append(f"no-go under {show(lim.no_below)}")
    if math.isfinite(lim.no_above):
        parts.append(f"no-go over {show(lim.no_above)}")
    return "; ".join(parts)


def said_scene(scene: Scene, style: UnitStyle) -> Scene:
    """A picture with the lengths in its notes in a unit style."""
    return scene.with_elements(
        replace(e, text=said_in(e.text, style), short=said_in(e.short, style)) if isinstance(e, Note) and e.text else e
        for e in scene.elements
    )


def verdict_word(verdict: Verdict) -> str:
    return f"{verdict.sign} {verdict.value}"


def why_check(check: Check, style: UnitStyle, *, derivation: str = "", critical: str = "", fix: str = "") -> Why:
    """The explanation of a check: title, reason with its limits, working."""
    limits = "" if check.text else limits_text(check, style)
    return Why(
        key=check.key,
        title=f"{verdict_word(check.verdict)}   {check.label}: {check_text(check, style)}",
        reason=_sentence(said_in(check.reason, style)) + (f" {_sentence(limits)}" if limits else ""),
        derivation=derivation or working_text(check.derivation, result_text(check.value, check.unit, check.step)),
        critical=said_in(critical, style),
        fix=said_in(fix, style),
    )


def _sentence(words: str) -> str:
    return sentence(words) + ("" if words.endswith(".") else ".")


def repair(title: str, problem: str, chosen: Mapping[str, Chosen], parameters: Mapping[str, Parameter]) -> Section:
    """What a card says when nothing follows from what was chosen: why, and every choice to take back."""
    rows = tuple(
        Row(
            key=name,
            label=parameters[name].label,
            value=choice.typed or choice.text,
            origin="chosen",
            edit="text",
            entry_text=choice.text,
            chosen=True,
        )
        for name, choice in chosen.items()
        if name in parameters
    )
    return Section(title=title, text=problem, rows=rows, buttons=(Button(key="undo", text="Undo the last change"),))
