"""Fits, grades, warmth, and one unit in another."""

from __future__ import annotations

import math

from elbrix.answers.answer import Answer, ShopContext, Topic, missing, words
from elbrix.answers.question import Question
from elbrix.answers.topics.figures import FORCES, MASSES, MOMENTS, looked, text_figure
from elbrix.quantities.angles import show_angle
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH
from elbrix.quantities.sentences import sentence
from elbrix.results import length_text
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import Worked, reckoned, term, worked
from elbrix.standards.drills import fraction_name, nearest_drills
from elbrix.standards.fits import fit_um, it_um
from elbrix.standards.materials import expansion, material


def _zones(q: Question) -> list[str]:
    """Fit zones as they are named, a hole first; "M7" looks like a thread and is a zone here.

    Raises:
        ShopError: Two holes, or two shafts: which of them is meant?
    """
    found = []
    while (token := q.take("zone") or q.take_like("thread", r"[Mm][0-9]{1,2}")) is not None:
        found.append(token.text)
    found.sort(key=str.islower)
    for named, what in (([z for z in found if not z.islower()], "holes"), ([z for z in found if z.islower()], "shafts")):
        if len(named) > 1:
            raise ShopError(
                "Ask",
                f"{' and '.join(named[:3])} are all {what}",
                "A fit is one hole and one shaft",
                "Ask for one of them: fit 25 H7 g6",
            )
    return found


def _off(nominal: float, deviation_um: float) -> Worked:
    """A size so many µm over its nominal, or under it."""
    return worked("nominal + deviation/1000", term(nominal, 4), deviation_um, source="deviation in µm: ISO 286-1")


def _fit(q: Question, world: ShopContext) -> Answer:
    zones = _zones(q)
    nominal = q.length("fit", "size", "nominal") or q.length()
    if nominal is None or not zones:
        raise missing("The nominal size or the zone", "fit 25 H7")
    figures, limits = [], {}
    for zone in zones:
        upper, lower = fit_um(nominal, zone)
        limits[zone] = (lower, upper)
        name = "Hole" if zone[0].isupper() else "Shaft"
        figures += [
            reckoned(f"{zone} {end}", f"{name} {zone}, {end}", _off(nominal, by_um), step=0.0001, origin=Origin.STANDARD)
            for end, by_um in (("most", upper), ("least", lower))
        ]
    hole = next((z for z in zones if z[0].isupper()), None)
    shaft = next((z for z in zones if z[0].islower()), None)
    if hole and shaft:
        most, least = limits[hole][1] - limits[shaft][0], limits[hole][0] - limits[shaft][1]
        words_ = "clearance" if least >= 0 else "interference" if most <= 0 else "either, by how they fall"
        figures.insert(
            0,
            text_figure(
                "play",
                "The fit is",
                words_,
                Derivation(
                    "hole − shaft", f"{format_number(least, 1)} to {format_number(most, 1)} µm".replace("-", "−"), "ISO 286-1"
                ),
            ),
        )
        figures[1:1] = [
            reckoned(
                "play most",
                "Play, most",
                worked("largest hole − smallest shaft", limits[hole][1], limits[shaft][0], source="over nominal"),
                unit="µm",
            ),
            reckoned(
                "play least",
                "Play, least",
                worked("smallest hole − largest shaft", limits[hole][0], limits[shaft][1], source="over nominal"),
                unit="µm",
            ),
        ]
    return Answer(title=f"{format_number(nominal, 4)} {' / '.join(zones)}", figures=tuple(figures))


def _grade(q: Question, world: ShopContext) -> Answer:
    token = q.take("grade")
    text = token.text.upper().replace(" ", "") if token is not None else ""
    size = q.length()
    if not text or size is None:
        raise missing("The grade or the size", "grade IT7 at 60")
    found = it_um(size, text.upper())
    return Answer(
        title=f"{text.upper()} at {length_text.length(size)} {length_text.LENGTH_UNIT}",
        figures=(looked("it", "Standard tolerance", found),),
    )


def _warm(q: Question, world: ShopContext) -> Answer:
    stuff = q.material() or (material("mild steel") if q.has("steel") else None)
    kelvin = q.take("kelvin")
    turned = None if kelvin is not None else q.angle()  # "3 degrees" of warmth
    if turned is not None:
        degrees: float | None = math.degrees(turned)
    elif kelvin is not None:
        degrees = float(kelvin.value)  # type: ignore[arg-type]
    else:
        degrees = q.number("warmer", "colder", "degrees")
    length = q.length()
    if length is None:
        raise missing("The length", "expansion bronze 60 mm 5 K")
    if stuff is None:
        raise missing("The material", "expansion bronze 60 mm 5 K")
    if degrees is None:
        raise missing("By how much it is warmer", "expansion bronze 60 mm 5 K")
    q.use("warmer", "colder", "degrees")
    found = expansion(stuff.name)
    figures = (
        reckoned(
            "grows",
            "It grows by",
            worked("L·α·ΔT/1000", length, found.value, degrees, source=f"α in µm/(m·K): {found.source}"),
            unit="µm",
        ),
        looked("alpha", "Expansion", found),
    )
    return Answer(
        title=f"{sentence(stuff.name)}, {length_text.length(length)} {length_text.LENGTH_UNIT}, {degrees:g} K warmer",
        figures=figures,
        notes=("Lengths are true at 20 °C; work and gauge of one material and one warmth cancel",),
    )


