"""What the proof strip shows: a tile for each check, its bar, and the explanation that opens on a click."""

from __future__ import annotations

import math

from msgspec import Struct

from elbrix.results.checks import Limits


class Tile(Struct, frozen=True, kw_only=True):
    """One check in words."""

    key: str
    label: str
    value: str
    verdict: str
    sign: str
    number: float = 0.0
    limits: Limits = Limits()
    reason: str = ""
    scaled: bool = True  #: its number lies between limits, so a bar says something; a yes or no has none


class Why(Struct, frozen=True, kw_only=True):
    """The open explanation of one check."""

    key: str
    title: str
    reason: str
    derivation: str = ""
    critical: str = ""
    fix: str = ""  #: words of the nearest fix; empty for none


def bar_bands(limits: Limits, value: float) -> tuple[list[tuple[float, float, str]], float]:
    """The bar as (from, to, verdict) in 0…1 and where the value stands on it.

    The scale runs a little past the outermost limit and past the value, so that a marker is never pressed against an end.
    """
    marks = limits.finite()
    finite = value if math.isfinite(value) else (marks[-1] if marks else 0.0)
    low, high = min((*marks, finite)), max((*marks, finite))
    span = (high - low) or abs(high) or 1.0
    start, end = low - 0.35 * span, high + 0.35 * span
    edges = [
        ("no-go", -math.inf),
        ("marginal", limits.no_below),
        ("go", limits.marginal_below),
        ("marginal", limits.marginal_above),
        ("no-go", limits.no_above),
    ]

    def at(v: float) -> float:
        return min(1.0, max(0.0, (v - start) / (end - start)))

    bands = []
    for (verdict, a), b in zip(edges, [e[1] for e in edges[1:]] + [math.inf], strict=True):
        left, right = at(a), at(b)
        if a == -math.inf:
            left = 0.0
        if right - left > 1e-6 and not (verdict == "no-go" and a == -math.inf and b == -math.inf):
            bands.append((left, right, verdict))
    return bands, at(finite)
