"""What one asks at the lathe: work off centre in the four-jaw chuck, and how fast it may turn."""

from __future__ import annotations

import math

from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import MASSES, TURNS
from elbrix.mechanics.balance import SHAKES_N, speed_to_balance, throw_n
from elbrix.mechanics.change_wheels import change_wheels
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Figure, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.shop.machines import MachineKind
from elbrix.standards.materials import density, material
from elbrix.standards.threads import find_thread


def _four_jaw(q: Question, world: ShopContext) -> Answer:
    """Jaws of a round held off centre along jaws 1 and 3; with its length and metal, the throw."""
    off = q.length("offset", "eccentric", "off", "throw")
    size = q.length("round", "diameter", "dia", "bar", "rod") or q.length()
    turns = q.measured("turns", TURNS)
    if off is None or size is None:
        raise missing("The offset or the diameter", "four jaw offset 4 on round 30")
    q.use("jaw", "jaws", "four", "chuck", "round", "bar", "rod", "centre", "center", "work", "long")
    long, r = q.length(), size / 2
    if not 0 < off < r:
        raise ShopError(
            "Ask",
            f"an offset of {format_number(off)} on Ø{format_number(size)}",
            "Jaw 3 would have to pass the spindle's axis: from half the diameter on no jaw holds it",
            "Hold it on a faceplate or in an eccentric sleeve",
        )
    if long is not None and not 0 < long < 10_000:
        raise ShopError(
            "Ask", f"work {format_number(long)} long", "Its mass follows from its length", "Give a length over nothing"
        )
    n = format_number
    figures = [
        reckoned("jaw1", "Jaw 1, from the axis", worked("r + offset", r, off, source="the side that runs high"), step=0.01),
        reckoned("jaw3", "Jaw 3, opposite", worked("r − offset", r, off), step=0.01),
        reckoned(
            "jaw24", "Jaws 2 and 4", worked("√(r² − offset²)", r, off, source="on the axis, square to the offset"), step=0.01
        ),
        reckoned(
            "indicator",
            "Indicator, high to low",
            worked("2·offset", off, source="on the outside, turned once round by hand"),
            step=0.01,
        ),
    ]
    cautions = [
        "Jaws by turns, a little at a time; tighten opposite pairs; turn it round by hand before the spindle turns.",
        "Unbalanced work: the lowest speed, the lathe bolted down, stand out of its plane.",
    ]
    stuff = q.material()
    if long is not None:
        stuff = stuff or material("mild steel")
        mass = math.pi * r * r * long * 1e-9 * density(stuff.name).value
        speed_to_balance(mass, off)
        figures.append(
            reckoned(
                "fast",
                "Counterweight from",
                worked(
                    "30/π·√(F/(m·e))",
                    SHAKES_N,
                    term(mass, 4),
                    term(off / 1000, 5),
                    source=f"{n(SHAKES_N)} N of throw, {stuff.name}",
                ),
                unit="rpm",
                step=1,
            )
        )
        if turns is not None:
            throw = throw_n(mass, off, turns)
            figures.append(
                reckoned(
                    "throw",
                    f"Throw at {turns:g} rpm",
                    worked("m·e·(π·n/30)²", term(mass, 4), term(off / 1000, 5), term(turns, 6)),
                    unit="N",
                    step=1,
                )
            )
            if throw > SHAKES_N:
                cautions.append("At that speed it shakes a light lathe: slower, or a counterweight opposite jaw 1.")
    elif turns is not None or stuff is not None:
        raise missing("The length, for how heavy it is", "four jaw offset 4 on round 30 60 long 300 rpm")
    return Answer(title=f"Ø{n(size)} held {n(off)} off centre", figures=tuple(figures), cautions=tuple(cautions))


