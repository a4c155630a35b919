"""Elbrix: workholding for the milling machine, from a measured slot to a proven fixture."""

import os
import sys

__version__ = "0.2.0"

# Our arrays are small: a pool of threads costs NumPy's import more than it ever gives back. A wish of the user's own goes first.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

# msgspec looks for typing_extensions, only to fall back on what Python 3.11 has itself. Loading it costs the start a fifth of a
# bare window, so msgspec is told that it is not there.
if "typing_extensions" not in sys.modules:
    sys.modules["typing_extensions"] = None  # type: ignore[assignment]
    try:
        import msgspec  # noqa: F401
    finally:
        del sys.modules["typing_extensions"]
