"""Loops over few elements, compiled to machine code.

An array operation of NumPy takes about a microsecond however short the array is. A step of a recipe looks at thirty faces,
not at thirty thousand, and asks dozens of such operations of them; replaying a hundred steps, that was nearly all the time.
What is asked that often is written as a plain loop and compiled by Numba (S. Lam, A. Pitrou, S. Seibert, Numba: a LLVM-based
Python JIT compiler, LLVM-HPC 2015).

Products of three are summed first, third, second, as ``numpy.einsum`` sums those of rows: what the last bit decides is
decided alike by both. Compiled code is kept beside the sources, as Python's own is, and made anew when its file changes: a
compiled function may call those of its own file alone.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numba
from numba import types

F = TypeVar("F", bound=Callable[..., Any])

#: arrays that are read, laid out in any way
FLOATS = types.Array(types.float64, 1, "A", readonly=True)
POINTS = types.Array(types.float64, 2, "A", readonly=True)
STACK = types.Array(types.float64, 3, "A", readonly=True)
INTS = types.Array(types.int64, 1, "A", readonly=True)
ROWS = types.Array(types.int64, 2, "A", readonly=True)
BOOLS = types.Array(types.boolean, 1, "A", readonly=True)
#: and such as are filled or made
NEW_FLOATS = types.Array(types.float64, 1, "C")
NEW_POINTS = types.Array(types.float64, 2, "C")
NEW_STACK = types.Array(types.float64, 3, "C")
NEW_INTS = types.Array(types.int64, 1, "C")
NEW_ROWS = types.Array(types.int64, 2, "C")
NEW_BOOLS = types.Array(types.boolean, 1, "C")
NUMBER, COUNT, YES = types.float64, types.int64, types.boolean
PAIR, TRIPLE = types.UniTuple(types.float64, 2), types.UniTuple(types.float64, 3)


def compiled(result: Any, *arguments: Any) -> Callable[[F], F]:
    """Compile a function of these types, those above; others are refused with TypeError.

    It runs beside other threads, so it must not touch what they may change.
    """

    def made(function: F) -> F:
        options = {"nogil": True, "error_model": "numpy"}
        try:
            return cast(F, numba.njit([result(*arguments)], cache=True, **options)(function))
        except RuntimeError:  # nowhere to keep it: compiled at every start
            return cast(F, numba.njit([result(*arguments)], **options)(function))

    return made
