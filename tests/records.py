"""Records of what the core says of many cases: as JSON, and where two differ by more than a rounding."""

from __future__ import annotations

import gzip
import json
import math
import re
from pathlib import Path
from typing import Any, Final

import msgspec

from elbrix.results.figures import Derivation

_NUMBER: Final = re.compile(r"-?\d+(?:\.\d+)?")
#: Digits that are compared: a solver may stop a hair elsewhere on another machine.
_DIGITS: Final = 4


def plain(value: Any) -> Any:
    """As JSON, numbers rounded."""
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    if isinstance(value, float | int):
        return str(value) if not math.isfinite(value) else float(f"{value:.{_DIGITS + 2}g}")
    if isinstance(value, dict):
        return {str(k): plain(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [plain(v) for v in value]
    if isinstance(value, frozenset | set):
        return sorted(plain(v) for v in value)
    if isinstance(value, Derivation):
        return {"": "Derivation", "formula": value.formula, "with_numbers": value.with_numbers, "source": value.source}
    if isinstance(value, msgspec.Struct):
        return {"": type(value).__name__} | {f: plain(getattr(value, f)) for f in value.__struct_fields__ if f != "behaviour"}
    return str(value)


def differences(kept: Any, now: Any, where: str = "") -> list[str]:
    """Where two records differ by more than a rounding."""
    if isinstance(kept, dict) and isinstance(now, dict):
        found = [f"{where}.{k}: only in one" for k in kept.keys() ^ now.keys()]
        return found + [d for k in kept.keys() & now.keys() for d in differences(kept[k], now[k], f"{where}.{k}")]
    if isinstance(kept, list) and isinstance(now, list):
        if len(kept) != len(now):
            return [f"{where}: {len(kept)} and {len(now)} of them"]
        return [d for i, (a, b) in enumerate(zip(kept, now, strict=True)) for d in differences(a, b, f"{where}[{i}]")]
    if isinstance(kept, float | int) and isinstance(now, float | int) and not isinstance(kept, bool):
        near = math.isclose(kept, now, rel_tol=10.0**-_DIGITS, abs_tol=2 * 10.0**-_DIGITS)
        return [] if near else [f"{where}: {kept} and {now}"]
    if isinstance(kept, str) and isinstance(now, str) and kept != now:
        numbers = [(float(a), float(b), a) for a, b in zip(_NUMBER.findall(kept), _NUMBER.findall(now), strict=False)]
        same = _NUMBER.sub("#", kept) == _NUMBER.sub("#", now)
        last = [1.001 * 10.0 ** -len(text.partition(".")[2]) for _, _, text in numbers]
        if same and all(abs(a - b) <= step and a != round(a) for (a, b, _), step in zip(numbers, last, strict=True) if a != b):
            return []  # the last digit of a rounded number
    return [] if kept == now else [f"{where}: {kept!r} and {now!r}"]


def read(path: Path) -> Any:
    """A record as it was kept."""
    return json.loads(gzip.decompress(path.read_bytes()))


def write(path: Path, record: Any) -> int:
    """Keep a record; returns its size in bytes."""
    return path.write_bytes(gzip.compress(json.dumps(record, ensure_ascii=False).encode(), mtime=0))
