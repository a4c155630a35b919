"""Angles set: sine plates, ways, two tilts, the head."""

from __future__ import annotations

import math

from msgspec.structs import replace

from elbrix.angles.budget import head_tilt_dial_mm
from elbrix.angles.methods import recommend, shown, ways_to_set
from elbrix.angles.sine import SinePlate
from elbrix.answers.answer import Answer, Destination, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import by_rule, from_setting, mm, solved, text_figure
from elbrix.quantities.angles import angle_text, show_angle
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Derivation, Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.angle_tools import SineTool
from elbrix.shop.shop import Shop

#: Centres asked for and centres owned are the same plate when they are this near.
_SAME_PLATE_MM = 0.5
_CENTRES = ("on", "centres", "centre", "bar", "plate", "sine-bar", "roll")
_TOLERANCE = ("to", "within", "tolerance", "tol", "plus-minus")


def _plate(centres: float | None, shop: Shop) -> tuple[Shop, dict[str, str], bool, str]:
    """(shop, choice of tool, whether it is owned, note) for the centres of a question."""
    if centres is None:
        return shop, {}, bool(shop.sine_tools), "" if shop.sine_tools else "No sine plate in Shop yet: 100 mm centres are assumed"
    near = min(shop.sine_tools, key=lambda t: abs(t.centres_mm - centres), default=None)
    if near is not None and abs(near.centres_mm - centres) <= _SAME_PLATE_MM:
        note = (
            ""
            if near.centres_mm == centres
            else f"{near.name} measures {length(near.centres_mm, 4)} {LENGTH_UNIT} between its rolls: that is what counts"
        )
        return shop, {"tool": near.id}, True, note
    asked = SineTool(
        id="asked",
        name=f"{format_number(centres, 4)} mm centres",
        centres_mm=centres,
        roll_pivot_mm=centres / 8,
        roll_stack_mm=centres / 8,
    )
    return (
        replace(shop, sine_tools=(asked,)),
        {"tool": asked.id},
        False,
        "There is no such sine plate in Shop: equal rolls are assumed",
    )


def _sine(q: Question, world: ShopContext) -> Answer:
    tolerance = q.angle(*_TOLERANCE)
    angle = q.angle() or q.angle("sine", "degree", "angle")
    if angle is None:
        raise missing("The angle", "sine 53d14m on 127")
    centres = q.length(*_CENTRES) or q.length()  # "sine 53d14m 127" says its centres without a word
    shop, chosen, owned, note = _plate(centres, world.shop)
    chosen = {"angle": angle_text(angle), **chosen}
    if tolerance is not None:
        chosen["tolerance"] = angle_text(tolerance)
    if solved("sine", shop, chosen).values.word("orientation") == "complement":
        turned = (
            f"The work is turned by 90° and the complement set, {show_angle(math.pi / 2 - angle, 'dms')}: over 60° the error"
            " grows"
        )
        note = f"{turned}. {note}" if note else turned
    title = f"{show_angle(angle, 'dms')} on a sine plate"
    keys = ("height", "stack", "stack_height", "off", "expected", "read_back", "spacer_make")
    return from_setting(
        title, "sine", shop, chosen, keys, owned=owned or not world.shop.sine_tools, notes=(note,) if note else ()
    )


def _of_stack(q: Question, world: ShopContext) -> Answer:
    centres = q.length(*_CENTRES)
    height = q.length("stack", "height", "spacer") or q.length()
    centres = centres or q.length() or (world.shop.sine_tools[0].centres_mm if world.shop.sine_tools else 100.0)
    if height is None:
        raise missing("The height under the roll", "angle of stack 80.108 on 100")
    near = next((t for t in world.shop.sine_tools if abs(t.centres_mm - centres) <= _SAME_PLATE_MM), None)
    plate = (
        SinePlate(centres_mm=near.centres_mm, roll_pivot_mm=near.roll_pivot_mm, roll_stack_mm=near.roll_stack_mm)
        if near
        else SinePlate(centres_mm=centres)
    )
    angle = plate.angle_rad(height)
    figures = (
        text_figure(
            "angle",
            "Angle",
            show_angle(angle, "dms"),
            Derivation(
                "asin((H − (d_p − d_s)/2)/C)",
                f"asin({format_number(height, 5)}/{format_number(plate.centres_mm, 4)})",
                "triangle on the roll centres",
            ),
        ),
        Figure(key="degrees", label="In degrees", value=math.degrees(angle), unit="", text=f"{math.degrees(angle):.5f}°"),
        by_rule(
            "per_um",
            "One µm in the stack turns",
            math.degrees(plate.per_mm_stack_rad(angle)) * 3.6,
            worked(
                "648/(π·C·cos(θ))", term(plate.centres_mm, 4), term(math.degrees(angle), 5, "°"), source="0.001 mm in seconds"
            ),
            unit="″",
        ),
    )
    go = (
        Destination(
            words="Open it in Angles",
            bench="angles",
            kind="sine",
            title=f"Spacer {height:g}",
            chosen={"angle": angle_text(angle), "tool": near.id, "spacer": mm(height)},
        )
        if near
        else None
    )
    return Answer(
        title=f"The angle {length(height, 5)} makes on {length(plate.centres_mm, 4)} {LENGTH_UNIT}", figures=figures, go=go
    )


