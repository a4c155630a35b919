"""What a move does to the metal: a cutter as it is held, and the path of its end. Plain values; mm, degrees.

Paths are in the machine frame of their setup. On a mill X goes right, Y away, Z up, and a path is that of the middle of the
cutter's end; on a lathe it is (radius, 0, along the spindle toward the free end) of the cutting corner.
"""

from __future__ import annotations

from msgspec import Struct

Point3 = tuple[float, float, float]


class Tool(Struct, frozen=True, kw_only=True):
    """A cutter as it is held for a stroke.

    `kind` is one of end_mill, face_mill, side_and_face, slitting_saw, drill, reamer, tap, countersink, spot_drill, boring,
    turning, parting, ball_mill, dovetail, t_slot. What does not apply is 0 or empty.
    """

    kind: str
    diameter_mm: float = 0.0
    corner_mm: float = 0.0
    edge_length_mm: float = 0.0
    shank_diameter_mm: float = 0.0
    stick_out_mm: float = 0.0
    point_deg: float = 0.0
    width_mm: float = 0.0
    axis: str = "z"  #: it turns about, on a lathe the work
    on: str = ""  #: "lathe"
    holder: str = ""  #: what it is held in, in words


class Stroke(Struct, frozen=True):
    """One cut: corners of the path, over-run included."""

    path: tuple[Point3, ...]


class Body(Struct, frozen=True, kw_only=True):
    """A blank or a piece sawn away, in the part frame."""

    shape: str = "box"  #: "box", "round" or "hex"
    min_mm: Point3 = (0.0, 0.0, 0.0)
    max_mm: Point3 = (0.0, 0.0, 0.0)
    axis: str = "z"
    diameter_mm: float = 0.0
    inner_diameter_mm: float = 0.0
    across_flats_mm: float = 0.0
    from_mm: float = 0.0
    to_mm: float = 0.0

    def as_dict(self) -> dict[str, object]:
        """As the command line gives it."""
        if self.shape == "box":
            return {"shape": "box", "min_mm": list(self.min_mm), "max_mm": list(self.max_mm)}
        size: dict[str, object] = (
            {"across_flats_mm": self.across_flats_mm} if self.shape == "hex" else {"diameter_mm": self.diameter_mm}
        )
        if self.inner_diameter_mm:
            size["inner_diameter_mm"] = self.inner_diameter_mm
        return {"shape": self.shape, "axis": self.axis, **size, "from_mm": self.from_mm, "to_mm": self.to_mm}
