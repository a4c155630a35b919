"""Threads, drills and holes."""

from __future__ import annotations

import math
import re

from elbrix.answers.answer import Answer, Destination, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import by_rule, looked, text_figure
from elbrix.mechanics.drilling import MIN_SHARE, POINT, TAP_LEAD_PITCHES, point_mm, tapped_mm, thread_depth_wanted
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.quantities.names import ThreadName, parse_drill, parse_thread
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import LENGTH_UNIT, length
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import CutterKind
from elbrix.standards import drills, screws
from elbrix.standards.near_miss import thread_near_misses
from elbrix.standards.threads import Thread, all_threads, find_thread, look_up, tap_drill, which_thread

#: 3/4·H per pitch, H = √3/2·P: what is called a full thread.
_FULL_DEPTH = 0.75 * 3**0.5 / 2
_ALL = 1000  # every drill of the tables
_TAP_CAUTION = "Drill and tap in one clamping; a tap that binds is backed off, never forced"


def _named(q: Question, example: str) -> Thread:
    """The thread of a question: M10, 1/4-20, or an inch size alone for its coarse one."""
    name = q.thread()
    fine = q.has("fine", "unf")
    coarse = q.has("coarse", "unc")
    if fine and coarse:
        raise ShopError("Ask", "coarse and fine at once", "A thread is of one series", "Say which")
    if name is not None and (name.pitch_mm or name.tpi):
        return _find(name)
    if name is not None:
        return _fine_metric(name) if fine else _find(name)
    size = q.written("fraction", "gauge", "length")
    if size:
        if size.endswith("mm"):
            raise missing("The thread", example)
        tpi = q.take("tpi")
        size = re.sub(r"\s*(?:\"|in|inch|inches)$", "", size).strip()
        size = size if size[:1] not in "nN" else "#" + size.lower().removeprefix("number").lstrip("no. ")
        if tpi is not None:
            return _find(parse_thread(f"{size}-{tpi.text.split()[0].rstrip('tpi.')}"))
        return _of_series(size, "UNF" if fine else "UNC")
    raise missing("The thread", example)


def _fine_metric(name: ThreadName) -> Thread:
    """The one fine thread of a size.

    Raises:
        ShopError: None, or several.
    """
    found = [t for t in all_threads() if t.metric and t.series == "fine" and t.name.partition("x")[0] == name.size]
    if len(found) != 1:
        several = " or ".join(t.shown for t in found)
        raise ShopError(
            "Ask",
            f"{name.size} fine is {several}" if found else f"there is no fine {name.size} in the table",
            "Fine threads of one size have several pitches" if found else "Sizes outside a table are never guessed",
            f"Say which: {found[0].name}" if found else "Ask for the coarse one, or name its pitch",
        )
    return found[0]


def _of_series(size: str, series: str) -> Thread:
    """An inch thread by its size and series; "5/16", "#10".

    Raises:
        ShopError: Not in the table.
    """
    found = next((t for t in all_threads() if t.series == series and t.name.rpartition("-")[0] == size), None)
    return found if found is not None else find_thread(parse_thread(size))


def _find(name: ThreadName) -> Thread:
    try:
        return find_thread(name)
    except ShopError:
        if name.metric or not name.size.isdigit():
            raise
        return find_thread(ThreadName(f"#{name.size}", tpi=name.tpi))  # "10-32" is said without its sign


def _owned(shop: Shop, kind: CutterKind, size_mm: float, name: str = "") -> Destination | None:
    """A button to the cutter on the rack."""
    for cutter in shop.cutters:
        if cutter.kind is kind and (cutter.name == name if name else abs(cutter.diameter_mm - size_mm) < 0.02):
            return Destination(words=f"See the {cutter.title} on the rack", bench="shop", thing="cutters", item=cutter.id)
    return None


def _on_rack(shop: Shop, size_mm: float) -> Figure:
    """The nearest drill that is owned."""
    owned = [c for c in shop.cutters if c.kind is CutterKind.DRILL]
    best = min(owned, key=lambda c: abs(c.diameter_mm - size_mm), default=None)
    if best is None:
        return text_figure("rack", "On the rack", "no drill yet")
    off = best.diameter_mm - size_mm
    text = (
        "yes"
        if abs(off) < 0.02
        else (
            f"nearest is {length(best.diameter_mm, 2)} {LENGTH_UNIT}, {length(abs(off), 2)} {'larger' if off > 0 else 'smaller'}"
        )
    )
    return text_figure("rack", "On the rack", text)


