"""Opening a DXF somebody else drew. Untrusted: its size is limited by who reads the file, nothing in it is run."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING, Final

from elbrix.quantities.errors import ShopError
from elbrix.quantities.lengths import MM_PER_INCH

if TYPE_CHECKING:
    from ezdxf.document import Drawing

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
        drawing = read(io.StringIO(data.decode("utf-8", "replace")))
    except (DXFError, ValueError, KeyError, IndexError, AttributeError, TypeError) as error:
        raise ShopError(
            where,
            f"it cannot be read as DXF ({type(error).__name__})",
            "The file is damaged or of another kind",
            "Write it again as DXF",
        ) from None
    code = int(drawing.header.get("$INSUNITS", 0))
    if code not in _DXF_MM:
        raise ShopError(where, f"its unit has the code {code}", "Elbrix reads mm, cm, m and inches", "Write it again in mm")
    return drawing, _DXF_MM[code]
