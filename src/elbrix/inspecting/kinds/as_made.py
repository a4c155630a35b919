"""As made against design: each size at its place in the drawing, judged by what it does to the design's own checks."""

from __future__ import annotations

import random
from collections.abc import Mapping
from typing import ClassVar

from msgspec.structs import replace

from elbrix.drawing.scene import Dimension, Note, Scene, Side
from elbrix.inspecting.inspection import Exercise, Inspection, Subject
from elbrix.inspecting.plain import CALIPER_U, PlainInspection, count, found, parameter_group, tool_parameters
from elbrix.inspecting.readings import Place, Sheet
from elbrix.instruments.lines import Quantity
from elbrix.parameters.parameter import Group, Parameter, ParameterValue, Values
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.figures import Figure, format_number
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

#: A reading further from the drawing than this share of the size, and than this many mm, is asked about.
_ABSURD_SHARE, _ABSURD_MM = 0.25, 2.0


class AsMadeInspection(PlainInspection):
    """See the module."""

    key = "as_made"
    title = "As made against design"
    when = "Is the finished piece right, size by size, and what does it still fit?"
    order = 0
    main = ""
    measures_piece = True
    usual_u = CALIPER_U
    defaults: ClassVar = {"times": 3}

    def __init__(self, subject: Subject | None = None) -> None:
        self._subject = subject

    def about(self, subject: Subject) -> AsMadeInspection:
        """The same, of a design."""
        return AsMadeInspection(subject)

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            count("times", "Readings a size", 1, 9, "three places of each size: a mean hides a taper"),
            *tool_parameters(shop, "a caliper, or a micrometer where it matters"),
        )

    def places(self, values: Values, shop: Shop) -> tuple[Place, ...]:
        shown = {d.entry: d for d in self.subject.scene.dimensions if d.entry}
        return tuple(
            Place(
                key=size.key,
                label=size.label,
                quantity=Quantity.LENGTH,
                at=shown[size.key].b if size.key in shown else (0.0, 0.0),
                times=int(values.number("times")),
                low=max(0.0, size.designed_mm - max(_ABSURD_MM, _ABSURD_SHARE * size.designed_mm)),
                high=size.designed_mm + max(_ABSURD_MM, _ABSURD_SHARE * size.designed_mm),
            )
            for size in self.subject.sizes
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        asked, subject = self.parameters(shop), self.subject
        figures, checks, steps = self.begun(asked, values)
        rows: list[str] = []
        for size in subject.sizes:
            if not sheet.has(size.key):
                continue
            check, figure = _judge(subject, size.key, size.label, size.designed_mm, sheet)
            figures.append(figure)
            checks.append(check)
            rows.append(figure.key)
            if check.verdict is not Verdict.GO:
                off = figure.value - size.designed_mm
                steps.append(f"{size.label} is {length(abs(off))} {'over' if off > 0 else 'under'} the drawing: {check.reason}")
        if sheet.complete and not steps:
            steps.append("Every size that was read does what the design asks: keep them with the design, and put it away")
        return self.told(
            values,
            sheet,
            figures,
            checks,
            (parameter_group("Set up", asked), *([Group("Sizes as made", tuple(rows))] if rows else [])),
            scene=_scene(subject, sheet),
            steps=steps,
            cautions=("Burrs off and the piece cold before it is measured",),
        )

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise | None:
        if self._subject is None:
            return None
        true = {s.key: s.designed_mm + chance.gauss(0, 0.03) for s in self._subject.sizes}
        return Exercise(tool="caliper", true=true, answers={f"made {k}": v for k, v in true.items()})

    def proposals(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> dict[str, float | int | str]:
        return dict(self.defaults)


def _judge(subject: Subject, key: str, label: str, designed: float, sheet: Sheet) -> tuple[Check, Figure]:
    """A size by what it does to the design's checks, with the uncertainty as a guard band.

    Go when the smallest and the largest reading pass even if they are off by the uncertainty; no-go when one fails
    whichever way it is off.
    """
    values = sheet.values(key)
    u = sheet.u_of({key: 1})
    rank, reason = 0, "does everything the design asks"
    for reading in (min(values), max(values)):
        may_be = sorted((subject.judge(key, reading + way * u) for way in (-1, 1)), key=lambda told: told[0].rank)
        (kinder, _), (worse, words) = may_be
        here = 2 if kinder is Verdict.NO_GO else 1 if worse.rank else 0
        if here > rank:
            rank, reason = here, words if kinder.rank else f"as far as this tool can tell it may be that {words}"
    mean = sheet.mean(key)
    figure = found(
        f"made {key}",
        label,
        mean,
        u,
        (f"mean of {len(values)}, on the drawing {format_number(designed, 3)}", ", ".join(format_number(v, 3) for v in values)),
        features=(key,),
    )
    check = judged(
        f"made {key}",
        label,
        float(rank),
        Limits(marginal_above=0.5, no_above=1.5),
        (reason, reason, reason),
        unit="",
        features=(key,),
        figures=(f"made {key}",),
        text=f"{length(mean)} for {length(designed)}",
        derivation=("the design solved again with each reading, and with the uncertainty either way", f"± {u:.2g} mm"),
    )
    return check, figure


def _scene(subject: Subject, sheet: Sheet) -> Scene:
    """The drawing, its sizes the places to measure."""
    read = {p.key: p for p in sheet.places}
    order = {key: i for i, key in enumerate(read)}
    numbers: list[Dimension] = []
    for d in subject.scene.dimensions:
        if d.entry in read:
            taken = sheet.readings[d.entry]
            mean = sheet.mean(d.entry) if taken else None
            short = f"({len(taken)} of {read[d.entry].times})" if 0 < len(taken) < read[d.entry].times else ""
            numbers.append(
                replace(
                    d,
                    value_mm=mean if mean is not None else d.value,
                    text="" if mean is not None else f"{order[d.entry] + 1} –",
                    prefix=d.prefix if mean is not None else "",
                    suffix=short,
                    entry=f"read {d.entry}",
                    feature=d.entry,
                    measured=mean is not None,
                    step_mm=0.01,
                    order=order[d.entry],
                )
            )
    shown = {d.entry for d in numbers}
    low, _, high, top = subject.scene.bounds()
    apart = 0.09 * max(high - low, top, 1.0)
    left_out = [p for p in sheet.places if f"read {p.key}" not in shown]
    for i, place in enumerate(left_out):  # sizes no view shows stand in a column beside it
        taken = sheet.readings[place.key]
        at = (high + 3 * apart, top - i * apart)
        numbers.append(
            Dimension(
                f"at {place.key}",
                at,
                at,
                Side.AT,
                value_mm=sheet.mean(place.key) if taken else 0.0,
                text="" if taken else f"{order[place.key] + 1} –",
                suffix=place.label.lower(),
                entry=f"read {place.key}",
                feature=place.key,
                measured=bool(taken),
                step_mm=0.01,
                order=order[place.key],
            )
        )
    # Notes that speak of a figure of the design have nothing to say of the piece.
    drawn = tuple(e for e in subject.scene.elements if not (isinstance(e, Note) and e.figure))
    return replace(
        subject.scene,
        elements=drawn,
        name="as made",
        title=f"{subject.title}, as made",
        dimensions=tuple(numbers),
        handles=(),
        spots=(),
    )


KIND = AsMadeInspection()
