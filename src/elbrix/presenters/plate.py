"""What a presenter hands the plate: a scene and its words, already in units."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct, field

from elbrix.drawing.scene import Dimension, Scene
from elbrix.results.length_text import plain

Box = tuple[float, float, float, float]


class PlateView(Struct, frozen=True):
    """Everything the plate shows, already in words and units."""

    scene: Scene
    title: str = ""
    footer: str = ""
    tabs: tuple[str, ...] = ()  #: names of the views that can be picked
    tab: int = 0
    label: Callable[[Dimension], str] = field(default=lambda d: f"{d.value:.2f}")
    entry_text: Callable[[str], str] = field(default=lambda entry: "")  #: what the entry field of a parameter opens with
    value: Callable[[str], str] = field(default=lambda key: "")  #: text of a figure, for notes
    words: Callable[[str], str] = plain  #: a sentence of a handle, with its lengths in the unit on show
    mesh: dict[str, Any] | None = None  #: a solid of the kernel, shaded instead of the scene
    message: str = ""  #: across the plate: "no slot measured yet"
    inset: Scene | None = None  #: a second picture with a scale of its own
    main_box: Box = (0.0, 0.0, 1.0, 1.0)  #: left, top, right, bottom as shares of the plate
    inset_box: Box = (0.62, 0.4, 1.0, 1.0)
    pen: bool = False  #: a click says where it was, in mm
    carry: tuple[str, ...] = ()  #: features beginning so can be carried onto another
    thing: str = ""  #: fits anew when this changes

    @property
    def scenes(self) -> tuple[Scene, ...]:
        """The main picture, and the second one if there is one."""
        return (self.scene,) if self.inset is None else (self.scene, self.inset)
