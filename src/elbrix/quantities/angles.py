"""Angles as typed and shown: decimal degrees, degrees-minutes-seconds."""

from __future__ import annotations

import math
from typing import Final

from elbrix.quantities.errors import EntryError
from elbrix.quantities.grammar import LONGEST_ENTRY, clip
from elbrix.quantities.patterns import Pattern

_NUMBER: Final = r"[0-9]{1,6}(?:\.[0-9]{0,12})?|\.[0-9]{1,12}"
_DMS: Final = Pattern(
    rf"(?P<sign>[-+]?)\s*(?P<d>{_NUMBER})\s*(?:°|deg|d|\s|-|$)\s*"
    rf"(?:(?P<m>{_NUMBER})\s*(?:'|′|min|m|-|\s|$)\s*)?(?:(?P<s>{_NUMBER})\s*(?:\"|″|''|sec|s|$)\s*)?"
)


def parse_angle(text: str, where: str = "Angle", low_deg: float = -360.0, high_deg: float = 360.0) -> float:
    """Return an angle in radians from `32.5`, `32d30m`, `53°14'20"` or `53-14-20`.

    Raises:
        EntryError: Unreadable, 60 or more minutes or seconds, a fraction of a unit with a smaller one behind it ("12.5d30m" is
            12°30' or 13° in different hands), or outside [low_deg, high_deg].
    """
    example = "Write 32.5, 32d30m or 53°14'20\""
    if len(text) > LONGEST_ENTRY:
        raise EntryError(
            where, f"{len(text):,} characters cannot be one angle", f"An entry has {LONGEST_ENTRY} characters at most", example
        )
    plain = text.strip().replace("−", "-").replace("’", "'").replace("”", '"')
    match = _DMS.fullmatch(plain)
    if match is None:
        raise EntryError(
            where, f"{clip(plain)} is no angle", "Elbrix reads decimal degrees, or degrees, minutes and seconds", example
        )
    parts = [match.group(part) for part in "dms" if match.group(part)]
    if any("." in part for part in parts[:-1]):
        raise EntryError(
            where,
            f"{clip(plain)} can be read in two ways",
            "A fraction of a degree or minute has minutes or seconds behind it",
            "Write it one way: 12.5, or 12d30m",
        )
    degrees, minutes, seconds = (float(match.group(part) or 0) for part in "dms")
    if minutes >= 60 or seconds >= 60:
        raise EntryError(
            where,
            f"{clip(plain)} has 60 or more minutes or seconds",
            "Sixty of them make the next larger unit",
            "Carry them over, or check the digits",
        )
    value = degrees + minutes / 60 + seconds / 3600
    value = -value if match.group("sign") == "-" else value
    if not low_deg <= value <= high_deg:
        raise EntryError(
            where,
            f"{value:g}° is out of range",
            f"It must be from {low_deg:g}° to {high_deg:g}°",
            "Check the sign and the digits",
        )
    return math.radians(value)


def show_angle(angle_rad: float, style: str = "decimal") -> str:
    """An angle as `53.2389°` or, for style "dms", as `53°14'20"` (rounded to the second)."""
    degrees = math.degrees(angle_rad)
    if style == "decimal":
        return f"{degrees:.4f}".rstrip("0").rstrip(".") + "°"
    total = round(abs(degrees) * 3600)
    sign = "-" if degrees < 0 and total else ""
    return f"{sign}{total // 3600}°{total // 60 % 60:02d}'{total % 60:02d}\""


def angle_text(angle_rad: float) -> str:
    """A text that reads back as the same angle: degrees, minutes and seconds when it is whole seconds, else decimal degrees."""
    degrees = math.degrees(angle_rad)
    seconds = degrees * 3600
    if abs(seconds - round(seconds)) < 1e-6:
        return show_angle(angle_rad, "dms") if round(seconds) % 3600 else f"{round(degrees)}"
    return f"{degrees:.9f}".rstrip("0").rstrip(".")