def _ways(q: Question, world: ShopContext) -> Answer:
    tolerance = q.angle(*_TOLERANCE) or math.radians(5 / 60)
    angle = q.angle() or q.angle("set", "angle", "degree", "way")
    if angle is None:
        raise missing("The angle", "how to set 53d14m to 2'")
    ways = ways_to_set(world.shop, angle, work_length_mm=q.length("long", "length") or 60.0)
    advice = recommend(ways, tolerance)
    figures = [
        text_figure("best", "Take", advice.way.title, Derivation(advice.way.how, f"needs {advice.way.needs}; {advice.way.reach}"))
    ]
    figures += [
        text_figure(
            f"way {w.key}",
            ("● " if w.error_rad <= tolerance else "▲ ") * w.owned + w.title,
            f"±{shown(w.error_rad)}, {w.minutes} min" + ("" if w.owned else ", not owned"),
            Derivation(w.how, f"needs {w.needs}; {w.reach}"),
        )
        for w in ways
        if w.possible
    ]
    chosen = {"angle": angle_text(angle), "tolerance": angle_text(tolerance)}
    go = Destination(words="Open it in Angles", bench="angles", kind="sine", title=f"{show_angle(angle, 'dms')}", chosen=chosen)
    notes = (advice.reason, *((f"Better: {advice.next_better}",) if advice.next_better else ()))
    return Answer(
        title=f"Ways to set {show_angle(angle, 'dms')} within ±{shown(tolerance)}", figures=tuple(figures), notes=notes, go=go
    )


def _two_tilts(q: Question, world: ShopContext) -> Answer:
    meaning = (
        "slopes"
        if q.has("slopes", "slope", "seen", "front", "side")
        else "true"
        if q.has("true", "downhill", "falls", "direction")
        else "fixed"
        if q.has("table", "fixed")
        else "own"
    )
    towards = q.angle("direction", "downhill") if meaning == "true" else None
    first = q.angle()
    second = q.angle() if towards is None else towards
    if first is None or second is None:
        raise missing("One of the two angles", "two tilts 12 deg and 37 deg")
    title = f"Two tilts, {show_angle(first, 'dms')} and {show_angle(second, 'dms')}"
    chosen = {"meaning": meaning, "first": angle_text(first), "second": angle_text(second)}
    return from_setting(
        title,
        "two_tilts",
        world.shop,
        chosen,
        ("true", "downhill", "plate_x", "plate_y", "stack_base", "stack_top", "slope_front", "slope_side"),
    )


def _head(q: Question, world: ShopContext) -> Answer:
    angle = q.angle() or q.angle("head", "tilt", "spindle")
    travel = q.length("over", "travel", "sweep", "diameter") or q.length() or 100.0
    if angle is None:
        raise missing("The angle", "tilt head 5 deg over 100")
    if not 0 < angle < math.radians(89):
        raise ShopError(
            "Ask", f"{math.degrees(angle):g}° is no head tilt", "A head leans from 0° to under 90°", "Give an angle between"
        )
    over, lean = term(travel, 4), term(math.degrees(angle), 6, "°")
    figures = tuple(
        by_rule(how, label, head_tilt_dial_mm(angle, travel, how), by, step=0.001)
        for how, label, by in (
            ("table", "Table travel under a fixed dial", worked("L·tan(θ)", over, lean)),
            ("quill", "Quill travel along a square", worked("L·sin(θ)", over, lean)),
            ("sweep", "Dial swung on that diameter", worked("D·tan(θ)", over, lean)),
        )
    )
    cautions = ("Hold the head with a second hand or a jack before the bolts are loosened: it swings by its own weight",)
    notes = (
        "Tighten, then read again: a head moves while its bolts are tightened",
        "Bring it square again afterwards and prove it by tramming",
    )
    return Answer(
        title=f"What the dial shows with the head at {show_angle(angle, 'dms')}", figures=figures, notes=notes, cautions=cautions
    )


def _round_length(q: Question) -> tuple[float, str]:
    """A length one compares slopes over, in mm and in words: 100 mm, or 10 inches."""
    return (254.0, "10 in") if q.unit == "in" else (100.0, "100 mm")