def _faceplate(q: Question, world: ShopContext) -> Answer:
    """Work on a faceplate whose middle of mass lies beside the axis: what balances it, and how fast it may turn."""
    off = q.length("offset", "off", "eccentric", "beside")
    at = q.length("weight", "counterweight", "radius", "at")
    mass = q.measured("mass", MASSES)
    turns = q.measured("turns", TURNS)
    if off is None or mass is None:
        raise missing("The work's mass and how far its middle lies off the axis", "faceplate 1.2 kg 18 off centre")
    q.use("faceplate", "face", "plate", "centre", "center", "axis", "work", "bore", "on", "the", "of", "mass")
    if not 0 < off < 1000 or not mass > 0:
        raise ShopError(
            "Ask",
            f"{format_number(mass)} kg, {format_number(off)} off",
            "Only what has a mass and lies off the axis wants balancing",
            "Give both, more than nothing",
        )
    n = format_number
    speed_to_balance(mass, off)
    figures = [
        reckoned(
            "fast",
            "Counterweight from",
            worked(
                "30/π·√(F/(m·e))",
                SHAKES_N,
                term(mass, 4),
                term(off / 1000, 5),
                source=f"{n(SHAKES_N)} N of throw; clamps and angle plate count with the work",
            ),
            unit="rpm",
            step=1,
        )
    ]
    if at is not None:
        if at <= 0:
            raise ShopError("Ask", "a counterweight on the axis", "There it balances nothing", "Give the radius it is bolted at")
        figures.insert(
            0,
            reckoned(
                "weight",
                f"Counterweight at radius {n(at)}",
                worked("m·e/R", term(mass, 4), off, at, source="opposite the work"),
                unit="kg",
                step=0.001,
            ),
        )
    cautions = [
        "Turn it round by hand before the spindle turns: clamps, bolts and weight clear of bed and saddle.",
        "Bolts through, washers, nuts tight; a weight that flies off goes where you stand. Lowest speed first.",
    ]
    if turns is not None:
        throw = throw_n(mass, off, turns)
        figures.append(
            reckoned(
                "throw",
                f"Throw at {turns:g} rpm, not balanced",
                worked("m·e·(π·n/30)²", term(mass, 4), term(off / 1000, 5), term(turns, 6)),
                unit="N",
                step=1,
            )
        )
        if throw > SHAKES_N:
            cautions.append("At that speed it shakes a light lathe: balance it first.")
    return Answer(
        title=f"On the faceplate, {n(off)} off the axis",
        figures=tuple(figures),
        notes=("Out of gear it stays where it is left, when it is balanced.",),
        cautions=tuple(cautions),
    )


def _wheels(q: Question, world: ShopContext) -> Answer:
    """The train for a thread or a pitch on the lathe whose wheels are listed."""
    q.use("wheel", "wheels", "gear", "gears", "train", "change", "for", "lathe", "thread", "screw", "cut", "pitch")
    name = q.thread()
    pitch = find_thread(name).pitch_mm if name is not None else q.length()
    if pitch is None:
        raise missing("The thread or its pitch", "change wheels for M10x1.25")
    lathes = [m for m in world.shop.machines if m.kind is MachineKind.LATHE and m.lead_screw_mm and m.change_wheels]
    if not lathes:
        raise ShopError(
            "Ask",
            "no lathe has its lead screw and wheels listed",
            "A train is made of the wheels you have",
            "Enter lead screw pitch and change wheels at the lathe, in Shop",
        )
    machine = lathes[0]
    train = change_wheels(pitch, machine.lead_screw_mm, machine.change_wheels)
    cuts = worked(
        "lead screw·drivers/driven",
        term(machine.lead_screw_mm, 4),
        math.prod(train.drivers),
        math.prod(train.driven),
        source=f"on {machine.name}",
    )
    figures = (
        reckoned("pitch", "Pitch it cuts", cuts, step=0.0001),
        Figure(key="train", label="Driver to driven", value=0.0, unit="", text=train.words),
        reckoned(
            "off",
            "Off over 100",
            worked("100·(pitch it cuts/pitch − 1)", term(float(train.pitch_mm), 6), term(pitch, 6)),
            step=0.001,
        ),
    )
    notes = ["One turn of the first wheel for one of the spindle; between a simple pair any wheel idles."]
    if not train.exact:
        notes.append("No train of the wheels listed cuts it exactly: this is the nearest.")
    cautions = ("Power off and isolated while wheels are changed; the guard shut before the spindle turns.",)
    return Answer(
        title=f"Change wheels for {format_number(pitch, 4)} on {machine.name}",
        figures=figures,
        notes=tuple(notes),
        cautions=cautions,
    )


TOPICS = (
    Topic(
        key="faceplate",
        needs=(words("faceplate counterweight"), words("offset off eccentric beside")),
        hints=words("weight radius centre center axis work bore"),
        handles=words("at"),
        examples=("faceplate 1.2 kg 18 off centre", "faceplate 1.2 kg 18 off centre weight at 90 200 rpm"),
        answer=_faceplate,
    ),
    Topic(
        key="change wheels",
        needs=(words("wheel wheels gear gears train"), words("@thread @length change pitch lathe")),
        hints=words("change for lathe thread screw cut pitch"),
        examples=("change wheels for M10x1.25", "change wheels for pitch 1.75"),
        answer=_wheels,
    ),
    Topic(
        key="four jaw",
        needs=(words("offset eccentric off throw"), words("jaw jaws chuck eccentric")),
        hints=words("four independent round bar rod centre center work"),
        handles=words("long diameter dia"),
        examples=("four jaw offset 4 on round 30", "four jaw offset 4 on round 30 60 long brass 300 rpm"),
        answer=_four_jaw,
    ),
)
