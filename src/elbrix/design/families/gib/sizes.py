"""The sizes of a gib or packing strip. x along it, y across from its middle, z up from the side the screws press; mm."""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.bores import Hole
from elbrix.design.made_of import made_of
from elbrix.mechanics.drilling import point_mm
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.quantities.errors import ShopError
from elbrix.quantities.names import parse_thread
from elbrix.results.length_text import length
from elbrix.standards.materials import Material, material
from elbrix.standards.threads import Thread, find_thread

KINDS: Final = (("dovetail", "for a dovetail, both edges bevelled"), ("square", "for a square way, edges square"))
#: A gib that goes in by its taper holds by itself up to this slope. Source: shop practice, 1 in 48 to 1 in 100 is usual.
STEEP, FLAT = 1 / 40, 1 / 150
#: Full-Ø depth of a dimple the screws' points stand in, mm.
DIMPLE_DEEP: Final = 0.4

PARAMETERS: Final = (
    Parameter(name="kind", label="Gib type", kind=Kind.CHOICE, unit="", choices=KINDS, feature="edges"),
    Parameter(
        name="flank_angle",
        label="Dovetail angle",
        kind=Kind.ANGLE,
        unit="",
        low=30,
        high=85,
        usually="flank to floor, as measured",
        feature="edges",
    ),
    Parameter(
        name="way_height",
        label="Height of the way",
        kind=Kind.LENGTH,
        low=2,
        high=100,
        step=0.1,
        usually="of the dovetail, upright",
        feature="edges",
    ),
    Parameter(
        name="old_thickness",
        label="Old gib thickness",
        kind=Kind.LENGTH,
        low=0,
        high=40,
        step=0.01,
        usually="0: none; measured square to its faces",
        feature="thickness",
    ),
    Parameter(
        name="slack",
        label="Side play",
        kind=Kind.LENGTH,
        low=0,
        high=40,
        step=0.01,
        usually="slide pushed to and fro, indicator, old gib in and its screws loose",
        feature="thickness",
    ),
    Parameter(
        name="clearance",
        label="Running clearance",
        kind=Kind.LENGTH,
        low=0,
        high=0.5,
        step=0.005,
        usually=f"{length(0.02)}: an oil film",
        feature="thickness",
    ),
    Parameter(
        name="allowance",
        label="Left for fitting",
        kind=Kind.LENGTH,
        low=0,
        high=1,
        step=0.01,
        usually=f"{length(0.05)}: scraped or lapped off",
        feature="thickness",
    ),
    Parameter(
        name="thickness",
        label="Gib thickness",
        kind=Kind.LENGTH,
        low=0.8,
        high=40,
        step=0.01,
        words=("thicker", "thinner"),
        usually="old + play, square to the flank − clearance + fitting",
        feature="thickness",
    ),
    Parameter(
        name="drop",
        label="Taper over its length",
        kind=Kind.LENGTH,
        low=0,
        high=20,
        step=0.05,
        words=("more", "less"),
        usually="0: parallel; as the way's own",
        feature="thickness",
    ),
    Parameter(
        name="width",
        label="Face width",
        kind=Kind.LENGTH,
        low=4,
        high=150,
        step=0.1,
        words=("wider", "narrower"),
        usually=f"the flank less {length(1)}",
        feature="edges",
    ),
    Parameter(
        name="length",
        label="Gib length",
        kind=Kind.LENGTH,
        low=20,
        high=800,
        step=1,
        words=("longer", "shorter"),
        usually="the slide's",
        feature="body",
    ),
    Parameter(
        name="screws", label="Gib screws", kind=Kind.COUNT, unit="", low=0, high=12, words=("more", "fewer"), feature="screws"
    ),
    Parameter(
        name="end_distance",
        label="First screw from the end",
        kind=Kind.LENGTH,
        low=4,
        high=300,
        step=0.5,
        usually="measured on the slide",
        feature="screws",
    ),
    Parameter(name="screw", label="Gib screw thread", kind=Kind.THREAD, unit="", feature="screws"),
    Parameter(
        name="torque",
        label="Gib screw torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.05,
        high=20,
        step=0.1,
        usually="by feel, little",
        feature="screws",
    ),
    *made_of("body", most=6),
)