def _depth_wanted(called: str, material_name: str, thread: Thread) -> Figure:
    """The full thread a tapped hole wants: the rule the designs are judged by."""
    times = thread_depth_wanted(material_name)
    by = worked("times·d", times, term(thread.major_mm, 4), source="shop practice")
    return reckoned(f"depth {material_name}", f"Full thread wanted in {called}", by, step=0.1)


def _tap(q: Question, world: ShopContext) -> Answer:
    thread = _named(q, "tap drill M10x1.5")
    q.material()  # how deep, for every one of them, stands in the answer
    found = tap_drill(parse_thread(thread.name))
    drill, size = thread.tap_drill
    named = text_figure("drill", "Its name", f"{drill} mm drill" if thread.metric else f"drill {drill}")
    near = [f"{name} ({format_number(v, 3)} mm)" for name, v in drills.nearest_drills(size, 4) if abs(v - size) > 1e-6][:2]
    figures = (
        looked("tap_drill", "Tap drill", found),
        named,
        reckoned(
            "percent",
            "Thread left, of full depth",
            worked(
                "(d − drill)/(2·full·P)",
                term(thread.major_mm, 4),
                term(size, 4),
                term(_FULL_DEPTH, 6),
                term(thread.pitch_mm, 4),
                source="the usual count: 3/4·H on each side is full",
            ),
            unit="%",
        ),
        by_rule(
            "minor",
            "Basic minor diameter",
            thread.minor_d_mm,
            worked("D − 5/8·√(3)·P", term(thread.major_mm, 4), term(thread.pitch_mm, 4), source="5/4·H, H = √3/2·P; ISO 68-1"),
            step=0.001,
        ),
        _depth_wanted("steel", "mild steel", thread),
        _depth_wanted("aluminium, iron, brass and bronze", "aluminium alloy", thread),
        _on_rack(world.shop, size),
    )
    notes = ("Nearest other drills: " + ", ".join(near),) if near else ()
    return Answer(
        title=f"Tap drill for {thread.shown}",
        figures=figures,
        notes=notes,
        cautions=(_TAP_CAUTION,),
        go=_owned(world.shop, CutterKind.DRILL, size),
    )


def _clear(q: Question, world: ShopContext) -> Answer:
    size = q.written("thread", "fraction", "gauge", "length").removesuffix("in").strip()
    if not size:
        raise missing("The screw size", "clear hole 5/16")
    if size[:1] in "mM":
        size = f"M{size[1:].strip().split('x')[0].strip()}"
    elif "-" in size:
        size = parse_thread(size).size
    size = size.replace('"', "").strip()
    q.use("medium", "normal", "fit")
    chosen = next(
        (s for said_, s in (("close", "fine"), ("fine", "fine"), ("loose", "coarse"), ("coarse", "coarse")) if q.has(said_)),
        "medium",
    )
    rows = [(s, screws.clearance_hole(size, s)) for s in (chosen, *(s for s in ("fine", "medium", "coarse") if s != chosen))]
    figures = [looked(s, f"Clear hole, {s}" if i else f"Clear hole, {s} fit", found) for i, (s, found) in enumerate(rows)]
    return Answer(
        title=f"Clear hole for {size}",
        figures=(*figures, _on_rack(world.shop, rows[0][1].value)),
        go=_owned(world.shop, CutterKind.DRILL, rows[0][1].value),
    )


