"""The one way functions are compiled here, with a cache on disk that notices every change.

Numba's own cache looks only at the file a function stands in: after a change in `steps.py` or of a
constant, functions of `batch.py` that have the old code built in would go on being loaded. The cache
folder therefore carries a fingerprint of all sources that end up in machine code.
"""

import hashlib
import os
from pathlib import Path

import numba
from numba import njit

_HERE = Path(__file__).parent
_SOURCES = (
    "simulation/columns.py",
    "simulation/steps.py",
    "simulation/kernel.py",
    "simulation/many.py",
    "planner/batch.py",
    "planner/breeding.py",
    "lift/belief.py",
    "lift/kernel.py",
    "constants.py",
    "compiled.py",
)


def _cache_folder() -> Path:
    digest = hashlib.sha256(numba.__version__.encode())
    for name in _SOURCES:
        digest.update(_HERE.joinpath(name).read_bytes())
    base = _HERE / "__pycache__" if os.access(_HERE, os.W_OK) else Path.home() / ".cache" / "sorvek"
    return base / f"compiled-{digest.hexdigest()[:16]}"


setattr(numba.config, "CACHE_DIR", str(_cache_folder()))  # noqa: B010  the attribute has no type stub
# No NaN enters the kernel and no sign of a zero matters: told so, the compiler vectorises the loops over the
# resources; a product and the sum it goes into may become one instruction. Reordering of sums stays forbidden, so
# that the same plan gives the same digits on machines of one kind.
FAST_MATH = {"nnan", "nsz", "contract"}
# Nothing compiled touches Python objects: other threads may go on meanwhile, as a running heat needs.
compiled = njit(cache=True, error_model="numpy", fastmath=FAST_MATH, nogil=True)
# Built in where it is called, before the compiler sees it.
inlined = njit(cache=True, error_model="numpy", fastmath=FAST_MATH, nogil=True, inline="always")
# For what makes no arrays: without it every array handed to a step is counted in and out again, which made the
# simulation a quarter slower.
unallocating = njit(cache=True, error_model="numpy", fastmath=FAST_MATH, nogil=True, _nrt=False)  # type: ignore[call-overload]
