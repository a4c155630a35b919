"""What has to be done to a piece of metal, in the words of the shop, without numbers of any one machine.

A family lists its work; `making` turns each kind of work into strokes and dial numbers. x runs along the bar from its finished
low end, y across from the middle of its width, z up from its finished top. Its faces are named once: A the top, C the underside,
B and D the sides at +y and −y, E the low end, F the high end. mm.
"""

from __future__ import annotations

from typing import Final

from msgspec import Struct, field

from elbrix.solids.recipe import Recipe

#: Where a family says how its work is held: which of the shop's vises opens so far is known when it is planned.
IN_VISE: Final = "{in the vise}"


class Blank(Struct, frozen=True, kw_only=True):
    """The finished outside of one piece, and how many come from one bar."""

    width_mm: float
    height_mm: float
    length_mm: float
    pieces: int = 1
    material: str = "mild steel"
    round_mm: float = 0.0  #: Ø of a turned part, over the corners of a hexagon; 0: milled from flat bar
    hex_mm: float = 0.0  #: across the flats of the hexagon bar it is turned from; 0: from round bar
    along: str = "+x"  #: which way the bar's x runs in the frame of the part's solid; a turned part's runs in from its free end
    up: str = "+z"  #: and its z
    there: str = ""  #: what it is when it is there already, to size: nothing is sawn or squared. "the plate that has the holes"


class Shoulder(Struct, frozen=True, kw_only=True):
    """A step milled on one or both sides, leaving `width_mm` standing, `depth_mm` below the top.

    A side with nothing to take off is left.
    """

    name: str
    width_mm: float
    depth_mm: float
    feature: str = ""
    max_corner_mm: float = 0.2  #: largest corner radius the step may keep
    off_mm: float = 0.0  #: middle of what stands from the middle of the bar, + away
    id: str = "shoulder"  #: of its moves and measured sizes, when there are several
    below: bool = False  #: on the underside: the bar lies turned over about its long axis, and off_mm is counted as it then lies
    taken_mm: float = 0.0  #: depth that a step before took off there already


class Chamfer(Struct, frozen=True, kw_only=True):
    """Edges broken along the bar."""

    name: str
    leg_mm: float
    edges: int = 2
    feature: str = ""


class TappedHole(Struct, frozen=True, kw_only=True):
    """A tapped hole in the middle of each piece, or at (x, y) from it."""

    name: str
    thread: str
    thickness_mm: float  #: of metal there
    x_mm: float = 0.0
    y_mm: float = 0.0
    drill_through: bool = True
    drill_depth_mm: float = 0.0  #: full diameter, blind holes
    tap_depth_mm: float = 0.0  #: full thread from the top; 0: right through
    countersink_mm: float = 0.0  #: Ø of the mouth chamfer
    feature: str = ""


class PieceHole(Struct, frozen=True, kw_only=True):
    """A drilled and counterbored hole in each piece, from the underside."""

    name: str
    thickness_mm: float
    drill_mm: float
    bore_mm: float
    bore_depth_mm: float
    off_mm: float = 0.0  #: from the middle of the bar as it then lies, + away
    feature: str = ""


class PatternHole(Struct, frozen=True):
    """One hole of a pattern: x from the low end, y from the middle of the width, + away; mm."""

    x_mm: float
    y_mm: float
    thread: str = ""  #: tapped with this
    drill_mm: float = 0.0  #: drilled to this, when it is not tapped
    bore_mm: float = 0.0  #: counterbored Ø; 0: none
    bore_depth_mm: float = 0.0
    ream_mm: float = 0.0  #: reamed to this after drilling; 0: not
    depth_mm: float = 0.0  #: full diameter, blind; 0: right through
    thread_depth_mm: float = 0.0  #: full thread; 0: right through
    limits: tuple[float, float] | None = None  #: how much under and over its Ø the drawing lets it come out


class HolePattern(Struct, frozen=True, kw_only=True):
    """Holes in a plate, all from one datum: one tool at all places, then the next."""

    name: str
    holes: tuple[PatternHole, ...]
    thickness_mm: float
    feature: str = ""
    face: str = "A"  #: drilled from this face; the ordinates are those on it as it then lies up, x to the right
    id: str = "pattern"  #: of its moves, when there are several
    held: str = ""  #: how, with `IN_VISE`; empty: in the vise or under straps
    together: bool = False  #: all pieces at once, in place


