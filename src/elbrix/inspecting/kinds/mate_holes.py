"""Holes withheld for assembly, released with the real ordinates of their mate."""

from __future__ import annotations

import math
import random
from typing import ClassVar, Final

from msgspec.structs import replace

from elbrix.inspecting.inspection import Exercise, Inspection, Mating, ShopFinding, Subject
from elbrix.inspecting.kinds.spots import MAX_HOLES, Spots
from elbrix.inspecting.plain import choice, tolerance, tool_parameters
from elbrix.inspecting.readings import Sheet
from elbrix.metrology.hole_patterns import best_fit
from elbrix.parameters.parameter import Parameter, Values
from elbrix.quantities.errors import EntryError
from elbrix.quantities.sentences import sentence
from elbrix.results.checks import Check, Limits, Verdict, judged
from elbrix.results.length_text import length
from elbrix.shop.shop import Shop

ZERO: Final = (("datum", "at the drawing's datum"), ("anywhere", "anywhere: laid onto the drawing"))
#: A whole pattern further off than this was not read from the drawing's datum, mm.
_NOT_ZEROED_MM: Final = 1.0
_VALUES: Final = {Verdict.GO: 0.0, Verdict.MARGINAL: 1.0, Verdict.NO_GO: 2.0}


class MateHoles(Spots):
    """See the module."""

    key = "mate_holes"
    title = "Holes at assembly"
    when = "Where are the mate's holes really, so that the withheld ones can be made by ordinates?"
    order = 135
    defaults: ClassVar = {"zero": "datum", "tolerance": 0.05}

    def __init__(self, subject: Subject | None = None) -> None:
        self._subject = subject
        self.can_practise = subject is not None and subject.mating is not None  # type: ignore[misc]

    def about(self, subject: Subject) -> MateHoles:
        """The same, of a design."""
        return MateHoles(subject)

    @property
    def mating(self) -> Mating:
        """What waits.

        Raises:
            EntryError: Nothing does, or it cannot be measured so.
        """
        mating = self.subject.mating
        if mating is None:
            raise EntryError(
                "Design",
                f"no hole of {self.subject.title} waits for its mate",
                "All of them are made by the drawing",
                "Pick one whose holes are made at assembly, or say so in Design",
                "about",
            )
        if not 2 <= len(mating.places) <= MAX_HOLES:
            raise EntryError(
                "Design",
                f"{len(mating.places)} holes wait for {mating.mate}",
                f"Between 2 and {MAX_HOLES} can be laid onto each other",
                "Pick another design",
                "about",
            )
        return mating

    def points(self, values: Values) -> tuple[tuple[float, float], ...]:
        return self.mating.places

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (
            choice("zero", "Zero of the readings", ZERO, "the datum, when the mate is set by its edges"),
            tolerance("Out of place allowed", "what the clearance of the screws takes up"),
            *tool_parameters(shop, "the readout, an indicator or a pin in the spindle"),
        )

    def work_out(self, values: Values, sheet: Sheet, shop: Shop) -> Inspection:
        mating = self.mating
        plain = super().work_out(values, sheet, shop)
        if not sheet.complete:
            return plain
        real = self._ordinates(values, sheet)
        text = "; ".join(f"{x:.3f},{y:.3f}" for x, y in real)
        verdict, why, chosen = mating.release(text)
        checks = [c for c in plain.checks if c.key != "agree"]  # one that is out is not wrong here: it is where it is
        checks.append(
            judged(
                "release",
                f"{mating.label}, by {mating.mate}",
                _VALUES[verdict],
                Limits(marginal_above=0.5, no_above=1.5),
                (f"they can be made by the ordinates of {mating.mate}", why, why),
                unit="",
                text={Verdict.GO: "go", Verdict.MARGINAL: "close", Verdict.NO_GO: "no"}[verdict],
                features=("piece",),
            )
        )
        checks += _zero_check(values, plain)
        listed = "; ".join(f"{i}: {length(x)}, {length(y)}" for i, (x, y) in enumerate(real, 1))
        zeroed = all(c.verdict is not Verdict.NO_GO for c in checks if c.key == "zero")
        released = verdict is not Verdict.NO_GO and zeroed
        if not zeroed:
            steps = ["Nothing is released: these readings do not start at the drawing's datum"]
        elif not released:
            steps = [f"Not released: {why}. Make them at assembly, through {mating.mate}"]
        else:
            steps = [
                f"{sentence(mating.mate)} has its holes at {listed}",
                "Release them: the drawing then has these ordinates, and Make plans the holes by the dials",
                f"Mark both so that they meet the same way round, and put {mating.mate} on before the last cut",
            ]
        finding = ShopFinding(key="release", words="Release the holes", chosen=chosen)
        return replace(plain, checks=tuple(checks), steps=tuple(steps), findings=(finding,) if released else ())

    def _ordinates(self, values: Values, sheet: Sheet) -> list[tuple[float, float]]:
        """Where the mate's holes are in the drawing: as read, or laid onto it without stretch."""
        read = [(sheet.mean(f"h{i + 1}x"), sheet.mean(f"h{i + 1}y")) for i in range(len(self.mating.places))]
        if values.word("zero") == "datum":
            return read
        laid = best_fit(self.mating.places, read, sheet.sigma)
        c, s = math.cos(laid.turn), math.sin(laid.turn)
        moved = [(x - laid.shift_mm[0], y - laid.shift_mm[1]) for x, y in read]
        return [(c * x + s * y, -s * x + c * y) for x, y in moved]

    def exercise(self, values: Values, shop: Shop, chance: random.Random) -> Exercise | None:
        if not self.can_practise:
            return None
        real = [(x + chance.gauss(0, 0.04), y + chance.gauss(0, 0.04)) for x, y in self.mating.places]
        true = {f"h{i + 1}{axis}": at for i, place in enumerate(real) for axis, at in zip("xy", place, strict=True)}
        laid = best_fit(self.mating.places, real, 1.0)  # so wide a sigma leaves no hole out
        return Exercise(tool="readout", true=true, answers={"turn": math.degrees(laid.turn) * 60})


def _zero_check(values: Values, plain: Inspection) -> list[Check]:
    """Whether readings that are taken for the drawing's ordinates can be that."""
    if values.word("zero") != "datum":
        return []
    off = math.hypot(plain.figure("shift_x").value, plain.figure("shift_y").value)
    return [
        judged(
            "zero",
            "Zero at the datum",
            off,
            Limits(marginal_above=_NOT_ZEROED_MM / 4, no_above=_NOT_ZEROED_MM),
            (
                "the pattern lies where the drawing has it",
                "the whole pattern lies aside: made so, or the zero is not quite at the datum. Pick up the datum again",
                "the whole pattern lies aside: the readout was hardly zeroed at the datum. Zero it, or say so above",
            ),
            features=("piece",),
        )
    ]


KIND = MateHoles()
