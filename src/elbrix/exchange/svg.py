"""A scene as SVG, 1 mm to the millimetre on a printed page when not scaled."""

from __future__ import annotations

import math
from collections.abc import Sequence
from html import escape
from typing import Final

from elbrix.drawing.placing import PlacedDimension, TextSizes, place
from elbrix.drawing.scene import Arc, Dimension, Line, Note, Path, Point, Scene, Side, Style

_PEN: Final = {
    Style.VISIBLE: "stroke:#22252c;stroke-width:.35",
    Style.HIDDEN: "stroke:#6f6c64;stroke-width:.2;stroke-dasharray:1.2 .6",
    Style.CENTRE: "stroke:#2f7d6c;stroke-width:.15;stroke-dasharray:3 .6 .6 .6",
    Style.THIN: "stroke:#22252c;stroke-width:.15",
    Style.THREAD: "stroke:#22252c;stroke-width:.15",
    Style.SURROUNDINGS: "stroke:#6f6c64;stroke-width:.25",
    Style.TOOL: "stroke:#a84a22;stroke-width:.25",
    Style.PATH_GO: "stroke:#2f7d6c;stroke-width:.3",
    Style.PATH_MARGINAL: "stroke:#8a6d1f;stroke-width:.4;stroke-dasharray:1.6 .8",
    Style.PATH_NO_GO: "stroke:#a84a22;stroke-width:.6",
    Style.SECTION: "stroke:#22252c;stroke-width:.35;fill:#d9d3c4",
    Style.SURROUNDINGS_SECTION: "stroke:#6f6c64;stroke-width:.2;fill:#efeadd",
    Style.BODY: "stroke:none;fill:#f7f3ea",
}


#: Rows of the table under the drawing, and where its columns begin, mm.
_ROW, _COLUMNS = 4.5, (0.0, 12.0, 40.0, 68.0)


def _arrows(p: PlacedDimension, long: float) -> list[tuple[Point, ...]]:
    """The two tips of a dimension line: they point at its ends, from outside where its number does not stand between them."""
    if p.dimension.side is Side.AT or p.a == p.b:
        return []
    span = math.dist(p.a, p.b)
    way = ((p.b[0] - p.a[0]) / span, (p.b[1] - p.a[1]) / span)
    found: list[tuple[Point, ...]] = []
    for end, sign in ((p.a, 1.0), (p.b, -1.0)):
        dx, dy = (sign * (-1.0 if p.outside else 1.0) * long * w for w in way)
        found.append(
            (end, (end[0] + dx - 0.25 * dy, end[1] + dy + 0.25 * dx), (end[0] + dx + 0.25 * dy, end[1] + dy - 0.25 * dx))
        )
    return found


def svg_text(scene: Scene, label: dict[str, str], title: str, table: Sequence[Sequence[str]] = ()) -> str:
    """The scene as SVG text with its sizes, the names of its holes, and rows of some columns under it.

    Args:
        label: Text of each dimension by key.
    """
    height = 2.5
    sizes = TextSizes(width=lambda t: len(t) * height * 0.62, height=height, row=5.5, first=6.0, arrow=1.6)

    def words(d: Dimension) -> str:
        return label.get(d.key, f"{d.value:.2f}")

    placed = place(scene, lambda q: q, words, sizes)
    left, bottom, right, top = scene.bounds()
    boxes = [p.text_box for p in placed] + [(left, bottom, right, top)]
    left, bottom, right, top = (
        min(b[0] for b in boxes) - 4,
        min(b[1] for b in boxes) - 8 - _ROW * len(table),
        max(b[2] for b in boxes) + 4,
        max(b[3] for b in boxes) + 4,
    )

    def xy(p: Point) -> str:
        return f"{p[0] - left:.3f},{top - p[1]:.3f}"

    def path(points: tuple[Point, ...] | list[Point], closed: bool) -> str:
        return "M" + " L".join(xy(p) for p in points) + (" Z" if closed else "")

    out = [
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{right - left:.2f}mm" height="{top - bottom:.2f}mm" viewBox="0 0'
            f' {right - left:.3f} {top - bottom:.3f}" style="fill:none;font-family:B612,sans-serif;font-size:{height}px">'
        ),
        f"<title>{escape(title)}</title>",
    ]
    for e in scene.elements:
        if isinstance(e, Note):
            if e.leader is not None:
                out.append(f'<path d="{path((e.at, e.leader), False)}" style="stroke:#22252c;stroke-width:.15"/>')
            across, down = xy(e.at).split(",")
            out.append(
                f'<text x="{across}" y="{down}" dy=".36em" text-anchor="middle" style="fill:#22252c">{escape(e.text)}</text>'
            )
            continue
        pen = _PEN[e.style]
        if isinstance(e, Line):
            out.append(f'<path d="{path((e.a, e.b), False)}" style="{pen}"/>')
        elif isinstance(e, Path):
            d = " ".join([path(e.points, e.closed), *(path(h, True) for h in e.holes)])
            out.append(f'<path d="{d}" style="{pen};fill-rule:evenodd"/>')
        elif isinstance(e, Arc) and e.ratio == 1.0 and e.end_deg - e.start_deg >= 360:
            out.append(f'<circle cx="{e.centre[0] - left:.3f}" cy="{top - e.centre[1]:.3f}" r="{e.radius:.3f}" style="{pen}"/>')
        else:
            out.append(f'<path d="{path(e.points(), False)}" style="{pen}"/>')
    for p in placed:
        out.append(
            f'<path d="{path((p.from_a, p.a), False)} {path((p.from_b, p.b), False)} {path((p.a, p.b), False)}"'
            ' style="stroke:#8a6a14;stroke-width:.15"/>'
        )
        out += [f'<path d="{path(tip, True)}" style="fill:#8a6a14"/>' for tip in _arrows(p, sizes.arrow)]
        x0, y0, x1, y1 = p.text_box
        x, y = (x0 + x1) / 2 - left, top - (y0 + y1) / 2
        out.append(
            f'<rect x="{x - (x1 - x0) / 2:.3f}" y="{y - height * 0.6:.3f}" width="{x1 - x0:.3f}" height="{height * 1.2:.3f}"'
            ' style="fill:#fff"/>'
        )
        out.append(
            f'<text x="{x:.3f}" y="{y + height * 0.36:.3f}" text-anchor="middle" style="fill:#22252c">{escape(p.text)}</text>'
        )
    under = top - bottom - 2 - _ROW * len(table)
    out.append(f'<text x="4" y="{under:.3f}" style="fill:#22252c">{escape(title)}</text>')
    for n, row in enumerate(table, 1):
        for text, column in zip(row, _COLUMNS, strict=False):
            out.append(f'<text x="{4 + column:g}" y="{under + n * _ROW:.3f}" style="fill:#22252c">{escape(text)}</text>')
    out.append("</svg>")
    return "\n".join(out) + "\n"
