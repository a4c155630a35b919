"""Speeds and tightening."""

from __future__ import annotations

from msgspec.structs import replace

from elbrix.answers.answer import Answer, Destination, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import MOMENTS, by_rule, text_figure
from elbrix.making.speeds import PARTED_SHARE, speed_for
from elbrix.mechanics.strength import STUD_SHARE, preload_n, stud_load_n, stud_torque_nm
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import UnitStyle
from elbrix.quantities.sentences import sentence
from elbrix.results.figures import Derivation, Figure, FormulaTerm, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.results.length_text import length
from elbrix.shop.machines import Machine, MachineKind
from elbrix.shop.shop import Shop
from elbrix.shop.tooling import Cutter, CutterKind
from elbrix.standards.materials import PRELOAD_SCATTER, nut_factor, proof_mpa
from elbrix.standards.threads import Thread, find_thread

_KINDS = (
    (words("drill"), CutterKind.DRILL, 2),
    (words("tap"), CutterKind.TAP, 3),
    (words("face"), CutterKind.FACE_MILL, 4),
    (words("saw slitting"), CutterKind.SLITTING_SAW, 40),
    (words("countersink"), CutterKind.COUNTERSINK, 3),
    (words("reamer ream"), CutterKind.REAMER, 6),
    (words("spot"), CutterKind.SPOT_DRILL, 2),
)
#: A cutter on the rack is the one asked for when it is this near: a mill ground once is still called by its size.
_SAME_CUTTER_MM = 0.06
#: Fed down, by quill or knee: no handwheel of the table feeds them.
_PLUNGED = (CutterKind.DRILL, CutterKind.TAP, CutterKind.COUNTERSINK, CutterKind.REAMER, CutterKind.SPOT_DRILL)
_TAPPED = "A tap feeds itself, its pitch a turn: by hand, the spindle out of gear; under power only in a tapping head"


def _area(thread: Thread) -> FormulaTerm:
    return term(thread.stress_area_mm2, 2, "mm²")


def _stud_load(label: str, thread: Thread, strength: str) -> Figure:
    """What a clamping stud is given of its proof load."""
    proof = proof_mpa(strength, thread.major_mm)
    by = worked("share·proof·A_s", STUD_SHARE, term(proof.value, 3, "MPa"), _area(thread), source=proof.source)
    return by_rule("load", label, stud_load_n(thread, strength) / 1000, by, unit="kN")


def _proof(q: Question, world: ShopContext) -> Answer:
    """The pull at which a stud stretches for good, and what of it a clamping stud is given."""
    name = q.thread()
    if name is None:
        raise missing("The thread", "proof load M10 8.8")
    thread = find_thread(name)
    asked = _strength(q, metric=thread.metric)
    proof = proof_mpa(asked, thread.major_mm)
    figures = (
        reckoned(
            "proof",
            "Proof load",
            worked("proof·A_s", term(proof.value, 6, "MPa"), term(thread.stress_area_mm2, 2, "mm²"), source=proof.source),
            unit="kN",
        ),
        _stud_load("A clamping stud is given", thread, asked),
    )
    return Answer(
        title=f"Stud {thread.shown}, {_called(asked)}",
        figures=figures,
        notes=("Past its proof load it stretches for good",),
        cautions=("The nut, the slot's lips and the clamp seldom take as much: the T-nut's proof says what they do",),
    )


def _of_speed_alone(working: Derivation) -> Derivation:
    """Without the feed, which stands behind the first semicolon."""
    return replace(working, formula=working.formula.partition(";")[0], line=working.with_numbers.partition(";")[0])


def _machine(q: Question, shop: Shop) -> Machine | None:
    for machine in shop.machines:
        if q.has(*(w.lower() for w in machine.name.split() if len(w) > 2)):
            return machine
    return next((m for m in shop.machines if m.kind is not MachineKind.LATHE and m.speeds_rpm), None)


