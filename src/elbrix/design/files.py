"""A design's files out: STEP, STL, DXF, SVG, CSV and JSON, all from its one solid and its values."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from types import MappingProxyType
from typing import Any, Final

from msgspec import Struct

from elbrix.design.callouts import lettered, letters
from elbrix.design.family import Design, Family, HoleLine
from elbrix.design.reference_sizes import reference_sizes
from elbrix.design.tolerances import DRAWN, GENERAL_MM, SizeLimits, hole_words, limited_text
from elbrix.drawing.dimension_texts import dimension_text
from elbrix.drawing.scene import Dimension, Scene
from elbrix.drawing.sheets import USUAL, SheetChoice
from elbrix.drawing.views import arrange, exact_view, section_scene
from elbrix.exchange.whole_file import write_whole
from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import METRIC, UnitStyle
from elbrix.quantities.readings import Readings
from elbrix.results.checks import Limits
from elbrix.solids.client import Kernel
from elbrix.standards.materials import material

FORMATS: Final = ("step", "stl", "dxf", "svg", "pdf", "csv", "json")


class Drafting(Struct, frozen=True):
    """How a design is drawn in its files: the limits of its sizes, and the shop's way."""

    limits: Mapping[str, SizeLimits] = MappingProxyType({})
    choice: SheetChoice = USUAL


AS_USUAL: Final = Drafting()


def dimension_texts(
    scene: Scene,
    style: UnitStyle = METRIC,
    limits: Mapping[str, SizeLimits] = MappingProxyType({}),
    reference: frozenset[str] = frozenset(),
) -> dict[str, str]:
    """Text of every dimension in a unit style."""
    return {d.key: drawn_text(d, limits, style, reference) for d in scene.dimensions}


def drawn_text(
    d: Dimension, limits: Mapping[str, SizeLimits], style: UnitStyle = METRIC, reference: frozenset[str] = frozenset()
) -> str:
    """A size of a drawing as written, with its limits: "Ø8.50 ±0.05"; one that follows from others in brackets."""
    if d.key in reference:
        return f"({dimension_text(d, style)})"
    own = limits.get(d.entry) or limits.get(d.key)
    return dimension_text(d, style, limited_text(d.value, own, style, d.step_mm) if own is not None else "")


def drawing_scene(family: Family, design: Design, kernel: Kernel, *, with_iso: bool = True, choice: SheetChoice = USUAL) -> Scene:
    """Front, top, side and section with the kernel's exact edges, as one scene."""
    return sheet_scene(drawn_views(family, design, kernel, with_iso=with_iso), choice)


def drawn_views(family: Family, design: Design, kernel: Kernel, *, with_iso: bool = True) -> tuple[Scene, ...]:
    """Front, top, side, section and solid with the kernel's exact edges; callouts have their letters."""
    solid = family.solid(design)
    scenes = []
    for outline in family.scenes(design):
        if outline.name in DRAWN:
            scenes.append(exact_view(lettered(outline, design.callouts), kernel.ask("view", solid, outline.name)))
    axis, at = family.section(design)
    scenes.append(section_scene(kernel.ask("section", solid, axis, at)))
    if with_iso:
        visible = [c for c in kernel.ask("view", solid, "iso") if not c[1]]
        scenes.append(exact_view(Scene("iso"), visible))
    return tuple(scenes)


def sheet_scene(views: Sequence[Scene], choice: SheetChoice) -> Scene:
    """Views set side by side as the shop draws."""
    return arrange(views, usual_gap(views), choice)


def usual_gap(views: Sequence[Scene]) -> float:
    """From view to view, mm."""
    size = views[0].bounds()
    # Room for two rows of sizes on paper, whatever the scale: that shrinks as the part grows.
    return max(14.0, 0.3 * max(size[2] - size[0], size[3] - size[1]))


def mass_kg(family: Family, design: Design, kernel: Kernel) -> float:
    """Of one piece, from the solid's volume and the material's book density."""
    name = design.values.word("material") if "material" in design.values else "mild steel"
    return float(kernel.ask("mass", family.solid(design))["volume_mm3"]) * material(name).density_kg_m3 * 1e-9


def design_json(family: Family, design: Design, limits: Mapping[str, SizeLimits] = MappingProxyType({})) -> dict[str, Any]:
    """A design as plain data: values, derived sizes, checks, hole table, limits; mm, N, degrees, unrounded."""
    values: dict[str, Any] = {}
    for name, given in design.values.items():
        plain = list(given.value.values_mm) if isinstance(given.value, Readings) else given.value
        values[name] = {"value": plain, "origin": given.origin.value}
    figures = [
        {"key": f.key, "label": f.label, "value": f.text or f.value, "unit": f.unit}
        | (
            {"formula": f.derivation.formula, "numbers": f.derivation.with_numbers, "source": f.derivation.source}
            if f.derivation
            else {}
        )
        for f in design.figures
    ]
    checks = [
        {
            "name": c.key,
            "label": c.label,
            "value": c.value,
            "unit": c.unit,
            "verdict": c.verdict.value,
            "reason": c.reason,
            "limits": _limits(c.limits),
        }
        for c in design.checks
    ]
    holes = [{"name": h.name, "x_mm": h.x_mm, "y_mm": h.y_mm, "what": h.what} | _named(h) for h in design.holes]
    return {
        "family": family.key,
        "values": values,
        "figures": figures,
        "checks": checks,
        "datum": design.datum,
        "holes": holes,
        "callouts": [{"name": letter, "view": c.view, "what": c.what} for letter, c in letters(design)],
        "limits": {name: {"under_mm": own.under, "over_mm": own.over} for name, own in limits.items()},
    }


