"""The thumb screw: a knurled head over a thread, tightened by fingers alone. Turned about z; z = 0 is its lower end; mm."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Final

from elbrix.design.work import Step, TurnedGroove, TurnedKnurl, TurnedPart, TurnedThread
from elbrix.drawing.scene import Dimension, Element, Line, Note, Side, Style, box
from elbrix.quantities.lengths import round_down
from elbrix.results.checks import Check, Limits, judged
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked

if TYPE_CHECKING:
    from elbrix.design.families.hardware.sizes import HardwareSizes

#: A straight knurl raises its crests by so much of its pitch on the diameter. Source: shop practice, half of it; measure yours.
GROWS: Final = 0.5
#: What thumb and finger push with round a knurled head, N: firm, not strained. Source: shop practice.
FINGERS_N: Final = 40.0
#: Head Ø over the thread's: easy to turn from, and hard to turn below. Source: shop practice.
_GRIP: Final = Limits(1.4, 1.8)


def plain_mm(wanted_mm: float, pitch_mm: float) -> float:
    """Ø a head is turned to before it is knurled: a whole number of pitches round it, none over what is wanted.

    Args:
        wanted_mm: Over the crests.
        pitch_mm: Of the knurl; 0: none.
    """
    if not pitch_mm:
        return wanted_mm
    return round_down(teeth(wanted_mm, pitch_mm) * pitch_mm / math.pi, 0.01)


def teeth(wanted_mm: float, pitch_mm: float) -> int:
    """Of a knurl round a head of that Ø over its crests."""
    return max(6, int(math.pi * (wanted_mm - GROWS * pitch_mm) / pitch_mm))


def figures(s: HardwareSizes) -> list[Figure]:
    """Of the head."""
    pitch = s.v.number("knurl")
    return [
        Figure(
            key="before_knurl",
            label="Head Ø before knurling",
            value=s.head_turned,
            step=0.01,
            features=("head_height",),
            derivation=Derivation(
                "teeth·pitch/π, down to 0.01",
                f"{teeth(s.head, pitch)}·{format_number(pitch)}/π",
                "a whole number of teeth goes round: the wheel falls into its own marks",
            )
            if pitch
            else Derivation("no knurl", format_number(s.head)),
        ),
        reckoned(
            "over_crests",
            "Head Ø over the crests",
            worked(f"before + {GROWS:g}·pitch", s.head_turned, pitch, source="nearly: metals differ"),
            step=0.05,
            features=("head_height",),
        ),
        reckoned("overall", "Overall length", worked("thread + head", s.lower, s.head_height), step=0.1, features=("body",)),
    ]


def checks(s: HardwareSizes) -> list[Check]:
    """What is its own; thread and pull are judged as of any."""
    torque = s.v.number("torque")
    return [
        judged(
            "fingers",
            "Torque over what fingers give",
            worked("T/(finger force·head/2)", term(torque, 3, "N·m"), term(FINGERS_N, 0, "N"), s.head),
            Limits(marginal_above=1.0, no_above=2.0),
            ("fingers tighten it", "a strong hand tightens it", "no fingers tighten it so: a hexagon, or a cross hole"),
            unit="×",
            features=("head_height",),
            figures=("torque", "head_diameter"),
            remedies=("torque", "head_diameter"),
        ),
        judged(
            "grip",
            "Head over the thread",
            worked("head/d", s.head, s.d),
            _GRIP,
            ("easy to turn", "small: it slips in oily fingers", "too small to turn"),
            unit="× d",
            features=("head_height",),
            figures=("head_diameter",),
            remedies=("head_diameter",),
        ),
        judged(
            "engaged",
            "Thread engagement",
            worked("(thread − undercut)/d", s.lower, s.undercut, s.d),
            Limits(0.6, 0.8),
            ("it holds what fingers pull", "short", "it strips"),
            unit="× d",
            features=("thread",),
            figures=("engaged", "undercut"),
            remedies=("engaged",),
        ),
        runs_out(s),
    ]


def runs_out(s: HardwareSizes) -> Check:
    """Whether the die has room to run out."""
    return judged(
        "runs_out",
        "Undercut over the pitch",
        worked("undercut/pitch", s.undercut, s.pitch),
        Limits(0.0, 1.5),
        ("the die runs out into it", "the die leaves half threads: it does not seat", ""),
        unit="pitches",
        features=("undercut",),
        figures=("undercut",),
        remedies=("undercut",),
    )


def profile(s: HardwareSizes) -> tuple[tuple[float, float], ...]:
    """Half section from the axis upward: (radius, z)."""
    q, c, b, h, high = s.turned / 2, s.break_, s.lower, s.head_turned / 2, s.length
    g = s.root / 2
    cut = ((q, b - s.undercut), (g, b - s.undercut), (g, b)) if s.undercut else ((q, b),)
    return ((0.0, 0.0), (q - c, 0.0), (q, c), *cut, (h, b), (h, high), (0.0, high))


def work(s: HardwareSizes) -> list[Step]:
    """Thread from the free end, the head last: it is parted behind it. Its lead is chamfered by who asks."""
    b, high, pitch = s.lower, s.length, s.v.number("knurl")
    found: list[Step] = [
        TurnedPart(name="Thread's outside", size_mm=s.turned, length_mm=b, feature="thread", id="outside"),
        TurnedPart(name="Head", size_mm=s.head_turned, length_mm=high, allowed_mm=0.03, feature="head_height", id="head"),
    ]
    if s.undercut:
        found.append(
            TurnedGroove(name="Undercut", size_mm=s.root, from_mm=b - s.undercut, to_mm=b, feature="undercut", id="undercut")
        )
    if pitch:
        found.append(
            TurnedKnurl(
                name="Knurl",
                pitch_mm=pitch,
                from_mm=b,
                to_mm=high,
                over_mm=s.head_turned + GROWS * pitch,
                feature="head_height",
                id="knurl",
            )
        )
    found.append(
        TurnedThread(name="Thread", thread=s.thread.name, from_mm=0.0, to_mm=b - s.undercut, feature="thread", id="cut_thread")
    )
    return found


# --- drawn --------------------------------------------------------------------------------------------------------------


def in_a_block(s: HardwareSizes) -> list[Element]:
    """What it is screwed into, cut through."""
    wide = 1.3 * s.head / 2 + 10
    return [
        *(
            box(k * s.d / 2 if k > 0 else -wide, -6, wide if k > 0 else -s.d / 2, s.lower, Style.SURROUNDINGS_SECTION, "thread")
            for k in (1, -1)
        ),
        Note((wide + 2, s.lower / 2), "what it closes", quiet=True),
    ]


def knurled(s: HardwareSizes) -> list[Element]:
    """Its teeth from the side: where they stand round the head, no more than can be seen."""
    pitch = s.v.number("knurl")
    if not pitch:
        return []
    count = min(teeth(s.head, pitch), 40)
    r, low, high = s.head_turned / 2, s.lower, s.length
    at = {round(r * math.cos(2 * math.pi * k / count), 3) for k in range(count)}
    return [Line((x, low), (x, high), Style.THIN, "head_height") for x in sorted(at) if abs(x) < 0.999 * r]


def sizes(s: HardwareSizes) -> tuple[Dimension, ...]:
    r, b, high = s.head_turned / 2, s.lower, s.length
    return (
        Dimension("before_knurl", (-r, high), (r, high), Side.ABOVE, prefix="Ø", feature="head_height", step_mm=0.01, order=0),
        Dimension("head_height", (r, b), (r, high), Side.RIGHT, entry="head_height", feature="head_height", order=1),
        Dimension("engaged", (-s.d / 2, 0), (-s.d / 2, b), Side.LEFT, entry="engaged", feature="thread", order=2),
        Dimension(
            "thread", (-s.d / 2, 0), (s.d / 2, 0), Side.BELOW, text=s.thread.shown, entry="thread", feature="thread", order=3
        ),
    )