def _speed(q: Question, world: ShopContext) -> Answer:
    stuff = q.material()
    q.has("hss")
    thread = q.thread()  # of a tap
    sized = q.length("cutter", "mill", "drill", "speed", "tap", "diameter", "dia") or (q.length() if thread is None else None)
    diameter = sized or (find_thread(thread).major_mm if thread is not None else None)
    if diameter is None or diameter <= 0 or stuff is None:
        raise missing("The cutter's diameter" if stuff else "The material", "speed 12 mm hss bronze")
    kind, teeth = next(((k, z) for said_, k, z in _KINDS if q.has(*said_)), (CutterKind.END_MILL, 3))
    asked_teeth = q.whole("teeth", "flutes", "flute", "tooth")
    made_of = "carbide" if q.has("carbide", "hard-metal") else "HSS"
    owned = next(
        (
            c
            for c in world.shop.cutters
            if c.kind is kind
            and abs(c.diameter_mm - diameter) <= _SAME_CUTTER_MM
            and c.material == made_of
            and asked_teeth in (None, c.teeth)
        ),
        None,
    )
    cutter = owned or Cutter(id="asked", kind=kind, diameter_mm=diameter, teeth=asked_teeth or teeth, material=made_of)
    machine = _machine(q, world.shop)
    found = speed_for(machine or Machine(id="", name="a machine without recorded steps", kind=MachineKind.KNEE), cutter, stuff)
    plunges = kind in _PLUNGED
    feeds = (
        ()
        if kind is CutterKind.TAP
        else (
            Figure(
                key="feed",
                label="Feed",
                value=found.feed_mm_min,
                unit="",
                text=UnitStyle(q.unit).feed(found.feed_mm_min),
                derivation=found.derivation,
            ),
            reckoned(
                "chip",
                "Chip load, per tooth",
                worked("feed/(rpm·z)", term(found.feed_mm_min, 0), term(found.rpm, 0), cutter.teeth),
                step=0.001,
            ),
        )
    )
    figures = [
        Figure(
            key="rpm",
            label="Spindle" if feeds else "Spindle, in a tapping head",
            value=found.rpm,
            unit="rpm",
            derivation=found.derivation if feeds else _of_speed_alone(found.derivation),
        ),
        *feeds,
        *(
            [
                Figure(
                    key="turn",
                    label="One turn of the X handwheel in",
                    value=found.seconds_per_turn,
                    unit="",
                    text=f"{format_number(found.seconds_per_turn, 1)} s",
                )
            ]
            if found.seconds_per_turn and not plunges
            else []
        ),
        text_figure("fluid", "Fluid", stuff.fluid),
        text_figure("chips", "Chips", stuff.chips),
    ]
    notes = [
        f"{cutter.title}, {cutter.material}, {cutter.teeth} teeth" + ("" if owned else "; none of that size on the rack"),
        *([found.caution] if found.caution else []),
        *([_TAPPED] if kind is CutterKind.TAP else []),
    ]
    go = Destination(words=f"See the {owned.title} on the rack", bench="shop", thing="cutters", item=owned.id) if owned else None
    title = f"{sentence(cutter.title)} for {stuff.name}" + (f" on {machine.name}" if machine else "")
    return Answer(
        title=title,
        figures=tuple(figures),
        notes=tuple(notes),
        cautions=("Guidance only: the cutter maker's figures and your ears come first. Eye protection on",),
        go=go,
    )


def _turning(q: Question, world: ShopContext) -> Answer:
    """How fast work turns in a lathe."""
    stuff = q.material()
    q.has("hss")
    diameter = q.length("diameter", "dia", "round", "turning", "parting", "speed") or q.length()
    if diameter is None or diameter <= 0 or stuff is None:
        raise missing("The work's diameter" if stuff else "The material", "turning speed 30 mm mild steel")
    parts = q.has("parting", "part", "grooving", "groove")
    lathes = [m for m in world.shop.machines if m.kind is MachineKind.LATHE]
    lathe = next((m for m in lathes if q.has(*m.name.lower().split())), lathes[0] if lathes else None)
    tool = Cutter(
        id="asked",
        kind=CutterKind.END_MILL,
        diameter_mm=diameter,
        teeth=1,
        material="carbide" if q.has("carbide", "hard-metal") else "HSS",
    )
    on = lathe or Machine(id="", name="a lathe without recorded steps", kind=MachineKind.LATHE)
    found = speed_for(on, tool, stuff, "Z", share=PARTED_SHARE if parts else 1.0)
    figures = (
        Figure(key="rpm", label="Spindle", value=found.rpm, unit="rpm", derivation=_of_speed_alone(found.derivation)),
        Figure(key="feed", label="Feed a turn", value=found.feed_mm_min / found.rpm, step=0.001, derivation=found.derivation),
        text_figure("fluid", "Fluid", stuff.fluid),
        text_figure("chips", "Chips", stuff.chips),
    )
    done = "Parting" if parts else "Turning"
    return Answer(
        title=f"{done} Ø{length(diameter)} {stuff.name}" + (f" on {lathe.name}" if lathe else ""),
        figures=figures,
        notes=(found.caution,) if found.caution else (),
        cautions=("Guidance only: the tool maker's figures and the chuck's limit come first. Chuck key out, eye protection on",),
    )