class GibSizes:
    """The arithmetic of one gib.

    Raises:
        ShopError: Sizes that make none.
    """

    def __init__(self, v: Values) -> None:
        self.v, self.kind = v, v.word("kind")
        self.angle = v.number("flank_angle")
        self.thick, self.drop, self.width, self.length = (v.number(n) for n in ("thickness", "drop", "width", "length"))
        self.screws, self.first = int(v.number("screws")), v.number("end_distance")
        self.screw: Thread = find_thread(parse_thread(v.word("screw")))
        if self.drop >= self.thick - 0.5:
            raise _refused(
                "Taper",
                f"{length(self.drop)} off {length(self.thick)}",
                "Nothing would be left at the thin end",
                "Less taper, or a thicker gib",
                "drop",
            )
        if self.dovetail and self.lean >= self.width - 2:
            raise _refused(
                "Face width",
                f"{length(self.width)} with {length(self.lean)} of bevel",
                "One face would be a knife edge",
                "Make it wider or thinner",
                "width",
            )
        if self.screws and (self.first < self.dimple / 2 + 1 or (self.screws > 1 and 2 * self.first >= self.length - 2)):
            raise _refused(
                "Gib screws",
                f"the first {length(self.first)} from the end of {length(self.length)}",
                "It presses on the strip, and the last from the other end as far",
                "Measure it on the slide again",
                "end_distance",
            )
        if self.screws and self.thick - self.drop - DIMPLE_DEEP - point_mm(self.dimple) < 0.2:
            raise _refused(
                "Dimples",
                f"{length(DIMPLE_DEEP + point_mm(self.dimple), 2)} deep where it is {length(self.thick - self.drop)} thick",
                "They would come through",
                "A thicker gib, or thinner screws",
                "screw",
            )

    @property
    def dovetail(self) -> bool:
        return self.kind == "dovetail"

    @property
    def bevel_deg(self) -> float:
        """Of its edges, out of square: what the dovetail's angle leaves of 90°."""
        return 90 - math.degrees(self.angle) if self.dovetail else 0.0

    @property
    def lean(self) -> float:
        """By how much one face lies beside the other across it."""
        return self.thick * math.tan(math.radians(self.bevel_deg))

    @property
    def overall(self) -> float:
        """Over both edges: of the bar it is cut from."""
        return self.width + self.lean

    @property
    def normal_play(self) -> float:
        """The play square to the flank: of a dovetail s·sin β."""
        return self.v.number("slack") * (math.sin(self.angle) if self.dovetail else 1.0)

    @property
    def fitted(self) -> float:
        """As thick as it is to be when it is fitted."""
        return self.v.number("old_thickness") + self.normal_play - self.v.number("clearance")

    @property
    def flank(self) -> float:
        """Of the way: height/sin β."""
        return self.v.number("way_height") / (math.sin(self.angle) if self.dovetail else 1.0)

    @property
    def dimple(self) -> float:
        """Ø of a dimple: what a screw's point stands in."""
        return round(0.7 * self.screw.major_mm, 1)

    @property
    def places(self) -> tuple[float, ...]:
        """Of the screws along it."""
        if self.screws == 0:
            return ()
        if self.screws == 1:
            return (self.length / 2,)
        step = (self.length - 2 * self.first) / (self.screws - 1)
        return tuple(self.first + i * step for i in range(self.screws))

    @property
    def holes(self) -> tuple[Hole, ...]:
        """Dimples in its underside, in the middle of that face."""
        return tuple(
            Hole(
                name=f"S{i}",
                x=x,
                y=self.under_y,
                drill=self.dimple,
                depth=DIMPLE_DEEP,
                below=True,
                feature="screws",
                use="for a screw's point",
            )
            for i, x in enumerate(self.places, 1)
        )

    @property
    def under_y(self) -> float:
        """Middle of the face underneath, from the middle over everything."""
        return -self.lean / 2

    @property
    def section(self) -> tuple[tuple[float, float], ...]:
        """(y, z) counter-clockwise: the upper face lies to +y by the lean."""
        w, t, k = self.overall / 2, self.thick, self.lean
        return ((-w, 0.0), (w - k, 0.0), (w, t), (-w + k, t))

    @property
    def apart(self) -> float:
        """Between screws."""
        return (self.length - 2 * self.first) / (self.screws - 1) if self.screws > 1 else self.length

    @property
    def metal(self) -> Material:
        return material(self.v.word("material"))

    @property
    def volume(self) -> float:
        """mm³, dimples not taken off."""
        return self.width * (self.thick - self.drop / 2) * self.length


def _refused(where: str, what: str, why: str, do: str, entry: str) -> ShopError:
    return ShopError(where, what, why, do, entry=entry)