class RoundHoles(Struct, frozen=True, kw_only=True):
    """Holes across a turned part, all in one line along it: x from its free end, depths from the top of the round."""

    name: str
    holes: tuple[PatternHole, ...]
    feature: str = ""
    id: str = "across"


class SlitCut(Struct, frozen=True, kw_only=True):
    """A slit sawn in from one end or side of a piece, as a box in the bar frame."""

    name: str
    words: str
    low: tuple[float, float, float]
    high: tuple[float, float, float]
    feature: str = ""
    id: str = "slit"


class Flat(Struct, frozen=True, kw_only=True):
    """Two flats milled on a turned part, over a length from its free end."""

    name: str
    across_mm: float  #: left between them
    round_mm: float  #: Ø of the part there, which is touched
    from_mm: float  #: from the free end
    to_mm: float
    feature: str = ""
    id: str = "flats"


class Groove(Struct, frozen=True, kw_only=True):
    """A straight channel right along the bar, or right across a piece: a keyway, a relief, a notch."""

    name: str
    width_mm: float
    depth_mm: float
    at_mm: float = (
        0.0  #: its middle, as the piece then lies: from the middle of the bar, + away; across a piece: from its low end
    )
    across: bool = False
    below: bool = False  #: in the underside
    feature: str = ""
    id: str = "channel"
    allowed_mm: float = 0.05  #: how far its width may be off


class VGroove(Struct, frozen=True, kw_only=True):
    """A V along the top of the bar, each flank milled level with the bar tilted."""

    name: str
    included_deg: float
    mouth_mm: float
    relief_mm: float = 0.0  #: width of a relief along its bottom that was cut before
    at_mm: float = 0.0  #: its middle from the middle of the bar, + away
    pin_mm: float = 0.0  #: checked over a pin of this Ø
    over_pin_mm: float = 0.0  #: the top of the pin then stands this far above the face
    feature: str = ""
    id: str = "vee"


class BevelledEdge(Struct, frozen=True, kw_only=True):
    """A long side milled at a slant right along the bar, from its edge with one broad face; level, with the bar tilted."""

    name: str
    side: str  #: "B" or "D"
    deg: float  #: out of square
    feature: str = ""
    id: str = "bevel"


class TaperedFace(Struct, frozen=True, kw_only=True):
    """The top milled thinner toward the high end, level, with that end packed up."""

    name: str
    drop_mm: float  #: at the high end
    low_y_mm: float  #: from where to where the face reaches across, from the middle of the bar
    high_y_mm: float
    feature: str = ""
    id: str = "taper_face"


class BoredHole(Struct, frozen=True, kw_only=True):
    """A hole too large or too close for a drill and reamer: drilled, then bored in equal cuts."""

    name: str
    x_mm: float  #: from the low end
    y_mm: float  #: from the middle of the width, + away
    size_mm: float
    depth_mm: float = 0.0  #: 0: right through
    thickness_mm: float = 0.0
    allowed_mm: float = 0.02
    held: str = ""
    feature: str = ""
    id: str = "bore"
    gap_mm: float | None = None  #: cut in place in two jaws that stand so far apart; y is then counted from the parting line
    moving: bool = False  #: of these two jaws the part is the moving one, nearer to you


class Pocket(Struct, frozen=True, kw_only=True):
    """A recess whose wall follows an outline: where the cutter's middle goes, corner by corner."""

    name: str
    corners: tuple[tuple[float, float], ...]  #: of the cutter's path, from the low end and the middle of the width
    depth_mm: float
    cutter_mm: float
    closed: bool = False  #: the path goes round; else it comes in at one end and leaves at the other
    reliefs: tuple[tuple[float, float], ...] = ()  #: middles of corner reliefs of the cutter's own Ø
    gap_mm: float | None = None  #: cut in place in two jaws that stand so far apart; y is then counted from the parting line
    moving: bool = False  #: of these two jaws the part is the moving one, nearer to you
    held: str = ""
    feature: str = ""
    id: str = "pocket"