def _torque(q: Question, world: ShopContext) -> Answer:
    name = q.thread()
    if name is None:
        raise missing("The stud's thread", "torque M10 8.8 dry")
    thread = find_thread(name)
    asked = _strength(q, metric=thread.metric)
    oiled, dry = q.has("oiled", "oil", "oily", "greased", "lubricated", "lubed"), q.has("dry")
    if oiled and dry:
        raise ShopError("Ask", "dry and oiled", "Oil changes the pull by a third and more", "Leave one of them away")
    state = "oiled" if oiled else "dry"
    if (moment := q.measured("moment", MOMENTS)) is not None:
        return _preload(thread, asked, state, moment)
    proof = proof_mpa(asked, thread.major_mm)
    load = stud_load_n(thread, asked)
    k = nut_factor(state)
    torque = stud_torque_nm(thread, asked, k)
    low, high = (
        preload_n(torque, k, thread.major_mm) * (1 - PRELOAD_SCATTER),
        preload_n(torque, k, thread.major_mm) * (1 + PRELOAD_SCATTER),
    )
    figures = (
        reckoned(
            "torque",
            "Torque",
            worked(
                "K·d·F",
                term(k, 6),
                term(thread.major_mm, 3, "mm"),
                term(load, 0, "N"),
                source=f"nut factor {state}; {proof.source}",
            ),
            unit="N·m",
        ),
        _stud_load("Preload", thread, asked),
        text_figure(
            "band",
            "It may really be",
            f"{low / 1000:.1f} to {high / 1000:.1f} kN",
            Derivation(f"±{PRELOAD_SCATTER:.0%}", "a torque wrench on a clamping stud", "friction scatters"),
        ),
    )
    return Answer(
        title=f"Stud {thread.shown}, {_called(asked)}, {state}",
        figures=figures,
        notes=("For the stud alone: the lips of the slot and the nut may allow less; the T-nut's proof says how much",),
        cautions=("The machine maker's figure comes first; a table slot breaks before a strong stud does",),
    )


def _called(strength: str) -> str:
    return strength if strength.startswith("grade") else f"class {strength}"


def _strength(q: Question, *, metric: bool) -> str:
    """The property class or inch grade that is said; else the usual one of that kind of thread.

    Raises:
        ShopError: A number that is neither.
    """
    if q.has("grade"):
        number = q.whole("grade")
        if number not in (2, 5, 8):
            raise ShopError("Ask", f"there is no grade {number} in the table", "It has 2, 5 and 8", "Ask for one of those")
        return f"grade {number}"
    classes = ("4.6", "5.6", "5.8", "6.8", "8.8", "9.8", "10.9", "12.9")
    q.use("class", "property")
    found = next((t.text for t in q.tokens if t.kind == "number" and t.text in classes), "")
    if found:
        q.number()
    return found or ("8.8" if metric else "grade 5")


def _preload(thread: Thread, strength: str, state: str, moment_nm: float) -> Answer:
    """What a torque pulls, and how near proof that is."""
    proof, k = proof_mpa(strength, thread.major_mm), nut_factor(state)
    pull = preload_n(moment_nm, k, thread.major_mm)
    share = worked(
        "F·(1 + scatter)/(proof·A_s)",
        term(pull, 0, "N"),
        PRELOAD_SCATTER,
        term(proof.value, 3, "MPa"),
        _area(thread),
        source=proof.source,
    )
    figures = (
        reckoned(
            "load",
            "Preload",
            worked(
                "T/(K·d)", term(moment_nm, 2, "N·m"), term(k, 6), term(thread.major_mm, 3, "mm"), source=f"nut factor {state}"
            ),
            unit="kN",
        ),
        text_figure(
            "band",
            "It may really be",
            f"{pull * (1 - PRELOAD_SCATTER) / 1000:.1f} to {pull * (1 + PRELOAD_SCATTER) / 1000:.1f} kN",
            Derivation(f"±{PRELOAD_SCATTER:.0%}", "a torque wrench on a clamping stud", "friction scatters"),
        ),
        reckoned("share", "Of its proof load, at the most", share, unit="%"),
    )
    notes = ("Past its proof load it stretches for good, or breaks: use less",) if share.value > 1 else ()
    return Answer(
        title=f"Stud {thread.shown}, {_called(strength)}, {state}, tightened to {format_number(moment_nm, 1)} N·m",
        figures=figures,
        notes=notes,
        cautions=("The machine maker's figure comes first; a table slot breaks before a strong stud does",),
    )


TOPICS = (
    Topic(
        key="speed",
        needs=(words("speed rpm feed spindle revs chip fast"),),
        hints=words("mill drill cutter face tap saw reamer ream end teeth tooth flutes flute step chip load per how"),
        handles=words("hss carbide hard-metal on"),
        examples=("speed 12 mm hss bronze", "speed drill 6 mm mild steel", "rpm 50 mm face mill carbide cast iron"),
        answer=_speed,
    ),
    Topic(
        key="turning speed",
        needs=(words("speed rpm feed spindle revs fast"), words("turning turn parting part facing boring lathe grooving groove")),
        hints=words("work round how of in lathe diameter"),
        handles=words("hss carbide hard-metal"),
        examples=("turning speed 30 mm mild steel", "parting speed 20 mm brass"),
        answer=_turning,
    ),
    Topic(
        key="proof load",
        needs=(words("proof load"), frozenset({"@thread"})),
        hints=words("proof load stud bolt screw") | {"@thread"},
        handles=words("class grade property"),
        examples=("proof load M10 8.8", "stud load M12"),
        answer=_proof,
    ),
    Topic(
        key="torque",
        needs=(words("torque tighten tightening preload"),),
        hints=words("stud nut bolt screw preload pull") | {"@thread"},
        handles=words("dry oiled oil oily greased lubricated lubed class grade property"),
        examples=("torque M10 8.8 dry", "tighten M12 stud oiled", "torque 1/2-13 grade 5", "preload M10 25 N·m dry"),
        answer=_torque,
    ),
)
