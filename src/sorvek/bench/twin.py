"""The C twin of the kernel: built where a compiler is present, to compare speed and results."""

import ctypes
import shutil
import subprocess
from pathlib import Path

import numpy as np

from sorvek.core import constants
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.many import simulate_many
from sorvek.core.simulation.problem import Choices, Floats, Problem

_I64 = np.ctypeslib.ndpointer(np.int64, flags="C_CONTIGUOUS")
_F64 = np.ctypeslib.ndpointer(np.float64, flags="C_CONTIGUOUS")
_N = ctypes.c_longlong


def _header() -> str:
    lines = [
        f"#define {name} {value!r}"
        for name, value in vars(constants).items()
        if name.isupper() and isinstance(value, float)
    ]
    for name, values in (("TAU", k.TAU), ("RATE", k.RATE)):
        lines.append(f"static const double {name}[] = {{{', '.join(repr(float(v)) for v in values)}}};")
    return "\n".join(lines) + "\n"


def build_twin(folder: Path) -> ctypes.CDLL | None:
    """Return the compiled twin, None where there is no C compiler."""
    compiler = shutil.which("cc") or shutil.which("gcc") or shutil.which("clang")
    if compiler is None:
        return None
    (folder / "constants.h").write_text(_header(), encoding="utf-8")
    library = folder / "kernel.so"
    source = Path(__file__).parent / "kernel.c"
    flags = ["-O3", "-march=native", "-shared", "-fPIC", "-I", str(folder)]
    subprocess.run([compiler, *flags, str(source), "-o", str(library), "-lm"], check=True)
    twin = ctypes.CDLL(str(library))
    twin.simulate_many.argtypes = [_I64, _F64, _N, _F64, _N, _N, _F64, _F64, _N, _I64, _F64, _I64, _F64]
    twin.simulate_many.restype = None
    return twin


def run_kernel(problem: Problem, chosen: Choices, us: Floats, whos: Floats) -> Floats:
    """Return the results (samples, N_OUT) of one plan for many samples, by the kernel; no sets are logged."""
    outs = np.zeros((len(us), k.N_OUT))
    plan = chosen.ints, chosen.floats, chosen.sizes
    simulate_many(
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        us,
        whos,
        *plan,
        outs,
        np.zeros((0, 0)),
        np.zeros((0, k.N_LOG)),
    )
    return outs


def run_twin(twin: ctypes.CDLL, problem: Problem, chosen: Choices, us: Floats, whos: Floats) -> Floats:
    """Return the results (samples, N_OUT) of one plan for many samples, by the twin."""
    outs = np.zeros((len(us), k.N_OUT))
    variants = np.ascontiguousarray(problem.variants)
    n_var, n_col = variants.shape
    twin.simulate_many(
        problem.seg_i,
        problem.seg_f,
        len(problem.seg_i),
        variants,
        n_var,
        n_col,
        np.ascontiguousarray(us),
        np.ascontiguousarray(whos),
        len(us),
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        outs,
    )
    return outs