def _drill(q: Question, world: ShopContext) -> Answer:
    gauge = q.written("gauge")
    letter = next((t.text for t in q.tokens if t.kind == "word" and len(t.text) == 1 and t.text not in "ax"), "")
    if not gauge and not letter and (q.has("letter") or q.words <= {"drill", "a", "x"}):
        letter = next((x for x in "ax" if q.has(x)), "")
    q.use(letter)
    if gauge or letter:
        found = drills.drill_mm(parse_drill(re.sub(r"(?i)^number ?", "#", gauge) or letter.upper()))
        size, title = found.value, f"Drill {found.name}"
        first = [
            looked("size", "Diameter", found),
            Figure(key="inch", label="In inches", value=size / MM_PER_INCH, unit="", text=f"{size / MM_PER_INCH:.4f} in"),
        ]
    else:
        wanted = q.length()
        if wanted is None and "thread" in q.kinds():
            raise ShopError(
                "Ask", "a drill to tap it or to pass it", "They are two drills", "Ask for its tap drill, or for its clear hole"
            )
        if wanted is None:
            raise missing("The drill", "drill #7")
        size, title, first = wanted, f"Drills near {length(wanted, 4)} {LENGTH_UNIT}", []
    wanted_kind = re.compile(r"#\d+" if q.has("number") else r"[A-Z]" if q.has("letter") else r".*")
    near = [found for found in drills.nearest_drills(size, _ALL) if wanted_kind.fullmatch(found[0])][:5]
    lines = [
        Figure(
            key=f"near {i}",
            label=f"{'Nearest' if i == 0 else 'Next'}: {name}",
            value=v,
            step=0.001,
            derivation=Derivation(
                "drill − wanted", f"{format_number(v, 4)} − {format_number(size, 4)} = {format_number(v - size, 4)} mm"
            ),
        )
        for i, (name, v) in enumerate(near)
        if not first or abs(v - size) > 1e-9
    ]
    return Answer(
        title=title, figures=(*first, *lines[:4], _on_rack(world.shop, size)), go=_owned(world.shop, CutterKind.DRILL, size)
    )


def _thread(q: Question, world: ShopContext) -> Answer:
    thread = _named(q, "thread M8")
    name = parse_thread(thread.name)
    source = "ISO 68-1, ISO 724" if thread.metric else "ASME B1.1"
    d, pitch = term(thread.major_mm, 4), term(thread.pitch_mm, 6)
    figures = [
        *(
            [
                Figure(
                    key="tpi",
                    label="Threads per inch",
                    value=thread.tpi,
                    unit="",
                    derivation=Derivation("from the table", thread.shown, source),
                )
            ]
            if thread.tpi
            else []
        ),
        Figure(
            key="major",
            label="Major diameter",
            value=thread.major_mm,
            step=0.001,
            origin=Origin.STANDARD,
            derivation=Derivation("from the table", thread.shown, source),
        ),
        Figure(
            key="pitch",
            label="Pitch",
            value=thread.pitch_mm,
            step=0.001,
            origin=Origin.STANDARD,
            derivation=(
                worked("25.4/tpi", thread.tpi, source=source).derivation
                if thread.tpi
                else Derivation("from the table", thread.shown, source)
            ),
        ),
        looked("pitch_d", "Pitch diameter", look_up(name, "pitch_d"), worked("d − 3/8·√(3)·P", d, pitch)),
        looked("minor_d", "Minor diameter of the nut", look_up(name, "minor_d"), worked("D − 5/8·√(3)·P", d, pitch)),
        looked(
            "stress_area",
            "Stress area",
            look_up(name, "stress_area"),
            worked("π/4·(d − 0.9382·P)²", d, pitch) if thread.metric else worked("π/4·(d − 0.9743·P)²", d, pitch),
        ),
        looked("tap_drill", "Tap drill", tap_drill(name)),
    ]
    wanted = next((k for k, said_ in _ASKED_FIRST if q.has(*said_)), "major")
    if wanted == "tpi" and not thread.tpi:
        wanted = "pitch"
    figures.sort(key=lambda f: f.key != wanted)
    watch = [m.sentence for m in thread_near_misses(thread)[:2]]
    return Answer(
        title=f"Thread {thread.shown}",
        figures=tuple(figures),
        notes=tuple(watch),
        go=_owned(world.shop, CutterKind.TAP, 0.0, thread.name),
    )


