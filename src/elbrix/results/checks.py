"""Checks: go, close or no-go against limits, with a reason, the nearest fix and what the verdict hinges on."""

from __future__ import annotations

import math
from enum import StrEnum

from msgspec import Struct, field

from elbrix.results.figures import Derivation
from elbrix.results.formulas import Worked, shown_as


class Verdict(StrEnum):
    """Words, a sign and an order, worst last."""

    GO = "go"
    MARGINAL = "marginal"
    NO_GO = "no-go"

    @property
    def sign(self) -> str:
        return {"go": "●", "marginal": "▲", "no-go": "■"}[self.value]

    @property
    def rank(self) -> int:
        return ("go", "marginal", "no-go").index(self.value)


def worst(verdicts: list[Verdict]) -> Verdict:
    """The worst of several verdicts; nothing checked is go."""
    return max(verdicts, key=lambda v: v.rank, default=Verdict.GO)


class Limits(Struct, frozen=True):
    """Where go, close and no-go lie along one number; each limit itself still belongs to the better side.

    no_below ≤ marginal_below ≤ marginal_above ≤ no_above.
    """

    no_below: float = -math.inf
    marginal_below: float = -math.inf
    marginal_above: float = math.inf
    no_above: float = math.inf

    def judge(self, value: float) -> Verdict:
        slack = 1e-9  # sums of tenths in binary must not turn an exact limit into a miss
        if not math.isfinite(value) or value < self.no_below - slack or value > self.no_above + slack:
            return Verdict.NO_GO
        if value < self.marginal_below - slack or value > self.marginal_above + slack:
            return Verdict.MARGINAL
        return Verdict.GO

    def finite(self) -> tuple[float, ...]:
        """The limits that bind, in order."""
        return tuple(v for v in (self.no_below, self.marginal_below, self.marginal_above, self.no_above) if math.isfinite(v))


class Fix(Struct, frozen=True):
    """The nearest change that would turn the verdict, ready to apply."""

    text: str  #: "Make the neck 0.2 narrower"
    changes: tuple[tuple[str, str], ...]  #: parameter name, new value as typed in mm


class CriticalReading(Struct, frozen=True):
    """The measured number a verdict rests on most, and how far that may be off."""

    parameter: str
    label: str
    by_mm: float  #: signed: the verdict changes when the true size is this much off
    becomes: Verdict


class Points(Struct, frozen=True, kw_only=True):
    """What a check points at: features of the drawing, numbers it rests on, and the parameters whose change may mend it."""

    features: tuple[str, ...] = ()
    figures: tuple[str, ...] = ()
    remedies: tuple[str, ...] = ()


class Check(Struct, frozen=True, kw_only=True):
    """One line of the proof strip."""

    key: str
    label: str  #: plain words
    value: float
    unit: str
    limits: Limits
    reason: str  #: one sentence: why this verdict
    derivation: Derivation | None = None
    features: tuple[str, ...] = ()
    figures: tuple[str, ...] = ()  #: keys of the numbers it rests on
    remedies: tuple[
        str, ...
        #: parameters whose change may mend it, most natural first; of a layout by whole name, "*." of all things at once, "?."
        #: of any one
    ] = ()
    text: str = ""  #: shown instead of the number
    step: float | None = field(default=None)

    @property
    def verdict(self) -> Verdict:
        return self.limits.judge(self.value)


def judged(
    key: str,
    label: str,
    value: float | Worked,
    limits: Limits,
    words: tuple[str, str, str],
    *,
    unit: str = "mm",
    features: tuple[str, ...] = (),
    figures: tuple[str, ...] = (),
    remedies: tuple[str, ...] = (),
    points: Points | None = None,
    derivation: tuple[str, str] | tuple[str, str, str] | None = None,
    step: float | None = None,
    text: str = "",
) -> Check:
    """A check whose reason goes by its verdict.

    Args:
        value: A number, or a formula that gives it and its working.
        words: Why it is go, close and no-go.
        points: Instead of `features`, `figures` and `remedies`, where a rule is told what it points at.
        derivation: Of a plain number: how it is found, the same with numbers, and where the rule comes from.
    """
    told = Derivation(*derivation) if derivation else None
    if isinstance(value, Worked):
        told, value = value.derivation, shown_as(value, unit)
    reason = words[limits.judge(value).rank]
    return Check(
        key=key,
        label=label,
        value=value,
        unit=unit,
        limits=limits,
        reason=reason,
        derivation=told,
        features=points.features if points is not None else features,
        figures=points.figures if points is not None else figures,
        remedies=points.remedies if points is not None else remedies,
        step=step,
        text=text,
    )