def _tram(q: Question, world: ShopContext) -> Answer:
    """What a dial swung round by the spindle says of the head."""
    over = q.length("over", "sweep", "on", "swing", "across")
    off = q.length("tram", "head", "out", "reads", "difference") or q.length()
    if off is None or over is None or over <= 0:
        raise missing("The difference or the diameter of the sweep", "tram 0.05 over 300")
    q.use("out", "reads", "difference", "spindle")
    per, per_words = _round_length(q)
    angle = math.atan(abs(off) / over)
    figures = (
        text_figure(
            "angle",
            "The head leans by",
            show_angle(angle, "dms"),
            Derivation("atan(difference/sweep)", f"atan({format_number(abs(off), 4)}/{format_number(over, 3)})", "triangle"),
        ),
        Figure(key="degrees", label="In degrees", value=math.degrees(angle), unit="deg", step=0.0001),
        reckoned(
            "per100",
            f"Over {per_words} that is",
            worked("difference · length/sweep", term(abs(off), 4), term(per, 6), over),
            step=0.0001,
        ),
    )
    return Answer(
        title=f"A head that reads {length(abs(off), 4)} over {length(over, 2)} {LENGTH_UNIT}",
        figures=figures,
        notes=("Tighten, then read again: a head moves while its bolts are tightened",),
        cautions=("Hold the head with a second hand or a jack before the bolts are loosened: it swings by its own weight",),
    )


def _taper(q: Question, world: ShopContext) -> Answer:
    """A taper by its ratio, its two diameters or its angle."""
    ratio = q.take("ratio")
    angle = q.angle() if ratio is None else None  # of both one would be left out
    over: float | None = None
    if ratio is not None:
        per = float(ratio.value)  # type: ignore[arg-type]
        working = f"{ratio.text}"
        over = q.length("over", "long", "length", "in")
    elif angle is not None:
        per = 2 * math.tan(angle / 2)
        working = f"2·tan({show_angle(angle / 2)})"
        over = q.length("over", "long", "length", "in")
    else:
        long = q.length("over", "long", "length")
        first, second = q.length(), q.length()
        if long is None or first is None or second is None or long <= 0:
            raise missing("Two diameters and the length", "taper 20 to 16 over 50")
        per = abs(first - second) / long
        working = f"({format_number(max(first, second), 4)} − {format_number(min(first, second), 4)})/{format_number(long, 4)}"
    q.use("angle", "included", "compound", "slide", "diameter")
    half = math.atan(per / 2)
    round_mm, round_words = _round_length(q)
    along = (
        reckoned(
            "across",
            "Difference of the diameters",
            worked("taper · length", term(per, 6), term(over, 4), source="on the diameter"),
            step=0.001,
        )
        if over is not None
        else None
    )
    figures = (
        *([along] if along is not None else []),
        reckoned(
            "half",
            "Angle to the axis, the compound slide's",
            worked("atan(taper/2)", term(per, 6), source=f"taper on the diameter: {working}"),
            unit="deg",
            step=0.0001,
        ),
        text_figure("included", "Included angle", show_angle(2 * half, "dms")),
        text_figure("ratio", "Taper on the diameter", f"1 in {format_number(1 / per, 4)}" if per else "none"),
        reckoned("per100", f"On the diameter over {round_words}", worked("taper · length", term(per, 6), round_mm), step=0.001),
    )
    return Answer(title="Taper", figures=figures, notes=("A taper is on the diameter here; a slope of a flat is half as steep",))


TOPICS = (
    Topic(
        key="tram",
        needs=(words("tram tramming"),),
        hints=words("head over sweep"),
        examples=("tram 0.05 over 300",),
        answer=_tram,
    ),
    Topic(
        key="taper",
        needs=(words("taper tapers"),),
        hints=frozenset({"over", "@ratio"}),
        examples=("taper 1 in 20", "taper 20 to 16 over 50", "taper 1:10 over 50", "taper 1:10 angle"),
        answer=_taper,
    ),
    Topic(
        key="angle of a stack",
        searches=True,
        needs=(words("angle degree"), words("stack spacer height")),
        hints=words("on makes make"),
        examples=("angle of stack 80.108 on 100",),
        answer=_of_stack,
    ),
    Topic(
        key="sine",
        searches=True,
        needs=(words("sine sine-bar sine-plate"),),
        hints=words("stack plate bar on centres set") | {"@angle"},
        examples=("sine 53d14m on 127", "sine plate 15 deg", "sine 32.5 deg on 5 in"),
        answer=_sine,
    ),
    Topic(
        key="ways",
        searches=True,
        needs=(words("way ways how set setting"), frozenset({"@angle", "angle"})),
        hints=words("how set angle best"),
        examples=("how to set 53d14m to 2'", "ways to set 30 deg within 10'"),
        answer=_ways,
    ),
    Topic(key="angle", needs=(frozenset({"@angle"}),), examples=("53d14m",), answer=_ways, bare=True),
    Topic(
        key="two tilts",
        needs=(words("tilts compound slopes slope double direction"),),
        hints=words("two seen front side true table fixed falls tilt sine plate sine-plate") | {"@angle"},
        examples=("two tilts 20 deg and 10 deg", "compound slopes 12d and 37d", "double sine plate 15 deg in direction 30 deg"),
        answer=_two_tilts,
    ),
    Topic(
        key="head",
        needs=(words("head spindle"), words("tilt dial sweep swing")),
        hints=frozenset({"over", "@angle"}),
        examples=("tilt head 5 deg over 100",),
        answer=_head,
    ),
)
