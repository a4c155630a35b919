"""A bore that is slit and drawn together by a screw across the slit.

What is asked for it, what it holds, and what the kernel takes away.
"""

from __future__ import annotations

import math
from typing import Final

from elbrix.design.bores import ROUND, tapped, thread_of
from elbrix.design.work import PatternHole
from elbrix.mechanics.drilling import point_mm
from elbrix.mechanics.strength import COUNTED, MU, preload_n, slit_grip_n
from elbrix.mechanics.tightened import SCREW_CLASS, screw_load
from elbrix.parameters.parameter import Kind, Parameter, Values
from elbrix.results.checks import Check, Points
from elbrix.results.figures import Figure
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Point3, Turned
from elbrix.standards.screws import clearance_hole, head

#: Of the clamp screw's thread, dry: torque over this and its Ø is its pull.
NUT_FACTOR: Final = 0.2
_SCREWS: Final = ("M4", "M5", "M6", "M8")
_HACKSAW_MM: Final = 1.5
#: A saw thicker than this takes too much of the bore.
_THICKEST_SAW_MM: Final = 2.5

PARAMETERS: Final = (
    Parameter(
        name="slit_width",
        label="Slit width",
        kind=Kind.LENGTH,
        low=0.8,
        high=4,
        step=0.1,
        usually="the saw's width",
        feature="slit_width",
    ),
    Parameter(
        name="clamp_screw",
        label="Clamp screw",
        kind=Kind.CHOICE,
        unit="",
        choices=tuple((s, s) for s in _SCREWS),
        feature="slit_width",
    ),
    Parameter(
        name="torque",
        label="Clamp screw torque",
        kind=Kind.NUMBER,
        unit="N·m",
        low=0.2,
        high=60,
        step=0.2,
        words=("tighter", "looser"),
        usually="what a small key gives",
        feature="slit_width",
    ),
)


def owned_saw(shop: Shop) -> tuple[float, str, bool]:
    """Width of the thinnest saw there is, where that comes from, and whether it is there."""
    saws = [c.width_mm for c in shop.cutters if 0 < c.width_mm <= _THICKEST_SAW_MM]
    return (min(saws), "the thinnest saw", True) if saws else (_HACKSAW_MM, "a hacksaw", False)


class SlitClamp:
    """The arithmetic of one."""

    def __init__(self, v: Values) -> None:
        self.v = v
        self.screw, self.slit = v.word("clamp_screw"), v.number("slit_width")
        self.d = float(self.screw[1:])
        self.clear = clearance_hole(self.screw).value
        self.bore = math.ceil(head("socket_cap", self.screw, "head_d").value + 2 * ROUND)
        self.head = head("socket_cap", self.screw, "head_h").value

    @property
    def pull_n(self) -> float:
        return preload_n(self.v.number("torque"), NUT_FACTOR, self.d)

    @property
    def grip_n(self) -> float:
        """Holds what is in the bore along itself."""
        return slit_grip_n(self.pull_n)

    def tool(self, mouth: Point3, out: Point3, *, to_slit: float, to_end: float, counterbore_depth: float) -> Turned:
        """Counterbore, clearance to the slit, tapping drill beyond it.

        Args:
            mouth: Middle of the screw's mouth; `out` points out of it.
            to_slit: From the mouth to the middle of the slit.
            to_end: To the end of the thread.
            counterbore_depth: How deep the head is let in.
        """
        drill = self.tap_drill
        profile = (
            (0.0, 1.0),
            (self.bore / 2, 1.0),
            (self.bore / 2, -counterbore_depth),
            (self.clear / 2, -counterbore_depth),
            (self.clear / 2, -to_slit),
            (drill / 2, -to_slit - point_mm(self.clear) + point_mm(drill)),
            (drill / 2, -to_end),
            (0.0, -to_end - point_mm(drill)),
        )
        return Turned(profile, mouth, out)

    def words(self, *, to_slit: float, to_end: float, counterbore_depth: float) -> str:
        """Its hole as a drawing says it; an end of 0 is right through."""
        thread = tapped("K", 0, 0, self.screw).threaded
        assert thread is not None
        end = f"{length(to_end)} deep" if to_end else "through"
        return (
            f"Ø{length(self.clear, 1)} {length(to_slit)} deep to the slit, "
            f"counterbore Ø{length(self.bore)} × {length(counterbore_depth)};"
            f" behind the slit {thread.shown}, drill {length(self.tap_drill, 2)} {end}"
        )

    @property
    def tap_drill(self) -> float:
        """Tapping drill of the clamp screw, mm."""
        return tapped("K", 0, 0, self.screw).drill

    def holes(self, x: float, y: float, *, to_slit: float, to_end: float, counterbore_depth: float) -> tuple[PatternHole, ...]:
        """The same as work on the face it goes in from: tapping drill all the way, clearance to the slit, the head let in.

        Args:
            x: On that face as it lies up, `y` too.
            to_end: As in `tool`; 0: right through.
        """
        return (
            PatternHole(x, y, thread=thread_of(self.screw).name, drill_mm=self.tap_drill, depth_mm=to_end),
            PatternHole(x, y, drill_mm=self.clear, depth_mm=to_slit, bore_mm=float(self.bore), bore_depth_mm=counterbore_depth),
        )

    def load(self) -> Check:
        """Its screw against its proof load."""
        return screw_load(
            "clamp_load",
            "Clamp screw load",
            self.pull_n,
            thread_of(self.screw),
            SCREW_CLASS,
            Points(features=("slit_width",), figures=("clamp_n", "torque"), remedies=("torque", "clamp_screw")),
        )

    def figures(self, held: str, features: tuple[str, ...]) -> tuple[Figure, Figure]:
        """What the screw pulls and what is held."""
        return (
            reckoned(
                "clamp_n",
                "Clamp screw preload",
                worked("T/(K·d)", term(self.v.number("torque"), 3, "N·m"), NUT_FACTOR, self.d, source="dry thread"),
                unit="kN",
                features=("slit_width",),
            ),
            reckoned(
                "grip",
                held,
                worked(f"2·µ·{COUNTED:g}·F", MU, term(self.pull_n, 4), source="pressed from both sides; a torque scatters"),
                unit="N",
                features=features,
            ),
        )