def _convert(q: Question, world: ShopContext) -> Answer:
    angle = q.angle()
    if angle is not None:
        return Answer(
            title=f"{show_angle(angle, 'dms')} in other words",
            figures=(
                text_figure("dms", "Degrees, minutes, seconds", show_angle(angle, "dms")),
                text_figure("deg", "Degrees", show_angle(angle), Derivation("d + m/60 + s/3600", show_angle(angle, "dms"))),
                Figure(key="rad", label="Radians", value=angle, unit="", text=f"{angle:.6f}"),
            ),
        )
    for kind, units, base in (("moment", MOMENTS, "N·m"), ("force", FORCES, "N"), ("mass", MASSES, "kg")):
        token = next((t for t in q.tokens if t.kind == kind), None)
        value = q.measured(kind, units)
        if token is not None and value is not None:
            return _other_units(token.text, value, base, q)
    inch = q.has("mm", "millimetre", "millimetres", "metric") and not q.has("inch", "inches")
    token = next((t for t in q.tokens if t.kind in ("length", "number", "fraction")), None)
    if token is None:
        raise missing("A size or an angle", "convert 1 5/16 in")
    size = q.length()
    assert size is not None
    if token.kind == "number" and inch:
        size *= MM_PER_INCH  # "convert 0.5 to mm": it was in inches
    sixty = round(size / MM_PER_INCH * 64)
    off = size - sixty / 64 * MM_PER_INCH
    figures = (
        Figure(
            key="mm",
            label="In millimetres",
            value=size,
            unit="",
            text=f"{format_number(size, 5)} mm",
            derivation=Derivation("1 in = 25.4 mm exactly", token.text),
        ),
        reckoned("in", "In inches", worked("mm/25.4", term(size, 5)), unit="", text=f"{format_number(size / MM_PER_INCH, 6)} in"),
        (
            text_figure(
                "fraction",
                "Nearest 64th",
                f"{fraction_name(sixty)} in",
                Derivation("nearest of 1/64 in", f"off by {format_number(off, 4)} mm"),
            )
            if sixty > 0
            else text_figure("thou", "In thou", f"{format_number(size / MM_PER_INCH * 1000, 3)}")
        ),
        (
            text_figure("drill", "Nearest drill", nearest_drills(size, 1)[0][0])
            if size < 30
            else text_figure("thou", "In thou", f"{format_number(size / MM_PER_INCH * 1000, 2)}")
        ),
    )
    to_inch = q.has("inch", "inches", "thou", "decimal") or (token.kind == "length" and token.text.rstrip().endswith("mm"))
    if to_inch and not q.has("mm", "millimetres"):
        figures = (figures[1], figures[0], *figures[2:])
    return Answer(title=f"{token.text}, in other units", figures=figures)


#: What is told of a moment, a force and a mass: unit → how many of the base unit.
_SHOWN = {
    "N·m": {"N·m": 1.0, "ft·lbf": MOMENTS["ftlb"], "in·lbf": MOMENTS["inlb"]},
    "N": {"N": 1.0, "kN": 1000.0, "lbf": FORCES["lbf"], "kgf": FORCES["kgf"]},
    "kg": {"kg": 1.0, "g": 0.001, "lb": MASSES["lb"], "oz": MASSES["oz"]},
}


def _other_units(said: str, value: float, base: str, q: Question) -> Answer:
    """A moment, a force or a mass in the units of its kind; the one that is asked for first."""
    q.use("n", "nm", "m", "ft", "lb", "lbs", "lbf", "kn", "kgf", "kg", "g", "oz", "pounds", "foot", "newton", "newtons", "units")
    words_ = {w for t in q.tokens if t.kind == "word" for w in (t.text,)}
    asked = {"lb": "lbf" if base == "N" else "lb", "pounds": "lb", "ft": "ft·lbf", "foot": "ft·lbf", "newton": "N", "nm": "N·m"}
    wanted = {asked.get(w, w) for w in words_} | {u for u in _SHOWN[base] if u.lower() in words_}
    order = sorted(_SHOWN[base], key=lambda u: (u.lower() not in {w.lower() for w in wanted}, said.endswith(u)))
    figures = tuple(
        Figure(
            key=unit,
            label=f"In {unit}",
            value=value / _SHOWN[base][unit],
            unit=unit,
            derivation=Derivation("1 lb = 0.45359237 kg, g = 9.80665 m/s², 1 in = 25.4 mm, exactly", said),
        )
        for unit in order
    )
    return Answer(title=f"{said}, in other units", figures=figures)


TOPICS = (
    Topic(
        key="fit",
        needs=(frozenset({"fit", "fits", "@zone", "limits"}),),
        hints=words("fit tolerance zone hole shaft limits") | {"@zone"},
        examples=("fit 25 H7", "fit 25 H7 g6"),
        answer=_fit,
    ),
    Topic(
        key="grade", needs=(frozenset({"@grade"}),), hints=words("tolerance grade at it"), examples=("IT7 at 60",), answer=_grade
    ),
    Topic(
        key="warmth",
        needs=(words("expansion expands grow grows warm warmer warmth heat temperature"),),
        handles=words("warmer colder degrees"),
        hints=words("by much") | {"@kelvin"},
        examples=("expansion bronze 60 mm 5 K", "how much does brass 200 mm grow 3 K"),
        answer=_warm,
    ),
    Topic(
        key="convert",
        needs=(
            words(
                "convert inches millimetres inch mm thou metric dms minutes seconds decimal degrees n nm ft lb lbf kn kg newton"
                " pounds"
            ),
        ),
        hints=words("in to convert units other fraction minutes seconds dms"),
        examples=("convert 1 5/16 in", "convert 25 N·m to ft lb", "convert 33.34 mm to inches", "convert 53.2389 deg"),
        answer=_convert,
    ),
    Topic(
        key="size", needs=(frozenset({"@length", "@number", "@fraction"}),), examples=("1 5/16 in",), answer=_convert, bare=True
    ),
)
