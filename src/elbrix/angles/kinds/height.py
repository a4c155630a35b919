"""A height, or two at once, in gauge blocks: which to wring, how far off, and how far it may be off."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elbrix.angles.from_boxes import (
    STACK_SHARE,
    box_parameters,
    box_proposal,
    longer_search,
    other_stacks,
    refuse_empty,
    sources_of,
    stacks_at_once,
    typed_stacks,
)
from elbrix.angles.kinds.plain import assumed, parameter_figures
from elbrix.angles.pictures import stacks_scene
from elbrix.angles.setup import AngleSetup, SetupStep
from elbrix.angles.wringing import CARE, dropped_check, wring_steps
from elbrix.gauging.build_up import BuiltStack, Sources
from elbrix.parameters.parameter import Group, Kind, Parameter, ParameterValue, Values, merge_choices
from elbrix.quantities.errors import EntryError, ShopError
from elbrix.quantities.sentences import within
from elbrix.results.checks import Check, Fix, Limits
from elbrix.results.figures import Derivation, Figure, Origin, format_number
from elbrix.results.formulas import reckoned, term, worked
from elbrix.shop.shop import Shop

_OWN: Final = (
    Parameter(
        name="height",
        label="Stack height",
        kind=Kind.LENGTH,
        low=0.05,
        high=2000,
        step=0.0001,
        usually="from the drawing",
        feature="stack",
    ),
    Parameter(
        name="second_height",
        label="Second stack height",
        kind=Kind.LENGTH,
        low=0.0,
        high=2000,
        step=0.0001,
        usually="0: one stack; the same height for both ends of a straight edge",
        feature="base",
    ),
    Parameter(
        name="tolerance",
        label="Height tolerance ±",
        kind=Kind.NUMBER,
        unit="µm",
        low=0.0,
        high=1000,
        usually="a tenth of what it is used to measure",
    ),
)
_WARMTH: Final = Parameter(
    name="difference_k",
    label="Temperature difference",
    kind=Kind.NUMBER,
    unit="K",
    low=0,
    high=30,
    usually="0 after an hour side by side",
)


class Height:
    """See the module."""

    key = "height"
    title = "A height in gauge blocks"
    when = "Which blocks make this height, alone or two stacks at once?"
    order = 7

    def parameters(self, shop: Shop) -> tuple[Parameter, ...]:
        return (*_OWN, *box_parameters(shop), _WARMTH)

    def propose(self, shop: Shop, chosen: Mapping[str, ParameterValue]) -> Values:
        proposed = {
            "height": assumed(25.0),
            "second_height": ParameterValue(0.0, Origin.CALCULATED),
            "tolerance": assumed(1.0, "type what it is needed for"),
            **box_proposal(shop),
            "difference_k": assumed(0.5, "blocks and work an hour side by side"),
        }
        return Values(merge_choices(chosen, proposed))

    def solve(self, values: Values, shop: Shop, holder: str = "") -> AngleSetup:
        sources = sources_of(values, shop, holder)
        refuse_empty(sources)
        heights = [values.number("height"), *([values.number("second_height")] if values.number("second_height") else [])]
        whole = values.number("tolerance") / 1000
        window = max(sources.step_mm / 2, STACK_SHARE * whole)
        dropped: dict[str, str] = {}
        stacks, others = self._stacks(values, sources, heights, (window, max(window, whole)), dropped)
        figures = parameter_figures(self.parameters(shop), values)
        figures = [f for f in figures if f.key != "stack"] + self._figures(
            values, stacks, heights, chosen=bool(values.word("stack")) and not dropped
        )
        checks, fixes = self._checks(values, stacks, heights)
        if dropped:
            check, fixes["dropped"] = dropped_check(dropped["stack"], stacks)
            checks.append(check)
        return AngleSetup(
            kind=self.key,
            values=values,
            figures=tuple(figures),
            checks=tuple(checks),
            scenes=(stacks_scene(stacks, heights),),
            stacks=stacks,
            others=others,
            dropped=dropped,
            fixes=fixes,
            groups=(
                Group("Height", ("height", *(("second_height",)), "tolerance")),
                Group("Blocks", ("block_set", "second_set", "parallel", "wear", "ranking")),
                Group(
                    "Stack" if len(stacks) == 1 else "Two stacks at once",
                    ("stack", *(k for i in range(len(stacks)) for k in (f"reached {i}", f"off {i}"))),
                ),
                Group("Uncertainty", ("expected", "worst", "difference_k")),
            ),
            steps=(
                SetupStep(
                    "Let blocks and work lie side by side on the surface plate", "an hour; the same warmth in both does nothing"
                ),
                *(
                    s
                    for i, built in enumerate(stacks)
                    for s in wring_steps(built, "" if len(stacks) == 1 else ("for the first stack", "for the second stack")[i])
                ),
                SetupStep(
                    "Apart again after use, wiped, oiled, back in their box", "wrung blocks left overnight may not come apart"
                ),
            ),
            cautions=(CARE[1],),
            longer=longer_search(sources, heights[0], window) if len(stacks) == 1 else None,
        )

    def _stacks(
        self, values: Values, sources: Sources, heights: list[float], windows: tuple[float, float], dropped: dict[str, str]
    ) -> tuple[tuple[BuiltStack, ...], tuple[BuiltStack, ...]]:
        if values.word("stack"):
            try:
                first, second = typed_stacks(values.word("stack"), sources)
                if (second is None) == (len(heights) == 2):
                    raise EntryError(
                        "Stack",
                        "one stack where two are wanted" if second is None else "two stacks where one is wanted",
                        "Two stacks are parted by a stroke",
                        "Type one for each height",
                        "stack",
                    )
            except ShopError as error:
                dropped["stack"] = error.beside
            else:
                return ((first, second), ()) if second else ((first,), other_stacks(sources, heights[0], windows[0], first))
        if len(heights) == 2:
            two = (heights[0], heights[1])
            both = stacks_at_once(sources, two, windows[0]) or stacks_at_once(sources, two, windows[1])
            if both is None:
                raise EntryError(
                    "Two stacks",
                    f"{format_number(heights[0], 4)} and {format_number(heights[1], 4)} mm cannot be had from {sources.box.name}"
                    " at once",
                    "No two of their stacks do without a common block",
                    "Allow a wider tolerance, change one of them a little, or take a second set",
                    "second_height",
                )
            return both, ()
        try:
            stacks, nearest = sources.best(heights[0], windows[0])
            if not stacks and windows[1] > windows[0]:
                stacks, nearest = sources.best(heights[0], windows[1])
        except ShopError as error:
            raise EntryError("Height", error.what, error.why, error.do, "height") from None
        if stacks:
            return stacks[:1], stacks[1:]
        if not nearest:
            raise EntryError(
                "Height",
                f"no stack comes near {format_number(heights[0], 4)} mm",
                "The blocks that are here do not reach it",
                "Put blocks back in Shop, or take another set",
                "height",
            )
        ranked = tuple(sorted(nearest, key=lambda b: abs(b.height_mm - heights[0])))
        return ranked[:1], ranked[1:]

    def _figures(self, values: Values, stacks: tuple[BuiltStack, ...], heights: list[float], *, chosen: bool) -> list[Figure]:
        words = " / ".join(b.words for b in stacks)
        found = [
            Figure(
                key="stack",
                label="Stack" if len(stacks) == 1 else "Two stacks",
                value=0.0,
                unit="",
                origin=Origin.CHOSEN if chosen else Origin.CALCULATED,
                text=words,
                features=("stack", "base"),
                derivation=Derivation(
                    "fewest blocks within a tenth of the tolerance, then least error, then least root-sum-square of the limits",
                    words,
                    "exact over every choice of the blocks that are here",
                ),
            )
        ]
        for i, (built, height) in enumerate(zip(stacks, heights, strict=True)):
            which = "" if len(stacks) == 1 else (", first", ", second")[i]
            feature = ("stack", "base")[i]
            found += [
                Figure(
                    key=f"reached {i}",
                    label=f"Actual height{which}",
                    value=built.real_mm,
                    step=0.00001,
                    features=(feature,),
                    derivation=Derivation("blocks with their calibrated deviations", built.real_sum),
                ),
                reckoned(
                    f"off {i}",
                    f"Height error{which}",
                    worked("(as it is − wanted)·1000", term(built.real_mm, 5), term(height, 5)),
                    unit="µm",
                    features=(feature,),
                ),
            ]
        worst = max((b.uncertainty(values.number("difference_k")) for b in stacks), key=lambda u: u.rss_um)
        lines = "; ".join(f"{within(line.label)} {format_number(line.rss_um, 2)} ({line.how})" for line in worst.lines)
        found.append(
            Figure(
                key="expected",
                label="Expected error ±",
                value=worst.rss_um,
                unit="µm",
                derivation=Derivation("root of the sum of the squares of the lines", lines),
            )
        )
        found.append(
            Figure(
                key="worst",
                label="Worst error ±",
                value=worst.worst_um,
                unit="µm",
                derivation=Derivation(
                    "all lines added",
                    "; ".join(f"{within(line.label)} {format_number(line.worst_um, 2)}" for line in worst.lines),
                ),
            )
        )
        return found

    def _checks(self, values: Values, stacks: tuple[BuiltStack, ...], heights: list[float]) -> tuple[list[Check], dict[str, Fix]]:
        tolerance = values.number("tolerance")
        offs = [(b.real_mm - h) * 1000 for b, h in zip(stacks, heights, strict=True)]
        off = max(offs, key=abs)
        unsure = max((b.uncertainty(values.number("difference_k")) for b in stacks), key=lambda u: u.rss_um)
        expected = abs(off) + unsure.rss_um
        count = sum(len(b.pieces) for b in stacks)
        most = 5 * len(stacks)
        fixes: dict[str, Fix] = {}
        checks = [
            Check(
                key="off",
                label="Height error",
                value=off,
                unit="µm",
                limits=Limits(-tolerance, -tolerance, tolerance, tolerance),
                features=("stack", "base"),
                figures=("off 0",),
                remedies=("tolerance",),
                reason="within the tolerance" if abs(off) <= tolerance + 1e-9 else "the blocks that are here come no nearer",
            ),
            Check(
                key="expected",
                label="Height error and uncertainty",
                value=expected,
                unit="µm",
                limits=Limits(marginal_above=tolerance),
                figures=("expected",),
                features=("stack",),
                reason=(
                    "still within"
                    if expected <= tolerance
                    else "the blocks' own limits take it over: a calibrated set, or fewer blocks"
                ),
                derivation=Derivation(
                    "|off| + root-sum-square of the lines", f"{format_number(abs(off), 3)} + {format_number(unsure.rss_um, 3)}"
                ),
            ),
            *(
                Check(
                    key=f"line {i}",
                    label=line.label,
                    value=line.rss_um,
                    unit="µm",
                    limits=Limits(marginal_above=tolerance),
                    features=("stack",),
                    figures=("difference_k",) if "warmer" in line.label else (),
                    reason="a part of the tolerance" if line.rss_um <= tolerance else "it alone is more than the tolerance",
                    derivation=Derivation(line.how, format_number(line.rss_um, 3)),
                )
                for i, line in enumerate(unsure.lines)
            ),
            Check(
                key="blocks",
                label="Number of blocks",
                value=count,
                unit="",
                limits=Limits(marginal_above=most),
                text=f"{count}",
                features=("stack", "base"),
                figures=("stack",),
                reason="every joint is a chance for dirt" if count > most else "few joints",
            ),
        ]
        if abs(off) > tolerance + 1e-9:
            fixes["off"] = Fix(
                f"Allow ±{format_number(abs(off) + 0.005, 2)} µm", (("tolerance", format_number(abs(off) + 0.005, 2)),)
            )
        return checks, fixes

    def settle(self, setting: AngleSetup, shop: Shop, name: str, value: float, holder: str = "") -> str:
        """A dragged height settles on what two blocks make."""
        if name != "height":
            return f"{value:g}"
        return f"{sources_of(setting.values, shop, holder).nearest_made(value):.6f}".rstrip("0").rstrip(".")


KIND = Height()