class MadeLength(Struct, frozen=True, kw_only=True):
    """A length that a shoulder makes: from the free end to it, or from it to the shoulder behind, which was cut before."""

    size: str  #: parameter
    length_mm: float
    words: str  #: what it is read with, and where
    behind: bool = False


class TurnedPart(Struct, frozen=True, kw_only=True):
    """One diameter of a turned part, from its free end."""

    name: str
    size_mm: float
    length_mm: float  #: from the free end
    allowed_mm: float = 0.05
    feature: str = ""
    id: str = "turn"
    shoulder: MadeLength | None = None  #: the length its shoulder makes, where that has to be right


class TurnedTaper(Struct, frozen=True, kw_only=True):
    """A taper or chamfer of a turned part, by the compound slide."""

    name: str
    from_size_mm: float  #: Ø nearer the free end
    to_size_mm: float
    from_mm: float  #: from the free end
    to_mm: float
    feature: str = ""
    id: str = "taper"


class TurnedBore(Struct, frozen=True, kw_only=True):
    """A bore of a turned part, from its free end."""

    name: str
    size_mm: float
    depth_mm: float = 0.0  #: 0: right through
    drill_mm: float = 0.0  #: first drilled to this; 0: bored only
    allowed_mm: float = 0.02
    thread: str = ""  #: drilled and tapped instead of bored
    drilled: bool = False  #: drilled to its size: too small for a boring bar, or not worth one
    feature: str = ""
    id: str = "bored"


class RingWall(Struct, frozen=True, kw_only=True):
    """A wall round a centre, milled on a rotary table: the metal between it and an edge goes."""

    name: str
    radius_mm: float
    edge_mm: float  #: radius to which metal stands: larger for an outside wall, smaller for an inside one
    depth_mm: float  #: below the top
    half_mm: float  #: half the piece along the middle's tangent
    centre_y_mm: float  #: of the ring, from the middle of the bar's width
    hole_radius_mm: float  #: of the hole the piece is set and held by
    feature: str = ""
    id: str = "wall"
    asked: str = ""  #: what is measured when it is done
    expected_mm: float = 0.0
    allowed_mm: float = 0.05


class TurnedGroove(Struct, frozen=True, kw_only=True):
    """A groove turned into the outside: an undercut behind a thread."""

    name: str
    size_mm: float  #: Ø left at its floor
    from_mm: float  #: its end nearer to the free end, from there
    to_mm: float
    feature: str = ""
    id: str = "groove"
    allowed_mm: float = 0.05


class TurnedThread(Struct, frozen=True, kw_only=True):
    """A thread cut on a diameter that was turned for it."""

    name: str
    thread: str
    from_mm: float  #: from the free end
    to_mm: float  #: where full thread has to end
    feature: str = ""
    id: str = "thread"


class TurnedKnurl(Struct, frozen=True, kw_only=True):
    """Teeth rolled into a diameter that was turned for them."""

    name: str
    pitch_mm: float
    from_mm: float  #: from the free end
    to_mm: float
    over_mm: float  #: Ø over the crests, about
    feature: str = ""
    id: str = "knurl"


class HandOperation(Struct, frozen=True, kw_only=True):
    """Something done at the bench, by hand."""

    name: str
    words: str  #: its lengths marked (`results.length_text`), as in the check and the caution
    tools: tuple[str, ...] = ()
    caution: str = ""
    check: str = ""  #: what has to be true before the next
    first: bool = False  #: before the machine work that follows it
    proves: tuple[str, ...] = ()  #: sizes of the drawing that are set and measured in it, by parameter


Step = (
    Shoulder
    | Chamfer
    | TappedHole
    | PieceHole
    | HolePattern
    | Groove
    | VGroove
    | BevelledEdge
    | TaperedFace
    | BoredHole
    | Pocket
    | SlitCut
    | Flat
    | TurnedPart
    | TurnedTaper
    | TurnedBore
    | RingWall
    | RoundHoles
    | TurnedGroove
    | TurnedThread
    | TurnedKnurl
    | HandOperation
)


class Work(Struct, frozen=True):
    """All the work of a design, in order."""

    blank: Blank
    steps: tuple[Step, ...] = ()
    notes: tuple[str, ...] = field(default=())
    solid: Recipe | None = None  #: of one piece, when it is all made by these steps