def _named(hole: HoleLine) -> dict[str, Any]:
    """The numbers of a hole that it has, by the names of the table's columns."""
    told = {name: getattr(hole.sizes, name) for name in _COLUMNS} if hole.sizes is not None else {}
    return {name: value for name, value in told.items() if value}


def _limits(limits: Limits) -> dict[str, float]:
    names = ("no_below", "marginal_below", "marginal_above", "no_above")
    return {n: getattr(limits, n) for n in names if abs(getattr(limits, n)) < 1e12}


#: Columns of the hole table for programs; a depth that is empty is right through.
_COLUMNS: Final = ("diameter_mm", "depth_mm", "thread", "thread_depth_mm", "counterbore_mm", "counterbore_depth_mm")


def _numbers(hole: HoleLine) -> list[str]:
    if hole.sizes is None:
        return [""] * (len(_COLUMNS) + 1)
    told = (getattr(hole.sizes, name) for name in _COLUMNS)
    side = "from below" if hole.sizes.below else "from above"
    return [*(value if isinstance(value, str) else f"{value:.3f}" if value else "" for value in told), side]


def hole_csv(design: Design, limits: Mapping[str, SizeLimits] = MappingProxyType({})) -> str:
    """The hole table, ordinates from the datum, mm."""
    from elbrix.exchange.csv_tables import csv_text

    return csv_text(
        ["hole", "x_mm", "y_mm", "what", "datum", *_COLUMNS, "side"],
        [
            (h.name, f"{h.x_mm:.3f}", f"{h.y_mm:.3f}", hole_words(h, design, METRIC, limits), design.datum, *_numbers(h))
            for h in design.holes
        ],
    )


def _table(design: Design, limits: Mapping[str, SizeLimits]) -> list[tuple[str, ...]]:
    """The hole table and the callouts, for beside a drawing in a file; mm."""
    holes = [(h.name, f"X {h.x_mm:.3f}", f"Y {h.y_mm:.3f}", hole_words(h, design, METRIC, limits)) for h in design.holes]
    heading = [("Holes", f"from the {design.datum}")] if holes else []
    return [*heading, *holes, *((letter, c.what) for letter, c in letters(design))]


def file_bytes(
    family: Family, design: Design, kernel: Kernel, form: str, title: str, stamp: str, drawn: Drafting = AS_USUAL
) -> bytes:
    """One file's content. PDF is drawn by the interface, which prints.

    Raises:
        ShopError: A format not made here, or a solid the kernel cannot make.
    """
    if form == "step":
        return bytes(kernel.ask("step", family.solid(design), title, stamp))
    if form == "stl":
        return bytes(kernel.ask("stl", family.solid(design), title))
    if form in ("dxf", "svg"):
        scene = drawing_scene(family, design, kernel, with_iso=form == "svg", choice=drawn.choice)
        texts = dimension_texts(scene, limits=drawn.limits, reference=reference_sizes(design, family.scenes(design)))
        from elbrix.exchange.dxf import dxf_text  # its library takes longer to load than the rest of the window

        heading = f"{title}: {design.note}; sizes in mm, untoleranced ±{GENERAL_MM:g}"
        from elbrix.exchange.svg import svg_text

        write = dxf_text if form == "dxf" else svg_text
        return write(scene, texts, heading, _table(design, drawn.limits)).encode()
    if form == "csv":
        return hole_csv(design, drawn.limits).encode()
    if form == "json":
        import json  # only to write it indented

        return (json.dumps(design_json(family, design, drawn.limits), ensure_ascii=False, indent=1) + "\n").encode()
    raise ShopError("Files", f"“{form}” is no format Elbrix writes", "It writes " + ", ".join(FORMATS), "Pick from those")


def write_all(
    family: Family,
    design: Design,
    folder: Path,
    stem: str,
    title: str,
    formats: Sequence[str],
    pdf: Callable[[Kernel, Path], None],
    drawn: Drafting = AS_USUAL,
) -> list[Path]:
    """Write a design's files into a folder.

    Args:
        stem: File name without ending.
        pdf: Draws the PDF; the interface prints, not the core.

    Raises:
        ShopError: An unknown format, a folder that cannot be written, or a solid that cannot be made.
    """
    unknown = [f for f in formats if f not in FORMATS]
    if unknown:
        raise ShopError(
            "Files", f"“{unknown[0]}” is no format Elbrix writes", "It writes " + ", ".join(FORMATS), "Pick from those"
        )
    kernel, written, stamp = Kernel(), [], time.strftime("%Y-%m-%dT%H:%M:%S")
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for form in formats:
            path = folder / f"{stem}.{form}"
            if form == "pdf":
                pdf(kernel, path)
            else:
                write_whole(path, file_bytes(family, design, kernel, form, title, stamp, drawn))
            written.append(path)
    except OSError as error:
        raise ShopError(
            "Files",
            f"{folder} cannot be written ({error.strerror})",
            "It is not there, is full, or may not be written to",
            "Name another one",
        ) from None
    finally:
        kernel.stop()
    return written
