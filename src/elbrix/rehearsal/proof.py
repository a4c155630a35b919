"""What a rehearsal found, as checks for the proof strip."""

from __future__ import annotations

from typing import Final

from elbrix.rehearsal.findings import Finding
from elbrix.rehearsal.run import TOLERANCE_MM
from elbrix.rehearsal.slips import RehearsalResult
from elbrix.results.checks import Check, Limits

_LABELS: Final = (
    ("gouge", "Gouged", "nothing is cut into the finished part"),
    ("left", "Left standing", "every surface comes to its place"),
)


def rehearsal_checks(heard: RehearsalResult) -> tuple[Check, ...]:
    """Gouged, left standing, and all that is in the way; the worst of each with its words."""
    found = [_largest(heard.findings, kind, label, good) for kind, label, good in _LABELS]
    others = [f for f in heard.findings if f.kind not in ("gouge", "left")]
    found.append(
        Check(
            key="rehearsed clear",
            label="Tool, holder and jaws clear",
            value=len(others),
            unit="",
            limits=Limits(no_above=0),
            text="clear" if not others else f"{len(others)} in the way",
            reason=others[0].words if others else "no shank, holder or jaw is touched, every slide can travel there",
        )
    )
    if heard.slip is not None:
        found.insert(
            0,
            Check(
                key="rehearsed slip",
                label="As keyed",
                value=1,
                unit="",
                limits=Limits(no_above=0),
                text="slip",
                reason=heard.slip.words,
            ),
        )
    return tuple(found)


def _largest(findings: tuple[Finding, ...], kind: str, label: str, good: str) -> Check:
    mine = [f for f in findings if f.kind == kind]
    worst = max((f.thickness_mm for f in mine), default=0.0)
    return Check(
        key=f"rehearsed {kind}",
        label=label,
        value=worst,
        unit="mm",
        limits=Limits(marginal_above=TOLERANCE_MM, no_above=max(TOLERANCE_MM, 0.02)),
        step=0.001,
        reason=mine[0].words if mine else good,
    )
