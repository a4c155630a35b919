"""An indicator swept round at four places: head tram, the centre of a rotary table."""

from __future__ import annotations

import math

import msgspec

from elbrix.quantities.errors import ShopError


class Tram(msgspec.Struct, frozen=True):
    """How the head leans against the swept surface; angles in radians by the right-hand rule, the rest in mm.

    `closure_mm` is what four readings on a true plane leave: (east + west − north − south) / 2.
    """

    about_x: float
    about_y: float
    closure_mm: float

    @property
    def lean(self) -> float:
        """Radians between the spindle and the square to the surface."""
        return math.atan(math.hypot(math.tan(self.about_x), math.tan(self.about_y)))

    def dish_mm(self, cutter_d_mm: float, feed: str = "") -> float:
        """How hollow a full-width pass of a face mill comes out.

        A ring leaning by φ in the direction of feed leaves the section −√(R² − y²)·sin φ: R·sin φ deep.

        Args:
            cutter_d_mm: Over the teeth.
            feed: "x" or "y"; empty: the worst direction.
        """
        lean = {"x": abs(self.about_y), "y": abs(self.about_x)}.get(feed, self.lean)
        return cutter_d_mm / 2 * math.sin(lean)


def tram(east: float, west: float, north: float, south: float, sweep_d_mm: float) -> Tram:
    """How the head leans, from an indicator in the spindle swept over a surface that is true to the table.

    A surface that reads higher in the east means that the swept plane goes down toward the east, which is a
    positive turn about +Y; higher in the north is a negative turn about +X.

    Args:
        east: Reading at +X, mm, + = surface higher; the others accordingly (north is +Y).
        west: At −X.
        north: At +Y.
        south: At −Y.
        sweep_d_mm: Diameter of the sweep.

    Raises:
        ShopError: The sweep has no diameter.
    """
    if not sweep_d_mm > 0:
        raise ShopError("tram", f"a sweep of Ø{sweep_d_mm:g}", "The tilt is the difference over that diameter", "Measure it")
    return Tram(
        about_x=math.atan2(south - north, sweep_d_mm),
        about_y=math.atan2(east - west, sweep_d_mm),
        closure_mm=(east + west - north - south) / 2,
    )


def centre_moves(at_0: float, at_90: float, at_180: float, at_270: float, on: str = "bore") -> tuple[float, float]:
    """What to move the table by, so that the spindle stands over the centre of a rotary table.

    The indicator turns with the spindle; a reading rises when the plunger is pressed. In a bore it rises where
    the wall is near, which is away from the centre: the table goes that way. On a plug it rises where the plug
    stands out, which is toward the centre: the table goes the other way.

    Args:
        at_0: Reading toward +X, mm; then counter-clockwise from above.
        at_90: Toward +Y.
        at_180: Toward −X.
        at_270: Toward −Y.
        on: "bore" or "plug".

    Returns:
        (x, y) in mm, as the table moves.

    Raises:
        ShopError: Neither bore nor plug.
    """
    if on not in {"bore", "plug"}:
        raise ShopError("centring", f"“{on}” cannot be swept", "A bore or a plug can", 'Say "bore" or "plug"')
    way = 1.0 if on == "bore" else -1.0
    return way * (at_0 - at_180) / 2, way * (at_90 - at_270) / 2
