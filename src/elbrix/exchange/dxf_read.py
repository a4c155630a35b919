"""Opening a DXF somebody else drew. Untrusted: its size is limited by who reads the file, nothing in it is run."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING, Final

from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH

if TYPE_CHECKING:
    from ezdxf.document import Drawing

LARGEST_DXF: Final = 8_000_000
#: $INSUNITS → mm. 0 says nothing.
_DXF_MM: Final = {0: 1.0, 1: MM_PER_INCH, 4: 1.0, 5: 10.0, 6: 1000.0}


def open_dxf(data: bytes, where: str) -> tuple[Drawing, float]:
    """(drawing, mm in one of its units).

    Raises:
        ShopError: No DXF, or a unit that is not known.
    """
    from ezdxf.filemanagement import read  # only when a drawing is read
    from ezdxf.lldxf.const import DXFError

    try:
        text = data.decode("utf-8", "replace")
        if not _looks_like_dxf(text):
            raise ValueError
        drawing = read(io.StringIO(text))
        code = int(drawing.header.get("$INSUNITS", 0))
    except (DXFError, ValueError, KeyError, IndexError, AttributeError, TypeError, ArithmeticError, RecursionError) as error:
        raise ShopError(
            where,
            f"it cannot be read as DXF ({type(error).__name__})",
            "The file is damaged or of another kind",
            "Write it again as DXF",
        ) from None
    if code not in _DXF_MM:
        raise ShopError(where, f"its unit has the code {code}", "Elbrix reads mm, cm, m and inches", "Write it again in mm")
    return drawing, _DXF_MM[code]


def _looks_like_dxf(text: str) -> bool:
    """Whether its first lines are pairs of a number and a value, as in every such file: anything else is not read through."""
    lines = text[:20_000].splitlines()[:200]
    codes = lines[0 : len(lines) - 1 : 2]
    return len(codes) >= 2 and all(c.strip().lstrip("-").isdigit() for c in codes)