def _which(q: Question, world: ShopContext) -> Answer:
    tpi = q.take("tpi")
    if tpi is not None and tpi.value:
        pitch: float | None = MM_PER_INCH / float(tpi.value)  # type: ignore[arg-type]
    else:
        pitch = q.length("pitch", "by", "x")
    major = q.length("over", "diameter", "dia", "thread") or q.length()
    if pitch is None:
        pitch = q.length()
    if major is None or pitch is None:
        raise missing("The diameter over the crests or the pitch", "which thread 12.6 at 13 tpi")
    found = which_thread(major, pitch)
    figures = [
        text_figure(
            f"match {i}",
            "Most likely" if i == 0 and m.likely else "Perhaps" if m.likely else "Hardly",
            m.thread.shown,
            Derivation(
                "measured against nominal",
                f"diameter {m.off_major:+.1%}, pitch {m.off_pitch:+.1%}",
                "a real screw is 0 to 2.5 % under its nominal",
            ),
        )
        for i, m in enumerate(found)
    ]
    notes = () if found[0].likely else ("None fits well: measure the pitch over ten threads, and the diameter over clean crests",)
    return Answer(
        title=f"Which thread is {length(major, 3)} {LENGTH_UNIT} with pitch {length(pitch, 3)} {LENGTH_UNIT}?",
        figures=tuple(figures),
        notes=notes,
        cautions=("A thread of nearly the same size starts, then jams or strips: try a known nut by hand first",),
    )


#: What of a thread is asked for by a word: that figure comes first.
_ASKED_FIRST = (
    ("stress_area", words("stress area")),
    ("minor_d", words("minor root core")),
    ("pitch_d", words("effective")),
    ("major", words("major crest outside")),
    ("tpi", words("tpi")),
    ("pitch", words("pitch lead")),
)


def _insert(q: Question, world: ShopContext) -> Answer:
    """The hole for a wire thread insert."""
    name = q.thread()
    if name is None:
        raise missing("The thread", "hole for an M8 thread insert")
    thread = _find(name)
    found = screws.insert_drill(thread.name)
    figures = (
        looked("insert_drill", "Drill for the insert", found),
        looked("tap_drill", "Without an insert", tap_drill(parse_thread(thread.name))),
        _on_rack(world.shop, found.value),
    )
    return Answer(
        title=f"Hole for a wire thread insert {thread.shown}",
        figures=figures,
        notes=("It is tapped with the insert's own tap; the insert maker's sheet comes first",),
        cautions=(_TAP_CAUTION,),
        go=_owned(world.shop, CutterKind.DRILL, found.value),
    )


def _point(q: Question, world: ShopContext) -> Answer:
    """How long a drill's point is."""
    angle = q.angle() or math.radians(118)
    size = q.length("drill", "diameter", "dia") or q.length()
    gauge = q.written("gauge") if size is None else ""
    if gauge:
        size = drills.drill_mm(parse_drill(gauge)).value
    if size is None or size <= 0:
        raise missing("The drill's diameter", "drill point 10 mm")
    if not math.radians(30) <= angle < math.pi:
        raise ShopError("Ask", f"{math.degrees(angle):g}° is no drill point", "It is from 30° to under 180°", "Usual is 118°")
    q.use("depth", "length", "included", "angle", "long", "cone")
    figure = reckoned(
        "point",
        "Length of the point",
        worked("d/2/tan(angle/2)", term(size, 4), term(math.degrees(angle), 6, "°"), source="triangle at the point"),
        step=0.001,
    )
    return Answer(
        title=f"Point of a {length(size, 3)} {LENGTH_UNIT} drill, {math.degrees(angle):g}°",
        figures=(figure,),
        notes=("A full diameter begins that far above the point: add it to the depth that is drilled",),
    )


