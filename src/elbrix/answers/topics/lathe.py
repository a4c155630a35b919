"""What one asks at the lathe: work off centre in the four-jaw chuck, and how fast it may turn."""

from __future__ import annotations

import math

from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import MASSES, TURNS
from elbrix.mechanics.balance import SHAKES_N, speed_to_balance, throw_n
from elbrix.mechanics.change_wheels import change_wheels
from elbrix.quantities.errors import ShopError
from elbrix.results.figures import Derivation, Figure, format_number
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
        Figure(
            key="jaw1",
            label="Jaw 1, from the axis",
            value=r + off,
            step=0.01,
            derivation=Derivation("r + offset", f"{n(r)} + {n(off)}", "the side that runs high"),
        ),
        Figure(
            key="jaw3",
            label="Jaw 3, opposite",
            value=r - off,
            step=0.01,
            derivation=Derivation("r − offset", f"{n(r)} − {n(off)}"),
        ),
        Figure(
            key="jaw24",
            label="Jaws 2 and 4",
            value=math.sqrt(r * r - off * off),
            step=0.01,
            derivation=Derivation("√(r² − offset²)", f"√({n(r)}² − {n(off)}²)", "on the axis, square to the offset"),
        ),
        Figure(
            key="indicator",
            label="Indicator, high to low",
            value=2 * off,
            step=0.01,
            derivation=Derivation("2·offset", f"2·{n(off)}", "on the outside, turned once round by hand"),
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
        fast = speed_to_balance(mass, off)
        figures.append(
            Figure(
                key="fast",
                label="Counterweight from",
                value=fast,
                unit="rpm",
                step=1,
                derivation=Derivation(
                    "30/π·√(F/(m·e))",
                    f"30/π·√({n(SHAKES_N)}/({n(mass, 4)}·{n(off / 1000, 5)}))",
                    f"{n(SHAKES_N)} N of throw, {stuff.name}",
                ),
            )
        )
        if turns is not None:
            throw = throw_n(mass, off, turns)
            figures.append(
                Figure(
                    key="throw",
                    label=f"Throw at {turns:g} rpm",
                    value=throw,
                    unit="N",
                    step=1,
                    derivation=Derivation("m·e·(π·n/30)²", f"{n(mass, 4)}·{n(off / 1000, 5)}·(π·{turns:g}/30)²"),
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
    fast = speed_to_balance(mass, off)
    figures = [
        Figure(
            key="fast",
            label="Counterweight from",
            value=fast,
            unit="rpm",
            step=1,
            derivation=Derivation(
                "30/π·√(F/(m·e))",
                f"30/π·√({n(SHAKES_N)}/({n(mass, 4)}·{n(off / 1000, 5)}))",
                f"{n(SHAKES_N)} N of throw; clamps and angle plate count with the work",
            ),
        )
    ]
    if at is not None:
        if at <= 0:
            raise ShopError("Ask", "a counterweight on the axis", "There it balances nothing", "Give the radius it is bolted at")
        figures.insert(
            0,
            Figure(
                key="weight",
                label=f"Counterweight at radius {n(at)}",
                value=mass * off / at,
                unit="kg",
                step=0.001,
                derivation=Derivation("m·e/R", f"{n(mass, 4)}·{n(off)}/{n(at)}", "opposite the work"),
            ),
        )
    cautions = [
        "Turn it round by hand before the spindle turns: clamps, bolts and weight clear of bed and saddle.",
        "Bolts through, washers, nuts tight; a weight that flies off goes where you stand. Lowest speed first.",
    ]
    if turns is not None:
        throw = throw_n(mass, off, turns)
        figures.append(
            Figure(
                key="throw",
                label=f"Throw at {turns:g} rpm, not balanced",
                value=throw,
                unit="N",
                step=1,
                derivation=Derivation("m·e·(π·n/30)²", f"{n(mass, 4)}·{n(off / 1000, 5)}·(π·{turns:g}/30)²"),
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
    n, machine = format_number, lathes[0]
    train = change_wheels(pitch, machine.lead_screw_mm, machine.change_wheels)
    ratio = "·".join(map(str, train.drivers)) + "/(" + "·".join(map(str, train.driven)) + ")"
    figures = (
        Figure(
            key="pitch",
            label="Pitch it cuts",
            value=float(train.pitch_mm),
            step=0.0001,
            derivation=Derivation("lead screw·drivers/driven", f"{n(machine.lead_screw_mm, 4)}·{ratio}", f"on {machine.name}"),
        ),
        Figure(key="train", label="Driver to driven", value=0.0, unit="", text=train.words),
        Figure(
            key="off",
            label="Off over 100",
            value=train.error_mm_m / 10,
            step=0.001,
            derivation=Derivation("100·(pitch it cuts/pitch − 1)", f"100·({n(float(train.pitch_mm), 6)}/{n(pitch, 6)} − 1)"),
        ),
    )
    notes = ["One turn of the first wheel for one of the spindle; between a simple pair any wheel idles."]
    if not train.exact:
        notes.append("No train of the wheels listed cuts it exactly: this is the nearest.")
    cautions = ("Power off and isolated while wheels are changed; the guard shut before the spindle turns.",)
    return Answer(
        title=f"Change wheels for {n(pitch, 4)} on {machine.name}", figures=figures, notes=tuple(notes), cautions=cautions
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
