"""A scene as a DXF file, 1:1 in mm, on named layers."""

from __future__ import annotations

import io
from typing import Final

import ezdxf.filemanagement
import ezdxf.units
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.layout import Modelspace

from elbrix.drawing.placing import TextSizes, place
from elbrix.drawing.scene import Arc, Dimension, Line, Note, Path, Scene, Style

_LAYERS: Final = {
    "VISIBLE": (7, "CONTINUOUS"),
    "HIDDEN": (8, "DASHED"),
    "CENTRE": (4, "CENTER"),
    "THREAD": (8, "CONTINUOUS"),
    "HATCH": (9, "CONTINUOUS"),
    "SIZES": (2, "CONTINUOUS"),
}
_LAYER_OF: Final = {
    Style.VISIBLE: "VISIBLE",
    Style.HIDDEN: "HIDDEN",
    Style.CENTRE: "CENTRE",
    Style.THREAD: "THREAD",
    Style.SECTION: "HATCH",
    Style.THIN: "VISIBLE",
    Style.BODY: "VISIBLE",
}


def dxf_text(scene: Scene, label: dict[str, str], title: str) -> str:
    """The scene as DXF text (R2010).

    Args:
        scene: In mm.
        label: Text of each dimension by key.
        title: Written into the drawing's properties and under it.
    """
    doc = ezdxf.filemanagement.new("R2010", setup=["linetypes"])
    doc.units = ezdxf.units.MM
    for name, (colour, linetype) in _LAYERS.items():
        doc.layers.add(name, color=colour, linetype=linetype)
    space = doc.modelspace()
    for e in scene.elements:
        if not isinstance(e, Note) and e.style in _LAYER_OF:
            _draw(space, e, {"layer": _LAYER_OF[e.style]})
    left, bottom, right, _ = scene.bounds()
    height = max(1.5, (right - left) / 60)
    sizes = TextSizes(width=lambda t: len(t) * height * 0.75, height=height, row=height * 2.4, first=height * 2.5, arrow=height)

    def words(d: Dimension) -> str:
        return label.get(d.key, f"{d.value:.2f}")

    for p in place(scene, lambda q: q, words, sizes):
        at = {"layer": "SIZES"}
        space.add_line(p.a, p.b, dxfattribs=at)
        space.add_line(p.from_a, p.a, dxfattribs=at)
        space.add_line(p.from_b, p.b, dxfattribs=at)
        x0, y0, x1, y1 = p.text_box
        space.add_text(p.text, height=height, dxfattribs=at).set_placement(
            ((x0 + x1) / 2, (y0 + y1) / 2), align=TextEntityAlignment.MIDDLE_CENTER
        )
    space.add_text(title, height=height, dxfattribs={"layer": "SIZES"}).set_placement((left, bottom - height * 12))
    out = io.StringIO()
    doc.write(out)
    return out.getvalue()


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