def _how_deep(q: Question, world: ShopContext) -> Answer:
    """How deep a blind hole is drilled for its thread."""
    thread = _named(q, "thread depth M10 in aluminium")
    stuff = q.material()
    asked = q.length("deep", "depth", "thread", "full", "tapped", "engagement") or q.length()
    q.use("drill", "hole", "thread", "full", "tap", "tapped", "tapping", "blind", "engagement", "screw", "bolt", "stud")
    if asked is None and stuff is None:
        raise missing("The material, or how deep the thread is,", "thread depth M10 in aluminium")
    full, wanted = asked, thread_depth_wanted(stuff.name) if stuff is not None else 0.0
    if full is None:
        full = wanted * thread.major_mm
    if full <= 0:
        raise ShopError("Ask", "a thread of no depth", "It has some turns", "Say how deep: M8 thread 15 deep")
    drill = thread.tap_drill[1]
    deep = tapped_mm(full, thread.pitch_mm)
    lead = worked(
        "full thread + turns·P",
        term(full, 4),
        TAP_LEAD_PITCHES,
        term(thread.pitch_mm, 4),
        source="shop practice: the lead of a plug tap",
    )
    figures = (
        by_rule("deep", "Drill to the full diameter", deep, lead, step=0.1),
        by_rule(
            "point",
            "To the end of the point",
            deep + point_mm(drill),
            worked("depth + point·drill", term(deep, 4), term(POINT, 4), term(drill, 4), source="118° point"),
            step=0.1,
        ),
        *([Figure(key="full", label="Full thread", value=full, step=0.1)] if asked is not None else []),
        *([_depth_wanted(stuff.name, stuff.name, thread)] if stuff is not None else []),
        looked("tap_drill", "Tap drill", tap_drill(parse_thread(thread.name))),
    )
    share = full / (wanted * thread.major_mm) if wanted else 1.0
    short = f"Short in {stuff.name}: {format_number(wanted)} × d is wanted" if stuff is not None and share < 1 - 1e-9 else ""
    notes = (short + (", it strips" if share < MIN_SHARE else ""),) if short else ()
    return Answer(
        title=f"Blind hole for {thread.shown}",
        figures=figures,
        notes=notes,
        cautions=(_TAP_CAUTION,),
        go=_owned(world.shop, CutterKind.DRILL, drill),
    )


TOPICS = (
    Topic(
        key="thread insert",
        needs=(words("insert inserts"),),
        hints=words("hole drill thread wire") | {"@thread"},
        examples=("hole for an M8 thread insert",),
        answer=_insert,
    ),
    Topic(
        key="drill point",
        needs=(words("point"), words("drill depth length")),
        hints=words("drill depth length") | {"@angle"},
        examples=("drill point 10 mm", "drill point depth 118 deg 10 mm"),
        answer=_point,
    ),
    Topic(
        key="thread depth",
        needs=(words("deep depth blind engagement"), frozenset({"@thread"})),
        hints=words("drill hole thread full tap tapped tapping blind engagement screw bolt stud how") | {"@thread"},
        handles=words("fine coarse unf unc"),
        examples=("thread depth M10 in aluminium", "drill depth for M8 thread 15 deep"),
        answer=_how_deep,
    ),
    Topic(
        key="tap drill",
        needs=(words("tap tapping"), words("drill hole tap")),
        hints=words("size") | {"@thread"},
        handles=words("fine coarse unf unc"),
        examples=("tap drill M10", "tap drill 1/4-20", "drill to tap M8x1"),
        answer=_tap,
    ),
    Topic(
        key="clear hole",
        needs=(words("clear clearance through passing"),),
        hints=words("hole drill bolt screw stud fit") | {"@thread"},
        handles=words("close fine medium normal loose coarse"),
        examples=("clear hole 5/16", "clearance hole M8 close"),
        answer=_clear,
    ),
    Topic(
        key="which thread",
        needs=(words("which identify unknown what"), words("thread screw bolt")),
        hints=frozenset({"@tpi", "pitch", "at"}),
        examples=("which thread 12.6 at 13 tpi", "which thread 9.9 pitch 1.5"),
        answer=_which,
    ),
    Topic(
        key="drill",
        needs=(words("drill"),),
        hints=words("number letter size nearest near") | {"@gauge"},
        examples=("drill #7", "drill letter F", "drill near 6.3 mm"),
        answer=_drill,
    ),
    Topic(
        key="thread",
        needs=(frozenset({"thread", "@thread", "@tpi"}),),
        hints=words("data pitch minor major stress area diameter metric"),
        handles=words("fine coarse unf unc root core effective crest outside lead tpi"),
        examples=("thread M8x1.25", "thread 1/2-13", "stress area M10"),
        answer=_thread,
    ),
)
