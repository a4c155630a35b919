"""Locators: a round pin, a relieved pin for the second hole, a shoulder pivot, a bush turned to an uneven bore.

Turned about z; z = 0 is the face of the plate, or the mouth of the bore.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.design.families.locator import pictures, proof
from elbrix.design.families.locator.sizes import PARAMETERS, PLAY, Sizes
from elbrix.design.family import Capability, Design, Hole, Need, SlotFit
from elbrix.design.work import BenchWork, Blank, Step, TurnedBore, TurnedPart, Work
from elbrix.drawing.scene import Scene
from elbrix.mechanics.pins import widest_land_mm
from elbrix.parameters.parameter import Given, Group, Values
from elbrix.parameters.proposal import Proposal
from elbrix.quantities.lengths import round_down, round_up
from elbrix.quantities.names import parse_thread
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Verdict
from elbrix.results.figures import num
from elbrix.shop.shop import Shop
from elbrix.solids.recipe import Cut, Prism, Recipe, Turned
from elbrix.standards.threads import find_thread

#: Interference aimed at over the widest place of a bore, mm.
_HOLD: Final = 0.003
_PIVOTS: Final = ("M3x0.5", "M4x0.7", "M5x0.8", "M6x1", "M8x1.25", "M10x1.5", "M12x1.75", "M16x2")


class Locator:
    """See the module."""

    key = "locator"
    title = "Locator"
    when = "When work comes back to the same place by its holes, or something has to turn on a true axis."
    group = "locate it"
    parameters = PARAMETERS

    def propose(self, shop: Shop, need: Need, chosen: Mapping[str, Given]) -> Values:
        p = Proposal(chosen)
        kind = p.assume("kind", "pin")
        wanted = str(chosen["where"].value) if "where" in chosen else ""
        bore = next((b for b in shop.bores if wanted and wanted.lower() in (b.id.lower(), b.name.lower())), None)
        if bore is None and kind == "bush" and not wanted:
            bore = next(iter(shop.bores), None)
        p.measure("where", bore.name if bore else "", "Shop", known=bore is not None)
        usual = Readings(values_mm=(10.0, 10.01)) if kind != "pivot" else Readings(values_mm=(12.01, 12.02))
        hole = p.measure(
            "hole",
            Readings(values_mm=(bore.least_mm, bore.most_mm)) if bore else usual,
            bore.name if bore else "not measured",
            known=bore is not None,
        )
        deep = p.measure(
            "deep", bore.deep_mm if bore and bore.deep_mm else 12.0, bore.name if bore else "", known=bool(bore and bore.deep_mm)
        )
        fit = p.assume("fit", "slide" if kind in ("pin", "relieved") else "close")
        play = PLAY[fit]
        if kind == "bush":
            size = p.work(
                "size",
                round_up(hole.max + _HOLD, 0.005),
                "widest bore + 0.003, up to 0.005",
                f"{num(hole.max, 4)} + {num(_HOLD)}",
                "it then holds everywhere; the tightest place says how hard it goes in",
            )
        else:
            size = p.work(
                "size",
                round_down(hole.min - play, 0.001),
                "tightest hole − play, down to 0.001",
                f"{num(hole.min, 4)} − {num(play)}",
            )
        float_ = p.assume("float", 0.08)
        tall = {"bush": deep, "pivot": deep + float_}.get(kind, round_down(2 / 3 * deep, 0.5))
        p.work(
            "tall",
            max(0.5, tall),
            {"bush": "the bore's depth", "pivot": "what turns on it + end float"}.get(kind, "2/3 of the hole, down to 0.5"),
            {"bush": num(deep), "pivot": f"{num(deep)} + {num(float_)}"}.get(kind, f"2/3·{num(deep)}"),
        )
        reamed = p.assume("plate_hole", float(max(3, round(size))))
        plate = p.assume("plate", 20.0)
        shank = p.work("shank", round(reamed + 0.008, 3), "hole + 0.008", f"{num(reamed, 3)} + 0.008")
        thread = p.work(
            "thread",
            next((t for t in reversed(_PIVOTS) if find_thread(parse_thread(t)).major_mm <= size - 2.0), _PIVOTS[0]),
            "the largest 2 under the journal",
            f"{num(size)} − 2",
        )
        d = find_thread(parse_thread(thread)).major_mm
        p.work(
            "shank_long",
            min(plate, round_up(1.3 * d if kind == "pivot" else 1.2 * shank, 0.5)),
            "1.3 × the thread's Ø" if kind == "pivot" else "1.2 × its Ø, never past the plate",
            f"1.3·{num(d)}" if kind == "pivot" else f"min({num(plate)}; 1.2·{num(shank)})",
        )
        other = p.assume("other_play", play)
        error = p.assume("spacing_error", 0.03)
        most = widest_land_mm(hole.min, size, error - other / 2)
        if kind != "relieved":
            p.assume("land", max(0.2, round_down(size / 3, 0.1)))
        else:
            p.work(
                "land",
                max(0.2, round_down(min(size / 3, 0.9 * most), 0.1)),
                "least of d/3 and 0.9 of the widest that goes in, down to 0.1",
                f"min({num(size / 3)}; 0.9·{num(most)})",
            )
        p.assume("apart", 100.0)
        p.work(
            "head",
            round_up(1.5 * size, 0.5) if kind == "pivot" else round_up(size + 6, 0.5) if kind == "bush" else 0.0,
            "1.5 × the journal" if kind == "pivot" else "Ø + 6" if kind == "bush" else "none",
            f"1.5·{num(size)}" if kind == "pivot" else f"{num(size)} + 6" if kind == "bush" else "0",
        )
        p.assume("head_high", {"pivot": round_up(0.4 * size, 0.5), "bush": 3.0}.get(kind, 0.0))
        p.work(
            "inner",
            round_down(max(size - 2 * max(2.0, 0.1 * size), 0.3 * size), 0.5),
            "Ø less two walls of a tenth, 2 at least, down to 0.5",
            f"{num(size)} − 2·{num(max(2.0, 0.1 * size))}",
        )
        p.assume("material", {"bush": "bronze", "pivot": "medium carbon steel"}.get(kind, "medium carbon steel"))
        p.choose("pieces", max(1, need.pieces))
        return p.values(PARAMETERS)

    def solve(self, values: Values, shop: Shop) -> Design:
        s = Sizes(values)
        note = {
            "pin": (
                f"Ø{num(s.size, 3)} +0/−0.004, pressed into Ø{num(values.number('plate_hole'), 3)}; lead 15°; hardened if it is"
                " to last"
            ),
            "relieved": f"Ø{num(s.size, 3)} +0/−0.004, land {num(s.land, 2)}; lands across the line of the two pins",
            "pivot": (
                f"Journal Ø{num(s.size, 3)} +0/−0.006 × {num(s.tall, 2)}, {s.thread.shown}; corner under the shoulder undercut"
            ),
            "bush": f"Ø{num(s.size, 3)} to the bore as measured; bore to Ø{num(s.inner, 3)} after pressing",
        }[s.kind]
        holes = (Hole("A", 0.0, 0.0, f"Ø{num(s.inner, 3)} through, finished after pressing"),) if s.kind == "bush" else ()
        return Design(
            family=self.key,
            values=values,
            figures=tuple(proof.figures(s)),
            checks=tuple(proof.checks(s)),
            holes=holes,
            datum="its axis and the plate's face",
            note=note,
        )

    # --- show --------------------------------------------------------------------------------------------------------

    def card(self, design: Design) -> tuple[Group, ...]:
        kind = design.values.word("kind")
        if kind == "bush":
            return (
                Group("The bore", ("kind", "where", "hole", "deep")),
                Group(
                    "The bush",
                    (
                        "size",
                        "press_most",
                        "press_least",
                        "tall",
                        "head",
                        "head_high",
                        "inner",
                        "wall",
                        "closes",
                        "length",
                        "material",
                        "pieces",
                    ),
                ),
            )
        plate = (
            Group("In the plate", ("plate_hole", "plate", "shank", "press", "shank_long"))
            if kind != "pivot"
            else Group("In the plate", ("thread", "shank_long", "plate"))
        )
        body = {"pivot": ("size", "least_play", "most_play", "float", "tall", "head", "head_high")}.get(
            kind, ("size", "least_play", "most_play", "tall")
        )
        pair = (
            (Group("With the round pin", ("spacing_error", "other_play", "apart", "widest_land", "land", "accepted", "turn")),)
            if kind == "relieved"
            else ()
        )
        return (
            Group("The hole", ("kind", "where", "hole", "deep", "fit")),
            Group("The locator", (*body, "length", "holds", "material", "pieces")),
            *pair,
            plate,
        )

    def scenes(self, design: Design) -> tuple[Scene, ...]:
        s = Sizes(design.values)
        return (pictures.in_place(s), pictures.front(s), pictures.top(s), pictures.side(s))

    def solid(self, design: Design) -> Recipe:
        s = Sizes(design.values)
        body = Turned(s.profile, (0.0, 0.0, 0.0))
        if s.kind == "bush":
            low, high = s.profile[0][1] - 1, s.profile[-1][1] + 1
            return Cut(body, (Turned(((0.0, low), (s.inner / 2, low), (s.inner / 2, high), (0.0, high)), (0.0, 0.0, 0.0)),))
        if s.kind == "relieved":
            far, base = s.size, s.head_high if s.head else 0.0
            flats = tuple(
                Prism(
                    (
                        ((k * far, -far), (k * far, far), (k * s.land / 2, far), (k * s.land / 2, -far))
                        if k < 0
                        else ((s.land / 2, -far), (far, -far), (far, far), (s.land / 2, far))
                    ),
                    base,
                    base + s.tall + 1,
                    "xy",
                )
                for k in (-1, 1)
            )
            return Cut(body, flats)
        return body

    def section(self, design: Design) -> tuple[str, float]:
        return "y", 0.0

    # --- make and use ------------------------------------------------------------------------------------------------

    def work(self, design: Design, shop: Shop) -> Work:
        s = Sizes(design.values)
        v = s.v
        base = s.head_high if s.kind in ("pin", "relieved") and s.head else 0.0
        steps: list[Step] = []
        if s.kind == "bush":
            steps.append(TurnedBore(name="Bore, under size", size_mm=round(s.inner - 0.3, 3), feature="inner", allowed_mm=0.1))
            steps.append(
                TurnedPart(name="Outside", size_mm=s.size, long_mm=s.tall, allowed_mm=0.003, feature="body", id="outside")
            )
            if s.head and s.head_high:
                steps.append(
                    TurnedPart(name="Flange", size_mm=s.head, long_mm=s.length, allowed_mm=0.1, feature="head", id="flange")
                )
            steps.append(
                BenchWork(
                    name="Press in and finish",
                    words=(
                        f"Measure the bore again first: Ø{num(s.hole.min, 3)} to {num(s.hole.max, 3)}. A little oil, drawn in"
                        f" with a bolt and two washers, never hammered. Then bore to Ø{num(s.inner, 3)}: pressing closed it."
                    ),
                    tools=("draw bolt", "bore gauge"),
                )
            )
        elif s.kind == "pivot":
            # The thread is at the free end, the head stays next to the chuck.
            steps.append(
                TurnedPart(
                    name="Thread's outside",
                    size_mm=round(s.thread.major_mm - 0.1, 2),
                    long_mm=s.shank_long,
                    feature="shank",
                    id="thread",
                )
            )
            steps.append(
                TurnedPart(
                    name="Journal", size_mm=s.size, long_mm=s.shank_long + s.tall, allowed_mm=0.006, feature="body", id="journal"
                )
            )
            steps.append(TurnedPart(name="Head", size_mm=s.head, long_mm=s.length, allowed_mm=0.1, feature="head", id="head"))
            steps.append(
                BenchWork(
                    name="Thread",
                    words=(
                        f"Undercut 0.5 at the shoulder, then {s.thread.shown} with a die in the tailstock holder; two flats on"
                        " the head for a spanner."
                    ),
                    tools=("die", "file"),
                    caution="Spindle turned by hand.",
                )
            )
        else:
            parts = [
                ("Locating part", s.size, s.tall, 0.004, "body", "locating"),
                ("Shank", s.shank, s.shank_long, 0.003, "shank", "shank"),
            ]
            if base:
                parts.insert(1, ("Flange", s.head, base, 0.1, "head", "flange"))
            # The thinner end stands out of the chuck.
            if s.size > s.shank:
                parts.reverse()
            along = 0.0
            for name, size, long, allowed, feature, ident in parts:
                along += long
                steps.append(TurnedPart(name=name, size_mm=size, long_mm=along, allowed_mm=allowed, feature=feature, id=ident))
            if s.kind == "relieved":
                off = (s.size - s.land) / 2
                steps.append(
                    BenchWork(
                        name="Relieve it",
                        words=(
                            f"In a V-block on the mill, one flat {num(off, 2)} deep from the top of the Ø, over {num(s.tall, 1)};"
                            f" turn it half round against a square, the other alike. {num(s.land, 2)} is left between; the land's"
                            " corners stoned."
                        ),
                        tools=("V-block", "square", "micrometer"),
                    )
                )
            steps.append(
                BenchWork(
                    name="Lead and fit",
                    words=(
                        f"Lead 15°, {num(s.lead, 1)} long, polished. Press the shank in with a drop of oil, square, with nothing"
                        " under the hole."
                    ),
                    tools=("press",),
                    caution="A hardened pin can chip: eye protection.",
                )
            )
        blank = Blank(
            across_mm=max(s.head, s.size, s.shank),
            high_mm=max(s.head, s.size, s.shank),
            round_mm=max(s.head, s.size, s.shank),
            along_mm=s.length,
            pieces=int(v.number("pieces")),
            material=v.word("material"),
        )
        return Work(blank, tuple(steps))

    def fits(self, design: Design, shop: Shop) -> tuple[SlotFit, ...]:
        """Every bore in Shop it goes into."""
        s = Sizes(design.values)
        found = []
        for bore in shop.bores:
            there = Sizes(design.values.having(hole=Readings(values_mm=(bore.least_mm, bore.most_mm))))
            if abs(bore.least_mm - s.size) > 0.5:
                continue
            key = "holds" if s.kind == "bush" else "goes_in"
            check = next(c for c in proof.checks(there) if c.key == key)
            found.append(SlotFit(bore.name, "bore", check.verdict, "it fits" if check.verdict is Verdict.GO else check.reason))
        return tuple(found)

    def can_hold(self, design: Design) -> tuple[Capability, ...]:
        s = Sizes(design.values)
        if s.kind == "bush":
            return (Capability("shaft", f"a shaft Ø{num(s.inner, 3)}", {"bore_mm": s.inner}),)
        return (Capability("hole", f"a hole Ø{num(s.hole.min, 3)}", {"hole_mm": s.hole.min}),)


FAMILY: Final = Locator()
