"""Pictures of setups: work in the vise seen from the end, bar seen from the front. To scale, mm."""

from __future__ import annotations

from elbrix.drawing.scene import Arc, Element, Line, Note, Path, Scene, Style, box


def vise_end(
    across: float,
    high: float,
    *,
    letters: tuple[str, str, str],
    profile: tuple[tuple[float, float], ...] = (),
    cutter: tuple[float, float, float] | None = None,
    out_of_jaws: float = 0.0,
    rod: bool = False,
) -> Scene:
    """Work in the vise from its end, fixed jaw on the left; x across from the middle of the work, y up from its top.

    Args:
        across: Of the work, mm.
        high: Of the work, mm.
        letters: Faces shown: (against the fixed jaw, up, against the moving jaw).
        profile: Outline of the work when it is no longer a block.
        cutter: Middle, lower end, diameter.
        out_of_jaws: How much stands above the jaws.
        rod: A round bar between work and moving jaw.
    """
    half, jaw, reach = across / 2, max(10.0, high * 0.7), max(12.0, across * 0.55)
    top_of_jaw = -out_of_jaws
    rod_d = max(4.0, high * 0.25) if rod else 0.0
    right = half + rod_d
    elements: list[Element] = [
        box(-half - reach, top_of_jaw - jaw - high * 0.5, -half, top_of_jaw, Style.SURROUNDINGS_SECTION, "fixed jaw"),
        box(right, top_of_jaw - jaw - high * 0.5, right + reach, top_of_jaw, Style.SURROUNDINGS_SECTION, "moving jaw"),
        box(-half * 0.92, -high - max(6.0, high * 0.4), -half * 0.55, -high, Style.SURROUNDINGS, "parallel"),
        box(half * 0.55, -high - max(6.0, high * 0.4), half * 0.92, -high, Style.SURROUNDINGS, "parallel"),
        Path(profile or ((-half, -high), (half, -high), (half, 0.0), (-half, 0.0)), Style.BODY, "work", closed=True),
        Path(profile or ((-half, -high), (half, -high), (half, 0.0), (-half, 0.0)), Style.VISIBLE, "work", closed=True),
        Line((0, 4), (0, -high - 3), Style.CENTRE),
        Note((-half + 1.5, -high / 2), letters[0]),
        Note((0.0, -min(3.5, high * 0.3)), letters[1], align=0),
        Note((half - 1.5, -high / 2), letters[2], align=1),
        Note((-half - reach / 2, top_of_jaw - jaw * 0.5), "fixed", quiet=True, align=0),
        Note((right + reach / 2, top_of_jaw - jaw * 0.5), "moving", quiet=True, align=0),
    ]
    if rod:
        elements.append(
            Arc(
                (half + rod_d / 2, top_of_jaw - (high - out_of_jaws) / 2),
                rod_d / 2,
                style=Style.SURROUNDINGS,
                feature="round bar",
            )
        )
    if cutter:
        x, z, d = cutter
        stands = max(z + 8.0, 0.0) + max(10.0, high * 0.6)
        elements += [box(x - d / 2, z, x + d / 2, stands, Style.TOOL, "cutter"), Line((x, z - 2), (x, stands + 2), Style.CENTRE)]
    return Scene("setup", "From the end of the vise", tuple(elements))


def bar_front(
    length: float,
    high: float,
    marks: list[tuple[float, str]],
    cuts: list[float],
    *,
    jaw: tuple[float, float] | None = None,
    cutter: tuple[float, float, float] | None = None,
) -> Scene:
    """The bar from the front: x from its left end, y up from its top; marks are hole middles, cuts are saw cuts."""
    elements: list[Element] = [box(0, -high, length, 0, Style.BODY, "work"), box(0, -high, length, 0, Style.VISIBLE, "work")]
    for x, name in marks:
        elements += [
            Line((x, high * 0.35), (x, -high * 1.25), Style.CENTRE, name),
            Note((x, high * 0.55), name, quiet=True, align=0),
        ]
    elements += [Line((x, 1.5), (x, -high - 1.5), Style.HIDDEN, "saw cut") for x in cuts]
    if jaw:
        elements.append(box(jaw[0], -high * 1.9, jaw[1], -high * 0.45, Style.SURROUNDINGS, "jaw"))
    if cutter:
        x, z, d = cutter
        elements.append(box(x - d / 2, z, x + d / 2, z + max(18.0, high * 1.2), Style.TOOL, "cutter"))
    return Scene("setup", "From the front, X along the bar", tuple(elements))
