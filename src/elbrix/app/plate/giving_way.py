"""What a plate leaves out where room is short, so that the drawing stays a drawing: plain values in, plain values out.

First the second picture goes and long notes are said in short, then the sizes that are only shown or were measured on what
stands round it, then the less asked of the others, then the notes, then every size. What is left out is on the card as before.
"""

from __future__ import annotations

from typing import Final

from msgspec.structs import replace

from elbrix.drawing.scene import Note, Scene

#: The share of its box that the thing itself takes at least, by its longer side.
MIN_SHARE: Final = 0.42
#: A second picture smaller than this shows nothing, px.
MIN_PX: Final = 40.0
#: Typed sizes that stay when not all of them find room.
_FEW: Final = 4
LEVELS: Final = 6


def keeps_inset(level: int) -> bool:
    return level == 0


def reduced(scene: Scene, level: int) -> Scene:
    """A scene with what a level leaves.

    Args:
        level: 0 for everything, to `LEVELS` − 1 for the bare drawing.
    """
    if level < 1:
        return scene
    shorter = [replace(e, text=e.short) if isinstance(e, Note) and e.short else e for e in scene.elements]
    scene = replace(scene, elements=tuple(shorter))
    if level < 2:
        return scene
    sizes = [d for d in scene.dimensions if d.entry and not d.measured] or [d for d in scene.dimensions if d.entry]
    if level >= 3:
        first = {d.entry for d in sorted(sizes, key=lambda d: d.order)[:_FEW]}
        sizes = [d for d in sizes if d.entry in first]
    if level >= 5:
        sizes = []
    elements = scene.elements
    if level >= 4:
        elements = tuple(e for e in elements if not isinstance(e, Note) or e.plain or e.quiet)
    return replace(scene, dimensions=tuple(sizes), elements=elements)
