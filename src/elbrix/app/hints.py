"""Hints at the foot of the plate leave once their user has done it a few times, on this machine."""

from __future__ import annotations

from typing import Final

from elbrix.app.user_places import window_settings

#: Between the parts of a foot line.
_BETWEEN: Final = "   ·   "
#: Who has done it so often does not need to be told.
_ENOUGH: Final = 6
#: What was done → how the hints for it begin.
_BEGIN: Final[dict[str, tuple[str, ...]]] = {
    "type": ("Click a brass number", "click a number", "type it"),
    "tab": ("Tab follows", "Tab goes"),
    "drag": ("drag an edge", "Drag the plate", "drag"),
    "fit": ("Home fits",),
    "turn": ("Drag to turn",),
}


def used(what: str) -> None:
    """It was done once more."""
    settings, name = window_settings(), f"hints/{what}"
    done = settings.value(name, 0, int)
    if done < _ENOUGH:
        settings.setValue(name, done + 1)


def still_wanted(foot: str) -> str:
    """A foot line without the hints for what is known."""
    if not foot:
        return foot
    settings = window_settings()
    known = tuple(b for what, begins in _BEGIN.items() if settings.value(f"hints/{what}", 0, int) >= _ENOUGH for b in begins)
    return foot if not known else _BETWEEN.join(part for part in foot.split(_BETWEEN) if not part.startswith(known))
