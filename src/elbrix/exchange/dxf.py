"""A drawing as a DXF file, 1:1 in mm, on named layers.

Edges, a closed outline of every view, sizes as dimensions, the cut faces hatched, names of holes, and the tables beside it.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any, Final

import ezdxf.filemanagement
import ezdxf.units
import ezdxf.zoom
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.layout import Modelspace

from elbrix.drawing.contours import outer_contours
from elbrix.drawing.placing import PlacedDimension, TextSizes, place
from elbrix.drawing.scene import Arc, Dimension, Line, Note, Path, Point, Scene, Side, Style

_LAYERS: Final = {
    "VISIBLE": (7, "CONTINUOUS"),
    "OUTLINE": (7, "CONTINUOUS"),
    "HIDDEN": (8, "DASHED"),
    "CENTRE": (4, "CENTER"),
    "THREAD": (8, "CONTINUOUS"),
    "HATCH": (9, "CONTINUOUS"),
    "SIZES": (2, "CONTINUOUS"),
    "NAMES": (3, "CONTINUOUS"),
    "TABLE": (3, "CONTINUOUS"),
}
_LAYER_OF: Final = {
    Style.VISIBLE: "VISIBLE",
    Style.HIDDEN: "HIDDEN",
    Style.CENTRE: "CENTRE",
    Style.THREAD: "THREAD",
    Style.THIN: "VISIBLE",
    Style.BODY: "VISIBLE",
}
#: Scales drawings are printed at, as what is divided by: letters are 2.5 mm high on the print. Source: ISO 5455.
_SCALES: Final = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
_LETTER_MM, _SHEET_MM = 2.5, 260.0
#: Signs that not every font of a reader has, as the format itself writes them.
_CODES: Final = str.maketrans({"Ø": "%%c", "±": "%%p", "°": "%%d", "×": "x", "−": "-", "·": "."})
_STYLE: Final = "ELBRIX"


def dxf_text(scene: Scene, label: dict[str, str], title: str, table: Sequence[Sequence[str]] = ()) -> str:
    """The scene as DXF text (R2010).

    Args:
        scene: In mm.
        label: Text of each dimension by key.
        title: Written into the drawing's properties and under it.
        table: Rows under the title, each of some columns: a hole, a callout.
    """
    doc = ezdxf.filemanagement.new("R2010", setup=["linetypes"])
    doc.units = ezdxf.units.MM
    doc.header["$LTSCALE"] = 0.5
    for name, (colour, linetype) in _LAYERS.items():
        doc.layers.add(name, color=colour, linetype=linetype)
    left, bottom, right, _ = scene.bounds()
    scale = next((s for s in _SCALES if (right - left) / s <= _SHEET_MM), _SCALES[-1])
    height = _LETTER_MM * scale
    _dimension_style(doc, height)
    space = doc.modelspace()
    for e in scene.elements:
        if isinstance(e, Note):
            _write(space, e.text, e.at, height, "NAMES", TextEntityAlignment.MIDDLE_CENTER)
            if e.leader is not None:
                space.add_line(e.at, e.leader, dxfattribs={"layer": "NAMES"})
        elif isinstance(e, Path) and e.style is Style.SECTION:
            _hatch(space, e, scale)
        elif e.style in _LAYER_OF:
            _draw(space, e, {"layer": _LAYER_OF[e.style]})
    for contour in outer_contours(scene):
        space.add_lwpolyline(contour, format="xyb", close=True, dxfattribs={"layer": "OUTLINE"})
    sizes = TextSizes(width=lambda t: len(t) * height * 0.75, height=height, row=height * 2.4, first=height * 2.5, arrow=height)

    def words(d: Dimension) -> str:
        return label.get(d.key, f"{d.value:.2f}")

    placed = place(scene, lambda q: q, words, sizes)
    for p in placed:
        _size(space, p, height)
    low = min([bottom, *(p.text_box[1] for p in placed)]) - 4 * height
    _write(space, title, (left, low), height, "TABLE")
    for n, row in enumerate(table):
        for text, column in zip(row, (0.0, 8.0, 24.0, 42.0), strict=False):
            _write(space, text, (left + column * height * 0.75, low - (n + 1) * 1.8 * height), height, "TABLE")
    ezdxf.zoom.extents(space)  # whoever opens it sees all of it
    box = _extents(scene, placed, low - (len(table) + 1) * 1.8 * height)
    space.reset_extents((*box[0], 0.0), (*box[1], 0.0))
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()


def _dimension_style(doc: Drawing, height: float) -> None:
    """Sizes with filled arrows; numbers stand where they were placed, and are not worked out anew by a reader."""
    doc.dimstyles.new(
        _STYLE,
        dxfattribs={
            "dimtxt": height,
            "dimasz": 0.8 * height,
            "dimexo": 0.4 * height,
            "dimexe": 0.6 * height,
            "dimgap": 0.3 * height,
            "dimtad": 0,
            "dimscale": 1.0,
            "dimtih": 0,
            "dimtoh": 0,
        },
    )


def _size(space: Modelspace, p: PlacedDimension, height: float) -> None:
    """One size as a dimension; a number that stands alone as text."""
    x0, y0, x1, y1 = p.text_box
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    if p.dimension.side is Side.AT:
        _write(space, p.text, middle, height, "SIZES", TextEntityAlignment.MIDDLE_CENTER)
        return
    size = space.add_linear_dim(
        base=p.a,
        p1=p.from_a,
        p2=p.from_b,
        angle=0 if p.dimension.along_x else 90,
        text=_coded(p.text),
        text_rotation=0,
        dimstyle=_STYLE,
        dxfattribs={"layer": "SIZES"},
    )
    size.set_location(middle)
    size.render()


def _write(
    space: Modelspace, text: str, at: Point, height: float, layer: str, align: TextEntityAlignment = TextEntityAlignment.LEFT
) -> None:
    if text:
        space.add_text(_coded(text), height=height, dxfattribs={"layer": layer}).set_placement(at, align=align)


def _coded(text: str) -> str:
    """Text as the format writes it; two percent signs that somebody typed do not begin a code."""
    return text.replace("%%", "%%%%%%").translate(_CODES)


def _hatch(space: Modelspace, e: Path, scale: float) -> None:
    """A cut face: its edge, and lines across it."""
    hatch = space.add_hatch(dxfattribs={"layer": "HATCH"})
    hatch.set_pattern_fill("ANSI31", scale=0.6 * scale)
    for ring in (e.points, *e.holes):
        hatch.paths.add_polyline_path(list(ring), is_closed=True)
        space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "VISIBLE"})


def _draw(space: Modelspace, e: Line | Arc | Path, at: dict[str, str]) -> None:
    if isinstance(e, Line):
        space.add_line(e.a, e.b, dxfattribs=at)
    elif isinstance(e, Path):
        space.add_lwpolyline(e.points, close=e.closed, dxfattribs=at)
    elif e.ratio != 1.0:
        space.add_lwpolyline(e.points(), dxfattribs=at)
    elif e.end_deg - e.start_deg >= 360:
        space.add_circle(e.centre, e.radius, dxfattribs=at)
    else:
        space.add_arc(e.centre, e.radius, e.start_deg, e.end_deg, dxfattribs=at)


def _extents(scene: Scene, placed: Sequence[PlacedDimension], low: float) -> tuple[Any, Any]:
    """Lower left and upper right of everything that is drawn."""
    boxes = [scene.bounds(), *(p.text_box for p in placed)]
    return ((min(b[0] for b in boxes), min(low, *(b[1] for b in boxes))), (max(b[2] for b in boxes), max(b[3] for b in boxes)))
