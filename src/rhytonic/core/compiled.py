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

import functools
import threading
from collections.abc import Callable
from typing import Any, TypeVar, cast

import numba
from numba import types

F = TypeVar("F", bound=Callable[..., Any])

#: arrays that are read, laid out in any way
FLOATS = types.Array(types.float64, 1, "A", readonly=True)
POINTS = types.Array(types.float64, 2, "A", readonly=True)
GREYS = types.Array(types.float32, 2, "A", readonly=True)
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
NEW_SHORT_ROWS = types.Array(types.int16, 2, "C")
NEW_BOOLS = types.Array(types.boolean, 1, "C")
NUMBER, COUNT, YES = types.float64, types.int64, types.boolean
TWO_INTS = types.UniTuple(NEW_INTS, 2)
PAIR, TRIPLE = types.UniTuple(types.float64, 2), types.UniTuple(types.float64, 3)


#: what is compiled so far only in words
_waiting: list[_Later] = []
_lock = threading.RLock()


class _Later:
    """A function that is compiled, or read from where compiled code is kept, when it is first called."""

    def __init__(self, function: Callable[..., Any], signature: Any) -> None:
        self.function, self.signature = function, signature
        self.made: Callable[..., Any] | None = None
        functools.update_wrapper(self, function)
        _waiting.append(self)

    def __call__(self, *arguments: Any) -> Any:
        return (self.made or self.now())(*arguments)

    def now(self) -> Callable[..., Any]:
        """The compiled function, and under its name in its file from now on, where others of the file find it."""
        with _lock:
            if self.made is None:
                names = self.function.__globals__
                for name in self.function.__code__.co_names:
                    if isinstance(other := names.get(name), _Later) and other is not self:
                        names[name] = other.now()
                options = {"nogil": True, "error_model": "numpy"}
                try:
                    self.made = numba.njit([self.signature], cache=True, **options)(self.function)
                except RuntimeError:  # nowhere to keep it: compiled at every start
                    self.made = numba.njit([self.signature], **options)(self.function)
                if names.get(self.function.__name__) is self:
                    names[self.function.__name__] = self.made
            return self.made


def compiled(result: Any, *arguments: Any) -> Callable[[F], F]:
    """Compile a function of these types, those above; others are refused with TypeError.

    It runs beside other threads, so it must not touch what they may change. It is compiled when it is first called, so that
    a command that needs few of them does not wait for all.
    """

    def made(function: F) -> F:
        return cast(F, _Later(function, result(*arguments)))

    return made


def compile_all() -> None:
    """Compile all functions of the modules imported so far, for servers: no hand should wait for it later."""
    while _waiting:
        _waiting.pop().now()
